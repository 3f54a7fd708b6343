"""What cloth and boards in a frame show of the room in lobes: the wall behind a frost, blurred, or
the room in a soft silver.
"""

import numpy as np
from scipy.sparse import csr_matrix

from ..engine.caching import Keyed, cached, content_hash
from ..engine.sampling import R2_U, R2_V
from ..materials import lobe_concentration
from .cast import lobe_ways
from .exchange import samples
from .kernels import OFF_SURFACE
from .lobes import on_lobed
from .walks import MIRRORED, walk

LOOKS = 192
"""Ways that are looked for each cell: what they meet is even over much of a lobe."""
GRAZING = 0.05
"""Least cosine of a way out of cloth: beyond it a sheet is seen by its edge."""


def lobes_of_the_room(world, eye, shown, light):
    """What patches that a picture shows send to its lens in lobes, of light from all surfaces but
    what their own lobes bring.

    Parameters
    ----------
    world : moth.world.World
    eye : ndarray, shape (3,)
        Of the lens [m].
    shown : ndarray of int, shape (n,)
        Patches that are seen; one may be there many times.
    light : Light
        Of one source at full.

    Returns
    -------
    ndarray, shape (p, 3)
        As radiosity [lm/m^2], linear BT.709 parts; 0 for patches without lobes or out of sight.

    Notes
    -----
    Light that falls along i on cloth and leaves in a lobe of density d about i shows as
    share * integral of L(i) d(i, o) cos i / cos o toward o: rays are drawn by d from what is seen
    straight on (or mirrored), and followed as those of gathering points are.
    """
    p, shown = world.patches, np.unique(shown)
    shown = shown[on_lobed(world)[shown]]
    if not len(shown):
        return np.zeros((len(p), 3))
    # All of a face: its cells are blended where they meet, out of sight as well.
    faces = np.unique(np.column_stack([p.sheet[shown], p.side[shown]]), axis=0).tolist()
    key = content_hash("lobes of the room", world.key, eye.tolist(), faces)
    hue = np.array([*(s.material.hue for s in world.sheets), np.zeros(3)])[p.sheet]
    # A ray that sets out was turned by the sheet's own lobe.
    lobed, mirrored = _room(Keyed(key, (world, eye, faces)))
    return hue * (lobed @ light.lobed + mirrored @ light.radiosity)


@cached("what cloths in a frame show")
def _room(keyed):
    world, eye, faces = keyed.value
    p = world.patches
    out = [csr_matrix((len(p), len(p)))] * 2
    for k, side in faces:
        mine, m = np.flatnonzero((p.sheet == k) & (p.side == side)), world.sheets[k].material
        for share, width, back in (
            (m.forward, m.forward_width, False),
            (m.lobe, m.lobe_width, True),
        ):
            if share >= 0.005:
                found = _lobe(world, eye, mine, width, back)
                out = [a + share * b for a, b in zip(out, found, strict=True)]
    return tuple(a.tocsr() for a in out)


def _lobe(world, eye, patches, width, back):
    """Two (p, p) means over lobes of what the eye meets by way of patches of one sheet, turned last
    by lobes and by mirrors.
    """
    shape = len(world.patches), len(world.patches)
    places, normals = samples(world, patches, LOOKS)
    toward = eye - places
    toward /= np.linalg.norm(toward, axis=1, keepdims=True)
    leaving = (toward * normals).sum(1)
    axis = -toward if not back else 2 * leaving[:, None] * normals - toward
    number = np.arange(len(places))
    kappa = np.full(len(axis), lobe_concentration(width))
    ways = lobe_ways(axis, kappa, number * R2_U % 1, number * R2_V % 1)
    out_of = normals if back else -normals
    falling = (ways * out_of).sum(1)
    on = np.flatnonzero((leaving > 0) & (falling > 0))
    weight = falling[on] / np.maximum(leaving[on], GRAZING) / LOOKS
    rows, columns, values, by = [], [], [], []
    # Places on patches are lifted to the eye's side.
    start = places[on] - (0 if back else 2 * OFF_SURFACE) * normals[on]
    for owner, patch, part, turned, _ in walk(world, start, ways[on], np.arange(len(on))):
        rows.append(patches[on[owner] // LOOKS])
        columns.append(patch)
        values.append(part * weight[owner])
        by.append(turned == MIRRORED)
    if not rows:
        return csr_matrix(shape), csr_matrix(shape)
    row, column, value, mirrored = (np.concatenate(k) for k in (rows, columns, values, by))
    return tuple(
        csr_matrix((value[some], (row[some], column[some])), shape=shape)
        for some in (~mirrored, mirrored)
    )
