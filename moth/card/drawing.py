"""The plan to scale, as lines, areas and words in metres: what all paper is drawn from."""

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ..place import arm_of, stands_of
from ..place.furniture import parts_of
from ..place.outline import bounds_of, corners_of
from ..units import METRES_PER_FOOT
from ..world import opening_place

ROUND = 24
"""Corners that stand for a circle."""
SHOULDERS, CHEST = 0.48, 0.28
"""Of a person from above [m]; typical."""
MARGIN = 0.4
"""About all that is drawn [m]."""
ON, SMALL = 0.3, 0.15
"""What stands higher than this lies on something [m], what takes less floor is small [m²]: neither
is named.
"""
LAYERS = (
    "grid",
    "walls",
    "openings",
    "furniture",
    "people",
    "cameras",
    "grip",
    "units",
    "aims",
    "power",
)
"""What is drawn, from the bottom to the top."""

Point = tuple[float, float]


@dataclass(frozen=True)
class Line:
    layer: str
    ends: tuple[Point, Point]
    dashed: bool = False


@dataclass(frozen=True)
class Shape:
    layer: str
    corners: tuple[Point, ...]
    filled: bool = False


@dataclass(frozen=True)
class Word:
    layer: str
    at: Point
    text: str
    height: float = 0.14
    """Of a capital [m]."""


@dataclass(frozen=True)
class Drawing:
    """A plan, north up."""

    title: str
    low: Point
    high: Point
    """Corners of all that is drawn [m]."""
    step: float
    """Of the grid [m]."""
    grid: str
    """What a step of it is called."""
    parts: tuple[Line | Shape | Word, ...]


def plan_of(setup, feet=False):
    """The plan of a set-up to scale.

    Parameters
    ----------
    setup : moth.document.Setup
    feet : bool
        Whether the grid is of feet; else of half metres.

    Returns
    -------
    Drawing

    Examples
    --------
    >>> from moth.document import bare
    >>> plan = plan_of(bare())
    >>> plan.grid, sum(p.layer == "walls" for p in plan.parts)
    ('0.5 m', 1)
    """
    parts: list[Line | Shape | Word] = []
    if not setup.room.outdoors:
        parts.append(Shape("walls", tuple(_pair(c) for c in corners_of(setup.room))))
        parts += _openings(setup)
        parts += _gaps(setup.room)
    for item in setup.furniture:
        parts += [Shape("furniture", _footprint(part)) for part in parts_of(item)]
        if item.position[2] < ON and item.size[0] * item.size[1] > SMALL:
            parts.append(Word("furniture", _pair(item.position[:2]), item.name, 0.1))
    for figure in setup.figures:
        at = np.asarray(figure.position, float)
        parts.append(Shape("people", _turned(_oval(SHOULDERS, CHEST), figure.facing, at), True))
        parts.append(Word("people", _pair(at + [0.3, 0.2]), figure.name))
    for number, camera in enumerate(setup.cameras, 1):
        parts += _camera(camera, number, len(setup.cameras))
    for number, unit in enumerate(setup.units, 1):
        parts += _unit(unit, number)
    for piece in setup.grip:
        parts += _grip(piece)
    for circuit in setup.circuits:
        for socket in circuit.sockets:
            x, y = socket
            box = ((x - 0.06, y - 0.06), (x + 0.06, y - 0.06), (x + 0.06, y + 0.06))
            parts.append(Shape("power", (*box, (x - 0.06, y + 0.06)), True))
            parts.append(Word("power", (x + 0.1, y), f"{circuit.name} {circuit.amperes:g} A", 0.1))
    low, high = _bounds(parts)
    step = METRES_PER_FOOT if feet else 0.5
    grid = tuple(_grid(low, high, step))
    order = sorted(parts, key=lambda p: LAYERS.index(p.layer))
    name = "1 ft" if feet else "0.5 m"
    return Drawing(setup.title, low, high, step, name, (*grid, *order))


def _pair(place):
    return float(place[0]), float(place[1])


def _oval(width, depth):
    turn = np.linspace(0, 2 * math.pi, ROUND, endpoint=False)
    return np.stack([width / 2 * np.cos(turn), depth / 2 * np.sin(turn)], axis=1)


def _turned(corners, turn, at):
    """Corners turned counter-clockwise [deg] about the origin, then carried."""
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    return tuple(_pair(p) for p in np.asarray(corners) @ [[c, s], [-s, c]] + at)


def _footprint(part):
    x, y = part.size[0] / 2, part.size[1] / 2
    corners = [(-x, -y), (x, -y), (x, y), (-x, y)] if part.kind == "box" else _oval(2 * x, 2 * y)
    return _turned(corners, part.turn, np.asarray(part.position[:2], float))


