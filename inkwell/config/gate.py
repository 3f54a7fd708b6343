"""What is stored goes before what is looked at."""

import asyncio
import re

AT_ONCE = 2
"""Requests of a kind that are begun together; there are two cores."""
LONGEST = 0.15
"""A request holds its place until it is answered, and no longer than this [s]: what then still
waits waits for the engine, and costs the server nothing.
"""
PATIENCE = 1.0
"""How long a look stands back for what is to be stored [s]; it then goes whatever comes."""
LOOK = re.compile(r"/look$")
STORED = re.compile(r"/api/setups/\d+(/undo|/redo)?$")


class Gate:
    """An ASGI application that begins looks a few at a time, in order, and none of them while
    something is being stored.

    When everybody moves a light in the same second, each asks for a look and stores a revision. A
    look takes the server as long as a revision, and then waits seconds for its light; what is
    stored must not wait behind it.

    Parameters
    ----------
    application : callable
        The ASGI application behind.
    """

    def __init__(self, application):
        self.application = application
        self._places = _Places()

    async def __call__(self, scope, receive, send):
        if scope["type"] != "http":
            return await self.application(scope, receive, send)
        if LOOK.search(scope["path"]):
            return await self._look(scope, receive, send)
        if scope["method"] != "GET" and STORED.search(scope["path"]):
            return await self._store(scope, receive, send)
        return await self.application(scope, receive, send)

    async def _store(self, scope, receive, send):
        self._places.storing += 1
        try:
            await self.application(scope, receive, send)
        finally:
            self._places.storing -= 1
            self._places.open()

    async def _look(self, scope, receive, send):
        leave = await self._places.take()
        late = asyncio.get_running_loop().call_later(LONGEST, leave)

        async def answer(message):
            leave()
            await send(message)

        try:
            await self.application(scope, receive, answer)
        finally:
            late.cancel()
            leave()


class _Places:
    """A few places, and those who wait for one in order."""

    def __init__(self):
        self.storing, self.held = 0, 0
        self._line: list[asyncio.Future] = []

    async def take(self):
        """Wait for a place; a function that leaves it, once however often it is called."""
        loop = asyncio.get_running_loop()
        turn = loop.create_future()
        self._line.append(turn)
        self.open()
        late = loop.call_later(PATIENCE, self.open, True)
        try:
            await turn
        except asyncio.CancelledError:
            if turn.done() and not turn.cancelled():
                self._left()
            raise
        finally:
            late.cancel()
        left = False

        def leave():
            nonlocal left
            if not left:
                left = True
                self._left()

        return leave

    def open(self, patience_is_out=False):
        """Let in who may go: all that there is place for; where something is being stored, only
        whose patience is out.
        """
        while self._line and self.held < AT_ONCE and (patience_is_out or not self.storing):
            turn = self._line.pop(0)
            if not turn.done():
                self.held += 1
                turn.set_result(None)
                patience_is_out = False

    def _left(self):
        self.held -= 1
        self.open()
