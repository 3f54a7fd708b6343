"""EULUMDAT photometric files (.ldt), read and written."""

import numpy as np

from ..errors import PhotometryError
from .distribution import Distribution
from .ies import LARGEST_FILE, LARGEST_GRID, Photometry, usable


class _Lines:
    """Reads the file line by line and says which line is missing or broken."""

    def __init__(self, text):
        self.lines = text.splitlines()
        self.at = 0

    def text(self, what):
        if self.at >= len(self.lines):
            raise PhotometryError(f"The file ends before {what}: it is cut short.", "ies")
        self.at += 1
        return self.lines[self.at - 1].strip()

    def number(self, what, low=-1e12, high=1e12):
        word = self.text(what).replace(",", ".")
        try:
            value = float(word)
        except ValueError:
            raise PhotometryError(
                f"Where {what} should stand (line {self.at}) the file has '{word[:20]}'.", "ies"
            ) from None
        if not low <= value <= high:
            raise PhotometryError(
                f"{what[0].upper()}{what[1:]} is {word[:20]} (line {self.at}); it must be from"
                f" {low:g} to {high:g}.",
                "ies",
            )
        return value

    def many(self, count, what):
        return np.array([self.number(what) for _ in range(count)])


def read_ldt(text):
    """Parse an EULUMDAT file.

    Parameters
    ----------
    text : str
        The whole file.

    Returns
    -------
    Photometry
        Intensities of all lamp sets together [cd], unfolded to the whole circle; `year` is 0.

    Raises
    ------
    PhotometryError

    References
    ----------
    A. Stockmar, EULUMDAT (1990).

    Examples
    --------
    >>> lamp = read_ldt(write_ldt(Distribution(np.array([0.0, 45, 90]), np.zeros(1),
    ...     np.array([[300.0, 200, 0]])), (0.2, 0.1), "lamp"))
    >>> [round(float(c), 3) for c in lamp.distribution.candela[0]]
    [300.0, 200.0, 0.0]
    """
    if len(text) > LARGEST_FILE:
        raise PhotometryError(
            f"The file is larger than {LARGEST_FILE // 1000} kB: that is no photometric file.",
            "ies",
        )
    lines = _Lines(text.lstrip("\ufeff"))
    name = lines.text("the maker")
    lines.number("the type indicator", 0, 3)
    symmetry = int(lines.number("the symmetry indicator", 0, 4))
    planes, _ = (
        int(lines.number("the number of C planes", 1, 721)),
        lines.number("the distance between C planes"),
    )
    angles, _ = (
        int(lines.number("the number of intensities a plane", 2, 1001)),
        lines.number("the distance between intensities"),
    )
    if planes * angles > LARGEST_GRID:
        raise PhotometryError(
            f"The file claims {planes} × {angles} intensities: more than any lamp has.", "ies"
        )
    for what in (
        "the report number",
        "the luminaire's name",
        "the luminaire's number",
        "the file name",
        "the date",
    ):
        lines.text(what)
    for what in ("the length", "the width", "the height"):
        lines.number(what)
    length, width = (
        lines.number("the length of the luminous area") / 1000,
        lines.number("the width of the luminous area") / 1000,
    )
    for what in ("height C0", "height C90", "height C180", "height C270"):
        lines.number(what)
    lines.number("the downward flux fraction")
    lines.number("the light output ratio")
    factor = lines.number("the conversion factor", 1e-9)
    lines.number("the tilt")
    sets = int(lines.number("the number of lamp sets", 0, 20))
    flux, watts = 0.0, 0.0
    for _ in range(max(sets, 1)):
        lines.text("the number of lamps")
        lines.text("the type of lamps")
        flux += lines.number("the lamps' flux", 0)
        lines.text("the colour of the lamps")
        lines.text("the colour rendering")
        watts += lines.number("the watts")
    lines.many(10, "the direct ratios")
    turns, vertical = lines.many(planes, "the C angles"), lines.many(angles, "the G angles")
    stored = {0: planes, 1: 1, 2: planes // 2 + 1, 3: planes // 2 + 1, 4: planes // 4 + 1}[symmetry]
    candela = lines.many(stored * angles, "the intensities").reshape(stored, angles)
    if (
        (np.diff(vertical) <= 0).any()
        or vertical[0] < 0
        or vertical[-1] > 180
        or (np.diff(turns) <= 0).any()
    ):
        raise PhotometryError("The angles do not rise from one to the next within 0 to 180.", "ies")
    if (candela < 0).any() or flux <= 0:
        raise PhotometryError(
            "The intensities or the lamps' flux are not above zero: this lamp gives no light.",
            "ies",
        )
    candela = usable(candela, factor * flux / 1000)
    if symmetry == 1:
        horizontal, table = np.zeros(1), candela
    else:
        horizontal, table = _whole_circle(symmetry, turns, planes, candela)
    size = (-length, 0.0, 0.0) if width == 0 and length > 0 else (width, length, 0.0)
    return Photometry(
        Distribution(vertical, horizontal, table), 0, {"MAKER": name}, size, watts, flux
    )


def _whole_circle(symmetry, turns, planes, candela):
    """Rows for every C plane and 360 deg from those that the symmetry stores."""
    at = np.arange(planes)
    if symmetry == 2:  # about C0-C180
        at = np.minimum(at, planes - at)
    elif symmetry == 3:  # about C90-C270, stored from C270 by way of C0 to C90
        half = (at - 3 * planes // 4) % planes
        at = np.minimum(half, planes - half)
    elif symmetry == 4:
        at = np.minimum(at, planes - at)
        at = np.minimum(at, planes // 2 - at)
    if at.max() >= len(candela):
        raise PhotometryError(
            f"{planes} C planes do not fit the symmetry that the file declares.", "ies"
        )
    table = candela[at]
    return np.append(turns, 360.0), np.concatenate([table, table[:1]])


def write_ldt(distribution, size, name, watts=0.0):
    """EULUMDAT text of a distribution.

    Parameters
    ----------
    distribution : Distribution
    size : (float, float)
        Length along turn 0/180 and width of the luminous area [m]; width 0 for round.
    name : str
    watts : float

    Returns
    -------
    str

    Examples
    --------
    >>> from moth.photometry import from_angles
    >>> write_ldt(from_angles(1000, 40, 70), (0.2, 0.2), "Head").splitlines()[2]
    '1'
    """
    round_ = len(distribution.horizontal) == 1
    # At most as many angles as readers take; the table is interpolated linearly both before and
    # after.
    vertical = (
        distribution.vertical
        if len(distribution.vertical) <= 361
        else np.linspace(0, distribution.vertical[-1], 361)
    )
    turns = np.zeros(1) if round_ else np.linspace(0, 360, 72, endpoint=False)
    flux = distribution.lumens
    table = (
        np.stack([distribution.intensity(vertical, np.full(len(vertical), t)) for t in turns])
        * 1000
        / flux
    )
    clean = "".join(c for c in name if c.isprintable())[:78]
    mm = [f"{1000 * s:.1f}" for s in (size[0], size[1])]
    lines = [
        clean,
        "3",
        "1" if round_ else "0",
        str(len(turns)),
        "0" if round_ else "5",
        str(len(vertical)),
        f"{vertical[1] - vertical[0]:g}",
        "",
        clean,
        "",
        "",
        "",
        *mm,
        "0",
        *mm,
        "0",
        "0",
        "0",
        "0",
        "100",
        "100",
        "1",
        "0",
        "1",
        "1",
        "lamp",
        f"{flux:.6g}",
        "",
        "",
        f"{watts:g}",
        *["0"] * 10,
        *(f"{t:g}" for t in turns),
        *(f"{v:.6g}" for v in vertical),
        *(f"{c:.7g}" for c in table.ravel()),
    ]
    return "\r\n".join(lines) + "\r\n"
