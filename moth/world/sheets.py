"""Grip and windows as rectangles in space with a material: what light meets on purpose."""

from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from ..errors import DocumentError
from ..materials import MATERIALS, Material
from ..place import axes, ceiling_over, flats_of, wall_named
from .outside import stands_outside

GLASS = Material(
    "glass",
    "Window, dark behind",
    "wall",
    reflectance=0.08,
    source="Fresnel, two faces of index 1.5",
)
Triple = tuple[float, float, float]


def triple(vector):
    """A vector as plain numbers.

    Returns
    -------
    Triple
    """
    x, y, z = (float(c) for c in vector)
    return x, y, z


class Pane(NamedTuple):
    """A flat rectangle as plain numbers for the compiled loops."""

    centre: Triple
    """[m]"""
    right: Triple
    """Unit vectors, as are up and normal."""
    up: Triple
    normal: Triple
    half: tuple[float, float]
    """Half sizes [m]."""
    straight: float
    """Shares of the light that go straight on, and that are mirrored."""
    mirror: float


class Panes(NamedTuple):
    """Many of them: the same fields, each an array with a row a pane."""

    centre: np.ndarray
    right: np.ndarray
    up: np.ndarray
    normal: np.ndarray
    half: np.ndarray
    straight: np.ndarray
    mirror: np.ndarray

    def some(self, which):
        return Panes(*(part[which] for part in self))


def panes(sheets):
    """The sheets as plain numbers."""
    each = [s.pane for s in sheets]

    def rows(name, width):
        return np.array([getattr(p, name) for p in each], float).reshape(-1, width)

    centre, right, up, normal = (rows(name, 3) for name in Pane._fields[:4])
    straight, mirror = rows("straight", 1)[:, 0].copy(), rows("mirror", 1)[:, 0].copy()
    return Panes(centre, right, up, normal, rows("half", 2), straight, mirror)


def pane(centre, vectors, half, straight, mirror):
    """A rectangle with its right, up and normal vectors."""
    right, up, normal = (triple(v) for v in vectors)
    half = float(half[0]), float(half[1])
    return Pane(triple(centre), right, up, normal, half, float(straight), float(mirror))


@dataclass(frozen=True)
class Sheet:
    """A flat rectangle with two faces of one material."""

    piece: int
    """Index of what it belongs to: grip, openings, then furniture (see :func:`pieces`)."""
    centre: np.ndarray
    right: np.ndarray
    up: np.ndarray
    normal: np.ndarray
    """Out of the front."""
    half: tuple
    """Half width and half height [m]."""
    material: Material
    cells: tuple
    """Patches across and up; their light is followed apart."""
    behind: float = 0.0
    """How far behind it the upright is that it stands around with the others of its piece [m], as
    the flats of a lamp's shade do; 0 for one that stands alone.
    """

    @property
    def sharp(self):
        """Whether light leaves it in a preferred direction."""
        m = self.material
        return m.lobe + m.forward > 0.01

    @property
    def pane(self):
        """As plain numbers for the compiled loops."""
        m, vectors = self.material, (self.right, self.up, self.normal)
        return pane(self.centre, vectors, self.half, m.straight, m.mirror)


def material_of(setup, key, path):
    """Material by the set-up's own id or the catalogue's key.

    Raises
    ------
    DocumentError
    """
    for own in setup.materials:
        if own.id == key:
            group = "cloth" if own.straight + own.forward + own.through > 0 else "board"
            shares = own.model_dump(exclude={"id", "name"})
            return Material(key, own.name, group, **shares, source="the user's own")
    if key not in MATERIALS:
        raise DocumentError(
            f"There is no cloth or board '{key}' in the catalogue or in this set-up.", path
        )
    return MATERIALS[key]


def _cells(width, height, material):
    # Fine where light leaves in lobes or passes on to the face; a black flag needs only to be
    # there.
    finest = (
        4
        if material.returned + material.transmission < 0.05
        or material.mirror > 0.5
        or material.group == "net"
        else 12
    )
    longer = max(width, height)
    return max(2, round(finest * width / longer)), max(2, round(finest * height / longer))


