"""Sun and sky: against an almanac's own formula, published daylight, and by hand."""

import datetime
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from moth.document import Sky, bare
from moth.errors import MothError
from moth.metering import Place, ways_at
from moth.sun import PLACES, WEATHERS, day_of, daylight, sun_aims, sun_at, with_hour
from moth.transport import MIRROR, sources
from moth.wording import clock
from moth.world import anchor, build_world, check_placement, landmarks


def almanac(latitude, longitude, when):
    """Height without air and bearing of the sun, by the low-precision formula of the Astronomical
    Almanac (page C5; 0.01° from 1950 to 2050).
    """
    n = (when - datetime.datetime(2000, 1, 1, 12, tzinfo=datetime.UTC)).total_seconds() / 86400
    mean = 280.460 + 0.9856474 * n
    anomaly = np.radians(357.528 + 0.9856003 * n)
    long = np.radians(mean + 1.915 * np.sin(anomaly) + 0.020 * np.sin(2 * anomaly))
    tilt = np.radians(23.439 - 4e-7 * n)
    right = np.arctan2(np.cos(tilt) * np.sin(long), np.cos(long))
    declination = np.arcsin(np.sin(tilt) * np.sin(long))
    sidereal = np.radians(280.46061837 + 360.98564736629 * n + longitude)
    hour = sidereal - right
    lat = np.radians(latitude)
    high = np.arcsin(
        np.sin(lat) * np.sin(declination) + np.cos(lat) * np.cos(declination) * np.cos(hour)
    )
    bearing = np.arctan2(
        -np.cos(declination) * np.sin(hour),
        np.sin(declination) * np.cos(lat) - np.cos(declination) * np.cos(hour) * np.sin(lat),
    )
    return np.degrees(high), np.degrees(bearing) % 360


def lifted(high):
    """Height as the air shows it (Bennett's formula the other way, as in the same almanac)."""
    return high + 1.02 / np.tan(np.radians(high + 10.3 / (high + 5.11))) / 60


@pytest.mark.parametrize("place", PLACES[::3], ids=lambda p: p.name)
def test_the_sun_stands_where_an_almanac_puts_it(place):
    rng = np.random.default_rng(len(place.name))
    for _ in range(12):
        when = datetime.datetime(2026, 1, 1, tzinfo=datetime.UTC) + datetime.timedelta(
            minutes=int(rng.integers(0, 525_600))
        )
        high, bearing = almanac(place.latitude, place.longitude, when)
        got_high, got_bearing = sun_at(place.latitude, place.longitude, [when.timestamp()])
        if high > 3:
            assert abs(got_high[0] - lifted(high)) < 0.05
        # Near the zenith a bearing turns fast: on the sky it is the arc that counts.
        arc = (got_bearing[0] - bearing + 180) % 360 - 180
        assert abs(arc) * np.cos(np.radians(high)) < 0.05


def test_the_algorithms_own_example():
    # Table A5.1 of NREL/TP-560-34302: zenith 50.11162, azimuth 194.34024.
    high, bearing = sun_at(39.742476, -105.1786, [1066419030])
    assert 90 - high[0] == pytest.approx(50.11162, abs=0.03)
    assert bearing[0] == pytest.approx(194.34024, abs=0.005)


# Light.


@pytest.mark.parametrize("high", [15, 20, 30, 45, 60, 75])
def test_a_clear_day_is_as_bright_as_daylight_is_published_to_be(high):
    # IES calculation of daylight availability (J. IES 13, 1984), another model: within a tenth for
    # the sun, a fifth for the sky, which is what they claim of each other.
    light = daylight(high, "clear")
    sine = np.sin(np.radians(high))
    assert light.sun == pytest.approx(133_100 * np.exp(-0.21 / sine), rel=0.10)
    assert light.sky == pytest.approx(800 + 15_500 * np.sqrt(sine), rel=0.22)


def test_dusk_falls_as_it_is_published_to():
    # Seidelmann 1992: 759 lx with the sun's middle on the horizon, 585 at sunset, 3.4 at -6°.
    for weather in ("clear", "hazy"):
        assert daylight(0, weather).sky == pytest.approx(759, rel=0.02)
        assert daylight(-0.83, weather).sky == pytest.approx(585, rel=0.05)
        assert daylight(-6, weather).sky == pytest.approx(3.4, rel=0.1)


