"""The sheen of skin and of cloth: its lobes, its nap, its relief."""

import numpy as np
import pytest
from numba import njit

from moth.camera import mix
from moth.colour import LUMINANCE
from moth.document import Surface
from moth.engine.noise import noise
from moth.materials import FINISHES
from moth.tests.scenes import BLACK_ROOM, setup
from moth.transport import render_layer, sources, view_of
from moth.transport.gloss import OILED, WIDE, ggx, gloss_of, nap_albedo, of_nap, returned
from moth.transport.relief import NOISE_RMS
from moth.world import build_world
from moth.world.figures import dressed, load_figure
from moth.world.grain import LIPS, grain_of

SKIN, WOOL = (next(i for i, f in enumerate(FINISHES) if f.name == n) for n in ("skin", "wool"))
UP = (0.0, 0.0, 1.0)


@njit
def _nap(depth, a, b):
    return of_nap(depth, a, b)


@njit
def _sent(gloss, i, n, v, ray):
    return returned(gloss, i, n, v, ray)


@njit
def _lobe(n, v, ray, alpha, f0):
    return ggx(n, v, ray, alpha, f0)


def through_a_layer(depth, away, count, rng):
    """Share of even light from above that a layer of specks, scattering once, sends out along a
    way: photons let go toward the layer from the eye's side, which is the same by reciprocity.
    """
    # How deep each goes before it meets a speck; those that meet none are lost to the cloth.
    deep = rng.exponential(size=count) * away
    met = deep < depth
    up = rng.uniform(-1, 1, count)
    out = np.exp(-deep / np.maximum(up, 1e-9)) * (up > 0)
    return float((met * out).mean())


@pytest.mark.parametrize("seed", range(6))
def test_a_nap_sends_on_what_photons_in_a_thin_layer_do(seed):
    rng = np.random.default_rng(seed)
    depth, away = float(rng.uniform(0.03, 0.4)), float(rng.uniform(0.1, 1.0))
    found = through_a_layer(depth, away, 2_000_000, rng)
    assert float(nap_albedo(depth, np.array([away]))[0]) == pytest.approx(found, rel=0.01)


def test_a_nap_is_the_same_both_ways_and_brightest_at_the_edge():
    assert _nap(0.15, 0.3, 0.8) == pytest.approx(_nap(0.15, 0.8, 0.3))
    assert _nap(0.15, 0.2, 0.15) > 5 * _nap(0.15, 0.9, 0.9)


@pytest.mark.parametrize("reflectance", [0.02, 0.5, 0.95])
def test_napped_cloth_never_sends_out_more_than_falls_on_it(reflectance):
    for finish in FINISHES:
        if finish.nap > 0:
            for away in np.linspace(0.02, 1, 25):
                nap = float(nap_albedo(finish.nap, np.array([away]))[0])
                assert nap * reflectance**finish.tint + (1 - nap) * reflectance <= 1


def test_oily_skin_has_more_of_the_narrow_lobe_and_the_same_light_in_all():
    """Over all ways out, both send what Fresnel's law leaves outside, within what a rough surface
    loses.
    """
    gloss = gloss_of(np.full(2, SKIN), np.array([0.0, 1.0]), np.zeros(2))
    assert gloss.share.tolist() == list(OILED) and gloss.wide[0] == WIDE[0]
    steps = np.linspace(0, np.pi / 2, 90)[1:]
    view = (float(np.sin(0.5)), 0.0, float(np.cos(0.5)))
    mirrored = (-view[0], 0.0, view[2])
    whole = np.zeros(2)
    for t in steps:
        for a in np.linspace(0, 2 * np.pi, 72, endpoint=False):
            ray = (float(np.sin(t) * np.cos(a)), float(np.sin(t) * np.sin(a)), float(np.cos(t)))
            weight = np.cos(t) * np.sin(t) * steps[0] * 2 * np.pi / 72
            whole += [weight * _sent(gloss, k, UP, view, ray) for k in (0, 1)]
    assert whole[1] == pytest.approx(whole[0], rel=0.2)
    peaks = [_sent(gloss, k, UP, view, mirrored) for k in (0, 1)]
    assert peaks[1] > 1.5 * peaks[0]


def test_surfaces_of_one_lobe_are_as_their_finish_says():
    polish = next(i for i, f in enumerate(FINISHES) if f.name == "gloss")
    gloss = gloss_of(np.array([polish]), np.zeros(1), np.zeros(1))
    view, ray = (0.6, 0.0, 0.8), (-0.6, 0.0, 0.8)
    own = FINISHES[polish]
    expected = _lobe(UP, view, ray, own.roughness, own.normal_reflectance)
    assert _sent(gloss, 0, UP, view, ray) == pytest.approx(expected)


def test_slopes_that_are_seen_are_not_told_twice():
    """The lobe that a picture's own relief spreads is as wide as the one that was told before."""
    seen = 0.01
    told, shown = gloss_of(np.full(2, SKIN), np.zeros(2), np.array([0.0, seen]))[1]
    assert shown**2 + 2 * seen == pytest.approx(told**2)


def test_noise_is_even_and_as_strong_as_the_relief_takes_it_for():
    at = np.random.default_rng(3).uniform(-500, 500, (200_000, 3))
    found = noise(at, 12)
    assert abs(found.mean()) < 0.01 and found.std() == pytest.approx(NOISE_RMS, rel=0.1)
    other = noise(at, 13)
    assert abs(np.corrcoef(found, other)[0, 1]) < 0.02


