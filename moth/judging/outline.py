"""The outline of a person in the picture: where it parts from what is behind, and where it melts.

Along the contour of head, shoulders and arms the figure's own strip is held against the strip
beside it, as the frame shows both: through the curve, with the backdrop as soft as the lens draws
it.
"""

from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
from scipy import ndimage
from scipy.sparse import csr_matrix
from scipy.spatial import cKDTree

from ..camera import blur, bt709, signal_at, stops_over_grey
from ..colour import LUMINANCE
from ..document import Setup
from ..materials import FINISHES
from ..transport import project, view_of
from ..wording import percent
from ..world import anchor, build_world, landmarks
from .limits import limit
from .picture import SIZE, Picture
from .results import Drawn, Reading

FLARE = 0.004
"""Light that a display's face sends back besides its picture, as a part of its white; typical."""
INSIDE, BESIDE = 2.6, 3.2
"""Depth of the strips at a picture of :data:`SIZE` [px]."""
WORST = 0.3
"""Part of a stretch that decides: its worst."""
LEAST = 6
"""Pixels of contour from which a stretch is told."""
_HAIR = next(i for i, f in enumerate(FINISHES) if f.name == "hair")
PARTS = ("hair", "face", "neck", "shoulder", "arm")
WHY = {
    "hair": "Hair that melts into the wall takes the shape off the head.",
    "face": "Where the cheek melts into the wall the face has no end.",
    "neck": "A neck that is lost sets the head afloat.",
    "shoulder": "A shoulder that melts takes the body off the picture.",
    "arm": "An arm that melts takes the body off the picture.",
}


class Stretch(NamedTuple):
    """A part of an outline on one side."""

    part: str
    """Of :data:`PARTS`."""
    left: bool
    """Whether on camera left of the head's middle."""
    places: np.ndarray
    """Which places of the contour."""


@dataclass(frozen=True)
class Contour:
    """Places of an outline, and the strips inside and beside each."""

    pixels: np.ndarray
    """(n, 2) row, column."""
    part: np.ndarray
    """(n,) index into :data:`PARTS`."""
    left: np.ndarray
    """(n,) whether it is on camera left of the head's middle."""
    inner: csr_matrix
    """(n, pixels of the picture): means over the figure's own strip."""
    beside: csr_matrix
    """The same of what is beside it."""

    def stretches(self):
        """Parts and sides that are long enough to be told."""
        for k, part in enumerate(PARTS):
            for left in (True, False):
                mine = np.flatnonzero((self.part == k) & (self.left == left))
                if len(mine) >= LEAST:
                    yield Stretch(part, left, mine)

    def against(self, signal):
        """How the strips differ in a picture's linear signal (pixels, 3)."""
        # What is blown is white and no more: one such hair does not make a dark strip light.
        shown = np.minimum(signal, 1.0)
        inner, beside = self.inner @ shown, self.beside @ shown
        difference = np.linalg.norm(lab(inner) - lab(beside), axis=1)
        bright, behind = (np.maximum(s @ LUMINANCE, 1e-9) for s in (inner, beside))
        over = np.maximum(self.inner @ signal @ LUMINANCE, 1e-9) / GREY
        return Contrast(difference, np.log2(bright / behind), np.log2(over))


@dataclass(frozen=True)
class Contrast:
    """An outline's strips held against each other."""

    difference: np.ndarray
    """(n,) of colour, CIELAB."""
    stops: np.ndarray
    """(n,) inside over beside."""
    inside: np.ndarray
    """(n,) stops of the inside about middle grey."""


NOTHING = -99.0
"""Stops about middle grey of no light."""
GREY = signal_at(0.0)
"""Linear signal of middle grey."""


def lab(signal):
    """CIELAB of linear BT.709 signals as a display shows them, its own flare added.

    Parameters
    ----------
    signal : ndarray, shape (..., 3)
        Middle grey at the exposure's own value.

    Returns
    -------
    ndarray, shape (..., 3)

    References
    ----------
    CIE 15:2004, 8.2.1; white D65. The display decodes what :func:`moth.camera.bt709` encodes by
    a power of 2.4 (ITU-R BT.1886).

    Examples
    --------
    >>> lab(np.array([1e3, 1e3, 1e3])).round(1).tolist()
    [100.0, 0.0, 0.0]
    """
    shown = bt709(np.asarray(signal, float)) ** 2.4
    shown = (np.clip(shown, 0, 1) + FLARE) / (1 + FLARE)
    xyz = shown @ _XYZ.T
    f = np.where(xyz > (6 / 29) ** 3, np.cbrt(xyz), xyz / (3 * (6 / 29) ** 2) + 4 / 29)
    x, y, z = f[..., 0], f[..., 1], f[..., 2]
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], -1)


