"""Units outside the room shine in at its windows: closed forms, in places drawn at random."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.errors import DocumentError, PlacementError
from moth.materials import MATERIALS
from moth.solving import make
from moth.tests.scenes import BLACK_ROOM, setup, ways
from moth.tests.test_properties import Room, beam, lambert
from moth.transport import light_of, project, render_layer, sources
from moth.transport.view import view_of
from moth.world import anchor, build_world, check_placement

WIDTH, DEPTH, HEIGHT = 5.0, 6.0, 3.0
NIGHT = {"kind": "overcast", "level": 0, "on": False}


def window(**more):
    base = {"id": "w", "name": "Window", "wall": "east", "along": 3.0, "up": 1.5}
    return {**base, "size": [1.2, 1.4], **more}


def room_with(lamp, windows, walls=BLACK_ROOM, **more):
    return setup(
        room={"width": WIDTH, "depth": DEPTH, "height": HEIGHT, **walls},
        figures=[{"id": "s", "name": "s", "position": [0.4, 0.4]}],
        units=[{"id": "k", "name": "k", "head": "point-600", **lamp}],
        openings=windows,
        sky=NIGHT,
        **more,
    )


def lamp_at(place, aim, ies):
    return {"position": [float(v) for v in place], "aim": [float(v) for v in aim], "ies": ies}


def level(scene, position, direction):
    """What the lamp, the first source, brings to a meter [lx]."""
    return float(sum(ways(scene, position, direction).values()))


def absorbed(scene):
    """Of the lamp's light, by all surfaces [lm]."""
    world = build_world(scene)
    p, albedo = world.patches, world.patches.albedo @ LUMINANCE
    arrived = light_of(world, sources(scene)[0]).radiosity @ LUMINANCE
    return float((arrived / np.maximum(albedo, 1e-9) * p.area * (1 - albedo)).sum())


def crossing(start, end, pane=WIDTH):
    """Where the line between two places goes through the plane of the east wall."""
    t = (pane - start[0]) / (end[0] - start[0])
    return start + t * (end - start)


@pytest.mark.parametrize("seed", range(24))
def test_a_lamp_outside_lights_what_it_sees_through_the_window_and_nothing_else(seed):
    """Inverse square and cosine where the line passes the window, else dark."""
    draw = np.random.default_rng(seed)
    hole = window(
        along=float(draw.uniform(1.2, 4.8)),
        up=float(draw.uniform(1, 2)),
        size=[float(v) for v in draw.uniform(0.6, 1.8, 2)],
    )
    lamp = draw.uniform((5.6, 0.5, -1.0), (11, 5.5, 4.5))
    place = draw.uniform((1.2, 0.8, 0.3), (4.6, 5.5, 2.7))
    way = (lamp - place) / np.linalg.norm(lamp - place)
    facing = way + 0.5 * draw.normal(size=3)
    facing = facing / np.linalg.norm(facing)
    scene = room_with(lamp_at(lamp, lamp - way, lambert(20_000)), [hole])
    scene = scene.model_copy(update={"room": scene.room.model_copy(update={"storey": 3.0})})
    at = crossing(place, lamp)
    edge = min(
        hole["size"][0] / 2 - abs(at[1] - hole["along"]),
        hole["size"][1] / 2 - abs(at[2] - hole["up"]),
    )
    found = level(scene, place, facing)
    straight = 20_000 / ((lamp - place) ** 2).sum() * max(facing @ way, 0)
    if edge > 0.08:
        assert found == pytest.approx(straight, rel=0.01, abs=0.02)
    elif edge < -0.08:
        assert found < 0.01 * max(straight, 1)


