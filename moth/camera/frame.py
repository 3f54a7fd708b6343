"""The mixed frame: layers times gains, through the curve."""

import numpy as np

from .curves import bt709
from .exposure import frame_exposure
from .gains import source_colours, source_levels


def colour_gains(setup, camera):
    """What the camera's white balance makes of each source's light, before dimmer and exposure.

    Returns
    -------
    dict
        Source id -> [r, g, b]; see :func:`source_colours`.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     units=[
    ...         {
    ...             "id": "k",
    ...             "name": "k",
    ...             "head": "point-600",
    ...             "position": [1, 3, 2],
    ...             "aim": [2, 2, 1.5],
    ...         }
    ...     ]
    ... )
    >>> [round(g, 6) for g in colour_gains(s, s.cameras[0])["k"]]
    [1.0, 1.0, 1.0]
    """
    return {
        name: rgb.tolist()
        for name, rgb in source_colours(setup, camera.white_balance, camera.tint).items()
    }


def mixed(setup, camera, layers):
    """The frame as the sensor takes it, in linear signal.

    Parameters
    ----------
    setup : moth.document.Setup
    camera : moth.document.Camera
    layers : dict
        Source id -> :class:`moth.transport.Layer`, all of one size; sources that are left out are
        dark.

    Returns
    -------
    ndarray, shape (height, width, 3)
        Middle grey is 0.18; see docs/light-model.md.
    """
    exposure, colours = frame_exposure(camera), colour_gains(setup, camera)
    shape = next(iter(layers.values())).surfaces.shape if layers else (9, 16, 3)
    surfaces, glow = np.zeros(shape), np.zeros((shape[0] * shape[1], 3))
    open_part = np.ones(shape[0] * shape[1])
    levels = source_levels(setup)
    for name, layer in layers.items():
        gain = np.array(colours[name]) * (levels[name] * exposure)
        surfaces += layer.surfaces * gain
        glow[layer.seen] += layer.glow[:, None] * gain
        open_part[layer.seen] *= 1 - layer.cover
    return surfaces * open_part.reshape(shape[0], shape[1], 1) + glow.reshape(shape)


def mix(setup, camera, layers):
    """The frame as the display shows it; takes what :func:`mixed` takes.

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
    """
    return np.round(255 * bt709(mixed(setup, camera, layers))).astype(np.uint8)
