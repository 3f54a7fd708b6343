"""What the key does on the face: where the nose's shadow falls, and what that is called.

The face is looked at from before it, square on, at a grid of places a few millimetres apart; the
key's own light is worked out at each, by whatever boards and cloths it comes.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from scipy import ndimage

from ..camera import source_levels
from ..colour import LUMINANCE
from ..engine.caching import Keyed, cached, content_hash
from ..materials import FINISHES
from ..metering import origin_of
from ..transport import light_of
from ..transport.field import field
from ..transport.light import light_key
from ..world import landmarks
from ..world.figures import head_front
from .limits import limit
from .outline import project_near, ray
from .results import Drawn, Reading

ACROSS, STEP = 0.076, 0.0028
"""Half width of what is looked at of the face, and between its places [m]."""
REACH = 0.4
"""From where before the face it is looked at [m]."""
LIT = 0.3
"""Part of the key's best on the face from which a place counts as lit; typical."""
CAST = 0.45
"""Part of what would come without the head in the way below which a place lies in cast shadow."""
BELOW = -12.0
"""Height of the light against the face from which it comes from below [deg]."""
WING = 0.33
"""Half the width of a nose, of that between the eyes."""
SHORT = 0.014
"""How far from the tip of the nose its shadow must reach to be one on the face [m]."""
FRONTAL = 8.0
"""Angle of the light to the face under which a shadow below the nose falls straight [deg]."""
STRAIGHT, ASIDE = 0.45, 22.0
"""Sideways over down of a shadow that falls straight below the nose, at most; and the angle of the
light to the face from which the small shadow of a flat nose is not called straight [deg].
"""
MOUTH, JOINED = 0.75, 0.7
"""How far down from the nose to the lip the nose's shadow is followed to the cheek's shade, and how
far out that begins, of what is between the eyes: on 32 people drawn at random loops end by 0.42,
what is joined runs on past 0.9.
"""
TURNED = 8.0
"""Angle between lens and face from which one side is the broad one [deg]."""
_SKIN = next(i for i, f in enumerate(FINISHES) if f.name == "skin")

NAMES = {
    "flat": "no shadow of the nose to speak of: a light from the lens, or all about",
    "butterfly": "the nose's shadow falls straight down, under the nose",
    "loop": "the nose's shadow falls beside it and ends before the cheek's shade",
    "closed triangle": "the nose's shadow meets the cheek's shade: a lit triangle under the eye",
    "split": "half of the face is lit, the other is in shade",
    "from below": "the light comes from below the eyes",
}
"""Patterns in the order in which a key meets them on its way up and round, in their words."""


@dataclass(frozen=True)
class FaceLight:
    """A source's light on the face, by places in rows from the forehead down."""

    points: np.ndarray
    """(rows, columns, 3) [m]; nan beside the head."""
    across: np.ndarray
    """(columns,) to the person's own left [m]."""
    down: np.ndarray
    """(rows,) from the eyes down [m]."""
    light: np.ndarray
    """(rows, columns) over its best on the face; nan beside the head."""
    cast: np.ndarray
    """(rows, columns) whether it lies in a shadow that something casts."""
    level: float
    """That best [lx], at full."""
    angle: float
    """Of where it comes from against the way the face looks: to the own left [deg]."""
    height: float
    """Above the level of the face [deg]."""


@dataclass(frozen=True)
class Pattern:
    """How the key's shadow falls."""

    name: str
    """Of :data:`NAMES`."""
    side: str
    """"left" or "right", the person's own, that the light comes from."""
    tip: np.ndarray | None
    """End of the nose's shadow [m]."""
    triangle: float
    """Lit part of the far cheek, 0..1."""
    lip: bool
    """Whether the shadow crosses the upper lip."""
    shade: np.ndarray
    """(rows, columns) which places lie in that shadow."""


def face_light(setup, world, source, person=0):
    """A source's light on a face.

    Parameters
    ----------
    setup : moth.document.Setup
    world : moth.world.World
    source : moth.transport.Source
    person : int

    Returns
    -------
    FaceLight or None
        None where none of it reaches the face.
    """
    figure = setup.figures[person]
    key = content_hash("face light", light_key(world, source), figure.model_dump(mode="json"))
    return _face_light(Keyed(key, (setup, world, source, person)))


def _head(figure):
    """A head's landmarks, and its own axes: between the eyes, to its left, up, the way it faces."""
    marks, front = landmarks(figure), head_front(figure)
    left = np.cross([0.0, 0, 1], front)
    left /= np.linalg.norm(left)
    eyes = (marks["eye_left"] + marks["eye_right"]) / 2
    return marks, (eyes, left, np.cross(front, left), front)


