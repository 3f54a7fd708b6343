"""A rig as plain arrays that the renderers' scripts read: no file of theirs is written here."""

from contextlib import contextmanager
from dataclasses import replace
from itertools import pairwise
from unittest import mock

import numpy as np

from moth.document import load
from moth.photometry import lamp_of
from moth.transport.view import half_spread, lens_axes
from moth.world import build_world, outside
from moth.world import sheets as grip
from moth.world.sheets import opening_place

PICTURE = (160, 90)
SHELL = 0.005
"""How far outside a house's front is off its room's walls [m]."""


@contextmanager
def open_windows():
    """The references' windows are holes in walls without thickness: while this holds, ours get
    glass that sends nothing back, and a house no larger outside than its room.

    A world that was built before keeps the glass that it has.
    """
    with (
        mock.patch.object(grip, "GLASS", replace(grip.GLASS, reflectance=0.0)),
        mock.patch.object(outside, "WALL", SHELL),
    ):
        yield


def _walls(setup):
    """The room's walls as rectangles, with holes where the windows are."""
    room = setup.room
    box = np.array([room.width, room.depth, room.height])
    faces = {
        "floor": ((0, 0, 0), (1, 0, 0), (0, 1, 0)),
        "ceiling": ((0, 0, 1), (0, 1, 0), (1, 0, 0)),
        "south": ((0, 0, 0), (0, 0, 1), (1, 0, 0)),
        "north": ((0, 1, 0), (1, 0, 0), (0, 0, 1)),
        "west": ((0, 0, 0), (0, 1, 0), (0, 0, 1)),
        "east": ((1, 0, 0), (0, 0, 1), (0, 1, 0)),
    }
    out = []
    for name in ("floor",) if room.outdoors else faces:
        corner, a, b = (np.array(k, float) * box for k in faces[name])
        if room.outdoors:
            corner, a, b = (
                np.array([-3000.0, -3000, 0]),
                np.array([6000.0, 0, 0]),
                np.array([0, 6000.0, 0]),
            )
        holes = []
        for opening in setup.openings:
            if opening.wall == name:
                middle, _ = opening_place(setup, opening)
                # Which of the wall's two ways is level: the window's width lies along it.
                level = 0 if abs(a[2]) < 1e-9 else 1
                half = (
                    np.array(opening.size) / 2 if level == 0 else np.array(opening.size)[::-1] / 2
                )
                la, lb = np.linalg.norm(a), np.linalg.norm(b)
                u, v = (middle - corner) @ a / la / la, (middle - corner) @ b / lb / lb
                holes.append(
                    (u - half[0] / la, u + half[0] / la, v - half[1] / lb, v + half[1] / lb)
                )
        us = sorted({0.0, 1.0, *(k for h in holes for k in h[:2])})
        vs = sorted({0.0, 1.0, *(k for h in holes for k in h[2:])})
        for u0, u1 in pairwise(us):
            for v0, v1 in pairwise(vs):
                if any(h[0] < (u0 + u1) / 2 < h[1] and h[2] < (v0 + v1) / 2 < h[3] for h in holes):
                    continue
                out.append((name, corner + u0 * a + v0 * b, (u1 - u0) * a, (v1 - v0) * b))
    if setup.openings and not room.outdoors and (setup.sky.on or setup.sky.sun):
        # The house's fronts, and the land that sky and sun light where it lets them. What a lamp
        # outside gives the land is not in the model.
        middle = box / 2
        for _, corner, a, b in list(out):
            normal = np.cross(a, b) / np.linalg.norm(np.cross(a, b))
            away = np.sign((corner + a / 2 + b / 2 - middle) @ normal) * SHELL * normal
            out.append(("shell", corner + away, a, b))
        low = np.array([-600.0, -600.0, -room.storey - 0.01])
        out.append(("land", low, np.array([1200.0, 0, 0]), np.array([0, 1200.0, 0])))
    return out