_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
_XYZ = _XYZ / _XYZ.sum(1, keepdims=True)
"""Linear BT.709 to X, Y, Z over the white's (IEC 61966-2-1)."""


def contour_of(setup, picture, person=0):
    """The outline of a person against what is behind.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture
    person : int
        Index of the figure.

    Returns
    -------
    Contour or None
        None for somebody who is not in the picture.
    """
    width, height = SIZE
    camera, world = setup.cameras[0], build_world(setup)
    view = view_of(world, setup, camera, SIZE)
    body = 1 + len(setup.furniture) + person
    count = width * height
    mine = (view.body == body) & (view.past == 0)
    cover = np.bincount(view.pixel[mine], view.weight[mine], count)
    own_depth = np.full(count, np.inf)
    np.minimum.at(own_depth, view.pixel[mine], view.reach[mine])
    finish = np.full(count, -1)
    finish[view.pixel[mine]] = view.finish[mine]
    figure = (cover >= 0.5).reshape(height, width)
    if figure.sum() < 40:
        return None
    edge = figure & ~ndimage.binary_erosion(figure, border_value=1)
    # What stands before the person hides the outline and is none.
    near = np.where(np.isfinite(own_depth), own_depth, 0).reshape(height, width)
    near = ndimage.maximum_filter(near, 3)
    depth = view.depth.reshape(height, width)
    before = (cover.reshape(height, width) < 0.03) & (depth < near - 0.05) & (near > 0)
    edge &= ~ndimage.binary_dilation(before, iterations=2)
    spots = np.argwhere(edge)
    if len(spots) < LEAST:
        return None
    pure_in = np.flatnonzero(cover > 0.97)
    pure_out = np.flatnonzero((cover < 0.03) & ~before.ravel())
    inner = _strip(spots, pure_in, np.full(len(spots), INSIDE), count)
    beside = _strip(spots, pure_out, _softness(setup, camera, view, spots, depth), count)
    known = (inner.getnnz(1) > 0) & (beside.getnnz(1) > 0)
    spots = spots[known]
    if len(spots) < LEAST:
        return None
    part, left = _named(setup, camera, person, spots, finish.reshape(height, width))
    return Contour(spots, part, left, inner[known], beside[known])


def _softness(setup, camera, view, spots, depth):
    """How wide the strip beside each place is: what is out of focus there is drawn over so much."""
    eyes = float(np.linalg.norm(np.asarray(camera.position) - anchor(setup)))
    focus = max(camera.focus or eyes, 2 * camera.focal_length / 1000)
    far = ndimage.maximum_filter(np.where(depth < 1e4, depth, 0), 5)[spots[:, 0], spots[:, 1]]
    spot = blur(camera, focus, np.maximum(far, 0.1)) * view.size[0]
    return np.clip(spot / 2 + BESIDE, BESIDE, 14.0)


def _strip(spots, pixels, reach, count):
    """Means over the pixels about each place (n, pixels of the picture); empty where none are."""
    if not len(pixels):
        return csr_matrix((len(spots), count))
    tree = cKDTree(np.stack(np.divmod(pixels, SIZE[0]), 1))
    found = tree.query_ball_point(spots, reach)
    rows = np.repeat(np.arange(len(spots)), [len(f) for f in found])
    columns = pixels[np.concatenate([np.asarray(f, int) for f in found])]
    shares = np.concatenate([np.full(len(f), 1 / max(len(f), 1)) for f in found])
    return csr_matrix((shares, (rows, columns)), (len(spots), count))


