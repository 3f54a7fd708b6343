"""Haze against the integral it stands for."""

import numpy as np
import pytest

from moth.metering.marks import Place
from moth.photometry import from_function, write_ies
from moth.tests.scenes import BLACK_ROOM, setup
from moth.transport import light_of, meter_light, render_layer, sources, view_of
from moth.transport.haze import airlight
from moth.world import build_world

SIGMA = 0.04


def stage(**more):
    """A bare lamp over a black stage, looked past by a camera; the figure stands aside."""
    ies = write_ies(from_function(lambda c, g: 0 * g + 900.0, reach=180), (0, 0), "ball")
    lamp = {
        "id": "k",
        "name": "k",
        "head": "bulb",
        "ies": ies,
        "position": [3, 3.5, 2.0],
        "aim": [3, 3.5, 0],
    }
    return setup(
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
        figures=[{"id": "s", "name": "s", "position": [0.4, 6.6]}],
        units=[lamp],
        cameras=[
            {
                "id": "a",
                "name": "A",
                "position": [3, 6.8, 1.4],
                "aim": [3, 0, 1.4],
                "focal_length": 24,
            }
        ],
        **more,
    )


def test_the_middle_of_the_picture_is_the_integral_along_the_line_of_sight():
    scene = stage()
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], (192, 108))
    got = (
        airlight(world, view, light_of(world, sources(scene)[0]), SIGMA)
        .reshape(108, 192)[50:58, 92:100]
        .mean()
    )
    t = np.linspace(0, 6.8, 4001)
    points = np.array([3, 6.8, 1.4]) + t[:, None] * np.array([0, -1.0, 0])
    level = 900 / ((points - [3, 3.5, 2.0]) ** 2).sum(1)
    expected = SIGMA / (4 * np.pi) * np.trapezoid(level * np.exp(-SIGMA * t), t)
    assert got == pytest.approx(expected, rel=0.06)


def test_haze_lifts_blacks_and_dims_what_is_far():
    scene = stage(
        furniture=[
            {
                "id": "b",
                "name": "card",
                "position": [3, 0.5, 1.0],
                "size": [1, 0.02, 1],
                "surface": {"reflectance": 0.8},
            }
        ]
    )
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], (192, 108))
    source = sources(scene)[0]
    clear = render_layer(world, view, source).surfaces[..., 1]
    misty = scene.model_copy(update={"haze": SIGMA})
    in_mist = build_world(misty)
    hazy = render_layer(in_mist, view_of(in_mist, misty, misty.cameras[0], (192, 108)), source)
    hazy = hazy.surfaces[..., 1]
    air = airlight(in_mist, view, light_of(in_mist, source), SIGMA).reshape(108, 192)
    assert hazy.min() > 0 and clear.min() == 0
    card = clear > 0.5 * clear.max()
    lamp = np.linalg.norm(view.points - [3, 3.5, 2.0], axis=1)
    way = np.bincount(view.pixel, view.weight * lamp, len(view.depth)) + view.depth
    np.testing.assert_allclose(
        (hazy - air)[card],
        clear[card] * np.exp(-SIGMA * way.reshape(108, 192)[card]),
        rtol=0.015,
        atol=1e-3,
    )


def test_haze_takes_from_the_meter_what_it_takes_from_the_ray():
    """Beer and Lambert: 0.1 a metre over five metres leaves 61 parts of a hundred."""
    mark = Place("m", "m", (3.0, 3.5, 0.5), (0.0, 0.0, 1.0), "disc")
    levels = []
    for haze in (0.0, 0.1):
        scene = stage(haze=haze)
        world = build_world(scene)
        levels.append(sum(meter_light(world, light_of(world, sources(scene)[0]), mark).values())[1])
    assert levels[1] / levels[0] == pytest.approx(np.exp(-0.1 * 1.5), rel=1e-3)


def test_a_body_in_the_beam_throws_a_shadow_through_the_air():
    board = {"id": "b", "name": "board", "position": [3, 3.0, 1.2], "size": [1.6, 0.02, 1.6]}
    open_, shaded = stage(), stage(furniture=[board])
    sums = []
    for scene in (open_, shaded):
        world = build_world(scene)
        view = view_of(world, scene, scene.cameras[0], (192, 108))
        sums.append(
            airlight(world, view, light_of(world, sources(scene)[0]), SIGMA)
            .reshape(108, 192)[40:70, 20:60]
            .mean()
        )
    assert sums[1] < sums[0]
