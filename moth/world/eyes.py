"""How eyes mirror: the built ones are single balls, told to a sixteenth of a millimetre, whose
facets would break up what a cornea shows whole.
"""

from dataclasses import replace

import numpy as np

from ..colour import LUMINANCE
from ..materials import FINISHES

_EYE = next(i for i, f in enumerate(FINISHES) if f.name == "eye")
CORNEA, IRIS = 0.0078, 0.0059
"""Radius of curvature of the cornea, and of the iris that is seen [m]: means of schematic eyes;
horizontal visible iris diameter 11.8 mm.
"""
WHITE = 0.25
"""Reflectance that tells the white of an eye from its iris."""
LIMBUS = 0.0012
"""Width of the furrow between cornea and white, where one goes over into the other [m]; typical."""
NEAR_RIM = 0.0004
"""What of a built eye is taken for the rim of its iris [m]."""
WITHIN = 0.02
"""Farther from the landmark of an eye nothing of it is [m]."""


def with_corneas(mesh):
    """A person whose eyes have a cornea on each ball, as large as their irises ask for: its
    normals, and its bulge, which brings what an eye mirrors out of the lid's shadow.

    Parameters
    ----------
    mesh : FigureMesh
        In its own frame, the face to +y.

    Returns
    -------
    FigureMesh

    Examples
    --------
    >>> from moth.world.figures import load_figure
    >>> keeper = load_figure("weathered-man", "seated")
    >>> eye = keeper.faces[keeper.finish == _EYE][0, 0]
    >>> round(float(np.linalg.norm(keeper.outward[eye])), 3)
    1.0
    """
    outward, vertices = mesh.outward.copy(), mesh.vertices.copy()
    seen = np.unique(mesh.faces[mesh.finish == _EYE])
    for side in ("left", "right"):
        near = np.abs(mesh.vertices[seen] - mesh.landmarks[f"eye_{side}"]).max(1) < WITHIN
        own = seen[near]
        places = mesh.vertices[own]
        off = places - _middle(places)
        aside = np.hypot(off[:, 0], off[:, 2])
        front = off[:, 1] > 0
        dark = front & (mesh.albedo[own] @ LUMINANCE < WHITE)
        iris = float(aside[dark].max())
        ball = np.linalg.norm(off, axis=1)
        cornea = CORNEA * iris / IRIS
        # Slopes off the axis: of the cornea as far as it goes, of the ball from the furrow on.
        steep = np.minimum(aside, iris) / cornea
        part = np.clip((aside - iris) / LIMBUS, 0, 1)
        sine = np.where(front, (1 - part) * steep + part * aside / ball, aside / ball)
        along = np.sqrt(1 - np.minimum(sine, 1) ** 2) * np.where(front, 1, np.sign(off[:, 1]))
        flat = off[:, [0, 2]] / np.maximum(aside, 1e-9)[:, None] * sine[:, None]
        outward[own] = np.stack([flat[:, 0], along, flat[:, 1]], 1)
        rim = off[front & (np.abs(aside - iris) < NEAR_RIM), 1].mean()
        over = np.sqrt(cornea**2 - np.minimum(aside, iris) ** 2) - np.sqrt(cornea**2 - iris**2)
        vertices[own, 1] += np.where(front & (aside < iris), rim + over - off[:, 1], 0)
    return replace(mesh, vertices=vertices, outward=outward)


LIDS_REACH, CORNERS = np.radians(50.0), 0.0125
"""How far about the ball the skin goes along with a lid's edge [rad], and how far to the sides of
its middle [m]: it folds away under the brow, and the corners of an eye stay.
"""


def opened(vertices, skin, eye, ball, lids):
    """Places of a person (n, 3) [m] with the lids of one eye farther open: the skin slides round
    the ball, all of it at the edges, nothing at the brow, the cheek and the corners.

    Parameters
    ----------
    vertices : ndarray, shape (n, 3)
        The face to +y [m].
    skin : ndarray, shape (k,)
        Indices of what may move: no eyes.
    eye : ndarray, shape (3,)
        Landmark of the eye [m].
    ball : ndarray, shape (m, 3)
        Places on its ball [m].
    lids : sequence of (float, float)
        For the upper and the lower lid: how high the edge is over the middle of the ball, and how
        far up it goes [m].

    Returns
    -------
    ndarray, shape (n, 3)

    Examples
    --------
    >>> ball = np.array([[1.0, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1]]) * 0.012
    >>> edge = np.array([[0, 0.012, 0.003]])
    >>> opened(edge, np.array([0]), edge[0], ball, [(0.003, 0.001), (-0.004, 0)]).round(4)
    array([[ 0.    ,  0.0117,  0.004 ]])
    """
    middle = _middle(ball)
    radius = float(np.linalg.norm(ball - middle, axis=1).mean())
    near = skin[np.abs(vertices[skin] - eye).max(1) < 2 * WITHIN]
    off = vertices[near] - middle
    front = off[:, 1] > 0
    near, off = near[front], off[front]
    angle = np.arctan2(off[:, 2], off[:, 1])
    beside = np.cos(np.pi / 2 * np.minimum(np.abs(off[:, 0]) / CORNERS, 1)) ** 2
    (top, up), (bottom, down) = ((np.arcsin(z / radius), by / radius) for z, by in lids)
    upper = angle > (top + bottom) / 2
    past = np.where(upper, angle - top, bottom - angle)
    with_edge = np.cos(np.pi / 2 * np.clip(past / LIDS_REACH, 0, 1)) ** 2
    turn = beside * with_edge * np.where(upper, up, down)
    cos, sin = np.cos(turn), np.sin(turn)
    moved = vertices.copy()
    moved[near, 1] = middle[1] + cos * off[:, 1] - sin * off[:, 2]
    moved[near, 2] = middle[2] + sin * off[:, 1] + cos * off[:, 2]
    return moved


def _middle(places):
    """Middle of the ball that places lie on, by least squares, shape (3,) [m]."""
    known = np.column_stack([2 * places, np.ones(len(places))])
    return np.linalg.lstsq(known, (places**2).sum(1), rcond=None)[0][:3]
