"""The figure laid over a still: our own head where the one in it is, seen by its camera."""

from functools import cached_property

import numpy as np

from ..document import Camera, Setup, bare
from ..errors import MothError
from ..materials import FINISHES
from ..transport import lens_axes
from ..world import build_world, landmarks
from ..world.figures import head_front, iris_of

_SKIN = next(i for i, f in enumerate(FINISHES) if f.name == "skin")
STAGE = {"outdoors": True, "width": 12, "depth": 12, "height": 4}
BALLS = {"crown": 0.09, "chin": 0.02}
"""Radius of the ball that a part of the head is taken for, where its shadow is cast [m]; measured
on the built heads.
"""
FAR = 190.0
"""Farthest that a camera of a still is put [m]; rooms end at 200."""


def camera_of(framing, figure, record, like=None):
    """The camera of a still, for a person who stands somewhere.

    Parameters
    ----------
    framing : moth.stills.framing.Framing
    figure : moth.document.Figure
        Where they stand and face in the place.
    record : moth.stills.marks.Record
    like : moth.document.Camera or None
        What it takes its settings from.

    Returns
    -------
    moth.document.Camera

    Raises
    ------
    MothError
        When it would stand under the floor.
    """
    eyes = (iris_of(figure, "left") + iris_of(figure, "right")) / 2
    turn = np.radians(figure.facing + figure.head_turn)
    across = np.radians(framing.angle.value)
    rise = float(np.clip(framing.rise.value / framing.distance.value, -1, 1))
    flat = framing.distance.value * np.sqrt(1 - rise * rise)
    own = np.array([-np.sin(across), np.cos(across)]) * flat
    turned = _round(turn) @ own
    place = eyes + [*turned, framing.rise.value]
    if place[2] < 0.02:
        raise MothError("The camera would stand under the floor: does the person sit or stand?")
    # Right of the way to the eyes is a turn clockwise, seen from above.
    way = _round(-np.radians(framing.pan)) @ (-turned / np.linalg.norm(turned))
    tilt = np.radians(framing.tilt.value)
    aim = place + 2.0 * np.array([*(way * np.cos(tilt)), np.sin(tilt)])
    given = like.model_dump() if like else {"id": "still", "name": "Camera of the still"}
    curve = record.curve if record.curve not in ("unknown", "srgb") else "bt709"
    return Camera.model_validate(
        {
            **given,
            "position": tuple(map(float, np.clip(place, -FAR, FAR))),
            "aim": tuple(map(float, np.clip(aim, -FAR, FAR))),
            "roll": framing.roll,
            "sensor": "custom",
            "sensor_width": record.sensor_width,
            "focal_length": float(np.clip(framing.focal_length.value, 4, 1200)),
            "white_balance": record.white or 5600,
            "curve": curve,
            "log": record.log,
            "focus": None,
        }
    )


def _round(angle):
    c, s = np.cos(angle), np.sin(angle)
    return np.array([[c, -s], [s, c]])


def figure_of(framing, marks, position=(6.0, 6.0), facing=0.0):
    """The person of a still, standing at a place, the head nodding as it is seen to."""
    return marks.figure.model_copy(
        update={
            "position": position,
            "facing": facing,
            "head_turn": 0.0,
            "head_tilt": float(np.clip(framing.nod, -30, 30)),
        }
    )


