"""Where cloth sends what fell on it from many sides, against a sum over all the ways; light past
cloth is counted once.
"""

import numpy as np
import pytest

from moth.engine.sampling import lobe_densities
from moth.materials import MATERIALS, lobe_concentration
from moth.metering.marks import Place
from moth.photometry import from_function, write_ies
from moth.tests.test_exchange import lambert, room, sheet
from moth.transport import meter_light, sources
from moth.transport.light import light_of
from moth.transport.patterns import pattern_densities, sorted_by_way, spread
from moth.transport.walks import hemisphere
from moth.world import build_world


def through_an_opening(rng):
    """Ways of light that comes by a bright rectangle, drawn, and their shares."""
    middle, half = rng.uniform(-1, 1, 2), rng.uniform(0.2, 1.2, 2)
    ways = np.concatenate([middle + rng.uniform(-1, 1, (4000, 2)) * half, np.ones((4000, 1))], 1)
    far = np.linalg.norm(ways, axis=1)
    return ways / far[:, None], 1 / far**4 / (1 / far**4).sum()


@pytest.mark.parametrize("width, within", [(9, 0.075), (12, 0.035), (16, 0.02), (30, 0.01)])
@pytest.mark.parametrize("seed", range(4))
def test_a_pattern_is_the_sum_of_a_lobe_for_every_way(width, within, seed):
    rng = np.random.default_rng(seed)
    ways, share = through_an_opening(rng)
    kappa = lobe_concentration(width)
    pattern = spread(sorted_by_way(share[None], ways[None]), kappa)
    asked = rng.normal(size=(3000, 3))
    asked[:, 2] = np.abs(asked[:, 2])
    asked /= np.linalg.norm(asked, axis=1, keepdims=True)
    got = pattern_densities(pattern, np.zeros(len(asked), int), asked)
    exact = lobe_densities(kappa, asked @ ways.T) @ share
    assert np.sqrt(((got - exact) ** 2).sum() / (exact**2).sum()) < within
    assert got.sum() == pytest.approx(exact.sum(), rel=0.005)


def read(scene, position, direction, receiver="disc"):
    world, place = build_world(scene), Place("m", "m", position, direction, receiver)
    return sum(
        sum(meter_light(world, light_of(world, source), place).values())[1]
        for source in sources(scene)
    )


@pytest.mark.parametrize("net", ["net-single", "net-double"])
@pytest.mark.parametrize("glowing", ["muslin-bleached", "silk", "grid-full"])
def test_a_net_before_a_glowing_cloth_takes_its_share_and_no_less(net, glowing):
    # A net only lets through: what the cloth behind it sends falls off by that share. It was
    # counted with the cloth's glow and with what is seen past the net: half as much again.
    lamp = lambert(2000, (0.4, 0.4), [3, 5.5, 1.5], [3, 0, 1.5])
    cloth = sheet(glowing, [3, 4.6, 1.5], [3, 0, 1.5], [0.8, 0.8], "frame")
    held = sheet(net, [3, 4.0, 1.5], [3, 0, 1.5], [1.8, 1.8], "frame", "n")
    bare, behind = (
        read(room(0.0, units=[lamp], grip=grip), (3.0, 2.5, 1.5), (0.0, 1.0, 0.0))
        for grip in ([cloth], [cloth, held])
    )
    assert behind / bare == pytest.approx(MATERIALS[net].straight, rel=0.02)


