"""Rooms of any shape: what encloses is closed, and light goes round no corner by itself."""

import numpy as np
import pytest
import shapely
from pydantic import ValidationError

from moth.document import Furniture, bare, load
from moth.document import Room as RoomModel
from moth.errors import PlacementError
from moth.inspection.names import body_name
from moth.photometry import lamp_of
from moth.place import ceiling_over, clear_of_walls, parts_of, walls_of
from moth.tests.scenes import BLACK_ROOM, data, setup, ways
from moth.tests.test_properties import beam, fallen, lambert, level
from moth.world import build_world, check_placement, opening_place

L_SHAPE = [(0, 0), (6, 0), (6, 3), (3, 3), (3, 7), (0, 7)]


def outlined(corners, **more):
    return {"height": 2.8, "outline": [{"at": [float(v) for v in c]} for c in corners], **more}


def any_outline(seed):
    """Corners at drawn distances about a middle: any star, sharp corners and blunt."""
    draw = np.random.default_rng(seed)
    count = int(draw.integers(4, 11))
    turn = np.sort(draw.uniform(0, 2 * np.pi, count) * 0.15 + np.arange(count) / count * 2 * np.pi)
    far = draw.uniform(2.0, 4.5, count)
    return [(4 + f * np.cos(t), 3 + f * np.sin(t)) for f, t in zip(far, turn, strict=True)]


def room_mesh(scene):
    """Triangles of the room alone."""
    mesh = build_world(scene).mesh
    mine = mesh.body == 0
    return mesh.vertices[mesh.faces[mine]], mesh.flat[mine]


def person_in(corners):
    spot = shapely.Polygon(corners).buffer(-0.7).representative_point()
    return [{"id": "s", "name": "s", "pose": "seated", "position": [spot.x, spot.y]}]


@pytest.mark.parametrize("seed", range(12))
def test_any_outline_is_closed_and_as_large_as_arithmetic_says(seed):
    """Floor, walls and volume (divergence theorem), flat ceilings and sloped ones."""
    corners = any_outline(seed)
    plan = shapely.Polygon(corners)
    rise = 1.3 if seed % 2 else 0.0
    scene = setup(
        room=outlined(corners, rise=rise, rises_to=("north", "east", "south", "west")[seed % 4]),
        figures=person_in(corners),
        units=[],
    )
    corner, flat = room_mesh(scene)
    cross = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
    area = np.linalg.norm(cross, axis=1) / 2
    level_part = area[flat[:, 2] > 0.9].sum()
    assert level_part == pytest.approx(plan.area, rel=1e-6)
    ends = np.roll(corners, -1, axis=0)
    lengths = np.hypot(*(ends - np.array(corners)).T)
    heights = ceiling_over(scene.room, np.array(corners))
    between = (heights + np.roll(heights, -1)) / 2
    assert area[np.abs(flat[:, 2]) < 1e-6].sum() == pytest.approx(
        float(lengths @ between), rel=1e-6
    )
    # Normals look inward: the enclosed volume comes out negative by them.
    volume = -(corner.mean(1) * flat).sum(1) @ area / 3
    middle = np.array(plan.centroid.coords[0])
    assert volume == pytest.approx(
        plan.area * float(ceiling_over(scene.room, [middle])[0]), rel=1e-5
    )
    # No ray from inside gets out.
    draw = np.random.default_rng(seed)
    way = draw.normal(size=(20_000, 3))
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    start = np.tile([*scene.figures[0].position, 1.9], (len(way), 1))
    hit, _ = build_world(scene).rays.nearest(start.astype(np.float32), way.astype(np.float32))
    assert (hit >= 0).all()


