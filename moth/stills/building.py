"""The light of a still built: units where its rows say, at the levels and whites that it shows."""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import nnls

from ..camera import mixed, source_levels
from ..colour import LUMINANCE, mired_gain, white_of
from ..document import Polar, Setup, bare, from_polar
from ..errors import MothError, PlacementError
from ..inspection import inspect_unit
from ..metering import origin_of
from ..photometry import ATTACHMENTS, HEADS
from ..solving import with_level
from ..transport import render_layer, sources, view_of
from ..world import build_world, check_placement, landmarks
from .laying import camera_of, figure_of
from .lights import key_of
from .reading import covered

SIZE = (640, 360)
"""Of the frame that places of a still are read in [px]."""
USUAL = {"key": 20.0, "fill": 40.0, "edge": 10.0, "background": 12.0}
"""Softness of a light that nothing is known of [deg]; typical."""
HARD = 6.0
"""Softness under which a bare lens does [deg]."""
FROM, NEAREST = {"key": 2.0, "fill": 2.2, "edge": 2.2, "background": 2.0}, 0.8
"""Distance that a light is first tried at, and the least [m]; typical."""
WIDEST = 2.0
"""Of a box [m]."""


@dataclass(frozen=True)
class Built:
    """A set-up made from a still."""

    setup: Setup
    words: tuple[str, ...]
    """What was chosen, what could not be, and what is to be minded."""


def build(marks, record, framing, lights, base=None, title="From a still"):
    """A set-up whose units stand where a still's lights were.

    Parameters
    ----------
    marks : moth.stills.marks.Marks
    record : moth.stills.marks.Record
    framing : moth.stills.framing.Framing
    lights : list of moth.stills.lights.LightRead
    base : moth.document.Setup or None
        The place and the person to build it on, its own units switched off; None for a plain grey
        room.
    title : str

    Returns
    -------
    Built

    Raises
    ------
    MothError
        When there is no key, or the camera has no room.
    """
    key = key_of(lights)
    words: list[str] = []
    setup = _place(marks, record, framing, base, title)
    try:
        check_placement(setup)
    except PlacementError as error:
        raise MothError(f"The still's camera has no place here. {error.sentence}") from None
    standing: dict[str, str] = {}
    for light in [key, *(x for x in lights if x is not key)]:
        if light.angle is None or light.height is None:
            words.append(f"{light.name}: nobody knows from where, so it is left out.")
            continue
        before = len(setup.units)
        setup = _brought(setup, light, key, words)
        if len(setup.units) > before:
            standing[light.id] = setup.units[-1].id
    if key.id not in standing:
        raise MothError("The key has no place in this room.")
    setup = _levelled(setup, marks, lights, key, standing, words)
    return Built(setup, tuple(dict.fromkeys(words)))


def _place(marks, record, framing, base, title):
    if base is not None:
        figure = base.figures[0]
        figure = figure.model_copy(
            update={"head_tilt": figure_of(framing, marks).head_tilt, "head_turn": 0.0}
        )
        units = tuple(u.model_copy(update={"on": False}) for u in base.units)
        figures = (figure, *base.figures[1:])
        camera = camera_of(framing, figure, record, base.cameras[0])
        camera = camera.model_copy(update={"id": base.cameras[0].id})
        return base.model_copy(
            update={
                "title": title,
                "figures": figures,
                "cameras": (camera, *base.cameras[1:]),
                "units": units,
            }
        )
    side = float(max(8.0, 2 * framing.distance.value + 5))
    figure = figure_of(framing, marks, (side / 2, side / 2))
    sides = ("floor", "ceiling", "north", "south", "east", "west")
    room = {"width": side, "depth": side, "height": 3.6}
    made = bare(title=title, room={**room, **{k: {"reflectance": 0.18} for k in sides}})
    camera = camera_of(framing, figure, record)
    return made.model_copy(update={"figures": (figure,), "cameras": (camera,)})


def _brought(setup, light, key, words):
    """A set-up with one light of a still in it."""
    softness = light.softness.value if light.softness else USUAL.get(light.role, 15.0)
    if light.softness is None:
        words.append(f"{light.name}: how soft is not told; {softness:.0f}° is taken.")
    cct = _white(light, key)
    name = _free([u.id for u in setup.units], light.id)
    warm = HEADS["point-300"].cct
    head = "point-300" if warm[0] <= cct <= warm[1] else "point-colour"
    low, high = HEADS[head].cct
    attachments = []
    if not low <= cct <= high:
        gel = nearest_gel(cct, float(np.clip(cct, low, high)))
        attachments.append(gel)
        words.append(f"{light.name}: {cct:.0f} K is past what a unit makes; a gel helps.")
    distance = FROM.get(light.role, 2.0)
    # A box no wider than there are: nearer for a softer one.
    distance = min(distance, WIDEST / (2 * np.tan(np.radians(min(softness, 120) / 2))))
    for at in np.linspace(max(distance, NEAREST), NEAREST, 5):
        unit = _unit(setup, light, name, head, softness, at, float(np.clip(cct, low, high)))
        unit["attachments"] = [*attachments, *unit["attachments"]]
        made = setup.model_copy(update={"units": (*setup.units, _as_unit(setup, unit))})
        try:
            check_placement(made)
        except PlacementError:
            continue
        return _sized(made, name, softness, words, light)
    words.append(f"{light.name}: there is no room for it where it should be.")
    return setup


