"""Lamps with shades, mirrors and lit screens of the place, against closed forms."""

import numpy as np
import pytest
from pydantic import ValidationError

from moth.colour import LUMINANCE
from moth.document import Setup, bare, load
from moth.judging import picture_of, read_picture
from moth.judging.picture import SIZE
from moth.metering.marks import Place
from moth.photometry import from_function, read_photometry, write_ies
from moth.photometry.stack import bare_lamp
from moth.place import PIECES, flats_of
from moth.transport import meter_light, project, sources
from moth.transport.light import light_of
from moth.world import build_world, check_placement

CANDELA = 72.0
EVEN = write_ies(from_function(lambda c, g: CANDELA + 0 * g, reach=180), (-0.06,) * 3, "ball")
LIT = [kind for kind, piece in PIECES.items() if piece.lamp]
SHADED = [kind for kind, piece in PIECES.items() if piece.shaded]
DRAWN = 4
SIDES = ("floor", "ceiling", "north", "south", "east", "west")


def lit(kind, draw=None, through=0.3, back=0.5, walls=0.0, **more):
    """A room with one lamp of the place, of its usual size or drawn at random."""
    piece = PIECES[kind]
    size = np.array(piece.size) * (1 if draw is None else draw.uniform(0.7, 1.5, 3))
    if piece.round:
        size[1] = size[0]
    place = np.array([2.5, 4.0, 0.2])
    turn = 0.0 if draw is None else float(draw.uniform(0, 360))
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    x, y, z = np.array(piece.lamp.at) * size
    ax, ay, az = piece.lamp.aim
    at = place + [c * x - s * y, s * x + c * y, z]
    paint = {"reflectance": walls}
    return bare(
        **{
            "room": {"width": 5, "depth": 6, "height": 3, **dict.fromkeys(SIDES, paint)},
            "furniture": [
                {
                    "id": "l",
                    "name": "Lamp",
                    "kind": kind,
                    "position": place.tolist(),
                    "size": size.tolist(),
                    "turn": turn,
                    "surface": {"reflectance": 0.0},
                    "second": {"reflectance": back},
                    "through": through,
                }
            ],
            "units": [
                {
                    "id": "b",
                    "name": "Bulb",
                    "head": piece.lamp.head,
                    "ies": EVEN if piece.lamp.head == "bulb" else None,
                    "position": at.tolist(),
                    "aim": (at + [c * ax - s * ay, s * ax + c * ay, az]).tolist(),
                    "held": "built-in",
                    "piece": "l",
                }
            ],
            **more,
        }
    )


def level(setup, position, direction):
    """What a disc reads of the bulb at full [lx]."""
    world = build_world(setup)
    light = light_of(world, sources(setup)[0])
    place = Place("m", "m", tuple(position), tuple(direction), "disc")
    return sum(float(rgb @ LUMINANCE) for rgb in meter_light(world, light, place).values())


def fluxes(setup):
    """Flux that falls on the inside of a shade from the bulb, and that leaves its outside [lm]."""
    world = build_world(setup)
    light, p = light_of(world, sources(setup)[0]), world.patches
    of = (p.sheet >= 0) & (p.side == -1)
    out = (p.sheet >= 0) & (p.side == 1)
    inner = float(((light.lit @ LUMINANCE) * p.area)[of].sum())
    outer = float(((light.radiosity @ LUMINANCE) * p.area)[out].sum())
    return inner, outer


@pytest.mark.parametrize("seed", range(DRAWN))
def test_a_drum_catches_what_its_solid_angle_says_and_lets_its_share_through(seed):
    draw = np.random.default_rng(seed)
    kind = ("table-lamp", "floor-lamp")[seed % 2]
    through = float(draw.uniform(0.1, 0.6))
    setup = lit(kind, draw, through, back=0.0)
    flats = flats_of(setup.furniture[0])
    half, radius = flats[0].size[1] / 2, flats[0].behind
    inner, outer = fluxes(setup)
    # A point in the middle of a cylinder sends it this part of its light. That of sixteen flats is
    # between those of the circles in and about it.
    most, least = (4 * np.pi * CANDELA * half / np.hypot(half, r) for r in (radius, 1.02 * radius))
    assert 0.99 * least < inner < 1.01 * most
    assert outer == pytest.approx(through * inner, rel=0.01)


