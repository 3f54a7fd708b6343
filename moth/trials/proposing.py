"""Proposals: ways to a key that is asked for, of what there is, as the plan of a trial; and how far
each cell of it falls short.
"""

import itertools
import math
from collections.abc import Mapping
from dataclasses import dataclass

from ..camera import key_level
from ..document import to_polar
from ..errors import MothError
from ..materials import MATERIALS
from ..photometry import ATTACHMENTS, HEADS
from ..units import footcandles
from ..world import anchor
from .plan import Axis, Change, Choice, TrialPlan

MOST_WAYS, PLACES = 20, (1.0, 0.7, 1.35)
"""Ways that are tried, each at so many times the distance it stands at."""
COSTS = {
    "bare": 0.0,
    "soft": 2.5,
    "cloth": 2.0,
    "book": 5.5,
    "bounce-board": 4.0,
    "bounce-wall": 4.5,
    "bounce-ceiling": 4.5,
}
"""About what a way costs against the bare head [stops], to leave out what cannot reach; typical."""
SLACK = 1.5
"""By how much an estimate may be off before a way is left out [stops]."""
SOFT_OF = {
    **{"cloth": 1.2, "book": 1.2, "bounce-board": 1.0},
    **dict.fromkeys(("bounce-wall", "bounce-ceiling"), 1.5),
}
"""About how wide a way's light is [m], to leave out what is too hard; typical."""
SOFT_SLACK = 2.0


@dataclass(frozen=True)
class _Way:
    head: str
    kind: str
    """ "bare", "soft", or a move."""
    key: str = ""
    """Of the attachment."""
    material: str | None = None

    @property
    def name(self):
        head = HEADS[self.head].name
        if self.kind == "bare":
            return head
        if self.kind == "soft":
            return f"{head}, {ATTACHMENTS[self.key].name.lower()}"
        by = MATERIALS[self.material].name.lower() if self.material else self.kind
        return f"{head}, {WORDS[self.kind].format(by)}"

    @property
    def steps(self):
        head = Change(kind="head", key=self.head)
        if self.kind == "bare":
            return (head,)
        if self.kind == "soft":
            return head, Change(kind="attachment", key=self.key)
        return head, Change(kind="move", key=self.kind, material=self.material)


WORDS = {
    "cloth": "through {}",
    "book": "as a book light, {}",
    "bounce-board": "off {}",
    "bounce-wall": "off the wall",
    "bounce-ceiling": "off the ceiling",
}


@dataclass(frozen=True)
class AtHand:
    """What there is to make a key of: keys of the catalogue."""

    heads: tuple[str, ...]
    attachments: tuple[str, ...]
    materials: tuple[str, ...]


CATALOGUE = AtHand(tuple(HEADS), tuple(ATTACHMENTS), tuple(MATERIALS))
"""Everything."""


def of_kit(kit):
    """What a kit has of it.

    Parameters
    ----------
    kit : sequence of moth.planning.kit.Gear

    Examples
    --------
    >>> from moth.planning.kit import Gear
    >>> of_kit([Gear(kind="head", name="Mine", key="point-60")]).heads
    ('point-60',)
    """
    has = [g for g in kit if g.count and g.key]

    def keys(kind):
        return tuple(dict.fromkeys(g.key for g in has if g.kind == kind))

    return AtHand(keys("head"), keys("attachment"), keys("sheet"))


def propose(setup, unit_id, wish, at_hand=CATALOGUE):
    """The trial of the ways that might do what is asked of a key.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str
        The unit that is to do it; where it stands is where the key comes from.
    wish : KeyWish
    at_hand : AtHand

    Returns
    -------
    TrialPlan

    Raises
    ------
    MothError
        When there is no such unit, or nothing at hand comes near.

    Examples
    --------
    >>> from moth.trials import KeyWish, stage
    >>> plan = propose(stage("face"), "key", KeyWish(soft=15))
    >>> 0 < len(plan.rows.choices) <= MOST_WAYS
    True
    """
    unit = next((u for u in setup.units if u.id == unit_id), None)
    if unit is None:
        raise MothError(f"There is no unit '{unit_id}' here.", "unit")
    now = to_polar(unit.position, anchor(setup), setup.cameras[0].position)
    asked = wish.lux or key_level(setup.cameras[0])
    near = _varied([(_short(w, wish, asked, now.distance), w) for w in _ways(at_hand)])
    if not near:
        raise MothError("Nothing at hand comes near to that: ask for less, or bring more.", "wish")
    sides = [(s, 1) for s in PLACES]
    if wish.either_side:
        sides += [(1.0, -1)]
    return TrialPlan(
        setup=setup,
        unit=unit_id,
        rows=Axis(choices=tuple(Choice(name=way.name[:80], steps=way.steps) for way in near)),
        columns=Axis(choices=tuple(_place(now, scale, side) for scale, side in sides)),
        level="same",
        wish=wish.model_copy(update={"lux": asked}),
    )


