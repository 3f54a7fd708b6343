"""Signal curves: from linear signal to code value and back, with clip, grey and floor."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..errors import MothError
from .exposure import MIDDLE_GREY


@dataclass(frozen=True)
class Curve:
    """A transfer curve. Linear signal 0.18 is middle grey as exposed, 1.0 a white of 100 %; code
    values run 0..1.
    """

    key: str
    name: str
    encode: Callable
    """Linear signal (array_like) to code value 0..1."""
    decode: Callable
    """Code value 0..1 to linear signal."""
    clip: float
    """Linear signal at code 1: all above is lost."""
    source: str

    @property
    def grey(self):
        """Code value of middle grey.

        Examples
        --------
        >>> round(BT709.grey, 3), round(HLG.grey, 3), round(ACESCCT.grey, 4)
        (0.409, 0.378, 0.4136)
        """
        return float(self.encode(MIDDLE_GREY))

    @property
    def over(self):
        """Stops from middle grey up to the clip.

        Examples
        --------
        >>> round(BT709.over, 2), round(HLG.over, 2)
        (2.47, 4.39)
        """
        return float(np.log2(self.clip / MIDDLE_GREY))


def bt709(linear):
    """Opto-electronic transfer of ITU-R BT.709-6, clipped to 0..1.

    Parameters
    ----------
    linear : array_like
        Scene-linear signal, 1.0 at the clip.

    Returns
    -------
    ndarray
        Non-linear signal, 0..1.

    Examples
    --------
    >>> bt709([0.018, 0.18, 1.0]).round(3).tolist()
    [0.081, 0.409, 1.0]
    """
    linear = np.clip(np.asarray(linear, float), 0, 1)
    return np.where(
        linear < 0.018,
        4.5 * linear,
        1.099 * np.power(linear, 0.45, where=linear > 0, out=np.zeros_like(linear)) - 0.099,
    )


def _bt709_inverse(code):
    code = np.clip(np.asarray(code, float), 0, 1)
    return np.where(code < 0.081, code / 4.5, ((code + 0.099) / 1.099) ** (1 / 0.45))


_A, _B, _C = 0.17883277, 0.28466892, 0.55991073


def _hlg_oetf(scene):
    scene = np.clip(np.asarray(scene, float), 0, 1)
    return np.where(
        scene <= 1 / 12, np.sqrt(3 * scene), _A * np.log(np.maximum(12 * scene - _B, 1e-9)) + _C
    )


def _hlg_inverse(code):
    code = np.clip(np.asarray(code, float), 0, 1)
    return np.where(code <= 0.5, code**2 / 3, (np.exp((code - _C) / _A) + _B) / 12)


HLG_WHITE = float(_hlg_inverse(0.75))
"""Scene value 0..1 of a white of 100 %: at 75 % of the signal, as ITU-R BT.2408 places it."""


def _acescct(linear):
    linear = np.clip(np.asarray(linear, float), 0, None)
    code = np.where(
        linear <= 0.0078125,
        10.5402377416545 * linear + 0.0729055341958355,
        (np.log2(np.maximum(linear, 1e-9)) + 9.72) / 17.52,
    )
    return np.clip(code, 0, 1)


def _acescct_inverse(code):
    code = np.clip(np.asarray(code, float), 0, 1)
    return np.where(
        code <= 0.155251141552511,
        np.maximum(code - 0.0729055341958355, 0) / 10.5402377416545,
        2 ** (code * 17.52 - 9.72),
    )


def _straight(linear):
    return np.clip(np.asarray(linear, float), 0, 1)


def _srgb(linear):
    linear = np.clip(np.asarray(linear, float), 0, 1)
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)


def _srgb_inverse(code):
    code = np.clip(np.asarray(code, float), 0, 1)
    return np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4)


BT709 = Curve("bt709", "BT.709", bt709, _bt709_inverse, 1.0, "ITU-R BT.709-6, 1.2")
HLG = Curve(
    "hlg",
    "BT.2100 HLG",
    lambda x: _hlg_oetf(np.asarray(x, float) * HLG_WHITE),
    lambda c: _hlg_inverse(c) / HLG_WHITE,
    1 / HLG_WHITE,
    "ITU-R BT.2100-2, table 5; white at 75 % after ITU-R BT.2408",
)
ACESCCT = Curve(
    "acescct",
    "ACEScct",
    _acescct,
    _acescct_inverse,
    float(2 ** (17.52 - 9.72)),
    "Academy S-2016-001",
)
LINEAR = Curve("linear", "Linear", _straight, _straight, 1.0, "code equals light")
PLAIN = {c.key: c for c in (BT709, HLG, ACESCCT, LINEAR)}
"""Curves that a camera records by and that need no figures of the user's."""
SRGB = Curve("srgb", "sRGB", _srgb, _srgb_inverse, 1.0, "IEC 61966-2-1")
"""What displays show: of pictures that were finished elsewhere."""


