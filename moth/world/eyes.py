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
WITHIN = 0.02
"""Farther from the landmark of an eye nothing of it is [m]."""


def with_corneas(mesh):
    """A person whose eyes have the normals of a cornea on a ball, as large as their irises ask for.

    The places stay: a cornea stands out by a millimetre, which no picture shows.

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
    outward = mesh.outward.copy()
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
    return replace(mesh, outward=outward)


def _middle(places):
    """Middle of the ball that places lie on, by least squares, shape (3,) [m]."""
    known = np.column_stack([2 * places, np.ones(len(places))])
    return np.linalg.lstsq(known, (places**2).sum(1), rcond=None)[0][:3]
