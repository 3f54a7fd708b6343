"""The surfaces a unit's light meets on its way to the face, in order, and what each is given."""

from dataclasses import dataclass

import numpy as np

from ..colour import LUMINANCE
from ..transport.glow import glow_visibility, matte, shine
from ..units import stops

CARRIES = 0.03
"""Share of the flux that must fall on a sheet for it to be on the way."""
LONGEST = 4
"""Surfaces that a way is followed over."""


@dataclass(frozen=True)
class OnWay:
    """A surface that a source's light falls on and goes on from."""

    sheet: int
    """Index of the sheet, -1 for a wall, furniture or a person."""
    patch: int
    """Index of its brightest patch on the brighter face."""
    place: np.ndarray
    """Its middle [m]."""
    middle: float
    """Level there [lx]."""
    even: float
    """That over its edges [stops]."""
    straight: float
    """Share of the flux of lamp and lobes that falls on it before it is scattered."""


def met_sheets(world, light):
    """Sheets that carry a source's light, what the lamp lights most first.

    Parameters
    ----------
    world : moth.world.World
    light : moth.transport.Light

    Returns
    -------
    list of OnWay
    """
    direct = light.lit @ LUMINANCE
    total = float((direct * world.patches.area).sum()) + 1e-12
    found = [_on_sheet(world, light, k, direct, total) for k in range(len(world.sheets))]
    return sorted((s for s in found if s), key=lambda s: -s.straight)


def _on_sheet(world, light, k, direct, total):
    sheet, p = world.sheets[k], world.patches
    if sheet.cells[0] * sheet.cells[1] < 9:
        return None
    if sheet.material.returned + sheet.material.transmission < 0.06:
        return None
    faces = [np.flatnonzero((p.sheet == k) & (p.side == s)) for s in (1, -1)]
    shares = [float((direct[f] * p.area[f]).sum()) / total for f in faces]
    best = faces[int(shares[1] > shares[0])]
    # Light from other sheets is in the radiosity: what a matte face sends tells what fell on both
    # its faces.
    both = [p.arrived(light.radiosity, face) @ LUMINANCE for face in (best, p.other[best])]
    if both[1].mean() > both[0].mean():
        best, both = p.other[best], both[::-1]
    arrived = np.maximum(both[0], direct[best])
    if float((arrived * p.area[best]).sum()) < CARRIES * total:
        return None
    grid = arrived.reshape(sheet.cells)
    i, j = sheet.cells[0] // 2, sheet.cells[1] // 2
    middle = float(grid[max(i - 1, 0) : i + 1, max(j - 1, 0) : j + 1].mean())
    edge = float(np.mean([grid[0].mean(), grid[-1].mean(), grid[:, 0].mean(), grid[:, -1].mean()]))
    return OnWay(
        k,
        int(best[arrived.argmax()]),
        sheet.centre,
        middle,
        stops(max(middle, 1e-9) / max(edge, 1e-9)),
        max(shares),
    )


def lit_wall(world, light, cells):
    """The patch of wall, ceiling or furniture whose cells are given.

    Parameters
    ----------
    world : moth.world.World
    light : moth.transport.Light
    cells : ndarray, shape (k, 3)
        Middles of the cells of one of the light's glows [m].

    Returns
    -------
    OnWay
    """
    glow = next(
        g
        for g in light.glows
        if g.sheet < 0 and len(g.cells.middle) == len(cells) and np.allclose(g.cells.middle, cells)
    )
    return _of_glow(world, light, glow)


def _of_glow(world, light, glow):
    p, level = world.patches, light.lit @ LUMINANCE
    total = float((level * p.area).sum()) + 1e-12
    own = glow.patches
    best = int(own[level[own].argmax()])
    middle = np.asarray(glow.cells.middle)[int(level[own].argmax()) % len(glow.cells.middle)]
    share = float((level[own] * p.area[own]).sum()) / total
    return OnWay(-1, best, middle, float(level[best]), 0.0, share)


def way_to(world, light, met, last):
    """What light meets before a surface, and the surface itself, in order from the lamp on.

    What lights a surface most, the lamp itself or another of those met, is taken to come before it.

    Parameters
    ----------
    world : moth.world.World
    light : moth.transport.Light
    met : list of OnWay
        See :func:`met_sheets`.
    last : OnWay

    Returns
    -------
    list of OnWay
    """
    way = [last]
    while len(way) < LONGEST and way[0].sheet >= 0:
        before = _before(world, light, met, way)
        if before is None:
            break
        way.insert(0, before)
    return way


def _before(world, light, met, way):
    """What lights the first of a way more than the lamp does straight; None for the lamp."""
    first = world.sheets[way[0].sheet]
    known = {s.sheet for s in way}
    own = np.flatnonzero(world.patches.sheet == way[0].sheet)
    best, most = None, float((light.straight[own] @ LUMINANCE).max())
    for k, glow in enumerate(light.glows):
        brought = 0.0 if glow.sheet in known else _brought(world, glow, first, k)
        if brought > most:
            most = brought
            best = next((s for s in met if s.sheet == glow.sheet), None)
            best = best or _of_glow(world, light, glow)
    return best


def _brought(world, glow, sheet, seed):
    """What a glow brings to the middle of a sheet's brighter side [lx]."""
    levels = [0.0]
    for sign in (1, -1):
        normal = (sign * sheet.normal)[None]
        place = sheet.centre + 0.002 * normal
        out, sheen = np.zeros((1, 3)), np.zeros((1, 3))
        shine(matte(place, normal), False, glow.cells, out, sheen, 2)
        if out.max() > 0:
            seen = float(glow_visibility(world, glow, (place, normal), 128, False, seed)[0])
            levels.append(float(out[0] @ LUMINANCE) * seen)
    return max(levels)