@pytest.mark.parametrize("seed", range(DRAWN))
def test_light_goes_to_and_fro_in_a_drum_as_its_view_of_itself_says(seed):
    draw = np.random.default_rng(10 + seed)
    through, back = 0.25, float(draw.uniform(0.2, 0.7))
    setup = lit("table-lamp", draw, through, back)
    flat = flats_of(setup.furniture[0])[0]
    inner, outer = fluxes(setup)
    x = flat.size[1] / (2.01 * flat.behind)
    # Siegel & Howell, Thermal Radiation Heat Transfer, appendix C: the inside of an open cylinder
    # sees itself by 1 + x - sqrt(1 + x^2), x its height over its diameter; light of all orders is a
    # geometric series, but for the unevenness along it.
    itself = 1 + x - np.sqrt(1 + x * x)
    assert outer == pytest.approx(through * inner / (1 - back * itself), rel=0.03)


def test_an_opaque_shade_throws_a_cone_up_and_one_down_and_nothing_between():
    setup = lit("table-lamp", through=0.0, back=0.0)
    flat = flats_of(setup.furniture[0])[0]
    bulb = np.array(setup.units[0].position)
    slope = np.degrees(np.arctan2(flat.behind, flat.size[1] / 2))
    for off, seen in ((slope - 12, True), (slope + 12, False)):
        way = np.array([np.sin(np.radians(off)), 0, np.cos(np.radians(off))])
        place = bulb + 1.2 * way
        expected = CANDELA / 1.2**2 if seen else 0.0
        assert level(setup, place, -way) == pytest.approx(expected, rel=0.02, abs=0.02)


@pytest.mark.parametrize("kind", LIT)
def test_no_light_stands_inside_its_own_piece_and_it_lights_the_room(kind):
    draw = np.random.default_rng(3)
    for setup in (lit(kind), *(lit(kind, draw) for _ in range(DRAWN))):
        check_placement(setup)
        inside = setup.units[0].model_dump(exclude={"ies"}) | {"ies": None}
        own = load({**setup.model_dump(), "units": [inside]})
        light = light_of(build_world(own), sources(own)[0])
        walls = build_world(own).patches.sheet < 0
        assert (light.lit[walls] @ LUMINANCE).max() > 0


@pytest.mark.parametrize("kind", SHADED)
def test_the_flats_of_a_shade_close_around_the_lamp(kind):
    setup = lit(kind, np.random.default_rng(8))
    flats = flats_of(setup.furniture[0])
    axis = np.mean([f.centre for f in flats], axis=0)
    for flat, beside in zip(flats, [*flats[1:], flats[0]], strict=True):
        out = np.array(flat.facing)
        assert out @ (np.array(flat.centre) - axis) > 0
        # The far edge of each is the near edge of the next.
        along = np.array([-out[1], out[0], 0.0])
        ends = [np.array(flat.centre) + k * along * flat.size[0] / 2 for k in (-1, 1)]
        out = np.array(beside.facing)
        along = np.array([-out[1], out[0], 0.0])
        others = [np.array(beside.centre) + k * along * beside.size[0] / 2 for k in (-1, 1)]
        gap = min(float(np.linalg.norm(a - b)) for a in ends for b in others)
        assert gap < 1e-6


