"""Lens, place and turn of the camera that took a still, from what is marked in it.

The head is the yardstick: its parts stand in known places to each other. Edges of the place tell
the lens and how the camera is held. All marks are weighed together by how far each may be off, and
what they leave open is told by the same sum: the covariance of a least-squares fit (Hartley and
Zisserman, Multiple View Geometry, 2003, ch. 5 and 8).
"""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from ..errors import MothError
from ..world.figures import ADULTS, iris_off, load_figure
from .marks import LANDMARKS

HAND = 2.0
"""How far a mark may be off [px of the kept picture]."""
HEADS_DIFFER = 0.04
"""Standard deviation of head sizes of grown people, as a part; typical of published surveys (head
height and distance of the pupils, 4 to 6 %)."""
OFF = {"eye_left": 0.002, "eye_right": 0.002, "nose_tip": 0.004, "chin": 0.005, "crown": 0.01}
"""How far a part of a real head is off its place in the mean of ours [m]; typical."""
BAD = 4.0
"""Root mean square of what is left of the marks, in what they may be off, from which they do not
fit a head."""
_WAYS = ("upright", "along", "across")
STARTS, BEGIN, FINISH = 8, 80, 600
"""From how many likely cameras the best is looked for, and how often the marks are weighed from
each of them, and from the best.
"""
GOOD = 1.3
"""The same up to which a fit is taken without looking for a better one."""
_F, _D, _ACROSS, _UP, _PAN, _TILT, _ROLL, _NOD, _LEAN, _WALL = range(10)
_PRIOR = {
    # What is held for likely before a mark is looked at, and how far it may be off.
    _F: (np.log(2.0), 0.9),
    _D: (np.log(2.5), 2.0),
    _UP: (0.0, 0.6),
    _ROLL: (0.0, 0.012),
    _NOD: (0.0, 0.12),
    _LEAN: (0.0, 0.10),
}


@dataclass(frozen=True)
class Estimate:
    """A figure and how far it may be off, one standard deviation."""

    value: float
    off: float

    @property
    def part(self):
        """How far it may be off, as a part of it."""
        return self.off / max(abs(self.value), 1e-9)


@dataclass(frozen=True)
class Framing:
    """The camera of a still against the head in it."""

    focal_length: Estimate
    """[mm]"""
    distance: Estimate
    """From the eyes to the lens [m]."""
    angle: Estimate
    """Of the lens off the way the head faces, + to the person's own left [deg]."""
    rise: Estimate
    """Of the lens over the eyes [m]."""
    tilt: Estimate
    """Of the camera, up + [deg]."""
    pan: float
    """Of the camera off the eyes, to its right + [deg]."""
    roll: float
    """[deg]"""
    nod: float
    """Of the head, up + [deg]."""
    left: float
    """Root mean square of what is left of the marks [px]."""
    aspect: float
    """Height of the picture over its width."""
    sensor_width: float
    """[mm]"""

    @property
    def sure(self):
        """Whether lens and distance are both told within a tenth, nine times in ten.

        Examples
        --------
        >>> near = [Estimate(50, 2), Estimate(3, 0.1)], [Estimate(0, 1)] * 3
        >>> Framing(*near[0], *near[1], 0, 0, 0, 1, 0.56, 25).sure
        True
        """
        return all(1.645 * f.part <= 0.1 for f in (self.focal_length, self.distance))


def head_places(figure, taken):
    """Parts of a head from the middle of its irises [m]: facing +y, Z up.

    Parameters
    ----------
    figure : moth.document.Figure
    taken : {"camera", "desk"}
        For a real person the mean of all built heads.

    Returns
    -------
    dict of str to ndarray, shape (3,)

    Examples
    --------
    >>> from moth.document import Figure
    >>> at = head_places(Figure(id="a", name="a", position=(0, 0)), "camera")
    >>> bool(0.05 < at["eye_right"][0] - at["eye_left"][0] < 0.07)
    True
    """
    names = (figure.figure,) if taken == "desk" else ADULTS
    parts = {}
    for mark in LANDMARKS:
        found = []
        for name in names:
            at = load_figure(name, figure.pose).landmarks
            off = np.array([0, 0, 0]) if not mark.startswith("eye") else iris_off(name)
            middle = (at["eye_left"] + at["eye_right"]) / 2 + iris_off(name)
            found.append(at[mark] + off - middle)
        parts[mark] = np.mean(found, 0)
    return parts


