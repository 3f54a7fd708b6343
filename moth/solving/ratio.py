"""Setting a ratio: the dimmer or the distance of one unit that brings it, or what would when
neither does.
"""

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from scipy.optimize import brentq

from ..document import from_polar, to_polar
from ..errors import MothError
from ..metering import SCHOOLS_OF_RATIO, lay_out, origin_of
from ..units import stops
from ..wording import THIRDS, percent, ratio_words
from ..world import anchor, check_placement

SHORTEST, FARTHEST = 0.4, 8.0
"""Distances from the face that are tried [m]."""
LEAST_DIMMER = 0.01


@dataclass(frozen=True)
class Solved:
    """A set-up that has the ratio asked for."""

    setup: object
    ratio: float
    words: str


def _laid_out(setup):
    ready = lay_out(setup)
    if ready.key is None:
        raise MothError("Nothing lights the face: without a key there is no ratio.", "unit")
    return ready


def ratio_of(setup, school):
    """Key-to-fill ratio of a set-up in a school of :data:`moth.metering.SCHOOLS_OF_RATIO`; infinite
    without fill.
    """
    ready = _laid_out(setup)
    top, bottom = ready.sides().ratio(school, ready.state)
    return top / bottom if bottom > 0 else np.inf


def check_asked(target, school):
    """Raise MothError for a ratio or a school that nobody can ask for."""
    if school not in SCHOOLS_OF_RATIO or not 1 <= target <= 64:
        raise MothError(
            "A ratio is between 1:1 and 64:1, told cheek to cheek, as (key + fill) : fill or as"
            " key : fill.",
            "target",
        )


def set_ratio(setup, unit, target, school="combined", means="dimmer"):
    """Bring a key-to-fill ratio about with one unit.

    Light is linear in a dimmer, so its value follows at once; a distance is searched for, metering
    anew.

    Parameters
    ----------
    setup : moth.document.Setup
    unit : str
        Id of the unit that is to change.
    target : float
        Ratio, 1..64.
    school : {"cheeks", "combined", "single"}
    means : {"dimmer", "distance", "board"}
        "board" slides the board or cloth that the unit's light comes from, and keeps the unit aimed
        at it.

    Returns
    -------
    Solved

    Raises
    ------
    MothError
        When it cannot be had so; the sentence says how far the unit gets and what would bring it.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     units=[
    ...         {
    ...             "id": "k",
    ...             "name": "Key",
    ...             "role": "key",
    ...             "head": "point-600",
    ...             "position": [1, 3, 2],
    ...             "aim": [2, 2, 1.5],
    ...         },
    ...         {
    ...             "id": "f",
    ...             "name": "Fill",
    ...             "role": "fill",
    ...             "head": "point-600",
    ...             "position": [3, 4, 1.6],
    ...             "aim": [2, 2, 1.5],
    ...         },
    ...     ]
    ... )
    >>> round(ratio_of(set_ratio(s, "f", 4).setup, "combined"), 3)
    4.0
    """
    check_asked(target, school)
    at = next((k for k, u in enumerate(setup.units) if u.id == unit), None)
    if at is None:
        raise MothError(f"There is no unit '{unit}' here.", "unit")
    return {"dimmer": _by_dimmer, "distance": _by_distance, "board": _by_board}[means](
        setup, at, target, school
    )


def _changed(setup, at, **change):
    units = list(setup.units)
    units[at] = units[at].model_copy(update=change)
    return setup.model_copy(update={"units": tuple(units)})


def _by_dimmer(setup, at, target, school):
    ready = _laid_out(setup)
    sides = ready.sides()
    over, under = sides.weights(school)
    unit = setup.units[at]
    k = [f.id for f in ready.found].index(unit.id)
    if not over[k] and not under[k]:
        raise MothError(
            f"{unit.name} is neither key nor fill: in key : fill it does not count. Take the other"
            " school, or give it that part.",
            "unit",
        )
    others = ready.state.copy()
    others[k] = 0
    # (a + d p) / (b + d q) = target, with p and q what the unit at full brings to either side.
    a, b = float(others @ over), float(others @ under)
    p, q = float(over[k]), float(under[k])
    slope = p - target * q
    d = (target * b - a) / slope if abs(slope) > 1e-12 else np.inf
    if LEAST_DIMMER <= d <= 1:
        solved = _changed(setup, at, dimmer=float(d), on=True)
        return Solved(solved, target, f"{unit.name} at {percent(d)} for {ratio_words(target)}")
    at_full = (a + p) / max(b + q, 1e-9)
    without = a / b if b > 1e-9 else np.inf
    reach = (
        f"At full it comes to {ratio_words(at_full)}, without it to"
        f" {ratio_words(without) if np.isfinite(without) else 'no fill at all'}."
    )
    if 1 < d < 64:
        raise MothError(
            f"{unit.name} cannot do it by its dimmer. {reach} It would take"
            f" {THIRDS.counted(stops(d))} more: a stronger head, less cloth, or"
            f" {_nearer(setup, at, d)}.",
            "target",
        )
    # What no dark cloth takes away: the key's own light on the fill side, where no hand shades it.
    straight = float(others @ (sides.is_key * (sides.fill_side - sides.shaded)))
    if at_full > target and without > target:
        other = "the key down or the fill up"
    elif school == "cheeks" and a < target * straight:
        # The room and the other units' share there may be too much as well.
        cloth = ", and dark cloth on the fill side" if a < target * (b - straight) else ""
        other = (
            f"the key farther round to its side{cloth}, for with nothing but the key there it is"
            f" {ratio_words(a / straight)}; or another school, which shades it off the fill side"
        )
    elif under[k] and without < target and not (others * ready.part("fill")).any():
        # No other fill is on, and even with this one off more comes there than may: by the room.
        other = "dark cloth on the fill side, or darker walls"
    else:
        other = "the key up, the fill down, or dark cloth on the fill side"
    raise MothError(
        f"{unit.name} cannot do it by its dimmer. {reach} What would: {other}.", "target"
    )


