"""The plain light that a set-up without any is framed by: it is no part of the set-up, and nothing
is metered by it.
"""

import numpy as np

from ..document import Unit
from ..transport import build_emitter, sources
from ..world import anchor
from .exposure import key_level

WORK = "@work"
"""Id of the work light among a frame's sources."""
BELOW = 0.3
"""How far under the ceiling it hangs [m]."""
TOWARD = 0.6
"""Its place along the way from the face to the lens."""
LEVEL = 0.6
"""Of what the camera's settings ask for, which it brings to the face straight; the room adds to
it.
"""


def by_work_light(setup):
    """A set-up as it is framed: one that nothing lights, since there is no unit or every window is
    blacked out, gets a plain lamp overhead; others stay.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    moth.document.Setup
        Its work light is called :data:`WORK`, is white to the camera and dimmed to its settings.

    Examples
    --------
    >>> from moth.document import bare
    >>> [u.id for u in by_work_light(bare()).units]
    ['@work']
    """
    if any(source.emitters or source.sky for source in sources(setup)):
        return setup
    camera = setup.cameras[0]
    face, lens = anchor(setup), np.asarray(camera.position, float)
    place = face + TOWARD * (lens - face)
    place[2] = setup.room.height - BELOW
    lamp = Unit(
        id="work",
        name="Work light",
        role="other",
        head="bulb",
        position=tuple(place),
        aim=tuple(face),
        cct=camera.white_balance,
        held="built-in",
    )
    to, out = place - face, lens - face
    distance = float(np.linalg.norm(to))
    cosine = float(to @ out) / (distance * max(float(np.linalg.norm(out)), 1e-6))
    straight = float(build_emitter(lamp).face.table[0, 0]) / distance**2 * (1 + cosine) / 2
    # No dimmer goes over full; this is none that anybody turns.
    dimmer = LEVEL * key_level(camera) / max(straight, 1e-6)
    return setup.model_copy(
        update={"units": (lamp.model_copy(update={"id": WORK, "dimmer": dimmer}),)}
    )
