"""Small set-ups that tests build on."""

import copy
from collections import defaultdict
from dataclasses import dataclass

import numpy as np

from moth.colour import LUMINANCE
from moth.document import load
from moth.transport import Way, light_of, meter_light, sources
from moth.world import build_world, pieces

BLACK = {"reflectance": 0.0}
BLACK_ROOM = dict.fromkeys(("floor", "ceiling", "north", "south", "east", "west"), BLACK)

BASE = {
    "schema_version": 4,
    "title": "Test set-up",
    "room": {"width": 6, "depth": 7, "height": 3},
    # Whose hair is not what a test is about wears it moulded: half as many triangles.
    "figures": [
        {
            "id": "subject",
            "name": "Subject",
            "pose": "seated",
            "position": [3, 3],
            "cut": "moulded",
        }
    ],
    "cameras": [{"id": "a", "name": "A", "position": [3, 5.5, 1.25], "aim": [3, 3, 1.2]}],
    "units": [
        {
            "id": "key",
            "name": "Key",
            "role": "key",
            "head": "softbox-small",
            "position": [4.4, 4.4, 2.0],
            "aim": [3, 3, 1.2],
            "dimmer": 0.5,
        },
        {
            "id": "fill",
            "name": "Fill",
            "role": "fill",
            "head": "panel-small",
            "position": [1.8, 4.8, 1.4],
            "aim": [3, 3, 1.2],
            "dimmer": 0.5,
        },
    ],
}


def data(**changes):
    """A fresh copy of the base document with top-level parts replaced."""
    return {**copy.deepcopy(BASE), **changes}


def setup(**changes):
    return load(data(**changes))


def moved(document, kind, index, **changes):
    """A copy of document data with one item changed."""
    document = copy.deepcopy(document)
    document[kind][index].update(changes)
    return document


@dataclass(frozen=True)
class Held:
    """A meter held somewhere."""

    position: tuple
    direction: tuple
    receiver: str = "disc"


def ways(scene, position, direction, receiver="disc", source=0):
    """What a source of a set-up brings to a meter [lx], by the way it takes: "lamp", "mirror",
    "room", or the id of a piece of grip or a window.
    """
    direction = tuple(np.asarray(direction, float) / np.linalg.norm(direction))
    world = build_world(scene)
    found = meter_light(
        world, light_of(world, sources(scene)[source]), Held(tuple(position), direction, receiver)
    )
    names = [piece.id for piece in pieces(scene)]
    brought: dict[str, float] = defaultdict(float)
    for route, rgb in found.items():
        name = names[route.last] if route.way == Way.SHEET else route.way.value
        brought[name] += float(rgb @ LUMINANCE)
    return dict(brought)
