"""Lens, exposure, signal curve, the mixed frame."""

from .exposure import DISC, DOME, frame_exposure, incident_illuminance, incident_stop, shutter_time
from .frame import colour_gains, mix
from .gains import source_colours, source_levels
from .signal import CURVE_STEPS, bt709, curve_table

__all__ = [
    "CURVE_STEPS", "DISC", "DOME", "bt709", "colour_gains", "curve_table", "frame_exposure", "incident_illuminance", "incident_stop", "mix", "shutter_time",
    "source_colours", "source_levels",
]
