"""Shadows: what stands in the way takes away just what it hides."""

import numpy as np
import pytest

from moth.camera import frame_exposure
from moth.engine.cancelling import until
from moth.errors import Cancelled
from moth.metering import read_setup
from moth.tests.scenes import BLACK_ROOM, data, setup, ways
from moth.transport import build_emitter, receive, render_layer, sources, view_of
from moth.transport.glow import matte
from moth.transport.kernels import see_face, unshadowed
from moth.transport.nodes import picture_nodes
from moth.transport.operands import Obstacles, Seen, Spots
from moth.transport.visibility import visibility
from moth.world import build_world

WALL = {"reflectance": 0.5}
NORTH = np.array([[0.0, 1.0, 0.0]])


def stage(furniture=(), unit=None, camera=None, **room):
    """A camera looking south at a bare wall; the figure stands behind the camera."""
    return setup(
        room={"width": 6, "depth": 7, "height": 3, "south": WALL, **room},
        figures=[{"id": "s", "name": "s", "position": [0.6, 6.4], "facing": 180}],
        cameras=[
            camera
            or {
                "id": "a",
                "name": "A",
                "position": [3, 4, 1.5],
                "aim": [3, 0, 1.5],
                "focal_length": 35,
            }
        ],
        furniture=list(furniture),
        units=[
            unit
            or {
                "id": "k",
                "name": "k",
                "head": "panel-2x1",
                "position": [3, 3, 1.5],
                "aim": [3, 0, 1.5],
            }
        ],
    )


def test_a_screen_over_half_the_source_halves_the_light():
    # The screen's edge runs through the line from the point to the middle of the source.
    screen = {"id": "b", "name": "board", "position": [2.0, 1.5, 0.01], "size": [2.0, 0.01, 2.98]}
    free, half = stage(), stage([screen])
    point = np.array([[3.0, 0.005, 1.5]])
    lamp = build_emitter(free.units[0])
    full = receive(build_world(free), lamp, point, NORTH, [False])[0]
    hidden = receive(build_world(half), lamp, point, NORTH, [False])[0]
    assert full > 100
    assert hidden / full == pytest.approx(0.5, abs=0.005)


def test_pixels_of_a_matte_wall_agree_with_the_meter():
    scene = stage()
    world, camera = build_world(scene), scene.cameras[0]
    view = view_of(world, scene, camera, (96, 54))
    layer = render_layer(world, view, sources(scene)[0])
    free = np.setdiff1d(np.arange(96 * 54), layer.seen)
    wall = np.array([p for p in free if abs(view.points[view.pixel == p][0, 1]) < 1e-3])[::5]
    assert len(wall) > 40
    points = np.array([view.points[view.pixel == p].mean(0) for p in wall]) + [0, 1e-3, 0]
    lux = np.array([sum(ways(scene, p, (0, 1, 0)).values()) for p in points])
    got, wanted = layer.surfaces.reshape(-1, 3)[wall, 1], lux * 0.5 / np.pi
    # Light from the room comes through gathering points that stand for a few pixels: a percent of
    # grain.
    np.testing.assert_allclose(got, wanted, rtol=0.03)
    assert np.mean(got / wanted) == pytest.approx(1, abs=0.005)


def test_penumbra_is_source_size_times_the_ratio_of_distances():
    # Source 0.61 m wide at 3 m, edge at 1.5 m from the wall: the soft edge is 0.61 m wide.
    screen = {"id": "b", "name": "board", "position": [1.5, 1.5, 0.01], "size": [3.0, 0.002, 2.98]}
    scene = stage([screen])
    world, lamp = build_world(scene), build_emitter(scene.units[0])
    x = np.linspace(2.2, 3.8, 321)
    points = np.stack([x, np.full_like(x, 0.005), np.full_like(x, 1.5)], 1)
    seen = receive(world, lamp, points, np.repeat(NORTH, len(x), 0), [False] * len(x))
    open_wall = receive(None, lamp, points, np.repeat(NORTH, len(x), 0), [False] * len(x))
    part = seen / open_wall
    width = x[np.argmax(part > 0.99)] - x[np.argmax(part > 0.01)]
    assert width == pytest.approx(0.61, rel=0.06)


def test_samples_go_where_the_visibility_varies():
    screen = {"id": "b", "name": "board", "position": [2.0, 1.5, 0.01], "size": [2.0, 0.01, 2.98]}
    rays, parts = [], []
    for furniture in ([], [screen]):
        scene = stage(furniture)
        view = view_of(build_world(scene), scene, scene.cameras[0], (96, 54))
        part, count = visibility(
            build_world(scene),
            view,
            build_emitter(scene.units[0]),
            wall := np.flatnonzero(view.points[:, 1] < 0.01),
        )
        rays.append(count / len(wall)), parts.append(part)
    assert rays[0] == 1
    assert 2 < rays[1] < 20
    assert ((parts[1] > 0.05) & (parts[1] < 0.95)).any()