def find_camera(marks, record, size):
    """The camera that lays a head over the one that is marked.

    Parameters
    ----------
    marks : moth.stills.marks.Marks
        Both eyes and the chin at least.
    record : moth.stills.marks.Record
    size : (int, int)
        Width and height of the kept picture [px].

    Returns
    -------
    Framing

    Raises
    ------
    MothError
        When too little is marked, or marks that fit no head.
    """
    head = {k: v for k, v in marks.head.model_dump().items() if v is not None}
    if not {"eye_left", "eye_right", "chin"} <= set(head):
        raise MothError("Mark both eyes and the chin first.", "marks.head")
    fit = _Fit(head, marks, record, size)
    likely = sorted(fit.starts(), key=lambda x: float((fit.residuals(x) ** 2).sum()))
    best = None
    for at in range(0, len(likely), STARTS):
        begun = [fit.solved(start, BEGIN) for start in likely[at : at + STARTS]]
        here = fit.solved(min(begun, key=lambda s: s.cost).x, FINISH)
        best = here if best is None or here.cost < best.cost else best
        if fit.left(best) <= GOOD:
            break
    if fit.left(best) > BAD:
        raise MothError(
            "These marks fit no head: are left and right the person's own, and every edge of its"
            " kind?",
            "marks.head",
        )
    return fit.told(best)