@pytest.mark.parametrize("seed", range(6))
def test_what_comes_in_at_the_window_is_absorbed_in_the_room(seed):
    """Energy: the flux through the pane, by cells a centimetre wide, is what all surfaces take."""
    draw = np.random.default_rng(seed)
    walls = Room(seed).walls
    lamp = draw.uniform((6.2, 1.5, 0.5), (10, 4.5, 4))
    aim = np.array([WIDTH, 3.0, 1.5])
    scene = room_with(lamp_at(lamp, aim, beam(20_000, 25)), [window()], walls)
    y, z = np.meshgrid(np.arange(-0.595, 0.6, 0.01) + 3, np.arange(-0.695, 0.7, 0.01) + 1.5)
    cells = np.stack([np.full(y.size, WIDTH), y.ravel(), z.ravel()], 1)
    to = cells - lamp
    d2 = (to**2).sum(1)
    axis = (aim - lamp) / np.linalg.norm(aim - lamp)
    off = np.degrees(np.arccos(np.clip(to @ axis / np.sqrt(d2), -1, 1)))
    candela = 20_000 * np.clip((25 + 6 - off) / 12, 0, 1)
    flux = float((candela * -to[:, 0] / d2**1.5).sum()) * 1e-4
    assert absorbed(scene) == pytest.approx(flux, rel=0.02)


@pytest.mark.parametrize("seed", range(3))
def test_cloth_over_the_window_is_cloth_in_a_frame(seed):
    """A spot inside the window's edges through muslin there, or through a frame in a larger one."""
    draw = np.random.default_rng(seed)
    lamp = np.array([float(draw.uniform(6, 7)), 3.0, 1.5])
    narrow = beam(50_000, 8)
    place = draw.uniform((1.5, 2, 1), (3.5, 4, 2))
    facing = np.array([1.0, 0, 0])
    one = room_with(
        lamp_at(lamp, [0, 3, 1.5], narrow), [window(size=[1.5, 1.5], cover="muslin-bleached")]
    )
    other = setup(
        room={"width": 9, "depth": DEPTH, "height": HEIGHT, **BLACK_ROOM},
        figures=[{"id": "s", "name": "s", "position": [0.4, 0.4]}],
        units=[
            {
                "id": "k",
                "name": "k",
                "head": "point-600",
                "ies": narrow,
                "position": lamp.tolist(),
                "aim": [0, 3, 1.5],
            }
        ],
        grip=[
            {
                "id": "g",
                "name": "g",
                "kind": "frame",
                "material": "muslin-bleached",
                "position": [4.992, 3, 1.5],
                "aim": [4, 3, 1.5],
                "size": [1.6, 1.6],
            }
        ],
    )
    # The pane behind the cloth sends back 8 % of what the cloth sends it, again and again.
    between = 1 / (1 - 0.08 * MATERIALS["muslin-bleached"].returned)
    expected = level(other, place, facing) * between
    assert level(one, place, facing) == pytest.approx(expected, rel=0.02)


@pytest.mark.parametrize("cover", ["voile", "muslin-bleached", "frost-heavy"])
def test_a_lit_cloth_over_the_window_shows_no_squares(cover):
    """In the finished frame neighbours differ by less than a tenth of a stop inside its edges."""
    scene = room_with(
        lamp_at((7.5, 2.2, 2.4), (5, 3, 1.5), beam(30_000, 30)),
        [window(size=[1.8, 1.6], cover=cover)],
        cameras=[
            {
                "id": "a",
                "name": "A",
                "position": [1.2, 3, 1.5],
                "aim": [5, 3, 1.5],
                "focal_length": 55,
            }
        ],
    )
    view = view_of(build_world(scene), scene, scene.cameras[0], (320, 180))
    picture = render_layer(build_world(scene), view, sources(scene)[0]).surfaces @ LUMINANCE
    inside = picture[40:140, 60:260]
    assert inside.min() > 0
    for axis in (0, 1):
        steps = np.abs(np.diff(np.log2(inside), axis=axis))
        assert np.quantile(steps, 0.999) < 0.1


def test_blackout_keeps_the_lamp_out():
    scene = room_with(
        lamp_at((7, 3, 1.5), (5, 3, 1.5), beam(20_000, 30)), [window(cover="blackout")]
    )
    assert level(scene, (3, 3, 1.5), (1, 0, 0)) < 0.3


