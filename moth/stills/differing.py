"""What a set-up's frame does otherwise than a still, the largest first, and what would mend it."""

from dataclasses import dataclass

import numpy as np

from ..camera.sensors import sensor_of
from ..colour import white_of
from ..document import Polar, from_polar, to_polar
from ..inspection import inspect_unit
from ..solving.trying import Patch
from ..wording import THIRDS
from ..world import landmarks
from .building import from_where, nearest_white, shares, whites
from .framing import Framing
from .reading import read_pair, read_spot, white_read

STOP, MIRED, DEGREES, SIZE, PART = 1 / 3, 15.0, 10.0, 0.4, 0.1
"""What counts as one step of a difference: stops, mired, degrees of direction, stops of softness,
part of lens, distance and height; typical of what is seen."""

ENOUGH = 0.25
"""Part of a place's light that a unit must bring for its dimmer to be the way to mend it."""


@dataclass(frozen=True)
class Differs:
    """One thing that is otherwise."""

    kind: str
    """ "level", "white", "direction", "softness" or "camera"."""
    what: str
    words: str
    steps: float
    """How much, in steps of what is seen."""
    mend: str
    """What would mend it; empty where nothing single does."""
    patches: tuple[Patch, ...] = ()


def differ(code, record, marks, framing, lights, setup, say=THIRDS):
    """What is otherwise in a set-up's frame, the largest first.

    Parameters
    ----------
    code : ndarray, shape (height, width, 3)
        The still.
    record, marks, framing, lights
        What is known of it; see :mod:`moth.stills.lights`.
    setup : moth.document.Setup
        Its first camera and first person are held against the still.
    say : moth.wording.Wording

    Returns
    -------
    list of Differs
        What is less than half a step is left out.
    """
    found = [*_camera(framing, setup)]
    found += _lights(lights, setup)
    found += _places(code, record, marks, setup, say)
    return sorted((d for d in found if d.steps >= 0.5), key=lambda d: -d.steps)


def _camera(framing: Framing, setup):
    camera, at = setup.cameras[0], landmarks(setup.figures[0])
    eyes = (at["eye_left"] + at["eye_right"]) / 2
    off = np.asarray(camera.position) - eyes
    away = float(np.linalg.norm(off))
    focal = camera.focal_length / sensor_of(camera).width * framing.sensor_width
    yield Differs(
        "camera",
        "Lens",
        f"As long as {focal:.0f} mm here, {framing.focal_length.value:.0f} mm"
        f" ± {framing.focal_length.off:.0f} there.",
        abs(np.log(focal / framing.focal_length.value)) / max(PART, framing.focal_length.part),
        "Change the lens, or build the set-up's camera from the still.",
    )
    yield Differs(
        "camera",
        "Distance of the lens",
        f"{away:.2f} m here, {framing.distance.value:.2f} m ± {framing.distance.off:.2f} there.",
        abs(np.log(away / framing.distance.value)) / max(PART, framing.distance.part),
        "Take the camera nearer or farther.",
    )
    rise = float(off[2])
    yield Differs(
        "camera",
        "Height of the lens",
        f"{rise:+.2f} m over the eyes here, {framing.rise.value:+.2f} m there.",
        abs(rise - framing.rise.value) / max(0.1, framing.rise.off),
        "Raise or lower the camera.",
    )


def _unit_of(light, setup):
    """The unit that stands for a light of the still: of its name, else the first of its part."""
    lit = [u for u in setup.units if u.on and u.dimmer > 0]
    return next((u for u in lit if u.name == light.name), None) or next(
        (u for u in lit if u.role == light.role), None
    )


def _lights(lights, setup):
    at = landmarks(setup.figures[0])
    eyes = (at["eye_left"] + at["eye_right"]) / 2
    lens = setup.cameras[0].position
    for light in lights:
        unit = _unit_of(light, setup)
        if unit is None:
            if light.angle is not None:
                yield Differs(
                    "direction", light.name, "The still has it, this frame has not.", 10.0,
                    "Build it from the still, or bring a unit in.",
                )  # fmt: skip
            continue
        inspected = inspect_unit(setup, unit.id)
        here = to_polar(from_where(setup, unit.id), eyes, lens)
        if light.angle is not None and light.height is not None:
            a, b = (
                np.array([np.cos(h) * np.sin(t), np.cos(h) * np.cos(t), np.sin(h)])
                for t, h in (
                    np.radians([here.angle, here.height]),
                    np.radians([light.angle.value, light.height.value]),
                )
            )
            apart = float(np.degrees(np.arccos(np.clip(a @ b, -1, 1))))
            # Carried alone it would leave behind the cloth or board that its light comes by.
            moved = () if inspected.grip else _moved(unit, light, eyes, lens)
            yield Differs(
                "direction",
                light.name,
                f"It comes from {_where(here.angle, here.height)}; there from"
                f" {_where(light.angle.value, light.height.value)}.",
                apart / max(DEGREES, 1.645 * light.height.off),
                f"Carry {unit.name} there, at its distance."
                if moved
                else f"Carry what {unit.name} comes by there, and the lamp with it.",
                moved,
            )
        size = inspected.size.degrees
        if light.softness is not None and size > 0:
            ratio = np.log2(size / light.softness.value)
            yield Differs(
                "softness",
                light.name,
                f"{size:.0f}° to the face here, {light.softness.value:.0f}°"
                f" ± {light.softness.off:.0f} there.",
                abs(ratio) / max(SIZE, 1.44 * 1.645 * light.softness.part),
                "A larger source, or nearer." if ratio < 0 else "A smaller source, or farther.",
            )