def test_a_wall_mirror_shows_a_lamp_its_image():
    bulb = [2.5, 2.0, 1.5]
    unit = {
        "id": "b",
        "name": "Bulb",
        "head": "bulb",
        "ies": EVEN,
        "position": bulb,
        "aim": [2.5, 2, 5],
    }
    glass = {
        "id": "m",
        "name": "Mirror",
        "kind": "wall-mirror",
        "position": [2.5, 0.05, 1.0],
        "size": [0.7, 0.03, 1.0],
    }
    black = {"reflectance": 0.0}
    paint = dict.fromkeys(SIDES, black)
    room = {"width": 5, "depth": 6, "height": 3, **paint}
    with_it, without = (bare(room=room, furniture=[glass] * k, units=[unit]) for k in (1, 0))
    place, way = [2.5, 3.0, 1.5], [0, -1, 0]
    # The image stands as far behind the glass as the bulb before it; silver sends back 0.88.
    front = flats_of(with_it.furniture[0])[0].centre[1]
    image = 0.88 * CANDELA / (3.0 - (2 * front - 2.0)) ** 2
    assert level(with_it, place, way) - level(without, place, way) == pytest.approx(image, rel=0.02)


@pytest.mark.parametrize("seed", range(3))
def test_in_the_frame_a_shade_is_the_lamp_and_its_glare_is_told_and_mended(seed):
    draw = np.random.default_rng(20 + seed)
    across = float(draw.uniform(2.9, 3.4))
    bulb = lit("table-lamp", walls=0.4)
    lamp = bulb.furniture[0].model_copy(update={"position": (across, 4.0, 0.9)})
    off = np.array([across, 4.0, 0.9]) - bulb.furniture[0].position
    place = np.array(bulb.units[0].position) + off
    light = {
        **bulb.units[0].model_dump(),
        "role": "practical",
        "position": place.tolist(),
        "aim": (place + [0, 0, 1]).tolist(),
    }
    key = {
        "id": "k",
        "name": "Key",
        "head": "panel-small",
        "position": [1.0, 1.6, 2.0],
        "aim": [2.2, 3.0, 1.5],
        "dimmer": 0.1,
    }
    made = {
        **bulb.model_dump(),
        "furniture": [lamp.model_dump()],
        "units": [light, key],
        "figures": [{"id": "f", "name": "F", "position": [2.2, 3.0], "facing": 180}],
        "cameras": [
            {
                "id": "a",
                "name": "A",
                "position": [2.5, 0.4, 1.5],
                "aim": [2.6, 3.4, 1.4],
                "focal_length": 30,
            }
        ],
    }

    def told(dimmer):
        scene = load({**made, "units": [{**light, "dimmer": dimmer}, key]})
        picture = picture_of(scene)
        (reading,) = [r for r in read_picture(scene, picture) if r.kind == "lamps"]
        return scene, picture, reading

    scene, picture, reading = told(1.0)
    rows, columns = np.divmod(picture.lamps["b"], SIZE[0])
    middle = project(scene.cameras[0], [place])[0]
    assert abs(columns.mean() / SIZE[0] - middle[0]) < 0.03
    assert abs(rows.mean() / SIZE[1] - middle[1]) < 0.05
    assert (reading.name, reading.word) == ("Bulb", "glares")
    assert 0 < reading.dimmer < 1
    assert told(reading.dimmer)[2].word == "glows"
    assert told(0.0)[2].word == "not lit"


def test_a_photometric_files_sphere_is_a_ball():
    unit = lit("table-lamp").units[0]
    assert bare_lamp(unit).shape == "bulb"
    assert read_photometry(EVEN).size == pytest.approx((-0.06,) * 3)


def test_what_cannot_be_is_refused():
    good = lit("table-lamp").model_dump()
    bad = {**good["furniture"][0], "through": 0.6}
    with pytest.raises(ValidationError, match="more light than falls on it"):
        Setup.model_validate({**good, "furniture": [bad]})
    with pytest.raises(ValidationError, match="there is no furniture"):
        Setup.model_validate({**good, "furniture": []})