def _place(now, scale, side):
    """So many times as far as it stands, there or on the other side of the lens."""
    distance = round(scale * now.distance, 3)
    steps = [Change(kind="distance", value=distance)]
    if side < 0:
        steps.append(Change(kind="angle", value=round(-now.angle, 2)))
    name = f"{distance:.1f} m" + ("" if side > 0 else ", the other side")
    return Choice(name=name, steps=tuple(steps))


def _varied(found):
    """The likeliest ways, each head in its turn: first the best of every one, then the second."""
    by_head: dict[str, list] = {}
    for short, way in found:
        if short < math.inf:
            by_head.setdefault(way.head, []).append((short, way))
    ranked = [sorted(ways, key=lambda pair: pair[0]) for ways in by_head.values()]
    ranked.sort(key=lambda ways: (ways[0][0], HEADS[ways[0][1].head].price))
    turns = itertools.zip_longest(*ranked)
    return [pair[1] for turn in turns for pair in turn if pair][:MOST_WAYS]


def _ways(at_hand):
    through = [m for m in at_hand.materials if MATERIALS[m].transmission > 0.1]
    back = [m for m in at_hand.materials if m not in through and MATERIALS[m].returned > 0.5]
    # The one that costs least, and the one that spreads most.
    through.sort(key=lambda m: MATERIALS[m].straight + MATERIALS[m].forward)
    cloths = tuple(dict.fromkeys((*through[-1:], *through[:1])))
    for head in at_hand.heads:
        known = HEADS[head]
        yield _Way(head, "bare")
        for key in at_hand.attachments:
            if ATTACHMENTS[key].group == "soft" and known.group in ATTACHMENTS[key].fits:
                yield _Way(head, "soft", key)
        for material in cloths:
            yield _Way(head, "cloth", material=material)
        if cloths:
            yield _Way(head, "book", material=cloths[-1])
        if back:
            yield _Way(head, "bounce-board", material=back[0])
        for move in ("bounce-wall", "bounce-ceiling"):
            yield _Way(head, move)


def _short(way, wish, asked, distance):
    """About how far a way falls short [stops and doublings]; infinite where it cannot do."""
    head = HEADS[way.head]
    near = min(PLACES) * distance
    level = math.log2(asked * near**2 / head.peak) + COSTS[way.kind]
    if level > SLACK:
        return math.inf
    size = SOFT_OF.get(way.kind) or max(head.size)
    if way.kind == "soft":
        # A box is as wide as it is; what is clipped on is as wide as the head.
        own = {s.key: s.default for s in ATTACHMENTS[way.key].settings}
        size = own.get("width", size)
    degrees = math.degrees(2 * math.atan(size / 2 / distance))
    soft = math.log2(wish.soft / degrees) if wish.soft else 0.0
    if soft > SOFT_SLACK:
        return math.inf
    return max(level, 0.0) + max(soft, 0.0)


def misses(wish, figures: Mapping[str, float]):
    """What of a wish a cell does not do, each with by how much.

    Parameters
    ----------
    wish : KeyWish
    figures : mapping of str to float
        Of the cell, see :data:`moth.trials.FIGURES`.

    Returns
    -------
    dict of str to float
        "level" and "spill" in stops, "soft" in doublings; empty where it does all of it.

    Examples
    --------
    >>> from moth.trials import KeyWish
    >>> wish = KeyWish(lux=1000, soft=20)
    >>> misses(wish, {"level": 200.0, "soft": 20.5})
    {}
    >>> misses(wish, {"level": 200.0, "soft": 5.0})
    {'soft': 2.0}
    """
    found = {}
    if wish.lux:
        level = figures.get("level", 0.0)
        lacks = math.log2(footcandles(wish.lux) / level) if level > 0 else math.inf
        if lacks > SAME:
            found["level"] = lacks
    if wish.soft:
        soft = figures.get("soft", 0.0)
        lacks = math.log2(wish.soft / soft) if soft > 0 else math.inf
        if lacks > SAME:
            found["soft"] = lacks
    if wish.spill is not None and "spill" in figures and figures["spill"] - wish.spill > SAME:
        found["spill"] = figures["spill"] - wish.spill
    return found


SAME = 0.05
"""What is short by less is not [stops, doublings]."""
