"""What might mend a reading of the picture, the smallest kinds first, and what each try does.

A proposal is only words and what it changes. Whether it mends is seen by trying: the changed set-up
is pictured and read like any other.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np

from ..document import Polar, Setup, from_polar, to_polar
from ..engine.caching import Keyed, cached, content_hash
from ..errors import MothError
from ..judging import Reading, picture_of, read_picture
from ..metering import lay_out
from ..photometry import HEADS
from ..place import in_its_way
from ..wording import THIRDS, percent
from ..world import anchor, check_placement
from .rigging import make

BROUGHT = {"edge": "point-60", "eye light": "panel-small"}
"""Head that is brought in for a role."""
CLOTH = "frost-heavy"
"""What is put before a hard lamp."""
MOST = 12
"""Proposals that are made of a reading."""
RANKS = {"well": 0, "mind": 1, "fault": 2}


@dataclass(frozen=True)
class Patch:
    """New values of some fields of one item of a set-up; all of it where there is none of that id
    yet.
    """

    part: Literal["units", "figures", "cameras", "grip"]
    id: str
    change: dict[str, Any]


@dataclass(frozen=True)
class Proposal:
    """Something that might mend a reading."""

    words: str
    patches: tuple[Patch, ...]


@dataclass(frozen=True)
class Told:
    """A reading before or after, in words."""

    name: str
    word: str
    words: str
    rank: Literal["well", "mind", "fault"]


@dataclass(frozen=True)
class Tried:
    """What a change did to the picture."""

    mends: bool
    """Whether the reading that it is about is better than it was."""
    before: Told | None
    after: Told | None
    """None where nothing was asked about."""
    worse: list[Told] = field(default_factory=list)
    """Readings that were better before."""
    skin: float | None = None
    """By how much the lit skin is brighter in the picture [stops]; None where it is not there."""
    faults: int = 0
    """How many readings are in the way after it."""
    outline: Told | None = None
    """The worst of the first person's outline, the pattern of the key on the face."""
    face: Told | None = None


def changed(setup, patches):
    """A set-up with some of its fields anew.

    Parameters
    ----------
    setup : moth.document.Setup
    patches : sequence of Patch

    Returns
    -------
    moth.document.Setup

    Raises
    ------
    ValueError
        For values that a set-up cannot have.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare()
    >>> changed(s, [Patch("cameras", s.cameras[0].id, {"iso": 400})]).cameras[0].iso
    400.0
    """
    data = setup.model_dump()
    for patch in patches:
        items = {item["id"]: item for item in data[patch.part]}
        item = {**items.get(patch.id, {"id": patch.id}), **patch.change}
        data[patch.part] = [*{**items, patch.id: item}.values()]
    return Setup.model_validate(data)


def polar_patch(setup, unit, angle=0.0, height=0.0, farther=1.0):
    """A unit by so much in polar words, its aim and a boom's foot going along as they would.

    Parameters
    ----------
    setup : moth.document.Setup
    unit : moth.document.Unit
    angle, height : float
        More of them [deg].
    farther : float
        By which its distance is multiplied.

    Returns
    -------
    Patch or None
        None for a place straight over or far under the face.
    """
    face, lens = anchor(setup), setup.cameras[0].position
    old = np.asarray(unit.position, float)
    now = to_polar(old, face, lens)
    after = Polar(now.angle + angle, now.height + height, now.distance * farther)
    if not -60 < after.height < 88:
        return None
    place = from_polar(after, face, lens).round(4)
    change: dict[str, Any] = {"position": place.tolist()}
    if np.linalg.norm(np.asarray(unit.aim) - face) > 0.6:
        # What does not look at the face keeps looking where it did, carried along.
        change["aim"] = (np.asarray(unit.aim) + place - old).round(4).tolist()
    if unit.foot:
        change["foot"] = (np.asarray(unit.foot) + (place - old)[:2]).round(4).tolist()
    return Patch("units", unit.id, change)


