"""Rooms and rigs chosen for the ways in which people light: the first of the set."""

from .blocks import (
    BLACK,
    FACE,
    PANEL,
    SMALL,
    SPOT,
    WHITE,
    WINDOW,
    panel,
    rig,
    room,
    sheet,
    spot,
    unit,
)


def chosen():
    """The first 25 rigs, by name."""
    key = unit(SPOT, [4.2, 4.2, 2.2], FACE)
    far = unit(spot(60_000, 14, 24), [4.4, 5.6, 1.6], [3.9, 4.2, 1.5])
    coloured = {
        "east": {"reflectance": 0.4, "colour": [1.0, 0.3, 0.2]},
        "south": {"reflectance": 0.3, "colour": [0.3, 0.5, 1.0]},
    }
    table = {
        "id": "desk",
        "name": "Desk",
        "kind": "box",
        "position": [3.4, 3.2, 0],
        "size": [0.8, 1.2, 0.72],
        "surface": {"reflectance": 0.35},
    }
    return {
        "bare spot, grey room": rig([key]),
        "bare spot, white room": rig([key], walls=WHITE),
        "box, black room": rig([unit(panel(5000, (0.9, 0.6)), [3.8, 3.9, 1.9], FACE)], walls=BLACK),
        "box, white room": rig([unit(panel(5000, (0.9, 0.6)), [3.8, 3.9, 1.9], FACE)], walls=WHITE),
        "two panels and a desk": rig(
            [unit(PANEL, [3.9, 3.8, 1.9], FACE), unit(PANEL, [0.8, 4.5, 1.5], FACE)],
            furniture=[table],
        ),
        "egg crate on a panel": rig(
            [
                unit(
                    panel(9000, (0.6, 0.6)),
                    [3.8, 3.9, 1.9],
                    FACE,
                    attachments=[{"key": "crate", "settings": {"cutoff": 45}}],
                )
            ]
        ),
        "full grid cloth": rig(
            [far], [sheet("frame", "frame", "grid-full", [3.8, 3.9, 1.5], FACE, [1.2, 1.2])]
        ),
        "bleached muslin, half filled": rig(
            [unit(spot(60_000, 6, 14), [4.4, 5.4, 1.7], [3.85, 3.95, 1.6])],
            [sheet("frame", "frame", "muslin-bleached", [3.8, 3.9, 1.5], FACE, [1.8, 1.8])],
        ),
        "half grid cloth": rig(
            [unit(SMALL, [4.5, 5.2, 1.7], [3.6, 3.9, 1.5])],
            [sheet("frame", "frame", "grid-half", [3.7, 4.0, 1.5], FACE, [1.2, 1.2])],
        ),
        "light frost": rig(
            [unit(SMALL, [4.5, 5.2, 1.7], FACE)],
            [sheet("frame", "frame", "frost-light", [3.7, 4.0, 1.5], FACE, [1.2, 1.2])],
        ),
        "frost, then grid": rig(
            [unit(SMALL, [4.6, 5.4, 1.7], [3.6, 3.9, 1.5])],
            [
                sheet("first", "frame", "frost-heavy", [4.15, 4.7, 1.6], FACE, [1.2, 1.2]),
                sheet("second", "frame", "grid-full", [3.75, 4.1, 1.5], FACE, [1.5, 1.5]),
            ],
        ),
        "white wall bounce": rig(
            [unit(SPOT, [2.9, 4.8, 1.8], [5.0, 4.0, 1.7])], sides={"east": WHITE}
        ),
        "ceiling bounce": rig(
            [unit(SPOT, [3.6, 4.6, 1.2], [3.2, 3.8, 3.0])], sides={"ceiling": WHITE}
        ),
        "coloured corner": rig([unit(SPOT, [3.2, 3.6, 1.7], [5.0, 1.6, 1.6])], sides=coloured),
        "foam board": rig(
            [unit(SPOT, [3.0, 5.2, 1.6], [4.0, 3.6, 1.5])],
            [sheet("board", "board", "foam-white", [4.0, 3.6, 1.5], [2.6, 3.2, 1.3], [1.2, 1.2])],
        ),
        "book light": rig(
            [unit(SPOT, [3.7, 4.9, 1.6], [4.75, 4.2, 1.6])],
            [
                sheet("board", "board", "foam-white", [4.7, 4.2, 1.6], [3.6, 4.4, 1.5], [1.2, 1.2]),
                sheet("cloth", "frame", "muslin-bleached", [3.75, 3.7, 1.5], FACE, [1.2, 1.2]),
            ],
        ),
        "soft silver": rig(
            [unit(SMALL, [2.2, 5.5, 1.7], [4.0, 3.9, 1.5])],
            [sheet("board", "board", "silver-soft", [4.0, 3.9, 1.5], [2.3, 3.5, 1.4], [1.0, 1.0])],
        ),
        "hard reflector, 20°": rig(
            [unit(SMALL, [1.6, 5.5, 1.7], [4.2, 4.2, 1.6])],
            [
                sheet(
                    "panel",
                    "reflector",
                    "reflector-20",
                    [4.2, 4.2, 1.6],
                    [2.15, 3.85, 1.4],
                    [0.6, 0.6],
                )
            ],
        ),
        "mirror": rig(
            [unit(PANEL, [1.4, 5.2, 1.7], [4.2, 4.2, 1.6])],
            [sheet("glass", "mirror", "mirror", [4.2, 4.2, 1.6], [2.1, 3.7, 1.4], [0.8, 0.8])],
        ),
        "mirror and blinds": rig(
            [unit(PANEL, [1.4, 5.2, 1.7], [4.2, 4.2, 1.6])],
            [
                sheet("glass", "mirror", "mirror", [4.2, 4.2, 1.6], [2.1, 3.7, 1.4], [0.8, 0.8]),
                sheet(
                    "slats",
                    "blinds",
                    "board-matte",
                    [3.5, 3.5, 1.45],
                    FACE,
                    [0.9, 0.9],
                    slat_pitch=0.12,
                    slat_angle=20,
                ),
            ],
        ),
        "window, overcast": rig(openings=[WINDOW], sky={"kind": "overcast", "level": 10_000}),
        "window with grid cloth": rig(
            openings=[{**WINDOW, "cover": "grid-full"}], sky={"kind": "overcast", "level": 10_000}
        ),
        "window, sun": rig(
            openings=[WINDOW],
            sky={
                "kind": "overcast",
                "level": 10_000,
                "on": False,
                "sun": {"azimuth": 62, "elevation": 24, "level": 50_000},
            },
            walls=WHITE,
        ),
        "exterior, overcast, board": {
            **rig(
                [],
                [
                    sheet(
                        "board", "board", "foam-white", [3.6, 3.5, 1.1], [2.5, 2.6, 1.2], [1.2, 1.2]
                    )
                ],
                sky={"kind": "overcast", "level": 10_000},
            ),
            "room": {**room(), "outdoors": True},
        },
        "negative fill, white room": rig(
            [key],
            [sheet("black", "flag", "duvetyne", [1.6, 2.9, 1.3], [2.5, 2.6, 1.2], [1.2, 1.5])],
            walls=WHITE,
        ),
    }
