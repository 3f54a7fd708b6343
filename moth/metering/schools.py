"""Ways of holding the meter, school by school, and what the face looks like when each is set."""

from dataclasses import dataclass, replace

import numpy as np

from ..camera import (
    DISC,
    DOME,
    Answer,
    frame_exposure,
    incident_illuminance,
    key_level,
    set_for,
    shutter_time,
    stops_over_grey,
)
from ..units import footcandles
from ..wording import THIRDS, percent
from ..world import anchor, landmarks
from .marks import OFF_SKIN, Place, at_head, unit_vector
from .origin import origin_of
from .readings import DARK, lay_out, stop_reading, stop_words

HAND_FROM, HAND_TO = 42.0, 62.0
"""Height angles at which a hand held above the dome begins to keep a light off it, and keeps it off
altogether [deg]; typical. A key at its ordinary height stands below.
"""

TITLES = {
    "source": "Toward the key",
    "lens": "Under the chin, to the lens",
    "shade": "Shadow side, to the lens",
    "shielded": "To the lens, top shielded",
    "spot": "Spot at the lens, lit skin",
}
SCHOOLS = {
    "source": "toward the key, dome: the lit side is middle grey, the rest falls",
    "lens": "under the chin, toward the lens: the usual",
    "shade": "on the shadow side, toward the lens: opens up for the shadows",
    "shielded": "under the chin, a hand over the top: what comes from above does not count",
    "spot": "at the lens, on the lit skin: taken as middle grey, as a spot meter does",
}
"""Schools by key, with what they are for; besides them a disc to each unit alone."""
ALONE = "disc to {unit} alone, its light and no other's: the way to set a ratio lamp by lamp"
COUNTS = 0.1
"""Part of a unit's light from which a dome under the chin may be said to count it."""


@dataclass(frozen=True)
class SchoolReading:
    """One way of holding the meter, and what comes of it if its reading is set."""

    key: str
    """Of :data:`SCHOOLS`, or "disc-" and a unit's id."""
    title: str
    name: str
    lux: float
    footcandles: float
    stop: float | None
    stop_words: str
    against: float | None
    """Stops over the camera's setting."""
    against_words: str
    uncounted: str
    """Why the dome under the chin does not count a unit, if it does not."""
    sits: dict[str, float | None]
    """For "key side", "fill side", "hair" the stops from middle grey; None in the dark."""
    ways: tuple[Answer, ...]
    """How to set it by stop, index, shutter or ND alone."""
    exposure: float | None
    """Gain of a picture exposed for it, None in the dark."""


def hair(setup, camera):
    """A disc laid to the back of the top of the head: what an edge or hair light brings."""
    crown = landmarks(setup.figures[0])["crown"]
    away = unit_vector(crown - np.asarray(camera.position, float))
    normal = unit_vector(np.array([away[0], away[1], 0.0]) + np.array([0, 0, 1.0]))
    return Place("hair", "hair", tuple(crown + OFF_SKIN * normal), tuple(normal), "disc")


def _past_hand(angle):
    """Part of a light so high that comes past a hand over the dome: a soft edge, no step."""
    t = float(np.clip((HAND_TO - angle) / (HAND_TO - HAND_FROM), 0, 1))
    return t * t * (3 - 2 * t)