def _sheet(piece, placed, size, material, cells=None):
    """A sheet of a piece; `placed` is its position, aim and roll."""
    position = placed[0]
    right, up, normal = axes(*placed)
    # Seen from in front, its right hand is on the viewer's left: the grid runs along the sheet's
    # own axes.
    return Sheet(
        piece,
        np.asarray(position, float),
        right,
        up,
        normal,
        (size[0] / 2, size[1] / 2),
        material,
        cells or _cells(size[0], size[1], material),
    )


def _slats(base, pitch, angle, ratio=1.15):
    """Level slats that fill a sheet: each a strip turned about its length; 0 deg lies flat,
    open.
    """
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    count = max(1, round(2 * base.half[1] / pitch))
    step = 2 * base.half[1] / count
    across = c * base.normal + s * base.up
    slat = Material("slat", "Slat, off-white", "board", reflectance=0.6)
    return [
        Sheet(
            base.piece,
            base.centre + (k + 0.5 - count / 2) * step * base.up,
            base.right,
            across,
            np.cross(base.right, across),
            (base.half[0], ratio * step / 2),
            slat,
            (2, 1),
        )
        for k in range(count)
    ]


def _branches(base, seed=5):
    """Leaves on a frame: small dark leaves at fixed odd places and turns."""
    rng = np.random.default_rng(seed)
    leaf = Material("leaf", "Leaf", "dark", reflectance=0.08, colour=(0.5, 1.0, 0.4))
    area = 4 * base.half[0] * base.half[1]
    leaves = []
    for _ in range(min(60, max(12, round(area * 40)))):
        u, v, turn = rng.uniform(-1, 1), rng.uniform(-1, 1), rng.uniform(0, np.pi)
        size = rng.uniform(0.03, 0.07) * (1 + 0.4 * area**0.5)
        right = np.cos(turn) * base.right + np.sin(turn) * base.up
        up = np.cross(base.normal, right)
        centre = base.centre + 0.95 * (u * base.half[0] * base.right + v * base.half[1] * base.up)
        leaves.append(
            Sheet(
                base.piece, centre, right, up, base.normal, (1.8 * size, 0.55 * size), leaf, (1, 1)
            )
        )
    return leaves


