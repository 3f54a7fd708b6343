"""Pack one rig's references for the repository: python -m bench.accuracy.pack FOLDER NN."""

import sys
from pathlib import Path

import numpy as np

from .compare import FOLDER


def pack(work, number):
    """Readings as they are, the two half pictures as half floats with a scale, and Radiance's
    readings, where there are any.
    """
    reference = np.load(Path(work) / f"{number}.ref.npz")
    arrays = {"disc": reference["disc"], "dome": reference["dome"]}
    if reference["picture"].size:
        scale = max(float(np.percentile(reference["picture"], 99.9)), 1e-6)
        arrays["scale"] = np.float64(scale)
        arrays["picture"] = np.minimum(reference["picture"] / scale, 60_000).astype(np.float16)
    radiance = Path(work) / f"{number}.rad.npz"
    if radiance.exists():
        arrays["radiance"] = np.load(radiance)["disc"]
    FOLDER.mkdir(exist_ok=True)
    np.savez_compressed(FOLDER / f"{number}.npz", **arrays)


if __name__ == "__main__":
    pack(*sys.argv[1:3])
