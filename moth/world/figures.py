"""The people: committed meshes with landmarks, built by script/build-figures."""

import json
from dataclasses import replace
from pathlib import Path
from typing import get_args

import numpy as np

from ..colour import LUMINANCE
from ..document import Figure
from ..engine.caching import Keyed, cached, content_hash
from ..materials import CLOTHS, FINISHES
from .clothes import upper, with_collar_of_shirt, with_folds, with_jacket
from .eyes import WITHIN, opened, with_corneas
from .grain import grain_of
from .heads import (
    FELT,
    FigureMesh,
    with_beard,
    with_collar,
    with_dark_mouth,
    with_hair,
    with_hat,
    with_lashes,
)
from .normals import smooth_normals, unrounded

FOLDER = Path(__file__).parent / "figures"
STEPS_PER_METRE = 16000
FIGURE_NAMES: tuple[str, ...] = get_args(Figure.model_fields["figure"].annotation)
ADULTS = FIGURE_NAMES[:-1]


@cached("figures")
def load_figure(name, pose, spectacles=False, cut="grown", beard="none", hat="none"):
    """A figure in a pose.

    Parameters
    ----------
    name : str
        One of :data:`FIGURE_NAMES`.
    pose : {"standing", "leaning", "seated"}
    spectacles : bool
    cut : {"grown", "moulded", "none"}
        How the hair is: see :class:`moth.document.Figure`.
    beard : {"none", "short", "full"}
    hat : {"none", "knit", "brim"}

    Returns
    -------
    FigureMesh

    Examples
    --------
    >>> keeper = load_figure("weathered-man", "seated")
    >>> bool(1.0 < keeper.landmarks["crown"][2] < 1.6)
    True
    """
    vertices = _skin_and_clothes(name, pose)
    with np.load(FOLDER / f"{name}.npz") as data:
        faces = data["faces"].astype(np.int32)
        albedo, finish = (data["albedo"] / 255.0) ** 2, data["material"]
        if spectacles:
            faces = np.concatenate([faces, data["s_faces"].astype(np.int32) + len(vertices)])
            vertices = np.concatenate([vertices, data["s_" + pose] / STEPS_PER_METRE])
            albedo = np.concatenate([albedo, (data["s_albedo"] / 255.0) ** 2])
            finish = np.concatenate([finish, data["s_material"]])
        marks = {k: np.array(v) for k, v in json.loads(data["landmarks"].tobytes())[pose].items()}
    eyes = np.unique(faces[finish == _EYE])
    vertices = vertices.copy()
    forward, down = EYES[name]
    vertices[eyes] += [0, forward, -down]
    if name in LIDS:
        # What comes after the base mesh is spectacles.
        skin = np.setdiff1d(np.arange(len(_skin_and_clothes(name, pose))), eyes)
        vertices = _open_eyed(vertices, skin, eyes, marks, LIDS[name])
    mesh = with_corneas(FigureMesh.bare(vertices, faces, albedo, finish, marks))
    mesh = with_dark_mouth(mesh)
    mesh = with_collar(with_lashes(mesh))
    if cut != "moulded":
        mesh = with_hair(mesh, name, cut == "grown")
    if beard != "none":
        mesh = with_beard(mesh, beard)
    return mesh if hat == "none" else with_hat(mesh, hat)


@cached("figures")
def _skin_and_clothes(name, pose):
    """Places of the mesh that a person is built on (n, 3) [m]: the same under any hair or hat."""
    with np.load(FOLDER / f"{name}.npz") as data:
        return unrounded(data[pose] / STEPS_PER_METRE, data["faces"], 1 / STEPS_PER_METRE)


EYES = {
    "weathered-man": (0.0003, 0.0024),
    "young-woman": (0.0, 0.0014),
    "middle-aged-woman": (0.0010, 0.0016),
    "broad-man": (0.0008, 0.0020),
    "old-woman": (0.0, 0.0018),
    "young-man": (0.0012, 0.0018),
    "middle-aged-man": (0.0006, 0.0020),
    "girl": (0.0, 0.0012),
}
"""How far the built eyeballs are brought forward and lowered [m], so that the iris lies in the
middle of what the lids leave open and near behind their edges: deeper or higher, the upper lid
hides whatever a lamp above the lens puts there.
"""


