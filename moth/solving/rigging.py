"""Rigs made in one move: a book light, a bounce, a cloth between, negative fill. Sensible places,
to be moved afterwards.
"""

import contextlib
from typing import NamedTuple

import numpy as np

from ..document import Grip
from ..errors import DocumentError, MothError
from ..place import (
    bounds_of,
    ceiling_over,
    ends_of,
    grip_rods,
    in_gap,
    in_its_way,
    nearest_within,
    to_wall,
)
from ..transport import half_spread, lens_axes, project
from ..transport.emitters import build_emitter
from ..world import (
    anchor,
    axes,
    check_placement,
    material_of,
    opening_place,
    windows_before,
)
from .fitting import hidden_by

MARGIN = 0.12
"""Least distance of anything placed here to a wall [m]."""
MOVES = {
    "book": "Make it a book light",
    "book-stand": "Make it a book light on one stand",
    "bounce-board": "Bounce it off a board",
    "bounce-wall": "Bounce it off the nearest wall",
    "bounce-ceiling": "Bounce it off the ceiling",
    "cloth": "Put a cloth between",
    "mirror": "Throw it by a mirror",
    "negative": "Take away on the other side",
    "boom": "Boom it over a stand beside it",
    "outside": "Put it outside the window",
}
"""Moves by key, in the words of the menu."""
CAUTION = {
    "book": (
        "Two sails and a lamp on three stands: bags on each, widest leg under the load. Local codes"
        " and licensed people decide."
    ),
    "book-stand": (
        "All of it pulls at one stand: a heavy one, its widest leg under the cloth, bags on every"
        " leg, every knuckle tightened so that the weight closes it; the lamp looks up, keep its"
        " front clear. Local codes and licensed people decide."
    ),
    "bounce-board": (
        "A board is a sail: bag its stand, none of it in wind. Local codes and licensed people"
        " decide."
    ),
    "bounce-wall": (
        "Keep a hot head half a metre off paint, paper and curtains. Local codes and licensed"
        " people decide."
    ),
    "bounce-ceiling": (
        "Keep a hot head half a metre off the ceiling, sprinklers and smoke heads. Local codes and"
        " licensed people decide."
    ),
    "cloth": (
        "Cloth near a hot head burns, and a frame is a sail: distance, bags, none of it in wind."
        " Local codes and licensed people decide."
    ),
    "mirror": (
        "A mirror keeps the beam together: nobody's eyes in its path, none in the sun; glass over"
        " people is tied off. Local codes and licensed people decide."
    ),
    "negative": (
        "A black frame is a sail too: bag it, and keep the way out free. Local codes and licensed"
        " people decide."
    ),
    "outside": (
        "Outside: rain covers, a residual-current device, cables off wet ground; bags and guys on"
        " every stand, down before wind or thunder. A head above three metres wants a tall stand"
        " with a levelling leg, or a lift, and people who know it. Local codes and licensed people"
        " decide."
    ),
    "boom": (
        "A boom tips over its short end: counterweight, bags, a leg under the load, a safety cable,"
        " nobody beneath who need not be. Local codes and licensed people decide."
    ),
}


def _direction(here, there):
    """Unit vector from one place to another."""
    way = np.subtract(there, here)
    return way / max(float(np.linalg.norm(way)), 1e-9)


def _inside(room, point):
    """The nearest place that is inside the room."""
    if room.outdoors:
        return np.array([point[0], point[1], max(point[2], MARGIN)])
    x, y = nearest_within(room, point, MARGIN)
    top = float(ceiling_over(room, [(x, y)])[0])
    return np.array([x, y, np.clip(point[2], MARGIN, max(top - MARGIN, MARGIN))])


def _tuple(point):
    return tuple(round(float(c), 3) for c in point)


def _new_id(setup, stem):
    taken = {g.id for g in setup.grip}
    for k in range(1, 100):
        name = stem if k == 1 else f"{stem}-{k}"
        if name not in taken:
            return name
    raise DocumentError("There is no room for more grip of this kind.", "grip")


class _Stand(NamedTuple):
    """Where a piece of grip is to stand, as far as the room allows it."""

    position: np.ndarray
    aim: np.ndarray
    size: tuple


