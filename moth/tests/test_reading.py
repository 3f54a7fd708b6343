"""The picture read: outlines held against frames and masks, faces against where the key stands."""

import colour
import numpy as np
import pytest
from scipy import ndimage

from moth.colour import LUMINANCE
from moth.document import Polar, from_polar
from moth.judging import picture_of, read_order, read_picture, start
from moth.judging.face import face_light, pattern_of
from moth.judging.outline import PARTS, contour_of, lab, worst_of
from moth.judging.picture import SIZE
from moth.metering import lay_out, origin_of, read_setup
from moth.tests.scenes import setup
from moth.transport import view_of
from moth.world import anchor, build_world
from moth.world.figures import FIGURE_NAMES

SIDES = ("north", "south", "east", "west")


def scene(units, wall=0.04, garment=0.05, **more):
    """A seated man before a wall; units in polar words about his face."""
    base = {
        "room": {
            "width": 6,
            "depth": 7,
            "height": 3,
            "floor": {"reflectance": 0.1},
            "ceiling": {"reflectance": 0.1},
            **{side: {"reflectance": wall} for side in SIDES},
        },
        "figures": [
            {
                "id": "s",
                "name": "S",
                "pose": "seated",
                "position": [3, 3],
                "garment": {"reflectance": garment},
            }
        ],
        "cameras": [
            {"id": "a", "name": "A", "position": [3, 5, 1.25], "aim": [3, 3, 1.15]},
        ],
        **more,
    }
    plain = setup(**base, units=[])
    face, lens = anchor(plain), plain.cameras[0].position
    made = []
    for unit in units:
        at = {"angle": 48, "height": 20, "distance": 2.0, **unit}
        place = from_polar(
            Polar(**{k: at.pop(k) for k in ("angle", "height", "distance")}), face, lens
        )
        made.append(
            {
                "id": "key",
                "name": at.get("id", "key"),
                "role": at.get("id", "key"),
                "head": "softbox-small",
                "dimmer": 0.2,
                "position": [float(v) for v in place],
                "aim": face.tolist(),
                **at,
            }
        )
    return setup(**base, units=made)


def shoulders(found):
    return {r.key.split()[3]: r for r in found if r.key.startswith("outline 0 shoulder")}


def test_colours_are_cielabs():
    draw = np.random.default_rng(2)
    signal = draw.uniform(0, 0.9, (50, 3))
    shown = np.where(
        signal < 0.018, 4.5 * signal, 1.099 * np.maximum(signal, 0.018) ** 0.45 - 0.099
    )
    linear = (shown**2.4 + 0.004) / 1.004
    xyz = (
        linear
        @ np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]]).T
    )
    white = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
    assert lab(signal) == pytest.approx(colour.XYZ_to_Lab(xyz, white), abs=0.6)


@pytest.mark.parametrize("seed", range(4))
def test_the_strips_agree_with_the_frame_and_its_mask(seed):
    """By numpy alone: rings inside and outside the mask, a row of pixels at a time."""
    draw = np.random.default_rng(seed)
    made = scene(
        [
            {"angle": float(draw.uniform(20, 60)), "dimmer": 0.3},
            {"id": "edge", "angle": -150, "height": 30, "dimmer": float(draw.uniform(0.1, 1))},
        ],
        wall=float(draw.uniform(0.03, 0.6)),
        garment=float(draw.uniform(0.05, 0.6)),
    )
    picture = picture_of(made)
    contour = contour_of(made, picture)
    signal = picture.colour.reshape(-1, 3) @ LUMINANCE
    inner, beside = contour.inner @ signal, contour.beside @ signal
    width, height = SIZE
    view = view_of(build_world(made), made, made.cameras[0], SIZE)
    cover = np.bincount(
        view.pixel[view.body == 1], view.weight[view.body == 1], width * height
    ).reshape(height, width)
    frame = picture.colour @ LUMINANCE
    inside, outside = cover > 0.97, cover < 0.03
    for stretch in contour.stretches():
        if stretch.part not in ("shoulder", "arm"):
            continue
        near = np.zeros((height, width), bool)
        near[tuple(contour.pixels[stretch.places].T)] = True
        within, past = (ndimage.binary_dilation(near, iterations=k) for k in (2, 4))
        told = np.log2(inner[stretch.places].mean() / beside[stretch.places].mean())
        by_hand = np.log2(frame[within & inside].mean() / frame[past & outside].mean())
        assert told == pytest.approx(by_hand, abs=0.2)