def proposals(setup, reading):
    """What might mend a reading: dimmers and whites first, then turns and moves, then other things.

    Parameters
    ----------
    setup : moth.document.Setup
    reading : moth.judging.Reading

    Returns
    -------
    list of Proposal
        Each can be: nothing stands in a wall or in somebody. At most :data:`MOST`.
    """
    found = []
    for proposal in _Ways(setup, reading).all():
        try:
            made = changed(setup, proposal.patches)
            check_placement(made)
        except (MothError, ValueError):
            continue
        moved = {p.id for p in proposal.patches if p.part == "units" and "position" in p.change}
        if any(in_its_way(made, u) for u in made.units if u.id in moved):
            continue
        found.append(proposal)
        if len(found) == MOST:
            break
    return found


def tried(before, after, key=None, say=THIRDS):
    """What a change does, by picture and readings of both.

    Parameters
    ----------
    before, after : moth.document.Setup
    key : str, optional
        Of the reading that is to be mended.
    say : moth.wording.Wording

    Returns
    -------
    Tried
    """
    pictures = [picture_of(s) for s in (before, after)]
    was, now = (
        {r.key: r for r in _read(_keyed(s, p, say)) if not r.meant}
        for s, p in zip((before, after), pictures, strict=True)
    )
    old, new = (p.signal("skin") for p in pictures)
    worse = [
        _told(r)
        for k, r in now.items()
        if k != key and RANKS[r.verdict] > (RANKS[was[k].verdict] if k in was else 0)
    ]
    outline = [r for r in now.values() if r.kind == "outline" and r.key.startswith("outline 0 ")]
    own = was.get(key) if key else None
    mends = own is not None and _rank(now.get(key)) < RANKS[own.verdict]
    gone = own and Told(own.name, "not there any more", "", "well")
    return Tried(
        mends=mends,
        before=_told(own) if own else None,
        after=None if own is None else _told(now[key]) if key in now else gone,
        worse=worse,
        skin=float(np.log2(new / old)) if old and new else None,
        faults=sum(r.verdict == "fault" for r in now.values()),
        outline=_told(max(outline, key=lambda r: (RANKS[r.verdict], -r.figure)))
        if outline
        else None,
        face=next((_told(r) for k, r in now.items() if k == "face 0 pattern"), None),
    )


def _keyed(setup, picture, say):
    key = content_hash("readings", setup.model_dump(mode="json"), say.step)
    return Keyed(key, (setup, picture, say))


@cached("readings")
def _read(keyed):
    return read_picture(*keyed.value)


def _rank(reading):
    return RANKS[reading.verdict] if reading else 0


def _told(reading):
    return Told(reading.name, reading.word, reading.words, reading.verdict)


