"""The order of work: steps, what to look at in each, and a check of each computed from the
scene.
"""

from dataclasses import dataclass

import numpy as np

from ..camera import frame_exposure, signal_at, source_colours, stops_over_grey
from ..colour import LUMINANCE
from ..document import Order, Setup, Step
from ..inspection import inspect_unit
from ..materials import FINISHES
from ..metering import OFF_SKIN, LaidOut, lay_out, read_setup
from ..transport import SKY, SUN, light_of, mirrored_light, project
from ..units import amount_words
from ..world import landmarks
from .fixed import name_of, read_fixed, window_key
from .picture import Picture
from .targets import headroom, mover, read_targets

GLINT = 1.0
"""Stops over middle grey from which a mirrored light gives an eye life; typical."""
CLIPPED = 0.005
"""Part of the picture that may clip, besides what is fixed."""
NEAR = 0.34
"""Stops that count as met."""


@dataclass(frozen=True)
class Want:
    """What a plan asks of the light; every figure is typical, none a rule."""

    name: str
    steps: tuple
    key: float
    """Key side against the camera's stop [stops]."""
    ratio: float
    """(key + fill) : fill."""
    edge: float
    """Edge of head and shoulders over the backdrop about them, at least [stops]."""
    backdrop: float
    """Backdrop under the lit skin [stops]."""
    within: float
    """How far the backdrop may be off that [stops]."""


PLANS = {
    "natural": Want(
        "Natural: what the place gives",
        (
            "frame",
            "keep",
            "fixed",
            "key",
            "fill",
            "background",
            "separation",
            "control",
            "eye-light",
            "instruments",
            "note",
        ),
        0.0,
        2.8,
        0.3,
        1.3,
        1.0,
    ),
    "three-point": Want(
        "Three-point: key, fill, edge",
        (
            "frame",
            "keep",
            "fixed",
            "key",
            "fill",
            "separation",
            "background",
            "eye-light",
            "control",
            "instruments",
            "note",
        ),
        0.0,
        4.0,
        1.0,
        2.0,
        0.7,
    ),
    "high-contrast": Want(
        "High contrast: mostly shade",
        (
            "frame",
            "keep",
            "fixed",
            "key",
            "separation",
            "background",
            "fill",
            "control",
            "eye-light",
            "instruments",
            "note",
        ),
        -0.3,
        11.0,
        1.0,
        3.5,
        1.0,
    ),
}
TITLES = {
    "frame": "Frame",
    "keep": "Keep or kill",
    "fixed": "What can't be dimmed",
    "key": "Key",
    "fill": "Fill",
    "separation": "Separation",
    "background": "Background",
    "eye-light": "Eye light",
    "control": "Control",
    "instruments": "Instruments",
    "note": "Note",
}
LOOK = {
    "frame": "Lens height, headroom, where the eyes rest. Light comes after.",
    "keep": (
        "What the place itself gives: lamps in the room, windows, sky. Keep each or put it out."
    ),
    "fixed": "Expose for it first; everything else is built up to it.",
    "key": "The lit side of the face, and where its shadow falls.",
    "fill": "The shadow side: does the face still read there?",
    "separation": "The outline of hair and shoulders against what is behind.",
    "background": "Does it hold the eye less than the face does?",
    "eye-light": "A glint in each eye, high rather than low.",
    "control": "Spill, lamps in the picture, beams that go where nobody asked.",
    "instruments": "What clips, what drowns; the targets one by one.",
    "note": "What you would need to put it back after lunch.",
}


def start(plan):
    """The order of a plan with all its steps open.

    Examples
    --------
    >>> start("high-contrast").steps[4].key
    'separation'
    """
    return Order(plan=plan, steps=tuple(Step(key=key) for key in PLANS[plan].steps))


@dataclass(frozen=True)
class Bench:
    """What the checks work on."""

    setup: Setup
    ready: LaidOut
    picture: Picture
    readings: dict
    want: Want
    step: str

    def words(self, stops):
        return amount_words(stops, self.step)


def read_order(setup, picture, step="third"):
    """Every step of a set-up's order of work, with its check.

    Parameters
    ----------
    setup : moth.document.Setup
        Its order, or the three-point one when it has none.
    picture : Picture
    step : {"third", "tenth"}

    Returns
    -------
    list of dict
        `key`, `title`, `look`, `state` ("open", "done", "skipped"), `reason`, `met` (True, False,
        or None where nothing can be computed),
        `words` (by how much), `panel` and `unit` (the tool for it; unit None when none is meant),
        `dimmer` (of that unit, which would meet it; or None).
    """
    order = setup.order or start("three-point")
    bench = Bench(
        setup, lay_out(setup), picture, read_setup(setup, step=step), PLANS[order.plan], step
    )
    rows = []
    for item in order.steps:
        met, words, panel, unit, dimmer = CHECKS[item.key](bench)
        rows.append(
            {
                "key": item.key,
                "title": TITLES[item.key],
                "look": LOOK[item.key],
                "state": item.state,
                "reason": item.reason,
                "met": met,
                "words": words,
                "panel": panel,
                "unit": unit,
                "dimmer": dimmer,
            }
        )
    return rows