def _named(setup, camera, person, spots, finish):
    """Part of the body and side of each place."""
    marks = landmarks(setup.figures[person])
    width, height = SIZE
    where = {}
    for name in ("crown", "chin", "shoulder_left", "shoulder_right"):
        at = project_near(camera, marks[name])
        where[name] = np.array([at[1] * height, at[0] * width])
    row, column = spots[:, 0] + 0.5, spots[:, 1] + 0.5
    middle = (where["crown"][1] + where["chin"][1]) / 2
    head = max(where["chin"][0] - where["crown"][0], 2.0)
    shoulder = (where["shoulder_left"][0] + where["shoulder_right"][0]) / 2
    # What a place is of: its own finish, or that of the next pixel in.
    inward = ndimage.grey_closing(finish, 3)
    of = np.maximum(finish[spots[:, 0], spots[:, 1]], -1)
    of = np.where(of < 0, inward[spots[:, 0], spots[:, 1]], of)
    part = np.full(len(spots), PARTS.index("arm"))
    high = row < where["chin"][0] - 0.05 * head
    part[row < shoulder + 0.45 * head] = PARTS.index("shoulder")
    part[(row < shoulder) & (np.abs(column - middle) < 0.55 * head)] = PARTS.index("neck")
    part[high] = PARTS.index("face")
    part[high & (of == _HAIR)] = PARTS.index("hair")
    return part, column < middle


def project_near(camera, place):
    """Where a place shows in the frame, 0..1; beyond it where it is out of the picture."""
    wide = camera.model_copy(update={"focal_length": max(camera.focal_length / 40, 0.05)})
    scale = camera.focal_length / wide.focal_length
    found = project(wide, [place])[0] or (0.5, 0.5)
    return 0.5 + (found[0] - 0.5) * scale, 0.5 + (found[1] - 0.5) * scale


def ray(camera, words, place, target, long=0.14):
    """A line from a place toward another, so long in the room [m], as the frame shows it.

    Parameters
    ----------
    camera : moth.document.Camera
    words : str
    place, target : ndarray, shape (3,)
        [m]
    long : float

    Returns
    -------
    Drawn
    """
    way = np.asarray(target, float) - place
    end = place + min(long / max(float(np.linalg.norm(way)), 1e-9), 1.0) * way
    return Drawn(words, (project_near(camera, place), project_near(camera, end)))


def worst_of(values):
    """What decides of a stretch: the mean of its worst part.

    Examples
    --------
    >>> worst_of(np.array([1.0, 2, 3, 10, 10, 10, 10, 10, 10, 10]))
    2.0
    """
    count = max(1, round(WORST * len(values)))
    return float(np.sort(values)[:count].mean())


def read_outline(setup, picture, say, person=0):
    """Each part of a person's outline, worst first.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture
    say : moth.wording.Wording
    person : int

    Returns
    -------
    list of Reading
        Empty for somebody who is not in the picture.
    """
    contour = contour_of(setup, picture, person)
    if contour is None:
        return []
    skin = picture.signal("skin")
    lit = stops_over_grey(skin) if skin else 0.0
    outline = _Outline(setup, picture, contour, lit, person)
    found = [outline.read(stretch, say) for stretch in contour.stretches()]
    order = {"fault": 0, "mind": 1, "well": 2}
    return sorted(found, key=lambda r: (order[r.verdict], r.figure))


class _Verdict(NamedTuple):
    rank: str
    word: str
    worst: float
    """Difference of the worst of it."""
    over: float
    """Its bright places over the lit skin [stops]."""


