"""Room, furniture and figures as triangles with normals and albedo: what light can meet."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..materials import FINISHES
from .figures import figure_digest, landmarks, load_figure, placed
from .keys import Keyed, content_hash
from .rays import RayScene

MATTE = next(i for i, f in enumerate(FINISHES) if f.name == "matte")
GLOSS = next(i for i, f in enumerate(FINISHES) if f.name == "gloss")
_LUMINANCE = np.array([0.2126, 0.7152, 0.0722])  # BT.709


@dataclass(frozen=True)
class Mesh:
    """Triangles with what a pixel needs to know of them."""

    vertices: np.ndarray
    """(n, 3) [m]."""
    faces: np.ndarray
    """(m, 3)."""
    normals: np.ndarray
    """(n, 3), unit, for shading."""
    albedo: np.ndarray
    """(n, 3), linear BT.709."""
    finish: np.ndarray
    """(m,), index into FINISHES."""
    body: np.ndarray
    """(m,): 0 room, 1.. furniture, then figures: edges between bodies are edges in the picture."""
    figures: tuple
    """For each figure its vertices' range and box: (first, last + 1, lowest corner, highest corner)."""


@dataclass(frozen=True)
class World:
    """Everything that stands in the way of light, ready for rays."""

    key: str
    mesh: Mesh
    rays: RayScene


def _world_parts(setup):
    # Names do not change light.
    drop = {"name", "id"}
    return [
        setup.room.model_dump(),
        [f.model_dump(exclude=drop) for f in setup.furniture],
        [f.model_dump(exclude=drop) | {"figure": figure_digest(f.figure)} for f in setup.figures],
    ]


def world_key(setup):
    """Hash of room, furniture and figures."""
    return content_hash("world-1", _world_parts(setup))


def surface_albedo(surface):
    """Linear BT.709 albedo whose luminance is the surface's reflectance, each part at most 0.95.

    Examples
    --------
    >>> from moth.document import Surface
    >>> surface_albedo(Surface(reflectance=0.5)).tolist()
    [0.5, 0.5, 0.5]
    """
    colour = np.maximum(np.asarray(surface.colour, float), 1e-3)
    return np.minimum(colour * surface.reflectance / (_LUMINANCE @ colour), 0.95)


def _smooth_normals(vertices, faces):
    cross = np.cross(vertices[faces[:, 1]] - vertices[faces[:, 0]], vertices[faces[:, 2]] - vertices[faces[:, 0]])
    out = np.zeros_like(vertices)
    for k in range(3):
        for axis in range(3):
            out[:, axis] += np.bincount(faces[:, k], cross[:, axis], len(vertices))
    return out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-12)


def _faceted(corners, faces):
    """Vertices apart for every triangle, with flat normals."""
    vertices = corners[faces].reshape(-1, 3)
    faces = np.arange(len(vertices), dtype=np.int32).reshape(-1, 3)
    return vertices, faces, _smooth_normals(vertices, faces)


_BOX = np.array([[x, y, z] for z in (0, 1) for y in (0, 1) for x in (0, 1)], float)
_BOX_FACES = {  # outward
    "floor": (0, 2, 3, 1), "ceiling": (4, 5, 7, 6), "south": (0, 1, 5, 4),
    "north": (2, 6, 7, 3), "west": (0, 4, 6, 2), "east": (1, 3, 7, 5),
}


def _quads(names, flip):
    faces = []
    for name in names:
        a, b, c, d = _BOX_FACES[name]
        faces += [(a, c, b), (a, d, c)] if flip else [(a, b, c), (a, c, d)]
    return np.array(faces)


def _ball(rings=24, around=48):
    t, a = np.meshgrid(np.linspace(0, np.pi, rings), np.linspace(0, 2 * np.pi, around, endpoint=False), indexing="ij")
    vertices = np.stack([np.sin(t) * np.cos(a), np.sin(t) * np.sin(a), np.cos(t)], -1).reshape(-1, 3)
    k = np.arange(around)
    faces = np.concatenate([
        np.concatenate([np.stack([r + k, r + k + around, r + (k + 1) % around + around], 1),
                        np.stack([r + k, r + (k + 1) % around + around, r + (k + 1) % around], 1)])
        for r in range(0, (rings - 1) * around, around)
    ])
    return vertices / 2 + [0, 0, 0.5], faces