@pytest.mark.parametrize("seed", range(4))
def test_light_in_any_outline_is_kept(seed):
    corners = any_outline(seed + 40)
    draw = np.random.default_rng(seed)
    spot = shapely.Polygon(corners).buffer(-0.5).representative_point()
    aim = [spot.x + float(draw.normal()), spot.y + float(draw.normal()), 1.0]
    paint = {
        side: {"reflectance": float(draw.uniform(0.1, 0.85))}
        for side in ("floor", "ceiling", "north", "south", "east", "west")
    }
    scene = setup(
        room=outlined(corners, rise=1.0 * (seed % 2), **paint),
        figures=person_in(corners),
        units=[
            {
                "id": "k",
                "name": "k",
                "head": "point-600",
                "ies": beam(9000, 35),
                "position": [spot.x, spot.y, 2.2],
                "aim": aim,
            }
        ],
    )
    lumens = lamp_of(scene.units[0]).distribution.lumens
    assert fallen(scene)[1] == pytest.approx(lumens, rel=0.015)


def test_four_corners_of_a_box_are_the_box():
    """The same readings by the plain room and by its outline, windows in every wall."""
    box = {"width": 5.0, "depth": 6.0, "height": 2.8, "rise": 0.0}
    paint = {
        s: {"reflectance": r}
        for s, r in zip(
            ("floor", "ceiling", "north", "south", "east", "west"),
            (0.2, 0.7, 0.3, 0.5, 0.6, 0.4),
            strict=True,
        )
    }
    corners = [(0, 0), (5, 0), (5, 6), (0, 6)]
    units = data()["units"]
    plain = setup(room={**box, **paint}, units=units)
    shaped = setup(room={**box, **paint, **outlined(corners)}, units=units)
    for place, way in (((3, 4, 1), (0, 1, 0)), ((1, 1, 2), (1, 0, 0)), ((4, 5, 0.5), (0, 0, 1))):
        assert level(shaped, place, way) == pytest.approx(level(plain, place, way), rel=0.01)
    walls = {"south": 0, "east": 1, "north": 2, "west": 3}
    for side, number in walls.items():
        long = 5.0 if side in ("south", "north") else 6.0
        along = 1.5 if side in ("south", "east") else long - 1.5
        hole = {"id": "w", "name": "w", "along": along, "up": 1.4, "size": [1, 1]}
        one = setup(room=box, openings=[{**hole, "wall": side}])
        other = setup(room=outlined(corners), openings=[{**hole, "wall": number, "along": 1.5}])
        for a, b in zip(
            opening_place(one, one.openings[0]),
            opening_place(other, other.openings[0]),
            strict=True,
        ):
            assert a == pytest.approx(b)


@pytest.mark.parametrize("seed", range(16))
def test_round_the_corner_of_an_l_it_is_dark(seed):
    """Black walls: inverse square where the line stays inside, else nothing."""
    draw = np.random.default_rng(seed)
    plan = shapely.Polygon(L_SHAPE)

    def spot():
        while True:
            x, y = draw.uniform((0.3, 0.3), (5.7, 6.7))
            if (
                plan.contains(shapely.Point(x, y))
                and plan.exterior.distance(shapely.Point(x, y)) > 0.25
            ):
                return np.array([x, y, draw.uniform(0.6, 2.2)])

    lamp, place = spot(), spot()
    line = shapely.LineString([lamp[:2], place[:2]])
    way = (lamp - place) / np.linalg.norm(lamp - place)
    scene = setup(
        room=outlined(L_SHAPE, **BLACK_ROOM),
        figures=[{"id": "s", "name": "s", "position": [0.35, 0.35]}],
        cameras=[{"id": "a", "name": "A", "position": [1, 5, 1.2], "aim": [0.4, 0.4, 1]}],
        units=[
            {
                "id": "k",
                "name": "k",
                "head": "point-600",
                "ies": lambert(8000),
                "position": lamp.tolist(),
                "aim": (lamp - way).tolist(),
            }
        ],
    )
    found = float(sum(ways(scene, place, way).values()))
    corner = shapely.Point(3, 3).distance(line)
    if plan.buffer(1e-6).contains(line) and corner > 0.06:
        assert found == pytest.approx(8000 / ((lamp - place) ** 2).sum(), rel=0.01)
    elif corner > 0.06:
        assert found < 0.5