@pytest.mark.parametrize(
    ("place", "windows", "words"),
    [
        ((7, 3, 1.5), [], "outside the room, behind the east wall and before no window"),
        ((-2, 3, 1.5), [window()], "behind the west wall and before no window"),
        ((7, 3, -0.5), [window()], "before no window"),
        ((2, 3, 3.4), [window()], "in the ceiling"),
    ],
)
def test_a_unit_that_cannot_shine_in_is_refused(place, windows, words):
    with pytest.raises(PlacementError, match=words):
        check_placement(room_with(lamp_at(place, (2, 3, 1), beam(1000, 20)), windows))


@pytest.mark.parametrize("seed", range(4))
def test_put_outside_the_window_it_shines_on_the_face(seed):
    """On the line from the face through the window's middle; without a window it is told."""
    draw = np.random.default_rng(seed)
    hole = window(along=float(draw.uniform(1.5, 4.5)), up=float(draw.uniform(1.2, 1.8)))
    lamp = lamp_at((2, 5, 1.5), (0.4, 0.4, 1.3), beam(20_000, 30))
    scene = make(room_with(lamp, [hole]), "k", "outside")
    check_placement(scene)
    place, face = np.array(scene.units[0].position), anchor(scene)
    way = (place - face) / np.linalg.norm(place - face)
    at = face + (WIDTH - face[0]) / way[0] * way
    assert at[1:] == pytest.approx([hole["along"], hole["up"]], abs=0.01)
    held = face + 0.3 * way
    expected = 20_000 / ((place - held) ** 2).sum()
    assert level(scene, held, way) == pytest.approx(expected, rel=0.01)
    with pytest.raises(DocumentError, match="no window"):
        make(room_with(lamp, []), "k", "outside")


def test_another_wing_of_the_building_keeps_the_light_out():
    """An L: from the south of the east wing no light comes into the window of the north wing."""
    corners = [(0, 0), (5, 0), (5, 3), (3, 3), (3, 6), (0, 6)]
    hole = window(wall=3, along=1.5, up=1.5, size=[1, 1])
    outline = {"outline": [{"at": list(c)} for c in corners]}

    def scene(place):
        found = room_with(lamp_at(place, (3, 4.5, 1.5), beam(20_000, 30)), [hole])
        room = {**found.room.model_dump(), **outline}
        camera = found.cameras[0].model_copy(update={"position": (1, 5, 1.2), "aim": (0.4, 0.4, 1)})
        found = found.model_copy(update={"cameras": (camera,)})
        return type(found).model_validate({**found.model_dump(), "room": room})

    check_placement(scene((6, 4.5, 1.5)))
    assert level(scene((6, 4.5, 1.5)), (1.5, 4.5, 1.5), (1, 0, 0)) > 100
    with pytest.raises(PlacementError, match="before no window"):
        check_placement(scene((5.6, -1.5, 1.5)))


def test_a_lamp_outside_is_seen_through_the_pane_and_not_through_the_wall():
    def seen(place):
        scene = room_with(
            {"head": "panel-small", "position": place, "aim": [3, 3, 1.5]},
            [window()],
            cameras=[
                {
                    "id": "a",
                    "name": "A",
                    "position": [1, 3, 1.5],
                    "aim": [5, 3, 1.5],
                    "focal_length": 24,
                }
            ],
        )
        view = view_of(build_world(scene), scene, scene.cameras[0], (192, 108))
        layer = render_layer(build_world(scene), view, sources(scene)[0])
        return scene, layer

    scene, layer = seen([6.5, 3.1, 1.6])
    x, y = project(scene.cameras[0], [scene.units[0].position])[0]
    middle = int(y * 108) * 192 + int(x * 192)
    assert middle in set(layer.seen.tolist())
    assert layer.glow[layer.seen == middle][0] > 1000
    # Behind the wall beside the window, on the line from the lens.
    _, layer = seen([6.5, 4.6, 1.6])
    assert not len(layer.seen)
