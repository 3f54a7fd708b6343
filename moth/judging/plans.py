"""Plans of work: their steps, what to look at in each, and what each asks of the light."""

from dataclasses import dataclass

from ..document import Order, Step


@dataclass(frozen=True)
class Want:
    """What a plan asks of the light; every figure is typical, none a rule."""

    name: str
    steps: tuple
    key: float
    """Key side against the camera's stop [stops]."""
    ratio: float
    """(key + fill) : fill."""
    edge: bool
    """Whether the outline is to read all round: else a faint one will do."""
    backdrop: float
    """Backdrop under the lit skin [stops]."""
    within: float
    """How far the backdrop may be off that [stops]."""


def _in_order(keys):
    return tuple(keys.split())


PLANS = {
    "natural": Want(
        name="Natural: what the place gives",
        steps=_in_order(
            "frame keep fixed key fill background separation control eye-light instruments note"
        ),
        key=0.0,
        ratio=2.8,
        edge=False,
        backdrop=1.3,
        within=1.0,
    ),
    "three-point": Want(
        name="Three-point: key, fill, edge",
        steps=_in_order(
            "frame keep fixed key fill separation background eye-light control instruments note"
        ),
        key=0.0,
        ratio=4.0,
        edge=True,
        backdrop=2.0,
        within=0.7,
    ),
    "high-contrast": Want(
        name="High contrast: mostly shade",
        steps=_in_order(
            "frame keep fixed key separation background fill control eye-light instruments note"
        ),
        key=-0.3,
        ratio=11.0,
        edge=False,
        backdrop=3.5,
        within=1.0,
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
