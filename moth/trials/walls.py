"""What a unit does on the wall behind the face: twelve feet by twelve, foot by foot."""

import numpy as np
from scipy import ndimage

from ..colour import LUMINANCE
from ..place import ceiling_over, to_wall, walls_of
from ..transport import light_of, sources
from ..transport.field import field
from ..units import METRES_PER_FOOT
from ..world import anchor, build_world

FEET = 12
"""Of the wall that is looked at, each way."""
LEAST = 1 / 4096
"""Of the brightest: what is darker is told as that."""
FINE = 3
"""Places looked at a foot."""
OFF = 0.004
"""How far a meter's disc is off the wall [m]."""


def wall_map(setup, unit_id):
    """Levels of one unit on the wall behind the face, at the crossings of a foot grid.

    The grid's middle is where the lens looks, as far as the wall goes on: it keeps
    within the wall's ends where that is twelve feet long, and stands on the floor.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str

    Returns
    -------
    list of list of (float or None) or None
        Stops from the brightest crossing, a row every foot from the floor up, each from the lens's
        left to its right; None off the wall. None where no wall is behind the face, or no light on
        it.

    Examples
    --------
    >>> from moth.trials import stage
    >>> found = wall_map(stage("wall"), "key")
    >>> len(found), len(found[0]), max(max(row) for row in found)
    (13, 13, 0.0)
    """
    if setup.room.outdoors:
        return None
    wall, middle = _wall_behind(setup)
    if wall is None:
        return None
    # From the room's inside a wall runs from the lens's right to its left.
    left, along = wall.end, (wall.start - wall.end) / wall.length
    span = FEET * METRES_PER_FOOT
    first = np.clip((middle - left) @ along - span / 2, 0, max(wall.length - span, 0))
    if wall.length < span:
        first = (wall.length - span) / 2
    # Thrice as fine as it is told: so the grain of the rays can be taken off.
    steps = np.arange(FEET * FINE + 1) / FINE * METRES_PER_FOOT
    u, v = (k.ravel() for k in np.meshgrid(first + steps, steps))
    # A disc cannot lie in the floor, the ceiling or a corner.
    u_on = np.clip(u, OFF, wall.length - OFF)
    places = np.column_stack([left + u_on[:, None] * along, v]) + OFF * wall.inward
    top = ceiling_over(setup.room, places)
    on = (abs(u - u_on) < 2 * OFF) & (v < top + OFF)
    places[:, 2] = np.clip(v, OFF, top - OFF)
    world = build_world(setup)
    source = next(s for s in sources(setup) if s.id == unit_id)
    normals = np.tile(wall.inward, (len(places), 1))
    lux = field(world, light_of(world, source), places, normals) @ LUMINANCE
    lux = ndimage.gaussian_filter(lux.reshape(len(steps), -1), 0.8, mode="nearest")
    rows = np.where(on.reshape(lux.shape), lux, np.nan)[::FINE, ::FINE]
    most = float(np.nanmax(rows))
    if most <= 0:
        return None
    told = np.log2(np.maximum(rows / most, LEAST)).round(2) + 0.0
    return [[None if np.isnan(k) else float(k) for k in row] for row in told]


def _wall_behind(setup):
    """The wall that the lens sees behind the face, and where on it (x, y) [m]."""
    camera = setup.cameras[0]
    lens = np.array(camera.position[:2])
    way, face = np.array(camera.aim[:2]) - lens, anchor(setup)[:2]
    long = float(np.hypot(*way))
    if long < 1e-6:
        return None, face
    way = way / long
    # From where the face is: the wall behind it, whatever stands nearer to the lens.
    start = lens + max((face - lens) @ way, 0.0) * way
    met = start + to_wall(setup.room, start, way) * way
    for wall in walls_of(setup.room):
        along = (wall.end - wall.start) / wall.length
        off = met - wall.start
        if abs(off @ wall.inward[:2]) < 1e-3 and -1e-3 < off @ along < wall.length + 1e-3:
            return wall, met
    return None, met
