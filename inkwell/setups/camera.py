"""Figures of a camera as it is set: its curve as a table, noise, bands, depth of field, shutter,
flicker.
"""

import math
from typing import Annotated, Any

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from moth.camera import (
    FPS,
    LAMPS,
    MAINS,
    Curve,
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
from moth.document import Camera
from moth.transport import see
from moth.world import anchor, build_world

from . import services
from .metering import DraftIn
from .rendering import FULL

router = Router()
BINNED = 6.0
"""Photosites of a recording 3840 across that one pixel of the picture at 640 stands for, along each
side: their noise averages out so far.
"""


class FiguresIn(Schema):
    """A camera, and how far its lens is from the subject's eyes [m]."""

    camera: Camera
    distance: Annotated[float, Field(gt=0.05, le=500)]


class BandOut(Schema):
    key: str
    name: str
    low: float
    colour: tuple[int, int, int] | None


class DepthOut(Schema):
    focus: float
    near: float
    far: float | None
    hyperfocal: float


class FlickerOut(Schema):
    mains: int
    lamp: str
    change: float
    safe: bool
    nearest: float | None
    nearest_angle: float | None


class FiguresOut(Schema):
    curve: str
    source: str
    grey: float
    over: float
    under: float
    table: list[int]
    """Code values 0..65535 of linear signals, by octaves as in the constants."""
    noise: list[float]
    """Standard deviation of the linear signal in a pixel of the picture, by the same octaves."""
    bands: list[BandOut]
    depth: DepthOut
    time: float
    angle: float
    density: float
    flicker: list[FlickerOut]
    fps: list[float]


def _focus(camera, eyes):
    """Distance a lens is focused at [m]: as set or on the eyes, and no nearer than a lens of its
    length comes.
    """
    return max(camera.focus or eyes, 2 * camera.focal_length / 1000)


@router.post("/camera/figures", response=FiguresOut)
def figures(request, data: FiguresIn):
    """What a camera's settings come to; nothing is stored. 422 for a log curve that cannot be."""
    camera = data.camera
    curve: Curve = curve_of(camera)
    depth = depth_of_field(camera, _focus(camera, data.distance))
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


@router.post("/setups/{int:pk}/lens", response={200: Any})
def lens(request, pk: int, data: DraftIn):
    """How wide a point shows at each pixel of the whole picture: little-endian half floats [px],
    row by row.
    """
    document = services.draft(request.user, pk, data.document)
    camera = document.cameras[0]
    view = see(build_world(document), document, camera, FULL)
    eyes = float(np.linalg.norm(np.asarray(camera.position) - anchor(document)))
    widths = blur(camera, _focus(camera, eyes), np.minimum(view.depth, 1e4)) * FULL[0]
    return HttpResponse(
        np.minimum(widths, 200).astype("<f2").tobytes(), content_type="application/octet-stream"
    )
