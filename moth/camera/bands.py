"""Bands of exposure, in stops about middle grey: what the banded picture paints and its legend
says.
"""

from dataclasses import dataclass

from .curves import curve_of
from .sensors import stops_under


@dataclass(frozen=True)
class Band:
    """From `low` stops on, up to the next band; without a colour the picture stays grey there."""

    key: str
    name: str
    low: float
    colour: tuple[int, int, int] | None
    pattern: str = ""
    """"dots" or "hatch" of `ink` over the colour: the ends are told without hue, too."""
    ink: tuple[int, int, int] | None = None


DEEP, DUSK, SLATE, STONE, PAPER, GLOW, LAMP = (
    (20, 22, 31),
    (38, 50, 82),
    (76, 92, 122),
    (150, 140, 118),
    (205, 190, 150),
    (247, 199, 102),
    (255, 246, 224),
)
"""From ink by way of paper to the lamp: each is lighter than the one before it, so that the order
holds without colour vision.
"""


def bands_of(camera):
    """Default bands for a camera: its floor and its clip where curve and sensor put them, skin and
    grey where they usually sit.

    Parameters
    ----------
    camera : moth.document.Camera

    Returns
    -------
    list of Band
        Rising; the first begins at minus infinity, given as -99.

    Examples
    --------
    >>> from moth.document import Camera
    >>> bands = bands_of(Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1)))
    >>> [(b.key, round(b.low, 1)) for b in bands][:2], bands[-1].key, round(bands[-1].low, 2)
    ([('lost', -99.0), ('deep', -9.0)], 'clipped', 2.47)
    """
    curve = curve_of(camera)
    floor = -stops_under(camera)
    last = curve.over
    steps = [
        Band("lost", "in the noise", -99.0, DEEP, "dots", SLATE),
        Band("deep", "deep shade", floor, DUSK),
        Band("shade", "shade, still read", -4.0, SLATE),
        Band("plain-1", "between", -2.5, None),
        Band("grey", "middle grey", -0.25, STONE),
        Band("plain-2", "between", 0.25, None),
        Band("light", "a stop over", 0.75, PAPER),
        Band("plain-3", "between", 1.25, None),
        Band("near", "last half stop", last - 0.5, GLOW),
        Band("clipped", "clipped", last, LAMP, "hatch", (196, 120, 20)),
    ]
    return [
        band
        for k, band in enumerate(steps)
        if k in (0, 1) or band.key in ("near", "clipped") or floor < band.low < last - 0.5
    ]