@pytest.mark.parametrize("weather", WEATHERS)
def test_a_higher_sun_is_brighter_and_less_red(weather):
    days = [daylight(h, weather) for h in np.arange(-6, 90, 0.5)]
    sky, sun = ([getattr(d, k) for d in days] for k in ("sky", "sun"))
    assert all(b >= a * 0.999 for a, b in pairwise(sky))
    assert all(b >= a * 0.999 for a, b in pairwise(sun))
    # No step is seen where one formula hands over to the next.
    jumps = [abs(np.log2(b / a)) for a, b in pairwise(sky)]
    # Deep dusk loses two stops a degree.
    assert max(jumps) < 1.3
    for seam in (0.0, 5.0):
        a, b = (daylight(seam + off, weather).sky for off in (-0.02, 0.02))
        assert abs(np.log2(b / a)) < 0.1
    white = [d.sun_cct for d in days if d.sun > 100]
    assert all(b >= a - 1 for a, b in pairwise(white))


def test_weathers_come_in_their_order():
    for high in (10, 30, 60):
        sun = [daylight(high, w).sun for w in ("clear", "hazy", "thin-cloud", "overcast")]
        assert sun == sorted(sun, reverse=True) and sun[-1] == 0
        assert daylight(high, "hazy").sky > daylight(high, "clear").sky * 0.99


# The day.


def at(**site):
    return bare(site=site, room={"outdoors": True, "width": 20, "depth": 20, "height": 4},
                figures=[{"id": "a", "name": "Keeper", "position": [10, 10]}],
                cameras=[{"id": "c", "name": "c", "position": [10, 14, 1.5],
                          "aim": [10, 10, 1.5]}])  # fmt: skip


def test_polar_days_and_nights_are_told():
    summer = day_of(at(latitude=69.65, longitude=18.96, zone="Europe/Oslo", date="2026-06-21"))
    winter = day_of(at(latitude=69.65, longitude=18.96, zone="Europe/Oslo", date="2026-12-21"))
    assert "does not set" in summer.words and summer.sunrise is None
    assert "does not rise" in winter.words and winter.sunset is None
    assert all(i.sky.sun is None for i in winter.instants)


def test_the_clock_is_the_places_own():
    # London, equinox: the sun is due south a little after noon in winter time, an hour later once
    # the clocks have gone forward; in Auckland it stands in the north.
    winter = day_of(at(latitude=51.51, longitude=-0.13, zone="Europe/London", date="2026-03-28"))
    summer = day_of(at(latitude=51.51, longitude=-0.13, zone="Europe/London", date="2026-03-29"))
    assert abs(winter.noon - 725) <= 10 and summer.noon - winter.noon in (55, 60, 65)
    south = day_of(at(latitude=-36.85, longitude=174.76, zone="Pacific/Auckland"))
    noon = next(i for i in south.instants if i.minute == south.noon)
    assert abs((noon.azimuth + 180) % 360 - 180) < 5
    # Published: London, 29 March 2026, up at 06:44, down at 19:28 (to the five minutes told here).
    assert abs(summer.sunrise - (6 * 60 + 44)) <= 6 and abs(summer.sunset - (19 * 60 + 28)) <= 6


def test_the_plans_north_turns_the_sun_with_it():
    plain, turned = (with_hour(at(turned=t), 900).sky.sun for t in (0, 30))
    assert (plain.azimuth - turned.azimuth) % 360 == pytest.approx(30)
    assert plain.elevation == turned.elevation


def test_what_was_measured_scales_sun_and_sky():
    plain = with_hour(at(), 720).sky
    flat = plain.level + plain.sun.level * np.sin(np.radians(plain.sun.elevation))
    half = with_hour(at(measured={"lux": flat / 2, "minute": 720}), 720).sky
    assert half.level == pytest.approx(plain.level / 2, rel=1e-6)
    assert half.sun.level == pytest.approx(plain.sun.level / 2, rel=1e-6)
    later = with_hour(at(measured={"lux": flat / 2, "minute": 720}), 960).sky
    assert later.level == pytest.approx(with_hour(at(), 960).sky.level / 2, rel=1e-6)