def read_schools(setup, picture=None, say=THIRDS):
    """Each school's reading, and where key side, fill side and hair sit if it is set.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture, optional
        Without one the spot at the lens is left out.
    say : moth.wording.Wording

    Returns
    -------
    list of SchoolReading

    Raises
    ------
    moth.errors.MothError

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     units=[
    ...         {
    ...             "id": "k",
    ...             "name": "k",
    ...             "role": "key",
    ...             "head": "point-600",
    ...             "position": [1, 3, 2],
    ...             "aim": [2, 2, 1.5],
    ...         }
    ...     ]
    ... )
    >>> rows = {r.key: r for r in read_schools(s)}
    >>> rows["source"].sits["key side"], rows["source"].lux > rows["lens"].lux
    (0.0, True)
    """
    ready = lay_out(setup)
    world, camera, found, marks, state = (
        ready.world,
        ready.camera,
        ready.found,
        ready.marks,
        ready.state,
    )
    chin = marks["chin"]
    places = [
        marks["key-side"],
        chin,
        marks["fill-side"],
        marks.get("fill-shaded", marks["fill-side"]),
        hair(setup, camera),
    ]
    full = ready.full(places)
    at_key, at_chin, at_shade, at_fill, at_hair = (
        float(v) for v in (state @ full if len(found) else np.zeros(len(places)))
    )
    face = anchor(setup)
    open_ = np.array([_past_hand(_above(face, origin_of(setup, world, f).place)) for f in found])
    shielded = float((state * open_) @ full[:, 1]) if len(found) else 0.0
    rows: list[SchoolReading] = []

    def add(key, title, name, lux, receiver, against=None, uncounted=""):
        """One row; `against` is given where the reading is not one of light on a receiver."""
        number, words, off = stop_reading(lux, receiver, camera, say)
        if against is not None:
            off = against
            number = camera.t_stop * 2 ** (off / 2)
            words = stop_words(number, camera, say)
        # Incident light is told against the reading that is set; the disc's and the dome's
        # constants differ by what a flat thing shows.
        same = lux * (DOME / DISC if receiver == "disc" else 1)
        sits = {
            what: (
                (
                    float(np.log2(level / same))
                    if against is None
                    else float(np.log2(level / own)) - off
                )
                + 0.0
                if level > 1e-4 and (lux > 1e-4 or against is not None)
                else None
            )
            for what, level in (
                ("key side", at_key),
                ("fill side", at_fill),
                ("hair", at_hair * DOME / DISC),
            )
        }
        rows.append(
            SchoolReading(
                key=key,
                title=title,
                name=name,
                lux=lux,
                footcandles=footcandles(lux),
                stop=number,
                stop_words=words,
                against=off,
                against_words=say.difference(off) if off is not None else "",
                uncounted=uncounted,
                sits=sits,
                ways=tuple(set_for(camera, off)) if off is not None else (),
                exposure=(
                    frame_exposure(exposed_for(setup, off).cameras[0]) if off is not None else None
                ),
            )
        )

    own = key_level(camera)
    for key, place, lux in (
        ("source", marks["key-side"], at_key),
        ("lens", chin, at_chin),
        ("shade", marks["fill-side"], at_shade),
        ("shielded", chin, shielded),
    ):
        add(key, TITLES[key], SCHOOLS[key], lux, place.receiver)
    skin = picture.signal("skin") if picture is not None else None
    if skin:
        # Its luminance as a light meter would tell it: what the same signal would take on a grey
        # card.
        over = stops_over_grey(skin)
        add(
            "spot",
            TITLES["spot"],
            SCHOOLS["spot"],
            incident_illuminance(
                camera.t_stop, camera.iso, shutter_time(camera.shutter, camera.fps)
            )
            * 2**over,
            "disc",
            over,
        )
    for unit, source in zip(setup.units, found, strict=False):
        if unit.on:
            place = at_head(setup, origin_of(setup, world, source).place)
            row = found.index(source)
            alone = float(state[row] * ready.full([replace(place, receiver="disc")])[row, 0])
            in_dome = float(state[row] * full[row, 1]) / max(alone, DARK)
            add(
                f"disc-{unit.id}",
                f"Disc, {unit.name} alone",
                ALONE.format(unit=unit.name),
                alone,
                "disc",
                uncounted=_uncounted(in_dome) if alone >= DARK else "",
            )
    return rows


def _uncounted(part):
    """Why the meter at the face does not count a unit, of whose light a dome takes `part`."""
    if part >= COUNTS:
        return ""
    taken = "next to none" if part < 0.005 else percent(part)
    return (
        f"A dome under the chin takes {taken} of it: the light comes from behind its plate, or the "
        "head stands before it. So the stop does not count it. Set it by eye, or by this disc"
    )


def _above(face, place):
    to = np.asarray(place, float) - face
    return float(np.degrees(np.arctan2(to[2], np.hypot(to[0], to[1]))))


def exposed_for(setup, against):
    """The set-up with its stop opened or closed so that a reading so far over (+) it is set.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     cameras=[
    ...         {"id": "c", "name": "c", "position": [2, 5, 1.5], "aim": [2, 2, 1.5], "t_stop": 2.8}
    ...     ]
    ... )
    >>> exposed_for(s, 2.0).cameras[0].t_stop
    5.6
    """
    camera = setup.cameras[0]
    value = float(np.clip(camera.t_stop * 2 ** (against / 2), 0.5, 90))
    return setup.model_copy(
        update={
            "cameras": (camera.model_copy(update={"t_stop": round(value, 4)}), *setup.cameras[1:])
        }
    )
