"""Pictures opened in a process of their own: a file made to do harm harms nothing else."""

import io
import subprocess
import sys

import numpy as np

from ..errors import MothError
from .opening import UNREADABLE, Opened

MEMORY = 3_000_000_000
"""Bytes that opening a picture may take."""
HALF_READ = b"Exception raised reading pixel data"
"""What the reader of EXR prints, and raises nothing, when it has read a part of a picture."""
TIME = 40
"""Seconds that it may take."""


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
    >>> try:
    ...     opened_apart(b"no picture")
    ... except MothError as error:
    ...     print(error.sentence[:29])
    This file cannot be read as a
    """
    try:
        done = subprocess.run(
            [sys.executable, "-m", "moth.stills.opening"],
            input=data,
            capture_output=True,
            timeout=TIME,
            check=False,
            preexec_fn=_bounded,
        )
    except subprocess.TimeoutExpired:
        raise MothError(
            f"The picture took longer than {TIME} s to open: it was given up."
        ) from None
    if done.returncode == 2:
        raise MothError(done.stderr.decode(errors="replace").strip().splitlines()[-1])
    if done.returncode != 0 or HALF_READ in done.stderr:
        raise MothError(UNREADABLE)
    with np.load(io.BytesIO(done.stdout)) as found:
        code, linear = found["code"].astype(np.float32), bool(found["linear"])
        told = (float(found[k]) or None for k in ("focal", "stop"))
        return Opened(code, linear, *told)


def _bounded():
    import resource

    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (TIME, TIME))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
