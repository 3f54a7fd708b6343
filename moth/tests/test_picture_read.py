"""The rest of the picture read: shadows, shines, what stands in it; held against other frames."""

import numpy as np
import pytest
from scipy import ndimage

from moth.colour import LUMINANCE
from moth.document import Setup
from moth.judging import LIMITS, picture_of, read_picture
from moth.judging.backdrop import AREA
from moth.judging.fixed import read_fixed
from moth.judging.picture import SIZE
from moth.tests.scenes import setup
from moth.tests.test_reading import scene
from moth.transport import project, render_layer, sheen_of, sources, view_of
from moth.world import anchor, build_world
from moth.world.gathering import GLOSS


def found(made, start):
    return [r for r in read_picture(made, picture_of(made)) if r.key.startswith(start)]


@pytest.mark.parametrize("seed", range(6))
def test_a_lamp_in_a_mirror_is_seen_where_its_image_stands(seed):
    draw = np.random.default_rng(seed)
    across = float(draw.uniform(2.6, 3.4))
    lamp = [float(draw.uniform(2, 4)), float(draw.uniform(5.8, 6.5)), float(draw.uniform(0.8, 2.2))]
    glass = [across, 1.5, 1.4]
    mirror = {
        "id": "m",
        "name": "Mirror",
        "kind": "mirror",
        "material": "mirror",
        "position": glass,
        "aim": [across, 5, 1.4],
        "size": [1.6, 1.4],
    }
    made = setup(
        figures=[{"id": "s", "name": "S", "pose": "seated", "position": [0.6, 6]}],
        cameras=[
            {"id": "a", "name": "A", "position": [3, 5.5, 1.3], "aim": glass, "focal_length": 35}
        ],
        units=[
            {
                "id": "k",
                "name": "K",
                "head": "panel-small",
                "position": lamp,
                "aim": glass,
                "held": "built-in",
            }
        ],
        grip=[mirror],
    )
    world = build_world(made)
    layer = render_layer(world, view_of(world, made, made.cameras[0], SIZE), sources(made)[0])
    rows, columns = np.divmod(layer.seen, SIZE[0])
    at = np.array([(columns + 0.5) @ layer.cover / SIZE[0], (rows + 0.5) @ layer.cover / SIZE[1]])
    image = project(made.cameras[0], [[lamp[0], 3.0 - lamp[1], lamp[2]]])[0]
    assert at / layer.cover.sum() == pytest.approx(image, abs=0.006)
    # Behind a board it is not.
    board = {**mirror, "id": "b", "kind": "flag", "material": "velvet", "size": [1.8, 1.6]}
    board |= {"position": [across, 2.0, 1.4]}
    hidden = type(made).model_validate({**made.model_dump(), "grip": [mirror, board]})
    world = build_world(hidden)
    layer = render_layer(world, view_of(world, hidden, hidden.cameras[0], SIZE), sources(hidden)[0])
    assert layer.glow.sum() == 0


def without(made):
    """The frame of a set-up with its person taken off to a corner behind the lens."""
    gone = made.model_copy(
        update={"figures": (made.figures[0].model_copy(update={"position": (0.4, 6.6)}),)}
    )
    world = build_world(gone)
    view = view_of(world, gone, gone.cameras[0], SIZE)
    return render_layer(world, view, sources(gone)[0]).surfaces


@pytest.mark.parametrize("seed", range(4))
def test_a_shadow_on_the_wall_lies_where_the_wall_is_darker_for_the_person(seed):
    draw = np.random.default_rng(seed)
    angle = float(draw.uniform(22, 40)) * (-1 if seed % 2 else 1)
    made = scene(
        [{"angle": angle, "height": float(draw.uniform(0, 15)), "head": "point-300"}],
        wall=0.5,
        room={"width": 6, "depth": 7, "height": 3, "south": {"reflectance": 0.5}},
    )
    figure = made.figures[0].model_copy(update={"position": (3.0, 0.8)})
    camera = made.cameras[0].model_copy(
        update={"position": (3.0, 3.4, 1.2), "aim": (3.0, 0.8, 1.1), "focal_length": 35.0}
    )
    unit = made.units[0]
    moved = tuple(float(a - b) for a, b in zip(unit.position, (0, 2.2, 0), strict=True))
    unit = unit.model_copy(update={"position": moved, "aim": (3.0, 0.8, 1.2), "dimmer": 0.02})
    made = made.model_copy(update={"figures": (figure,), "cameras": (camera,), "units": (unit,)})
    told = found(made, "backdrop shadow")
    assert len(told) == 1 and told[0].unit == "key"
    world = build_world(made)
    view = view_of(world, made, made.cameras[0], SIZE)
    with_him, bare = render_layer(world, view, sources(made)[0]).surfaces, without(made)
    darker = np.log2((bare @ LUMINANCE + 1e-6) / (with_him @ LUMINANCE + 1e-6)).ravel()
    wall = np.bincount(view.pixel[view.body == 1], minlength=SIZE[0] * SIZE[1]) == 0
    there = wall & (darker > 0.6)
    # The line round it is a hull: as the median of the wall's pixels within it.
    rows, columns = np.divmod(np.flatnonzero(there), SIZE[0])
    path = np.array(told[0].path) * SIZE
    middle = np.array([columns.mean(), rows.mean()])
    assert np.linalg.norm((path.min(0) + path.max(0)) / 2 - middle) < 0.12 * SIZE[0]
    assert told[0].figure == pytest.approx(np.quantile(darker[there], 0.75), abs=0.3)


