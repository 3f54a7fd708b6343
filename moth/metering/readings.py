"""All readings of a set-up: levels, stops, ratios, in numbers and in words."""

from functools import lru_cache

import numpy as np

from ..camera import DISC, DOME, incident_stop, shutter_time
from ..document import to_polar
from ..transport import beam_figures, build_emitter, emitter_key, receive
from ..units import difference_words, footcandles, stop_words, stops
from ..world import anchor, build_world, landmarks
from ..world.keys import Keyed, content_hash
from .marks import Place, key_unit, standard_marks

CONSTANT = {"dome": DOME, "disc": DISC}
DARK = 1e-4
"""Below this [lx] a meter shows nothing."""


@lru_cache(maxsize=20_000)
def _level(keyed):
    world, emitter, place = keyed.value
    return float(receive(world, emitter, np.array([place.position]), np.array([place.direction]), [place.receiver == "dome"])[0])


def full_levels(setup, world, places):
    """Illuminance of every unit at full on every mark.

    Parameters
    ----------
    setup : moth.document.Setup
    world : moth.world.World
    places : list of Place

    Returns
    -------
    ndarray, shape (units, marks)
        [lx]
    """
    levels = np.zeros((len(setup.units), len(places)))
    # Kept for each mark and unit apart: a key that moves takes its own mark along, the others stay where they are.
    marks = [content_hash(world.key, p.position, p.direction, p.receiver) for p in places]
    for i, unit in enumerate(setup.units):
        emitter, lamp = build_emitter(unit, f"units[{i}]"), emitter_key(unit)
        levels[i] = [_level(Keyed(mark + lamp, (world, emitter, place))) for mark, place in zip(marks, places, strict=True)]
    return levels


def _stop(lux, receiver, camera, step):
    """Stop to set, its words, and how far over (+) or under the camera's stop it is; None in the dark."""
    if lux < DARK:
        return None, "no reading", None
    number = incident_stop(lux, camera.iso, shutter_time(camera.shutter, camera.fps), CONSTANT[receiver]) / 2 ** (camera.nd / 2)
    return number, stop_words(number, step), float(2 * np.log2(number / camera.t_stop))


def _ratio(over, under, words):
    """A ratio with its school's name; words say why when there is none."""
    if over < DARK or under < DARK:
        missing = "the key side" if over < DARK else "the fill side"
        return {"school": words, "ratio": None, "stops": None, "words": f"no light on {missing}"}
    value = over / under
    return {"school": words, "ratio": value, "stops": stops(value), "words": f"{value:.2g}:1" if value < 9.95 else f"{value:.0f}:1"}


def read_setup(setup, only=None, step="third"):
    """Everything the meter says.

    Parameters
    ----------
    setup : moth.document.Setup
    only : str or None
        Id of a unit read alone (solo).
    step : {"third", "tenth"}
        How fine stops are said.

    Returns
    -------
    dict
        Plain numbers and words: `marks`, `ratios`, `units`, `sentence`, as docs/light-model.md describes.

    Raises
    ------
    moth.errors.MothError

    Examples
    --------
    >>> from moth.document import load
    >>> s = load({"schema_version": 1, "figures": [{"id": "a", "name": "a", "position": [2, 2]}],
    ...           "cameras": [{"id": "c", "name": "c", "position": [2, 5, 1.5], "aim": [2, 2, 1.5]}]})
    >>> read_setup(s)["sentence"]
    'No units yet: the stage is dark.'
    """
    world = build_world(setup)
    camera = setup.cameras[0]
    key = key_unit(setup)
    places = standard_marks(setup, world, camera, key)
    full = full_levels(setup, world, places)
    state = np.array([u.dimmer * u.on for u in setup.units])
    alone = np.array([u.id == only for u in setup.units]) if only else np.ones(len(setup.units), bool)
    # A soloed unit is read even when it is switched off in the mix.
    shown = np.array([u.dimmer for u in setup.units]) * alone if only else state
    off_dome = np.array([[p.shaded != u.id for p in places] for u in setup.units]).reshape(full.shape)
    full = full * off_dome
    totals = shown @ full if len(full) else np.zeros(len(places))

    marks = []
    for at, place in enumerate(places):
        lux = float(totals[at])
        number, words, against = _stop(lux, place.receiver, camera, step)
        marks.append({
            "id": place.id, "name": place.name, "receiver": place.receiver,
            "position": [float(c) for c in place.position], "direction": [float(c) for c in place.direction],
            "lux": lux, "footcandles": footcandles(lux), "stop": number, "stop_words": words,
            "against_camera": against,
            "against_words": difference_words(against, step) if against is not None else "",
            "by_unit": {u.id: float(shown[i] * full[i, at]) for i, u in enumerate(setup.units)},
        })
    index = {m["id"]: i for i, m in enumerate(marks)}
    ratios = _ratios(setup, key, state, full, index)
    return {
        "camera": camera.id, "key": key.id if key else None, "marks": marks, "ratios": ratios,
        "units": _units(setup, camera, world, step), "sentence": _sentence(setup, marks, index, ratios, only),
    }


