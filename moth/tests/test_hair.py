"""Hair on the built people: where it grows, what it does to the place, what it leaves alone."""

from itertools import cycle

import numpy as np
import pytest
from scipy.spatial import cKDTree

from moth.document import Figure, Surface, bare
from moth.metering import hair, read_setup
from moth.tests.scenes import BLACK_ROOM
from moth.transport import light_of, project, receive, render_layer, sources, view_of
from moth.world import build_world
from moth.world.figures import FIGURE_NAMES, dressed, landmarks, load_figure
from moth.world.heads import FELT, GARMENT, HAIR, SKIN

PEOPLE = pytest.mark.parametrize("name", FIGURE_NAMES)
POSES = ["standing", "leaning", "seated"]
ONE_POSE_EACH = pytest.mark.parametrize(("name", "pose"), [*zip(FIGURE_NAMES, cycle(POSES))])
"""A head is carried as it is: what is told of it alone is the same in every pose."""


@ONE_POSE_EACH
def test_hair_keeps_the_shape_of_the_head(name, pose):
    grown, moulded = (load_figure(name, pose, False, c) for c in ("grown", "moulded"))
    there = grown.vertices[grown.wisps]
    assert len(there) > 20_000 and np.isfinite(there).all()
    # No higher than the moulded head by more than a wisp, and no lower than what is seen of it.
    top = moulded.vertices[moulded.finish_of_vertices == HAIR][:, 2].max()
    assert top - 0.006 < there[:, 2].max() < top + 0.004
    assert np.abs(there[:, 0]).max() < 0.1
    # The same places are known by the same names.
    for key, place in moulded.landmarks.items():
        assert grown.landmarks[key] == pytest.approx(place)


@PEOPLE
def test_hair_lies_along_itself_and_faces_out(name):
    mesh = load_figure(name, "seated")
    wisps = mesh.wisps
    for rows in (mesh.along[wisps], mesh.outward[wisps]):
        assert np.abs(np.linalg.norm(rows, axis=1) - 1).max() < 1e-6
    # From the middle of the skull hair faces away, nearly all of it.
    middle = mesh.landmarks["crown"] * [0, 0, 1] + [0, 0.04, -0.09]
    away = mesh.vertices[wisps] - middle
    facing = (away * mesh.outward[wisps]).sum(1) / np.linalg.norm(away, axis=1)
    assert (facing > 0).mean() > 0.98
    assert not mesh.along[np.unique(mesh.faces[mesh.finish == SKIN])].any()


@ONE_POSE_EACH
def test_a_bare_head_has_brows_and_no_hair(name, pose):
    mesh = load_figure(name, pose, False, "none")
    high = mesh.vertices[mesh.finish_of_vertices == HAIR][:, 2].max()
    assert mesh.landmarks["eye_left"][2] < high < mesh.landmarks["forehead"][2] + 0.01
    scalp = mesh.vertices[:, 2] > mesh.landmarks["crown"][2] - 0.04
    skin = mesh.albedo[mesh.finish_of_vertices == SKIN]
    assert mesh.albedo[scalp].mean(0) == pytest.approx(np.median(skin, axis=0), rel=0.25)


@PEOPLE
@pytest.mark.parametrize("kind", ["short", "full"])
def test_a_beard_leaves_lips_eyes_and_crown_free(name, kind):
    mesh = load_figure(name, "seated", False, "none", kind)
    marks = mesh.landmarks
    wisps = mesh.wisps & (mesh.vertices[:, 2] < marks["nose_tip"][2] + 0.01)
    there = mesh.vertices[wisps]
    assert len(there) > 10_000
    tall = marks["eye_left"][2] - marks["chin"][2]
    assert there[:, 2].max() < marks["nose_tip"][2] + 0.005
    # A full one hangs as far under the chin as it is long, and no farther.
    low = marks["chin"][2] - there[:, 2].min()
    assert 0 < low < (0.35 * tall + 0.03 if kind == "full" else 0.35 * tall)
    # Lips stay free of roots: the reddest skin has none within 2 mm that is short.
    skin = np.unique(mesh.faces[mesh.finish == SKIN])
    red = mesh.albedo[skin, 0] / np.maximum(mesh.albedo[skin, 1], 1e-3)
    off = np.abs(mesh.vertices[skin] - (marks["nose_tip"] + marks["chin"]) / 2)
    mouth = (off[:, 0] < 0.018) & (off[:, 2] < 0.2 * tall) & (off[:, 1] < 0.03)
    lips = skin[mouth & (red >= np.quantile(red[mouth], 0.85))]
    if kind == "short":
        gap, _ = cKDTree(there).query(mesh.vertices[lips])
        assert np.median(gap) > 0.001
    # Both sides alike.
    assert (there[:, 0] > 0).mean() == pytest.approx(0.5, abs=0.06)


