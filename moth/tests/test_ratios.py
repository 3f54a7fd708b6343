"""Key-to-fill ratios by hand, in arrangements made to be even and made to be uneven."""

import numpy as np
import pytest

from moth.document import load
from moth.errors import MothError
from moth.materials import MATERIALS
from moth.metering import SCHOOLS_OF_RATIO, lay_out, origin_of, read_setup
from moth.metering.schools import _past_hand, read_schools
from moth.solving import set_ratio
from moth.solving.ratio import ratio_of
from moth.tests.scenes import BLACK_ROOM, setup
from moth.world import anchor

MIDDLE = np.array([4.0, 3.5])


def stage(units, grip=(), walls=None):
    """A face in the middle of a stage, looked at straight from the front."""
    room = {"width": 8, "depth": 9, "height": 4, **(walls or BLACK_ROOM)}
    return setup(
        room=room,
        figures=[{"id": "s", "name": "s", "pose": "seated", "position": [*MIDDLE]}],
        cameras=[{"id": "a", "name": "A", "position": [4, 7.5, 1.2], "aim": [4, 3.5, 1.2]}],
        units=units,
        grip=list(grip),
    )


def box(id_, role, angle, dimmer=1.0, distance=2.0, rise=0.4, **more):
    """A softbox so many degrees off the lens, positive to the right of the camera."""
    a = np.radians(angle)
    face = anchor(stage([]))
    place = face + distance * np.array([np.sin(a), np.cos(a), 0]) + [0, 0, rise]
    return {
        "id": id_,
        "name": id_,
        "role": role,
        "head": "softbox-small",
        "position": place.tolist(),
        "aim": face.tolist(),
        "dimmer": dimmer,
        **more,
    }


def board(id_, material, angle, distance=0.8, size=(1.2, 1.2)):
    a = np.radians(angle)
    face = anchor(stage([]))
    place = face + distance * np.array([np.sin(a), np.cos(a), 0])
    return {
        "id": id_,
        "name": id_,
        "kind": "board",
        "material": material,
        "position": place.tolist(),
        "aim": face.tolist(),
        "size": list(size),
    }


def told(scene):
    ready = lay_out(scene)
    sides = ready.sides()
    found = {s: sides.ratio(s, ready.state) for s in SCHOOLS_OF_RATIO}
    return {s: top / under if under > 1e-3 else np.inf for s, (top, under) in found.items()}


@pytest.mark.parametrize("angle", [20, 35, 48, 60])
@pytest.mark.parametrize("school", list(SCHOOLS_OF_RATIO))
def test_even_light_reads_one_to_one(angle, school):
    even = stage([box("k", "key", -angle), box("f", "fill", angle)])
    found = getattr(read_setup(even).ratios, school).ratio
    assert found == pytest.approx(told(even)[school], rel=1e-9)
    if school == "combined":
        # The key's side is lit by the fill as well, as far as a dome turned to the key takes in a
        # box of 0.6 m that stands twice the angle off: this school counts it, by its name.
        spill = (1 + np.cos(np.radians(2 * angle))) / 2
        assert 0.98 <= told(even)[school] < 1.02 + 1.1 * max(spill, 0.15)
    else:
        assert told(even)[school] == pytest.approx(1, rel=0.03)


@pytest.mark.parametrize("part", [0.5, 0.25, 0.125])
def test_a_fill_dimmed_by_so_much_tells_so_much(part):
    """In a black stage each side is its own lamp's: the ratio is that of the dimmers."""
    found = told(stage([box("k", "key", -50), box("f", "fill", 50, part)]))
    # Even light tells how much of each lamp the other side's dome takes in.
    spill = told(stage([box("k", "key", -50), box("f", "fill", 50)]))["combined"] - 1
    assert 0 < spill < 0.2
    assert found["single"] == pytest.approx(1 / part, rel=0.03)
    assert found["combined"] == pytest.approx((1 + spill * part) / part, rel=0.03)
    assert found["cheeks"] == pytest.approx((1 + spill * part) / (part + spill), rel=0.03)


