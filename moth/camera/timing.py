"""Shutter, frame rate, neutral density, flicker of the mains: what may be set, and what each
costs.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..units import stops
from .exposure import shutter_time

FPS = (8, 12, 15, 23.976, 24, 25, 29.97, 30, 48, 50, 59.94, 60, 72, 96, 100, 119.88, 120, 128)
ND_STEPS = (1, 2, 3, 4, 5, 6, 7, 8, 9, 10)
"""Stops of the filters a matte box or a camera's wheel usually holds; 1 stop is ND 0.3."""
MAINS = (50, 60)
LAMPS = {
    "tungsten": 0.12,
    "fluorescent, magnetic": 0.55,
    "led, mains driver": 0.6,
    "led, dimmed by pulses": 1.0,
    "flicker-free": 0.0,
}
"""Modulation (max - min) / (max + min) of lamps on the mains at twice its frequency; typical after
IEEE 1789-2015, annex B.
"""
SEEN = 0.01
"""Change of exposure from frame to frame that begins to show."""


def density(stops_):
    """Optical density of a filter that takes so many stops.

    Examples
    --------
    >>> round(density(1), 2), round(density(6), 2)
    (0.3, 1.81)
    """
    return stops_ * math.log10(2)


def equivalent_angle(time, fps):
    """Shutter angle [deg] of an exposure time [s]; over 360 it does not fit in a frame.

    Examples
    --------
    >>> equivalent_angle(1 / 50, 25)
    180.0
    """
    return 360 * time * fps


@dataclass(frozen=True)
class Flicker:
    """What a lamp on the mains does to the exposure of frames."""

    change: float
    """(brightest - darkest) / mean of frames' exposures."""
    safe: bool
    nearest: float | None
    """Exposure time [s] nearest to the set one that is safe; None when the set one is, or when none
    is at this frame rate.
    """


def flicker(camera, mains, lamp):
    """Exposure change from frame to frame under a lamp on the mains, and the nearest safe shutter.

    A lamp's light is 1 + m cos(2 pi 2 F t). Over a time T its mean changes by
    m |sinc(2 F T)| with the phase; frames that keep the phase, whose rate divides 2 F, do not
    change.

    Parameters
    ----------
    camera : moth.document.Camera
    mains : float
        [Hz]
    lamp : str
        Key of :data:`LAMPS`.

    Returns
    -------
    Flicker

    Examples
    --------
    >>> from moth.document import Camera, Shutter
    >>> at = dict(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1))
    >>> camera = Camera(**at, fps=24, shutter=Shutter(angle=172.8))
    >>> flicker(camera, 50, "fluorescent, magnetic").safe
    True
    >>> f = flicker(Camera(**at, fps=24, shutter=Shutter(angle=180)), 50, "led, dimmed by pulses")
    >>> f.safe, round(1 / f.nearest)
    (False, 50)
    """
    modulation, pulses = LAMPS[lamp], 2 * mains
    time = shutter_time(camera.shutter, camera.fps)
    depth = 2 * modulation * abs(np.sinc(pulses * time))
    beats = pulses / camera.fps
    if abs(beats - round(beats)) < 1e-6:
        depth = 0.0
    if depth <= SEEN:
        return Flicker(float(depth), True, None)
    # Whole pulses a frame are safe at any phase; no shutter is open for longer than its frame.
    longest = int(np.floor(pulses / camera.fps + 1e-9))
    if not longest:
        return Flicker(float(depth), False, None)
    safe = np.arange(1, longest + 1) / pulses
    return Flicker(float(depth), False, float(safe[np.argmin(np.abs(np.log(safe / time)))]))


@dataclass(frozen=True)
class Answer:
    """One way to take a difference in exposure, and what is left of it."""

    what: Literal["stop", "index", "shutter", "nd"]
    value: float
    """T, index, [s] or [stops]."""
    left: float
    """Stops still over (+) or under (-)."""


def set_for(camera, over):
    """Ways to bring an exposure that is so many stops over back, by stop, index, shutter or ND, one
    at a time.

    Parameters
    ----------
    camera : moth.document.Camera
    over : float
        Stops too much (+) or too little (-) at the camera's settings.

    Returns
    -------
    list of Answer
        "stop" [T], "index", "shutter" [s], "nd" [stops]; each within what can be set.

    Examples
    --------
    >>> from moth.document import Camera
    >>> c = Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1), t_stop=2.8, iso=800)
    >>> [(a.what, round(a.value, 3), a.left) for a in set_for(c, 2.0)]
    [('stop', 5.6, 0.0), ('index', 200.0, 0.0), ('shutter', 0.005, 0.0), ('nd', 2.0, 0.0)]
    """
    time = shutter_time(camera.shutter, camera.fps)
    ranges: tuple[tuple[Literal["stop", "index", "shutter"], float, float, float, float], ...] = (
        ("stop", camera.t_stop, 0.5, 1.0, 32.0),
        ("index", camera.iso, -1.0, 50.0, 51_200.0),
        ("shutter", time, -1.0, 1 / 8000, 1 / camera.fps),
    )
    answers = []
    for what, now, per_stop, low, high in ranges:
        value = float(np.clip(now * 2 ** (per_stop * over), low, high))
        answers.append(
            Answer(what, value, round(over - float(stops(value / now)) / per_stop, 6) + 0.0)
        )
    nd = float(np.clip(camera.nd + over, 0, 20))
    answers.append(Answer("nd", nd, round(over - (nd - camera.nd), 6) + 0.0))
    return answers
