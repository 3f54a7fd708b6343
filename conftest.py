"""What holds for every test, of the core as of the server."""

import os

from hypothesis import settings

# Two at once have a core each: products of matrices that ask for both wait for each other. The
# engine's take one too (inkwell/rendering/apart.py), and numbers are compared to the last bit.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

# No test hangs on how busy the machine is; a landing does not hang on the day's luck either. The
# search for new counterexamples goes on at every desk.
settings.register_profile("desk", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "desk")
