"""A trial of sixty cells on this machine: python -m bench.trials

Ten heads, three cloths, two distances at 320 × 180 with all figures. Prints how long it takes
beside the bare sum of its cells worked out one after another in one process, and what the desk's
first frame costs while a trial runs.
"""

import json
import time

import httpx

from bench import desk
from inkwell.rendering.apart import IDLE
from moth.photometry import HEADS
from moth.trials import TrialPlan, cells_of, run_cell, stage
from tests.served import served

HEADS_TRIED = (
    *("point-60", "point-300", "panel-small", "panel-2x1", "tube-2ft"),
    *("fresnel-200", "bulb", "softbox-small", "softbox-large", "battery-panel"),
)
CLOTHS = (None, "frost-light", "grid-full")


def plan(heads=HEADS_TRIED):
    """Sixty cells as they are sent."""

    def step(kind, **more):
        return {"kind": kind, **more}

    rows = [{"name": HEADS[h].name, "steps": [step("head", key=h)]} for h in heads if h in HEADS]
    columns = [
        {
            "name": f"{cloth or 'bare'} at {distance} m",
            "steps": [
                step("distance", value=distance),
                *([step("move", key="cloth", material=cloth)] if cloth else []),
            ],
        }
        for cloth in CLOTHS
        for distance in (1.4, 2.0)
    ]
    return {"rows": {"choices": rows}, "columns": {"choices": columns}}


def begin(server):
    """A client that has asked for the trial, and the trial's address."""
    client = httpx.Client(base_url=server.url, timeout=120)
    csrf = client.get("/api/session").json()["csrf"]
    body = {"username": "gaffer", "password": server.password}
    answer = client.post("/api/session", json=body, headers={"X-CSRFToken": csrf})
    client.headers["X-CSRFToken"] = answer.json()["csrf"]
    production = client.get("/api/productions").json()[0]["id"]
    body = {"title": "Sixty", "plan": {"stage": "face", **plan()}}
    made = client.post(f"/api/productions/{production}/trials", json=body)
    made.raise_for_status()
    return client, f"/api/trials/{made.json()['id']}"


def whole():
    """Seconds from the asking to the last cell, to the first one, and what became of them."""
    with served("inkwell_bench") as server:
        client, path = begin(server)
        start = time.perf_counter()
        first = None
        while True:
            trial = client.get(path).json()
            if first is None and trial["done"]:
                first = time.perf_counter() - start
            if trial["done"] + trial["failed"] == trial["cells"]:
                return time.perf_counter() - start, first, trial
            time.sleep(0.5)


def bare():
    """Seconds that the same cells take one after another in this process."""
    given = {"setup": json.loads(stage("face").model_dump_json()), "unit": "key", **plan()}
    cells = cells_of(TrialPlan.model_validate(given))
    run_cell(cells[0].setup, "key")  # kernels are there
    start = time.perf_counter()
    for cell in cells[1:]:
        if cell.setup:
            run_cell(cell.setup, "key")
    return (time.perf_counter() - start) * len(cells) / (len(cells) - 1)


def main():
    alone = bare()
    took, first, trial = whole()
    print("| what | measured |")
    print("|---|---|")
    print(f"| {trial['cells']} cells one after another in one process | {alone:.1f} s |")
    failed = f", {trial['failed']} failed" if trial["failed"] else ""
    print(f"| as a trial | {took:.1f} s, the first after {first:.1f} s{failed} |")
    print(f"| over the bare sum | {100 * (took / alone - 1):.0f} % |")
    print(
        f"| without the workers' start | {100 * ((took - first) / alone - 1):.0f} % |", flush=True
    )
    still = desk.measure(9)
    # The engine must have ended, or it has the same moves' layers at hand.
    time.sleep(IDLE + 5)

    def beside(page, server):
        begin(server)
        time.sleep(12)

    busy = desk.measure(9, beside)
    for name in ("dimmer", "first", "full"):
        print(
            f"| desk's {name} while a trial runs | {busy[name]:.0f} ms, {still[name]:.0f} without:"
            f" {busy[name] / still[name]:.2f} × |"
        )


if __name__ == "__main__":
    main()