def _ratios(setup, key, state, full, index):
    """Key-to-fill in both schools, from the mix, never from a solo."""
    combined_name, single_name = "(key + fill) : fill", "key : fill"
    if key is None:
        return {"combined": _ratio(0, 0, combined_name), "single": _ratio(0, 0, single_name)}
    is_key = np.array([u.id == key.id for u in setup.units])
    is_fill = np.array([u.role == "fill" for u in setup.units])
    # The fill side is read with the key shaded off the dome, as a hand does it.
    key_side, fill_side = full[:, index["key-side"]], full[:, index["fill-shaded"]]
    combined = _ratio(float(state @ key_side), float(state @ fill_side), combined_name)
    single = _ratio(float((state * is_key) @ key_side), float((state * is_fill) @ fill_side), single_name)
    return {"combined": combined, "single": single}


HEAD_RADIUS = 0.16
"""From the middle of the head to a dome held just off it, on the side of a unit [m]."""


def _units(setup, camera, world, step):
    """Place of each unit in polar words, and what it alone gives to a dome held to the head toward it."""
    face, crown = anchor(setup), landmarks(setup.figures[0])["crown"]
    head = np.array([crown[0], crown[1], face[2]])
    rows = []
    for i, unit in enumerate(setup.units):
        polar = to_polar(unit.position, face, camera.position)
        toward = np.asarray(unit.position, float) - head
        toward /= np.linalg.norm(toward)
        at_head = Place(unit.id, "", tuple(head + HEAD_RADIUS * toward), tuple(toward), "dome")
        at_key = content_hash(world.key, at_head.position) + emitter_key(unit)
        level = _level(Keyed(at_key, (world, build_emitter(unit, f"units[{i}]"), at_head)))
        lux = level * unit.dimmer * unit.on
        _, words, _ = _stop(lux, "dome", camera, step)
        beam, field, lumens = beam_figures(unit.head, unit.ies)
        rows.append({
            "id": unit.id, "beam": beam, "field": field, "lumens": lumens, "angle": polar.angle, "height": polar.height, "distance": polar.distance,
            "face_lux": lux, "face_footcandles": footcandles(lux), "stop_words": words,
            "dimmer_stops": stops(unit.dimmer) if unit.dimmer > 0 else None,
            "side": "on the lens" if abs(polar.angle) < 0.5 else "camera left" if polar.angle < 0 else "camera right",
        })
    return rows


def _sentence(setup, marks, index, ratios, only):
    if not setup.units:
        return "No units yet: the stage is dark."
    key_side = marks[index["key-side"]]
    if key_side["stop"] is None:
        return "The key side is dark."
    text = f"Key side {key_side['stop_words']}"
    combined = ratios["combined"]
    if only:
        return text + f", {next(u.name for u in setup.units if u.id == only)} alone"
    if combined["ratio"] is None:
        return text + f", {combined['words']}"
    under = difference_words(abs(combined["stops"])).lstrip("+")
    way = "under" if combined["stops"] >= 0 else "over"
    plural = "stop" if under in ("1", "⅓", "⅔") else "stops"
    level = "fill the same" if under == "0" else f"fill {under} {plural} {way}"
    return text + f", {level}, {combined['words']} (key+fill : fill)"