def test_every_part_of_the_outline_is_told_and_lies_on_it():
    made = scene([{}], wall=0.3)
    picture = picture_of(made)
    found = [r for r in read_picture(made, picture) if r.kind == "outline"]
    assert {r.key.split()[2] for r in found} == set(PARTS)
    assert {r.key.split()[3] for r in found} == {"left", "right"}
    width, height = SIZE
    view = view_of(build_world(made), made, made.cameras[0], SIZE)
    figure = np.zeros(width * height, bool)
    figure[view.pixel[view.body == 1]] = True
    figure = figure.reshape(height, width)
    rim = ndimage.binary_dilation(figure) & ~ndimage.binary_erosion(figure, iterations=2)
    for reading in found:
        for x, y in reading.path:
            assert rim[int(y * height), int(x * width)]


def test_an_edge_light_brings_the_shoulder_out_once():
    """From off to full: gone, then it reads, and at last it may be too much; never back."""
    ranks = {"gone": 0, "faint": 1, "reads": 2, "too much": 3}
    edge = {"id": "edge", "angle": -150, "height": 30, "head": "point-300"}
    words = []
    for dimmer in (0.0, 0.003, 0.01, 0.03, 0.1, 0.3, 1.0):
        made = scene([{}, {**edge, "dimmer": max(dimmer, 0.001), "on": dimmer > 0}])
        sides = shoulders(read_picture(made, picture_of(made)))
        words.append(ranks[sides["left"].word])
    assert words[0] == 0 and words[-1] >= 2
    assert words == sorted(words)


def test_a_lost_shoulder_is_told_with_a_dimmer_that_brings_it_out():
    edge = {"id": "edge", "angle": -150, "height": 30, "head": "point-300", "dimmer": 0.002}
    made = scene([{}, edge])
    lost = shoulders(read_picture(made, picture_of(made)))["left"]
    assert lost.word == "gone" and lost.verdict == "fault" and lost.unit == "edge"
    units = (made.units[0], made.units[1].model_copy(update={"dimmer": lost.dimmer}))
    taken = made.model_copy(update={"units": units})
    found = shoulders(read_picture(taken, picture_of(taken)))
    assert found["left"].word == "reads"
    assert found["right"].verdict == "well"


def test_separation_is_met_by_what_the_eye_sees():
    order = start("three-point")
    edge = {"id": "edge", "angle": -150, "height": 30, "head": "point-300"}
    dark = scene([{}, {**edge, "on": False}], order=order.model_dump())

    def row(made):
        return next(r for r in read_order(made, picture_of(made)) if r.key == "separation")

    found = row(dark)
    assert found.met is False and "shoulder, camera left gone" in found.words
    # Grey hair before a white wall is faint, which will do where the plan asks for no edge.
    white = scene([{}], wall=0.7, order=start("natural").model_dump())
    assert row(white).met is True
    # Set aside with a reason, it is met, and the reason is kept.
    keys = [r.key for r in read_picture(dark, picture_of(dark)) if r.verdict != "well"]
    meant = [{"reading": key, "reason": "he comes out of the dark"} for key in keys]
    aside = type(dark).model_validate({**dark.model_dump(), "meant": meant})
    assert row(aside).met is True
    last = read_picture(aside, picture_of(aside))[-1]
    assert last.meant == "he comes out of the dark"


