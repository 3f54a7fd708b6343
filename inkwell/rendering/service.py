"""The engine that this process asks, as the settings say, and how a request waits for it."""

import functools
import hashlib
from concurrent.futures import TimeoutError as TooLong

from django.conf import settings
from django.db import connection

from inkwell.config.problems import Problem

from .apart import RemoteEngine
from .engine import Engine

PATIENCE = 120.0
"""How long a request waits for an answer [s]."""


@functools.cache
def engine():
    """The engine, inside this process or apart from it (settings.ENGINE)."""
    if settings.ENGINE == "inside":
        return Engine()
    secret = hashlib.blake2b(settings.SECRET_KEY.encode(), digest_size=32, person=b"engine")
    return RemoteEngine(settings.LOCAL_DIR, secret.digest())


def answered(future, patience=PATIENCE):
    """What a future brings. Whoever waits here holds no database connection meanwhile.

    Raises
    ------
    Problem
        503 when it takes too long.
    """
    free_connection()
    try:
        return future.result(patience)
    except TooLong:
        future.cancel()
        raise Problem(
            503, f"This is not worked out after {patience:.0f} s. Ask again, or simplify it."
        ) from None


def free_connection():
    """Give the database connection back to the pool; the next query takes one again."""
    if not connection.in_atomic_block:
        connection.close()
