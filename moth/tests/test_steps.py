"""Boards one before another that face the same way: each is looked at and lit where it is."""

import numpy as np
import pytest

from moth.tests.scenes import setup
from moth.transport.ambient import STEPPED, ambient_of
from moth.transport.view import view_of
from moth.world import build_world

KINDS = ("drawers", "desk", "shelf", "steps", "cupboard", "door")


def looked_at(seed):
    """A drawn piece that the camera looks at from before it, at some angle; its world and view."""
    draw = np.random.default_rng([seed, 23])
    piece = {
        "id": "f",
        "name": "F",
        "kind": str(draw.choice(KINDS)),
        "position": [float(draw.uniform(2.6, 3.4)), 2.2, 0],
        "size": draw.uniform([0.8, 0.4, 0.8], [1.6, 0.6, 1.6]).tolist(),
        "turn": float(draw.uniform(-40, 40)),
    }
    camera = {
        "id": "a",
        "name": "A",
        "position": [3, 5.5, 1.4],
        "aim": [piece["position"][0], 2.4, 0.6],
    }
    scene = setup(
        furniture=[piece],
        cameras=[camera],
        figures=[{"id": "s", "name": "S", "position": [0.6, 6.5]}],
    )
    world = build_world(scene)
    return world, view_of(world, scene, scene.cameras[0], (320, 180))


@pytest.mark.parametrize("seed", range(8))
def test_no_pixel_looks_at_a_place_in_mid_air(seed):
    """The mean of four places is on the surface they are of, or the pixel has four points."""
    world, view = looked_at(seed)
    mine = view.body == 1
    assert mine.sum() > 2000
    way = view.points[mine] - view.origin
    far = np.linalg.norm(way, axis=1)
    way /= far[:, None]
    _, _, met = world.rays.first(
        np.tile(view.origin, (len(way), 1)).astype(np.float32), way.astype(np.float32)
    )
    off = np.abs((met - far) * (way * view.normals[mine]).sum(1))
    # At a silhouette the ray through the mean may pass what its four places met.
    assert (off > 0.006).mean() < 2e-3


@pytest.mark.parametrize("seed", range(8))
def test_a_flat_place_gathers_its_light_in_its_own_plane(seed):
    world, view = looked_at(seed)
    ambient = ambient_of(world, view)
    mine = np.flatnonzero(view.body == 1)
    other = ambient.at[ambient.neighbours[mine]]
    apart = view.points[other] - view.points[mine, None]
    off = np.abs((apart * view.normals[mine, None]).sum(2))
    same = (view.normals[other] * view.normals[mine, None]).sum(2) > 0.9999
    near = np.linalg.norm(apart, axis=2) < 0.1
    used = ambient.shares[mine] > 0
    # Within a decimetre, what faces the same way and is used lies in the plane.
    told = used & same & near
    assert told.sum() > 2000
    # A few points of edges are one for all alike in two by two pixels.
    assert (off[told] > 2.1 * STEPPED).mean() < 1e-3
