"""What leaks from heads, against closed forms, at places drawn at random."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.document import Unit
from moth.photometry import HEADS, lamp_of
from moth.tests.scenes import BLACK_ROOM, setup, ways
from moth.transport import light_of, render_layer, sources, view_of
from moth.transport.emitters import leak_emitter
from moth.transport.sources import unit_emitters
from moth.world import build_world

HEADS_THAT_LEAK = [key for key, head in HEADS.items() if head.leak]


def scene(draw, head, leak, walls=0.0, **more):
    """A head in the middle of a room, turned anyhow."""
    turn, up = draw.uniform(0, 2 * np.pi), draw.uniform(-0.4, 0.4)
    place = np.array([3.0, 3.5, 1.6])
    aim = place + [np.cos(turn) * np.cos(up), np.sin(turn) * np.cos(up), np.sin(up)]
    unit = {
        "id": "key",
        "name": "Key",
        "head": head,
        "position": place.tolist(),
        "aim": aim.tolist(),
        "leak": leak,
        "held": "built-in",
        **more,
    }
    sides = {side: {"reflectance": walls} for side in BLACK_ROOM}
    figures = [{"id": "s", "name": "S", "position": [0.6, 0.6]}]
    return setup(
        room={"width": 6, "depth": 7, "height": 3.2, **sides}, units=[unit], figures=figures
    )


@pytest.mark.parametrize("seed", range(6))
def test_what_leaks_follows_from_its_flux_and_distance(seed):
    """Even from 90 degrees off the beam to the back: I = flux / (2 pi + 2 pi * ramp's part)."""
    draw = np.random.default_rng(900 + seed)
    head, leak = str(draw.choice(HEADS_THAT_LEAK)), float(draw.uniform(0.002, 0.05))
    made = scene(draw, head, leak)
    vents = unit_emitters(made, 0)[1]
    # The ramp from 60 to 90 degrees, integrated by hand: sin from 60 to 90 weighed by (g - 60)/30.
    a = np.pi / 3
    ramp = (np.sin(np.pi / 2) - np.sin(a) - (np.pi / 2 - a) * np.cos(np.pi / 2)) / (np.pi / 6)
    lumens = leak * HEADS[head].distribution.lumens
    candela = lumens / (2 * np.pi * (1 + ramp))
    forward = np.array(vents.vectors[2])
    side = np.cross(forward, [0, 0, 1.0])
    side /= np.linalg.norm(side)
    angle = draw.uniform(95, 175)
    way = np.cos(np.radians(angle)) * forward + np.sin(np.radians(angle)) * side
    far = draw.uniform(0.5, 1.4)
    read = ways(made, vents.centre + far * way, -way)["lamp"]
    # A ball of 6 cm seen from so near: its inverse square holds from its middle.
    assert read == pytest.approx(candela / far**2, rel=0.02)


@pytest.mark.parametrize("seed", range(4))
def test_the_room_takes_what_the_front_sends_and_what_leaks(seed):
    draw = np.random.default_rng(950 + seed)
    head = str(draw.choice(HEADS_THAT_LEAK))
    taken = []
    for leak in (0.0, 0.05):
        made = scene(draw if leak else np.random.default_rng(5), head, leak)
        world = build_world(made)
        light = light_of(world, sources(made)[0])
        taken.append(float((world.patches.area * (light.lit @ LUMINANCE)).sum()))
    lumens = HEADS[head].distribution.lumens
    assert taken[0] == pytest.approx(lumens, rel=0.02)
    assert taken[1] - taken[0] == pytest.approx(0.05 * lumens, rel=0.25)
    assert taken[1] == pytest.approx(1.05 * lumens, rel=0.02)


def test_nothing_leaks_to_where_the_lamp_looks_and_the_frame_shows_no_second_lamp():
    draw = np.random.default_rng(3)
    plain, leaking = (scene(np.random.default_rng(3), "point-300", k) for k in (0.0, 0.03))
    one, two = unit_emitters(plain, 0)[0], unit_emitters(leaking, 0)
    forward = np.array(one.vectors[2])
    off = one.centre + draw.uniform(0.6, 1.2) * forward
    levels = [sum(ways(s, off, -forward).values()) for s in (plain, leaking)]
    assert levels[0] == pytest.approx(levels[1], rel=1e-4)
    assert [e.drawn for e in two] == [True, False]
    world = build_world(leaking)
    view = view_of(world, leaking, leaking.cameras[0], (64, 36))
    seen = [
        render_layer(world, view, s).seen.tolist() for s in (*sources(plain), *sources(leaking))
    ]
    assert seen[0] == seen[1]


def test_black_wrap_takes_nine_tenths_of_it_and_a_head_without_leak_is_as_before():
    unit = Unit(id="k", name="K", head="fresnel-200", position=(0, 0, 2), aim=(0, 1, 2), leak=0.02)
    wrapped = unit.model_copy(
        update={
            "attachments": Unit.model_validate(
                {**unit.model_dump(), "attachments": [{"key": "wrap"}]}
            ).attachments
        }
    )
    peaks = [float(leak_emitter(u).face.table.max()) for u in (unit, wrapped)]
    assert peaks[1] == pytest.approx(0.1 * peaks[0], rel=1e-6)
    assert leak_emitter(unit.model_copy(update={"leak": 0.0})) is None
    # What hangs before the lens changes the beam, and not what the vents let out.
    assert lamp_of(wrapped).distribution.lumens < lamp_of(unit).distribution.lumens
