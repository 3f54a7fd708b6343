"""Rigs that cannot work, or that cost something nobody wanted, said in words at the unit."""

from dataclasses import dataclass

import numpy as np

from ..colour import LUMINANCE
from ..document import Setup, Unit
from ..metering import at_head
from ..photometry import ATTACHMENTS, HEADS
from ..transport import LAMP, Light, Way
from ..units import stops
from ..wording import percent
from ..world import World, anchor
from .holding import why_not_standing
from .names import met_by, surface_name
from .paths import OnWay

MISSED = 0.55
"""Share of the light beside a cloth or board that is worth a word."""
RELIED_ON = 0.5
"""Share of the light on the face that a way must bring for its losses to be a fault."""
PAST = 0.12
"""Share of the light on the face from which a lamp that shines past its own cloth is a fault."""
DARK_SHARE = 1e-3
"""Of what the lamp could give straight to the face; below it the unit is aimed at nothing."""
UNSAFE, IMPOSSIBLE = 100.0, 50.0
"""Weights of faults beyond any stops: what can hurt somebody comes first."""
GROUPS = {
    "bulb": "a bare bulb",
    "tube": "a tube",
    "panel": "a soft panel",
    "fresnel": "a fresnel",
    "point": "a point head",
}


@dataclass(frozen=True)
class Rig:
    """A unit, and what its light does in the world."""

    setup: Setup
    unit: Unit
    world: World
    light: Light
    met: list[OnWay]
    """Sheets that carry its light."""
    way: list[OnWay]
    """Those on the way that brings most of it to the face, in order."""
    ways: dict
    """Route -> what it brings to the face at full, lamp white (3,) [lx]."""
    full: float
    """All of that, its colour counted [lx]."""

    @property
    def place(self):
        return np.asarray(self.unit.position, float)

    @property
    def caught(self):
        """Share of the lamp's own light that falls on the first cloth or board of its way, 0..1;
        None where that is neither.
        """
        if not self.way or self.way[0].sheet < 0:
            return None
        p = self.world.patches
        power = (self.light.straight @ LUMINANCE) * p.area
        total = float(power.sum())
        return float(power[p.sheet == self.way[0].sheet].sum()) / total if total > 0 else 1.0

    @property
    def forward(self):
        to = np.asarray(self.unit.aim, float) - self.place
        return to / np.linalg.norm(to)

    def piece(self, sheet):
        """The piece of grip a sheet belongs to, None for a window's."""
        grip = self.setup.grip
        return grip[sheet.piece] if sheet.piece < len(grip) else None

    def share(self, wanted):
        """Part of the light on the face by the routes that are `wanted`."""
        brought = {route: float(rgb @ LUMINANCE) for route, rgb in self.ways.items()}
        total = max(sum(brought.values()), 1e-12)
        return sum(lux for route, lux in brought.items() if wanted(route)) / total


def faults_of(rig, say):
    """What is wrong with one unit's rig, the worst first; empty when nothing is.

    Parameters
    ----------
    rig : Rig
    say : moth.wording.Wording

    Returns
    -------
    tuple of str
    """
    found = [
        *_stands(rig),
        *_hung(rig),
        *_near(rig),
        *_behind(rig),
        *_turned_away(rig),
        *_misses(rig, say),
        *_shines_past(rig),
    ]
    return tuple(words for _, words in sorted(found or _lost(rig), key=lambda f: -f[0]))


def _stands(rig):
    words = why_not_standing(rig.setup, rig.unit)
    if words:
        yield IMPOSSIBLE, words


def _hung(rig):
    head = HEADS[rig.unit.head]
    hung = [ATTACHMENTS[a.key] for a in rig.unit.attachments]
    for attachment in hung:
        if head.group not in attachment.fits:
            yield (
                IMPOSSIBLE,
                f"{attachment.name} cannot be hung on {GROUPS[head.group]}: it has nothing to hold"
                " on to, and its figures do not hold.",
            )
    optics = [a.name for a in hung if a.group == "optic"]
    if len(optics) > 1:
        words = f"{optics[0]} and {optics[1]} on one head: only one of them can be the optic."
        yield IMPOSSIBLE, words