def _vee(base):
    """Two boards hinged on the upright in the middle, each half as wide, opened to a right angle
    toward the front.
    """
    out = []
    for side in (-1, 1):
        right = (base.right + side * base.normal) / np.sqrt(2)
        out.append(
            replace(
                base,
                centre=base.centre + side * right * base.half[0] / 2,
                right=right,
                normal=np.cross(base.up, right) * -1,
                half=(base.half[0] / 2, base.half[1]),
                cells=(max(2, base.cells[0] // 2), base.cells[1]),
            )
        )
    return [replace(s, normal=s.normal if s.normal @ base.normal > 0 else -s.normal) for s in out]


def _flat(piece, item, flat):
    """A shade's or a mirror's flat of a piece of furniture."""
    if flat.of == "mirror":
        material = MATERIALS["mirror"]
    else:
        cloth = item.second or item.surface
        material = Material(
            "shade",
            "Lamp shade",
            "cloth",
            reflectance=cloth.reflectance,
            through=item.through,
            colour=cloth.colour,
        )
    # Rows about as high as a flat is wide: near a bulb the light falls off fast along the shade.
    high = max(1, min(6, round(1.2 * flat.size[1] / flat.size[0])))
    cells = (1, high) if flat.behind else None
    to = np.add(flat.centre, flat.facing)
    base = _sheet(piece, (flat.centre, to, 0.0), flat.size, material, cells)
    return replace(base, behind=flat.behind)


GLASS_OFF, PANE_OFF, COVER_OFF, SLATS_OFF = 0.001, 0.005, 0.008, 0.10
"""From the wall into the room [m]: the glass; where daylight sets out; what covers the window; the
slats before it.

A cover is taped to the wall: an inch of air would send along the walls beside it a fifth of what a
heavy cloth passes.
It stays 3 mm off the pane, for rays that end on that stop 2 mm short; the pane stays 4 mm off the
glass, whose depth a frame knows once a pixel:
seen aslant, less would hide half of it.
"""


def pieces(setup):
    """What sheets belong to, in the order of :attr:`Sheet.piece`: grip, openings, furniture.

    Light is cached by geometry and knows no names; they are looked up here, at the edge.
    """
    return (*setup.grip, *setup.openings, *setup.furniture)


def opening_of(setup, piece):
    """The window that a sheet's :attr:`Sheet.piece` is, or None for anything else."""
    at = piece - len(setup.grip)
    return setup.openings[at] if 0 <= at < len(setup.openings) else None


def sheets_of(setup):
    """Every sheet of a set-up: grip first, then furniture's shades and mirrors, then windows with
    what covers them.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    list of Sheet

    Raises
    ------
    DocumentError
        For a material that nobody knows.
    """
    sheets = []
    for at, item in enumerate(setup.grip):
        material = material_of(setup, item.material, f"grip[{at}].material")
        base = _sheet(at, (item.position, item.aim, item.roll), item.size, material)
        if item.kind == "blinds":
            sheets += _slats(base, item.slat_pitch, item.slat_angle)
        elif item.kind == "branches":
            sheets += _branches(base)
        elif item.kind == "v-flat":
            sheets += _vee(base)
        else:
            sheets.append(base)
    for at, item in enumerate(setup.furniture):
        if stands_outside(setup.room, item):
            continue
        piece = len(setup.grip) + len(setup.openings) + at
        sheets += [_flat(piece, item, flat) for flat in flats_of(item)]
    if setup.room.outdoors:
        return sheets
    for at, opening in enumerate(setup.openings):
        piece = len(setup.grip) + at
        place, inward = opening_place(setup, opening)
        glass, cover, slats = (
            (place + off * inward, place + inward, 0.0) for off in (GLASS_OFF, COVER_OFF, SLATS_OFF)
        )
        sheets.append(_sheet(piece, glass, opening.size, GLASS, (2, 2)))
        if opening.cover != "clear":
            material = (
                MATERIALS["duvetyne"]
                if opening.cover == "blackout"
                else material_of(setup, opening.cover, f"openings[{at}].cover")
            )
            sheets.append(_sheet(piece, cover, _wider(opening.size, 0.1), material))
        if opening.blinds:
            base = _sheet(piece, slats, _wider(opening.size, 0.06), GLASS)
            sheets += _slats(base, opening.slat_pitch, opening.slat_angle)
    return sheets


def _wider(size, by):
    return size[0] + by, size[1] + by


def opening_place(setup, opening):
    """Middle of a window on its wall [m] and the unit vector into the room.

    Raises
    ------
    DocumentError
        When the room has no such wall.
    """
    room, (along, up) = setup.room, (opening.along, opening.up)
    if opening.wall == "ceiling":
        z = float(ceiling_over(room, [(along, up)])[0])
        high = ceiling_over(room, [(along + 1, up), (along, up + 1)]) - z
        inward = np.array([*high, -1.0])
        return np.array([along, up, z]), inward / np.linalg.norm(inward)
    wall = wall_named(room, opening.wall)
    if wall is None:
        raise DocumentError(
            f"The window '{opening.name}' is in a wall that the room has not got.", "openings"
        )
    # North and west walls of a plain room are measured from the corner that they end at.
    start, end = (wall.end, wall.start) if wall.key in ("north", "west") else (wall.start, wall.end)
    x, y = start + along * (end - start) / wall.length
    return np.array([x, y, up]), wall.inward


def opening_corners(setup, opening):
    """Corners of a window in the room [m], shape (4, 3).

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     openings=[
    ...         {"id": "w", "name": "w", "wall": "south", "along": 2, "up": 1.5, "size": [1, 1]}
    ...     ]
    ... )
    >>> opening_corners(s, s.openings[0]).tolist()[0]
    [1.5, 0.0, 1.0]
    """
    place, inward = opening_place(setup, opening)
    right, up, _ = axes(place, place + inward)
    a, b = opening.size[0] / 2, opening.size[1] / 2
    return np.array(
        [place + s * a * right + t * b * up for s, t in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    )
