"""Heads a gaffer finds in a kit. All figures are typical of their kind, of no maker's model."""

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from .distribution import Distribution, from_angles, from_function

NOISE = ("silent", "quiet fan", "fan heard within 2 m")
PRICE = ("under a day's hire", "small kit", "main unit", "large unit")


@dataclass(frozen=True)
class Head:
    """A lamp as it is put on a stand, with what is fixed on it."""

    key: str
    name: str
    shape: str
    """Of the lit face: "disc", "rectangle", "tube" or "bulb"."""
    size: tuple
    """Width and height of the lit face [m]; a tube's length and diameter; a disc's or bulb's
    diameter twice.
    """
    peak: float
    """Intensity on the axis at full [cd]: the lux at 1 m, were it a point."""
    beam: float
    """Full angle at half the peak [deg]; 0 for a bare bulb or tube."""
    field: float
    """Full angle at a tenth of the peak [deg]; 0 for a bare bulb or tube."""
    watts: float
    weight: float
    """Without stand [kg]."""
    cct: tuple
    """Lowest and highest colour temperature [K]."""
    caution: str
    group: str = "point"
    """What can be hung on it: "point", "fresnel", "panel", "tube", "bulb"."""
    colour: bool = False
    """Whether it mixes any hue."""
    battery: float = 0.0
    """Run time at full on the usual battery [min]; 0 for mains only."""
    noise: int = 0
    """Index into NOISE."""
    distance: float = 0.5
    """Least distance of cloth, paper and gel from its front [m]."""
    price: int = 1
    """Index into PRICE."""
    dial: float = 1.0
    """Exponent from the dimmer's dial to light: 1 linear, 2 square law."""
    burner: Literal["led", "tungsten"] = "led"
    """What it burns: how its draw falls as it is dimmed."""
    of_place: bool = False
    """Whether it is part of a piece of furniture, and nothing that a gaffer brings."""
    source: str = "typical"
    """Where its figures come from."""

    @property
    def leak(self):
        """Share of its flux that leaves by vents, seams and the back; typical, 0 where nothing is
        known of its kind.

        Examples
        --------
        >>> HEADS["point-300"].leak, HEADS["bulb"].leak
        (0.01, 0.0)
        """
        return {"point": 0.01, "fresnel": 0.015, "panel": 0.005}.get(self.group, 0.0)

    @cached_property
    def distribution(self) -> Distribution:
        """Intensity at full output.

        Examples
        --------
        >>> round(HEADS["fresnel-200"].distribution.beam_angle)
        28
        """
        if self.shape == "bulb":
            # A frosted bulb sends nearly the same everywhere but into its socket.
            return from_function(lambda c, g: self.peak * np.clip((172 - g) / 22, 0, 1), reach=180)
        if self.shape == "tube":
            return from_function(
                lambda c, g: self.peak * tube_pattern(c, g), reach=180, step=1.0, symmetric=False
            )
        return from_angles(self.peak, self.beam, self.field)

    def output(self, cct):
        """Part of the full output that is left at a colour temperature.

        Two strings of emitters, one warm and one cool, share the power: in the middle both
        work, at the ends one. Typical: a fifth less at the ends of the range.

        Parameters
        ----------
        cct : float
            [K]

        Examples
        --------
        >>> head = HEADS["point-300"]
        >>> round(head.output(2700), 2), round(head.output(6500), 2), head.output(3815) > 0.99
        (0.8, 0.8, True)
        """
        low, high = (1e6 / k for k in self.cct)
        if low == high:
            return 1.0
        part = min(max((1e6 / cct - high) / (low - high), 0.0), 1.0)
        return float(1 - 0.2 * (2 * part - 1) ** 2)


def tube_pattern(turn, vertical):
    """Relative intensity of a diffuser tube with its length along turn 0/180: full in front, dark
    behind.

    A Lambertian cylinder sends I0 sin(a), a from its length; a half cylinder lit from
    inside shows (sin a + forward part) / 2 of it.

    Examples
    --------
    >>> float(tube_pattern(0.0, 0.0)), round(float(tube_pattern(90.0, 180.0)), 6)
    (1.0, 0.0)
    """
    turn, vertical = np.radians(turn), np.radians(vertical)
    forward = np.cos(vertical)
    across = np.sqrt(forward**2 + (np.sin(vertical) * np.sin(turn)) ** 2)
    return (across + forward) / 2


