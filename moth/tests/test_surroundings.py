"""What is seen outside, where all gives light to all, against paths followed one by one."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.document import bare
from moth.transport import sources
from moth.transport.sources import FULL_SKY, FULL_SUN, sky_luminance, sun_direction
from moth.world.surroundings import OUTER_WALLS, surroundings_of

WINDOW = {"id": "w", "name": "Window", "wall": "south", "along": 2.5, "up": 1.5, "size": [2.0, 1.4]}
EYE = np.array([2.5, -0.35, 1.5])
"""Before the window, past the wall that it stands in [m]."""


def paint(draw, low, high):
    tone = float(draw.uniform(low, high))
    return {"reflectance": tone, "colour": [float(k) for k in draw.uniform(0.3, 1, 3)]}


def albedo(surface):
    colour = np.array(surface["colour"])
    return np.minimum(colour * surface["reflectance"] / (LUMINANCE @ colour), 0.95)


def drawn_yard(seed):
    """A room at a yard with one to three boxes in it; their corners and the paints of all."""
    draw = np.random.default_rng(seed)
    storey = float(draw.choice([0, 0, 3]))
    boxes = []
    for k in range(draw.integers(1, 4)):
        size = draw.uniform((3, 3, 2.5), (12, 9, 9))
        middle = [draw.uniform(-10, 15), draw.uniform(-18, -5) - size[1] / 2, -storey]
        place = {"position": [float(k) for k in middle], "size": [float(k) for k in size]}
        boxes.append(
            {"id": f"b{k}", "name": f"B{k}", "kind": "box", "surface": paint(draw, 0.05, 0.85)}
            | place
        )
    land = paint(draw, 0.05, 0.8)
    sun = {"azimuth": float(draw.uniform(0, 360)), "elevation": float(draw.uniform(10, 60))}
    kind = str(draw.choice(["overcast", "clear"]))
    room = {"width": 5, "depth": 6, "height": 3, "storey": storey, "land": land}
    scene = bare(openings=[WINDOW], furniture=boxes, room=room, sky={"kind": kind, "sun": sun})
    half = [np.array([b["size"][0] / 2, b["size"][1] / 2, 0]) for b in boxes]
    low = [np.array(b["position"]) - h for b, h in zip(boxes, half)]
    high = [np.array(b["position"]) + h + [0, 0, b["size"][2]] for b, h in zip(boxes, half)]
    # The house itself, with walls of 0.3 m, from the land to over its ceiling.
    low, high = np.array([*low, [-0.3, -0.3, -storey]]), np.array([*high, [5.3, 6.3, 3.3]])
    paints = np.array([*(albedo(b["surface"]) for b in boxes), np.full(3, OUTER_WALLS)])
    return scene, (low, high, paints), (-storey, albedo(land)), draw


def first_box(origins, ways, low, high):
    """Distance, number and normal of the first box that rays meet (Kay & Kajiya 1986)."""
    far, which = np.full(len(origins), np.inf), np.full(len(origins), -1)
    normal = np.zeros((len(origins), 3))
    rows = np.arange(len(origins))
    with np.errstate(divide="ignore", invalid="ignore"):
        for k, (a, b) in enumerate(zip(low, high, strict=True)):
            one, other = (a - origins) / ways, (b - origins) / ways
            into, out = np.minimum(one, other), np.maximum(one, other).min(1)
            axis, into = into.argmax(1), into.max(1)
            hit = (into < out) & (into > 1e-6) & (into < far)
            far[hit], which[hit] = into[hit], k
            normal[hit] = 0
            normal[rows[hit], axis[hit]] = -np.sign(ways[rows[hit], axis[hit]])
    return far, which, normal


def followed(ways, boxes, land, scene, draw, paths=1200, orders=7):
    """Luminance along ways from the eye by the full sky and the full sun, (n,) each [cd/m^2]."""
    low, high, paints = boxes
    ground, soil = land
    toward = sun_direction(scene.sky.sun)
    steps = (np.arange(90) + 0.5) / 90
    ring = np.linspace(0, 2 * np.pi, 73)[:-1] + 0.02
    up, turn = (k.ravel() for k in np.meshgrid(np.sqrt(steps), ring))
    dome = np.stack([np.sqrt(1 - up**2) * np.cos(turn), np.sqrt(1 - up**2) * np.sin(turn), up], 1)
    # Spread by the cosine: the mean of these is the level of the ground over pi.
    zenith = FULL_SKY / np.pi / sky_luminance(scene.sky, dome).mean()

    way, place = np.repeat(ways, paths, axis=0), np.tile(EYE, (len(ways) * paths, 1))
    left, alive = np.ones((len(way), 3)), np.ones(len(way), bool)
    sky, sun = np.zeros((len(way), 3)), np.zeros((len(way), 3))
    for _ in range(orders):
        far, box, normal = first_box(place, way, low, high)
        landing = np.where(
            way[:, 2] < 0, (place[:, 2] - ground) / np.maximum(-way[:, 2], 1e-12), 9e9
        )
        flat = landing < np.minimum(far, 9e8)
        away = alive & ~flat & (box < 0)
        sky[away] += left[away] * (zenith * sky_luminance(scene.sky, way[away]))[:, None]
        alive = alive & ~away
        normal[flat] = [0, 0, 1]
        step = np.where(alive, np.where(flat, landing, far), 0.0)
        place = place + step[:, None] * way + 1e-5 * normal
        left = left * np.where(flat[:, None], soil, paints[np.maximum(box, 0)])
        lit = alive & (first_box(place, np.tile(toward, (len(way), 1)), low, high)[1] < 0)
        sun[lit] += left[lit] * (FULL_SUN / np.pi * np.maximum(normal[lit] @ toward, 0))[:, None]
        u, turn = draw.random(len(way)), draw.random(len(way)) * 2 * np.pi
        other = np.where(np.abs(normal[:, 2:]) < 0.9, [[0.0, 0, 1]], [[1.0, 0, 0]])
        across = np.cross(other, normal)
        across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-12)
        flat = np.cos(turn)[:, None] * across + np.sin(turn)[:, None] * np.cross(normal, across)
        way = np.sqrt(u)[:, None] * flat + np.sqrt(1 - u)[:, None] * normal
    return tuple((k.reshape(len(ways), paths, 3).mean(1)) for k in (sky, sun))


def drawn_ways(draw, count=40):
    """Ways out of the window, more of them down than up."""
    ways = draw.normal(size=(count, 3)) * [1, 1, 0.5] - [0, 0, 0.1]
    ways[:, 1] = -np.abs(ways[:, 1]) - 0.3
    return ways / np.linalg.norm(ways, axis=1, keepdims=True)


def outside_seen(scene, ways):
    """What we say is seen along ways from the eye by the full sky and the full sun, and whether it
    is land or a solid.
    """
    found = {}
    for source in sources(scene):
        around = next((e.beyond for e in source.emitters if e.beyond is not None), None)
        # No sunlit thing before the window: it is dark there.
        found[source.id] = around and around.seen(np.tile(EYE, (len(ways), 1)), ways)
    sky, kind = found["@sky"]
    sun = np.zeros_like(sky) if found.get("@sun") is None else found["@sun"][0]
    return sky, sun, kind > 0


@pytest.mark.parametrize("seed", range(100, 108))
def test_a_drawn_yard_is_lit_as_paths_say(seed):
    scene, boxes, land, draw = drawn_yard(seed)
    ways = drawn_ways(draw)
    sky, sun, solid = outside_seen(scene, ways)
    of_sky, of_sun = followed(ways, boxes, land, scene, draw)
    ours, theirs = ((a + b)[solid] for a, b in ((sky, sun), (of_sky, of_sun)))
    # Shadows have edges within the two centimetres that our rays set out from a face.
    wrong = np.abs(ours - theirs) @ LUMINANCE / np.maximum(theirs @ LUMINANCE, 0.02 * FULL_SUN / 9)
    # What lies within a piece of the solids is told by its mean: by a sunlit roof, say.
    assert np.mean(wrong < 0.1) >= 0.85
    # Colour is given with the light; paths themselves scatter by 2 %.
    assert ours.sum(0) == pytest.approx(theirs.sum(0), rel=0.05)


def test_a_pale_sunlit_house_lights_the_land_before_it():
    # The sun stands behind the viewer and shines on the front; the land before a black one is
    # darker. An endless front would give ground at its foot half of what it sends.
    def on_land(reflectance):
        front = {"id": "h", "name": "H", "kind": "box", "position": [2.5, -22, 0]}
        front |= {"size": [200, 20, 60], "surface": {"reflectance": reflectance}}
        sun = {"azimuth": 0, "elevation": 30}
        room = {"width": 5, "depth": 6, "height": 3, "land": {"reflectance": 0.2}}
        scene = bare(openings=[WINDOW], furniture=[front], room=room, sky={"sun": sun})
        # Beside the house's own shadow, a metre before the front.
        way = np.array([[9.0, -10.6, -1.5]])
        return outside_seen(scene, way / np.linalg.norm(way))[1][0] @ LUMINANCE

    straight = 0.2 * FULL_SUN * 0.5 / np.pi
    sent = 0.8 * FULL_SUN * np.cos(np.radians(30))
    assert on_land(0.0) == pytest.approx(straight, rel=0.02)
    # From a metre off it fills nearly half of what the ground sees by the cosine; what the ground
    # gives back to it adds to that.
    more = on_land(0.8) - on_land(0.0)
    assert 0.2 / np.pi * sent * 0.46 < more < 0.2 / np.pi * sent * 0.62


def test_no_piece_sees_more_than_all_that_it_looks_at():
    # What a piece sees of the others, and what they hide of sky and land, is no more than all that
    # it looks at.
    for seed in range(4):
        scene, *_ = drawn_yard(seed)
        around = surroundings_of(scene)
        parts = around.exchange.sum(axis=1)
        hidden = np.bincount(around.hidden[0], around.hidden[2], len(parts))
        assert parts.max() < 1 + 1e-9 and hidden.max() < 1 + 1e-9
        assert around.exchange.min() >= 0


def test_the_land_is_seen_in_its_own_colour():
    grass = {"reflectance": 0.12, "colour": [0.5, 1.0, 0.25]}
    room = {"width": 5, "depth": 6, "height": 3, "land": grass}
    scene = bare(openings=[WINDOW], room=room, sky={"kind": "overcast"})
    way = np.array([[0.0, -1.0, -0.02]])
    sky, _, solid = outside_seen(scene, way / np.linalg.norm(way))
    # Seventy metres off nothing hides the sky from it.
    assert solid.all() and sky[0] == pytest.approx(albedo(grass) * FULL_SKY / np.pi, rel=0.01)


def test_paint_and_wind_change_the_light_and_not_what_is_seen():
    def around(paint, ground, wind=None):
        house = {"id": "h", "name": "H", "position": [2, -9, 0], "size": [8, 4, 6]}
        house["surface"] = {"reflectance": paint}
        room = {"land": {"reflectance": ground}, "water": wind}
        return surroundings_of(bare(furniture=[house], room=room))

    one, other, wet = around(0.2, 0.1), around(0.7, 0.5), around(0.2, 0.1, 4.0)
    assert one.exchange is other.exchange is wet.exchange
    assert len({a.key for a in (one, other, wet, around(0.2, 0.5), around(0.7, 0.1))}) == 5
    for found, paint, ground in ((one, 0.2, 0.1), (other, 0.7, 0.5)):
        assert found.albedo[: found.solids] == pytest.approx(paint, abs=0.01)
        assert found.land.albedo == pytest.approx(ground)
        # The house that the room is in keeps its own.
        assert found.albedo[found.solids :] == pytest.approx(one.albedo[one.solids :])
    assert one.land.wind is None and wet.land.wind == 4.0
    # Carried a step, it sees something else.
    moved = bare(furniture=[{"id": "h", "name": "H", "position": [3, -9, 0], "size": [8, 4, 6]}])
    assert surroundings_of(moved).exchange is not one.exchange
