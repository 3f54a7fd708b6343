"""What is stored goes before what is looked at."""

import asyncio

AT_ONCE = 2
"""Requests of a kind that are begun together; there are two cores."""
LONGEST = 0.15
"""A request holds its place until it is answered, and no longer than this [s]: what then still
waits waits for the engine, and costs the server nothing.
"""


class Gate:
    """An ASGI application that begins requests for some paths a few at a time, in order.

    When everybody moves a light in the same second, each asks for a look and stores a revision. A
    look takes the server as long as a revision, and then waits seconds for its light; what is
    stored must not wait behind it.

    Parameters
    ----------
    application : callable
        The ASGI application behind.
    ending : str
        Of the paths that are begun a few at a time.
    """

    def __init__(self, application, ending):
        self.application, self.ending = application, ending
        self._places: asyncio.Semaphore | None = None

    async def __call__(self, scope, receive, send):
        if scope["type"] != "http" or not scope["path"].endswith(self.ending):
            return await self.application(scope, receive, send)
        # Made in the loop that serves: there is none yet when this is imported.
        self._places = self._places or asyncio.Semaphore(AT_ONCE)
        await self._places.acquire()
        place = _Place(self._places)
        late = asyncio.get_running_loop().call_later(LONGEST, place.leave)

        async def answer(message):
            place.leave()
            await send(message)

        try:
            await self.application(scope, receive, answer)
        finally:
            late.cancel()
            place.leave()


class _Place:
    """One place among a few; left once."""

    def __init__(self, places):
        self.places, self.held = places, True

    def leave(self):
        if self.held:
            self.held = False
            self.places.release()
