"""Checks of the order of work, one a step: met or not, by how much, what to take in hand."""

from dataclasses import dataclass

import numpy as np

from ..camera import signal_at, stops_over_grey
from ..document import Setup
from ..inspection import inspect_unit
from ..metering import LaidOut, Readings
from ..transport import SKY, SUN, project
from ..wording import Wording, percent
from ..world import landmarks
from .fixed import name_of, read_fixed, window_key
from .picture import Picture
from .plans import Want
from .targets import headroom, mover, read_targets

CLIPPED = 0.005
"""Part of the picture that may clip, besides what is fixed."""
NEAR = 0.34
"""Stops that count as met."""


@dataclass(frozen=True)
class Bench:
    """What the checks work on."""

    setup: Setup
    ready: LaidOut
    picture: Picture
    readings: Readings
    want: Want
    say: Wording
    found: list
    """What is read in the picture, of every person."""

    def read(self, kind):
        """Readings of a kind, of the person whose picture it is."""
        return [r for r in self.found if r.kind == kind and r.key.split()[1] == "0"]

    def open(self, kind):
        """Those of them that are not set aside as meant."""
        return [r for r in self.read(kind) if not r.meant]


@dataclass(frozen=True)
class Verdict:
    """What a check found."""

    met: bool | None
    """None where nothing can be computed."""
    words: str
    panel: str
    """The tool for it."""
    unit: str | None = None
    dimmer: float | None = None
    """Of the unit, which would meet it."""


def _first(bench, *roles):
    return next((u.id for u in bench.setup.units if u.role in roles), None)


def _frame(bench):
    marks = landmarks(bench.setup.figures[0])
    eyes, crown, chin = project(
        bench.ready.camera,
        [(marks["eye_left"] + marks["eye_right"]) / 2, marks["crown"], marks["chin"]],
    )
    if eyes is None or chin is None:
        return Verdict(False, "the face is not in the picture: aim the lens at it", "camera")
    words = f"eyes at {percent(eyes[1])} from the top, " + (
        f"headroom {percent(crown[1])}" if crown else "the crown is cut, as in a close-up"
    )
    if not 0.2 <= eyes[1] <= 0.5:
        tilt = "up" if eyes[1] < 0.2 else "down"
        words += f": tilt {tilt}, eyes sit between 20 and 50 %"
        return Verdict(False, words, "camera")
    if crown and crown[1] > 0.28:
        words += ": more than a quarter of the picture is above the head"
        return Verdict(False, words, "camera")
    if not 0.15 <= eyes[0] <= 0.85:
        words += f"; the face sits at the {'left' if eyes[0] < 0.5 else 'right'} edge"
        return Verdict(False, words, "camera")
    return Verdict(True, words, "camera")


def _own_light(bench):
    """Sources that belong to the place and are on: (id, what it brings to the key side [lx],
    whether it is dimmed).
    """
    units = {u.id: u for u in bench.setup.units}
    for name, lux in bench.readings.mark("key-side").by_unit.items():
        unit = units.get(name)
        if lux > 0 and (unit is None or unit.role == "practical"):
            yield name, lux, unit is not None and unit.dimmer < 1


def _keep(bench):
    fixed = {f.thing for f in bench.setup.fixed}
    windows = bool(fixed & {window_key(o) for o in bench.setup.openings})
    total = max(bench.readings.mark("key-side").lux, 1e-9)
    open_: list[tuple[str, str]] = []
    kept: list[tuple[str, str]] = []
    for name, lux, dimmed in _own_light(bench):
        decided = dimmed or name in fixed or (windows and name in (SKY, SUN))
        words = f"{name_of(bench.setup, name)} brings {percent(lux / total)} of the key side"
        (kept if decided or lux / total < 1 / 16 else open_).append((name, words))
    if open_:
        words = "; ".join(s for _, s in open_)
        words += ": keep it by marking it fixed or dimming it, or put it out"
        first = open_[0][0]
        if first in (SKY, SUN):
            return Verdict(False, words, "room")
        return Verdict(False, words, "unit", first)
    words = "; ".join(s for _, s in kept) or "the place gives no light of its own"
    return Verdict(True, words, "room")


