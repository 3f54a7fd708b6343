"""IES photometric files: ANSI/IES LM-63 of 1986, 1991, 1995, 2002 and 2019, type C."""

import math
from dataclasses import dataclass

import numpy as np

from ..errors import PhotometryError
from .distribution import Distribution

LARGEST_FILE = 400_000
"""Characters; real files hold a few thousand."""
LARGEST_GRID = 100_000
"""Intensities; 1 degree both ways is 65 thousand."""
_VERSIONS = {
    "IESNA86": 1986,
    "IESNA91": 1991,
    "IESNA:LM-63-1995": 1995,
    "IESNA:LM-63-2002": 2002,
    "IES:LM-63-2019": 2019,
}
METRES = {1: 0.3048, 2: 1.0}


@dataclass(frozen=True)
class Photometry:
    """What a photometric file says of a lamp."""

    distribution: Distribution
    year: int
    """Of the standard: 1986, 1991, 1995, 2002 or 2019."""
    keywords: dict
    size: tuple
    """Luminous opening (width, length, height) [m]; negative width means round."""
    watts: float
    lamp_lumens: float
    """As the file claims [lm]; -1 for absolute photometry."""


class _Numbers:
    """Reads numbers one after the other and says which one is missing or broken."""

    def __init__(self, text):
        self.words = text.replace(",", " ").split()
        self.at = 0

    def take(self, what):
        if self.at >= len(self.words):
            raise PhotometryError(f"The file ends before {what}: it is cut short.", "ies")
        word = self.words[self.at]
        self.at += 1
        try:
            value = float(word)
        except ValueError:
            raise PhotometryError(
                f"Where {what} should stand the file has '{word[:20]}'.", "ies"
            ) from None
        if not math.isfinite(value):
            raise PhotometryError(
                f"{what[0].upper()}{what[1:]} is {word}, which is not a number.", "ies"
            )
        return value

    def whole(self, what, low, high):
        value = self.take(what)
        if value != int(value) or not low <= value <= high:
            raise PhotometryError(
                f"{what[0].upper()}{what[1:]} is {value:g}; it must be a whole number from {low} to"
                f" {high}.",
                "ies",
            )
        return int(value)

    def many(self, count, what):
        if len(self.words) - self.at < count:
            raise PhotometryError(
                f"The file ends in {what}: {count} numbers wanted, {len(self.words) - self.at}"
                " found.",
                "ies",
            )
        return np.array([self.take(what) for _ in range(count)])


def read_ies(text):
    """Parse an IES LM-63 file.

    Parameters
    ----------
    text : str or bytes
        The whole file; Latin-1 is assumed for bytes.

    Returns
    -------
    Photometry
        Intensities with lamp multiplier, ballast factor and tilt applied, unfolded to the whole
        circle.

    Raises
    ------
    PhotometryError
        For anything that is not a type C file with TILT=NONE or INCLUDE, saying why.

    References
    ----------
    ANSI/IES LM-63-19, and its editions back to LM-63-1986.

    Examples
    --------
    >>> lamp = read_ies('''IESNA91
    ... TILT=NONE
    ... 1 1000 1 3 1 1 2 0 0 0
    ... 1 1 50
    ... 0 45 90
    ... 0
    ... 300 200 0''')
    >>> lamp.year, float(lamp.distribution.intensity(22.5))
    (1991, 250.0)
    """
    if isinstance(text, bytes):
        text = text.decode("latin-1")
    if len(text) > LARGEST_FILE:
        raise PhotometryError(
            f"The file is larger than {LARGEST_FILE // 1000} kB: that is no photometric file.",
            "ies",
        )
    if "\0" in text:
        raise PhotometryError("The file is binary, not an IES text file.", "ies")
    lines = text.lstrip("\ufeff").splitlines()
    tilt_at = next(
        (i for i, line in enumerate(lines) if line.strip().upper().startswith("TILT")), None
    )
    if tilt_at is None:
        raise PhotometryError("There is no TILT line: this is not an IES file.", "ies")
    first = lines[0].strip().upper() if lines else ""
    year = _VERSIONS.get(first, 1986)
    keywords = {}
    for line in lines[:tilt_at]:
        if line.startswith("[") and "]" in line:
            key, value = line[1:].split("]", 1)
            keywords[key.strip().upper()] = value.strip()
    tilt = lines[tilt_at].split("=", 1)[-1].strip().upper()
    numbers = _Numbers("\n".join(lines[tilt_at + 1 :]))
    factor = 1.0
    if tilt == "INCLUDE":
        numbers.whole("the lamp-to-luminaire geometry", 1, 3)
        pairs = numbers.whole("the number of tilt angles", 1, 1000)
        angles, factors = (
            numbers.many(pairs, "the tilt angles"),
            numbers.many(pairs, "the tilt factors"),
        )
        # The head is measured at rest: the factor that counts is the one of the smallest tilt.
        factor = float(factors[np.argmin(angles)])
    elif tilt != "NONE":
        raise PhotometryError(
            f"TILT={tilt[:40]} points to another file; only NONE and INCLUDE can be read.", "ies"
        )

    lamps = numbers.whole("the number of lamps", 1, 1000)
    lumens = numbers.take("the lumens a lamp")
    multiplier = numbers.take("the candela multiplier")
    verticals = numbers.whole("the number of vertical angles", 1, LARGEST_GRID)
    horizontals = numbers.whole("the number of horizontal angles", 1, LARGEST_GRID)
    if verticals * horizontals > LARGEST_GRID:
        raise PhotometryError(
            f"The file claims {verticals} × {horizontals} intensities: more than any lamp has.",
            "ies",
        )
    kind = numbers.whole("the photometric type", 1, 3)
    if kind != 1:
        raise PhotometryError(
            f"The file is of photometric type {'?CBA'[kind]}; only type C can be read.", "ies"
        )
    unit = numbers.whole("the unit of length", 1, 2)
    size = tuple(numbers.take("the luminous opening") * METRES[unit] for _ in range(3))
    ballast = numbers.take("the ballast factor")
    numbers.take("the ballast-lamp factor")
    watts = numbers.take("the watts")
    vertical = numbers.many(verticals, "the vertical angles")
    horizontal = numbers.many(horizontals, "the horizontal angles")
    candela = numbers.many(verticals * horizontals, "the intensities").reshape(
        horizontals, verticals
    )
    if (np.diff(vertical) <= 0).any() or (np.diff(horizontal) <= 0).any():
        raise PhotometryError("The angles do not rise from one to the next.", "ies")
    across = horizontal[0] == 90 and horizontal[-1] == 270
    if vertical[0] < 0 or vertical[-1] > 180 or horizontal[-1] > 360:
        raise PhotometryError(
            "The angles leave the range of type C: vertical 0 to 180, horizontal 0 to 360.", "ies"
        )
    if horizontal[0] != 0 and not across:
        raise PhotometryError(
            f"The horizontal angles begin at {horizontal[0]:g}; type C begins at 0, or at 90 for a"
            " lamp that is symmetric about 90 and 270.",
            "ies",
        )
    if (candela < 0).any():
        raise PhotometryError("An intensity is below zero.", "ies")
    if multiplier <= 0 or factor <= 0 or ballast <= 0:
        raise PhotometryError(
            "The multiplier, the tilt factor and the ballast factor must be above zero.", "ies"
        )
    candela = usable(candela, multiplier * factor * ballast)
    horizontal, candela = (_about_90 if across else _unfold)(horizontal, candela)
    vertical, candela = _close(vertical, candela)
    return Photometry(
        Distribution(vertical, horizontal, candela),
        year,
        keywords,
        size,
        watts,
        lumens * (lamps if lumens > 0 else 1),
    )