def _albedo(setup, wall):
    from moth.world.figures import surface_albedo
    from moth.world.surroundings import OUTER_WALLS

    own = {"land": surface_albedo(setup.room.land), "shell": np.full(3, OUTER_WALLS)}
    return own[wall] if wall in own else surface_albedo(getattr(setup.room, wall))


def _frame(face):
    """A lit face as the references read it: kind, centre, right, up, forward, half sizes."""
    half = [face.half_width, face.half_height]
    return np.concatenate([[face.kind], face.centre, face.right, face.up, face.forward, half])


def _told(setup, emitters):
    """Intensity over turn and angle, and brightness over the face, of heads of the catalogue with
    what hangs on them.
    """
    out = {}
    for k, (unit, emitter) in enumerate(zip(setup.units, emitters, strict=True)):
        if not unit.ies:
            distribution = lamp_of(unit).distribution
            turns = np.linspace(0, 360, 721 if len(distribution.horizontal) > 1 else 1)
            out[f"field{k}"] = distribution.table(np.linspace(0, 180, 7201), turns)
            out[f"pattern{k}"] = emitter.face.pattern
    return out


@open_windows()
def export(data, path):
    """Write one rig as path.npz.

    Parameters
    ----------
    data : dict
        A set-up document, as of :func:`bench.accuracy.rigs.rigs`.
    path : str
    """
    from moth.transport.sources import outside as sky_outside
    from moth.transport.sources import sun_direction

    setup = load(data)
    world = build_world(setup)
    mesh = world.mesh
    # The walls of a plain room are given as rectangles, of any other shape as they are here.
    shaped = setup.room.outline is not None or setup.room.rise > 0
    solid = ((mesh.body > 0) | shaped) & (mesh.sheet < 0)
    sheets = [s for s in world.sheets if s.material.key != "glass"]
    from moth.transport.emitters import build_emitter

    bare = [u.model_copy(update={"attachments": ()}) if u.ies else u for u in setup.units]
    emitters = [build_emitter(u) for u in bare]
    camera = setup.cameras[0]
    walls = [] if shaped else _walls(setup)
    sky = setup.sky
    np.savez_compressed(
        path,
        vertices=mesh.vertices,
        faces=mesh.faces[solid],
        normals=mesh.normals,
        albedo=mesh.albedo,
        walls=np.array([np.concatenate(w[1:]) for w in walls]).reshape(-1, 9),
        wall_albedo=np.array([_albedo(setup, w[0]) for w in walls]).reshape(-1, 3),
        sheets=np.array(
            [np.concatenate([s.centre, s.right, s.up, s.normal, s.half]) for s in sheets]
        ).reshape(-1, 14),
        shares=np.array(
            [
                [
                    m.reflectance,
                    m.mirror,
                    m.lobe,
                    m.lobe_width,
                    m.straight,
                    m.forward,
                    m.forward_width,
                    m.through,
                    *m.hue,
                ]
                for m in (s.material for s in sheets)
            ]
        ).reshape(-1, 11),
        lamps=np.array([_frame(e.face) for e in emitters]).reshape(-1, 15),
        peak=np.array([float(e.face.table[0, 0]) for e in emitters]),
        tables=(
            np.array([e.face.table[0] for e in emitters]).reshape(len(emitters), -1)
            if emitters
            else np.zeros((0, 1))
        ),
        crate=np.array(
            [
                u.attachments[0].settings["cutoff"] if b != u else 0
                for b, u in zip(bare, setup.units, strict=True)
            ]
        ),
        marks=np.array([[*m.position, *m.direction] for m in setup.marks]),
        camera=np.concatenate(
            [camera.position, camera.aim, half_spread(camera), *lens_axes(camera)]
        ),
        picture=np.array(PICTURE),
        outdoors=setup.room.outdoors,
        sky=np.array(
            [
                sky.level if (setup.openings or setup.room.outdoors) and sky.on else 0.0,
                float(sky_outside(sky)(np.array([[0, 0, 1.0]]))[0]) * sky.level / 10_000,
            ]
        ),
        sun=np.array([*sun_direction(sky.sun), sky.sun.level]) if sky.sun else np.zeros(0),
        **_told(setup, emitters),
    )