def room(wall, **site):
    window = {"id": "w", "name": "Bay window", "wall": wall, "along": 2, "up": 1.2, "size": [2, 2]}
    return bare(
        site={"latitude": 50, "longitude": 0, "zone": "Europe/London", "date": "2026-03-20"} | site,
        room={"width": 4, "depth": 4, "height": 3},
        openings=[window],
        figures=[{"id": "a", "name": "Keeper", "pose": "seated", "position": [2, 2]}],
        cameras=[{"id": "c", "name": "c", "position": [2, 3.5, 1.3], "aim": [2, 2, 1.2]}],
    )


def told(setup, kind):
    return [m for m in day_of(setup).moments if m.kind == kind]


def test_the_sun_enters_windows_by_their_side_and_hour():
    # At the equinox the sun rises in the east and sets in the west, half past six to half past six.
    (east,) = told(room("east"), "window")
    (west,) = told(room("west"), "window")
    (south,) = told(room("south"), "window")
    assert abs(east.begin - 365) < 25 and abs(east.end - 725) < 25
    assert abs(west.begin - 725) < 25 and abs(west.end - 1090) < 25
    assert south.begin < 420 and south.end > 1020
    assert told(room("north"), "window") == []
    assert "Bay window" in east.words and clock(east.begin) in east.words
    # A quarter turn of the plan makes the east window a south one.
    (turned,) = told(room("east", turned=90), "window")
    assert abs(turned.begin - south.begin) <= 10 and abs(turned.end - south.end) <= 10


def test_the_sun_falls_on_people_only_where_a_ray_says_so():
    # Before a south window the sun reaches a seated head, and not through a north one,
    # in December, when it stands low at noon: at the equinox it passes over the seated head.
    (lit,) = told(room("south", date="2026-12-21"), "person")
    assert 600 <= lit.begin < day_of(room("south")).noon < lit.end <= 840
    assert told(room("south"), "person") == []
    assert told(room("north", date="2026-12-21"), "person") == []
    # In the open it does all day; a high wall to the south takes it away at noon.
    assert len(told(at(date="2026-06-21"), "person")) == 1
    wall = {"id": "wall", "name": "Wall", "kind": "box", "position": [10, 6, 0],
            "size": [14, 0.3, 6]}  # fmt: skip
    setup = at(latitude=50, date="2026-12-21", zone="Europe/London")
    shaded = type(setup).model_validate({**setup.model_dump(), "furniture": [wall]})
    check_placement(shaded)
    noon = day_of(setup).noon
    assert any(m.begin <= noon < m.end for m in told(setup, "person"))
    assert not any(m.begin <= noon < m.end for m in told(shaded, "person"))


def test_a_shot_can_be_matched_as_long_as_its_light_holds():
    setup = at(date="2026-06-21", minute=780, weather="clear")
    (match,) = told(setup, "match")
    assert match.begin < 780 < match.end
    before, now, after = (
        with_hour(setup, m).sky for m in (match.end, 780, min(match.end + 10, 1435))
    )
    assert abs(np.log2(before.sun.level / now.sun.level)) <= 0.5
    assert abs(before.sun.cct - now.sun.cct) <= 150
    changed = max(
        abs(np.log2(after.level / now.level)) / 0.5,
        abs(after.sun.cct - now.sun.cct) / 150,
        abs(after.cct - now.cct) / 150,
    )
    assert changed > 1


@given(
    st.floats(-90, 90), st.floats(-180, 180), st.dates(), st.integers(0, 1439),
    st.sampled_from(list(WEATHERS)),
)  # fmt: skip
def test_every_hour_anywhere_makes_a_sky_that_a_set_up_takes(lat, lon, date, minute, weather):
    if not 1950 <= date.year <= 2100:
        return
    site = {"latitude": lat, "longitude": lon, "zone": "UTC", "date": date.isoformat()}
    sky = with_hour(at(**site, weather=weather), minute).sky
    assert Sky.model_validate(sky.model_dump()) == sky


