"""Shutter, frame rate, neutral density, flicker of the mains: what may be set, and what each
costs.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..units import FULL_STOPS, stops
from .exposure import shutter_time

FPS = (8, 12, 15, 23.976, 24, 25, 29.97, 30, 48, 50, 59.94, 60, 72, 96, 100, 119.88, 120, 128)
T_STOPS = tuple(
    full if third == 0 else round(2 ** ((k + third / 3) / 2), 3)
    for k, full in enumerate(FULL_STOPS[2:13])
    for third in range(3)
)[:-2]
"""T-stops a lens ring is marked with, T1 to T32, in thirds of a stop."""
ANGLES = (
    *(5.6, 11.25, 22.5, 30, 45, 60, 72, 75, 86.4, 90, 105, 120, 135, 144, 150, 165, 172.8, 180),
    *(195, 200, 210, 216, 225, 240, 255, 270, 288, 300, 315, 324, 330, 345, 346, 350, 360),
)
"""Shutter angles cameras offer [deg]; typical."""
SPEEDS = (
    *(24, 25, 30, 40, 48, 50, 60, 75, 80, 90, 96, 100, 120, 125, 150, 180, 200, 250, 300, 400),
    *(500, 640, 800, 1000, 1250, 1600, 2000, 2500, 3200, 4000, 5000, 6400, 8000),
)
"""The same as parts of a second."""
FILTERS = (1 / 3, 2 / 3, 1, 4 / 3, 5 / 3, 2, 3, 4, 5, 6, 7, 8, 9, 10)
"""ND filters that are made [stops]: in thirds up to 2, in full stops beyond. Whoever owns fewer
lists them at the camera.
"""
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


INDEXES = (
    *(50, 64, 80, 100, 125, 160, 200, 250, 320, 400, 500, 640, 800, 1000, 1250, 1600, 2000, 2500),
    *(3200, 4000, 5000, 6400, 8000, 10_000, 12_800, 16_000, 20_000, 25_600, 32_000, 40_000, 51_200),
)
"""Exposure indexes in thirds of a stop, as their dials name them."""


@dataclass(frozen=True)
class Answer:
    """One way to take a difference in exposure, and what is left of it."""

    what: Literal["stop", "index", "angle", "time", "nd"]
    value: float
    """T, index, [deg], [s] or [stops], as a lens, a camera or a filter has it."""
    left: float
    """Stops still over (+) or under (-)."""


def set_for(camera, over):
    """Ways to bring an exposure that is so many stops over back, by stop, index, shutter or ND, one
    at a time, each to the nearest value that there is.

    Parameters
    ----------
    camera : moth.document.Camera
        Its `filters` are the ND filters at hand; none listed are all of :data:`FILTERS`. One at a
        time is held before the lens.
    over : float
        Stops too much (+) or too little (-) at the camera's settings.

    Returns
    -------
    list of Answer
        "stop", "index", "angle" or "time" as the camera's shutter is told, "nd".

    Examples
    --------
    >>> from moth.document import Camera
    >>> c = Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1), t_stop=2.8, iso=800)
    >>> [(a.what, round(a.value, 1), a.left) for a in set_for(c, 2.0)]
    [('stop', 5.6, 0.0), ('index', 200, 0.0), ('angle', 45, 0.0), ('nd', 2, 0.0)]
    """
    angle = camera.shutter.angle
    time = shutter_time(camera.shutter, camera.fps)
    speeds = tuple(1 / n for n in SPEEDS if n >= camera.fps - 0.5)
    answers = [
        _nearest("stop", camera.t_stop, -2, T_STOPS, over),
        _nearest("index", camera.iso, 1, INDEXES, over),
        _nearest("time", time, 1, speeds, over)
        if angle is None
        else _nearest("angle", angle, 1, ANGLES, over),
    ]
    wanted = camera.nd + over
    nd = min((0.0, *(camera.filters or FILTERS)), key=lambda stops: abs(stops - wanted))
    return [*answers, Answer("nd", nd, _rest(wanted - nd))]


def _nearest(what, now, per_double, values, over):
    """The value nearest to what an exposure asks for; it gives `per_double` stops when doubled."""
    wanted = now * 2 ** (-over / per_double)
    value = min(values, key=lambda v: abs(math.log(v / wanted)))
    return Answer(what, value, _rest(over + per_double * float(stops(value / now))))


def _rest(stops_):
    return round(stops_, 3) + 0.0