@dataclass(frozen=True)
class _Ways:
    """Ways to mend one reading of one set-up."""

    setup: Setup
    reading: Reading

    @property
    def camera(self):
        return self.setup.cameras[0]

    @property
    def face(self):
        return anchor(self.setup)

    @property
    def key(self):
        return lay_out(self.setup).key_unit

    def all(self) -> Iterator[Proposal]:
        reading = self.reading
        if reading.dimmer is not None and reading.unit is not None:
            yield self.dimmed(self.unit(reading.unit), reading.dimmer)
        yield from getattr(self, f"_{reading.kind}")()

    # The smallest things that can be done.

    def unit(self, name):
        return next((u for u in self.setup.units if u.id == name), None)

    def roles(self, *roles):
        return [u for u in self.setup.units if u.on and u.role in roles]

    def dimmed(self, unit, dimmer):
        words = f"{unit.name} at {percent(dimmer)}"
        return Proposal(words, (Patch("units", unit.id, {"dimmer": round(dimmer, 4), "on": True}),))

    def off(self, units):
        for unit in units:
            yield Proposal(f"{unit.name} off", (Patch("units", unit.id, {"on": False}),))

    def brought(self, role, name, polar):
        """A small head brought in: hard from behind, soft from before."""
        place = from_polar(polar, self.face, self.camera.position).round(4)
        taken = {u.id for u in self.setup.units}
        new = next(f"brought-{k}" for k in range(1, 99) if f"brought-{k}" not in taken)
        for dimmer in (0.1, 0.3):
            change = {
                "name": name,
                "role": role,
                "head": BROUGHT[role],
                "position": place.tolist(),
                "aim": self.face.round(4).tolist(),
                "cct": self.camera.white_balance,
                "dimmer": dimmer,
            }
            words = f"{name.lower()} brought in, {percent(dimmer)}"
            yield Proposal(words, (Patch("units", new, change),))

    def softened(self, unit):
        """A cloth between a lamp and the face, as the one-move rig puts it."""
        try:
            made = make(self.setup, unit.id, "cloth", CLOTH, (1.2, 1.2))
        except MothError:
            return
        had = {g.id for g in self.setup.grip}
        new = [g for g in made.grip if g.id not in had]
        patches = tuple(Patch("grip", g.id, g.model_dump(exclude={"id"})) for g in new)
        now = next(u for u in made.units if u.id == unit.id)
        change = {k: v for k, v in now.model_dump().items() if v != getattr(unit, k)}
        yield Proposal(f"a cloth before {unit.name}", (*patches, Patch("units", unit.id, change)))

    def exposed(self, *by):
        for stops in by:
            index = self.camera.iso * 2**stops
            if 100 <= index <= 6400:
                yield self.set_camera(f"EI {index:.0f}", iso=round(index))
            elif stops < 0:
                words = f"ND, {THIRDS.amount(-stops)} more"
                yield self.set_camera(words, nd=round(self.camera.nd - stops, 2))

    def stops(self, units, *by):
        """Dimmers by so many stops."""
        for unit in units:
            for stops in by:
                dimmer = unit.dimmer * 2**stops
                if 0.005 <= dimmer <= 1 or (stops > 0 and unit.dimmer < 0.99):
                    yield self.dimmed(unit, min(dimmer, 1.0))

    def moved(self, unit, words, **by):
        patch = polar_patch(self.setup, unit, **by)
        if patch:
            yield Proposal(f"{unit.name} {words}", (patch,))

    def turned(self, units, *degrees):
        """Units round the face: toward the lens below zero, away from it above."""
        for unit in units:
            now = to_polar(unit.position, self.face, self.camera.position).angle
            side = 1 if now >= 0 else -1
            for by in degrees:
                words = f"{abs(by):.0f}° {'farther round' if by > 0 else 'toward the lens'}"
                yield from self.moved(unit, words, angle=by * side)

    def lifted(self, units, *degrees):
        for unit in units:
            for by in degrees:
                words = f"{abs(by):.0f}° {'higher' if by > 0 else 'lower'}"
                yield from self.moved(unit, words, height=by)

    def round(self, *degrees):
        """The camera round the subject, the lamps where they are."""
        for by in degrees:
            a = np.radians(by)
            turn = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]])
            places = {}
            for name in ("position", "aim"):
                place = np.asarray(getattr(self.camera, name), float)
                place[:2] = self.face[:2] + turn @ (place[:2] - self.face[:2])
                places[name] = place.round(4).tolist()
            side = "right" if by > 0 else "left"
            # Counter-clockwise from above carries the lens to its own right.
            yield Proposal(
                f"the camera {abs(by):.0f}° round to its {side}",
                (Patch("cameras", self.camera.id, places),),
            )

    def tightened(self, *factors):
        for by in factors:
            focal = round(self.camera.focal_length * by)
            yield self.set_camera(f"the lens at {focal} mm", focal_length=focal)

    def set_camera(self, words, **change):
        return Proposal(words, (Patch("cameras", self.camera.id, change),))

    def raised(self, *metres):
        for by in metres:
            x, y, z = self.camera.position
            words = f"the lens {abs(100 * by):.0f} cm {'higher' if by > 0 else 'lower'}"
            yield self.set_camera(words, position=[x, y, round(z + by, 3)])

    def off_the_wall(self, *metres):
        """Person, camera and lamps toward the lens together, away from what is behind."""
        way = np.asarray(self.camera.position[:2]) - self.face[:2]
        way = way / max(float(np.linalg.norm(way)), 1e-6)
        for by in metres:
            off = np.array([*(by * way), 0.0])

            def carried(thing, *names, off=off):
                places = {k: np.asarray(getattr(thing, k), float) for k in names}
                return {k: (p + off[: len(p)]).round(4).tolist() for k, p in places.items()}

            figure = self.setup.figures[0]
            patches = [
                Patch("cameras", self.camera.id, carried(self.camera, *_PLACES)),
                Patch("figures", figure.id, carried(figure, "position")),
            ]
            for unit in self.roles("key", "fill", "edge", "eye light"):
                names = (*_PLACES, "foot") if unit.foot else _PLACES
                patches.append(Patch("units", unit.id, carried(unit, *names)))
            yield Proposal(f"all of it {100 * by:.0f} cm off the wall", tuple(patches))

    def person(self):
        return self.setup.figures[int(self.reading.key.split()[1])]

    def dressed(self, *reflectances):
        figure = self.person()
        for value in reflectances:
            garment = {"reflectance": value}
            yield Proposal(
                f"clothes that send back {percent(value)}",
                (Patch("figures", figure.id, {"garment": garment}),),
            )

    # Kind by kind.

    def _outline(self):
        backs, part = self.roles("edge", "background", "other"), self.reading.key.split()[2]
        if self.reading.word == "too much":
            yield from self.stops(self.roles("edge", "other"), -1, -2)
            yield from self.turned(self.roles("edge", "other"), 12, -12)
            return
        yield from self.stops(backs, 1, 2)
        yield from self.turned(self.roles("edge"), -15, 15)
        side = -1 if self.reading.key.endswith("left") else 1
        yield from self.brought("edge", "An edge light", Polar(128 * side, 32, 1.9))
        if part in ("shoulder", "arm", "neck"):
            yield from self.dressed(0.3)
        yield from self.round(8, -8, 16, -16)
        yield from self.exposed(-2, -4)

    def _face(self):
        if self.key is None:
            return
        own = [self.key]
        if self.reading.key.endswith("sockets"):
            yield from self.stops(self.roles("fill"), 1, 2)
            yield from self.lifted(own, -10, -20, -30, -45)
        elif self.reading.word == "from below":
            yield from self.lifted(own, 30, 45, 60)
        else:
            yield from self.turned(own, -10, -20, -30)
            yield from self.lifted(own, -10, 10)
        yield from self.stops(self.roles("fill"), 1)

    def _eyes(self):
        if " glass " in self.reading.key:
            yield from self._glasses()
            return
        own = [self.key] if self.key else []
        yield from self.stops(self.roles("eye light", "fill"), 2)
        yield from self.lifted(own, -8, -16, -30, -45)
        yield from self.turned(own, -10, -20)
        yield from self.turned(self.roles("fill", "eye light"), -15, -30)
        yield from self.brought("eye light", "An eye light", Polar(8, 9, 1.6))

    def _glasses(self):
        figure, unit = self.person(), self.unit(self.reading.unit)
        if unit:
            yield from self.lifted([unit], 8, 16, 24, -8)
            yield from self.turned([unit], 12, 24)
        for name, degrees in (("head_tilt", (-8, 8)), ("head_turn", (-8, 8))):
            for by in degrees:
                words = f"the head {'tilted' if name == 'head_tilt' else 'turned'} {abs(by)}°"
                if name == "head_tilt":
                    words += " up" if by > 0 else " down"
                else:
                    words += " to the own left" if by > 0 else " to the own right"
                change = {name: getattr(figure, name) + by}
                yield Proposal(words, (Patch("figures", figure.id, change),))

    def _skin(self):
        key, word = self.key, self.reading.word
        if self.reading.key.endswith("clothes"):
            yield from self.dressed(*((0.4, 0.2) if word == "blown" else (0.12, 0.3)))
            yield from self.exposed(*((-1, -2) if word == "blown" else ()))
            return
        if self.reading.key.endswith("shine"):
            own = [u for u in (self.unit(self.reading.unit),) if u]
            yield from self.turned(own, 15, 30)
            yield from self.lifted(own, 12, -12)
            return
        off = (self.reading.figure or 0.0) - 0.5
        if key:
            yield from self.stops([key], -off)
        yield from self.exposed(-off)
        stop = self.camera.t_stop * 2 ** (off / 2)
        if 1.2 <= stop <= 16:
            yield self.set_camera(THIRDS.stop(stop), t_stop=round(stop, 2))

    def _whites(self):
        kelvin = _white_of(self.setup, self.reading)
        if kelvin:
            white = round(kelvin, -2)
            yield self.set_camera(f"the camera at {white:.0f} K", white_balance=white)
        for unit in self.setup.units:
            low, high = HEADS[unit.head].cct
            wanted = self.camera.white_balance
            if unit.on and low <= wanted <= high and abs(unit.cct - wanted) > 100:
                change = {"cct": wanted}
                words = f"{unit.name} at {wanted:.0f} K"
                yield Proposal(words, (Patch("units", unit.id, change),))

    def _backdrop(self):
        what = self.reading.key.split()[1]
        unit = self.unit(self.reading.unit)
        behind = self.roles("background", "edge", "other")
        if what == "shadow" and unit:
            yield from self.lifted([unit], 10, 20, 35)
            yield from self.turned([unit], 12, 24, 40)
            yield from self.softened(unit)
            yield from self.off_the_wall(0.5, 1.0)
        elif what == "line":
            yield from self.round(5, -5, 10, -10)
            yield from self.raised(0.12, -0.12, 0.25, -0.25)
        elif what in ("corner", "tone"):
            yield from self.stops(behind, 1, 2)
            yield from self.turned([self.key] if self.key else [], 15, 30)
        elif self.reading.word == "too dark":
            yield from self.stops(behind, 1, 2, 3)
        else:
            own = [unit] if unit and unit.role not in ("key", "fill") else []
            yield from self.stops([*own, *(u for u in behind if u not in own)], -1, -3, -5)
            yield from self.off(own)
            yield from self.turned([self.key] if self.key else [], 15, 30)
            yield from self.round(8, -8, 16, -16)

    def _frame(self):
        unit = self.unit(self.reading.unit)
        if unit:
            yield from self.turned([unit], -8, 8, -16, 16)
            yield from self.moved(unit, "a quarter farther off", farther=1.25)
            yield from self.moved(unit, "nearer by a fifth", farther=0.8)
        else:
            yield from self._aside(self.reading.key.split()[2])
        yield from self.tightened(1.15, 1.3, 1.5)

    def _aside(self, name):
        """A piece of grip carried out of the middle of the frame, level with it."""
        piece = next((g for g in self.setup.grip if g.id == name), None)
        if piece is None:
            return
        way = np.asarray(self.camera.aim, float) - self.camera.position
        right = np.array([way[1], -way[0], 0.0]) / max(np.hypot(way[0], way[1]), 1e-9)
        side = np.sign((np.asarray(piece.position) - self.camera.position) @ right) or 1.0
        for by in (0.15, 0.3, 0.5):
            off = side * by * right
            change = {k: (np.asarray(getattr(piece, k)) + off).round(4).tolist() for k in _PLACES}
            words = f"{piece.name} {100 * by:.0f} cm farther out"
            yield Proposal(words, (Patch("grip", piece.id, change),))

    def _mirrored(self):
        unit = self.unit(self.reading.unit)
        at = self.reading.key.split()[-1]
        mirrors = [g for k, g in enumerate(self.setup.grip) if str(k) == at and g.kind == "mirror"]
        for mirror in mirrors:
            place = np.asarray(mirror.position, float)
            for by in (6, -6, 12, -12):
                a = np.radians(by)
                x, y, z = np.asarray(mirror.aim, float) - place
                way = [x * np.cos(a) - y * np.sin(a), x * np.sin(a) + y * np.cos(a), z]
                change = {"aim": (place + way).round(4).tolist()}
                words = f"{mirror.name} turned {abs(by)}° to its {'left' if by > 0 else 'right'}"
                yield Proposal(words, (Patch("grip", mirror.id, change),))
        if unit and not mirrors:
            yield from self.turned([unit], 12, -12, 24, -24)
            yield from self.lifted([unit], 12, -12, 24)
            yield from self.stops([unit], -1, -2)

    def _lamps(self):
        unit = self.unit(self.reading.unit)
        if self.reading.word == "not lit":
            yield self.dimmed(unit, max(unit.dimmer, 0.05))
        elif self.reading.word == "dull":
            yield from self.stops([unit], 1, 2, 3)
        else:
            yield from self.stops([unit], -1, -2, -3)

    def _reasons(self):
        unit = self.unit(self.reading.unit)
        now = to_polar(unit.position, self.face, self.camera.position).angle
        yield from self.moved(unit, "on the other side", angle=-2 * now)
        yield from self.turned([unit], 30, -30)


_PLACES = ("position", "aim")


def _white_of(setup, reading):
    """The white of the light that a reading of whites is about [K], from its words' own figure."""
    if reading.figure is None or reading.word == "two colours":
        return None
    return 1e6 / (1e6 / setup.cameras[0].white_balance + reading.figure)
