"""A day at a place: where the sun stands every five minutes, and what it does to the set-up."""

import datetime
import zoneinfo
from dataclasses import dataclass, replace

import numpy as np
import shapely

from ..document import Sky, Sun
from ..errors import MothError
from ..place.outline import corners_of
from ..wording import clock
from ..world import axes, build_world, landmarks, opening_corners, opening_place, outside_of
from .light import LOWEST, daylight
from .position import sun_at

STEP = 5
"""Between two instants [min]."""
HALF_STOP, NEAR_WHITE = 0.5, 150.0
"""Change of level [stops] and of white [K] within which a shot is taken to match; as asked for by
practice."""
GLASS = 0.08
"""Before a window's plane the sun's ray has come through it, and through what covers it [m]."""
SEEN_PATCH = 0.02
"""A patch of sun smaller than this is left out [m²]."""
ACROSS = 0.45
"""Of a person's shadow [m]; typical."""
LARGE_PIECE, TALL_PIECE = 0.5, 1.3
"""Pieces of furniture are told of from this floor on [m²], up to this height [m]."""
PANE_CELL, MOST_CELLS = 0.2, 20
"""Size of the cells that a window is looked through by when solids stand outside [m], and how many
each way at most.
"""
FAR = 400.0
"""How far the sun's rays are followed [m]."""
RISES = 1.0
"""Height from which a set-up's sun shines [deg]; lower it counts as down."""
HORIZON = -0.8333
"""Height of the sun's middle, the air left out, at sunrise and sunset [deg]; by convention."""


@dataclass(frozen=True)
class SunPatch:
    """Sun on the floor by a window, or somebody's shadow in the open, as the plan shows it."""

    what: str
    """Of the window, or the person."""
    shadow: bool
    corners: tuple[tuple[float, float], ...]
    """[m]"""


@dataclass(frozen=True)
class Instant:
    """Sun and sky at one minute of the clock."""

    minute: int
    elevation: float
    """[deg]"""
    azimuth: float
    """From the plan's north clockwise [deg]."""
    sky: Sky
    """As a set-up has it."""
    patches: tuple[SunPatch, ...] = ()


@dataclass(frozen=True)
class Moment:
    """Something that the day does, from one minute to another."""

    kind: str
    """ "window", "person", "backdrop", "piece", "shade", "match"."""
    what: str
    begin: int
    end: int
    words: str


@dataclass(frozen=True)
class Day:
    """A day at a place."""

    instants: tuple[Instant, ...]
    sunrise: int | None
    """[min]; None where it does not rise that day."""
    sunset: int | None
    noon: int
    """When it stands highest [min]."""
    moments: tuple[Moment, ...]
    words: str


def day_of(setup):
    """The day of a set-up's place.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    Day

    Raises
    ------
    MothError
        When it has no place on the earth.

    Examples
    --------
    >>> from moth.document import bare
    >>> day = day_of(bare(site={}))
    >>> len(day.instants), 370 < day.sunrise < 480 < day.noon < day.sunset
    (288, True)
    """
    site = _site(setup)
    minutes = np.arange(0, 1440, STEP)
    elevation, azimuth = _sun_of(site, minutes)
    instants = tuple(
        Instant(int(m), float(e), float((a - site.turned) % 360), _sky(setup, site, e, a))
        for m, e, a in zip(minutes, elevation, azimuth, strict=True)
    )
    instants = tuple(_patched(setup, instants))
    # The convention is of the true height: the air lifts the sun by half a degree there.
    up = elevation > HORIZON + 0.5667
    sunrise, sunset = _edge(minutes, up, True), _edge(minutes, up, False)
    return Day(
        instants=instants,
        sunrise=sunrise,
        sunset=sunset,
        noon=int(minutes[elevation.argmax()]),
        moments=tuple(_moments(setup, site, instants)),
        words=_words(up, sunrise, sunset),
    )


def with_hour(setup, minute):
    """A set-up with sun and sky of another minute of its day.

    Parameters
    ----------
    setup : moth.document.Setup
    minute : int
        0..1439

    Returns
    -------
    moth.document.Setup

    Examples
    --------
    >>> from moth.document import bare
    >>> night, noon = (with_hour(bare(site={}), m).sky for m in (0, 720))
    >>> night.sun is None, noon.sun.level > 10_000
    (True, True)
    """
    site = _site(setup).model_copy(update={"minute": int(minute)})
    elevation, azimuth = _sun_of(site, np.array([minute]))
    sky = _sky(setup, site, float(elevation[0]), float(azimuth[0]))
    return setup.model_copy(update={"site": site, "sky": sky})


