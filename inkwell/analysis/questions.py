"""What the engine is asked about a set-up's light: plain functions, without a database."""

import math

import numpy as np

from inkwell.rendering.jobs import FULL
from moth.camera import (
    FPS,
    LAMPS,
    MAINS,
    bands_of,
    blur,
    curve_of,
    density,
    depth_of_field,
    equivalent_angle,
    flicker,
    noise,
    octave_table,
    shutter_time,
    stops_under,
)
from moth.judging import (
    acting_area,
    can_be_fixed,
    headroom,
    picture_of,
    read_asked,
    read_fixed,
    read_order,
    read_targets,
    walk_path,
)
from moth.metering import read_ratios, read_schools
from moth.solving import make, match, set_ratio, with_level
from moth.transport import view_of
from moth.world import anchor, build_world, check_placement

BINNED = 6.0
"""Photosites of a recording 3840 across that one pixel of the picture at 640 stands for, along each
side: their noise averages out so far.
"""


def schools(document, layers, step):
    """Each way of holding the meter, and where the face sits if its reading is set."""
    return read_schools(document, picture_of(document, layers), step)


def judged(document, layers, step):
    """The picture by parts, targets, what is fixed, the order of work, ratios three ways."""
    picture = picture_of(document, layers)
    return {
        "targets": read_targets(document, picture, step),
        "fixed": read_fixed(document, picture, step),
        "can_be_fixed": [{"id": k, "name": name} for k, name in can_be_fixed(document)],
        "order": read_order(document, picture, step),
        "ratios": read_ratios(document, picture),
        "asked": read_asked(document, step),
        "headroom": headroom(document.cameras[0]),
    }


def walked(document, angle, distance, step):
    """The stop along a walk from the mark, and the area in which it keeps."""
    return {"path": walk_path(document, angle, distance, step), "acting": acting_area(document)}


def rigged(document, unit, move, material, size):
    """A set-up with one unit rigged anew, that can stand so."""
    made = make(document, unit, move, material, size)
    check_placement(made)
    return made


def with_ratio(document, unit, target, school, means):
    """A set-up with the ratio asked for, that can stand so."""
    solved = set_ratio(document, unit, target, school, means)
    check_placement(solved.setup)
    return solved


def levelled(document, unit, lux, step):
    """A set-up whose unit brings a level, the camera's without one."""
    return with_level(document, unit, lux, step)


def matched(document, other, step):
    """A set-up with its dimmers brought to another's levels."""
    return match(document, other, step)


def _focus(camera, eyes):
    """Distance a lens is focused at [m]: as set or on the eyes, and no nearer than it comes."""
    return max(camera.focus or eyes, 2 * camera.focal_length / 1000)


def blur_widths(document):
    """How wide a point shows at each pixel of the whole picture: little-endian half floats [px]."""
    camera = document.cameras[0]
    view = view_of(build_world(document), document, camera, FULL)
    eyes = float(np.linalg.norm(np.asarray(camera.position) - anchor(document)))
    widths = blur(camera, _focus(camera, eyes), np.minimum(view.depth, 1e4)) * FULL[0]
    return np.minimum(widths, 200).astype("<f2").tobytes()


def camera_figures(camera, distance):
    """What a camera's settings come to: its curve, noise, bands, depth, shutter, flicker."""
    curve = curve_of(camera)
    depth = depth_of_field(camera, _focus(camera, distance))
    time = shutter_time(camera.shutter, camera.fps)
    lamps = []
    for mains in MAINS:
        for lamp in LAMPS:
            found = flicker(camera, mains, lamp)
            lamps.append(
                {
                    "mains": mains,
                    "lamp": lamp,
                    "change": found.change,
                    "safe": found.safe,
                    "nearest": found.nearest,
                    "nearest_angle": found.nearest and equivalent_angle(found.nearest, camera.fps),
                }
            )
    return {
        "curve": curve.name,
        "source": curve.source,
        "grey": curve.grey,
        "over": curve.over,
        "under": stops_under(camera),
        "table": np.round(65535 * octave_table(curve.encode)).astype(int).tolist(),
        "noise": [float(f"{v:.3g}") for v in octave_table(lambda x: noise(camera, x)) / BINNED],
        "bands": [vars(b) for b in bands_of(camera)],
        "depth": {
            "focus": depth.focus,
            "near": depth.near,
            "far": None if math.isinf(depth.far) else depth.far,
            "hyperfocal": depth.hyperfocal,
        },
        "time": time,
        "angle": equivalent_angle(time, camera.fps),
        "density": density(camera.nd),
        "flicker": lamps,
        "fps": list(FPS),
    }
