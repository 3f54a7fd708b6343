"""From emitters to points and pixels. Direct light; the link to indirect light goes into `receive` and `render_layer`."""

from .emitters import Emitter, beam_figures, build_emitter, emitter_key
from .encoding import encode_layer
from .layers import Layer, layer_key, render_layer
from .points import receive
from .view import View, half_spread, project, see, view_key

__all__ = ["Emitter", "Layer", "View", "beam_figures", "build_emitter", "emitter_key", "encode_layer", "half_spread", "layer_key", "project", "receive", "render_layer", "see", "view_key"]
