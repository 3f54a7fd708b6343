"""What holds units and grip, and whether it can stand where it would: stands, legs, booms."""

import math
from dataclasses import dataclass

import numpy as np

from ..document import Grip
from ..photometry import ATTACHMENTS, HEADS
from .axes import axes
from .furniture import parts_of
from .outline import clear_of_walls, hung_from, inside_all_the_way, off_walls

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


POLE, LEG, ARM, DROP = 0.0175, 0.011, 0.015, 0.006
"""Radii of a stand's riser, its legs, a boom's arm and what hangs a lamp [m]; typical."""
GRIP_WEIGHT = 2.5
"""Of a cloth or board with its frame, a square metre [kg]; typical."""
LARGE = 1.5
"""From here a sheet stands on two stands [m²]."""
LONGEST_ARM = 1.2
"""Reach of an arm on a stand that carries other things too [m]; typical. Farther out wants a boom.
"""


@dataclass(frozen=True)
class Stood:
    """A stand, and what it holds up."""

    foot: tuple[float, float]
    """[m]"""
    height: float
    """Of what it holds [m]."""
    head: tuple[float, float]
    """Where that is, along the floor [m]."""
    arm: bool
    """Whether an arm goes from the one to the other."""


def foot_of(unit):
    """Where the stand of a unit stands (x, y) [m]; None where no stand holds it.

    Examples
    --------
    >>> from moth.document import Unit
    >>> key = Unit(id="k", name="Key", head="panel-small", position=(1, 2, 2), aim=(1, 3, 2))
    >>> foot_of(key), foot_of(key.model_copy(update={"held": "hung"}))
    ((1.0, 2.0), None)
    """
    if unit.held in ("arm", "hung", "built-in"):
        return None
    if unit.held == "boom" and unit.foot is not None:
        return unit.foot
    return unit.position[0], unit.position[1]


def ends_of(piece):
    """Middles of the two sides that a sheet is held at, the right one first, and of its top.

    Parameters
    ----------
    piece : moth.document.Grip

    Returns
    -------
    tuple of ndarray, each shape (3,)
        [m]

    Examples
    --------
    >>> from moth.document import Grip
    >>> board = Grip(id="b", name="b", material="foam-white", position=(0, 0, 1), aim=(0, 1, 1),
    ...     size=(1.2, 0.6))
    >>> [end.round(3).tolist() for end in ends_of(board)]
    [[0.6, 0.0, 1.0], [-0.6, 0.0, 1.0], [0.0, 0.0, 1.3]]
    """
    right, up, _ = axes(piece.position, piece.aim, piece.roll)
    middle = np.asarray(piece.position, float)
    sides = [piece.size[0] / 2 * right, piece.size[1] / 2 * up]
    # Rolled by a quarter, it is held at what were its top and foot.
    sides.sort(key=lambda side: abs(side[2]) / np.linalg.norm(side))
    across, rise = sides[0], sides[1] * (1.0 if sides[1][2] >= 0 else -1.0)
    # Its right hand is the level one, however it is rolled.
    if across @ axes(piece.position, piece.aim)[0] < 0:
        across = -across
    return middle + across, middle - across, middle + rise


def stands_of(item):
    """Stands that hold a unit or a piece of grip.

    Parameters
    ----------
    item : moth.document.Unit or moth.document.Grip

    Returns
    -------
    tuple of Stood

    Examples
    --------
    >>> from moth.document import Grip
    >>> board = Grip(id="b", name="b", material="foam-white", position=(0, 0, 1), aim=(0, 1, 1),
    ...     size=(2.4, 1.2), held="stand")
    >>> [s.foot for s in stands_of(board)]
    [(1.2, 0.0), (-1.2, 0.0)]
    """
    if item.held in ("", "arm", "hung", "built-in", "hand"):
        return ()
    x, y, z = item.position
    if not isinstance(item, Grip):
        foot = foot_of(item)
        return (Stood(foot, z, (x, y), item.held == "boom" and item.foot is not None),)
    one, other, top = ends_of(item)
    if item.held == "boom" and item.foot is not None:
        return (Stood(item.foot, float(top[2]), (x, y), True),)
    sides = [one, other]
    if item.foot is not None:
        sides.sort(key=lambda side: float(np.hypot(*(side[:2] - item.foot))))
    if item.size[0] * item.size[1] < LARGE:
        sides = sides[:1]
    return tuple(Stood((float(s[0]), float(s[1])), float(s[2]), (x, y), False) for s in sides)


