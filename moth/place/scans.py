"""Scans and models that were brought in: named by what is in them, kept on a shelf of files.

A document names a scan by its digest alone, for it may hold a hundred thousand triangles. Whoever
works light out finds it on this machine's shelf; where it is not, a clear error says so.
"""

import hashlib
import io
import os
import tempfile
import threading
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

import numpy as np

from ..engine.caching import cached
from ..errors import DocumentError
from .parts import box

BUDGET = 100_000
"""Triangles of a scan at most."""
_FIELDS = ("vertices", "faces", "colours", "gloss")
GONE = "The model '{name}' is not on this machine: bring its file in again."


@dataclass(frozen=True)
class Scan:
    """A surface as triangles, in axes of its own: x to its left hand, y to its front, z up, from
    the middle of its base [m, or whatever its file counts in].
    """

    vertices: np.ndarray
    """(n, 3) float32."""
    faces: np.ndarray
    """(m, 3) int32, counter-clockwise from outside."""
    colours: np.ndarray
    """(m, 3, 3) uint16: reflectance at the corners of each, BT.709, coded as sRGB codes light."""
    gloss: np.ndarray
    """(m,) bool."""
    closed: bool
    """Whether it is a closed body, whose inside nobody sees."""

    @cached_property
    def size(self):
        """Width, depth and height."""
        return np.ptp(self.vertices, axis=0).astype(float)

    @cached_property
    def albedo(self):
        """(m, 3, 3) linear."""
        return _LINEAR[self.colours]

    def scaled(self, size):
        """(n, 3) its vertices when the whole is of a size (3) [m]."""
        own = self.size
        by = np.where(own > 1e-9, np.asarray(size) / np.maximum(own, 1e-9), 1.0)
        return self.vertices * by


def decoded(code):
    """Light of code values 0..1 as sRGB codes it, of the shape given."""
    return np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4)


_LINEAR = decoded(np.arange(65536) / 65535)
"""IEC 61966-2-1."""


def coded(linear):
    """Reflectances as they are kept, of the shape given.

    Examples
    --------
    >>> coded(np.array([0.0, 0.18, 1.0])).tolist()
    [0, 30235, 65535]
    """
    linear = np.clip(linear, 0, 1)
    code = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
    return np.round(65535 * code).astype(np.uint16)


def pack(scan):
    """A scan as bytes: an archive of NumPy's."""
    file = io.BytesIO()
    fields = {name: getattr(scan, name) for name in _FIELDS}
    np.savez_compressed(file, allow_pickle=False, closed=scan.closed, **fields)
    return file.getvalue()


def digest_of(data):
    """Name of a packed scan by what is in it: 32 hexadecimal digits.

    Examples
    --------
    >>> len(digest_of(b"scan"))
    32
    """
    return hashlib.sha256(data).hexdigest()[:32]


def shelf():
    """Folder of this machine's scans: the environment's MOTH_SCANS, or one for passing use."""
    return Path(os.environ.get("MOTH_SCANS") or Path(tempfile.gettempdir()) / "moth-scans")


def on_shelf(digest):
    """Whether a scan is on this machine's shelf."""
    return (shelf() / f"{digest}.npz").exists()


def shelve(data):
    """Put a packed scan on the shelf.

    Returns
    -------
    str
        Its digest.
    """
    digest = digest_of(data)
    if not on_shelf(digest):
        shelf().mkdir(parents=True, exist_ok=True)
        # Whoever looks for it meanwhile finds none, or the whole of it.
        fresh = shelf() / f"{digest}.{os.getpid()}-{threading.get_ident()}"
        fresh.write_bytes(data)
        fresh.replace(shelf() / f"{digest}.npz")
    return digest


@cached("scans")
def scan_of(digest, name=""):
    """A scan from the shelf.

    Parameters
    ----------
    digest : str
    name : str
        Of the piece that is made from it, for the error.

    Returns
    -------
    Scan

    Raises
    ------
    DocumentError
        When it is not there, or damaged.

    Examples
    --------
    >>> corner = Scan(np.eye(3, dtype=np.float32), np.array([[0, 1, 2]], np.int32),
    ...     np.full((1, 3, 3), 30235, np.uint16), np.array([False]), False)
    >>> found = scan_of(shelve(pack(corner)))
    >>> found.size.tolist(), round(float(found.albedo[0, 0, 0]), 2)
    ([1.0, 1.0, 1.0], 0.18)
    """
    try:
        data = (shelf() / f"{digest}.npz").read_bytes()
    except OSError:
        raise DocumentError(GONE.format(name=name)) from None
    if digest_of(data) != digest:
        raise DocumentError(GONE.format(name=name))
    with np.load(io.BytesIO(data)) as found:
        return Scan(**{k: found[k] for k in _FIELDS}, closed=bool(found["closed"]))