@pytest.mark.parametrize("school", list(SCHOOLS_OF_RATIO))
def test_a_white_board_makes_every_ratio_smaller_and_a_black_one_none(school):
    grey = {side: {"reflectance": 0.2} for side in BLACK_ROOM}
    key = [box("k", "key", -55)]
    bare, white, black = (
        told(stage(key, grip, grey))[school]
        for grip in ([], [board("b", "foam-white", 70)], [board("b", "duvetyne", 70)])
    )
    assert white < 0.7 * min(bare, 1e3)
    assert black >= 0.99 * min(bare, 100)


def test_a_board_alone_is_the_fill():
    """Key alone on its side, the board alone on the other: the board's part by the meter."""
    scene = stage([box("k", "key", -55)], [board("b", "foam-white", 65)])
    ready = lay_out(scene)
    sides = ready.sides()
    assert sides.boards[0] > 1 and sides.shaded[0] == pytest.approx(sides.boards[0], rel=0.05)
    assert told(scene)["single"] == pytest.approx(sides.key_side[0] / sides.boards[0])
    assert "no unit or board" in read_setup(stage([box("k", "key", -55)])).ratios.single.words


def test_the_hand_shades_the_keys_own_cloth_and_no_board():
    """A key through a frame: the hand that keeps it off hides lamp and frame."""
    cloth = {**board("c", "grid-full", -55, 1.0), "kind": "frame"}
    through = stage([box("k", "key", -55)], [cloth, board("b", "foam-white", 65)])
    sides = lay_out(through).sides()
    assert sides.shaded[0] < 0.8 * sides.fill_side[0]
    assert sides.shaded[0] == pytest.approx(sides.boards[0], rel=0.1)


@pytest.mark.parametrize("school", list(SCHOOLS_OF_RATIO))
@pytest.mark.parametrize("target", [1.0, 2.0, 6.0])
def test_what_is_solved_is_what_is_metered(school, target):
    grey = {side: {"reflectance": 0.3} for side in BLACK_ROOM}
    scene = stage([box("k", "key", -50), box("f", "fill", 45, 0.3)], walls=grey)
    try:
        solved = set_ratio(scene, "k", target, school)
    except MothError as error:
        # It says how far it gets, and that is true.
        assert "comes to" in error.sentence or "without it" in error.sentence
        return
    assert ratio_of(solved.setup, school) == pytest.approx(target, rel=0.01)
    assert getattr(read_setup(solved.setup).ratios, school).ratio == pytest.approx(target, rel=0.01)


def test_one_unit_alone_tells_no_ratio():
    scene = stage([box("k", "key", -50), box("f", "fill", 45)])
    for told_ in vars(read_setup(scene, only="k").ratios).values():
        assert told_.ratio is None and told_.words == "one unit alone"


@pytest.mark.parametrize("height", [20, 33, 37, 40])
def test_a_hand_over_the_dome_leaves_the_key_at_its_ordinary_height(height):
    rise = 2.0 * np.tan(np.radians(height))
    scene = stage([box("k", "key", -30, rise=float(rise))])
    rows = {r.key: r.lux for r in read_schools(scene)}
    assert rows["shielded"] == pytest.approx(rows["lens"], rel=0.01)


def test_a_hand_shades_softly():
    angles = np.arange(30, 75, 0.5)
    left = np.array([_past_hand(a) for a in angles])
    assert left[0] == 1 and left[-1] == 0 and np.abs(np.diff(left)).max() < 0.05


def in_the_sun(azimuth, elevation, grip=(), units=()):
    """The same face on black ground, by the sun alone; north is up, the lens looks south."""
    scene = stage(list(units), grip)
    room = scene.room.model_copy(update={"outdoors": True})
    sun = {"azimuth": azimuth, "elevation": elevation, "level": 60_000}
    return setup(
        room=room.model_dump(mode="json"),
        figures=[f.model_dump(mode="json") for f in scene.figures],
        cameras=[c.model_dump(mode="json") for c in scene.cameras],
        units=list(units),
        grip=list(grip),
        sky={"kind": "clear", "level": 0.0, "sun": sun},
    )


