"""One source's light in a world: lamps and their images, surfaces that glow, and the balance of all
the rest.
"""

from dataclasses import dataclass

import numpy as np

from ..colour import LUMINANCE
from ..engine.caching import Keyed, cached
from ..engine.cancelling import checkpoint
from .arrival import with_images
from .cast import lobe_shots, turned_light
from .direct import conserved, on_patches
from .exchange import balance, links, samples
from .glow import matte
from .images import lobe_images
from .lobes import (
    PLAIN_SAMPLES,
    arriving,
    beam_glow,
    faint_apart,
    from_beams,
    from_glows,
    matte_glow,
    raised,
    sends_lobes,
)
from .secondary import bright_sheets, glows_of, hot_walls
from .shots import shots_of
from .slopes import slopes_of


@dataclass(frozen=True)
class Light:
    """All that a source at full and white does in a world."""

    emitters: tuple
    """Lamps, and their images in mirrors."""
    straight: np.ndarray
    """(p, 3) illuminance of each patch by lamps and their images alone [lx]."""
    lit: np.ndarray
    """(p, 3) illuminance of each patch straight from lamps and lobes [lx]."""
    radiosity: np.ndarray
    """(p, 3) of each patch, all orders [lm/m^2]."""
    glows: tuple
    """Surfaces that are followed as sources."""
    rest: np.ndarray
    """(p, 3) radiosity that is left to the links, the glows taken out."""
    lobed: np.ndarray
    """(p, 3) radiosity for rays that a lobe turned last: less what glows send on through lobes."""
    slopes: np.ndarray
    """(p, 3, 3) how that changes over flat patches; see :func:`moth.transport.slopes.slopes_of`."""

    @property
    def by_turn(self):
        """What patches send to rays that nothing, a lobe or a mirror turned last: see
        :data:`moth.transport.walks.STRAIGHT`.
        """
        return self.rest, self.lobed, self.radiosity


def light_key(world, source):
    """What tells a source in a world from all others: of their content hashes."""
    return f"light/{world.key}/{source.key}"


def light_of(world, source):
    """A source's light, worked out once a world.

    Parameters
    ----------
    world : moth.world.World
    source : Source

    Returns
    -------
    Light

    Raises
    ------
    Cancelled
    """
    return _light(Keyed(light_key(world, source), (world, source)))


@cached("light in a world")
def _light(keyed):
    world, source = keyed.value
    p = world.patches
    lit = np.zeros((len(p), 3))
    emitters, beams, shots = [], [], []
    for emitter in source.emitters:
        images = with_images(world, [emitter])
        emitters += images
        found = [arrival for image in images for arrival in on_patches(world, image)]
        shot = shots_of(world, emitter)
        if shot is not None:
            found = conserved(world, found, shot)
            shots.append(shot)
        for arrival in found:
            lit += arrival.level
            beams += raised(world, arrival)
        checkpoint()
    straight = lit.copy()
    beams, by_lobes = _in_rounds(world, beams)
    lit += by_lobes
    beams, faint = faint_apart(world, beams)
    given = p.albedo * lit + p.through * lit[p.other] + faint
    if source.sky is not None:
        open_sky = np.flatnonzero(p.sky[:, 2] != 0)
        given[open_sky] += np.pi * source.sky(p.sky[open_sky])[:, None]
    checkpoint()
    radiosity = _balanced(world, given, (straight, shots))
    glows, rest = glows_of(world, given, radiosity, beams, (straight, shots))
    more, sent, faint = _through_cloths(world, glows, radiosity)
    glows, rest, lobed = glows + more, rest + faint, radiosity - sent
    taken = np.zeros(len(p), bool)
    for glow in glows:
        taken[glow.patches] = True
    slopes = slopes_of(world, rest, taken)
    return Light(tuple(emitters), straight, lit, radiosity, tuple(glows), rest, lobed, slopes)


ROUNDS, LEAST_ROUND = 5, 0.003
"""Times that light in lobes is followed to other cloth, at most, and the part of it below which it
is let be.
"""


def _in_rounds(world, beams):
    """All lobes that some raise, with themselves, and what they bring to the patches (p, 3) [lx].

    What left in lobes may fall on another cloth and leave that in lobes again: book lights, two and
    three cloths one after another.
    """
    lit = np.zeros((len(world.patches), 3))
    fresh, first = beams, sum(b.flux for b in beams)
    for _ in range(ROUNDS):
        if not fresh or sum(b.flux for b in fresh) < LEAST_ROUND * first:
            break
        found = conserved(world, from_beams(world, fresh), lobe_shots(world, _cells_of(fresh)))
        fresh = []
        for arrival in found:
            lit += arrival.level
            fresh += raised(world, arrival)
        beams = beams + fresh
    return beams, lit


