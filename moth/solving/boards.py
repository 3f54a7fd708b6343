"""A board brought in for a ratio: white where the shade is to be lighter, black where darker."""

from dataclasses import dataclass
from itertools import product

import numpy as np
from scipy.optimize import brentq

from ..document import Grip, Polar, from_polar
from ..errors import DocumentError, MothError
from ..metering import lay_out, origin_of
from ..units import stops
from ..wording import ratio_words
from ..world import anchor
from .fitting import hidden_by, in_free_air
from .ratio import CLOSE, Solved, check_asked, ratio_of
from .rigging import stood

SIZES = ((0.61, 0.91), (1.22, 1.22), (1.22, 2.44))
"""Of usual boards [m]: 2 × 3, 4 × 4 and 4 × 8 ft."""
ANGLES = (75.0, 55.0, 95.0, 115.0)
"""Off the lens at the subject, that are tried one after another [deg]; typical of a fill."""
NEAREST, FARTHEST = 0.45, 2.6
"""Distances from the face that are tried [m]."""
SHOWN = 0.002
"""Part of the frame that it may hide."""
WHITE, BLACK = ("board", "foam-white", "White board"), ("flag", "duvetyne", "Black cloth")


TRIES = tuple(product(SIZES, ANGLES))
"""What is tried one after another: the smallest board first, at each of the angles."""


@dataclass(frozen=True)
class BoardTried:
    """One size of board at one angle."""

    solved: Solved | None
    """None where it does not do it."""
    off: float
    """Stops from what was asked for, where it comes nearest; infinite where it has no room."""
    words: str
    """How near it comes, or that it has no room."""


def bring_board(setup, target, school="combined", side="left"):
    """Bring a key-to-fill ratio about by a board on one side: found, and metered.

    The smallest board that does it, at the first of some usual angles.

    Parameters
    ----------
    setup : moth.document.Setup
    target : float
        Ratio, 1..64.
    school : {"cheeks", "combined", "single"}
    side : {"left", "right"}
        Of the camera.

    Returns
    -------
    Solved

    Raises
    ------
    MothError
        When no board does it there; the sentence says how far the best comes.

    Examples
    --------
    >>> from moth.document import bare
    >>> lamp = {"id": "k", "name": "Key", "role": "key", "head": "panel-small"}
    >>> s = bare(units=[{**lamp, "position": [3.2, 3.4, 2], "aim": [2, 2, 1.5]}])
    >>> now = ratio_of(s, "combined")
    >>> found = bring_board(s, 0.7 * now, side="right")
    >>> bool(abs(np.log2(found.ratio / (0.7 * now))) < 0.1), found.setup.grip[0].kind
    (True, 'board')
    """
    every = []
    for at in range(len(TRIES)):
        every.append(try_board(setup, target, school, side, at))
        if every[-1].solved:
            return every[-1].solved
    raise MothError(min(every, key=lambda tried: abs(tried.off)).words, "target")


