"""For every fault of the judged set: how many ways mend it, how long that takes, what it costs.

python -m bench.judged.mends [--kind KIND]
"""

import argparse
import time

import numpy as np

from moth.judging import picture_of, read_picture
from moth.solving import changed, proposals, tried

from .__main__ import KINDS
from .cases import cases

ENOUGH = 3


def ways(setup, reading):
    """Ways that mend a reading, until there are enough: (words, how many readings are worse)."""
    found = []
    for proposal in proposals(setup, reading):
        told = tried(setup, changed(setup, proposal.patches), reading.key)
        if told.mends:
            found.append((proposal.words, len(told.worse)))
        if len(found) == ENOUGH:
            break
    return found


def main():
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kind", choices=KINDS, help="only the faults of one kind")
    options = parser.parse_args()
    print(f"{'kind':10} {'mended':>9} {'without cost':>13} {'seconds':>8}")
    for kind in [options.kind] if options.kind else KINDS:
        mended, free, times = 0, 0, []
        for case in cases():
            if case.kind != kind or not case.fault:
                continue
            found = read_picture(case.setup, picture_of(case.setup))
            bad = [r for r in found if KINDS[kind](r.key) and r.verdict != "well"]
            if not bad:
                continue
            start = time.perf_counter()
            some = ways(case.setup, bad[0])
            times.append(time.perf_counter() - start)
            mended += bool(some)
            free += any(cost == 0 for _, cost in some)
        if times:
            print(
                f"{kind:10} {mended:>3} of {len(times):<2} {free:>13} {np.median(times):>8.1f}",
                flush=True,
            )


if __name__ == "__main__":
    main()
