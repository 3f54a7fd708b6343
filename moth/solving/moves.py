"""Small moves of lamps, camera, grip and people, each as what it changes and its words."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..document import Polar, Setup, from_polar, to_polar
from ..errors import MothError
from ..judging import Reading
from ..metering import lay_out
from ..place import borne_by
from ..wording import THIRDS, percent
from ..world import anchor
from .flagging import keep_off
from .rigging import make
from .trying import Patch

BROUGHT = {"edge": "point-60", "eye light": "panel-small"}
"""Head that is brought in for a role."""
CLOTH = "frost-heavy"
"""What is put before a hard lamp."""
PLACES = ("position", "aim")


@dataclass(frozen=True)
class Proposal:
    """Something that might mend a reading."""

    words: str
    patches: tuple[Patch, ...]


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
        None for a place straight over or far under the face, and for what bears others on its
        stand: they would have to go along.
    """
    if borne_by(setup, unit):
        return None
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
    if unit.foot and unit.held != "arm":
        change["foot"] = (np.asarray(unit.foot) + (place - old)[:2]).round(4).tolist()
    return Patch("units", unit.id, change)


@dataclass(frozen=True)
class Moves:
    """The small moves of one set-up, made about one of its readings."""

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

    def flagged(self, unit, thing):
        """A flag that keeps a lamp off a thing, where one does."""
        try:
            found = keep_off(self.setup, unit.id, thing)
        except MothError:
            return
        flag = found.setup.grip[-1]
        patch = Patch("grip", flag.id, flag.model_dump(exclude={"id"}))
        yield Proposal(f"a flag before {unit.name}", (patch,))

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
        if any(borne_by(self.setup, u) for u in self.setup.units):
            return  # boards and cloths on their stands would have to go along
        for by in metres:
            off = np.array([*(by * way), 0.0])

            def carried(thing, *names, off=off):
                places = {k: np.asarray(getattr(thing, k), float) for k in names}
                return {k: (p + off[: len(p)]).round(4).tolist() for k, p in places.items()}

            figure = self.setup.figures[0]
            patches = [
                Patch("cameras", self.camera.id, carried(self.camera, *PLACES)),
                Patch("figures", figure.id, carried(figure, "position")),
            ]
            for unit in self.roles("key", "fill", "edge", "eye light"):
                names = (*PLACES, "foot") if unit.foot else PLACES
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
