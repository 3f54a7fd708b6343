"""What hangs on what: draw, load of circuits, drop along cables, minutes of batteries.

The sums and their sources are in docs/light-model.md, "Power". All of it is for planning: local
codes and licensed people decide what may be connected.
"""

import math
from dataclasses import dataclass

import numpy as np

from ..document import BATTERY
from ..photometry import HEADS
from .needs import cable_run

RESISTIVITY = 0.0199
"""Of flexible copper [Ω mm²/m at 20 °C]: IEC 60228, class 5, 13.3 Ω/km at 1.5 mm²."""
POWER_FACTOR = {"led": 0.9, "tungsten": 1.0}
"""Real over apparent power; typical. Tungsten is a plain resistance."""
IDLE = 0.03
"""Part of its full draw that an LED head takes when it is dimmed to nothing; typical."""
BY_VOLTAGE = {"light": 3.4, "watts": 1.6}
"""Exponents of a tungsten lamp's light and power over its voltage: IES Lighting Handbook."""
COLD = 12.0
"""Current of a cold tungsten filament against a hot one, for a few hundredths of a second."""
SUPPLY, SURGE = 300.0, 50.0
"""From this draw [W] an LED head has a supply whose condensers fill at switching on: for about a
thousandth of a second some 50 A at 230 V, in proportion at others; typical of supplies of 0.3 to
1.5 kW, whose sheets tell 30 to 70 A.
"""
TRIPS_AT_ONCE, SHORT = 5.0, 2.0
"""Times its current from which a breaker of the type B may open at once (IEC 60898-1, 3 to 5), and
how much more of that it bears for a millisecond; typical.
"""
LASTING = 0.8
"""Part of a breaker's current that is planned with for loads of hours; customary."""
TRIPS = 1.45
"""Of its current a breaker of IEC 60898-1 must trip at within the hour; below 1.13 it must not."""
MOST_DROP = 0.05
"""Of the voltage along the cables, beyond which it is told: IEC 60364-5-52, annex G, 5 %."""


@dataclass(frozen=True)
class Draw:
    """What one unit takes."""

    id: str
    name: str
    feed: str
    """Id of a circuit, "@battery", or empty."""
    watts: float
    """As it is set [W]; 0 when it is off."""
    full: float
    """At full [W]."""
    amperes: float
    """From its circuit as it is set [A]; 0 from a battery."""
    run: float
    """Of its cable [m]."""
    drop: float
    """Part of the circuit's voltage lost along it, as it is set, 0..1."""
    minutes: float | None
    """That a battery lasts at this level [min]; None on a cable."""
    words: str
    fault: str
    """What will not work, in a sentence; empty where nothing is wrong."""


@dataclass(frozen=True)
class CircuitLoad:
    """One circuit and what hangs on it."""

    id: str
    name: str
    amperes: float
    """As the units are set [A]."""
    full: float
    """Were all of them on and at full [A]."""
    breaker: float
    """[A]"""
    left: float
    """Of what is planned with, at full [A]; negative where it is over."""
    verdict: str
    """ "empty", "fits", "close" or "over"."""
    units: tuple[str, ...]
    """Names."""
    words: str


@dataclass(frozen=True)
class Battery:
    """What a unit on a battery takes through a shot."""

    unit: str
    minutes: float
    """That one charge lasts [min]."""
    charges: int
    """Batteries to have charged for it."""
    changes: tuple[float, ...]
    """Minutes into the shot at which it has to be changed."""
    words: str


@dataclass(frozen=True)
class Power:
    """The power of a set-up."""

    draws: tuple[Draw, ...]
    circuits: tuple[CircuitLoad, ...]
    batteries: tuple[Battery, ...]
    watts: float
    """All of it on cables, as it is set [W]."""
    unsaid: tuple[str, ...]
    """Names of the units of which nobody has said what they hang on."""
    first: str
    """Which breaker goes first, in a sentence; empty where none would."""
    faults: tuple[str, ...]
    words: str


def drawn(head, light=1.0):
    """What a head draws, dimmed to a part of its light [W].

    An LED head's draw falls with its light down to an idle rest; a tungsten lamp is dimmed by
    its voltage, and draws more for its light the lower it burns.

    Parameters
    ----------
    head : moth.photometry.Head
    light : float or ndarray
        0..1 of its full light.

    Examples
    --------
    >>> led, tungsten = HEADS["point-300"], HEADS["fresnel-650"]
    >>> round(float(drawn(led, 0.5))), round(float(drawn(tungsten, 0.5)))
    (180, 469)
    """
    light = np.clip(light, 0.0, 1.0)
    if head.burner == "tungsten":
        return head.watts * light ** (BY_VOLTAGE["watts"] / BY_VOLTAGE["light"])
    return head.watts * (IDLE + (1 - IDLE) * light)


