"""A picture with what stands behind each of its pixels: what the readings of its parts work on."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy import ndimage
from scipy.spatial import ConvexHull, QhullError

from ..camera import frame_exposure, signal_at, source_colours, stops_over_grey
from ..document import Setup
from ..inspection.names import patch_name
from ..metering import LaidOut
from ..transport import SKY, SUN, View, view_of
from ..wording import Wording
from ..world import World, opening_of, pieces
from .picture import SIZE, Picture, first_points
from .targets import headroom

COUNT = SIZE[0] * SIZE[1]
"""Pixels of a picture that is judged."""
STEP = 0.02
"""Between the places of a line drawn round something, as a part of the frame's width."""


@dataclass(frozen=True)
class Scene:
    """A set-up's picture ready to be read."""

    setup: Setup
    ready: LaidOut
    picture: Picture
    say: Wording

    @property
    def camera(self):
        return self.ready.camera

    @property
    def world(self) -> World:
        return self.ready.world

    @cached_property
    def bare(self) -> World:
        """The world without its people."""
        return self.world.without(range(*self.people))

    @cached_property
    def view(self) -> View:
        return view_of(self.world, self.setup, self.camera, SIZE)

    @cached_property
    def first(self):
        """(pixels,) shading point that a pixel shows, -1 where it shows only sky."""
        return first_points(self.view)

    def of(self, column, missing=-1):
        """A column of the view's points, a pixel each."""
        return np.where(self.first >= 0, column[self.first], missing)

    @cached_property
    def body(self):
        return self.of(self.view.body)

    @cached_property
    def sheet(self):
        """(pixels,) sheet that a pixel shows, -1 for none."""
        patch = self.of(self.view.patch)
        return np.where(patch >= 0, self.world.patches.sheet[patch], -1)

    @cached_property
    def lamps(self):
        """(pixels,) whether a unit covers it."""
        found = np.zeros(COUNT, bool)
        for pixels in self.picture.lamps.values():
            found[pixels] = True
        return found

    @cached_property
    def window(self):
        """(pixels,) whether it shows the sky or what covers a window."""
        patch = self.of(self.view.patch)
        sky = (self.first < 0) | ((patch >= 0) & (self.world.patches.sky[patch, 2] != 0))
        panes = [opening_of(self.setup, s.piece) is not None for s in self.world.sheets]
        return sky | np.array([*panes, False])[self.sheet]

    @property
    def people(self):
        """First body that is a person, and the first past them."""
        first = 1 + len(self.setup.furniture)
        return first, first + len(self.setup.figures)

    @cached_property
    def anyone(self):
        return (self.body >= self.people[0]) & (self.body < self.people[1])

    @cached_property
    def backdrop(self):
        """(pixels,) what is behind or about people: no person, no unit."""
        return ~self.anyone & ~self.lamps

    @cached_property
    def mix(self):
        """(pixels,) linear signal."""
        return self.picture.mix.ravel()

    @cached_property
    def skin(self):
        """The lit skin about middle grey [stops]; 0 where it is not in the picture."""
        lit = self.picture.signal("skin")
        return stops_over_grey(lit) if lit else 0.0

    @cached_property
    def over_skin(self):
        """(pixels,) stops over the lit skin."""
        return np.log2(np.maximum(self.mix, 1e-6) / signal_at(self.skin))

    @cached_property
    def clips(self):
        """(pixels,) whether it is over what the camera's curve holds."""
        return self.mix >= signal_at(headroom(self.camera))

    @cached_property
    def gains(self):
        """(sources, 3) by which a luminance of each source at full becomes linear signal."""
        camera = self.camera
        colours = source_colours(self.setup, camera.white_balance, camera.tint)
        exposure = frame_exposure(camera)
        return {name: np.asarray(colours[name]) * exposure for name in self.picture.ids}

    def called(self, source):
        """What a source is called."""
        named = {u.id: u.name for u in self.setup.units}
        return named.get(source) or {SKY: "the sky", SUN: "the sun"}.get(source, source)

    def unit(self, source):
        """Id of a source that is a unit, else None."""
        return source if any(u.id == source for u in self.setup.units) else None

    def brought(self, pixels):
        """(sources,) mean signal that each brings to some pixels, as it is dimmed."""
        own = self.picture.full.reshape(len(self.picture.ids), -1)[:, pixels]
        return self.picture.state * own.mean(1)

    def dimmer_for(self, pixels, k, over):
        """The lower dimmer of a source that brings some pixels to so many stops over the lit skin,
        for light adds and its light on the skin goes down with it; None where it cannot.
        """
        now = float(self.picture.state[k])
        skin = self.picture.parts["skin"]
        if now <= 0 or not len(skin):
            return None
        shares, lit = self.brought(pixels), self.brought(skin)
        own, rest = shares[k] / now, float(shares.sum() - shares[k])
        face, other = lit[k] / now, float(lit.sum() - lit[k])
        slope = own - 2**over * face
        dimmer = (2**over * other - rest) / slope if slope > 0 else -1.0
        return float(dimmer) if 0.01 <= dimmer < now else None

    def name_at(self, pixels):
        """What most of some pixels show."""
        bodies = self.body[pixels]
        known = pixels[bodies >= 0]
        if self.window[pixels].mean() > 0.5 or not len(known):
            return self._window_at(pixels)
        value, count = np.unique(self.body[known], return_counts=True)
        mine = known[self.body[known] == value[count.argmax()]]
        patch = self.view.patch[self.first[mine]]
        patch = patch[patch >= 0]
        if not len(patch):
            return "the backdrop"
        value, count = np.unique(patch, return_counts=True)
        return patch_name(self.setup, self.world, int(value[count.argmax()]))

    def _window_at(self, pixels):
        sheet = self.sheet[pixels]
        sheet = sheet[sheet >= 0]
        if len(sheet):
            piece = self.world.sheets[int(np.bincount(sheet).argmax())].piece
            return f"'{pieces(self.setup)[piece].name}'"
        return "the sky"


