"""All readings of a set-up: levels, stops, ratios, in numbers and in words."""

from dataclasses import dataclass

import numpy as np

from ..camera import DISC, DOME, incident_stop, shutter_time, source_colours, source_levels
from ..colour import LUMINANCE
from ..document import Camera, Setup, to_polar
from ..engine.caching import Keyed, cached
from ..photometry import HEADS, lamp_of
from ..transport import SKY, Way, light_key, light_of, meter_light, sources
from ..units import footcandles, meant, stops
from ..wording import THIRDS, ratio_words
from ..world import World, anchor, build_world, landmarks
from .marks import at_head, standard_marks, unit_vector, xyz
from .origin import origin_of
from .results import MarkReading, Ratio, Ratios, Readings, UnitReading
from .sides import SCHOOLS_OF_RATIO, Sides, by_own_way

CONSTANT = {"dome": DOME, "disc": DISC}
ALIKE, UNLIKE = 1.3, 2.0
"""A key lights both cheeks where domes at them tell less than the one, and with it shaded off the
fill side more than the other.
"""
DARK = 1e-4
"""Below this [lx] a meter shows nothing."""


@cached("ways to a meter")
def _ways(keyed):
    world, source, place = keyed.value
    return meter_light(world, light_of(world, source), place)


def ways_at(world, source, place):
    """What a source at full brings to a meter, by the way it takes; kept for each mark and source.

    Parameters
    ----------
    world : moth.world.World
    source : moth.transport.Source
    place : Place

    Returns
    -------
    dict of moth.transport.Route to ndarray, shape (3,)
        See :func:`moth.transport.meter_light`.
    """
    key = light_key(world, source), tuple(place.position), tuple(place.direction), place.receiver
    return _ways(Keyed(key, (world, source, place)))


NEUTRAL = 6504.0
"""White [K] that levels and colours of light are told from: a meter has no white balance."""


@dataclass(frozen=True)
class LaidOut:
    """A set-up made ready for the meter."""

    setup: Setup
    world: World
    camera: Camera
    key: str | None
    """Id of the source that is the key: a unit, the sky or the sun; None in the dark."""
    found: list
    """All its sources, units and skies."""
    marks: dict
    """Standard places of the meter by id."""
    state: np.ndarray
    """Level of each source in the mix, of its own full."""

    def full(self, places):
        """Light of every source at full at places [lx], shape (sources, places)."""
        return (
            full_levels(self.setup, self.world, places, self.found) @ LUMINANCE
            if self.found
            else np.zeros((0, len(places)))
        )

    def part(self, *roles):
        """Which sources are units that play these parts, shape (sources,)."""
        ids = {u.id for u in self.setup.units if u.role in roles}
        return np.array([f.id in ids for f in self.found], bool)

    def sides(self):
        """Both sides of the face, for ratios; a set-up with a key only."""
        near, toward, shaded = (
            self.marks[name] for name in ("key-side", "fill-toward", "fill-shaded")
        )
        full = self.full([near, toward, shaded])
        colours = source_colours(self.setup, NEUTRAL)
        boards = np.zeros(len(self.found))
        for i, source in enumerate(self.found):
            origin = origin_of(self.setup, self.world, source)
            for route, rgb in ways_at(self.world, source, toward).items():
                own = by_own_way(route, self.world, origin, toward.position)
                if route.way == Way.SHEET and not own:
                    boards[i] += float((rgb * colours[source.id]) @ LUMINANCE)
        return Sides(full[:, 0], full[:, 1], full[:, 2], boards, self.is_key, self.part("fill"))

    @property
    def is_key(self):
        return np.array([f.id == self.key for f in self.found], bool)

    @property
    def key_unit(self):
        """The unit that is the key; None where the sky or the sun is, or nothing."""
        return next((u for u in self.setup.units if u.id == self.key), None)


def lay_out(setup):
    """World, sources, levels and the meter's places of a set-up: what every reading begins with.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare()
    >>> ready = lay_out(s)
    >>> ready.found, ready.key, "chin" in ready.marks
    ([], None, True)
    """
    world, camera, found = build_world(setup), setup.cameras[0], sources(setup)
    level = source_levels(setup)
    state = np.array([level[f.id] for f in found])
    places = {f.id: origin_of(setup, world, f).place for f in found}
    key = key_of(setup, world, found, state)
    fill = next((u.id for u in setup.units if u.role == "fill" and level[u.id] > 0), None)
    marks = standard_marks(setup, world, camera, key, places.get(key), places.get(fill))
    return LaidOut(setup, world, camera, key, found, {p.id: p for p in marks}, state)


