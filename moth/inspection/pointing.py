"""What a hand points at in the frame."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..errors import MothError
from ..metering import OFF_SKIN, xyz
from ..transport import half_spread, lens_axes
from ..world import build_world
from .names import body_name

FARTHEST = 80.0
"""Nobody carries a meter farther from the lens [m]; beyond it outdoors is the horizon."""


@dataclass(frozen=True)
class Pointed:
    """A place for the meter, just off what is seen there."""

    name: str
    """What it is on."""
    position: tuple[float, float, float]
    """[m]"""
    direction: tuple[float, float, float]
    """Unit vector away from the surface, toward the side that is seen."""
    receiver: Literal["dome", "disc"]
    """A dome on people, a disc on flat things."""


def pointed_at(setup, x, y):
    """What a place of the frame shows.

    Parameters
    ----------
    setup : moth.document.Setup
    x, y : float
        Parts of the width from the left and of the height from the top, 0..1.

    Returns
    -------
    Pointed

    Raises
    ------
    MothError
        Where nothing is seen: the open sky.

    Examples
    --------
    >>> from moth.document import bare
    >>> found = pointed_at(bare(), 0.02, 0.02)
    >>> found.name, found.receiver, abs(sum(c * c for c in found.direction) - 1) < 1e-9
    ('the south wall', 'disc', True)
    """
    world, camera = build_world(setup), setup.cameras[0]
    right, up, forward = lens_axes(camera)
    wide, high = half_spread(camera)
    way = forward + (2 * x - 1) * wide * right + (1 - 2 * y) * high * up
    way /= np.linalg.norm(way)
    origin = np.asarray(camera.position, float)
    triangle, _, distance = world.rays.first(origin[None], way[None])
    if triangle[0] < 0 or distance[0] > FARTHEST:
        raise MothError("There is only sky, or what is too far to hold a meter to.", "x")
    normal = np.array(world.mesh.flat[triangle[0]], float)
    normal *= -np.sign(normal @ way) or 1.0
    body = int(world.mesh.body[triangle[0]])
    first = 1 + len(setup.furniture)
    person = first <= body < first + len(setup.figures)
    return Pointed(
        setup.figures[body - first].name if person else body_name(setup, world, triangle[0]),
        xyz(origin + distance[0] * way + OFF_SKIN * normal),
        xyz(normal),
        "dome" if person else "disc",
    )
