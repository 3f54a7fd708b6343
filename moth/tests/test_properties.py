"""What must hold of light in any room: cases drawn at random, no figure known beforehand."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.metering import read_setup
from moth.metering.marks import Place
from moth.photometry import from_function, lamp_of, write_ies
from moth.tests.scenes import setup
from moth.transport import light_of, meter_light, sources
from moth.world import build_world

SEEDS = range(4)
WALLS = ("floor", "ceiling", "north", "south", "east", "west")
PANEL = 0.06
"""Side of a panel so small that it is a place [m]."""


def lambert(candela, size=(PANEL, PANEL)):
    return write_ies(
        from_function(lambda c, g: candela * np.cos(np.radians(np.minimum(g, 90)))), size, "lambert"
    )


def beam(candela, half):
    return write_ies(
        from_function(lambda c, g: candela * np.clip((half + 6 - g) / 12, 0, 1)), (0, 0), "beam"
    )


class Room:
    """A room of any size and paint, with furniture; places in it are drawn on demand."""

    def __init__(self, seed, least=0.05, most=0.85):
        self.draw = np.random.default_rng(seed)
        self.size = self.draw.uniform((3.5, 3.5, 2.5), (9, 9, 4.5))
        self.walls = {
            wall: {"reflectance": float(self.draw.uniform(least, most))} for wall in WALLS
        }
        self.furniture = [self.box(f"b{k}") for k in range(self.draw.integers(0, 3))]

    def box(self, name, reflectance=None):
        """A piece on the floor, along the south wall: lamps and meters stay north of it."""
        w, d, h = self.draw.uniform((0.3, 0.3, 0.3), (0.9, 0.7, 1.4))
        own = self.draw.uniform(0.05, 0.85) if reflectance is None else reflectance
        x = self.draw.uniform(0.6, self.size[0] - 0.6)
        return {
            "id": name,
            "name": name,
            "position": [float(x), 0.6, 0.0],
            "size": [float(w), float(d), float(h)],
            "turn": float(self.draw.uniform(0, 90)),
            "surface": {"reflectance": float(own)},
        }

    def place(self):
        low, high = np.array([0.4, 1.4, 0.4]), self.size - [0.4, 0.4, 0.4]
        return self.draw.uniform(low, high)

    def way(self):
        v = self.draw.normal(size=3)
        return v / np.linalg.norm(v)

    def lamp(self, name="k", ies=None, **more):
        place = self.place()
        ies = ies or beam(float(self.draw.uniform(2e3, 3e4)), float(self.draw.uniform(8, 60)))
        return {
            "id": name,
            "name": name,
            "head": "point-600",
            "ies": ies,
            "position": place.tolist(),
            "aim": (place + self.way()).tolist(),
            **more,
        }

    def scene(self, units, grip=(), more=()):
        """The person stands in a corner; what is in the room besides is furniture."""
        width, depth, height = (float(side) for side in self.size)
        return setup(
            room={"width": width, "depth": depth, "height": height, **self.walls},
            figures=[{"id": "s", "name": "s", "position": [0.35, depth - 0.35]}],
            furniture=[*self.furniture, *more],
            units=list(units),
            grip=list(grip),
        )


def level(scene, position, direction, receiver="disc"):
    """All that a set-up's sources at full bring to a meter [lx]."""
    world = build_world(scene)
    mark = Place("m", "m", tuple(position), tuple(direction), receiver)
    found = [meter_light(world, light_of(world, s), mark) for s in sources(scene)]
    return float(sum(sum(ways.values()) for ways in found) @ LUMINANCE)


def fallen(scene):
    """Light that falls on every surface, and what of it is absorbed [lm]; matte rooms only."""
    world = build_world(scene)
    p = world.patches
    radiosity = sum(light_of(world, s).radiosity for s in sources(scene)) @ LUMINANCE
    albedo = p.albedo @ LUMINANCE
    arrived = radiosity / np.maximum(albedo, 1e-9) * p.area
    return float(arrived.sum()), float((arrived * (1 - albedo)).sum())


@pytest.mark.parametrize("seed", SEEDS)
def test_what_is_sent_is_absorbed(seed):
    room = Room(seed)
    lamp = room.lamp()
    scene = room.scene([lamp])
    lumens = lamp_of(scene.units[0]).distribution.lumens
    assert fallen(scene)[1] == pytest.approx(lumens, rel=0.015)


