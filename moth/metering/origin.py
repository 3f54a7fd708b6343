"""Where the light on a face comes from: the lamp, a cloth, a board, a mirror or a patch of wall."""

from dataclasses import dataclass

import numpy as np

from ..colour import LUMINANCE
from ..engine.caching import Keyed, cached, content_hash
from ..transport import light_key, light_of, receive
from ..transport.glow import glow_visibility, lobes_along
from ..world import anchor
from .marks import at_head

SEEN_RAYS = 256


@dataclass(frozen=True)
class Origin:
    """The one surface that brings most of a source's light to the face."""

    kind: str
    """"lamp", "mirror", "sheet" or "wall"."""
    place: np.ndarray
    """Its middle, weighted by what it sends [m]; of a mirror the lamp's image behind it."""
    sheet: int
    """Index of the sheet, -1 for none."""
    cells: np.ndarray
    """(k, 3) places that shine [m]; none for a lamp."""
    power: np.ndarray
    """(k,) what each sends to the face, relative."""


def cell_power(glow, face):
    """What each cell of a glow sends to a place, were nothing in the way [lx, shape (k,)]."""
    cells = glow.cells
    away = cells.middle - face
    distance = np.maximum(np.linalg.norm(away, axis=1), 1e-6)
    cosine = np.maximum(-(cells.normal * away).sum(1) / distance, 0)
    density = lobes_along(cells, np.arange(len(away)), -away / distance[:, None])
    return (
        cells.flux @ LUMINANCE * cosine + cells.power @ LUMINANCE * density * (cosine > 0)
    ) / distance**2


def origin_of(setup, world, source):
    """The surface by which a source lights the face most; kept by source and world.

    Parameters
    ----------
    setup : moth.document.Setup
    world : moth.world.World
    source : moth.transport.Source

    Returns
    -------
    Origin
    """
    return _origin(
        Keyed(
            content_hash(
                "origin", light_key(world, source), setup.figures[0].model_dump(mode="json")
            ),
            (setup, world, source),
        )
    )


@cached("origins of light")
def _origin(keyed):
    setup, world, source = keyed.value
    light, face = light_of(world, source), anchor(setup)
    none = np.zeros((0, 3)), np.zeros(0)
    best, most = None, -1.0
    for emitter in light.emitters:
        # Held just off the head, as for its reading: a rim's light is on the hair, not between the
        # eyes.
        held = at_head(setup, emitter.centre)
        level = float(
            receive(world, emitter, np.array([held.position]), np.array([held.direction]), [True])[
                0
            ]
        )
        if level > most or best is None:
            most, best = (
                level,
                Origin(
                    "mirror" if emitter.mirrored else "lamp",
                    emitter.centre,
                    -1,
                    *none,
                ),
            )
    groups: dict = {}
    for k, glow in enumerate(light.glows):
        if glow.via:
            level = float(_seen_power(setup, world, glow, face).sum())
            if level > most:
                most, best = level, Origin("mirror", glow.extent[0], -1, *none)
            continue
        groups.setdefault(glow.sheet if glow.sheet >= 0 else -1 - k, []).append(glow)
    for key, glows in groups.items():
        cells = np.concatenate([g.cells.middle for g in glows])
        power = np.concatenate([cell_power(g, face) for g in glows])
        if power.sum() > most:
            # A board behind a cloth is not what the face sees.
            power = np.concatenate([_seen_power(setup, world, g, face) for g in glows])
        if power.sum() > most:
            most, middle = float(power.sum()), power @ cells / power.sum()
            kind = "sheet" if key >= 0 else "wall"
            # Of a round shade no flat is its middle.
            flat = key >= 0 and not world.sheets[key].behind
            place = world.sheets[key].centre if flat else middle
            best = Origin(kind, place, max(key, -1), cells, power)
    return best or Origin("lamp", np.array([0.0, 0.0, 100.0]), -1, *none)


def _seen_power(setup, world, glow, face):
    """:func:`cell_power`, what stands in the way counted."""
    power = cell_power(glow, face)
    if not power.sum() > 0:
        return power
    held = at_head(setup, power @ glow.cells.middle / power.sum())
    place, facing = np.array([held.position]), np.array([held.direction])
    return power * float(glow_visibility(world, glow, (place, facing), SEEN_RAYS)[0])