@pytest.mark.parametrize("seed", range(500, 510))
def test_a_shadow_is_told_where_the_frame_without_the_person_shows_one_and_nowhere_else(seed):
    draw = np.random.default_rng(seed)
    by = float(draw.uniform(0.6, 3.0)) - 3.0
    made = scene(
        [
            {
                "angle": float(draw.uniform(-75, 75)),
                "height": float(draw.uniform(0, 50)),
                "distance": float(draw.uniform(1.2, 2.4)),
                "head": str(draw.choice(["point-300", "softbox-small", "panel-4x2", "point-60"])),
                "dimmer": 0.05,
            }
        ],
        wall=float(draw.uniform(0.1, 0.8)),
    )

    def carried(thing):
        at = {k: (x, y + by, z) for k in ("position", "aim") for x, y, z in [getattr(thing, k)]}
        return thing.model_copy(update=at)

    figure = made.figures[0].model_copy(update={"position": (3.0, 3.0 + by)})
    made = made.model_copy(
        update={
            "figures": (figure,),
            "cameras": (carried(made.cameras[0]),),
            "units": (carried(made.units[0]),),
        }
    )
    world = build_world(made)
    view = view_of(world, made, made.cameras[0], SIZE)
    with_him, bare = render_layer(world, view, sources(made)[0]).surfaces, without(made)
    darker = np.log2((bare @ LUMINANCE + 1e-6) / (with_him @ LUMINANCE + 1e-6))
    body = np.bincount(view.pixel[view.body == 1], minlength=darker.size) > 0
    labels, _ = ndimage.label(
        (darker > LIMITS["backdrop-shadow"].typical) & ~body.reshape(darker.shape), np.ones((3, 3))
    )
    largest = np.bincount(labels.ravel())[1:].max(initial=0) / darker.size
    assert bool(found(made, "backdrop shadow")) == (largest >= AREA)


def test_a_wall_that_pulls_the_eye_is_brought_down_by_the_dimmer_told():
    lamp = {
        "id": "background",
        "head": "point-300",
        "position": [4.8, 1.6, 1.9],
        "aim": [2.4, 0.05, 1.5],
        "dimmer": 0.2,
    }
    made = scene([{}, lamp], wall=0.5)
    told = found(made, "backdrop pulls")
    assert told and told[0].unit == "background" and told[0].dimmer
    unit = made.units[1].model_copy(update={"dimmer": told[0].dimmer})
    taken = made.model_copy(update={"units": (made.units[0], unit)})
    after = found(taken, "backdrop pulls")
    assert not after or after[0].figure < 1.2


def test_sheen_is_what_the_frame_has_over_the_same_thing_without_gloss():
    frames = []
    for gloss in (1.0, 0.0):
        made = scene(
            [{"angle": 30, "height": 20}],
            furniture=[
                {
                    "id": "t",
                    "name": "Table",
                    "kind": "box",
                    "position": [3, 3.8, 0],
                    "size": [1.6, 0.7, 1.05],
                    "gloss": gloss,
                    "surface": {"reflectance": 0.2},
                }
            ],
        )
        world = build_world(made)
        view = view_of(world, made, made.cameras[0], SIZE)
        frames.append((render_layer(world, view, sources(made)[0]).surfaces, view, world, made))
    (shiny, view, world, made), (matte, *_) = frames
    some = np.flatnonzero(view.finish == GLOSS)
    sheen = sheen_of(world, view, sources(made)[0], some) @ LUMINANCE
    count = SIZE[0] * SIZE[1]
    sent = np.bincount(view.pixel[some], sheen * view.weight[some], count)
    over = ((shiny - matte) @ LUMINANCE).ravel()
    bright = sent > 0.3 * sent.max()
    assert bright.sum() > 5
    assert sent[bright].sum() == pytest.approx(over[bright].sum(), rel=0.05)


