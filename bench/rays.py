"""One direct layer's time over the raw time of the same rays, in one run."""

import time

import numpy as np

from moth.document import parse
from moth.transport import build_emitter, render_layer, see
from moth.transport import layers as layers_module
from moth.world import build_world
from moth.world.rays import RayScene

DEMO = "inkwell/setups/demo/keeper-instrument-room.json"


def best(work, times=5):
    """Shortest of several runs [s]: the machines are noisy, never too fast."""
    spans = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spans.append(time.perf_counter() - start)
    return min(spans)


def measure(size=(480, 270)):
    """Rows of (unit, rays, layer time [s], raw ray time [s], ratio)."""
    with open(DEMO) as file:
        setup = parse(file.read())
    world, rows = build_world(setup), []
    view = see(world, setup, setup.cameras[0], size)
    for unit in setup.units[:3]:
        emitter = build_emitter(unit)
        calls = []
        original = RayScene.visible

        def record(self, origins, directions, distances, calls=calls, original=original):
            calls.append((np.array(origins, np.float32), np.array(directions, np.float32), np.array(distances, np.float32)))
            return original(self, origins, directions, distances)

        RayScene.visible = record
        try:
            render_layer(world, view, emitter)
        finally:
            RayScene.visible = original
        # The same rays in the same batches on the same threads, and nothing else.
        raw = best(lambda calls=calls: list(layers_module._threads.map(lambda c: world.rays.visible(*c), calls)))
        whole = best(lambda emitter=emitter: render_layer(world, view, emitter))
        rows.append((unit.name, sum(len(c[2]) for c in calls), whole, raw, whole / raw))
    return rows
