"""What an engine let go of is given back to the machine."""

import os
import subprocess
import sys

import pytest

from inkwell.rendering.apart import MEMORY

# As an engine does: frames come and go, and small results that are kept lie between them.
_WORK = """
import numpy as np
def held():
    return int(open("/proc/self/statm").read().split()[1]) * 4096
before, small = held(), []
for round in range(3):
    frames = []
    for k in range(60):
        frames.append(np.ones(700_000 + 1000 * k))
        small.append(np.ones(20_000))
    del frames
print(held() - before - sum(s.nbytes for s in small))
"""


@pytest.mark.skipif(not os.path.exists("/proc/self/statm"), reason="there is no /proc")
def test_frames_that_are_let_go_of_do_not_stay():
    left = [
        int(
            subprocess.run(
                [sys.executable, "-c", _WORK],
                env={**plain, **more},
                capture_output=True,
                check=True,
                text=True,
            ).stdout
        )
        for plain in [{k: v for k, v in os.environ.items() if not k.startswith("MALLOC_")}]
        for more in ({}, MEMORY)
    ]
    assert left[1] < 40e6 < left[0], left