def _grip(setup, stem, name, kind, material, stand):
    room = setup.room
    position, aim, size = stand
    if not room.outdoors:
        # A frame as tall as the room stands from floor to ceiling, not through them.
        size = (
            min(size[0], float(np.ptp(bounds_of(room), axis=0).max()) - 2 * MARGIN),
            min(size[1], room.height - 2 * MARGIN),
        )
    position = np.array(position, float)
    # What lies nearly flat goes higher than what stands.
    right, up, _ = axes(position, aim)
    lift = abs(right[2]) * size[0] / 2 + abs(up[2]) * size[1] / 2 + 0.02
    position[2] = (
        max(position[2], min(lift, room.height / 2))
        if room.outdoors
        else min(max(position[2], lift), room.height - lift)
    )
    position = _clear_of_walls(room, position, aim, size)
    return Grip(
        id=_new_id(setup, stem),
        name=name,
        kind=kind,
        material=material,
        position=_tuple(position),
        aim=_tuple(aim),
        size=size,
    )


def _clear_of_walls(room, position, aim, size):
    """Moved so that both its ends are inside the room."""
    if room.outdoors:
        return position
    right, up, _ = axes(position, aim)
    reach = np.abs(right) * size[0] / 2 + np.abs(up) * size[1] / 2 + 0.02
    low, high = (
        np.array([*corner, z]) for corner, z in zip(bounds_of(room), (0, room.height), strict=True)
    )
    return np.where(
        2 * reach < high - low, np.clip(position, low + reach, high - reach), (low + high) / 2
    )


def _frame(setup, unit, turned):
    """Face, unit vectors from it to the unit, the same along the level, and sideways: away from the
    lens, or toward it where `turned` is -1; distance.
    """
    face = anchor(setup)
    to = np.asarray(unit.position, float) - face
    distance = float(np.linalg.norm(to))
    level = np.array([to[0], to[1], 0.0])
    level = (
        level / np.linalg.norm(level) if np.linalg.norm(level) > 0.05 else np.array([0.0, 1.0, 0.0])
    )
    lens = np.asarray(setup.cameras[0].position, float) - face
    side = np.array([-level[1], level[0], 0.0])
    # Away from the lens: stands belong on the side that the frame does not show.
    side = turned * (side if side @ lens <= 0 else -side)
    return face, to / max(distance, 1e-9), level, side, distance


def make(setup, unit_id, move, material=None, size=None):
    """A set-up in which one unit is rigged anew.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str
    move : str
        Key of :data:`MOVES`.
    material : str or None
        Of the cloth or board; None for the usual.
    size : (float, float) or None
        Width and height [m]; None for the usual.

    Returns
    -------
    Setup

    Raises
    ------
    DocumentError
        For a unit, move or material that is not known.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     units=[
    ...         {
    ...             "id": "k",
    ...             "name": "Key",
    ...             "head": "point-300",
    ...             "position": [3.6, 4, 2.2],
    ...             "aim": [2, 2, 1.5],
    ...         }
    ...     ]
    ... )
    >>> [g.kind for g in make(s, "k", "book").grip]
    ['board', 'frame']
    """
    at = next((k for k, u in enumerate(setup.units) if u.id == unit_id), None)
    if at is None:
        raise DocumentError(f"There is no unit '{unit_id}'.", "unit")
    if move not in MOVES:
        raise DocumentError(f"There is no move '{move}'.", "move")
    if material:
        material_of(setup, material, "material")
    # Of the two sides that a lamp and its board can change, the one that the frame shows least of.
    made = [_rigged(setup, at, move, material, size, turned) for turned in (1, -1)]
    return min(made, key=lambda found: _shown(found, at, len(setup.grip)))


def _rigged(setup, at, move, material, size, turned):
    unit = setup.units[at]
    changed, pieces = _MAKERS[move](setup, unit, material, size, turned)
    units = (
        *setup.units[:at],
        unit.model_copy(
            update={
                k: v if v is None or isinstance(v, str) else _tuple(v) for k, v in changed.items()
            }
        ),
        *setup.units[at + 1 :],
    )
    grip = list(setup.grip)
    for piece in pieces:
        # Each piece is named with those already there in mind.
        piece = piece.model_copy(
            update={
                "id": _new_id(
                    setup.model_copy(update={"grip": tuple(grip)}),
                    piece.id.rsplit("-", 1)[0] if piece.id[-1].isdigit() else piece.id,
                )
            }
        )
        # Where no stand has room, it is left to the hand how it is held.
        with contextlib.suppress(DocumentError):
            piece = piece if piece.held else stood(setup, piece)
        grip.append(piece)
    return type(setup).model_validate(
        setup.model_copy(update={"units": units, "grip": tuple(grip)}).model_dump()
    )


