"""What might mend a reading of the picture: the smallest kinds of things first.

A proposal is only words and what it changes. Whether it mends is seen by trying
(:mod:`moth.solving.trying`).
"""

from collections.abc import Iterator

import numpy as np

from ..document import BACKDROP, Polar, to_polar
from ..errors import MothError
from ..photometry import HEADS
from ..place import in_its_way
from ..wording import THIRDS
from ..world import check_placement
from .moves import PLACES, Moves, Proposal
from .trying import Patch, changed

MOST = 12
"""Proposals that are made of a reading."""


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


class _Ways(Moves):
    """Ways to mend one reading of one set-up, kind by kind."""

    def all(self) -> Iterator[Proposal]:
        reading = self.reading
        if reading.dimmer is not None and reading.unit is not None:
            yield self.dimmed(self.unit(reading.unit), reading.dimmer)
        yield from getattr(self, f"_{reading.kind}")()

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
            if unit:
                yield from self.flagged(unit, BACKDROP)
            yield from self.turned([self.key] if self.key else [], 15, 30)
            yield from self.round(8, -8, 16, -16)

    def _frame(self):
        unit = self.unit(self.reading.unit)
        if self.reading.word == "hidden":
            yield from self._out_of_the_way()
            yield from self.round(8, -8, 16, -16, 30, -30)
            return
        if unit:
            yield from self.turned([unit], -8, 8, -16, 16)
            yield from self.moved(unit, "a quarter farther off", farther=1.25)
            yield from self.moved(unit, "nearer by a fifth", farther=0.8)
        else:
            own = (g for g in self.setup.grip if g.id == self.reading.key.split()[2])
            for piece in own:
                yield from self._aside(piece)
        yield from self.tightened(1.15, 1.3, 1.5)

    def _out_of_the_way(self):
        """Grip that stands by the way from the lens to whom it hides, carried off it."""
        person = next(f for f in self.setup.figures if f.id == self.reading.key.split()[2])
        lens = np.asarray(self.camera.position, float)
        way = np.append(person.position, lens[2]) - lens
        for piece in self.setup.grip:
            off = np.asarray(piece.position, float) - lens
            part = float(np.clip((off @ way) / max(way @ way, 1e-9), 0, 1))
            if np.hypot(*(off - part * way)[:2]) < max(piece.size):
                yield from self._aside(piece, (0.3, 0.6, 1.0))

    def _aside(self, piece, metres=(0.15, 0.3, 0.5)):
        """A piece of grip carried out of the middle of the frame, level with it."""
        way = np.asarray(self.camera.aim, float) - self.camera.position
        right = np.array([way[1], -way[0], 0.0]) / max(np.hypot(way[0], way[1]), 1e-9)
        side = np.sign((np.asarray(piece.position) - self.camera.position) @ right) or 1.0
        for by in metres:
            off = side * by * right
            change = {k: (np.asarray(getattr(piece, k)) + off).round(4).tolist() for k in PLACES}
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

    def _sound(self):
        unit = self.unit(self.reading.unit)
        yield from self.moved(unit, "half as far again off", farther=1.5)
        yield from self.moved(unit, "twice as far off", farther=2.0)
        yield from self.off([unit] if unit.role != "key" else [])

    def _reasons(self):
        unit = self.unit(self.reading.unit)
        now = to_polar(unit.position, self.face, self.camera.position).angle
        yield from self.moved(unit, "on the other side", angle=-2 * now)
        yield from self.turned([unit], 30, -30)


def _white_of(setup, reading):
    """The white of the light that a reading of whites is about [K], from its words' own figure."""
    if reading.figure is None or reading.word == "two colours":
        return None
    return 1e6 / (1e6 / setup.cameras[0].white_balance + reading.figure)
