"""How radiosity changes over patches, as meters close to a wall see it."""

from dataclasses import replace

import numpy as np
import pytest

from moth.tests.scenes import BASE, Held, setup
from moth.transport import light_of, meter_light, sources
from moth.transport.exchange import samples
from moth.transport.slopes import slopes_of
from moth.world import build_world

UNIT = [{**BASE["units"][0], "position": [3, 5, 2]}]


@pytest.mark.parametrize("seed", range(3))
def test_an_even_slope_is_found(seed):
    """Radiosity that is linear in place: each patch of a wall has its gradient along the wall."""
    draw = np.random.default_rng([seed, 3])
    world = build_world(setup(units=[]))
    p, mesh = world.patches, world.mesh
    gradient = draw.uniform(-1, 1, (3, 3))
    radiosity = 30 + p.middle @ gradient
    found = slopes_of(world, radiosity, np.zeros(len(p), bool))
    first = p.triangle[p.start[:-1]]
    normal = mesh.flat[first]
    inner = (mesh.body[first] == 0) & (
        (np.abs(p.middle - [3, 3.5, 1.5]) < [2.6, 3.1, 1.1]).sum(1) == 2
    )
    along = gradient[None] - normal[:, :, None] * (normal @ gradient)[:, None]
    assert inner.sum() > 300
    assert np.abs(found[inner] - along[inner]).max() < 0.02 * np.abs(gradient).max()
    # What has been taken out has no slope, and gives its neighbours none.
    taken = mesh.flat[first][:, 2] > 0.5
    assert not slopes_of(world, np.where(taken[:, None], 0, radiosity), taken)[taken].any()


def test_a_meter_by_a_wall_reads_what_the_wall_sends_place_by_place():
    """A wall that sends what a lamp 0.7 to 1.5 m off brings it, discs a hand from it: an integral
    over the wall. By patches that are even they are off by 4 % rms.
    """
    off = np.array([by_a_wall(seed) for seed in range(12)])
    rms = np.sqrt((off**2).mean(0))
    assert rms[0] < 0.018 and np.abs(off[:, 0]).max() < 0.045
    assert rms[1] > 2 * rms[0]


def by_a_wall(seed):
    """Errors of a meter drawn at random: as it is, and by even patches."""
    draw = np.random.default_rng([seed, 19])
    lamp = np.array([draw.uniform(2, 4), draw.uniform(0.7, 1.5), draw.uniform(1, 2)])
    scene = setup(units=UNIT)
    world = build_world(scene)
    p, mesh = world.patches, world.mesh
    first = p.triangle[p.start[:-1]]
    wall = np.flatnonzero((mesh.body[first] == 0) & (mesh.flat[first][:, 1] > 0.99))

    def sent(spot):
        off = spot - lamp
        return 1000 * lamp[1] ** 2 / (off**2).sum(-1) ** 2

    radiosity = np.zeros((len(p), 3))
    places, _ = samples(world, wall, 64)
    radiosity[wall] = sent(places).reshape(-1, 64).mean(1)[:, None]
    nothing = np.zeros(len(p), bool)
    light = replace(
        light_of(world, sources(scene)[0]),
        emitters=(),
        glows=(),
        radiosity=radiosity,
        rest=radiosity,
        slopes=slopes_of(world, radiosity, nothing),
    )
    place = np.array(
        [lamp[0] + draw.uniform(-1.5, 1.5), draw.uniform(0.1, 0.25), draw.uniform(1, 2)]
    )
    way = np.array([draw.uniform(-1, 1), -1.0, draw.uniform(-1, 1)])
    way /= np.linalg.norm(way)

    def read(light):
        return sum(meter_light(world, light, Held(tuple(place), tuple(way))).values())[1]

    u, v = ((np.arange(n) + 0.5) / n for n in (1200, 600))
    x, z = (k.ravel() for k in np.meshgrid(6 * u, 3 * v, indexing="ij"))
    spot = np.stack([x, 0 * x, z], 1)
    to = spot - place
    far = np.linalg.norm(to, axis=1)
    given = sent(spot) / np.pi * np.maximum(to @ way, 0) * np.maximum(-to[:, 1], 0) / far**4
    expected = given.sum() * (6 / 1200) * (3 / 600)
    even = replace(light, slopes=np.zeros_like(light.slopes))
    return read(light) / expected - 1, read(even) / expected - 1
