"""What is made of the built heads when they are loaded: lashes, hair and brows, collars that close.

The base meshes have strips for lashes, a moulded cap for hair, and collars that stand off the neck.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from ..materials import FINISHES
from .hair import BEARDS, CUTS, brow, grow, scalp
from .hats import hat_on
from .normals import middles, smooth_normals

SKIN, HAIR, GARMENT, FELT = (
    next(i for i, f in enumerate(FINISHES) if f.name == name)
    for name in ("skin", "hair", "garment", "matte")
)


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
    along: np.ndarray
    """(n, 3) unit, the way hair lies; zero for all that is none."""
    outward: np.ndarray
    """(n, 3) unit, what hair is shaded by; zero where the triangles tell it."""
    grain: np.ndarray | None = None
    """(n, 7) what fine relief goes by (:func:`.grain.grain_of`), of who is dressed."""

    @cached_property
    def finish_of_vertices(self):
        """(n,) finish of a triangle at each place; -1 for one at none."""
        out = np.full(len(self.vertices), -1)
        out[self.faces] = self.finish[:, None]
        return out

    @cached_property
    def wisps(self):
        """(n,) which vertices are of wisps of hair; eyes have outward normals of their own too."""
        return self.outward.any(1) & self.along.any(1)

    @cached_property
    def under(self):
        """(m,) the triangle that stands for each where light is sent on: a wisp's is the nearest
        one of skin or scalp, all others are their own.
        """
        own = np.arange(len(self.faces))
        thin = self.wisps[self.faces[:, 0]]
        if thin.any():
            middle = middles(self.vertices[self.faces])
            own[thin] = own[~thin][cKDTree(middle[~thin]).query(middle[thin])[1]]
        return own

    @classmethod
    def bare(cls, vertices, faces, albedo, finish, landmarks):
        """One without a hair on it."""
        none = np.zeros_like(vertices)
        return cls(vertices, faces, albedo, finish, landmarks, none, none)

    def without(self, gone):
        """The same without some of its triangles (k,)."""
        kept = np.ones(len(self.faces), bool)
        kept[gone] = False
        return replace(self, faces=self.faces[kept], finish=self.finish[kept])

    def joined(self, vertices, faces, albedo, along, outward=None):
        """The same with hairs: places (k, 3), triangles into them, albedo and directions (k, 3)."""
        return replace(
            self,
            vertices=np.concatenate([self.vertices, vertices]),
            faces=np.concatenate([self.faces, faces + len(self.vertices)]).astype(np.int32),
            albedo=np.concatenate([self.albedo, albedo]),
            finish=np.concatenate([self.finish, np.full(len(faces), HAIR, self.finish.dtype)]),
            along=np.concatenate([self.along, along]),
            outward=np.concatenate(
                [self.outward, np.zeros_like(vertices) if outward is None else outward]
            ),
        )


UPPER, LOWER = (52, 0.85), (30, 0.4)
"""Lashes of a lid, and how long they are against the strip that the base mesh has for them."""
THICK = 1.1e-4
"""Half the width of a lash at its root [m]; lashes are 0.1 to 0.2 mm with what is on them."""


def with_lashes(mesh):
    """The base mesh's lashes are strips, which look like paint and hide half of an iris: each is
    given up for so many single lashes, set where its root is and bent as it is.
    """
    hair, label = _pieces_of_hair(mesh)
    faces, count = mesh.faces[hair], len(mesh.vertices)
    eyes = np.array([mesh.landmarks["eye_left"], mesh.landmarks["eye_right"]])
    gone, vertices, triangles, colours, ways = [], [], [], [], []
    first = count
    for part in np.unique(label):
        own = np.unique(faces[label == part])
        places = mesh.vertices[own]
        away = np.linalg.norm(places.mean(0) - eyes, axis=1)
        if away.min() > 0.012 or len(own) > 200:
            continue
        eye = eyes[int(away.argmin())]
        gone.append(hair[label == part])
        many, part_of = UPPER if places[:, 2].mean() > eye[2] - 0.003 else LOWER
        root, tip = _ends(places, eye - [0, EYEBALL, 0])
        t = (np.arange(many) + 0.5) / many
        start, end = (
            np.stack([np.interp(t, np.linspace(0, 1, len(line)), line[:, k]) for k in range(3)], 1)
            for line in (root, tip)
        )
        # Not two alike: shorter and longer, leaning a little this way and that.
        odd = (np.arange(many) * 0.6180339887) % 1.0
        end = start + (end - start) * (part_of * (0.7 + 0.45 * odd))[:, None]
        end[:, 0] += 8e-4 * (((odd * 7) % 1.0) - 0.5)
        across = np.gradient(start, axis=0)
        across *= THICK / np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-9)
        vertices.append(np.stack([start - across, start + across, end], 1).reshape(-1, 3))
        triangles.append(first + np.arange(3 * many).reshape(-1, 3))
        colours.append(np.tile(mesh.albedo[own].mean(0), (3 * many, 1)))
        ways.append(np.repeat(_unit(end - start), 3, axis=0))
        first += 3 * many
    if not gone:
        return mesh
    new = np.concatenate(vertices)
    return mesh.without(np.concatenate(gone)).joined(
        new, np.concatenate(triangles) - count, np.concatenate(colours), np.concatenate(ways)
    )


EYEBALL = 0.0115
"""From the front of an eye to its middle [m]."""


def _ends(places, middle):
    """Root and tip of a strip of lashes, each from one corner of the eye to the other."""
    away = np.linalg.norm(places - middle, axis=1)
    columns = np.array_split(np.argsort(places[:, 0]), 9)
    root = np.array([places[c[away[c].argmin()]] for c in columns])
    tip = np.array([places[c[away[c].argmax()]] for c in columns])
    return root, tip


def _unit(rows):
    return rows / np.maximum(np.linalg.norm(rows, axis=-1, keepdims=True), 1e-12)


def _pieces_of_hair(mesh):
    """Triangles of hair, and the number of the piece that each is of."""
    hair = np.flatnonzero(mesh.finish == HAIR)
    faces, count = mesh.faces[hair], len(mesh.vertices)
    ends = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]]])
    joined = coo_matrix((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), (count, count))
    return hair, connected_components(joined, directed=False)[1][faces[:, 0]]


def _grown(mesh, wisps, tone):
    """A person with wisps of a tone on them, each a little lighter or darker."""
    colours = np.clip(tone * wisps.tone[:, None], 0.002, 0.9)
    return mesh.joined(wisps.vertices, wisps.faces, colours, wisps.along, wisps.outward)


def _moulded(mesh):
    """Triangles of the moulded hair: those of the piece that grows out of the skin, the largest,
    and those of all others that are no lashes.
    """
    hair, label = _pieces_of_hair(mesh)
    size = np.bincount(label)[label]
    largest = label == label[size.argmax()]
    return hair[largest], hair[~largest & (size > 200)]


def _fullness(albedo, bare, tone):
    """How far colours (n, 3) have gone from that of the skin to that of the hair, 0..1."""
    way = tone - bare
    return np.clip((albedo - bare) @ way / (way @ way), 0, 1)


SMOOTH = 25
"""Rounds in which each place of a scalp goes half way to the mean of those about it."""


def _smoothed(vertices, faces, some):
    """The same places, some of them (k,) laid between their neighbours by triangles (m, 3)."""
    ends = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    count = len(vertices)
    link = coo_matrix((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), (count, count)).tocsr()
    link = link + link.T
    total = np.maximum(np.asarray(link.sum(1)).ravel(), 1)[some, None]
    vertices, link = vertices.copy(), link[some]
    for _ in range(SMOOTH):
        vertices[some] = (vertices[some] + link @ vertices / total) / 2
    return vertices


def with_hair(mesh, name, grown):
    """The moulded hair of a built person drawn in to the scalp, and wisps grown on it; or nothing.

    Parameters
    ----------
    mesh : FigureMesh
    name : str
        Of the built person, who says how the hair is worn.
    grown : bool
        Without, the scalp is bare skin; brows stay.

    Returns
    -------
    FigureMesh

    Examples
    --------
    >>> from moth.world.figures import load_figure
    >>> moulded = load_figure("broad-man", "seated", False, "moulded")
    >>> bare, full = (with_hair(moulded, "broad-man", grown) for grown in (False, True))
    >>> len(full.faces) - len(bare.faces) == 8000 * 5
    True
    """
    cut = CUTS[name]
    cap, tied = _moulded(mesh)
    own = np.unique(mesh.faces[cap])
    skin = np.unique(mesh.faces[mesh.finish == SKIN])
    normals = smooth_normals(mesh.vertices, mesh.faces)
    forehead = skin[
        np.linalg.norm(mesh.vertices[skin] - mesh.landmarks["forehead"], axis=1) < 0.025
    ]
    bare = mesh.albedo[forehead].mean(0)
    tone = np.median(mesh.albedo[own], axis=0)
    full = np.zeros(len(mesh.vertices))
    full[own] = _fullness(mesh.albedo[own], bare, tone)

    vertices, depth = mesh.vertices.copy(), np.zeros(len(mesh.vertices))
    vertices[own], depth[own] = scalp(
        mesh.vertices[own], normals[own], np.isin(own, skin), cut.thick
    )
    albedo, finish = mesh.albedo.copy(), mesh.finish.copy()
    if not grown:
        # The moulded hair has locks, and a scalp has none.
        vertices = _smoothed(vertices, mesh.faces[cap], np.setdiff1d(own, skin))
        albedo[own] = bare
        finish[cap] = SKIN
    mesh = replace(mesh, vertices=vertices, albedo=albedo, finish=finish)
    for seed, eye in enumerate(("eye_left", "eye_right")):
        mesh = _with_brow(mesh, skin, normals, mesh.landmarks[eye], (bare, tone), seed)
    if not grown:
        return mesh.without(tied)
    normals = smooth_normals(vertices, mesh.faces[: len(finish)])
    about = skin[cKDTree(vertices[own]).query(vertices[skin])[0] < ABOUT]
    # What is painted on the skin beside it would stay dark under fair hair.
    painted = np.clip(_fullness(mesh.albedo[about], bare, tone) - 0.15, 0, 1)[:, None]
    mesh.albedo[about] += painted / (painted + 0.15) * (bare - mesh.albedo[about])
    places = np.concatenate([own, about])
    into = np.full(len(vertices), -1)
    into[own] = np.arange(len(own))
    wisps = grow(
        cut,
        (vertices[places], normals[places], depth[places]),
        (into[mesh.faces[cap]], full[places]),
        mesh.landmarks,
        seed=len(name),
    )
    return _grown(mesh, wisps, tone)


def with_beard(mesh, kind):
    """A beard on cheeks, lip and chin of a built person.

    Parameters
    ----------
    mesh : FigureMesh
    kind : {"short", "full"}

    Returns
    -------
    FigureMesh

    Examples
    --------
    >>> from moth.world.figures import load_figure
    >>> plain = load_figure("girl", "seated")
    >>> len(with_beard(plain, "short").faces) - len(plain.faces) == 4200 * 3
    True
    """
    skin = np.unique(mesh.faces[mesh.finish == SKIN])
    marks = mesh.landmarks
    places = mesh.vertices[skin]
    eye, nose, chin, crown = (marks[k] for k in ("eye_left", "nose_tip", "chin", "crown"))
    tall = eye[2] - chin[2]
    # From half way down the nose on the cheeks, from under it before the teeth, to under the chin;
    # from before the ears.
    down = (eye[2] - places[:, 2]) / tall
    before = _step(places[:, 1] - crown[1], 0.0, 0.03)
    cheek = _step(down, 0.52, 0.66) * _step(np.abs(places[:, 0]), 0.022, 0.034)
    lip = _step(down, 0.50, 0.53) * _step(places[:, 1], nose[1] - 0.032, nose[1] - 0.026)
    chin_ = _step(down, 0.83, 0.87)
    full = np.maximum(np.maximum(cheek, lip), chin_) * before * (1 - _step(down, 1.12, 1.25))
    # Lips are redder than what is about them.
    red = mesh.albedo[skin, 0] / np.maximum(mesh.albedo[skin, 1], 1e-3)
    face = full > 0.5
    full *= 1 - _step(red / np.median(red[face]), 1.06, 1.14)
    whole = np.zeros(len(mesh.vertices))
    whole[skin] = full
    near = skin[np.linalg.norm(places - marks["face"], axis=1) < 0.18]
    into = np.full(len(mesh.vertices), -1)
    into[near] = np.arange(len(near))
    grown = mesh.faces[(mesh.finish == SKIN) & (whole[mesh.faces].min(1) > 0.02)]
    grown = grown[(into[grown] >= 0).all(1)]
    cut = BEARDS[kind]
    normals = smooth_normals(mesh.vertices, mesh.faces)
    wisps = grow(
        cut,
        (mesh.vertices[near], normals[near], cut.thick * whole[near]),
        (into[grown], whole[near]),
        marks,
        seed=7,
    )
    hair = mesh.faces[mesh.finish == HAIR]
    return _grown(mesh, wisps, np.median(mesh.albedo[hair], axis=(0, 1)))


def with_hat(mesh, kind):
    """A hat on a person; the crown is its top from then on.

    Parameters
    ----------
    mesh : FigureMesh
    kind : {"knit", "brim"}

    Returns
    -------
    FigureMesh
        The hat is of the finish "matte", which nothing else on a person is of.

    Examples
    --------
    >>> from moth.world.figures import load_figure
    >>> plain = load_figure("young-man", "seated")
    >>> bool(with_hat(plain, "brim").landmarks["crown"][2] > plain.landmarks["crown"][2])
    True
    """
    marks = mesh.landmarks
    head = mesh.vertices[np.isin(mesh.finish_of_vertices, (SKIN, HAIR)) & ~mesh.wisps]
    head = head[np.linalg.norm(head - marks["crown"] + [0, 0, 0.06], axis=1) < 0.16]
    hat = hat_on(head, marks, kind)
    # Hair under it is pressed flat: it is not there.
    height, rise = hat.rim
    above = mesh.vertices[:, 2] > height + rise * mesh.vertices[:, 1] + 0.002
    wisps = mesh.wisps & above
    worn = mesh.without(np.flatnonzero(wisps[mesh.faces].any(1))).joined(
        hat.vertices, hat.faces, np.full_like(hat.vertices, 0.1), np.zeros_like(hat.vertices)
    )
    finish = worn.finish.copy()
    finish[-len(hat.faces) :] = FELT
    top = np.array([*marks["crown"][:2], hat.top])
    return replace(worn, finish=finish, landmarks={**marks, "crown": top})


def _step(x, a, b):
    """0 under a, 1 over b, smooth between."""
    t = np.clip((x - a) / (b - a), 0, 1)
    return t * t * (3 - 2 * t)


ABOUT = 0.04
"""Skin so near to the hair that a wisp may lie on it [m]."""
PAINT = 0.4
"""Of a painted brow, what stays under its hairs."""


def _with_brow(mesh, skin, normals, eye, tones, seed):
    """Hairs for a brow that is painted on the skin."""
    bare, tone = tones
    off = (mesh.vertices[skin] - eye) * [np.sign(eye[0]), 1, 1]
    near = skin[
        (off[:, 0] > -0.026)
        & (off[:, 0] < 0.036)
        & (off[:, 2] > 0.011)
        & (off[:, 2] < 0.036)
        & (off[:, 1] > -0.04)
    ]
    dark = np.clip(_fullness(mesh.albedo[near], bare, tone) - 0.15, 0, 1)
    if dark.sum() < 1e-3:
        return mesh
    wisps = brow(mesh.vertices[near], normals[near], dark, eye, seed)
    albedo = mesh.albedo.copy()
    albedo[near] += ((1 - PAINT) * dark / (dark + 0.15))[:, None] * (bare - albedo[near])
    return _grown(replace(mesh, albedo=albedo), wisps, tone)


MOUTH, IN_MOUTH = (0.5, 2.1), 0.03
"""How far behind the lips a mouth begins and ends, in lengths from nose to chin, and the albedo
there: the patches of a whole cheek cannot tell how little light comes in.
"""


def with_dark_mouth(mesh):
    """The inside of the mouth as dark as it is behind lips that all but close.

    Parameters
    ----------
    mesh : FigureMesh

    Returns
    -------
    FigureMesh

    Examples
    --------
    >>> from moth.world.figures import load_figure
    >>> keeper = load_figure("old-woman", "seated")
    >>> skin = keeper.finish_of_vertices == SKIN
    >>> bool(100 < (keeper.albedo[skin].max(1) < 0.031).sum() < 1000)
    True
    """
    nose, chin = mesh.landmarks["nose_tip"], mesh.landmarks["chin"]
    long = float(nose[2] - chin[2])
    off = (mesh.vertices - (nose + chin) / 2) / [0.45 * long, 1, 0.32 * long]
    near = (np.abs(off[:, [0, 2]]) < 1).all(1) & (mesh.finish_of_vertices == SKIN)
    lips = mesh.vertices[near & (np.abs(off[:, [0, 2]]) < 0.15).all(1), 1].max()
    depth = lips - mesh.vertices[:, 1]
    inside = near & (depth > MOUTH[0] * long) & (depth < MOUTH[1] * long)
    albedo = mesh.albedo.copy()
    albedo[inside] = np.minimum(albedo[inside], IN_MOUTH)
    return replace(mesh, albedo=albedo)


COLLAR, OFF_NECK = 0.05, 0.004
"""How far down from its rim a collar is drawn in [m], and what its rim stays off the neck."""


def with_collar(mesh):
    """The rim of the garment laid to the neck, which the base meshes leave standing off it.

    Parameters
    ----------
    mesh : FigureMesh

    Returns
    -------
    FigureMesh

    Examples
    --------
    >>> from moth.world.figures import load_figure
    >>> worn = load_figure("young-man", "seated")
    >>> again = with_collar(worn)
    >>> bool(np.abs(again.vertices - worn.vertices).max() < 0.01)
    True
    """
    cloth = np.unique(mesh.faces[mesh.finish == GARMENT])
    skin = np.unique(mesh.faces[mesh.finish == SKIN])
    places = mesh.vertices[cloth]
    top = places[:, 2].max()
    rim = cloth[(places[:, 2] > top - COLLAR) & (np.abs(places[:, 0]) < 0.12)]
    normals = smooth_normals(mesh.vertices, mesh.faces)
    _, near = cKDTree(mesh.vertices[skin]).query(mesh.vertices[rim])
    neck = skin[near]
    goal = mesh.vertices[neck] + OFF_NECK * normals[neck]
    part = _step(mesh.vertices[rim, 2] - top, -COLLAR, -0.3 * COLLAR)[:, None]
    # Level only: a rim that is drawn up or down folds.
    off = (goal - mesh.vertices[rim]) * [1, 1, 0]
    vertices = mesh.vertices.copy()
    vertices[rim] += part * off
    return replace(mesh, vertices=vertices)
