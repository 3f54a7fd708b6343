"""Rigs nobody thought of: what the document accepts is metered, inspected, rendered and judged
without a fault.

Many more: python -m moth.tests.test_any_rig FIRST LAST
"""

import json
import random
import sys
import traceback
from dataclasses import asdict

import numpy as np
import pytest

from moth.camera import mix
from moth.document import load
from moth.errors import MothError
from moth.inspection import inspect_unit, level_map
from moth.judging import picture_of
from moth.materials import MATERIALS
from moth.metering import read_ratios, read_schools, read_setup
from moth.photometry import ATTACHMENTS, HEADS
from moth.solving import MOVES, make
from moth.transport import decode_layer, encode_layer, render_layer, sources, view_of
from moth.world import build_world, check_placement

SIZE = (64, 36)
KINDS = ("frame", "board", "v-flat", "mirror", "reflector", "flag", "blinds", "branches")


def hung(draw, head):
    """Nothing, or one or two attachments that fit, some of their settings anywhere in their
    range.
    """
    fits = [a for a in ATTACHMENTS.values() if HEADS[head].group in a.fits]
    chosen = [draw.choice(fits) for _ in range(draw.choice((0, 0, 1, 1, 2)))] if fits else []
    return [
        {
            "key": a.key,
            "settings": {
                s.key: round(draw.uniform(s.low, s.high), 3)
                for s in a.settings
                if draw.random() < 0.5
            },
        }
        for a in chosen
    ]


def any_rig(seed):
    """Data of a set-up with everything anywhere: cloth through lamps, lamps in corners, beams at
    nothing.
    """
    draw = random.Random(seed)
    width, depth, height = draw.uniform(2.5, 9), draw.uniform(3, 9), draw.uniform(2.2, 4.5)

    def place(off=0.05):
        return [
            draw.uniform(off, width - off),
            draw.uniform(off, depth - off),
            draw.uniform(0.1, height - 0.1),
        ]

    figure = [draw.uniform(0.6, width - 0.6), draw.uniform(0.6, depth - 0.6)]
    units = []
    for k in range(draw.randint(1, 3)):
        head = draw.choice(list(HEADS))
        units.append(
            {
                "id": f"u{k}",
                "name": f"U{k}",
                "role": draw.choice(("key", "fill", "edge", "background", "practical")),
                "head": head,
                "position": place(),
                "aim": place() if draw.random() < 0.5 else [*figure, 1.2],
                "roll": draw.choice((0, 0, 45)),
                "dimmer": draw.random(),
                "on": draw.random() < 0.9,
                "attachments": hung(draw, head),
            }
        )
    grip = [
        {
            "id": f"g{k}",
            "name": f"G{k}",
            "kind": draw.choice(KINDS),
            "material": draw.choice(list(MATERIALS)),
            "position": place() if draw.random() < 0.7 else units[0]["position"],
            "aim": place(),
            "roll": draw.choice((0, 30)),
            "size": [round(draw.uniform(0.1, 3.6), 2), round(draw.uniform(0.1, 3.6), 2)],
        }
        for k in range(draw.randint(0, 3))
    ]
    openings = [
        {
            "id": f"o{k}",
            "name": f"O{k}",
            "wall": draw.choice(("north", "south", "east", "west", "ceiling")),
            "along": round(draw.uniform(0.5, 2), 2),
            "up": round(draw.uniform(0.6, 1.4), 2),
            "size": [round(draw.uniform(0.3, 1.6), 2), round(draw.uniform(0.3, 1.4), 2)],
        }
        for k in range(draw.choice((0, 0, 1, 2)))
    ]
    sun = draw.choice(
        (None, {"azimuth": draw.uniform(0, 360), "elevation": draw.uniform(2, 80), "level": 50_000})
    )
    return {
        "schema_version": 4,
        "title": f"Rig {seed}",
        "room": {
            "width": width,
            "depth": depth,
            "height": height,
            "outdoors": draw.random() < 0.12,
        },
        "figures": [
            {
                "id": "s",
                "name": "S",
                "pose": draw.choice(("standing", "seated")),
                "position": figure,
                "facing": draw.uniform(-180, 180),
                "spectacles": draw.random() < 0.4,
            }
        ],
        "cameras": [
            {
                "id": "a",
                "name": "A",
                "position": place(0.3),
                "aim": [*figure, 1.3],
                "focal_length": draw.choice((18, 35, 50, 85)),
            }
        ],
        "units": units,
        "grip": grip,
        "openings": openings,
        "haze": draw.choice((0, 0, 0.02)),
        "sky": {
            "kind": draw.choice(("clear", "overcast")),
            "level": 10_000,
            "cct": 6500,
            "sun": sun,
        },
    }


def accepted(seed):
    """The set-up, or None where it is refused in words."""
    try:
        scene = load(any_rig(seed))
        sources(scene)
        check_placement(scene)
    except MothError as error:
        assert error.sentence.endswith((".", "?")), error
        return None
    return scene


def put_to_use(scene, seed):
    """All that the desk asks of a set-up; every number a number, no light below none."""
    told = read_setup(scene)
    json.dumps(asdict(told), allow_nan=False)
    assert all(mark.lux >= 0 for mark in told.marks)
    for unit in scene.units:
        json.dumps(asdict(inspect_unit(scene, unit.id)), allow_nan=False)
    world = build_world(scene)
    view, layers = view_of(world, scene, scene.cameras[0], SIZE), {}
    for source in sources(scene):
        layer = layers[source.id] = render_layer(world, view, source)
        assert (
            np.isfinite(layer.surfaces).all()
            and layer.surfaces.min() >= 0
            and (layer.cover <= 1 + 1e-6).all()
        )
        assert decode_layer(encode_layer(layer)).surfaces.shape == layer.surfaces.shape
    mix(scene, scene.cameras[0], layers)
    draw = random.Random(seed)
    assert np.isfinite(level_map(scene, draw.choice(("floor", "face", "north"))).lux).all()
    picture = picture_of(scene)
    judged = [*read_schools(scene, picture), *read_ratios(scene, picture)]
    json.dumps([asdict(row) for row in judged], allow_nan=False)
    try:
        make(scene, scene.units[0].id, draw.choice(list(MOVES)))
    except MothError as error:
        assert error.sentence.endswith(".")


# Those that broke something once: a board, a mirror through the lamp, cloth through a wall, a beam
# dark on its axis.
@pytest.mark.parametrize("seed", [2, 7, 225, 249, 1027])
def test_any_rig_that_is_accepted_can_be_used(seed):
    scene = accepted(seed)
    assert scene is not None
    put_to_use(scene, seed)


if __name__ == "__main__":
    faults = 0
    for number in range(int(sys.argv[1]), int(sys.argv[2])):
        rig = accepted(number)
        try:
            if rig:
                put_to_use(rig, number)
        except Exception:
            faults += 1
            print("rig", number)
            traceback.print_exc(limit=-4)
        print(f"\r{number} ({faults} faults)", end="", flush=True)
