"""The people: committed meshes with landmarks, built by script/build-figures."""

import json
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from ..engine.caching import cached

FOLDER = Path(__file__).parent / "figures"
STEPS_PER_METRE = 16000
FIGURE_NAMES = ("weathered-man", "young-woman", "middle-aged-woman", "broad-man")


@dataclass(frozen=True)
class FigureMesh:
    """A figure in its own frame: Z up, facing +y, feet on the floor."""

    vertices: np.ndarray
    """Shape (n, 3) [m]."""
    faces: np.ndarray
    """Shape (m, 3)."""
    albedo: np.ndarray
    """Shape (n, 3), linear BT.709 reflectance."""
    finish: np.ndarray
    """Shape (m,), index into moth.materials.FINISHES."""
    landmarks: dict
    """Name -> place [m]."""


@cached("figures")
def load_figure(name, pose, spectacles=False):
    """A figure in a pose.

    Parameters
    ----------
    name : str
        One of :data:`FIGURE_NAMES`.
    pose : {"standing", "seated"}
    spectacles : bool

    Returns
    -------
    FigureMesh

    Examples
    --------
    >>> keeper = load_figure("weathered-man", "seated")
    >>> bool(1.0 < keeper.landmarks["crown"][2] < 1.6)
    True
    """
    with np.load(FOLDER / f"{name}.npz") as data:
        vertices, faces = data[pose] / STEPS_PER_METRE, data["faces"].astype(np.int32)
        albedo, finish = (data["albedo"] / 255.0) ** 2, data["material"]
        if spectacles:
            faces = np.concatenate([faces, data["s_faces"].astype(np.int32) + len(vertices)])
            vertices = np.concatenate([vertices, data["s_" + pose] / STEPS_PER_METRE])
            albedo = np.concatenate([albedo, (data["s_albedo"] / 255.0) ** 2])
            finish = np.concatenate([finish, data["s_material"]])
        marks = {k: np.array(v) for k, v in json.loads(data["landmarks"].tobytes())[pose].items()}
    return FigureMesh(vertices, faces, albedo, finish, marks)


def placed(points, position, facing):
    """Points of a figure's own frame in the room: turned by `facing` [deg], moved to `position` (x,
    y) [m].
    """
    turn = np.radians(facing)
    c, s = np.cos(turn), np.sin(turn)
    points = np.asarray(points, float)
    x = c * points[..., 0] - s * points[..., 1] + position[0]
    y = s * points[..., 0] + c * points[..., 1] + position[1]
    return np.stack([x, y, points[..., 2]], -1)


def landmarks(figure):
    """Landmarks of a :class:`moth.document.Figure` in the room [m], by name.

    Examples
    --------
    >>> from moth.document import Figure
    >>> sorted(landmarks(Figure(id="a", name="keeper", position=(2, 2))))[:3]
    ['cheek_left', 'cheek_right', 'chin']
    """
    return dict(
        _landmarks(
            figure.figure, figure.pose, figure.spectacles, tuple(figure.position), figure.facing
        )
    )


@cached("landmarks")
def _landmarks(figure, pose, spectacles, position, facing):
    marks = load_figure(figure, pose, spectacles).landmarks
    points = placed(np.array(list(marks.values())), position, facing)
    points.flags.writeable = False
    return dict(zip(marks, points, strict=True))


LENS_HALF, LENS_OFF = (0.024, 0.020), 0.019
"""Half width and half height of a glass, and its distance before the middle of the eye [m];
typical.
"""


def spectacle_lenses(figures):
    """Glasses of all figures that wear spectacles.

    Parameters
    ----------
    figures : sequence of moth.document.Figure

    Returns
    -------
    ndarray, shape (k, 8)
        Middle (3) [m], unit vector the way they look (3), half width and half height [m].

    Examples
    --------
    >>> from moth.document import Figure
    >>> spectacle_lenses([Figure(id="a", name="a", position=(2, 2), spectacles=True),
    ...     Figure(id="b", name="b", position=(3, 2))]).shape
    (2, 8)
    """
    rows = []
    for figure in figures:
        if not figure.spectacles:
            continue
        marks = landmarks(figure)
        between = marks["eye_right"] - marks["eye_left"]
        front = np.array([between[1], -between[0], 0.0]) / np.hypot(between[0], between[1])
        nose = marks["nose_tip"] - marks["eye_left"]
        front = front if front @ nose > 0 else -front
        # Worn glasses look a little downward: ten degrees, the usual pantoscopic tilt.
        looks = front * np.cos(np.radians(10)) + np.array([0, 0, -np.sin(np.radians(10))])
        rows += [
            np.concatenate([marks[eye] + LENS_OFF * front, looks, LENS_HALF])
            for eye in ("eye_left", "eye_right")
        ]
    return np.array(rows).reshape(-1, 8)
