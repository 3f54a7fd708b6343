"""From linear signal to the picture on the display."""

import numpy as np

CURVE_STEPS = 4096
"""Entries of the table the browser looks signals up in, for 0..1."""


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
    return np.where(linear < 0.018, 4.5 * linear, 1.099 * np.power(linear, 0.45, where=linear > 0, out=np.zeros_like(linear)) - 0.099)


def curve_table():
    """Display codes 0..255 for signals at even steps from 0 to 1.

    Returns
    -------
    ndarray of uint8, shape (CURVE_STEPS,)

    Examples
    --------
    >>> curve_table()[[0, -1]].tolist()
    [0, 255]
    """
    return np.round(255 * bt709(np.linspace(0, 1, CURVE_STEPS))).astype(np.uint8)
