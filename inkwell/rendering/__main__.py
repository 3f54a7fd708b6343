"""Run the engine: python -m inkwell.rendering SOCKET, with the secret on standard input."""

import os
import sys

from .apart import serve

if __name__ == "__main__":
    os.nice(int(os.environ.get("INKWELL_ENGINE_NICE", "10")))
    serve(sys.argv[1], sys.stdin.buffer.read())
