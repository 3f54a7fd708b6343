"""From lamps by way of cloth, boards, mirrors and walls to points and pixels."""

from .ambient import meter_light
from .effort import Effort, estimate
from .emitters import Emitter, build_emitter, emitter_key
from .encoding import decode_layer, encode_layer
from .field import field
from .layers import (
    GLASS_REFLECTANCE,
    Layer,
    layer_key,
    mirrored_light,
    render_layer,
    sheen_of,
)
from .light import Light, light_key, light_of
from .operands import DISTANT
from .points import receive
from .sources import FULL_SKY, FULL_SUN, SKY, SUN, Source, sources
from .view import (
    LENS_CURVE,
    SENSOR_WIDTH,
    View,
    half_spread,
    lens_axes,
    project,
    sensor_width,
    view_key,
    view_of,
)
from .ways import LAMP, MIRROR, ROOM, Route, Way

__all__ = [
    "DISTANT",
    "FULL_SKY",
    "FULL_SUN",
    "GLASS_REFLECTANCE",
    "LAMP",
    "LENS_CURVE",
    "MIRROR",
    "ROOM",
    "SENSOR_WIDTH",
    "SKY",
    "SUN",
    "Effort",
    "Emitter",
    "Layer",
    "Light",
    "Route",
    "Source",
    "View",
    "Way",
    "build_emitter",
    "decode_layer",
    "emitter_key",
    "encode_layer",
    "estimate",
    "field",
    "half_spread",
    "layer_key",
    "lens_axes",
    "light_key",
    "light_of",
    "meter_light",
    "mirrored_light",
    "project",
    "receive",
    "render_layer",
    "sensor_width",
    "sheen_of",
    "sources",
    "view_key",
    "view_of",
]