def _fixed(bench):
    rows = read_fixed(bench.setup, bench.picture, bench.say)
    if not rows:
        lit = [o.name for o in bench.setup.openings if bench.setup.sky.on]
        if lit:
            words = f"{lit[0]} is lit by the sky: mark it if its light cannot be changed"
            return Verdict(False, words, "meter")
        return Verdict(True, "nothing is marked as fixed", "meter")
    met = all(r.met for r in rows)
    shown = rows if met else [max(rows, key=lambda r: abs(r.off or 0))]
    return Verdict(met, "; ".join(f"{r.name} {r.words}" for r in shown), "meter")


def _key(bench):
    mark = bench.readings.mark("key-side")
    unit = bench.ready.key_unit
    name = unit.id if unit else None
    if mark.against_camera is None:
        words = "no light on the lit side yet: bring in the key"
        return Verdict(False, words, "unit", name)
    off = mark.against_camera - bench.want.key
    falls = "".join(
        f"; {r.word}: {r.words}" for r in bench.read("face") if r.key.endswith("pattern")
    )
    if abs(off) <= NEAR:
        return Verdict(True, f"key side {mark.stop_words}, on the mark{falls}", "unit", name)
    words = f"key side {mark.stop_words}, {bench.say.off(off)} where the plan wants it{falls}"
    own = mark.by_unit[unit.id] if unit and unit.on else 0.0
    if own > 0:
        dimmer = unit.dimmer * (mark.lux * 2**-off - (mark.lux - own)) / own
        if 0.01 <= dimmer <= 1:
            words += f": {unit.name} at {percent(dimmer)}"
            return Verdict(False, words, "unit", name, dimmer)
    return Verdict(False, words, "unit", name)


def _fill(bench):
    combined = bench.readings.ratios.combined
    ratio, words = combined.ratio, combined.words
    unit = _first(bench, "fill")
    if ratio is None:
        return Verdict(False, words, "meter", unit)
    off = float(np.log2(ratio / bench.want.ratio))
    words += f", wanted {bench.want.ratio:g}:1"
    if abs(off) <= NEAR:
        return Verdict(True, words, "meter", unit)
    side = bench.say.off(off, over="too dark", under="too light")
    return Verdict(False, f"{words}: the shadow side is {side}", "meter", unit)


def _separation(bench):
    found = bench.read("outline")
    if not found:
        return Verdict(None, "the outline is not in the picture", "unit", _first(bench, "edge"))
    bad = [
        r
        for r in bench.open("outline")
        if r.verdict == "fault" or r.word == "too much" or (r.verdict == "mind" and bench.want.edge)
    ]
    if not bad:
        weakest = min(found, key=lambda r: r.figure)
        words = f"the outline reads all round, least at the {weakest.name}: {weakest.words}"
        return Verdict(True, words, "unit", _first(bench, "edge"))
    mended = next((r for r in bad if r.dimmer is not None), None)
    words = "; ".join(f"{r.name} {r.word}, {r.words}" for r in bad)
    if mended is None:
        words += ": an edge from behind, a lighter backdrop there, or other clothes"
    unit = mended.unit if mended else _first(bench, "edge")
    return Verdict(False, words, "unit", unit, mended.dimmer if mended else None)


def _dimmer_for(bench, unit, part, stops):
    brought, k = bench.picture.by_source(part), bench.picture.ids.index(unit)
    now = float(bench.picture.state @ brought)
    if brought[k] <= 0:
        return None
    value = (signal_at(stops) - (now - bench.picture.state[k] * brought[k])) / brought[k]
    return float(value) if 0.01 <= value <= 1 else None


