"""What triangles are told by: normals that shading goes by, and the mean of their corners."""

import numpy as np
from scipy.sparse import coo_matrix, diags


def middles(corners):
    """Mean of the three corners of triangles: of their places, or of whatever else they have.

    NumPy's own mean over an axis of three takes four times as long, and a person has a hundred
    thousand triangles.

    Parameters
    ----------
    corners : ndarray, shape (m, 3, ...)

    Returns
    -------
    ndarray, shape (m, ...)

    Examples
    --------
    >>> middles(np.array([[[0.0, 0, 0], [3, 0, 0], [0, 3, 0]]])).tolist()
    [[1.0, 1.0, 0.0]]
    """
    return (corners[:, 0] + corners[:, 1] + corners[:, 2]) / 3


def smooth_normals(vertices, faces):
    """Normals at the corners of triangles: of those around, by their areas.

    Parameters
    ----------
    vertices : ndarray, shape (n, 3)
        [m]
    faces : ndarray of int, shape (m, 3)

    Returns
    -------
    ndarray, shape (n, 3)
        Unit; zero where no triangle is.

    Examples
    --------
    >>> corner = np.array([[0.0, 0, 0], [1, 0, 0], [0, 1, 0]])
    >>> smooth_normals(corner, np.array([[0, 1, 2]]))[0].tolist()
    [0.0, 0.0, 1.0]
    """
    cross = np.cross(
        vertices[faces[:, 1]] - vertices[faces[:, 0]], vertices[faces[:, 2]] - vertices[faces[:, 0]]
    )
    out = np.zeros_like(vertices)
    for k in range(3):
        for axis in range(3):
            out[:, axis] += np.bincount(faces[:, k], cross[:, axis], len(vertices))
    return out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-12)


ROUNDS, PACE = 30, 0.35
"""Steps of the descent, and the part of each that is taken: more of it would not come to rest."""


def unrounded(vertices, faces, step):
    """Places that were rounded to whole steps, each moved by at most half a step to where the
    surface bends evenly.

    Triangles of a millimetre whose corners are rounded to a sixteenth of one lean by degrees, and a
    face in light from the side shows each.

    Parameters
    ----------
    vertices : ndarray, shape (n, 3)
        [m]
    faces : ndarray of int, shape (m, 3)
    step : float
        [m]

    Returns
    -------
    ndarray, shape (n, 3)

    Examples
    --------
    >>> x, y = (k.ravel() for k in np.meshgrid(np.arange(9), np.arange(9)))
    >>> corner = np.array([k + 9 * j for j in range(8) for k in range(8)])[:, None]
    >>> two = np.concatenate([corner + [0, 1, 10], corner + [0, 10, 9]])
    >>> slope = np.stack([x, y, 0.3 * x], 1).astype(float)
    >>> true, steps = smooth_normals(slope, two), np.round(slope)
    >>> lean = lambda at: np.arccos((smooth_normals(at, two) * true).sum(1).clip(-1, 1)).mean()
    >>> bool(lean(unrounded(steps, two, 1.0)) < 0.4 * lean(steps))
    True
    """
    n = len(vertices)
    ends = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    ends = np.concatenate([ends, ends[:, ::-1]])
    beside = coo_matrix((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), (n, n)).tocsr()
    beside.data[:] = 1
    mean = diags(1 / np.maximum(np.asarray(beside.sum(1)).ravel(), 1)) @ beside
    alone = np.ones(n, bool)
    alone[faces] = False
    at = vertices
    for _ in range(ROUNDS):
        bend = mean @ at - at
        at = np.clip(at - PACE * (mean @ bend - bend), vertices - step / 2, vertices + step / 2)
    return np.where(alone[:, None], vertices, at)
