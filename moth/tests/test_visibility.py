"""What points of a picture see of a lamp: cloth in the way, thin things, surfaces side by side,
work given up.
"""

import numpy as np
import pytest
from shapely import MultiPoint, area, intersection, polygons

from moth.engine.cancelling import until
from moth.engine.cores import shared_out, tiles
from moth.errors import Cancelled
from moth.tests.scenes import setup
from moth.transport import build_emitter, view_of
from moth.transport.arrival import arrive
from moth.transport.kernels import fold, rays_to, see_face, shadow_rays
from moth.transport.operands import Obstacles, Seen, Spots, room_for
from moth.transport.visibility import visibility
from moth.world import build_world

WALL_CAMERA = {
    "id": "a",
    "name": "A",
    "position": [3, 5, 1.5],
    "aim": [3, 0, 1.5],
    "focal_length": 28,
}
ASIDE = [{"id": "s", "name": "s", "position": [0.6, 6.4], "facing": 180}]
PANEL = {"id": "k", "name": "k", "head": "panel-small", "position": [3, 3, 1.5], "aim": [3, 0, 1.5]}


def wall_scene(size=(320, 180), unit=PANEL, camera=WALL_CAMERA, **more):
    """World, view and lamp of a wall looked at straight on, and the view's points on it."""
    scene = setup(cameras=[camera], figures=ASIDE, units=[unit], **more)
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], size)
    return world, view, build_emitter(scene.units[0]), np.flatnonzero(view.points[:, 1] < 0.01)


def places_of(world, view):
    """What stands in the way, and a picture's points."""
    return (
        Obstacles(world.solid.triangles.together, world.cloths, world.extinction),
        Spots(view.points, view.normals, view.pixel, view.pixels),
    )


def nothing_yet(view):
    return Seen(np.zeros(len(view.points)), np.zeros(len(view.points)))


def very_many(world, view, emitter, chosen, count=300):
    """Part of the lamp that points see, by so many rays each."""
    seen = nothing_yet(view)
    see_face(*places_of(world, view), chosen, emitter.face, (0, count), seen)
    return seen.lit[chosen] / seen.total[chosen]


@pytest.mark.parametrize("material", ["net-single", "grid-full", "duvetyne"])
def test_rays_at_once_are_rays_by_arrays(material):
    """The fused loop against its parts, past a net, a cloth and black: the same rays, the same
    light.
    """
    world, view, emitter, wall = wall_scene(
        (96, 54),
        grip=[
            {
                "id": "g",
                "name": "g",
                "kind": "frame",
                "material": material,
                "position": [3.2, 1.5, 1.5],
                "aim": [3.2, 0, 1.5],
                "size": [1.2, 1.2],
            }
        ],
    )
    fused, summed = nothing_yet(view), nothing_yet(view)
    obstacles, spots = places_of(world, view)
    see_face(obstacles, spots, wall, emitter.face, (2, 5), fused)
    rays = room_for(len(wall) * 5)
    shadow_rays(spots, wall, emitter.face, 2, 5, rays)
    arrived = arrive(world, emitter, rays.origins, rays.directions, rays.distances)
    fold(wall, 5, arrived, rays.weights, summed)
    np.testing.assert_allclose(fused.total, summed.total, rtol=1e-6)
    # A ray by the very edge of a cloth may pass for one and not for the other.
    assert np.isclose(fused.lit, summed.lit, rtol=1e-4).mean() > 0.995
    past = fused.lit[wall] / fused.total[wall]
    assert past.max() == pytest.approx(1) and past.min() == pytest.approx(
        {"net-single": 0.71}.get(material, 0), abs=0.01
    )


@pytest.mark.parametrize("width", [0.01, 0.03])
def test_the_shade_of_a_thin_pole_is_found_by_first_rays(width):
    """One ray a point must not miss what is narrower than the lamp: its shade, summed over the
    wall, is what many rays say.
    """
    pole = {
        "id": "p",
        "name": "pole",
        "kind": "box",
        "position": [2.6, 0.6, 0],
        "size": [width, width, 2.9],
    }
    world, view, emitter, wall = wall_scene(furniture=[pole])
    part, rays = visibility(world, view, emitter, wall)
    wanted = very_many(world, view, emitter, wall)
    weight = view.weight[wall]
    assert ((1 - wanted) * weight).sum() > 50
    assert ((1 - part[wall]) * weight).sum() == pytest.approx(
        ((1 - wanted) * weight).sum(), rel=0.05
    )
    assert rays / len(wall) < 6


def test_shade_behind_slats_is_as_deep_and_as_striped_as_many_rays_say():
    blind = {
        "id": "b",
        "name": "b",
        "kind": "blinds",
        "material": "paint-white",
        "position": [3, 0.7, 1.5],
        "aim": [3, 0, 1.5],
        "size": [1.6, 1.6],
    }
    world, view, emitter, wall = wall_scene(grip=[blind])
    part, _ = visibility(world, view, emitter, wall)
    wanted = very_many(world, view, emitter, wall)
    shaded = wanted < 0.98
    assert shaded.mean() > 0.1
    assert part[wall].mean() == pytest.approx(wanted.mean(), abs=0.004)
    assert np.sqrt(((part[wall] - wanted) ** 2).mean()) < 0.03
    # Evening out must not flatten the stripes.
    assert part[wall][shaded].std() == pytest.approx(wanted[shaded].std(), rel=0.05)