def test_foreground_is_no_outline():
    """A table before the person hides the outline there: it is not told as lost in the table."""
    table = {
        "id": "t",
        "name": "Table",
        "kind": "box",
        "position": [3, 3.7, 0],
        "size": [3, 0.4, 1.05],
        "surface": {"reflectance": 0.05},
    }
    made = scene([{}], wall=0.6, furniture=[table])
    contour = contour_of(made, picture_of(made))
    view = view_of(build_world(made), made, made.cameras[0], SIZE)
    before = np.zeros(SIZE[0] * SIZE[1], bool)
    before[view.pixel[view.body == 1]] = True
    rows = np.flatnonzero(before.reshape(SIZE[1], SIZE[0]).any(1))
    assert contour.pixels[:, 0].max() <= rows.min() + 1


def pattern(angle, height, head="point-300", **more):
    made = scene(
        [{"angle": angle, "height": height, "head": head, "distance": 1.6}],
        wall=0.3,
        **more,
    )
    ready = lay_out(made)
    return pattern_of(face_light(made, ready.world, ready.found[0]), made)


@pytest.mark.parametrize("head", ["point-300", "softbox-small"])
def test_as_the_key_goes_round_the_names_come_in_order(head):
    order = ["flat", "butterfly", "loop", "closed triangle", "split"]
    names = [pattern(angle, 25, head).name for angle in (0, 12, 24, 36, 48, 60, 75, 90)]
    ranks = [order.index(name) for name in names]
    assert ranks == sorted(ranks) and ranks[0] <= 1 and ranks[-1] == 4
    assert len(set(names)) >= 4


def test_as_the_key_climbs_before_the_face_its_shadow_grows_downward():
    names = [pattern(0, height).name for height in (-30, 0, 15, 35, 50, 62)]
    order = ["from below", "flat", "butterfly"]
    ranks = [order.index(name) for name in names]
    assert ranks == sorted(ranks) and ranks[0] == 0 and ranks[-1] == 2
    low, high = pattern(0, 40), pattern(0, 60)
    assert high.tip[2] < low.tip[2]


@pytest.mark.parametrize(("angle", "height"), [(30, 30), (47, 34), (80, 15)])
def test_left_and_right_are_each_others_mirror(angle, height):
    one, other = pattern(angle, height), pattern(-angle, height)
    assert one.name == other.name and {one.side, other.side} == {"left", "right"}
    assert one.triangle == pytest.approx(other.triangle, abs=0.15)


def test_a_head_that_turns_to_the_key_turns_the_pattern():
    """What counts is where the light stands to the face, not to the lens."""
    person = {"id": "s", "name": "S", "pose": "seated", "position": [3, 3]}
    away = pattern(80, 20)
    names = {
        turn: pattern(80, 20, figures=[{**person, "head_turn": turn}]).name for turn in (-58, 58)
    }
    assert away.name == "split"
    # Camera right is the person's own left when they face the lens: one turn is toward the key.
    assert sorted(names.values(), key=("flat", "butterfly", "loop", "split").index)[0] in (
        "flat",
        "loop",
    )


@pytest.mark.parametrize("figure", ["broad-man", "girl", "old-woman"])
@pytest.mark.parametrize("pose", ["leaning", "standing"])
def test_a_low_lamp_is_where_the_light_comes_from(figure, pose):
    """The dome is held off the chin: in the mouth it would see the walls alone."""
    person = {"id": "s", "name": "S", "figure": figure, "pose": pose, "position": [3, 3]}
    low = [{"angle": 10, "height": -33, "head": "point-300", "distance": 1.3}]
    made = scene(low, wall=0.3, figures=[person])
    ready = lay_out(made)
    place = origin_of(made, ready.world, ready.found[0]).place
    assert place == pytest.approx(made.units[0].position, abs=0.01)


@pytest.mark.parametrize("figure", ["weathered-man", "old-woman", "middle-aged-woman"])
def test_a_cheek_lit_down_to_the_mouth_is_no_triangle(figure):
    person = {"id": "s", "name": "S", "figure": figure, "pose": "seated", "position": [3, 3]}
    names = [pattern(a, 34, figures=[person]).name for a in (30, 46)]
    assert names == ["loop", "closed triangle"]


