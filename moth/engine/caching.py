"""Caching by content: equal content, equal key, one result."""

import functools
import hashlib
import json
import threading
from collections import OrderedDict


def content_hash(*parts):
    """Hash of plain data; equal content gives equal keys.

    Examples
    --------
    >>> content_hash({"b": 1, "a": 2}) == content_hash({"a": 2, "b": 1})
    True
    """
    text = json.dumps(parts, sort_keys=True, separators=(",", ":"), default=str)
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()


class Keyed:
    """What a cached function works from, known to the cache by its key alone.

    Examples
    --------
    >>> Keyed("a", 1) == Keyed("a", 2), Keyed("a", 1) == Keyed("b", 1)
    (True, False)
    """

    def __init__(self, key, value):
        self.key, self.value = key, value

    def __eq__(self, other):
        return self.key == other.key

    def __hash__(self):
        return hash(self.key)


def kept(maxsize):
    """Decorator: results of a function of one :class:`Keyed` are kept, each worked out once though
    several threads ask.

    Examples
    --------
    >>> calls = []
    >>> @kept(2)
    ... def double(keyed):
    ...     calls.append(keyed.key)
    ...     return 2 * keyed.value
    >>> double(Keyed("a", 1)), double(Keyed("a", 1)), calls
    (2, 2, ['a'])
    """

    def decorate(work):
        results: OrderedDict = OrderedDict()
        guard = threading.Lock()
        busy: dict = {}

        @functools.wraps(work)
        def ask(keyed):
            with guard:
                if keyed.key in results:
                    results.move_to_end(keyed.key)
                    return results[keyed.key]
                lock = busy.setdefault(keyed.key, threading.Lock())
            with lock:
                with guard:
                    if keyed.key in results:
                        return results[keyed.key]
                try:
                    value = work(keyed)
                finally:
                    with guard:
                        busy.pop(keyed.key, None)
                with guard:
                    results[keyed.key] = value
                    while len(results) > maxsize:
                        results.popitem(last=False)
                return value

        return ask

    return decorate