def _cylinder(around=48):
    a = np.linspace(0, 2 * np.pi, around, endpoint=False)
    ring = np.stack([np.cos(a) / 2, np.sin(a) / 2, 0 * a], 1)
    k, n = np.arange(around), (np.arange(around) + 1) % around
    side_v = np.concatenate([ring, ring + [0, 0, 1]])
    side = np.concatenate([np.stack([k, n, n + around], 1), np.stack([k, n + around, k + around], 1)])
    caps_v = np.concatenate([side_v, [[0, 0, 0], [0, 0, 1]]])
    bottom = np.stack([np.full(around, 2 * around), n, k], 1)
    top = np.stack([np.full(around, 2 * around + 1), k + around, n + around], 1)
    flat_v, flat_f, flat_n = _faceted(caps_v, np.concatenate([bottom, top]))
    normals = np.concatenate([np.concatenate([ring, ring]) * 2, flat_n])
    return np.concatenate([side_v, flat_v]), np.concatenate([side, flat_f + len(side_v)]), normals


def _furniture(item):
    if item.kind == "ball":
        vertices, faces = _ball()
        normals = (vertices - [0, 0, 0.5]) * 2
    elif item.kind == "cylinder":
        vertices, faces, normals = _cylinder()
    else:
        vertices, faces, normals = _faceted(_BOX - [0.5, 0.5, 0], _quads(_BOX_FACES, flip=False))
    size = np.asarray(item.size)
    normals = normals / size
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    turned = placed(normals, (0, 0), item.turn)
    return placed(vertices * size, item.position[:2], item.turn) + [0, 0, item.position[2]], faces, turned


def build_mesh(setup):
    """All triangles of a set-up.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    Mesh
    """
    parts = []  # vertices, faces, normals, albedo, finish, body
    room = setup.room
    corners = _BOX * [room.width, room.depth, room.height]
    for name in _BOX_FACES:
        v, f, n = _faceted(corners, _quads([name], flip=True))
        albedo = np.tile(surface_albedo(getattr(room, name)), (len(v), 1))
        parts.append((v, f, n, albedo, np.full(len(f), MATTE), np.zeros(len(f))))
    for at, item in enumerate(setup.furniture):
        v, f, n = _furniture(item)
        albedo = np.tile(surface_albedo(item.surface), (len(v), 1))
        finish = np.full(len(f), GLOSS if item.gloss > 0.5 else MATTE)
        parts.append((v, f, n, albedo, finish, np.full(len(f), 1 + at)))
    for at, figure in enumerate(setup.figures):
        mesh = load_figure(figure.figure, figure.pose, figure.spectacles)
        v = placed(mesh.vertices, figure.position, figure.facing)
        body = np.full(len(mesh.faces), 1 + len(setup.furniture) + at)
        parts.append((v, mesh.faces, _smooth_normals(v, mesh.faces), mesh.albedo, mesh.finish, body))
    vertices, faces, normals, albedos, finishes, bodies = (list(column) for column in zip(*parts, strict=True))
    starts = np.cumsum([0] + [len(v) for v in vertices[:-1]])
    figures = tuple((at, at + len(v), v.min(0), v.max(0)) for v, at in list(zip(vertices, starts, strict=True))[-len(setup.figures):])
    return Mesh(np.concatenate(vertices), np.concatenate([np.asarray(f) + at for f, at in zip(faces, starts, strict=True)]).astype(np.int32),
                np.concatenate(normals), np.concatenate(albedos), np.concatenate(finishes).astype(np.int8),
                np.concatenate(bodies).astype(np.int16), figures)


@lru_cache(maxsize=12)
def _build(keyed):
    mesh = build_mesh(keyed.value)
    return World(keyed.key, mesh, RayScene(mesh.vertices, mesh.faces))


def build_world(setup):
    """World of a set-up, cached by content.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    World

    Examples
    --------
    >>> from moth.document import load
    >>> s = load({"schema_version": 1, "figures": [{"id": "a", "name": "a", "position": [2, 2]}],
    ...           "cameras": [{"id": "c", "name": "c", "position": [2, 5, 1.5], "aim": [2, 2, 1.5]}]})
    >>> build_world(s) is build_world(s)
    True
    """
    return _build(Keyed(world_key(setup), setup))


def anchor(setup):
    """Place between the eyes of the first figure [m]: what the polar words are measured from."""
    marks = landmarks(setup.figures[0])
    return (marks["eye_left"] + marks["eye_right"]) / 2
