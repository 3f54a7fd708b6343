"""The mixed frame: layers times gains, through the curve."""

import numpy as np

from ..colour import unit_gain
from .exposure import frame_exposure
from .signal import bt709


def colour_gains(setup, camera):
    """What the camera's white balance makes of each unit's white.

    Returns
    -------
    dict
        Unit id -> [r, g, b], before dimmer and exposure.

    Examples
    --------
    >>> from moth.document import load
    >>> s = load({"schema_version": 1, "figures": [{"id": "a", "name": "a", "position": [2, 2]}],
    ...           "cameras": [{"id": "c", "name": "c", "position": [2, 5, 1.5], "aim": [2, 2, 1.5]}],
    ...           "units": [{"id": "k", "name": "k", "head": "point-60", "position": [1, 3, 2], "aim": [2, 2, 1.5]}]})
    >>> [round(g, 6) for g in colour_gains(s, s.cameras[0])["k"]]
    [1.0, 1.0, 1.0]
    """
    return {u.id: unit_gain(u.cct, u.green, camera.white_balance, camera.tint).tolist() for u in setup.units}


def mix(setup, camera, layers):
    """The frame as the display shows it.

    Parameters
    ----------
    setup : moth.document.Setup
    camera : moth.document.Camera
    layers : dict
        Unit id -> :class:`moth.transport.Layer`, all of one size.

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
    """
    exposure, colours = frame_exposure(camera), colour_gains(setup, camera)
    shape = next(iter(layers.values())).surfaces.shape if layers else (9, 16, 3)
    surfaces, glow = np.zeros(shape), np.zeros((shape[0] * shape[1], 3))
    open_part = np.ones(shape[0] * shape[1])
    for unit in setup.units:
        layer = layers[unit.id]
        gain = np.array(colours[unit.id]) * (unit.dimmer * unit.on * exposure)
        surfaces += layer.surfaces * gain
        glow[layer.seen] += layer.glow[:, None] * gain
        open_part[layer.seen] *= 1 - layer.cover
    image = surfaces * open_part.reshape(shape[0], shape[1], 1) + glow.reshape(shape)
    return np.round(255 * bt709(image)).astype(np.uint8)
