"""What people wear over what they were built in: folds, a shirt's collar, an open jacket."""

from dataclasses import replace

import numpy as np

from ..engine.noise import noise
from ..materials import FINISHES
from .heads import GARMENT
from .normals import smooth_normals

WOVEN = next(i for i, f in enumerate(FINISHES) if f.name == "woven")
FOLDS = {"cotton": (0.007, 0.085), "wool": (0.004, 0.11), "silk": (0.006, 0.06)}
"""Of each cloth: how far its folds stand out [m] and how wide they are [m]; typical."""
HUNG = 0.4
"""How much nearer folds are to each other across than along what they hang by."""


def with_folds(mesh, cloth):
    """Places of a person's vertices (n, 3) [m], what is worn laid in folds.

    Parameters
    ----------
    mesh : FigureMesh
    cloth : str
        Of :data:`moth.materials.CLOTHS`; plain cloth has none.

    Examples
    --------
    >>> from moth.world.figures import load_figure
    >>> keeper = load_figure("weathered-man", "seated")
    >>> moved = with_folds(keeper, "cotton") - keeper.vertices
    >>> 0.001 < float(np.linalg.norm(moved, axis=1).max()) < 0.01
    True
    """
    if cloth not in FOLDS:
        return mesh.vertices
    deep, wide = FOLDS[cloth]
    worn = np.unique(mesh.faces[mesh.finish == GARMENT])
    at = mesh.vertices[worn]
    # The way folds run turns slowly over the body.
    askew = np.stack([noise(at / (3 * wide), 40 + k) for k in range(3)], 1)
    bent = at * [1, 1, HUNG] + 0.6 * wide * askew
    ridge = 1 - 2 * np.abs(noise(bent / wide, 50))
    fine = 1 - 2 * np.abs(noise(bent / (0.45 * wide), 51))
    # The rim lies to the neck.
    free = np.clip((at[:, 2].max() - at[:, 2]) / 0.08, 0, 1)
    out = mesh.vertices.copy()
    height = free * deep * np.maximum(0.7 * ridge + 0.3 * fine, 0)
    out[worn] += height[:, None] * smooth_normals(mesh.vertices, mesh.faces)[worn]
    return out


LEG = 0.3
"""Part of the garment by its way from the collar, first and last, that tells shirt and trousers."""


def upper(mesh, far):
    """Which of the built garment's vertices (n,) bool are shirt, not trousers: by their colour.

    Parameters
    ----------
    mesh : FigureMesh
        As built, in its own colours.
    far : ndarray, shape (n,)
        Way along the cloth from the collar [m].
    """
    worn = np.unique(mesh.faces[mesh.finish == GARMENT])
    tone = np.log(np.maximum(mesh.albedo[worn], 1e-3))
    low, high = np.quantile(far[worn], (LEG, 1 - LEG))
    shirt, legs = (np.median(tone[own], axis=0) for own in (far[worn] < low, far[worn] > high))
    out = np.zeros(len(mesh.vertices), bool)
    out[worn] = ((tone - shirt) ** 2).sum(1) <= ((tone - legs) ** 2).sum(1)
    return out


STRIP, STRIP_OFF = 0.015, 0.0018
"""Half the width of the strip that a shirt is buttoned by, and what it stands off [m]; typical."""
COLLAR_HIGH, COLLAR_OFF, FOLD = 0.05, 0.007, 0.014
"""Of a shirt's collar: how far down it is folded, what it stands off and within what way of its rim
it comes to stand off so [m]; typical.
"""
LAYER, LIES, LAPEL_OFF = 0.010, 0.05, 0.003
"""What a jacket stands off the shirt, within what way of its rim it comes to lie on it, and what
its lapels stand off the jacket [m].
"""
BUTTON, WIDE_AT_NECK = 0.27, 0.066
"""How far under the collar's front a jacket is buttoned, and half its opening up there [m]."""
LAPEL = 0.07
"""Width of a lapel where it is widest [m]."""
SHOULDERS = 0.314
"""From shoulder to shoulder of the grown people [m]: lengths are told for it."""


def with_collar_of_shirt(mesh, shirt):
    """A person in a shirt: its collar folded over, open in front by a finger, over the strip that
    is buttoned.

    Parameters
    ----------
    mesh : FigureMesh
        With its grain.
    shirt : ndarray of bool, shape (n,)
        What :func:`upper` tells.

    Returns
    -------
    FigureMesh
    """
    scale, far = _scale(mesh), mesh.grain[:, 3]
    x, front = np.abs(mesh.grain[:, 0]), mesh.grain[:, 1] > FRONT
    high = COLLAR_HIGH * scale
    ajar = np.where(front, x - 0.004 * scale - 0.5 * far, 1.0)
    # A leaf comes to a point in front.
    leaf = high + np.where(front, 0.25 * np.clip(0.07 * scale - x, 0, 1), 0) - far
    strip = np.where(front & shirt, STRIP * scale - x, -1.0)
    mesh = _over(mesh, strip, STRIP_OFF * scale, GARMENT)
    # Folded at the rim: it begins on the neck, and nobody looks in between.
    fold = np.clip(far / (FOLD * scale), 0.1, 1)
    return _over(mesh, np.minimum(ajar, leaf), COLLAR_OFF * scale * fold, GARMENT)


FRONT = 0.045
"""What is before this is the front of a person, in their own frame [m]."""


