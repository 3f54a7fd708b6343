"""The judged set-ups: how each was made, and what must be read in it.

A case is made by construction: the fault is put in by hand (the edge light off before a dark wall,
the key moved until the triangle closes, everything lit from above) or left out. Nothing here asks
the readings what they think.
"""

from dataclasses import dataclass

import numpy as np

from moth.document import Polar, Setup, from_polar, load
from moth.world import anchor

PEOPLE = ("weathered-man", "young-woman", "middle-aged-woman", "broad-man")
BLACK, GREY, WHITE = 0.03, 0.3, 0.8


@dataclass(frozen=True)
class Case:
    """A set-up, and what must be read in it."""

    name: str
    how: str
    """How it was made."""
    kind: str
    """Of the reading: outline, pattern, eyes, sockets."""
    setup: Setup
    wanted: frozenset
    """Words one of which must be read."""
    fault: bool
    """Whether a fault was put in."""


def _scene(person, units, *, wall=GREY, garment=None, depth=7.0, **room):
    """A seated person in a room, the lens two metres before the face at the height of its eyes."""
    sides = {s: {"reflectance": wall} for s in ("north", "south", "east", "west")}
    base = {
        "schema_version": 6,
        "room": {
            "width": 6,
            "depth": depth,
            "height": 3,
            "floor": {"reflectance": 0.08},
            "ceiling": {"reflectance": 0.08},
            **sides,
            **room,
        },
        "figures": [
            {
                "id": "s",
                "name": "Keeper",
                "figure": person,
                "pose": "seated",
                "position": [3, 3],
                **({} if garment is None else {"garment": {"reflectance": garment}}),
            }
        ],
        "cameras": [{"id": "a", "name": "A", "position": [3, 5, 1.2], "aim": [3, 3, 1.2]}],
    }
    face = anchor(load(base))
    base["cameras"][0] |= {
        "position": [3, 5.1, float(face[2])],
        "aim": [3, 3, float(face[2]) - 0.1],
        "focal_length": 45,
    }
    base["units"] = [_unit(face, base["cameras"][0]["position"], **u) for u in units]
    return load(base)


def _unit(face, lens, name, angle, height, distance=2.0, head="softbox-small", dimmer=0.2, **more):
    place = from_polar(Polar(angle=angle, height=height, distance=distance), face, lens)
    return {
        "id": name,
        "name": name,
        "role": name if name in ("key", "fill", "edge", "background") else "other",
        "head": head,
        "position": [float(v) for v in place],
        "aim": [float(v) for v in face],
        "dimmer": dimmer,
        **more,
    }


def outlines():
    """Shoulders against walls: merged, and parted by tone or by light."""
    for k, person in enumerate(PEOPLE):
        turn = -1 if k % 2 else 1
        key = {"name": "key", "angle": 48 * turn, "height": 20}
        edge = {"name": "edge", "angle": -150 * turn, "height": 30, "head": "point-300"}
        gone, seen = frozenset({"gone"}), frozenset({"reads", "faint", "too much"})
        for wall in (0.03, 0.06):
            yield Case(
                f"{person}, black on {wall:.0%}",
                "black clothes before a dark wall, key from one side, no edge light",
                "outline",
                _scene(person, [key], wall=wall, garment=BLACK),
                gone,
                True,
            )
        both = {**edge, "angle": 150 * turn, "name": "kicker"}
        yield Case(
            f"{person}, black on black, edges",
            "the same with a hard lamp from behind on either side",
            "outline",
            _scene(
                person,
                [key, {**edge, "dimmer": 1.0}, {**both, "dimmer": 1.0}],
                wall=0.03,
                garment=0.06,
            ),
            seen,
            False,
        )
        yield Case(
            f"{person}, black on white",
            "black clothes before a white wall that a lamp lights",
            "outline",
            _scene(
                person,
                [key, {"name": "background", "angle": 120 * turn, "height": 10, "dimmer": 0.3}],
                wall=WHITE,
                garment=BLACK,
            ),
            seen,
            False,
        )
        yield Case(
            f"{person}, white on black",
            "white clothes before a black wall, key and fill from both sides",
            "outline",
            _scene(
                person,
                [key, {"name": "fill", "angle": -50 * turn, "height": 5, "dimmer": 0.08}],
                wall=BLACK,
                garment=0.6,
            ),
            seen,
            False,
        )
        yield Case(
            f"{person}, white on white, blown",
            "white clothes and a white wall a metre behind, both far over the clip",
            "outline",
            _scene(
                person,
                [
                    {
                        "name": "key",
                        "angle": 12 * turn,
                        "height": 10,
                        "dimmer": 1.0,
                        "head": "point-600",
                        "distance": 1.9,
                    },
                    {
                        "name": "fill",
                        "angle": -14 * turn,
                        "height": 5,
                        "dimmer": 1.0,
                        "head": "point-600",
                        "distance": 1.9,
                    },
                ],
                wall=WHITE,
                garment=WHITE,
            ),
            gone,
            True,
        )


