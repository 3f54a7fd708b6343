"""A camera that is rolled sees the same place, turned about the middle of the picture."""

import numpy as np
import pytest

from moth.camera import mix
from moth.document import load
from moth.inspection.pointing import pointed_at
from moth.tests.scenes import data
from moth.transport import half_spread, project, render_layer, sources, view_of
from moth.world import build_world, world_key

CAMERA = data()["cameras"][0]


def rolled(by, **more):
    return load(data(cameras=[{**CAMERA, "roll": by, **more}]))


def frame_of(scene, size):
    world, camera = build_world(scene), scene.cameras[0]
    view = view_of(world, scene, camera, size)
    layers = {s.id: render_layer(world, view, s) for s in sources(scene)}
    return mix(scene, camera, layers).astype(float)


def test_half_a_turn_stands_the_picture_on_its_head():
    plain, turned = (frame_of(rolled(by), (160, 90)) for by in (0, 180))
    assert np.abs(plain - turned).mean() > 5
    assert np.abs(plain - turned[::-1, ::-1]).mean() < 1.0
    # A roll is no move: the place is built, and lit, once.
    assert world_key(rolled(0)) == world_key(rolled(180))


@pytest.mark.parametrize("seed", range(5))
def test_a_place_goes_round_the_middle_by_the_roll(seed):
    draw = np.random.default_rng(seed)
    by = float(draw.uniform(-60, 60))
    flat, turned = rolled(0), rolled(by)
    lens, aim = (np.array(CAMERA[k], float) for k in ("position", "aim"))
    place = aim + draw.uniform(-0.12, 0.12, 3) * np.linalg.norm(aim - lens) / 4
    (a,), (b,) = (project(s.cameras[0], [place]) for s in (flat, turned))
    wide, high = half_spread(flat.cameras[0])
    one, other = (np.array([(2 * p[0] - 1) * wide, (1 - 2 * p[1]) * high]) for p in (a, b))
    # The right hand is raised: what it sees goes round clockwise.
    c, s = np.cos(np.radians(by)), np.sin(np.radians(by))
    assert other == pytest.approx([c * one[0] + s * one[1], c * one[1] - s * one[0]], abs=1e-9)
    # And whoever points there in the frame points at what is there.
    found = pointed_at(turned, *b)
    to = (np.array(found.position) - lens) / np.linalg.norm(np.array(found.position) - lens)
    assert to @ (place - lens) / np.linalg.norm(place - lens) > 1 - 3e-4