def test_sockets_are_dark_from_above_whatever_the_cheeks_do():
    """Of a face with flat brows and of one whose cheeks lie in shade too; not of a usual key."""
    for figure in ("middle-aged-woman", "girl"):
        person = {"id": "s", "name": "S", "figure": figure, "pose": "seated", "position": [3, 3]}
        told = []
        for height in (84, 30):
            lamp = {"angle": 8, "height": height, "head": "point-300", "distance": 1.5}
            made = scene([lamp], wall=0.05, figures=[person])
            found = read_picture(made, picture_of(made))
            told.append([r.word for r in found if r.key.endswith("sockets")])
        assert told == [["dark"], []], figure


def test_fill_takes_the_shadow_away():
    key = {"angle": 47, "height": 34}
    fill = {"id": "fill", "angle": -40, "height": 5, "dimmer": 0.6}

    def told(units):
        made = scene(units, wall=0.3)
        return next(r for r in read_picture(made, picture_of(made)) if r.key == "face 0 pattern")

    hard, soft = told([{**key, "dimmer": 0.1}]), told([{**key, "dimmer": 0.1}, fill])
    assert hard.word == "closed triangle" and hard.figure > 1.5
    assert soft.word == "flat" and soft.figure < 0.5


def test_the_worst_part_decides():
    values = np.array([20.0] * 70 + [1.0] * 30)
    assert worst_of(values) == pytest.approx(1.0)
    assert worst_of(np.full(40, 9.0)) == 9.0


def test_in_the_dark_nothing_is_read():
    assert read_picture(scene([{"on": False}]), picture_of(scene([{"on": False}]))) == []


def before_a_window(name, over):
    """Somebody with an overcast sky behind, the meter under the chin reading so many stops over."""
    paint = {side: {"reflectance": 0.3} for side in (*SIDES, "floor")}
    window = {"id": "w", "name": "W", "wall": "south", "along": 3, "up": 1.4, "size": [2.4, 1.8]}
    who = {"id": "s", "name": "S", "figure": name, "pose": "seated", "position": [3, 3]}
    room = {"width": 6, "depth": 7, "height": 3, "ceiling": {"reflectance": 0.7}, **paint}
    sky = {"kind": "overcast", "level": 10_000.0}
    made = scene([], figures=[who], room=room, openings=[window], sky=sky)
    chin = next(m for m in read_setup(made).marks if m.id == "chin")
    iso = made.cameras[0].iso * 2 ** (over - chin.against_camera)
    return made.model_copy(update={"cameras": (made.cameras[0].model_copy(update={"iso": iso}),)})


def test_an_open_window_behind_somebody_pulls_the_eye_unless_the_face_is_brighter():
    """It was told of the wall about it alone."""
    made = before_a_window("young-man", -1.0)
    pulls = {r.key: r for r in read_picture(made, picture_of(made))}["backdrop pulls @sky"]
    assert pulls.verdict == "fault" and pulls.name == "W" and pulls.figure > 5
    dusk = before_a_window("young-man", -1.0)
    lamp = scene([{"angle": 40, "height": 20, "distance": 1.2, "dimmer": 1.0}]).units
    sky = dusk.sky.model_copy(update={"level": 20.0})
    held = dusk.model_copy(update={"sky": sky, "units": lamp})
    assert "backdrop pulls @sky" not in {r.key for r in read_picture(held, picture_of(held))}


@pytest.mark.parametrize("name", FIGURE_NAMES)
def test_hair_reads_before_a_window_and_melts_where_both_are_blown(name):
    """ "Gone: 3⅔ under what is behind it" was said of black hair before a white window: of a strip
    of dark hairs one that the window lights made all of it as white.
    """
    for over, words in ((-1.0, {"reads"}), (7.0, {"gone"})):
        made = before_a_window(name, over)
        found = read_picture(made, picture_of(made))
        hair = {r.word for r in found if r.kind == "outline" and " hair" in r.key}
        assert hair == words