def _where(angle, height):
    side = "left" if angle < 0 else "right"
    return f"camera {side} {abs(angle):.0f}°, {abs(height):.0f}° {'up' if height >= 0 else 'down'}"


def _moved(unit, light, eyes, lens):
    away = float(np.linalg.norm(np.asarray(unit.position) - eyes))
    place = from_polar(Polar(light.angle.value, light.height.value, away), eyes, lens)
    return (Patch("units", unit.id, {"position": tuple(map(float, place))}),)


def _places(code, record, marks, setup, say):
    """Levels and whites of marked places, against the key's."""
    key = next((s for s in marks.sources if s.role == "key" and s.lit), None)
    if key is None:
        return
    areas = {f"where {s.name} falls": s.lit for s in marks.sources if s.lit and s is not key}
    if marks.shade:
        areas["shade side"] = marks.shade
    if marks.backdrop:
        areas["backdrop"] = marks.backdrop
    found = shares(setup, {"": key.lit, **areas})
    here_key = sum(found[""].values())
    units = {u.id: u for u in setup.units}
    for name, area in areas.items():
        there = read_pair(code, record, key.lit, area)
        here = sum(found[name].values())
        if here_key <= 0 or here <= 1e-9:
            yield Differs("level", name.capitalize(), "It is dark in this frame.", 9.0, "")
            continue
        stops = float(np.log2(here / here_key))
        by = stops - there.stops
        words = (
            f"{say.difference(stops)} against the key's side here, {say.difference(there.stops)}"
            " there."
        )
        mend, patches = _dimmed(found, name, there.stops, units)
        yield Differs(
            "level", name.capitalize(), words, abs(by) / max(STOP, there.unsure), mend, patches
        )
    yield from _whites(code, record, marks, setup, key)


def _dimmed(found, name, wanted, units):
    """The dimmer of the unit that does most there and little to the key's side, light being what
    adds.
    """
    here, at_key = found[name], found[""]
    best = max(
        (k for k in here if k in units and units[k].role != "key"),
        key=lambda k: here[k] / max(sum(here.values()), 1e-9) - at_key[k] / sum(at_key.values()),
        default=None,
    )
    if best is None or here[best] < ENOUGH * sum(here.values()):
        more = wanted > np.log2(max(sum(here.values()), 1e-9) / sum(at_key.values()))
        return (
            "No unit here lights it more than the key: bring one in for it, or a board."
            if more
            else "It is mostly the key's: flag it there, or take that away from it.",
            (),
        )
    ratio = 2.0**wanted
    rest, rest_key = (sum(v for k, v in f.items() if k != best) for f in (here, at_key))
    slope = here[best] - ratio * at_key[best]
    if abs(slope) < 0.2 * here[best]:
        return "", ()
    factor = (ratio * rest_key - rest) / slope
    unit = units[best]
    dimmer = unit.dimmer * factor
    if factor <= 0:
        return f"{unit.name} off does not do it: the rest is too bright there.", ()
    if dimmer > 1:
        return (
            f"{unit.name} at full falls {np.log2(dimmer):.1f} stops short: nearer, or larger.",
            (),
        )
    if abs(np.log2(factor)) < 0.05:
        return "", ()
    return (
        f"{unit.name} to {100 * dimmer:.3g} %.",
        (Patch("units", best, {"dimmer": float(dimmer)}),),
    )


def _mired(shift):
    return f"{abs(shift):.0f} mired {'warmer' if shift > 0 else 'cooler'}"


def _whites(code, record, marks, setup, key):
    for source in marks.sources:
        if source.lit is None or (source is key and marks.neutral is None):
            continue
        unit = next((u for u in setup.units if u.name == source.name and u.on), None)
        if source is key:
            if record.white is None:
                continue
            spot = read_spot(code, record, marks.neutral)
            there = 1e6 / white_read(spot, record)[0]
            unit = unit or next((u for u in setup.units if u.role == "key" and u.on), None)
            if unit is None:
                continue
            here = 1e6 / unit.cct
            words = f"{1e6 / here:.0f} K here, {1e6 / there:.0f} K there."
        else:
            there = read_pair(code, record, key.lit, source.lit).shift
            a, b = whites(setup, [key.lit, source.lit])
            here = 1e6 / white_of(b)[0] - 1e6 / white_of(a)[0]
            words = f"{_mired(here)} against the key's side here, {_mired(there)} there."
        patches: tuple[Patch, ...] = ()
        mend = ""
        if unit is not None:
            cct = nearest_white(unit, 1e6 / np.clip(1e6 / unit.cct + there - here, 90, 600))
            if abs(1e6 / cct - 1e6 / unit.cct) > 3:
                mend = f"{unit.name} to {cct:.0f} K."
                patches = (Patch("units", unit.id, {"cct": cct}),)
            else:
                mend = f"{unit.name} goes no further: hang a gel on."
        yield Differs("white", source.name, words, abs(here - there) / MIRED, mend, patches)
