"""Which way something looks."""

import numpy as np


def axes(position, aim, roll=0.0):
    """Right, up and forward unit vectors of something that looks from a place to another.

    Parameters
    ----------
    position, aim : array_like, shape (3,)
        [m]
    roll : float
        Turn about forward [deg]; 0 keeps the right hand level.

    Returns
    -------
    tuple of ndarray, each shape (3,)

    Examples
    --------
    >>> [(v + 0.0).tolist() for v in axes((0, 0, 0), (0, 1, 0))]
    [[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, 1.0, 0.0]]
    """
    forward = np.asarray(aim, float) - np.asarray(position, float)
    forward /= np.linalg.norm(forward)
    # Aimed straight up or down, the right hand stays east.
    right = (
        np.array([forward[1], -forward[0], 0.0])
        if np.hypot(*forward[:2]) > 1e-6
        else np.array([1.0, 0.0, 0.0])
    )
    # Aimed all but straight up, east is not quite square to it.
    right -= (right @ forward) * forward
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    c, s = np.cos(np.radians(roll)), np.sin(np.radians(roll))
    return c * right + s * up, c * up - s * right, forward
