"""Ray casting through Embree. Calls from several threads run side by side: the library releases the lock."""

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene


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
        self._scene = EmbreeScene()
        TriangleMesh(self._scene, vertices.astype(np.float32), faces.astype(np.int32))
        # Embree builds its tree at the first cast: do it here, not inside a timed layer.
        self.visible(np.zeros((1, 3)), np.array([[0.0, 0.0, 1.0]]), np.ones(1))

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
        hit = self._scene.run(
            np.ascontiguousarray(origins, np.float32),
            np.ascontiguousarray(directions, np.float32),
            dists=np.ascontiguousarray(distances, np.float32),
            query="OCCLUDED",
        )
        return hit < 0

    def first(self, origins, directions):
        """First triangle met by each ray.

        Returns
        -------
        primitive : ndarray of int, shape (n,)
            Triangle, -1 for none.
        barycentric : ndarray, shape (n, 2)
            Weights of the second and third corner.
        distance : ndarray, shape (n,)
            [m]; infinite for none.
        """
        out = self._scene.run(
            np.ascontiguousarray(origins, np.float32), np.ascontiguousarray(directions, np.float32), output=1
        )
        none = out["geomID"] < 0
        primitive = np.where(none, -1, out["primID"])
        distance = np.where(none, np.inf, out["tfar"])
        return primitive, np.stack([out["u"], out["v"]], 1), distance

    def nearest(self, origins, directions):
        """Triangle (-1 for none) and distance [m] of the first hit, without the place in it."""
        out = self._scene.run(np.ascontiguousarray(origins, np.float32), np.ascontiguousarray(directions, np.float32), output=1)
        return np.where(out["geomID"] < 0, -1, out["primID"]), out["tfar"]