def _as_unit(setup, unit):
    return (
        type(setup)
        .model_validate({**setup.model_dump(exclude={"units"}), "units": [unit]})
        .units[0]
    )


def _unit(setup, light, name, head, softness, distance, cct):
    at = landmarks(setup.figures[0])
    eyes = (at["eye_left"] + at["eye_right"]) / 2
    polar = Polar(light.angle.value, light.height.value, float(distance))
    place = from_polar(polar, eyes, setup.cameras[0].position)
    aim = at["face"]
    if light.role == "background":
        away = eyes - np.asarray(setup.cameras[0].position)
        aim = eyes + 1.5 * away / np.linalg.norm(away)
    if softness < HARD:
        hung = [{"key": "fresnel", "settings": {"travel": 0.7}}]
    else:
        wide = float(np.clip(2 * distance * np.tan(np.radians(softness / 2)), 0.2, 2.4))
        hung = [{"key": "softbox", "settings": {"width": wide, "height": wide}}]
    return {
        "id": name,
        "name": light.name,
        "role": light.role,
        "head": head,
        "position": tuple(map(float, place)),
        "aim": tuple(map(float, aim)),
        "cct": cct,
        "attachments": hung,
    }


def _sized(setup, name, softness, words, light):
    """The same, its box made so large that the face sees the softness asked for."""
    unit = setup.units[-1]
    boxes = [a for a in unit.attachments if a.key == "softbox"]
    if not boxes:
        words += [c for c in (HEADS[unit.head].caution, ATTACHMENTS["fresnel"].caution) if c]
        return setup
    words += [c for c in (HEADS[unit.head].caution, ATTACHMENTS["softbox"].caution) if c]
    for _ in range(2):
        across = inspect_unit(setup, name).size.degrees or softness
        wide = setup.units[-1].attachments[-1].settings["width"]
        wide = float(np.clip(wide * softness / across, 0.2, 2.4))
        box = boxes[0].model_copy(update={"settings": {"width": wide, "height": wide}})
        unit = setup.units[-1].model_copy(update={"attachments": (*unit.attachments[:-1], box)})
        made = setup.model_copy(update={"units": (*setup.units[:-1], unit)})
        try:
            check_placement(made)
        except PlacementError:
            words.append(f"{light.name}: a larger box has no room there.")
            return setup
        setup = made
    return setup


def _white(light, key):
    base = key.kelvin.value if key.kelvin else 5600.0
    if light.kelvin is not None:
        return float(np.clip(light.kelvin.value, 2000, 10000))
    shift = light.shift.value if light.shift else 0.0
    return float(np.clip(1e6 / np.clip(1e6 / base + shift, 100, 500), 2000, 10000))


def nearest_gel(wanted, lamp):
    """The gel that brings a lamp nearest to a white.

    Parameters
    ----------
    wanted, lamp : float
        [K]

    Returns
    -------
    dict
        An attachment of the document.

    Examples
    --------
    >>> nearest_gel(3200, 5600)["key"], nearest_gel(9000, 5600)["key"]
    ('gel-warm', 'gel-cool')
    """
    sign = 1 if wanted < lamp else -1
    most = 159 if sign > 0 else 137
    found = []
    for eighths in range(1, 9):
        kelvin, _ = white_of(mired_gain(sign * most * eighths / 8, lamp), lamp)
        found.append((abs(1e6 / kelvin - 1e6 / wanted), eighths))
    return {
        "key": "gel-warm" if sign > 0 else "gel-cool",
        "settings": {"eighths": float(min(found)[1])},
    }


def _free(taken, wanted):
    """An id like the one wanted that is not taken."""
    name, k = wanted, 2
    while name in taken:
        name, k = f"{wanted[:34]}-{k}", k + 1
    return name


