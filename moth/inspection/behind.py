"""What stands behind the subject, for the lens: how far, and how soft it is drawn."""

from dataclasses import dataclass

import numpy as np

from ..camera import blur
from ..world import anchor, build_world
from .names import body_name

HEAD = 0.35
"""From between the eyes along the line of sight until it has left the head [m]."""


@dataclass(frozen=True)
class Behind:
    """What the lens sees past the middle of the head."""

    name: str
    distance: float
    """From the subject to it, along the line of sight [m]."""
    blur: float
    """Width of a point there in the picture, as a part of its width."""


def behind(setup):
    """What the line from the lens through the subject's eyes meets next.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    Behind or None
        None where there is only sky.

    Examples
    --------
    >>> from moth.document import bare
    >>> found = behind(bare())
    >>> found.name, 0 < found.distance < 10
    ('the south wall', True)
    """
    camera, face = setup.cameras[0], anchor(setup)
    lens = np.asarray(camera.position, float)
    away = float(np.linalg.norm(face - lens))
    if away < 1e-3:
        return None
    way = (face - lens) / away
    world = build_world(setup)
    triangle, _, reach = world.rays.first((face + HEAD * way)[None], way[None])
    sky = triangle[0] < 0 or world.patches.sky[world.mesh.front[triangle[0]], 2] != 0
    if sky:
        return None
    distance = float(reach[0]) + HEAD
    focus = away if camera.focus is None else camera.focus
    spot = float(blur(camera, max(focus, 1.01 * camera.focal_length / 1000), away + distance))
    return Behind(body_name(setup, world, triangle[0]), distance, spot)
