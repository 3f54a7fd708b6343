"""Rigging as tasks: what has to be done, by how many hands, in how long, and after what."""

import heapq
import math
from collections.abc import Mapping
from dataclasses import dataclass

from ..document import BATTERY
from ..photometry import ATTACHMENTS, HEADS
from ..place import LARGE, weight_held
from .needs import brought


@dataclass(frozen=True)
class TaskKind:
    """A kind of task; minutes and hands are typical of a practised crew, and may be set anew."""

    name: str
    minutes: float
    hands: int = 1


TASKS = {
    "strike": TaskKind("Strike", 2),
    "cover": TaskKind("Cover the window", 6),
    "stand": TaskKind("Stand and head", 4),
    "boom": TaskKind("Boom and head", 8, 2),
    "arm": TaskKind("Arm on a stand", 3),
    "hang": TaskKind("Hang the head", 10, 2),
    "dress": TaskKind("Dress the head", 1),
    "box": TaskKind("Box on the head", 3),
    "power": TaskKind("Cable and power", 2),
    "move": TaskKind("Move the stand", 2),
    "sheet": TaskKind("Cloth or board", 5),
    "large-sheet": TaskKind("Large cloth or board", 9, 2),
    "focus": TaskKind("Aim", 2),
    "flag": TaskKind("Flag", 3),
    "balance": TaskKind("Balance by the meter", 3),
    "marks": TaskKind("Marks and stand-in", 3),
    "sound": TaskKind("Sound check", 3),
}
"""Kinds of task by key."""
HEAVY = 10.0
"""From here a head takes two hands [kg]; usual."""
A_UNIT = 1.0
"""Of balancing, for each unit that is lit [min]; typical."""
STAYS = 0.05
"""What has moved by less has not moved [m]."""
AIMED = 0.1
"""What is aimed off by less is aimed [m]."""
FLAGS = ("flag", "blinds", "branches")


@dataclass(frozen=True)
class Task:
    """Something to be done."""

    key: str
    kind: str
    name: str
    minutes: float
    hands: int
    after: tuple[str, ...] = ()
    """Keys of what must be done before it."""


@dataclass(frozen=True)
class Timed:
    """A task with its time."""

    task: Task
    begin: float
    """[min] from the start of the rigging."""
    end: float
    waits: float
    """How long it could have begun before, had there been hands [min]."""


@dataclass(frozen=True)
class Rigging:
    """All tasks of a set-up, in time."""

    tasks: tuple[Timed, ...]
    minutes: float
    """From the first to the last."""
    hands: int
    idle: float
    """Hand-minutes in which somebody waits."""
    words: str


class _List:
    """Tasks as they are noted, minutes as they are set."""

    def __init__(self, minutes):
        self.minutes = minutes
        self.tasks = []

    def stands_under(self, item):
        """Keys of the tasks that put up the stand which an item is on by an arm."""
        if item.held != "arm":
            return []
        return [
            t.key for t in self.tasks if t.key in (f"stand:{item.bearer}", f"boom:{item.bearer}")
        ]

    def add(self, kind, about, name, after=(), hands=0, extra=0.0):
        known = TASKS[kind]
        key = f"{kind}:{about}"
        minutes = self.minutes.get(kind, known.minutes) + extra
        self.tasks.append(
            Task(
                key,
                kind,
                f"{known.name}: {name}" if name else known.name,
                minutes,
                hands or known.hands,
                tuple(a for a in after if a),
            )
        )
        return key


