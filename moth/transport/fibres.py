"""Light on hair: what a fibre scatters, and what a mass of them sends to the eye.

A fibre is a cylinder of glass with scales: light is mirrored by its surface (once), passes through
it (taking its colour) or is mirrored inside and comes back (taking it twice). Marschner et al.,
"Light scattering from human hair fibers" (2003); longitudinal lobes as in d'Eon et al., "An
energy-conserving hair reflectance model" (2011). What is scattered on from fibre to fibre is left
to the diffuse part, as for every surface here.
"""

import math
from typing import Any

import numpy as np
from numba import njit
from scipy.special import i0e

_FAST: dict[str, Any] = {"nogil": True, "cache": True, "fastmath": True, "error_model": "numpy"}

TILT = math.radians(-7.5)
"""Of the scales, toward the root; Marschner et al., table 1: -10 to -5 deg."""
WIDE = math.radians(8.5)
"""Of the mirrored lobe along the fibre; the same table: 5 to 10 deg. The one through the fibre is
half as wide, the one that comes back twice.
"""
INDEX = 1.55
MIRRORED = ((INDEX - 1) / (INDEX + 1)) ** 2
"""Straight on (Fresnel)."""
THROUGH, BACK = 0.862, 0.056
"""Of the light that falls on a clear fibre: what passes, what comes back after one mirroring in it;
a cylinder of this index, all places across it alike (moth/tests/test_fibres.py traces one).
"""
FORWARD, BACKWARD = 4.0, 20.0
"""Concentrations about the axis of what passes, of what comes back (von Mises): as narrow as
that cylinder's.
"""
_WHOLE_FORWARD, _WHOLE_BACKWARD = (float(2 * math.pi * i0e(k)) for k in (FORWARD, BACKWARD))
CHORD = 1.85
"""Mean way through a fibre, in its radii."""


SURFACE = 0.01
"""Of what any hair reflects, what its surface mirrors: about all that black hair does; typical."""


def strand_colours(albedo):
    """What is left of light that passed a fibre once and twice, by the colour of the mass.

    Chiang et al., "A practical and controllable hair and fur model" (2016), equation 9, at an
    azimuthal roughness of 0.3, gives the absorption by what the mass sends back through its fibres:
    the colour but for what their surfaces mirror. Of what passes, only what the diffuse part has
    not told.

    Parameters
    ----------
    albedo : ndarray, shape (n, 3)

    Returns
    -------
    (ndarray, ndarray), shape (n, 3) each

    Examples
    --------
    >>> once, twice = strand_colours(np.array([[0.02, 0.2, 0.2]]))
    >>> bool(once[0, 0] < once[0, 1]), bool((twice < once).all())
    (True, True)
    """
    albedo = np.clip(np.asarray(albedo, float), 1e-3, 0.999)
    absorbed = (np.log(np.maximum(albedo - SURFACE, 1e-3)) / 5.887) ** 2
    left = np.exp(-CHORD * absorbed)
    return (1 - albedo) * left, (1 - albedo) * left * left


@njit(inline="always")
def _along(sum_of_angles, cosines, width):
    """Lobe along a fibre [1/rad], for small widths: the angles of light and eye, summed; 0 where a
    flat mirror would send it.
    """
    v = width * width
    return math.exp(-(1 - math.cos(sum_of_angles)) / v) / math.sqrt(
        2 * math.pi * v * max(cosines, v)
    )


@njit(inline="always")
def _von_mises(kappa, cosine):
    """Density [1/rad] about a direction, of one of the two concentrations above."""
    whole = _WHOLE_FORWARD if kappa == FORWARD else _WHOLE_BACKWARD
    return math.exp(kappa * (cosine - 1)) / whole


@njit(**_FAST)
def fibre(along, eye, light):
    """Scattered by one fibre [1/sr]: (mirrored, through a clear one, back from inside a clear one).

    along, eye, light: unit triples; the last two away from it. Radiance for light that brings one
    lux square to its own way.
    """
    a = along[0] * light[0] + along[1] * light[1] + along[2] * light[2]
    b = along[0] * eye[0] + along[1] * eye[1] + along[2] * eye[2]
    a, b = min(max(a, -0.9999), 0.9999), min(max(b, -0.9999), 0.9999)
    ca, cb = math.sqrt(1 - a * a), math.sqrt(1 - b * b)
    facing = eye[0] * light[0] + eye[1] * light[1] + eye[2] * light[2]
    turn = min(max((facing - a * b) / (ca * cb), -1.0), 1.0)
    angles, cosines = math.asin(a) + math.asin(b), ca * cb
    half = math.sqrt(0.5 + 0.5 * turn)
    # Half the angle between them is that on the mirror, around as along the fibre.
    on = half * math.sqrt(max(0.5 + 0.5 * (ca * cb - a * b), 0.0))
    fresnel = MIRRORED + (1 - MIRRORED) * (1 - min(on, 1.0)) ** 5
    mirrored = fresnel * half / 4 * _along(angles - 2 * TILT, cosines, WIDE)
    through = THROUGH * _von_mises(FORWARD, -turn) * _along(angles + TILT, cosines, WIDE / 2)
    back = BACK * _von_mises(BACKWARD, turn) * _along(angles + 3 * TILT, cosines, 2 * WIDE)
    return mirrored, through, back


@njit(inline="always")
def mass(along, normal, eye, light):
    """What a mass of fibres that lie one way sends to the eye for each lux on its surface [1/sr]:
    the three of :func:`fibre`.

    Light is dimmed on its way in and out by how broad the fibres stand to it: Seeliger's law
    ("Zur Photometrie des Saturn und seiner Ringe", 1888) for bodies that are longer than wide.
    """
    into = normal[0] * light[0] + normal[1] * light[1] + normal[2] * light[2]
    out = normal[0] * eye[0] + normal[1] * eye[1] + normal[2] * eye[2]
    if into <= 0:
        return 0.0, 0.0, 0.0
    a = along[0] * light[0] + along[1] * light[1] + along[2] * light[2]
    b = along[0] * eye[0] + along[1] * eye[1] + along[2] * eye[2]
    broad_in, broad_out = math.sqrt(max(1 - a * a, 1e-4)), math.sqrt(max(1 - b * b, 1e-4))
    share = math.sqrt(broad_in * broad_out) / (broad_in * max(out, 0.0) + broad_out * into)
    mirrored, through, back = fibre(along, eye, light)
    return share * mirrored, share * through, share * back
