"""Walking the subject through the light: the change in stops along a path, and the area in which it
stays within a part of a stop.
"""

from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from ..camera import source_colours, source_levels
from ..colour import LUMINANCE
from ..document import Polar, from_polar
from ..errors import MothError
from ..metering import DARK, NEUTRAL, xyz
from ..place import clear_of_walls
from ..transport import light_of, sources
from ..transport.field import field
from ..units import footcandles
from ..wording import THIRDS
from ..world import anchor, build_world

PLACES = 25
"""Of a path."""
ACTING = (1 / 3, 1 / 2)
"""Parts of a stop by which an acting area is told."""


@dataclass(frozen=True)
class PlaceOnPath:
    """The light at one place of a walk."""

    distance: float
    """From the mark [m]."""
    position: tuple[float, float, float]
    lux: float
    footcandles: float
    stops: float
    """From the mark's level."""
    words: str


@dataclass(frozen=True)
class Area:
    """Floor connected with the mark that keeps within a part of a stop of it."""

    part: float
    """[stops]"""
    area: float
    """[m^2]"""


@dataclass(frozen=True)
class ActingArea:
    """A square about the mark, by the stops the level on a face is off the mark's."""

    corner: tuple[float, float]
    """x, y [m]"""
    side: float
    """[m]"""
    cells: int
    """Along each side."""
    stops: tuple[float, ...]
    """Row by row from the corner, clipped to +-6."""
    areas: tuple[Area, ...]


def levels_toward_lens(setup, points):
    """Level of the mix on domes held to the lens at many places [lx], the head's own shadow left
    out.

    Parameters
    ----------
    setup : moth.document.Setup
    points : array_like, shape (n, 3)
        [m]

    Returns
    -------
    ndarray, shape (n,)
    """
    world, points = build_world(_without_figures_shade(setup)), np.asarray(points, float)
    facing = np.asarray(setup.cameras[0].position, float) - points
    facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-9)
    total = np.zeros(len(points))
    level, colours = source_levels(setup), source_colours(setup, NEUTRAL)
    for source in sources(setup):
        if level[source.id] > 0:
            total += (
                (
                    field(world, light_of(world, source), points, facing, dome=True)
                    * colours[source.id]
                )
                @ LUMINANCE
                * level[source.id]
            )
    return total


def _without_figures_shade(setup):
    """The set-up with its first figure carried out of the light: a person who walks does not stand
    in the own way.
    """
    first = setup.figures[0]
    return setup.model_copy(
        update={
            "figures": (first.model_copy(update={"position": (-60.0, -60.0)}), *setup.figures[1:])
        }
    )


def walk_path(setup, angle, distance, say=THIRDS):
    """The stop along a straight walk from the mark.

    Parameters
    ----------
    setup : moth.document.Setup
    angle : float
        Way of the walk from the line to the lens: 0 toward the lens, 90 to camera right, 180 away
        from it, -90 to camera left [deg].
    distance : float
        0.2..12 [m]
    say : moth.wording.Wording

    Returns
    -------
    list of PlaceOnPath
        Places outside the room are left out.

    Raises
    ------
    MothError
        When it is dark at the mark, or the distance is out of range.
    """
    if not 0.2 <= distance <= 12:
        raise MothError("A walk is between 0.2 and 12 m long.", "distance")
    face, camera = anchor(setup), setup.cameras[0]
    far = np.asarray(
        from_polar(Polar(angle=angle, height=0.0, distance=float(distance)), face, camera.position)
    )
    along = np.linspace(0, distance, PLACES)
    points = face + (along / distance)[:, None] * (far - face)
    inside = clear_of_walls(setup.room, points, 0.15)
    points, along = points[inside], along[inside]
    lux = levels_toward_lens(setup, points)
    if not len(lux) or lux[0] < DARK:
        raise MothError("It is dark at the mark: there is nothing to walk through.", "distance")
    change = np.log2(np.maximum(lux, 1e-6) / lux[0])
    return [
        PlaceOnPath(
            distance=float(d),
            position=xyz(p),
            lux=float(v),
            footcandles=footcandles(float(v)),
            stops=float(s),
            words=say.difference(float(s)),
        )
        for d, p, v, s in zip(along, points, lux, change, strict=True)
    ]


def acting_area(setup, reach=2.4, cells=33):
    """Where about the mark the level on a face keeps within :data:`ACTING` of a stop of the mark's.

    Parameters
    ----------
    setup : moth.document.Setup
    reach : float
        Half side of the square that is looked at [m].
    cells : int
        Places along each side, odd.

    Returns
    -------
    ActingArea

    Raises
    ------
    MothError
        When it is dark at the mark.
    """
    face = anchor(setup)
    grid = np.linspace(-reach, reach, cells)
    y, x = np.meshgrid(grid, grid, indexing="ij")
    points = face + np.stack([x.ravel(), y.ravel(), np.zeros(cells * cells)], 1)
    inside = clear_of_walls(setup.room, points, 0.05)
    lux = np.zeros(len(points))
    lux[inside] = levels_toward_lens(setup, points[inside])
    lux = ndimage.gaussian_filter(lux.reshape(cells, cells), 0.7, mode="nearest")
    middle = cells // 2
    if lux[middle, middle] < DARK:
        raise MothError("It is dark at the mark: there is no area to act in.", "")
    change = np.clip(np.log2(np.maximum(lux, 1e-9) / lux[middle, middle]), -6, 6)
    change[~inside.reshape(cells, cells)] = -6
    areas = []
    for part in ACTING:
        labels, _ = ndimage.label(np.abs(change) <= part)
        kept = float((labels == labels[middle, middle]).sum())
        areas.append(Area(part, kept * (2 * reach / (cells - 1)) ** 2))
    return ActingArea(
        corner=(float(face[0] - reach), float(face[1] - reach)),
        side=2 * reach,
        cells=cells,
        stops=tuple(change.ravel().round(3).tolist()),
        areas=tuple(areas),
    )