@pytest.mark.parametrize(
    ("corners", "words"),
    [
        ([(0, 0), (4, 4), (4, 0), (0, 4)], "crosses itself"),
        ([(0, 0), (0, 4), (4, 4), (4, 0)], "clockwise"),
        ([(0, 0), (4, 0), (4, 0.02), (4, 4)], "shorter than 5 cm"),
        ([(0, 0), (0.5, 0), (0.5, 0.5)], "half a square metre"),
        ([(0, 0), (4, 0)], "at least 3"),
    ],
)
def test_what_is_no_room_is_refused_in_words(corners, words):
    with pytest.raises(ValidationError, match=words):
        RoomModel(**outlined(corners))


def test_things_stand_inside_the_outline():
    def scene(**more):
        room = outlined(L_SHAPE)
        return setup(
            **{
                "room": room,
                "figures": [{"id": "s", "name": "s", "position": [1, 1]}],
                "cameras": [{"id": "a", "name": "A", "position": [1, 5, 1.2], "aim": [1, 1, 1.2]}],
                "units": [],
                **more,
            }
        )

    check_placement(scene())
    with pytest.raises(PlacementError, match=r"behind wall (3|4)"):
        check_placement(
            scene(marks=[{"id": "m", "name": "m", "position": [4, 4, 1], "direction": [0, 0, 1]}])
        )
    with pytest.raises(PlacementError, match="stands in a wall"):
        check_placement(scene(figures=[{"id": "s", "name": "s", "position": [4, 4]}]))
    with pytest.raises(PlacementError, match="has not got"):
        check_placement(
            scene(
                openings=[
                    {"id": "w", "name": "w", "wall": "north", "along": 1, "up": 1, "size": [1, 1]}
                ]
            )
        )
    with pytest.raises(PlacementError, match="does not fit"):
        check_placement(
            scene(
                openings=[
                    {"id": "w", "name": "w", "wall": 2, "along": 2.8, "up": 1, "size": [1, 1]}
                ]
            )
        )


def test_walls_are_called_by_their_numbers_and_painted_apart():
    red = {"reflectance": 0.4, "colour": [1, 0.2, 0.1]}
    room = outlined(L_SHAPE, east={"reflectance": 0.33})
    room["outline"][3]["surface"] = red
    scene = bare(
        room=room,
        figures=[{"id": "s", "name": "s", "position": [1, 1]}],
        cameras=[{"id": "a", "name": "A", "position": [1, 5, 1], "aim": [1, 1, 1]}],
    )
    walls = walls_of(scene.room)
    assert [w.side for w in walls] == ["south", "east", "north", "east", "north", "west"]
    assert walls[1].surface.reflectance == 0.33 and walls[3].surface.colour[1] == 0.2
    world = build_world(scene)
    hit, _ = world.rays.nearest(
        np.array([[1.5, 5, 1]], np.float32), np.array([[1, 0, 0]], np.float32)
    )
    assert body_name(scene, world, int(hit[0])) == "wall 4"
    albedo = world.mesh.albedo[world.mesh.faces[hit[0], 0]]
    assert albedo[0] > 3 * albedo[1]


def test_a_margin_from_the_walls_holds_round_corners():
    room = RoomModel(**outlined(L_SHAPE))
    places = np.random.default_rng(1).uniform((-1, -1), (7, 8), (500, 2))
    plan = shapely.Polygon(L_SHAPE)
    found = clear_of_walls(room, places, 0.3)
    for place, clear in zip(places, found, strict=True):
        point = shapely.Point(place)
        inside = plan.contains(point) and plan.exterior.distance(point) > 0.3
        # A mitred corner keeps a little more away than a round one.
        assert clear <= inside
        if plan.contains(point) and plan.exterior.distance(point) > 0.3 * 2**0.5:
            assert clear


WALL_ACROSS = [
    {"id": "a", "kind": "partition", "position": [3, 0.75, 0], "size": [1.5, 0.12, 2.6]},
    {"id": "d", "kind": "doorway", "position": [3, 2.05, 0], "size": [1.1, 0.12, 2.6]},
    {"id": "b", "kind": "partition", "position": [3, 3.3, 0], "size": [1.4, 0.12, 2.6]},
]