def key_of(setup, world, found, state):
    """Id of the key: the first unit called so that is on, or one that is off, or else what lights
    the face most, sky and sun among them; what is called a fill only where nothing else does.

    Parameters
    ----------
    setup : moth.document.Setup
    world : moth.world.World
    found : list of moth.transport.Source
    state : ndarray, shape (sources,)
        Level of each in the mix.

    Returns
    -------
    str or None
        None where nothing lights the face.
    """
    named = sorted((u for u in setup.units if u.role == "key"), key=lambda u: not u.on)
    if named:
        return named[0].id
    colours = source_colours(setup, NEUTRAL)
    fills = {u.id for u in setup.units if u.role == "fill"}

    def level(source, part):
        held = at_head(setup, origin_of(setup, world, source).place)
        rgb = sum(ways_at(world, source, held).values(), np.zeros(3))
        return float((rgb * colours[source.id]) @ LUMINANCE) * part

    lit = [(s.id not in fills, level(s, part), s.id) for s, part in zip(found, state, strict=True)]
    best = max((row for row in lit if row[1] > DARK), default=None)
    return best and best[2]


def full_levels(setup, world, places, found):
    """Light of every source at full on every mark.

    Parameters
    ----------
    setup : moth.document.Setup
    world : moth.world.World
    places : list of Place
    found : list of moth.transport.Source

    Returns
    -------
    ndarray, shape (sources, marks, 3)
        Linear BT.709 parts, colours and gels included [lx].
    """
    levels = np.zeros((len(found), len(places), 3))
    colours = source_colours(setup, NEUTRAL)
    for i, source in enumerate(found):
        for j, place in enumerate(places):
            ways = ways_at(world, source, place)
            if place.shaded == source.id:
                origin = origin_of(setup, world, source)
                ways = {
                    route: rgb
                    for route, rgb in ways.items()
                    if not by_own_way(route, world, origin, place.position)
                }
            levels[i, j] = sum(ways.values(), np.zeros(3))
        levels[i] *= colours[source.id]
    return levels


def stop_reading(lux, receiver, camera, say):
    """Stop to set, its words, and how far over (+) or under the camera's stop it is; None in the
    dark.
    """
    if lux < DARK:
        return None, "no reading", None
    number = incident_stop(
        lux, camera.iso, shutter_time(camera.shutter, camera.fps), CONSTANT[receiver]
    ) / 2 ** ((camera.nd + camera.filter_loss) / 2)
    return number, stop_words(number, camera, say), float(2 * np.log2(number / camera.t_stop))


def stop_words(number, camera, say):
    """A T-number as a reading is told beside the camera's: what is level with a ring that stands
    at 2.8 is T2.8, as what is a third over it is T2.8 + ⅓.
    """
    return say.stop(number * meant(camera.t_stop) / camera.t_stop)


NO_FILL = 2000.0
"""Ratio from which a side that is lit is not: eleven stops, more than pictures hold."""


def _ratio(school, over, under, fill):
    """A ratio with its school's name; words say why when there is none."""
    if over < DARK or under < max(DARK, over / NO_FILL):
        why = "no light on the key side" if over < DARK else fill
        return Ratio(school, None, None, why)
    value = over / under
    return Ratio(school, value, stops(value), ratio_words(value))


def read_setup(setup, only=None, say=THIRDS):
    """Everything the meter says.

    Parameters
    ----------
    setup : moth.document.Setup
    only : str or None
        Id of a unit read alone (solo).
    say : moth.wording.Wording

    Returns
    -------
    Readings
        docs/light-model.md says how each is worked out.

    Raises
    ------
    moth.errors.MothError

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare()
    >>> read_setup(s).sentence
    'No units yet: the stage is dark.'
    """
    ready = lay_out(setup)
    world, camera, key, found, state = (
        ready.world,
        ready.camera,
        ready.key,
        ready.found,
        ready.state,
    )
    places = list(ready.marks.values())
    full = ready.full(places)
    level = dict(zip([f.id for f in found], state, strict=True))
    # A soloed unit is read even when it is switched off in the mix.
    dimmers = {u.id: u.dimmer for u in setup.units}
    shown = (
        np.array([dimmers.get(f.id, level[f.id]) * (f.id == only) for f in found])
        if only
        else state
    )
    totals = shown @ full if len(full) else np.zeros(len(places))

    marks = []
    for at, place in enumerate(places):
        lux = float(totals[at])
        number, words, against = stop_reading(lux, place.receiver, camera, say)
        marks.append(
            MarkReading(
                id=place.id,
                name=place.name,
                receiver=place.receiver,
                position=xyz(place.position),
                direction=xyz(place.direction),
                lux=lux,
                footcandles=footcandles(lux),
                stop=number,
                stop_words=words,
                against_camera=against,
                against_words=say.difference(against) if against is not None else "",
                by_unit={f.id: float(shown[i] * full[i, at]) for i, f in enumerate(found)},
            )
        )
    ratios = _ratios(ready, only)
    key_side = next(m for m in marks if m.id == "key-side")
    return Readings(
        camera=camera.id,
        key=key,
        marks=tuple(marks),
        ratios=ratios,
        units=_units(setup, camera, world, found, say),
        sentence=_sentence(setup, key, key_side, ratios, only, say),
    )


