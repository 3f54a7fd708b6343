"""Houses and walls before the windows: the sun's way, what the sky and sunlit walls send in, what
is seen.
"""

import io

import numpy as np
import pytest
import shapely
import trimesh

from moth.colour import LUMINANCE
from moth.document import Sun, bare
from moth.glb import to_glb
from moth.judging import SIZE, picture_of
from moth.metering.marks import Place
from moth.sun import day_of, with_hour
from moth.transport import meter_light, project, render_layer, sources, view_of
from moth.transport.light import light_of
from moth.transport.sources import FULL_SKY, FULL_SUN, sun_direction
from moth.world import build_world, outside_of

SIDES = ("floor", "ceiling", "north", "south", "east", "west")
WINDOW = {"id": "w", "name": "Window", "wall": "south", "along": 2.5, "up": 1.5, "size": [2.0, 1.4]}


BLACK = {"reflectance": 0.0}


def setup(*pieces, sun=None, kind="overcast", openings=(WINDOW,), **more):
    """A black room with a window to the south and what stands before it."""
    return bare(
        **{
            "room": {"width": 5, "depth": 6, "height": 3, **dict.fromkeys(SIDES, BLACK)},
            "openings": list(openings),
            "furniture": [
                {"id": f"h{k}", "name": f"House {k}", "kind": "box", **piece}
                for k, piece in enumerate(pieces)
            ],
            # Out of the light's way.
            "figures": [{"id": "f", "name": "F", "position": [4.5, 5.5]}],
            "sky": {"kind": kind, "level": FULL_SKY, **({"sun": sun} if sun else {})},
            **more,
        }
    )


def wall(reflectance, colour=(1.0, 1.0, 1.0)):
    """A wall that fills all that the window looks at: 20 m off, 160 m wide, up and down."""
    paint = {"reflectance": reflectance, "colour": colour}
    return {"position": [2.5, -21, -90], "size": [190, 2, 190], "surface": paint}


def level(scene, which, position, direction):
    """What a disc reads of the sky or the sun at full [lx]."""
    world = build_world(scene)
    source = next(s for s in sources(scene) if s.id == which)
    place = Place("m", "m", tuple(position), tuple(direction), "disc")
    ways = meter_light(world, light_of(world, source), place)
    return sum(float(rgb @ LUMINANCE) for rgb in ways.values())


def of_pane(luminance, position):
    """What a pane of an even luminance brings to a disc that looks at it square [lx]."""
    k = (np.arange(200) + 0.5) / 200 - 0.5
    x, z = np.meshgrid(2.5 + 2.0 * k, 1.5 + 1.4 * k)
    to = np.stack([x - position[0], np.full_like(x, 0.0 - position[1]), z - position[2]], -1)
    d2 = (to**2).sum(-1)
    cosine = -to[..., 1] / np.sqrt(d2)
    return float(luminance * (cosine**2 / d2).mean() * 2.0 * 1.4)


@pytest.mark.parametrize("seed", range(4))
def test_the_sun_comes_in_where_no_house_stands_in_its_way(seed):
    draw = np.random.default_rng(seed)
    house = {
        "position": [float(draw.uniform(-4, 9)), float(draw.uniform(-14, -8)), 0.0],
        "size": [float(k) for k in draw.uniform((4, 3, 3), (9, 6, 9))],
        "turn": float(draw.uniform(0, 180)),
    }
    sun = {"azimuth": float(draw.uniform(150, 210)), "elevation": float(draw.uniform(8, 40))}
    scene = setup(house, sun=sun, kind="clear")
    toward = sun_direction(scene.sky.sun)
    turn = np.radians(-house["turn"])
    spin = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])

    def blocked(place, way):
        """Slabs of the turned box (Kay & Kajiya 1986)."""
        o, d = place - [*house["position"][:2], 0], way.copy()
        o[:2], d[:2] = spin @ o[:2], spin @ d[:2]
        low, high = np.array([-0.5, -0.5, 0]), np.array([0.5, 0.5, 1])
        a, b = (low * house["size"] - o) / d, (high * house["size"] - o) / d
        near, far = np.minimum(a, b).max(), np.maximum(a, b).min()
        return near < far and far > 0

    seen = {True: 0, False: 0}
    for _ in range(24):
        pane = np.array([2.5 + draw.uniform(-0.9, 0.9), 0.0, 1.5 + draw.uniform(-0.6, 0.6)])
        place = pane - draw.uniform(0.5, 2.0) * toward
        if not (0 < place[0] < 5 and 0 < place[1] < 6 and 0 < place[2] < 3):
            continue
        ways = toward + draw.uniform(-0.012, 0.012, (30, 3))
        shade = blocked(place, toward)
        if any(blocked(place, way) != shade for way in ways):
            # In its half-shade, or nearly.
            continue
        seen[shade] += 1
        # The walls outside send light in as well: a disc that only the sun can light straight.
        expected = 0.0 if shade else FULL_SUN
        assert level(scene, "@sun", place, toward) == pytest.approx(expected, abs=0.04 * FULL_SUN)
    assert sum(seen.values()) > 5


