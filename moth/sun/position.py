"""Where the sun stands: the Solar Position Algorithm of Reda and Andreas (NREL/TP-560-34302), as
pvlib keeps it.
"""

import numpy as np

DELTA_T = 69.0
"""Terrestrial less universal time [s], 2017 to 2026; a second is 0.004° of the sun's way."""
PRESSURE, TEMPERATURE, REFRACTION = 1013.25, 12.0, 0.5667
"""Of the air [hPa, °C], and refraction at the horizon [deg], as the algorithm is usually run."""


def sun_at(latitude, longitude, seconds):
    """Height and bearing of the sun.

    Parameters
    ----------
    latitude, longitude : float
        [deg], north and east +.
    seconds : array_like, shape (n,)
        Since 1970-01-01 UTC.

    Returns
    -------
    elevation : ndarray, shape (n,)
        Of its middle over a level horizon, lifted by the air's refraction [deg].
    azimuth : ndarray, shape (n,)
        From north clockwise [deg], 0..360.

    Examples
    --------
    >>> high, bearing = sun_at(39.742476, -105.1786, [1066419030])  # the algorithm's own example
    >>> high.round(1).tolist(), bearing.round(1).tolist()
    ([39.9], [194.3])
    """
    # It is asked for by need: it brings half a second of other packages along.
    from pvlib import spa

    _, _, elevation, _, azimuth, _ = spa.solar_position(
        np.asarray(seconds, float),
        latitude,
        longitude,
        0.0,
        PRESSURE,
        TEMPERATURE,
        DELTA_T,
        REFRACTION,
        numthreads=1,
    )
    return elevation, azimuth