def _ratios(ready, only):
    """Key-to-fill in every school, from the mix; one unit alone has none."""
    if ready.key is None or only:
        why = "one unit alone" if only else "nothing lights the face"
        return Ratios(**{k: Ratio(n, None, None, why) for k, n in SCHOOLS_OF_RATIO.items()})
    sides, state = ready.sides(), ready.state
    # The side may well be lit, by the key's spill and the walls: this school counts the fill alone.
    filled = (state * sides.is_fill).any()
    lone = "the fill gives it nothing" if filled else "no unit or board is the fill"
    found = {}
    for school, name in SCHOOLS_OF_RATIO.items():
        over, under = sides.ratio(school, state)
        fill = lone if school == "single" else "no light on the fill side"
        found[school] = _ratio(name, over, under, fill)
    return Ratios(**found)


def _units(setup, camera, world, found, say):
    """Place of each unit in polar words, and what it alone gives to a dome held to the head toward
    where its light comes from.
    """
    face = anchor(setup)
    level, colours = source_levels(setup), source_colours(setup, NEUTRAL)
    rows = []
    for unit, source in zip(setup.units, found, strict=False):
        polar = to_polar(unit.position, face, camera.position)
        ways = ways_at(world, source, at_head(setup, origin_of(setup, world, source).place))
        lux = float((sum(ways.values()) * colours[unit.id]) @ LUMINANCE) * level[unit.id]
        _, words, _ = stop_reading(lux, "dome", camera, say)
        distribution = lamp_of(unit).distribution
        dial = unit.dimmer ** (1 / HEADS[unit.head].dial)
        rows.append(
            UnitReading(
                id=unit.id,
                beam=distribution.beam_angle,
                field=distribution.field_angle,
                lumens=distribution.lumens,
                angle=polar.angle,
                height=polar.height,
                distance=polar.distance,
                face_lux=lux,
                face_footcandles=footcandles(lux),
                stop_words=words,
                dial=dial,
                dimmer_stops=stops(unit.dimmer) if unit.dimmer > 0 else None,
                side=(
                    "on the lens"
                    if abs(polar.angle) < 0.5
                    else "camera left"
                    if polar.angle < 0
                    else "camera right"
                ),
            )
        )
    return tuple(rows)


def _sentence(setup, key, key_side, ratios, only, say):
    combined, cheeks = ratios.combined, ratios.cheeks
    if not setup.units and not setup.openings and not setup.room.outdoors:
        return "No units yet: the stage is dark."
    if key_side.stop is None:
        return "The key side is dark."
    text = f"Key side {key_side.stop_words}"
    if only:
        name = next((u.name for u in setup.units if u.id == only), f"the {only.lstrip('@')}")
        return text + f", {name} alone"
    if combined.ratio is None:
        text += f", {combined.words}"
    else:
        way = "under" if combined.stops >= 0 else "over"
        same = say.difference(combined.stops) == "0"
        level = "fill the same" if same else f"fill {say.counted(combined.stops)} {way}"
        text += f", {level}, {combined.words} (key+fill : fill)"
    # A sky is all round; and a dome sees a key that the cheek turns its back on.
    if key != SKY and _from_behind(setup, key_side):
        return text + ". The key comes from behind the face: no cheek shows it"
    if (combined.ratio or 0) > UNLIKE and cheeks.ratio and cheeks.ratio < ALIKE:
        # The hand that shades it off the fill side shades what the picture shows lit.
        return text + ". The key lights both cheeks"
    return text


def _from_behind(setup, key_side):
    """Whether the key stands behind the cheek that the meter is held to, which faces 40 degrees off
    the nose and 20 up, typically.
    """
    marks = landmarks(setup.figures[0])
    cheeks = (marks["cheek_left"], marks["cheek_right"])
    near, far = sorted(cheeks, key=lambda c: float(np.linalg.norm(c - key_side.position)))
    front = unit_vector((marks["nose_tip"] - (near + far) / 2)[:2])
    out = unit_vector(front + np.tan(np.radians(40)) * unit_vector((near - far)[:2]))
    return float([*out, np.tan(np.radians(20))] @ np.asarray(key_side.direction)) < 0
