"""The picture as a spot meter sees it: which part of it is skin, shade, backdrop or edge, and what
each source brings there.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from scipy import ndimage

from ..camera import frame_exposure, source_colours, source_levels
from ..colour import LUMINANCE
from ..document import BACKDROP, WINDOW
from ..engine.caching import Keyed, cached
from ..metering import lay_out
from ..transport import layer_key, project, render_layer, sources, view_of
from ..world import build_world, landmarks, opening_corners, opening_of, pieces

SIZE = (192, 108)
"""Of the picture that is judged; a cheek in a medium shot is ten pixels across."""
SHEER = 0.4
"""Cloths before the lens that leave this part of the light are looked through: nets."""
PARTS = {
    "skin": "skin on the key side",
    "shadow": "skin on the shadow side",
    "highlights": "highlights",
    "floor": "deepest shade",
    "backdrop": "backdrop about the head",
    "edge": "edge of head and shoulders",
}
"""Parts of a picture by key, as they are called."""


@cached("small layers")
def _layer(keyed):
    setup, source = keyed.value
    world = build_world(setup)
    return render_layer(world, view_of(world, setup, setup.cameras[0], SIZE), source)


def coarse_layer(setup, source):
    """A source's small layer by the first camera, rendered when it is not kept.

    Parameters
    ----------
    setup : moth.document.Setup
    source : moth.transport.Source

    Returns
    -------
    moth.transport.Layer
    """
    return _layer(Keyed(layer_key(setup, setup.cameras[0], source, SIZE), (setup, source)))


FINER = 3
"""Pixels of a whole frame to one that is judged, each way."""


@cached("small layers")
def _whole(keyed):
    setup, source = keyed.value
    world = build_world(setup)
    size = tuple(FINER * n for n in SIZE)
    fine = render_layer(world, view_of(world, setup, setup.cameras[0], size), source).surfaces
    return fine.reshape(SIZE[1], FINER, SIZE[0], FINER, 3).mean((1, 3))


def whole_layers(setup):
    """Source id -> layer as of :func:`coarse_layer`, each pixel the mean of those of a whole frame:
    what is thinner than a pixel counts by its width.
    """
    found = {}
    for source in sources(setup):
        key = layer_key(setup, setup.cameras[0], source, (*SIZE, FINER))
        surfaces = _whole(Keyed(key, (setup, source)))
        found[source.id] = replace(coarse_layer(setup, source), surfaces=surfaces)
    return found


@dataclass(frozen=True)
class Picture:
    """A set-up's picture, source by source."""

    ids: tuple
    each: np.ndarray
    """(sources, height, width, 3) linear signal of each source at full."""
    state: np.ndarray
    """(sources,) levels in the mix."""
    parts: dict
    """Key of :data:`PARTS` -> (k,) pixels; empty where it is not in the picture."""
    things: dict
    """What is fixed, as the document names it -> (k,) pixels."""
    lamps: dict
    """Source that stands in the picture itself, or is mirrored in it -> (k,) pixels."""

    @property
    def seen(self):
        """Sources that stand in the picture themselves."""
        return frozenset(self.lamps)

    @cached_property
    def full(self):
        """(sources, height, width) the same by luminance."""
        return self.each @ LUMINANCE

    @cached_property
    def colour(self):
        """(height, width, 3) linear signal of the mix."""
        return np.tensordot(self.state, self.each, 1)

    @property
    def mix(self):
        """(height, width) linear signal."""
        return self.colour @ LUMINANCE

    def by_source(self, part):
        """(sources,) mean signal that each at full brings to a part."""
        return self._by_source(self.parts[part])

    def _by_source(self, pixels):
        if not len(pixels) or not self.ids:
            return np.zeros(len(self.ids))
        return self.full.reshape(len(self.ids), -1)[:, pixels].mean(1)

    def signal(self, part):
        """Mean linear signal of a part; None when it is not in the picture."""
        return self.signal_in(self.parts[part])

    def signal_in(self, pixels):
        """Mean linear signal of some pixels; None for no pixels."""
        return float(self.state @ self._by_source(pixels)) if len(pixels) else None


