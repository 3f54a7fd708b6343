"""What a trial tries on one unit: choices down the rows and across the columns, and its cells."""

from collections.abc import Container
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..document import Attachment, Measured, Polar, Setup, from_polar, to_polar
from ..engine.caching import content_hash, model_digest
from ..errors import DocumentError, MothError
from ..inspection.holding import NO_STAND
from ..metering import read_setup
from ..photometry import ATTACHMENTS, HEADS
from ..photometry.stack import bare_lamp
from ..place import in_its_way
from ..solving import MOVES, make
from ..world import anchor, check_placement

MOST = 300
"""Cells of a trial."""
PLACES = ("distance", "angle", "height")
ORDER = {
    kind: at
    for at, kind in enumerate(("head", "bare", *PLACES, "white", "attachment", "move", "dimmer"))
}
"""In which order steps are taken: a rig is built about a lamp that stands where it is to stand."""


_KNOWN: dict[str, Container[str]] = {"head": HEADS, "attachment": ATTACHMENTS, "move": MOVES}


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Change(_Model):
    """One thing changed on the unit that is tried."""

    kind: Literal[
        "head", "bare", "distance", "angle", "height", "white", "attachment", "move", "dimmer"
    ]
    key: Annotated[str, Field(max_length=60)] = ""
    """Of the head, attachment or move; see moth.photometry.HEADS, ATTACHMENTS, moth.solving.MOVES.
    """
    value: Annotated[float, Field(allow_inf_nan=False, ge=-360, le=20_000)] | None = None
    """Distance [m], angle off the lens and over the eyes [deg], white [K], dimmer 0..1."""
    settings: Annotated[dict[str, float], Field(max_length=12)] = {}
    """Of an attachment."""
    material: Annotated[str, Field(max_length=60)] | None = None
    size: tuple[float, float] | None = None
    """Of a move's cloth or board [m]."""

    @model_validator(mode="after")
    def is_known(self):
        known = _KNOWN.get(self.kind)
        if known is not None and self.key not in known:
            raise ValueError(f"there is no {self.kind} '{self.key}'")
        if self.kind in (*PLACES, "white", "dimmer") and self.value is None:
            raise ValueError(f"give a {self.kind} as a number")
        return self


class Choice(_Model):
    """What one row or column tries: some steps together, under a name."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    steps: Annotated[tuple[Change, ...], Field(max_length=6)] = ()


class Axis(_Model):
    """The rows or the columns."""

    choices: Annotated[tuple[Choice, ...], Field(min_length=1, max_length=MOST)]


AS_IT_IS = Axis(choices=(Choice(name="as it is"),))


class KeyWish(_Model):
    """What is asked of a key."""

    lux: Annotated[float, Field(allow_inf_nan=False, gt=0, le=1e6)] | None = None
    """At the face, at full or less; None for what the camera's stop asks for."""
    soft: Annotated[float, Field(allow_inf_nan=False, ge=0, le=170)] = 0.0
    """At least so wide: the angle that holds half of its light [deg]."""
    spill: Annotated[float, Field(allow_inf_nan=False, ge=-12, le=6)] | None = None
    """At most so much on the backdrop, against the face [stops]."""
    either_side: bool = False
    """Whether it may come from the other side as well."""


class TrialPlan(_Model):
    """One unit of a set-up tried in every row with every column."""

    setup: Setup
    unit: Annotated[str, Field(max_length=40)]
    rows: Axis
    columns: Axis = AS_IT_IS
    level: Literal["same", "full"] = "same"
    """Whether each cell is brought to the camera's stop at the face by a gain of its own, or left
    at full.
    """
    alone: bool = True
    """Whether all other light is off."""
    wish: KeyWish | None = None
    """What the trial looks for; then a cell whose stand has no room is none."""

    @model_validator(mode="after")
    def can_be_run(self):
        count = len(self.rows.choices) * len(self.columns.choices)
        if count > MOST:
            raise ValueError(f"{count} cells are asked; a trial has {MOST} at most")
        if self.unit not in [u.id for u in self.setup.units]:
            raise ValueError(f"there is no unit '{self.unit}' in the set-up")
        return self


@dataclass(frozen=True)
class Placed:
    """A cell before it is run."""

    row: int
    column: int
    key: str
    """By content: the same cell of another trial has the same."""
    setup: Setup | None
    """As it is looked at before its level is set; None where it cannot be."""
    fault: str = ""
    """Why it cannot be."""


def cells_of(trial):
    """The cells of a trial, row by row.

    Parameters
    ----------
    trial : TrialPlan

    Returns
    -------
    list of Placed

    Examples
    --------
    >>> from moth.document import bare
    >>> lamp = {"id": "k", "name": "Key", "head": "point-300"}
    >>> s = bare(units=[{**lamp, "position": [1, 3.5, 2], "aim": [2, 2, 1.5]}])
    >>> near = [{"name": f"{d} m", "steps": [{"kind": "distance", "value": d}]} for d in (1, 2)]
    >>> made = TrialPlan(setup=s, unit="k", rows={"choices": near})
    >>> [c.fault for c in cells_of(made)]
    ['', '']
    """
    base = _alone(trial.setup, trial.unit) if trial.alone else trial.setup
    found = []
    for r, row in enumerate(trial.rows.choices):
        for c, column in enumerate(trial.columns.choices):
            made, fault = None, ""
            try:
                made = changed_by(base, trial.unit, (*row.steps, *column.steps))
                check_placement(made)
                if trial.wish is not None:
                    _stands(made, trial.unit)
            except MothError as error:
                made, fault = None, str(error)
            except ValueError as error:
                made, fault = None, str(error).splitlines()[-1].strip()[:200]
            what = made.model_dump(mode="json") if made else [r, c, fault]
            key = content_hash("trial", model_digest(), what, trial.unit, trial.level)
            found.append(Placed(r, c, key, made, fault))
    return found