def arm_of(item):
    """The stand of another unit that a unit or a piece of grip is on by an arm; None where none is.

    A sheet is held at the end of the two sides and the top that is nearest to the stand.

    Examples
    --------
    >>> from moth.document import Grip
    >>> flag = Grip(id="f", name="f", kind="flag", material="duvetyne", position=(0, 0, 2),
    ...     aim=(0, 1, 2), size=(0.6, 0.9), held="arm", foot=(1.1, 0), bearer="key")
    >>> arm_of(flag)
    Stood(foot=(1.1, 0.0), height=2.0, head=(0.3, 0.0), arm=True)
    """
    if item.held != "arm" or item.foot is None:
        return None
    held = np.asarray(item.position, float)
    if isinstance(item, Grip):
        held = min(ends_of(item), key=lambda end: float(np.hypot(*(end[:2] - item.foot))))
    x, y, z = map(float, held)
    return Stood((float(item.foot[0]), float(item.foot[1])), z, (x, y), True)


def bearer_of(setup, item):
    """The unit whose stand an arm is on; None where no arm holds the item, and where a question is
    about a part of the set-up that has not got that unit.
    """
    on = item.bearer if item.held == "arm" else None
    return next((u for u in setup.units if u.id == on), None)


def borne_by(setup, unit):
    """Units and pieces of grip that are on a unit's stand by arms.

    Parameters
    ----------
    setup : moth.document.Setup
    unit : moth.document.Unit

    Returns
    -------
    tuple of moth.document.Unit or moth.document.Grip
    """
    everything = (*setup.units, *setup.grip)
    return tuple(i for i in everything if i.held == "arm" and i.bearer == unit.id)


@dataclass(frozen=True)
class Shared:
    """What a stand bears that holds more than its own head."""

    weight: float
    """Of all of it [kg]."""
    height: float
    """Of the highest [m]."""
    pull: tuple[float, float]
    """Weights times how far each is off the pole, to the east and the north [kg m]: over the pole
    they balance where it is nothing.
    """


def shared_by(setup, unit):
    """What a unit's stand bears with all that is on it by arms; None where that is its head alone,
    and for a sheet.

    A head on a boom is balanced by its counterweight, which is in the weight and out of the pull.

    Examples
    --------
    >>> from moth.document import bare
    >>> key = {"id": "k", "name": "Key", "head": "panel-small", "position": [2, 3, 1],
    ...     "aim": [2, 4, 1]}
    >>> board = {"id": "b", "name": "Board", "material": "foam-white", "position": [2, 3.8, 2],
    ...     "aim": [2, 4, 1], "size": [1, 1], "held": "arm", "foot": [2, 3], "bearer": "k"}
    >>> s = bare(units=[key], grip=[board])
    >>> shared_by(s, s.units[0])
    Shared(weight=4.4, height=2.0, pull=(0.0, 2.0))
    """
    if isinstance(unit, Grip):
        return None
    borne, foot = borne_by(setup, unit), foot_of(unit)
    if not borne or foot is None:
        return None
    load = load_of(unit)
    weight = weight_held(unit) + (load.counterweight if load else 0.0)
    pull = np.zeros(2)
    for item in borne:
        weight += weight_held(item)
        pull += weight_held(item) * np.subtract(item.position[:2], foot)
    height = max(item.position[2] for item in (unit, *borne))
    x, y = pull.round(6).tolist()
    return Shared(round(weight, 6), height, (x, y))