def _near(rig):
    least = HEADS[rig.unit.head].distance
    for sheet in rig.world.sheets:
        piece, to = rig.piece(sheet), sheet.centre - rig.place
        away = float(np.linalg.norm(to))
        if piece and away < least and float(to @ rig.forward) > 0:
            yield (
                UNSAFE,
                f"{piece.name} is {away:.1f} m from the lamp; keep at least {least:.1f} m. Hot:"
                " local codes and licensed people decide.",
            )


def _behind(rig):
    on_way = {rig.world.sheets[s.sheet].piece for s in rig.met}
    for sheet in rig.world.sheets:
        piece, to = rig.piece(sheet), sheet.centre - rig.place
        close = float(np.linalg.norm(to)) < 1.5 and float(to @ rig.forward) < 0
        if piece and piece.kind == "frame" and close and sheet.piece not in on_way:
            words = f"{piece.name} stands behind this lamp: its light does not reach the cloth."
            yield IMPOSSIBLE, words


def _turned_away(rig):
    """The last board that its light falls on, lit on the side the face does not see."""
    last = rig.met[-1] if rig.met else None
    if last is None or rig.world.sheets[last.sheet].material.transmission > 0.05:
        return
    sheet = rig.world.sheets[last.sheet]
    piece = rig.piece(sheet)
    lamp_side = np.sign(float((rig.place - sheet.centre) @ sheet.normal))
    if piece and lamp_side * float((anchor(rig.setup) - sheet.centre) @ sheet.normal) < 0:
        words = f"{piece.name} is lit on the side turned away from the face: turn it, or the lamp."
        yield IMPOSSIBLE, words


def _misses(rig, say):
    """Most of the beam goes past the first cloth or board of the way that the face relies on."""
    part = rig.caught
    if part is None:
        return
    pieces_ = {rig.world.sheets[s.sheet].piece for s in rig.way if s.sheet >= 0}
    if rig.share(lambda r: r.way == Way.SHEET and r.last in pieces_) < RELIED_ON:
        return
    piece = rig.piece(rig.world.sheets[rig.way[0].sheet])
    if piece and 0 < part < 1 - MISSED:
        yield (
            -stops(part),
            f"{percent(1 - part)} of its light goes past {piece.name}, {say.counted(stops(part))}:"
            " narrow the beam, come nearer, or take a larger one.",
        )


def _shines_past(rig):
    """A lamp whose light is to come by cloth, board or wall shines straight at the face as well."""
    part = rig.share(lambda route: route == LAMP)
    if rig.way and part > PAST and _bare(rig):
        yield (
            float(-stops(1 - min(part, 0.99))),
            f"{percent(part)} of what it brings to the face comes straight from the lamp and not by"
            f" way of {surface_name(rig.setup, rig.world, rig.way[-1])}: a hard shadow in soft"
            " light. Flag it off, or turn it.",
        )


def _bare(rig):
    """Whether the face sees the lamp with nothing before it: through a frost is as it should be."""
    held = at_head(rig.setup, rig.place)
    to = rig.place - held.position
    away = float(np.linalg.norm(to))
    seen = rig.world.clear(
        np.asarray(held.position, np.float32)[None],
        np.asarray(to / away, np.float32)[None],
        np.asarray([away - 0.02], np.float32),
    )
    return float(seen[0]) > 0.99


def _lost(rig):
    """Nothing of it reaches the face, and nothing else is wrong with it."""
    away = max(float(((anchor(rig.setup) - rig.place) ** 2).sum()), 0.01)
    straight = float(rig.light.emitters[0].face.table.max()) / away
    if rig.full < DARK_SHARE * straight:
        aimed = met_by(rig.setup, rig.world, rig.place, rig.forward)
        words = f"Next to nothing of this lamp reaches the face: it is aimed at {aimed}."
        yield IMPOSSIBLE, words