def on_dome(position, direction, cloth, radiosity, count=60):
    """What a Lambertian rectangle brings to a dome, summed over its parts [lx]."""
    centre, aim = (np.asarray(cloth[k], float) for k in ("position", "aim"))
    normal = (aim - centre) / np.linalg.norm(aim - centre)
    right = np.cross(normal, [0, 0, 1.0])
    right /= np.linalg.norm(right)
    up = np.cross(right, normal)
    steps = (np.arange(count) + 0.5) / count - 0.5
    s, t = np.meshgrid(steps * cloth["size"][0], steps * cloth["size"][1])
    parts = centre + s.reshape(-1, 1) * right + t.reshape(-1, 1) * up - position
    away = np.linalg.norm(parts, axis=1)
    way = parts / away[:, None]
    sent = np.maximum(-(way @ normal), 0) / np.pi * radiosity
    area = cloth["size"][0] * cloth["size"][1] / count**2
    return float((sent * (1 + way @ direction) / 2 * area / away**2).sum())


@pytest.mark.parametrize("azimuth, side, tilt", [(55, -75, 0.0), (300, 70, 0.3)])
def test_the_sun_is_the_key_and_a_board_the_fill(azimuth, side, tilt):
    """The dome toward the sun reads the sun; the board sends what it reflects of the sun on it."""
    white = board("b", "blanket-white", side, 0.9)
    white["aim"] = (np.array(white["aim"]) + [0, 0, tilt]).tolist()
    scene = in_the_sun(azimuth, 30, [white])
    readings, ready = read_setup(scene), lay_out(scene)
    assert readings.key == "@sun"
    assert readings.mark("key-side").lux == pytest.approx(60_000, rel=0.02)
    a, e = np.radians(azimuth), np.radians(30)
    to_sun = np.array([np.sin(a) * np.cos(e), np.cos(a) * np.cos(e), np.sin(e)])
    centre, aim = (np.asarray(white[k], float) for k in ("position", "aim"))
    cosine = float(to_sun @ (aim - centre)) / np.linalg.norm(aim - centre)
    mark = ready.marks["fill-toward"]
    by_hand = on_dome(
        np.asarray(mark.position),
        np.asarray(mark.direction),
        white,
        MATERIALS["blanket-white"].reflectance * 60_000 * max(cosine, 0),
    )
    sides = ready.sides()
    assert by_hand > 500 and float(ready.state @ sides.boards) == pytest.approx(by_hand, rel=0.04)
    single = readings.ratios.single.ratio
    assert single == pytest.approx(60_000 / by_hand, rel=0.05)
    # Nearer by the half: the board fills more, and the solver's dimmer of a lamp is proved alike.
    nearer = {**white, "position": (aim + 0.6 * (centre - aim)).tolist()}
    assert read_setup(in_the_sun(azimuth, 30, [nearer])).ratios.combined.ratio < (
        readings.ratios.combined.ratio
    )


@pytest.mark.parametrize("target", [2.0, 4.0])
def test_a_lamp_fills_against_the_sun(target):
    fill = box("f", "fill", -50, distance=1.2)
    scene = in_the_sun(55, 30, units=[{**fill, "head": "point-600"}])
    try:
        solved = set_ratio(scene, "f", target, "single")
    except MothError as error:
        assert "stronger head" in error.sentence
        return
    assert read_setup(solved.setup).ratios.single.ratio == pytest.approx(target, rel=0.01)