def _first(bench, *roles):
    return next((u.id for u in bench.setup.units if u.role in roles), None)


def _frame(bench):
    marks = landmarks(bench.setup.figures[0])
    eyes, crown, chin = project(
        bench.ready.camera,
        [(marks["eye_left"] + marks["eye_right"]) / 2, marks["crown"], marks["chin"]],
    )
    if eyes is None or chin is None:
        return False, "the face is not in the picture: aim the lens at it", "camera", None, None
    words = f"eyes at {100 * eyes[1]:.0f} % from the top, " + (
        f"headroom {100 * crown[1]:.0f} %" if crown else "the crown is cut, as in a close-up"
    )
    if not 0.2 <= eyes[1] <= 0.5:
        return (
            False,
            f"{words}: tilt {'up' if eyes[1] < 0.2 else 'down'}, eyes sit between 20 and 50 %",
            "camera",
            None,
            None,
        )
    if crown and crown[1] > 0.28:
        return (
            False,
            f"{words}: more than a quarter of the picture is above the head",
            "camera",
            None,
            None,
        )
    if not 0.15 <= eyes[0] <= 0.85:
        return (
            False,
            f"{words}; the face sits at the {'left' if eyes[0] < 0.5 else 'right'} edge",
            "camera",
            None,
            None,
        )
    return True, words, "camera", None, None


def _own_light(bench):
    """Sources that belong to the place and are on: (id, what it brings to the key side [lx],
    whether it is dimmed).
    """
    mark = next(m for m in bench.readings["marks"] if m["id"] == "key-side")
    roles = {u.id: u for u in bench.setup.units}
    for name, lux in mark["by_unit"].items():
        unit = roles.get(name)
        if lux > 0 and (unit is None or unit.role == "practical"):
            yield name, lux, unit is not None and unit.dimmer < 1


def _keep(bench):
    fixed = {f.thing for f in bench.setup.fixed}
    windows = bool(fixed & {window_key(o) for o in bench.setup.openings})
    mark = next(m for m in bench.readings["marks"] if m["id"] == "key-side")
    open_: list[tuple[str, str]] = []
    kept: list[tuple[str, str]] = []
    for name, lux, dimmed in _own_light(bench):
        share = lux / max(mark["lux"], 1e-9)
        said = f"{name_of(bench.setup, name)} brings {100 * share:.0f} % of the key side"
        (
            kept
            if dimmed or name in fixed or (windows and name in (SKY, SUN)) or share < 1 / 16
            else open_
        ).append((name, said))
    if open_:
        words = (
            "; ".join(s for _, s in open_)
            + ": keep it by marking it fixed or dimming it, or put it out"
        )
        return (
            False,
            words,
            "unit" if open_[0][0] not in (SKY, SUN) else "room",
            open_[0][0] if open_[0][0] not in (SKY, SUN) else None,
            None,
        )
    return (
        True,
        "; ".join(s for _, s in kept) or "the place gives no light of its own",
        "room",
        None,
        None,
    )


def _fixed(bench):
    rows = read_fixed(bench.setup, bench.picture, bench.step)
    if not rows:
        lit = [o.name for o in bench.setup.openings if bench.setup.sky.on]
        if lit:
            return (
                False,
                f"{lit[0]} is lit by the sky: mark it if its light cannot be changed",
                "meter",
                None,
                None,
            )
        return True, "nothing is marked as fixed", "meter", None, None
    worst = max(rows, key=lambda r: abs(r["off"] or 0))
    met = all(r["met"] for r in rows)
    return (
        met,
        "; ".join(f"{r['name']} {r['words']}" for r in ([worst] if not met else rows)),
        "meter",
        None,
        None,
    )


def _key(bench):
    mark = next(m for m in bench.readings["marks"] if m["id"] == "key-side")
    unit = bench.ready.key
    if mark["against_camera"] is None:
        return (
            False,
            "no light on the lit side yet: bring in the key",
            "unit",
            unit.id if unit else None,
            None,
        )
    off = mark["against_camera"] - bench.want.key
    name = unit.id if unit else None
    if abs(off) <= NEAR:
        return True, f"key side {mark['stop_words']}, on the mark", "unit", name, None
    words = (
        f"key side {mark['stop_words']}, {bench.words(off)} {'over' if off > 0 else 'under'} where"
        " the plan wants it"
    )
    dimmer = None
    if unit and unit.on and mark["by_unit"][unit.id] > 0:
        wanted = mark["lux"] * 2**-off
        value = (
            unit.dimmer
            * (wanted - (mark["lux"] - mark["by_unit"][unit.id]))
            / mark["by_unit"][unit.id]
        )
        if 0.01 <= value <= 1:
            dimmer = value
            words += f": {unit.name} at {100 * value:.0f} %"
    return False, words, "unit", name, dimmer


