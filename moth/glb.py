"""The whole set-up as a model file that anyone's viewer shows: glTF 2.0, binary (ISO/IEC 12113)."""

import numpy as np
import trimesh
from trimesh.visual.material import PBRMaterial

from .place import ceiling_over
from .transport import build_emitter
from .transport.housings import housing
from .world import build_world, pieces

Z_UP_TO_Y_UP = np.array([[1.0, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]])
"""glTF has Y up; the document Z."""
_HOUSING = (40, 40, 44, 255)


def to_glb(setup):
    """A set-up as a binary glTF file: room, furniture, people, grip and units, in metres.

    Each thing is a node with its name. Colours are what surfaces reflect, diffuse; units are their
    housings with a lit face before them. Light itself is not in it.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    bytes

    Examples
    --------
    >>> from moth.document import bare
    >>> to_glb(bare())[:4]
    b'glTF'
    """
    scene = trimesh.Scene()
    for name, mesh in (*_bodies(setup), *_outside(setup), *_units(setup)):
        mesh.apply_transform(Z_UP_TO_Y_UP)
        scene.add_geometry(mesh, node_name=name, geom_name=name)
    found = scene.export(file_type="glb")
    assert isinstance(found, bytes)
    return found


def _bodies(setup):
    """What light meets, a mesh each."""
    world = build_world(setup)
    mesh = world.mesh
    earth = world.patches.sky[mesh.front, 2] == 0
    names = [
        "Room",
        *(item.name for item in setup.furniture),
        *(figure.name for figure in setup.figures),
        *(pieces(setup)[sheet.piece].name for sheet in world.sheets),
    ]
    for body, name in enumerate(_apart(names)):
        faces = mesh.faces[(mesh.body == body) & earth]
        if body == 0 and setup.room.gaps:
            # The dark over a set is no thing of it.
            middles = mesh.vertices[faces].mean(1)
            faces = faces[middles[:, 2] < ceiling_over(setup.room, middles) + 0.01]
        if not len(faces):
            continue
        used, index = np.unique(faces, return_inverse=True)
        colour = np.column_stack([mesh.albedo[used], np.ones(len(used))])
        yield (
            name,
            trimesh.Trimesh(
                mesh.vertices[used],
                index.reshape(-1, 3),
                vertex_normals=mesh.normals[used],
                vertex_colors=np.round(255 * colour).astype(np.uint8),
                process=False,
            ),
        )


def _outside(setup):
    """What stands before the windows."""
    outside = build_world(setup).outside
    if outside is not None:
        faces = np.arange(len(outside.vertices)).reshape(-1, 3)
        colour = np.column_stack([outside.albedo, np.ones(len(faces))]).repeat(3, 0)
        colours = np.round(255 * colour).astype(np.uint8)
        yield (
            "Outside",
            trimesh.Trimesh(outside.vertices, faces, vertex_colors=colours, process=False),
        )


def _units(setup):
    """Housings, and lit faces before them."""
    for at, unit in enumerate(setup.units):
        emitter = build_emitter(unit, f"units[{at}]")
        a, b, deep = housing(emitter)
        right, up, forward = emitter.vectors
        turn = np.eye(4)
        turn[:3, :3] = np.column_stack([right, up, forward])
        turn[:3, 3] = emitter.centre - (deep / 2 + 0.002) * forward
        body = trimesh.creation.box((2 * a, 2 * b, deep), transform=turn)
        body.visual.vertex_colors = _HOUSING
        yield f"Unit: {unit.name}", body
        corners = [emitter.centre + i * a * right + j * b * up for i, j in _SQUARE]
        face = trimesh.Trimesh(corners, [[0, 1, 2], [0, 2, 3]], process=False)
        glow = PBRMaterial(
            baseColorFactor=(255, 255, 255, 255), emissiveFactor=(1.0, 1.0, 1.0), doubleSided=True
        )
        face.visual = trimesh.visual.TextureVisuals(uv=np.zeros((4, 2)), material=glow)
        yield f"Unit: {unit.name}, lit face", face


_SQUARE = ((-1, -1), (1, -1), (1, 1), (-1, 1))


def _apart(names):
    """Names made to differ: nodes of a scene must."""
    seen: dict[str, int] = {}
    out = []
    for name in names:
        seen[name] = seen.get(name, 0) + 1
        out.append(name if seen[name] == 1 else f"{name} ({seen[name]})")
    return out
