"""Layers on demand: one queue that states its rule, one thread that renders.

The rule is :func:`turn`: coarse before whole, then whoever was served longest ago, then the newest
wish; and nobody's pictures of the shelf before what that person's own desk waits for. What nobody
wants any more is dropped, and stopped if it is under way. Bytes are kept in
:data:`moth.engine.caching.STORE`, under the one budget of the process.
"""

import itertools
import logging
import threading
import time
from collections import OrderedDict
from concurrent.futures import CancelledError, Future

from moth.engine.caching import STORE
from moth.engine.cancelling import until
from moth.errors import Cancelled
from moth.transport import encode_layer, render_layer, view_of
from moth.world import build_world

from .jobs import COARSE, Job, JobState, Wanter

log = logging.getLogger(__name__)
PATIENCE = 0.4
"""How long a whole picture lets the meter go first [s]."""
WINDOWS = 500
"""Windows whose wishes are remembered; the one heard of longest ago is given up."""


def turn(jobs, served):
    """The job whose turn it is.

    Parameters
    ----------
    jobs : iterable of Job
        That wait.
    served : dict
        Person -> number of the turn they last had.

    Returns
    -------
    Job or None
    """

    jobs = list(jobs)
    hands = set().union(*(job.hands() for job in jobs))

    def rank(job):
        width, height = job.order.size
        people = (w.person for w in job.wanted_by.values())
        longest_ago = min((served.get(p, 0) for p in people), default=0)
        return job.rests(hands), width * height, longest_ago, -job.asked

    return min(jobs, key=rank, default=None)


def rendered(order):
    """Bytes of a layer, worked out here and now."""
    world = build_world(order.document)
    view = view_of(world, order.document, order.camera, order.size)
    return encode_layer(render_layer(world, view, order.source))


class LayerQueue:
    """Renders layers in one background thread, which uses all cores.

    Parameters
    ----------
    meter_waits : callable
        True while somebody waits for the meter: whole pictures let it go first.
    """

    def __init__(self, meter_waits=lambda: False):
        self._lock = threading.Condition()
        self._waiting: dict[str, Job] = {}
        self._running: Job | None = None
        self._wishes: OrderedDict = OrderedDict()  # window -> keys, the longest silent first
        self._served: dict = {}
        self._serial = itertools.count(1)
        self._meter_waits = meter_waits
        self.settled = lambda: None
        """Called when a layer is done or given up."""
        self._thread: threading.Thread | None = None

    def wish(self, window, person, orders, at_hand=True):
        """Replace what a window wants; returns a future of the bytes of each, by key.

        What is not wanted at hand, at a desk, lets that person's desk go first.
        """
        wanted = {order.key: order for order in orders}
        wanter = Wanter(person, at_hand)
        with self._lock:
            self._give_up(window, self._wishes.pop(window, set()) - wanted.keys())
            self._wishes[window] = set(wanted)
            while len(self._wishes) > WINDOWS:
                silent, keys = self._wishes.popitem(last=False)
                self._give_up(silent, keys)
            number = next(self._serial)
            futures = {
                key: self._future_of(order, window, wanter, number) for key, order in wanted.items()
            }
            if at_hand and self._running is not None:
                self._running.put_off = self._running.rests({person})
            self._lock.notify_all()
        self._begin()
        return futures

    def _future_of(self, order, window, wanter, number):
        data = STORE.peek("layers", order.key)
        if data is not None:
            ready: Future = Future()
            ready.set_result(data)
            return ready
        job = self._job(order.key)
        if job is None:
            job = self._waiting[order.key] = Job(order)
        job.wanted_by[window] = wanter
        job.asked = number
        return job.future

    def give_up(self, window):
        """Drop all that a window still waits for; what others want goes on."""
        with self._lock:
            self._give_up(window, self._wishes.pop(window, set()))
        self.settled()

    def at_work(self, person):
        """Whether somebody's desk waits for layers."""
        # Without the lock, which a thread may hold that asks the answers: each list is copied in
        # one step.
        jobs = list(self._waiting.values())
        running = self._running
        return any(person in job.hands() for job in (*jobs, *([running] if running else [])))

    def _give_up(self, window, keys):
        for key in keys:
            job = self._job(key)
            if job:
                job.wanted_by.pop(window, None)
                if job.unwanted() and self._waiting.pop(key, None):
                    job.state = JobState.GIVEN_UP
                    job.future.cancel()

    def _job(self, key):
        """The job that will bring a layer, waiting or under way; the lock is held."""
        running = self._running
        if running is not None and running.key == key and not running.unwanted():
            return running
        return self._waiting.get(key)

    def layer(self, key):
        """Future of a layer's bytes; None when nobody wants it, or no longer."""
        data = STORE.peek("layers", key)
        with self._lock:
            job = self._job(key)
            # Between the look into the store and here it may have been done.
            data = data or (STORE.peek("layers", key) if job is None else None)
        if data is not None:
            ready: Future = Future()
            ready.set_result(data)
            return ready
        return job.future if job else None

    def states(self):
        """Number of jobs by state, as the office shows them."""
        with self._lock:
            return {"waiting": len(self._waiting), "running": int(self._running is not None)}

    def wake(self):
        """Look again whose turn it is: the meter is done."""
        with self._lock:
            self._lock.notify_all()

    def _begin(self):
        with self._lock:
            if self._thread is None or not self._thread.is_alive():
                self._thread = threading.Thread(target=self._work, name="layers", daemon=True)
                self._thread.start()

    def _next(self):
        """The job whose turn it is, waited for; the lock is held."""
        patience = PATIENCE
        while True:
            job = turn(self._waiting.values(), self._served)
            if job and (job.order.size == COARSE or patience <= 0 or not self._meter_waits()):
                number = next(self._serial)
                self._served.update((w.person, number) for w in job.wanted_by.values())
                job.state = JobState.RUNNING
                return self._waiting.pop(job.key)
            start = time.monotonic()
            self._lock.wait(patience if job else None)
            if job:
                patience -= time.monotonic() - start

    def _work(self):
        while True:
            with self._lock:
                job = self._running = self._next()
            state, outcome = self._rendered(job)
            with self._lock:
                self._running = None
                job.state = state
                if state == JobState.WAITING:
                    self._waiting[job.key] = job
            if state != JobState.WAITING:
                _settle(job.future, outcome)
            self.settled()

    def _rendered(self, job):
        """What becomes of a job: its state, and its bytes or what went wrong."""
        try:
            data = STORE.peek("layers", job.key)
            if data is None:
                with until(lambda: job.unwanted() or job.put_off):
                    data = rendered(job.order)
                STORE.put("layers", job.key, data)
            return JobState.DONE, data
        except Cancelled as error:
            if job.unwanted():
                return JobState.GIVEN_UP, error
            job.put_off = False
            return JobState.WAITING, None
        except BaseException as error:
            # Told here: it may be that nobody ever fetches it.
            log.error("a layer could not be rendered", exc_info=error)
            return JobState.FAILED, error


def _settle(future, outcome):
    """Give a future its outcome, unless its last waiter has gone."""
    if not future.set_running_or_notify_cancel():
        return
    if isinstance(outcome, BaseException):
        future.set_exception(outcome)
    else:
        future.set_result(outcome)


def cancelled(error):
    """Whether a future's error says only that its work was given up."""
    return isinstance(error, (Cancelled, CancelledError))
