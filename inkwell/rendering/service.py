"""The engine that this process asks, as the settings say, and how a request waits for it."""

import functools
import hashlib
from concurrent.futures import TimeoutError as TooLong

from django.conf import settings
from django.db import connection

from inkwell.config.problems import Problem
from inkwell.scans.supply import supply
from moth.document import Setup

from .apart import RemoteEngine
from .engine import Engine

PATIENCE = 120.0
"""How long a request waits for an answer [s]."""


@functools.cache
def engine():
    """The engine, inside this process or apart from it (settings.ENGINE)."""
    if settings.ENGINE == "inside":
        return _Supplied(Engine())
    secret = hashlib.blake2b(settings.SECRET_KEY.encode(), digest_size=32, person=b"engine")
    return _Supplied(RemoteEngine(settings.LOCAL_DIR, secret.digest()))


class _Supplied:
    """The engine, which has no database: the models that a set-up names are laid where it finds
    them before it is asked.
    """

    def __init__(self, engine):
        self._engine = engine

    def __getattr__(self, name):
        found = getattr(self._engine, name)
        if not callable(found):
            return found

        def ask(*args):
            for document in args:
                if isinstance(document, Setup):
                    supply(document)
            return found(*args)

        return ask


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
