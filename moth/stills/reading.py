"""A still read: percent, stops, ratios, whites, with the curve undone where it is known."""

from dataclasses import dataclass

import numpy as np

from ..camera import curve_by_name, stops_over_grey
from ..colour import LUMINANCE, white_of
from ..errors import MothError

UNSURE = 0.35
"""Part of a difference in stops by which a grade of unknown contrast may be off; typical of looks
between soft and hard."""
CLIPPED = 0.99
"""Code value from which a place counts as blown."""
DARK = 0.02
"""Code value under which a place counts as drowned."""
BASE = 5600.0
"""White that shifts are counted from where the camera's is not known [K]."""


@dataclass(frozen=True)
class SpotRead:
    """What one area of a still holds."""

    percent: float
    """Of the waveform: code value of its luminance."""
    stops: float
    """Over middle grey as the curve has it."""
    rgb: tuple
    """Mean linear BT.709."""
    spread: float
    """Standard deviation of its luminance, as a part of it."""
    lost: str
    """ "blown" or "drowned" when a tenth of it is, else empty."""


@dataclass(frozen=True)
class PairRead:
    """One place against another."""

    stops: float
    unsure: float
    """[stops]"""
    ratio: float
    """Of light."""
    by_percent: float
    """One percentage over the other."""
    shift: float
    """White of the second against the first [mired], + warmer."""
    words: str


def linear_of(code, record):
    """Light of a still, the curve undone.

    Parameters
    ----------
    code : ndarray, shape (..., 3)
    record : moth.stills.marks.Record

    Returns
    -------
    ndarray, shape (..., 3)
        Linear BT.709, middle grey 0.18. Of a still of unknown grade: as a display shows it.
    """
    if record.curve == "linear":
        return np.asarray(code, float)
    name = "srgb" if record.curve == "unknown" else record.curve
    return curve_by_name(name, record.log).decode(code)


def shown(code, record):
    """A still as a display shows it.

    Parameters
    ----------
    code : ndarray, shape (height, width, 3)
    record : moth.stills.marks.Record

    Returns
    -------
    ndarray of uint8
        Values that are pictures already stand as they are.
    """
    if record.curve not in ("unknown", "srgb", "bt709"):
        code = curve_by_name("bt709").encode(linear_of(code, record))
    return np.round(255 * np.clip(code, 0, 1)).astype(np.uint8)


def covered(shape, area):
    """Rows and columns of the pixels in an area, at least one.

    Parameters
    ----------
    shape : (int, int, ...)
        Height and width [px] come first.
    area : moth.stills.marks.MarkedArea

    Raises
    ------
    MothError
        When it lies outside the picture.
    """
    high, wide = shape[:2]
    x, y = area.at[0] * wide - 0.5, area.at[1] * high - 0.5
    reach = max(area.radius * wide, 0.5)
    rows = np.arange(max(0, int(y - reach)), min(high, int(y + reach) + 2))
    columns = np.arange(max(0, int(x - reach)), min(wide, int(x + reach) + 2))
    r, c = (k.ravel() for k in np.meshgrid(rows, columns, indexing="ij"))
    if len(r) == 0:
        raise MothError("An area lies outside the picture.", "marks")
    away = np.hypot(r - y, c - x)
    within = away <= max(reach, float(away.min()) + 1e-9)
    return r[within], c[within]


