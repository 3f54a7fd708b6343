"""The same answers without a screen. A file named - is standard input:

python -m moth rig FILE UNIT book | python -m moth read -
"""

import argparse
import dataclasses
import json
import sys
from pathlib import Path

import numpy as np

from .camera import mix, write_exr
from .document import parse
from .errors import DocumentError, MothError
from .glb import to_glb
from .inspection import inspect_unit, level_map
from .metering import read_setup
from .solving import CAUTION, MOVES, make
from .transport import render_layer, sources, view_of
from .wording import Wording
from .world import build_world, check_placement

OK, FAULT, MISUSE = 0, 1, 2


def _load(path):
    try:
        data = sys.stdin.buffer.read() if path == "-" else Path(path).read_bytes()
    except OSError as error:
        raise DocumentError(f"The file cannot be read: {error.strerror}.") from None
    setup = parse(data)
    sources(setup)
    check_placement(setup)
    return setup


def _size(text):
    try:
        width, height = (int(part) for part in text.lower().split("x"))
    except ValueError:
        raise argparse.ArgumentTypeError(f"'{text}' is not WIDTHxHEIGHT, such as 480x270") from None
    if not (16 <= width <= 4096 and 16 <= height <= 4096):
        raise argparse.ArgumentTypeError("each side must be from 16 to 4096 pixels")
    return width, height


def _layers(args):
    from PIL import Image

    setup = _load(args.file)
    camera = setup.cameras[0]
    world = build_world(setup)
    view = view_of(world, setup, camera, args.size)
    args.out.mkdir(parents=True, exist_ok=True)
    layers = {}
    found = sources(setup)
    for at, source in enumerate(found):
        print(f"{at + 1}/{len(found)} {source.id}", file=sys.stderr)
        layers[source.id] = layer = render_layer(world, view, source)
        image = layer.surfaces.copy().reshape(-1, 3)
        image[layer.seen] = image[layer.seen] * (1 - layer.cover[:, None]) + layer.glow[:, None]
        write_exr(args.out / f"{source.id}.exr", image.reshape(layer.surfaces.shape))
    frame = (
        mix(setup, camera, layers)
        if layers
        else np.zeros((args.size[1], args.size[0], 3), np.uint8)
    )
    Image.fromarray(frame).save(args.out / "frame.png")


def _print(answer):
    print(json.dumps(answer, indent=2, ensure_ascii=False))


def main(argv=None):
    """Run a command; returns the exit code: 0 done, 1 a fault in the file, 2 misuse.

    Examples
    --------
    >>> main(["check", "/nowhere.json"])
    1
    """
    parser = argparse.ArgumentParser(
        prog="python -m moth",
        description=__doc__,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    commands = parser.add_subparsers(dest="command", required=True)
    read = commands.add_parser("read", help="print all readings as JSON")
    read.add_argument("file")
    read.add_argument(
        "--step", choices=("third", "tenth"), default="third", help="how fine stops are said"
    )
    rig = commands.add_parser("rig", help="print the set-up with one unit rigged in one move")
    rig.add_argument("file")
    rig.add_argument("unit", help="id of the unit")
    rig.add_argument("move", choices=list(MOVES), help="what to make of it")
    inspect = commands.add_parser(
        "inspect",
        help="print what one unit's light does on its way, and a level map of the floor, as JSON",
    )
    inspect.add_argument("file")
    inspect.add_argument("unit", help="id of the unit")
    layers = commands.add_parser(
        "layers", help="write one OpenEXR a source [cd/m^2] and the mixed frame as PNG"
    )
    layers.add_argument("file")
    layers.add_argument("--out", type=Path, required=True)
    layers.add_argument("--size", type=_size, default=(480, 270))
    model = commands.add_parser("model", help="write the set-up as a binary glTF file")
    model.add_argument("file")
    model.add_argument("--out", type=Path, required=True)
    check = commands.add_parser("check", help="validate a set-up file")
    check.add_argument("file")
    try:
        args = parser.parse_args(argv)
    except SystemExit as stop:
        return OK if stop.code == 0 else MISUSE
    try:
        if args.command == "read":
            _print(dataclasses.asdict(read_setup(_load(args.file), say=Wording(args.step))))
        elif args.command == "rig":
            made = make(_load(args.file), args.unit, args.move)
            print(CAUTION[args.move], file=sys.stderr)
            _print(made.model_dump(mode="json"))
        elif args.command == "inspect":
            setup = _load(args.file)
            if args.unit not in [u.id for u in setup.units]:
                raise DocumentError(f"There is no unit '{args.unit}'.", "units")
            found = inspect_unit(setup, args.unit), level_map(setup, "floor", args.unit)
            unit, floor = (dataclasses.asdict(part) for part in found)
            _print({"unit": unit, "floor": floor})
        elif args.command == "layers":
            _layers(args)
        elif args.command == "model":
            args.out.write_bytes(to_glb(_load(args.file)))
        else:
            setup = _load(args.file)
            print(
                f"{setup.title}: {len(setup.units)} units, {len(setup.figures)} figures. No faults."
            )
    except MothError as error:
        print(f"{args.file}: {error}", file=sys.stderr)
        return FAULT
    return OK


if __name__ == "__main__":
    sys.exit(main())