LIDS = {
    "weathered-man": ((0.0026, 0.0017), (-0.0040, 0.0)),
    "middle-aged-woman": ((0.0040, 0.0004), (-0.0022, -0.0014)),
    "broad-man": ((0.0034, 0.0010), (-0.0032, -0.0006)),
    "old-woman": ((0.0040, 0.0004), (-0.0038, 0.0)),
    "young-man": ((0.0036, 0.0008), (-0.0026, -0.0012)),
    "middle-aged-man": ((0.0034, 0.0010), (-0.0032, -0.0006)),
}
"""Height of the edges of upper and lower lid over the middle of the pupil, as the meshes have them,
and by how much they are raised [m]. The meshes' eyes are half shut: of an adult's the upper lid is
4 to 5 mm over the middle of the pupil, and a key 35° high is mirrored 2.5 mm over it.
"""


def _open_eyed(vertices, skin, eyes, marks, lids):
    """Places of a person with the lids of both eyes as :data:`LIDS` has them."""
    for side in ("left", "right"):
        eye = marks[f"eye_{side}"]
        ball = vertices[eyes][np.abs(vertices[eyes] - eye).max(1) < WITHIN]
        vertices = opened(vertices, skin, eye, ball, lids)
    return vertices


IRIS_BACK = 0.0013
"""How far the middle of an iris is behind the landmark of its eye [m]; measured on the meshes."""


def iris_off(name):
    """From the landmark of an eye to the middle of its iris, in the figure's frame [m].

    Examples
    --------
    >>> iris_off("young-woman").round(4).tolist()
    [0.0, -0.0013, -0.0014]
    """
    forward, down = EYES[name]
    return np.array([0.0, forward - IRIS_BACK, -down])


_SKIN, _HAIR, _GARMENT, _EYE = (
    next(i for i, f in enumerate(FINISHES) if f.name == name)
    for name in ("skin", "hair", "garment", "eye")
)
NECK = 0.04
"""How far the axis of the neck is before that of the body [m]."""
SHORT = 1e-4
"""Length by which directions are turned with the head [m]."""
JUT = 0.5
"""How much sooner what juts out before the neck turns with the head."""


def skin_hue(reflectance, undertone):
    """Linear BT.709 albedo of skin of a mean reflectance.

    Hues follow the built people: the darker, the redder.

    Parameters
    ----------
    reflectance : float
        0.04..0.65
    undertone : float
        -1 rosy .. 1 golden.

    Returns
    -------
    ndarray, shape (3,)

    Examples
    --------
    >>> light, dark = skin_hue(0.3, 0), skin_hue(0.08, 0)
    >>> bool(dark[0] / dark[1] > light[0] / light[1]), round(float(LUMINANCE @ dark), 3)
    (True, 0.08)
    """
    deep = np.log(0.289 / reflectance)
    hue = np.array([1.57 + 0.34 * deep - 0.04 * undertone, 1.0, 0.715 - 0.07 * deep])
    hue[2] *= 1 - 0.12 * undertone
    return hue * reflectance / (LUMINANCE @ hue)


def _turned(points, marks, turn, tilt):
    """Points of a figure with its head turned and tilted [deg]: the neck twists, a little at every
    height, so that nothing of it runs through anything.
    """
    low = float(min(marks["shoulder_left"][2], marks["shoulder_right"][2]))
    pivot = np.array([0.0, NECK, float(marks["chin"][2])])
    high = pivot[2] + JUT * (float(marks["chin"][1]) - NECK) - 0.01
    off = points - pivot
    part = np.clip((points[:, 2] + JUT * off[:, 1] - low) / (high - low), 0, 1)
    part = part * part * (3 - 2 * part)
    t, a = np.radians(part * tilt), np.radians(part * turn)
    y = np.cos(t) * off[:, 1] - np.sin(t) * off[:, 2]
    z = np.sin(t) * off[:, 1] + np.cos(t) * off[:, 2]
    x = np.cos(a) * off[:, 0] - np.sin(a) * y
    return pivot + np.stack([x, np.sin(a) * off[:, 0] + np.cos(a) * y, z], 1)


def head_front(figure):
    """Unit vector the way a head faces in the room, shape (3,).

    Examples
    --------
    >>> from moth.document import Figure
    >>> west = Figure(id="a", name="a", position=(2, 2), head_turn=45, facing=45)
    >>> head_front(west).round(6).tolist()
    [-1.0, 0.0, 0.0]
    """
    t, a = np.radians(figure.head_tilt), np.radians(figure.head_turn + figure.facing)
    return np.array([-np.sin(a) * np.cos(t), np.cos(a) * np.cos(t), np.sin(t)])