@cached("light on faces")
def _face_light(keyed):
    setup, world, source, person = keyed.value
    marks, (eyes, left, up, front) = _head(setup.figures[person])
    low = float((eyes - marks["chin"]) @ up)
    across = np.arange(-ACROSS, ACROSS + STEP / 2, STEP)
    down = np.arange(-0.055, low + 0.012, STEP)
    start = (
        eyes + REACH * front + across[None, :, None] * left - down[:, None, None] * up
    ).reshape(-1, 3)
    triangle, uv, far = world.rays.first(start, np.tile(-front, (len(start), 1)))
    mesh = world.mesh
    body = 1 + len(setup.furniture) + person
    on = np.flatnonzero(
        (triangle >= 0) & (mesh.body[triangle] == body) & (mesh.finish[triangle] == _SKIN)
    )
    if len(on) < 50:
        return None
    points = np.full((len(start), 3), np.nan)
    points[on] = start[on] - far[on, None] * front
    normals = mesh.normals_at(triangle[on], uv[on])
    light = light_of(world, source)
    level = field(world, light, points[on] + 0.0015 * normals, normals, room=False) @ LUMINANCE
    # Grain of the rays off: places are nearer together than any shade is sharp.
    grid = np.full(len(start), np.nan)
    grid[on] = level
    grid = _smooth(grid.reshape(len(down), len(across)))
    best = float(np.nanquantile(grid, 0.97))
    if not best > 0:
        return None
    origin = origin_of(setup, world, source).place
    to = origin - points[on]
    distance = np.linalg.norm(to, axis=1)
    cosine = np.maximum((to * normals).sum(1) / distance, 0)
    plain = np.full(len(start), np.nan)
    plain[on] = cosine / distance**2
    plain = plain.reshape(grid.shape)
    most = float(np.nanmax(plain))
    cast = np.zeros(grid.shape, bool)
    if most > 0:
        with np.errstate(invalid="ignore", divide="ignore"):
            share = grid / plain
            share = share / np.nanquantile(np.where(plain > 0.3 * most, share, np.nan), 0.8)
            cast = (share < CAST) & (plain > 0.15 * most)
    way = origin - eyes
    way = way / np.linalg.norm(way)
    return FaceLight(
        points.reshape(*grid.shape, 3),
        across,
        down,
        grid / max(best, 1e-12),
        cast,
        best,
        float(np.degrees(np.arctan2(way @ left, way @ front))),
        float(np.degrees(np.arcsin(np.clip(way @ up, -1, 1)))),
    )


def _smooth(grid):
    known = ~np.isnan(grid)
    filled = ndimage.gaussian_filter(np.where(known, grid, 0.0), 0.6)
    weight = ndimage.gaussian_filter(known.astype(float), 0.6)
    return np.where(known, filled / np.maximum(weight, 1e-6), np.nan)


def pattern_of(face, setup, person=0):
    """What the shadow of a face's nose is called.

    Parameters
    ----------
    face : FaceLight
    setup : moth.document.Setup
    person : int

    Returns
    -------
    Pattern
    """
    marks, (eyes, left, up, _) = _head(setup.figures[person])
    nose = float((eyes - marks["nose_tip"]) @ up)
    chin = float((eyes - marks["chin"]) @ up)
    lip = nose + 0.44 * (chin - nose)
    wide = float(abs((marks["eye_left"] - marks["eye_right"]) @ left))
    side = "left" if face.angle > 0 else "right"
    # Counted from the middle of the face away from the light.
    away = face.across * (-1 if side == "left" else 1)
    u, v = np.meshgrid(away, face.down)
    known = ~np.isnan(face.light)
    lit = known & (face.light > LIT)
    # Under the eyes, above the mouth.
    cheek = known & (u > 0.35 * wide) & (u < 0.95 * wide) & (v > 0.012) & (v < nose + 0.004)
    part = float(lit[cheek].mean()) if cheek.any() else 0.0
    middle = known & (u > -0.6 * wide) & (u < 0.95 * wide) & (v > 0.25 * nose) & (v < chin)
    # Its own side in shade, and what that casts.
    shadow = middle & ((face.light < LIT) | (face.cast & (face.light < 0.5)))
    shadow = _of_the_nose(shadow, u, v, nose, wide)
    # What lies on the nose itself is no shadow on the face.
    thrown = shadow & ((np.abs(u) > WING * wide) | (v > nose + 0.003))
    tip, length = None, 0.0
    if thrown.any():
        off = np.where(thrown, np.hypot(u, v - nose), -1)
        at = np.unravel_index(int(off.argmax()), off.shape)
        tip, length = face.points[at], float(off.max())
    crosses = bool((thrown & (np.abs(v - lip) < 0.004) & (np.abs(u) < 0.5 * wide)).any())

    def named(name):
        return Pattern(name, side, tip, part, crosses, thrown)

    if face.height < BELOW:
        return named("from below")
    if part < 0.12:
        return named("split")
    if length < SHORT:
        return named("flat")
    # Above the mouth: lower down the shade of the lip and a fold join what the eye sees apart.
    high = thrown & (v < nose + MOUTH * (lip - nose))
    if u[_of_the_nose(high, u, v, nose, wide)].max(initial=0.0) > JOINED * wide:
        return named("closed triangle")
    where = np.array([u[thrown].mean(), v[thrown].mean() - nose])
    straight = abs(where[0]) < STRAIGHT * max(where[1], 0.004) and abs(face.angle) < ASIDE
    if straight or abs(face.angle) < FRONTAL:
        return named("butterfly")
    return named("loop")


