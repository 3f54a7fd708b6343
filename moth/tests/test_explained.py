"""What is drawn to show how a reading was found, held against the frame it is drawn on."""

import re

import numpy as np
import pytest
import shapely

from moth.camera import bt709
from moth.colour import LUMINANCE
from moth.judging import picture_of, read_picture
from moth.judging.outline import project_near
from moth.judging.picture import SIZE
from moth.metering import lay_out
from moth.tests.test_reading import pattern, scene
from moth.transport import view_of
from moth.world import build_world, landmarks


def read(made):
    picture = picture_of(made)
    return {r.key: r for r in read_picture(made, picture)}, picture


def at(places):
    """Pixels (row, column) of places of the frame that lie within it."""
    x, y = np.array(places).T
    rows, columns = np.round(y * SIZE[1] - 0.5).astype(int), np.round(x * SIZE[0] - 0.5).astype(int)
    within = (rows >= 0) & (rows < SIZE[1]) & (columns >= 0) & (columns < SIZE[0])
    return rows[within], columns[within]


def within(path, margin=0.0):
    """Pixels (height, width) inside a closed line, and so far about it."""
    rows, columns = np.mgrid[0 : SIZE[1], 0 : SIZE[0]]
    places = shapely.points((columns + 0.5) / SIZE[0], (rows + 0.5) / SIZE[1])
    return shapely.contains(shapely.Polygon(path).buffer(margin), places)


def percent_of(words):
    return float(re.search(r"(\d+) %", words)[1])


@pytest.mark.parametrize("seed", range(3))
def test_the_two_strips_lie_on_the_figure_and_behind_and_show_what_is_told(seed):
    draw = np.random.default_rng(seed)
    made = scene(
        [{"angle": float(draw.uniform(20, 60))}, {"id": "edge", "angle": -150, "height": 30}],
        wall=float(draw.uniform(0.05, 0.6)),
    )
    found, picture = read(made)
    view = view_of(build_world(made), made, made.cameras[0], SIZE)
    cover = np.bincount(view.pixel[view.body == 1], view.weight[view.body == 1], SIZE[0] * SIZE[1])
    cover = cover.reshape(SIZE[1], SIZE[0])
    frame = picture.colour @ LUMINANCE
    for side in ("left", "right"):
        own, behind, weakest = found[f"outline 0 shoulder {side}"].drawn
        assert np.median(cover[at(own.path)]) > 0.9 and np.median(cover[at(behind.path)]) < 0.1
        for line in (own, behind):
            shown = 100 * float(bt709(np.median(frame[at(line.path)])))
            assert percent_of(line.words) == pytest.approx(shown, abs=5)
        figure = found[f"outline 0 shoulder {side}"].figure
        assert f"{figure:.1f}" in weakest.words
        assert set(weakest.path) <= set(found[f"outline 0 shoulder {side}"].path)


@pytest.mark.parametrize("angle, height", [(36, 25), (-30, 35), (24, 40)])
def test_the_shadow_of_the_nose_is_drawn_where_the_frame_is_darker(angle, height):
    made = scene([{"angle": angle, "height": height, "head": "point-300", "distance": 1.6}])
    found, picture = read(made)
    way, shade, tip = found["face 0 pattern"].drawn
    # Toward the key: its side of the frame, and up.
    lamp = project_near(made.cameras[0], np.array(made.units[0].position))
    (x0, y0), (x1, y1) = way.path
    assert np.sign(x1 - x0) == np.sign(lamp[0] - x0) and y1 < y0
    nose = project_near(made.cameras[0], landmarks(made.figures[0])["nose_tip"])
    end = pattern(angle, height).tip
    assert tip.path == (pytest.approx(nose), pytest.approx(project_near(made.cameras[0], end)))
    long = 1000 * np.linalg.norm(end - landmarks(made.figures[0])["nose_tip"])
    assert f"{long:.0f} mm" in tip.words
    inside, near = within(shade.path), within(shade.path, 0.02)
    frame = picture.colour @ LUMINANCE
    assert np.median(frame[inside]) < 0.6 * np.median(frame[near & ~inside])


def test_a_glint_is_drawn_toward_the_lamp_that_it_mirrors():
    made = scene([{"angle": 25, "height": 20, "distance": 1.8, "head": "softbox-small"}])
    found, _ = read(made)
    lit = [r for r in found.values() if r.kind == "eyes" and r.figure is not None]
    lamp = np.array(project_near(made.cameras[0], np.array(made.units[0].position)))
    assert lit
    for reading in lit:
        (line,) = reading.drawn
        start, end = np.array(line.path)
        assert start == pytest.approx(reading.path[0], abs=0.02)
        assert (end - start) @ (lamp - start) > 0
        assert "toward key" in line.words


def test_glare_is_drawn_on_the_glass_that_has_it():
    made = scene([{"angle": 5, "height": -16, "distance": 1.5}], wall=0.02)
    figure = made.figures[0].model_copy(update={"spectacles": True})
    made = made.model_copy(update={"figures": (figure,)})
    found, picture = read(made)
    told = [r for key, r in found.items() if key.startswith("eyes 0 glass") and r.word == "glare"]
    assert told
    bare = made.model_copy(update={"figures": (figure.model_copy(update={"spectacles": False}),)})
    frame, without = (p.colour @ LUMINANCE for p in (picture, picture_of(bare)))
    for reading in told:
        rim, way = reading.drawn
        inside = within(rim.path)
        assert inside.sum() >= 4
        assert np.median(frame[inside]) > 1.1 * np.median(without[inside])
        assert percent_of(rim.words) == pytest.approx(100 * reading.figure, abs=1)
        assert way.path[0] == pytest.approx(reading.path[0])


def test_a_shadow_on_the_wall_is_drawn_from_the_head_that_throws_it():
    made = scene([{"angle": 30, "height": 8, "head": "point-300", "dimmer": 0.02}], wall=0.5)
    figure = made.figures[0].model_copy(update={"position": (3.0, 0.8)})
    at = {"position": (3.0, 3.4, 1.2), "aim": (3.0, 0.8, 1.1), "focal_length": 35.0}
    camera = made.cameras[0].model_copy(update=at)
    x, y, z = made.units[0].position
    lamp = made.units[0].model_copy(update={"position": (x, y - 2.2, z), "aim": (3.0, 0.8, 1.2)})
    made = made.model_copy(update={"figures": (figure,), "cameras": (camera,), "units": (lamp,)})
    found, _ = read(made)
    thrown = [r for key, r in found.items() if key.startswith("backdrop shadow")]
    assert thrown
    for reading in thrown:
        past, edge = reading.drawn
        crown = project_near(made.cameras[0], landmarks(made.figures[0])["crown"])
        assert past.path[0] == pytest.approx(crown)
        assert shapely.contains_xy(shapely.Polygon(reading.path).buffer(0.03), *past.path[1])
        assert edge.words.endswith("soft" if "soft" in reading.word else "hard")


def test_every_line_can_be_drawn():
    made = scene([{"angle": 30}, {"id": "edge", "angle": -140, "height": 35}], wall=0.3)
    found, _ = read(made)
    lines = [line for r in found.values() for line in r.drawn]
    assert len(lines) > 20 and lay_out(made)
    for line in lines:
        assert line.words and np.isfinite(np.array(line.path)).all() and len(line.path) >= 1
