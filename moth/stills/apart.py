"""Pictures opened in a process of their own."""

import io

import numpy as np

from ..engine.apart import Opener
from .opening import UNREADABLE, Opened

OPENER = Opener(
    "moth.stills.opening",
    "picture",
    UNREADABLE,
    memory=3_000_000_000,
    seconds=40,
    # What the reader of EXR prints, and raises nothing, when it has read a part of a picture.
    half_read=b"Exception raised reading pixel data",
)


def opened_apart(data):
    """:func:`moth.stills.opening.open_still` in another process, within bounds.

    Parameters
    ----------
    data : bytes

    Returns
    -------
    Opened

    Raises
    ------
    MothError

    Examples
    --------
    >>> from moth.errors import MothError
    >>> try:
    ...     opened_apart(b"no picture")
    ... except MothError as error:
    ...     print(error.sentence[:29])
    This file cannot be read as a
    """
    with np.load(io.BytesIO(OPENER.open(data))) as found:
        code, linear = found["code"].astype(np.float32), bool(found["linear"])
        told = (float(found[k]) or None for k in ("focal", "stop"))
        return Opened(code, linear, *told)
