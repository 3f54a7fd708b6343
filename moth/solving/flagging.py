"""A flag that keeps a unit's light off a thing and leaves the face alone: found, and metered."""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..camera import source_levels
from ..colour import LUMINANCE
from ..document import BACKDROP, Grip, Setup
from ..errors import DocumentError, MothError
from ..inspection.softness import arriving
from ..metering import Place, full_levels
from ..photometry import HEADS
from ..transport import light_of, sources, view_of
from ..units import stops
from ..wording import THIRDS
from ..world import axes, build_world, landmarks
from .fitting import hidden_by, in_free_air, spread
from .rigging import stood

SIZES = ((0.46, 0.61), (0.61, 0.91), (0.91, 1.22), (1.22, 1.22))
"""Of usual flags [m]: 18 × 24 in, 2 × 3, 3 × 4 and 4 × 4 ft."""
PLACES, RAYS = 14, 160
"""Places of the thing that are looked at, and ways of light that are kept of each."""
FACE_MAY_LOSE, THING_MUST_LOSE = 0.1, 2 / 3
"""Stops: of a tenth nobody sees the face change; of less than two thirds the flag is not worth
its stand.
"""
DEEP = 1 / 8
"""Part of the brightest place's light that a loss in the shade is told against: what is far darker
may lose more of the little that it has.
"""
HALF_HEAD = 0.1
"""From the middle of the head to just off the hair beside it [m]; typical."""
LEAST, METERED = 0.2, 4
"""Part of the thing's light that a flag must stop to be looked at, and how many are metered."""
NEAREST = 0.3
"""How near the face a flag may come [m]."""
MARGIN = 0.01
"""By which it stays off the light that goes to the face [m]."""
_SMALL = (96, 54)


@dataclass(frozen=True)
class Flagged:
    """A set-up with a flag that keeps a unit off a thing."""

    setup: Setup
    off: float
    """Stops that the thing loses of the unit's light, bounced light included."""
    face: float
    """The most that any place of the subject's head and shoulders loses of all light [stops]."""
    words: str


class _Ways(NamedTuple):
    """Light as it comes to places."""

    origins: np.ndarray
    """(n, 3) where it arrives [m]"""
    toward: np.ndarray
    """(n, 3) unit"""
    distances: np.ndarray
    """(n,) that it came [m]"""
    amounts: np.ndarray
    """(n,) [lx], of one place each"""

    @property
    def starts(self):
        return self.origins + self.distances[:, None] * self.toward


class _Candidate(NamedTuple):
    blocked: float
    position: np.ndarray
    normal: np.ndarray
    roll: float
    size: tuple


def keep_off(setup, unit_id, thing, say=THIRDS):
    """Find a flag that keeps a unit's light off a thing and leaves the subject alone.

    Light of the unit is followed to places of the thing and of the subject's head and shoulders;
    in planes on the way, flags of the usual sizes are laid beside what goes to the subject. The
    best are put into the set-up and metered.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str
    thing : str
        "@backdrop" for the walls that the frame shows, or kind:id of a person, a piece of
        furniture or grip, or a mark.
    say : moth.wording.Wording

    Returns
    -------
    Flagged

    Raises
    ------
    MothError
        Where there is no such unit or thing, where it brings nothing there, and where no flag does
        it; the sentence says what would.

    Examples
    --------
    >>> from moth.document import bare
    >>> lamp = {"id": "k", "name": "Key", "head": "point-150", "position": [3.2, 3.4, 2.1]}
    >>> s = bare(units=[{**lamp, "aim": [2, 2, 1.5]}])
    >>> found = keep_off(s, "k", "@backdrop")
    >>> found.off > 0.6, found.face < 0.1, found.setup.grip[0].kind
    (True, True, 'flag')
    """
    unit = next((u for u in setup.units if u.id == unit_id), None)
    if unit is None:
        raise MothError(f"There is no unit '{unit_id}'.", "unit")
    # Its light at full counts, whatever its dimmer: it may be brought up.
    world = build_world(setup)
    light = light_of(world, next(s for s in sources(setup) if s.id == unit_id))
    spots, called = _spots(setup, world, thing)
    there = _gathered(world, light, *_some(world, light, *spots))
    if there is None:
        raise MothError(f"{unit.name} brings no light of its own to {called}.", "thing")
    here = _gathered(world, light, *_subject(setup))
    found = _candidates(setup, unit, there, here)
    before = _on_thing(setup, unit_id, there.origins)
    tried = []
    for candidate in found:
        made = _with(setup, unit, candidate)
        off = float(stops(before / max(_on_thing(made, unit_id, there.origins), 1e-9)))
        tried.append((off, made))
    best, kept = None, _on_subject(setup, unit_id)
    for off, made in sorted(tried, key=lambda one: -one[0]):
        face = _lost(kept, _on_subject(made, unit_id))
        if face <= FACE_MAY_LOSE:
            best = _told(made, off, face, unit, called, say)
            break
    if best is None or best.off < THING_MUST_LOSE:
        least = (
            f"the best takes only {say.counted(best.off)} off it"
            if best
            else "those that have room take light from it too"
            if tried
            else "none has room"
        )
        raise MothError(
            f"No flag keeps {unit.name} off {called} and leaves the face alone: {least}. Its light"
            " goes the same way to both: move it, or narrow its beam with a grid.",
            "thing",
        )
    return best