def drop_along(run, wire, amperes):
    """Voltage lost along a cable and back [V].

    Parameters
    ----------
    run : float
        One way [m].
    wire : float
        Copper of one core [mm²].
    amperes : float

    Examples
    --------
    >>> round(drop_along(50, 1.5, 10), 1)
    13.3
    """
    return 2 * RESISTIVITY * run / wire * amperes


def capacity(head):
    """What the usual battery of a head holds [Wh]: its run time at full times its draw.

    Examples
    --------
    >>> round(capacity(HEADS["point-60"]))
    88
    """
    return head.battery / 60 * head.watts


def lasts(head, light, charge=1.0):
    """How long a battery lasts [min] at a part of a head's light, 0..1.

    Examples
    --------
    >>> round(lasts(HEADS["point-60"], 1.0)), round(lasts(HEADS["point-60"], 0.09))
    (70, 597)
    """
    return 60 * capacity(head) * charge / max(float(drawn(head, light)), 1e-9)


def power_of(setup, minutes=0.0):
    """The power of a set-up.

    Parameters
    ----------
    setup : moth.document.Setup
    minutes : float
        How long the lamps on batteries have to last, shooting and waiting [min].

    Returns
    -------
    Power

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     circuits=[{"id": "a", "name": "A", "volts": 120, "amperes": 15}],
    ...     units=[{"id": "k", "name": "Key", "head": "point-1200", "position": [1, 1, 2],
    ...         "aim": [2, 2, 1], "feed": "a", "run": 10}])
    >>> load = power_of(s).circuits[0]
    >>> round(load.amperes, 1), load.verdict
    (12.5, 'close')
    """
    draws = tuple(_draw(setup, unit) for unit in setup.units)
    circuits = tuple(_load(setup, circuit, draws) for circuit in setup.circuits)
    batteries = tuple(
        _battery(setup.units[at], minutes)
        for at, draw in enumerate(draws)
        if draw.minutes is not None and setup.units[at].on
    )
    unsaid = tuple(d.name for d in draws if not d.feed and d.full > 0)
    watts = sum(d.watts for d in draws if d.feed != BATTERY)
    faults = [d.fault for d in draws if d.fault]
    faults += [load.words for load in circuits if load.verdict == "over"]
    return Power(
        draws=draws,
        circuits=circuits,
        batteries=batteries,
        watts=watts,
        unsaid=unsaid,
        first=_first(setup, draws),
        faults=tuple(faults),
        words=_words(watts, draws, unsaid),
    )


def _draw(setup, unit):
    head = HEADS[unit.head]
    light = unit.dimmer if unit.on else 0.0
    watts = float(drawn(head, light)) if unit.on else 0.0
    if unit.feed == BATTERY:
        return _on_battery(unit, head, watts)
    circuit = next((c for c in setup.circuits if c.id == unit.feed), None)
    run = cable_run(setup, unit)
    if circuit is None:
        words = f"{watts:.0f} W"
        return Draw(unit.id, unit.name, "", watts, head.watts, 0.0, run, 0.0, None, words, "")
    amperes = watts / POWER_FACTOR[head.burner] / circuit.volts
    drop = drop_along(run, circuit.wire, amperes) / circuit.volts
    words = f"{watts:.0f} W, {amperes:.1f} A on {circuit.name}; {run:.0f} m of cable loses"
    words += f" {100 * drop:.1f} %"
    fault = ""
    if drop > MOST_DROP:
        fault = f"{unit.name} loses {100 * drop:.0f} % of its voltage along {run:.0f} m of cable"
        if head.burner == "tungsten":
            less = 1 - (1 - drop) ** BY_VOLTAGE["light"]
            fault += f": {100 * less:.0f} % less light, and warmer"
        fault += ": thicker or shorter cable."
    return Draw(
        unit.id, unit.name, circuit.id, watts, head.watts, amperes, run, drop, None, words, fault
    )


