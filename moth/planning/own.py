"""One's own heads: a photometric file, or a head made of three readings."""

import math

from ..errors import MothError, PhotometryError
from ..photometry import HEADS, from_angles, read_photometry, write_ies

WIDEST = 160.0
"""Half of the widest field that three readings make a beam of [deg]."""


def head_file(head, distance, axis, off):
    """The photometric file of a head that was read at three places.

    A smooth beam through all three: I(g) = I0 · 2^-((g / h)^p), as
    :func:`moth.photometry.from_angles` has it.

    Parameters
    ----------
    head : str
        Of the catalogue, for the size and shape of its lit face.
    distance : float
        From the lamp's front to the meter, the same for all three [m].
    axis : float
        On the axis [lx].
    off : sequence of two (float, float)
        Angle off the axis [deg] and reading there [lx], the meter turned to the lamp.

    Returns
    -------
    str
        IES LM-63.

    Raises
    ------
    MothError
        For readings that no beam gives.

    Examples
    --------
    >>> text = head_file("point-300", 3.0, 1000, [(20, 500), (35, 100)])
    >>> d = read_photometry(text).distribution
    >>> round(float(d.intensity(0.0))), round(d.beam_angle), round(d.field_angle)
    (9000, 40, 70)
    """
    (near, first), (far, second) = sorted(off)
    known = HEADS[head]
    if not 0.3 <= distance <= 50:
        raise MothError("Hold the meter 0.3 to 50 m from the lamp.", "distance")
    if not 1 <= near < far <= WIDEST:
        raise MothError("The two readings off the axis are at two angles, from 1° on.", "off")
    if not axis > first > second > 0:
        raise MothError("Readings fall from the axis outward: no beam gives these.", "off")
    a, b = math.log2(axis / first), math.log2(axis / second)
    power = math.log(b / a) / math.log(far / near)
    if power < 0.3:
        raise MothError("The farther reading falls too little for a beam: read it again.", "off")
    half = near / a ** (1 / power)
    beam, field = 2 * half, 2 * half * math.log2(10) ** (1 / power)
    try:
        made = from_angles(axis * distance**2, beam, min(field, 2 * WIDEST))
    except PhotometryError as error:
        raise MothError(str(error), "off") from None
    round_face = known.shape in ("disc", "bulb")
    size = (known.size[0], -known.size[1]) if round_face else known.size
    return write_ies(made, size, known.name, known.watts)


def checked_file(text):
    """A photometric file as it is, once it has been read.

    Raises
    ------
    MothError
        With what is wrong with it.
    """
    read_photometry(text)
    return text
