"""Ray casting: whole arrays of rays at once, without the interpreter's lock, so that calls from
several threads run side by side.
"""

import numpy as np
from numba import njit

from .embree import (
    WIDTH,
    Triangles,
    cast_nearest,
    cast_occluded,
    hit_of,
    is_clear,
    new_packet,
    put_ray,
    set_reach,
)


@njit(inline="always")
def _fill(packet, origins, directions, a, m):
    packet.counted[m:] = 0
    for k in range(m):
        o, d = origins[a + k], directions[a + k]
        put_ray(packet, k, (o[0], o[1], o[2]), (d[0], d[1], d[2]), np.inf)


@njit(nogil=True, cache=True)
def _visible(scene, origins, directions, distances, clear):
    packet = new_packet()
    n = len(distances)
    for a in range(0, n, WIDTH):
        m = min(WIDTH, n - a)
        _fill(packet, origins, directions, a, m)
        for k in range(m):
            set_reach(packet, k, distances[a + k])
        cast_occluded(scene, packet)
        for k in range(m):
            clear[a + k] = is_clear(packet, k)


@njit(nogil=True, cache=True)
def _first(scene, origins, directions, primitive, barycentric, distance):
    packet = new_packet()
    n = len(distance)
    for a in range(0, n, WIDTH):
        m = min(WIDTH, n - a)
        _fill(packet, origins, directions, a, m)
        cast_nearest(scene, packet)
        for k in range(m):
            i = a + k
            primitive[i], barycentric[i, 0], barycentric[i, 1], distance[i] = hit_of(packet, k)


def _rows(numbers):
    """As the packets hold them: one form, so that the loops are compiled once."""
    return np.ascontiguousarray(numbers, np.float32)


class RayScene:
    """Triangles that rays can be cast against.

    Parameters
    ----------
    vertices : ndarray, shape (n, 3)
        Positions [m].
    faces : ndarray, shape (m, 3)
        Vertex indices.

    Examples
    --------
    >>> floor = RayScene(np.array([[-9, -9, 0], [9, -9, 0], [0, 9, 0.0]]), np.array([[0, 1, 2]]))
    >>> floor.visible(np.array([[0, 0, 1.0]]), np.array([[0, 0, -1.0]]), np.array([0.5])).tolist()
    [True]
    >>> floor.visible(np.array([[0, 0, 1.0]]), np.array([[0, 0, -1.0]]), np.array([2.0])).tolist()
    [False]
    """

    def __init__(self, vertices, faces):
        self.triangles = Triangles(vertices, faces)

    @property
    def nbytes(self):
        """Of memory that it holds."""
        return self.triangles.nbytes

    def visible(self, origins, directions, distances):
        """Whether nothing stands within the distance.

        Parameters
        ----------
        origins, directions : ndarray, shape (n, 3)
            Places [m] and unit directions.
        distances : ndarray, shape (n,)
            How far to look [m].

        Returns
        -------
        ndarray of bool, shape (n,)
        """
        clear = np.empty(len(distances), bool)
        _visible(
            self.triangles.together, _rows(origins), _rows(directions), _rows(distances), clear
        )
        return clear

    def first(self, origins, directions):
        """First triangle met by each ray.

        Returns
        -------
        primitive : ndarray of int, shape (n,)
            Triangle, -1 for none.
        barycentric : ndarray of float32, shape (n, 2)
            Weights of the second and third corner.
        distance : ndarray of float32, shape (n,)
            [m]; infinite for none.
        """
        n = len(origins)
        found = np.empty(n, np.int32), np.empty((n, 2), np.float32), np.empty(n, np.float32)
        _first(self.triangles.scattered, _rows(origins), _rows(directions), *found)
        return found

    def nearest(self, origins, directions):
        """Triangle (-1 for none) and distance [m] of the first hit, without the place in it."""
        primitive, _, distance = self.first(origins, directions)
        return primitive, distance
