"""What stands outside a room, before its windows: houses, walls, trees, on the land around it."""

from dataclasses import dataclass
from functools import cached_property
from hashlib import blake2b

import numpy as np
import shapely

from ..engine.caching import Keyed, cached, content_hash
from ..place import clear_of_walls, corners_of
from .bodies import body_of
from .normals import middles
from .rays import RayScene


@dataclass(frozen=True)
class Outside:
    """Solids that stand in the sun's way and are seen through the windows."""

    key: str
    vertices: np.ndarray
    """(3 m, 3) [m], three after three."""
    normals: np.ndarray
    """(m, 3) unit, out of the solids."""
    albedo: np.ndarray
    """(m, 3) linear BT.709."""

    @cached_property
    def form(self):
        """Hash of where they stand, whatever their paint."""
        return blake2b(self.vertices.tobytes(), digest_size=16).hexdigest()

    @cached_property
    def rays(self):
        """Them alone."""
        return RayScene(self.vertices, np.arange(len(self.vertices)).reshape(-1, 3))

    def clear(self, origins, directions, distances):
        """Whether none of them stands within the distance.

        Parameters
        ----------
        origins, directions : ndarray, shape (n, 3)
            Places [m] and unit directions.
        distances : ndarray, shape (n,)
            [m]

        Returns
        -------
        ndarray of bool, shape (n,)
        """
        return self.rays.visible(
            np.asarray(origins, np.float32),
            np.asarray(directions, np.float32),
            np.asarray(distances, np.float32),
        )


def stands_outside(room, item):
    """Whether a piece of furniture stands outside the room: its middle is beyond the walls.

    Parameters
    ----------
    room : moth.document.Room
    item : moth.document.Furniture

    Returns
    -------
    bool
        False outdoors, where all stands in one world.

    Examples
    --------
    >>> from moth.document import Furniture, Room
    >>> house = Furniture(id="h", name="House", position=(2, -9, 0), size=(8, 6, 7))
    >>> stands_outside(Room(), house), stands_outside(Room(outdoors=True), house)
    (True, False)
    """
    return not room.outdoors and not bool(clear_of_walls(room, [item.position])[0])


def outside_of(setup):
    """What stands outside a set-up's room.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    Outside or None
        None where nothing does.

    Examples
    --------
    >>> from moth.document import bare
    >>> outside_of(bare()) is None
    True
    """
    items = [f for f in setup.furniture if stands_outside(setup.room, f)]
    if not items:
        return None
    drop = {"name", "id", "locked", "gloss"}
    key = content_hash("outside", [f.model_dump(exclude=drop) for f in items])
    return _outside(Keyed(key, items))


WALL = 0.3
"""How thick the walls of the room's own house are outside [m]; typical."""


def house_of(room):
    """The room's own block outside, from the land to over its ceiling. What else its house may be
    is not known.

    Parameters
    ----------
    room : moth.document.Room

    Returns
    -------
    ndarray, shape (m, 3, 3)
        Corners of its triangles [m].

    Examples
    --------
    >>> from moth.document import Room
    >>> house_of(Room(storey=3)).reshape(-1, 3).min(0).round(2).tolist()
    [-0.3, -0.3, -3.0]
    """
    # Loaded by whoever has something outside: a server that only knows this file starts sooner.
    import trimesh

    plan = shapely.Polygon(corners_of(room)).buffer(WALL, join_style="mitre")
    top = room.height + room.rise + WALL + room.storey
    block = trimesh.creation.extrude_polygon(plan, top, engine="manifold")
    block.apply_translation([0, 0, -room.storey])
    return np.asarray(block.triangles, float)


@cached("what is outside")
def _outside(keyed):
    vertices, normals, albedo = [], [], []
    for item in keyed.value:
        body = body_of(item)
        corners = body.vertices[body.faces]
        flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        vertices.append(corners.reshape(-1, 3))
        normals.append(flat / np.linalg.norm(flat, axis=1, keepdims=True))
        albedo.append(middles(body.albedo[body.faces]))
    return Outside(
        keyed.key,
        np.concatenate(vertices).astype(np.float32),
        np.concatenate(normals),
        np.concatenate(albedo),
    )