@pytest.mark.parametrize(
    "wrong", [{"date": "2026-02-30"}, {"date": "soon"}, {"zone": "Mars/North"}, {"latitude": 91},
              {"date": "1800-01-01"}, {"zone": "../etc"}]
)  # fmt: skip
def test_days_and_places_that_are_none_are_refused(wrong):
    with pytest.raises(ValueError):
        at(**wrong)
    with pytest.raises(MothError, match="where on the earth"):
        day_of(bare())


@pytest.mark.parametrize("seed", range(6))
def test_patches_on_the_floor_are_where_the_suns_rays_come_through_the_window(seed):
    draw = np.random.default_rng(seed)
    width, depth = draw.uniform(3, 6, 2)
    side = ["south", "north", "east", "west"][seed % 4]
    along = draw.uniform(0.8, (width if side in ("south", "north") else depth) - 0.8)
    low, size = draw.uniform(0.3, 1.0), tuple(draw.uniform(0.5, 1.4, 2))
    window = {"id": "w", "name": "W", "wall": side, "along": along, "up": low + size[1] / 2,
              "size": size}  # fmt: skip
    setup = bare(
        room={"width": width, "depth": depth, "height": 3.2},
        openings=[window],
        figures=[{"id": "f", "name": "F", "figure": "weathered-man", "position": (1.5, 1.5)}],
        site={"latitude": draw.uniform(-55, 65), "date": "2026-03-20", "zone": "UTC",
              "longitude": 0, "turned": draw.uniform(0, 360)},
    )  # fmt: skip
    middle, inward = {
        "south": ((along, 0), (0, 1)),
        "north": ((along, depth), (0, -1)),
        "west": ((0, along), (1, 0)),
        "east": ((width, along), (-1, 0)),
    }[side]
    tried = 0
    for instant in [i for i in day_of(setup).instants if i.sky.sun][::7]:
        a, e = np.radians([instant.azimuth, instant.elevation])
        way = np.array([np.sin(a) * np.cos(e), np.cos(a) * np.cos(e), np.sin(e)])
        patch = next((shapely.Polygon(p.corners) for p in instant.patches), shapely.Polygon())
        for x, y in draw.uniform((0, 0), (width, depth), (60, 2)):
            # To the window's plane, against the light.
            toward = -(way[0] * inward[0] + way[1] * inward[1])
            off = (x - middle[0]) * inward[0] + (y - middle[1]) * inward[1]
            if toward < 0.02:
                assert patch.is_empty
                continue
            far = off / toward
            gone = (x - middle[0]) * inward[1] - (y - middle[1]) * inward[0]
            gone += far * (way[0] * inward[1] - way[1] * inward[0])
            inside = abs(gone) < size[0] / 2 and abs(far * way[2] - low - size[1] / 2) < size[1] / 2
            point = shapely.Point(x, y)
            if patch.boundary.distance(point) > 0.03 and (patch.area > 0.1 or not inside):
                assert patch.contains(point) == inside
                tried += 1
    assert tried > 50


def test_a_shadow_in_the_open_is_as_long_as_the_sun_is_low():
    setup = at(latitude=45, date="2026-03-20")
    for instant in day_of(setup).instants[::12]:
        for shadow in instant.patches:
            corners = np.array(shadow.corners)
            long = np.linalg.norm(corners[2] - corners[1])
            crown = landmarks(setup.figures[0])["crown"][2]
            assert shadow.shadow
            assert long == pytest.approx(crown / np.tan(np.radians(instant.elevation)), rel=0.01)
            # Away from the sun.
            a = np.radians(instant.azimuth)
            assert (corners[2] - corners[1]) @ [np.sin(a), np.cos(a)] < -0.99 * long


