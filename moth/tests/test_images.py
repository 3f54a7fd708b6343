"""Light in lobes by way of a mirror, against the same set-up unfolded about it."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.materials import MATERIALS
from moth.metering.marks import Place
from moth.tests.scenes import BLACK_ROOM, setup
from moth.transport import light_of, meter_light, sources
from moth.world import build_world

GLASS = 0.05
"""How far the mirror is off the south wall [m]."""


def drawn(seed):
    """A lamp behind a cloth that passes it in a lobe, in a black room: the units and the cloth."""
    rng = np.random.default_rng(seed)
    lamp = np.array([rng.uniform(2, 4), rng.uniform(4.2, 5.2), rng.uniform(1.2, 2.0)])
    aim = np.array([rng.uniform(2.4, 3.6), 0.0, rng.uniform(1.0, 1.8)])
    middle = lamp + rng.uniform(0.25, 0.45) * (aim - lamp)
    cloth = {
        "id": "c",
        "name": "c",
        "kind": "frame",
        "material": str(rng.choice(["opal", "frost-light", "frost-heavy", "grid-quarter"])),
        "position": middle.tolist(),
        "aim": aim.tolist(),
        "size": [1.2, 1.2],
    }
    unit = {
        "id": "k",
        "name": "k",
        "head": "panel-small",
        "position": lamp.tolist(),
        "aim": aim.tolist(),
    }
    mark = np.array([rng.uniform(2.2, 3.8), rng.uniform(0.6, 1.1), rng.uniform(1.0, 1.8)])
    return [unit], cloth, mark


def read(units, grip, place, facing):
    scene = setup(
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
        figures=[{"id": "s", "name": "s", "position": [0.5, 6.5]}],
        units=units,
        grip=grip,
        furniture=[],
    )
    world = build_world(scene)
    light = light_of(world, sources(scene)[0])
    meter = Place("m", "m", tuple(place), tuple(facing), "disc")
    return float(sum(meter_light(world, light, meter).values()) @ LUMINANCE)


@pytest.mark.parametrize("seed", range(8))
def test_a_mirror_shows_what_a_cloth_sends_in_lobes(seed):
    units, cloth, mark = drawn(seed)
    glass = {
        "id": "m",
        "name": "m",
        "kind": "mirror",
        "material": "mirror",
        "position": [3, GLASS, 1.5],
        "aim": [3, 3, 1.5],
        "size": [5.5, 2.8],
    }
    # Turned to the glass, the meter has the cloth behind it.
    seen = read(units, [cloth, glass], mark, (0, -1, 0))
    beyond = np.array([mark[0], 2 * GLASS - mark[1], mark[2]])
    # Unfolded: the meter stands as far behind where the glass was, before which there is a room.
    shift = np.array([0, 1.5, 0.0])
    moved = [
        {**u, "position": (u["position"] + shift).tolist(), "aim": (u["aim"] + shift).tolist()}
        for u in units
    ]
    there = {k: (cloth[k] + shift).tolist() for k in ("position", "aim")}
    whole = read(moved, [{**cloth, **there}], beyond + shift, (0, 1, 0))
    assert seen == pytest.approx(MATERIALS["mirror"].mirror * whole, rel=0.03)