def _gaps(room):
    """Where the ceiling is missing, dashed, as far as it is over the room."""
    low, high = (np.array(corner) for corner in bounds_of(room))
    for gap in room.gaps:
        (w, s), (e, n) = np.clip(gap.low, low, high), np.clip(gap.high, low, high)
        corners = [(w, s), (e, s), (e, n), (w, n)]
        for one, other in pairwise([*corners, corners[0]]):
            yield Line("walls", (_pair(one), _pair(other)), dashed=True)
        yield Word("walls", (float(w) + 0.1, float(n) - 0.2), "no ceiling", 0.1)


def _openings(setup):
    for opening in setup.openings:
        if opening.wall == "ceiling":
            continue
        centre, inward = opening_place(setup, opening)
        along = np.array([-inward[1], inward[0]]) * opening.size[0] / 2
        middle = np.asarray(centre[:2], float)
        for off in (-0.05, 0.05):
            shift = np.asarray(inward[:2]) * off
            ends = (_pair(middle - along + shift), _pair(middle + along + shift))
            yield Line("openings", ends)
        yield Word("openings", _pair(middle + np.asarray(inward[:2]) * 0.15), opening.name, 0.1)


def _way(one, other):
    """Unit vector on the plan; along x where there is none."""
    way = np.subtract(other[:2], one[:2])
    long = float(np.hypot(*way))
    return way / long if long > 1e-6 else np.array([1.0, 0.0])


def _camera(camera, number, of):
    place, way = np.asarray(camera.position[:2], float), _way(camera.position, camera.aim)
    side = np.array([-way[1], way[0]])
    back, front = place - 0.3 * way, place
    body = (back + 0.1 * side, front + 0.1 * side, front - 0.1 * side, back - 0.1 * side)
    yield Shape("cameras", tuple(_pair(p) for p in body))
    horn = (front, front + 0.14 * way + 0.13 * side, front + 0.14 * way - 0.13 * side)
    yield Shape("cameras", tuple(_pair(p) for p in horn))
    name = camera.name if of > 1 else "Camera"
    yield Word("cameras", _pair(place + 0.25 * side), f"{name}, {camera.focal_length:g} mm")
    if number == 1:
        yield Line("cameras", (_pair(place), _pair(camera.aim[:2])), dashed=True)


def _unit(unit, number):
    """A unit as the half of a disc, its flat side forward, its number beside it."""
    place, way = np.asarray(unit.position[:2], float), _way(unit.position, unit.aim)
    side = np.array([-way[1], way[0]])
    turn = np.linspace(math.pi / 2, 3 * math.pi / 2, ROUND // 2)
    bowl = [place + 0.17 * (math.cos(t) * way + math.sin(t) * side) for t in turn]
    yield Shape("units", tuple(_pair(p) for p in bowl), unit.on)
    yield Line("aims", (_pair(place), _pair(place + 0.9 * way)), dashed=not unit.on)
    yield Word("units", _pair(place - 0.3 * way + 0.12 * side), f"{number} {unit.name}")
    yield from _stands(unit, "units")


def _stands(item, layer):
    """Feet of stands that are not straight below what they hold, and the arm to it; the arm alone
    to the stand of another.
    """
    place = np.asarray(item.position[:2], float)
    on = arm_of(item)
    if on:
        yield Line(layer, (_pair(on.foot), _pair(on.head)))
    for stood in stands_of(item):
        if math.dist(stood.foot, place) > 0.1:
            if stood.arm:
                yield Line(layer, (_pair(stood.foot), _pair(place)))
            yield Shape(layer, _turned(_oval(0.12, 0.12), 0, np.asarray(stood.foot, float)))


def _grip(piece):
    """A sheet from above: as long as it is wide, or as it lies where it lies flat."""
    place = np.asarray(piece.position[:2], float)
    forward = np.subtract(piece.aim, piece.position)
    forward = forward / max(float(np.linalg.norm(forward)), 1e-9)
    way = _way(piece.position, piece.aim)
    side = np.array([-way[1], way[0]])
    flat = abs(float(forward[2]))
    across = piece.size[0] / 2 * side
    deep = piece.size[1] / 2 * flat * way
    signs = ((-1, -1), (1, -1), (1, 1), (-1, 1))
    corners = [place + a * across + b * deep for a, b in signs]
    yield Shape("grip", tuple(_pair(c) for c in corners))
    yield Word("grip", _pair(place + 0.1 * way), piece.name, 0.1)
    yield from _stands(piece, "grip")


def _bounds(parts):
    places: list[Point] = []
    for part in parts:
        if isinstance(part, Line):
            places += part.ends
        elif isinstance(part, Shape):
            places += part.corners
        else:
            places.append(part.at)
    low, high = np.min(places, 0) - MARGIN, np.max(places, 0) + MARGIN
    return _pair(low), _pair(high)


def _grid(low, high, step):
    (x0, y0), (x1, y1) = low, high
    for k in range(math.ceil(x0 / step), math.floor(x1 / step) + 1):
        yield Line("grid", ((k * step, y0), (k * step, y1)))
    for k in range(math.ceil(y0 / step), math.floor(y1 / step) + 1):
        yield Line("grid", ((x0, k * step), (x1, k * step)))
