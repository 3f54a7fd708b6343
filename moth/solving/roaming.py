"""Room to move: how a person moves in a shot, each as what it changes.

What a move does to the light is seen by trying (:mod:`moth.solving.trying`). Lamps stay where they
are, also those whose aim is kept on the person: nobody pans them in a take.
"""

import numpy as np

from ..document import Setup
from ..errors import MothError
from ..world import anchor, check_placement
from .moves import Proposal
from .trying import Patch, changed

LEAN = 0.3
"""[m]"""
TURN = 30
"""[deg]"""
MOST_TURN = 60
"""As far as a document lets a head be turned [deg]."""


def roaming(setup: Setup) -> list[Proposal]:
    """The first person leaning by 0.3 m, turning the head by 30 degrees, up or down; when up or
    down, the camera tilts after the face.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    list of Proposal
        Those that can be: nobody leans into a wall.

    Examples
    --------
    >>> from moth.document import bare
    >>> [p.words for p in roaming(bare())][:2]
    ['camera left', 'leans in']
    """
    return [p for p in _moves(setup) if _can_be(setup, p)]


def _moves(setup):
    person = setup.figures[0]
    way = np.subtract(setup.cameras[0].position, [*person.position, 0.0])[:2]
    way = way / max(float(np.hypot(*way)), 1e-9)
    left = np.array([way[1], -way[0]])
    turned = lambda by: max(-MOST_TURN, min(MOST_TURN, person.head_turn + by))

    def to(words, by):
        place = (np.add(person.position, LEAN * by)).round(3).tolist()
        return Proposal(words, (Patch("figures", person.id, {"position": place}),))

    def be(words, **change):
        return Proposal(words, (Patch("figures", person.id, change),))

    yield to("camera left", left)
    yield to("leans in", way)
    yield to("leans back", -way)
    yield to("camera right", -left)
    yield be("head to own left", head_turn=turned(TURN))
    yield be("head to own right", head_turn=turned(-TURN))
    words, pose = (
        ("sits down", "seated") if person.pose == "standing" else ("stands up", "standing")
    )
    moved = Patch("figures", person.id, {"pose": pose})
    camera = setup.cameras[0]
    rise = anchor(changed(setup, (moved,))) - anchor(setup)
    aim = (np.asarray(camera.aim) + rise).round(3).tolist()
    yield Proposal(words, (moved, Patch("cameras", camera.id, {"aim": aim})))


def _can_be(setup, proposal):
    try:
        check_placement(changed(setup, proposal.patches))
    except (MothError, ValueError):
        return False
    return True
