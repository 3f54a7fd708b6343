"""One unit under the glass: what every choice on its way to the face costs and gives."""

from itertools import pairwise
from typing import Any

import numpy as np

from ..camera import source_colours, source_levels
from ..colour import LUMINANCE, white_of
from ..metering import (
    NEUTRAL,
    at_head,
    key_unit,
    origin_of,
    standard_marks,
    stop_reading,
    ways_at,
)
from ..photometry import ATTACHMENTS, HEADS, stages
from ..transport import LAMP, MIRROR, ROOM, light_of, sources
from ..transport.field import field
from ..units import footcandles, stops
from ..wording import THIRDS
from ..world import anchor, build_world, pieces
from .faults import faults_of
from .results import Cost, Coverage, Inspection, Shadow, Share, Size, Spill, Stage, White, Widths
from .softness import softness_of

NOSE = 0.03
"""From the tip of the nose to the cheek its shadow falls on [m]; typical."""
NEAREST = 0.05
"""Ways shorter than this are taken as so long [m]."""
WALL_12 = 12 * 0.3048
COVERAGE = (0.5, 1.0, 1.5)
"""Stops within which a width counts as covered."""
CARRIES = 0.03
"""Share of the flux that must fall on a sheet for it to be a stage."""


def path_sheets(world, light):
    """Sheets that carry a source's light, in the order it meets them: (index, level on its brighter
    face at the middle, evenness).
    """
    p = world.patches
    found: list = []
    direct = light.lit @ LUMINANCE
    total = float((direct * p.area).sum()) + 1e-12
    for k, sheet in enumerate(world.sheets):
        if sheet.cells[0] * sheet.cells[1] < 9:
            continue
        sides = [np.flatnonzero((p.sheet == k) & (p.side == s)) for s in (1, -1)]
        best, straight = None, 0.0
        for patches in sides:
            level = direct[patches]
            share = float((level * p.area[patches]).sum()) / total
            if best is None or share > straight:
                best, straight = patches, share
        assert best is not None
        # Light from other sheets is in the radiosity: what a matte face sends tells what fell on
        # both its faces.
        both = [p.arrived(light.radiosity, side) @ LUMINANCE for side in (best, p.other[best])]
        if both[1].mean() > both[0].mean():
            best, both = p.other[best], both[::-1]
        arrived = np.maximum(both[0], direct[best])
        if (
            float((arrived * p.area[best]).sum()) < CARRIES * total
            or sheet.material.returned + sheet.material.transmission < 0.06
        ):
            continue
        grid = arrived.reshape(sheet.cells)
        i, j = sheet.cells[0] // 2, sheet.cells[1] // 2
        middle = float(grid[max(i - 1, 0) : i + 1, max(j - 1, 0) : j + 1].mean())
        edge = float(
            np.mean([grid[0].mean(), grid[-1].mean(), grid[:, 0].mean(), grid[:, -1].mean()])
        )
        found.append((straight, k, middle, stops(max(middle, 1e-9) / max(edge, 1e-9))))
    found.sort(key=lambda row: -row[0])
    return [(k, middle, even) for _, k, middle, even in found]


def _widths(offsets, levels):
    """Widths about the middle within which the level stays within each of COVERAGE [m]."""
    peak = levels.max()
    out: list[float] = []
    for within in COVERAGE:
        ok = np.flatnonzero(levels >= peak * 2.0**-within)
        out.append(float(offsets[ok[-1]] - offsets[ok[0]]) if len(ok) and peak > 0 else 0.0)
    return out


_ROUTE_NAMES = {
    LAMP: "straight from the lamp",
    MIRROR: "by mirror",
    ROOM: "walls, furniture, people",
}


def _route_name(setup, route):
    return _ROUTE_NAMES.get(route) or pieces(setup)[route.piece].name