def log_curve(grey, over, under):
    """A log curve told by three facts.

    Parameters
    ----------
    grey : float
        Code value of middle grey, 0.1..0.8.
    over : float
        Stops from middle grey to code 1, 1..12.
    under : float
        Stops from middle grey down to code 0, 2..16.

    Returns
    -------
    Curve
        code = k log2((x + b) / (0.18 + b)) + grey; k and b follow from both ends.

    Raises
    ------
    MothError
        When no such curve rises smoothly through the three points.

    Examples
    --------
    >>> c = log_curve(0.4, 6, 8)
    >>> c.encode([0, 0.18 * 2**-8, 0.18, 0.18 * 2**6, 100]).round(6).tolist()
    [0.0, 0.0, 0.4, 1.0, 1.0]
    """
    if not (0.1 <= grey <= 0.8 and 1 <= over <= 12 and 2 <= under <= 16):
        raise MothError(
            "A log curve takes middle grey at 10 to 80 %, 1 to 12 stops over it and 2 to 16 under.",
            "log",
        )
    top, bottom = MIDDLE_GREY * 2**over, MIDDLE_GREY * 2**-under
    wanted = (1 - grey) / grey

    def reach(b):
        return np.log2((top + b) / (MIDDLE_GREY + b)) / np.log2((MIDDLE_GREY + b) / (bottom + b))

    low, high = -bottom * (1 - 1e-12), 1e4
    if reach(high) < wanted or reach(low) > wanted:
        raise MothError(
            "No log curve has its middle grey so placed between these ends: raise the stops over,"
            " or the level of grey.",
            "log",
        )
    # Evenly in the logarithm of what is added to the darkest value: the offset runs over many
    # decades.
    a, b = np.log(bottom * 1e-12), np.log(high + bottom)
    for _ in range(200):
        middle = (a + b) / 2
        a, b = (middle, b) if reach(np.exp(middle) - bottom) < wanted else (a, middle)
    offset = float(np.exp((a + b) / 2) - bottom)
    slope = (1 - grey) / float(np.log2((top + offset) / (MIDDLE_GREY + offset)))

    def encode(linear):
        x = np.clip(np.asarray(linear, float), bottom, top)
        return np.clip(slope * np.log2((x + offset) / (MIDDLE_GREY + offset)) + grey, 0, 1)

    def decode(code):
        code = np.clip(np.asarray(code, float), 0, 1)
        return (MIDDLE_GREY + offset) * 2 ** ((code - grey) / slope) - offset

    return Curve(
        "log",
        f"Log, grey {100 * grey:.0f} %, +{over:g} −{under:g} stops",
        encode,
        decode,
        top,
        "the user's three figures",
    )


def curve_of(camera):
    """Curve that a camera records by.

    Parameters
    ----------
    camera : moth.document.Camera

    Returns
    -------
    Curve

    Examples
    --------
    >>> from moth.document import Camera
    >>> curve_of(Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1))).name
    'BT.709'
    """
    return curve_by_name(camera.curve, camera.log)


def curve_by_name(name, log=None):
    """A curve by its name.

    Parameters
    ----------
    name : str
        Of :data:`PLAIN`, "srgb", or "log".
    log : moth.document.LogCurve or None
        The three facts of a log curve.

    Returns
    -------
    Curve

    Examples
    --------
    >>> curve_by_name("srgb").encode([0.0, 1.0]).round(6).tolist()
    [0.0, 1.0]
    """
    if name == "log":
        return log_curve(log.grey, log.over, log.under)
    return SRGB if name == "srgb" else PLAIN[name]


LOWEST, HIGHEST, STEPS = -16, 8, 256
"""Octaves [log2 of the linear signal] a table spans, and its steps in each."""


def octave_table(function):
    """A function of the linear signal as a table whose steps are even in each octave: the top bits
    of a 32-bit float are its index.

    Entry k is the value at the middle of its step; entry 0 stands for all that is darker.

    Parameters
    ----------
    function : callable
        Linear signals (n,) to values (n,).

    Returns
    -------
    ndarray, shape ((HIGHEST - LOWEST) * STEPS,)

    Examples
    --------
    >>> t = octave_table(lambda x: x)
    >>> len(t), bool(abs(t[16 * 256] - 1) < 0.003)
    (6144, True)
    """
    k = np.arange((HIGHEST - LOWEST) * STEPS)
    linear = 2.0 ** (LOWEST + k // STEPS) * (1 + (k % STEPS + 0.5) / STEPS)
    linear[0] = 0.0
    return function(linear)