def _nearer(setup, at, factor):
    unit = setup.units[at]
    distance = float(np.linalg.norm(np.asarray(unit.position) - anchor(setup)))
    return f"about {distance / np.sqrt(factor):.1f} m from the face instead of {distance:.1f} m"


def _by_distance(setup, at, target, school):
    unit, camera, face = setup.units[at], setup.cameras[0], anchor(setup)
    polar = to_polar(unit.position, face, camera.position)
    offset = np.asarray(unit.aim) - np.asarray(unit.position)

    def moved(distance):
        place = np.asarray(
            from_polar(replace(polar, distance=float(distance)), face, camera.position)
        )
        return _changed(
            setup,
            at,
            position=tuple(round(float(c), 4) for c in place),
            aim=tuple(round(float(c), 4) for c in place + offset),
            on=True,
        )

    return _by_sliding(unit.name, polar.distance, moved, target, school, 9)


def _by_board(setup, at, target, school):
    """Slide the board that brings the unit's light toward the face or away from it."""
    unit, face, ready = setup.units[at], anchor(setup), lay_out(setup)
    source = next(f for f in ready.found if f.id == unit.id)
    origin = origin_of(setup, ready.world, source)
    piece = ready.world.sheets[origin.sheet].piece if origin.kind == "sheet" else None
    which = piece if piece is not None and piece < len(setup.grip) else None
    if which is None:
        raise MothError(
            f"{unit.name} lights the face by no board or frame that could be moved: aim it into one"
            " first.",
            "unit",
        )
    board = setup.grip[which]
    place = np.asarray(board.position, float)
    away = np.linalg.norm(place - face)

    def moved(distance):
        shift = (place - face) / away * (distance - away)

        def at_(point):
            return tuple(round(float(c), 4) for c in np.asarray(point, float) + shift)

        grip = list(setup.grip)
        grip[which] = board.model_copy(
            update={"position": at_(board.position), "aim": at_(board.aim)}
        )
        return _changed(setup, at, aim=at_(unit.aim), on=True).model_copy(
            update={"grip": tuple(grip)}
        )

    return _by_sliding(board.name, away, moved, target, school, 6)


def _by_sliding(name, now, moved, target, school, tries):
    """Search distances for a ratio, metering anew at each; `moved` gives the set-up at a distance
    [m].
    """

    def off(log_distance):
        value = ratio_of(moved(np.exp(log_distance)), school)
        return float(np.log2(min(value, 1e6) / target))

    places = []
    for distance in np.geomspace(SHORTEST, FARTHEST, tries):
        try:
            check_placement(moved(distance))
        except MothError:
            continue
        places.append((float(np.log(distance)), off(np.log(distance))))
    # Of all changes of sign the one nearest to where the unit stands.
    start = np.log(now)
    spans = [(a, b) for a, b in pairwise(places) if a[1] * b[1] <= 0]
    if not spans:
        if not places:
            raise MothError(f"{name} finds no place on its line to the face.", "unit")
        best = min(places, key=lambda k: abs(k[1]))
        raise MothError(
            f"{name} cannot do it by its distance: nearest is"
            f" {ratio_words(target * 2 ** best[1])}, at {np.exp(best[0]):.1f} m. What would: its"
            " dimmer as well, or another side's unit.",
            "target",
        )
    for low, high in sorted(spans, key=lambda s: abs((s[0][0] + s[1][0]) / 2 - start)):
        root = low[0] if low[1] == 0 else brentq(off, low[0], high[0], xtol=2e-3)
        # A change of sign may be a jump: the unit's light takes another way from there on.
        if abs(off(root)) < CLOSE:
            solved = moved(np.exp(root))
            words = f"{name} at {np.exp(root):.2f} m for {ratio_words(target)}"
            return Solved(solved, ratio_of(solved, school), words)
    raise MothError(
        f"{name} cannot do it by its distance: on the way its light takes another way, and the"
        " ratio jumps past. What would: its dimmer as well, or another side's unit.",
        "target",
    )


CLOSE = 0.1
"""Stops between what was asked for and what is found, at most."""
