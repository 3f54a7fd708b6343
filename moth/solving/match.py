"""Dimmers that bring one set-up to another's levels."""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import lsq_linear

from ..document import Setup
from ..judging.comparing import SAME
from ..metering import Place, hair, lay_out
from ..units import stops
from ..wording import THIRDS, percent

MATCHED = ("key-side", "chin", "fill-side", "fill-shaded", "backdrop", "hair")
"""Marks that a match brings back; the face counts, the backdrop and the hair less."""
WEIGHTS = {"backdrop": 0.3, "hair": 0.5}
LEAST = 0.005
"""Lowest dimmer a match sets; below it the unit is switched off."""


@dataclass(frozen=True)
class Matched:
    """A set-up brought to another's levels."""

    setup: Setup
    left: dict
    """Mark -> stops over (+) or under (-) the reference still."""
    words: str


def levels_of(setup):
    """Light of each source at full on the matched marks, the sources' ids and states, and the
    marks' ids.
    """
    ready = lay_out(setup)
    places: dict[str, Place] = {name: ready.marks[name] for name in MATCHED if name in ready.marks}
    places["hair"] = hair(setup, ready.camera)
    return [s.id for s in ready.found], ready.full(list(places.values())), ready.state, list(places)


def match(setup, reference, say=THIRDS):
    """Dimmers that bring the levels of a reference back: light adds, so they are a least-squares
    answer between off and full.

    Errors count relative to the level wanted, the face in full and backdrop and hair less. Fixed
    units, sky and sun stay as they are.

    Parameters
    ----------
    setup, reference : moth.document.Setup
    say : moth.wording.Wording

    Returns
    -------
    Matched
    """
    ids, full, state, names = levels_of(setup)
    _, other, other_state, there = levels_of(reference)
    wanted = dict(
        zip(there, (other_state @ other if len(other) else np.zeros(len(there))), strict=True)
    )
    fixed = {f.thing for f in setup.fixed}
    free = [
        k
        for k, name in enumerate(ids)
        if name not in fixed and any(u.id == name for u in setup.units)
    ]
    held = np.array([k not in free for k in range(len(ids))], bool)
    columns = [at for at, name in enumerate(names) if wanted.get(name, 0) > 1e-3]
    if not free or not columns:
        return Matched(
            setup,
            {},
            (
                "Nothing here can be dimmed to match."
                if not free
                else "There is no light there to match."
            ),
        )
    goal = np.array([wanted[names[c]] for c in columns])
    weight = np.array([WEIGHTS.get(names[c], 1.0) for c in columns]) / goal
    a = (full[free][:, columns] * weight).T
    b = (goal - (state * held) @ full[:, columns]) * weight
    # A slight pull to where the dimmers stand settles what the marks leave open.
    pull = 1e-3 * np.eye(len(free))
    solved = lsq_linear(np.vstack([a, pull]), np.concatenate([b, pull @ state[free]]), (0.0, 1.0)).x
    units = list(setup.units)
    said = []
    for k, value in zip(free, solved, strict=True):
        at = next(i for i, u in enumerate(units) if u.id == ids[k])
        unit = units[at]
        value = round(float(np.clip(value, 0.0, 1.0)), 6)
        if value < LEAST:
            if unit.on:
                units[at] = unit.model_copy(update={"on": False})
                said.append(f"{unit.name} off")
        elif not unit.on or abs(value - unit.dimmer) > 1e-4:
            units[at] = unit.model_copy(update={"on": True, "dimmer": value})
            said.append(f"{unit.name} {percent(value)}")
    changed = setup.model_copy(update={"units": tuple(units)})
    _, full, state, names = levels_of(changed)
    now = state @ full
    left = {
        names[c]: float(stops(max(now[c], 1e-9) / g)) for c, g in zip(columns, goal, strict=True)
    }
    rest = [
        f"{name.replace('-', ' ')} {say.off(off)}" for name, off in left.items() if abs(off) > SAME
    ]
    words = (
        (", ".join(said) or "All dimmers stand as they should")
        + ". "
        + ("Left: " + "; ".join(rest) + "." if rest else "Every level is within a tenth of a stop.")
    )
    return Matched(changed, left, words)
