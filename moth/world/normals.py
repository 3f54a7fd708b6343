"""Normals that shading goes by."""

import numpy as np


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
