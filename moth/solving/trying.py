"""A set-up changed and read beside the one it was made from: what gets better, and what worse."""

from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np

from ..document import Setup
from ..engine.caching import Keyed, cached, content_hash
from ..judging import picture_of, read_picture, whole_layers
from ..wording import THIRDS

RANKS = {"well": 0, "mind": 1, "fault": 2}


@dataclass(frozen=True)
class Patch:
    """New values of some fields of one item of a set-up; all of it where there is none of that id
    yet.
    """

    part: Literal["units", "figures", "cameras", "grip"]
    id: str
    change: dict[str, Any]


@dataclass(frozen=True)
class Told:
    """A reading before or after, in words."""

    name: str
    word: str
    words: str
    rank: Literal["well", "mind", "fault"]


@dataclass(frozen=True)
class Tried:
    """What a change did to the picture."""

    mends: bool
    """Whether the reading that it is about is better than it was."""
    before: Told | None
    after: Told | None
    """None where nothing was asked about."""
    worse: list[Told] = field(default_factory=list)
    """Readings that were better before."""
    skin: float | None = None
    """By how much the lit skin is brighter in the picture [stops]; None where it is not there."""
    faults: int = 0
    """How many readings are in the way after it."""
    outline: Told | None = None
    """The worst of the first person's outline, the pattern of the key on the face."""
    outlines: list[Told] = field(default_factory=list)
    """All parts of the first person's outline that are told."""
    face: Told | None = None
    changes: list[str] = field(default_factory=list)
    """What is otherwise on the face, in words: a side by more than a third of a stop or out of the
    picture, a pattern.
    """


LITTLE = 1 / 3
"""What a side of the face may change by before it is told [stops]; typical of what is seen in a
cut.
"""


def changed(setup, patches):
    """A set-up with some of its fields anew.

    Parameters
    ----------
    setup : moth.document.Setup
    patches : sequence of Patch

    Returns
    -------
    moth.document.Setup

    Raises
    ------
    ValueError
        For values that a set-up cannot have.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare()
    >>> changed(s, [Patch("cameras", s.cameras[0].id, {"iso": 400})]).cameras[0].iso
    400.0
    """
    data = setup.model_dump()
    for patch in patches:
        items = {item["id"]: item for item in data[patch.part]}
        item = {**items.get(patch.id, {"id": patch.id}), **patch.change}
        data[patch.part] = [*{**items, patch.id: item}.values()]
    return Setup.model_validate(data)


def tried(before, after, key=None, say=THIRDS, whole=False):
    """What a change does, by picture and readings of both.

    Parameters
    ----------
    before, after : moth.document.Setup
    key : str, optional
        Of the reading that is to be mended.
    say : moth.wording.Wording
    whole : bool
        Whether both are rendered as large as the desk shows them, before they are read.

    Returns
    -------
    Tried
    """
    pictures = [picture_of(s, whole_layers(s) if whole else None) for s in (before, after)]
    was, now = (
        {r.key: r for r in _read(_keyed(s, p, say, whole)) if not r.meant}
        for s, p in zip((before, after), pictures, strict=True)
    )
    skin, shade = (_brighter(pictures, part) for part in ("skin", "shadow"))
    old_face, face = (found.get("face 0 pattern") for found in (was, now))
    worse = [
        _told(r)
        for k, r in now.items()
        if k != key and RANKS[r.verdict] > (RANKS[was[k].verdict] if k in was else 0)
    ]
    outline = [r for r in now.values() if r.kind == "outline" and r.key.startswith("outline 0 ")]
    own = was.get(key) if key else None
    mends = own is not None and _rank(now.get(key)) < RANKS[own.verdict]
    gone = own and Told(own.name, "not there any more", "", "well")
    return Tried(
        mends=mends,
        before=_told(own) if own else None,
        after=None if own is None else _told(now[key]) if key in now else gone,
        worse=worse,
        skin=skin,
        faults=sum(r.verdict == "fault" for r in now.values()),
        outline=_told(max(outline, key=lambda r: (RANKS[r.verdict], -r.figure)))
        if outline
        else None,
        face=_told(face) if face else None,
        outlines=[_told(r) for r in sorted(outline, key=lambda r: r.key)],
        changes=[
            *_side("key side", skin, pictures[0].signal("skin"), say),
            *_side("shade side", shade, pictures[0].signal("shadow"), say),
            *_pattern(old_face, face),
        ],
    )


def _brighter(pictures, part):
    """By how much a part of the second picture is brighter than in the first [stops], or None."""
    old, new = (p.signal(part) for p in pictures)
    return float(np.log2(new / old)) if old and new else None


def _side(name, stops, before, say):
    if stops is None:
        return [f"{name} not in the picture any more"] if before else []
    if abs(stops) <= LITTLE:
        return []
    return [f"{name} {say.off(stops, over='brighter', under='darker')}"]


def _pattern(old, new):
    """That the key throws another pattern, or none any more."""
    if old is None or (new and new.word == old.word):
        return []
    return [f"{old.word} becomes {new.word}" if new else f"{old.word} is lost"]


def _keyed(setup, picture, say, whole):
    key = content_hash("readings", setup.model_dump(mode="json"), say.step, whole)
    return Keyed(key, (setup, picture, say))


@cached("readings")
def _read(keyed):
    return read_picture(*keyed.value)


def _rank(reading):
    return RANKS[reading.verdict] if reading else 0


def _told(reading):
    return Told(reading.name, reading.word, reading.words, reading.verdict)
