"""Rooms and rigs drawn at random, worked out by Mitsuba and by us: python -m bench.accuracy.drawn
[--seeds A B ...] [--rays N]. Needs the references' environment (script/references makes it).

Nothing of the model is fitted to them: every seed is another room.
"""

import argparse
import os
import subprocess
import tempfile
from pathlib import Path

import numpy as np

from .compare import errors_of, ours
from .drawing import DRAWS, drawn
from .export import export

ROOT = Path(__file__).resolve().parents[2]
NEAR, FAR = 3.0, 8.0
"""Percent: what most readings and what all shall stay within."""


def worked_out(seed, rays, folder, draw=drawn):
    """Errors of our disc and dome readings at every mark [%]; those too dark to tell left out, and
    those against a cloth.
    """
    document = draw(seed)
    file, out = Path(folder) / f"{seed}.npz", Path(folder) / f"{seed}.ref.npz"
    export(document, file)
    subprocess.run(
        [
            str(_local() / "references/bin/python"),
            str(ROOT / "bench/accuracy/reference_mitsuba.py"),
            str(file),
            str(out),
            str(rays),
            "0",
        ],
        check=True,
        stdout=subprocess.DEVNULL,
        env={**os.environ, "DRJIT_LIBLLVM_PATH": _llvm()},
    )
    disc, dome, _ = ours(document, picture=False)
    theirs = np.load(out)
    pairs = ((disc, theirs["disc"]), (dome, theirs["dome"]))
    errors = [errors_of(document, mine, right) for mine, right in pairs]
    return np.concatenate(errors)


def _local():
    return Path(os.environ.get("INKWELL_LOCAL", ROOT / ".local"))


def _llvm():
    found = sorted(Path("/usr/lib").glob("*/libLLVM-19.so*"))
    return os.environ.get("DRJIT_LIBLLVM_PATH") or (str(found[0]) if found else "")


def main():
    parser = argparse.ArgumentParser(prog="python -m bench.accuracy.drawn", description=__doc__)
    parser.add_argument("--seeds", type=int, nargs="*", default=list(range(100, 115)))
    parser.add_argument("--heads", action="store_true", help="heads and what hangs on them")
    parser.add_argument("--lamps", action="store_true", help="lit by a shaded lamp of the place")
    parser.add_argument("--reflectors", action="store_true", help="thrown by boards and mirrors")
    parser.add_argument("--scans", action="store_true", help="with a model from a file in it")
    parser.add_argument("--windows", action="store_true", help="lit by windows alone")
    parser.add_argument("--rays", type=int, default=1 << 23, help="a mark; a million err by 4 %%")
    args = parser.parse_args()
    every, draw = [], next((d for name, d in DRAWS.items() if getattr(args, name)), drawn)
    with tempfile.TemporaryDirectory() as folder:
        for seed in args.seeds:
            errors = worked_out(seed, args.rays, folder, draw)
            every += errors.tolist()
            document = draw(seed)
            rig = [k for u in document["units"] if "attachments" in u for k in _hung(u)]
            rig += [g["material"] for g in document["grip"]]
            rig += [o["cover"] for o in document.get("openings", [])]
            rig += ["sun"] if document.get("sky", {}).get("sun") else []
            rig += [f["kind"] for f in document["furniture"] if f["kind"] != "box"]
            print(f"| {seed} | {', '.join(rig)} | {_worst(errors):+.1f} % |", flush=True)
    within = np.abs(every)
    print(
        f"{(within <= NEAR).mean():.0%} of {len(every)} readings within {NEAR:g} %,"
        f" {(within > FAR).sum()} over {FAR:g} %, worst {_worst(np.array(every)):+.1f} %"
    )


def _hung(unit):
    return [unit["head"], *(a["key"] for a in unit["attachments"])]


def _worst(errors):
    return float(errors[np.argmax(np.abs(errors))]) if len(errors) else 0.0


if __name__ == "__main__":
    main()
