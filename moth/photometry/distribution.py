"""Luminous intensity in every direction, type C: the one form all lamps are brought to."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..errors import PhotometryError

BEAM_LEVEL, FIELD_LEVEL = 0.5, 0.1
"""Parts of the peak that bound the beam and the field angle (CIE S 017:2020, 27-082 and practice
for projectors).
"""


@dataclass(frozen=True, eq=False)
class Distribution:
    """Candela over type C angles.

    `vertical` runs from the axis (0) outwards to at most 180 deg; `horizontal` is the
    turn about the axis, 0 toward the unit's right hand, 90 up, covering the whole circle.
    """

    vertical: np.ndarray
    """Shape (n,), rising [deg]."""
    horizontal: np.ndarray
    """Shape (m,), rising, first 0 and last 360 [deg]; a single 0 for rotational symmetry."""
    candela: np.ndarray
    """Shape (m, n) [cd], >= 0."""

    def intensity(self, vertical, horizontal=0.0):
        """Intensity [cd] by bilinear interpolation; zero beyond the last vertical angle.

        Parameters
        ----------
        vertical, horizontal : array_like, any common shape
            Angles [deg].

        Examples
        --------
        >>> round(float(from_angles(1000, 20, 40).intensity(10)), 3)
        500.0
        """
        vertical, horizontal = np.broadcast_arrays(
            np.asarray(vertical, float), np.asarray(horizontal, float) % 360
        )
        rows = self._rows(vertical)
        if len(rows) == 1:
            return rows[0]
        low, part = self._between(horizontal)
        pick = np.indices(low.shape) if low.ndim else ()
        return rows[(low, *pick)] * (1 - part) + rows[(low + 1, *pick)] * part

    def table(self, vertical, turns):
        """:meth:`intensity` at every turn and every vertical angle.

        Parameters
        ----------
        vertical : ndarray, shape (n,)
        turns : ndarray, shape (m,)
            Angles [deg].

        Returns
        -------
        ndarray, shape (m, n)
        """
        rows = self._rows(vertical)
        if len(rows) == 1:
            return np.repeat(rows, len(turns), 0)
        low, part = self._between(np.asarray(turns) % 360)
        return rows[low] * (1 - part[:, None]) + rows[low + 1] * part[:, None]

    def _rows(self, vertical):
        """Each row of the table at vertical angles, a new first axis."""
        return np.stack(
            [np.interp(vertical, self.vertical, row, left=0, right=0) for row in self.candela]
        )

    def _between(self, horizontal):
        """The row before each turn, and how far it lies from there to the next."""
        at = np.interp(horizontal, self.horizontal, np.arange(len(self.horizontal)))
        low = np.minimum(at.astype(int), len(self.horizontal) - 2)
        return low, at - low

    @property
    def peak(self):
        """Largest intensity [cd]."""
        return float(self.candela.max())

    def _full_angle(self, level):
        """Full angle [deg] where the intensity falls to a part of that on the axis, averaged over
        the turns.
        """
        fine = np.linspace(0, self.vertical[-1], 3601)
        widths = []
        for row in self.candela:
            values = np.interp(fine, self.vertical, row)
            above = np.flatnonzero(values >= level * values.max())
            last = above[-1]
            if last + 1 < len(fine):
                a, b = values[last], values[last + 1]
                step = (a - level * values.max()) / max(a - b, 1e-12)
                widths.append(2 * (fine[last] + min(step, 1.0) * (fine[1] - fine[0])))
            else:
                widths.append(2 * fine[last])
        return float(np.mean(widths))

    @cached_property
    def beam_angle(self):
        """Full angle at 50 % of the peak [deg]."""
        return self._full_angle(BEAM_LEVEL)

    @cached_property
    def field_angle(self):
        """Full angle at 10 % of the peak [deg]."""
        return self._full_angle(FIELD_LEVEL)

    @property
    def lumens(self):
        """Luminous flux [lm]: intensity integrated over solid angle, exact for the linear
        interpolation used.

        Examples
        --------
        >>> cosine = from_function(lambda c, g: np.cos(np.radians(g)) * (g <= 90))
        >>> round(cosine.lumens / np.pi, 3)
        1.0
        """
        g = np.radians(self.vertical)
        a, b = g[:-1], g[1:]
        width = np.maximum(b - a, 1e-12)
        # Integrals of (linear ramp) * sin over each interval, for the left and right node.
        right = (np.sin(b) - np.sin(a)) / width - np.cos(b)
        left = np.cos(a) - (np.sin(b) - np.sin(a)) / width
        rings = self.candela[:, :-1] @ left + self.candela[:, 1:] @ right
        if len(self.horizontal) == 1:
            return float(2 * np.pi * rings[0])
        return float(np.trapezoid(rings, np.radians(self.horizontal)))

    def scaled(self, factor):
        """The same shape with every intensity multiplied."""
        return Distribution(self.vertical, self.horizontal, self.candela * factor)


def from_function(candela, reach=90.0, step=0.5, symmetric=True, turns=73):
    """Distribution from intensity as a function of (horizontal, vertical) angle.

    Parameters
    ----------
    candela : callable
        Takes turn and vertical angle [deg] as arrays, gives [cd].
    reach : float
        Largest vertical angle [deg].
    step : float
        Spacing of the table [deg]; linear interpolation of a cosine at 0.5 deg errs by 1e-5.
    symmetric : bool
        Whether the turn does not matter.
    turns : int
        Number of turns from 0 to 360 deg in the table where it does.

    Returns
    -------
    Distribution

    Examples
    --------
    >>> round(from_function(lambda c, g: 0 * g + 1.0, reach=180).lumens / (4 * np.pi), 6)
    1.0
    """
    vertical = np.linspace(0, reach, round(reach / step) + 1)
    horizontal = np.zeros(1) if symmetric else np.linspace(0, 360, turns)
    table = np.maximum(
        candela(horizontal[:, None], vertical[None, :]) * np.ones((len(horizontal), 1)), 0
    )
    return Distribution(vertical, horizontal, table)


def from_angles(peak, beam, field):
    """Smooth beam from peak intensity, beam angle and field angle.

    The intensity is ``peak * 2 ** -((g / (beam/2)) ** p)`` with p chosen so that it is a
    tenth at the field angle: the two-parameter curve through both definitions.

    Parameters
    ----------
    peak : float
        Intensity on the axis [cd], > 0; equal to the illuminance [lx] at 1 m.
    beam, field : float
        Full angles at 50 % and 10 % [deg], 0 < beam < field <= 320.

    Returns
    -------
    Distribution

    Raises
    ------
    PhotometryError
        When the angles are not in that order.

    Examples
    --------
    >>> d = from_angles(10000, 30, 50)
    >>> round(d.beam_angle, 1), round(d.field_angle, 1)
    (30.0, 50.0)
    """
    if not 0 < beam < field <= 320:
        raise PhotometryError("The field angle (10 %) must be wider than the beam angle (50 %).")
    power = np.log(np.log2(10)) / np.log(field / beam)
    reach = min(180.0, max(90.0, field / 2 * 1.3)) if field > 150 else 90.0
    return from_function(
        lambda c, g: peak * 2 ** -((g / (beam / 2)) ** power), reach=reach, step=min(0.5, beam / 80)
    )
