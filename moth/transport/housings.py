"""What units are drawn as: the box of the head, and the rods that hold it; they throw no shadow
(decision 4).
"""

import numpy as np

from ..place import ARM, COUNTERWEIGHT, DROP, POLE, arm_of, stand_rods
from .operands import BALL


def housing(emitter):
    """Half sizes (right, up) and depth behind the lit face [m] of the box a unit is drawn as."""
    a, b = max(emitter.face.half_width, 0.02), max(emitter.face.half_height, 0.02)
    return a, b, float(np.clip(0.9 * min(a, b) + 0.05, 0.06, 0.35))


SKY_HOOK = 60.0
"""Height to which a hung lamp's drop is drawn [m]: every ceiling is lower."""


def rods_of(unit, emitter):
    """What holds a unit, as rods.

    Parameters
    ----------
    unit : moth.document.Unit
    emitter : Emitter

    Returns
    -------
    tuple
        Of (one end, other end, radius), ends (x, y, z) [m].

    Examples
    --------
    >>> from moth.document import Unit
    >>> from moth.transport import build_emitter
    >>> key = Unit(id="k", name="Key", head="panel-small", position=(0, 0, 2), aim=(0, 1, 2))
    >>> [len(rods_of(key.model_copy(update={"held": h}), build_emitter(key)))
    ...     for h in ("stand", "boom", "hung", "built-in")]
    [4, 4, 1, 0]
    >>> on_another = key.model_copy(update={"held": "arm", "foot": (1, 0), "bearer": "fill"})
    >>> len(rods_of(on_another, build_emitter(key)))
    2
    """
    deep = 0.0 if emitter.kind == BALL else housing(emitter)[2]
    x, y, z = emitter.centre - deep / 2 * emitter.vectors[2]
    if unit.held == "hung":
        return (((x, y, z), (x, y, SKY_HOOK), DROP),)
    if unit.held == "built-in":
        return ()
    on = arm_of(unit)
    if on:
        # As high as its arm: the stand's own pole may be shorter.
        return (((*on.foot, 0.0), (*on.foot, z), POLE), ((x, y, z), (*on.foot, z), ARM))
    if unit.held == "stand" or unit.foot is None:
        return stand_rods(x, y, z)
    foot = np.array([*unit.foot, z])
    out = foot - (x, y, z)
    far = foot + COUNTERWEIGHT * out / max(np.linalg.norm(out), 1e-6)
    return (*stand_rods(*foot), ((x, y, z), tuple(far), ARM))


def body_distance(origin, rays, emitter):
    """Where rays meet a unit's housing or what holds it.

    Parameters
    ----------
    origin : ndarray, shape (3,)
        [m]
    rays : ndarray, shape (n, 3)
        Directions.
    emitter : Emitter

    Returns
    -------
    ndarray, shape (n,)
        In lengths of the directions; infinite for a miss.
    """
    a, b, deep = housing(emitter)
    turn, offset = emitter.vectors, origin - emitter.centre
    if emitter.kind == BALL:
        reach = np.full(len(rays), np.inf)
    else:
        o, d = turn @ offset, rays @ turn.T
        with np.errstate(divide="ignore", invalid="ignore"):
            t0, t1 = (np.array([-a, -b, -deep]) - o) / d, (np.array([a, b, -1e-4]) - o) / d
        near, far = np.minimum(t0, t1).max(1), np.maximum(t0, t1).min(1)
        reach = np.where((near < far) & (near > 0), near, np.inf)
    for rod in emitter.rods:
        reach = np.minimum(reach, _along_rod(origin, rays, *rod))
    return reach


def _along_rod(origin, rays, one, other, radius):
    """Where rays meet the side of a rod, in lengths of theirs."""
    axis = np.subtract(other, one)
    length = max(float(np.linalg.norm(axis)), 1e-9)
    axis = axis / length
    off, along = origin - np.asarray(one), rays @ axis
    before = off @ axis
    flat, o = rays - along[:, None] * axis, off - before * axis
    aa = np.maximum((flat**2).sum(1), 1e-12)
    half = flat @ o
    disc = half**2 - aa * (o @ o - radius**2)
    t = (-half - np.sqrt(np.maximum(disc, 0))) / aa
    at = before + t * along
    return np.where((disc > 0) & (t > 0) & (at > 0) & (at < length), t, np.inf)
