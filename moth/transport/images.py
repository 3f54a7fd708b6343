"""Light in lobes by way of mirrors: a cloth that is seen in a mirror sends on from behind it.

What a cloth sends evenly is found in mirrors by the walks between surfaces; a lobe is too narrow
for those, and is followed as a lamp is: by its image.
"""

import numpy as np

from ..engine.sampling import R2_U, R2_V
from .arrival import mirrors_of
from .emitters import Leg
from .glow import Glow, glow_visibility, matte, shine

CHAIN = 2
"""Mirrors one after another that lobes are followed by."""
PLACES, LEAST = 150, 0.003
"""Places of a mirror at which it is looked whether lobes light it, and the part of them that must
fall on it.
"""


def lobe_images(world, glows):
    """Images of glows' lobes in the mirrors that these light, straight or by other mirrors.

    Parameters
    ----------
    world : moth.world.World
    glows : list of Glow

    Returns
    -------
    list of Glow
        Without what their cells send evenly.
    """
    mirrors, found = mirrors_of(world), []
    newest = [g for g in glows if g.sheet >= 0 and g.has_beam] if mirrors else []
    for _ in range(CHAIN):
        newest = [
            _image(glow, sheet)
            for glow in newest
            for k, sheet in mirrors
            if k != glow.sheet
            and not (glow.via and glow.via[0].pane == sheet.pane)
            and _lights(world, glow, sheet)
        ]
        found += newest
    return found


def _lights(world, glow, sheet):
    j = np.arange(PLACES)
    u, v = (2 * ((j * step) % 1.0)[:, None] - 1 for step in (R2_U, R2_V))
    points = sheet.centre + u * sheet.half[0] * sheet.right + v * sheet.half[1] * sheet.up
    area = 4 * sheet.half[0] * sheet.half[1]
    flux = 0.0
    for side in (1, -1):
        shading = matte(points, np.tile(side * sheet.normal, (PLACES, 1)))
        flux += float(arriving(world, _lobes_alone(glow), shading).mean(0).sum()) * area
    return flux > LEAST * float(glow.cells.power.sum())


def _lobes_alone(glow):
    return Glow(
        glow.sheet,
        glow.patches,
        glow.cells._replace(flux=np.zeros_like(glow.cells.flux)),
        glow.via,
    )


def _image(glow, sheet):
    n, cells = sheet.normal, glow.cells

    def turned(rows, about=0.0):
        rows = rows - about
        return about + rows - 2 * (rows @ n)[:, None] * n

    # A pattern of ways goes by its cell's own axes, which are mirrored with it.
    image = cells._replace(
        middle=turned(cells.middle, sheet.centre),
        normal=turned(cells.normal),
        along=turned(cells.along),
        up=turned(cells.up),
        axis=turned(cells.axis),
        flux=np.zeros_like(cells.flux),
    )
    return Glow(glow.sheet, glow.patches, image, (Leg(sheet.pane), *glow.via))


def arriving(world, glow, shading):
    """What a glow brings to places, four rays each [lx, shape (n, 3)]."""
    out, nothing = np.zeros((len(shading.points), 3)), np.zeros((len(shading.points), 3))
    shine(shading, False, glow.cells, out, nothing)
    some = np.flatnonzero(out.sum(1) > 0)
    places = shading.points[some], shading.normals[some]
    out[some] *= glow_visibility(world, glow, places, 4)[:, None]
    return out