def _fill(bench):
    found = bench.readings["ratios"]["combined"]
    unit = _first(bench, "fill")
    if bench.ready.key is None:
        # A window is the key: then the picture tells the two sides apart, not a hand that shades a
        # lamp.
        skin, shadow = bench.picture.signal("skin"), bench.picture.signal("shadow")
        if not skin or not shadow:
            return False, "no light on the face", "meter", unit, None
        found = {"ratio": skin / shadow, "words": f"{skin / shadow:.2g}:1 in the picture"}
    if found["ratio"] is None:
        return False, found["words"], "meter", unit, None
    off = float(np.log2(found["ratio"] / bench.want.ratio))
    words = f"{found['words']}, wanted {bench.want.ratio:g}:1"
    if abs(off) <= NEAR:
        return True, words, "meter", unit, None
    return (
        False,
        f"{words}: the shadow side is {bench.words(off)} too {'dark' if off > 0 else 'light'}",
        "meter",
        unit,
        None,
    )


def _separation(bench):
    edge, backdrop = bench.picture.signal("edge"), bench.picture.signal("backdrop")
    unit = _first(bench, "edge")
    if edge is None or backdrop is None:
        return None, "the outline is not in the picture", "unit", unit, None
    over = stops_over_grey(edge) - stops_over_grey(backdrop)
    words = (
        f"the edge is {bench.words(over)} {'over' if over >= 0 else 'under'} the backdrop about it"
    )
    if stops_over_grey(edge) > headroom(bench.ready.camera) - 0.3:
        dimmer = (
            _dimmer_for(bench, unit, "edge", headroom(bench.ready.camera) - 0.8) if unit else None
        )
        return False, words + " and close to clipping", "unit", unit, dimmer
    if over >= bench.want.edge - 1e-9:
        return True, words, "unit", unit, None
    moves, dimmer = (
        (unit, None)
        if unit is None
        else (
            unit,
            _dimmer_for(bench, unit, "edge", stops_over_grey(backdrop) + bench.want.edge + 0.1),
        )
    )
    return (
        False,
        (
            f"{words}, wanted {bench.words(bench.want.edge)} over: an edge from behind, or a darker"
            " backdrop"
        ),
        "unit",
        moves,
        dimmer,
    )


def _dimmer_for(bench, unit, part, stops):
    brought, k = bench.picture.by_source(part), bench.picture.ids.index(unit)
    now = float(bench.picture.state @ brought)
    if brought[k] <= 0:
        return None
    value = (signal_at(stops) - (now - bench.picture.state[k] * brought[k])) / brought[k]
    return float(value) if 0.01 <= value <= 1 else None


def _background(bench):
    skin, backdrop = bench.picture.signal("skin"), bench.picture.signal("backdrop")
    unit = _first(bench, "background")
    if skin is None or backdrop is None:
        return None, "no backdrop beside the head in this picture", "unit", unit, None
    under = stops_over_grey(skin) - stops_over_grey(backdrop)
    words = (
        f"{bench.words(under)} {'under' if under >= 0 else 'over'} the lit skin, wanted"
        f" {bench.words(bench.want.backdrop)} under"
    )
    if abs(under - bench.want.backdrop) <= bench.want.within:
        return True, words, "unit", unit, None
    wanted = stops_over_grey(skin) - bench.want.backdrop
    fixed = {f.thing for f in bench.setup.fixed}
    # First the lamps that are there for it: dimmers of key and fill are set by the face, not by
    # what is behind it.
    for own in sorted(
        (u for u in bench.setup.units if u.role not in ("key", "fill") and u.id not in fixed),
        key=lambda u: u.role != "background",
    ):
        edge = wanted + (0.8 if under < bench.want.backdrop else -0.8) * bench.want.within
        dimmer = _dimmer_for(bench, own.id, "backdrop", wanted) or _dimmer_for(
            bench, own.id, "backdrop", edge
        )
        if dimmer is not None:
            return False, f"{words}: {own.name} at {100 * dimmer:.0f} %", "unit", own.id, dimmer
    moves, _ = mover(bench.setup, bench.picture, "backdrop", wanted)
    if moves is None:
        return False, words, "unit", unit, None
    if under > bench.want.backdrop:
        return False, f"{words}: a lamp on the background would lift it", "unit", unit, None
    return (
        False,
        (
            f"{words}; most of it comes from {name_of(bench.setup, moves)}: keep that off with a"
            " flag, or bring the face away from it"
        ),
        "unit",
        moves,
        None,
    )