def _shown(setup, at, before):
    """Part of the frame that a rig's head and its new grip hide, before the face; infinite where it
    cannot stand so.
    """
    try:
        check_placement(setup)
    except MothError:
        return np.inf
    return hidden_by(setup, setup.grip[before:], [build_emitter(setup.units[at])])


def _book(setup, unit, material, size, turned):
    face, to, level, side, distance = _frame(setup, unit, turned)
    away = min(max(distance * 0.6, 1.3), 2.0)
    cloth_at = face + away * to
    size = size or (1.2, 1.2)
    cloth = _grip(
        setup,
        "cloth",
        f"{unit.name}, cloth of the book",
        "frame",
        material or "muslin-bleached",
        _Stand(cloth_at, face, size),
    )
    cloth_at = np.asarray(cloth.position)
    # The board opens from the cloth's far edge like the other cover of a book; the lamp stands in
    # the opening.
    board_at = _inside(setup.room, cloth_at + 0.75 * level + 0.35 * side)
    lamp = _inside(setup.room, cloth_at + 0.35 * level - side * (size[0] / 2 + 0.45))
    lamp[2] = cloth_at[2]
    toward = _direction(board_at, lamp) + _direction(board_at, cloth_at)
    board = _grip(
        setup,
        "board",
        f"{unit.name}, board of the book",
        "board",
        "foam-white",
        _Stand(board_at, board_at + toward, size),
    )
    return {"position": lamp, "aim": board.position}, [board, cloth]


ON_ONE = (0.9, 0.9)
"""Board and cloth of a book light on one stand [m]: what an arm holds with one hand."""


def _book_on_one(setup, unit, material, size, turned):
    """The board on top looks down, the cloth hangs below it toward the face, the lamp at the foot
    of the stand looks up between them.
    """
    face, _, level, _, distance = _frame(setup, unit, turned)
    size = size or ON_ONE
    near = min(max(distance * 0.6, 1.1), 1.6)
    # Pole, cloth and board stand in one line with the face; the cloth's top leans to the board.
    pole = _inside(setup.room, face + (near + 0.85) * level)
    if (pole - face) @ level < near + 0.5:
        raise DocumentError(
            "There is no room between the face and the wall for a book light on one stand: move"
            " the lamp round, or the subject off the wall.",
            "unit",
        )
    over_cloth = 0.5 * size[1] + 0.3
    cloth_at = face + near * level + [0, 0, 0.3]
    board_at = face + (near + 0.35) * level + [0, 0, 0.3 + over_cloth]
    # Under a low ceiling all of it comes down, to where the cloth would light from below.
    top = _inside(setup.room, board_at)[2]
    down = board_at[2] - top
    if down > 0.4:
        raise DocumentError(
            "The ceiling is too low here for a board over a cloth: take a book light on three"
            " stands.",
            "unit",
        )
    cloth_at[2], board_at[2] = cloth_at[2] - down, top
    cloth = _grip(
        setup,
        "cloth",
        f"{unit.name}, cloth of the book",
        "frame",
        material or "muslin-bleached",
        _Stand(cloth_at, face, size),
    )
    lamp = np.array([pole[0], pole[1], max(cloth.position[2] - size[1] / 2 - 0.1, 0.5)])
    toward = _direction(board_at, lamp) + _direction(board_at, cloth.position)
    board = _grip(
        setup,
        "board",
        f"{unit.name}, board of the book",
        "board",
        "foam-white",
        _Stand(board_at, board_at + toward, size),
    )
    foot = _tuple(lamp[:2])
    held = {"held": "arm", "foot": foot, "bearer": unit.id}
    changed = {"position": lamp, "aim": board.position, "held": "stand", "foot": None, "bearer": ""}
    return changed, [board.model_copy(update=held), cloth.model_copy(update=held)]