@pytest.mark.parametrize("seed", range(6))
def test_a_small_bright_spot_lights_a_ceiling_as_its_place_says(seed):
    # A beam on the floor of a hall, drawn at random: the sum over the ceiling of what the spot
    # gives it and it gives the meter. All else is nearly black, so that light goes no further. A
    # ceiling's patch sees such a spot by a ray or none.
    rng = np.random.default_rng(seed)
    wide, deep, high, grey = 16.0, 14.0, float(rng.uniform(2.6, 4.0)), 0.03
    spot = np.array([rng.uniform(3, 13), rng.uniform(3, 11), 0.0])
    meter = np.array([rng.uniform(3, 13), rng.uniform(3, 11), 1.2])
    narrow = from_function(lambda c, g: 20_000.0 * (g < 2.5))
    lamp = {
        **lambert(1, (0.0, 0.0), [spot[0], spot[1], 2.4], spot.tolist()),
        "ies": write_ies(narrow, (0.0, 0.0), "narrow beam"),
    }
    black = {side: {"reflectance": 0.0} for side in ("north", "south", "east", "west")}
    plain = {side: {"reflectance": grey} for side in ("floor", "ceiling")}
    scene = room(
        units=[lamp], room={"width": wide, "depth": deep, "height": high, **black, **plain}
    )
    world = build_world(scene)
    light = light_of(world, sources(scene)[0])
    flux = float((light.straight[:, 1] * world.patches.area).sum())
    x, y = np.meshgrid((np.arange(320) + 0.5) / 320 * wide, (np.arange(280) + 0.5) / 280 * deep)
    from_spot = (x - spot[0]) ** 2 + (y - spot[1]) ** 2 + high**2
    to_meter = (x - meter[0]) ** 2 + (y - meter[1]) ** 2 + (high - 1.2) ** 2
    ceiling = grey * flux / np.pi * high**2 / from_spot**2
    expected = grey / np.pi * (ceiling * (high - 1.2) ** 2 / to_meter**2).sum() * 0.05**2
    assert read(scene, tuple(meter), (0.0, 0.0, 1.0)) == pytest.approx(expected, rel=0.03)


@pytest.mark.parametrize("seed", range(8))
def test_a_bright_spot_in_a_corner_gives_the_wall_beside_it_its_share(seed):
    """A beam on the floor a hand to a step from a wall of a hall: what falls on that wall, against
    the factor between a point and a rectangle square to it (Howell, B-5).
    """
    rng = np.random.default_rng([seed, 11])
    wide, deep, high = rng.uniform(10, 20), rng.uniform(10, 20), rng.uniform(3, 6)
    off, along = rng.uniform(0.2, 1.2), rng.uniform(2, deep - 2)
    narrow = from_function(lambda c, g: 20_000.0 * (g < 2.0))
    lamp = {
        **lambert(1, (0.0, 0.0), [off, along, 2.4], [off, along, 0.0]),
        "ies": write_ies(narrow, (0.0, 0.0), "narrow beam"),
    }
    black = {side: {"reflectance": 0.0} for side in ("north", "south", "east", "ceiling")}
    lit = {"floor": {"reflectance": 0.8}, "west": {"reflectance": 0.02}}
    size = {"width": float(wide), "depth": float(deep), "height": float(high)}
    scene = room(units=[lamp], room={**size, **black, **lit})
    world = build_world(scene)
    light, p = light_of(world, sources(scene)[0]), world.patches
    first = p.triangle[p.start[:-1]]
    middle = world.mesh.vertices[world.mesh.faces[first]].mean(1)
    wall = (world.mesh.body[first] == 0) & (middle[:, 0] < 1e-6)
    arrived = light.radiosity[:, 1] * p.area / 0.02
    flux = float((light.straight[:, 1] * p.area).sum())
    beyond = np.hypot(off, high)
    share = sum(
        np.arctan(b / off) - off / beyond * np.arctan(b / beyond) for b in (along, deep - along)
    ) / (2 * np.pi)
    assert arrived[wall].sum() == pytest.approx(0.8 * flux * share, rel=0.04)


def test_steep_and_flat_rays_leave_all_over_a_patch():
    # The first half of a patch's places lies in its first triangle.
    ways = np.empty((256, 3))
    hemisphere(np.array([[0.0, 0.0, 1.0]]), 256, False, 0, ways)
    assert ways[:128, 2].mean() == pytest.approx(ways[128:, 2].mean(), abs=0.03)