def test_glare_is_cleared_by_the_tilt_told():
    made = scene([{"angle": 5, "height": -16, "distance": 1.5}], wall=0.02)
    figure = made.figures[0].model_copy(update={"spectacles": True})
    made = made.model_copy(update={"figures": (figure,)})
    told = [r for r in found(made, "eyes 0 glass") if r.word == "glare"]
    assert told and all("tilted" in r.words for r in told)
    for reading in told:
        words = reading.words.split("tilted ")[1].split(" or ")[0]
        degrees = float(words.split("°")[0]) * (1 if "up" in words else -1)
        tilted = figure.model_copy(update={"head_tilt": degrees})
        after = {r.key: r for r in found(made.model_copy(update={"figures": (tilted,)}), "eyes 0")}
        # The frame's own resolution of a glass may leave a place of it.
        assert after[reading.key].figure < 0.03


def test_a_fixed_lamp_is_read_by_its_brightest_part():
    lamp = {
        "id": "desk",
        "role": "practical",
        "head": "softbox-small",
        "position": [3.7, 2.0, 1.2],
        "aim": [3.4, 4.5, 1.2],
        "dimmer": 0.01,
    }
    made = scene([{}, lamp], wall=0.02, fixed=[{"thing": "desk", "stops": 2.0}])
    picture = picture_of(made)
    row = read_fixed(made, picture)[0]
    pixels = picture.things["desk"]
    signal = np.sort(picture.mix.ravel()[pixels])[::-1]
    brightest = signal[: max(1, len(signal) // 4)].mean()
    assert row.sits == pytest.approx(np.log2(brightest / 0.18), abs=0.2)


@pytest.mark.parametrize("seed", range(10))
def test_a_head_in_the_frame_is_not_told_as_its_stand(seed):
    """A large box whose middle is out of the picture, and one of which only the pole is in it."""
    draw = np.random.default_rng([seed, 5])
    side, away = float(draw.choice([-1, 1])), float(draw.uniform(0.5, 1.6))
    # Half the frame's width there, by the camera's own projection, which knows no place out of it.
    camera = scene([{}]).cameras[0]
    lens = camera.position
    y = lens[1] - away
    spots = [(lens[0] + side * float(x), y, lens[2]) for x in np.linspace(0, 1.5, 301)]
    edge = max((s for s in spots if project(camera, [s])[0]), key=lambda s: side * s[0])[0]
    box = {
        "id": "box",
        "head": "softbox-large",
        "position": [edge + side * float(draw.uniform(0.25, 0.35)), y, lens[2]],
        "aim": [edge + side * 0.3, 0, lens[2]],
        "role": "edge",
    }
    assert project(camera, [box["position"]])[0] is None
    assert [r.word for r in found(scene([{}, box]), "frame unit")] == ["in the picture"]
    over = {
        **box,
        "head": "panel-small",
        "position": [edge - side * 0.1, y, 2.7],
        "aim": [edge - side * 0.1, 0, 2.7],
    }
    told = [r.word for r in found(scene([{}, over]), "frame unit")]
    assert told == ["its stand is in the picture"]


def test_what_is_in_the_frame_is_told_once_and_where():
    edge = {
        "id": "edge",
        "head": "panel-small",
        "position": [3.75, 1.8, 1.4],
        "aim": [3, 3, 1.3],
        "dimmer": 0.1,
    }
    made = scene([{}, edge])
    told = found(made, "frame unit")
    assert [r.unit for r in told] == ["edge"] and told[0].verdict == "fault"
    x, y = project(made.cameras[0], [edge["position"]])[0]
    path = np.array(told[0].path)
    assert path[:, 0].min() < x < path[:, 0].max() and path[:, 1].min() < y < path[:, 1].max()
    # A lamp of the place may be there; off, it is told as unlit.
    dark = {**edge, "role": "practical", "on": False}
    made = Setup.model_validate(scene([{}, dark]).model_dump())
    assert not found(made, "frame unit")
    assert [r.word for r in found(made, "lamps")] == ["not lit"]
    assert anchor(made)[2] > 1
