"""How bright and how white sun and sky are, by the sun's height and the weather."""

from dataclasses import dataclass
from functools import cache

import numpy as np

from ..colour import white_of
from ..colour.white import XYZ_TO_BT709

WEATHERS = {
    "clear": "clear",
    "hazy": "hazy",
    "thin-cloud": "thin cloud",
    "overcast": "overcast",
}
_TURBID = {"clear": 0.1, "hazy": 0.3}
"""Aerosol optical depth at 500 nm; typical of clean and of hazy air."""
WATER, OZONE, ALBEDO, SEA_LEVEL = 1.42, 0.34, 0.2, 101_325.0
"""Water in the air [cm], ozone [atm cm], the ground's albedo, pressure [Pa]: of the U.S. Standard
Atmosphere, as the spectral model is usually run."""
OUTSIDE = 133_100.0
"""Illuminance of the sun outside the air [lx]: 1361 W/m² at 97.8 lm/W."""
_CLOUD = {"thin-cloud": (0.8, 300.0, 45_000.0, 1.0), "overcast": (None, 300.0, 21_000.0, 1.0)}
"""Extinction, A, B [lx], C of IES daylight availability (J. IES 13, 1984): partly cloudy and cloudy
skies.
"""
AT_SUNSET = 759.0
"""Horizontal illuminance of a clear sky, the sun's middle on the horizon [lx]; Seidelmann 1992,
table 8.2, as are the two figures of dusk below."""
DUSK = (0.0945, -0.0495)
"""log10 of the light of dusk against :data:`AT_SUNSET`, by the sun's height [deg] and its square:
through 585 lx at sunset (-0.83°) and 3.4 lx at the end of civil twilight (-6°)."""
LOW = 5.0
"""Height under which the spectral model is left: the air is a ball, and it knows a slab [deg]."""
LOWEST = -6.0
"""Height to which anything is told [deg]."""
SKY_WHITES = {"thin-cloud": 6500.0, "overcast": 6300.0}
"""Whites of clouds [K]; typical."""
BLUEST = 10_000.0
"""Bluest white that a sky of the document takes [K]; clear ones go on to 12 000 and more."""


@dataclass(frozen=True)
class Daylight:
    """Light of the day in the open."""

    sun: float
    """On a face square to the sun [lx]; 0 when it is down or hidden."""
    sun_cct: float
    """[K]"""
    sky: float
    """Of the open sky on level ground [lx]."""
    sky_cct: float
    """[K]"""
    kind: str
    """How the sky is spread: "clear" or "overcast", as a set-up's sky."""


def daylight(elevation, weather="clear", day_of_year=80):
    """Levels and whites of sun and sky.

    Parameters
    ----------
    elevation : float
        Of the sun [deg], -6..90; lower is as dark as -6.
    weather : str
        Of :data:`WEATHERS`.
    day_of_year : int
        1..366; the sun's distance.

    Returns
    -------
    Daylight
        docs/light-model.md has the sources and what they claim.

    Examples
    --------
    >>> noon, low = daylight(60), daylight(5)
    >>> 90e3 < noon.sun < 115e3, low.sun < 20e3, low.sun_cct < 3500 < noon.sun_cct
    (True, True, True)
    >>> daylight(30, "overcast").sun
    0.0
    """
    h = float(np.clip(elevation, LOWEST, 90.0))
    nearness = 1 + 0.034 * np.cos(2 * np.pi * (day_of_year - 2) / 365)
    clear = _clear(h, "hazy" if weather == "hazy" else "clear", day_of_year)
    if weather in _TURBID:
        sun, sun_cct, sky, sky_cct = clear
        return Daylight(sun, sun_cct, sky, sky_cct, "clear")
    extinction, a, b, c = _CLOUD[weather]
    sky = (a + b * max(np.sin(np.radians(h)), 0.0) ** c) * _dusk(h)
    sun = 0.0
    if extinction is not None and h > 0:
        sun = OUTSIDE * nearness * np.exp(-extinction / np.sin(np.radians(max(h, 1.0))))
    return Daylight(
        float(sun),
        clear[1],
        float(sky),
        SKY_WHITES[weather],
        "overcast",
    )


def _dusk(h):
    """What is left of the sky's light once the sun is down."""
    return 1.0 if h >= 0 else float(10 ** (DUSK[0] * h + DUSK[1] * h * h))


def _clear(h, weather, day):
    """Sun [lx, K] and sky [lx, K] without clouds."""
    sun, sun_cct, sky, sky_cct = _spectral(max(h, LOW), weather, day)
    if h < LOW:
        # Between the horizon and where the model begins, evenly in the logarithm.
        part = max(h, 0.0) / LOW
        sky = AT_SUNSET * (sky / AT_SUNSET) ** part * _dusk(h)
    if h < LOW and h > 0:
        sun, sun_cct, _, _ = _spectral(h, weather, day)
    elif h <= 0:
        sun, sun_cct = 0.0, 2000.0
    return sun, sun_cct, sky, min(sky_cct, BLUEST)


def _spectral(h, weather, day):
    """Sun and sky of the spectral model of Bird and Riordan (J. Climate Appl. Meteor. 25, 1986), as
    pvlib keeps it, weighed by the eye.
    """
    return _weighed(round(h, 1), weather, int(day))


@cache
def _weighed(h, weather, day):
    from pvlib import atmosphere, spectrum

    zenith = 90 - h
    found = spectrum.spectrl2(
        zenith,
        zenith,
        0,
        ALBEDO,
        SEA_LEVEL,
        atmosphere.get_relative_airmass(zenith),
        WATER,
        OZONE,
        _TURBID[weather],
        dayofyear=day,
    )
    waves = np.arange(380.0, 781.0, 5.0)
    out = []
    for name in ("dni", "poa_sky_diffuse"):
        power = np.interp(waves, found["wavelength"], np.ravel(found[name]))
        xyz = np.array([683 * np.trapezoid(power * curve, waves) for curve in _eye(waves)])
        # A very low sun is redder than any white that a lamp is told by.
        kelvin = white_of(XYZ_TO_BT709 @ (xyz / xyz[1]))[0]
        out += [float(xyz[1]), float(kelvin)]
    return tuple(out)


def _eye(waves):
    """CIE 1931 colour matching functions, by the fits of Wyman, Sloan, Shirley (JCGT 2, 2013)."""

    def lobe(middle, below, above):
        return np.exp(-0.5 * ((waves - middle) / np.where(waves < middle, below, above)) ** 2)

    x = 1.056 * lobe(599.8, 37.9, 31.0) + 0.362 * lobe(442.0, 16.0, 26.7)
    x = x - 0.065 * lobe(501.1, 20.4, 26.2)
    y = 0.821 * lobe(568.8, 46.9, 40.5) + 0.286 * lobe(530.9, 16.3, 31.1)
    z = 1.217 * lobe(437.0, 11.8, 36.0) + 0.681 * lobe(459.0, 26.0, 13.8)
    return x, y, z
