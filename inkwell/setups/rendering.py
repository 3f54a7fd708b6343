"""Layers on demand: one queue, coarse before full, newest wish first, the unwanted stopped."""

import itertools
import sys
import threading
import time
from collections import OrderedDict
from concurrent.futures import CancelledError, Future, wait
from contextlib import contextmanager

from moth.engine.cancelling import until
from moth.errors import Cancelled
from moth.judging import SIZE, coarse_layer
from moth.transport import decode_layer, encode_layer, layer_key, render_layer, see, sources
from moth.world import build_world

COARSE, FULL = SIZE, (640, 360)
LARGEST_CACHE = 256_000_000
"""Bytes of layers kept in memory."""
PATIENCE = 0.4
"""How long [s] the meter lets coarse pictures go first, and whole pictures the meter."""
_serial = itertools.count()
# The meter is read while the frame is rendered: at Python's usual 5 ms a turn each would wait for
# the other's glue between two compiled loops.
sys.setswitchinterval(5e-4)


class Job:
    """One layer that somebody waits for."""

    def __init__(self, key, setup, camera, source, size):
        self.key, self.setup, self.camera, self.source, self.size = key, setup, camera, source, size
        self.future: Future = Future()
        self.wanted_by: set = set()
        self.order = (size[0] * size[1], -next(_serial))

    def cancelled(self):
        return not self.wanted_by


class LayerDesk:
    """Renders layers in one background thread (each uses all cores) and keeps the bytes by
    content.
    """

    def __init__(self):
        self._lock = threading.Condition()
        self._done: OrderedDict = OrderedDict()
        self._size = 0
        self._waiting: dict = {}
        self._running = None
        self._wishes: dict = {}  # client -> keys
        self._rooms: dict = {}  # key -> set-ups it was asked for through
        self._thread = None
        self._meters = 0  # that are at work or wait for their turn

    def wish(self, client, setup_pk, setup, camera):
        """Replace what a client wants by the layers of a set-up; returns source id -> {coarse,
        full} keys.
        """
        keys, jobs = {}, []
        for source in sources(setup):
            pair = {}
            for name, size in (("coarse", COARSE), ("full", FULL)):
                key = pair[name] = layer_key(setup, camera, source, size)
                jobs.append((key, source, size))
            keys[source.id] = pair
        with self._lock:
            wanted = {key for key, _, _ in jobs}
            self._give_up(client, self._wishes.get(client, set()) - wanted)
            self._wishes[client] = wanted
            for key, source, size in jobs:
                self._rooms.setdefault(key, set()).add(setup_pk)
                if key in self._done:
                    continue
                job = self._job(key)
                if job is None or job.cancelled():
                    job = self._waiting[key] = Job(key, setup, camera, source, size)
                job.wanted_by.add(client)
            if len(self._wishes) > 500:
                self._wishes.pop(next(iter(self._wishes)))
            if len(self._rooms) > 20_000:
                self._rooms = {
                    k: v for k, v in self._rooms.items() if k in self._done or k in self._waiting
                }
            if self._thread is None:
                self._thread = threading.Thread(target=self._work, name="layers", daemon=True)
                self._thread.start()
            self._lock.notify_all()
        return keys

    def drop(self, client):
        """Give up all that a client still waits for."""
        with self._lock:
            self._give_up(client, self._wishes.pop(client, set()))

    def _give_up(self, client, keys):
        for key in keys:
            job = self._job(key)
            if job:
                job.wanted_by.discard(client)
                if not job.wanted_by and self._waiting.pop(key, None):
                    job.future.cancel()

    def _job(self, key):
        if self._running is not None and self._running.key == key and not self._running.cancelled():
            return self._running
        return self._waiting.get(key)

    def fetch(self, setup_pk, key, patience=120.0):
        """Bytes of a layer, waiting for it.

        Raises
        ------
        KeyError
            When nobody asked for it through this set-up.
        Cancelled
            When it was given up for a newer wish.
        """
        with self._lock:
            if setup_pk not in self._rooms.get(key, ()):
                raise KeyError(key)
            if key in self._done:
                self._done.move_to_end(key)
                return self._done[key]
            job = self._job(key)
        if job is None:
            raise Cancelled
        try:
            return job.future.result(patience)
        except CancelledError:
            raise Cancelled from None

    @contextmanager
    def meter_turn(self, keys):
        """The meter's turn: when these layers are here or given up, and before a whole picture is
        begun.

        On two cores all at once would make all late. Nobody waits longer than PATIENCE.
        """
        with self._lock:
            self._meters += 1
            jobs = [job for job in map(self._job, keys) if job]
        try:
            wait([job.future for job in jobs], PATIENCE)
            yield
        finally:
            with self._lock:
                self._meters -= 1
                self._lock.notify_all()

    def coarse(self, setup):
        """Small layers of all sources by the first camera: those that are here already, the others
        rendered now.
        """
        found = {}
        for source in sources(setup):
            with self._lock:
                data = self._done.get(layer_key(setup, setup.cameras[0], source, COARSE))
            found[source.id] = decode_layer(data) if data else coarse_layer(setup, source)
        return found

    def _next(self):
        """The job whose turn it is, waited for; the lock is held."""
        patience = PATIENCE
        while True:
            job = min(self._waiting.values(), key=lambda j: j.order, default=None)
            if job and (job.size == COARSE or not self._meters or patience <= 0):
                return self._waiting.pop(job.key)
            start = time.monotonic()
            self._lock.wait(patience if job else None)
            if job:
                patience -= time.monotonic() - start

    def _work(self):
        while True:
            with self._lock:
                job = self._running = self._next()
            try:
                world = build_world(job.setup)
                view = see(world, job.setup, job.camera, job.size)
                with until(job.cancelled):
                    layer = render_layer(world, view, job.source, job.setup.haze)
                data = encode_layer(layer)
            except BaseException as error:
                with self._lock:
                    self._running = None
                job.future.set_exception(error)
                continue
            with self._lock:
                self._running = None
                self._done[job.key] = data
                self._size += len(data)
                while self._size > LARGEST_CACHE:
                    old, dropped = self._done.popitem(last=False)
                    self._rooms.pop(old, None)
                    self._size -= len(dropped)
            job.future.set_result(data)


desk = LayerDesk()
"""The one of this process."""