def _board(setup, unit, material, size, turned):
    face, to, level, side, distance = _frame(setup, unit, turned)
    board_at = face + min(max(distance * 0.8, 1.4), 2.2) * to
    lens = np.asarray(setup.cameras[0].position, float)
    lamp = _inside(setup.room, face + 0.45 * (lens - face) + 0.9 * level - 0.4 * side)
    lamp[2] = min(
        max(board_at[2], 1.2), setup.room.height - 0.3 if not setup.room.outdoors else 3.0
    )
    toward = _direction(board_at, lamp) + _direction(board_at, face)
    board = _grip(
        setup,
        "board",
        f"{unit.name}, board",
        "board",
        material or "foam-white",
        _Stand(board_at, board_at + toward, size or (1.2, 1.2)),
    )
    return {"position": lamp, "aim": board.position}, [board]


def _wall(setup, unit, material, size, turned):
    room = setup.room
    if room.outdoors:
        raise DocumentError("There is no wall outdoors: bounce it off a board.", "move")
    face, to, level, _, _ = _frame(setup, unit, turned)
    # The wall that the line from the face through the unit meets first: the light keeps its side.
    spot = face + to_wall(room, face, level) * level
    spot[2] = min(max(face[2] + 0.6, 1.6), room.height - 0.4)
    lamp = _inside(room, spot - 1.1 * level + np.array([0, 0, -0.5]))
    return {"position": lamp, "aim": spot}, []


def _ceiling(setup, unit, material, size, turned):
    room = setup.room
    if room.outdoors:
        raise DocumentError("There is no ceiling outdoors: bounce it off a board.", "move")
    face, to, level, _, distance = _frame(setup, unit, turned)
    spot = _inside(room, face + min(distance * 0.6, 1.4) * level)
    if in_gap(room, [spot])[0]:
        raise DocumentError("The ceiling is missing there: bounce it off a board.", "move")
    spot[2] = float(ceiling_over(room, [spot])[0])
    lamp = _inside(room, face + (min(distance * 0.6, 1.4) + 0.4) * level)
    lamp[2] = max(spot[2] - 1.2, 0.4)
    return {"position": lamp, "aim": spot}, []


def _cloth(setup, unit, material, size, turned):
    face, to, level, side, distance = _frame(setup, unit, turned)
    # Near enough to be large, far enough from the lamp to be filled; the lamp steps back where
    # there is room.
    away = min(max(0.55 * distance, 1.0), 1.8)
    cloth = _grip(
        setup,
        "cloth",
        f"{unit.name}, cloth",
        "frame",
        material or "grid-half",
        _Stand(face + away * to, face, size or (1.2, 1.2)),
    )
    lamp = _inside(setup.room, face + max(distance, away + 1.1) * to)
    return {"position": lamp, "aim": cloth.position}, [cloth]


def _mirror(setup, unit, material, size, turned):
    face, to, level, side, distance = _frame(setup, unit, turned)
    glass_at = _inside(setup.room, face + min(distance, 2.2) * to)
    lamp = _inside(setup.room, glass_at - 1.6 * side + 0.2 * level)
    toward = _direction(glass_at, lamp) + _direction(glass_at, face)
    glass = _grip(
        setup,
        "mirror",
        f"{unit.name}, mirror",
        "mirror",
        material or "mirror",
        _Stand(glass_at, glass_at + toward, size or (0.6, 0.6)),
    )
    # Carried, lamp or glass: its light still goes to the face.
    glass = glass.model_copy(update={"throws": f"unit:{unit.id}"})
    return {"position": lamp, "aim": glass.position}, [glass]


def _negative(setup, unit, material, size, turned):
    face, to, level, side, _ = _frame(setup, unit, turned)
    lens = np.asarray(setup.cameras[0].position, float) - face
    ahead = np.array([lens[0], lens[1], 0.0])
    ahead /= max(np.linalg.norm(ahead), 1e-9)
    across = np.array([-ahead[1], ahead[0], 0.0])
    across = across if across @ to < 0 else -across
    black = _grip(
        setup,
        "black",
        "Negative fill",
        "flag",
        material or "duvetyne",
        _Stand(face + 0.85 * across + 0.25 * ahead, face + 0.25 * ahead, size or (1.2, 1.5)),
    )
    return {}, [black]


OUT = 2.2
"""How far outside a window a unit is put [m]: room for its stand, and for its beam to fill it."""


def _outside(setup, unit, material, size, turned):
    """On the line from the face through the middle of a window: of several, the one that keeps the
    unit's side best.
    """
    face, to, _, _, _ = _frame(setup, unit, turned)
    found = []
    for opening in setup.openings:
        middle, _ = opening_place(setup, opening)
        way = (middle - face) / max(np.linalg.norm(middle - face), 1e-6)
        place = middle + OUT * way
        if opening.wall != "ceiling" and opening in windows_before(setup, tuple(place)):
            found.append((float(way @ to), place))
    if not found:
        raise DocumentError("There is no window that it could shine in at: cut one first.", "move")
    place = max(found, key=lambda each: each[0])[1]
    return {"position": place, "aim": face, "held": "stand", "bearer": ""}, []