def _background(bench):
    skin, backdrop = bench.picture.signal("skin"), bench.picture.signal("backdrop")
    unit = _first(bench, "background")
    if skin is None or backdrop is None:
        return Verdict(None, "no backdrop beside the head in this picture", "unit", unit)
    want = bench.want
    under = stops_over_grey(skin) - stops_over_grey(backdrop)
    sits = bench.say.off(under, over="under", under="over")
    words = f"{sits} the lit skin, wanted {bench.say.amount(want.backdrop)} under"
    if abs(under - want.backdrop) <= want.within:
        return Verdict(True, words, "unit", unit)
    wanted = stops_over_grey(skin) - want.backdrop
    nearly = wanted + (0.8 if under < want.backdrop else -0.8) * want.within
    fixed = {f.thing for f in bench.setup.fixed}
    # First the lamps that are there for it: dimmers of key and fill are set by the face, not by
    # what is behind it.
    for own in sorted(
        (u for u in bench.setup.units if u.role not in ("key", "fill") and u.id not in fixed),
        key=lambda u: u.role != "background",
    ):
        dimmer = _dimmer_for(bench, own.id, "backdrop", wanted) or _dimmer_for(
            bench, own.id, "backdrop", nearly
        )
        if dimmer is not None:
            words += f": {own.name} at {percent(dimmer)}"
            return Verdict(False, words, "unit", own.id, dimmer)
    moves, _ = mover(bench.setup, bench.picture, "backdrop", wanted)
    if moves is None:
        return Verdict(False, words, "unit", unit)
    if under > want.backdrop:
        return Verdict(False, f"{words}: a lamp on the background would lift it", "unit", unit)
    words += (
        f"; most of it comes from {name_of(bench.setup, moves)}: keep that off with a flag, or"
        " bring the face away from it"
    )
    return Verdict(False, words, "unit", moves)


def _eye_light(bench):
    unit = _first(bench, "eye light") or (bench.ready.key_unit and bench.ready.key)
    found = bench.read("eyes")
    if not found:
        return Verdict(None, "no eye is seen", "unit", unit)
    lit = [r for r in found if r.figure is not None]
    words = "; ".join(f"{r.name}: {r.word}, {r.words}" for r in found)
    if not lit:
        words += ": a lit surface near the lens would give one"
    return Verdict(len(lit) > 0, words, "unit", unit)


def _control(bench):
    found = [
        (f"{unit.name}: {fault}", unit.id)
        for unit in bench.setup.units
        if unit.on
        for fault in inspect_unit(bench.setup, unit.id).faults
    ]
    found += [
        (f"{r.name} {r.word}: move it, or tighten the frame", r.unit)
        for r in bench.found
        if r.kind in ("frame", "mirrored") and r.verdict == "fault" and not r.meant
    ]
    if found:
        return Verdict(False, "; ".join(words for words, _ in found), "unit", found[0][1])
    return Verdict(True, "every beam lands, and nothing stands in the picture", "unit")


def _instruments(bench):
    rows = read_targets(bench.setup, bench.picture, bench.say)
    missed = [r for r in rows if not r.met]
    if missed:
        worst = max(missed, key=lambda r: abs(r.off or 0))
        words = f"{len(missed)} of {len(rows)} targets missed; {worst.name} {worst.words}"
        return Verdict(False, words, "meter", worst.unit, worst.dimmer)
    if rows:
        return Verdict(True, f"all {len(rows)} targets met", "meter")
    mixed = bench.picture.mix.ravel()
    held = np.ones(len(mixed), bool)
    for thing in bench.setup.fixed:
        held[bench.picture.things[thing.thing]] = False
    clipped = float(((mixed >= signal_at(headroom(bench.ready.camera))) & held).mean())
    much = f"{100 * clipped:.1f} %"
    if clipped > CLIPPED:
        return Verdict(False, f"{much} of the picture clips, besides what is fixed", "meter")
    return Verdict(True, f"{much} clips; choose targets to be held to more", "meter")


def _note(bench):
    if bench.setup.notes.strip():
        return Verdict(True, "noted; the level card holds the figures", "note")
    return Verdict(False, "no note yet", "note")


CHECKS = {
    "frame": _frame,
    "keep": _keep,
    "fixed": _fixed,
    "key": _key,
    "fill": _fill,
    "separation": _separation,
    "background": _background,
    "eye-light": _eye_light,
    "control": _control,
    "instruments": _instruments,
    "note": _note,
}
"""Key of a step -> its check."""