PATTERNS = (
    ("flat", (0, 3), ("flat",)),
    ("butterfly", (0, 48), ("butterfly",)),
    ("loop", (30, 34), ("loop",)),
    ("closed triangle", (47, 34), ("closed triangle",)),
    ("split", (80, 12), ("split",)),
    ("from below", (12, -35), ("from below",)),
)


def patterns():
    """Keys where each pattern is found in the books, hard and soft, from either side."""
    for k, person in enumerate(PEOPLE):
        for n, (name, (angle, height), words) in enumerate(PATTERNS):
            # A lamp low before the face stays over the floor.
            away = 1.4 if height < 0 else 2.2
            draw = np.random.default_rng(100 * k + n)
            side = -1 if (k + n) % 2 else 1
            head = "point-300" if (k + n) % 3 else "softbox-small"
            at = side * (angle + (draw.uniform(-3, 3) if angle else 0))
            up = height + draw.uniform(-3, 3)
            yield Case(
                f"{person}, {name}",
                f"{head} at {at:.0f} degrees off the lens, {up:.0f} above the eyes",
                "pattern",
                _scene(
                    person,
                    [{"name": "key", "angle": at, "height": up, "head": head, "distance": away}],
                ),
                frozenset(words),
                name == "from below",
            )


def eyes():
    """Lamps that an eye mirrors to the lens, and lamps that it cannot."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        for angle, height in ((14, 4), (22, 8)):
            yield Case(
                f"{person}, glints from {angle}",
                f"a box {angle} degrees off the lens and {height} above the eyes",
                "eyes",
                _scene(person, [{"name": "key", "angle": side * angle, "height": height}]),
                frozenset({"lives"}),
                False,
            )
        for words, angle, height in (("behind", 150, 25), ("the ceiling", 20, 75)):
            yield Case(
                f"{person}, no glint from {words}",
                f"a lamp {angle} degrees off the lens, {height} above the eyes, in a black room",
                "eyes",
                _scene(
                    person,
                    [{"name": "key", "angle": side * angle, "height": height, "distance": 1.5}],
                    wall=0.0,
                    garment=0.02,
                    floor={"reflectance": 0.0},
                    ceiling={"reflectance": 0.0},
                ),
                frozenset({"no glint"}),
                True,
            )


def sockets():
    """Light from far above, and light at the height it is usual."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        for height in (78, 86):
            yield Case(
                f"{person}, from {height} above",
                f"a lamp {height} degrees above the eyes, nothing else",
                "sockets",
                _scene(
                    person,
                    [
                        {
                            "name": "key",
                            "angle": side * 8,
                            "height": height,
                            "distance": 1.6,
                            "head": "point-300",
                            "held": "hung",
                        }
                    ],
                    wall=0.05,
                    garment=BLACK,
                ),
                frozenset({"dark"}),
                True,
            )
        for height in (15, 32):
            yield Case(
                f"{person}, eyes lit from {height}",
                f"a lamp {height} degrees above the eyes",
                "sockets",
                _scene(person, [{"name": "key", "angle": side * 25, "height": height}]),
                frozenset({""}),
                False,
            )


def cases():
    """All of them."""
    return [*outlines(), *patterns(), *eyes(), *sockets()]