def part_of_frame(pixels):
    """How much of the frame some pixels are, in words.

    Examples
    --------
    >>> part_of_frame(np.arange(83)), part_of_frame(np.arange(4000))
    ('0.4 % of the frame', '19 % of the frame')
    """
    part = 100 * len(pixels) / COUNT
    return f"{part:.1f} % of the frame" if part < 9.95 else f"{part:.0f} % of the frame"


def regions(mask, least):
    """Areas of a picture that hang together, the largest first.

    Parameters
    ----------
    mask : ndarray of bool, shape (pixels,)
    least : int
        Pixels from which one counts.

    Returns
    -------
    list of ndarray
        Pixels of each.

    Examples
    --------
    >>> mask = np.zeros(COUNT, bool)
    >>> mask[[0, 1, 2, 500]] = True
    >>> [r.tolist() for r in regions(mask, 2)]
    [[0, 1, 2]]
    """
    labels, count = ndimage.label(mask.reshape(SIZE[1], SIZE[0]), np.ones((3, 3)))
    sizes = np.bincount(labels.ravel(), minlength=count + 1)
    sizes[0] = 0
    order = [k for k in np.argsort(-sizes) if sizes[k] >= least]
    return [np.flatnonzero(labels.ravel() == k) for k in order]


def round_it(pixels):
    """A closed line round some pixels, as places of the frame; one place where they are few.

    Examples
    --------
    >>> round_it(np.array([0]))
    ((0.0026041666666666665, 0.004629629629629629),)
    >>> ring = round_it(np.arange(0, COUNT, 7))
    >>> ring[0] == ring[-1], len(ring) > 100
    (True, True)
    """
    width, height = SIZE
    rows, columns = np.divmod(np.asarray(pixels), width)
    places = np.stack([(columns + 0.5) / width, (rows + 0.5) / height], 1)
    middle = tuple(float(v) for v in places.mean(0))
    if len(places) < 12:
        return (middle,)
    try:
        hull = places[ConvexHull(places).vertices]
    except QhullError:
        # All in a row.
        return (middle,)
    ring = []
    for one, other in zip(hull, np.roll(hull, -1, 0), strict=True):
        count = max(1, int(np.ceil(np.linalg.norm(other - one) / STEP)))
        ring += [tuple(float(v) for v in one + (other - one) * k / count) for k in range(count)]
    return (*ring, ring[0])