def test_a_house_before_the_window_keeps_the_sun_out_and_none_lets_it_in():
    free = setup(sun={"azimuth": 180, "elevation": 20}, kind="clear")
    house = {"position": [2.5, -9, 0], "size": [30, 4, 9]}
    shaded = setup(house, sun={"azimuth": 180, "elevation": 20}, kind="clear")
    toward = sun_direction(free.sky.sun)
    place = np.array([2.5, 0, 1.5]) - 1.2 * toward
    assert level(free, "@sun", place, toward) == pytest.approx(FULL_SUN, rel=0.01)
    assert level(shaded, "@sun", place, toward) < 0.02 * FULL_SUN


@pytest.mark.parametrize("reflectance", [0.0, 0.25, 0.6])
def test_a_wall_outside_sends_what_the_sky_gives_it(reflectance):
    high = {"width": 5, "depth": 6, "height": 3, "storey": 60, **dict.fromkeys(SIDES, BLACK)}
    before = {**wall(reflectance), "position": [2.5, -21, -60]}
    scene = setup(before, room={**high, "land": BLACK})
    place = [2.5, 1.2, 1.5]
    # Under the CIE overcast sky an upright wall has 0.396 of the level ground's.
    on_wall = 0.396 * FULL_SKY
    expected = of_pane(reflectance / np.pi * on_wall, place)
    assert level(scene, "@sky", place, [0, -1, 0]) == pytest.approx(expected, rel=0.03, abs=0.5)


def test_a_sunlit_wall_opposite_sends_light_in_by_a_window_that_sees_no_sun():
    sun = {"azimuth": 0, "elevation": 30}
    high = {"width": 5, "depth": 6, "height": 3, "storey": 60, **dict.fromkeys(SIDES, BLACK)}
    opposite = {**wall(0.5), "position": [2.5, -21, -60]}
    scene = setup(opposite, sun=sun, kind="clear", room=high)
    place = [2.5, 1.2, 1.5]
    # It stands in the north, behind the room: the wall's front is lit at 30 degrees off its normal,
    # and by the half of what it looks at that is land of reflectance 0.2 in the sun.
    on_wall = FULL_SUN * (np.cos(np.radians(30)) + 0.5 * 0.2 * np.sin(np.radians(30)))
    expected = of_pane(0.5 / np.pi * on_wall, place)
    assert level(scene, "@sun", place, [0, -1, 0]) == pytest.approx(expected, rel=0.03)


def by_land(sun, place, storey, shadow):
    """What sunlit land sends a disc that faces the window [lx], summed over the pane.

    shadow: whether places on the land (n, 2) are shaded.
    """
    n = 400
    along = 2.5 + 2.0 * ((np.arange(n) + 0.5) / n - 0.5)
    up = 1.5 + 1.4 * ((np.arange(n) + 0.5) / n - 0.5)
    x, z = np.meshgrid(along, up)
    way = np.stack([x - place[0], 0 * x - place[1], z - place[2]], -1).reshape(-1, 3)
    far = np.linalg.norm(way, axis=1)
    down = way[:, 2] < 0
    steps = (place[2] + storey) / np.maximum(-way[:, 2], 1e-9)
    met = np.array(place[:2]) + steps[:, None] * way[:, :2]
    seen = down & ~shadow(met)
    of_land = 0.2 * FULL_SUN * np.sin(np.radians(sun["elevation"])) / np.pi
    cosine = -way[:, 1] / far
    return of_land * float((seen * cosine**2 / far**2).sum()) * 2.0 * 1.4 / n**2


