"""Whole frames: against Mitsuba's fastest variant that runs here, at equal error; and the cost of
more units. python -m bench.speed
"""

import argparse
import json
import os
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from bench.accuracy import rigs as rigs_module
from bench.accuracy.compare import MATTE, rmse
from bench.accuracy.export import export
from moth.colour import LUMINANCE
from moth.document import load
from moth.transport import ambient, render_layer, sources, view_of
from moth.world import build_world

ROOT = Path(__file__).resolve().parents[1]
SIZE = (480, 270)
PLACES = [(3.9, 3.8, 1.9), (0.8, 4.5, 1.5), (0.4, 3.4, 1.8), (4.6, 3.2, 2.0)]
MITSUBA = """
import sys, time, json, numpy as np
sys.argv = sys.argv[1:]
import reference_mitsuba as r
import mitsuba as mi
rig = dict(np.load(sys.argv[1]))
scene = r.build(rig)
mi.render(scene, spp=4, seed=9)  # compiles
halves, spp = [], int(sys.argv[3])
start = time.perf_counter()
for k in range(2):
    halves.append(np.array(mi.render(scene, spp=spp, seed=k)))
print(json.dumps({"seconds": (time.perf_counter() - start) / 2}))
np.save(sys.argv[2], np.array(halves))
"""


def room(count):
    """A room with so many panels in it, each lighting the figure."""
    units = []
    for k in range(count):
        x, y, z = PLACES[k % 4]
        units.append(
            rigs_module.unit(rigs_module.PANEL, [x, y - 0.02 * (k // 4), z], rigs_module.FACE)
        )
    return rigs_module._rig([{**u, "dimmer": 1.0} for u in units])


def frame(setup, size=SIZE):
    """Linear frame of all sources at their levels, with matte finishes, and how long it took from
    nothing [s] and from kept links [s].
    """
    from dataclasses import replace

    start = time.perf_counter()
    world = build_world(setup)
    view = view_of(world, setup, setup.cameras[0], size)
    view = replace(view, finish=np.full_like(view.finish, MATTE))
    ambient.ambient_of(world, view)
    kept = time.perf_counter()
    total = sum(
        render_layer(world, view, source).surfaces * unit.dimmer
        for source, unit in zip(sources(setup), setup.units, strict=True)
    )
    end = time.perf_counter()
    return total, end - start, end - kept


def against_mitsuba(samples=48):
    """Seconds of ours, of Mitsuba's to the same error, and that error; None where the references'
    environment is not set up.
    """
    python = ROOT / ".local" / "references" / "bin" / "python"
    if not python.exists():
        return None
    # Mitsuba compiles with LLVM; ones before 16 fail on processors with wide vectors.
    libraries = sorted(Path("/usr/lib").glob("*/libLLVM-19.so*"))
    llvm = {"DRJIT_LIBLLVM_PATH": str(libraries[0])} if libraries else {}
    document = room(4)
    rigs_module.rigs = lambda: {"speed": document}
    import bench.accuracy.export as exporting

    exporting.rigs, exporting.PICTURE = rigs_module.rigs, SIZE
    with tempfile.TemporaryDirectory() as folder:
        rig, picture = f"{folder}/rig.npz", f"{folder}/picture.npy"
        export("speed", rig)
        done = subprocess.run(
            [python, "-c", MITSUBA, "-", rig, picture, str(samples)],
            cwd=ROOT / "bench" / "accuracy",
            env={**os.environ, "PYTHONPATH": ".", **llvm},
            capture_output=True,
            text=True,
            check=True,
        )
        seconds = json.loads(done.stdout.strip().splitlines()[-1])["seconds"]
        halves = np.load(picture)
    setup = load(document)
    frame(load(room(3)), (96, 54))  # compiles
    image, whole, kept = frame(setup)
    error = max(rmse(image, halves), 1e-4)
    noise = float(
        np.sqrt((((halves[0] - halves[1]) @ LUMINANCE) ** 2).mean() / 2)
        / (halves.mean(0) @ LUMINANCE).mean()
    )
    return {
        "ours": whole,
        "ours, links kept": kept,
        "error": error,
        "mitsuba": seconds * (noise / error) ** 2,
        "noise": noise,
        "seconds": seconds,
    }


def main():
    argparse.ArgumentParser(
        prog="python -m bench.speed",
        description="Time whole frames against Mitsuba, and 2 to 40 units; prints a table.",
    ).parse_args()
    found = against_mitsuba()
    if found:
        print(
            f"Whole frame, 4 panels, 480 x 270, room bounce: ours {found['ours']:.2f} s from"
            f" nothing, {found['ours, links kept']:.2f} s with links kept,",
            f"relative RMSE {100 * found['error']:.1f} %.",
        )
        print(
            f"Mitsuba (llvm, path): {found['seconds']:.2f} s at {100 * found['noise']:.1f} %, so"
            f" {found['mitsuba']:.1f} s to the same error:",
            f"{found['mitsuba'] / found['ours']:.1f} times ours.",
            flush=True,
        )
    else:
        print("No references' environment: run script/references once for the comparison.")
    print(
        "| units | all layers, 480 × 270, from nothing | with links kept | memory"
        " |\n|---|---|---|---|"
    )
    for count in (2, 5, 10, 20, 40):
        _, whole, kept = frame(load(room(count)))
        print(
            f"| {count} | {whole:.1f} s | {kept:.1f} s |"
            f" {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e3:.0f} MB |",
            flush=True,
        )


if __name__ == "__main__":
    sys.exit(main())
