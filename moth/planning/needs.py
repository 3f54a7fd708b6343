"""What a set-up takes: everything that is packed for it, and what of it a kit has not."""

import math
from collections import defaultdict
from dataclasses import dataclass, replace

from ..document import BATTERY, Grip
from ..materials import MATERIALS
from ..photometry import ATTACHMENTS, HEADS
from ..place import GRIP_WEIGHT, load_of, shared_by, stands_of, weight_held
from .kit import KINDS, TYPICAL_WEIGHT, GearKind, weight_of

BAG = 7.0
"""A sandbag [kg]; usual."""
GRAVITY = 9.81
"""[m/s²]"""
LIKE = 0.1
"""By how much of its side a sheet may be of another size and still serve."""
CABLES = (5.0, 10.0, 15.0, 20.0, 30.0, 50.0)
"""Lengths that cables come in [m]."""


@dataclass(frozen=True)
class Stand:
    """A stand of the usual make; typical figures."""

    name: str
    load: float
    """What it carries [kg]."""
    height: float
    """How far up [m]."""
    radius: float
    """From its pole to its feet [m]."""
    weight: float
    """[kg]"""


STANDS = {
    "stand-light": Stand("Light stand", 6.0, 2.6, 0.45, 2.2),
    "stand-heavy": Stand("Heavy stand", 18.0, 4.0, 0.6, 7.5),
    "stand-windup": Stand("Wind-up stand", 40.0, 5.5, 0.75, 24.0),
}
"""By key, from the smallest."""
TOWER = "tower"
"""What is higher than any of them."""


@dataclass(frozen=True)
class Need:
    """Some pieces of one kind that a set-up takes."""

    kind: GearKind
    key: str
    name: str
    count: int
    size: tuple[float, float] | None = None
    """Of a sheet [m]."""
    length: float | None = None
    """Of a cable [m]."""
    of: tuple[str, ...] = ()
    """Names of the units and pieces of grip that it is for."""

    @property
    def what(self):
        """What is counted together."""
        size = self.size and tuple(sorted(round(s, 2) for s in self.size))
        return self.kind, self.key, size, self.length


@dataclass(frozen=True)
class Shortage:
    """Something a kit has too little of."""

    need: Need
    have: int
    missing: int
    words: str


def stand_for(weight, height):
    """Key of the smallest stand that carries a weight [kg] at a height [m]; TOWER where none does.

    Examples
    --------
    >>> stand_for(1.9, 2.0), stand_for(11.5, 2.0), stand_for(1.9, 7.0)
    ('stand-light', 'stand-heavy', 'tower')
    """
    for key, stand in STANDS.items():
        if weight <= stand.load and height <= stand.height:
            return key
    return TOWER


def legs_of(key):
    """How far the feet of a stand are from its pole [m]; of a tower about as of the largest."""
    return STANDS.get(key, STANDS["stand-windup"]).radius


def brought(setup):
    """Units of a set-up that have to be brought: all but what the place has on its switches and in
    its lamps.
    """
    return [unit for unit in setup.units if not unit.switch and not unit.piece]


def needs_of(setup):
    """Everything that is packed for a set-up.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    tuple of Need
        In the order of a packing list.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(units=[{"id": "k", "name": "Key", "head": "point-300", "position": [1, 1, 2],
    ...     "aim": [2, 2, 1], "attachments": [{"key": "softbox"}]}])
    >>> [(n.kind, n.count) for n in needs_of(s)]
    [('head', 1), ('attachment', 1), ('stand', 1), ('bag', 1), ('cable', 1)]
    """
    found = []
    for unit in brought(setup):
        found += needs_of_unit(setup, unit)
    for piece in setup.grip:
        found += _sheet(setup, piece)
    found += _shared_out(setup)
    camera = setup.cameras[0]
    if camera.nd > 0:
        found.append(Need("filter", "nd", f"ND, {camera.nd:g} stops", 1, of=(camera.name,)))
    return together(found)


def together(needs, most=False):
    """Needs of the same thing as one: added up, or the most of them where the same pieces serve one
    after the other.

    Parameters
    ----------
    needs : iterable of Need
    most : bool

    Returns
    -------
    tuple of Need
    """
    groups = defaultdict(list)
    for need in needs:
        groups[need.what].append(need)
    joined = [
        replace(
            group[0],
            count=(max if most else sum)(n.count for n in group),
            of=tuple(dict.fromkeys(name for n in group for name in n.of)),
        )
        for group in groups.values()
    ]
    kinds = list(KINDS)
    return tuple(sorted(joined, key=lambda n: (kinds.index(n.kind), n.name, n.size or (0, 0))))