class Laid:
    """A still with our figure over it: places in the picture become places in the world.

    Parameters
    ----------
    framing : moth.stills.framing.Framing
    marks : moth.stills.marks.Marks
    record : moth.stills.marks.Record
    """

    def __init__(self, framing, marks, record):
        self.framing = framing
        self.figure = figure_of(framing, marks)
        self.camera = camera_of(framing, self.figure, record)
        setup = bare(room=STAGE)
        self.setup: Setup = setup.model_copy(
            update={"figures": (self.figure,), "cameras": (self.camera,)}
        )
        self.at = landmarks(self.figure)
        self.lens = np.asarray(self.camera.position, float)
        self.right, self.up, self.forward = lens_axes(self.camera)
        self.focal = framing.focal_length.value / framing.sensor_width
        """Focal length in parts of the picture's width."""

    @property
    def eyes(self):
        """Middle between the eyes, shape (3,) [m]."""
        return (self.at["eye_left"] + self.at["eye_right"]) / 2

    def iris(self, side):
        """Middle of an iris, shape (3,) [m]."""
        return iris_of(self.figure, side)

    @property
    def front(self):
        """Unit vector the way the head faces, shape (3,)."""
        return head_front(self.figure)

    def caster(self, name, toward):
        """The place on a part of the head that throws the outermost of its shadow, shape (3,) [m].

        A part is taken for a ball: what its landmark touches is its summit, and the light passes
        where the ball turns away from it.

        Parameters
        ----------
        name : str
            Of :data:`BALLS`.
        toward : ndarray, shape (3,)
            Unit vector to the light.
        """
        radius = BALLS[name]
        axis = np.array([0.0, 0.0, 1.0]) if name == "crown" else self.front
        aside = axis - (axis @ toward) * toward
        length = np.linalg.norm(aside)
        if length < 1e-6:
            return self.at[name]
        return self.at[name] + radius * (aside / length - axis)

    @cached_property
    def world(self):
        return build_world(self.setup)

    def rays(self, spots):
        """Unit vectors from the lens to places in the picture, shape (n, 3)."""
        spots = np.atleast_2d(np.asarray(spots, float))
        x = spots[:, 0] - 0.5
        y = (0.5 - spots[:, 1]) * self.framing.aspect
        ways = self.focal * self.forward + x[:, None] * self.right + y[:, None] * self.up
        return ways / np.linalg.norm(ways, axis=1, keepdims=True)

    def drawn(self, places):
        """Where places [m] are seen, shape (n, 2), in parts of the picture."""
        off = np.atleast_2d(np.asarray(places, float)) - self.lens
        deep = np.maximum(off @ self.forward, 1e-6)
        x, y = (self.focal * (off @ k) / deep for k in (self.right, self.up))
        return np.stack([0.5 + x, 0.5 - y / self.framing.aspect], 1)

    def on_face(self, spots):
        """Places on the figure's skin that are seen there, shape (n, 3) [m]; NaN where none is."""
        ways = self.rays(spots)
        triangle, _, far = self.world.rays.first(np.tile(self.lens, (len(ways), 1)), ways)
        mesh = self.world.mesh
        hit = (triangle >= 0) & (mesh.body[triangle] == 1) & (mesh.finish[triangle] == _SKIN)
        return np.where(hit[:, None], self.lens + far[:, None] * ways, np.nan)

    def nearest_on_face(self, spot, reach):
        """Place on the figure's skin that is seen at a spot, or nearest to it within `reach` (2,)
        in parts of the picture; None where no skin is.
        """
        turns = np.arange(0, 2 * np.pi, np.pi / 4)
        ring = np.stack([np.cos(turns), np.sin(turns)], 1) * reach
        for part in (0.0, 0.33, 0.67, 1.0):
            found = self.on_face(spot + part * ring[: 1 if part == 0 else None])
            hit = ~np.isnan(found[:, 0])
            if hit.any():
                return found[hit].mean(0)
        return None

    def on_floor(self, spots):
        """Places on the floor that are seen there, shape (n, 3) [m]; NaN over the horizon."""
        ways = self.rays(spots)
        far = np.where(ways[:, 2] < -1e-4, -self.lens[2] / np.minimum(ways[:, 2], -1e-4), np.nan)
        return self.lens + far[:, None] * ways


def profile(image, line, count=200):
    """Levels along a line of a picture, a mean of five pixels across.

    Parameters
    ----------
    image : ndarray, shape (height, width)
    line : moth.stills.marks.MarkedLine

    Returns
    -------
    ndarray, shape (count,)

    Examples
    --------
    >>> from moth.stills.marks import MarkedLine
    >>> ramp = np.tile(np.linspace(0, 1, 64), (36, 1))
    >>> got = profile(ramp, MarkedLine(a=(0.25, 0.5), b=(0.75, 0.5)))
    >>> got[[0, -1]].round(1).tolist()
    [0.2, 0.8]
    """
    from scipy.ndimage import map_coordinates

    high, wide = image.shape
    size = np.array([wide, high])
    a, b = (np.asarray(p) * size - 0.5 for p in (line.a, line.b))
    along = (b - a) / np.linalg.norm(b - a)
    square = np.array([-along[1], along[0]])
    t = np.linspace(0, 1, count)[:, None, None]
    across = np.arange(-2, 3)[None, :, None]
    at = a + t * (b - a) + across * square
    return map_coordinates(image, [at[..., 1], at[..., 0]], order=1, mode="nearest").mean(1)
