"""Heads and stands in the light: what they hide, and what they leave alone."""

import numpy as np
import pytest

from moth.photometry import HEADS
from moth.place import POLE, housing_of
from moth.tests.scenes import BLACK_ROOM, setup
from moth.transport import light_of, meter_light, render_layer, sources, view_of
from moth.world import build_world, world_key
from moth.world.held import INSET


class Meter:
    receiver = "disc"

    def __init__(self, position, direction):
        self.position, self.direction = tuple(position), tuple(direction)


def black(units, shade, **more):
    room = {"width": 8, "depth": 8, "height": 4, **BLACK_ROOM}
    figures = [{"id": "s", "name": "S", "position": [7, 7]}]
    return setup(room=room, figures=figures, units=units, bodies_shade=shade, grip=[], **more)


def lamp(name, place, aim, **more):
    base = {"id": name, "name": name, "head": "panel-small", "held": "built-in"}
    return {**base, "position": list(place), "aim": list(aim), **more}


def level(made, of, meter):
    world = build_world(made)
    source = next(s for s in sources(made) if s.id == of)
    return sum(meter_light(world, light_of(world, source), meter).values())[1]


@pytest.mark.parametrize("seed", range(6))
def test_a_head_between_lamp_and_meter_hides_what_its_box_covers(seed):
    """A small lamp, a meter beyond a head: dark while the line between them meets its box."""
    rng = np.random.default_rng(seed)
    small = lamp("small", (1, 4, 2), (6, 4, 2), head="pocket-ball")
    aside = float(rng.uniform(0.0, 0.45)) * rng.choice([-1, 1])
    # It looks aside, so that its own light does not matter and its broad side is to the lamp.
    head = lamp("head", (3.5, 4 + aside, 2), (3.5, 9, 2), head="panel-2x1")
    meter = Meter((6, 4, 2), (-1, 0, 0))
    free, held = (level(black([small, head], shade), "small", meter) for shade in (False, True))
    deep = housing_of(black([head], True).units[0]).box[2]
    # Its box reaches from its face back by its depth; the lamp's own half width is 4 cm.
    low, high = 4 + aside - deep + INSET, 4 + aside - INSET
    if low + 0.05 < 4 < high - 0.05:
        assert held < 0.02 * free
    elif low - 0.05 > 4 or high + 0.05 < 4:
        assert held == pytest.approx(free, rel=2e-3)
    else:
        assert -1e-9 <= held <= free * 1.002


def test_a_pole_hides_its_width_of_a_broad_lamp():
    broad = lamp("broad", (1, 4, 2), (6, 4, 2), head="panel-4x2")
    stand = lamp("stand", (3.5, 4, 3.4), (3.5, 9, 3.4), held="stand")
    meter = Meter((6, 4, 2), (-1, 0, 0))
    free, held = (level(black([broad, stand], shade), "broad", meter) for shade in (False, True))
    # Half way, it covers twice its width of the lamp's face, all of its height.
    wanted = 1 - 2 * (2 * POLE) / 1.22
    assert held / free == pytest.approx(wanted, abs=0.01)


@pytest.mark.parametrize("head", [k for k, h in HEADS.items() if h.group != "screen"])
def test_a_lamp_is_not_in_its_own_light(head):
    own = lamp("own", (4, 4, 2), (6, 4, 1.7), head=head, held="stand")
    for way in ((6, 4, 1.7), (5.5, 4.6, 2.2)):
        meter = Meter(way, np.subtract((4, 4, 2), way))
        free, held = (level(black([own], shade), "own", meter) for shade in (False, True))
        # From below, the pole's top stands a little before a ball that it carries.
        assert held == pytest.approx(free, rel=0.08 if HEADS[head].shape == "bulb" else 5e-3)


def test_bodies_in_the_light_take_and_do_not_give():
    pair = [lamp("a", (2, 2, 2), (5, 5, 1)), lamp("b", (3.2, 3.2, 1.6), (6, 2, 1), held="stand")]
    made = [black(pair, shade) for shade in (False, True)]
    for place in ((5, 5, 1), (6, 4, 0.5), (4, 6, 2)):
        free, held = (level(m, "a", Meter(place, (-1, -1, 0.5))) for m in made)
        # Black tube gives an eighth back: of what falls on it, a little comes here.
        assert held <= 1.03 * free


def test_moving_one_lamp_changes_the_world_only_where_bodies_shade():
    here, there = (lamp("a", (2, y, 2), (5, 5, 1)) for y in (2, 2.5))
    assert world_key(black([here], False)) == world_key(black([there], False))
    assert world_key(black([here], True)) != world_key(black([there], True))
    # Its level changes nothing that stands there.
    dim = {**here, "dimmer": 0.2}
    assert world_key(black([here], True)) == world_key(black([dim], True))


def test_a_hung_lamps_drop_ends_at_the_ceiling_and_a_lamp_outside_has_no_body():
    hung = lamp("h", (4, 4, 3), (4, 4, 0), held="hung")
    mesh = build_world(black([hung], True)).mesh
    assert mesh.vertices[:, 2].max() <= 4 + 1e-6
    window = {"id": "w", "name": "W", "wall": "south", "along": 4, "up": 2, "size": [2, 2]}
    out = lamp("o", (4, -2, 2), (4, 4, 1))
    with_it, without = (
        len(build_world(black([out] * k, True, openings=[window])).mesh.faces) for k in (1, 0)
    )
    assert with_it == without


@pytest.mark.parametrize("seed", range(3))
@pytest.mark.parametrize("shade", [False, True])
def test_a_lamp_in_the_frame_is_as_bright_in_few_pixels_as_in_many(seed, shade):
    """However its face slants, and though its body stands where it is drawn."""
    draw = np.random.default_rng(seed)
    place = {"position": [4, 7, float(draw.uniform(0.5, 2.5))], "aim": [4, 4, 1.6]}
    camera = {"id": "a", "name": "A", **place, "focal_length": 18}
    aim = draw.uniform((1, 5, 0), (7, 7, 3)).tolist()
    made = black(
        [lamp("own", (4, 4, 1.6), aim, head="panel-4x2", held="stand")], shade, cameras=[camera]
    )
    world, source = build_world(made), sources(made)[0]

    def glow(width):
        view = view_of(world, made, made.cameras[0], (width, width * 9 // 16))
        return render_layer(world, view, source).glow.sum() / width**2

    assert glow(96) == pytest.approx(glow(480), rel=0.01)
