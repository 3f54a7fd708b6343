"""What kinds of furniture are made of: solid parts, flats of cloth or mirror, a lamp."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from ..document import Surface

SOLIDS = ("box", "cylinder", "ball")
"""Kinds of furniture that are a single part."""
LEG, BOARD, CUSHION = 0.045, 0.03, 0.14
"""Usual thicknesses [m]."""


WOOD = Surface(reflectance=0.26, colour=(1.0, 0.7, 0.46))
DARK_WOOD = Surface(reflectance=0.10, colour=(1.0, 0.55, 0.32))
WHITE = Surface(reflectance=0.75)
PAPER = Surface(reflectance=0.6, colour=(1.0, 0.94, 0.84))
GREY_CLOTH = Surface(reflectance=0.2, colour=(0.9, 0.95, 1.0))
GREEN = Surface(reflectance=0.09, colour=(0.45, 1.0, 0.35))
CLAY = Surface(reflectance=0.25, colour=(1.0, 0.5, 0.33))
STONE = Surface(reflectance=0.35, colour=(1.0, 0.96, 0.9))
STEEL = Surface(reflectance=0.4)
BLACK = Surface(reflectance=0.05)


@dataclass(frozen=True)
class Part:
    """One solid of a piece, in the piece's own axes: x to its left hand, y to its front, z up, from
    the middle of its footprint on the floor [m].
    """

    kind: str
    """One of :data:`SOLIDS`."""
    position: tuple[float, float, float]
    """Middle of its base."""
    size: tuple[float, float, float]
    turn: float = 0.0
    """About the upright, counter-clockwise from above [deg]."""
    second: bool = False
    """Whether it is of the piece's second surface."""
    shade: float = 1.0
    """How much lighter or darker than that surface it is; 1 in the mean over what is of it."""
    hinge: tuple[float, float] | None = None
    """Where the upright stands that it swings about; None for what does not open."""

    def swung(self, degrees):
        """The part, swung open about its hinge, clockwise from above [deg]."""
        if self.hinge is None or not degrees:
            return self
        c, s = math.cos(math.radians(-degrees)), math.sin(math.radians(-degrees))
        (x, y, z), (hx, hy) = self.position, self.hinge
        place = (hx + c * (x - hx) - s * (y - hy), hy + s * (x - hx) + c * (y - hy), z)
        return replace(self, position=place, turn=self.turn - degrees)


@dataclass(frozen=True)
class Flat:
    """A flat rectangle of a piece, lit from both sides, in the axes of its parts."""

    centre: tuple[float, float, float]
    """[m]"""
    facing: tuple[float, float, float]
    """Unit vector out of its front; level."""
    size: tuple[float, float]
    """Width and height [m]."""
    of: Literal["shade", "mirror"]
    behind: float = 0.0
    """How far behind it the upright is that it stands around with others [m]; 0 if it is alone."""


@dataclass(frozen=True)
class Lamp:
    """The light that comes with a piece."""

    head: str
    """Key of moth.photometry.HEADS."""
    at: tuple[float, float, float]
    """Where its lit face is, in parts of the piece's width, depth and height."""
    aim: tuple[float, float, float]
    """Unit vector that it looks along."""
    switch: str = ""
    """Of the house, that it hangs on as it is brought in."""


def no_flats(w, d, h):
    """Of a piece that has neither shade nor mirror."""
    return []


@dataclass(frozen=True)
class Piece:
    """A kind of furniture."""

    key: str
    name: str
    group: str
    size: tuple[float, float, float]
    """Usual width, depth and height [m]."""
    build: Callable[..., list[Part]]
    """Its parts from width, depth and height."""
    surface: Surface = WOOD
    second: Surface = PAPER
    """What its cushions, doors, leaves or the like are of."""
    gloss: bool = False
    base: float = 0.0
    """How high over the floor it is usually hung [m]."""
    round: bool = False
    """Whether its footprint is an ellipse."""
    wall: bool = False
    """Whether it stands or hangs at a wall."""
    high: bool = False
    """Whether it usually reaches up to the ceiling."""
    ceiling: bool = False
    """Whether it is fixed under the ceiling."""
    outside: bool = False
    """Whether it stands outside, before the windows."""
    flats: Callable[..., list[Flat]] = no_flats
    """Its shade or mirror, from width, depth and height."""
    through: float = 0.0
    """Share of the light on its shade that usually goes through."""
    lamp: Lamp | None = None

    @property
    def shaded(self):
        """Whether it has a shade."""
        return any(flat.of == "shade" for flat in self.flats(*self.size))

    @property
    def opens(self):
        """Whether it has a leaf."""
        return any(part.hinge for part in self.build(*self.size))

    def parts(self, size, open=0.0):
        """Its parts at a size (3) [m], its leaf open so far [deg]."""
        return [part.swung(open) for part in self.build(*size)]


def many(length, each, least=1):
    """How many things of about a length go into another; no piece is of more than that many."""
    return min(24, max(least, round(length / each)))


def box(x, y, z, width, depth, height, **more):
    return Part("box", (x, y, z), (width, depth, height), **more)


def shifted(part, y=0.0, z=0.0, **more):
    """A part farther to the front and up."""
    at = part.position
    return replace(part, position=(at[0], at[1] + y, at[2] + z), **more)