def _site(setup):
    if setup.site is None:
        raise MothError("Say first where on the earth the place is.", "site")
    return setup.site


def _sun_of(site, minutes):
    """Height and bearing of the sun at minutes of the clock there."""
    zone = zoneinfo.ZoneInfo(site.zone)
    day = datetime.datetime.combine(
        datetime.date.fromisoformat(site.date), datetime.time(), tzinfo=zone
    )
    # Hours that the clock leaves out or tells twice follow its first telling.
    seconds = [
        day.replace(hour=int(m) // 60, minute=int(m) % 60, fold=0).timestamp() for m in minutes
    ]
    return sun_at(site.latitude, site.longitude, seconds)


def _scale(site, day):
    """By how much what was measured is more than the model says."""
    if site.measured is None:
        return 1.0
    elevation, _ = _sun_of(site, np.array([site.measured.minute]))
    light = daylight(float(elevation[0]), site.weather, day)
    flat = light.sky + light.sun * max(np.sin(np.radians(float(elevation[0]))), 0.0)
    return site.measured.lux / max(flat, 1e-3)


def _sky(setup, site, elevation, azimuth):
    day = datetime.date.fromisoformat(site.date).timetuple().tm_yday
    light = daylight(float(elevation), site.weather, day)
    scale = _scale(site, day)
    sun = None
    if elevation >= RISES and light.sun > 0:
        sun = Sun(
            azimuth=float((azimuth - site.turned) % 360),
            elevation=float(min(elevation, 90.0)),
            level=float(np.clip(light.sun * scale, 0, 130_000)),
            cct=float(np.clip(light.sun_cct, 2000, 10_000)),
            on=setup.sky.sun.on if setup.sky.sun else True,
        )
    return Sky(
        kind=light.kind,
        level=float(np.clip(light.sky * scale, 0, 60_000)) if elevation > LOWEST else 0.0,
        cct=light.sky_cct,
        on=setup.sky.on,
        sun=sun,
    )


def _edge(minutes, up, rises):
    """First minute at which the sun is up, or last, None where there is none."""
    change = np.flatnonzero(up[1:] != up[:-1]) + 1
    for k in change:
        if up[k] == rises:
            return int(minutes[k])
    return None


def _words(up, sunrise, sunset):
    if sunrise is None and sunset is None:
        return "The sun does not set that day." if up.any() else "The sun does not rise that day."
    if sunrise is None or sunset is None:
        return f"The sun {'sets' if sunrise is None else 'rises'} once that day."
    return f"Sun from {clock(sunrise)} to {clock(sunset)}."


def _runs(minutes, holds):
    """Spans of minutes through which something holds."""
    found, begin = [], None
    for minute, here in zip(minutes, holds, strict=True):
        if here and begin is None:
            begin = int(minute)
        if not here and begin is not None:
            found.append((begin, int(minute)))
            begin = None
    if begin is not None:
        found.append((begin, 1440))
    return found


def _moments(setup, site, instants):
    minutes = [i.minute for i in instants]
    sunny = np.array([i.sky.sun is not None for i in instants])
    ways = np.array([_way(i.azimuth, i.elevation) for i in instants])
    outside = outside_of(setup)
    for opening in setup.openings:
        _, inward = opening_place(setup, opening)
        enters = sunny & (ways @ np.asarray(inward) < -0.02)
        if outside is not None:
            cells, _ = _cells(opening_corners(setup, opening))
            for k in np.flatnonzero(enters):
                enters[k] = _past(outside, cells, ways[k]).any()
        for begin, end in _runs(minutes, enters):
            yield Moment(
                "window",
                opening.name,
                begin,
                end,
                f"The sun can enter {opening.name} from {clock(begin)} to {clock(end)}.",
            )
    lit = _lit(setup, ways, sunny)
    for kind, what in (("person", setup.figures[0].name), ("backdrop", "what is behind")):
        for begin, end in _runs(minutes, lit[kind]):
            yield Moment(
                kind, what, begin, end, f"Sun on {what} from {clock(begin)} to {clock(end)}."
            )
    yield from _pieces_lit(setup, minutes, ways, sunny)
    for begin, end in _runs(minutes, ~lit["person"] & lit["backdrop"]):
        yield Moment(
            "shade",
            setup.figures[0].name,
            begin,
            end,
            f"{setup.figures[0].name} stands in shade before a sunlit backdrop from {clock(begin)}"
            f" to {clock(end)}.",
        )
    match = _match(site, instants)
    if match is not None:
        yield match


def _way(azimuth, elevation):
    a, e = np.radians([azimuth, elevation])
    return np.array([np.sin(a) * np.cos(e), np.cos(a) * np.cos(e), np.sin(e)])


def _lit(setup, ways, sunny):
    """Whether the sun falls on the first person, and on what is behind them in the frame."""
    world = build_world(setup)
    person = np.zeros(len(ways), bool)
    backdrop = np.zeros(len(ways), bool)
    some = np.flatnonzero(sunny)
    if len(some) == 0:
        return {"person": person, "backdrop": backdrop}
    at = landmarks(setup.figures[0])
    over = at["crown"] + [0, 0, 0.06]
    person[some] = _reached(setup, world, over, ways[some])
    lens = np.asarray(setup.cameras[0].position, float)
    way = (at["face"] - lens) / np.linalg.norm(at["face"] - lens)
    people = 1 + len(setup.furniture) + np.arange(len(setup.figures))
    empty = world.without(people)
    triangle, _, far = empty.rays.first(lens[None], way[None])
    if triangle[0] >= 0:
        corners = world.mesh.vertices[world.mesh.faces[triangle[0]]]
        normal = np.cross(corners[1] - corners[0], corners[2] - corners[0])
        normal = normal / max(np.linalg.norm(normal), 1e-12)
        normal = normal if normal @ way < 0 else -normal
        place = lens + far[0] * way + 0.01 * normal
        facing = ways[some] @ normal > 0
        backdrop[some] = facing & _reached(setup, empty, place, ways[some])
    return {"person": person, "backdrop": backdrop}


def _patched(setup, instants):
    """The instants with what the sun draws on the plan."""
    room = setup.room
    floor = None if room.outdoors else shapely.Polygon(corners_of(room))
    outside = outside_of(setup)
    places = [(o, *opening_place(setup, o), opening_corners(setup, o)) for o in setup.openings]
    for instant in instants:
        if instant.sky.sun is None:
            yield instant
            continue
        way = _way(instant.azimuth, instant.elevation)
        if floor is None:
            found = [_shadow(figure, way) for figure in setup.figures]
        else:
            found = [
                patch
                for opening, _, inward, corners in places
                if opening.cover != "blackout"
                for patch in _patches(outside, opening, inward, corners, way, floor)
            ]
        yield replace(instant, patches=tuple(p for p in found if p is not None))


def _patches(outside, opening, inward, corners, way, floor):
    """Where the sun comes down by a window, past what stands outside."""
    if outside is None or way @ np.asarray(inward) > -0.02:
        yield _on_floor(opening, inward, corners, way, floor)
        return
    middles, cells = _cells(corners)
    free = _past(outside, middles, way)
    if free.all():
        yield _on_floor(opening, inward, corners, way, floor)
    elif free.any() and way[2] > 0.01:
        down = cells[free] - (cells[free, :, 2:] / way[2]) * way
        whole = shapely.union_all([shapely.Polygon(c[:, :2]).buffer(1e-4) for c in down])
        for part in shapely.get_parts(whole.intersection(floor)):
            if part.geom_type == "Polygon" and part.area >= SEEN_PATCH:
                yield SunPatch(opening.name, False, _rounded(part.exterior.coords[:-1]))


def _on_floor(opening, inward, corners, way, floor):
    """Where the sun comes down by a window; None where it does not come in, or falls on a wall."""
    if way @ np.asarray(inward) > -0.02 or way[2] < 0.01:
        return None
    down = corners - (corners[:, 2] / way[2])[:, None] * way
    patch = shapely.Polygon(down[:, :2]).intersection(floor)
    if patch.is_empty or patch.geom_type != "Polygon" or patch.area < SEEN_PATCH:
        return None
    return SunPatch(opening.name, False, _rounded(patch.exterior.coords[:-1]))


def _shadow(figure, way):
    """The shadow of a person on level ground, as a strip of their width."""
    if way[2] < 0.05:
        return None
    crown = landmarks(figure)["crown"]
    feet = np.asarray(figure.position, float)
    away = -np.asarray(way[:2]) / max(float(np.hypot(*way[:2])), 1e-9)
    side = np.array([-away[1], away[0]]) * ACROSS / 2
    tip = feet + away * float(crown[2]) * float(np.hypot(*way[:2])) / way[2]
    return SunPatch(figure.name, True, _rounded([feet - side, feet + side, tip + side, tip - side]))


def _rounded(corners):
    return tuple((round(float(x), 2), round(float(y), 2)) for x, y in corners)


def _pieces_lit(setup, minutes, ways, sunny):
    """When the sun reaches the middle of what stands on the floor and is large: a bed, a table."""
    some = np.flatnonzero(sunny)
    if len(some) == 0:
        return
    world = build_world(setup)
    for item in setup.furniture:
        wide, deep, high = item.size
        if wide * deep < LARGE_PIECE or high > TALL_PIECE or item.position[2] > 0.3:
            continue
        over = np.asarray(item.position, float) + [0, 0, high + 0.05]
        lit = np.zeros(len(ways), bool)
        lit[some] = _reached(setup, world, over, ways[some])
        for begin, end in _runs(minutes, lit):
            yield Moment(
                "piece",
                item.name,
                begin,
                end,
                f"Sun on {item.name} from {clock(begin)} to {clock(end)}.",
            )


def _reached(setup, world, place, ways):
    """Whether the sun reaches a place from each way: in the open, or in at a window."""
    place = np.asarray(place, float)
    if setup.room.outdoors:
        return _free(world, place, ways, np.full(len(ways), FAR))
    found = np.zeros(len(ways), bool)
    for opening in setup.openings:
        if opening.cover == "blackout":
            continue
        centre, inward = opening_place(setup, opening)
        right, up, normal = axes(centre, np.asarray(centre) + inward)
        along = ways @ normal
        far = np.where(along < -1e-3, ((centre - place) @ normal) / np.minimum(along, -1e-3), -1)
        off = place + far[:, None] * ways - centre
        inside = (abs(off @ right) < opening.size[0] / 2) & (abs(off @ up) < opening.size[1] / 2)
        some = np.flatnonzero(inside & (far > 0.1))
        # The glass, and what covers it, stand at the wall.
        free = _free(world, place, ways[some], far[some] - GLASS)
        if world.outside is not None:
            beyond = place + (far[some] + GLASS)[:, None] * ways[some]
            free &= world.outside.clear(beyond, ways[some], np.full(len(some), FAR))
        found[some] |= free
    return found


def _cells(corners):
    """Middles (n, 3) and corners (n, 4, 3) of the cells that a window is looked through by [m]."""
    a, b, d = corners[0], corners[1] - corners[0], corners[3] - corners[0]
    many = [min(MOST_CELLS, max(2, round(float(np.linalg.norm(k)) / PANE_CELL))) for k in (b, d)]
    u, v = (m.ravel()[:, None] for m in np.meshgrid(*(np.arange(n) / n for n in many)))
    x, y = 1 / many[0], 1 / many[1]
    edges = ((0, 0), (x, 0), (x, y), (0, y))
    around = [a + (u + s) * b + (v + t) * d for s, t in edges]
    cells = np.stack(around, 1)
    return cells.mean(1), cells


def _past(outside, places, way):
    """Whether the sun reaches places of a window past what stands outside."""
    ways = np.tile(way, (len(places), 1))
    return outside.clear(places + GLASS * ways, ways, np.full(len(places), FAR))


def _free(world, place, ways, distances):
    origins = np.tile(place.astype(np.float32), (len(ways), 1))
    return world.clear(origins, ways.astype(np.float32), distances.astype(np.float32)) > 0.2


def _match(site, instants):
    """From when to when a shot made at the hour that stands could be matched."""
    at = int(np.abs(np.array([i.minute for i in instants]) - site.minute).argmin())

    def alike(k):
        a, b = instants[at].sky, instants[k].sky
        if (a.sun is None) != (b.sun is None) or a.level <= 0 or b.level <= 0:
            return False
        pairs = [(a.level, a.cct, b.level, b.cct)]
        if a.sun is not None and b.sun is not None:
            pairs.append((a.sun.level, a.sun.cct, b.sun.level, b.sun.cct))
        return all(
            abs(np.log2(x / y)) <= HALF_STOP and abs(p - q) <= NEAR_WHITE
            for x, p, y, q in pairs
            if x > 0 and y > 0
        )

    if instants[at].sky.level <= 0:
        return None
    first = last = at
    while first > 0 and alike(first - 1):
        first -= 1
    while last < len(instants) - 1 and alike(last + 1):
        last += 1
    begin, end = instants[first].minute, instants[last].minute
    return Moment(
        "match",
        "match",
        begin,
        end,
        f"Within ½ stop and 150 K of {clock(site.minute)} from {clock(begin)} to {clock(end)}.",
    )