def test_the_hour_at_which_the_sun_reaches_the_bed():
    window = {"id": "w", "name": "W", "wall": "south", "along": 2.5, "up": 1.6, "size": (1.2, 1.2)}
    bed = {"id": "b", "name": "Bed", "kind": "bed", "position": (2.5, 1.3, 0),
           "size": (1.4, 2.0, 0.5)}  # fmt: skip
    setup = bare(
        room={"width": 5, "depth": 6, "height": 3},
        figures=[{"id": "f", "name": "F", "figure": "weathered-man", "position": (4.4, 5.2)}],
        openings=[window],
        furniture=[bed],
        site={"latitude": 45, "longitude": 0, "zone": "UTC", "date": "2026-03-20"},
    )
    day = day_of(setup)
    (reached,) = [m for m in day.moments if m.kind == "piece"]
    assert reached.what == "Bed" and reached.begin < day.noon < reached.end
    # By hand: the middle of the bed, 0.55 up and 1.3 m in, looks at the sun through the window
    # while the ray's height and place at the wall are in it.
    for instant in day.instants:
        if instant.sky.sun is None:
            continue
        a, e = np.radians([instant.azimuth, instant.elevation])
        south = -np.cos(a)
        if south < 0.05:
            continue
        off = 1.3 / south
        inside = abs(off * np.sin(a)) < 0.58 and abs(0.55 + off * np.tan(e) - 1.6) < 0.58
        beyond = abs(off * np.sin(a)) > 0.62 or abs(0.55 + off * np.tan(e) - 1.6) > 0.62
        lit = reached.begin <= instant.minute < reached.end
        assert lit if inside else (not lit if beyond else True)


@pytest.mark.parametrize("seed", range(5))
def test_a_mirror_aimed_from_the_sun_throws_it_at_the_face(seed):
    draw = np.random.default_rng(seed)
    round_, far = draw.uniform(0, 360), draw.uniform(2, 4)
    sun = {"azimuth": draw.uniform(0, 360), "elevation": draw.uniform(15, 60)}
    figure = {"id": "f", "name": "F", "figure": "weathered-man", "position": (10, 10)}
    place = (10 + far * np.sin(round_), 10 + far * np.cos(round_), 1.4)
    mirror = {"id": "m", "name": "Mirror", "kind": "mirror", "material": "mirror",
              "position": place, "aim": (10, 10, 1.5), "size": (1.0, 1.0)}  # fmt: skip
    setup = bare(
        room={"width": 20, "depth": 20, "outdoors": True}, figures=[figure], grip=[mirror],
        sky={"sun": sun, "level": 1000},
    )  # fmt: skip
    aimed = sun_aims(setup, "m")[0]
    moved = setup.model_copy(
        update={"grip": (setup.grip[0].model_copy(update={"aim": aimed.aim}),)}
    )
    # A disc at the eyes that looks at the mirror: the sun's light times what a mirror sends back.
    eyes = anchor(moved)
    way = np.asarray(place) - eyes
    at_eyes = Place("", "", tuple(eyes + 0.3 * way / np.linalg.norm(way)),
                    tuple(way / np.linalg.norm(way)), "disc")  # fmt: skip
    world = build_world(moved)
    source = next(s for s in sources(moved) if s.id == "@sun")
    mirrored = sum(v for k, v in ways_at(world, source, at_eyes).items() if k == MIRROR)
    assert np.mean(mirrored) > 0
    other = build_world(setup)
    straight = sum(v for k, v in ways_at(other, source, at_eyes).items() if k == MIRROR)
    assert np.mean(mirrored) > 10 * np.mean(straight) or np.mean(straight) == 0


def test_a_reflector_is_turned_again_as_the_sun_goes_on():
    board = {"id": "b", "name": "Board", "material": "silver-soft", "position": (2, 5, 1.6),
             "aim": (2, 2, 1.6), "size": (1, 1)}  # fmt: skip
    site = {"latitude": 45, "longitude": 0, "zone": "UTC", "date": "2026-06-21", "minute": 600}
    setup = with_hour(bare(room={"outdoors": True}, grip=[board], site=site), 600)
    now, *later = sun_aims(setup, "b")
    assert [a.minute for a in later] == list(range(610, 730, 10))
    # The sun goes round with the clock, and so does the front, half as fast.
    assert later[-1].bearing != now.bearing
    night = setup.model_copy(update={"sky": setup.sky.model_copy(update={"sun": None})})
    with pytest.raises(MothError, match="sun is not up"):
        sun_aims(night, "b")