def _eye_light(bench):
    glints = catchlights(bench.ready)
    unit = _first(bench, "eye light") or (bench.ready.key.id if bench.ready.key else None)
    lit = [side for side, stops in glints.items() if stops >= GLINT]
    words = ", ".join(
        f"{side} eye {'+' if stops >= 0 else '−'}{bench.words(stops)}"
        for side, stops in glints.items()
    )
    if len(lit) < 2:
        words += (
            ": one eye has a glint"
            if lit
            else ": no glint; a lit surface near the lens would give one"
        )
    return len(lit) > 0, f"brightest glint about grey: {words}", "unit", unit, None


def catchlights(ready):
    """Brightest thing each eye mirrors to the lens, in stops about middle grey.

    Parameters
    ----------
    ready : LaidOut

    Returns
    -------
    dict
        "left", "right" -> stops.
    """
    marks = landmarks(ready.setup.figures[0])
    camera = ready.camera
    face = (marks["eye_left"] + marks["eye_right"]) / 2
    front = marks["nose_tip"] - face
    front = np.array([front[0], front[1], 0.0]) / np.hypot(front[0], front[1])
    # A cornea: every way within fifty degrees of where the eye looks, spread by the golden angle.
    k = np.arange(240)
    cosine, turn = 1 - (1 - np.cos(np.radians(50))) * (k + 0.5) / 240, k * np.pi * (3 - np.sqrt(5))
    across = np.array([front[1], -front[0], 0.0])
    sine = np.sqrt(1 - cosine**2)
    normals = (
        cosine[:, None] * front
        + (sine * np.cos(turn))[:, None] * across
        + (sine * np.sin(turn))[:, None] * np.array([0, 0, 1.0])
    )
    reflectance = next(f.normal_reflectance for f in FINISHES if f.name == "eye")
    colours = source_colours(ready.setup, camera.white_balance, camera.tint)
    found = {}
    for side in ("left", "right"):
        points = np.repeat((marks[f"eye_{side}"] + OFF_SKIN * front)[None], 240, 0)
        toward = np.asarray(camera.position, float) - points
        toward /= np.linalg.norm(toward, axis=1, keepdims=True)
        total = np.zeros(240)
        for source, level in zip(ready.found, ready.state, strict=True):
            if level > 0:
                total += (
                    (
                        mirrored_light(
                            ready.world,
                            light_of(ready.world, source),
                            points,
                            normals,
                            toward,
                            reflectance,
                        )
                        * colours[source.id]
                    )
                    @ LUMINANCE
                    * level
                )
        found[side] = stops_over_grey(total.max(initial=0.0) * frame_exposure(camera))
    return found


def _control(bench):
    for unit in bench.setup.units:
        if unit.on:
            faults = inspect_unit(bench.setup, unit.id)["faults"]
            if faults:
                return False, f"{unit.name}: {faults[0]}", "unit", unit.id, None
    for unit in bench.setup.units:
        if unit.role != "practical" and unit.id in bench.picture.seen:
            return (
                False,
                f"{unit.name} stands in the picture: move it, or tighten the frame",
                "unit",
                unit.id,
                None,
            )
    return True, "every beam lands, and no lamp stands in the picture", "unit", None, None


def _instruments(bench):
    rows = read_targets(bench.setup, bench.picture, bench.step)
    missed = [r for r in rows if not r["met"]]
    if rows:
        if not missed:
            return True, f"all {len(rows)} targets met", "meter", None, None
        worst = max(missed, key=lambda r: abs(r["off"] or 0))
        return (
            False,
            f"{len(missed)} of {len(rows)} targets missed; {worst['name']} {worst['words']}",
            "meter",
            worst["unit"],
            worst["dimmer"],
        )
    mixed = bench.picture.mix.ravel()
    held = np.ones(len(mixed), bool)
    for thing in bench.setup.fixed:
        held[bench.picture.things[thing.thing]] = False
    clipped = float(((mixed >= signal_at(headroom(bench.ready.camera))) & held).mean())
    if clipped > CLIPPED:
        return (
            False,
            f"{100 * clipped:.1f} % of the picture clips, besides what is fixed",
            "meter",
            None,
            None,
        )
    return (
        True,
        f"{100 * clipped:.1f} % clips; choose targets to be held to more",
        "meter",
        None,
        None,
    )


def _note(bench):
    if bench.setup.notes.strip():
        return True, "noted; the level card holds the figures", "note", None, None
    return False, "no note yet", "note", None, None


CHECKS = {
    "frame": _frame,
    "keep": _keep,
    "fixed": _fixed,
    "key": _key,
    "fill": _fill,
    "separation": _separation,
    "background": _background,
    "eye-light": _eye_light,
    "control": _control,
    "instruments": _instruments,
    "note": _note,
}
