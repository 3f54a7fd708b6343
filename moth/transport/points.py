"""Light that comes straight from lamps to meters held somewhere in the world."""

import numpy as np

from .arrival import arrive
from .kernels import receive_nodes
from .nodes import fine_nodes, meter_nodes
from .operands import POINT, Rays


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
    out = np.empty(len(positions))
    for i, (position, direction, dome) in enumerate(zip(positions, directions, domes, strict=True)):
        meter = np.asarray(position, float), np.asarray(direction, float), bool(dome)
        values, cut = _arriving(world, emitter, meter, nodes)
        if cut:
            # Something stands before a part of the face, or the meter's own plate does: few nodes
            # would tell that part badly.
            values, _ = _arriving(world, emitter, meter, fine_nodes())
        out[i] = values.sum()
    return out


def _arriving(world, emitter, meter, nodes):
    """Light of each node that arrives [lx], and whether a part of the face is cut off."""
    q = len(nodes)
    rays = Rays(np.empty((q, 3), np.float32), np.empty((q, 3)), *np.empty((2, q)))
    receive_nodes(*meter, emitter.face, nodes, rays)
    lit = np.flatnonzero(rays.weights > 0)
    part = arrive(world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit])
    rays.weights[lit] *= part
    cut = emitter.kind != POINT and len(lit) > 0
    if cut and len(lit) == q:
        # Haze takes a little more from the far end of a face: that is no edge.
        cut = float(part.max() - part.min()) > 0.03
    return rays.weights, cut
