"""Work shared out over the processor's cores: compiled loops and rays let go of the interpreter's lock."""

import os
import threading
from concurrent.futures import ThreadPoolExecutor

_here = threading.local()


def _enlist():
    _here.helps = True


_helpers = ThreadPoolExecutor(max_workers=os.cpu_count() or 1, thread_name_prefix="core", initializer=_enlist)


def shared_out(work, parts):
    """Results of `work` on each part, in their order; work that is itself a part of such goes on alone.

    Parameters
    ----------
    work : callable
    parts : list

    Returns
    -------
    list

    Raises
    ------
    Exception
        The first that any part raised.

    Examples
    --------
    >>> shared_out(lambda part: sum(part), [[1, 2], [3]])
    [3, 3]
    >>> shared_out(lambda part: shared_out(lambda k: 2 * k, part), [[1, 2], [3]])
    [[2, 4], [6]]
    """
    # A helper that waited for helpers could wait for ever.
    if len(parts) < 2 or getattr(_here, "helps", False):
        return [work(part) for part in parts]
    return list(_helpers.map(work, parts))