@dataclass(frozen=True)
class _Outline:
    """An outline in a picture, ready to be told."""

    setup: Setup
    picture: Picture
    contour: Contour
    lit: float
    """The lit skin about middle grey [stops]."""
    person: int

    @cached_property
    def contrast(self):
        return self.contour.against(self.picture.colour.reshape(-1, 3))

    def verdict(self, stretch, contrast):
        worst = worst_of(contrast.difference[stretch.places])
        # No edge takes the eye from what is brighter behind it.
        edge = np.where(contrast.stops > 0, contrast.inside, NOTHING)[stretch.places]
        over = float(np.quantile(edge, 0.8)) - self.lit
        gone, faint, hot = (
            limit(self.setup, f"outline-{name}") for name in ("gone", "faint", "hot")
        )
        if worst < gone:
            return _Verdict("fault", "gone", worst, over)
        if stretch.part in ("hair", "shoulder", "arm") and over > hot:
            return _Verdict("mind", "too much", worst, over)
        if worst < faint:
            return _Verdict("mind", "faint", worst, over)
        return _Verdict("well", "reads", worst, over)

    def mended(self, stretch):
        """A unit and its dimmer by which a stretch reads and no other is lost, or None.

        Light adds, so each dimmer is tried in the picture itself; units that light the face are
        left alone.
        """
        picture, best = self.picture, None
        signal = picture.colour.reshape(-1, 3)
        others = [
            s for s in self.contour.stretches() if self.verdict(s, self.contrast).rank != "fault"
        ]
        for unit in self.setup.units:
            if unit.role in ("key", "fill") or unit.id not in picture.ids:
                continue
            k = picture.ids.index(unit.id)
            full, now = picture.each[k].reshape(-1, 3), picture.state[k]
            for dimmer in DIMMERS:
                change = abs(float(np.log2(dimmer / max(now, 1e-3))))
                if best is not None and change >= best[0]:
                    continue
                tried = self.contour.against(signal + (dimmer - now) * full)
                if self.verdict(stretch, tried).rank == "well" and not any(
                    self.verdict(s, tried).rank == "fault" for s in others
                ):
                    best = change, unit, float(dimmer)
        return None if best is None else best[1:]

    def read(self, stretch, say):
        verdict = self.verdict(stretch, self.contrast)
        mended = self.mended(stretch) if verdict.rank == "fault" else None
        difference = self.contrast.difference[stretch.places]
        weak = stretch.places[np.argsort(difference)][: max(1, round(WORST * len(difference)))]
        stops = float(np.median(self.contrast.stops[weak]))
        words = f"{say.off(stops)} what is behind it"
        if abs(stops) <= 0.05:
            words = "as light as what is behind it"
        if verdict.word == "too much":
            words = f"{say.off(verdict.over)} the lit skin"
        unit, dimmer = mended or (None, None)
        if unit is not None:
            words += f": {unit.name} at {percent(dimmer)} brings it out"
        people, side = self.setup.figures, "left" if stretch.left else "right"
        who = "" if len(people) == 1 else f"{people[self.person].name}, "
        bright = verdict.word == "too much"
        return Reading(
            key=f"outline {self.person} {stretch.part} {side}",
            kind="outline",
            name=f"{who}{stretch.part}, camera {side}",
            verdict=verdict.rank,
            word=verdict.word,
            words=words,
            why="It takes the eye from the face." if bright else WHY[stretch.part],
            figure=verdict.worst,
            path=_path(self.contour.pixels[stretch.places]),
            unit=unit.id if unit is not None else None,
            dimmer=dimmer,
            drawn=self.drawn(stretch, weak),
        )

    def drawn(self, stretch, weak):
        """The two strips that are held against each other, and where the weakest of it is."""
        signal = self.picture.colour.reshape(-1, 3) @ LUMINANCE
        row, column = np.divmod(np.arange(len(signal)), SIZE[0])
        lines = []
        for name, strip in (("the figure", self.contour.inner), ("behind", self.contour.beside)):
            own = strip[stretch.places]
            middles = np.column_stack([own @ row, own @ column])
            shown = float(bt709(np.median(own @ signal)))
            lines.append(Drawn(f"{name}: {percent(shown)} on a monitor's curve", _path(middles)))
        worst = self.verdict(stretch, self.contrast).worst
        words = f"where they are least apart: {worst:.1f} of colour and tone (CIELAB)"
        return (*lines, Drawn(words, _path(self.contour.pixels[weak])))


DIMMERS = np.geomspace(0.01, 1.0, 21)
"""Dimmers that are tried, a third of a stop apart."""


def _path(pixels):
    """The places in order along the line, as parts of the frame."""
    width, height = SIZE
    left = list(range(len(pixels)))
    at = min(left, key=lambda k: (pixels[k][0], pixels[k][1]))
    order = []
    points = pixels.astype(float)
    while left:
        left.remove(at)
        order.append(at)
        if left:
            at = left[int(np.argmin(((points[left] - points[at]) ** 2).sum(1)))]
    return tuple(
        (float((points[k][1] + 0.5) / width), float((points[k][0] + 0.5) / height)) for k in order
    )
