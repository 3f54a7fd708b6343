"""Everything that stands in the way of light: triangles, patches, cloths, air."""

import math
from dataclasses import dataclass, replace

import numpy as np
from numba import njit

from .outside import Outside
from .patches import Patches
from .rays import RayScene
from .sheets import Panes


@dataclass(frozen=True)
class Mesh:
    """Triangles with what a pixel needs to know of them."""

    vertices: np.ndarray
    """(n, 3) [m]."""
    faces: np.ndarray
    """(m, 3)."""
    normals: np.ndarray
    """(n, 3), unit, for shading."""
    along: np.ndarray
    """(n, 3), unit, the way hair lies; zero for all that is none."""
    grain: np.ndarray
    """(n, 7) what fine relief goes by, of people (:func:`.grain.grain_of`); zero for all else."""
    albedo: np.ndarray
    """(n, 3), linear BT.709."""
    finish: np.ndarray
    """(m,), index into FINISHES."""
    body: np.ndarray
    """(m,): 0 room, 1.. furniture, then figures, then sheets: edges between bodies are edges in the
    picture.
    """
    figures: tuple
    """For each figure its vertices' range and box: (first, last + 1, lowest corner, highest
    corner).
    """
    flat: np.ndarray
    """(m, 3) normal of each triangle, out of a body, out of a sheet's front."""
    front: np.ndarray
    """(m,) patch seen where the ray meets the normal."""
    back: np.ndarray
    """(m,) patch seen from behind; -1 for the inside of a closed body."""
    sheet: np.ndarray
    """(m,) index of the sheet, -1 for none."""

    def normals_at(self, triangle, uv):
        """Normals for shading where rays met triangles.

        Parameters
        ----------
        triangle : ndarray, shape (n,)
        uv : ndarray, shape (n, 2)
            Shares of their second and third corners, as :meth:`RayScene.first` gives them.

        Returns
        -------
        ndarray, shape (n, 3)
            Unit vectors.
        """
        normals = self._between(self.normals, triangle, uv)
        return normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-9)

    def albedo_at(self, triangle, uv):
        """The same for albedo, (n, 3)."""
        return self._between(self.albedo, triangle, uv)

    def _between(self, corners, triangle, uv):
        shares = np.column_stack([1 - uv.sum(1), uv])
        return (corners[self.faces[triangle]] * shares[:, :, None]).sum(1)


@dataclass(frozen=True)
class World:
    """Everything that stands in the way of light, ready for rays."""

    key: str
    mesh: Mesh
    rays: RayScene
    """All of it."""
    solid: RayScene
    """All but the cloths that let light through."""
    sheets: tuple
    rows: Panes
    """The sheets as plain numbers."""
    cloths: Panes
    """Those of them that let light through."""
    patches: Patches
    extinction: float
    """Of the air [1/m]: what haze scatters out of a ray."""
    lenses: np.ndarray
    """(k, 8) glasses of spectacles: middle (3), the way they look (3), half width and half height
    [m].
    """
    outside: Outside | None = None
    """What stands before the windows."""

    def clear(self, origins, directions, distances):
        """Part of the light that comes through: nothing past solid things, the straight share past
        cloth.

        Parameters
        ----------
        origins, directions : ndarray, shape (n, 3)
            Places [m] and unit directions.
        distances : ndarray, shape (n,)
            How far [m].

        Returns
        -------
        ndarray, shape (n,)
            0..1
        """
        part = self.solid.visible(origins, directions, distances).astype(np.float32)
        if len(self.cloths.straight):
            _past_cloths(
                np.ascontiguousarray(origins, float),
                np.ascontiguousarray(directions, float),
                np.ascontiguousarray(distances, float),
                self.cloths,
                part,
            )
        if self.extinction > 0:
            part *= self.left_by_air(distances)
        return part

    def without(self, bodies):
        """The same world for rays, but for some bodies: what would come were they not there.

        Parameters
        ----------
        bodies : sequence of int
            People or furniture, as in Mesh.body.

        Returns
        -------
        World
            Its triangles keep their numbers; light must not be worked out anew in it.
        """
        gone = np.isin(self.mesh.body, bodies)
        solid = opaque(self.mesh, self.patches, self.sheets) & ~gone
        # Where a triangle was there is one without an extent, out of every ray's way.
        faces = np.where(gone[:, None], 0, self.mesh.faces)
        rays = RayScene(self.mesh.vertices, faces)
        return replace(self, rays=rays, solid=RayScene(self.mesh.vertices, self.mesh.faces[solid]))

    def left_by_air(self, distances):
        """Part of the light that haze leaves on a way so long [m]."""
        return np.exp(-self.extinction * np.minimum(distances, HAZE_REACH))


HAZE_REACH = 30.0
"""Haze hangs no farther than this about a place [m]: a ray from the sun passes so much of it."""


@njit(nogil=True, cache=True)
def left_by_air(extinction, distance):
    """Part of the light that haze leaves on its way: Beer and Lambert's law."""
    return math.exp(-extinction * min(distance, HAZE_REACH)) if extinction > 0 else 1.0


@njit(inline="always")
def _along(a, rows, k):
    return a[0] * rows[k, 0] + a[1] * rows[k, 1] + a[2] * rows[k, 2]


@njit(nogil=True, cache=True, error_model="numpy")
def past_cloth(origin, direction, far, cloths):
    """Straight share of every cloth that a ray crosses, multiplied; a cloth it starts or ends on
    does not count.
    """
    centre, right, up, normal, half, straight, _ = cloths
    share = 1.0
    for k in range(len(straight)):
        slant = _along(direction, normal, k)
        if abs(slant) < 1e-9:
            continue
        off = (
            centre[k, 0] - origin[0],
            centre[k, 1] - origin[1],
            centre[k, 2] - origin[2],
        )
        t = _along(off, normal, k) / slant
        if t < 1e-4 or t > far - 1e-4:
            continue
        hit = (
            t * direction[0] - off[0],
            t * direction[1] - off[1],
            t * direction[2] - off[2],
        )
        if abs(_along(hit, right, k)) <= half[k, 0] and abs(_along(hit, up, k)) <= half[k, 1]:
            share *= straight[k]
    return share


@njit(nogil=True, cache=True, error_model="numpy")
def _past_cloths(origins, directions, distances, cloths, part):
    for i in range(len(distances)):
        if part[i] > 0:
            o, d = origins[i], directions[i]
            part[i] *= past_cloth((o[0], o[1], o[2]), (d[0], d[1], d[2]), distances[i], cloths)


def _of_sky(mesh, patches):
    """Which triangles are sky: nothing that would stand in the way of the sun."""
    return patches.sky[mesh.front, 2] != 0


def lets_through(sheets):
    """Which sheets any light comes through, shape (k,)."""
    return np.array([s.material.transmission > 0 for s in sheets], bool)


def opaque(mesh, patches, sheets):
    """Which triangles of a mesh no light goes through, shape (m,)."""
    cloth = np.isin(mesh.sheet, np.flatnonzero(lets_through(sheets)))
    return ~cloth & ~_of_sky(mesh, patches)
