"""Wishes put together, and set-ups of the units at hand that come nearest to them.

The key is carried over a small grid about where it stands; in each place the dimmers follow, for
light adds: the key by the camera's stop, the fill by the ratio, edges and backgrounds by what the
picture read so offers. What came of it is read like any other picture.
"""

from dataclasses import dataclass
from typing import Literal

from ..document import Setup, to_polar
from ..errors import MothError
from ..inspection import inspect_unit
from ..judging import picture_of, read_picture
from ..metering import lay_out, read_setup
from ..place import in_its_way
from ..wording import THIRDS
from ..world import anchor, check_placement
from .level import with_level
from .moves import polar_patch
from .ratio import set_ratio
from .trying import Patch, changed

NEAR = 0.34
"""Stops that count as met."""
GRID = (
    *((0, 0), (15, 0), (-15, 0), (0, 12), (0, -12), (30, 0), (-30, 0), (15, 12), (-15, 12)),
    *((15, -12), (-15, -12), (30, 12), (-30, 12), (45, 6)),
)
"""Degrees by which the key is carried round, away from the lens above zero, and higher."""


@dataclass(frozen=True)
class Wish:
    """One thing asked for."""

    kind: Literal["stop", "ratio", "outline", "shadow", "glare", "soft", "pattern", "frame"]
    low: float | None = None
    """Of a ratio, or of the softness [deg]."""
    high: float | None = None
    word: str | None = None
    """Of a pattern."""


@dataclass(frozen=True)
class Granted:
    """A wish, and how far it is met."""

    kind: str
    met: bool
    words: str


@dataclass(frozen=True)
class Offer:
    """A set-up that was tried for some wishes."""

    setup: Setup
    words: str
    """What it changes."""
    wishes: tuple[Granted, ...]
    costs: tuple[str, ...]
    """Readings that are in the way in it."""


def offer(setup, wishes, at, say=THIRDS):
    """The offer of one place of the key.

    Parameters
    ----------
    setup : moth.document.Setup
    wishes : sequence of Wish
    at : int
        Index into :data:`GRID`; 0 leaves the key where it is.
    say : moth.wording.Wording

    Returns
    -------
    Offer or None
        None where the key cannot stand there.

    Raises
    ------
    MothError
        When there is no unit that can be the key.
    """
    key = lay_out(setup).key_unit
    if key is None:
        raise MothError("Nothing here can be the key: bring in a unit first.", "unit")
    made, said = _carried(setup, key, *GRID[at])
    if made is None:
        return None
    made, more = _dimmed(made, key, {w.kind: w for w in wishes}, say)
    found = read_picture(made, picture_of(made), say)
    best = next((r for r in found if r.kind == "outline" and r.dimmer is not None), None)
    if best and any(w.kind == "outline" for w in wishes):
        # What the picture offers for its worst is taken once, and read again.
        made = changed(made, [Patch("units", best.unit, {"dimmer": best.dimmer, "on": True})])
        more.append(f"{_named(made, best.unit)} at {100 * best.dimmer:.0f} %")
        found = read_picture(made, picture_of(made), say)
    granted = tuple(_grant(made, key.id, w, found, say) for w in wishes)
    asked = {"outline", "eyes", "face", "backdrop", "frame"}
    costs = tuple(
        f"{r.name}: {r.word}"
        for r in found
        if r.verdict == "fault" and r.kind in asked and not r.meant
    )
    return Offer(made, "; ".join([*said, *more]) or "as it is", granted, costs)


def _named(setup, unit):
    return next(u.name for u in setup.units if u.id == unit)


def _carried(setup, key, round_, higher):
    if not round_ and not higher:
        return setup, []
    now = to_polar(key.position, anchor(setup), setup.cameras[0].position)
    side = 1 if now.angle >= 0 else -1
    patch = polar_patch(setup, key, angle=round_ * side, height=higher)
    past_the_lens = abs(now.angle) + round_ < 0
    if patch is None or past_the_lens:
        return None, []
    try:
        made = changed(setup, [patch])
        check_placement(made)
    except (MothError, ValueError):
        return None, []
    unit = next(u for u in made.units if u.id == key.id)
    if in_its_way(made, unit):
        return None, []
    words = []
    if round_:
        words.append(f"{abs(round_)}° {'farther round' if round_ > 0 else 'toward the lens'}")
    if higher:
        words.append(f"{abs(higher)}° {'higher' if higher > 0 else 'lower'}")
    return made, [f"{key.name} {', '.join(words)}"]


def _dimmed(setup, key, wishes, say):
    """Key and fill by their dimmers, as far as stop and ratio are asked for."""
    said = []
    if "stop" in wishes:
        setup = with_level(setup, key.id, say=say).setup
        said.append(f"{key.name} to the stop")
    ratio = wishes.get("ratio")
    fill = next((u for u in setup.units if u.role == "fill" and u.on), None)
    if ratio and fill:
        now = read_setup(setup).ratios.combined.ratio
        low, high = ratio.low or 1.0, ratio.high or 64.0
        if now is None or not low <= now <= high:
            setup, words = _filled(setup, fill, low, high, now)
            said.append(words)
    return setup, said


def _filled(setup, fill, low, high, now):
    """The fill for a ratio between two: the middle of them, else the end that can be had, else as
    far as it goes.
    """
    for target in ((low * high) ** 0.5, low * 1.03, high / 1.03):
        try:
            return set_ratio(setup, fill.id, target).setup, f"{fill.name} for the ratio"
        except MothError:
            continue
    dark = now is not None and now < low
    change = {"on": False} if dark else {"dimmer": 1.0}
    words = f"{fill.name} {'off' if dark else 'at full'}"
    return changed(setup, [Patch("units", fill.id, change)]), words


def _grant(setup, key, wish, found, say):
    def told(met, words):
        return Granted(wish.kind, bool(met), words)

    if wish.kind in ("stop", "ratio"):
        readings = read_setup(setup, say=say)
        if wish.kind == "stop":
            mark = readings.mark("key-side")
            off = mark.against_camera
            return told(off is not None and abs(off) <= NEAR, f"key side {mark.stop_words}")
        ratio = readings.ratios.combined
        low, high = wish.low or 1.0, wish.high or 64.0
        near = ratio.ratio is not None and 0.97 * low <= ratio.ratio <= 1.03 * high
        return told(near, ratio.words)
    if wish.kind == "soft":
        degrees = inspect_unit(setup, key, say).size.degrees
        return told(degrees >= (wish.low or 0.0), f"{degrees:.0f}° soft")
    if wish.kind == "pattern":
        word = next((r.word for r in found if r.key == "face 0 pattern"), "none")
        return told(word == wish.word, word)
    bad = {
        "outline": [r for r in found if r.key.startswith("outline 0") and r.verdict != "well"],
        "shadow": [r for r in found if r.key.startswith("backdrop shadow")],
        "glare": [r for r in found if " glass " in r.key and r.verdict != "well"],
        "frame": [r for r in found if r.kind in ("frame", "mirrored") and r.verdict == "fault"],
    }[wish.kind]
    well = {
        "outline": "reads all round",
        "shadow": "none on the backdrop",
        "glare": "no glare",
        "frame": "nothing in it",
    }[wish.kind]
    bad = [r for r in bad if not r.meant]
    words = ", ".join(f"{r.name} {r.word}" for r in bad[:2])
    return told(not bad, words + (f" and {len(bad) - 2} more" if len(bad) > 2 else "") or well)
