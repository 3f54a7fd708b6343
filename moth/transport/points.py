"""Light that comes straight from lamps to meters held somewhere in the world."""

import numpy as np

from .arrival import arrive
from .kernels import receive_nodes
from .nodes import meter_nodes
from .operands import Rays


def receive(world, emitter, positions, directions, domes):
    """Illuminance that one emitter at full brings to meters, from surfaces nothing.

    Parameters
    ----------
    world : moth.world.World or None
        What can stand in the way; None for empty space.
    emitter : Emitter
    positions, directions : ndarray, shape (n, 3)
        Where each meter is held [m] and where it points (unit vectors).
    domes : sequence of bool, length n
        True for a dome, response (1 + cos) / 2 before its base plate and none behind it;
        False for a disc, response cos.

    Returns
    -------
    ndarray, shape (n,)
        [lx]

    Examples
    --------
    >>> from moth.photometry import from_angles
    >>> from moth.transport.emitters import POINT, emitter_from
    >>> lamp = emitter_from(from_angles(1000, 40, 70), POINT, (0, 0), (0, 0, 2), (0, 0, 0))
    >>> receive(None, lamp, np.zeros((1, 3)), np.array([[0, 0, 1.0]]), [False]).round(6).tolist()
    [250.0]
    """
    nodes = meter_nodes(emitter)
    n, q = len(positions), len(nodes)
    rays = Rays(np.empty((n * q, 3), np.float32), np.empty((n * q, 3)), *np.empty((2, n * q)))
    for i in range(n):
        receive_nodes(
            np.asarray(positions[i], float),
            np.asarray(directions[i], float),
            bool(domes[i]),
            emitter.face,
            nodes,
            Rays(*(part[i * q : (i + 1) * q] for part in rays)),
        )
    lit = np.flatnonzero(rays.weights > 0)
    rays.weights[lit] *= arrive(
        world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit]
    )
    return rays.weights.reshape(n, q).sum(1)