def with_jacket(mesh, shirt, albedo):
    """A person with an open jacket over what they wear.

    Parameters
    ----------
    mesh : FigureMesh
        With its grain.
    shirt : ndarray of bool, shape (n,)
        What :func:`upper` tells.
    albedo : ndarray, shape (3,)
        Of its cloth.

    Returns
    -------
    FigureMesh

    Examples
    --------
    >>> from moth.document import Figure, Surface
    >>> from moth.world.figures import dressed
    >>> bare = Figure(id="a", name="a", position=(2, 2))
    >>> worn = bare.model_copy(update={"jacket": Surface(reflectance=0.1)})
    >>> len(dressed(worn).faces) > len(dressed(bare).faces)
    True
    """
    scale, grain = _scale(mesh), mesh.grain[: len(shirt)]
    x, front, far = np.abs(grain[:, 0]), grain[:, 1] > FRONT, grain[:, 3]
    rim = grain[shirt & front & (x < 0.02 * scale), 2].max()
    down = (rim - grain[:, 2]) / scale
    part = np.clip(1 - down / BUTTON, 0, 1.4)
    half = (WIDE_AT_NECK * part - 0.02 * np.clip(down - BUTTON, 0, 0.3)) * scale
    half = np.where(down > BUTTON, 0.06 * (down - BUTTON) * scale, half)
    edge = np.where(front, x - half, 1.0)
    below = np.minimum(far - 0.5 * COLLAR_HIGH * scale, np.where(shirt, 1.0, -1.0))
    cover = np.minimum(edge, below)
    off = LAYER * scale * np.clip(cover / (LIES * scale), 0.4, 1)
    mesh = _over(mesh, cover, off, WOVEN, albedo)
    # Widest above the middle of the chest, with a notch where the collar meets it.
    widest = np.interp(down, [-0.05, 0.02, 0.045, 0.05, BUTTON], [0.3, 0.62, 0.8, 1.0, 0.0])
    lapel = np.where(front & (down < BUTTON), LAPEL * widest * scale - edge, -1.0)
    return _over(mesh, np.minimum(cover, lapel), off + LAPEL_OFF * scale, WOVEN, albedo)


def _scale(mesh):
    marks = mesh.landmarks
    return float(np.linalg.norm(marks["shoulder_left"] - marks["shoulder_right"]) / SHOULDERS)


def _over(mesh, covers, off, finish, albedo=None):
    """A person with another layer over the built garment: where a number of its vertices is above
    0, so far off it [m], everywhere alike or told for each.
    """
    off = np.broadcast_to(off, len(covers))[:, None]
    count = len(covers)
    faces = mesh.faces[(mesh.finish == GARMENT) & (mesh.faces < count).all(1)]
    out = smooth_normals(mesh.vertices[:count], faces)
    places, kept = _cut(faces, covers)
    rows = lambda values: (
        (values[places[0]].T * (1 - places[2]) + values[places[1]].T * places[2]).T
    )
    vertices = rows(mesh.vertices[:count] + off * out)
    tone = rows(mesh.albedo[:count]) if albedo is None else np.tile(albedo, (len(vertices), 1))
    none = np.zeros_like(vertices)
    n = len(mesh.vertices)
    return replace(
        mesh,
        vertices=np.concatenate([mesh.vertices, vertices]),
        faces=np.concatenate([mesh.faces, kept + n]).astype(np.int32),
        albedo=np.concatenate([mesh.albedo, tone]),
        finish=np.concatenate([mesh.finish, np.full(len(kept), finish, mesh.finish.dtype)]),
        along=np.concatenate([mesh.along, none]),
        outward=np.concatenate([mesh.outward, none]),
        grain=np.concatenate([mesh.grain, rows(mesh.grain[:count])]),
    )


def _cut(faces, values):
    """The part of triangles (m, 3) where a number of their corners is above 0.

    Returns
    -------
    ((k,), (k,), (k,)), (j, 3)
        Its vertices: each between two of the old ones, and how far from the first to the second.
        Its triangles.
    """
    above = values[faces] > 0
    faces, above = faces[above.any(1)], above[above.any(1)]
    inside = np.unique(faces[above])
    new = np.full(len(values), -1)
    new[inside] = np.arange(len(inside))
    whole = faces[above.all(1)]
    cut, sides = faces[~above.all(1)], above[~above.all(1)]
    # Turned so that the corner that is alone on its side comes first.
    single = np.where(sides.sum(1) == 1, sides.argmax(1), (~sides).argmax(1))
    turned = np.take_along_axis(cut, (single[:, None] + np.arange(3)) % 3, 1)
    ends = np.sort(turned[:, [0, 1, 0, 2]].reshape(-1, 2), axis=1)
    pairs, at = np.unique(ends, axis=0, return_inverse=True)
    at = at.reshape(-1, 2) + len(inside)
    one, other = values[pairs[:, 0]], values[pairs[:, 1]]
    alone = sides.sum(1) == 1
    a, b, c = new[turned].T
    e, f = at.T
    kept = [
        new[whole],
        np.stack([a, e, f], 1)[alone],
        np.stack([b, c, f], 1)[~alone],
        np.stack([b, f, e], 1)[~alone],
    ]
    places = (
        np.concatenate([inside, pairs[:, 0]]),
        np.concatenate([inside, pairs[:, 1]]),
        np.concatenate([np.zeros(len(inside)), one / np.where(one == other, 1, one - other)]),
    )
    return places, np.concatenate(kept)
