"""Small set-ups that tests build on."""

import copy

from moth.document import load

BASE = {
    "schema_version": 1,
    "title": "Test set-up",
    "room": {"width": 6, "depth": 7, "height": 3},
    "figures": [{"id": "subject", "name": "Subject", "pose": "seated", "position": [3, 3]}],
    "cameras": [{"id": "a", "name": "A", "position": [3, 5.5, 1.25], "aim": [3, 3, 1.2]}],
    "units": [
        {"id": "key", "name": "Key", "role": "key", "head": "softbox-small", "position": [4.4, 4.4, 2.0], "aim": [3, 3, 1.2], "dimmer": 0.5},
        {"id": "fill", "name": "Fill", "role": "fill", "head": "panel-small", "position": [1.8, 4.8, 1.4], "aim": [3, 3, 1.2], "dimmer": 0.5},
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
