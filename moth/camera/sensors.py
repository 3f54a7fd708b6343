"""Sensors: their size, and the noise they add."""

from dataclasses import dataclass

import numpy as np

from ..transport import SENSOR_WIDTH
from .exposure import MIDDLE_GREY


@dataclass(frozen=True)
class Sensor:
    """A sensor as a class of cameras has it; figures are typical."""

    key: str
    name: str
    width: float
    """Of the 16:9 picture [mm]."""
    electrons: float
    """That middle grey frees in one photosite at the native index, recording 3840 across."""
    read_noise: float
    """[electrons], standard deviation."""


SENSORS = {
    key: Sensor(key, name, 1000 * SENSOR_WIDTH[key], electrons, read_noise)
    for key, name, electrons, read_noise in (
        ("full-frame", "Full frame", 4200, 5.0),
        ("super-35", "Super 35", 2600, 4.5),
        ("four-thirds", "Four thirds", 1400, 3.5),
        ("one-inch", "One inch", 850, 3.0),
    )
}
"""Photosites are taken as wide as the width asks; about 60 000 electrons a full frame's photosite
at the clip, the rest by area: typical.
"""


def sensor_of(camera):
    """Sensor of a camera; one of a custom width is a full frame scaled by area.

    Examples
    --------
    >>> from moth.document import Camera
    >>> at = dict(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1))
    >>> sensor_of(Camera(**at)).width, sensor_of(Camera(**at, sensor="custom",
    ...     sensor_width=20.0)).width
    (24.9, 20.0)
    """
    if camera.sensor != "custom":
        return SENSORS[camera.sensor]
    full = SENSORS["full-frame"]
    return Sensor(
        "custom",
        f"Custom, {camera.sensor_width:g} mm",
        camera.sensor_width,
        full.electrons * (camera.sensor_width / full.width) ** 2,
        4.0,
    )


def noise(camera, linear):
    """Standard deviation of the linear signal in one photosite: photons and reading.

    Photons are counted, so their deviation is the root of their number; an index over
    the native one means fewer of them for the same signal.

    Parameters
    ----------
    camera : moth.document.Camera
    linear : array_like
        Linear signal, 0.18 for middle grey.

    Returns
    -------
    ndarray, shape of `linear`

    References
    ----------
    EMVA 1288, 2.2: sigma^2 = sigma_read^2 + number of electrons.

    Examples
    --------
    >>> from moth.document import Camera
    >>> at = dict(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1))
    >>> dark, bright = noise(Camera(**at, iso=800), [0.0, 0.18])
    >>> bool(dark < bright), bool(noise(Camera(**at, iso=3200), 0.18) > 1.9 * bright)
    (True, True)
    """
    sensor = sensor_of(camera)
    electrons = sensor.electrons * camera.native_iso / camera.iso / MIDDLE_GREY
    number = np.maximum(np.asarray(linear, float), 0) * electrons
    return np.sqrt(sensor.read_noise**2 + number) / electrons


def stops_under(camera):
    """Stops from middle grey down to where noise is as strong as signal.

    Returns
    -------
    float

    Examples
    --------
    >>> from moth.document import Camera
    >>> at = dict(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1))
    >>> round(stops_under(Camera(**at)), 1)
    9.0
    """
    sensor = sensor_of(camera)
    electrons = sensor.electrons * camera.native_iso / camera.iso
    # n = sqrt(r^2 + n): the smaller number of electrons at which signal is noise.
    number = (1 + np.sqrt(1 + 4 * sensor.read_noise**2)) / 2
    return float(np.log2(electrons / number))