BRIGHTEST = 1e10
"""Intensity that no lamp reaches [cd]; a search light has some 1e9."""


def usable(candela, factor):
    """Intensities times the file's factors, if a lamp can be so.

    Raises
    ------
    PhotometryError
        For a lamp that is dark, or brighter than any.
    """
    with np.errstate(over="ignore"):
        candela = candela * factor
    if not np.isfinite(candela).all() or candela.max() > BRIGHTEST:
        raise PhotometryError(
            f"With its factors the file claims more than {BRIGHTEST:.0e} cd: no lamp is so bright.",
            "ies",
        )
    if candela.max() <= 0:
        raise PhotometryError("Every intensity is zero: this lamp gives no light.", "ies")
    return candela


def _about_90(horizontal, candela):
    """Whole circle of a lamp given from 90 to 270, alike on both sides of that line."""
    # What stands at h stands at 180 - h too: from -90 on, the given ones mirrored.
    angles = np.concatenate([180 - horizontal[::-1], horizontal[1:]])
    rows = np.concatenate([candela[::-1], candela[1:]])
    whole = np.unique(np.concatenate([[0.0, 360.0], angles % 360]))
    at = np.where(whole > 270, whole - 360, whole)
    columns = [np.interp(at, angles, column) for column in rows.T]
    return whole, np.stack(columns, axis=1)


def _unfold(horizontal, candela):
    """Whole circle from the symmetry that the last horizontal angle declares."""
    last = horizontal[-1]
    if len(horizontal) == 1:
        return np.zeros(1), candela
    if last == 90:
        horizontal, candela = (
            np.concatenate([horizontal, 180 - horizontal[-2::-1]]),
            np.concatenate([candela, candela[-2::-1]]),
        )
        last = 180.0
    if last == 180:
        return np.concatenate([horizontal, 360 - horizontal[-2::-1]]), np.concatenate(
            [candela, candela[-2::-1]]
        )
    if last < 360:
        if last <= 180:
            raise PhotometryError(
                f"The last horizontal angle is {last:g}; type C ends at 0, 90, 180 or 360.", "ies"
            )
        return np.append(horizontal, 360.0), np.concatenate([candela, candela[:1]])
    return horizontal, candela


def _close(vertical, candela):
    """Table that starts on the axis; a lamp measured from 90 up lights the upper half only."""
    if vertical[0] > 0:
        vertical = np.concatenate([[0.0, vertical[0] - 1e-6], vertical])
        candela = np.concatenate([np.zeros((len(candela), 2)), candela], axis=1)
    return vertical, candela
