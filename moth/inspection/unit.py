"""One unit under the glass: what every choice on its way to the face costs and gives."""

from collections import defaultdict
from itertools import pairwise
from typing import Any

import numpy as np

from ..camera import source_colours, source_levels
from ..colour import LUMINANCE, white_of
from ..metering import (
    NEUTRAL,
    at_head,
    origin_of,
    standard_marks,
    stop_reading,
    ways_at,
)
from ..photometry import ATTACHMENTS, HEADS, stages
from ..place import clear_of_walls
from ..transport import light_of, sources
from ..transport.field import field
from ..units import METRES_PER_FOOT, footcandles, stops
from ..wording import TENTHS, THIRDS, percent
from ..world import anchor, build_world
from .faults import Rig, faults_of
from .holding import holding_words
from .names import route_name, surface_name
from .paths import lit_wall, met_sheets, way_to
from .results import Cost, Coverage, Inspection, Shadow, Share, Size, Spill, Stage, White, Widths
from .softness import softness_of

NOSE = 0.03
"""From the tip of the nose to the cheek its shadow falls on [m]; typical."""
NEAREST = 0.05
"""Ways shorter than this are taken as so long [m]."""
LOST = 0.03
"""Part of the output that a colour setting must cost to be a stage."""
WALL_12 = 12 * METRES_PER_FOOT
"""A usual wall, across which the fall-off is told [m]."""
HEAD = 0.2
"""Half of the room a head takes on the line through the eyes [m]."""
COVERAGE = (0.5, 1.0, 1.5)
"""Stops within which a width counts as covered."""
PASSING = 0.05
"""Part of the lamp's light past its first cloth or board from which it is told there."""
OTHER = 0.06
"""Share of the light on the face by other ways from which it is a stage of its own."""


def _widths(offsets, levels):
    """Widths about the brightest place within which the level stays within each of COVERAGE [m]."""
    peak, top = float(levels.max()), int(levels.argmax())
    if peak <= 0:
        return [0.0] * len(COVERAGE)
    return [
        _edge(offsets[top:], levels[top:], peak * 2.0**-within)
        - _edge(offsets[top::-1], levels[top::-1], peak * 2.0**-within)
        for within in COVERAGE
    ]


def _edge(offsets, levels, least):
    """Where levels that begin over `least` first come down to it; the end where they do not [m]."""
    under = np.flatnonzero(levels < least)
    if not len(under):
        return float(offsets[-1])
    k = int(under[0])
    part = (levels[k - 1] - least) / (levels[k - 1] - levels[k])
    return float(offsets[k - 1] + part * (offsets[k] - offsets[k - 1]))


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
    met = met_sheets(world, light)
    way = _main_way(world, light, met, origin)
    named = _named(setup, world, ways)
    held = at_head(setup, origin.place)
    soft = softness_of(world, light, held.position, held.direction)
    width, height = soft.size if soft else (0.0, 0.0)
    distance = soft.distance if soft else float(np.linalg.norm(anchor(setup) - origin.place))
    kelvin, green = white_of(rgb) if full > 0 else (unit.cct, 0.0)
    rig = Rig(setup, unit, world, light, met, way, ways, full)
    return Inspection(
        id=unit.id,
        origin=origin.kind,
        lux=lux,
        footcandles=footcandles(lux),
        stop_words=words,
        ways=_shares(named),
        stages=_stages(rig, named, held.position, colour, say),
        cost=_cost(setup, unit, way, light, full / max(float(colour @ LUMINANCE), 1e-9), say),
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
        spill=_spill(rig, source, colour, say),
        white=White(kelvin, green),
        grip=_grip_on_way(setup, world, light, met),
        holding=holding_words(setup, unit),
        faults=faults_of(rig, say),
    )


def _named(setup, world, ways):
    """Shares of the light on the face by what they come from last, the strongest first: what is
    called the same is one.
    """
    brought: dict[str, float] = defaultdict(float)
    for route, rgb in ways.items():
        brought[route_name(setup, world, route)] += float(rgb @ LUMINANCE)
    total = max(sum(brought.values()), 1e-12)
    ranked = sorted(brought.items(), key=lambda named: -named[1])
    return {name: lux / total for name, lux in ranked}


def _shares(named):
    """Ways that bring something worth a word."""
    return tuple(Share(name, part) for name, part in named.items() if part > 1e-3)


def _grip_on_way(setup, world, light, met):
    """Ids of the grip that a unit's light goes by: cloths and boards that carry it, mirrors it
    falls on. Whose caution is shown follows from this, and from no name.
    """
    found = {world.sheets[s.sheet].piece for s in met}
    for emitter in light.emitters:
        mirrors = {leg.pane for leg in emitter.via if not leg.opening}
        found |= {s.piece for s in world.sheets if s.pane in mirrors}
    return tuple(piece.id for at, piece in enumerate(setup.grip) if at in found)


