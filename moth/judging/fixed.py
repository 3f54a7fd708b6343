"""Exposing for what cannot be dimmed, and what that asks of the units that can."""

from ..camera import key_level, set_for, stops_over_grey
from ..document import BACKDROP, WINDOW
from ..metering import lay_out
from ..transport import SKY, SUN
from ..units import amount_words, footcandles, stops

BUILT_IN = {SUN: "the sun", SKY: "the sky", BACKDROP: "the backdrop"}


def name_of(setup, thing):
    """What a fixed thing is called."""
    named = {u.id: u.name for u in setup.units} | {window_key(o): o.name for o in setup.openings}
    return named.get(thing) or BUILT_IN.get(thing, thing)


def window_key(opening):
    """What an opening is called among fixed things: its id may be a unit's too."""
    return WINDOW + opening.id


def can_be_fixed(setup):
    """Things of a set-up that may be marked as not to be dimmed: (id, name), practicals and
    openings first.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare()
    >>> can_be_fixed(s)
    [('@backdrop', 'the backdrop')]
    """
    things = [u.id for u in setup.units if u.role == "practical"]
    things += [window_key(o) for o in setup.openings]
    if (setup.openings or setup.room.outdoors) and setup.sky.sun:
        things.append(SUN)
    things += [BACKDROP] + [u.id for u in setup.units if u.role != "practical"]
    return [(t, name_of(setup, t)) for t in things]


def read_fixed(setup, picture, step="third"):
    """Where each fixed thing sits, the settings that put it where it should, the level the key must
    then reach, and which unit can.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture
    step : {"third", "tenth"}

    Returns
    -------
    list of dict
        `thing`, `name`, `sits`, `wanted` [stops about middle grey], `off`, `met`, `ways` (see
        :func:`moth.camera.set_for`),
        `key_lux`, `key_footcandles` (a dome toward the key reads this when the lit side is middle
        grey at those settings),
        `units` (`id`, `name`, `dimmer` or None, `words`: who can reach it), `words`.
    """
    rows = []
    ready = lay_out(setup)
    mark = ready.marks["key-side"]
    full = ready.full([mark])[:, 0]
    fixed = {f.thing for f in setup.fixed}
    for thing in setup.fixed:
        pixels = picture.things.get(thing.thing)
        signal = None if pixels is None else picture.signal_in(pixels)
        row = {
            "thing": thing.thing,
            "name": name_of(setup, thing.thing),
            "wanted": thing.stops,
            "sits": None,
            "off": None,
            "met": False,
            "ways": [],
            "key_lux": None,
            "key_footcandles": None,
            "units": [],
            "words": "not in this picture: nothing of it has to be held",
        }
        rows.append(row)
        if signal is None:
            row["met"] = True
            continue
        row["sits"] = stops_over_grey(signal)
        row["off"] = row["sits"] - thing.stops
        row["met"] = abs(row["off"]) <= 0.34
        row["ways"] = [vars(a) for a in set_for(ready.camera, row["off"])]
        row["key_lux"] = key_level(ready.camera) * 2 ** row["off"]
        row["key_footcandles"] = footcandles(row["key_lux"])
        row["units"] = _who_can(setup, ready, full, fixed, row["key_lux"], step)
        side = "over" if row["off"] > 0 else "under"
        row["words"] = (
            "sits where it should"
            if row["met"]
            else f"{amount_words(row['off'], step)} {side} where it should sit"
        )
    return rows


def read_asked(setup, step="third"):
    """The level that the camera's settings ask for, and the dimmers that give it on the key side.

    Parameters
    ----------
    setup : moth.document.Setup
    step : {"third", "tenth"}

    Returns
    -------
    dict
        `lux`, `footcandles` (on a dome toward the key), `units` (as in :func:`read_fixed`).

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     units=[
    ...         {
    ...             "id": "k",
    ...             "name": "k",
    ...             "role": "key",
    ...             "head": "panel-2x1",
    ...             "position": [1, 3, 2],
    ...             "aim": [2, 2, 1.5],
    ...         }
    ...     ]
    ... )
    >>> asked = read_asked(s)
    >>> round(asked["lux"], 1), 0 < asked["units"][0]["dimmer"] < 1
    (156.8, True)
    """
    ready = lay_out(setup)
    full = ready.full([ready.marks["key-side"]])[:, 0]
    lux = key_level(ready.camera)
    return {
        "lux": lux,
        "footcandles": footcandles(lux),
        "units": _who_can(setup, ready, full, {f.thing for f in setup.fixed}, lux, step),
    }


def _who_can(setup, ready, full, fixed, wanted, step):
    """Units that are not fixed, nearest to the level first."""
    units = {u.id: u for u in setup.units}
    found = []
    now = float(ready.state @ full) if len(full) else 0.0
    for k, source in enumerate(ready.found):
        unit = units.get(source.id)
        if unit is None or unit.id in fixed or full[k] <= 1e-4:
            continue
        dimmer = (wanted - (now - float(ready.state[k] * full[k]))) / float(full[k])
        if dimmer < 0.01 and unit.role != "key":
            continue
        if dimmer < 0.01:
            words = "the others alone bring more: take them down first"
        elif dimmer <= 1:
            words = f"{100 * dimmer:.0f} %"
        else:
            words = f"{amount_words(stops(dimmer), step)} short at full"
        found.append(
            {
                "id": unit.id,
                "name": unit.name,
                "dimmer": dimmer if 0.01 <= dimmer <= 1 else None,
                "words": words,
                "role": unit.role,
                "short": max(0.0, stops(max(dimmer, 1e-3))),
            }
        )
    found.sort(key=lambda r: (r["role"] != "key", r["dimmer"] is None, r["short"]))
    return [{k: r[k] for k in ("id", "name", "dimmer", "words")} for r in found[:4]]
