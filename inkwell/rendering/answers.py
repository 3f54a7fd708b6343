"""Questions to the core that are no layers: checks, readings, analyses, pictures of the shelf.

They wait by rank, and within a rank whoever was served longest ago goes first. Checks and readings
have threads that nothing slow may take.
"""

import contextlib
import itertools
import threading
import time
from concurrent.futures import Future, InvalidStateError
from dataclasses import dataclass, field
from enum import IntEnum
from typing import Any


class Rank(IntEnum):
    """How soon a question is answered."""

    CHECK = 0
    """Whether a document can be: a hand waits to store it."""
    LOOK = 1
    """What a draft's frame is mixed from."""
    READING = 2
    ANALYSIS = 3
    PICTURE = 4
    """Small pictures of the shelf and of the history."""


LANES = (Rank.CHECK, Rank.READING, Rank.PICTURE)
"""One thread each: the slowest rank that it takes."""


@dataclass(eq=False)
class Question:
    """Something asked, and by whom."""

    person: Any
    rank: Rank
    work: Any
    after: set = field(default_factory=set)
    """Futures to wait for first."""
    latest: float = float("inf")
    """When it is answered though they are not done [s, monotonic]."""
    number: int = 0
    future: Future = field(default_factory=Future)


def turn(questions, served, slowest, now):
    """The question whose turn it is in a lane.

    Parameters
    ----------
    questions : iterable of Question
        That wait.
    served : dict
        Person -> number of the turn they last had.
    slowest : Rank
        The lane takes none slower.
    now : float
        [s, monotonic]

    Returns
    -------
    Question or None
    """
    ready = (q for q in questions if q.rank <= slowest and (not q.after or q.latest <= now))
    return min(ready, key=lambda q: (q.rank, served.get(q.person, 0), q.number), default=None)


class AnswerDesk:
    """Answers questions in a few background threads."""

    def __init__(self, lanes=LANES):
        self._lock = threading.Condition()
        self._waiting: list[Question] = []
        self._running: list[Question] = []
        self._served: dict = {}
        self._serial = itertools.count(1)
        self.settled = lambda: None
        """Called when a question has been answered."""
        self.at_work = lambda person: False
        """Whether a person's desk waits for its layers: their pictures of the shelf let it go
        first.
        """
        self._lanes = lanes
        self._threads: list[threading.Thread] = []

    def ask(self, person, rank, work, after=(), patience=float("inf")):
        """Future of `work()`.

        Parameters
        ----------
        person : hashable
        rank : Rank
        work : callable
        after : iterable of Future
            What it waits for, done or failed.
        patience : float
            How long it waits for them [s].
        """
        question = Question(person, rank, work, latest=time.monotonic() + patience)
        with self._lock:
            question.number = next(self._serial)
            question.after = {f for f in after if not f.done()}
            self._waiting.append(question)
            self._begin()
            self._lock.notify_all()
        for future in list(question.after):
            future.add_done_callback(lambda done: self._one_less(question, done))
        return question.future

    def readings(self):
        """Whether readings wait or are under way."""
        with self._lock:
            return any(q.rank == Rank.READING for q in (*self._waiting, *self._running))

    def wake(self):
        """Look again whose turn it is: somebody's desk has what it waited for."""
        with self._lock:
            self._lock.notify_all()

    def states(self):
        """Number of questions by state."""
        with self._lock:
            return {"waiting": len(self._waiting), "running": len(self._running)}

    def _one_less(self, question, future):
        with self._lock:
            question.after.discard(future)
            self._lock.notify_all()

    def _begin(self):
        if not self._threads:
            for slowest in self._lanes:
                thread = threading.Thread(
                    target=self._work, args=(slowest,), name=f"answers {slowest.name}", daemon=True
                )
                self._threads.append(thread)
                thread.start()

    def _next(self, slowest):
        while True:
            now = time.monotonic()
            due = (q for q in self._waiting if q.rank < Rank.PICTURE or not self.at_work(q.person))
            question = turn(due, self._served, slowest, now)
            if question:
                self._waiting.remove(question)
                self._running.append(question)
                self._served[question.person] = next(self._serial)
                return question
            latest = min(
                (q.latest for q in self._waiting if q.rank <= slowest), default=float("inf")
            )
            self._lock.wait(None if latest == float("inf") else max(0.0, latest - now))

    def _work(self, slowest):
        while True:
            with self._lock:
                question = self._next(slowest)
            try:
                outcome, failed = question.work(), False
            except BaseException as error:
                outcome, failed = error, True
            with self._lock:
                self._running.remove(question)
            with contextlib.suppress(InvalidStateError):  # whoever asked has gone
                (question.future.set_exception if failed else question.future.set_result)(outcome)
            self.settled()
