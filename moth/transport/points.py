"""Light that comes straight from lamps to meters held somewhere in the world."""

import numpy as np

from .arrival import arrive
from .kernels import receive_nodes
from .nodes import FINE, PROBES, even_nodes, meter_nodes
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
    out = np.empty(len(positions))
    for i, (position, direction, dome) in enumerate(zip(positions, directions, domes, strict=True)):
        meter = np.asarray(position, float), np.asarray(direction, float), bool(dome)
        out[i] = _arriving(world, emitter, meter)
    return out


def _arriving(world, emitter, meter):
    """Light that arrives [lx]."""
    if emitter.kind == POINT:
        weights, part = _through(world, emitter, meter, meter_nodes(emitter))
        return float((weights * part).sum())
    weights, part = _through(world, emitter, meter, even_nodes(PROBES))
    lit = weights > 0
    if not lit.any():
        return 0.0
    # Haze takes a little more from the far end of a face: that is no edge.
    if lit.all() and np.ptp(part) <= 0.03:
        rays = _rays(emitter, meter, meter_nodes(emitter))
        return float(rays.weights.sum() * part.mean())
    # Something stands before a part of the face, or the meter's own plate does: few places would
    # tell that part badly.
    weights, part = _through(world, emitter, meter, even_nodes(FINE))
    return float((weights * part).sum())


def _through(world, emitter, meter, nodes):
    """What each node would bring [lx], and the part of it that arrives."""
    rays = _rays(emitter, meter, nodes)
    lit = np.flatnonzero(rays.weights > 0)
    part = np.zeros(len(nodes))
    part[lit] = arrive(world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit])
    return rays.weights, part


def _rays(emitter, meter, nodes):
    q = len(nodes)
    rays = Rays(np.empty((q, 3), np.float32), np.empty((q, 3)), *np.empty((2, q)))
    receive_nodes(*meter, emitter.face, nodes, rays)
    return rays