def try_board(setup, target, school, side, at):
    """One of :data:`TRIES` of :func:`bring_board`, which see.

    Its distance is searched for, metering anew. A white board looks half way between the face and
    where the key's light comes from, a black one to the face.

    Returns
    -------
    BoardTried

    Raises
    ------
    MothError
        For what nobody can ask for, and where the ratio stands already.
    """
    check_asked(target, school)
    now = ratio_of(setup, school)
    wanted = float(stops(min(now, 1e6) / target))
    if abs(wanted) < CLOSE / 2:
        raise MothError(f"It is {ratio_words(now)} already: nothing to bring in.", "target")
    make = _Board(setup, side, WHITE if wanted > 0 else BLACK)
    size, angle = TRIES[at]

    def off(log_distance):
        made = make.standing(size, angle, np.exp(log_distance))
        return float(np.log2(min(ratio_of(made, school), 1e6) / target))

    def solved(log_distance):
        return BoardTried(make.told(size, angle, np.exp(log_distance), school), 0.0, "")

    fits = [d for d in np.geomspace(NEAREST, FARTHEST, 9) if make.fits(size, angle, d)]
    if not fits:
        words = f"There is no room for a board camera {side} that the frame does not show."
        return BoardTried(None, np.inf, words)
    near, far = np.log(fits[0]), np.log(fits[-1])
    ends = [(off(near), near)]
    # Far enough away it does nothing: where it does too little near by, a larger one may do it.
    if ends[0][0] * wanted < 0:
        ends.append((off(far), far))
        if ends[1][0] * wanted > 0:
            root = brentq(off, near, far, xtol=0.02, rtol=0.02)
            if make.fits(size, angle, np.exp(root)) and abs(off(root)) < CLOSE:
                return solved(root)
    left, place = min(ends, key=lambda end: abs(end[0]))
    if abs(left) < CLOSE:
        return solved(place)
    if left * wanted < 0:
        more = "a smaller board, or one farther off"
    elif wanted > 0:
        more = "the key down, a fill unit, or a lighter room"
    else:
        more = "the fill down, or darker walls"
    return BoardTried(
        None,
        left,
        f"No board camera {side} does it: the nearest is {ratio_words(target * 2**left)}, with"
        f" {_feet(size)} at {np.exp(place):.1f} m. What would: {more}.",
    )


def _feet(size):
    return f"{size[0] / 0.3048:.2g} × {size[1] / 0.3048:.2g} ft"


class _Board:
    """One kind of board on one side of a set-up's face."""

    def __init__(self, setup, side, kind):
        self.setup, self.side, self.kind = setup, side, kind
        ready = lay_out(setup)
        self.face = anchor(setup)
        self.lens = np.asarray(setup.cameras[0].position, float)
        source = next((f for f in ready.found if f.id == ready.key), None)
        if source is None:
            raise MothError("Nothing lights the face: without a key there is no ratio.", "unit")
        self.key = np.asarray(origin_of(setup, ready.world, source).place, float)
        taken = {g.id for g in setup.grip}
        self.id = next(f"board-{k}" for k in range(1, 100) if f"board-{k}" not in taken)

    def piece(self, size, angle, distance):
        polar = Polar(-angle if self.side == "left" else angle, 0.0, distance)
        place = from_polar(polar, self.face, self.lens)
        half = size[1] / 2 + 0.05
        place[2] = max(place[2], half)
        if not self.setup.room.outdoors:
            place[2] = max(min(place[2], self.setup.room.height - half), half)
        ways = [self.face - place]
        if self.kind is WHITE:
            ways.append(self.key - place)
        way = sum(w / max(float(np.linalg.norm(w)), 1e-9) for w in ways)
        # It stands upright: turned about the plumb alone.
        way[2] = 0.0
        way /= max(float(np.linalg.norm(way)), 1e-9)
        kind, material, name = self.kind
        piece = Grip(
            id=self.id,
            name=f"{name}, camera {self.side}",
            kind=kind,
            material=material,
            position=tuple(place.round(3).tolist()),
            aim=tuple((place + way).round(3).tolist()),
            size=size,
        )
        return stood(self.setup, piece)

    def fits(self, size, angle, distance):
        try:
            piece = self.piece(size, angle, distance)
        except DocumentError:
            return False
        return in_free_air(self.setup, piece) and hidden_by(self.setup, [piece]) < SHOWN

    def standing(self, size, angle, distance):
        piece = self.piece(size, angle, distance)
        return self.setup.model_copy(update={"grip": (*self.setup.grip, piece)})

    def told(self, size, angle, distance, school):
        made = self.standing(size, angle, distance)
        ratio = ratio_of(made, school)
        words = f"{made.grip[-1].name}, {_feet(size)}, {distance:.2f} m from the face"
        return Solved(made, ratio, f"{words} for {ratio_words(ratio)}")
