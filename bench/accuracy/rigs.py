"""The rooms and rigs: set-up documents made of lamps that every renderer can be given exactly."""

import numpy as np

from moth.photometry import from_function, write_ies

GREY = {"reflectance": 0.5}
WHITE = {"reflectance": 0.8}
BLACK = {"reflectance": 0.03}
SIDES = ("floor", "ceiling", "north", "south", "east", "west")


def panel(candela, size):
    """Photometric file of a Lambertian rectangle."""
    return write_ies(
        from_function(lambda c, g: candela * np.cos(np.radians(np.minimum(g, 90)))), size, "panel"
    )


def spot(candela, beam, cutoff):
    """Photometric file of a point whose intensity is even within the half angle `beam` and falls
    evenly to zero at `cutoff` [deg].
    """
    return write_ies(
        from_function(
            lambda c, g: candela * np.clip((cutoff - g) / (cutoff - beam), 0, 1), step=0.25
        ),
        (0, 0),
        "spot",
    )


def unit(ies, position, aim, **more):
    return {
        "id": "lamp",
        "name": "Lamp",
        "role": "key",
        "head": "panel-small",
        "position": position,
        "aim": aim,
        "ies": ies,
        **more,
    }


def sheet(id_, kind, material, position, aim, size, **more):
    return {
        "id": id_,
        "name": id_,
        "kind": kind,
        "material": material,
        "position": position,
        "aim": aim,
        "size": size,
        **more,
    }


def room(walls=GREY, size=(5, 6, 3), **sides):
    return {
        "width": size[0],
        "depth": size[1],
        "height": size[2],
        **dict.fromkeys(SIDES, walls),
        **sides,
    }


FACE = [2.5, 2.5, 1.2]
PANEL, SPOT = panel(4000, (0.4, 0.4)), spot(40_000, 10, 25)
SMALL = panel(20_000, (0.15, 0.15))


def _rig(units=(), grip=(), walls=GREY, size=(5, 6, 3), sides=None, **more):
    units = [{**u, "id": f"lamp-{k}" if k else "lamp"} for k, u in enumerate(units)]
    return {
        "schema_version": 4,
        "title": "rig",
        "room": room(walls, size, **(sides or {})),
        "figures": [
            {
                "id": "subject",
                "name": "Subject",
                "pose": "seated",
                "position": [2.5, 2.5],
                "facing": 0,
                # The references know no light in fibres.
                "cut": "moulded",
            }
        ],
        "cameras": [
            {
                "id": "a",
                "name": "A",
                "position": [2.9, 5.2, 1.4],
                "aim": [2.4, 2.3, 1.15],
                "focal_length": 28,
            }
        ],
        "units": units,
        "grip": list(grip),
        "marks": [
            {
                "id": "to-key",
                "name": "to the key side",
                "position": [2.8, 2.9, 1.2],
                "direction": [0.8, 1, 0.4],
            },
            {
                "id": "to-lens",
                "name": "to the lens",
                "position": [2.5, 2.95, 1.15],
                "direction": [0.1, 1, 0.05],
            },
            {
                "id": "fill",
                "name": "to the other side",
                "position": [2.2, 2.85, 1.2],
                "direction": [-0.9, 0.6, 0.0],
            },
            {"id": "up", "name": "up", "position": [2.5, 3.1, 1.3], "direction": [0, 0, 1]},
        ],
        **more,
    }