def stand_rods(x, y, z):
    """A stand as rods: a pole, and three legs where it is tall enough for them.

    Returns
    -------
    tuple
        Of (one end, other end, radius), ends (x, y, z) [m].
    """
    pole = ((x, y, 0.0), (x, y, z), POLE)
    if z < CROWN:
        return (pole,)
    turns = np.radians([90, 210, 330])
    return (
        pole,
        *(
            ((x, y, CROWN), (x + SPREAD * np.cos(a), y + SPREAD * np.sin(a), 0.0), LEG)
            for a in turns
        ),
    )


def grip_rods(room, piece):
    """What holds a piece of grip, as rods; none where nobody has said, or a hand holds it.

    Parameters
    ----------
    room : moth.document.Room
    piece : moth.document.Grip

    Returns
    -------
    tuple
        Of (one end, other end, radius), ends (x, y, z) [m].

    Examples
    --------
    >>> from moth.document import Grip, Room
    >>> flag = Grip(id="f", name="f", kind="flag", material="duvetyne", position=(1, 1, 2),
    ...     aim=(1, 2, 2), size=(0.6, 0.9))
    >>> [len(grip_rods(Room(), flag.model_copy(update={"held": h, "foot": (2, 1)})))
    ...     for h in ("", "stand", "boom", "hung")]
    [0, 4, 5, 2]
    """
    if piece.held == "hung":
        ends = ends_of(piece)[:2]
        lift = ends_of(piece)[2] - piece.position
        tops = [tuple(map(float, end + lift)) for end in ends]
        above = hung_from(room, tops)
        return tuple((t, (t[0], t[1], float(z)), DROP) for t, z in zip(tops, above, strict=True))
    rods: list = []
    for stood in stands_of(piece):
        rods += stand_rods(stood.foot[0], stood.foot[1], stood.height)
        if stood.arm:
            rods.append(_boom_rod(stood))
    return tuple(rods)


def _boom_rod(stood):
    """From the head over the stand to the short end."""
    head = np.array([*stood.head, stood.height])
    foot = np.array([*stood.foot, stood.height])
    out = foot - head
    far = foot + COUNTERWEIGHT * out / max(float(np.linalg.norm(out)), 1e-6)
    return tuple(head.tolist()), tuple(far.tolist()), ARM


OVER_HEAD = 0.15
"""How far over the middle of a lit face the pole goes on that bears other things too [m]: the yoke
holds the head beside it.
"""


def arm_rods(setup, item):
    """An arm on another's stand as rods: what the pole is longer for it, and the arm; none where no
    arm holds the item.

    Parameters
    ----------
    setup : moth.document.Setup
    item : moth.document.Unit or moth.document.Grip

    Returns
    -------
    tuple
        Of (one end, other end, radius), ends (x, y, z) [m].
    """
    stood = arm_of(item)
    if stood is None:
        return ()
    head, on = (*stood.head, stood.height), (*stood.foot, stood.height)
    bearer = bearer_of(setup, item)
    low = (bearer.position[2] if bearer else 0.0) + OVER_HEAD
    longer = (((*stood.foot, low), on, POLE),) if low < stood.height else ()
    return (*longer, (head, on, ARM))


@dataclass(frozen=True)
class InTheWay:
    """What keeps a stand from standing where it would."""

    what: str
    """"wall", "person", "through" a piece of furniture, or "legs" beside one; "arm-wall" and
    "arm-person" where it is an arm that something is in the way of, "arm-long" where none reaches
    so far, "gone" where its stand stands elsewhere.
    """
    name: str = ""
    """Of the person, the piece, or the unit whose stand it is."""


