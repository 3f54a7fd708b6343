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


def _scene(
    person, units, *, wall=GREY, garment=None, depth=7.0, behind=3.0, grip=(), furniture=(), **room
):
    """A seated person in a room, the lens two metres before the face at the height of its eyes; the
    wall so far behind.
    """
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
                "position": [3, behind],
                **({} if garment is None else {"garment": {"reflectance": garment}}),
            }
        ],
        "cameras": [{"id": "a", "name": "A", "position": [3, 5, 1.2], "aim": [3, 3, 1.2]}],
        "grip": list(grip),
        "furniture": list(furniture),
    }
    face = anchor(load(base))
    base["cameras"][0] |= {
        "position": [3, behind + 2.1, float(face[2])],
        "aim": [3, behind, float(face[2]) - 0.1],
        "focal_length": 45,
    }
    base["units"] = [_unit(face, base["cameras"][0]["position"], **u) for u in units]
    return load(base)


def _unit(face, lens, name, head="softbox-small", dimmer=0.2, **more):
    """A unit in polar words about the face, or at its own `position`."""
    if "position" not in more:
        polar = Polar(**{k: more.pop(k, 2.0) for k in ("angle", "height", "distance")})
        more["position"] = [float(v) for v in from_polar(polar, face, lens)]
    return {
        "id": name,
        "name": name,
        "role": name if name in ("key", "fill", "edge", "background") else "other",
        "head": head,
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


def _named(person, name, how, kind, setup, wanted, fault):
    return Case(f"{person}, {name}", how, kind, setup, frozenset(wanted), fault)


def shadows():
    """A hard lamp and a wall behind the person, near and far, high and low."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        key = {"name": "key", "angle": 28 * side, "height": 8, "head": "point-300", "dimmer": 0.05}
        near = {"wall": 0.5, "depth": 7.0, "behind": 0.75}
        yield _named(
            person,
            "hard shadow on the wall",
            "a bare lamp from the side, level with the eyes, a light wall 75 cm behind",
            "shadow",
            _scene(person, [key], **near),
            {"hard shadow", "soft shadow"},
            True,
        )
        yield _named(
            person,
            "the wall far behind",
            "the same lamp at 45 degrees to the side, the wall 3 m behind",
            "shadow",
            _scene(person, [{**key, "angle": 45 * side, "height": 30}], wall=0.5, behind=3.0),
            {""},
            False,
        )
        yield _named(
            person,
            "a wide cloth near",
            "the wall 1.6 m behind, a wide soft source a metre off the face",
            "shadow",
            _scene(
                person,
                [
                    {
                        "name": "key",
                        "angle": 50 * side,
                        "height": 25,
                        "head": "panel-4x2",
                        "distance": 1.3,
                        "dimmer": 0.02,
                    }
                ],
                wall=0.4,
                behind=1.6,
            ),
            {""},
            False,
        )


def pulls():
    """A lamp on the wall behind: far over the face, and well under it."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        key = {"name": "key", "angle": 40 * side, "height": 25, "dimmer": 0.08}
        for dimmer, words, fault in ((1.0, {"pulls the eye"}, True), (0.001, {""}, False)):
            lamp = {
                "name": "background",
                "head": "point-300",
                "position": [3 + 1.8 * side, 1.6, 1.9],
                "aim": [3 - 0.6 * side, 0.05, 1.5],
                "dimmer": dimmer,
                "held": "hung",
            }
            yield _named(
                person,
                f"wall lit at {dimmer:g}",
                "a hard lamp out of the frame on the wall beside the head",
                "pulls",
                _scene(person, [key, lamp], wall=0.5, behind=3.0),
                words,
                fault,
            )


def lines():
    """A dark post before a light wall, behind the head and beside it; a shelf's edge at its height
    and over it.
    """
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        key = {"name": "key", "angle": 40 * side, "height": 25}
        for where, x, words, fault in (
            ("behind the head", 3.02, {"grows out of the head"}, True),
            ("aside", 3 - 0.55 * side, {""}, False),
        ):
            post = {
                "id": "p",
                "name": "Post",
                "kind": "box",
                "position": [x, 1.6, 0],
                "size": [0.07, 0.07, 2.9],
                "surface": {"reflectance": 0.03},
            }
            made = _scene(person, [key], wall=0.6, furniture=[post])
            yield _named(person, f"post {where}", "a dark post", "lines", made, words, fault)
        for where, z, words, fault in (
            ("at the height of the eyes", 0.0, {"runs through the head"}, True),
            ("over the head", 0.42, {""}, False),
        ):
            face = anchor(_scene(person, []))
            rail = {
                "id": "r",
                "name": "Rail",
                "kind": "box",
                "position": [3, 1.5, float(face[2]) + z],
                "size": [4.0, 0.05, 0.05],
                "surface": {"reflectance": 0.03},
            }
            made = _scene(person, [key], wall=0.6, furniture=[rail])
            yield _named(person, f"rail {where}", "a dark rail", "lines", made, words, fault)


def in_frame():
    """Lamps, stands and boards in the picture, and the same beside it."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        key = {"name": "key", "angle": 45 * side, "height": 25}
        seen = {"in the picture", "its stand is in the picture"}
        for across, words, fault in ((0.75, seen, True), (1.9, {""}, False)):
            edge = {
                "name": "edge",
                "head": "panel-small",
                "position": [3 + across * side, 1.8, 1.5],
                "aim": [3, 3, 1.3],
                "dimmer": 0.1,
            }
            yield _named(
                person,
                f"edge {across} m aside",
                "a panel on a stand behind the person",
                "frame",
                _scene(person, [key, edge]),
                words,
                fault,
            )
        for across, words, fault in ((0.5, {"in the picture"}, True), (1.35, {""}, False)):
            board = {
                "id": "b",
                "name": "Board",
                "kind": "board",
                "material": "foam-white",
                "position": [3 - across * side, 3.6, 1.2],
                "aim": [3, 3, 1.2],
                "size": [0.6, 0.9],
            }
            yield _named(
                person,
                f"board {across} m aside",
                "a white board beside the face",
                "frame",
                _scene(person, [key], grip=[board]),
                words,
                fault,
            )


def mirrors():
    """A mirror behind the person, turned so that it shows the lamp, and turned away."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        at = np.array([3 - 0.62 * side, 1.2, 1.35])
        lamp = np.array([3 + 1.3 * side, 4.6, 1.7])
        lens = np.array([3, 5.1, 1.2])

        def toward(place, of=at):
            return (place - of) / np.linalg.norm(place - of)

        half = toward(lamp) + toward(lens)
        for turn, words, fault in ((0, {"seen in the mirror"}, True), (28, {""}, False)):
            a = np.radians(turn * side)
            way = np.array(
                [
                    half[0] * np.cos(a) - half[1] * np.sin(a),
                    half[0] * np.sin(a) + half[1] * np.cos(a),
                    half[2],
                ]
            )
            mirror = {
                "id": "m",
                "name": "Mirror",
                "kind": "mirror",
                "material": "mirror",
                "position": at.tolist(),
                "aim": (at + way).tolist(),
                "size": [0.45, 0.6],
            }
            key = {
                "name": "key",
                "position": lamp.tolist(),
                "aim": ((at + np.array([3, 3, 1.2])) / 2).tolist(),
                "head": "panel-small",
            }
            yield _named(
                person,
                f"mirror turned {turn}",
                "a mirror at the half angle between lens and lamp, or turned off it",
                "mirrored",
                _scene(person, [key], grip=[mirror]),
                words,
                fault,
            )
        for there, words, fault in ((True, {"mirrored"}, True), (False, {""}, False)):
            # A shiny wall panel behind: the lamp's mirror image beside the head, or past its edge.
            panel = {
                "id": "p",
                "name": "Tiles",
                "kind": "box",
                "position": [3, 1.2, 0],
                "size": [3.0, 0.1, 2.4],
                "gloss": 1.0,
                "surface": {"reflectance": 0.15},
            }
            x = 3 + (1.35 if there else 4.2) * side
            lamp = {
                "name": "key",
                "position": [x if there else 3 + 2.6 * side, 3.9, 1.7],
                "aim": [3, 3, 1.2],
                "head": "softbox-small",
                "dimmer": 0.2,
            }
            yield _named(
                person,
                f"tiles, lamp {'in' if there else 'out of'} their angle",
                "a shiny wall behind, the lamp's image beside the head or off the frame",
                "mirrored",
                _scene(person, [lamp], furniture=[panel]),
                words,
                fault,
            )


def skins():
    """A face and clothes set by a meter, and two stops and more off."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        key = {"name": "key", "angle": 35 * side, "height": 25}
        for lit, words, fault in (
            (3.4, {"blown"}, True),
            (0.6, {"holds"}, False),
            (-3.4, {"dark"}, True),
        ):
            made = _metered(_scene(person, [key], garment=0.3), lit)
            how = f"the lit cheek put {lit:+g} stops about grey by the iris"
            yield _named(person, f"skin at {lit:+g}", how, "skin", made, words, fault)
        made = _metered(_scene(person, [key], garment=0.85), 2.4)
        how = "white clothes, the lit cheek 2.4 over"
        yield _named(person, "white clothes", how, "clothes", made, {"blown"}, True)
        made = _metered(_scene(person, [key], garment=0.005, wall=0.05), -0.6)
        how = "clothes that send back half a hundredth, one lamp from the side"
        yield _named(person, "black clothes", how, "clothes", made, {"drowned"}, True)
        made = _metered(_scene(person, [key], garment=0.3), 0.6)
        yield _named(person, "grey clothes", "grey clothes", "clothes", made, {"hold"}, False)


def _metered(made, stops):
    """The set-up with its index put so that the lit skin sits so many stops about grey."""
    from moth.camera import stops_over_grey
    from moth.judging import picture_of

    for _ in range(2):
        now = stops_over_grey(picture_of(made).signal("skin"))
        camera = made.cameras[0]
        camera = camera.model_copy(update={"iso": float(camera.iso * 2 ** (stops - now))})
        made = made.model_copy(update={"cameras": (camera, *made.cameras[1:])})
    return made


def whites():
    """Lamps and camera at one white, and at odds."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        for cct, balance, words, fault in (
            (5600, 5600, {"agrees"}, False),
            (3200, 3200, {"agrees"}, False),
            (5600, 3200, {"blue"}, True),
            (3000, 5600, {"amber"}, True),
        ):
            key = {"name": "key", "angle": 40 * side, "height": 25, "cct": cct}
            made = _scene(person, [key])
            camera = made.cameras[0].model_copy(update={"white_balance": balance})
            made = made.model_copy(update={"cameras": (camera,)})
            how = f"one lamp of {cct} K before a camera at {balance} K"
            yield _named(person, f"{cct} at {balance}", how, "whites", made, words, fault)