def _of_the_nose(shadow, u, v, nose, wide):
    """The piece of shadow that begins at the nose."""
    regions, count = ndimage.label(ndimage.binary_closing(shadow, iterations=1))
    near = (np.abs(u) < 0.38 * wide) & (v > 0.35 * nose) & (v < nose + 0.016)
    found = regions[near & shadow]
    found = found[found > 0]
    if not len(found):
        return np.zeros_like(shadow)
    return (regions == int(np.bincount(found).argmax())) & shadow


def read_face(setup, ready, say, person=0):
    """The pattern of the key on a face.

    Parameters
    ----------
    setup : moth.document.Setup
    ready : moth.metering.LaidOut
    say : moth.wording.Wording
    person : int

    Returns
    -------
    list of Reading
    """
    source = next((s for s in ready.found if s.id == ready.key), None)
    if source is None or not source_levels(setup)[source.id]:
        return []
    face = face_light(setup, ready.world, source, person)
    if face is None:
        return []
    pattern = pattern_of(face, setup, person)
    all_light = _all_light(setup, ready, person)
    who = "" if len(setup.figures) == 1 else f"{setup.figures[person].name}, "
    found = [
        _told(setup, ready, face, pattern, _depth(face, pattern, all_light), (person, who, say))
    ]
    sockets = _sockets(setup, face, all_light, (person, who, say))
    return found + ([sockets] if sockets else [])


def _all_light(setup, ready, person):
    """What all sources in the mix bring to the face (rows, columns) [lx]."""
    levels, total = source_levels(setup), 0.0
    for source in ready.found:
        if levels[source.id] > 0:
            found = face_light(setup, ready.world, source, person)
            if found is not None:
                total = total + np.nan_to_num(found.light) * found.level * levels[source.id]
    return total


def _depth(face, pattern, all_light):
    """Stops from what the key lights to the shadow that it throws, all light counted."""
    known = ~np.isnan(face.light)
    lit = known & (face.light > 0.6)
    dark = pattern.shade if pattern.shade.any() else known & (face.light < 0.1)
    if not lit.any() or not dark.any():
        return 0.0
    return float(np.log2(all_light[lit].mean() / max(float(all_light[dark].mean()), 1e-9)))


def _told(setup, ready, face, pattern, depth, about):
    person, who, say = about
    camera = setup.cameras[0]
    marks, (eyes, left, _, front) = _head(setup.figures[person])
    to_lens = np.asarray(camera.position) - eyes
    lens = float(np.degrees(np.arctan2(to_lens @ left, to_lens @ front)))
    name = pattern.name
    if depth < SHALLOW and name not in ("from below",):
        name = "flat"
    words = NAMES[name]
    if name != "flat":
        # Seen from the lens a person's own left is on the right of the picture.
        words += f", {say.amount(depth)} under; key from camera " + (
            "right" if pattern.side == "left" else "left"
        )
    elif pattern.name != "flat":
        words = f"the shadow is {say.amount(depth)} under and hardly shows"
    if abs(lens) > TURNED and name in ("loop", "closed triangle", "split"):
        toward = (lens > 0) == (pattern.side == "left")
        words += (
            "; the side toward the lens is lit"
            if toward
            else ("; the side turned from the lens is lit")
        )
    why, mind = "Its shape is what the light is known by.", False
    if name == "from below":
        why = "Light from below turns a face strange, unless a fire or a floor explains it."
        mind = True
    elif pattern.lip and name not in ("split", "flat"):
        why = "A shadow over the lips cuts the mouth: a lower key lifts it."
        words, mind = words + "; it crosses the lips", True
    path: tuple = ()
    if pattern.tip is not None:
        path = (project_near(camera, marks["nose_tip"]), project_near(camera, pattern.tip))
    return Reading(
        key=f"face {person} pattern",
        kind="face",
        name=f"{who}nose shadow",
        verdict="mind" if mind else "well",
        word=name,
        words=words,
        why=why,
        figure=round(depth, 2),
        path=path,
        unit=ready.key_unit.id if ready.key_unit else None,
        drawn=_drawn(setup, ready, face, pattern, marks, eyes),
    )


