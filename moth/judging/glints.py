"""What the eyes mirror to the lens."""

import numpy as np

from ..camera import frame_exposure, source_colours, stops_over_grey
from ..colour import LUMINANCE
from ..materials import FINISHES
from ..metering import OFF_SKIN
from ..transport import light_of, mirrored_light
from ..world import landmarks


def catchlights(ready):
    """Brightest thing each eye mirrors to the lens, in stops about middle grey.

    Parameters
    ----------
    ready : LaidOut

    Returns
    -------
    dict
        "left", "right" -> stops.
    """
    marks = landmarks(ready.setup.figures[0])
    camera = ready.camera
    face = (marks["eye_left"] + marks["eye_right"]) / 2
    front = marks["nose_tip"] - face
    front = np.array([front[0], front[1], 0.0]) / np.hypot(front[0], front[1])
    # A cornea: every way within fifty degrees of where the eye looks, spread by the golden angle.
    k = np.arange(240)
    cosine, turn = 1 - (1 - np.cos(np.radians(50))) * (k + 0.5) / 240, k * np.pi * (3 - np.sqrt(5))
    across = np.array([front[1], -front[0], 0.0])
    sine = np.sqrt(1 - cosine**2)
    normals = (
        cosine[:, None] * front
        + (sine * np.cos(turn))[:, None] * across
        + (sine * np.sin(turn))[:, None] * np.array([0, 0, 1.0])
    )
    reflectance = next(f.normal_reflectance for f in FINISHES if f.name == "eye")
    colours = source_colours(ready.setup, camera.white_balance, camera.tint)
    found = {}
    for side in ("left", "right"):
        points = np.repeat((marks[f"eye_{side}"] + OFF_SKIN * front)[None], 240, 0)
        toward = np.asarray(camera.position, float) - points
        toward /= np.linalg.norm(toward, axis=1, keepdims=True)
        total = np.zeros(240)
        for source, level in zip(ready.found, ready.state, strict=True):
            if level > 0:
                total += (
                    (
                        mirrored_light(
                            ready.world,
                            light_of(ready.world, source),
                            points,
                            normals,
                            toward,
                            reflectance,
                        )
                        * colours[source.id]
                    )
                    @ LUMINANCE
                    * level
                )
        found[side] = stops_over_grey(total.max(initial=0.0) * frame_exposure(camera))
    return found