def inspect_unit(setup, unit_id, say=THIRDS):
    """What is to be known of one unit's light.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str
    say : moth.wording.Wording

    Returns
    -------
    Inspection
        docs/light-model.md says how each is worked out.

    Raises
    ------
    KeyError
        When there is no such unit.
    """
    at = next((k for k, u in enumerate(setup.units) if u.id == unit_id), None)
    if at is None:
        raise KeyError(unit_id)
    unit, camera = setup.units[at], setup.cameras[0]
    world = build_world(setup)
    source = sources(setup)[at]
    light = light_of(world, source)
    gain = source_levels(setup)[unit.id] or unit.dimmer
    colour = source_colours(setup, NEUTRAL)[unit.id]
    origin = origin_of(setup, world, source)
    ways = ways_at(world, source, at_head(setup, origin.place))
    rgb = sum(ways.values()) * colour
    full = float(rgb @ LUMINANCE)
    lux = full * gain
    _, words, _ = stop_reading(lux, "dome", camera, say)
    carried = path_sheets(world, light)
    surfaces = [
        (
            pieces(setup)[world.sheets[k].piece].name,
            world.sheets[k].material.name,
            world.sheets[k].centre,
            middle,
            even,
        )
        for k, middle, even in carried
    ]
    if origin.kind == "wall":
        surfaces.append(_wall_stage(world, light, origin))
    held = at_head(setup, origin.place)
    soft = softness_of(world, light, held.position, held.direction)
    width, height = soft.size if soft else (0.0, 0.0)
    distance = soft.distance if soft else float(np.linalg.norm(anchor(setup) - origin.place))
    kelvin, green = white_of(rgb) if full > 0 else (unit.cct, 0.0)
    return Inspection(
        id=unit.id,
        origin=origin.kind,
        lux=lux,
        footcandles=footcandles(lux),
        stop_words=words,
        ways=_shares(setup, ways),
        stages=_stages(setup, unit, surfaces, full, colour, say),
        cost=(
            _cost(setup, unit, surfaces, light, full / max(float(colour @ LUMINANCE), 1e-9), say)
            if origin.kind in ("sheet", "wall")
            else None
        ),
        size=Size(
            width=width,
            height=height,
            distance=distance,
            degrees=soft.across if soft else 0.0,
            half=soft.half if soft else 0.0,
            most=soft.most if soft else 0.0,
        ),
        shadow=_shadow(setup, world, max(width, height), distance, origin.place),
        coverage=_coverage(setup, world, light, origin.place),
        spill=_spill(setup, world, camera, source, full, colour, say),
        white=White(kelvin, green),
        grip=_grip_on_way(setup, world, light, carried),
        faults=tuple(faults_of(setup, unit, world, light, carried, full)),
    )


def _shares(setup, ways):
    """Ways that bring something worth a word, the strongest first."""
    brought = {route: float(rgb @ LUMINANCE) for route, rgb in ways.items()}
    total = max(sum(brought.values()), 1e-12)
    return tuple(
        Share(_route_name(setup, route), lux / total)
        for route, lux in sorted(brought.items(), key=lambda w: -w[1])
        if lux > 1e-3 * total
    )


def _grip_on_way(setup, world, light, carried):
    """Ids of the grip that a unit's light goes by: cloths and boards that carry it, mirrors it
    falls on. Whose caution is shown follows from this, and from no name.
    """
    found = {world.sheets[k].piece for k, _, _ in carried}
    for emitter in light.emitters:
        mirrors = {leg.pane for leg in emitter.via if not leg.opening}
        found |= {s.piece for s in world.sheets if s.pane in mirrors}
    return tuple(piece.id for at, piece in enumerate(setup.grip) if at in found)


def _stage(name, kind, level, before, say, note=""):
    lost = None if before is None or level <= 0 or before <= 0 else float(np.log2(level / before))
    return Stage(name, kind, level, lost, "" if lost is None else say.difference(lost), note)


def _wall_stage(world, light, origin):
    """The patch of wall or ceiling that a lamp is bounced off: name, kind, middle, level there,
    evenness.
    """
    glow = next(
        g
        for g in light.glows
        if g.sheet < 0
        and len(g.cells.middle) == len(origin.cells)
        and np.allclose(g.cells.middle, origin.cells)
    )
    level = float((light.lit[glow.patches] @ LUMINANCE).max())
    normal = glow.cells.normal[0]
    name = "the ceiling" if normal[2] < -0.5 else "the floor" if normal[2] > 0.5 else "the wall"
    return name, "paint", origin.place, level, 0.0