def dressed(figure):
    """A person of the document in their own frame: head turned, skin, hair and clothes as asked.

    Parameters
    ----------
    figure : moth.document.Figure

    Returns
    -------
    FigureMesh

    Examples
    --------
    >>> from moth.document import Figure, Surface
    >>> who = Figure(id="a", name="a", position=(2, 2), garment=Surface(reflectance=0.6))
    >>> cloth = dressed(who).albedo[np.unique(dressed(who).faces[dressed(who).finish == 2])]
    >>> round(float((cloth @ LUMINANCE).mean()), 2)
    0.6
    """
    return _dressed(Keyed(content_hash("dressed", _look(figure)), figure))


def normals_of(figure):
    """Unit normals at the vertices of a person of the document, in their own frame.

    Parameters
    ----------
    figure : moth.document.Figure

    Returns
    -------
    ndarray, shape (n, 3)

    Examples
    --------
    >>> from moth.document import Figure
    >>> who = Figure(id="a", name="a", position=(2, 2))
    >>> len(normals_of(who)) == len(dressed(who).vertices)
    True
    """
    return _normals(Keyed(content_hash("normals", _look(figure)), figure))


@cached("normals of people")
def _normals(keyed):
    mesh = dressed(keyed.value)
    # Wisps and eyes are rounder than their triangles.
    told = mesh.outward.any(1)[:, None]
    return np.where(told, mesh.outward, smooth_normals(mesh.vertices, mesh.faces))


def _look(figure):
    return figure.model_dump(exclude={"id", "name", "position", "facing", "eyeline"})


def _unevenness(albedo, middle):
    """How much lighter or darker than the middle each place is, (n, 1): as cloth and hair vary."""
    return np.clip(albedo @ LUMINANCE / (LUMINANCE @ middle), 0.82, 1.2)[:, None]


@cached("people dressed")
def _dressed(keyed):
    figure = keyed.value
    mesh = load_figure(
        *(figure.figure, figure.pose, figure.spectacles, figure.cut, figure.beard, figure.hat)
    )
    grain = grain_of(mesh)
    shirt = upper(mesh, grain[:, 3])
    mesh = replace(
        mesh,
        vertices=with_folds(mesh, figure.cloth),
        albedo=_painted(figure, mesh, shirt),
        grain=grain,
    )
    if figure.cloth == "cotton":
        mesh = with_collar_of_shirt(mesh, shirt)
    if figure.jacket is not None:
        mesh = with_jacket(mesh, shirt, surface_albedo(figure.jacket))
    mesh = _head_turned(mesh, figure.head_turn, figure.head_tilt)
    worn = next(i for i, f in enumerate(FINISHES) if f.name == CLOTHS[figure.cloth])
    return replace(mesh, finish=np.where(mesh.finish == _GARMENT, worn, mesh.finish))


def _head_turned(mesh, turn, tilt):
    """A person with the head turned and tilted [deg]."""
    if not (turn or tilt):
        return mesh
    n, vertices = len(mesh.vertices), mesh.vertices
    ways = [vertices + SHORT * way for way in (mesh.along, mesh.outward, mesh.grain[:, 4:])]
    both = np.concatenate([vertices, *ways, [*mesh.landmarks.values()]])
    both = _turned(both, mesh.landmarks, turn, tilt)
    along, outward, rows = ((both[k * n : (k + 1) * n] - both[:n]) / SHORT for k in (1, 2, 3))
    return replace(
        mesh,
        vertices=both[:n],
        landmarks=dict(zip(mesh.landmarks, both[4 * n :], strict=True)),
        along=along,
        outward=outward,
        grain=np.column_stack([mesh.grain[:, :4], rows]),
    )


