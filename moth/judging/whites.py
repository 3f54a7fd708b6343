"""The white of the light on each cheek against the one that the camera is set to."""

from typing import Literal

import numpy as np

from ..colour import LUMINANCE, white_of
from ..metering import full_levels, origin_of
from ..transport import SKY, SUN, project
from ..wording import percent
from .limits import limit
from .outline import ray
from .results import Reading

STRONG = 2.5
"""How many times as far off the camera's white as tinged a face is strongly so; typical: a full
correction from daylight to tungsten is 131 mired, a half 68.
"""
GREENISH = 0.35
"""Green or magenta off the locus, as the document counts it, from which skin looks ill; typical."""
BRINGS = 0.05
"""Part of the light on a cheek from which a source is drawn with it."""
SIDES = (("key-side", "key side of the face"), ("fill-side", "shade side of the face"))


def mired_off(kelvin, balance):
    """How much warmer a light is than a white [mired].

    Examples
    --------
    >>> round(mired_off(3200, 5600)), round(mired_off(5600, 3200))
    (134, -134)
    """
    return 1e6 / kelvin - 1e6 / balance


def read_whites(setup, ready, say):
    """What colour the light on either cheek is for the camera.

    Parameters
    ----------
    setup : moth.document.Setup
    ready : moth.metering.LaidOut
    say : moth.wording.Wording
        Unused: whites are told in kelvin and mired.

    Returns
    -------
    list of Reading
        One a side that is lit.
    """
    camera = ready.camera
    places = [ready.marks[mark] for mark, _ in SIDES]
    each = ready.state[:, None, None] * full_levels(setup, ready.world, places, ready.found)
    levels = each.sum(0)
    lit = [
        (name, place, rgb, tuple(_whose(setup, ready, place, each[:, k])))
        for k, ((_, name), place, rgb) in enumerate(zip(SIDES, places, levels, strict=True))
        if rgb @ LUMINANCE > 0.05 * (levels @ LUMINANCE).max()
    ]
    tinged = limit(setup, "whites-off")
    found = [_read(camera, *side, tinged) for side in lit]
    if len(lit) == 2:
        (_, _, key, its), (_, place, shade, others) = lit
        apart = abs(mired_off(white_of(key)[0], white_of(shade)[0]))
        if apart >= limit(setup, "whites-apart"):
            at = project(camera, [place.position])[0]
            found.append(
                Reading(
                    key="whites 0 apart",
                    kind="whites",
                    name="the two sides of the face",
                    verdict="mind",
                    word="two colours",
                    words=f"{white_of(key)[0]:.0f} K and {white_of(shade)[0]:.0f} K,"
                    f" {apart:.0f} mired apart",
                    why="Two whites on one face want a reason in the picture.",
                    figure=apart,
                    path=(at,) if at else (),
                    drawn=its + others,
                )
            )
    return found


def _whose(setup, ready, place, each):
    """From a cheek toward each source that lights it, with its white there and its share.

    each: (sources, 3) what they bring [lx].
    """
    called = {u.id: u.name for u in setup.units} | {SKY: "the sky", SUN: "the sun"}
    light = each @ LUMINANCE
    for k in np.argsort(-light):
        if light[k] < BRINGS * light.sum():
            break
        source = ready.found[k]
        origin = origin_of(setup, ready.world, source).place
        part = percent(float(light[k] / light.sum()))
        words = f"{called.get(source.id, source.id)}: {white_of(each[k])[0]:.0f} K, {part} of it"
        yield ray(setup.cameras[0], words, np.asarray(place.position), origin, LONG)


LONG = 0.25
"""Of a line toward a source [m]."""


def _read(camera, name, place, rgb, drawn, tinged):
    kelvin, green = white_of(rgb)
    off, tint = mired_off(kelvin, camera.white_balance), green - camera.tint
    colour = "amber" if off > 0 else "blue"
    word: str = "agrees"
    verdict: Literal["well", "mind", "fault"] = "well"
    if abs(off) >= tinged:
        word, verdict = colour, "fault" if abs(off) >= STRONG * tinged else "mind"
    elif abs(tint) >= GREENISH:
        word, verdict = ("green" if tint > 0 else "magenta"), "mind"
    words = f"{kelvin:.0f} K before a camera at {camera.white_balance:.0f} K"
    if word in ("amber", "blue"):
        words += f", {abs(off):.0f} mired {colour}"
    elif word != "agrees":
        words += f", {abs(tint):.2f} {word}"
    at = project(camera, [place.position])[0]
    return Reading(
        key=f"whites 0 {place.id}",
        kind="whites",
        name=name,
        verdict=verdict,
        word=word,
        words=words,
        why="Lamps and camera are at odds: set one to the other, or say that it is meant."
        if verdict != "well"
        else "What the lamp sends is white for the camera.",
        figure=off,
        path=(at,) if at else (),
        drawn=drawn,
    )
