"""The words a gaffer places by, and metres: both ways, exactly inverse."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Polar:
    """A place relative to a face and a lens."""

    angle: float
    """Angle off lens at the subject [deg], -180..180: 0 at the camera, negative camera left,
    positive camera right.
    """
    height: float
    """Height angle [deg] above the eyes, -90..90."""
    distance: float
    """Distance to the face [m]."""


def _axes(face, lens):
    toward = np.array([lens[0] - face[0], lens[1] - face[1]])
    length = np.hypot(*toward)
    # A lens straight above the face has no side: take south as the camera's side.
    toward = toward / length if length > 1e-9 else np.array([0.0, -1.0])
    right = np.array([-toward[1], toward[0]])
    return toward, right


def to_polar(position, face, lens):
    """Polar words of a place.

    Parameters
    ----------
    position, face, lens : array_like, shape (3,)
        Places [m]; `face` is between the eyes.

    Returns
    -------
    Polar

    Examples
    --------
    >>> to_polar((1.0, 1.0, 1.5), face=(0, 0, 1.5), lens=(0, 3, 1.5)).angle
    -45.0
    """
    offset = np.asarray(position, float) - np.asarray(face, float)
    toward, right = _axes(face, lens)
    along, side = offset[:2] @ toward, offset[:2] @ right
    flat = np.hypot(along, side)
    return Polar(
        angle=float(np.degrees(np.arctan2(side, along))),
        height=float(np.degrees(np.arctan2(offset[2], flat))),
        distance=float(np.linalg.norm(offset)),
    )


def from_polar(polar, face, lens):
    """Place [m] of polar words; the inverse of :func:`to_polar`.

    Returns
    -------
    ndarray, shape (3,)

    Examples
    --------
    >>> from_polar(Polar(-90, 0, 2), face=(0, 0, 1.5), lens=(0, 3, 1.5)).round(6).tolist()
    [2.0, 0.0, 1.5]
    """
    toward, right = _axes(face, lens)
    angle, height = np.radians(polar.angle), np.radians(polar.height)
    flat = polar.distance * np.cos(height)
    xy = flat * (np.cos(angle) * toward + np.sin(angle) * right)
    return np.asarray(face, float) + np.array([xy[0], xy[1], polar.distance * np.sin(height)])