@PEOPLE
@pytest.mark.parametrize("pose", POSES)
def test_collars_close(name, pose):
    mesh = load_figure(name, pose)
    cloth = np.unique(mesh.faces[mesh.finish == GARMENT])
    skin = mesh.vertices[np.unique(mesh.faces[mesh.finish == SKIN])]
    top = mesh.vertices[cloth, 2].max()
    rim = mesh.vertices[cloth]
    rim = rim[(rim[:, 2] > top - 0.012) & (np.abs(rim[:, 0]) < 0.12)]
    gap, _ = cKDTree(skin).query(rim)
    assert np.median(gap) < 0.008 and gap.max() < 0.02


@PEOPLE
def test_who_leans_on_a_table_has_arms_and_hands_on_it_and_looks_level(name):
    mesh, seated = load_figure(name, "leaning"), load_figure(name, "seated")
    marks = mesh.landmarks
    hands = mesh.vertices[mesh.finish_of_vertices == SKIN]
    hands = hands[np.linalg.norm(hands - marks["face"], axis=1) > 0.22]
    hands = hands[hands[:, 1] > marks["shoulder_left"][1] + 0.1]
    assert len(hands) > 1000
    assert 0.70 < hands[:, 2].min() < 0.80 and hands[:, 2].max() < 0.90
    for side in (-1, 1):
        assert (np.sign(hands[:, 0]) == side).mean() > 0.4
    # Forward of where they sit upright, by the bend of the back; the face as it was.
    moved = marks["eye_left"] - seated.landmarks["eye_left"]
    # A girl sits on a cushion, or the table would be at her chin.
    assert 0.08 < moved[1] < 0.2 and -0.06 < moved[2] < (0.15 if name == "girl" else 0)
    for mark in ("nose_tip", "chin", "eye_right", "forehead"):
        away, before = (m.landmarks[mark] - m.landmarks["eye_left"] for m in (mesh, seated))
        assert away == pytest.approx(before, abs=0.004)


def test_hair_turns_with_the_head():
    who = {"id": "a", "name": "a", "figure": "young-woman", "position": (2, 2)}
    straight, turned = (dressed(Figure(**who, head_turn=t)) for t in (0, 50))
    high = straight.wisps & (straight.vertices[:, 2] > straight.landmarks["eye_left"][2])
    turn = np.radians(50)
    matrix = np.array(
        [[np.cos(turn), -np.sin(turn), 0], [np.sin(turn), np.cos(turn), 0], [0, 0, 1]]
    )
    for key in ("along", "outward"):
        wanted = getattr(straight, key)[high] @ matrix.T
        assert np.abs(getattr(turned, key)[high] - wanted).max() < 0.05


@PEOPLE
@pytest.mark.parametrize("kind", ["knit", "brim"])
def test_a_hat_is_over_the_head_and_its_hair(name, kind):
    bare_head, mesh = (
        load_figure(name, "seated", False, "grown", "none", h) for h in ("none", kind)
    )
    hat = mesh.vertices[mesh.finish_of_vertices == FELT]
    top = hat[:, 2].max()
    assert mesh.landmarks["crown"][2] == pytest.approx(top)
    assert -0.005 < top - bare_head.vertices[:, 2].max() < 0.05
    # It sits above the eyes before, and no hair comes through its top.
    front = hat[hat[:, 1] > mesh.landmarks["forehead"][1] - 0.01]
    assert front[:, 2].min() > mesh.landmarks["eye_left"][2] + 0.01
    wisps = mesh.vertices[np.unique(mesh.faces[mesh.finish == HAIR])]
    high = wisps[wisps[:, 2] > mesh.landmarks["forehead"][2] + 0.03]
    inside = np.linalg.norm(high[:, :2] - hat[:, :2].mean(0), axis=1)
    assert not len(high) or inside.max() < np.abs(hat[:, :2] - hat[:, :2].mean(0)).max()
    assert hat[:, 0].max() > np.abs(high[:, 0]).max(initial=0)


