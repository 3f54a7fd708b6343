"""What was worked out is kept by content, all of it under one budget of bytes.

*Key*: a hash of exactly what a result follows from, the model's own code and figures included.
*Budget*: one limit for every kind of thing kept; the least recently used goes first.
*Single flight*: of several threads that ask for one key, one works and the others wait for it.
"""

import functools
import hashlib
import json
import os
import sys
import threading
from collections import Counter, OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass, fields, is_dataclass
from pathlib import Path
from typing import Any

import numpy as np
from scipy.sparse import issparse

DEFAULT_BUDGET = 1_000_000_000
"""Bytes kept at most, unless the environment's MOTH_CACHE_BYTES says otherwise."""
ENTRY = 200
"""Bytes an entry costs besides its value; typical."""
_MODEL = ("engine", "document", "photometry", "materials", "colour", "place", "world", "transport")
_DATA = {".py", ".npz", ".json", ".csv"}


@functools.cache
def model_digest() -> str:
    """Hash of the code and the figures that light is worked out from.

    A part of every key: a cloth whose figures are mended, or a loop that is, makes no use of what
    was kept before, here, on disk or in a browser.

    Examples
    --------
    >>> len(model_digest())
    16
    """
    home = Path(__file__).resolve().parents[1]
    digest = hashlib.blake2b(digest_size=8)
    for room in _MODEL:
        for file in sorted((home / room).rglob("*")):
            if file.suffix in _DATA:
                digest.update(file.name.encode() + file.read_bytes())
    return digest.hexdigest()


def content_hash(*parts: Any) -> str:
    """Hash of plain data; equal content gives equal keys.

    Examples
    --------
    >>> content_hash({"b": 1, "a": 2}) == content_hash({"a": 2, "b": 1})
    True
    """
    text = json.dumps([model_digest(), *parts], sort_keys=True, separators=(",", ":"), default=str)
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()


def size_of(value: Any) -> int:
    """Bytes that a value holds: arrays, and what dataclasses, tuples, lists and dicts hold of them.

    Examples
    --------
    >>> size_of((np.zeros(1000), {"a": np.zeros(1000)})) > 16_000
    True
    """
    if isinstance(value, np.ndarray):
        return value.nbytes if value.base is None else min(value.nbytes, _whole(value).nbytes)
    if issparse(value):
        return sum(size_of(getattr(value, k)) for k in ("data", "indices", "indptr"))
    if isinstance(value, (bytes, str)):
        return sys.getsizeof(value)
    if is_dataclass(value) and not isinstance(value, type):
        # What stands there under two names is there once.
        parts = {id(part): part for part in (getattr(value, f.name) for f in fields(value))}
        return ENTRY + sum(size_of(part) for part in parts.values())
    if isinstance(value, dict):
        return ENTRY + sum(size_of(v) for v in value.values())
    if isinstance(value, (tuple, list)):
        return ENTRY + sum(size_of(v) for v in value)
    return int(getattr(value, "nbytes", 64))


def _whole(array: np.ndarray) -> np.ndarray:
    """The array that a view looks into."""
    while isinstance(array.base, np.ndarray):
        array = array.base
    return array


class Keyed:
    """What a cached function works from, known to the cache by its key alone.

    Examples
    --------
    >>> Keyed("a", 1) == Keyed("a", 2), Keyed("a", 1) == Keyed("b", 1)
    (True, False)
    """

    def __init__(self, key: Hashable, value: Any):
        self.key, self.value = key, value

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Keyed) and self.key == other.key

    def __hash__(self) -> int:
        return hash(self.key)


@dataclass(frozen=True)
class Holding:
    """What is kept of one kind."""

    kind: str
    entries: int
    size: int
    """Bytes."""
    hits: int
    misses: int


class Store:
    """Results by kind and key, under one budget.

    Parameters
    ----------
    budget : int
        Bytes kept at most. A single result larger than that is given out and not kept.

    Examples
    --------
    >>> store = Store(budget=1500)
    >>> [float(store.get(kind, 1, lambda: np.zeros(100)).sum()) for kind in "ab"]
    [0.0, 0.0]
    >>> [(h.kind, h.entries) for h in store.holdings()]  # both do not fit
    [('b', 1)]
    """

    def __init__(self, budget: int):
        self.budget, self.size = budget, 0
        self._results: OrderedDict[tuple[str, Hashable], tuple[Any, int]] = OrderedDict()
        self._busy: dict[tuple[str, Hashable], threading.Lock] = {}
        self._guard = threading.Lock()
        self._hits: Counter[str] = Counter()
        self._misses: Counter[str] = Counter()

    def get(self, kind: str, key: Hashable, work: Callable[[], Any]) -> Any:
        """The result kept, or that of `work`, which is done once though several threads ask."""
        at = (kind, key)
        while True:
            with self._guard:
                if at in self._results:
                    self._results.move_to_end(at)
                    self._hits[kind] += 1
                    return self._results[at][0]
                lock = self._busy.setdefault(at, threading.Lock())
            with lock:
                with self._guard:
                    if at in self._results or self._busy.get(at) is not lock:
                        continue
                    self._misses[kind] += 1
                try:
                    value = work()
                    self.put(kind, key, value)
                    return value
                finally:
                    with self._guard:
                        self._busy.pop(at, None)

    def put(self, kind: str, key: Hashable, value: Any) -> None:
        """Keep a result, and drop what was used longest ago until all fits."""
        size = size_of(value) + ENTRY
        at = (kind, key)
        with self._guard:
            if at in self._results:
                self.size -= self._results.pop(at)[1]
            if size > self.budget:
                return
            self._results[at] = value, size
            self.size += size
            while self.size > self.budget:
                self.size -= self._results.popitem(last=False)[1][1]

    def peek(self, kind: str, key: Hashable) -> Any:
        """The result kept, or None; it counts as used."""
        with self._guard:
            if (kind, key) not in self._results:
                return None
            self._results.move_to_end((kind, key))
            return self._results[kind, key][0]

    def holdings(self) -> list[Holding]:
        """What is kept, kind by kind, the largest first."""
        with self._guard:
            entries: Counter[str] = Counter()
            sizes: Counter[str] = Counter()
            for (kind, _), (_, size) in self._results.items():
                entries[kind] += 1
                sizes[kind] += size
            kinds = [
                Holding(k, entries[k], sizes[k], self._hits[k], self._misses[k]) for k in entries
            ]
        return sorted(kinds, key=lambda h: -h.size)

    def clear(self) -> None:
        """Forget everything."""
        with self._guard:
            self._results.clear()
            self.size = 0


STORE = Store(int(os.environ.get("MOTH_CACHE_BYTES", DEFAULT_BUDGET)))
"""Everything this process keeps."""


def cached(kind: str) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Decorator: results of a function are kept in :data:`STORE`.

    Its arguments are the key: :class:`Keyed` ones by their key alone, others by equality. Functions
    that share a kind do not meet each other's results.

    Examples
    --------
    >>> calls = []
    >>> @cached("doubles")
    ... def double(keyed):
    ...     calls.append(keyed.key)
    ...     return 2 * keyed.value
    >>> double(Keyed("a", 1)), double(Keyed("a", 1)), calls
    (2, 2, ['a'])
    """

    def decorate(work: Callable[..., Any]) -> Callable[..., Any]:
        @functools.wraps(work)
        def ask(*args: Any) -> Any:
            # A Keyed holds what the result is made from: only its key is kept.
            key = work.__qualname__, *(a.key if isinstance(a, Keyed) else a for a in args)
            return STORE.get(kind, key, lambda: work(*args))

        return ask

    return decorate
