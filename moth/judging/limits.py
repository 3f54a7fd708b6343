"""From where a reading is told: typical limits, some of them by plan, and a set-up's own."""

from dataclasses import dataclass, field

from ..document import LimitKey


@dataclass(frozen=True)
class Limit:
    """One limit, and what it is in the unit of its kind."""

    key: LimitKey
    name: str
    unit: str
    typical: float
    least: float
    most: float
    source: str
    by_plan: dict[str, float] = field(default_factory=dict)
    """What is typical of a plan, where that differs."""


_NOTICED = "just noticeable is 2.3 (Mahy and others, 1994); moving pictures want about twice that"
LIMITS = {
    limit.key: limit
    for limit in (
        Limit("outline-gone", "outline is gone under", "ΔE", 3.0, 0.5, 15, _NOTICED),
        Limit("outline-faint", "outline is faint under", "ΔE", 6.5, 1, 30, _NOTICED),
        Limit(
            *("outline-hot", "edge is too much over the lit skin from", "stops", 2.3, 0.5, 6),
            "practice: an edge a stop over the key reads, two draw the eye",
        ),
        Limit(
            *("skin-over", "lit skin is hot over middle grey from", "stops", 1.6, -1, 4),
            "practice: light skin sits about one stop over grey",
        ),
        Limit(
            *("skin-under", "lit skin is dark over middle grey under", "stops", -2.2, -6, 1),
            "practice: dark skin sits about one stop under grey",
            {"high-contrast": -3.2},
        ),
        Limit("skin-blown", "part of a face that may clip", "%", 2, 0.1, 50, "practice"),
        Limit(
            *("shine", "a place of the face shines over the lit skin from", "stops", 1.4, 0.3, 4),
            "practice",
        ),
        Limit("cloth-blown", "part of the clothes that may clip", "%", 15, 0.5, 90, "practice"),
        Limit(
            *(
                "sockets",
                "eye sockets are dark under the face round them from",
                "stops",
                1.5,
                0.3,
                4,
            ),
            "practice",
            {"high-contrast": 2.1},
        ),
        Limit(
            *("glare", "a mirrored lamp veils a glass against lit skin from", "stops", -1, -4, 4),
            "practice",
        ),
        Limit(
            *("backdrop-pulls", "an area behind pulls over the lit skin from", "stops", 1, -1, 5),
            "the eye goes to the brightest place first; practice",
        ),
        Limit(
            *("backdrop-even", "backdrop is one tone within", "stops", 0.45, 0.05, 2),
            "practice",
        ),
        Limit(
            *("backdrop-dead", "a corner holds nothing over middle grey under", "stops"),
            *(-6, -10, -2),
            "noise of common cameras lies about there at their own index",
            {"high-contrast": -7.5},
        ),
        Limit(
            *("backdrop-shadow", "a shadow behind is seen from", "stops", 0.6, 0.2, 3),
            "practice",
        ),
        Limit("lamp-dull", "a lamp in the frame is dull under", "stops", 0, -4, 4, "practice"),
        Limit("lamp-glares", "a lamp in the frame glares over", "stops", 4, 1, 8, "practice"),
        Limit(
            *("whites-off", "a side of the face is tinged from", "mired", 60, 10, 300),
            "filters of 60 mired are plainly seen; practice",
        ),
        Limit(
            *("whites-apart", "two sides of the face are apart from", "mired", 60, 10, 300),
            "as plainly seen as off the camera's white",
        ),
        Limit(
            *("sound", "fans are heard at the microphone over", "dB(A)", 20, 5, 60),
            "a quiet room for speech lies at 25 to 30 dB(A); ten under it nothing is added",
        ),
    )
}
"""All limits by key; typical figures, none a rule."""


def limit(setup, key):
    """Where a reading of a set-up begins.

    Parameters
    ----------
    setup : moth.document.Setup
    key : str
        Of :data:`LIMITS`.

    Returns
    -------
    float
        The set-up's own, or what is typical of its plan of work; in the unit of its kind.

    Examples
    --------
    >>> from moth.document import bare
    >>> limit(bare(), "backdrop-pulls")
    1.0
    """
    own = next((t.at for t in setup.limits if t.key == key), None)
    if own is not None:
        return own
    plan = setup.order.plan if setup.order else ""
    return float(LIMITS[key].by_plan.get(plan, LIMITS[key].typical))
