"""Where the meter is held and where it points."""

from dataclasses import dataclass, replace

import numpy as np

from ..world import anchor, landmarks

OFF_SKIN = 0.025
"""Distance of the receiver's centre from the skin [m]: the radius of a common dome."""


@dataclass(frozen=True)
class Place:
    """One way of holding the meter."""

    id: str
    name: str
    """What a gaffer would call it, the direction included."""
    position: tuple
    """[m]"""
    direction: tuple
    """Unit vector."""
    receiver: str
    """"dome" or "disc"."""
    shaded: str = ""
    """Id of a unit whose light a hand keeps off the receiver; empty for none."""


def unit_vector(v):
    return v / max(np.linalg.norm(v), 1e-12)


def xyz(v):
    """A place or direction as three plain numbers, for answers."""
    x, y, z = (float(c) for c in v)
    return x, y, z


def standard_marks(setup, world, camera, key=None, lit_from=None, filled_from=None):
    """The marks every figure has, and the set-up's own.

    Parameters
    ----------
    setup : moth.document.Setup
    world : moth.world.World
    camera : moth.document.Camera
    key : str or None
        Id of the source that is the key.
    lit_from : array_like or None, shape (3,)
        Where the key's light comes from: its lamp, board or cloth [m]. Decides which cheek is the
        key side; camera left without one.
    filled_from : array_like or None, shape (3,)
        Where the fill's light comes from [m]; without one the fill side is read toward where the
        key would stand on that side.

    Returns
    -------
    list of Place
    """
    lens = np.asarray(camera.position, float)
    places = []
    for at, figure in enumerate(setup.figures):
        marks = landmarks(figure)
        face = (marks["eye_left"] + marks["eye_right"]) / 2
        front = unit_vector(
            marks["nose_tip"] - face + np.array([0, 0, face[2] - marks["nose_tip"][2]])
        )
        to_lens = unit_vector(lens - face)
        camera_left = np.array([to_lens[1], -to_lens[0], 0.0])
        source = np.asarray(lit_from, float) if key else face + to_lens + camera_left
        cheeks = sorted(
            (marks["cheek_left"], marks["cheek_right"]), key=lambda c: np.linalg.norm(c - source)
        )
        # Off the cheek along its own outward direction, so the dome never starts inside the face.
        outward = [
            unit_vector(front + 0.8 * unit_vector(c - face - front * ((c - face) @ front)))
            for c in cheeks
        ]
        near, far = (c + OFF_SKIN * o for c, o in zip(cheeks, outward, strict=True))
        chin = marks["chin"] + OFF_SKIN * unit_vector(front + np.array([0, 0, -0.6]))
        prefix = "" if at == 0 else f"{figure.id}-"
        whose = "" if at == 0 else f"{figure.name}: "
        held = "key side, toward the key" if key else "camera left, 45° off the lens"
        places += [
            Place(
                prefix + "key-side",
                whose + held,
                tuple(near),
                tuple(unit_vector(source - near)),
                "dome",
            ),
            Place(
                prefix + "chin",
                whose + "under the chin, toward the lens",
                tuple(chin),
                tuple(unit_vector(lens - chin)),
                "dome",
            ),
        ]
        lensward = tuple(far), tuple(unit_vector(lens - far)), "dome"
        places.append(Place(prefix + "fill-side", whose + "fill side, toward the lens", *lensward))
        if key:
            across = unit_vector(np.cross(to_lens, [0.0, 0.0, 1.0]))
            other = source - 2 * ((source - face) @ across) * across
            toward = other if filled_from is None else np.asarray(filled_from, float)
            lit = Place(
                prefix + "fill-toward",
                whose + "fill side, toward the fill",
                tuple(far),
                tuple(unit_vector(toward - far)),
                "dome",
            )
            shaded = whose + "fill side, key shaded off"
            places += [lit, replace(lit, id=prefix + "fill-shaded", name=shaded, shaded=key)]
        backdrop = _backdrop(world, setup, at, face, -to_lens)
        if backdrop is not None:
            hit, facing = backdrop
            places.append(
                Place(
                    prefix + "backdrop", whose + "backdrop behind the figure", hit, facing, "disc"
                )
            )
    places += [
        Place(
            f"mark:{m.id}",
            m.name,
            m.position,
            tuple(unit_vector(np.asarray(m.direction, float))),
            m.receiver,
        )
        for m in setup.marks
    ]
    return places


WISPS = 200
"""Surfaces of a person that a line through the head may cross: hair lies many wisps deep."""


def _backdrop(world, setup, at, face, away):
    """Place and outward direction on what stands behind a figure, seen from the lens beside its own
    body.
    """
    body = 1 + len(setup.furniture) + at
    start = face
    for _ in range(WISPS):
        primitive, _, distance = world.rays.first(start[None], away[None])
        if primitive[0] < 0:
            return None
        hit = start + away * distance[0]
        if world.mesh.body[primitive[0]] != body:
            corners = world.mesh.vertices[world.mesh.faces[primitive[0]]]
            normal = unit_vector(np.cross(corners[1] - corners[0], corners[2] - corners[0]))
            normal = normal if normal @ away < 0 else -normal
            return tuple(hit + 0.005 * normal), tuple(normal)
        start = hit + 0.002 * away
    return None


HEAD_RADIUS = 0.16
"""From the middle of the head to a dome held just off it, on the side of a unit [m]."""
OFF_THE_CHIN = 0.015
"""From nose and chin to such a dome, at least, along the way to the unit [m]."""


def at_head(setup, position):
    """Where a dome is held to the head toward a place, and how it points.

    Parameters
    ----------
    setup : moth.document.Setup
    position : array_like, shape (3,)
        Of the lamp, or of the cloth or board that its light comes from [m].

    Returns
    -------
    Place
    """
    face, marks = anchor(setup), landmarks(setup.figures[0])
    crown = marks["crown"]
    head = np.array([crown[0], crown[1], face[2]])
    toward = np.asarray(position, float) - head
    toward /= np.linalg.norm(toward)
    # From below the dome is held off the chin, not in the mouth.
    out = max(float((np.asarray(marks[k]) - head) @ toward) for k in ("nose_tip", "chin"))
    reach = max(HEAD_RADIUS, out + OFF_THE_CHIN)
    return Place("head", "", tuple(head + reach * toward), tuple(toward), "dome")
