"""A lamp's straight light over the raw time of the rays it casts, in one run."""

import time

import numpy as np

from moth.document import parse
from moth.engine.cores import shared_out
from moth.transport import layers, sources, view_of
from moth.transport import visibility as visibility_module
from moth.transport.kernels import shadow_rays
from moth.transport.operands import Spots, room_for
from moth.world import build_world

DEMO = "inkwell/setups/demo/keeper-instrument-room.json"


def best(work, times=5):
    """Shortest of several runs [s]: the machines are noisy, never too fast."""
    spans = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spans.append(time.perf_counter() - start)
    return min(spans)


def rate(count=400_000):
    """Million shadow rays a second on one thread: what this machine is worth at the moment."""
    with open(DEMO) as file:
        setup = parse(file.read())
    world = build_world(setup)
    view = view_of(world, setup, setup.cameras[0], (640, 360))
    emitter = sources(setup)[0].emitters[0]
    chosen = np.arange(0, len(view.points), max(1, 4 * len(view.points) // count))
    spots = Spots(view.points, view.normals, view.pixel)
    rays = room_for(4 * len(chosen))
    shadow_rays(spots, chosen, emitter.face, 0, 4, rays)
    return 4 * len(chosen) / 1e6 / best(lambda: world.rays.visible(*rays[:3]))


def measure(size=(480, 270)):
    """Rows of (unit, rays, time of its straight light [s], raw ray time [s], ratio)."""
    with open(DEMO) as file:
        setup = parse(file.read())
    world, rows = build_world(setup), []
    view = view_of(world, setup, setup.cameras[0], size)
    for unit, source in list(zip(setup.units, sources(setup), strict=False))[:3]:
        calls = []
        original = visibility_module.see_face
        light = np.zeros((2, len(view.points), 3))

        def straight(emitter=source.emitters[0], light=light):
            layers._add_lamp(world, view, emitter, *light)

        def record(obstacles, spots, chosen, lamp, samples, seen, calls=calls, original=original):
            first, count = samples
            rays = room_for(len(chosen) * count)
            shadow_rays(spots, chosen, lamp, first, count, rays)
            asked = rays.weights > 0
            calls.append([part[asked] for part in rays[:3]])
            original(obstacles, spots, chosen, lamp, samples, seen)

        visibility_module.see_face = record
        try:
            straight()
        finally:
            visibility_module.see_face = original
        # The same rays in the same batches on the same threads, and nothing else.
        raw = best(lambda calls=calls: shared_out(lambda c: world.rays.visible(*c), calls))
        whole = best(straight)
        rows.append((unit.name, sum(len(c[2]) for c in calls), whole, raw, whole / raw))
    return rows
