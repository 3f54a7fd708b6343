"""Light of cells followed from their side: its spread against closed forms, what falls on a cloth
that stands close to another, and small bright places seen through cloth.
"""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.engine.sampling import lobe_densities
from moth.materials import MATERIALS, lobe_concentration
from moth.transport import light_of, sources
from moth.transport.cast import lobe_ways
from moth.transport.exchange import samples
from moth.transport.patterns import NODES, drawn_ways, pattern_densities, spread
from moth.transport.shots import even_sequence
from moth.world import build_world

from .test_mechanisms import board, dark, reading, spot, unit


@pytest.mark.parametrize("width", [4.0, 9.0, 16.0, 34.0, 60.0])
def test_ways_of_a_lobe_spread_as_its_density_says(width):
    """The mean cosine to the axis, coth kappa - 1 / kappa (Fisher 1953), and no way is preferred
    about it.
    """
    kappa = lobe_concentration(width)
    axis = np.random.default_rng(int(width)).normal(size=3)
    axis /= np.linalg.norm(axis)
    u, v = even_sequence()[:, :2].T
    ways = lobe_ways(np.tile(axis, (len(u), 1)), np.full(len(u), kappa), u, v)
    assert np.linalg.norm(ways, axis=1) == pytest.approx(1, abs=1e-9)
    mean = ways.mean(0)
    off = 1 - mean @ axis
    assert off == pytest.approx(1 - (1 / np.tanh(kappa) - 1 / kappa), rel=0.01)
    assert np.linalg.norm(mean - (mean @ axis) * axis) < 0.02 * off**0.5


@pytest.mark.parametrize("seed", range(4))
def test_ways_drawn_from_a_pattern_are_as_many_as_it_sends(seed):
    """Parts of the half sphere, by an integral over the pattern's density (3 %)."""
    rng = np.random.default_rng(seed)
    bins = np.zeros((2, NODES, NODES))
    for _ in range(5):
        a, b = rng.integers(12, NODES - 12, 2)
        bins[1, a, b] += rng.random()
    patterns = spread(bins / bins[1].sum(), lobe_concentration(float(rng.uniform(12, 40))))
    u, v = even_sequence()[:, :2].T
    ways = drawn_ways(patterns, np.ones(len(u), int), u, v)
    z, turn = np.meshgrid((np.arange(400) + 0.5) / 400, (np.arange(800) + 0.5) / 800 * 2 * np.pi)
    r = np.sqrt(1 - z * z)
    grid = np.stack([r * np.cos(turn), r * np.sin(turn), z], 2).reshape(-1, 3)
    density = pattern_densities(patterns, np.ones(len(grid), int), grid)
    for axis in rng.normal(size=(6, 3)):
        part = float(density[grid @ axis > 0].sum() / density.sum())
        assert float((ways @ axis > 0).mean()) == pytest.approx(part, abs=0.015)


@pytest.mark.parametrize("seed", range(6))
def test_a_cloth_close_behind_another_gets_all_that_passes_it(seed):
    """A narrow beam through a cloth, a wider one one to ten centimetres behind: what passes
    straight and in lobes falls on it (3 %). Before, 25 places of each of its cells told a quarter
    less in one such room.
    """
    rng = np.random.default_rng(seed)
    first = MATERIALS[("tracing-paper", "opal", "frost-heavy")[seed % 3]]
    gap, half = float(np.exp(rng.uniform(np.log(0.01), np.log(0.1)))), float(rng.uniform(1, 6))
    lamp, way = np.array([4.0, 6.5, 2.0]), np.array([rng.uniform(-0.3, 0.3), -1, 0])
    way /= np.linalg.norm(way)
    place, aside = lamp + 0.5 * way, np.cross(way, rng.uniform(-0.1, 0.1, 3))
    grip = [
        board("a", first.key, place + aside, place + aside - way, (0.8, 0.9)),
        board("b", "dusty-pane", place + gap * way, place + gap * way - way, (1.6, 1.7)),
    ]
    scene = dark(units=[unit(spot(20_000, half, half + 0.05), lamp, lamp + way)], grip=grip)
    world = build_world(scene)
    light = light_of(world, sources(scene)[0])
    flux = (light.lit @ LUMINANCE) * world.patches.area
    on = [float(flux[world.patches.sheet == k].sum()) for k in range(2)]
    assert on[1] == pytest.approx(on[0] * (first.straight + first.forward), rel=0.03)


