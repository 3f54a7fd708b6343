"""Water about the house: what it mirrors, against facets drawn one by one and sums over a pane."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.document import Sky, bare
from moth.metering.marks import Place
from moth.transport import meter_light, sources
from moth.transport.light import light_of
from moth.transport.sources import FULL_SKY, FULL_SUN, sky_luminance, sun_direction
from moth.transport.water import Water, fresnel, slope_variance
from moth.world import build_world

SIDES = ("floor", "ceiling", "north", "south", "east", "west")
BLACK = {"reflectance": 0.0}
WINDOW = {"id": "w", "name": "Window", "wall": "south", "along": 2.5, "up": 1.5, "size": [2.0, 1.4]}


def drawn_facets(draw, wind, back, count=400_000):
    """Unit normals of drawn facets, and how much of what is seen from a way each is."""
    slopes = draw.normal(size=(count, 2)) * np.sqrt(slope_variance(wind) / 2)
    normals = np.column_stack([-slopes, np.ones(count)])
    facing = np.maximum(normals @ back, 0)
    return normals / np.linalg.norm(normals, axis=1, keepdims=True), facing / facing.sum()


def way_of(azimuth, tilt):
    a, t = np.radians(azimuth), np.radians(tilt)
    return np.array([np.sin(a) * np.cos(t), np.cos(a) * np.cos(t), np.sin(t)])


def test_flat_water_mirrors_by_fresnel():
    straight, brewster = fresnel(np.array([1.0, np.cos(np.arctan(1.34))]))
    assert straight == pytest.approx((0.34 / 2.34) ** 2)
    # At Brewster's angle one of the two kinds of light is not mirrored at all.
    n2 = 1.34**2
    assert brewster == pytest.approx(((1 - n2) / (1 + n2)) ** 2 / 2)


@pytest.mark.parametrize("seed", range(8))
def test_a_sea_under_a_sky_is_as_bright_as_drawn_facets_say(seed):
    draw = np.random.default_rng(seed)
    wind, tilt = float(draw.uniform(0, 12)), float(draw.uniform(2, 80))
    kind = ["overcast", "clear"][seed % 2]
    sky = Sky(kind=kind, sun={"azimuth": 140, "elevation": 35})
    ours = Water(wind).of_sky(lambda ways: sky_luminance(sky, ways))
    way = -way_of(draw.uniform(0, 360), tilt)
    normals, share = drawn_facets(draw, wind, -way)
    mirrored = way - 2 * (normals @ way)[:, None] * normals
    # What would go down meets the next wave, that mirrors it up: as low as may be.
    mirrored[:, 2] = np.maximum(mirrored[:, 2], 0.01)
    mirrored /= np.linalg.norm(mirrored, axis=1, keepdims=True)
    theirs = share @ (fresnel(-normals @ way) * sky_luminance(sky, mirrored))
    assert float(ours(way[None])[0]) == pytest.approx(theirs, rel=0.04)


@pytest.mark.parametrize("seed", range(8))
def test_the_glitter_is_as_bright_as_facets_that_show_the_sun(seed):
    draw = np.random.default_rng(100 + seed)
    wind = float(draw.uniform(1, 12))
    sun = way_of(180, draw.uniform(15, 70))
    # An eye that looks toward the sun's image, somewhat beside it.
    back = way_of(draw.uniform(-15, 15), np.degrees(np.arcsin(sun[2])) + draw.uniform(-10, 10))
    normals, share = drawn_facets(draw, wind, back, 4_000_000)
    mirrored = 2 * (normals @ back)[:, None] * normals - back
    # A sun of 2.5 degrees about its middle, as bright as gives one lx square to it.
    cone = np.cos(np.radians(2.5))
    hit = mirrored @ sun > cone
    theirs = share[hit] @ fresnel(normals[hit] @ back) / (2 * np.pi * (1 - cone))
    ours = float(Water(wind).glitter(-back[None], sun)[0])
    assert ours == pytest.approx(theirs, rel=0.06)


@pytest.mark.parametrize("elevation", [40, 60, 80])
def test_water_mirrors_no_more_sun_than_comes_to_it(elevation):
    water, sun = Water(4.0), way_of(90, elevation)
    up, turn = (np.arange(400) + 0.5) / 400, (np.arange(720) + 0.5) / 720 * 2 * np.pi
    z, a = (k.ravel() for k in np.meshgrid(up, turn))
    flat = np.sqrt(1 - z * z)
    back = np.stack([flat * np.cos(a), flat * np.sin(a), z], 1)
    sent = (water.glitter(-back, sun) * z).mean() * 2 * np.pi
    normals, weights = water.facets
    facing = np.maximum(normals @ sun, 0)
    comes = weights @ (facing / normals[:, 2] * fresnel(facing))
    assert sent == pytest.approx(comes, rel=0.03)


def seaside(storey=2.0, wind=3.0, furniture=(), **sky):
    room = {"width": 5, "depth": 6, "height": 3, "storey": storey, "water": wind}
    return bare(
        room={**room, "land": BLACK, **dict.fromkeys(SIDES, BLACK)},
        openings=[WINDOW],
        furniture=list(furniture),
        figures=[{"id": "f", "name": "F", "position": [4.5, 5.5]}],
        sky={"level": FULL_SKY, **sky},
    )


def through_the_pane(place, direction, shown, n=300):
    """What a disc reads through the window of what is seen beyond it, along unit ways [lx]."""
    k = (np.arange(n) + 0.5) / n - 0.5
    x, z = np.meshgrid(2.5 + 2.0 * k, 1.5 + 1.4 * k)
    way = np.stack([x - place[0], 0 * x - place[1], z - place[2]], -1).reshape(-1, 3)
    far = np.linalg.norm(way, axis=1)
    way /= far[:, None]
    seen = way[:, 2] < 0
    light = np.zeros(len(way))
    light[seen] = shown(way[seen])
    cosine = np.maximum(way @ np.asarray(direction, float), 0)
    return float((light * cosine * -way[:, 1] / far**2).sum()) * 2.0 * 1.4 / n**2


@pytest.mark.parametrize(
    "azimuth, elevation, wind", [(180, 25, 3.0), (165, 40, 6.0), (200, 15, 8.0)]
)
def test_glitter_lights_a_ceiling(azimuth, elevation, wind):
    sun = {"azimuth": azimuth, "elevation": elevation}
    scene = seaside(wind=wind, kind="clear", sun=sun)
    toward = sun_direction(scene.sky.sun)
    world = build_world(scene)
    light = light_of(world, next(s for s in sources(scene) if s.id == "@sun"))
    # Under the ceiling, looking down and out: the sun itself does not come there.
    way = np.array([0.0, -0.8, -0.6])
    place = (2.4, 1.8, 2.8)
    ways = meter_light(world, light, Place("m", "m", place, tuple(way), "disc"))
    ours = sum(float(rgb @ LUMINANCE) for rgb in ways.values())
    water = Water(wind)
    theirs = through_the_pane(place, way, lambda d: FULL_SUN * water.glitter(d, toward))
    assert theirs > 100
    assert ours == pytest.approx(theirs, rel=0.06)


def test_a_front_stands_in_still_water():
    # Seen by mirroring as it is seen itself, weaker by Fresnel; above it the sky is.
    def shown(reflectance):
        front = {"id": "h", "name": "H", "kind": "box", "position": [2.5, -31, -2]}
        front |= {"size": [190, 20, 90], "surface": {"reflectance": reflectance}}
        scene = seaside(wind=0.0, furniture=[front], sun={"azimuth": 0, "elevation": 30})
        light = next(s for s in sources(scene) if s.id == "@sun")
        beyond = next(e.beyond for e in light.emitters if e.beyond is not None)
        down = np.array([[0.0, -1, -0.35]]) / np.linalg.norm([0, 1, 0.35])
        rgb, solid = beyond.seen(np.array([[9.0, -0.4, 1.5]]), down)
        assert solid.all()
        return rgb[0] @ LUMINANCE, -down[0, 2]

    lit, sine = shown(0.8)
    dark, _ = shown(0.1)
    front = (0.8 - 0.1) / np.pi * FULL_SUN * np.cos(np.radians(30))
    assert lit - dark == pytest.approx(front * fresnel(np.array([sine]))[0], rel=0.08)


def test_dry_land_mirrors_nothing():
    for wind, least in ((None, 0.0), (3.0, 0.3)):
        scene = seaside(wind=wind, kind="overcast")
        light = next(s for s in sources(scene) if s.id == "@sky")
        way = np.array([[0.0, -1.0, -0.05]]) / np.linalg.norm([0, 1, 0.05])
        rgb, _ = light.emitters[0].beyond.seen(np.array([[2.5, -0.4, 1.5]]), way)
        # Near the horizon a sea is a good part of the low sky, whose luminance is a third of the
        # zenith's: FULL_SKY is 7/9 pi of that.
        low = FULL_SKY / np.pi * 9 / 7 / 3
        assert least * low <= rgb[0] @ LUMINANCE <= (0.9 * low if least else 0.0)
