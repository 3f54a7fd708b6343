"""What furniture covers of walls, floors and other furniture sends no light and takes none."""

import numpy as np
import pytest

from moth.photometry import lamp_of
from moth.place import PIECES, shape_of
from moth.tests.scenes import BLACK_ROOM, setup
from moth.tests.test_properties import Room, fallen
from moth.transport import light_of, sources
from moth.transport.exchange import samples
from moth.world import build_world
from moth.world.covered import parts, share_open
from moth.world.rays import RayScene

ALONG = ("cupboard", "shelf", "sofa", "bed", "counter", "sideboard", "crate", "steps")
"""Pieces that stand with their backs to a wall."""


def against_walls(draw, size, each=1):
    """Furniture with its back to the north and the south wall, beside one another."""
    out = []
    width, depth, height = size
    for wall, turn in (("south", 0), ("north", 180)):
        for k in range(each):
            w, d, h = draw.uniform(
                [0.5, 0.3, 0.4], [0.9 * width / each, 0.3 * depth, 0.8 * height]
            ).tolist()
            y = d / 2 if wall == "south" else depth - d / 2
            out.append(
                {
                    "id": f"{wall}{k}",
                    "name": f"{wall}{k}",
                    "kind": str(draw.choice(ALONG)),
                    "position": [float((k + 0.5) / each * width), float(y), 0],
                    "size": [w, d, h],
                    "turn": turn,
                    "surface": {"reflectance": float(draw.uniform(0.1, 0.8))},
                }
            )
    return out


@pytest.mark.parametrize("seed", range(6))
def test_a_wall_is_as_large_as_what_a_box_before_it_leaves(seed):
    draw = np.random.default_rng([seed, 41])
    w, d, h = draw.uniform([0.3, 0.2, 0.3], [3, 1, 2.5])
    x, turned = draw.uniform(2, 4), bool(draw.integers(2))
    size = [d, w, h] if turned else [w, d, h]
    box = {
        "id": "b",
        "name": "b",
        "kind": "box",
        "position": [float(x), float(d / 2), 0],
        "size": [float(k) for k in size],
        "turn": 90 if turned else 0,
    }
    world = build_world(setup(furniture=[box], units=[]))
    p, mesh = world.patches, world.mesh
    first = p.triangle[p.start[:-1]]
    wall = np.flatnonzero((mesh.body[first] == 0) & (mesh.flat[first][:, 1] > 0.99))
    floor = np.flatnonzero((mesh.body[first] == 0) & (mesh.flat[first][:, 2] > 0.99))
    # A patch at the box's edge is told in 64 parts a triangle.
    edge = 0.3 / 8 * (w + 2 * h)
    assert p.area[wall].sum() == pytest.approx(6 * 3 - w * h, abs=edge)
    assert p.area[floor].sum() == pytest.approx(6 * 7 - w * d, abs=edge)
    places, _ = samples(world, wall, 24)
    inside = (np.abs(places[:, 0] - x) < w / 2 - 0.06) & (places[:, 2] < h - 0.06)
    covered = np.repeat(p.area[wall] < 0.02 * p.area[wall].max(), 24)
    assert not (inside & ~covered).any()
    # And where it is half covered its middle is that of the open half.
    middle = p.middle[wall][p.area[wall] > 0.02 * p.area[wall].max()]
    assert not ((np.abs(middle[:, 0] - x) < w / 2) & (middle[:, 2] < h)).any()


@pytest.mark.parametrize("kind", [k for k in PIECES if k not in ("plant", "tree", "curtain")])
def test_no_surface_of_a_piece_lies_within_it(kind):
    """Boards that touch are one solid, whatever sums their places came by: up to 40 % of the
    surface of steps lay within them.
    """
    draw = np.random.default_rng(7)
    for _ in range(3):
        size = tuple(draw.uniform([0.4, 0.3, 0.4], [1.8, 0.9, 2.0]).tolist())
        corners = shape_of(kind, size).vertices.reshape(-1, 3, 3).astype(float)
        flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        area = np.linalg.norm(flat, axis=1)
        corners, flat = corners[area > 1e-9], flat[area > 1e-9] / area[area > 1e-9, None]
        solid = RayScene(corners.reshape(-1, 3), np.arange(3 * len(corners)).reshape(-1, 3))
        met, _, _ = solid.first(
            (corners.mean(1) + 5e-4 * flat).astype(np.float32), flat.astype(np.float32)
        )
        within = (met >= 0) & ((flat[met] * flat).sum(1) > 0.01)
        assert area[area > 1e-9][within].sum() < 0.006 * area.sum(), size


@pytest.mark.parametrize("seed", range(6))
def test_light_in_a_room_with_furniture_against_its_walls_is_kept(seed):
    """Energy: what a lamp sends is absorbed. Half-covered patches kept 4 to 10 % of it."""
    room = Room(seed)
    room.furniture = []
    room.walls = {side: {"reflectance": float(room.draw.uniform(0.4, 0.85))} for side in BLACK_ROOM}
    more = against_walls(room.draw, room.size, 2)
    lamp = room.lamp()
    lamp["position"] = (room.size * [0.5, 0.5, 0.9]).tolist()
    scene = room.scene([lamp], more=more)
    lumens = lamp_of(scene.units[0]).distribution.lumens
    assert fallen(scene)[1] == pytest.approx(lumens, rel=0.015)


def test_a_shelf_s_back_is_not_lit_as_the_edges_before_it():
    """A steep lamp before it: boards shade the back and not their own edges."""
    shelf = {
        "id": "f",
        "name": "f",
        "kind": "shelf",
        "position": [3, 2, 0],
        "size": [1.2, 0.38, 1.2],
        "turn": 0,
        "surface": {"reflectance": 0.5},
    }
    lamp = {
        "id": "k",
        "name": "k",
        "role": "key",
        "head": "point-60",
        "position": [3, 2.6, 2.9],
        "aim": [3, 2.19, 0.6],
    }
    room = {"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}
    scene = setup(room=room, furniture=[shelf], units=[lamp])
    world = build_world(scene)
    p, mesh = world.patches, world.mesh
    first = p.triangle[p.start[:-1]]
    front = np.flatnonzero((mesh.body[first] == 1) & (mesh.flat[first][:, 1] > 0.99))
    for k in front:
        corners = mesh.vertices[mesh.faces[p.triangle[p.start[k] : p.start[k + 1]]]]
        assert np.ptp(corners[:, :, 1]) < 0.11, "planes as far apart as back and edge"
    lit = light_of(world, sources(scene)[0]).straight[front, 0]
    edge = p.middle[front, 1] > 2.15
    assert lit[edge].mean() > 2 * lit[p.middle[front, 1] < 1.85].mean()


def test_parts_fill_a_triangle():
    u, v = parts().T
    assert len(u) == 64 and (u + v < 1).all()
    near = np.hypot(u[:, None] - u, v[:, None] - v) + np.eye(64)
    assert near.min() > 0.05
    assert share_open(np.array([0, 1, 2**64 - 1], np.uint64)).tolist() == [0, 1 / 64, 1]
