"""What fine relief goes by on people: where each place is on them, how oily skin is there, how far
from the collar cloth is and which way its rows follow each other.
"""

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import dijkstra

from .heads import GARMENT, SKIN

LIPS = 2.0
"""What stands for lips where skin tells how oily it is."""
EYES_APART = 0.058
"""Of the grown people [m]: sizes on a face are told for it."""


def grain_of(mesh):
    """Of each vertex of a person.

    Parameters
    ----------
    mesh : FigureMesh
        With the head straight on: what turns later keeps its grain.

    Returns
    -------
    ndarray, shape (n, 7)
        Place [m] (3); of skin how oily it is, 0 to 1, and 2 on the lips, of cloth how far along it
        the collar is [m] (1); unit vector the way that grows on cloth, zero elsewhere (3).

    Examples
    --------
    >>> from moth.world.figures import load_figure
    >>> keeper = load_figure("weathered-man", "seated")
    >>> grain_of(keeper).shape == (len(keeper.vertices), 7)
    True
    """
    out = np.zeros((len(mesh.vertices), 7))
    out[:, :3] = mesh.vertices
    skin = np.unique(mesh.faces[mesh.finish == SKIN])
    out[skin, 3] = _oil(mesh, skin)
    faces = mesh.faces[mesh.finish == GARMENT]
    if len(faces):
        cloth, local = np.unique(faces, return_inverse=True)
        far = _from_collar(mesh.vertices[cloth], local.reshape(-1, 3))
        out[cloth, 3] = far
        out[cloth, 4:] = _growing(mesh.vertices[cloth], local.reshape(-1, 3), far)
    return out


def _oil(mesh, skin):
    """How oily places of the skin are (k,): forehead, nose and chin more than cheeks and neck."""
    at, marks = mesh.vertices[skin], mesh.landmarks
    eyes = (marks["eye_left"] + marks["eye_right"]) / 2
    scale = np.linalg.norm(marks["eye_left"] - marks["eye_right"]) / EYES_APART

    def near(middle, *reach):
        off = (at - middle) / (np.array(reach) * scale)
        return np.exp(-(off**2).sum(1))

    bridge = (eyes + marks["nose_tip"]) / 2
    oil = 0.2 + np.max(
        [
            0.8 * near(marks["nose_tip"], 0.014, 0.02, 0.014),
            0.7 * near(bridge, 0.010, 0.02, 0.022),
            0.6 * near(marks["forehead"], 0.038, 0.04, 0.024),
            0.4 * near(marks["chin"], 0.018, 0.02, 0.014),
            *(0.25 * near(marks[f"cheek_{side}"], 0.02, 0.02, 0.02) for side in ("left", "right")),
        ],
        axis=0,
    )
    # Lips are redder than the skin about them.
    mouth = 0.55 * marks["nose_tip"] + 0.45 * marks["chin"]
    by = mesh.albedo[skin, 1] / np.maximum(mesh.albedo[skin, 0], 1e-6)
    redder = 1 - by / np.median(by)
    about = np.abs((at - mouth) / (np.array([0.036, 0.05, 0.026]) * scale)).max(1) < 1
    return np.where(about & (redder > 0.2), LIPS, oil)


def _edges(places, faces):
    """Pairs of vertices that a triangle joins (k, 2), each once, and their lengths [m]."""
    pairs = np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    pairs, uses = np.unique(pairs, axis=0, return_counts=True)
    return pairs, np.linalg.norm(places[pairs[:, 0]] - places[pairs[:, 1]], axis=1), uses


def _from_collar(places, faces):
    """Way along the cloth to its rim at the neck (k,) [m], by its edges, smoothed."""
    pairs, lengths, uses = _edges(places, faces)
    count = len(places)
    rim = np.unique(pairs[uses == 1])
    rim = rim[places[rim, 2] > places[rim, 2].max() - 0.03]
    links = coo_matrix((lengths, pairs.T), (count, count)).tocsr()
    far = dijkstra(links, directed=False, indices=rim, min_only=True)
    # A piece apart, as a skirt: as if it went on level.
    lost = ~np.isfinite(far)
    far[lost] = places[~lost, 2].max() - places[lost, 2] if lost.any() else 0.0
    joined = coo_matrix((np.ones(len(pairs)), pairs.T), (count, count)).tocsr()
    joined = joined + joined.T
    total = np.maximum(np.asarray(joined.sum(1)).ravel(), 1)
    for _ in range(6):
        far = (far + joined @ far / total) / 2
    return far


def _growing(places, faces, far):
    """Unit vectors along the cloth, the way that a number on its vertices grows (k, 3)."""
    corners = places[faces]
    one, other = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    normal = np.cross(one, other)
    square = np.maximum((normal**2).sum(1, keepdims=True), 1e-18)
    rise = far[faces[:, 1:]] - far[faces[:, :1]]
    slope = rise[:, :1] * np.cross(other, normal) + rise[:, 1:] * np.cross(normal, one)
    slope *= np.sqrt(square) / square
    out = np.zeros_like(places)
    for k in range(3):
        np.add.at(out, faces[:, k], slope)
    return out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-12)
