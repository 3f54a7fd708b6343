"""What the engine is asked besides layers: plain functions of a document, without a database."""

import io
from dataclasses import dataclass

import numpy as np
from PIL import Image

from moth.camera import mix
from moth.inspection import Behind, behind
from moth.metering import Readings, read_setup
from moth.transport import half_spread, project
from moth.world import anchor, landmarks


@dataclass(frozen=True)
class FacePlaces:
    """Where the first figure's eyes and the top of the head show in the frame, 0..1; None out of
    it.
    """

    eyes: tuple[float, float] | None
    crown: tuple[float, float] | None


@dataclass(frozen=True)
class Look:
    """What the meter reads, and where its marks and the face show in the frame."""

    readings: Readings
    anchor: tuple[float, float, float]
    """Between the eyes of the first figure [m]."""
    pins: dict[str, tuple[float, float] | None]
    """Mark -> its place in the frame, 0..1."""
    face: FacePlaces
    half_width: float
    """Of the picture, at 1 m in front of the lens [m]."""
    spreads: dict[str, float]
    """The same of every camera, by its id."""
    behind: Behind | None
    """What stands behind the subject, for the lens."""


def reading(document, only, say):
    """The :class:`Look` of a set-up, or of one of its units alone."""
    readings = read_setup(document, only, say)
    camera = document.cameras[0]
    ids, places = zip(*((m.id, m.position) for m in readings.marks), strict=True)
    eyes, crown = project(camera, [anchor(document), landmarks(document.figures[0])["crown"]])
    return Look(
        readings=readings,
        anchor=tuple(anchor(document).tolist()),
        pins=dict(zip(ids, project(camera, places), strict=True)),
        face=FacePlaces(eyes, crown),
        half_width=half_spread(camera)[0],
        spreads={c.id: half_spread(c)[0] for c in document.cameras},
        behind=behind(document),
    )


def picture(document, layers, size):
    """The lit frame as PNG bytes."""
    if layers:
        frame = mix(document, document.cameras[0], layers)
    else:
        frame = np.zeros((size[1], size[0], 3), np.uint8)
    out = io.BytesIO()
    Image.fromarray(frame).save(out, "PNG")
    return out.getvalue()