def rigs():
    """Rigs by name."""
    key = unit(SPOT, [4.2, 4.2, 2.2], FACE)
    far = unit(spot(60_000, 14, 24), [4.4, 5.6, 1.6], [3.9, 4.2, 1.5])
    window = {
        "id": "win",
        "name": "Window",
        "wall": "east",
        "along": 3.2,
        "up": 1.6,
        "size": [1.6, 1.4],
    }
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
        "bare spot, grey room": _rig([key]),
        "bare spot, white room": _rig([key], walls=WHITE),
        "box, black room": _rig(
            [unit(panel(5000, (0.9, 0.6)), [3.8, 3.9, 1.9], FACE)], walls=BLACK
        ),
        "box, white room": _rig(
            [unit(panel(5000, (0.9, 0.6)), [3.8, 3.9, 1.9], FACE)], walls=WHITE
        ),
        "two panels and a desk": _rig(
            [unit(PANEL, [3.9, 3.8, 1.9], FACE), unit(PANEL, [0.8, 4.5, 1.5], FACE)],
            furniture=[table],
        ),
        "egg crate on a panel": _rig(
            [
                unit(
                    panel(9000, (0.6, 0.6)),
                    [3.8, 3.9, 1.9],
                    FACE,
                    attachments=[{"key": "crate", "settings": {"cutoff": 45}}],
                )
            ]
        ),
        "full grid cloth": _rig(
            [far], [sheet("frame", "frame", "grid-full", [3.8, 3.9, 1.5], FACE, [1.2, 1.2])]
        ),
        "bleached muslin, half filled": _rig(
            [unit(spot(60_000, 6, 14), [4.4, 5.4, 1.7], [3.85, 3.95, 1.6])],
            [sheet("frame", "frame", "muslin-bleached", [3.8, 3.9, 1.5], FACE, [1.8, 1.8])],
        ),
        "half grid cloth": _rig(
            [unit(SMALL, [4.5, 5.2, 1.7], [3.6, 3.9, 1.5])],
            [sheet("frame", "frame", "grid-half", [3.7, 4.0, 1.5], FACE, [1.2, 1.2])],
        ),
        "light frost": _rig(
            [unit(SMALL, [4.5, 5.2, 1.7], FACE)],
            [sheet("frame", "frame", "frost-light", [3.7, 4.0, 1.5], FACE, [1.2, 1.2])],
        ),
        "frost, then grid": _rig(
            [unit(SMALL, [4.6, 5.4, 1.7], [3.6, 3.9, 1.5])],
            [
                sheet("first", "frame", "frost-heavy", [4.15, 4.7, 1.6], FACE, [1.2, 1.2]),
                sheet("second", "frame", "grid-full", [3.75, 4.1, 1.5], FACE, [1.5, 1.5]),
            ],
        ),
        "white wall bounce": _rig(
            [unit(SPOT, [2.9, 4.8, 1.8], [5.0, 4.0, 1.7])], sides={"east": WHITE}
        ),
        "ceiling bounce": _rig(
            [unit(SPOT, [3.6, 4.6, 1.2], [3.2, 3.8, 3.0])], sides={"ceiling": WHITE}
        ),
        "coloured corner": _rig([unit(SPOT, [3.2, 3.6, 1.7], [5.0, 1.6, 1.6])], sides=coloured),
        "foam board": _rig(
            [unit(SPOT, [3.0, 5.2, 1.6], [4.0, 3.6, 1.5])],
            [sheet("board", "board", "foam-white", [4.0, 3.6, 1.5], [2.6, 3.2, 1.3], [1.2, 1.2])],
        ),
        "book light": _rig(
            [unit(SPOT, [3.7, 4.9, 1.6], [4.75, 4.2, 1.6])],
            [
                sheet("board", "board", "foam-white", [4.7, 4.2, 1.6], [3.6, 4.4, 1.5], [1.2, 1.2]),
                sheet("cloth", "frame", "muslin-bleached", [3.75, 3.7, 1.5], FACE, [1.2, 1.2]),
            ],
        ),
        "soft silver": _rig(
            [unit(SMALL, [2.2, 5.5, 1.7], [4.0, 3.9, 1.5])],
            [sheet("board", "board", "silver-soft", [4.0, 3.9, 1.5], [2.3, 3.5, 1.4], [1.0, 1.0])],
        ),
        "hard reflector, 20°": _rig(
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
        "mirror": _rig(
            [unit(PANEL, [1.4, 5.2, 1.7], [4.2, 4.2, 1.6])],
            [sheet("glass", "mirror", "mirror", [4.2, 4.2, 1.6], [2.1, 3.7, 1.4], [0.8, 0.8])],
        ),
        "mirror and blinds": _rig(
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
        "window, overcast": _rig(openings=[window], sky={"kind": "overcast", "level": 10_000}),
        "window with grid cloth": _rig(
            openings=[{**window, "cover": "grid-full"}], sky={"kind": "overcast", "level": 10_000}
        ),
        "window, sun": _rig(
            openings=[window],
            sky={
                "kind": "overcast",
                "level": 10_000,
                "on": False,
                "sun": {"azimuth": 62, "elevation": 24, "level": 50_000},
            },
            walls=WHITE,
        ),
        "exterior, overcast, board": {
            **_rig(
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
        "negative fill, white room": _rig(
            [key],
            [sheet("black", "flag", "duvetyne", [1.6, 2.9, 1.3], [2.5, 2.6, 1.2], [1.2, 1.5])],
            walls=WHITE,
        ),
    }