def picture_of(setup, layers=None):
    """A picture ready to be judged.

    Parameters
    ----------
    setup : moth.document.Setup
    layers : dict, optional
        Source id -> small layer; rendered when not given.

    Returns
    -------
    Picture
    """
    layers = {s.id: coarse_layer(setup, s) for s in sources(setup)} if layers is None else layers
    ready = lay_out(setup)
    camera, (width, height) = ready.camera, SIZE
    colours, exposure = (
        source_colours(setup, camera.white_balance, camera.tint),
        frame_exposure(camera),
    )
    ids = tuple(layers)
    each = np.zeros((len(ids), height * width, 3))
    open_part = np.ones(height * width)
    for layer in layers.values():
        open_part[layer.seen] *= 1 - layer.cover
    levels = source_levels(setup)
    for k, name in enumerate(ids):
        own = layers[name].surfaces.reshape(-1, 3) * open_part[:, None]
        own[layers[name].seen] += layers[name].glow[:, None]
        each[k] = own * (colours[name] * exposure)
    state = np.array([levels[name] for name in ids])
    mixed = np.tensordot(state, each, 1) @ LUMINANCE
    view = view_of(ready.world, setup, camera, SIZE)
    shades = _shades(setup, ready.world, view)
    shown = {
        k: np.union1d(layer.seen, shades.get(k, [])).astype(int) for k, layer in layers.items()
    }
    # Land in a window covers nothing: it is laid in the picture itself.
    large = {k: np.where(layer.cover > 0, layer.cover, 1).sum() > 3 for k, layer in layers.items()}
    lamps = {k: shown[k] for k in layers if large[k] or k in shades}
    parts, things = _parts(setup, (ready, view), (layers, shown), mixed)
    return Picture(
        ids,
        each.reshape(len(ids), height, width, 3),
        state,
        parts,
        things,
        lamps,
    )


def first_points(view):
    """The shading point that each pixel is part of (pixels,), -1 where it shows only sky. Behind a
    net it is what shows through.
    """
    first = np.full(view.size[0] * view.size[1], -1)
    seen = np.flatnonzero((view.past == 0) | (view.left >= SHEER))
    seen = seen[np.lexsort((-seen, view.past[seen]))]
    first[view.pixel[seen]] = seen
    return first


def _shades(setup, world, view):
    """Pixels that show the shade of a lamp of the place, by its unit: what is seen of the light."""
    first = first_points(view)
    patch = np.where(first >= 0, view.patch[first], -1)
    sheet = np.where(patch >= 0, world.patches.sheet[patch], -1)
    own = pieces(setup)
    piece = np.array([*(s.piece if s.behind else -1 for s in world.sheets), -1])[sheet]
    found = {}
    for unit in setup.units:
        of = [k for k in np.unique(piece[piece >= 0]) if unit.piece and own[k].id == unit.piece]
        if of:
            found[unit.id] = np.flatnonzero(np.isin(piece, of))
    return found