def read_spot(code, record, area):
    """What an area holds.

    Parameters
    ----------
    code : ndarray, shape (height, width, 3)
    record : moth.stills.marks.Record
    area : moth.stills.marks.MarkedArea

    Returns
    -------
    SpotRead

    Examples
    --------
    >>> from moth.stills.marks import MarkedArea, Record
    >>> grey = np.full((18, 32, 3), 0.409)
    >>> found = read_spot(grey, Record(curve="bt709"), MarkedArea(at=(0.5, 0.5)))
    >>> round(found.percent, 1), abs(round(found.stops, 1)), found.lost
    (40.9, 0.0, '')
    """
    r, c = covered(code.shape, area)
    here = code[r, c]
    light = linear_of(here, record)
    level = light @ LUMINANCE
    rgb = light.mean(0)
    mean = float(rgb @ LUMINANCE)
    if record.curve == "linear":
        percent = 100 * mean
        blown = drowned = np.zeros(len(here), bool)
    else:
        name = "srgb" if record.curve == "unknown" else record.curve
        percent = 100 * float(curve_by_name(name, record.log).encode(mean))
        blown, drowned = here.max(1) >= CLIPPED, here.max(1) <= DARK
    lost = "blown" if blown.mean() > 0.1 else "drowned" if drowned.mean() > 0.1 else ""
    return SpotRead(
        percent=percent,
        stops=float(stops_over_grey(max(mean, 1e-6))),
        rgb=tuple(map(float, rgb)),
        spread=float(level.std() / max(mean, 1e-6)),
        lost=lost,
    )


def white_read(spot, record):
    """White of the light on something without a colour of its own.

    Parameters
    ----------
    spot : SpotRead
    record : moth.stills.marks.Record

    Returns
    -------
    kelvin : float
        Counted from :data:`BASE` when the camera's white is not known.
    green : float
        As a unit's.

    Examples
    --------
    >>> from moth.stills.marks import Record
    >>> grey = SpotRead(50, 0, (0.2, 0.2, 0.2), 0, "")
    >>> round(white_read(grey, Record(white=3200))[0], -2)
    3200.0
    """
    rgb = np.maximum(spot.rgb, 1e-6)
    return white_of(rgb / (rgb @ LUMINANCE), record.white or BASE)


def read_pair(code, record, first, second):
    """One area against another: what the second is to the first.

    Parameters
    ----------
    code : ndarray, shape (height, width, 3)
    record : moth.stills.marks.Record
    first, second : moth.stills.marks.MarkedArea

    Returns
    -------
    PairRead

    Examples
    --------
    >>> from moth.camera import bt709
    >>> from moth.stills.marks import MarkedArea, Record
    >>> left, right = MarkedArea(at=(0.2, 0.5)), MarkedArea(at=(0.8, 0.5))
    >>> two = np.ones((18, 32, 3)) * bt709([0.4, 0.1])[[0] * 16 + [1] * 16][None, :, None]
    >>> found = read_pair(two, Record(curve="bt709"), left, right)
    >>> round(found.ratio, 1), round(found.by_percent, 1)
    (0.2, 0.5)
    """
    a, b = read_spot(code, record, first), read_spot(code, record, second)
    stops = b.stops - a.stops
    noisy = 1.44 * np.hypot(*(s.spread / np.sqrt(len(covered(code.shape, k)[0]))
                              for s, k in ((a, first), (b, second))))  # fmt: skip
    unsure = float(noisy) + (UNSURE * abs(stops) if record.curve == "unknown" else 0.0)
    by_percent = b.percent / max(a.percent, 1e-3)
    mired = [1e6 / white_read(s, record)[0] for s in (a, b)]
    return PairRead(
        stops=stops,
        unsure=unsure,
        ratio=float(2.0**stops),
        by_percent=by_percent,
        shift=mired[1] - mired[0],
        words=_why(record, a, b, stops, by_percent),
    )


def _why(record, a, b, stops, by_percent):
    lost = [s.lost for s in (a, b) if s.lost]
    if lost:
        return f"One of them is {lost[0]}: they differ by this much or more."
    if record.curve == "unknown":
        return (
            "The grade is unknown: this is what a display shows, and the lights may differ by a"
            " third more or less."
        )
    if record.curve == "linear" or abs(stops - np.log2(max(by_percent, 1e-6))) < 0.1:
        return "Code and light run alike here: both ways tell the same."
    return (
        f"The curve is no straight line: {100 * by_percent:.0f} % of the signal is"
        f" {100 * 2.0**stops:.0f} % of the light."
    )
