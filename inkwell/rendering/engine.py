"""The engine: layers and answers of one process, asked by many."""

import functools
from concurrent.futures import Future

from moth.camera import by_work_light, colour_gains, frame_exposure, source_levels
from moth.engine.caching import STORE
from moth.errors import Cancelled
from moth.transport import decode_layer, sources
from moth.world import check_placement

from .answers import AnswerDesk, Rank
from .jobs import COARSE, FULL, orders_of
from .queue import LayerQueue

METER_PATIENCE = 0.4
"""How long the meter lets coarse pictures go first [s]: on two cores all at once would make all
late.
"""


class Engine:
    """What the screen asks, worked out here. Its methods answer at once or with a future.

    Examples
    --------
    >>> from moth.document import bare
    >>> engine = Engine()
    >>> engine.check("gaffer", bare()).result()
    >>> list(engine.look("gaffer", "window-1", bare(), picture=True).result()["layers"])
    ['@work']
    """

    def __init__(self):
        self.answers = AnswerDesk()
        self.queue = LayerQueue(self.answers.readings)
        self.answers.settled, self.queue.settled = self.queue.wake, self.answers.wake
        self.answers.at_work = self.queue.at_work

    def check(self, person, document):
        """Future that fails for a document whose lamps cannot be built or stand where none can."""
        return self.answers.ask(person, Rank.CHECK, lambda: check(document))

    def look(self, person, window, document, picture):
        """Future of what a draft's frame is mixed from; its layers begin to be rendered."""

        def begin():
            check(document)
            camera, framed = document.cameras[0], by_work_light(document)
            layers = self._wish(person, window, framed) if picture else {}
            return {
                "exposure": frame_exposure(camera),
                "levels": source_levels(framed),
                "colours": colour_gains(framed, camera),
                "layers": layers,
            }

        return self.answers.ask(person, Rank.LOOK, begin)

    def _wish(self, person, window, document):
        coarse, full = orders_of(document, COARSE), orders_of(document, FULL)
        self.queue.wish(window, person, [*coarse.values(), *full.values()])
        return {k: {"coarse": coarse[k].key, "full": full[k].key} for k in coarse}

    def layer(self, key):
        """Future of a layer's bytes.

        Raises
        ------
        Cancelled
            When nobody wants it, or no longer.
        """
        future = self.queue.layer(key)
        if future is None:
            raise Cancelled
        return future

    def give_up(self, window):
        """Drop the layers that a window still waits for."""
        self.queue.give_up(window)

    def read(self, person, keys, question, *args):
        """Future of a reading, after the coarse layers named or :data:`METER_PATIENCE`."""
        coarse = [f for f in map(self.queue.layer, keys) if f is not None]
        work = functools.partial(question, *args)
        return self.answers.ask(person, Rank.READING, work, coarse, METER_PATIENCE)

    def ask(self, person, rank, question, document, *args):
        """Future of `question(document, *args)`; the document is checked first, if there is one."""

        def work():
            if document is not None:
                check(document)
            return question(document, *args)

        return self.answers.ask(person, rank, work)

    def ask_of_picture(self, person, rank, size, question, document, *args):
        """Future of `question(document, layers, *args)`: the layers of a size come first."""
        answer: Future = Future()
        window = ("for an answer", id(answer))

        def prepare():
            check(document)
            return orders_of(document, size)

        prepared = self.answers.ask(person, rank, prepare)

        def wanted(orders):
            if orders.exception():
                return _copy(orders, answer)
            orders = orders.result()
            futures = self.queue.wish(window, person, orders.values(), rank < Rank.PICTURE)

            def work():
                layers = {k: decode_layer(futures[o.key].result()) for k, o in orders.items()}
                return question(document, layers, *args)

            done = self.answers.ask(person, rank, work, futures.values())
            done.add_done_callback(lambda found: (self.queue.give_up(window), _copy(found, answer)))

        prepared.add_done_callback(wanted)
        return answer

    def state(self):
        """What is kept, what waits: for the records office."""
        return {
            "kept": STORE.holdings(),
            "bytes": STORE.size,
            "budget": STORE.budget,
            "layers": self.queue.states(),
            "answers": self.answers.states(),
        }


def check(document):
    """Refuse a document whose lamps cannot be built or stand where nothing can stand.

    Raises
    ------
    moth.errors.MothError
    """
    sources(document)
    check_placement(document)


def _copy(done, to):
    if done.cancelled():
        to.set_exception(Cancelled())
    elif done.exception():
        to.set_exception(done.exception())
    else:
        to.set_result(done.result())
