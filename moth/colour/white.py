"""White of a source, and what a camera balanced for another white makes of it."""

from functools import lru_cache

import numpy as np

LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
"""Share of linear red, green and blue in luminance, ITU-R BT.709-6."""
GREEN_DUV = 0.02
"""Distance from the Planckian locus [1, CIE 1960 uv] at green = 1, about a full plus-green gel;
typical.
"""

XYZ_TO_BT709 = np.array(
    [
        [3.2409699419, -1.5373831776, -0.4986107603],
        [-0.9692436363, 1.8759675015, 0.0415550574],
        [0.0556300797, -0.2039769589, 1.0569715142],
    ]
)  # ITU-R BT.709-6 primaries, D65
BRADFORD = np.array(
    [[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]]
)
_D65 = np.array([0.3127 / 0.3290, 1.0, (1 - 0.3127 - 0.3290) / 0.3290])


def planckian_uv(kelvin):
    """Chromaticity of a black body.

    Parameters
    ----------
    kelvin : float
        Temperature [K], 1000 to 15000.

    Returns
    -------
    ndarray, shape (2,)
        CIE 1960 (u, v), within 1e-4.

    References
    ----------
    M. Krystek, "An algorithm to calculate correlated colour temperature",
    Color Research & Application 10 (1985).

    Examples
    --------
    >>> planckian_uv(2856).round(4).tolist()
    [0.2559, 0.3496]
    """
    t = float(kelvin)
    u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (
        1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t
    )
    v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (
        1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t
    )
    return np.array([u, v])


def white_xyz(kelvin, green=0.0):
    """Tristimulus values of a white, luminance 1.

    Parameters
    ----------
    kelvin : float
        Correlated colour temperature [K], 2000 to 10000.
    green : float
        -1 (magenta) to 1 (green), times :data:`GREEN_DUV` off the locus.

    Returns
    -------
    ndarray, shape (3,)

    Examples
    --------
    >>> float(white_xyz(6504)[1])
    1.0
    """
    u, v = planckian_uv(kelvin)
    du, dv = planckian_uv(kelvin + 5) - planckian_uv(kelvin - 5)
    # Green lies above the locus (larger v): the normal that points there.
    normal = np.array([dv, -du]) / np.hypot(du, dv)
    if normal[1] < 0:
        normal = -normal
    u, v = np.array([u, v]) + green * GREEN_DUV * normal
    x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
    return np.array([x / y, 1.0, (1 - x - y) / y])


@lru_cache(maxsize=4000)
def unit_gain(kelvin, green, balance, tint):
    """Linear BT.709 gains of a unit's light in a camera balanced for another white.

    Parameters
    ----------
    kelvin, green : float
        The unit's white; see :func:`white_xyz`.
    balance, tint : float
        The camera's.

    Returns
    -------
    ndarray, shape (3,)
        Kept and not to be written to. Gains [1], luminance exactly kept where the colour lies
        inside BT.709; (1, 1, 1) when the whites agree.

    References
    ----------
    Bradford adaptation: Lindbloom; BT.709-6 for the primaries.

    Examples
    --------
    >>> unit_gain(5600, 0, 5600, 0).round(6).tolist()
    [1.0, 1.0, 1.0]
    >>> warm = unit_gain(3200, 0, 5600, 0)
    >>> bool(warm[0] > warm[1] > warm[2])
    True
    """
    source, reference = white_xyz(kelvin, green), white_xyz(balance, tint)
    cone = (BRADFORD @ source) / (BRADFORD @ reference)
    xyz = np.linalg.inv(BRADFORD) @ (cone * (BRADFORD @ _D65))
    rgb = np.maximum(XYZ_TO_BT709 @ (xyz / xyz[1]), 0.0)
    gain = rgb / (XYZ_TO_BT709 @ _D65)
    gain.flags.writeable = False
    return gain


def mired_gain(shift, base=5600.0):
    """Linear BT.709 factors of a gel or cloth that shifts white by so many mired.

    A filter is known by what it does to one white; used on other whites the factors stay the same,
    as a real dye's do to first order.

    Parameters
    ----------
    shift : float
        [mired], plus is warmer; -200 to 300.
    base : float
        White that the shift is told for [K].

    Returns
    -------
    ndarray, shape (3,)
        Luminance 1 on the base white.

    Examples
    --------
    >>> mired_gain(0).round(6).tolist()
    [1.0, 1.0, 1.0]
    """
    return unit_gain(float(np.clip(1e6 / (1e6 / base + shift), 1500, 25000)), 0.0, base, 0.0)


def white_of(rgb, balance=6504.0):
    """Correlated colour temperature and green of linear BT.709 light, seen in a camera balanced for
    a white.

    Parameters
    ----------
    rgb : array_like, shape (3,)
        As :func:`unit_gain` gives it, any level > 0.
    balance : float
        [K]

    Returns
    -------
    kelvin : float
        2000 to 25000 [K], nearest point of the Planckian locus in CIE 1960.
    green : float
        Distance from the locus in :data:`GREEN_DUV`.

    Examples
    --------
    >>> kelvin, green = white_of(unit_gain(3200, 0.5, 6504, 0))
    >>> round(kelvin, -1), round(green, 2)
    (3200.0, 0.5)
    """
    xyz = np.linalg.inv(XYZ_TO_BT709) @ np.asarray(rgb, float)
    cone = (BRADFORD @ xyz) / (BRADFORD @ _D65) * (BRADFORD @ white_xyz(balance))
    x, y, z = np.linalg.inv(BRADFORD) @ cone
    u, v = 4 * x / (x + 15 * y + 3 * z), 6 * y / (x + 15 * y + 3 * z)
    mireds = np.linspace(40, 500, 4601)
    locus = np.array([planckian_uv(1e6 / m) for m in mireds]) if not _LOCUS else _LOCUS[0]
    if not _LOCUS:
        _LOCUS.append(locus)
    off = np.hypot(*(locus - (u, v)).T)
    at = int(np.argmin(off))
    sign = 1.0 if v > locus[at, 1] else -1.0
    return 1e6 / float(mireds[at]), sign * float(off[at]) / GREEN_DUV


_LOCUS: list = []