REACHES = np.arange(0.4, 2.01, 0.2)
"""Lengths of a boom's arm that are tried [m]."""


def _boom(setup, unit, material, size, turned):
    """The stand where it has room, the frame shows least of it and the arm is short."""
    return {"held": "boom", "foot": _boomed(setup, unit), "bearer": ""}, []


def _boomed(setup, item):
    """Foot of the best boom for a unit or a piece of grip."""
    head = np.asarray(item.position, float)
    camera = setup.cameras[0]
    lens = np.asarray(camera.position, float)
    right, up, forward = lens_axes(camera)
    wide, high = half_spread(camera)
    places = []
    for reach in REACHES:
        for angle in np.radians(np.arange(0, 360, 15)):
            foot = head[:2] + reach * np.array([np.cos(angle), np.sin(angle)])
            held = item.model_copy(update={"held": "boom", "foot": tuple(foot)})
            if in_its_way(setup, held):
                continue
            pole = np.column_stack([np.tile(foot, (12, 1)), np.linspace(0, head[2], 12)]) - lens
            deep = np.maximum(pole @ forward, 1e-6)
            seen = (
                (pole @ forward > 0.1)
                & (np.abs(pole @ right) < wide * deep)
                & (np.abs(pole @ up) < high * deep)
            )
            places.append((2 * float(seen.mean()) + reach, *foot))
    if not places:
        raise DocumentError(
            f"There is no place for a stand within {REACHES[-1]:.0f} m of '{item.name}': clear the"
            " floor, hang it from above, or clamp it.",
            "grip" if isinstance(item, Grip) else "unit",
        )
    return min(places)[1:]


def stood(setup, piece, by=None):
    """A piece of grip with what holds it: a stand at the side that has room and that the frame
    shows least of, two under a large one, else a boom.

    Parameters
    ----------
    setup : moth.document.Setup
    piece : moth.document.Grip
        In the set-up or not yet.
    by : {"stand", "boom"} or None
        That alone is tried; None for whichever has room.

    Returns
    -------
    moth.document.Grip

    Raises
    ------
    DocumentError
        Where no stand has a place.

    Examples
    --------
    >>> from moth.document import bare
    >>> board = Grip(id="b", name="Board", material="foam-white", position=(0.7, 3, 1.2),
    ...     aim=(0.7, 4, 1.2), size=(1.2, 1.2))
    >>> held = stood(bare(), board)
    >>> held.held, held.foot
    ('stand', (1.3, 3.0))
    """
    ways: list[tuple] = []
    for end in ends_of(piece)[:2] if by != "boom" else ():
        foot = (round(float(end[0]), 3), round(float(end[1]), 3))
        held = piece.model_copy(update={"held": "stand", "foot": foot, "bearer": ""})
        if not in_its_way(setup, held):
            ways.append((_rods_shown(setup, held), len(ways), held))
    if ways:
        return min(ways)[2]
    if by == "stand":
        raise DocumentError(
            f"There is no room for a stand at the sides of '{piece.name}': boom it, hang it, or"
            " move it.",
            "grip",
        )
    x, y = _boomed(setup, piece)
    foot = round(float(x), 3), round(float(y), 3)
    return piece.model_copy(update={"held": "boom", "foot": foot, "bearer": ""})


def _rods_shown(setup, piece):
    """How much of what holds a piece of grip lies in the frame: places along it, 0..1."""
    along = np.linspace(0, 1, 12)[:, None]
    places = [
        np.asarray(one) + along * (np.asarray(other, float) - one)
        for one, other, _ in grip_rods(setup.room, piece)
    ]
    found = project(setup.cameras[0], np.concatenate(places))
    return sum(place is not None for place in found) / len(found)


_MAKERS = {
    "book": _book,
    "book-stand": _book_on_one,
    "bounce-board": _board,
    "bounce-wall": _wall,
    "bounce-ceiling": _ceiling,
    "cloth": _cloth,
    "mirror": _mirror,
    "negative": _negative,
    "boom": _boom,
    "outside": _outside,
}
