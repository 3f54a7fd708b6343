"""Looks are begun a few at a time, nothing else waits, and nobody's place is lost."""

import asyncio

import pytest

from inkwell.config.gate import AT_ONCE, LONGEST, Gate


def run(requests, handle):
    """Serve requests by path at once through a gate; the answers."""

    async def serve():
        async def application(scope, receive, send):
            await handle(scope["path"], send)

        gate = Gate(application, "/look")

        async def ask(path):
            await gate({"type": "http", "path": path}, None, _quiet)

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

    run(["/setups/1/look"] * 12 + ["/setups/1"], handle)
    assert most == AT_ONCE and saved == [AT_ONCE]


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

    asyncio.run(Gate(application, "/look")({"type": kind, "path": "/look"}, None, None))
    assert seen == [kind]
