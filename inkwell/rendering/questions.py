"""What the engine is asked besides layers: plain functions of a document, without a database."""

import io

import numpy as np
from PIL import Image

from moth.camera import mix
from moth.metering import read_setup
from moth.transport import half_spread, project
from moth.world import anchor, landmarks


def reading(document, only, step):
    """What the meter reads, and where its marks and the face show in the frame."""
    readings = read_setup(document, only, step)
    camera = document.cameras[0]
    ids, places = zip(*((m["id"], m["position"]) for m in readings["marks"]), strict=True)
    eyes, top = project(camera, [anchor(document), landmarks(document.figures[0])["crown"]])
    return {
        "readings": readings,
        "pins": dict(zip(ids, project(camera, places), strict=True)),
        "face": {"eyes": eyes, "crown": top},
        "half_width": half_spread(camera)[0],
        "anchor": anchor(document).tolist(),
    }


def picture(document, layers, size):
    """The lit frame as PNG bytes."""
    if layers:
        frame = mix(document, document.cameras[0], layers)
    else:
        frame = np.zeros((size[1], size[0], 3), np.uint8)
    out = io.BytesIO()
    Image.fromarray(frame).save(out, "PNG")
    return out.getvalue()