@pytest.mark.parametrize("seed", SEEDS)
def test_lamp_and_meter_may_change_places(seed):
    """A small Lambertian panel and a disc: the level is the same both ways round (Helmholtz)."""
    room = Room(seed)
    here, there = room.place(), room.place()
    toward = (there - here) / np.linalg.norm(there - here)
    one, other = toward + 0.6 * room.way(), -toward + 0.6 * room.way()
    one, other = one / np.linalg.norm(one), other / np.linalg.norm(other)

    def read(lamp_at, lamp_way, meter_at, meter_way):
        lamp = room.lamp(ies=lambert(4000))
        lamp |= {"position": lamp_at.tolist(), "aim": (lamp_at + lamp_way).tolist()}
        return level(room.scene([lamp]), meter_at, meter_way)

    forth, back = read(here, one, there, other), read(there, other, here, one)
    assert forth > 1 and forth == pytest.approx(back, rel=0.02)


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("material", ["muslin-bleached", "grid-half", "foam-white", "silver-soft"])
def test_a_sheet_of_four_quarters_is_one_sheet(seed, material):
    room = Room(seed, most=0.4)
    lamp = room.lamp(ies=beam(20_000, 30))
    place = np.array(lamp["position"])
    middle = np.clip(place + 1.2 * room.way(), [0.9, 1.4, 0.9], room.size - 0.9)
    to = (middle - place) / np.linalg.norm(middle - place)
    lamp["aim"] = middle.tolist()
    right = np.cross(to, [0, 0, 1.0])
    right /= np.linalg.norm(right)
    up = np.cross(right, to)

    def piece(name, at, side):
        return {
            "id": name,
            "name": name,
            "kind": "frame",
            "material": material,
            "position": at.tolist(),
            "aim": (at - to).tolist(),
            "size": [side, side],
        }

    quarters = [
        piece(f"q{k}", middle + s * 0.25 * right + t * 0.25 * up, 0.5)
        for k, (s, t) in enumerate(((-1, -1), (1, -1), (-1, 1), (1, 1)))
    ]
    sign = 1 if material in ("muslin-bleached", "grid-half") else -1
    meter = np.clip(middle + sign * 1.3 * to + 0.3 * right, 0.3, room.size - 0.3)
    facing = (middle - meter) / np.linalg.norm(middle - meter)
    whole = level(room.scene([lamp], [piece("w", middle, 1.0)]), meter, facing)
    parted = level(room.scene([lamp], quarters), meter, facing)
    assert whole > 0.5 and parted == pytest.approx(whole, rel=0.03)


@pytest.mark.parametrize("seed", SEEDS)
def test_the_order_of_units_changes_nothing(seed):
    room = Room(seed)
    lamps = [room.lamp(name, role="other") for name in "abc"]
    one, other = (read_setup(room.scene(units)) for units in (lamps, lamps[::-1]))
    assert one.key == other.key
    for mark in one.marks:
        assert mark.lux == pytest.approx(other.mark(mark.id).lux, rel=1e-6, abs=1e-9)


@pytest.mark.parametrize("seed", SEEDS)
def test_two_of_half_strength_are_one(seed):
    room = Room(seed)
    whole = room.lamp("a", dimmer=0.8)
    halves = [{**whole, "id": name, "dimmer": 0.4} for name in ("a", "b")]
    one, two = (read_setup(room.scene(units)) for units in ([whole], halves))
    # A hand that shades the key off shades one of the halves.
    for mark in (m for m in one.marks if "shaded" not in m.id):
        assert two.mark(mark.id).lux == pytest.approx(mark.lux, rel=1e-6, abs=1e-9)


@pytest.mark.parametrize("seed", SEEDS)
def test_a_black_thing_adds_no_light_and_a_white_one_takes_none_from_the_room(seed):
    room = Room(seed)
    lamp = room.lamp()
    meters = [(room.place(), room.way()) for _ in range(3)]
    bare = room.scene([lamp])
    black = room.scene([lamp], more=[room.box("black", 0.0)])
    for position, direction in meters:
        before, after = (level(s, position, direction) for s in (bare, black))
        # Surfaces are split anew about it: half a percent is the grain of that.
        assert after <= 1.01 * before + 1e-6
    white = room.scene([lamp], more=[{**room.box("white", 0.95)}])
    assert fallen(white)[0] >= 0.995 * fallen(bare)[0]