def reasons():
    """A lamp of the place in the frame, and the key from its side or from the other."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        lamp = {
            "name": "lamp",
            "role": "practical",
            "head": "bulb",
            "position": [3 - 0.6 * side, 2.2, 1.2],
            "aim": [3, 3, 1.2],
            "dimmer": 0.005,
            "held": "built-in",
        }
        for turn, words, fault in (
            (85 * side, {"explained"}, False),
            (-60 * side, {"against its reason"}, True),
        ):
            key = {"name": "key", "angle": turn, "height": 20, "dimmer": 0.3}
            made = _scene(person, [key, lamp])
            how = "a lit lamp in the frame, the key from its side or from the other"
            yield _named(person, f"key at {turn:+d}", how, "reasons", made, words, fault)


def glasses():
    """Spectacles, and a lamp where they mirror it, and where they cannot."""
    for k, person in enumerate(PEOPLE):
        side = -1 if k % 2 else 1
        for (angle, height), words, fault in (
            ((6 * side, -16), {"glare"}, True),
            ((55 * side, 40), {"clear"}, False),
        ):
            key = {
                "name": "key",
                "angle": angle,
                "height": height,
                "distance": 1.5,
                "head": "softbox-small",
            }
            made = _scene(person, [key], wall=0.02)
            figure = made.figures[0].model_copy(update={"spectacles": True})
            made = made.model_copy(update={"figures": (figure,)})
            how = "the box low by the lens, where glasses tilted down look, or high to the side"
            yield _named(person, f"box at {angle}, {height}", how, "glasses", made, words, fault)


def cases():
    """All of them."""
    return [
        *outlines(),
        *patterns(),
        *eyes(),
        *sockets(),
        *shadows(),
        *pulls(),
        *lines(),
        *in_frame(),
        *mirrors(),
        *skins(),
        *whites(),
        *reasons(),
        *glasses(),
    ]