def tasks_of(setup, before=None, minutes: Mapping[str, float] | None = None):
    """What has to be done for a set-up: all of it, or what changes from the one before.

    Parameters
    ----------
    setup : moth.document.Setup
    before : moth.document.Setup, optional
        What stands in the same place; None for an empty one.
    minutes : mapping of str to float, optional
        By key of :data:`TASKS`, instead of the typical ones [min].

    Returns
    -------
    tuple of Task

    Examples
    --------
    >>> from moth.document import bare
    >>> key = {"id": "k", "name": "Key", "head": "point-300", "position": [1, 1, 2],
    ...     "aim": [2, 2, 1]}
    >>> one = bare(units=[key])
    >>> [t.kind for t in tasks_of(one)]
    ['stand', 'power', 'focus', 'balance', 'marks', 'sound']
    >>> other = bare(units=[{**key, "position": [2, 1, 2]}])
    >>> [t.kind for t in tasks_of(other, one)]
    ['move', 'focus', 'balance', 'marks', 'sound']
    >>> tasks_of(one, one)
    ()
    """
    made = _List(minutes or {})
    covers = _covers(made, setup, before)
    ready, pairs, strikes = [], _paired(setup, before), []
    for unit in _left(brought(before) if before else [], pairs.values()):
        strikes.append(made.add("strike", unit.id, unit.name))
    old_of, left = _sheets(setup, before)
    for piece in left:
        strikes.append(made.add("strike", f"grip-{piece.id}", piece.name))
    # What is on another's stand goes up once that stands.
    for unit in sorted(brought(setup), key=lambda u: u.held == "arm"):
        ready += _unit(made, unit, pairs.get(unit.id))
    cloths: list[str] = []
    flags: list[str] = []
    for piece in setup.grip:
        old = old_of.get(piece.id)
        if old and _near(old.position, piece.position, STAYS) and _near(old.aim, piece.aim, AIMED):
            continue
        flag = piece.kind in FLAGS
        large = piece.size[0] * piece.size[1] >= LARGE
        kind = "flag" if flag else "move" if old else "large-sheet" if large else "sheet"
        after = ready if flag else made.stands_under(piece)
        at = made.add(kind, f"grip-{piece.id}", piece.name, after)
        (flags if flag else cloths).append(at)
    if not (ready or cloths or flags or covers or strikes or _dialled(setup, before)):
        return tuple(made.tasks)
    lit = sum(unit.on for unit in setup.units)
    done = [*covers, *ready, *cloths, *flags, *strikes]
    balanced = made.add("balance", "all", "", done, extra=A_UNIT * lit)
    made.add("marks", "all", "", strikes)
    if setup.microphone is not None or any(HEADS[u.head].noise for u in setup.units if u.on):
        made.add("sound", "all", "", [balanced])
    return tuple(made.tasks)


def _covers(made, setup, before):
    covered = {o.id: o.cover for o in before.openings} if before else {}
    return [
        made.add("cover", opening.id, opening.name)
        for opening in setup.openings
        if opening.cover not in ("clear", covered.get(opening.id))
    ]


def _hung(unit):
    return tuple((a.key, tuple(sorted(a.settings.items()))) for a in unit.attachments)


def _paired(setup, before):
    """Units of a set-up with those of the one before that become them: the same one first, then one
    dressed alike, then the same head.
    """
    if before is None:
        return {}
    free = {unit.id: unit for unit in brought(before)}
    pairs = {}
    for alike in (
        lambda a, b: a.id == b.id and a.head == b.head,
        lambda a, b: (a.head, _hung(a), a.held) == (b.head, _hung(b), b.held),
        lambda a, b: (a.head, a.held) == (b.head, b.held),
    ):
        for unit in brought(setup):
            if unit.id in pairs:
                continue
            old = min(
                (o for o in free.values() if alike(unit, o)),
                key=lambda o: math.dist(o.position, unit.position),
                default=None,
            )
            if old is not None:
                pairs[unit.id] = free.pop(old.id)
    return pairs


def _left(units, taken):
    ids = {unit.id for unit in taken}
    return [unit for unit in units if unit.id not in ids]


def _near(one, other, within):
    return math.dist(one, other) <= within


def _sheets(setup, before):
    """Sheets of a set-up with those of the one before that become them, the nearest each; and what
    is left of those.
    """
    free = list(before.grip) if before else []
    pairs = {}
    for piece in setup.grip:
        alike = [old for old in free if _same_sheet(old, piece)]
        if alike:
            old = min(alike, key=lambda o: math.dist(o.position, piece.position))
            pairs[piece.id] = old
            free.remove(old)
    return pairs, free


def _same_sheet(one, other):
    return (one.kind, one.material) == (other.kind, other.material) and _near(
        sorted(one.size), sorted(other.size), 0.01
    )


