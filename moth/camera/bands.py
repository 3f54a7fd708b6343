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


DUSK, INDIGO, SLATE, COPPER, LINEN, AMBER, HOT = (
    (58, 42, 92),
    (50, 84, 168),
    (72, 132, 146),
    (190, 112, 58),
    (232, 205, 150),
    (244, 180, 66),
    (255, 86, 92),
)


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
        ("lost", "in the noise", -99.0, DUSK),
        ("deep", "deep shade", floor, INDIGO),
        ("shade", "shade, still read", -4.0, SLATE),
        ("plain-1", "between", -2.5, None),
        ("grey", "middle grey", -0.25, COPPER),
        ("plain-2", "between", 0.25, None),
        ("light", "a stop over", 0.75, LINEN),
        ("plain-3", "between", 1.25, None),
        ("near", "last half stop", last - 0.5, AMBER),
        ("clipped", "clipped", last, HOT),
    ]
    kept = [
        s
        for k, s in enumerate(steps)
        if k in (0, 1) or s[0] in ("near", "clipped") or floor < s[2] < last - 0.5
    ]
    return [Band(*s) for s in kept]
