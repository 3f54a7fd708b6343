"""Whether what holds a unit can stand where it would: stands, their legs, booms."""

from dataclasses import dataclass

import numpy as np

from ..photometry import ATTACHMENTS, HEADS
from .furniture import parts_of
from .outline import clear_of_walls, inside_all_the_way, off_walls

CLEAR, FEET = 0.03, 0.3
"""Room that a pole takes about itself, and that its legs take when they are turned between things
[m]; typical of a light stand.
"""
SPREAD, CROWN = 0.45, 0.5
"""How far the feet of a stand are from its pole, and how high its legs meet it [m]; typical."""
FLAT = 0.05
"""What is lower than this is stepped on, not in the way [m]."""
BODY = 0.3
"""Radius of a person [m]."""
OVER = 0.7
"""How near a person something above counts as over them, along the floor [m]."""
COUNTERWEIGHT = 0.5
"""Usual length of a boom's short end [m]."""


@dataclass(frozen=True)
class Load:
    """What a boom carries."""

    arm: float
    """From the stand to the head [m]."""
    weight: float
    """Of the head and what hangs on it [kg]."""
    counterweight: float
    """At the short end, that holds it level [kg]."""


def foot_of(unit):
    """Where the stand of a unit stands (x, y) [m]; None where no stand holds it.

    Examples
    --------
    >>> from moth.document import Unit
    >>> key = Unit(id="k", name="Key", head="panel-small", position=(1, 2, 2), aim=(1, 3, 2))
    >>> foot_of(key), foot_of(key.model_copy(update={"held": "hung"}))
    ((1.0, 2.0), None)
    """
    if unit.held in ("hung", "built-in"):
        return None
    if unit.held == "boom" and unit.foot is not None:
        return unit.foot
    return unit.position[0], unit.position[1]


@dataclass(frozen=True)
class InTheWay:
    """What keeps a stand from standing where it would."""

    what: str
    """"wall", "person", "through" a piece of furniture, or "legs" beside one; "arm-wall" and
    "arm-person" where it is a boom's arm that something is in the way of.
    """
    name: str = ""
    """Of the person or the piece."""


def in_its_way(setup, unit):
    """What keeps the stand of a unit from standing where it would.

    Parameters
    ----------
    setup : moth.document.Setup
    unit : moth.document.Unit

    Returns
    -------
    InTheWay or None
        None where it can stand, and where no stand holds the unit.

    Examples
    --------
    >>> from moth.document import bare
    >>> table = {"id": "t", "name": "Table", "kind": "table", "position": (4, 4, 0),
    ...     "size": (1.4, 0.8, 0.75)}
    >>> lamp = {"id": "k", "name": "Key", "head": "bulb", "position": (4, 4, 1.8), "aim": (4, 4, 0)}
    >>> s = bare(furniture=[table], units=[lamp])
    >>> in_its_way(s, s.units[0])
    InTheWay(what='through', name='Table')
    """
    foot = foot_of(unit)
    if foot is None:
        return None
    foot, height = np.asarray(foot, float), unit.position[2]
    room = setup.room
    if not room.outdoors:
        # On the side of the wall that the head is on: units may stand outside a window.
        inside, head_inside = clear_of_walls(room, [foot, unit.position[:2]])
        if inside != head_inside or off_walls(room, foot) < CLEAR:
            return InTheWay("wall")
    for figure in setup.figures:
        if np.hypot(*(foot - figure.position)) < BODY:
            return InTheWay("person", figure.name)
    arm = _in_arms_way(setup, unit, foot)
    if arm:
        return arm
    legs = None
    for item in setup.furniture:
        for part in parts_of(item):
            low, top = part.position[2], part.position[2] + part.size[2]
            away = _off(part, foot)
            if top < FLAT or low > height:
                continue
            if away < CLEAR:
                return InTheWay("through", item.name)
            if low < CROWN and away < FEET and height > CROWN:
                legs = legs or InTheWay("legs", item.name)
    return legs


HEAD = {"standing": 1.85, "seated": 1.45}
"""Height that people reach up to [m]; typical."""


def _in_arms_way(setup, unit, foot):
    """What a boom's arm would run through: a wall, or somebody."""
    if unit.held != "boom" or unit.foot is None:
        return None
    head = np.asarray(unit.position[:2], float)
    room = setup.room
    if not room.outdoors and not inside_all_the_way(room, foot, head):
        return InTheWay("arm-wall")
    along = head - foot
    long = max(float(np.hypot(*along)), 1e-6)
    for figure in setup.figures:
        t = np.clip((np.asarray(figure.position) - foot) @ along / long**2, 0, 1)
        near = float(np.hypot(*(foot + t * along - figure.position)))
        if near < BODY and unit.position[2] < HEAD[figure.pose]:
            return InTheWay("arm-person", figure.name)
    return None


def _off(part, place):
    """Distance along the floor from a place to a part [m]; 0 inside."""
    c, s = np.cos(np.radians(part.turn)), np.sin(np.radians(part.turn))
    dx, dy = place[0] - part.position[0], place[1] - part.position[1]
    x, y = abs(c * dx + s * dy), abs(c * dy - s * dx)
    a, b = part.size[0] / 2, part.size[1] / 2
    if part.kind == "box":
        return float(np.hypot(max(x - a, 0), max(y - b, 0)))
    return max(float(np.hypot(x, y) - min(a, b)) if a == b else _off_ellipse(x, y, a, b), 0.0)


def _off_ellipse(x, y, a, b):
    """To the nearest of many places on it: good to a millimetre for a metre."""
    if (x / a) ** 2 + (y / b) ** 2 <= 1:
        return 0.0
    t = np.linspace(0, np.pi / 2, 181)
    return float(np.hypot(x - a * np.cos(t), y - b * np.sin(t)).min())


def load_of(unit):
    """What a boom carries, and what holds it level; None for a unit that no boom holds.

    Level about the stand, weights times arms are equal.

    Examples
    --------
    >>> from moth.document import Unit
    >>> key = Unit(id="k", name="Key", head="panel-small", position=(1, 2, 2), aim=(1, 3, 2),
    ...     held="boom", foot=(1, 3))
    >>> load = load_of(key)
    >>> load.arm, load.counterweight == load.weight * 1.0 / COUNTERWEIGHT
    (1.0, True)
    """
    if unit.held != "boom" or unit.foot is None:
        return None
    arm = float(np.hypot(unit.position[0] - unit.foot[0], unit.position[1] - unit.foot[1]))
    weight = HEADS[unit.head].weight + sum(ATTACHMENTS[a.key].weight for a in unit.attachments)
    return Load(arm, weight, weight * arm / COUNTERWEIGHT)


def over(setup, unit):
    """Name of the person that a boomed or hung unit is over, or empty."""
    if unit.held not in ("boom", "hung"):
        return ""
    for figure in setup.figures:
        if np.hypot(*np.subtract(unit.position[:2], figure.position)) < OVER:
            return figure.name
    return ""
