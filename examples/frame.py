"""Render a set-up file to a picture: python examples/frame.py SETUP.json OUT.png"""

import sys
from pathlib import Path

from PIL import Image

import moth


def main(file, out):
    setup = moth.parse(Path(file).read_bytes())
    Image.fromarray(moth.render(setup, (480, 270))).save(out)
    print(f"{setup.title}: {moth.read(setup).sentence}")


if __name__ == "__main__":
    main(*sys.argv[1:3])