@pytest.mark.parametrize(
    "unit, most",
    [
        # A wide lamp close by: soft shade over half the face, the nose's edge sharp within it. Then
        # a small one: edges only.
        (
            {
                "id": "k",
                "name": "k",
                "head": "panel-2x1",
                "position": [3.8, 4.1, 1.9],
                "aim": [3, 3, 1.2],
            },
            0.02,
        ),
        (
            {
                "id": "k",
                "name": "k",
                "head": "fresnel-200",
                "position": [4.2, 4.6, 2.2],
                "aim": [3, 3, 1.2],
            },
            0.02,
        ),
    ],
    ids=["soft", "hard"],
)
def test_shade_on_a_face_is_that_of_very_many_rays(unit, most):
    """Pixel by pixel, over all of each pixel; by its middle alone, edges would err by three times
    as much.
    """
    scene = setup(units=[unit])
    world = build_world(scene)
    view, emitter = (
        view_of(world, scene, scene.cameras[0], (320, 180)),
        build_emitter(scene.units[0]),
    )
    facing = np.flatnonzero(((emitter.centre - view.points) * view.normals).sum(1) > 0)
    part, rays = visibility(world, view, emitter, facing)
    seen = Seen(np.zeros(len(view.points)), np.zeros(len(view.points)))
    obstacles = Obstacles(world.solid.triangles.together, world.cloths, world.extinction)
    spots = Spots(view.points, view.normals, view.pixel, view.pixels)
    see_face(obstacles, spots, facing, emitter.face, (0, 400), seen)
    lux = unshadowed_lux(view, emitter)
    wanted = np.divide(seen.lit, seen.total, out=np.zeros(len(lux)), where=seen.total > 0)
    error = np.bincount(view.pixel, view.weight * lux * (part - wanted), 320 * 180)
    assert np.sqrt((error**2).mean()) / np.average(lux * wanted, weights=view.weight) < most
    assert rays / len(facing) < 8


def unshadowed_lux(view, emitter):
    """Level at each point if nothing stood in the way, by many points of the lamp."""
    plain, sheen = np.zeros(len(view.points)), np.zeros((len(view.points), 3))
    shading = matte(view.points, view.normals)
    unshadowed(shading, emitter.face, picture_nodes(emitter), plain, sheen)
    return plain


def test_a_back_light_leaves_the_lens_facing_dome_alone():
    document = data()
    document["units"] = [
        {
            "id": "rim",
            "name": "Rim",
            "role": "edge",
            "head": "fresnel-200",
            "position": [3.0, 0.8, 2.2],
            "aim": [3, 3, 1.3],
        }
    ]
    dark = {"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}
    reading = {m.id: m for m in read_setup(setup(units=document["units"], room=dark)).marks}
    assert (
        reading["chin"].lux < 0.5
    )  # what the black room's furnishing, the figure itself, sends on
    assert read_setup(setup(units=document["units"])).units[0].face_lux > 100


def test_a_metered_grey_card_renders_as_middle_grey():
    # A wall of 18 %, the lens stopped to what the disc on it asks for.
    unit = {
        "id": "k",
        "name": "k",
        "head": "point-150",
        "position": [3, 3.2, 2.6],
        "aim": [3, 0, 1.5],
    }
    scene = stage(unit=unit, south={"reflectance": 0.18})
    world = build_world(scene)
    lux = sum(ways(scene, (3.0, 0.002, 1.5), (0, 1, 0)).values())
    stop = float(np.sqrt(lux * 0.02 * 800 / 250))
    camera = scene.cameras[0].model_copy(update={"t_stop": stop})
    view = view_of(world, scene, camera, (97, 55))
    layer = render_layer(world, view, sources(scene)[0])
    assert layer.surfaces[27, 48, 1] * frame_exposure(camera) == pytest.approx(0.18, rel=0.01)


def test_a_unit_in_the_frame_is_seen_and_hides_what_is_behind():
    scene = stage(
        unit={
            "id": "k",
            "name": "k",
            "head": "panel-small",
            "position": [3, 1.2, 1.5],
            "aim": [3, 4, 1.5],
        }
    )
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], (96, 54))
    layer = render_layer(world, view, sources(scene)[0])
    # Seen face on, a Lambertian-like face shows its peak over its area.
    assert layer.glow.max() == pytest.approx(1500 / 0.09, rel=0.02)
    # The face, and the stand below it, which is about a pixel wide.
    rows = layer.seen // 96
    assert layer.cover[rows == 27].max() == 1
    assert 0.5 <= layer.cover[rows == 40].sum() <= 1.5


def test_eyes_mirror_the_source():
    scene = setup(
        cameras=[
            {
                "id": "a",
                "name": "A",
                "position": [3, 4.2, 1.25],
                "aim": [3, 3, 1.22],
                "focal_length": 100,
            }
        ]
    )
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], (320, 180))
    eyes = np.unique(view.pixel[view.finish == 3])
    assert len(eyes) > 30
    layer = render_layer(world, view, sources(scene)[0])
    lit = layer.surfaces.reshape(-1, 3)[eyes]
    # The catchlight stands far above the iris and the white round it.
    assert lit.max() > 2.5 * np.median(lit.max(1))


def test_work_stops_when_nobody_waits():
    scene = setup()
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], (96, 54))
    with pytest.raises(Cancelled), until(lambda: True):
        render_layer(world, view, sources(scene)[0])