def _parts(setup, seen, pictured, mixed):
    """Pixels of each part of the picture, and of each fixed thing.

    seen: what is laid out, and the view; pictured: the layers, and the pixels that each shows in.
    """
    (ready, view), (_, shown) = seen, pictured
    world, camera, (width, height) = ready.world, ready.camera, SIZE
    first = first_points(view)
    body, patch = (
        np.where(first >= 0, view.body[first], -1),
        np.where(first >= 0, view.patch[first], -1),
    )
    people = 1 + len(setup.furniture)
    figure = (body == people).reshape(height, width)
    anyone = (body >= people) & (body < people + len(setup.figures))
    lamps = np.zeros(width * height, bool)
    for pixels in shown.values():
        lamps[pixels] = True
    rows, columns = np.divmod(np.arange(width * height), width)
    marks = landmarks(setup.figures[0])
    crown, chin, eyes = project(
        camera, [marks["crown"], marks["chin"], (marks["eye_left"] + marks["eye_right"]) / 2]
    )
    tall = max(3.0, abs(chin[1] - crown[1]) * height) if crown and chin else height / 5
    sky = (patch >= 0) & (world.patches.sky[patch, 2] != 0)
    sheet = np.where(patch >= 0, world.patches.sheet[patch], -1)
    window = sky | np.isin(
        sheet, [k for k, s in enumerate(world.sheets) if opening_of(setup, s.piece)]
    )
    beside = ~anyone & ~lamps & ~window & (body >= 0)
    parts = {name: np.zeros(0, int) for name in PARTS}
    for part, mark in (("skin", "key-side"), ("shadow", "fill-side")):
        at = project(camera, [ready.marks[mark].position])[0]
        if at:
            near = (columns + 0.5 - at[0] * width) ** 2 + (rows + 0.5 - at[1] * height) ** 2 < (
                0.11 * tall
            ) ** 2 + 1
            parts[part] = np.flatnonzero(near & figure.ravel() & ~lamps)
    if eyes:
        about = (columns + 0.5 - eyes[0] * width) ** 2 + (rows + 0.5 - eyes[1] * height) ** 2 < (
            1.6 * tall
        ) ** 2
        parts["backdrop"] = np.flatnonzero(beside & about)
    if chin:
        # The outline of head and shoulders, two pixels deep; an edge is what is brightest there.
        rim = figure & ~ndimage.binary_erosion(figure, iterations=2, border_value=1)
        rim = np.flatnonzero(rim.ravel() & (rows < chin[1] * height + 0.6 * tall) & ~lamps)
        parts["edge"] = rim[mixed[rim] >= np.quantile(mixed[rim], 0.85)] if len(rim) else rim
    inside = np.arange(width * height)
    parts["highlights"] = inside[mixed >= np.quantile(mixed, 0.995)]
    parts["floor"] = inside[mixed <= np.quantile(mixed, 0.05)]
    things = {
        f.thing: _fixed_pixels(setup, f.thing, pictured, window, parts["backdrop"])
        for f in setup.fixed
    }
    return parts, things


def _fixed_pixels(setup, thing, pictured, window, backdrop):
    """Pixels in which something that cannot be dimmed is seen."""
    (layers, shown), camera = pictured, setup.cameras[0]
    if thing == BACKDROP:
        return backdrop
    if thing in layers:
        # A lamp itself, where it stands in the picture; light of the sun or of a lamp out of it,
        # where it falls brightest.
        own = shown[thing]
        if len(own):
            return own
        lit = (layers[thing].surfaces @ LUMINANCE).ravel()
        return np.flatnonzero((lit >= np.quantile(lit, 0.99)) & (lit > 0))
    opening = next((o for o in setup.openings if WINDOW + o.id == thing), None)
    if opening is None:
        return np.zeros(0, int)
    corners = project_far(camera, opening_corners(setup, opening))
    if any(p is None for p in corners):
        return np.zeros(0, int)
    xs, ys = ([p[k] for p in corners] for k in (0, 1))
    width, height = SIZE
    rows, columns = np.divmod(np.arange(width * height), width)
    x, y = (columns + 0.5) / width, (rows + 0.5) / height
    return np.flatnonzero(window & (x > min(xs)) & (x < max(xs)) & (y > min(ys)) & (y < max(ys)))


def project_far(camera, points):
    """As :func:`moth.transport.project`, but places outside the picture keep their numbers; None
    only behind the lens.
    """
    wide = camera.model_copy(update={"focal_length": max(camera.focal_length / 40, 0.05)})
    scale = camera.focal_length / wide.focal_length
    return [
        None if p is None else (0.5 + (p[0] - 0.5) * scale, 0.5 + (p[1] - 0.5) * scale)
        for p in project(wide, points)
    ]