def _lost(before, after):
    """The most that a place of the subject loses, as far as it is seen to [stops]."""
    floor = DEEP * max(float(before.max()), 1e-9)
    return float(np.max(stops((before + floor) / (after + floor))))


def _told(made, off, face, unit, called, say):
    piece = made.grip[-1]
    lost = "nothing" if face < 0.02 else f"{face:.2f} of a stop"
    words = f"{called} loses {say.counted(off)} of {unit.name}, the face {lost}"
    return Flagged(made, off, face, f"{piece.name} {_feet(piece.size)}: {words}")


def _feet(size):
    a, b = (f"{s / 0.3048:.2g}" for s in sorted(size))
    return f"{a} × {b} ft"


def _spots(setup, world, thing):
    """Places of a thing [m], the way each looks, and what it is called."""
    kind, _, name = thing.partition(":")
    if kind == "mark":
        mark = next((m for m in setup.marks if m.id == name), None)
        if mark is None:
            raise MothError(f"There is no mark '{name}'.", "thing")
        return (np.array([mark.position]), np.array([mark.direction])), mark.name
    body, called = _body(setup, thing)
    view = view_of(world, setup, setup.cameras[0], _SMALL)
    mine = view.body == body if body < _grip_begins(setup) else np.zeros(len(view.body), bool)
    if body == 0:
        mine &= np.abs(view.normals[:, 2]) < 0.9
    if mine.sum() >= 12:
        normals = view.normals[mine]
        normals = normals * np.where((normals * view.toward[mine]).sum(1) < 0, -1, 1)[:, None]
        return (view.points[mine], normals), called
    if body == 0:
        raise MothError("The frame shows no wall that light could be kept off.", "thing")
    # What the frame does not show, all over.
    mesh = world.mesh
    on = np.flatnonzero(mesh.body == body)
    on = on[:: max(len(on) // 400, 1)]
    middles = mesh.vertices[mesh.faces[on]].mean(1)
    return (middles.astype(float), mesh.flat[on].astype(float)), called


def _grip_begins(setup):
    return 1 + len(setup.furniture) + len(setup.figures)


def _body(setup, thing):
    """Number of a thing's body in the world, and what it is called."""
    if thing == BACKDROP:
        return 0, "the backdrop"
    kind, _, name = thing.partition(":")
    lists = {"furniture": setup.furniture, "person": setup.figures, "grip": setup.grip}
    first = {"furniture": 1, "person": 1 + len(setup.furniture), "grip": _grip_begins(setup)}
    at = next((k for k, item in enumerate(lists.get(kind, ())) if item.id == name), None)
    if at is None:
        raise MothError(f"There is nothing called '{thing}' to keep light off.", "thing")
    if kind == "person" and at == 0:
        raise MothError("Whose picture it is is left alone: name something else.", "thing")
    return first[kind] + at, lists[kind][at].name


def _some(world, light, points, normals):
    """A few of many places, where most of the light is, spread over it."""
    step = max(len(points) // 60, 1)
    points, normals = points[::step], normals[::step]
    level = np.array([arriving(world, light, p, n)[2].sum() for p, n in zip(points, normals)])
    lit = np.flatnonzero(level > 0.15 * max(float(level.max(initial=0)), 1e-9))
    lit = lit[:: max(len(lit) // PLACES, 1)][:PLACES]
    return points[lit], normals[lit]


def _subject(setup):
    """Places of the subject that keep their light, and the way each looks."""
    marks = landmarks(setup.figures[0])
    crown = marks["crown"]
    middle = np.array([crown[0], crown[1], marks["face"][2]])
    places = np.array([place for name, place in marks.items() if name != "face"])
    out = places - middle
    out /= np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-9)
    # Shoulders look up.
    out[[k.startswith("shoulder") for k in marks if k != "face"]] = (0.0, 0.0, 1.0)
    # The hair at both sides of the head, where an edge light falls.
    across = marks["eye_right"] - marks["eye_left"]
    across /= np.linalg.norm(across)
    sides = np.array([across, -across])
    hair = crown - [0, 0, 0.08] + HALF_HEAD * sides
    return np.concatenate([places + 0.012 * out, hair]), np.concatenate([out, sides])


def _gathered(world, light, points, normals):
    """Ways of light to places, thinned; None where no light comes."""
    found = []
    for point, normal in zip(points, normals, strict=True):
        toward, distances, level = arriving(world, light, point, normal)
        total = float(level.sum())
        if total <= 1e-6:
            continue
        # An even walk through the sum keeps each way by its share.
        at = np.searchsorted(np.cumsum(level), (np.arange(RAYS) + 0.5) / RAYS * total)
        at = np.minimum(at, len(level) - 1)
        origins = np.tile(point, (RAYS, 1))
        found.append(_Ways(origins, toward[at], distances[at], np.full(RAYS, total / RAYS)))
    return _Ways(*(np.concatenate(part) for part in zip(*found, strict=True))) if found else None


def _candidates(setup, unit, there, here):
    """Flags that take most from the thing and nothing from the subject, best first."""
    weight = there.amounts / there.amounts.sum()
    start, end = weight @ there.starts, weight @ there.origins
    way = end - start
    long = float(np.linalg.norm(way))
    right, up, normal = axes(start, end)
    if here is None:
        here = _Ways(np.zeros((0, 3)), np.zeros((0, 3)), np.zeros(0), np.zeros(0))
    found: list[_Candidate] = []
    for along in np.geomspace(min(0.3, 0.3 * long), 0.85 * long, 10):
        plane = start + along * normal, (right, up, normal)
        theirs, theirs_at = _crossing(there, *plane)
        ours, ours_at = _crossing(here, *plane)
        if len(theirs):
            lit, spared = (theirs_at, weight[theirs]), (ours_at, here.amounts[ours])
            found += _beside(plane, lit, spared)
    # Of two that do the same, the smaller.
    found.sort(key=lambda c: c.blocked - 0.02 * c.size[0] * c.size[1], reverse=True)
    kept: list[_Candidate] = []
    for candidate in found:
        if candidate.blocked < LEAST or len(kept) >= METERED:
            break
        if _has_room(setup, unit, candidate) and all(
            np.linalg.norm(candidate.position - k.position) > 0.1 for k in kept
        ):
            kept.append(candidate)
    return kept


def _beside(plane, lit, spared):
    """Flags in a plane that lie beside what goes to the subject, turned by every 30 degrees.

    plane: its middle, and right, up and normal there; lit, spared: where light to the thing and to
    the subject crosses it (n, 2), and how much that is (n,).
    """
    middle, (right, up, normal) = plane
    places, share = lit
    for turn in np.radians(np.arange(0, 360, 30)):
        d = np.array([np.cos(turn), np.sin(turn)])
        side = np.array([-d[1], d[0]])
        edge = _edge(spared[0] @ d, spared[1]) + MARGIN if len(spared[1]) else -np.inf
        beyond = places @ d > edge
        if share[beyond].sum() < LEAST:
            continue
        level, across = places[beyond] @ d, places[beyond] @ side
        low = max(edge, float(level.min()) - 0.05)
        aside = float(np.average(across, weights=share[beyond]))
        roll = float(np.degrees(np.arctan2(-d[0], d[1])))
        for wide, high in dict.fromkeys(s for size in SIZES for s in (size, size[::-1])):
            held = (level < low + high) & (np.abs(across - aside) < wide / 2)
            x, y = (low + high / 2) * d + aside * side
            yield _Candidate(
                float(share[beyond][held].sum()),
                middle + x * right + y * up,
                normal,
                roll,
                (wide, high),
            )


def _edge(levels, amounts):
    """Where all but the two hundredth part of the subject's light has gone by."""
    order = np.argsort(levels)
    passed = np.cumsum(amounts[order])
    return float(levels[order][np.searchsorted(passed, 0.995 * passed[-1])])


def _crossing(ways, middle, vectors):
    """Which ways of light cross a plane between start and end, and where along right and up."""
    right, up, normal = vectors
    slope = ways.toward @ normal
    with np.errstate(divide="ignore", invalid="ignore"):
        far = ((middle - ways.origins) @ normal) / slope
    met = np.flatnonzero((far > 0.02) & (far < ways.distances - 0.02) & np.isfinite(far))
    at = ways.origins[met] + far[met, None] * ways.toward[met] - middle
    return met, np.column_stack([at @ right, at @ up])


def _has_room(setup, unit, candidate):
    """Whether a flag hangs in free air, off the lamp's heat and the face, out of the frame."""
    try:
        piece = _piece(setup, unit, candidate)
    except DocumentError:
        return False
    if not in_free_air(setup, piece):
        return False
    places = spread(piece)
    lamp = np.linalg.norm(places - np.asarray(unit.position), axis=1).min()
    face = np.linalg.norm(places - landmarks(setup.figures[0])["face"], axis=1).min()
    if lamp < HEADS[unit.head].distance or face < NEAREST:
        return False
    return hidden_by(setup, [piece]) < 0.002


def _piece(setup, unit, candidate):
    taken = {g.id for g in setup.grip}
    names = {g.name for g in setup.grip}
    name = f"{unit.name}, flag"[:80]
    at = next(k for k in range(1, 100) if f"flag-{k}" not in taken)
    position = candidate.position.round(3)
    piece = Grip(
        id=f"flag-{at}",
        name=name if name not in names else f"{name[:76]} {at}",
        kind="flag",
        material="duvetyne",
        position=tuple(position.tolist()),
        aim=tuple((position - candidate.normal).round(4).tolist()),
        # Its front looks back at the lamp: right and left change places.
        roll=round(-candidate.roll, 2),
        size=candidate.size,
    )
    return stood(setup, piece)


def _with(setup, unit, candidate):
    return setup.model_copy(update={"grip": (*setup.grip, _piece(setup, unit, candidate))})


def _on_thing(setup, unit_id, origins):
    """Mean level of a unit at full on places of a thing, as a disc toward it reads [lx]."""
    world = build_world(setup)
    unit = next(s for s in sources(setup) if s.id == unit_id)
    lamp = np.asarray(next(u.position for u in setup.units if u.id == unit_id), float)
    places = []
    for place in np.unique(origins, axis=0):
        to = lamp - place
        to /= max(np.linalg.norm(to), 1e-9)
        places.append(Place("t", "", tuple(place + 0.01 * to), tuple(to), "disc"))
    return float((full_levels(setup, world, places, [unit])[0] @ LUMINANCE).mean())


def _on_subject(setup, unit_id):
    """Level of all that is on, and of a unit at full, on places of the subject (k,) [lx]."""
    level = source_levels(setup)
    on = [s for s in sources(setup) if s.id == unit_id or level[s.id] > 0]
    state = np.array([1.0 if s.id == unit_id else level[s.id] for s in on])
    places = [
        Place(f"f{k}", "", tuple(point), tuple(way), "disc")
        for k, (point, way) in enumerate(zip(*_subject(setup), strict=True))
    ]
    return state @ (full_levels(setup, build_world(setup), places, on) @ LUMINANCE)