def _levelled(setup, marks, lights, key, standing, words):
    """The key at the camera's stop, the others as bright against it as the still shows."""
    led = with_level(setup, standing[key.id])
    if led.off < -0.05:
        words.append(led.words + ": open the lens, or raise the index.")
    setup = led.setup
    wanted = _areas(marks, lights)
    others = [x.id for x in lights if x.id in standing and x.id != key.id]
    told = [k for k in others if k in wanted and key.id in wanted]
    setup = _by_role(setup, [standing[k] for k in others if k not in told], words)
    if not told:
        return setup
    areas = {k: area for k, (area, _) in wanted.items() if k in told or k == key.id}
    stops = {k: wanted[k][1] for k in told}
    share = shares(setup, areas)
    return _solved(setup, stops, share, key.id, [standing[k] for k in told], words)


def _areas(marks, lights):
    """Light id -> area that it lights, and stops that are wanted against the key's."""
    stops = {x.id: x.stops.value for x in lights if x.stops is not None}
    return {s.id: (s.lit, stops[s.id]) for s in marks.sources if s.lit and s.id in stops}


def _by_role(setup, names, words):
    for name in names:
        setup = with_level(setup, name).setup
        unit = next(u for u in setup.units if u.id == name)
        words.append(
            f"{unit.name}: how strong is not told; it stands as such a light usually does."
        )
    return setup


def _solved(setup, wanted, share, key, names, words):
    """Dimmers that bring the areas of all lights to their stops against the key's; light adds."""
    # A share counts a unit at its present dimmer.
    rows, right = [], []
    base = {u: v for u, v in share[key].items() if u not in names}
    for light, stops in wanted.items():
        ratio = 2.0**stops
        here = share[light]
        rows.append([here[n] - ratio * share[key][n] for n in names])
        fixed = sum(v for u, v in here.items() if u not in names)
        right.append(ratio * sum(base.values()) - fixed)
    size = max(abs(np.array(right)).max(), 1e-9)
    factors, left = nnls(np.array(rows) / size, np.array(right) / size)
    units = {u.id: u for u in setup.units}
    for name, factor in zip(names, factors, strict=True):
        dimmer = units[name].dimmer * float(factor)
        if dimmer > 1:
            words.append(f"{units[name].name}: full is {np.log2(dimmer):.1f} stops short.")
        units[name] = units[name].model_copy(
            update={"dimmer": float(np.clip(dimmer, 0, 1)), "on": dimmer > 1e-4}
        )
        if dimmer <= 1e-4:
            words.append(f"{units[name].name}: the rest lights its place enough; it is off.")
    if left > 0.1:
        words.append("Not every level can be had at once: the nearest are taken.")
    return setup.model_copy(update={"units": tuple(units.values())})


def shares(setup, areas, size=SIZE):
    """What each source brings to places of the frame.

    Parameters
    ----------
    setup : moth.document.Setup
    areas : dict of str to moth.stills.marks.MarkedArea
    size : (int, int)
        [px]

    Returns
    -------
    dict of str to dict of str to float
        Name of an area -> source id -> mean linear luminance at its present level.
    """
    world, camera = build_world(setup), setup.cameras[0]
    view = view_of(world, setup, camera, size)
    levels = source_levels(setup)
    found: dict = {name: {} for name in areas}
    for source in sources(setup):
        if levels[source.id] <= 0:
            continue
        image = mixed(setup, camera, {source.id: render_layer(world, view, source)})
        for name, area in areas.items():
            r, c = covered(image.shape, area)
            found[name][source.id] = float((image[r, c] @ LUMINANCE).mean())
    return found


def whites(setup, areas, size=SIZE):
    """Mean linear colour of places of a set-up's frame, each of luminance 1.

    Parameters
    ----------
    setup : moth.document.Setup
    areas : sequence of moth.stills.marks.MarkedArea

    Returns
    -------
    list of ndarray, shape (3,)
    """
    world, camera = build_world(setup), setup.cameras[0]
    view = view_of(world, setup, camera, size)
    image = mixed(setup, camera, {s.id: render_layer(world, view, s) for s in sources(setup)})
    found = []
    for area in areas:
        r, c = covered(image.shape, area)
        rgb = np.maximum(image[r, c].mean(0), 1e-9)
        found.append(rgb / (rgb @ LUMINANCE))
    return found


def nearest_white(unit, kelvin):
    """White within what a unit's head makes, nearest to one that is asked for [K].

    Examples
    --------
    >>> from moth.document import Unit
    >>> lamp = Unit(id="k", name="K", head="point-300", position=(0, 0, 2), aim=(0, 1, 2))
    >>> nearest_white(lamp, 9000)
    6500.0
    """
    low, high = HEADS[unit.head].cct
    return float(np.clip(kelvin, low, high))


def from_where(setup, unit_id):
    """Where a unit's light comes from to the face: lamp, cloth or board [m]."""
    world = build_world(setup)
    at = next(k for k, u in enumerate(setup.units) if u.id == unit_id)
    return origin_of(setup, world, sources(setup)[at]).place
