"""Models opened in a process of their own."""

import io
import json

import numpy as np

from ..engine.apart import Opener
from .results import UNREADABLE, Brought

OPENER = Opener("moth.scans.opening", "model", UNREADABLE, memory=4_000_000_000, seconds=90)


def model_apart(data, name, up):
    """:func:`moth.scans.opening.open_model` in another process, within bounds.

    Parameters
    ----------
    data : bytes
    name : str
        Of the file.
    up : str
        "y" or "z".

    Returns
    -------
    Brought

    Raises
    ------
    moth.errors.MothError

    Examples
    --------
    >>> from moth.errors import MothError
    >>> try:
    ...     model_apart(b"no model", "chair.txt", "y")
    ... except MothError as error:
    ...     print(error.sentence[:31])
    This is no model that can be re
    """
    with np.load(io.BytesIO(OPENER.open(data, name[-80:], up))) as found:
        return Brought(found["scan"].tobytes(), tuple(json.loads(str(found["notes"]))))