@pytest.mark.parametrize("name", ["weathered-man", "young-woman", "girl"])
def test_forehead_nose_and_lips_are_oilier_than_the_cheek(name):
    mesh = load_figure(name, "seated")
    skin = np.unique(mesh.faces[mesh.finish == SKIN])
    oil, marks = grain_of(mesh)[:, 3], mesh.landmarks

    def at(place):
        return oil[skin[np.linalg.norm(mesh.vertices[skin] - place, axis=1).argmin()]]

    ear = marks["cheek_left"] + [-0.02, -0.06, 0.0]
    assert at(marks["nose_tip"]) > 0.8 and at(marks["forehead"]) > 0.6 and at(ear) < 0.4
    lips = mesh.vertices[skin[oil[skin] == LIPS]]
    assert len(lips) > 30
    assert (lips[:, 2] < marks["nose_tip"][2]).all() and (lips[:, 2] > marks["chin"][2]).all()


def test_rows_of_a_jumper_grow_evenly_from_the_collar():
    """Along the way that the rows follow each other their number grows by what was gone."""
    mesh = load_figure("young-man", "standing")
    grain = grain_of(mesh)
    faces = mesh.faces[mesh.finish == 2]
    pairs = np.unique(np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1), axis=0)
    step = mesh.vertices[pairs[:, 1]] - mesh.vertices[pairs[:, 0]]
    gone = (step * grain[pairs[:, 0], 4:]).sum(1)
    along = np.abs(gone) > 0.9 * np.linalg.norm(step, axis=1)
    ratio = (grain[pairs[along, 1], 3] - grain[pairs[along, 0], 3]) / gone[along]
    assert along.sum() > 500 and np.median(ratio) == pytest.approx(1, abs=0.12)


def frame(cloth, side=1, lens=50.0, size=(320, 180), high=1.4, **more):
    """A frame of a person and its view: the lamp behind them, or at 45°."""
    y = 0.8 if side < 0 else 5.0
    scene = setup(
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
        figures=[
            {"id": "s", "name": "s", "position": [3, 3], "cut": "none", "cloth": cloth, **more}
        ],
        cameras=[
            {
                "id": "a",
                "name": "A",
                "position": [3, 5.6, high],
                "aim": [3, 3, high],
                "focal_length": lens,
            }
        ],
        units=[
            {
                "id": "k",
                "name": "k",
                "head": "softbox-large",
                "position": [4.6, y, 1.9],
                "aim": [3, 3, 1.4],
            }
        ],
    )
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], size)
    layer = render_layer(world, view, sources(scene)[0])
    return scene, view, layer


def test_black_wool_glows_at_the_edge_where_black_cotton_does_not():
    """The lamp stands behind the shoulder: what the lens gets of the cloth there."""
    black = {"reflectance": 0.03}

    def edge(cloth):
        _, view, layer = frame(cloth, side=-1, garment=black)
        lum = layer.surfaces.reshape(-1, 3) @ LUMINANCE
        cloths = np.isin(view.finish, [2, WOOL])
        grazing = np.abs((view.normals * view.toward).sum(1)) < 0.35
        return np.percentile(lum[np.unique(view.pixel[cloths & grazing])], 90)

    assert edge("wool") > 1.5 * edge("plain")


def test_a_shirt_of_another_cloth_is_as_light_as_it_was_asked():
    for cloth in ("plain", "cotton", "wool", "silk"):
        who = dressed(
            setup(
                figures=[
                    {
                        "id": "s",
                        "name": "s",
                        "position": [3, 3],
                        "cloth": cloth,
                        "garment": {"reflectance": 0.4},
                    }
                ]
            ).figures[0]
        )
        names = {"plain": 2, "cotton": 2, "wool": WOOL}
        own = np.unique(who.faces[who.finish == names.get(cloth, 8)])
        assert (who.albedo[own] @ LUMINANCE).mean() == pytest.approx(0.4, rel=0.02)


def test_a_face_is_as_bright_where_its_relief_shows_as_where_it_does_not():
    """Seen from the same place with a long lens, which shows pores, and with so few pixels that
    none does: the sheen of the same part of the forehead.
    """

    def forehead(size):
        scene, view, layer = frame("plain", lens=400.0, size=size, high=1.66)
        lum = (layer.surfaces @ LUMINANCE)[size[1] // 4 : size[1] // 2, size[0] // 3 : size[0] // 2]
        return lum.mean(), view.resolved.max(), scene, layer

    close, shown, scene, layer = forehead((640, 360))
    coarse, none, *_ = forehead((64, 36))
    assert shown > 0 and none == 0
    assert close == pytest.approx(coarse, rel=0.05)
    assert mix(scene, scene.cameras[0], {"k": layer}).max() > 0


def test_an_open_jacket_leaves_the_shirt_in_front_and_covers_the_back():
    jacket = Surface(reflectance=0.05)

    def seen(way):
        figure = {
            "id": "s",
            "name": "s",
            "position": [3, 3],
            "facing": way,
            "cloth": "cotton",
            "garment": {"reflectance": 0.7},
            "jacket": jacket.model_dump(),
        }
        scene = setup(figures=[figure])
        world = build_world(scene)
        x = np.linspace(-0.03, 0.03, 13)
        origins = np.column_stack([3 + x, np.full(13, 4.5), np.full(13, 1.33)])
        hit, *_ = world.rays.first(origins, np.tile([0.0, -1.0, 0.0], (13, 1)))
        return world.mesh.albedo[world.mesh.faces[hit, 0]] @ LUMINANCE

    assert (np.sort(seen(0))[4:] > 0.5).all()
    assert (seen(180) < 0.1).all()