def _unit(made, unit, old):
    """Tasks of one unit; keys of what its light waits for."""
    name = unit.name
    stood = ""
    hands = 2 if weight_held(unit) > HEAVY else 0
    stays = old is not None and old.held == unit.held and _near(old.position, unit.position, STAYS)
    if old is None or old.held != unit.held:
        kind = {"boom": "boom", "arm": "arm", "hung": "hang"}.get(unit.held, "stand")
        stood = made.add(kind, unit.id, name, made.stands_under(unit), hands=hands)
    elif not stays:
        stood = made.add("move", unit.id, name, hands=hands)
    dressed = []
    if old is None or _hung(old) != _hung(unit):
        had = {} if old is None else dict(_hung(old))
        for at, (key, settings) in enumerate(_hung(unit)):
            if had.get(key) != settings:
                box = ATTACHMENTS[key].group == "soft"
                kind = "box" if box else "dress"
                dressed.append(
                    made.add(kind, f"{unit.id}-{at}", f"{name}, {ATTACHMENTS[key].name}", [stood])
                )
    powered = ""
    if HEADS[unit.head].watts and unit.feed != BATTERY and (old is None or old.feed != unit.feed):
        powered = made.add("power", unit.id, name, [stood])
    changed = [k for k in (stood, *dressed, powered) if k]
    aimed = stays and old is not None and _near(old.aim, unit.aim, AIMED)
    if changed or not aimed:
        return [made.add("focus", unit.id, name, changed)]
    return []


def _dialled(setup, before):
    """Whether a level or white has to be set anew."""
    if before is None:
        return bool(setup.units)

    def dials(one):
        return sorted(
            (u.id, u.on, u.dimmer, u.cct, u.green, u.hue, u.saturation) for u in one.units
        )

    return dials(setup) != dials(before)


def rigged(tasks, hands=2):
    """Tasks in time: whoever has a hand free takes the one that most waits for.

    Two hands' work done by one takes twice as long. List scheduling by the longest way to the
    end; it is within twice the shortest time possible (Graham 1969).

    Parameters
    ----------
    tasks : sequence of Task
    hands : int
        People who rig, > 0.

    Returns
    -------
    Rigging

    Examples
    --------
    >>> one = Task("a", "stand", "A", 4, 1)
    >>> two = Task("b", "focus", "B", 2, 1, ("a",))
    >>> rigged([one, two], 2).minutes
    6.0
    """
    by_key = {t.key: t for t in tasks}
    wait = {t.key: {a for a in t.after if a in by_key} for t in tasks}
    followers: dict[str, list[str]] = {t.key: [] for t in tasks}
    for key, befores in wait.items():
        for other in befores:
            followers[other].append(key)
    need = {t.key: min(t.hands, hands) for t in tasks}
    lasts = {t.key: t.minutes * t.hands / need[t.key] for t in tasks}
    tail: dict[str, float] = {}

    def longest(key):
        if key not in tail:
            tail[key] = lasts[key] + max((longest(k) for k in followers[key]), default=0.0)
        return tail[key]

    ready_at = {key: 0.0 for key, befores in wait.items() if not befores}
    free, now = hands, 0.0
    running: list[tuple[float, str]] = []
    timed: list[Timed] = []
    while ready_at or running:
        for key in sorted(ready_at, key=lambda k: (-longest(k), k)):
            if need[key] <= free:
                free -= need[key]
                begun = ready_at.pop(key)
                heapq.heappush(running, (now + lasts[key], key))
                timed.append(Timed(by_key[key], now, now + lasts[key], now - begun))
        now, done = heapq.heappop(running)
        free += need[done]
        for key in followers[done]:
            wait[key].discard(done)
            if not wait[key]:
                ready_at[key] = now
    total = max((t.end for t in timed), default=0.0)
    work = sum(lasts[t.key] * need[t.key] for t in tasks)
    idle = hands * total - work
    words = f"{total:.0f} min with {hands} {'person' if hands == 1 else 'people'}"
    if idle > 0.2 * max(hands * total, 1) and hands > 1:
        words += f"; somebody waits for {idle:.0f} min of it"
    return Rigging(tuple(sorted(timed, key=lambda t: t.begin)), total, hands, idle, words + ".")


def changeover(setup, before, hands, minutes=None):
    """How long it takes to come to a set-up from the one before, in the same place [min].

    Parameters
    ----------
    setup, before : moth.document.Setup or None
    hands : int
    minutes : mapping of str to float, optional
        See :func:`tasks_of`.

    Returns
    -------
    float

    Examples
    --------
    >>> from moth.document import bare
    >>> changeover(bare(), bare(), 2)
    0.0
    """
    return rigged(tasks_of(setup, before, minutes), hands).minutes