def in_its_way(setup, item):
    """What keeps a stand of a unit or a piece of grip from standing where it would.

    Parameters
    ----------
    setup : moth.document.Setup
    item : moth.document.Unit or moth.document.Grip

    Returns
    -------
    InTheWay or None
        None where it can stand, and where no stand holds the item.

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
    found = (_in_way_of(setup, stood) for stood in stands_of(item))
    return next((way for way in found if way), None) or _on_its_stand(setup, item)


SAME_STAND = 0.05
"""An arm's stand that is nearer than this to its bearer's is the same [m]."""


def _on_its_stand(setup, item):
    """What keeps an arm from reaching from its bearer's stand to what it holds."""
    stood, bearer = arm_of(item), bearer_of(setup, item)
    if stood is None or bearer is None:
        return None
    if math.dist(foot_of(bearer) or bearer.position[:2], stood.foot) > SAME_STAND:
        return InTheWay("gone", bearer.name)
    if math.dist(stood.foot, stood.head) > LONGEST_ARM:
        return InTheWay("arm-long", bearer.name)
    return _in_arms_way(setup, stood)


def _in_way_of(setup, stood):
    foot, height = np.asarray(stood.foot, float), stood.height
    room = setup.room
    if not room.outdoors:
        # On the side of the wall that the head is on: units may stand outside a window.
        inside, head_inside = clear_of_walls(room, [foot, stood.head])
        if inside != head_inside or off_walls(room, foot) < CLEAR:
            return InTheWay("wall")
    for figure in setup.figures:
        if np.hypot(*(foot - figure.position)) < BODY:
            return InTheWay("person", figure.name)
    arm = _in_arms_way(setup, stood) if stood.arm else None
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


HEAD = {"standing": 1.85, "leaning": 1.4, "seated": 1.45}
"""Height that people reach up to [m]; typical."""


def _in_arms_way(setup, stood):
    """What a boom's arm would run through: a wall, or somebody."""
    head, foot = np.asarray(stood.head, float), np.asarray(stood.foot, float)
    room = setup.room
    if not room.outdoors and not inside_all_the_way(room, foot, head):
        return InTheWay("arm-wall")
    along = head - foot
    long = max(float(np.hypot(*along)), 1e-6)
    for figure in setup.figures:
        t = np.clip((np.asarray(figure.position) - foot) @ along / long**2, 0, 1)
        near = float(np.hypot(*(foot + t * along - figure.position)))
        if near < BODY and stood.height < HEAD[figure.pose]:
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


def weight_held(item):
    """What holds a unit or a piece of grip bears [kg]: head and what hangs on it, or a sheet with
    its frame.

    Examples
    --------
    >>> from moth.document import Grip
    >>> weight_held(Grip(id="b", name="b", material="foam-white", position=(0, 0, 1), aim=(0, 1, 1),
    ...     size=(2, 1)))
    5.0
    """
    if isinstance(item, Grip):
        return GRIP_WEIGHT * item.size[0] * item.size[1]
    return HEADS[item.head].weight + sum(ATTACHMENTS[a.key].weight for a in item.attachments)


def load_of(item):
    """What a boom carries, and what holds it level; None for what no boom holds.

    Level about the stand, weights times arms are equal.

    Parameters
    ----------
    item : moth.document.Unit or moth.document.Grip

    Examples
    --------
    >>> from moth.document import Unit
    >>> key = Unit(id="k", name="Key", head="panel-small", position=(1, 2, 2), aim=(1, 3, 2),
    ...     held="boom", foot=(1, 3))
    >>> load = load_of(key)
    >>> load.arm, load.counterweight == load.weight * 1.0 / COUNTERWEIGHT
    (1.0, True)
    """
    if item.held != "boom" or item.foot is None:
        return None
    arm = float(np.hypot(item.position[0] - item.foot[0], item.position[1] - item.foot[1]))
    weight = weight_held(item)
    return Load(arm, weight, weight * arm / COUNTERWEIGHT)


def over(setup, item):
    """Name of the person that a boomed, borne or hung unit or sheet is over, or empty."""
    if item.held not in ("boom", "arm", "hung"):
        return ""
    for figure in setup.figures:
        if np.hypot(*np.subtract(item.position[:2], figure.position)) < OVER:
            return figure.name
    return ""
