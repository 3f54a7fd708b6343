"""Looks are begun a few at a time, nothing else waits, and nobody's place is lost."""

import asyncio

import pytest

from inkwell.config.gate import AT_ONCE, LONGEST, PATIENCE, Gate


def run(requests, handle):
    """Serve requests by path at once through a gate; the answers."""

    async def serve():
        async def application(scope, receive, send):
            await handle(scope["path"], send)

        gate = Gate(application)

        async def ask(path):
            await gate({"type": "http", "method": "PUT", "path": path}, None, _quiet)

        return await asyncio.gather(*(ask(path) for path in requests), return_exceptions=True)

    return asyncio.run(serve())


async def _quiet(message):
    pass


def test_only_a_few_looks_are_begun_together_and_a_revision_waits_for_none():
    begun, most, saved = 0, 0, []

    async def handle(path, send):
        nonlocal begun, most
        if path.endswith("/look"):
            begun += 1
            most = max(most, begun)
            await asyncio.sleep(0.01)
            begun -= 1
            await send({"type": "http.response.start"})
            await asyncio.sleep(0.05)
        else:
            saved.append(begun)

    run(["/setups/1/look"] * 12 + ["/api/setups/1"], handle)
    assert most == AT_ONCE and saved == [AT_ONCE]


def test_no_look_is_begun_while_something_is_stored_but_for_whose_patience_is_out():
    order = []

    async def handle(path, send):
        order.append(path)
        await asyncio.sleep(0.02 if path.startswith("/api/setups/1") else 0)

    paths = ["/api/setups/1", "/look", "/api/setups/12/undo", "/look", "/shelf"]
    run(paths, handle)
    assert order == ["/api/setups/1", "/api/setups/12/undo", "/shelf", "/look", "/look"]

    times = {}

    async def never_done(path, send):
        times[path] = asyncio.get_running_loop().time()
        await asyncio.sleep(1.5 * PATIENCE if path != "/look" else 0)

    run(["/api/setups/1", "/look"], never_done)
    waited = times["/look"] - times["/api/setups/1"]
    assert 0.9 * PATIENCE < waited < 1.4 * PATIENCE


def test_who_goes_while_waiting_takes_no_place_along():
    async def serve():
        begun = []

        async def application(scope, receive, send):
            begun.append(scope["who"])
            await asyncio.sleep(0.05)

        gate = Gate(application)

        def ask(who):
            scope = {"type": "http", "method": "POST", "path": "/look", "who": who}
            return asyncio.create_task(gate(scope, None, _quiet))

        asked = [ask(k) for k in range(3 * AT_ONCE)]
        await asyncio.sleep(0.01)
        for task in asked[1 : 2 * AT_ONCE]:
            task.cancel()
        await asyncio.gather(*asked, return_exceptions=True)
        return begun

    begun = asyncio.run(serve())
    assert begun[-AT_ONCE:] == list(range(2 * AT_ONCE, 3 * AT_ONCE))


def test_what_waits_long_for_the_engine_gives_its_place_up():
    times = []

    async def handle(path, send):
        times.append(asyncio.get_running_loop().time())
        await asyncio.sleep(6 * LONGEST)

    run(["/look"] * (2 * AT_ONCE), handle)
    assert LONGEST * 0.9 < times[-1] - times[0] < 3 * LONGEST


def test_a_fault_gives_its_place_back():
    async def handle(path, send):
        raise RuntimeError("broken")

    answers = run(["/look"] * (5 * AT_ONCE), handle)
    assert len(answers) == 5 * AT_ONCE
    assert all(isinstance(a, RuntimeError) for a in answers)


@pytest.mark.parametrize("kind", ["lifespan", "websocket"])
def test_other_protocols_pass(kind):
    seen = []

    async def application(scope, receive, send):
        seen.append(scope["type"])

    asyncio.run(Gate(application)({"type": kind, "path": "/look"}, None, None))
    assert seen == [kind]
