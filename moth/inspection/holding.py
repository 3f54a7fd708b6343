"""What is to be minded of how a unit or a piece of grip is held, and why a stand cannot stand."""

import math
from dataclasses import dataclass

from ..document import Grip
from ..errors import MothError
from ..place import (
    COUNTERWEIGHT,
    GRIP_WEIGHT,
    LONGEST_ARM,
    arm_of,
    bearer_of,
    borne_by,
    ends_of,
    hung_from,
    in_its_way,
    load_of,
    over,
    shared_by,
    stands_of,
    weight_held,
)
from ..world import windows_before

BALANCED = 0.3
"""Less pull on a stand than this is none [kg m]."""
EIGHTHS = (
    "north",
    "north-east",
    "east",
    "south-east",
    "south",
    "south-west",
    "west",
    "north-west",
)
TALL = 3.5
"""Height over the ground that usual light stands reach [m]; typical."""
NO_STAND = {
    "wall": "Its stand would stand in the wall",
    "person": "Its stand would stand in '{}'",
    "through": "Its stand would go through '{}'",
    "legs": "The legs of its stand have no room beside '{}'",
    "arm-wall": "The arm of its boom would go through the wall",
    "arm-person": "The arm of its boom would go through '{}'",
}
"""Why a stand cannot stand where it would, by :class:`moth.place.InTheWay`."""
NO_ARM = {
    "arm-wall": "Its arm would go through the wall: move it, or the stand of '{0}'.",
    "arm-person": "Its arm would go through '{0}': move it, or the stand it is on.",
    "arm-long": (
        f"No arm reaches so far from the stand of '{{0}}': {LONGEST_ARM:g} m is the most. Bring it"
        " nearer, or boom it."
    ),
    "gone": "The stand of '{0}', which it is on, stands elsewhere: bring the one to the other.",
}
"""The same of an arm that is on another's stand."""


@dataclass(frozen=True)
class Holding:
    """How a piece of grip is held."""

    id: str
    fault: str
    """Why it cannot be held so; empty where it can."""
    words: tuple[str, ...]
    """What is to be minded."""


def why_not_standing(setup, item):
    """Why a stand of a unit or a piece of grip cannot stand where it would; empty where it can.

    Examples
    --------
    >>> from moth.document import bare
    >>> board = {"id": "b", "name": "Board", "material": "foam-white", "position": [0.3, 3, 1],
    ...     "aim": [0.3, 4, 1], "size": [1.2, 1.2], "held": "stand", "foot": [0, 3]}
    >>> s = bare(grip=[board])
    >>> why_not_standing(s, s.grip[0])
    'Its stand would stand in the wall: boom it, hang it, or move it.'
    """
    found = in_its_way(setup, item)
    if found is None:
        return ""
    if item.held == "arm":
        return NO_ARM[found.what].format(found.name)
    return f"{NO_STAND[found.what].format(found.name)}: boom it, hang it, or move it."


def grip_holding(setup, piece_id):
    """How a piece of grip is held: why that cannot be, and what is to be minded.

    Parameters
    ----------
    setup : moth.document.Setup
    piece_id : str

    Returns
    -------
    Holding

    Raises
    ------
    MothError
        Where there is no such piece.
    """
    piece = next((g for g in setup.grip if g.id == piece_id), None)
    if piece is None:
        raise MothError(f"There is no piece of grip '{piece_id}'.", "grip")
    fault = why_not_standing(setup, piece)
    if not fault and piece.held == "hung" and setup.room.outdoors:
        fault = "There is nothing outdoors that it could hang from: stand it, or boom it."
    return Holding(piece.id, fault, holding_words(setup, piece))


def holding_words(setup, item):
    """What is to be minded of how a unit or a piece of grip is held."""
    load, below = load_of(item), over(setup, item)
    sheet = isinstance(item, Grip)
    found = []
    if load:
        found.append(
            f"{load.weight:.1f} kg on {load.arm:.1f} m of arm want {load.counterweight:.1f} kg at a"
            f" short end of {COUNTERWEIGHT:g} m, bags on the stand, a leg under the load."
        )
    elif item.held == "arm":
        found += _arm_words(setup, item)
    elif sheet and item.held:
        found += _sheet_words(setup, item)
    shared = shared_by(setup, item)
    if shared:
        found.append(_shared_words(setup, item, shared))
    if below:
        what = "it and on its frame" if sheet else "the head and on all that hangs on it"
        found.append(f"It is over {below}: a safety cable on {what}.")
    if windows_before(setup, item.position):
        high = item.position[2] + setup.room.storey
        found.append(
            f"It stands outside, {high:.1f} m over the ground: rain cover, residual-current device,"
            " bags and guys; down before wind or thunder."
        )
        if high > TALL:
            found.append("So high it wants a tall stand with a levelling leg, or a lift.")
    if found:
        found.append("Local codes and licensed people decide.")
    return tuple(found)


def _arm_words(setup, item):
    """Of what is on another's stand by an arm."""
    bearer, stood = bearer_of(setup, item), arm_of(item)
    whose = f"the stand of {bearer.name}" if bearer else "another's stand"
    yield (
        f"{weight_held(item):.1f} kg on {math.dist(stood.foot, stood.head):.1f} m of arm, on"
        f" {whose}, which bears it with all else on it: the knuckle tightened so that the weight"
        " closes it."
    )


def _shared_words(setup, unit, shared):
    """Of a stand that bears more than its head."""
    things = len(borne_by(setup, unit)) + 1
    words = f"Its stand bears {things} things, {shared.weight:.1f} kg, {shared.height:.1f} m up"
    pull = math.hypot(*shared.pull)
    if pull < BALANCED:
        return f"{words}, balanced about the pole: bags all the same."
    way = bearing_words(shared.pull)
    return f"{words}, and they pull to the {way} ({pull:.1f} kg m): a leg that way, bags on it."


def bearing_words(way):
    """A way on the floor in the words of the compass, of eight.

    Examples
    --------
    >>> bearing_words((0.0, 1.0)), bearing_words((1.0, -1.0))
    ('north', 'south-east')
    """
    eighth = round(math.degrees(math.atan2(way[0], way[1])) / 45) % 8
    return EIGHTHS[eighth]


def _sheet_words(setup, piece):
    """Of a sheet on stands, hung or in a hand; typical weights."""
    weight, stood = weight_held(piece), stands_of(piece)
    about = f"About {weight:.1f} kg, at {GRIP_WEIGHT:g} kg a square metre"
    if len(stood) == 2:
        yield f"{about}: two stands, a bag on each, two people to put it up."
    elif stood:
        yield f"{about}: the widest leg under its far side, a bag on it."
    elif piece.held == "hung":
        drop = 0.0
        if not setup.room.outdoors:
            top = ends_of(piece)[2]
            drop = float(hung_from(setup.room, [top])[0] - top[2])
        yield (f"{about}, {drop:.1f} m under what it hangs from: ask first whether that bears it.")
    elif piece.held == "hand":
        yield f"{about}: a hand tires and drifts, and the level with it; a stand for a long take."