def test_a_window_is_the_key_where_no_unit_is_called_so():
    window = {"id": "w", "name": "W", "wall": "east", "along": 3.5, "up": 1.6, "size": [2, 1.6]}
    dark = {side: {"reflectance": 0.02} for side in BLACK_ROOM}
    fill = box("f", "fill", 50, 0.02)
    scene = stage([fill], walls=dark)
    lit = scene.model_copy(
        update={
            "openings": setup(openings=[window]).openings,
            "sky": scene.sky.model_copy(update={"level": 20_000, "on": True}),
        }
    )
    readings = read_setup(lit)
    assert readings.key == "@sky" and readings.ratios.cheeks.ratio > 1
    assert read_setup(scene).key == "f"
    named = lit.model_copy(
        update={"units": tuple(u.model_copy(update={"role": "key"}) for u in lit.units)}
    )
    assert read_setup(named).key == "f"


def test_a_hand_keeps_a_bounced_key_off():
    """A key off a wall: what the hand shades is the lit wall, and the rest of the room stays."""
    white = {side: {"reflectance": 0.6 if side == "west" else 0.05} for side in BLACK_ROOM}
    face = anchor(stage([]))
    lamp = {
        "id": "k",
        "name": "k",
        "role": "key",
        "head": "fresnel-200",
        "position": [1.8, float(face[1]) + 3.0, 1.9],
        "aim": [0, float(face[1]) + 3.6, 1.7],
    }
    scene = stage([lamp, box("f", "fill", 15, 0.2)], walls=white)
    ready = lay_out(scene)
    k = [f.id for f in ready.found].index("k")
    sides = ready.sides()
    assert origin_of(scene, ready.world, ready.found[k]).kind == "wall"
    assert 0 < sides.shaded[k] < 0.3 * sides.fill_side[k]
    assert read_setup(scene).ratios.combined.ratio > read_setup(scene).ratios.cheeks.ratio


PALE = {side: {"reflectance": 0.75} for side in BLACK_ROOM}


def test_dark_cloth_is_advised_where_the_room_fills_too_much_and_does_it():
    """The walls alone fill more than may: dimming the fill cannot help, black on its side does."""
    key, fill = box("k", "key", -55), box("f", "fill", 50, 0.2)
    scene = stage([key, fill], walls=PALE)
    with pytest.raises(MothError, match="dark cloth on the fill side, or darker walls"):
        set_ratio(scene, "f", 12.0)
    off = {**fill, "on": False}
    bare = ratio_of(stage([key, off], walls=PALE), "combined")
    black = {**board("b", "duvetyne", 75, 0.6, (1.5, 1.8)), "kind": "flag"}
    assert ratio_of(stage([key, off], [black], walls=PALE), "combined") > 1.3 * bare
    assert ratio_of(stage([key, off], walls=BLACK_ROOM), "combined") > 3 * bare


def test_a_key_farther_round_is_advised_where_it_lights_both_domes_itself_and_does_it():
    """Cheek to cheek nothing shades the key off the far dome: no dark cloth brings such a ratio."""
    fill = box("f", "fill", 50, 0.2)
    scene = stage([box("k", "key", -45), fill], walls=BLACK_ROOM)
    with pytest.raises(MothError, match="the key farther round to its side") as caught:
        set_ratio(scene, "f", 8.0, "cheeks")
    assert "dark cloth" not in caught.value.sentence
    round_it = stage([box("k", "key", -100), {**fill, "dimmer": 0.01}], walls=BLACK_ROOM)
    assert ratio_of(round_it, "cheeks") > 8
    # Between pale walls that alone does not: dark cloth is said with it.
    pale = stage([box("k", "key", -45), fill], walls=PALE)
    with pytest.raises(MothError, match="its side, and dark cloth on the fill side"):
        set_ratio(pale, "f", 12.0, "cheeks")
    still = stage([box("k", "key", -100), {**fill, "on": False}], walls=PALE)
    assert ratio_of(still, "cheeks") < 8


