"""Photometric files of either kind, told apart by what they hold."""

import numpy as np

from .eulumdat import read_ldt
from .ies import read_ies


def read_photometry(text):
    """Photometry of an IES or EULUMDAT file.

    Parameters
    ----------
    text : str or bytes

    Returns
    -------
    Photometry

    Raises
    ------
    PhotometryError
    """
    if isinstance(text, bytes):
        text = text.decode("latin-1")
    # The third line of EULUMDAT is its symmetry, one digit; an IES file has words or TILT there.
    head = text.splitlines()[:5]
    if len(head) == 5 and "TILT" not in text.upper()[:20_000] and head[2].strip() in set("01234"):
        return read_ldt(text)
    return read_ies(text)


def write_ies(distribution, size, name, watts=0.0):
    """IES LM-63-2002 text of a distribution, absolute photometry.

    Parameters
    ----------
    distribution : Distribution
    size : tuple of float
        Length along turn 0/180 and width of the luminous opening [m], and its height where it has
        one; (0, 0) for a point, a negative width for round, three negative ones for a ball.
    name : str
    watts : float

    Returns
    -------
    str

    References
    ----------
    ANSI/IESNA LM-63-2002.

    Examples
    --------
    >>> from moth.photometry import from_angles
    >>> round(read_ies(write_ies(from_angles(1000, 40, 70), (0.2, 0.2),
    ...     "Head")).distribution.beam_angle, 2)
    40.0
    """
    d = distribution
    clean = "".join(c for c in name if c.isascii() and c.isprintable())[:60] or "lamp"
    turns = d.horizontal if len(d.horizontal) <= 73 else np.linspace(0, 360, 73)
    table = np.stack([d.intensity(d.vertical, np.full(len(d.vertical), t)) for t in turns])
    lines = [
        "IESNA:LM-63-2002",
        f"[LUMINAIRE] {clean}",
        "[MANUFAC] none",
        "TILT=NONE",
        f"1 -1 1 {len(d.vertical)} {len(turns)} 1 2 {size[1]:.4g} {size[0]:.4g}"
        f" {size[2] if len(size) > 2 else 0:.4g}",
        f"1 1 {watts:g}",
    ]
    for row in (d.vertical, turns, *table):
        lines += [
            " ".join(f"{value:.7g}" for value in row[k : k + 12]) for k in range(0, len(row), 12)
        ]
    return "\r\n".join(lines) + "\r\n"
