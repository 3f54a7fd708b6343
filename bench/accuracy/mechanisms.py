"""Rooms and rigs that each lean on one mechanism of the light, where a model may fail alone."""

from .blocks import FACE, PANEL, SMALL, SPOT, WHITE, WINDOW, panel, rig, room, sheet, spot, unit
from .drawing import with_a_lamp, with_a_scan

NEAR_WINDOW = [
    {"id": "near", "name": "near", "position": [4.85, 3.2, 1.6], "direction": [1, 0, 0]},
    {"id": "arm", "name": "arm's length", "position": [4.3, 3.0, 1.5], "direction": [1, 0.1, 0]},
]
"""Marks a hand's breadth and an arm's length before the east wall."""


def _marked(document, marks):
    return {**document, "marks": [*document["marks"], *marks]}


def _in_shape(document, **shape):
    return {**document, "room": {**document["room"], **shape}}


def mechanisms():
    """Rigs by name, as :func:`bench.accuracy.rigs.rigs`."""
    back = unit(SMALL, [4.6, 5.4, 1.7], FACE)
    post = {
        "id": "post",
        "name": "Post",
        "kind": "cylinder",
        "position": [3.25, 3.4, 0],
        "size": [0.12, 0.12, 2.4],
        "surface": {"reflectance": 0.3},
    }
    table = {
        "id": "table",
        "name": "Round table",
        "kind": "cylinder",
        "position": [3.1, 3.3, 0],
        "size": [0.9, 0.9, 0.74],
        "surface": {"reflectance": 0.6},
    }
    screen = {
        "id": "screen",
        "name": "Wall across half the room",
        "kind": "box",
        "position": [3.6, 3.9, 0],
        "size": [2.6, 0.1, 2.2],
        "surface": {"reflectance": 0.5},
    }
    corner = [[0, 0], [6, 0], [6, 2.2], [4, 2.2], [4, 6], [0, 6]]
    mirrors = [
        sheet("first", "mirror", "mirror", [4.3, 4.6, 1.6], [2.1, 4.4, 1.6], [0.9, 0.9]),
        sheet("second", "mirror", "mirror", [0.7, 4.2, 1.5], [2.5, 3.6, 1.4], [1.2, 1.2]),
    ]
    outdoors = {**room(), "outdoors": True}
    return {
        "two frosts": rig(
            [back],
            [
                sheet("a", "frame", "frost-heavy", [4.15, 4.75, 1.6], FACE, [1.2, 1.2]),
                sheet("b", "frame", "frost-light", [3.6, 4.0, 1.45], FACE, [1.4, 1.4]),
            ],
        ),
        "opal, then frost": rig(
            [back],
            [
                sheet("a", "frame", "opal", [4.2, 4.85, 1.6], FACE, [1.0, 1.0]),
                sheet("b", "frame", "frost-heavy", [3.5, 3.9, 1.45], FACE, [1.2, 1.2]),
            ],
        ),
        "three cloths": rig(
            [back],
            [
                sheet("a", "frame", "frost-light", [4.25, 4.9, 1.65], FACE, [1.0, 1.0]),
                sheet("b", "frame", "grid-half", [3.8, 4.3, 1.5], FACE, [1.2, 1.2]),
                sheet("c", "frame", "silk", [3.3, 3.6, 1.4], FACE, [1.5, 1.5]),
            ],
        ),
        "board between two cloths": rig(
            [back],
            [
                sheet("a", "frame", "frost-heavy", [4.2, 4.85, 1.6], FACE, [1.0, 1.0]),
                sheet(
                    "board", "board", "foam-white", [3.7, 4.55, 1.5], [3.9, 4.5, 1.5], [0.4, 1.0]
                ),
                sheet("b", "frame", "grid-full", [3.4, 3.8, 1.4], FACE, [1.4, 1.4]),
            ],
        ),
        "narrow spot on a wall": rig([unit(spot(900_000, 2, 4), [1.0, 1.2, 1.6], [4.6, 6, 1.6])]),
        "narrow spot in a hall": rig(
            [unit(spot(4_000_000, 1, 3), [9.0, 15.0, 2.5], [16.0, 20.0, 1.0])],
            size=(18, 22, 6),
            sides={"east": WHITE, "north": WHITE},
        ),
        "spot on a round table": rig(
            [unit(spot(80_000, 5, 9), [3.9, 4.8, 2.6], [3.1, 3.3, 0.74])], furniture=[table]
        ),
        "two mirrors": rig([unit(PANEL, [1.5, 5.3, 1.7], [4.3, 4.6, 1.6])], mirrors),
        "walls of 0.95": rig([unit(SPOT, [4.2, 4.2, 2.2], FACE)], walls={"reflectance": 0.95}),
        "muslin a hand before a panel": rig(
            [unit(PANEL, [3.9, 3.9, 1.7], FACE)],
            [sheet("a", "frame", "muslin-bleached", [3.815, 3.815, 1.67], FACE, [0.7, 0.7])],
        ),
        "board a hand before a panel": rig(
            [unit(panel(4000, (0.2, 0.2)), [3.4, 4.0, 1.6], [4.6, 4.6, 1.6])],
            [sheet("a", "board", "foam-white", [3.5, 4.05, 1.6], [2.4, 3.5, 1.6], [1.0, 1.0])],
        ),
        "overcast window from near": _marked(
            rig(openings=[WINDOW], sky={"kind": "overcast", "level": 10_000}), NEAR_WINDOW
        ),
        "strip": rig([unit(panel(4000, (0.1, 1.4)), [3.6, 3.5, 1.4], FACE)]),
        "half shade of a post": rig(
            [unit(panel(6000, (0.5, 0.5)), [3.9, 4.3, 1.8], FACE)], furniture=[post]
        ),
        "light round a corner": _in_shape(
            rig([unit(SPOT, [5.3, 0.8, 1.8], [5.0, 2.1, 1.5])], walls=WHITE),
            outline=[{"at": at} for at in corner],
        ),
        "sloped ceiling": _in_shape(
            rig([unit(SPOT, [3.6, 4.6, 1.2], [3.0, 3.9, 3.4])], sides={"ceiling": WHITE}),
            rise=1.6,
        ),
        "round the end of a wall": rig(
            [unit(panel(9000, (0.4, 0.4)), [4.0, 5.4, 1.7], [2.0, 5.4, 1.5])],
            walls=WHITE,
            furniture=[screen],
        ),
        "lamp with a shade": with_a_lamp(800),
        "model from a file": with_a_scan(800),
        "lamp outside, through a sheer": rig(
            [unit(spot(300_000, 6, 12), [7.6, 3.4, 2.2], [5.0, 3.2, 1.6])],
            openings=[{**WINDOW, "cover": "muslin-bleached"}],
            sky={"kind": "overcast", "level": 10_000, "on": False},
        ),
        "gold board": rig(
            [unit(SMALL, [2.2, 5.5, 1.7], [4.0, 3.9, 1.5])],
            [sheet("board", "board", "gold", [4.0, 3.9, 1.5], [2.3, 3.5, 1.4], [1.0, 1.0])],
        ),
        "exterior, silk overhead": {
            **rig(
                [],
                [sheet("over", "frame", "silk", [2.5, 2.9, 2.4], [2.5, 2.9, 0], [2.4, 2.4])],
                sky={"kind": "overcast", "level": 10_000},
            ),
            "room": outdoors,
        },
        "exterior, sun and a board": {
            **rig(
                [],
                [sheet("b", "board", "foam-white", [1.4, 3.4, 1.2], [2.5, 2.6, 1.2], [1.2, 1.2])],
                sky={
                    "kind": "overcast",
                    "level": 10_000,
                    "on": False,
                    "sun": {"azimuth": 120, "elevation": 35, "level": 60_000},
                },
            ),
            "room": outdoors,
        },
        "exterior, lamp far beside": {
            **rig(
                [unit(SPOT, [9.5, 8.0, 2.6], FACE)],
                sky={"kind": "overcast", "level": 10_000, "on": False},
            ),
            "room": outdoors,
        },
    }
