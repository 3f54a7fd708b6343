"""Many hands at once on two cores: python -m bench.load [--editors N] [--seconds S]

Editors move lights in set-ups of their own: every move is looked at and stored. Beside them an idle
person opens the shelf. Prints answers by status, how long revisions and the shelf took, and how
late ("lag") the clients' own process wakes. All editors begin within one second, which no group of
people does: what begins in the first :data:`START` is told apart.
"""

import argparse
import asyncio
import json
import random
import statistics
import time
from collections import Counter, defaultdict
from pathlib import Path

import httpx
import psutil

from tests.served import served

DEMO = Path("inkwell/setups/demo/keeper-instrument-room.json")
START = 3.0
"""How long the rush of the beginning lasts [s]."""


async def signed_in(url, name, password):
    client = httpx.AsyncClient(base_url=url, timeout=60)
    csrf = (await client.get("/api/session")).json()["csrf"]
    body = {"username": name, "password": password}
    answer = await client.post("/api/session", json=body, headers={"X-CSRFToken": csrf})
    client.headers["X-CSRFToken"] = answer.json()["csrf"]
    return client


class Log:
    """Times and statuses of answers, those of the beginning apart."""

    def __init__(self):
        self.took = defaultdict(list)
        self.answers = Counter()
        self.memory: list = []
        self.began = time.monotonic()

    def note(self, what, seconds, status=None):
        early = time.monotonic() - seconds - self.began < START
        for name in (what, f"{what}, first {START:.0f} s" if early else f"{what}, after it"):
            self.took[name].append(seconds)
            if status:
                self.answers[name, status] += 1

    async def timed(self, what, call):
        """A call's answer; its time and its status are noted."""
        start = time.perf_counter()
        answer = await call
        self.note(what, time.perf_counter() - start, answer.status_code)
        return answer


async def made_setup(client, scene, number):
    """A set-up for an editor."""
    document = json.loads(DEMO.read_text())
    document["title"] = f"Editor {number}"
    return (await client.post(f"/api/scenes/{scene}/import", json=document)).json()


async def edit(client, made, number, until, log):
    """One editor: move a light, look, store; about one gesture a second."""
    path, version, document = f"/api/setups/{made['id']}", made["version"], made["document"]
    hand = random.Random(number)
    await asyncio.sleep(hand.random())
    while time.monotonic() < until:
        unit = hand.choice(document["units"])
        unit["position"][0] += hand.uniform(-0.03, 0.03)
        unit["position"][1] += hand.uniform(-0.03, 0.03)
        question = {"document": document, "client": f"w{number}"}
        body = {"document": document, "base_version": version, "gesture": "moved", "key": ""}
        looked = asyncio.create_task(log.timed("look", client.post(path + "/look", json=question)))
        stored = await log.timed("revision", client.put(path, json=body))
        if stored.status_code == 200:
            version = stored.json()["version"]
        await looked
        await asyncio.sleep(max(0.0, hand.gauss(0.7, 0.2)))


async def stand_by(client, until, log):
    while time.monotonic() < until:
        await log.timed("shelf", client.get("/api/productions"))
        await asyncio.sleep(0.5)


async def lag(until, log):
    """How late this process itself wakes: it shares the cores with what it measures."""
    while time.monotonic() < until:
        start = time.perf_counter()
        await asyncio.sleep(0.05)
        log.note("lag", time.perf_counter() - start - 0.05)


def memory(server):
    """Resident memory of the server and of the engines that run [MB]."""
    mine = psutil.Process(server.process.pid).memory_info().rss / 1e6
    engines = [
        p.info["memory_info"].rss / 1e6
        for p in psutil.process_iter(["cmdline", "memory_info"])
        if "inkwell.rendering" in (p.info["cmdline"] or [])
    ]
    return mine, max(engines, default=0.0)


async def watch(server, log, seconds):
    """Memory after each tenth of the time: flat, or not."""
    while True:
        await asyncio.sleep(seconds / 10)
        log.memory.append(sum(memory(server)))


async def run(server, editors, seconds):
    client = await signed_in(server.url, "gaffer", server.password)
    scene = (await client.get("/api/productions")).json()[0]["scenes"][0]["id"]
    idle = await signed_in(server.url, "pilot", server.password)
    # Nobody opens fifty set-ups in one second: what is measured is their work, once they are there.
    setups = [await made_setup(client, scene, k) for k in range(editors)]
    log = Log()
    until = log.began + seconds
    hands = [edit(client, setup, k, until, log) for k, setup in enumerate(setups)]
    watching = asyncio.create_task(watch(server, log, seconds))
    await asyncio.gather(*hands, stand_by(idle, until, log), lag(until, log))
    watching.cancel()
    for setup in setups:
        await client.delete(f"/api/setups/{setup['id']}")
    await client.aclose()
    await idle.aclose()
    return log


def ninety_five(values):
    return statistics.quantiles(values, n=20)[-1] if len(values) > 1 else values[0]


def main():
    parser = argparse.ArgumentParser(prog="python -m bench.load", description=__doc__)
    parser.add_argument("--editors", type=int, nargs="*", default=[1, 20, 50])
    parser.add_argument("--seconds", type=float, default=60)
    args = parser.parse_args()
    with served("inkwell_load") as server:
        asyncio.run(run(server, 1, 5))
        print("| editors | what | answers | median | p95 | memory, server + engine |")
        print("|---|---|---|---|---|---|")
        for editors in args.editors:
            log = asyncio.run(run(server, editors, args.seconds))
            mine, engine = memory(server)
            told = ", ".join(f"{m:.0f}" for m in log.memory)
            print(f"| {editors} | memory after each tenth | | | | {told} MB |")
            for what, values in sorted(log.took.items()):
                codes = ", ".join(
                    f"{n} × {c}" for (w, c), n in sorted(log.answers.items()) if w == what
                )
                print(
                    f"| {editors} | {what} | {codes} | {1e3 * statistics.median(values):.0f} ms |"
                    f" {1e3 * ninety_five(values):.0f} ms | {mine:.0f} + {engine:.0f} MB |",
                    flush=True,
                )


if __name__ == "__main__":
    main()
