"""Hot patches of walls as sources of their own: they send all that they have, from where it is."""

import numpy as np
import pytest
import shapely

from moth.colour import LUMINANCE
from moth.tests.scenes import setup
from moth.tests.test_outline import any_outline, outlined, person_in
from moth.tests.test_properties import beam
from moth.transport import light_of, sources
from moth.transport.shots import shots_of
from moth.world import build_world

SIDES = ("floor", "ceiling", "north", "south", "east", "west")


@pytest.fixture(params=range(6))
def lit(request):
    """A dark room of any outline, level or sloped, and a narrow beam on any of its surfaces."""
    draw = np.random.default_rng(request.param + 70)
    corners = any_outline(request.param + 70)
    spot = shapely.Polygon(corners).buffer(-0.5).representative_point()
    turn, rise = draw.uniform(0, 2 * np.pi), draw.uniform(-1.2, 0.8)
    lamp = {
        "id": "k",
        "name": "k",
        "head": "point-600",
        "ies": beam(9000, float(draw.uniform(4, 12))),
        "position": [spot.x, spot.y, 1.7],
        "aim": [spot.x + np.cos(turn), spot.y + np.sin(turn), 1.7 + rise],
    }
    scene = setup(
        room=outlined(
            corners, rise=1.0 * (request.param % 2), **{s: {"reflectance": 0.1} for s in SIDES}
        ),
        figures=person_in(corners),
        units=[lamp],
    )
    world, source = build_world(scene), sources(scene)[0]
    light = light_of(world, source)
    hot = [glow for glow in light.glows if glow.sheet < 0]
    assert hot
    return world, shots_of(world, source.emitters[0]), light, hot


def test_hot_patches_send_all_that_they_have(lit):
    world, _, light, hot = lit
    p = world.patches
    sent = np.zeros((len(p), 3))
    for glow in hot:
        np.add.at(sent, glow.patches, np.pi * glow.cells.flux)
        assert not light.rest[glow.patches].any()
    mine = np.unique(np.concatenate([glow.patches for glow in hot]))
    assert sent[mine] == pytest.approx(light.radiosity[mine] * p.area[mine, None], rel=1e-6)


def test_hot_patches_send_from_where_they_are_and_where_the_beam_is(lit):
    world, shots, light, hot = lit
    p, mesh = world.patches, world.mesh
    told, count, _ = shots.over(len(p))
    beams, tried = shots.middles(len(p)), 0
    for glow in hot:
        for patch in np.unique(glow.patches):
            mine = glow.patches == patch
            sends = glow.cells.flux[mine] @ LUMINANCE
            middle = glow.cells.middle[mine][sends > 0]
            corners = mesh.vertices[mesh.faces[p.triangle[p.start[patch] : p.start[patch + 1]]]]
            low, high = corners.min((0, 1)) - 2e-3, corners.max((0, 1)) + 2e-3
            assert (middle >= low).all() and (middle <= high).all()
            # Nearly all that a dark patch sends is the lamp's own light: its middle is the beam's.
            if count[patch] > 400 and told[patch] * 0.1 > 0.9 * np.pi * sends.sum():
                tried += 1
                own = (sends[sends > 0, None] * middle).sum(0) / sends.sum()
                assert np.linalg.norm(own - beams[patch]) < np.linalg.norm(high - low) / 8
    assert tried
