"""Whether a new piece of grip fits where it would hang: in free air, and out of the frame."""

import numpy as np

from ..place import ceiling_over, clear_of_walls
from ..transport import half_spread, lens_axes
from ..transport.housings import body_distance
from ..world import anchor, axes, build_world


def hidden_by(setup, grip=(), emitters=()):
    """Part of the first camera's frame that pieces of grip and units hide, before the face.

    Parameters
    ----------
    setup : moth.document.Setup
    grip : iterable of moth.document.Grip
    emitters : iterable of moth.transport.Emitter
        Their heads, and the rods that hold them.

    Returns
    -------
    float
        0..1

    Examples
    --------
    >>> from moth.document import Grip, bare
    >>> s = bare()
    >>> lens, face = (np.array(p) for p in (s.cameras[0].position, anchor(s)))
    >>> board = Grip(id="b", name="b", material="foam-white", position=tuple((lens + face) / 2),
    ...     aim=tuple(lens), size=(4, 4))
    >>> hidden_by(s, [board]), hidden_by(s, [board.model_copy(update={"position": (9, 9, 9)})])
    (1.0, 0.0)
    """
    camera = setup.cameras[0]
    lens = np.asarray(camera.position, float)
    right, up, forward = lens_axes(camera)
    wide, high = half_spread(camera)
    s, t = np.meshgrid(np.linspace(-1, 1, 32), np.linspace(-1, 1, 18))
    ways = forward + s.reshape(-1, 1) * wide * right + t.reshape(-1, 1) * high * up
    # Depths along the lens axis, as `ways` go on by one of it.
    depth = float((anchor(setup) - lens) @ forward)
    hidden = np.zeros(len(ways), bool)
    for emitter in emitters:
        hidden |= body_distance(lens, ways, emitter) < depth
    for piece in grip:
        across, along, normal = axes(piece.position, piece.aim, piece.roll)
        slope = ways @ normal
        away = (np.asarray(piece.position, float) - lens) @ normal
        away = away / np.where(slope == 0, 1e-9, slope)
        met = lens + away[:, None] * ways - piece.position
        a, b = np.asarray(piece.size) / 2
        inside = (np.abs(met @ across) < a) & (np.abs(met @ along) < b)
        hidden |= inside & (away > 0) & (away < depth)
    return float(hidden.mean())


CLEAR = 0.04
"""Room about a piece of grip [m]."""


def spread(piece, by=0.0):
    """Places all over a piece of grip and about it, shape (25, 3) [m]; its middle is the 13th.

    Parameters
    ----------
    piece : moth.document.Grip
    by : float
        How far beyond its edges [m].
    """
    right, up, _ = axes(piece.position, piece.aim, piece.roll)
    s, t = (k.ravel()[:, None] for k in np.meshgrid(*(np.linspace(-1, 1, 5),) * 2))
    a, b = (half / 2 + by for half in piece.size)
    return np.asarray(piece.position, float) + s * a * right + t * b * up


def in_free_air(setup, piece):
    """Whether a new piece of grip goes through no wall, furniture, person or other grip.

    Parameters
    ----------
    setup : moth.document.Setup
        Without the piece.
    piece : moth.document.Grip

    Examples
    --------
    >>> from moth.document import Grip, bare
    >>> flag = Grip(id="f", name="f", kind="flag", material="duvetyne", position=(1, 4, 1),
    ...     aim=(1, 5, 1), size=(0.6, 0.9))
    >>> [in_free_air(bare(), flag.model_copy(update={"position": p}))
    ...     for p in ((1, 4, 1), (0.1, 4, 1), (2, 2, 1.3))]
    [True, False, False]
    """
    places = spread(piece, CLEAR)
    if places[:, 2].min() < 0:
        return False
    room = setup.room
    if not room.outdoors and not (
        clear_of_walls(room, places, 0.0).all()
        and (places[:, 2] < np.asarray(ceiling_over(room, places))).all()
    ):
        return False
    middle = places[12]
    offs = np.delete(places, 12, 0) - middle
    far = np.linalg.norm(offs, axis=1)
    ways = offs / far[:, None]
    rays = build_world(setup).rays
    return bool(rays.visible(np.tile(middle, (len(far), 1)), ways, far).all())
