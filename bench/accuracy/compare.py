"""Our readings and frames beside the references'."""

from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from scipy import ndimage

from moth.colour import LUMINANCE
from moth.document import load
from moth.materials import FINISHES
from moth.transport import FULL_SKY, FULL_SUN, meter_light, render_layer, sources, view_of
from moth.transport.light import light_of
from moth.world import build_world

from .export import PICTURE, open_windows

FOLDER = Path(__file__).parent / "references"
FINER = 4
HELD_OFF = 0.1
"""No meter is held nearer to a cloth or board [m]."""
DARK = 0.02
"""Of a drawn rig's brightest mark: a reading darker than that is not told in percent."""
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


def errors_of(document, mine, right):
    """Errors of a drawn rig's readings (marks, 3) [%]; those too dark to tell left out, and those
    against a cloth.
    """
    mine, right = mine @ LUMINANCE, right @ LUMINANCE
    told = (right > DARK * right.max()) & ~_against_cloth(document)
    return 100 * (mine[told] / right[told] - 1)


def _against_cloth(document):
    """Which marks stand closer to a sheet than a meter is held, or between two of a stack."""
    marks = np.array([m["position"] for m in document["marks"]])
    out = np.zeros(len(marks), bool)
    for sheet in document["grip"]:
        middle, way = np.array(sheet["position"]), np.subtract(sheet["aim"], sheet["position"])
        off = marks - middle
        before = off @ (way / np.linalg.norm(way))
        beside = np.linalg.norm(off - before[:, None] * way / np.linalg.norm(way), axis=1)
        out |= (np.abs(before) < HELD_OFF) & (beside < np.hypot(*sheet["size"]) / 2)
    return out


@open_windows()
def ours(document, picture=True):
    """Disc and dome readings (marks, 3) [lx], and the frame (height, width, 3) [cd/m^2] of matte
    surfaces, not a number where a lamp stands in it.
    """
    setup = load(document)
    world = build_world(setup)
    gains = levels(setup)
    disc, dome = np.zeros((len(setup.marks), 3)), np.zeros((len(setup.marks), 3))
    width, height = PICTURE
    frame, lamps = np.zeros((height, width, 3)), np.zeros((height, width), bool)
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
            layer = render_layer(world, view, source)
            fine = layer.surfaces.reshape(height, FINER, width, FINER, 3)
            frame += fine.mean((1, 3)) * gains[source.id]
            # Where the lamp itself shows, or the references' lamp would past its body's edge.
            row, column = np.divmod(layer.seen, FINER * width)
            lamps[row // FINER, column // FINER] = True
    frame[ndimage.binary_dilation(lamps, iterations=2)] = np.nan
    return disc, dome, frame


def rmse(ours, halves):
    """Relative RMSE of luminance against a reference given as two halves whose noise is
    independent.

    The mean of (ours - first)(ours - second) is the mean square error without either's noise.
    """
    return rmse_within(ours, halves)[0]


def rmse_within(ours, halves):
    """:func:`rmse`, and what it is at most, but for one time in forty: so coarse references tell no
    small error.
    """
    a, first, second = ours @ LUMINANCE, halves[0] @ LUMINANCE, halves[1] @ LUMINANCE
    some = np.isfinite(a)
    squares = ((a - first) * (a - second))[some]
    mean, doubt = float(squares.mean()), 2 * float(squares.std()) / squares.size**0.5
    level = float((first + second)[some].mean()) / 2
    return float(np.sqrt(max(mean, 0))) / level, float(np.sqrt(max(mean, 0) + doubt)) / level