def test_sunlit_land_lights_a_room_from_below():
    rng = np.random.default_rng(3)
    for _ in range(6):
        # The sun stands on the window's side, so high that it does not come to the meter.
        sun = {
            "azimuth": float(rng.uniform(130, 230)),
            "elevation": float(rng.uniform(45, 70)),
        }
        place = [float(rng.uniform(1.5, 3.5)), float(rng.uniform(3.5, 5.5)), 1.6]
        scene = setup(sun=sun, kind="clear")
        expected = by_land(sun, place, 0.0, lambda met: np.zeros(len(met), bool))
        assert level(scene, "@sun", place, [0, -1, 0]) == pytest.approx(expected, rel=0.03)


@pytest.mark.parametrize("receiver", ["disc", "dome"])
def test_a_meter_that_looks_up_sees_no_land(receiver):
    # Nothing goes over from one side of the horizon to the other: it was five degrees about the
    # pane's middle, a tenth of such a reading in a room.
    scene = setup(sun={"azimuth": 180, "elevation": 60}, kind="clear")
    world = build_world(scene)
    light = light_of(world, next(s for s in sources(scene) if s.id == "@sun"))
    up, out = (
        sum(meter_light(world, light, Place("m", "m", (2.0, 4.0, 1.4), way, receiver)).values())
        for way in ((0.0, 0.0, 1.0), (0.0, -1.0, 0.0))
    )
    assert up[1] < 0.006 * out[1]


@pytest.mark.parametrize("storey, elevation", [(0.0, 30), (0.0, 12), (3.0, 25)])
def test_the_house_shades_the_land_behind_it(storey, elevation):
    sun = {"azimuth": 0, "elevation": elevation}
    room = {"width": 5, "depth": 6, "height": 3, "storey": storey, **dict.fromkeys(SIDES, BLACK)}
    scene = setup(sun=sun, kind="clear", room=room)
    place = [2.5, 1.2, 1.7]
    # Its walls are 0.3 m thick, and so is its roof.
    long = (storey + 3.3) / np.tan(np.radians(elevation))
    shadow = lambda met: (np.abs(met[:, 0] - 2.5) < 2.8) & (met[:, 1] > -0.3 - long)
    expected = by_land(sun, place, storey, shadow)
    # The shadow's edge on the land is told from nine places of the window.
    assert level(scene, "@sun", place, [0, -1, 0]) == pytest.approx(expected, rel=0.06)
    whole = by_land(sun, place, storey, lambda met: np.zeros(len(met), bool))
    assert expected < 0.9 * whole


def test_one_house_throws_its_shadow_on_another():
    sun = {"azimuth": 0, "elevation": 30}
    before = {"position": [2.5, 99, 0], "size": [200, 190, 150]}
    scene = setup(wall(0.5), before, sun=sun, kind="clear")
    # But for land in the sun, far to the sides: 8,000 without the other house.
    assert level(scene, "@sun", [2.5, 1.2, 1.5], [0, -1, 0]) < 20


