"""Targets: where the parts of a picture should sit, whether they do, and which unit moves them."""

from ..camera import curve_of, signal_at, stops_over_grey
from ..document import Profile
from ..units import amount_words
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


def read_targets(setup, picture, step="third"):
    """Each target of a set-up's profile: where its part sits, how far off that is, and which unit
    moves it.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture
    step : {"third", "tenth"}

    Returns
    -------
    list of dict
        `what`, `name`, `target`, `code` (0..1 of the target on the camera's curve), `within`,
        `sits` [stops about middle grey], `off` (+ over, - under; None when not in the picture),
        `met`,
        `unit` (id of the unit that brings most of it and can be dimmed), `dimmer` (what it would
        take; None when it cannot), `words`.
    """
    rows = []
    curve = curve_of(setup.cameras[0])
    names = {u.id: u.name for u in setup.units}
    for target in setup.profile.targets if setup.profile else ():
        signal = picture.signal(target.what)
        code = float(min(max(curve.encode(signal_at(target.stops)), 0.0), 1.0))
        row = {
            "what": target.what,
            "name": PARTS[target.what],
            "target": target.stops,
            "code": code,
            "within": target.within,
            "sits": None,
            "off": None,
            "met": False,
            "unit": None,
            "dimmer": None,
            "words": "not in the picture",
        }
        rows.append(row)
        if signal is None:
            continue
        row["sits"] = stops_over_grey(signal)
        row["off"] = row["sits"] - target.stops
        row["met"] = abs(row["off"]) <= target.within
        row["words"] = (
            "met"
            if row["met"]
            else f"{amount_words(row['off'], step)} {'over' if row['off'] > 0 else 'under'}"
        )
        beyond = target.stops - headroom(setup.cameras[0])
        if beyond > 0:
            row["words"] += f"; this curve clips {amount_words(beyond, step)} below the target"
        if not row["met"]:
            row["unit"], row["dimmer"] = mover(setup, picture, target.what, target.stops)
            if row["unit"]:
                row["words"] += f": {names[row['unit']]} moves it" + (
                    f", at {100 * row['dimmer']:.0f} %"
                    if row["dimmer"] is not None
                    else ", but not by its dimmer alone"
                )
    return rows


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
