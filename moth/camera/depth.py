"""Depth of field: what is sharp, and how far the rest is blurred."""

from dataclasses import dataclass

import numpy as np

from .sensors import sensor_of

SHARP = 1 / 1500
"""Circle of confusion as a part of the picture's diagonal, which still looks sharp; the usual
convention.
"""


@dataclass(frozen=True)
class Depth:
    """What a lens set to a distance holds sharp [m]; `far` is infinite from the hyperfocal distance
    on.
    """

    focus: float
    near: float
    far: float
    hyperfocal: float


def depth_of_field(camera, focus):
    """Near and far end of what is sharp.

    Parameters
    ----------
    camera : moth.document.Camera
        Its T-stop stands for the f-number.
    focus : float
        Distance from the lens [m], over the focal length.

    Returns
    -------
    Depth

    References
    ----------
    H = f^2 / (N c) + f; near = s (H - f) / (H + s - 2 f); far = s (H - f) / (H - s). Ray, Applied
    Photographic Optics (2002), 22.

    Examples
    --------
    >>> from moth.document import Camera
    >>> c = Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1), sensor="full-frame",
    ...     focal_length=50, t_stop=2.8)
    >>> d = depth_of_field(c, 3.0)
    >>> round(d.near, 2), round(d.far, 2), round(d.hyperfocal, 1)
    (2.75, 3.3, 32.5)
    """
    f = camera.focal_length / 1000
    width = sensor_of(camera).width / 1000
    circle = width * np.hypot(1, 9 / 16) * SHARP
    hyperfocal = f * f / (camera.t_stop * circle) + f
    near = focus * (hyperfocal - f) / (hyperfocal + focus - 2 * f)
    far = focus * (hyperfocal - f) / (hyperfocal - focus) if focus < hyperfocal else np.inf
    return Depth(focus, float(near), float(far), float(hyperfocal))


def blur(camera, focus, distance):
    """Width of the spot a point at a distance makes, as a part of the picture's width.

    Parameters
    ----------
    camera : moth.document.Camera
    focus, distance : float or ndarray
        From the lens [m].

    Returns
    -------
    float or ndarray
        Aperture f / N seen through the lens: f^2 |d - s| / (N d (s - f)) over the width.

    Examples
    --------
    >>> from moth.document import Camera
    >>> c = Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1), sensor="full-frame",
    ...     focal_length=50, t_stop=2.8)
    >>> blur(c, 3.0, 3.0), round(float(blur(c, 3.0, 6.0)), 5)
    (0.0, 0.0042)
    """
    f = camera.focal_length / 1000
    distance = np.maximum(np.asarray(distance, float), 1e-6)
    spot = (
        f
        * f
        * np.abs(distance - focus)
        / (camera.t_stop * distance * (focus - f))
        / (sensor_of(camera).width / 1000)
    )
    return spot.item() if spot.ndim == 0 else spot