def _on_battery(unit, head, watts):
    def made(minutes, words, fault=""):
        return Draw(
            unit.id, unit.name, BATTERY, watts, head.watts, 0.0, 0.0, 0.0, minutes, words, fault
        )

    if not head.battery:
        return made(None, f"{watts:.0f} W", f"{unit.name} has no battery: {head.name} needs mains.")
    minutes = lasts(head, unit.dimmer if unit.on else 0.0, unit.charge)
    words = f"{watts:.0f} W from a battery of {capacity(head):.0f} Wh"
    return made(minutes, f"{words}: {spell(minutes)} at this level.")


def spell(minutes):
    """Minutes in hours and minutes.

    Examples
    --------
    >>> spell(597), spell(45)
    ('9 h 57 min', '45 min')
    """
    whole = math.floor(minutes + 0.5)
    return f"{whole // 60} h {whole % 60:02d} min" if whole >= 60 else f"{whole} min"


def _load(setup, circuit, draws):
    hung = [d for d in draws if d.feed == circuit.id]
    now = sum(d.amperes for d in hung)
    heads = {u.id: HEADS[u.head] for u in setup.units}
    full = sum(d.full / POWER_FACTOR[heads[d.id].burner] for d in hung) / circuit.volts
    left = LASTING * circuit.amperes - full
    verdict = (
        "empty"
        if not hung
        else "fits"
        if left >= 0
        else "close"
        if full <= circuit.amperes
        else "over"
    )
    words = f"{circuit.name}: {now:.1f} A as set, {full:.1f} A at full, of {circuit.amperes:g} A"
    words += {
        "empty": "; nothing hangs on it.",
        "fits": f"; {left:.1f} A left to plan with.",
        "close": f"; over the {LASTING * circuit.amperes:.1f} A that are planned with for hours.",
        "over": ": more than its breaker carries. Move something to another circuit.",
    }[verdict]
    words += _at_once(circuit, [heads[d.id] for d in hung])
    return CircuitLoad(
        circuit.id,
        circuit.name,
        now,
        full,
        circuit.amperes,
        left,
        verdict,
        tuple(d.name for d in hung),
        words,
    )


def _at_once(circuit, heads):
    """What switching on all that hangs on a circuit does; empty where a breaker bears it."""
    most = TRIPS_AT_ONCE * circuit.amperes
    cold = COLD * sum(h.watts / circuit.volts for h in heads if h.burner == "tungsten")
    supplies = sum(h.burner == "led" and h.watts >= SUPPLY for h in heads)
    surge = SURGE * circuit.volts / 230 * supplies
    if cold > most:
        return (
            f" Switched on together, cold filaments draw some {cold:.0f} A for a moment: one after"
            " the other, or by the dimmer."
        )
    if surge > SHORT * most:
        return (
            f" Switched on together, {supplies} supplies surge to some {surge:.0f} A for a"
            f" thousandth of a second, and its breaker may open: one after the other."
        )
    return ""


def _first(setup, draws):
    """Which breaker goes first as the units are set."""
    part = {
        c.name: sum(d.amperes for d in draws if d.feed == c.id) / c.amperes for c in setup.circuits
    }
    name = max(part, key=part.__getitem__, default="")
    if not name or part[name] <= 1:
        return ""
    sure = part[name] >= TRIPS
    return (
        f"{name} goes first: {100 * part[name]:.0f} % of its breaker"
        f"{', within the hour' if sure else ', sooner or later'}."
    )


def _battery(unit, minutes):
    head = HEADS[unit.head]
    first, whole = lasts(head, unit.dimmer, unit.charge), lasts(head, unit.dimmer)
    changes: list[float] = []
    at = first
    while at < minutes and len(changes) < 200:
        changes.append(at)
        at += whole
    charges = 1 + len(changes)
    words = f"{unit.name}: {spell(first)} at this level."
    if changes:
        words = (
            f"{unit.name} dies after {spell(first)}: {charges} batteries for {spell(minutes)},"
            f" change at {', '.join(spell(c) for c in changes[:4])}"
            f"{' …' if len(changes) > 4 else ''}."
        )
    return Battery(unit.name, first, charges, tuple(changes), words)


def _words(watts, draws, unsaid):
    cabled = sum(1 for d in draws if d.feed and d.feed != BATTERY)
    said = f"{watts:.0f} W on cables"
    if unsaid:
        said += f"; {len(unsaid)} of {len(draws)} units hang on nothing yet"
    elif cabled:
        said += f", {cabled} units"
    return said + "."