HOT = (
    "Gets hot and bright: keep cloth, gel and paper off its front, do not look into it,"
    " safety-chain it above people. Local codes and licensed people decide."
)
SOFT = (
    "Large sail on one stand: widest leg under the load, sandbags, none of it in wind. Local codes"
    " and licensed people decide."
)
PLAIN = (
    "Check cables underfoot and what the circuit carries. Local codes and licensed people decide."
)
BULB = (
    "Keep shade and paper at the distance the lamp-holder names; have a licensed person wire"
    " practicals."
)
HEAVY = (
    "Heavy: two hands, a stand rated for it, sandbags, a safety chain; its own circuit. Local codes"
    " and licensed people decide."
)
WORK = "Hot glass and guard; no RCD, no wet ground. Local codes and licensed people decide."

_DAY, _BI, _WARM = (5600, 5600), (2700, 6500), (3200, 3200)

HEADS = {
    head.key: head
    for head in (
        Head(
            "point-60",
            "60 W point head, reflector",
            "disc",
            (0.12, 0.12),
            9_500,
            52,
            84,
            75,
            1.1,
            _BI,
            HOT,
            battery=70,
            noise=1,
            distance=0.3,
            price=0,
        ),
        Head(
            "point-150",
            "150 W point head, reflector",
            "disc",
            (0.16, 0.16),
            27_000,
            50,
            80,
            180,
            2.4,
            _BI,
            HOT,
            battery=45,
            noise=1,
        ),
        Head(
            "point-300",
            "300 W point head, reflector",
            "disc",
            (0.18, 0.18),
            62_000,
            48,
            78,
            350,
            3.9,
            _BI,
            HOT,
            battery=30,
            noise=2,
            price=2,
        ),
        Head(
            "point-600",
            "600 W point head, reflector",
            "disc",
            (0.20, 0.20),
            125_000,
            48,
            78,
            720,
            6.2,
            _DAY,
            HOT,
            noise=2,
            distance=0.8,
            price=2,
        ),
        Head(
            "point-1200",
            "1200 W point head, reflector",
            "disc",
            (0.26, 0.26),
            260_000,
            46,
            76,
            1350,
            11.5,
            _DAY,
            HEAVY,
            noise=2,
            distance=1.0,
            price=3,
        ),
        Head(
            "point-colour",
            "300 W point head, full colour",
            "disc",
            (0.18, 0.18),
            38_000,
            48,
            78,
            350,
            4.3,
            (2000, 10000),
            HOT,
            colour=True,
            noise=2,
            price=2,
        ),
        Head(
            "panel-small",
            "Soft panel, 1 × 1 ft",
            "rectangle",
            (0.30, 0.30),
            1_500,
            108,
            154,
            48,
            1.9,
            (2800, 6500),
            PLAIN,
            "panel",
            battery=110,
            distance=0.05,
        ),
        Head(
            "panel-2x1",
            "Soft panel, 2 × 1 ft",
            "rectangle",
            (0.61, 0.30),
            7_800,
            106,
            152,
            220,
            7.5,
            (2800, 10000),
            SOFT,
            "panel",
            colour=True,
            battery=45,
            distance=0.1,
            price=2,
        ),
        Head(
            "panel-4x2",
            "Soft panel, 4 × 2 ft",
            "rectangle",
            (1.22, 0.61),
            15_000,
            106,
            152,
            480,
            15.0,
            (2800, 10000),
            HEAVY,
            "panel",
            colour=True,
            noise=1,
            distance=0.1,
            price=3,
        ),
        Head(
            "mat-2x2",
            "Flexible mat, 2 × 2 ft",
            "rectangle",
            (0.60, 0.60),
            3_900,
            114,
            158,
            150,
            1.2,
            _BI,
            PLAIN,
            "panel",
            battery=55,
            distance=0.05,
        ),
        Head(
            "tube-2ft",
            "Tube, 2 ft",
            "tube",
            (0.60, 0.035),
            270,
            0,
            0,
            22,
            0.8,
            (2000, 10000),
            PLAIN,
            "tube",
            colour=True,
            battery=120,
            distance=0.05,
        ),
        Head(
            "tube-4ft",
            "Tube, 4 ft",
            "tube",
            (1.20, 0.035),
            540,
            0,
            0,
            44,
            1.4,
            (2000, 10000),
            PLAIN,
            "tube",
            colour=True,
            battery=120,
            distance=0.05,
        ),
        Head(
            "fresnel-100",
            "100 W fresnel, mid travel",
            "disc",
            (0.11, 0.11),
            16_000,
            28,
            48,
            115,
            3.1,
            _BI,
            HOT,
            "fresnel",
            noise=1,
            dial=2.0,
        ),
        Head(
            "fresnel-200",
            "200 W fresnel, mid travel",
            "disc",
            (0.17, 0.17),
            38_000,
            28,
            48,
            220,
            5.4,
            _BI,
            HOT,
            "fresnel",
            noise=1,
            dial=2.0,
        ),
        Head(
            "fresnel-650",
            "650 W tungsten fresnel, mid travel",
            "disc",
            (0.15, 0.15),
            21_000,
            26,
            44,
            650,
            3.4,
            _WARM,
            HOT,
            "fresnel",
            distance=1.0,
            price=0,
            dial=2.6,
            burner="tungsten",
        ),
        Head(
            "battery-panel",
            "Small battery panel",
            "rectangle",
            (0.15, 0.08),
            330,
            100,
            150,
            9,
            0.25,
            (2500, 8500),
            PLAIN,
            "panel",
            colour=True,
            battery=90,
            distance=0.02,
            price=0,
        ),
        Head(
            "pocket-ball",
            "Pocket light with a ball",
            "bulb",
            (0.08, 0.08),
            60,
            0,
            0,
            7,
            0.2,
            (2500, 8500),
            PLAIN,
            "bulb",
            colour=True,
            battery=100,
            distance=0.02,
            price=0,
        ),
        Head(
            "work-lamp",
            "Work lamp on a guard",
            "rectangle",
            (0.20, 0.16),
            2_600,
            96,
            130,
            50,
            1.6,
            (4000, 4000),
            WORK,
            "panel",
            distance=0.3,
            price=0,
        ),
        Head(
            "work-halogen",
            "Halogen work lamp",
            "rectangle",
            (0.19, 0.12),
            2_300,
            100,
            136,
            500,
            1.5,
            (2900, 2900),
            WORK,
            "panel",
            distance=1.0,
            price=0,
            dial=2.6,
            burner="tungsten",
        ),
        Head(
            "bulb",
            "Practical bulb, frosted",
            "bulb",
            (0.06, 0.06),
            72,
            0,
            0,
            10,
            0.06,
            (2700, 2700),
            BULB,
            "bulb",
            distance=0.1,
            price=0,
        ),
        Head(
            "bulb-warm",
            "Carbon-filament look bulb",
            "bulb",
            (0.09, 0.09),
            24,
            0,
            0,
            5,
            0.08,
            (2200, 2200),
            BULB,
            "bulb",
            distance=0.1,
            price=0,
        ),
        Head(
            "screen-24",
            "Lit screen, 53 × 30 cm",
            "rectangle",
            (0.53, 0.30),
            40,
            104,
            156,
            25,
            3.5,
            (6500, 6500),
            PLAIN,
            "panel",
            colour=True,
            distance=0.02,
            price=0,
            of_place=True,
        ),
        Head(
            "screen-55",
            "Lit screen, 121 × 68 cm",
            "rectangle",
            (1.21, 0.68),
            205,
            104,
            156,
            95,
            15.0,
            (6500, 6500),
            PLAIN,
            "panel",
            colour=True,
            distance=0.02,
            price=0,
            of_place=True,
        ),
        Head(
            "house-tube",
            "Ceiling tube, 4 ft",
            "tube",
            (1.20, 0.04),
            770,
            0,
            0,
            36,
            2.0,
            (2700, 6500),
            PLAIN,
            "tube",
            distance=0.02,
            price=0,
            of_place=True,
        ),
        Head(
            "house-downlight",
            "Downlight",
            "disc",
            (0.09, 0.09),
            620,
            62,
            100,
            9,
            0.4,
            (2700, 4000),
            PLAIN,
            "bulb",
            distance=0.1,
            price=0,
            of_place=True,
        ),
        Head(
            "house-strip",
            "Strip under a cupboard",
            "tube",
            (0.55, 0.02),
            100,
            0,
            0,
            7,
            0.3,
            (2700, 6500),
            PLAIN,
            "tube",
            distance=0.02,
            price=0,
            of_place=True,
        ),
        Head(
            "softbox-small",
            "150 W head, softbox 60 × 60 cm",
            "rectangle",
            (0.60, 0.60),
            2_700,
            98,
            146,
            180,
            4.0,
            _BI,
            SOFT,
            "panel",
            battery=45,
            noise=1,
            distance=0.1,
        ),
        Head(
            "softbox-large",
            "300 W head, softbox 120 × 90 cm",
            "rectangle",
            (1.20, 0.90),
            5_400,
            98,
            146,
            350,
            6.5,
            _BI,
            SOFT,
            "panel",
            battery=30,
            noise=2,
            distance=0.1,
            price=2,
        ),
    )
}
"""Heads by key."""
