"""Work that can be given up: whoever waits holds a token, and long work asks it now and then."""

import contextlib
from collections.abc import Callable, Iterator
from contextvars import ContextVar

from ..errors import Cancelled

_given_up: ContextVar[Callable[[], bool] | None] = ContextVar("given_up", default=None)


@contextlib.contextmanager
def until(given_up: Callable[[], bool] | None) -> Iterator[None]:
    """Within this, :func:`checkpoint` stops the work once `given_up` says so.

    Parameters
    ----------
    given_up : callable or None
        Without arguments; True when nobody waits for the result any more.

    Examples
    --------
    >>> with until(lambda: True):
    ...     checkpoint()
    Traceback (most recent call last):
        ...
    moth.errors.Cancelled
    """
    before = _given_up.set(given_up)
    try:
        yield
    finally:
        _given_up.reset(before)


def token() -> Callable[[], bool] | None:
    """What the present work asks, to be handed to the threads that help it."""
    return _given_up.get()


def checkpoint() -> None:
    """Stop here if nobody waits for the result any more.

    Raises
    ------
    Cancelled
    """
    given_up = _given_up.get()
    if given_up is not None and given_up():
        raise Cancelled