def _painted(figure, mesh, shirt):
    """Colours of a person's vertices (n, 3): skin, hair and clothes as asked."""
    albedo = mesh.albedo.copy()
    skin, hair, cloth = (np.unique(mesh.faces[mesh.finish == k]) for k in (_SKIN, _HAIR, _GARMENT))
    bare = albedo[skin].mean(0)
    if figure.skin is not None:
        # Lips and cheeks keep their difference from the rest.
        albedo[skin] = np.minimum(
            albedo[skin] * skin_hue(figure.skin, figure.undertone) / bare, 0.95
        )
    if figure.hair is not None:
        # Where the hair ends it fades to the skin: how far each place has.
        core = np.median(mesh.albedo[hair], axis=0)
        way = core - bare
        part = np.clip((mesh.albedo[hair] - bare) @ way / max(way @ way, 1e-9), 0, 1)[:, None]
        ends = albedo[skin].mean(0)
        uneven = _unevenness(mesh.albedo[hair], core)
        albedo[hair] = part * surface_albedo(figure.hair) * uneven + (1 - part) * ends
    built = figure.cloth == "plain" and figure.cut == "moulded"
    if not built:
        # What is uneven about cloth is its folds and rows; a moulded person wears what is painted.
        for own in (shirt[cloth], ~shirt[cloth]):
            albedo[cloth[own]] = albedo[cloth[own]].mean(0)
    if figure.garment is not None:
        uneven = np.ones((len(cloth), 1))
        if built:
            uneven = _unevenness(mesh.albedo[cloth], mesh.albedo[cloth].mean(0))
        albedo[cloth] = np.minimum(surface_albedo(figure.garment) * uneven / uneven.mean(), 0.95)
    if figure.hat_cloth is not None:
        albedo[np.unique(mesh.faces[mesh.finish == FELT])] = surface_albedo(figure.hat_cloth)
    return albedo


def surface_albedo(surface):
    """Linear BT.709 albedo whose luminance is the surface's reflectance, each part at most 0.95.

    Examples
    --------
    >>> from moth.document import Surface
    >>> surface_albedo(Surface(reflectance=0.5)).tolist()
    [0.5, 0.5, 0.5]
    """
    colour = np.maximum(np.asarray(surface.colour, float), 1e-3)
    return np.minimum(colour * surface.reflectance / (LUMINANCE @ colour), 0.95)


def placed(points, position, facing):
    """Points of a figure's own frame in the room: turned by `facing` [deg], moved to `position` (x,
    y) [m].
    """
    turn = np.radians(facing)
    c, s = np.cos(turn), np.sin(turn)
    points = np.asarray(points, float)
    out = np.empty(points.shape)
    out[..., 0] = c * points[..., 0] - s * points[..., 1] + position[0]
    out[..., 1] = s * points[..., 0] + c * points[..., 1] + position[1]
    out[..., 2] = points[..., 2]
    return out


def iris_of(figure, side):
    """Middle of an iris of a :class:`moth.document.Figure` in the room, shape (3,) [m].

    Examples
    --------
    >>> from moth.document import Figure
    >>> keeper = Figure(id="a", name="keeper", position=(2, 2))
    >>> bool(iris_of(keeper, "left")[2] < landmarks(keeper)["eye_left"][2])
    True
    """
    turn, tilt = np.radians([figure.facing + figure.head_turn, figure.head_tilt])
    _, front, up = iris_off(figure.figure)
    front, up = front * np.cos(tilt) - up * np.sin(tilt), front * np.sin(tilt) + up * np.cos(tilt)
    return landmarks(figure)[f"eye_{side}"] + [-np.sin(turn) * front, np.cos(turn) * front, up]


def landmarks(figure):
    """Landmarks of a :class:`moth.document.Figure` in the room [m], by name.

    Examples
    --------
    >>> from moth.document import Figure
    >>> sorted(landmarks(Figure(id="a", name="keeper", position=(2, 2))))[:3]
    ['cheek_left', 'cheek_right', 'chin']
    """
    key = content_hash("landmarks", _look(figure), list(figure.position), figure.facing)
    return dict(_landmarks(Keyed(key, figure)))


@cached("landmarks")
def _landmarks(keyed):
    figure = keyed.value
    marks = dressed(figure).landmarks
    points = placed(np.array(list(marks.values())), figure.position, figure.facing)
    points.flags.writeable = False
    return dict(zip(marks, points, strict=True))


PANTOSCOPIC = 10.0
"""Angle by which worn glasses look down from where the face does [deg]; typical."""
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
        front = head_front(figure)
        # Worn glasses look a little downward: ten degrees, the usual pantoscopic tilt.
        looks = head_front(figure.model_copy(update={"head_tilt": figure.head_tilt - PANTOSCOPIC}))
        rows += [
            np.concatenate([marks[eye] + LENS_OFF * front, looks, LENS_HALF])
            for eye in ("eye_left", "eye_right")
        ]
    return np.array(rows).reshape(-1, 8)
