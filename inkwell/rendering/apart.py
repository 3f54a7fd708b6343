"""The engine in a process of its own: how others ask it, and how it is kept alive.

It listens on a socket in the local folder that its owner alone may open. Whoever needs it first
starts it; it ends by itself when nobody has been connected for a while. The socket's name holds a
digest of the code and the frame's size, so that no engine is asked that would answer otherwise: an
old one after an upgrade, or one that makes frames of another size.
"""

import fcntl
import functools
import hashlib
import itertools
import logging
import os
import subprocess
import sys
import threading
import time
from concurrent.futures import Future
from multiprocessing import AuthenticationError
from multiprocessing.connection import Client, Listener
from pathlib import Path

from moth.engine.caching import model_digest
from moth.errors import Cancelled

from .away import EngineAway
from .engine import Engine
from .jobs import FULL

log = logging.getLogger(__name__)
IDLE = 15.0
"""How long an engine outlives its last connection [s]: a server that restarts finds it warm."""
STARTING = 60.0
"""How long one that was started may take to listen [s]."""
MEMORY = {"MALLOC_MMAP_THRESHOLD_": "1000000"}
"""Environment of an engine: arrays from a megabyte on are given back at once, mallopt(3). Left to
itself the C library learns to keep blocks of up to 32 MB, and an engine that kept 0.3 GB of results
held 2.3 GB after a dozen places; so it holds 0.9, and is no slower.
"""
CORES = {"OPENBLAS_NUM_THREADS": "1"}
"""Environment of an engine: it shares its work over the cores itself, and products of matrices that
do so too wait for each other. With one thread the first layer of a moved light took 170 ms of all
cores instead of 220, and 105 ms in all instead of 115 (the instrument room, two hyperthreads).
"""
METHODS = {"check", "look", "layer", "give_up", "read", "ask", "ask_of_picture", "state"}


def socket_of(folder):
    """Path of the socket for this code and frame in a local folder."""
    here = Path(__file__).parent
    digest = hashlib.blake2b(repr(FULL).encode(), digest_size=4)
    for file in sorted(here.glob("*.py")) + sorted(here.parents[1].glob("moth/**/*.py")):
        digest.update(file.read_bytes())
    return str(Path(folder) / f"engine-{model_digest()[:8]}{digest.hexdigest()}")


def serve(path, secret):
    """Answer on a socket until nobody has been connected for :data:`IDLE`."""
    # Answers are read while layers are rendered: at Python's usual 5 ms a turn each would wait for
    # the other's glue between two compiled loops.
    sys.setswitchinterval(5e-4)
    engine, connected, last = Engine(), [], time.monotonic()
    hand = Path(path).parent / HAND
    if os.path.exists(path):
        os.unlink(path)
    with Listener(path, "AF_UNIX", authkey=secret) as listener:
        os.chmod(path, 0o600)

        def accept():
            while True:
                try:
                    connection = listener.accept()
                except OSError:
                    return
                except Exception:  # somebody without the secret
                    continue
                connected.append(connection)
                threading.Thread(
                    target=_attend, args=(engine, connection, connected, hand), daemon=True
                ).start()

        threading.Thread(target=accept, daemon=True).start()
        while connected or time.monotonic() - last < IDLE:
            if connected:
                last = time.monotonic()
            time.sleep(0.5)
    # Rendering threads hold nothing that must be put down.
    os._exit(0)


HAND = "hand"
"""File in the local folder that is touched when a hand wants light."""


def _attend(engine, connection, connected, hand):
    sending = threading.Lock()

    def send(number, ok, value):
        with sending:
            try:
                connection.send((number, ok, value))
            except (OSError, EOFError):
                pass
            except Exception as error:  # a value that cannot be sent
                log.error("an answer cannot be sent", exc_info=error)
                connection.send((number, False, EngineAway(repr(value)[:200])))

    def settle(number, future):
        error = future.exception() if not future.cancelled() else None
        if future.cancelled():
            send(number, None, None)
        elif error is not None:
            send(number, False, error)
        else:
            send(number, True, future.result())

    try:
        while True:
            number, method, args = connection.recv()
            if method == "look":
                # What is run beside the desk sees it, and waits (moth.trials.cell).
                hand.touch()
            try:
                value = getattr(engine, method)(*args) if method in METHODS else None
            except BaseException as error:
                send(number, False, error)
                continue
            if isinstance(value, Future):
                value.add_done_callback(functools.partial(settle, number))
            else:
                send(number, True, value)
    except (OSError, EOFError):
        pass
    finally:
        connected.remove(connection)
        connection.close()


class RemoteEngine:
    """The same questions as :class:`Engine`'s, asked of another process; always with a future.

    Parameters
    ----------
    folder : str or Path
        Where the socket is.
    secret : bytes
        Both sides know it.
    """

    def __init__(self, folder, secret):
        self._folder, self._secret = Path(folder), secret
        self._lock = threading.Lock()
        self._connection = None
        self._waiting: dict[int, Future] = {}
        self._serial = itertools.count(1)

    def __getattr__(self, method):
        if method not in METHODS:
            raise AttributeError(method)
        return lambda *args: self._call(method, args)

    def _call(self, method, args):
        future: Future = Future()
        with self._lock:
            connection = self._connected()
            number = next(self._serial)
            self._waiting[number] = future
            try:
                connection.send((number, method, args))
            except (OSError, EOFError):
                self._lost(connection)
        return future

    def connect(self):
        """Start the engine if need be, before anybody asks."""
        with self._lock:
            self._connected()

    def _connected(self):
        if self._connection is None:
            path = socket_of(self._folder)
            self._connection = self._try(path) or self._start(path)
            threading.Thread(target=self._listen, args=(self._connection,), daemon=True).start()
        return self._connection

    def _try(self, path):
        try:
            return Client(path, "AF_UNIX", authkey=self._secret)
        except (OSError, EOFError, AuthenticationError):
            return None

    def _start(self, path):
        with open(f"{path}.lock", "w") as lock:
            # Of several servers that miss it one starts it.
            fcntl.flock(lock, fcntl.LOCK_EX)
            connection = self._try(path)
            if connection:
                return connection
            process = subprocess.Popen(
                [sys.executable, "-m", "inkwell.rendering", path],
                stdin=subprocess.PIPE,
                start_new_session=True,
                cwd=Path(__file__).parents[2],
                env={**MEMORY, **CORES, **os.environ},
            )
            assert process.stdin is not None
            with process.stdin as given:
                given.write(self._secret)
            until = time.monotonic() + STARTING
            while time.monotonic() < until:
                connection = self._try(path)
                if connection:
                    return connection
                time.sleep(0.05)
        raise EngineAway("the engine did not start")

    def _listen(self, connection):
        while True:
            try:
                number, ok, value = connection.recv()
            except (OSError, EOFError):
                with self._lock:
                    self._lost(connection)
                return
            future = self._waiting.pop(number, None)
            if future is None or not future.set_running_or_notify_cancel():
                continue
            if ok is None:
                future.set_exception(Cancelled())
            elif ok:
                future.set_result(value)
            else:
                future.set_exception(value)

    def _lost(self, connection):
        """Whoever waits learns it; the next question connects anew. The lock is held."""
        if self._connection is not connection:
            return
        self._connection = None
        waiting, self._waiting = self._waiting, {}
        for future in waiting.values():
            if future.set_running_or_notify_cancel():
                future.set_exception(EngineAway("the engine ended"))