def test_more_fill_is_advised_where_all_of_it_is_too_little_and_does_it():
    """A weak fill at full leaves more contrast than asked for: a nearer one brings it."""
    key, fill = box("k", "key", -50), box("f", "fill", 50, 0.05, distance=4.0)
    scene = stage([key, {**fill, "head": "panel-small"}])
    with pytest.raises(MothError) as caught:
        set_ratio(scene, "f", 1.5, "single")
    assert "stronger head" in caught.value.sentence or "the fill up" in caught.value.sentence
    nearer = stage([key, {**fill, **box("f", "fill", 50, 1.0, distance=1.4)}])
    assert ratio_of(nearer, "single") < 1.5 < ratio_of(scene, "single")


@pytest.mark.parametrize(("first", "second"), [(0.2, 0.1), (0.05, 0.3), (0.15, 0.15)])
def test_two_fills_are_the_sum_of_both(first, second):
    """Light adds; the dome is held toward the first, the other counts by so much as it is off."""

    def with_fills(a, b):
        fills = [("f", 40, a), ("g", 62, b)]
        units = [box(n, "fill", angle, part) for n, angle, part in fills if part]
        return told(stage([box("k", "key", -50), *units]))["single"]

    one, other = 1 / with_fills(first, 0), 1 / with_fills(0, second)
    askew = (1 + np.cos(np.radians(62 - 40))) / 2
    assert with_fills(first, second) == pytest.approx(1 / (one + askew * other), rel=0.01)


@pytest.mark.parametrize("part", [1e-5, 1e-3])
def test_a_fill_that_no_picture_shows_is_told_as_none(part):
    grey = {side: {"reflectance": 0.0} for side in BLACK_ROOM}
    found = read_setup(stage([box("k", "key", -50), box("f", "fill", 50, part)], walls=grey)).ratios
    if part < 1 / 2000:
        assert found.single.ratio is None and found.single.words == "the fill gives it nothing"
    else:
        assert found.single.ratio == pytest.approx(1 / part, rel=0.05)


@pytest.mark.parametrize("seed", range(8))
def test_a_key_that_lights_both_cheeks_is_said_to(seed):
    """Drawn keys, hard and soft, about the lens and well round it: two domes tell no difference
    there that an eye would see, and the angle of the key tells which are which.
    """
    draw = np.random.default_rng([seed, 4])
    words = "The key lights both cheeks"
    side, head = draw.choice([-1, 1]), draw.choice(["softbox-small", "point-150", "panel-small"])
    rise = float(draw.uniform(0, 0.6))
    for angle, wanted in ((draw.uniform(0, 22), True), (draw.uniform(38, 85), False)):
        key = box("key", "key", side * angle, rise=rise, head=str(head))
        fill = box("fill", "fill", -side * 40, draw.uniform(0.02, 0.1), head=str(head))
        assert (words in read_setup(stage([key, fill])).sentence) == wanted
    # Filled up there is nothing to say: every school tells an even face.
    even = stage([box("key", "key", 20), box("fill", "fill", -20)])
    assert words not in read_setup(even).sentence


@pytest.mark.parametrize("seed", range(8))
def test_a_key_from_behind_is_said_to_be(seed):
    """The middle of a cheek faces some 40 degrees off the nose: it sees no key over 130 off it."""
    draw = np.random.default_rng([seed, 5])
    side, rise = draw.choice([-1, 1]), float(draw.uniform(0, 0.4))
    for angle, behind in ((draw.uniform(0, 118), False), (draw.uniform(142, 180), True)):
        read = read_setup(stage([box("key", "key", side * angle, rise=rise)]))
        assert ("from behind" in read.sentence) == behind
    # A key nearly overhead lights the cheeks from above, behind the face or before it.
    steep = read_setup(stage([box("key", "key", 180, distance=0.4, rise=2.0)]))
    assert "from behind" not in steep.sentence


@pytest.mark.parametrize("facing", [0, 90, 200, 300])
def test_an_overcast_sky_comes_from_behind_nobody(facing):
    data = stage([]).model_dump(mode="json")
    data["room"]["outdoors"], data["sky"] = True, {"kind": "overcast", "level": 9000.0}
    data["figures"][0]["facing"] = facing
    assert "behind" not in read_setup(load(data)).sentence
