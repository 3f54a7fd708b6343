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
from moth.tests.scenes import setup
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


@pytest.mark.parametrize("seed", range(3))
def test_the_areas_of_skin_and_clothes_show_what_is_said_of_them(seed):
    draw = np.random.default_rng(seed)
    made = scene(
        [{"angle": float(draw.uniform(-60, 60)), "height": float(draw.uniform(10, 40))}],
        garment=float(draw.uniform(0.03, 0.5)),
    )
    found, picture = read(made)
    frame = picture.colour @ LUMINANCE
    for key in ("skin 0 lit", "skin 0 clothes"):
        for line in found[key].drawn:
            inside = within(line.path, 0.002)
            assert inside.sum() > 12, line
    bright, face = found["skin 0 lit"].drawn
    # The brighter third is brighter than the face, and says as much as its part of the frame shows.
    assert percent_of(bright.words) > percent_of(face.words)
    level = found["skin 0 lit"].figure
    assert percent_of(bright.words) == pytest.approx(100 * bt709(0.18 * 2**level), abs=1.5)
    assert bt709(np.quantile(frame[within(bright.path)], 0.9)) > 0.01 * percent_of(face.words)


def test_each_cheeks_white_is_drawn_toward_the_lamps_that_make_it():
    key = {"angle": 60, "cct": 5600, "head": "point-colour"}
    other = {"id": "other", "angle": -80, "cct": 2700, "head": "point-colour"}
    made = scene([key, other])
    found, _ = read(made)
    ready = lay_out(made)
    for mark in ("key-side", "fill-side"):
        lines = found[f"whites 0 {mark}"].drawn
        levels = ready.full([ready.marks[mark]])[:, 0] * ready.state
        parts = {s.id: light / levels.sum() for s, light in zip(ready.found, levels, strict=True)}
        shown = {line.words.split(":")[0]: line for line in lines}
        for unit in made.units:
            if parts[unit.id] < 0.05:
                assert unit.name not in shown
                continue
            line = shown[unit.name]
            assert percent_of(line.words) == pytest.approx(100 * parts[unit.id], abs=1)
            kelvin = float(re.search(r"(\d+) K", line.words)[1])
            assert kelvin == pytest.approx(unit.cct, rel=0.03)
            lamp = project_near(made.cameras[0], np.array(unit.position))
            (x0, y0), (x1, y1) = line.path
            assert np.sign(x1 - x0) == np.sign(lamp[0] - x0)
    apart = found["whites 0 apart"]
    assert len(apart.drawn) >= 2 and apart.word == "two colours"


@pytest.mark.parametrize(("far", "behind"), [(4.2, False), (6.3, True)])
def test_a_lamp_in_a_mirror_is_drawn_from_where_it_is_seen_to_where_it_stands(far, behind):
    glass = [3.0, 1.5, 1.4]
    lamp = {"id": "k", "name": "Key", "head": "panel-small", "position": [2.5, far, 1.6]}
    mirror = {"id": "m", "name": "Glass", "kind": "mirror", "material": "mirror"}
    lens = {"id": "a", "name": "A", "position": [3, 5.5, 1.3], "aim": glass, "focal_length": 24}
    made = setup(
        figures=[{"id": "s", "name": "S", "pose": "seated", "position": [0.6, 6]}],
        cameras=[lens],
        units=[{**lamp, "aim": glass, "held": "built-in"}],
        grip=[{**mirror, "position": glass, "aim": [3.0, 5, 1.4], "size": [1.6, 1.4]}],
    )
    found, _ = read(made)
    (told,) = [r for key, r in found.items() if key.startswith("mirrored k")]
    (line,) = told.drawn
    assert f"{far - 1.5:.1f} m before the glass; the lens 4.0 m" in line.words
    # It is seen where the ray to its image meets the glass.
    image = project_near(made.cameras[0], np.array([2.5, 3.0 - far, 1.6]))
    assert line.path[0] == pytest.approx(image, abs=0.02)
    if behind:
        assert len(line.path) == 1 and line.words.endswith("behind it")
    else:
        assert line.path[1] == pytest.approx(project_near(made.cameras[0], lamp["position"]))


def test_reasons_are_drawn_from_the_face_with_what_lies_between():
    made = scene(
        [{"angle": 50, "dimmer": 0.3}],
        reasons=[
            {"id": "w", "name": "A window", "bearing": 90.0},
            {"id": "f", "name": "A fire", "kind": "fire", "bearing": 250.0},
        ],
    )
    found, _ = read(made)
    toward, *others = found["reasons key"].drawn
    assert toward.words == "toward key" and len(others) == 2
    angles = [float(re.search(r"(\d+)° apart", line.words)[1]) for line in others]
    assert min(angles) == pytest.approx(found["reasons key"].figure, abs=0.6)
    # Bearings run clockwise from north: east is at x over the face's.
    face = toward.path[0][0]
    assert others[0].path[1][0] < face < others[1].path[1][0] or (
        others[1].path[1][0] < face < others[0].path[1][0]
    )


def test_a_fan_is_drawn_from_the_microphone():
    made = scene([{"angle": 30, "head": "point-600"}], microphone=[3.0, 3.2, 1.9])
    found, _ = read(made)
    (told,) = [r for key, r in found.items() if key.startswith("sound")]
    (line,) = told.drawn
    mic = project_near(made.cameras[0], np.array([3.0, 3.2, 1.9]))
    assert line.path[0] == pytest.approx(mic)
    away = np.linalg.norm(np.array(made.units[0].position) - [3.0, 3.2, 1.9])
    assert line.words.endswith(f"{away:.1f} m")


def test_every_line_can_be_drawn():
    made = scene([{"angle": 30}, {"id": "edge", "angle": -140, "height": 35}], wall=0.3)
    found, _ = read(made)
    lines = [line for r in found.values() for line in r.drawn]
    assert len(lines) > 20 and lay_out(made)
    for line in lines:
        assert line.words and np.isfinite(np.array(line.path)).all() and len(line.path) >= 1