def test_a_lamp_seen_by_a_twentieth_leaves_no_dark_specks():
    """Through a slit most first rays find nothing, over many pixels on end: the light is looked for
    all the same.
    """
    boards = [
        {
            "id": f"b{k}",
            "name": "b",
            "kind": "box",
            "position": [3 + k * 1.006, 1.5, 0],
            "size": [2.0, 0.01, 2.9],
        }
        for k in (-1, 1)
    ]
    world, view, emitter, wall = wall_scene(
        (640, 360),
        furniture=boards,
        camera={**WALL_CAMERA, "position": [3, 1.4, 1.5], "focal_length": 18},
    )
    part, _ = visibility(world, view, emitter, wall)
    wanted = very_many(world, view, emitter, wall)
    dim = (wanted > 0.01) & (wanted < 0.1)
    assert dim.sum() > 20_000
    assert (part[wall][dim] == 0).mean() < 0.01
    assert part[wall][dim].mean() == pytest.approx(wanted[dim].mean(), rel=0.03)


def test_neighbours_on_another_surface_lend_no_samples():
    """A board half a metre before the wall, its face in the light and the wall beside it in its
    shade: the edge between them stays an edge.
    """
    board = {
        "id": "b",
        "name": "b",
        "kind": "box",
        "position": [3.4, 0.5, 0],
        "size": [1.2, 0.02, 2.4],
    }
    world, view, emitter, _ = wall_scene(
        furniture=[board], unit={**PANEL, "position": [2.0, 3, 1.5], "aim": [3.6, 0, 1.5]}
    )
    facing = np.flatnonzero(((emitter.centre - view.points) * view.normals).sum(1) > 0)
    part, _ = visibility(world, view, emitter, facing)
    on_board = facing[
        (np.abs(view.points[facing, 1] - 0.51) < 0.005) & (view.points[facing, 2] < 2.3)
    ]
    assert len(on_board) > 2000
    np.testing.assert_allclose(part[on_board], 1)


@pytest.mark.parametrize("roll", np.random.default_rng(29).uniform(5, 40, 3).round(1))
def test_an_edge_of_shade_takes_of_each_pixel_what_it_covers(roll):
    """A point source and a box: the shade on the wall is a polygon, and of each pixel that its edge
    crosses as much is dark as the polygon covers.
    """
    lamp, low, high = np.array([3, 3, 1.5]), np.array([2.4, 0.4, 0]), np.array([2.8, 0.8, 2])
    world, view, emitter, wall = wall_scene(
        unit={**PANEL, "position": lamp.tolist(), "ies": POINT_FILE},
        camera={**WALL_CAMERA, "roll": roll},
        furniture=[
            {
                "id": "p",
                "name": "pole",
                "kind": "box",
                "position": [2.6, 0.6, 0],
                "size": (high - low).tolist(),
            }
        ],
    )
    corners = np.stack(np.meshgrid(*zip(low, high, strict=True)), -1).reshape(-1, 3)
    reach = lamp[1] / (lamp[1] - corners[:, 1])
    shade = MultiPoint((lamp + (corners - lamp) * reach[:, None])[:, [0, 2]]).convex_hull
    whole = wall[view.weight[wall] == 1]
    rows, columns = np.divmod(view.pixel[whole], view.size[0])
    rays = [view.rays(columns + x, rows + y) for x, y in ((0, 0), (1, 0), (1, 1), (0, 1))]
    on = [view.origin - ray * (view.origin[1] / ray[:, 1])[:, None] for ray in rays]
    pixels = polygons(np.stack(on, 1)[:, :, [0, 2]])
    covered = area(intersection(pixels, shade)) / area(pixels)
    part, cast = visibility(world, view, emitter, wall)
    assert emitter.kind == 0 and cast < 2 * len(wall)
    plain = (covered == 0) | (covered == 1)
    np.testing.assert_allclose(part[whole][plain], 1 - covered[plain], atol=0.01)
    edge = ~plain
    assert edge.sum() > 200
    error = part[whole][edge] - (1 - covered[edge])
    assert abs(error.mean()) < 0.02
    # A middle alone, lit or not, would err by 0.29 (uniform shares).
    assert np.sqrt((error**2).mean()) < 0.05


def test_places_of_a_group_fill_the_face_evenly():
    """Rays to a panel close by, each patch's places to as many of the face: their mean lies on its
    middle, their spread is that of an even square.
    """
    scene = setup(units=[PANEL])
    emitter = build_emitter(scene.units[0])
    count, groups = 24, 40
    points = np.tile([3.0, 2.0, 1.5], (count * groups, 1))
    normals = np.tile([0.0, 1.0, 0.0], (count * groups, 1))
    rays = room_for(count * groups)
    rays_to(points, normals, count, 7, emitter.face, rays)
    met = rays.origins + rays.directions * rays.distances[:, None]
    places = (met - emitter.centre).reshape(groups, count, 3)[:, :, [0, 2]]
    half = emitter.half
    assert np.abs(places.mean(1)).max() < 0.2 * half
    np.testing.assert_allclose(places.reshape(-1, 2).std(0), half / np.sqrt(3), rtol=0.03)
    assert (rays.weights > 0).all()


def test_work_is_given_up_between_parts():
    done = []
    with pytest.raises(Cancelled), until(lambda: len(done) > 2):
        shared_out(done.append, tiles(np.arange(20_000)))
    assert 3 <= len(done) < 8
    assert (
        np.concatenate(tiles(np.arange(1000), 300)).tolist() == list(range(1000))
        and tiles(np.arange(0)) == []
    )


POINT_FILE = """IESNA:LM-63-2002
TILT=NONE
1 1000 1 3 1 1 2 0 0 0
1 1 50
0 45 90
0
1000 700 0
"""
