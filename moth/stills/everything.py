"""All that is read in a still at once: spots, pairs, camera, lights."""

from dataclasses import dataclass

import numpy as np

from ..errors import MothError
from ..wording import THIRDS
from .building import build
from .differing import differ
from .framing import Framing, find_camera
from .kept import kept
from .laying import Laid
from .lights import LightRead, read_lights
from .reading import PairRead, SpotRead, read_pair, read_spot, white_read


@dataclass(frozen=True)
class WhiteRead:
    """White of the light on what has no colour of its own."""

    kelvin: float
    """[K]; counted from a camera at 5600 K where its white is not known."""
    green: float
    """As a unit's."""
    absolute: bool
    """Whether the camera's white is known."""


@dataclass(frozen=True)
class StillRead:
    """What is read in a still."""

    spots: tuple[SpotRead, ...]
    pairs: tuple[PairRead, ...]
    """Each further spot against the first."""
    sides: PairRead | None
    """The shade side against where the key falls."""
    backdrop: PairRead | None
    """The backdrop against where the key falls."""
    white: WhiteRead | None
    framing: Framing | None
    framing_words: str
    """Why there is no camera, or how sure it is."""
    outline: tuple[tuple[float, float], ...]
    """The figure that is laid over: its head's rim in parts of the picture."""
    lights: tuple[LightRead, ...]
    unknown: tuple[str, ...]
    """What this still cannot tell."""


def read_still(data, record, marks, say=THIRDS):
    """Read a still.

    Parameters
    ----------
    data : bytes
        As :func:`moth.stills.kept.keep` keeps it.
    record : moth.stills.marks.Record
    marks : moth.stills.marks.Marks
    say : moth.wording.Wording

    Returns
    -------
    StillRead
    """
    code = kept(data)
    spots = tuple(read_spot(code, record, a) for a in marks.spots)
    pairs = tuple(read_pair(code, record, marks.spots[0], a) for a in marks.spots[1:])
    key = next((s for s in marks.sources if s.role == "key" and s.lit), None)
    framing, words, outline = None, "", ()
    lights: tuple = ()
    try:
        framing = find_camera(marks, record, code.shape[1::-1])
        words = _how_sure(framing)
        outline = _outline(Laid(framing, marks, record))
        lights = tuple(read_lights(code, record, marks, framing, say))
    except MothError as error:
        words = error.sentence
    return StillRead(
        spots=spots,
        pairs=pairs,
        sides=read_pair(code, record, key.lit, marks.shade) if key and marks.shade else None,
        backdrop=(
            read_pair(code, record, key.lit, marks.backdrop) if key and marks.backdrop else None
        ),
        white=_white(code, record, marks),
        framing=framing,
        framing_words=words,
        outline=outline,
        lights=lights,
        unknown=_unknown(record),
    )


def _white(code, record, marks):
    if marks.neutral is None:
        return None
    kelvin, green = white_read(read_spot(code, record, marks.neutral), record)
    return WhiteRead(kelvin, green, record.white is not None)


def _how_sure(framing):
    if framing.sure:
        return "Lens and distance are told within a tenth."
    if framing.focal_length.part > 0.06:
        return (
            "The head alone does not tell the lens: type its length, or mark edges of two walls and"
            " an upright."
        )
    return "Distance follows the size of a grown head, which differs from one to the next."


def _unknown(record):
    found = []
    if record.curve == "unknown":
        found.append(
            "The grade: differences in stops may be a third larger or smaller than they are told."
        )
    if record.white is None:
        found.append("The camera's white: whites are told against each other, not in kelvin.")
    if record.focal_length is None:
        found.append("The lens: it is found from edges of the place, as far as they tell.")
    return tuple(found)


def _outline(laid, count=72):
    """Rim of the head of the figure that is laid over, from its chin round the crown."""
    mesh = laid.world.mesh
    own = np.unique(mesh.faces[mesh.body[: len(mesh.faces)] == 1])
    chin = laid.at["chin"][2]
    places = mesh.vertices[own]
    drawn = laid.drawn(places[places[:, 2] > chin])
    middle = laid.drawn((laid.at["crown"] + laid.at["chin"]) / 2)[0]
    off = (drawn - middle) * [1.0, laid.framing.aspect]
    turn = np.arctan2(off[:, 1], off[:, 0])
    sector = np.floor((turn + np.pi) / (2 * np.pi) * count).astype(int) % count
    rim = []
    for k in range(count):
        here = np.flatnonzero(sector == k)
        if len(here):
            best = here[(off[here] ** 2).sum(1).argmax()]
            rim.append((float(drawn[best, 0]), float(drawn[best, 1])))
    return tuple(rim)


def built_from(data, record, marks, base, title):
    """A set-up from a still; see :func:`moth.stills.building.build`.

    Returns
    -------
    moth.stills.building.Built
    """
    code = kept(data)
    framing = find_camera(marks, record, code.shape[1::-1])
    return build(
        marks, record, framing, read_lights(code, record, marks, framing), base=base, title=title
    )


def differs_from(data, record, marks, setup, say=THIRDS):
    """What a set-up's frame does otherwise; see :func:`moth.stills.differing.differ`.

    Returns
    -------
    list of moth.stills.differing.Differs
    """
    code = kept(data)
    framing = find_camera(marks, record, code.shape[1::-1])
    lights = read_lights(code, record, marks, framing, say)
    return differ(code, record, marks, framing, lights, setup, say)
