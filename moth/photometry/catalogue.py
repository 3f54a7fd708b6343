"""The heads a small crew owns, with generic names. Figures are typical, not measured on any one product."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .distribution import Distribution, from_angles, from_function


@dataclass(frozen=True)
class Head:
    """A lamp as it is put on a stand, with what is fixed on it."""

    key: str
    name: str
    shape: str
    """Of the lit face: "disc", "rectangle", "tube" or "bulb"."""
    size: tuple
    """Width and height of the lit face [m]; a tube's length and diameter; a disc's or bulb's diameter twice."""
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
    figures: str = "typical"

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
            return from_function(lambda c, g: self.peak * tube_pattern(c, g), reach=180, step=1.0, symmetric=False)
        return from_angles(self.peak, self.beam, self.field)


def tube_pattern(turn, vertical):
    """Relative intensity of a diffuser tube with its length along turn 0/180: full in front, dark behind.

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


HOT = "Gets hot and bright: keep cloth, gel and paper off its front, do not look into it, safety-chain it above people. Local codes and licensed people decide."
SOFT = "Large sail on one stand: widest leg under the load, sandbags, none of it in wind. Local codes and licensed people decide."
PLAIN = "Check cables underfoot and what the circuit carries. Local codes and licensed people decide."
BULB = "Keep shade and paper at the distance the lamp-holder names; have a licensed person wire practicals."

_DAY, _BI = (5600, 5600), (2700, 6500)

HEADS = {
    head.key: head
    for head in (
        Head("point-60", "60 W point head, reflector", "disc", (0.12, 0.12), 9_500, 52, 84, 75, 1.1, _BI, HOT),
        Head("point-150", "150 W point head, reflector", "disc", (0.16, 0.16), 27_000, 50, 80, 180, 2.4, _BI, HOT),
        Head("point-300", "300 W point head, reflector", "disc", (0.18, 0.18), 62_000, 48, 78, 350, 3.9, _BI, HOT),
        Head("point-600", "600 W point head, reflector", "disc", (0.20, 0.20), 125_000, 48, 78, 720, 6.2, _DAY, HOT),
        Head("panel-small", "Soft panel, 1 × 1 ft", "rectangle", (0.30, 0.30), 1_500, 108, 154, 48, 1.9, (2800, 6500), PLAIN),
        Head("panel-2x1", "Soft panel, 2 × 1 ft", "rectangle", (0.61, 0.30), 7_800, 106, 152, 220, 7.5, (2800, 10000), SOFT),
        Head("tube-2ft", "Tube, 2 ft", "tube", (0.60, 0.035), 270, 0, 0, 22, 0.8, (2000, 10000), PLAIN),
        Head("tube-4ft", "Tube, 4 ft", "tube", (1.20, 0.035), 540, 0, 0, 44, 1.4, (2000, 10000), PLAIN),
        Head("fresnel-200", "200 W fresnel, mid travel", "disc", (0.17, 0.17), 38_000, 28, 48, 220, 5.4, _BI, HOT),
        Head("battery-panel", "Small battery panel", "rectangle", (0.15, 0.08), 330, 100, 150, 9, 0.25, (2500, 8500), PLAIN),
        Head("bulb", "Practical bulb, frosted", "bulb", (0.06, 0.06), 72, 0, 0, 10, 0.06, (2700, 2700), BULB),
        Head("softbox-small", "150 W head, softbox 60 × 60 cm", "rectangle", (0.60, 0.60), 2_700, 98, 146, 180, 4.0, _BI, SOFT),
        Head("softbox-large", "300 W head, softbox 120 × 90 cm", "rectangle", (1.20, 0.90), 5_400, 98, 146, 350, 6.5, _BI, SOFT),
    )
}
"""Heads by key."""