def _cells_of(sources):
    return [source.cells for source in sources]


FEW_BRIGHT, MOST_BRIGHT = 64, 48
"""Light that leaves fewer patches than this (as its squares tell) is known by too few rays of the
links where it arrives: the brightest of them are then sent on place by place.
"""


def _balanced(world, given, straight):
    """Radiosity (p, 3) of all orders.

    From a patch of sun on the floor of a hall a ceiling gets light by a handful of links' rays: as
    a whole 14 % too much of it came to a face there.
    """
    p = world.patches
    earth = p.sky[:, 2] == 0
    flux = np.where(earth, given @ LUMINANCE * p.area, 0)
    if flux.sum() ** 2 >= FEW_BRIGHT * (flux**2).sum():
        return balance(world, given)
    rest = given.copy()
    glows = bright_sheets(world, rest, MOST_BRIGHT)
    glows += hot_walls(world, given, rest, earth, straight, MOST_BRIGHT)
    if not glows:
        return balance(world, given)
    sent, lit = given - rest, np.zeros_like(given)
    on = np.flatnonzero(earth)
    lit[on] = _by_glows(world, glows, on)
    if world.sheets:
        lit += turned_light(world, _cells_of(glows))
    once = p.albedo * lit + p.through * lit[p.other]
    return sent + balance(world, rest + once)


BOOK = 0.02
"""Part of all light that a cloth, board or lit wall sends evenly, and part of that which falls on
other cloths with lobes, from which it is followed through these: a book light, two cloths. By the
rays of gathering points alone it made blotches of up to a third.
"""


def _through_cloths(world, glows, radiosity):
    """What cloths and boards pass on in lobes of what glows send evenly.

    Returns
    -------
    beams : list of Glow
    sent : ndarray, shape (p, 3)
        The part of the radiosity that these follow.
    faint : ndarray, shape (p, 3)
        What the faint ones of these lobes come to, as radiosity of the sheets that they leave.
    """
    p = world.patches
    sent, faint = np.zeros((2, *radiosity.shape))
    lobed = np.flatnonzero([sends_lobes(sheet) for sheet in world.sheets])
    total = float((np.where(p.sky[:, 2] == 0, radiosity @ LUMINANCE, 0) * p.area).sum())
    senders: list = []
    beams: list = []
    for glow in glows if len(lobed) else []:
        flux = np.pi * float((glow.cells.flux @ LUMINANCE).sum())
        if glow.via or flux <= BOOK * total:
            continue
        own = np.zeros(len(p), np.float32)
        own[glow.patches] = radiosity[glow.patches] @ LUMINANCE
        fell = (links(world) @ own) * p.area
        if fell[np.isin(p.sheet, lobed) & (p.sheet != glow.sheet)].sum() > BOOK * flux:
            senders.append(matte_glow(glow))
            sent[glow.patches] = radiosity[glow.patches]
    lit = links(world) @ sent.astype(np.float32) if senders else sent
    fell = (lit @ LUMINANCE) * p.area
    for k in lobed if senders else []:
        m = world.sheets[k].material
        for side in (1, -1):
            mine = np.flatnonzero((p.sheet == k) & (p.side == side))
            if fell[mine].sum() > LEAST_ROUND * fell.sum():
                found = from_glows(world, senders, mine)
                beams += raised(world, found) if found is not None else []
            else:
                faint[mine] += m.lobe * lit[mine] * m.hue
                faint[p.other[mine]] += m.forward * lit[mine] * m.hue
    beams, weak = faint_apart(world, _in_rounds(world, beams)[0])
    found = [beam_glow(world, beam) for beam in beams]
    return found + lobe_images(world, found), sent, faint + weak


UNSURE, PLACES = 3e-4, 192
"""Patches that a few places may tell wrong by this part of all that the bright ones send are told
by so many: in a corner what goes from wall to wall was up to a quarter off.
"""


def _by_glows(world, glows, patches):
    """What glows bring to patches, mean of their places, shape (len(patches), 3) [lx]."""

    def at_places(chosen, count):
        shading = matte(*samples(world, chosen, count))
        light = sum(arriving(world, glow, shading) for glow in glows)
        return light.reshape(len(chosen), count, 3)

    light = at_places(patches, PLAIN_SAMPLES)
    out = light.mean(1)
    power = (light @ LUMINANCE) * world.patches.area[patches, None]
    doubt = power.std(1) / PLAIN_SAMPLES
    again = np.flatnonzero(doubt > UNSURE * power.mean(1).sum())
    if len(again):
        out[again] = at_places(patches[again], PLACES).mean(1)
    return out
