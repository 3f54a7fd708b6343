"""Sheen of what only returns the light of others: angle in is angle out."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.materials import FINISHES, MATERIALS
from moth.metering.marks import Place
from moth.photometry import from_function, write_ies
from moth.tests.scenes import BLACK, BLACK_ROOM, setup
from moth.transport import light_of, meter_light, project, render_layer, sources, view_of
from moth.world import build_world

GLOSS = next(f for f in FINISHES if f.name == "gloss")
TABLE = {
    "id": "t",
    "name": "Table",
    "position": [3, 3, 0],
    "size": [2.2, 1.6, 0.75],
    "surface": BLACK,
    "gloss": 1,
}
SIZE = (320, 180)


def ggx(normal, view, light):
    """GGX with height-correlated Smith and Schlick's Fresnel, in numpy; light is (n, 3) [1/sr]."""
    half = view + light
    half /= np.linalg.norm(half, axis=1, keepdims=True)
    nh, nl, nv = half @ normal, light @ normal, float(view @ normal)
    a2 = GLOSS.roughness**2
    d = a2 / (np.pi * (nh**2 * (a2 - 1) + 1) ** 2)
    g = 0.5 / (nl * np.sqrt(nv**2 * (1 - a2) + a2) + nv * np.sqrt(nl**2 * (1 - a2) + a2))
    f0 = GLOSS.normal_reflectance
    return d * g * (f0 + (1 - f0) * (1 - half @ view) ** 5)


def grip(name, position, aim, side):
    return {
        "id": name,
        "name": name,
        "kind": "board",
        "material": "foam-white",
        "position": list(position),
        "aim": list(aim),
        "size": [side, side],
    }


@pytest.mark.parametrize("height, side", [(1.3, 0.9), (1.6, 1.2), (1.25, 0.6)])
def test_an_unlit_board_shows_in_a_polished_table_as_its_light_says(height, side):
    """The lamp lights a board across the room; the one before the table has only that one's
    light.
    """
    lit = grip("lit", (0.7, 3.4, 1.7), (3, 1.6, 1.4), 1.0)
    dim = grip("dim", (3, 1.2, height), (3, 6, height), side)
    spot = write_ies(from_function(lambda c, g: np.where(g < 9, 60_000.0, 0.0)), (0, 0), "spot")
    lamp = {
        "id": "k",
        "name": "k",
        "head": "point-600",
        "ies": spot,
        "position": [2.6, 5.6, 2.4],
        "aim": lit["position"],
    }
    camera = {"id": "a", "name": "A", "position": [3, 5.2, 1.7], "aim": [3, 2.9, 0.75]}
    scene, without = (
        setup(
            room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
            figures=[{"id": "s", "name": "s", "position": [5.5, 6.5]}],
            cameras=[camera],
            units=[lamp],
            grip=boards,
            furniture=[TABLE],
        )
        for boards in ([lit, dim], [lit])
    )
    world = build_world(scene)
    source = sources(scene)[0]
    # How bright the dim board is, by a disc laid on parts of it.
    steps = (np.arange(6) + 0.5) / 6 - 0.5
    parts = np.array([[3 + s * side, 1.2, height + t * side] for s in steps for t in steps])
    fallen = [
        sum(
            meter_light(
                world,
                light_of(world, source),
                Place("m", "m", tuple(p + [0, 0.004, 0]), (0, 1.0, 0), "disc"),
            ).values()
        )
        @ LUMINANCE
        for p in parts
    ]
    board = MATERIALS["foam-white"]
    bright = np.array(fallen) * board.reflectance / np.pi
    assert bright.max() > 0.5
    # Where the table mirrors the board's middle to the lens, and what it sends there.
    lens = np.array(camera["position"])
    t = (lens[2] - 0.75) / (lens[2] - 0.75 + height - 0.75)
    place = np.array([3, lens[1] + t * (1.2 - lens[1]), 0.75])
    up, view = np.array([0, 0, 1.0]), (lens - place) / np.linalg.norm(lens - place)
    to = parts - place
    away = np.linalg.norm(to, axis=1)
    to /= away[:, None]
    solid = (side / 6) ** 2 * -to[:, 1] / away**2
    expected = float((ggx(up, view, to) * bright * (to @ up) * solid).sum())
    x, y = project(scene.cameras[0], [place])[0]
    column, row = int(x * SIZE[0]), int(y * SIZE[1])
    # The lit board itself shows in the table too, far off its mirrored place: a twentieth.
    seen, other = (_shown(s)[row - 2 : row + 3, column - 2 : column + 3] for s in (scene, without))
    assert (seen - other).mean((0, 1)) @ LUMINANCE == pytest.approx(expected, rel=0.04)


def _shown(scene):
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], SIZE)
    return render_layer(world, view, sources(scene)[0]).surfaces