def _stage(name, kind, level, before, say, note=""):
    lost = None if before is None or level <= 0 or before <= 0 else float(np.log2(level / before))
    words = ""
    if lost is not None:
        # A third would round a real loss away.
        words = say.difference(lost)
        words = TENTHS.difference(lost) if words == "0" else words
    return Stage(name, kind, level, lost, words, note)


def _main_way(world, light, met, origin):
    """Surfaces that the light takes to the face by the way that brings most of it."""
    if origin.kind == "wall":
        return [lit_wall(world, light, origin.cells)]
    last = next((s for s in met if s.sheet == origin.sheet), None)
    return way_to(world, light, met, last) if last and origin.kind == "sheet" else []


def _stages(rig, named, held, colour, say):
    """Levels along the way: on the axis at the first surface it meets, on each cloth and board, on
    the face by this way, and by all.
    """
    setup, world, unit, way = rig.setup, rig.world, rig.unit, rig.way
    place = np.asarray(unit.position, float)
    first = way[0].place if way else np.asarray(held)
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
    if abs(output - 1) > LOST:
        rows.append(_stage("Colour setting", "colour", before * output, before, say))
        before = before * output
    for surface in way:
        name = surface_name(setup, world, surface)
        kind = world.sheets[surface.sheet].material.name if surface.sheet >= 0 else "paint"
        even = f"middle {say.difference(surface.even)} over its edges"
        note = "" if kind == "paint" else even if surface.even > 0.2 else "even"
        # Outdoors what goes off to the sky meets nothing, and is not known.
        caught = 1.0 if rig.caught is None or setup.room.outdoors else rig.caught
        if surface is way[0] and caught < 1 - PASSING:
            note += f"; {percent(1 - caught)} of the light goes past"
        level = surface.middle * factor
        rows.append(_stage(f"On {name}", kind, level, before, say, note))
        before = level
    total = float((sum(rig.ways.values()) * colour) @ LUMINANCE)
    (_, own), *others = named.items() or [("", 1.0)]
    note = ""
    if 1 - own > OTHER:
        rows.append(_stage("On the face by this way", "way", own * total, before, say))
        before = own * total
        note = "with " + ", ".join(f"{name} {percent(p)}" for name, p in others if p > 0.02)
    rows.append(_stage("On the face", "face", total, before, say, note))
    return tuple(rows)


def _cost(setup, unit, way, light, full, say):
    """Stops against the same lamp, attachments and all, aimed straight at the face over the whole
    of the way; None where the light goes straight.
    """
    if full <= 0 or not way:
        return None
    places = [np.asarray(unit.position, float), *(s.place for s in way), anchor(setup)]
    length = max(sum(float(np.linalg.norm(b - a)) for a, b in pairwise(places)), NEAREST)
    straight = float(light.emitters[0].face.table[0, 0]) / length**2
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
    offsets = np.unique([*np.linspace(-4, 4, 81), -WALL_12 / 2, WALL_12 / 2])
    points = face + offsets[:, None] * across
    inside = clear_of_walls(setup.room, points, 0.05)
    # A meter cannot be held inside the head: there the levels beside it tell.
    beside = inside & (np.abs(offsets) > HEAD)
    levels = np.zeros(len(points))
    levels[beside] = (
        field(world, light, points[beside], np.tile(toward, (int(beside.sum()), 1)), room=False)
        @ LUMINANCE
    )
    near = beside & (np.abs(offsets) < 4 * HEAD)
    if near.sum() > 5:
        through = np.polynomial.Polynomial.fit(offsets[near], levels[near], 4)
        head = inside & ~beside
        levels[head] = np.maximum(through(offsets[head]), 0)
    wall = levels[(np.abs(offsets) <= WALL_12 / 2) & inside]
    falloff = (
        stops(max(float(wall.max()), 1e-12) / max(float(wall.min()), 1e-12))
        if len(wall) and wall.max() > 0
        else None
    )
    return Coverage(
        Widths(*_widths(offsets, levels)), None if falloff is None else min(float(falloff), 20.0)
    )


def _spill(rig, source, colour, say):
    """How far the backdrop behind the figure is under the face, by this unit alone."""
    marks = standard_marks(rig.setup, rig.world, rig.setup.cameras[0])
    backdrop = next((p for p in marks if p.id == "backdrop"), None)
    if backdrop is None or rig.full <= 0:
        return None
    level = float((sum(ways_at(rig.world, source, backdrop).values()) * colour) @ LUMINANCE)
    if level <= 0:
        return None
    lost = float(np.log2(level / rig.full))
    return Spill(lost, say.difference(lost))