def test_a_brim_keeps_a_high_lamp_off_the_eyes():
    lamp = {**KEY, "head": "point-300", "position": [2.0, 2.85, 2.8], "aim": [2, 2, 1.6]}
    setup = bare(units=[lamp])
    light = []
    for hat in ("none", "knit", "brim"):
        figure = Figure.model_validate({**setup.figures[0].model_dump(), "hat": hat})
        worn = setup.model_copy(update={"figures": (figure,)})
        world = build_world(worn)
        camera = worn.cameras[0].model_copy(update={"focal_length": 120.0})
        view = view_of(world, worn, camera, (192, 108))
        found = render_layer(world, view, sources(worn)[0]).surfaces[..., 1]
        under = landmarks(figure)["eye_left"] - [0.01, 0, 0.025]
        x, y = project(camera, [under])[0]
        light.append(float(found[int(y * 108), int(x * 192)]))
    assert light[1] == pytest.approx(light[0], rel=0.15) and light[2] < 0.2 * light[0]


def test_a_meter_on_the_crown_is_not_under_the_hat():
    for hat in ("none", "knit", "brim"):
        setup = _person("weathered-man", hat=hat)
        place = hair(setup, setup.cameras[0])
        edge = next(s for s in sources(setup) if s.id == "e").emitters[0]
        found = receive(
            build_world(setup),
            edge,
            np.array([place.position]),
            np.array([place.direction]),
            [False],
        )
        assert found[0] > 100


def test_hair_takes_the_tone_that_is_asked():
    fair = Surface(reflectance=0.32, colour=(1, 0.78, 0.5))
    mesh = dressed(Figure(id="a", name="a", position=(2, 2), hair=fair))
    tone = mesh.albedo[mesh.wisps].mean(0)
    assert tone @ [0.2126, 0.7152, 0.0722] == pytest.approx(0.32, rel=0.1)
    assert tone[0] > tone[1] > tone[2]


KEY = {"id": "k", "name": "Key", "role": "key", "head": "panel-2x1"}
EDGE = {"id": "e", "name": "Edge", "role": "edge", "head": "point-300"}
LAMPS = [
    {**KEY, "position": [3.4, 3.9, 2.1], "aim": [2, 2, 1.6]},
    {**EDGE, "position": [1.1, 0.6, 2.4], "aim": [2, 2, 1.65]},
]


def _person(name, **look):
    setup = bare(units=LAMPS)
    figure = {**setup.figures[0].model_dump(), "figure": name, **look}
    return setup.model_copy(update={"figures": (Figure.model_validate(figure),)})


@PEOPLE
def test_the_meter_reads_the_same_beside_hair_of_any_kind(name):
    grown, moulded = (read_setup(_person(name, cut=c)).marks for c in ("grown", "moulded"))
    for mine, theirs in zip(grown, moulded, strict=True):
        assert mine.lux == pytest.approx(theirs.lux, rel=0.03), mine.name


def test_wisps_send_no_light_of_their_own():
    # Their place in what bounces about is the scalp's: no area comes in with them.
    grown, moulded = (build_world(_person("young-woman", cut=c)) for c in ("grown", "moulded"))
    areas = [w.patches.area.sum() for w in (grown, moulded)]
    assert areas[0] == pytest.approx(areas[1], rel=1e-3)
    fluxes = [
        (light_of(w, sources(_person("young-woman"))[0]).radiosity[:, 1] * w.patches.area).sum()
        for w in (grown, moulded)
    ]
    assert fluxes[0] == pytest.approx(fluxes[1], rel=0.01)


def _rim(**look):
    """Light on the upper edge of the head from the lamp behind, before a black wall."""
    setup = _person("broad-man", **look)
    room = setup.room.model_validate({**setup.room.model_dump(), **BLACK_ROOM})
    setup = setup.model_copy(update={"room": room})
    crown = load_figure("broad-man", "standing").landmarks["crown"][2]
    camera = setup.cameras[0].model_copy(
        update={"aim": (2.0, 2.0, crown - 0.05), "focal_length": 150.0}
    )
    world = build_world(setup)
    view = view_of(world, setup, camera, (320, 180))
    edge = next(s for s in sources(setup) if s.id == "e")
    return float(render_layer(world, view, edge).surfaces[:60].sum())


def test_an_edge_light_shows_in_black_hair_less_than_in_fair():
    black, brown, fair = (_rim(hair={"reflectance": r}) for r in (0.012, 0.04, 0.32))
    assert black < 0.8 * brown < 0.8 * fair and fair > 3 * black > 0
