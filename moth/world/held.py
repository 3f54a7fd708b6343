"""What holds things, and heads of lamps, as triangles."""

import numpy as np

from ..place import axes, ceiling_over, clear_of_walls, housing_of

STEEL = 0.12
"""Reflectance of stands, arms and heads; typical of black tube and paint."""
INSET = 0.002
"""How much smaller than it is drawn a head is that throws a shadow [m]: what is drawn of it in the
frame lies on top, and its lit face is free.
"""
_SIDES = 6


def tubes(rods):
    """Rods as one mesh.

    Parameters
    ----------
    rods : sequence of (one end, other end, radius)
        [m]

    Returns
    -------
    vertices : ndarray, shape (n, 3)
    faces : ndarray, shape (m, 3)
        That look outward.
    cells : ndarray, shape (m,)
        Which rod each is of.
    """
    made = [_tube(*rod) for rod in rods]
    counts = np.cumsum([0, *(len(v) for v, _ in made)])
    v = np.concatenate([v for v, _ in made])
    f = np.concatenate([f + n for (_, f), n in zip(made, counts[:-1], strict=True)])
    return v, f, np.repeat(np.arange(len(rods)), [len(f) for _, f in made])


def unit_mesh(unit, room):
    """A unit's head and what holds it, as one mesh; see :func:`tubes`.

    Returns
    -------
    tuple or None
        None for a lamp of the place, whose piece stands there itself, for one outside, and where
        nothing is drawn.
    """
    inside = room.outdoors or clear_of_walls(room, [unit.position], 0.0)[0]
    if unit.piece or not inside:
        return None
    held = housing_of(unit)
    rods = []
    for one, other, radius in held.rods:
        # A hung lamp's drop ends at the ceiling.
        top = np.inf if room.outdoors else float(ceiling_over(room, [other])[0])
        rods.append((one, (*other[:2], min(other[2], top)), radius))
    parts = [tubes(rods)] if rods else []
    if held.box:
        parts.append(_box(held))
    if not parts:
        return None
    counts = np.cumsum([0, *(len(v) for v, _, _ in parts)])
    cells = np.cumsum([0, *(c.max() + 1 for _, _, c in parts)])
    return (
        np.concatenate([v for v, _, _ in parts]),
        np.concatenate([f + n for (_, f, _), n in zip(parts, counts, strict=False)]),
        np.concatenate([c + n for (_, _, c), n in zip(parts, cells, strict=False)]),
    )


def _box(held):
    a, b, deep = held.box
    corners = np.array(
        [
            (x * (a - INSET), y * (b - INSET), z)
            for z in (-deep + INSET, -INSET)
            for y in (-1, 1)
            for x in (-1, 1)
        ]
    )
    # Sides of four corners each that look outward: right, up and forward are right-handed here.
    sides = np.array(
        [(0, 2, 3, 1), (4, 5, 7, 6), (0, 1, 5, 4), (2, 6, 7, 3), (0, 4, 6, 2), (1, 3, 7, 5)]
    )
    faces = np.concatenate([sides[:, [0, 1, 2]], sides[:, [0, 2, 3]]])
    at = held.centre + corners @ held.vectors
    # Whichever hand the vectors have, the triangles look outward.
    middle = at.mean(0)
    flat = np.cross(at[faces[:, 1]] - at[faces[:, 0]], at[faces[:, 2]] - at[faces[:, 0]])
    inward = (flat * (at[faces].mean(1) - middle)).sum(1) < 0
    faces[inward] = faces[inward][:, ::-1]
    return at, faces, np.tile(np.arange(6), 2)


def _tube(one, other, radius):
    """The side of a rod: vertices and triangles that look outward."""
    one, other = np.asarray(one, float), np.asarray(other, float)
    x, y, _ = axes(one, other)
    turn = np.linspace(0, 2 * np.pi, _SIDES, endpoint=False)
    ring = radius * (np.cos(turn)[:, None] * x + np.sin(turn)[:, None] * y)
    k = np.arange(_SIDES)
    after = (k + 1) % _SIDES
    quads = np.stack([k, after, after + _SIDES, k + _SIDES], 1)
    faces = np.concatenate([quads[:, [0, 2, 1]], quads[:, [0, 3, 2]]])
    return np.concatenate([one + ring, other + ring]), faces