def _stages(setup, unit, surfaces, face_level, colour, say):
    """Levels along the way: on the axis at the first surface it meets, on each cloth and board, on
    the face.
    """
    place = np.asarray(unit.position, float)
    first = surfaces[0][2] if surfaces else anchor(setup)
    # A board pushed through the lamp itself has no distance to tell a level by.
    d2 = max(float(((first - place) ** 2).sum()), NEAREST**2)
    rows: list = []
    before: Any = None
    for k, (key, lamp) in enumerate(stages(unit)):
        # Toward the first thing it meets: a board off the axis gets what the edge of the beam
        # sends.
        level = float(lamp.distribution.intensity(0.0)) / d2 * float(lamp.gel @ LUMINANCE)
        name = (
            ("Photometric file" if unit.ies else HEADS[key].name)
            if k == 0
            else ATTACHMENTS[key].name
        )
        rows.append(_stage(name, "head" if k == 0 else "attachment", level, before, say))
        before = level
    factor = float(colour @ LUMINANCE)
    output = factor / max(float(lamp.gel @ LUMINANCE), 1e-9)
    if abs(output - 1) > 0.12:
        rows.append(_stage("Colour setting", "colour", before * output, before, say))
        before = before * output
    for name, kind, _, middle, even in surfaces:
        note = (
            ""
            if kind == "paint"
            else f"middle {say.difference(even)} over its edges"
            if even > 0.2
            else "even"
        )
        rows.append(_stage(f"On {name}", kind, middle * factor, before, say, note))
        before = middle * factor
    rows.append(_stage("On the face", "face", face_level, before, say))
    return tuple(rows)


def _cost(setup, unit, surfaces, light, full, say):
    """Stops against the same lamp, attachments and all, aimed straight at the face over the whole
    of the way.
    """
    if full <= 0:
        return None
    places = [
        np.asarray(unit.position, float),
        *(place for _, _, place, _, _ in surfaces),
        anchor(setup),
    ]
    length = max(sum(float(np.linalg.norm(b - a)) for a, b in pairwise(places)), NEAREST)
    emitter = light.emitters[0]
    straight = float(emitter.face.table[0, 0]) / length**2
    if straight <= 0:
        # A beam that is dark on its axis has nothing to be told against.
        return None
    lost = float(np.log2(full / straight))
    return Cost(lost, say.difference(lost), length)


def _shadow(setup, world, size, distance, origin):
    """Soft edge of shadows: source size x (object to surface) / (source to object); and how far
    light wraps.
    """
    face = anchor(setup)
    # The subject's shadow falls where the source's line through the head meets the walls, not where
    # the camera looks.
    away = (face - origin) / max(np.linalg.norm(face - origin), 1e-9)
    reach: float | None = None
    start = face + 0.35 * away
    _, _, hit = world.rays.first(start[None], away[None])
    if np.isfinite(hit[0]) and hit[0] < 100:
        reach = float(hit[0]) + 0.35
    return Shadow(
        cheek=size * NOSE / max(distance - NOSE, 0.05),
        backdrop=None if reach is None else size * reach / distance,
        wrap=float(np.degrees(np.arctan(size / 2 / distance))),
        to_backdrop=reach,
    )


def _coverage(setup, world, light, origin):
    """Widths of even light across the subject's place, and the fall-off over a 12 ft wall there."""
    face = anchor(setup)
    toward = origin - face
    toward = toward / max(np.linalg.norm(toward), 1e-9)
    across = np.array([-toward[1], toward[0], 0.0])
    across = (
        across / max(np.linalg.norm(across), 1e-9)
        if np.hypot(*toward[:2]) > 0.05
        else np.array([1.0, 0, 0])
    )
    offsets = np.linspace(-4, 4, 81)
    # Held in empty air: the set's own things would cut the beam in places nobody asks about.
    points = face + 0.25 * toward + offsets[:, None] * across
    room = setup.room
    inside = (points[:, 0] > 0.05) & (points[:, 0] < room.width - 0.05) & (points[:, 1] > 0.05) & (
        points[:, 1] < room.depth - 0.05
    ) | room.outdoors
    levels = np.zeros(len(points))
    levels[inside] = (
        field(world, light, points[inside], np.tile(toward, (int(inside.sum()), 1)), room=False)
        @ LUMINANCE
    )
    wall = levels[(np.abs(offsets) <= WALL_12 / 2) & inside]
    falloff = (
        stops(max(float(wall.max()), 1e-12) / max(float(wall.min()), 1e-12))
        if len(wall) and wall.max() > 0
        else None
    )
    return Coverage(
        Widths(*_widths(offsets, levels)), None if falloff is None else min(float(falloff), 20.0)
    )


def _spill(setup, world, camera, source, full, colour, say):
    """How far the backdrop behind the figure is under the face, by this unit alone."""
    backdrop = next(
        (p for p in standard_marks(setup, world, camera, key_unit(setup)) if p.id == "backdrop"),
        None,
    )
    if backdrop is None or full <= 0:
        return None
    level = float((sum(ways_at(world, source, backdrop).values()) * colour) @ LUMINANCE)
    if level <= 0:
        return None
    lost = float(np.log2(level / full))
    return Spill(lost, say.difference(lost))