def _drawn(setup, ready, face, pattern, marks, eyes):
    """The way to the key, the shadow that hangs together with the nose, and its tip."""
    camera = setup.cameras[0]
    source = next(s for s in ready.found if s.id == ready.key)
    origin = origin_of(setup, ready.world, source).place
    height = f"{abs(face.height):.0f}° {'over' if face.height >= 0 else 'under'} the face's level"
    words = f"toward the key, {abs(face.angle):.0f}° off where the face looks, {height}"
    lines = [ray(camera, words, eyes, origin)]
    if pattern.shade.any():
        words = f"shade that begins at the nose: under {LIT:.0%} of the key's best there"
        lines.append(Drawn(words, _round_shade(camera, face, pattern.shade)))
    # In a half face it is the cheek's shade that ends somewhere.
    if pattern.tip is not None and pattern.name in ("butterfly", "loop", "closed triangle"):
        ends = (marks["nose_tip"], pattern.tip)
        long = 1000 * float(np.linalg.norm(pattern.tip - marks["nose_tip"]))
        words = f"from the tip of the nose to its shadow's end: {long:.0f} mm"
        lines.append(Drawn(words, tuple(project_near(camera, p) for p in ends)))
    return tuple(lines)


SHALLOW = 0.5
"""Stops from which a shadow on the face shows as a shape; typical."""


def _round_shade(camera, face, shade):
    """A closed line round the largest piece of some places of the face, as the frame shows it."""
    rows, columns = np.nonzero(shade)
    whole = shapely.union_all(shapely.box(columns - 0.5, rows - 0.5, columns + 0.5, rows + 0.5))
    piece = max(getattr(whole, "geoms", [whole]), key=lambda g: g.area).simplify(0.75)
    # A corner between places stands where the nearest of the face does.
    to_known = ndimage.distance_transform_edt(
        np.isnan(face.light), return_distances=False, return_indices=True
    )
    ring = np.round(np.array(piece.exterior.coords)).astype(int)
    column = np.clip(ring[:, 0], 0, shade.shape[1] - 1)
    row = np.clip(ring[:, 1], 0, shade.shape[0] - 1)
    at = face.points[to_known[0][row, column], to_known[1][row, column]]
    return tuple(project_near(camera, p) for p in at)


def _sockets(setup, key, all_light, about):
    """Whether the eyes lie in shade of the brows: all light in the sockets against the best lit of
    the face round them. The cheeks would not do: from straight above they too lie in shade.
    """
    person, who, say = about
    marks, (eyes, left, _, _) = _head(setup.figures[person])
    half = abs(float((marks["eye_left"] - eyes) @ left))
    u, v = np.meshgrid(key.across, key.down)
    known = ~np.isnan(key.light)
    socket = known & (np.abs(np.abs(u) - half) < 0.014) & (v > -0.016) & (v < -0.004)
    face = known & (np.abs(u) < 0.04)
    # The better lit side counts: in a split face one eye lies in shade with its side.
    pairs = [
        (float(all_light[socket & side].mean()), float(np.quantile(all_light[face & side], 0.85)))
        for side in (u > 0, u < 0)
        if (socket & side).any()
    ]
    if not pairs:
        return None
    eye, lit = max(pairs, key=lambda pair: pair[1])
    under = float(np.log2(max(lit, 1e-9) / max(eye, 1e-9)))
    deep = limit(setup, "sockets")
    if under < deep:
        return None
    return Reading(
        key=f"face {person} sockets",
        kind="face",
        name=f"{who}eye sockets",
        verdict="fault" if under > deep + 1.2 else "mind",
        word="dark",
        words=f"{say.amount(under)} stops under the best lit of the face round them",
        why="Eyes in the shade of the brows say nothing: a lower key, or light from below it.",
        figure=under,
        path=tuple(project_near(setup.cameras[0], marks[k]) for k in ("eye_left", "eye_right")),
        drawn=tuple(
            Drawn(words, _along(setup.cameras[0], key.points[places]))
            for words, places in (
                (f"the sockets: {eye:.0f} lx in the better lit", socket),
                (f"what is best lit: {lit:.0f} lx", face & (all_light >= lit)),
            )
        ),
    )


def _along(camera, points):
    """A line from one side to the other through places of the face (n, 3) [m]."""
    spots = np.array([project_near(camera, p) for p in points])
    edges = np.quantile(spots[:, 0], np.linspace(0, 1, 9))
    bins = np.clip(np.searchsorted(edges, spots[:, 0]) - 1, 0, 7)
    means = [spots[bins == k].mean(0) for k in range(8) if (bins == k).any()]
    return tuple((float(x), float(y)) for x, y in means)
