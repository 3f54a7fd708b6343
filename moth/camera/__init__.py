"""Lens, exposure, signal curves, noise, depth, timing, the mixed frame."""

from .bands import Band, bands_of
from .curves import HIGHEST, LOWEST, PLAIN, STEPS, Curve, bt709, curve_of, log_curve, octave_table
from .depth import Depth, blur, depth_of_field
from .exposure import (
    DISC,
    DOME,
    MIDDLE_GREY,
    frame_exposure,
    incident_illuminance,
    incident_stop,
    key_level,
    shutter_time,
    signal_at,
    stops_over_grey,
)
from .frame import colour_gains, mix
from .gains import source_colours, source_levels
from .sensors import SENSORS, Sensor, noise, sensor_of, stops_under
from .timing import FPS, LAMPS, MAINS, Answer, Flicker, density, equivalent_angle, flicker, set_for

__all__ = [
    "DISC",
    "DOME",
    "FPS",
    "HIGHEST",
    "LAMPS",
    "LOWEST",
    "MAINS",
    "MIDDLE_GREY",
    "PLAIN",
    "SENSORS",
    "STEPS",
    "Answer",
    "Band",
    "Curve",
    "Depth",
    "Flicker",
    "Sensor",
    "bands_of",
    "blur",
    "bt709",
    "colour_gains",
    "curve_of",
    "density",
    "depth_of_field",
    "equivalent_angle",
    "flicker",
    "frame_exposure",
    "incident_illuminance",
    "incident_stop",
    "key_level",
    "log_curve",
    "mix",
    "noise",
    "octave_table",
    "sensor_of",
    "set_for",
    "shutter_time",
    "signal_at",
    "source_colours",
    "source_levels",
    "stops_over_grey",
    "stops_under",
]
