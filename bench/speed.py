"""Whole frames: against a path tracer with a denoiser, at equal error and at equal time, and the
cost of more units. python -m bench.speed [--fine N]

The peer is Mitsuba's fastest variant that runs here with Open Image Denoise, in the references'
environment (script/references makes it). One run, one machine.
"""

import argparse
import os
import resource
import subprocess
import sys
import tempfile
import time
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np

from bench.accuracy import export as exporting
from bench.accuracy.blocks import FACE, PANEL, rig, unit
from bench.accuracy.chosen import chosen
from bench.accuracy.compare import MATTE, levels, rmse
from moth.document import load
from moth.transport import ambient, render_layer, sources, view_of
from moth.world import build_world
from moth.world import sheets as grip

ROOT = Path(__file__).resolve().parents[1]
SIZE = (480, 270)
PLACES = [(3.9, 3.8, 1.9), (0.8, 4.5, 1.5), (0.4, 3.4, 1.8), (4.6, 3.2, 2.0)]
COUNTS = (2, 8, 32, 128, 512)
"""Samples a pixel of the peer's pictures."""
LEAST = 0.005
"""Relative error below which the noise of the fine picture's halves tells nothing."""
SCENES = {
    "four panels": None,
    "ceiling bounce": "ceiling bounce",
    "book light": "book light",
    "window with cloth": "window with grid cloth",
}


def room(count):
    """A room with so many panels in it, each lighting the figure."""
    units = []
    for k in range(count):
        x, y, z = PLACES[k % 4]
        units.append(unit(PANEL, [x, y - 0.02 * (k // 4), z], FACE))
    return rig([{**u, "dimmer": 1.0} for u in units])


def moved(document):
    """A document with its person a little aside: nothing that is kept of it serves the other."""
    first, *others = document["figures"]
    x, y = first["position"]
    return {**document, "figures": [{**first, "position": [x + 0.01, y]}, *others]}


def frame(setup, size=SIZE):
    """Linear frame of all sources at their levels, with matte finishes, and how long it took from
    nothing [s] and from kept links [s].
    """
    start = time.perf_counter()
    # The peer's windows are holes: ours are given glass that sends nothing back.
    with mock.patch.object(grip, "GLASS", replace(grip.GLASS, reflectance=0.0)):
        world = build_world(setup)
    view = view_of(world, setup, setup.cameras[0], size)
    view = replace(view, finish=np.full_like(view.finish, MATTE))
    ambient.ambient_of(world, view)
    kept = time.perf_counter()
    gains = levels(setup)
    total = sum(
        render_layer(world, view, source).surfaces * gains[source.id] for source in sources(setup)
    )
    end = time.perf_counter()
    return total, end - start, end - kept


def peer(document, fine):
    """The peer's pictures by samples, their seconds, and two halves of a fine picture; None where
    the references' environment is not set up.
    """
    python = ROOT / ".local" / "references" / "bin" / "python"
    if not python.exists():
        return None
    # Mitsuba compiles with LLVM; ones before 16 fail on processors with wide vectors.
    libraries = sorted(Path("/usr/lib").glob("*/libLLVM-19.so*"))
    llvm = {"DRJIT_LIBLLVM_PATH": str(libraries[0])} if libraries else {}
    with (
        tempfile.TemporaryDirectory() as folder,
        mock.patch.object(exporting, "PICTURE", SIZE),
    ):
        file, out = f"{folder}/rig.npz", f"{folder}/out.npz"
        exporting.export(document, file)
        subprocess.run(
            [python, "peer_mitsuba.py", file, out, ",".join(map(str, COUNTS)), str(fine)],
            cwd=ROOT / "bench" / "accuracy",
            env={**os.environ, **llvm},
            check=True,
            stdout=subprocess.DEVNULL,
        )
        return dict(np.load(out))


def seconds_to(error, seconds, errors):
    """Time at which a curve of errors over seconds first comes down to an error, between its points
    by powers; None where it never does.
    """
    for k in range(len(errors)):
        if errors[k] <= error:
            if not k:
                return seconds[0]
            part = np.log(errors[k - 1] / error) / np.log(errors[k - 1] / errors[k])
            return float(seconds[k - 1] * (seconds[k] / seconds[k - 1]) ** part)
    return None


def compare(scenes, fine):
    """Print a row a scene."""
    print("| scene | ours: error, from nothing, links kept | theirs: seconds at error | ahead |")
    print("|---|---|---|---|")
    # Compiles every loop, of windows too, on other scenes than those that are timed.
    for warming in (room(3), moved(chosen()[SCENES["window with cloth"]])):
        frame(load(warming), (96, 54))
    for name in scenes:
        document = room(4) if SCENES[name] is None else chosen()[SCENES[name]]
        found = peer(document, fine)
        if found is None:
            print("No references' environment: run script/references once for the comparison.")
            return
        image, whole, kept = frame(load(document))
        error, *errors = (
            max(rmse(picture, found["halves"]), LEAST) for picture in (image, *found["pictures"])
        )
        curve = ", ".join(
            f"{s:.1f} s {100 * e:.1f} %" for s, e in zip(found["seconds"], errors, strict=True)
        )
        same = seconds_to(error, found["seconds"], errors)
        last = found["seconds"][-1]
        ahead = f"{same / whole:.1f} times" if same else f"over {last / whole:.0f} times"
        print(
            f"| {name} | {100 * error:.1f} %, {whole:.2f} s, {kept:.2f} s | {curve} | {ahead} |",
            flush=True,
        )


def main():
    parser = argparse.ArgumentParser(prog="python -m bench.speed", description=__doc__)
    parser.add_argument(
        "--fine", type=int, default=1024, help="samples a pixel of each half of the fine picture"
    )
    parser.add_argument("--scenes", nargs="*", choices=list(SCENES), default=list(SCENES))
    args = parser.parse_args()
    compare(args.scenes, args.fine)
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
