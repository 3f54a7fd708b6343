"""Work shared out over the processor's cores: compiled loops and rays let go of the interpreter's
lock.
"""

import os
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager

from .cancelling import checkpoint, token, until

_here = threading.local()


def _enlist():
    _here.helps = True


_helpers = ThreadPoolExecutor(
    max_workers=os.cpu_count() or 1, thread_name_prefix="core", initializer=_enlist
)


@contextmanager
def on_one_core() -> Iterator[None]:
    """Work that this thread does meanwhile is not shared out: its process is one of many.

    Examples
    --------
    >>> with on_one_core():
    ...     shared_out(lambda part: threading.current_thread().name, [1, 2])
    ['MainThread', 'MainThread']
    """
    before = getattr(_here, "helps", False)
    _here.helps = True
    try:
        yield
    finally:
        _here.helps = before


TILE, _LEAST_TILE, _SHARES = 12_288, 512, 8
"""Not by this machine's cores: rays are drawn tile by tile, and a picture is the same
everywhere.
"""


def tiles(indices, size=TILE):
    """Parts of about a size, and enough of them for every core to have its share: a small picture
    is little more than one tile.

    Examples
    --------
    >>> [len(tile) for tile in tiles(range(10_000))]
    [1250, 1250, 1250, 1250, 1250, 1250, 1250, 1250]
    """
    size = max(_LEAST_TILE, min(size, -(-len(indices) // _SHARES)))
    return [indices[k : k + size] for k in range(0, len(indices), size)]


def shared_out(work, parts):
    """Results of `work` on each part, in their order; work that is itself a part of such goes on
    alone. It stops when nobody waits for it any more (:mod:`moth.engine.cancelling`).

    Parameters
    ----------
    work : callable
    parts : list

    Returns
    -------
    list

    Raises
    ------
    Cancelled
    Exception
        The first that any part raised.

    Examples
    --------
    >>> shared_out(lambda part: sum(part), [[1, 2], [3]])
    [3, 3]
    >>> shared_out(lambda part: shared_out(lambda k: 2 * k, part), [[1, 2], [3]])
    [[2, 4], [6]]
    """
    given_up = token()

    def guarded(part):
        with until(given_up):
            checkpoint()
            return work(part)

    # A helper that waited for helpers could wait for ever.
    if len(parts) < 2 or getattr(_here, "helps", False):
        return [guarded(part) for part in parts]
    return list(_helpers.map(guarded, parts))