def needs_of_unit(setup, unit):
    """What one unit takes, without the sheets its light goes by."""
    head = HEADS[unit.head]
    yield Need("head", head.key, head.name, 1, of=(unit.name,))
    for attachment in unit.attachments:
        known = ATTACHMENTS[attachment.key]
        kind: GearKind = "filter" if known.group == "gel" else "attachment"
        yield Need(kind, known.key, known.name, 1, of=(unit.name,))
    yield from _holding(setup, unit)
    if unit.feed == BATTERY:
        name = f"Battery for {head.name}"
        yield Need("battery", f"battery:{head.key}", name, 1, of=(unit.name,))
    elif head.watts > 0:
        run = cable_run(setup, unit)
        long = next((c for c in CABLES if c >= run), CABLES[-1])
        for _ in range(max(1, math.ceil(run / CABLES[-1]))):
            yield Need("cable", "", f"Cable, {long:g} m", 1, length=long, of=(unit.name,))


def cable_run(setup, unit):
    """Length of a unit's cable [m]: as it is told, or from the nearest socket of its circuit along
    the floor, square to the walls, and up; 10 m where no socket is known.
    """
    if unit.run is not None:
        return unit.run
    sockets = [s for c in setup.circuits if c.id == unit.feed for s in c.sockets]
    if not sockets:
        return CABLES[1]
    x, y, z = unit.position
    return min(abs(x - a) + abs(y - b) for a, b in sockets) + max(z, 0.0)


def _shared_out(setup):
    """A block of sockets for each circuit that more units hang on than it has sockets."""
    for circuit in setup.circuits:
        hung = [u.name for u in brought(setup) if u.feed == circuit.id]
        if circuit.sockets and len(hung) > len(circuit.sockets):
            ways = len(hung) - len(circuit.sockets) + 1
            yield Need("distribution", "", f"Sockets, {ways} ways", 1, of=tuple(hung))


def _holding(setup, item):
    weight, name = weight_held(item), (item.name,)
    if item.held in ("built-in", "hand"):
        return
    if item.held == "hung":
        count = 2 if isinstance(item, Grip) else 1
        yield Need("arm", "clamp", "Clamp and safety wire", count, of=name)
        return
    if item.held == "arm":
        yield Need("arm", "arm", "Arm and knuckle", 1, of=name)
        return
    load = load_of(item)
    if load:
        weight += load.counterweight
        yield Need("arm", "boom", "Boom arm", 1, of=name)
    shared = shared_by(setup, item)
    if shared:
        weight = shared.weight
    # Where nobody has said how a sheet is held, it stands.
    said = item if item.held else item.model_copy(update={"held": "stand"})
    for stood in stands_of(said):
        # Two stands of a sheet carry it whole in turn: while it is put up, one does.
        key = stand_for(weight, shared.height if shared else stood.height)
        if load and key == "stand-light":
            key = "stand-heavy"
        yield _stand(key, name)
        bags = usual_bags(key)
        bags += math.ceil(load.counterweight / BAG) if load else 0
        bags += bags_against_pull(key, shared) if shared else 0
        yield Need("bag", "", "Sandbag", bags, of=name)


def usual_bags(key):
    """Bags on a stand by its key, whatever it holds."""
    return 1 if key == "stand-light" else 2


def bags_against(moment, radius, weight=0.0):
    """Bags on a stand's feet that hold a moment, without what it weighs itself.

    A stand on three feet tips over the line between two, half its feet's radius from the pole;
    a bag hangs over the pole's middle.

    Parameters
    ----------
    moment : float
        [N m]
    radius : float
        From pole to foot [m].
    weight : float
        Of stand and what it holds [kg].

    Examples
    --------
    >>> bags_against(150.0, 0.6, 10.0)
    6
    """
    arm = radius / 2
    lacking = moment / (GRAVITY * arm) - weight
    return max(0, math.ceil(lacking / BAG))


def bags_against_pull(key, shared):
    """Bags that hold what pulls at a stand which bears several things, see :func:`bags_against`.

    Parameters
    ----------
    key : str
        Of :data:`STANDS`, or TOWER.
    shared : moth.place.Shared
    """
    stand = STANDS.get(key, STANDS["stand-windup"])
    moment = GRAVITY * math.hypot(*shared.pull)
    return bags_against(moment, stand.radius, stand.weight + shared.weight)


