"""Incident exposure: what stop a light asks for, and what level a frame shows."""

import numpy as np

DISC = 250.0
"""Calibration constant of a cosine receiver [lx s]; ISO 2720:1974 allows 240 to 400."""
DOME = 320.0
"""Calibration constant of a hemispherical receiver [lx s]; ISO 2720:1974 allows 320 to 540."""
MIDDLE_GREY = 0.18
"""Reflectance of the grey card, and the linear signal a card metered with the disc is given."""


def incident_stop(illuminance, iso, exposure_time, constant=DISC):
    """f-number that renders middle grey for an incident reading.

    Parameters
    ----------
    illuminance : float or ndarray, any shape
        Illuminance on the receiver [lx], > 0.
    iso : float
        Exposure index.
    exposure_time : float
        Shutter time [s].
    constant : float
        Receiver calibration C [lx s]; see :data:`DISC`, :data:`DOME`.

    Returns
    -------
    float or ndarray, shape of `illuminance`
        f-number N = sqrt(E t S / C).

    References
    ----------
    ISO 2720:1974, incident-light meters.

    Examples
    --------
    >>> round(incident_stop(1000, iso=400, exposure_time=1 / 50), 2)
    5.66
    """
    stop = np.sqrt(np.asarray(illuminance, float) * exposure_time * iso / constant)
    return stop.item() if stop.ndim == 0 else stop


def incident_illuminance(stop, iso, exposure_time, constant=DISC):
    """Illuminance [lx] that asks for an f-number; the inverse of :func:`incident_stop`.

    Examples
    --------
    >>> round(incident_illuminance(2.8, iso=800, exposure_time=1 / 50), 1)
    122.5
    """
    return constant * stop**2 / (exposure_time * iso)


def shutter_time(shutter, fps):
    """Time a frame is exposed [s], from a :class:`moth.document.Shutter` and frames a second.

    Examples
    --------
    >>> from moth.document import Shutter
    >>> shutter_time(Shutter(angle=180), 25)
    0.02
    """
    return shutter.time if shutter.time is not None else shutter.angle / 360 / fps


def frame_exposure(camera):
    """Linear signal for one cd/m^2 in the scene.

    A grey card (18 %) whose illuminance, read with the disc, asks for the camera's stop
    gets the signal 0.18: L = 0.18 E / pi, so the gain is pi / E(stop).

    Parameters
    ----------
    camera : moth.document.Camera

    Returns
    -------
    float
        [m^2/cd]

    Examples
    --------
    >>> from moth.document import Camera
    >>> c = Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1), t_stop=2.8, iso=800, fps=25)
    >>> round(frame_exposure(c) * 0.18 * 122.5 / np.pi, 6)
    0.18
    """
    time = shutter_time(camera.shutter, camera.fps)
    return float(
        np.pi
        / (
            incident_illuminance(camera.t_stop, camera.iso, time)
            * 2 ** (camera.nd + camera.filter_loss)
        )
    )


DARKEST = 2.0**-16
"""Linear signals below this are black."""


def stops_over_grey(signal):
    """Stops of a linear signal about middle grey; black counts as 2^-16.

    Examples
    --------
    >>> stops_over_grey(0.36), stops_over_grey(0.0) < -13
    (1.0, True)
    """
    return float(np.log2(max(float(signal), DARKEST) / MIDDLE_GREY))


def signal_at(stops):
    """Linear signal so many stops about middle grey; the inverse of :func:`stops_over_grey`.

    Examples
    --------
    >>> signal_at(1.0)
    0.36
    """
    return MIDDLE_GREY * 2.0**stops


def key_level(camera):
    """Level [lx] on a dome that asks for a camera's settings, ND and filters included.

    Examples
    --------
    >>> from moth.document import Camera
    >>> round(key_level(Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1), t_stop=2.8,
    ...     iso=800, fps=25)), 1)
    156.8
    """
    return incident_illuminance(
        camera.t_stop, camera.iso, shutter_time(camera.shutter, camera.fps), DOME
    ) * 2 ** (camera.nd + camera.filter_loss)
