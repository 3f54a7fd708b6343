"""What can hurt somebody, or stop the work, in a set-up: each where it arises, with what it follows
from. Nothing here says that anything is safe: local codes and licensed people decide.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from ..camera.timing import MAINS, flicker
from ..document import BATTERY
from ..photometry import HEADS
from ..place import (
    GRIP_WEIGHT,
    LARGE,
    borne_by,
    load_of,
    over,
    shared_by,
    stands_of,
    weight_held,
)
from ..place.outline import corners_of
from ..world import opening_place
from .needs import (
    BAG,
    GRAVITY,
    STANDS,
    TOWER,
    bags_against,
    bags_against_pull,
    brought,
    stand_for,
    usual_bags,
)
from .power import power_of

Kind = Literal[
    "over people", "stand", "wind", "heat", "power", "wet", "glass", "haze", "flicker", "exits"
]
AIR, DRAG = 1.2, 1.3
"""Density of air [kg/m³]; drag of a flat plate square to the wind: Hoerner, Fluid-Dynamic Drag."""
WIND = 8.0
"""A fresh breeze, Beaufort 5 [m/s]: what is up is reckoned against it."""
WATTS_A_PERSON = 100.0
"""Heat a resting person gives [W]; usual."""
WARM = 60.0
"""Watts a square metre of floor from which a closed room warms through a day of shooting; usual."""
FEW = 0.9
"""What a way out must keep free [m]; usual, local codes decide."""
THICK = 0.02
"""Haze [1/m] from which it is thick."""


@dataclass(frozen=True)
class Caution:
    """One thing to be minded."""

    kind: Kind
    about: str
    """Name of what it arises at."""
    words: str
    follows: str
    """What it follows from, with its figures."""


def tipping(force, height):
    """Moment that a sideways force has on a stand [N m], at a height [m]."""
    return force * height


def wind_force(area, speed=WIND):
    """Force of the wind on a flat sheet square to it [N].

    Parameters
    ----------
    area : float
        [m²]
    speed : float
        [m/s]

    Examples
    --------
    >>> round(wind_force(1.0))
    50
    """
    return 0.5 * AIR * DRAG * speed**2 * area


def cautions_of(setup, minutes=0.0):
    """What is to be minded in a set-up.

    Parameters
    ----------
    setup : moth.document.Setup
    minutes : float
        That lamps on batteries have to last [min].

    Returns
    -------
    tuple of Caution
        What hangs over people first.

    Examples
    --------
    >>> from moth.document import bare
    >>> cautions_of(bare())
    ()
    """
    found = [
        *_over_people(setup),
        *_stands(setup),
        *_wind(setup),
        *_heat(setup),
        *_power(setup, minutes),
        *_wet(setup),
        *_glass(setup),
        *_exits(setup),
        *_haze(setup),
        *_flicker(setup),
    ]
    return tuple(found)


def _over_people(setup):
    for item in (*brought(setup), *setup.grip):
        name = over(setup, item)
        if name:
            how = {"boom": "boomed", "arm": "on an arm"}.get(item.held, "hung")
            yield Caution(
                "over people",
                item.name,
                f"{item.name} is {how} over {name}: safety cable, nothing loose, nobody beneath who"
                f" need not be.",
                f"{weight_held(item):.1f} kg at {item.position[2]:.1f} m",
            )


def _stands(setup):
    for unit in (*brought(setup), *setup.grip):
        load = load_of(unit)
        weight = weight_held(unit)
        if load:
            moment = weight * GRAVITY * load.arm
            yield Caution(
                "stand",
                unit.name,
                f"{unit.name} on its boom: {load.counterweight:.1f} kg at the short end, a leg"
                f" under the arm, {2 + math.ceil(load.counterweight / BAG)} bags.",
                f"{weight:.1f} kg, {load.arm:.1f} m out: {moment:.0f} N m",
            )
            weight += load.counterweight
        stood = stands_of(unit)
        if not stood:
            continue
        weight /= len(stood)
        height = stood[0].height
        shared = shared_by(setup, unit)
        if shared:
            weight, height = shared.weight, shared.height
        key = stand_for(weight, height)
        if shared:
            pull = math.hypot(*shared.pull)
            bags = usual_bags(key) + bags_against_pull(key, shared)
            yield Caution(
                "stand",
                unit.name,
                f"The stand of {unit.name} bears {1 + len(borne_by(setup, unit))} things: a leg the"
                f" way they pull, {bags} {'bag' if bags == 1 else 'bags'} on it, every knuckle"
                f" tightened so that the weight closes it.",
                f"{weight:.1f} kg, {pull:.1f} kg m off the pole: {GRAVITY * pull:.0f} N m",
            )
        if key == TOWER:
            yield Caution(
                "stand",
                unit.name,
                f"{unit.name} is more than a stand carries up there: a tower or a lift, and people"
                f" who know it.",
                f"{weight:.1f} kg at {unit.position[2]:.1f} m",
            )
        elif key != "stand-light":
            name = STANDS[key].name.lower()
            yield Caution(
                "stand",
                unit.name,
                f"{unit.name} wants a {name}, bagged, its widest leg under the load.",
                f"{weight:.1f} kg at {unit.position[2]:.1f} m",
            )


def _wind(setup):
    """Outdoors, and what stands outside a window."""
    if not setup.room.outdoors:
        return
    for piece in setup.grip:
        area = piece.size[0] * piece.size[1]
        force = wind_force(area)
        moment = tipping(force, piece.position[2])
        key = stand_for(GRIP_WEIGHT * area, piece.position[2])
        stand = STANDS.get(key, STANDS["stand-windup"])
        on = 2 if area >= LARGE else 1
        bags = on * bags_against(moment / on, stand.radius, stand.weight + GRIP_WEIGHT * area / on)
        yield Caution(
            "wind",
            piece.name,
            f"{piece.name} is a sail of {area:.1f} m²: in a fresh breeze ({WIND:g} m/s) it wants"
            f" some {bags} bags of {BAG:g} kg, or guys; down before more.",
            f"{force:.0f} N at {piece.position[2]:.1f} m: {moment:.0f} N m",
        )


def _heat(setup):
    for unit in setup.units:
        least = HEADS[unit.head].distance
        for piece in setup.grip:
            away = math.dist(unit.position, piece.position)
            if unit.on and away < least:
                yield Caution(
                    "heat",
                    piece.name,
                    f"{piece.name} is too near {unit.name}: cloth, gel and board scorch.",
                    f"{away:.2f} m, {least:g} m at least",
                )
    if setup.room.outdoors:
        return
    watts = sum(HEADS[u.head].watts * (u.dimmer if u.on else 0) for u in setup.units)
    floor = _floor(setup)
    people = WATTS_A_PERSON * len(setup.figures)
    if floor and (watts + people) / floor > WARM:
        yield Caution(
            "heat",
            "the room",
            "The room warms through the day with its doors shut: air it between takes, water for"
            " whoever sits in it.",
            f"{watts + people:.0f} W on {floor:.0f} m²: {(watts + people) / floor:.0f} W/m²",
        )


def _floor(setup):
    """[m²]"""
    return shapely.Polygon(corners_of(setup.room)).area


def _power(setup, minutes):
    power = power_of(setup, minutes)
    for words in (*power.faults, *([power.first] if power.first else [])):
        yield Caution("power", "circuits", f"{words}", "see Power")
    for battery in power.batteries:
        if battery.changes:
            yield Caution("power", battery.unit, battery.words, f"{minutes:.0f} min asked")


def _wet(setup):
    fed = [u.name for u in brought(setup) if u.feed != BATTERY and HEADS[u.head].watts]
    if setup.room.outdoors and fed:
        yield Caution(
            "wet",
            ", ".join(fed[:4]) + (" …" if len(fed) > 4 else ""),
            "Mains on open ground: a residual-current device (RCD, GFCI) in front of everything,"
            " plugs off the ground, rain covers.",
            f"{len(fed)} units on cables outdoors",
        )


def _glass(setup):
    sun = setup.sky.on and setup.sky.sun is not None and setup.sky.sun.on
    for piece in setup.grip:
        if piece.kind == "mirror":
            words = f"{piece.name}: glass over or beside people is tied off; no eyes in its beam"
            words += ", and it throws the sun where it is not looked for" if sun else ""
            yield Caution("glass", piece.name, f"{words}.", "a mirror in the set-up")
    for unit in setup.units:
        hard = HEADS[unit.head].peak >= 100_000
        for opening in setup.openings:
            if hard and unit.on and opening.cover != "clear" and _into(setup, unit, opening):
                yield Caution(
                    "glass",
                    opening.name,
                    f"{unit.name} heats {opening.name} and what covers it: keep off, look after it."
                    f"",
                    f"{HEADS[unit.head].peak / 1000:.0f} kcd toward the pane",
                )


def _into(setup, unit, opening):
    centre, _ = opening_place(setup, opening)
    to = np.asarray(centre, float) - unit.position
    aim = np.subtract(unit.aim, unit.position)
    far = float(np.linalg.norm(to))
    return far < 3 and float(to @ aim) > 0.9 * far * float(np.linalg.norm(aim))


def _exits(setup):
    """What stands before a door, and windows that are shut off where nothing else leads out."""
    doors = [f for f in setup.furniture if f.kind in ("door", "doorway", "passage")]
    for door in doors:
        for item in (*brought(setup), *setup.grip):
            away = [math.dist(s.foot, door.position[:2]) for s in stands_of(item)]
            if away and min(away) < FEW:
                yield Caution(
                    "exits",
                    door.name,
                    f"The stand of {item.name} is in front of {door.name}: keep the way out free.",
                    f"{min(away):.1f} m, {FEW:g} m at least",
                )
    dark = [o.name for o in setup.openings if o.cover == "blackout"]
    if dark:
        yield Caution(
            "exits",
            ", ".join(dark),
            "Blacked out: nobody finds the way out in the dark. Light the way, keep signs free.",
            f"{len(dark)} of {len(setup.openings)} windows covered",
        )


def _haze(setup):
    if setup.haze > 0:
        thick = "thick haze" if setup.haze >= THICK else "haze"
        yield Caution(
            "haze",
            "the air",
            f"{thick.capitalize()}: tell whoever breathes it, and whoever minds the smoke alarms;"
            f" air the room.",
            f"{setup.haze:g} of light scattered a metre",
        )


def _flicker(setup):
    """Lamps that are the place's own, on the mains, whose pulses the shutter sees."""
    camera = setup.cameras[0]
    own = [u for u in setup.units if u.on and (u.switch or HEADS[u.head].burner == "tungsten")]
    for unit in own:
        lamp = "tungsten" if HEADS[unit.head].burner == "tungsten" else "led, mains driver"
        bad = [hz for hz in MAINS if not flicker(camera, hz, lamp).safe]
        if bad:
            named = " and ".join(f"{hz} Hz" for hz in bad)
            yield Caution(
                "flicker",
                unit.name,
                f"{unit.name} may pulse in the picture on mains of {named} at this shutter: try"
                " it, or take the shutter that the camera page names.",
                f"{camera.fps:g} fps",
            )