def _stand(key, of):
    name = STANDS[key].name if key in STANDS else "Tower or lift"
    return Need("stand", key, name, 1, of=of)


def _sheet(setup, piece):
    own = {m.id: m.name for m in setup.materials}
    cloth = own.get(piece.material) or MATERIALS[piece.material].name
    width, height = piece.size
    name = f"{cloth}, {width:.2f} × {height:.2f} m"
    yield Need("sheet", piece.material, name, 1, size=piece.size, of=(piece.name,))
    yield from _holding(setup, piece)


def shortages(needs, kit):
    """What of some needs a kit has too little of.

    A head, attachment or cloth is told by its key, a stand by what it carries where its line says
    no more, a sheet serves for one within a tenth of its size, a longer cable for a shorter.

    Parameters
    ----------
    needs : sequence of Need
    kit : sequence of Gear

    Returns
    -------
    tuple of Shortage

    Examples
    --------
    >>> from .kit import Gear
    >>> need = Need("head", "panel-small", "Soft panel", 2)
    >>> shortages([need], [Gear(kind="head", name="Mine", key="panel-small")])[0].words
    'Soft panel: 1 of 2, 1 short.'
    """
    _, missing = taken_from(needs, kit)
    found = []
    for need in needs:
        lacks = missing.get(need.what, 0)
        if lacks:
            have = need.count - lacks
            words = f"{need.name}: {have or 'none'} of {need.count}, {lacks} short."
            found.append(Shortage(need, have, lacks, words))
    return tuple(found)


def taken_from(needs, kit):
    """What of a kit some needs take.

    The longest cable and the largest stand are served first, each need by the least that will do,
    and by what costs least of that.

    Parameters
    ----------
    needs : sequence of Need
        Each thing once, see :func:`together`.
    kit : sequence of Gear

    Returns
    -------
    (dict, dict)
        By place in the kit how many are taken and whose names they are for; by
        :attr:`Need.what` how many are missing.
    """
    left = {at: gear.count for at, gear in enumerate(kit)}
    taken: dict[int, tuple[int, tuple[str, ...]]] = {}
    missing = {}
    for need in sorted(needs, key=lambda n: (-(n.length or 0), -_rank(n.key))):
        lacks = need.count
        for at, gear in sorted(enumerate(kit), key=lambda g: (*_size(g[1]), g[1].price)):
            if lacks and left[at] and serves(gear, need):
                count = min(lacks, left[at])
                left[at] -= count
                lacks -= count
                before, names = taken.get(at, (0, ()))
                taken[at] = before + count, tuple(dict.fromkeys((*names, *need.of)))
        if lacks:
            missing[need.what] = lacks
    return taken, missing


def _rank(key):
    return list(STANDS).index(key) if key in STANDS else 0


def weight_of_needs(needs, kit=()):
    """What is packed weighs [kg]: by the kit's own lines, the catalogue's for what it has not."""
    taken, missing = taken_from(needs, kit)
    own = sum(weight_of(kit[at]) * count for at, (count, _) in taken.items())
    return own + sum(_typical(n) * missing.get(n.what, 0) for n in needs)


def _typical(need):
    if need.kind == "head":
        return HEADS[need.key].weight
    if need.key in ATTACHMENTS:
        return ATTACHMENTS[need.key].weight
    if need.key in STANDS:
        return STANDS[need.key].weight
    if need.size:
        return GRIP_WEIGHT * need.size[0] * need.size[1]
    return TYPICAL_WEIGHT.get(need.kind, 0.5)


def _size(gear):
    return gear.length or 0, _rank(gear.key)


def serves(gear, need):
    """Whether a line of a kit can stand for a need."""
    if gear.kind != need.kind:
        return False
    if need.kind == "sheet":
        if gear.key != need.key:
            return False
        if gear.width is None or gear.height is None or need.size is None:
            return True
        have, want = sorted((gear.width, gear.height)), sorted(need.size)
        return all(abs(a - b) <= LIKE * b for a, b in zip(have, want, strict=True))
    if need.kind == "cable":
        return gear.length is None or gear.length >= (need.length or 0)
    if need.kind == "stand":
        if need.key == TOWER:
            return gear.key == TOWER
        return _rank(gear.key) >= _rank(need.key)
    if need.kind == "battery":
        return gear.key in ("", need.key, need.key.removeprefix("battery:"))
    if need.kind in ("bag", "distribution"):
        return True
    return gear.key == need.key
