"""Hats by measure: a knitted cap, a felt hat with a brim, fitted over a head of any shape."""

from typing import NamedTuple

import numpy as np

AROUND, UP = 48, 14
"""Places around a hat, and up its crown."""
CLEAR = 0.007
"""What a hat stands off skin and hair [m]."""
CUFF, FOLD = 0.045, 0.004
"""How high the turned-up edge of a knitted cap is, and how far it stands off [m]; typical."""
BRIM, DROOP, TALL = 0.058, 0.010, 0.014
"""How wide a brim is, how far its edge hangs, how far its top is over the head [m]; typical."""


class Hat(NamedTuple):
    """Triangles of a hat in the figure's frame."""

    vertices: np.ndarray
    """(n, 3) [m]"""
    faces: np.ndarray
    """(m, 3)"""
    top: float
    """Height of its highest place [m]."""
    rim: tuple
    """Height of its lower edge [m] at y = 0, and how much it rises with y."""


def hat_on(head, marks, kind):
    """A hat over a head.

    Parameters
    ----------
    head : ndarray, shape (n, 3)
        Places of skin and hair of the head, in the figure's frame [m].
    marks : dict
        Landmarks.
    kind : {"knit", "brim"}

    Returns
    -------
    Hat

    Examples
    --------
    >>> t, a = np.meshgrid(np.linspace(0, 3.1, 90), np.linspace(0, 6.28, 90))
    >>> ball = 0.1 * np.stack([np.sin(t) * np.cos(a), np.sin(t) * np.sin(a), np.cos(t)], -1)
    >>> marks = {"forehead": np.array([0, 0.09, 0.03]), "eye_left": np.array([0, 0.09, -0.02])}
    >>> hat = hat_on(ball.reshape(-1, 3), marks, "knit")
    >>> 0.10 < hat.top < 0.12
    True
    """
    brow, eye = marks["forehead"], marks["eye_left"]
    rear = head[:, 1].min()
    # Its rim goes from the forehead down to the back of the head: seen so, it is level.
    slope = (brow[2] - eye[2] + 0.012) / (brow[1] - rear)
    level = head[:, 2] - slope * (head[:, 1] - brow[1])
    low, high = brow[2], level.max()
    centre = (brow[1] + rear) / 2

    def half(at):
        """Half width, reach before and behind the middle, at a height over the rim [m]."""
        near = head[np.abs(level - at) < 0.007]
        if len(near) < 3:
            return np.zeros(3)
        ahead = near[:, 1] - centre
        return np.array([np.abs(near[:, 0]).max(), ahead.max(), -ahead.min()])

    turn = np.arange(AROUND) * 2 * np.pi / AROUND
    # Rings stand closer toward the top, where it turns in.
    part = np.sin(np.linspace(0, 1, UP) * np.pi / 2)
    heights = low + (high + (TALL if kind == "brim" else CLEAR) - low) * part
    bare = np.array([half(h) for h in heights])
    widest = bare[part < 0.7].max(0)
    # Wool lies on the head; felt keeps a shape of its own, nearly upright and flat on top.
    full = (1 - part**2.4) ** 0.5 if kind == "knit" else (1 - 0.2 * part) * (1 - 0.3 * part**8)
    reaches = np.maximum(widest * full[:, None], 0.6 * bare) + CLEAR
    if kind == "knit":
        reaches[-1] = 0.25 * widest
        reaches[(heights - low) < CUFF] += FOLD

    def ring(reach, height):
        y = np.where(np.cos(turn) > 0, reach[1], reach[2]) * np.cos(turn)
        x, z = reach[0] * np.sin(turn), np.full(AROUND, height)
        return np.stack([x, centre + y, z + slope * (centre + y - brow[1])], 1)

    rings = [ring(r, h) for r, h in zip(reaches, heights, strict=True)]
    if kind == "brim":
        out = [
            ring(reaches[0] + BRIM * t, heights[0] - DROOP * t * t) for t in (1.0, 0.75, 0.5, 0.25)
        ]
        rings = out + rings
    vertices = np.concatenate([*rings, rings[-1].mean(0, keepdims=True) + [0, 0, 0.002]])
    k, following = np.arange(AROUND), (np.arange(AROUND) + 1) % AROUND
    faces = []
    for at in range(len(rings) - 1):
        a, b = at * AROUND, (at + 1) * AROUND
        faces += [
            np.stack([a + k, a + following, b + k], 1),
            np.stack([a + following, b + following, b + k], 1),
        ]
    last = (len(rings) - 1) * AROUND
    faces.append(np.stack([last + k, last + following, np.full(AROUND, len(vertices) - 1)], 1))
    top = float(vertices[:, 2].max())
    return Hat(vertices, np.concatenate(faces)[:, ::-1], top, (low - slope * brow[1], slope))
