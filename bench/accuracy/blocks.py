"""What rooms and rigs are put together of: lamps that every renderer can be given exactly."""

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
WINDOW = {
    "id": "win",
    "name": "Window",
    "wall": "east",
    "along": 3.2,
    "up": 1.6,
    "size": [1.6, 1.4],
}
PANEL, SPOT = panel(4000, (0.4, 0.4)), spot(40_000, 10, 25)
SMALL = panel(20_000, (0.15, 0.15))


def rig(units=(), grip=(), walls=GREY, size=(5, 6, 3), sides=None, **more):
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
