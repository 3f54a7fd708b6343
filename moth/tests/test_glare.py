"""Spectacles mirror what stands where angle in is angle out, and nothing else."""

import numpy as np
import pytest

from moth.tests.scenes import BLACK_ROOM, setup
from moth.transport import render_layer, sources, view_of
from moth.transport.layers import GLASS_REFLECTANCE
from moth.world import build_world


def stage(spectacles, panel):
    return setup(
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
        figures=[
            {
                "id": "s",
                "name": "s",
                "pose": "seated",
                "position": [3, 3],
                "facing": 0,
                "spectacles": spectacles,
            }
        ],
        cameras=[
            {
                "id": "a",
                "name": "A",
                "position": [3, 5.0, 1.25],
                "aim": [3, 3.1, 1.23],
                "focal_length": 85,
            }
        ],
        units=[
            {"id": "k", "name": "k", "head": "panel-4x2", "position": panel, "aim": [3, 3.1, 1.2]}
        ],
    )


def glare(panel):
    """Brightest thing in the glasses against the lit face, and how much of the frame changed
    elsewhere.
    """
    frames = []
    for spectacles in (True, False):
        scene = stage(spectacles, panel)
        world = build_world(scene)
        view = view_of(world, scene, scene.cameras[0], (320, 180))
        frames.append((render_layer(world, view, sources(scene)[0]).surfaces[..., 1].ravel(), view))
    pixels = frames[0][1].glass[0]
    assert len(pixels) > 100 and len(frames[1][1].glass[0]) == 0
    return frames[0][0][pixels].max(), frames[0][1]


def test_a_lamp_by_the_lens_glares_and_one_aside_does_not():
    # Tilted ten degrees down, the glasses throw a lens-high view to the floor side: a lamp low by
    # the lens shows, one far aside does not.
    low, _ = glare([3.0, 5.2, 0.75])
    aside, _ = glare([5.6, 3.4, 1.4])
    peak = 15_000 / (1.22 * 0.61)
    assert low > 0.5 * GLASS_REFLECTANCE * peak
    assert aside < 0.3 * low


def test_glasses_sit_before_the_eyes():
    scene = stage(True, [3.0, 5.2, 0.75])
    _, view = glare([3.0, 5.2, 0.75])
    world = build_world(scene)
    assert world.lenses.shape == (2, 8)
    pixel, places, normals, toward = view.glass
    np.testing.assert_allclose(np.linalg.norm(normals, axis=1), 1, atol=1e-9)
    assert ((normals * toward).sum(1) > 0.5).all()
    apart = np.linalg.norm(world.lenses[0, :3] - world.lenses[1, :3])
    assert 0.05 < apart < 0.08 and places[:, 1].min() == pytest.approx(world.lenses[0, 1], abs=0.02)
