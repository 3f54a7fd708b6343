"""Two set-ups side by side: what differs, in words and stops."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..camera import shutter_time
from ..inspection import inspect_unit
from ..materials import MATERIALS
from ..metering import read_setup
from ..photometry import ATTACHMENTS, HEADS
from ..units import stops
from ..wording import TENTHS, THIRDS, percent
from .picture import picture_of
from .reading import read_picture

SAME = 0.1
"""Stops that are called the same."""


@dataclass(frozen=True)
class Difference:
    """One thing that is not as in the reference."""

    kind: Literal["level", "ratio", "reading", "camera", "unit", "grip", "place"]
    what: str
    words: str
    stops: float | None = None
    """Where the difference is one of light or exposure."""


def compare(setup, reference, say=THIRDS):
    """What is different in a set-up from a reference, the light first.

    Parameters
    ----------
    setup, reference : moth.document.Setup
    say : moth.wording.Wording

    Returns
    -------
    list of Difference

    Raises
    ------
    moth.errors.MothError

    Examples
    --------
    >>> from moth.document import bare
    >>> def with_key(dimmer):
    ...     key = {"id": "k", "name": "Key", "role": "key", "head": "point-600", "dimmer": dimmer}
    ...     return bare(units=[{**key, "position": [1, 3, 2], "aim": [2, 2, 1.5]}])
    >>> [r.words for r in compare(with_key(0.5), with_key(1.0)) if r.kind == "unit"]
    ['dimmer 50 % for 100 %, 1 stop down']
    >>> compare(with_key(0.5), with_key(0.5))
    []
    """
    here, there = read_setup(setup, say=say), read_setup(reference, say=say)
    return [
        *_levels(here.marks, {m.id: m for m in there.marks}, say),
        *_ratio(here.ratios.combined, there.ratios.combined),
        *_readings(setup, reference, say),
        *_cameras(setup.cameras[0], reference.cameras[0], say),
        *_units(setup, reference, say),
        *_grip(setup, reference),
        *_place(setup, reference),
    ]


def _levels(here, there, say):
    for mark in here:
        other = there.get(mark.id)
        lit = [m is not None and m.lux >= 1e-3 for m in (mark, other)]
        if other is None or not any(lit):
            continue
        if not all(lit):
            words = ("lit here, dark there", "dark here, lit there")[lit[1]]
            yield Difference("level", mark.name, words)
            continue
        off = float(stops(mark.lux / other.lux))
        if abs(off) >= SAME:
            words = f"{_both(mark.stop, other.stop, off, say)}, {_up_or_down(off, say)}"
            yield Difference("level", mark.name, words, off)


def _ratio(here, there):
    if here.ratio and there.ratio:
        off = float(stops(here.ratio / there.ratio))
        if abs(off) >= SAME:
            yield Difference("ratio", "key to fill", f"{here.words} for {there.words}", off)
    elif (here.ratio is None) != (there.ratio is None):
        yield Difference("ratio", "key to fill", f"{here.words}; there {there.words}")


def _readings(setup, reference, say):
    """What the frame does otherwise: in the words of its readings."""
    here, there = (
        {r.key: r for r in read_picture(s, picture_of(s), say)} for s in (setup, reference)
    )
    for key, reading in here.items():
        other = there.get(key)
        if other is None and reading.verdict != "well":
            yield Difference("reading", reading.name, f"{reading.word}, not there")
        elif other is not None and other.word != reading.word:
            yield Difference("reading", reading.name, f"{reading.word} for {other.word}")
    for key, reading in there.items():
        if key not in here and reading.verdict != "well":
            yield Difference("reading", reading.name, f"no longer: {reading.word} there")


def _both(here, there, off, say):
    """Two stops side by side, in tenths where their thirds would not differ as the light does."""
    thirds = [round(6 * np.log2(n)) for n in (here, there)]
    if say == THIRDS and abs((thirds[0] - thirds[1]) / 3 - off) > 0.1:
        say = TENTHS
    return f"{say.stop(here)} for {say.stop(there)}"


def _up_or_down(off, say):
    return f"{say.counted(off)} {'up' if off > 0 else 'down'}"


def _cameras(a, b, say):
    rows = []

    def exposure(what, now, was, off):
        if abs(off) > 1e-3:
            rows.append(
                Difference(
                    "camera",
                    what,
                    f"{now} for {was}, {say.counted(off)} {'more' if off > 0 else 'less'} exposure",
                    float(off),
                )
            )

    exposure("stop", f"T{a.t_stop:g}", f"T{b.t_stop:g}", 2 * stops(b.t_stop / a.t_stop))
    exposure("index", f"EI {a.iso:g}", f"EI {b.iso:g}", stops(a.iso / b.iso))
    times = shutter_time(a.shutter, a.fps), shutter_time(b.shutter, b.fps)
    exposure(
        "shutter", f"1/{1 / times[0]:.0f} s", f"1/{1 / times[1]:.0f} s", stops(times[0] / times[1])
    )
    exposure(
        "ND and filters",
        f"{a.nd + a.filter_loss:g}",
        f"{b.nd + b.filter_loss:g} stops",
        b.nd + b.filter_loss - a.nd - a.filter_loss,
    )
    if a.fps != b.fps:
        rows.append(Difference("camera", "frame rate", f"{a.fps:g} for {b.fps:g} fps"))
    if abs(a.white_balance - b.white_balance) >= 10 or abs(a.tint - b.tint) > 0.01:
        rows.append(
            Difference(
                "camera",
                "white",
                f"{a.white_balance:.0f} K, tint {a.tint:+.2g} for {b.white_balance:.0f} K,"
                f" {b.tint:+.2g}",
            )
        )
    if a.focal_length != b.focal_length or a.sensor != b.sensor:
        rows.append(
            Difference(
                "camera",
                "lens",
                f"{a.focal_length:g} mm on {a.sensor.replace('-', ' ')} for {b.focal_length:g} mm"
                f" on {b.sensor.replace('-', ' ')}",
            )
        )
    moved = _apart(a.position, b.position)
    if moved > 0.02:
        rows.append(Difference("camera", "place", f"moved {moved:.2f} m"))
    if _apart(a.aim, b.aim) > 0.02 and moved <= 0.02:
        rows.append(Difference("camera", "aim", f"moved {_apart(a.aim, b.aim):.2f} m"))
    if a.curve != b.curve:
        rows.append(Difference("camera", "curve", f"{a.curve} for {b.curve}"))
    return rows


def _apart(a, b):
    return float(np.linalg.norm(np.subtract(a, b)))


def _paired(kind, here, there, tell):
    """Rows for things that both set-ups hold, by id, and for those that only one does; `tell` gives
    the words and stops of a pair.
    """
    rows = []
    left = {item.id: item for item in there}
    for item in here:
        other = left.pop(item.id, None)
        said, off = (["only here"], None) if other is None else tell(item, other)
        if said:
            rows.append(Difference(kind, item.name, "; ".join(said), off))
    return rows + [Difference(kind, item.name, "only there") for item in left.values()]


def _units(setup, reference, say):
    def tell(unit, other):
        said, off = [], None
        if unit.on != other.on:
            said.append("on, there off" if unit.on else "off, there on")
        if abs(unit.dimmer - other.dimmer) > 5e-4:
            off = float(stops(max(unit.dimmer, 1e-3) / max(other.dimmer, 1e-3)))
            said.append(
                f"dimmer {percent(unit.dimmer)} for {percent(other.dimmer)},"
                f" {_up_or_down(off, say)}"
            )
        if unit.head != other.head:
            said.append(f"{HEADS[unit.head].name} for {HEADS[other.head].name}")
        if unit.attachments != other.attachments:
            said.append(f"hung with {_hung(unit)} for {_hung(other)}")
        moved = _apart(unit.position, other.position)
        if moved > 0.02:
            said.append(f"moved {moved:.2f} m")
        if moved <= 0.02 and _apart(unit.aim, other.aim) > 0.02:
            said.append(f"aims {_apart(unit.aim, other.aim):.2f} m off")
        if (
            abs(unit.cct - other.cct) >= 10
            or abs(unit.green - other.green) > 0.01
            or unit.hue != other.hue
            or unit.saturation != other.saturation
        ):
            said.append(
                f"white {unit.cct:.0f} K for {other.cct:.0f} K"
                if abs(unit.cct - other.cct) >= 10
                else "another colour"
            )
        if moved > 0.02 or unit.head != other.head or unit.attachments != other.attachments:
            now, was = (inspect_unit(s, unit.id).size.degrees for s in (setup, reference))
            if abs(np.log(now / was)) > 0.12:
                said.append(f"{'softer' if now > was else 'harder'}: {now:.1f}° for {was:.1f}°")
        return said, off

    return _paired("unit", setup.units, reference.units, tell)


def _hung(unit):
    return " + ".join(ATTACHMENTS[a.key].name for a in unit.attachments) or "nothing"


def _grip(setup, reference):
    def tell(piece, other):
        said = []
        if piece.material != other.material:
            names = [
                MATERIALS[p.material].name if p.material in MATERIALS else p.material
                for p in (piece, other)
            ]
            said.append(f"{names[0]} for {names[1]}")
        if piece.size != other.size:
            said.append(
                f"{piece.size[0]:g} × {piece.size[1]:g} m for {other.size[0]:g} ×"
                f" {other.size[1]:g} m"
            )
        if _apart(piece.position, other.position) > 0.02:
            said.append(f"moved {_apart(piece.position, other.position):.2f} m")
        elif _apart(piece.aim, other.aim) > 0.02 or piece.roll != other.roll:
            said.append("turned")
        return said, None

    return _paired("grip", setup.grip, reference.grip, tell)


def _place(setup, reference):
    rows = []
    a, b = setup.figures[0], reference.figures[0]
    if _apart(a.position, b.position) > 0.02 or abs(a.facing - b.facing) > 1:
        rows.append(
            Difference(
                "place",
                a.name,
                f"moved {_apart(a.position, b.position):.2f} m, turned {a.facing - b.facing:+.0f}°",
            )
        )
    for what in ("room", "openings", "sky", "haze", "furniture"):
        if getattr(setup, what) != getattr(reference, what):
            rows.append(Difference("place", what, "not the same"))
    return rows