def test_a_wall_is_seen_in_its_own_colour_and_the_sky_above_it():
    low = {**wall(0.4, (1.0, 0.5, 0.3)), "position": [2.5, -21, -60], "size": [190, 2, 61.0]}
    camera = {
        "id": "a",
        "name": "A",
        "position": [2.5, 4.0, 1.5],
        "aim": [2.5, 0, 1.5],
        "focal_length": 50,
    }
    scene = setup(low, cameras=[camera])
    world = build_world(scene)
    sky = next(s for s in sources(scene) if s.id == "@sky")
    layer = render_layer(world, view_of(world, scene, scene.cameras[0], (96, 54)), sky)
    height, width, _ = layer.surfaces.shape
    rows, columns = np.divmod(layer.seen[layer.cover > 0], width)
    assert len(rows) and rows.max() < 0.6 * height
    # At the eye's height the land's end is the wall's top, near enough: below it the wall is seen.
    seen = layer.surfaces[int(0.7 * height), width // 2]
    paint = np.array([1.0, 0.5, 0.3])
    paint = 0.4 * paint / (LUMINANCE @ paint)
    wanted = paint / np.pi * (0.396 + 0.1) * FULL_SKY
    assert seen == pytest.approx(wanted, rel=0.04)


def test_what_stands_outside_is_no_part_of_the_room():
    inside = {"position": [2.5, 3, 0], "size": [0.5, 0.5, 0.5]}
    house = {"position": [2.5, -9, 0], "size": [6, 4, 5]}
    scene = setup(inside, house)
    world = build_world(scene)
    assert world.outside is not None and outside_of(setup(inside)) is None
    assert set(np.unique(world.mesh.body)) >= {0, 1} and 2 not in world.mesh.body
    assert world.mesh.vertices[:, 1].min() > -0.5
    # Anyone's viewer is shown it all the same.
    model = trimesh.load(io.BytesIO(to_glb(scene)), file_type="glb")
    assert model.geometry["Outside"].bounds[1][1] == pytest.approx(5, abs=0.01)


def sunlit(scene):
    """When the sun can enter, and the patches at the day's instants."""
    found = day_of(scene)
    spans = [(m.begin, m.end) for m in found.moments if m.kind == "window"]
    return spans, {i.minute: [p for p in i.patches if not p.shadow] for i in found.instants}


def test_the_day_line_tells_the_house_across_the_yard():
    free = setup(kind="clear", site={"date": "2026-10-15"})
    wide = {"position": [2.5, -14, 0], "size": [150, 4, 60]}
    east = {"position": [-60, -60, 0], "size": [110, 40, 60]}
    spans, patches = sunlit(free)
    none, no_patches = sunlit(setup(wide, kind="clear", site={"date": "2026-10-15"}))
    late, _ = sunlit(setup(east, kind="clear", site={"date": "2026-10-15"}))
    assert spans and any(patches.values())
    assert not none and not any(no_patches.values())
    # What stands to the east keeps the morning out and leaves the afternoon.
    assert late[-1][1] == spans[-1][1] and late[-1][0] > spans[0][0]


def test_a_patch_on_the_floor_is_cut_where_a_house_stands():
    pole = {"position": [2.5, -6, 0], "size": [1.4, 0.6, 12]}
    day = {"kind": "clear", "site": {"date": "2026-10-15"}}
    scene = setup(pole, openings=[{**WINDOW, "size": [4.4, 1.6]}], **day)
    _, patches = sunlit(scene)
    minute = max(
        (m for m, found in patches.items() if len(found) > 1),
        key=lambda m: sum(shapely.Polygon(p.corners).area for p in patches[m]),
    )
    scene = with_hour(scene, minute)
    draw = np.random.default_rng(2)
    shapes = shapely.union_all([shapely.Polygon(p.corners) for p in patches[minute]])
    low, high = np.array(shapes.bounds[:2]) - 0.6, np.array(shapes.bounds[2:]) + 0.6
    toward = sun_direction(scene.sky.sun)
    told = {True: 0, False: 0}
    for _ in range(40):
        place = [*draw.uniform(low, high), 0.0]
        point = shapely.Point(place[:2])
        # A window is looked through by cells of 20 cm: what lies by an edge is not told.
        if shapes.boundary.distance(point) < 0.3 or not (0 < place[0] < 5 and 0 < place[1] < 6):
            continue
        here = shapes.contains(point)
        told[here] += 1
        lit = level(scene, "@sun", [*place[:2], 0.02], toward) > 0.5 * FULL_SUN
        assert lit == here
    assert told[True] and told[False]


def upstairs(seed, openings=(WINDOW,)):
    """A room on an upper floor, and a camera somewhere in it that looks at the window: down at the
    land, up at the sky, or at both.
    """
    draw = np.random.default_rng(seed)
    room = {"width": 5, "depth": 6, "height": 3, "storey": 9.0, **dict.fromkeys(SIDES, BLACK)}
    land = {"reflectance": float(draw.uniform(0.1, 0.8))}
    at = [float(draw.uniform(1, 4)), float(draw.uniform(3, 5)), float(draw.uniform(0.4, 2.7))]
    camera = {"id": "a", "name": "A", "position": at, "aim": [2.5, 0, 1.5], "focal_length": 18}
    scene = setup(room={**room, "land": land}, cameras=[camera], openings=openings)
    corners = [[2.5 + i, 0, 1.5 + 0.7 * j] for i, j in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    return scene, shapely.Polygon(project(scene.cameras[0], corners))


@pytest.mark.parametrize("seed", range(8))
def test_all_that_a_window_shows_is_the_windows_be_it_land_or_sky(seed):
    scene, outline = upstairs(seed)
    picture = picture_of(scene)
    width, height = SIZE
    rows, columns = np.divmod(np.arange(width * height), width)
    middles = shapely.points((columns + 0.5) / width, (rows + 0.5) / height)
    within, near = (shapely.contains(outline.buffer(by / height), middles) for by in (-1.5, 1.5))
    counted = np.zeros(len(middles), bool)
    counted[picture.lamps["@sky"]] = True
    assert within.sum() > 100 and counted[within].all() and not counted[~near].any()
    # What is about the head in the frame is no window.
    assert not within[picture.parts["backdrop"]].any()


LIGHTS = [
    {**WINDOW, "id": f"w{k}", "along": 1.5 + 0.4 * (k + 0.5), "size": [0.38, 1.4]} for k in range(5)
]
"""The window in five lights with bars of 2 cm between them, thinner than a pixel."""


@pytest.mark.parametrize(
    ("openings", "few", "off"), [([WINDOW], 96, 0.015), (LIGHTS, 48, 0.03)], ids=["one", "five"]
)
@pytest.mark.parametrize("seed", range(6))
def test_a_window_is_as_bright_in_a_picture_of_few_pixels_as_of_many(seed, openings, few, off):
    scene, _ = upstairs(100 + seed, openings)
    world = build_world(scene)
    sky = next(s for s in sources(scene) if s.id == "@sky")

    def brightness(width):
        view = view_of(world, scene, scene.cameras[0], (width, width * 9 // 16))
        layer = render_layer(world, view, sky)
        image = layer.surfaces.reshape(-1, 3) @ LUMINANCE
        image[layer.seen] = image[layer.seen] * (1 - layer.cover) + layer.glow
        return image.mean()

    # Its edge runs through a twentieth of its pixels, and those it only half fills.
    assert brightness(few) == pytest.approx(brightness(480), rel=off)


@pytest.mark.parametrize("seed", range(4))
def test_the_sun_is_seen_where_it_stands_and_as_large_as_it_is(seed):
    draw = np.random.default_rng(seed)
    sun = {"azimuth": float(draw.uniform(0, 360)), "elevation": float(draw.uniform(20, 60))}
    toward = sun_direction(Sun(**sun))
    here = np.array([2.5, 3.0, 1.5])

    def seen(aside):
        camera = {"id": "a", "name": "A", "position": here.tolist(), "focal_length": 200}
        camera["aim"] = (here + 5 * toward + aside * np.array([toward[1], -toward[0], 0])).tolist()
        room = {"width": 5, "depth": 6, "height": 3, "outdoors": True}
        scene = setup(sun=sun, kind="clear", openings=(), room=room, cameras=[camera])
        of = next(s for s in sources(scene) if s.id == "@sun")
        view = view_of(build_world(scene), scene, scene.cameras[0], (192, 108))
        return scene, view, render_layer(build_world(scene), view, of)

    scene, view, layer = seen(float(draw.uniform(-0.2, 0.2)))
    a_pixel = 4 * view.spread[0] * view.spread[1] / (192 * 108)
    assert layer.cover.sum() * a_pixel == pytest.approx(np.pi * 0.00465**2, rel=0.05)
    rows, columns = np.divmod(layer.seen, 192)
    middle = np.average([columns + 0.5, rows + 0.5], axis=1, weights=layer.cover)
    where = project(scene.cameras[0], [here + 10 * toward])[0]
    assert middle == pytest.approx(np.array(where) * (192, 108), abs=0.3)
    # Beside the frame it is not in it.
    assert not seen(1.5)[2].cover.any()