@pytest.mark.parametrize("seed", range(10))
def test_a_door_lets_light_through_where_its_leaf_is_not(seed):
    """A wall with a door across a black room: inverse square through the hole, none when shut."""
    draw = np.random.default_rng(seed)
    lamp, place = (
        draw.uniform((0.6, 0.6, 0.5), (2, 3.4, 2)),
        draw.uniform((4, 0.6, 0.5), (5.4, 3.4, 2)),
    )
    way = (lamp - place) / np.linalg.norm(lamp - place)

    def brought(degrees):
        pieces = [
            {**p, "name": p["id"], "turn": 90, "surface": {"reflectance": 0}, "open": degrees}
            for p in WALL_ACROSS
        ]
        scene = setup(
            room={"width": 6, "depth": 4, "height": 2.6, **BLACK_ROOM},
            furniture=pieces,
            figures=[{"id": "s", "name": "s", "position": [0.35, 0.35]}],
            cameras=[{"id": "a", "name": "A", "position": [1, 3, 1.2], "aim": [0.4, 0.4, 1]}],
            units=[
                {
                    "id": "k",
                    "name": "k",
                    "head": "point-600",
                    "ies": lambert(8000),
                    "position": lamp.tolist(),
                    "aim": (lamp - way).tolist(),
                }
            ],
        )
        return float(sum(ways(scene, place, way).values()))

    assert brought(0) < 0.5
    # Where the line passes both faces of the wall, against the hole between its posts, and the
    # leaf, which swings to the west about the post that is to the left of its front.
    faces = [place + (x - place[0]) / (lamp[0] - place[0]) * (lamp - place) for x in (2.94, 3.06)]
    post, high = 0.1, 2.03
    free = min(min(f[1] - (1.5 + post), 2.6 - post - f[1], high - f[2]) for f in faces)
    if free > 0.1:
        assert brought(175) == pytest.approx(8000 / ((lamp - place) ** 2).sum(), rel=0.01)
    elif free < -0.03:
        assert brought(90) < 0.5


def test_a_leaf_swings_about_its_post():
    shut, open_ = (
        Furniture(
            id="d",
            name="d",
            kind="doorway",
            position=(0, 0, 0),
            size=(1.1, 0.12, 2.6),
            open=degrees,
        )
        for degrees in (0, 90)
    )
    leaf, swung = parts_of(shut)[-1], parts_of(open_)[-1]
    hinge = np.array([0.55 - 0.1 - 0.003, 0.06])
    for part in (leaf, swung):
        assert np.hypot(*(np.array(part.position[:2]) - hinge)) == pytest.approx(
            np.hypot(leaf.size[0] / 2, leaf.size[1] / 2)
        )
    assert swung.position[1] > 0.4 and swung.turn - leaf.turn == pytest.approx(-90)


def test_outdoors_the_outline_is_kept_and_the_ground_is_whole():
    """Turned outdoors, the ground has no hole where the outline was, nor lies twice anywhere."""
    corners = [(-2, -1), (3, -1), (3, 4), (-2, 4)]
    room = {**outlined(corners), "width": 6, "depth": 5, "outdoors": True}
    scene = setup(
        room=room,
        figures=[{"id": "s", "name": "s", "position": [1, 1]}],
        units=[],
        cameras=[{"id": "a", "name": "A", "position": [1, 3, 1], "aim": [1, 1, 1]}],
    )
    corner, flat = room_mesh(scene)
    ground = flat[:, 2] > 0.9
    area = (
        np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1)[
            ground & (np.abs(corner[:, :, 2]).max(1) < 1e-6)
        ].sum()
        / 2
    )
    assert area == pytest.approx(6006 * 6005, rel=1e-6)
    assert scene.room.outline is not None


def test_an_outline_goes_to_a_file_and_back():
    scene = setup(room=outlined(L_SHAPE, rise=0.5, storey=3.2))
    assert load(scene.model_dump(mode="json")) == scene
