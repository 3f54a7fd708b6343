"""Our readings and frames beside the references'."""

from contextlib import contextmanager
from dataclasses import dataclass, replace
from pathlib import Path
from unittest import mock

import numpy as np

from moth.colour import LUMINANCE
from moth.document import load
from moth.materials import FINISHES
from moth.transport import FULL_SKY, FULL_SUN, meter_light, render_layer, sources, view_of
from moth.transport.light import light_of
from moth.world import build_world, outside
from moth.world import sheets as grip

from .export import PICTURE, SHELL
from .rigs import rigs

FOLDER = Path(__file__).parent / "references"
FINER = 4
MATTE = next(i for i, f in enumerate(FINISHES) if f.name == "matte")


@dataclass(frozen=True)
class Meter:
    position: tuple
    direction: tuple
    receiver: str


def levels(setup):
    """What each source's full light is multiplied by."""
    out = {u.id: u.dimmer * u.on for u in setup.units}
    out["@sky"] = setup.sky.level / FULL_SKY * setup.sky.on
    if setup.sky.sun:
        out["@sun"] = setup.sky.sun.level / FULL_SUN
    return out


@contextmanager
def open_windows():
    """The references' windows are holes in walls without thickness: while this holds, ours get
    glass that sends nothing back, and a house no larger outside than its room.

    A world that was built before keeps the glass that it has.
    """
    with (
        mock.patch.object(grip, "GLASS", replace(grip.GLASS, reflectance=0.0)),
        mock.patch.object(outside, "WALL", SHELL),
    ):
        yield


@open_windows()
def ours(name, picture=True):
    """Disc and dome readings (marks, 3) [lx], and the frame (height, width, 3) [cd/m^2] of matte
    surfaces.
    """
    setup = load(rigs()[name])
    world = build_world(setup)
    gains = levels(setup)
    disc, dome = np.zeros((len(setup.marks), 3)), np.zeros((len(setup.marks), 3))
    width, height = PICTURE
    frame = np.zeros((height, width, 3))
    # The frame as the desk shows it, 640 x 360, brought to the reference's pixels.
    view = view_of(world, setup, setup.cameras[0], (FINER * width, FINER * height))
    view = replace(view, finish=np.full_like(view.finish, MATTE))
    for source in sources(setup):
        light = light_of(world, source)
        for k, mark in enumerate(setup.marks):
            n = np.asarray(mark.direction, float)
            n /= np.linalg.norm(n)
            for out, receiver in ((disc, "disc"), (dome, "dome")):
                out[k] += (
                    sum(
                        meter_light(world, light, Meter(mark.position, tuple(n), receiver)).values()
                    )
                    * gains[source.id]
                )
        if picture:
            frame += (
                render_layer(world, view, source)
                .surfaces.reshape(height, FINER, width, FINER, 3)
                .mean((1, 3))
                * gains[source.id]
            )
    return disc, dome, frame


def rmse(ours, halves):
    """Relative RMSE of luminance against a reference given as two halves whose noise is
    independent.

    The mean of (ours - first)(ours - second) is the mean square error without either's noise.
    """
    a, first, second = ours @ LUMINANCE, halves[0] @ LUMINANCE, halves[1] @ LUMINANCE
    return float(
        np.sqrt(max(((a - first) * (a - second)).mean(), 0)) / ((first + second) / 2).mean()
    )
