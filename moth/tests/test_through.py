"""What sheets in a frame show of the room in lobes, against an integral over all ways."""

from types import SimpleNamespace

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.materials import MATERIALS, lobe_concentration
from moth.tests.scenes import setup
from moth.transport import view_of
from moth.transport.exchange import samples
from moth.transport.through import lobes_of_the_room
from moth.world import build_world

ROOM = np.array([6.0, 7.0, 3.0])
CLOTHS = ["frost-light", "frost-heavy", "opal", "grid-quarter", "silk"]
BOARDS = ["silver-soft", "gold", "reflector-40"]


def drawn(seed, material):
    """A camera that looks at a sheet, from before it."""
    rng = np.random.default_rng(seed)
    middle = np.array([rng.uniform(2.2, 3.8), rng.uniform(2.5, 4.5), rng.uniform(1.1, 1.9)])
    turn, lean = rng.uniform(0, 2 * np.pi), rng.uniform(-0.5, 0.5)
    facing = np.array([np.cos(turn) * np.cos(lean), np.sin(turn) * np.cos(lean), np.sin(lean)])
    # From up to 60 degrees off its axis.
    way = facing + rng.uniform(-0.8, 0.8, 3)
    eye = np.clip(middle + 1.2 * way / np.linalg.norm(way), 0.2, ROOM - 0.2)
    board = material in BOARDS
    scene = setup(
        room=dict(zip(("width", "depth", "height"), ROOM, strict=True)),
        figures=[{"id": "s", "name": "s", "position": [0.4, 0.4]}],
        cameras=[{"id": "a", "name": "A", "position": eye, "aim": middle, "focal_length": 35}],
        units=[],
        furniture=[],
        grip=[
            {
                "id": "c",
                "name": "c",
                "kind": "board" if board else "frame",
                "material": material,
                "position": middle,
                "aim": middle + facing,
                "size": [0.8, 0.8],
            }
        ],
    )
    return scene, middle, facing, eye


def wall_along(start, ways):
    """Which wall of a box each way meets: 0 to 5, low and high of x, y, z."""
    with np.errstate(divide="ignore"):
        far = np.where(ways > 0, (ROOM - start) / ways, -start / ways)
    axis = far.argmin(1)
    return 2 * axis + (ways[np.arange(len(ways)), axis] > 0)


def by_hand(material, middle, facing, eye, paint):
    """Radiosity toward the eye, by an even grid over the whole sphere; in lobes only."""
    n = 200_000
    z = 1 - (2 * np.arange(n) + 1) / n
    turn = np.arange(n) * np.pi * (3 - 5**0.5)
    ways = np.column_stack([np.sqrt(1 - z * z) * k for k in (np.cos(turn), np.sin(turn))] + [z])
    toward = (eye - middle) / np.linalg.norm(eye - middle)
    normal = facing * np.sign(facing @ toward)
    m, total = MATERIALS[material], np.zeros(3)
    for share, width, axis, side in (
        (m.forward, m.forward_width, -toward, -normal),
        (m.lobe, m.lobe_width, 2 * (toward @ normal) * normal - toward, normal),
    ):
        if share:
            kappa = lobe_concentration(width)
            some = ways[(ways @ side > 0) & (ways @ axis > 0)]
            lobe = kappa / (2 * np.pi) * np.exp(kappa * (some @ axis - 1))
            part = lobe * (some @ side) / (toward @ normal) * 4 * np.pi / n
            total += share * (part[:, None] * paint[wall_along(middle, some)]).sum(0)
    return total * m.hue


@pytest.mark.parametrize("material", CLOTHS + BOARDS)
@pytest.mark.parametrize("seed", range(2))
def test_a_sheet_shows_the_walls_that_its_lobes_meet(seed, material):
    scene, middle, facing, eye = drawn(seed, material)
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], (192, 108))
    p = world.patches
    # Walls of six paints, each as bright all over, and no other thing that sends.
    paint = np.random.default_rng(seed + 50).uniform(0, 1, (6, 3))
    at, _ = samples(world, np.arange(len(p)), 1)
    off = np.stack([np.abs(at), np.abs(at - ROOM)], 2).reshape(-1, 6)
    on = off.min(1) < 1e-3
    radiosity = np.where(on[:, None], paint[off.argmin(1)], 0.0)
    light = SimpleNamespace(radiosity=radiosity, lobed=radiosity)
    found = lobes_of_the_room(world, view.origin, view.patch[view.patch >= 0], light)
    seen = np.unique(view.patch[p.sheet[view.patch] >= 0])
    cell = seen[np.linalg.norm(at[seen] - middle, axis=1).argmin()]
    places, _ = samples(world, [cell], 8)
    asked = np.mean([by_hand(material, k, facing, eye, paint) for k in places], 0)
    assert found[cell] @ LUMINANCE == pytest.approx(asked @ LUMINANCE, rel=0.06)


def test_what_has_no_lobes_shows_none():
    scene, *_ = drawn(1, "muslin-bleached")
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], (192, 108))
    even = np.ones((len(world.patches), 3))
    light = SimpleNamespace(radiosity=even, lobed=even)
    assert not lobes_of_the_room(world, view.origin, view.patch[view.patch >= 0], light).any()