class _Fit:
    """Marks as equations: each residual is in units of how far its mark may be off."""

    def __init__(self, head, marks, record, size):
        self.names = list(head)
        places = head_places(marks.figure, record.taken)
        self.places = np.array([places[n] for n in self.names])
        self.aspect = size[1] / size[0]
        self.seen = np.array([self._plane(head[n]) for n in self.names])
        self.px = HAND / size[0]
        self.width = size[0]
        self.anatomy = np.array(
            [OFF[n] if record.taken == "camera" else 0.0005 for n in self.names]
        )
        ends = [(e.kind, self._plane(e.a), self._plane(e.b)) for e in marks.edges]
        lines = [(_WAYS.index(kind), a, b) for kind, a, b in ends if kind != "horizon"]
        self.edge_ways = np.array([w for w, _, _ in lines], int)
        self.edge_middles = np.array([(a + b) / 2 for _, a, b in lines]).reshape(-1, 2)
        self.edge_halves = np.array([(b - a) / 2 for _, a, b in lines]).reshape(-1, 2)
        self.horizon = np.array([p for kind, a, b in ends if kind == "horizon" for p in (a, b)])
        self.horizon = self.horizon.reshape(-1, 2)
        self.prior = dict(_PRIOR)
        self.scale = HEADS_DIFFER if record.taken == "camera" else 0.002
        self.record = record
        if record.focal_length is not None:
            self.prior[_F] = (np.log(record.focal_length / record.sensor_width), 0.01)

    def _plane(self, spot):
        """A place in the picture in parts of its width from the middle, up +."""
        return np.array([spot[0] - 0.5, (0.5 - spot[1]) * self.aspect])

    def starts(self):
        """Places from which the best fit is looked for."""
        eyes = self.seen[self.names.index("eye_left")] - self.seen[self.names.index("eye_right")]
        chin = self.seen[self.names.index("chin")]
        middle = self.seen[self.names.index("eye_left")] - eyes / 2
        high = max(float(np.linalg.norm(middle - chin)), 1e-3)
        walls = np.arange(-1.5, 0.07, 0.2) if (self.edge_ways > 0).any() else (0.0,)
        at = [self.prior[_F][0]] if self.record.focal_length else np.log([1.0, 2.2, 4.5])
        for log_f in at:
            distance = np.log(np.exp(log_f) * 0.107 / high)
            for across in (-0.5, 0.0, 0.5):
                for wall in walls:
                    x = np.zeros(10)
                    x[[_F, _D, _ACROSS, _WALL]] = log_f, distance, across, wall
                    x[_TILT] = -np.arctan2(middle[1], np.exp(log_f))
                    x[_PAN] = -np.arctan2(middle[0], np.exp(log_f))
                    yield x

    def camera(self, x):
        """Place of the lens from the eyes, and its right, up and forward."""
        distance, across, up = np.exp(x[_D]), x[_ACROSS], x[_UP]
        place = distance * np.array(
            [-np.sin(across) * np.cos(up), np.cos(across) * np.cos(up), np.sin(up)]
        )
        way = np.arctan2(-place[0], -place[1]) + x[_PAN]
        flat = np.cos(x[_TILT])
        forward = np.array([flat * np.sin(way), flat * np.cos(way), np.sin(x[_TILT])])
        right = np.array([np.cos(way), -np.sin(way), 0.0])
        upward = np.cross(right, forward)
        c, s = np.cos(x[_ROLL]), np.sin(x[_ROLL])
        return place, c * right + s * upward, c * upward - s * right, forward

    def turned(self, x):
        """The head's parts, nodded and leant to a side."""
        n, e = x[_NOD], x[_LEAN]
        nod = np.array([[1, 0, 0], [0, np.cos(n), -np.sin(n)], [0, np.sin(n), np.cos(n)]])
        lean = np.array([[np.cos(e), 0, np.sin(e)], [0, 1, 0], [-np.sin(e), 0, np.cos(e)]])
        return self.places @ (lean @ nod).T

    def residuals(self, x):
        lens, right, up, forward = self.camera(x)
        focal = np.exp(x[_F])
        off = self.turned(x) - lens
        deep = np.maximum(off @ forward, 1e-3)
        drawn = focal * np.stack([off @ right, off @ up], 1) / deep[:, None]
        may = np.hypot(self.px, focal * self.anatomy / deep)[:, None]
        found = [((drawn - self.seen) / may).ravel()]
        found.append(self._of_edges(x, focal, np.array([right, up, forward])))
        found.append(np.array([(x[k] - mean) / off for k, (mean, off) in self.prior.items()]))
        return np.concatenate(found)

    def _of_edges(self, x, focal, basis):
        """How far each edge is from where its way leads to, in what a mark may be off."""
        along = np.array([np.cos(x[_WALL]), np.sin(x[_WALL]), 0.0])
        ways = np.array([[0.0, 0.0, 1.0], along, [-along[1], along[0], 0.0]]) @ basis.T
        way = ways[self.edge_ways]
        # The line from the middle of an edge toward its vanishing point, in the picture.
        toward = way[:, :2] * focal - self.edge_middles * way[:, 2:]
        toward /= np.maximum(np.linalg.norm(toward, axis=1, keepdims=True), 1e-9)
        off = self.edge_halves[:, 0] * toward[:, 1] - self.edge_halves[:, 1] * toward[:, 0]
        # A ray to the horizon is level.
        right, up, forward = basis
        level = (focal * forward[2] + self.horizon @ np.array([right[2], up[2]])) / max(
            abs(up[2]), 0.2
        )
        return np.concatenate([np.sqrt(2) * off, level]) / self.px

    def solved(self, start, tries):
        return least_squares(self.residuals, start, method="lm", x_scale="jac", max_nfev=tries)

    def left(self, best):
        """Root mean square of what is left of the marks, in what they may be off."""
        return float(np.sqrt((best.fun[: -len(self.prior)] ** 2).mean()))

    def told(self, best):
        x, left = best.x, self.left(best)
        # What no mark tells is held as likely as before; nothing is known for certain.
        inverse = np.linalg.pinv(best.jac.T @ best.jac + 1e-9 * np.eye(len(x)))
        sd = np.sqrt(np.diag(inverse)) * max(1.0, left)
        focal, distance = np.exp(x[_F]), np.exp(x[_D])
        place = self.camera(x)[0]
        width = self.record.sensor_width
        rise_off = np.hypot(distance * sd[_UP], abs(place[2]) * self.scale)
        return Framing(
            focal_length=Estimate(focal * width, focal * width * sd[_F]),
            # A larger head at a larger distance makes the same picture.
            distance=Estimate(distance, distance * np.hypot(sd[_D], self.scale)),
            angle=Estimate(np.degrees(x[_ACROSS]), np.degrees(sd[_ACROSS])),
            rise=Estimate(float(place[2]), rise_off),
            tilt=Estimate(np.degrees(x[_TILT]), np.degrees(sd[_TILT])),
            pan=float(np.degrees(x[_PAN])),
            roll=float(np.degrees(x[_ROLL])),
            nod=float(np.degrees(x[_NOD])),
            left=left * HAND,
            aspect=self.aspect,
            sensor_width=width,
        )
