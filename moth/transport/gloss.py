"""The sheen of a surface: two lobes of a smooth skin, the nap of a cloth, or fibres.

Human skin sheds light in a wide lobe by its own relief and in a narrow one by the oil on it; the
more oil, the more of the narrow one, as on forehead and nose. Wool has no smooth skin: its nap
takes light at grazing ways and glows along the edge of a shoulder.
"""

import math
from typing import NamedTuple

import numpy as np
from numba import njit

from ..materials import FINISHES
from .fibres import mass
from .vectors import at_row, dot

SKIN = next(i for i, f in enumerate(FINISHES) if f.name == "skin")
WIDE, NARROW = (0.40, 0.32), (0.26, 0.18)
"""GGX alpha of the two lobes of dry and of oily skin; typical, within the 0.2 to 0.4 that Weyrich
et al. ("Analysis of human faces using a measurement-based skin reflectance model", 2006) report.
"""
OILED = (0.2, 0.7)
"""Share of the narrow lobe on dry and on oily skin; typical."""
NARROWEST = 0.1
"""Least alpha that is left where a picture shows the relief itself."""


class Gloss(NamedTuple):
    """How places send light on without its entering them, (n,) each."""

    shiny: np.ndarray
    """bool: whether they do."""
    wide: np.ndarray
    """GGX alpha of the wide lobe."""
    narrow: np.ndarray
    share: np.ndarray
    """Of the narrow lobe; 0 for surfaces of one lobe."""
    normal_reflectance: np.ndarray
    nap: np.ndarray
    """Optical depth of the fibres that stand off."""


def gloss_of(finish, oil, resolved):
    """What places need for their sheen.

    Parameters
    ----------
    finish : ndarray of int, shape (n,)
        Index into :data:`moth.materials.FINISHES`.
    oil : ndarray, shape (n,)
        Of skin, 0 dry .. 1 oily.
    resolved : ndarray, shape (n,)
        Variance of the slope of the relief that the normals show already [1]: the lobes are
        narrower by it, so that a face keeps its sheen when the lens comes near.

    Returns
    -------
    Gloss

    Examples
    --------
    >>> skin = np.zeros(2, int)
    >>> oily = gloss_of(skin, np.array([0.0, 1.0]), np.zeros(2))
    >>> bool(oily.share[1] > oily.share[0]), bool(oily.narrow[1] < oily.narrow[0])
    (True, True)
    """
    columns = [[f.roughness, f.normal_reflectance, f.nap] for f in FINISHES]
    # Each a whole row: loops are compiled anew for columns of a table.
    rough, reflectance, nap = np.take(np.transpose(columns), finish, axis=1)
    wide, narrow, share = rough.copy(), rough.copy(), np.zeros(len(finish))
    skin = np.flatnonzero(finish == SKIN)
    for lobe, ends in ((wide, WIDE), (narrow, NARROW), (share, OILED)):
        lobe[skin] = ends[0] + (ends[1] - ends[0]) * np.clip(oil[skin], 0, 1)
    # A rough surface's slopes have a variance of half the square of alpha each way (Walter et al.
    # 2007); what is seen is not told again.
    for lobe in (wide, narrow):
        lobe[skin] = np.sqrt(np.maximum(lobe[skin] ** 2 - 2 * resolved[skin], NARROWEST**2))
    smooth = (rough > 0) & (reflectance > 0)
    shiny = smooth | (nap > 0)
    return Gloss(shiny, wide, narrow, share, np.where(smooth, reflectance, 0.0), nap)


def no_gloss(count):
    """So many places without sheen.

    Examples
    --------
    >>> no_gloss(2).shiny.tolist()
    [False, False]
    """
    none = np.zeros(count)
    return Gloss(np.zeros(count, bool), none, none, none, none, none)


TINT = np.array([f.tint for f in FINISHES])
"""Power of the albedo that the sheen of each finish takes."""


@njit(inline="always")
def returned(gloss, i, n, v, ray):
    """Reflectance [1/sr] of a place besides its diffuse one, of normal, eye and light."""
    f0, nap, share = gloss.normal_reflectance[i], gloss.nap[i], gloss.share[i]
    out = 0.0
    if f0 > 0:
        out = (1 - share) * ggx(n, v, ray, gloss.wide[i], f0)
        if share > 0:
            out += share * ggx(n, v, ray, gloss.narrow[i], f0)
    if nap > 0:
        out += of_nap(nap, dot(n, ray), dot(n, v))
    return out


@njit(inline="always")
def of_nap(depth, towards, away):
    """Reflectance [1/sr] of a thin layer of fibres, white and scattering the same every way.

    Single scattering, Chandrasekhar, "Radiative transfer" (1950), III, as Koenderink and Pont use
    it for the asperities of velvet and skin ("The secret of velvety skin", 2003).

    depth: optical depth; towards, away: cosines of light and eye.
    """
    a, b = max(towards, 1e-3), max(away, 0.03)
    return (1 - math.exp(-depth * (1 / a + 1 / b))) / (4 * math.pi * (a + b))


_AT, _PART = np.polynomial.legendre.leggauss(24)
_AT, _PART = (_AT + 1) / 2, _PART / 2


def nap_albedo(depth, away):
    """Share of even light that a nap sends toward the eye; so much less comes from the cloth under
    it.

    Parameters
    ----------
    depth : float
        Optical depth.
    away : ndarray, shape (n,)
        Cosine to the eye, 0..1.

    Returns
    -------
    ndarray, shape (n,)
        0..1

    Examples
    --------
    >>> straight, grazing = nap_albedo(0.15, np.array([1.0, 0.1]))
    >>> bool(grazing > 2 * straight > 0)
    True
    """
    b = np.maximum(np.asarray(away, float), 0.03)[:, None]
    each = (1 - np.exp(-depth * (1 / _AT + 1 / b))) / (4 * (_AT + b))
    return 2 * (each * _AT * _PART).sum(1)


@njit(inline="always")
def ggx(n, v, ray, alpha, f0):
    """Microfacet reflectance [1/sr] of normal, eye and light: GGX, height-correlated Smith, Schlick
    Fresnel.
    """
    h = (v[0] + ray[0], v[1] + ray[1], v[2] + ray[2])
    length = math.sqrt(dot(h, h))
    if length < 1e-9:
        return 0.0
    h = (h[0] / length, h[1] / length, h[2] / length)
    nh, nl, nv = dot(n, h), dot(n, ray), max(dot(n, v), 1e-3)
    if nl <= 0 or nh <= 0:
        return 0.0
    a2 = alpha * alpha
    d = a2 / (math.pi * (nh * nh * (a2 - 1) + 1) ** 2)
    g = 0.5 / (nl * math.sqrt(nv * nv * (1 - a2) + a2) + nv * math.sqrt(nl * nl * (1 - a2) + a2))
    fresnel = f0 + (1 - f0) * (1 - dot(v, h)) ** 5
    return d * g * fresnel


@njit(inline="always")
def strand_gloss(hair, n, v, ray):
    """What hair sends to the eye for each lux on it, in its colours [1/sr].

    hair: row, and the arrays of :class:`Strands` but the first.
    """
    at, ways, once, twice = hair
    white, through, back = mass(at_row(ways, at), n, v, ray)
    return (
        white + through * once[at, 0] + back * twice[at, 0],
        white + through * once[at, 1] + back * twice[at, 1],
        white + through * once[at, 2] + back * twice[at, 2],
    )
