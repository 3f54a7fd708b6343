"""From the tip of the nose's shadow to the light: the shadow is cast on the head from every way,
and the ways whose tip falls where it was marked are told.
"""

import numpy as np

from ..document import bare
from ..engine.caching import Keyed, cached, content_hash
from ..materials import FINISHES
from ..world import build_world, landmarks
from ..world.figures import head_front

ACROSS, UP = np.arange(-84, 85, 4), np.arange(-24, 77, 4)
"""Ways that are tried: off the way the head faces, and over it [deg]."""
BALL = 0.014
"""How far from the landmark of the nose's tip its end reaches [m]; measured on the built heads."""
THROWN = 0.006
"""Least that a shadow is thrown to count as one [m]."""
REACH = 0.07
"""Farthest from the nose that its shadow is looked for [m]."""
_SKIN = next(i for i, f in enumerate(FINISHES) if f.name == "skin")


def tips(figure):
    """Where the tip of the nose's shadow falls for light from every way.

    The tip is what lies farthest the way that shadows fall on the face.

    Parameters
    ----------
    figure : moth.document.Figure

    Returns
    -------
    ways : ndarray, shape (n, 3)
        Unit vectors to the light.
    places : ndarray, shape (n, 3)
        [m]; ways whose shadow falls on no skin are left out.

    Examples
    --------
    >>> from moth.document import Figure
    >>> ways, places = tips(Figure(id="a", name="a", position=(2, 2)))
    >>> ways.shape == places.shape and len(ways) > 100
    True
    """
    drop = {"id", "name", "spectacles", "hair", "garment", "skin", "eyeline"}
    return _tips(Keyed(content_hash("nose", figure.model_dump(exclude=drop)), figure))


@cached("shadows of noses")
def _tips(keyed):
    figure = keyed.value.model_copy(update={"spectacles": False})
    setup = bare(room={"outdoors": True, "width": 12, "depth": 12, "height": 4})
    world = build_world(setup.model_copy(update={"figures": (figure,)}))
    mesh, tip, front = world.mesh, landmarks(figure)["nose_tip"], head_front(figure)
    own = np.unique(mesh.faces[mesh.body[: len(mesh.faces)] == 1])
    own = own[np.linalg.norm(mesh.vertices[own] - tip, axis=1) < BALL]
    # What passes a hair's breadth off the skin is the rim of the shadow.
    begin = mesh.vertices[own] + 0.0006 * mesh.normals[own]
    ways = _ways(front)
    rays = np.repeat(-ways, len(begin), axis=0)
    triangle, _, far = world.rays.first(np.tile(begin, (len(ways), 1)), rays)
    fell = np.tile(begin, (len(ways), 1)) + far[:, None] * rays
    good = (triangle >= 0) & (far > THROWN) & (far < REACH)
    good[good] &= mesh.body[triangle[good]] == 1
    aside = -(ways - (ways @ front)[:, None] * front)
    aside /= np.maximum(np.linalg.norm(aside, axis=1, keepdims=True), 1e-9)
    reach = ((fell - tip) * np.repeat(aside, len(begin), axis=0)).sum(1)
    reach = np.where(good, reach, -np.inf).reshape(len(ways), -1)
    best = reach.argmax(1) + np.arange(len(ways)) * len(begin)
    kept = np.isfinite(reach.max(1))
    kept[kept] &= mesh.finish[triangle[best[kept]]] == _SKIN
    return ways[kept], fell[best[kept]]


def _ways(front):
    right = np.cross(front, [0, 0, 1.0])
    right /= np.linalg.norm(right)
    up = np.cross(right, front)
    a, h = (np.radians(k.ravel()) for k in np.meshgrid(ACROSS, UP))
    flat = np.cos(h)
    return (
        (flat * np.cos(a))[:, None] * front
        + (flat * np.sin(a))[:, None] * right
        + np.sin(h)[:, None] * up
    )


def way_of(figure, place, slack):
    """The way to a light from where the tip of the nose's shadow falls.

    Parameters
    ----------
    figure : moth.document.Figure
    place : ndarray, shape (3,)
        On the skin [m].
    slack : float
        How far the mark, or the nose, may be off [m], one standard deviation.

    Returns
    -------
    (ndarray, float) or None
        Unit vector and how far it may be off [deg]; None where no light throws it there.
    """
    ways, places = tips(figure)
    away = np.linalg.norm(places - place, axis=1)
    if not len(away) or away.min() > 3 * slack + 0.002:
        return None
    weight = np.exp(-0.5 * (away / slack) ** 2 + 0.5 * (away.min() / slack) ** 2)
    mean = weight @ ways
    mean /= np.linalg.norm(mean)
    off = np.degrees(np.arccos(np.clip(ways @ mean, -1, 1)))
    # Two parts of a circle about the mean: an angle in the plane of each.
    return mean, float(np.sqrt((weight @ off**2) / weight.sum() / 2))
