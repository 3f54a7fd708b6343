"""Triangles and patches, gathered piece by piece."""

from typing import NamedTuple

import numpy as np

from ..materials import FINISHES
from .covered import open_parts
from .normals import middles
from .patches import Sides, gather_patches
from .world import Mesh

MATTE = next(i for i, f in enumerate(FINISHES) if f.name == "matte")
GLOSS = next(i for i, f in enumerate(FINISHES) if f.name == "gloss")
MIRROR = next(i for i, f in enumerate(FINISHES) if f.name == "mirror")


class Part(NamedTuple):
    """A body, or one side of the room, with what its triangles are."""

    vertices: np.ndarray
    faces: np.ndarray
    normals: np.ndarray
    albedo: np.ndarray
    finish: np.ndarray | int
    body: int
    cell: np.ndarray
    """Patch of each triangle, numbered from 0."""
    flat: np.ndarray | None = None
    """Normals of its triangles, where their corners' order does not say it."""
    back: str = "none"
    """Whether its back is seen: "none", as the "same" patches, as its "own"."""
    sheet: int = -1
    through: np.ndarray | None = None
    """Of the sheet, diffuse."""
    sky: np.ndarray | None = None
    """Direction of each patch that is sky."""
    along: np.ndarray | None = None
    """Of hair, at its corners."""
    grain: np.ndarray | None = None
    """Of people, at their corners."""


class Pieces:
    """Collects triangles and patches piece by piece."""

    def __init__(self):
        self.parts, self.patches, self.vertices = [], 0, 0
        self.through, self.other, self.sheet, self.side, self.sky = [], [], [], [], []

    def add(self, part):
        """One more :class:`Part`."""
        vertices, faces, normals, albedo, finish, body, cell, flat, back, sheet, *rest = part
        through, sky, along, grain = rest
        count = int(cell.max()) + 1
        front = self.patches + cell
        behind = {"none": np.full(len(faces), -1), "same": front, "own": front + count}[back]
        if flat is None:
            corners = vertices[faces]
            flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
            flat = flat / np.maximum(np.linalg.norm(flat, axis=1, keepdims=True), 1e-12)
        m = len(faces)
        self.parts.append(
            (
                vertices,
                np.asarray(faces) + self.vertices,
                normals,
                np.broadcast_to(albedo, (len(vertices), 3)),
                np.broadcast_to(finish, m),
                np.full(m, body),
                np.broadcast_to(flat, (m, 3)),
                front,
                behind,
                np.full(m, sheet),
                np.zeros((len(vertices), 3)) if along is None else along,
                np.zeros((len(vertices), 7)) if grain is None else grain,
            )
        )
        self.vertices += len(vertices)
        own = np.arange(self.patches, self.patches + count)
        sides = (
            ((own, own + count, 1), (own + count, own, -1)) if back == "own" else ((own, own, 1),)
        )
        for _, other, side in sides:
            self.other.append(other)
            self.side.append(np.full(count, side))
            self.sheet.append(np.full(count, sheet))
            self.through.append(
                np.broadcast_to(np.zeros(3) if through is None else through, (count, 3))
            )
            self.sky.append(np.zeros((count, 3)) if sky is None else sky)
            self.patches += count

    def mesh(self, figures, furniture):
        columns = (np.concatenate(column) for column in zip(*self.parts, strict=True))
        vertices, faces, normals, albedo, finish, body, flat, front, back, sheet, *rest = columns
        along, grain = rest
        mesh = Mesh(
            vertices,
            faces.astype(np.int32),
            normals,
            along.astype(np.float32),
            grain.astype(np.float32),
            albedo,
            finish.astype(np.int8),
            body.astype(np.int16),
            tuple(figures),
            flat,
            front,
            back,
            sheet,
        )
        patches = gather_patches(
            vertices,
            # Wisps lie over the scalp, which stands for them where light is sent on.
            np.where(along[faces[:, :1]].any(2), faces[:, :1], faces),
            front,
            middles(albedo[faces]),
            open_parts(mesh, furniture),
            Sides(
                *(
                    np.concatenate(k)
                    for k in (self.through, self.other, self.sheet, self.side, self.sky)
                )
            ),
        )
        return mesh, patches