@pytest.mark.parametrize("seed", range(6))
def test_a_small_bright_place_is_seen_through_a_cloth_as_its_lobes_turn_it(seed):
    """A narrow beam on muslin, a frost, grid or silk behind it, a meter far off: what the muslin
    sends is told place by place of the cloth (8 %; of twelve others the rms was 3.6). By the
    meter's own rays alone, few of which met the cloth, it was up to 33 % off, 17 rms.
    """
    rng = np.random.default_rng(seed)
    cloth = MATERIALS[("frost-light", "grid-quarter", "silk", "opal")[seed % 4]]
    half, gap = float(rng.uniform(1.2, 3)), float(rng.uniform(0.12, 0.4))
    lamp, middle, size = [4, 7.2, 2], np.array([4.0, 5.5 - gap, 2.0]), (1.0, 0.9)
    meter = np.array([4, 1, 2]) + rng.uniform([-0.8, -0.5, -0.5], [0.8, 0.5, 0.5])
    grip = [
        board("m", "muslin-bleached", [4, 5.5, 2], [4, 7, 2], (1.2, 1.2)),
        board("c", cloth.key, middle, [4, 7, 2], size),
    ]
    scene = dark(units=[unit(spot(50_000, half, half + 0.05), lamp, [4, 4, 2])], grip=grip)
    world = build_world(scene)
    light, p = light_of(world, sources(scene)[0]), world.patches
    sent = light.radiosity @ LUMINANCE
    behind = np.flatnonzero((p.sheet == 0) & (p.side == -1) & (sent > 1e-4 * sent.max()))
    places, _ = samples(world, behind, 9)
    each = np.repeat(sent[behind] * p.area[behind] / np.pi / 9, 9)
    own = float((sent * p.area)[(p.sheet == 1) & (p.side == -1)].sum()) / np.pi
    expected = _through(cloth, (places, each), (middle, size), meter)
    expected += own * (middle[1] - meter[1]) ** 2 / ((middle - meter) @ (middle - meter)) ** 2
    assert reading(scene, meter, [0, 1, 0]) == pytest.approx(expected, rel=0.08)


def _through(cloth, lit, sheet, meter):
    """What a disc that looks along +y gets from places through a cloth, straight and in its lobe
    [lx], by a sum over the cloth.

    lit: places and their intensities straight ahead [cd]; sheet: middle and size, square to y.
    """
    middle, size = sheet
    a = (np.arange(200) + 0.5) / 200 - 0.5
    x, z = (m.ravel() for m in np.meshgrid(middle[0] + size[0] * a, middle[2] + size[1] * a))
    on = np.stack([x, np.full_like(x, middle[1]), z], 1)
    out = meter - on
    far = np.linalg.norm(out, axis=1)
    out /= far[:, None]
    toward = np.abs(out[:, 1]) / far**2 * (size[0] * size[1] / len(on))
    kappa, total = lobe_concentration(cloth.forward_width), 0.0
    for place, intensity in zip(*lit, strict=True):
        to = on - place
        d2 = (to * to).sum(1)
        level = intensity * to[:, 1] ** 2 / d2**2
        turned = lobe_densities(kappa, (to * out).sum(1) / np.sqrt(d2))
        total += cloth.forward * float((level * turned * toward).sum())
        direct = meter - place
        total += cloth.straight * intensity * direct[1] ** 2 / (direct @ direct) ** 2
    return total
