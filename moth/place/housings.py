"""What a lamp is besides its light: the box of its head, and the rods that hold it."""

from typing import NamedTuple

import numpy as np

from ..photometry import lamp_of
from .axes import axes
from .standing import ARM, COUNTERWEIGHT, DROP, POLE, arm_of, stand_rods

SKY_HOOK = 60.0
"""Height to which a hung lamp's drop is drawn [m]: every ceiling is lower."""


class Housing(NamedTuple):
    """A lamp's head and what holds it."""

    centre: np.ndarray
    """Of the lit face [m]."""
    vectors: np.ndarray
    """(3, 3): right, up and forward."""
    box: tuple[float, float, float] | None
    """Half width, half height and depth behind the lit face [m]; None for what has none: a ball, a
    tube, which lights past its own back.
    """
    rods: tuple
    """Of (one end, other end, radius), ends (x, y, z) [m]."""


def box_behind(half_width, half_height):
    """Half sizes and depth behind a lit face [m] of the box that a head is drawn as.

    Examples
    --------
    >>> box_behind(0.3, 0.15)[:2], round(box_behind(0.3, 0.15)[2], 3)
    ((0.3, 0.15), 0.185)
    """
    a, b = max(half_width, 0.02), max(half_height, 0.02)
    return a, b, float(np.clip(0.9 * min(a, b) + 0.05, 0.06, 0.35))


def unit_rods(unit, middle):
    """What holds a unit, as rods.

    Parameters
    ----------
    unit : moth.document.Unit
    middle : sequence of float
        Of its head [m].

    Returns
    -------
    tuple
        Of (one end, other end, radius), ends (x, y, z) [m].

    Examples
    --------
    >>> from moth.document import Unit
    >>> key = Unit(id="k", name="Key", head="panel-small", position=(0, 0, 2), aim=(0, 1, 2))
    >>> [len(unit_rods(key.model_copy(update={"held": h}), (0, 0, 2)))
    ...     for h in ("stand", "boom", "hung", "built-in")]
    [4, 4, 1, 0]
    >>> on_another = key.model_copy(update={"held": "arm", "foot": (1, 0), "bearer": "fill"})
    >>> len(unit_rods(on_another, (0, 0, 2)))
    2
    """
    x, y, z = middle
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


def housing_of(unit):
    """A unit's head and what holds it.

    Parameters
    ----------
    unit : moth.document.Unit

    Returns
    -------
    Housing

    Raises
    ------
    DocumentError, PhotometryError
        As :func:`moth.photometry.lamp_of`.

    Examples
    --------
    >>> from moth.document import Unit
    >>> key = Unit(id="k", name="Key", head="panel-small", position=(0, 0, 2), aim=(0, 1, 2))
    >>> made = housing_of(key)
    >>> made.box, len(made.rods)
    ((0.15, 0.15, 0.185), 4)
    """
    lamp = lamp_of(unit)
    centre = np.asarray(unit.position, float)
    vectors = np.array(axes(unit.position, unit.aim, unit.roll))
    box = None if lamp.shape == "bulb" else box_behind(*(v / 2 for v in lamp.size))
    # A ball stands on its pole, or hangs from its drop, which do not go through it.
    rim = lamp.size[0] / 2 * (1 if unit.held == "hung" else -1)
    middle = centre - box[2] / 2 * vectors[2] if box else centre + [0, 0, rim]
    rods = unit_rods(unit, middle)
    return Housing(centre, vectors, None if lamp.shape == "tube" else box, rods)