CELL, MOST_PARTS = 0.12, 160
"""Side of the columns that a scan is parted into for what stands about it [m], and how many parts
at most: the columns grow until it is of no more.
"""


@cached("parts of scans")
def scan_parts(digest, size, name=""):
    """Boxes that a scan takes up: for stands, that look for a place, and for the plan.

    Parameters
    ----------
    digest : str
    size : tuple of float
        Of the whole [m].
    name : str

    Returns
    -------
    list of Part
        In its own axes.
    """
    scan = scan_of(digest, name)
    corners = scan.scaled(size)[scan.faces]
    cell = max(CELL, max(size[:2]) / 60)
    while True:
        found = _boxes(_spots(corners, cell / 2), cell)
        if len(found) <= MOST_PARTS:
            return found
        cell *= 1.4


def _spots(corners, step):
    """Places all over triangles (m, 3, 3), no farther apart than a step [m]: (k, 3)."""
    edges = np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(1)
    rows = np.clip(np.ceil(edges / step).astype(int), 1, 64)
    out = []
    for n in np.unique(rows):
        i, j = np.meshgrid(np.arange(n + 1), np.arange(n + 1))
        keep = i + j <= n
        b, c = i[keep] / n, j[keep] / n
        shares = np.stack([1 - b - c, b, c], 1)
        out.append((shares @ corners[rows == n]).reshape(-1, 3))
    return np.concatenate(out)


def _boxes(spots, cell):
    """Boxes about places: columns of a cell, apart where there is a gap, together where alike."""
    at = np.floor(spots[:, :2] / cell + 1e-6).astype(int)
    order = np.lexsort((spots[:, 2], at[:, 0], at[:, 1]))
    at, z = at[order], spots[order, 2]
    new = np.ones(len(z), bool)
    new[1:] = (at[1:] != at[:-1]).any(1) | (np.diff(z) > cell)
    first = np.flatnonzero(new)
    last = np.append(first[1:], len(z)) - 1
    runs = [
        [x, x + 1, y, y + 1, low, high]
        for (x, y), low, high in zip(at[first].tolist(), z[first], z[last], strict=True)
    ]
    runs = _joined(_joined(runs, 0, cell), 2, cell)
    return [
        box(
            (x0 + x1) / 2 * cell,
            (y0 + y1) / 2 * cell,
            low,
            (x1 - x0) * cell,
            (y1 - y0) * cell,
            max(high - low, 0.01),
        )
        for x0, x1, y0, y1, low, high in runs
    ]


def _joined(runs, axis, cell):
    """Runs [x0, x1, y0, y1, low, high] put together along an axis (0 or 2) where they touch and are
    of about the same height.
    """
    across = (2, 3) if axis == 0 else (0, 1)
    out: list = []
    open_ones: dict = {}
    for run in sorted(runs, key=lambda r: (r[axis], r[4])):
        key = (run[axis], *(run[k] for k in across))
        near = [
            other
            for other in open_ones.get(key, [])
            if abs(other[4] - run[4]) < cell / 2 and abs(other[5] - run[5]) < cell / 2
        ]
        if near:
            other = near[0]
            open_ones[key].remove(other)
            other[axis + 1] = run[axis + 1]
            other[4], other[5] = min(other[4], run[4]), max(other[5], run[5])
            run = other
        else:
            out.append(run)
        open_ones.setdefault((run[axis + 1], *(run[k] for k in across)), []).append(run)
    return out


def inside_scan(digest, size, points, name=""):
    """Whether points (n, 3), in its own axes [m], are inside a scan; nothing is inside one that is
    not closed. A ray straight up leaves a closed body as often as it enters, and once more from
    inside.

    Returns
    -------
    ndarray of bool, shape (n,)
    """
    found = np.zeros(len(points), bool)
    scan = scan_of(digest, name)
    if not scan.closed:
        return found
    half = np.asarray(size) / 2
    near = (np.abs(points[:, :2]) < half[:2]).all(1) & (points[:, 2] > 0)
    near &= points[:, 2] < size[2]
    if not near.any():
        return found
    corners = scan.scaled(size)[scan.faces]
    a, b, c = corners[:, 0], corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    det = b[:, 0] * c[:, 1] - b[:, 1] * c[:, 0]
    upright = np.abs(det) < 1e-12
    det = np.where(upright, 1.0, det)
    for k in np.flatnonzero(near):
        off = points[k, :2] + 1e-5 * np.array([1.0, 0.618]) - a[:, :2]
        u = (off[:, 0] * c[:, 1] - off[:, 1] * c[:, 0]) / det
        v = (b[:, 0] * off[:, 1] - b[:, 1] * off[:, 0]) / det
        over = ~upright & (u >= 0) & (v >= 0) & (u + v < 1)
        found[k] = np.sum(over & (a[:, 2] + u * b[:, 2] + v * c[:, 2] > points[k, 2])) % 2 == 1
    return found
