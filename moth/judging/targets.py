"""Targets: where the parts of a picture should sit, whether they do, and which unit moves them."""

from dataclasses import dataclass

from ..camera import curve_of, signal_at, stops_over_grey
from ..document import Profile
from ..wording import THIRDS, percent
from .picture import PARTS


def _profile(name, **parts):
    return Profile.model_validate(
        {
            "name": name,
            "targets": [
                {"what": what, "stops": stops, "within": within}
                for what, (stops, within) in parts.items()
            ],
        }
    )


PROFILES = {
    "protect-highlights": _profile(
        "Protect the highlights, log interior",
        skin=(-0.3, 0.34),
        shadow=(-2.3, 0.5),
        highlights=(4.5, 1.0),
        floor=(-5.5, 1.5),
        backdrop=(-2.0, 0.7),
        edge=(0.7, 0.7),
    ),
    "middle-grey": _profile(
        "Middle-grey subject",
        skin=(0.0, 0.34),
        shadow=(-2.0, 0.5),
        highlights=(2.0, 1.0),
        floor=(-5.0, 1.5),
        backdrop=(-1.5, 0.5),
        edge=(0.7, 0.7),
    ),
    "stop-over": _profile(
        "Key side a stop over",
        skin=(1.0, 0.34),
        shadow=(-1.0, 0.5),
        highlights=(2.3, 0.7),
        floor=(-5.0, 1.5),
        backdrop=(-1.5, 0.7),
        edge=(1.5, 0.7),
    ),
    "high-contrast-night": _profile(
        "High-contrast night",
        skin=(-0.7, 0.5),
        shadow=(-4.0, 0.8),
        highlights=(2.0, 1.5),
        floor=(-7.0, 2.0),
        backdrop=(-4.0, 1.0),
        edge=(0.3, 1.0),
    ),
}
"""Profiles to begin with; typical figures, each a starting point to be edited."""


def headroom(camera):
    """Stops from middle grey to where a camera's curve clips.

    Examples
    --------
    >>> from moth.document import Camera
    >>> round(headroom(Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1))), 1)
    2.5
    """
    return stops_over_grey(curve_of(camera).clip)


@dataclass(frozen=True)
class TargetReading:
    """Where a part of the picture sits, against where it should."""

    what: str
    """Of :data:`PARTS`."""
    name: str
    target: float
    """[stops about middle grey]"""
    code: float
    """Of the target on the camera's curve, 0..1."""
    within: float
    """[stops]"""
    how: str
    """"about", "at most" or "at least"."""
    sits: float | None
    """[stops about middle grey]; None when it is not in the picture."""
    off: float | None
    """+ over, - under the target [stops]."""
    met: bool
    unit: str | None
    """Id of the unit that brings most of it and can be dimmed."""
    dimmer: float | None
    """What that would take; None when it cannot by its dimmer."""
    words: str


def read_targets(setup, picture, say=THIRDS):
    """Each target of a set-up's profile: where its part sits, how far off that is, and which unit
    moves it.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture
    say : moth.wording.Wording

    Returns
    -------
    list of TargetReading
    """
    return [_read(setup, picture, t, say) for t in (setup.profile.targets if setup.profile else ())]


def _amiss(target, off):
    """By how much a part is off to the side that matters [stops].

    Examples
    --------
    >>> from moth.document import Target
    >>> [_amiss(Target(what="floor", stops=0, how=how), -2.0)
    ...     for how in ("about", "at most", "at least")]
    [2.0, -2.0, 2.0]
    """
    return {"about": abs(off), "at most": off, "at least": -off}[target.how]


def _read(setup, picture, target, say):
    curve = curve_of(setup.cameras[0])
    if target.percent is None:
        wanted = target.stops
        code = float(min(max(curve.encode(signal_at(wanted)), 0.0), 1.0))
    else:
        code = target.percent / 100
        wanted = stops_over_grey(curve.decode(min(code, float(curve.encode(curve.clip)))))
    signal = picture.signal(target.what)
    sits = off = unit = dimmer = None
    met, words = False, "not in the picture"
    if signal is not None:
        sits = stops_over_grey(signal)
        off = sits - wanted
        met = _amiss(target, off) <= target.within
        words = "met" if met else say.off(off)
        beyond = wanted - headroom(setup.cameras[0])
        if beyond > 0:
            words += f"; this curve clips {say.amount(beyond)} below the target"
        if not met:
            unit, dimmer = mover(setup, picture, target.what, wanted)
        if unit:
            name = next(u.name for u in setup.units if u.id == unit)
            by = "but not by its dimmer alone" if dimmer is None else f"at {percent(dimmer)}"
            words += f": {name} moves it, {by}"
    return TargetReading(
        what=target.what,
        name=PARTS[target.what],
        target=wanted,
        code=code,
        within=target.within,
        how=target.how,
        sits=sits,
        off=off,
        met=met,
        unit=unit,
        dimmer=dimmer,
        words=words,
    )


def mover(setup, picture, part, stops):
    """The unit that brings most of a part and can be dimmed, and the dimmer that puts the part
    where it should sit.

    Returns
    -------
    (str or None, float or None)
    """
    fixed = {f.thing for f in setup.fixed}
    brought = picture.by_source(part)
    now = float(picture.state @ brought)
    wanted = signal_at(stops)
    own = {u.id: u for u in setup.units if u.id not in fixed}
    shares = [
        (float(brought[k] * picture.state[k] if now > wanted else brought[k]), k)
        for k, name in enumerate(picture.ids)
        if name in own
    ]
    shares = [s for s in shares if s[0] > 0]
    if not shares:
        return None, None
    k = max(shares)[1]
    dimmer = (wanted - (now - picture.state[k] * brought[k])) / brought[k]
    return picture.ids[k], float(dimmer) if 0.01 <= dimmer <= 1 else None
