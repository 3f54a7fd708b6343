"""How far off a head may stand and still bring a level: bare, and in a softbox."""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from ..camera import key_level, source_colours
from ..colour import LUMINANCE
from ..document import Attachment, Unit
from ..metering import NEUTRAL
from ..photometry import ATTACHMENTS, HEADS, PRICE
from ..place import corners_of
from ..transport import build_emitter
from ..transport.kernels import shadow_rays
from ..transport.operands import Spots, room_for
from ..units import footcandles
from ..world import anchor

NEAREST, FARTHEST = 0.3, 120.0
"""Distances that are looked at [m]."""
BOX = Attachment(key="softbox", settings={"width": 1.2, "height": 0.9})
"""The softbox that heads are dressed with: a usual one."""
RAYS = 512


@dataclass(frozen=True)
class Reach:
    """How far off one head may stand."""

    name: str
    head: str
    bare: float | None
    """Distance from lit face to the face of whom it lights [m]; None where it is too weak at
    0.3 m.
    """
    boxed: float | None
    """The same in the softbox; None for what is too weak so."""
    fits: bool
    """Whether the softbox fits it."""
    watts: float
    weight: float
    price: str
    on_battery: bool
    room: bool
    """Whether the room is long enough for it at its farther distance."""


@dataclass(frozen=True)
class Reaching:
    """A level asked for, and how far off each head may stand for it."""

    lux: float
    footcandles: float
    longest: float | None
    """From the subject's face to the farthest corner [m]; None outdoors."""
    heads: tuple[Reach, ...]


def which_reach(setup, heads, over=0.0):
    """How far off heads may stand for what the first camera's settings ask for.

    Parameters
    ----------
    setup : moth.document.Setup
    heads : sequence of moth.solving.standins.Candidate
    over : float
        Stops over what is asked for.

    Returns
    -------
    Reaching
        Those that reach farthest first.

    Examples
    --------
    >>> from moth.document import bare
    >>> from moth.solving.standins import Candidate
    >>> heads = [Candidate(h, h) for h in ("bulb", "point-600")]
    >>> [r.head for r in which_reach(bare(), heads).heads]
    ['point-600', 'bulb']
    """
    lux = key_level(setup.cameras[0]) * 2.0**over
    found = [reach(setup, head, lux) for head in heads]
    found.sort(key=lambda r: (-(r.bare or 0.0), r.name))
    return Reaching(lux, footcandles(lux), longest_way(setup), tuple(found))


def longest_way(setup):
    """From the subject's face to the farthest corner [m]; None outdoors."""
    if setup.room.outdoors:
        return None
    off = np.asarray(corners_of(setup.room)) - anchor(setup)[:2]
    return float(np.hypot(*off.T).max())


def reach(setup, candidate, lux):
    """How far off a head may stand at full and bring a level alone, aimed straight, with nothing
    between and nothing that bounces.

    Parameters
    ----------
    setup : moth.document.Setup
        Its first camera's white is taken, as far as the head has it.
    candidate : moth.solving.standins.Candidate
    lux : float

    Returns
    -------
    Reach

    Examples
    --------
    >>> from moth.document import bare
    >>> from moth.solving.standins import Candidate
    >>> s = bare()
    >>> one, other = (reach(s, Candidate("150 W", "point-150"), lux).bare for lux in (100, 400))
    >>> round(one / other, 2)
    2.0
    """
    head = HEADS[candidate.head]
    low, high = head.cct
    unit = Unit(
        id="reach",
        name=candidate.name,
        head=candidate.head,
        position=(0.0, 0.0, 0.0),
        aim=(0.0, 1.0, 0.0),
        cct=float(np.clip(setup.cameras[0].white_balance, low, high)),
        ies=candidate.ies,
        measured=candidate.measured,
    )
    boxed, fits = None, head.group in ATTACHMENTS[BOX.key].fits
    if fits:
        boxed = _distance(setup, unit.model_copy(update={"attachments": (BOX,)}), lux)
    bare = _distance(setup, unit, lux)
    longest = longest_way(setup)
    farther = max(bare or 0.0, boxed or 0.0)
    return Reach(
        name=candidate.name,
        head=candidate.head,
        bare=bare,
        boxed=boxed,
        fits=fits,
        watts=candidate.figure("watts"),
        weight=candidate.figure("weight"),
        price=PRICE[head.price] if candidate.price is None else f"{candidate.price:g} a day",
        on_battery=head.battery > 0,
        room=longest is None or farther <= longest,
    )


def _distance(setup, unit, lux):
    emitter = build_emitter(unit)
    one = setup.model_copy(update={"units": (unit,)})
    gain = float(source_colours(one, NEUTRAL)[unit.id] @ LUMINANCE)

    def off(log_distance):
        return float(np.log(max(gain * on_axis(emitter, np.exp(log_distance)), 1e-12) / lux))

    near, far = np.log(NEAREST), np.log(FARTHEST)
    if off(near) < 0:
        return None
    if off(far) > 0:
        return FARTHEST
    return float(np.exp(brentq(off, near, far, xtol=1e-4)))


def on_axis(emitter, distance):
    """Level of a lamp on a disc on its axis, in empty space, before colour [lx].

    Parameters
    ----------
    emitter : moth.transport.Emitter
    distance : float
        From its lit face [m].

    Examples
    --------
    >>> unit = Unit(id="k", name="Key", head="point-150", position=(0, 0, 0), aim=(0, 1, 0))
    >>> round(on_axis(build_emitter(unit), 10.0))
    270
    """
    forward = emitter.vectors[2]
    point = np.asarray(emitter.centre) + distance * forward
    rays = room_for(RAYS)
    spots = Spots(point[None], -forward[None], np.zeros(1, int))
    shadow_rays(spots, np.zeros(1, int), emitter.face, 0, RAYS, rays)
    return float(np.maximum(rays.weights, 0).sum() / RAYS)
