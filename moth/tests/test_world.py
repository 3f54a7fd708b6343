"""Triangles, rays, and what a camera sees of them."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from moth.materials import FINISHES
from moth.photometry import HEADS
from moth.tests.scenes import data, moved, setup
from moth.transport import build_emitter, half_spread, project, view_of
from moth.transport.nodes import face_nodes, meter_nodes, picture_nodes
from moth.transport.view import _hit
from moth.world import anchor, axes, build_world, landmarks, world_key
from moth.world.figures import load_figure, placed

FURNITURE = [
    {
        "id": "box",
        "name": "Desk",
        "kind": "box",
        "position": [1, 1, 0],
        "size": [1.2, 0.6, 0.7],
        "turn": 30,
    },
    {
        "id": "drum",
        "name": "Drum",
        "kind": "cylinder",
        "position": [5, 1, 0],
        "size": [0.6, 0.6, 1.0],
    },
    {
        "id": "ball",
        "name": "Globe",
        "kind": "ball",
        "position": [5, 6, 0.5],
        "size": [0.5, 0.5, 0.5],
        "gloss": 1,
    },
]


@pytest.fixture(scope="module")
def furnished():
    scene = setup(furniture=FURNITURE)
    return scene, build_world(scene)


def test_every_face_of_furniture_looks_outward(furnished):
    scene, world = furnished
    mesh = world.mesh
    for body, item in enumerate(scene.furniture, start=1):
        faces = mesh.faces[mesh.body == body]
        corners = mesh.vertices[faces]
        middle = np.array(item.position) + [0, 0, item.size[2] / 2]
        flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        solid = np.linalg.norm(flat, axis=1) > 1e-9  # the ball's poles end in slivers
        assert ((corners.mean(1) - middle) * flat).sum(1)[solid].min() > 0, item.name
        assert (mesh.normals[faces].mean(1) * flat).sum(1)[solid].min() > 0, item.name


def test_walls_look_into_the_room(furnished):
    scene, world = furnished
    faces = world.mesh.faces[world.mesh.body == 0]
    corners = world.mesh.vertices[faces]
    to_middle = np.array(
        [scene.room.width, scene.room.depth, scene.room.height]
    ) / 2 - corners.mean(1)
    assert (world.mesh.normals[faces].mean(1) * to_middle).sum(1).min() > 0


@settings(max_examples=40)
@given(st.floats(-1, 1), st.floats(0, 2 * np.pi))
def test_the_room_is_closed(furnished, height, turn):
    _, world = furnished
    flat = np.sqrt(1 - height**2)
    direction = np.array([[flat * np.cos(turn), flat * np.sin(turn), height]])
    primitive, _, distance = world.rays.first(np.array([[3.0, 4.5, 1.5]]), direction)
    assert primitive[0] >= 0 and 0 < distance[0] < 10
    assert not world.rays.visible(np.array([[3.0, 4.5, 1.5]]), direction, distance + 0.01)[0]
    assert world.rays.visible(np.array([[3.0, 4.5, 1.5]]), direction, distance - 0.01)[0]


def _meets(vertices, faces, origins, directions):
    """Distance to the nearest triangle by Moeller and Trumbore (1997), infinite for none: every ray
    with every triangle.
    """
    a = vertices[faces[:, 0]]
    e1, e2 = vertices[faces[:, 1]] - a, vertices[faces[:, 2]] - a
    found = []
    for origin, direction in zip(origins, directions, strict=True):
        p = np.cross(direction, e2)
        det = (e1 * p).sum(1)
        s = origin - a
        q = np.cross(s, e1)
        with np.errstate(divide="ignore", invalid="ignore"):
            u, v, t = (s * p).sum(1) / det, (q @ direction) / det, (e2 * q).sum(1) / det
            found.append(
                t[(np.abs(det) > 1e-12) & (u >= 0) & (v >= 0) & (u + v <= 1) & (t > 1e-6)].min(
                    initial=np.inf
                )
            )
    return np.array(found)


@pytest.mark.parametrize("count", [1, 15, 16, 17, 200])
def test_rays_meet_what_every_triangle_asked_in_turn_says(furnished, count):
    """Packets of sixteen, whole, begun and one alone, against each triangle by itself."""
    _, world = furnished
    random = np.random.default_rng(count)
    origins = random.uniform([0.5, 2, 0.2], [5.5, 6, 2.8], (count, 3))
    directions = random.normal(size=(count, 3))
    directions /= np.linalg.norm(directions, axis=1, keepdims=True)
    wanted = _meets(world.mesh.vertices, world.mesh.faces, origins, directions)
    primitive, barycentric, distance = world.rays.first(origins, directions)
    assert (
        np.isclose(distance, wanted, rtol=1e-4).mean() > 0.99
    )  # a ray through an edge may be lost by either
    same = np.flatnonzero(np.isclose(distance, wanted, rtol=1e-4))
    corners = world.mesh.vertices[world.mesh.faces[primitive[same]]]
    u, v = barycentric[same].T[..., None]
    place = corners[:, 0] * (1 - u - v) + corners[:, 1] * u + corners[:, 2] * v
    np.testing.assert_allclose(
        place, origins[same] + distance[same, None] * directions[same], atol=1e-3
    )
    for part, clear in ((0.98, True), (1.02, False)):
        assert (
            world.rays.visible(origins[same], directions[same], wanted[same] * part) == clear
        ).mean() > 0.99


def test_no_ray_slips_out_between_two_triangles():
    """A closed room with its walls cut small, and rays at the very edges and corners of what they
    are cut into.
    """
    world = build_world(
        setup(
            openings=[
                {
                    "id": "w",
                    "name": "Window",
                    "wall": "east",
                    "along": 3.2,
                    "up": 1.6,
                    "size": [1.6, 1.4],
                }
            ]
        )
    )
    mesh = world.mesh
    room = mesh.faces[mesh.body == 0]
    between = np.linspace(0, 1, 40)[:, None, None]
    targets = np.concatenate(
        [
            (
                mesh.vertices[room[:, a]] * (1 - between) + mesh.vertices[room[:, b]] * between
            ).reshape(-1, 3)
            for a, b in ((0, 1), (1, 2), (2, 0))
        ]
    )
    origin = np.array([3.0, 5.0, 1.5])
    directions = targets - origin
    directions /= np.linalg.norm(directions, axis=1, keepdims=True)
    origins = np.broadcast_to(origin, directions.shape)
    assert len(directions) > 200_000
    slipped = world.rays.first(origins, directions)[0] < 0
    # Only in corners where a wall is cut and its neighbour is not; a picture takes the ray beside
    # it.
    assert slipped.mean() < 2e-3
    corner = ((np.abs(targets - [0, 0, 0]) < 1e-6) | (np.abs(targets - [6, 7, 3]) < 1e-6)).sum(
        1
    ) >= 2
    assert corner[slipped].all()
    seen = _hit(world, origin, directions[slipped][:100])
    assert (
        slipped.any() and np.isfinite(seen["point"]).all() and np.isfinite(seen["distance"]).all()
    )
    even = np.random.default_rng(3).normal(size=(400_000, 3))
    assert (
        world.rays.first(
            np.broadcast_to(origin, even.shape), even / np.linalg.norm(even, axis=1, keepdims=True)
        )[0]
        >= 0
    ).all()


def test_a_ray_into_nothing_meets_nothing():
    from moth.world.rays import RayScene

    scene = RayScene(np.eye(3), np.array([[0, 1, 2]]))
    primitive, _, distance = scene.first(
        np.zeros((2, 3)), np.array([[1, 1, 1], [-1, -1, -1]]) / np.sqrt(3)
    )
    assert (
        primitive.tolist() == [0, -1]
        and distance[0] == pytest.approx(1 / np.sqrt(3))
        and np.isinf(distance[1])
    )
    assert scene.visible(np.zeros((0, 3)), np.zeros((0, 3)), np.zeros(0)).tolist() == []


def test_a_ball_is_as_large_as_it_says(furnished):
    _, world = furnished
    _, _, distance = world.rays.first(np.array([[5.0, 4.0, 0.75]]), np.array([[0.0, 1.0, 0.0]]))
    assert distance[0] == pytest.approx(2 - 0.25, abs=0.003)


def test_albedo_is_the_reflectance_in_luminance():
    scene = setup(room={**data()["room"], "north": {"reflectance": 0.3, "colour": [0.9, 0.4, 0.1]}})
    mesh = build_world(scene).mesh
    north = mesh.faces[(mesh.body == 0) & (mesh.vertices[mesh.faces][:, :, 1].min(1) > 6.99)]
    albedo = mesh.albedo[north[0, 0]]
    assert (
        albedo @ [0.2126, 0.7152, 0.0722] == pytest.approx(0.3)
        and albedo[0] > albedo[1] > albedo[2]
    )
    assert mesh.albedo.min() >= 0 and mesh.albedo.max() <= 1


def test_equal_worlds_are_one_and_names_do_not_matter():
    first, second = setup(), setup(**moved(data(), "figures", 0, name="Somebody else"))
    assert world_key(first) == world_key(second) and build_world(first) is build_world(second)
    for change in (
        {"facing": 5},
        {"position": [3.01, 3]},
        {"figure": "broad-man"},
        {"pose": "standing"},
    ):
        assert world_key(setup(**moved(data(), "figures", 0, **change))) != world_key(first)


def test_a_turned_figure_turns_its_landmarks():
    north, west = (
        landmarks(setup(**moved(data(), "figures", 0, facing=f)).figures[0]) for f in (0, 90)
    )
    centre = np.array([3, 3])
    a, b = north["nose_tip"][:2] - centre, west["nose_tip"][:2] - centre
    np.testing.assert_allclose(b, [-a[1], a[0]], atol=1e-9)
    assert placed([0, 1, 0.5], (2, 2), 90).tolist() == pytest.approx([1, 2, 0.5])
    assert anchor(setup())[2] == pytest.approx((north["eye_left"][2] + north["eye_right"][2]) / 2)


@pytest.mark.parametrize("pose", ["standing", "seated"])
def test_skin_is_like_skin(pose):
    """Linear reflectance of faces: 0.02 to 0.6, red over green over blue (Angelopoulou 2001
    measured 0.05 to 0.65).
    """
    for name in ("weathered-man", "young-woman", "middle-aged-woman", "broad-man"):
        mesh = load_figure(name, pose)
        skin = mesh.albedo[np.unique(mesh.faces[mesh.finish == 0])]
        mean = np.median(skin, axis=0)
        assert 0.02 < mean[2] < mean[1] < mean[0] < 0.6, name


def test_pins_and_pixels_agree(furnished):
    scene, world = furnished
    camera = scene.cameras[0]
    view = view_of(world, scene, camera, (160, 90))
    for k in range(0, len(view.points), 1777):
        x, y = project(camera, [view.points[k]])[0]
        row, column = divmod(int(view.pixel[k]), 160)
        assert abs(x * 160 - column - 0.5) < 0.6 and abs(y * 90 - row - 0.5) < 0.6


def test_every_pixel_is_whole_and_edges_have_more_points(furnished):
    scene, world = furnished
    view = view_of(world, scene, scene.cameras[0], (160, 90))
    weights = np.bincount(view.pixel, view.weight, 160 * 90)
    np.testing.assert_allclose(weights, 1)
    count = np.bincount(view.pixel)
    assert set(np.unique(count)) <= {1, 4, 16} and 0.02 < (count == 4).mean() < 0.4
    np.testing.assert_allclose(np.linalg.norm(view.normals, axis=1), 1, atol=1e-6)
    # Edges: pixels with four points lie where body or direction changes, the wall's middle has one.
    assert count[10 * 160 + 20] == 1


def test_a_longer_lens_sees_less():
    camera = setup().cameras[0]
    wide, narrow = (
        half_spread(camera)[0],
        half_spread(camera.model_copy(update={"focal_length": camera.focal_length * 2}))[0],
    )
    assert wide / narrow == pytest.approx(2)
    # 36 mm across 36 mm: 53.13 degrees.
    full = camera.model_copy(update={"sensor": "full-frame", "focal_length": 36})
    assert 2 * np.degrees(np.arctan(half_spread(full)[0])) == pytest.approx(53.13, abs=0.01)


@given(st.tuples(*[st.floats(-3, 3)] * 3), st.floats(-180, 180))
def test_axes_are_square_and_right_handed(aim, roll):
    if np.linalg.norm(aim) < 0.05:
        return
    right, up, forward = axes((0, 0, 0), aim, roll)
    np.testing.assert_allclose(
        np.stack([right, up, forward]) @ np.stack([right, up, forward]).T, np.eye(3), atol=1e-9
    )
    np.testing.assert_allclose(np.cross(right, forward), up, atol=1e-9)


@pytest.mark.parametrize("head", HEADS)
def test_every_head_can_be_hung_and_its_nodes_are_whole(head):
    unit = setup().units[0].model_copy(update={"head": head})
    emitter = build_emitter(unit)
    for nodes in (*picture_nodes(emitter), meter_nodes(emitter)):
        assert (
            nodes[:, 2].sum() == pytest.approx(1) and nodes.min() >= 0 and nodes[:, :2].max() <= 1
        )
    assert emitter.face.table.max() == pytest.approx(HEADS[head].distribution.peak, rel=1e-3)
    assert (emitter.face.table >= 0).all() and emitter.area > 0


def test_disc_nodes_find_the_second_moment():
    """Mean of r^2 over a disc is a half of its radius squared; over a unit interval u^2 has mean a
    third.
    """
    disc = face_nodes(1, 3, 6)
    assert disc[:, 2] @ disc[:, 0] == pytest.approx(0.5)  # u is r^2
    rectangle = face_nodes(2, 4, 4)
    assert rectangle[:, 2] @ rectangle[:, 0] ** 2 == pytest.approx(1 / 3)


def test_finishes_have_sources():
    for finish in FINISHES:
        assert 0 <= finish.roughness <= 1 and 0 <= finish.normal_reflectance <= 1 and finish.source