def _stands(setup, unit_id):
    """Refuse what could not be rigged: a proposal never stands in a wall."""
    unit = next(u for u in setup.units if u.id == unit_id)
    found = in_its_way(setup, unit)
    if found:
        raise MothError(NO_STAND[found.what].format(found.name) + ".")


def _alone(setup, unit):
    units = tuple(u if u.id == unit else u.model_copy(update={"on": False}) for u in setup.units)
    sky = setup.sky.model_copy(update={"on": False, "sun": None})
    return setup.model_copy(update={"units": units, "sky": sky})


def changed_by(setup, unit, steps):
    """A set-up with steps taken on one of its units, in the order in which a rig is built.

    Parameters
    ----------
    setup : moth.document.Setup
    unit : str
    steps : sequence of Change

    Returns
    -------
    moth.document.Setup

    Raises
    ------
    MothError
        For what cannot be hung on the head, or has no room.
    """
    for step in sorted(steps, key=lambda s: ORDER[s.kind]):
        setup = _taken(setup, unit, step)
    return setup


def _taken(setup, name, step):
    if step.kind == "move":
        # A rig finds itself a place: where the lamp was asked for has to be one before.
        check_placement(setup)
        return make(setup, name, step.key, step.material, step.size)
    at = next(k for k, u in enumerate(setup.units) if u.id == name)
    change = _CHANGES[step.kind](setup, setup.units[at], step)
    unit = setup.units[at].model_copy(update={"on": True, **change})
    units = (*setup.units[:at], unit, *setup.units[at + 1 :])
    return setup.model_copy(update={"units": units})


def _headed(setup, unit, step):
    """Another head is a bare one: what hung on the old may not fit."""
    low, high = HEADS[step.key].cct
    cct = min(max(unit.cct, low), high)
    bare = {"attachments": (), "ies": None, "measured": None, "saturation": 0.0}
    return {"head": step.key, "cct": cct, **bare}


def _placed(setup, unit, step):
    face, lens = anchor(setup), setup.cameras[0].position
    now = to_polar(unit.position, face, lens)
    polar = Polar(**{k: getattr(now, k) for k in PLACES} | {step.kind: step.value})
    place = tuple(round(float(p), 4) for p in from_polar(polar, face, lens))
    return {"position": place, "aim": tuple(round(float(p), 4) for p in face), "foot": None}


def _hung(setup, unit, step):
    attachment = ATTACHMENTS[step.key]
    if HEADS[unit.head].group not in attachment.fits:
        raise DocumentError(f"{attachment.name} cannot be hung on {HEADS[unit.head].name}.")
    made = Attachment(key=step.key, settings=step.settings)
    return {"attachments": (*unit.attachments, made)}


_CHANGES = {
    "head": _headed,
    "bare": lambda setup, unit, step: {"attachments": ()},
    **dict.fromkeys(PLACES, _placed),
    "white": lambda setup, unit, step: {
        "cct": min(max(step.value, HEADS[unit.head].cct[0]), HEADS[unit.head].cct[1])
    },
    "attachment": _hung,
    "dimmer": lambda setup, unit, step: {"dimmer": min(max(step.value, 0.0), 1.0)},
}


def one_level(setup, unit_id, lux):
    """A unit brought to a level at the face: by its dimmer, or past its full output by a gain that
    no real lamp has, so that weak and strong ones can be looked at side by side.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str
    lux : float
        On a dome held to the head toward its light.

    Returns
    -------
    (moth.document.Setup, float)
        The set-up, and the gain on the unit at full; 1 where it brings nothing there.
    """
    at = next(k for k, u in enumerate(setup.units) if u.id == unit_id)

    def put(change):
        unit = setup.units[at].model_copy(update=change)
        return setup.model_copy(update={"units": (*setup.units[:at], unit, *setup.units[at + 1 :])})

    full = put({"dimmer": 1.0, "on": True})
    reached = read_setup(full, unit_id).unit(unit_id).face_lux
    if reached <= 1e-3:
        return full, 1.0
    gain = lux / reached
    if gain <= 1:
        return put({"dimmer": max(gain, 1e-4), "on": True}), gain
    unit = full.units[at]
    candela = float(bare_lamp(unit).distribution.intensity(0.0))
    if not (unit.ies or unit.measured):
        candela *= HEADS[unit.head].output(unit.cct)
    if candela <= 1e-6:
        return full, 1.0
    measured = Measured(lux=min(gain * candela, 1e7), distance=1.0)
    return put({"dimmer": 1.0, "on": True, "measured": measured}), gain
