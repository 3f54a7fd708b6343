"""A set-up as a world: room, furniture, people, grip and units as triangles with normals and
albedo.
"""

import numpy as np

from ..engine.caching import Keyed, cached, content_hash
from ..place import arm_rods, grip_rods
from .bodies import body_of
from .figures import dressed, landmarks, normals_of, placed, spectacle_lenses
from .gathering import GLOSS, MATTE, MIRROR, Part, Pieces
from .held import STEEL, tubes, unit_mesh
from .normals import smooth_normals
from .outside import outside_of, stands_outside
from .patches import clusters, even, rectangle
from .rays import RayScene
from .room import add_room
from .sheets import panes, sheets_of
from .world import World, lets_through, opaque


def _world_parts(setup):
    # Names do not change light, nor does what the eyes rest on, nor what a hand may move, nor what
    # an aim is kept on or between.
    drop = {"name", "id"}
    indoors = not setup.room.outdoors
    return [
        setup.room.model_dump(),
        [f.model_dump(exclude=drop | {"locked"}) for f in setup.furniture],
        [f.model_dump(exclude=drop | {"eyeline"}) for f in setup.figures],
        [g.model_dump(exclude=drop | {"aims_at", "throws"}) for g in setup.grip],
        [o.model_dump(exclude=drop) for o in setup.openings] if indoors else [],
        [m.model_dump(exclude={"name"}) for m in setup.materials],
        setup.haze,
        *(_bodies(setup) if setup.bodies_shade else ()),
    ]


def _bodies(setup):
    """What the shadows of units hang on: their heads and places, not what they send."""
    shape = {"head", "ies", "attachments", "position", "aim", "roll", "held", "foot", "bearer"}
    return [u.model_dump(include=shape | {"piece"}) for u in setup.units]


def world_key(setup):
    """Hash of room, furniture, figures and grip."""
    return content_hash("world", _world_parts(setup))


def _furniture(item, body):
    own = body_of(item)
    finish = np.where(own.gloss, GLOSS, MATTE)
    parts = own.vertices, own.faces, own.normals, own.albedo, finish, body, own.cell
    # A surface that is not closed is seen from both sides, which may be lit otherwise.
    return Part(*parts, back="none" if own.closed else "own")


def build_mesh(setup, sheets):
    """All triangles of a set-up, and the patches they belong to.

    Parameters
    ----------
    setup : moth.document.Setup
    sheets : list of moth.world.sheets.Sheet

    Returns
    -------
    Mesh, Patches
    """
    pieces = Pieces()
    add_room(pieces, setup, sheets)
    for at, item in enumerate(setup.furniture):
        if not stands_outside(setup.room, item):
            pieces.add(_furniture(item, 1 + at))
    figures = []
    for at, figure in enumerate(setup.figures):
        mesh = dressed(figure)
        v = placed(mesh.vertices, figure.position, figure.facing)
        figures.append((pieces.vertices, pieces.vertices + len(v), v.min(0), v.max(0)))
        # Garments are thin sheets that show their inside.
        pieces.add(
            Part(
                v,
                mesh.faces,
                placed(normals_of(figure), (0, 0), figure.facing),
                mesh.albedo,
                mesh.finish,
                1 + len(setup.furniture) + at,
                _clusters_of(v, mesh),
                back="same",
                along=placed(mesh.along, (0, 0), figure.facing),
                grain=np.column_stack(
                    [mesh.grain[:, :4], placed(mesh.grain[:, 4:], (0, 0), figure.facing)]
                ),
            )
        )
    for at, sheet in enumerate(sheets):
        a, b = 2 * sheet.half[0] * sheet.right, 2 * sheet.half[1] * sheet.up
        v, f, cells = rectangle(sheet.centre - a / 2 - b / 2, a, b, *(even(k) for k in sheet.cells))
        m = sheet.material
        finish = MIRROR if m.mirror > 0.5 else MATTE
        pieces.add(
            Part(
                v,
                f,
                _rounded(sheet, v),
                np.minimum(m.reflectance * m.hue, 0.95),
                finish,
                1 + len(setup.furniture) + len(setup.figures) + at,
                cells,
                np.tile(sheet.normal, (len(f), 1)),
                back="own",
                sheet=at,
                through=np.minimum(m.through * m.hue, 0.95),
            )
        )
    _add_grip_stands(pieces, setup, sheets)
    _add_units(pieces, setup, sheets)
    return pieces.mesh(figures, len(setup.furniture))


def _clusters_of(vertices, mesh):
    """Patches of a person's triangles: those of skin, cloth and scalp, which wisps share."""
    solid = mesh.under == np.arange(len(mesh.faces))
    cell = np.empty(len(mesh.faces), int)
    cell[solid] = clusters(vertices, mesh.faces[solid], 0.25)
    return cell[mesh.under]


def _add_grip_stands(pieces, setup, sheets):
    """What holds the grip, as the body of its first sheet."""
    first = 1 + len(setup.furniture) + len(setup.figures)
    for at, piece in enumerate(setup.grip):
        rods = (*grip_rods(setup.room, piece), *arm_rods(setup, piece))
        sheet = next((k for k, s in enumerate(sheets) if s.piece == at), None)
        if rods and sheet is not None:
            pieces.add(_steel(tubes(rods), first + sheet))


def _add_units(pieces, setup, sheets):
    """Heads and what holds them, where they are to throw shadows: bodies after those of sheets."""
    first = 1 + len(setup.furniture) + len(setup.figures) + len(sheets)
    for at, unit in enumerate(setup.units if setup.bodies_shade else ()):
        made = unit_mesh(unit, setup.room)
        if made:
            pieces.add(_steel(made, first + at))


def _steel(made, body):
    v, f, cells = made
    normals = smooth_normals(v, f)
    return Part(v, f, normals, np.full(3, STEEL), MATTE, body, cells, back="none")


def _rounded(sheet, vertices):
    """Normals at a sheet's corners: its own, or those of the round shade that it is a part of."""
    if not sheet.behind:
        return np.tile(sheet.normal, (len(vertices), 1))
    across = ((vertices - sheet.centre) @ sheet.right)[:, None]
    out = sheet.behind * sheet.normal + across * sheet.right
    return out / np.linalg.norm(out, axis=1, keepdims=True)


@cached("worlds")
def _build(keyed):
    sheets = sheets_of(keyed.value)
    mesh, patches = build_mesh(keyed.value, sheets)
    rows = panes(sheets)
    rays = RayScene(mesh.vertices, mesh.faces)
    stops = opaque(mesh, patches, sheets)
    solid = rays if stops.all() else RayScene(mesh.vertices, mesh.faces[stops])
    return World(
        keyed.key,
        mesh,
        rays,
        solid,
        tuple(sheets),
        rows,
        rows.some(lets_through(sheets)),
        patches,
        keyed.value.haze,
        spectacle_lenses(keyed.value.figures),
        outside_of(keyed.value),
    )


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
    >>> from moth.document import bare
    >>> s = bare()
    >>> build_world(s) is build_world(s)
    True
    """
    return _build(Keyed(world_key(setup), setup))


def anchor(setup):
    """Place between the eyes of the first figure [m]: what the polar words are measured from."""
    marks = landmarks(setup.figures[0])
    return (marks["eye_left"] + marks["eye_right"]) / 2
