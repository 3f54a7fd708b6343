"""The judged set-ups: how each was made, and what must be read in it.

A case is made by construction: the fault is put in by hand (the edge light off before a dark wall,
the key moved until the triangle closes, everything lit from above) or left out. Nothing here asks
the readings what they think.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property, partial

import numpy as np

from moth.document import Setup
from moth.photometry import HEADS

from .stage import CHOSEN, drawn

BLACK, WHITE = 0.03, 0.8


@dataclass(frozen=True)
class Case:
    """A set-up, and what must be read in it."""

    name: str
    how: str
    """How it was made."""
    kind: str
    """Of the reading: outline, pattern, eyes, sockets."""
    make: Callable[[], Setup]
    wanted: frozenset
    """Words one of which must be read."""
    fault: bool
    """Whether a fault was put in."""

    @cached_property
    def setup(self):
        """The set-up."""
        return self.make()


def outlines(stage):
    """Shoulders against walls: merged, and parted by tone or by light."""
    key = {"name": "key", "angle": 48 * stage.side, "height": 20}
    edge = {"name": "edge", "angle": -150 * stage.side, "height": 30, "head": "point-300"}
    gone, seen = frozenset({"gone"}), frozenset({"reads", "faint", "too much"})
    for wall in (0.03, 0.06):
        yield Case(
            f"{stage.called}, black on {wall:.0%}",
            "black clothes before a dark wall, key from one side, no edge light",
            "outline",
            stage.scene([key], wall=wall, garment=BLACK),
            gone,
            True,
        )
    both = {**edge, "angle": 150 * stage.side, "name": "kicker"}
    yield Case(
        f"{stage.called}, black on black, edges",
        "the same with a hard lamp from behind on either side",
        "outline",
        stage.scene(
            [key, {**edge, "dimmer": 1.0}, {**both, "dimmer": 1.0}],
            wall=0.03,
            garment=0.06,
        ),
        seen,
        False,
    )
    yield Case(
        f"{stage.called}, black on white",
        "black clothes before a white wall that a lamp lights",
        "outline",
        stage.scene(
            [
                key,
                {
                    "name": "background",
                    "position": (2.0 * stage.side, -1.4, 0.6),
                    "aim": (-0.3 * stage.side, -2.95, 0.0),
                    "dimmer": 0.5,
                },
            ],
            wall=WHITE,
            garment=BLACK,
        ),
        seen,
        False,
    )
    yield Case(
        f"{stage.called}, white on black",
        "white clothes before a black wall, key and fill from both sides",
        "outline",
        stage.scene(
            [key, {"name": "fill", "angle": -50 * stage.side, "height": 5, "dimmer": 0.08}],
            wall=BLACK,
            garment=0.6,
        ),
        seen,
        False,
    )
    yield Case(
        f"{stage.called}, white on white, blown",
        "white clothes and a white wall a metre behind, both far over the clip",
        "outline",
        stage.scene(
            [
                {
                    "name": "key",
                    "angle": 12 * stage.side,
                    "height": 10,
                    "dimmer": 1.0,
                    "head": "point-600",
                    "distance": 1.9,
                },
                {
                    "name": "fill",
                    "angle": -14 * stage.side,
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
    ("loop", (29, 31), ("loop",)),
    ("closed triangle", (48, 37), ("closed triangle",)),
    ("split", (80, 12), ("split",)),
    ("from below", (12, -35), ("from below",)),
)


def patterns(stage):
    """Keys where each pattern is found in the books, about the face, hard and soft."""
    for n, (name, (angle, height), words) in enumerate(PATTERNS):
        # A lamp low before the face stays over the floor.
        away = 1.4 if height < 0 else 2.2
        draw = np.random.default_rng(100 * stage.number + n)
        side = -1 if (stage.number + n) % 2 else 1
        head = "point-300" if (stage.number + n) % 3 else "softbox-small"
        at = side * (angle + (draw.uniform(-3, 3) if angle else 0))
        up = height + draw.uniform(-3, 3)
        yield Case(
            f"{stage.called}, {name}",
            f"{head} at {at:.0f} degrees off the face, {up:.0f} above the eyes",
            "pattern",
            stage.scene(
                [
                    {
                        "name": "key",
                        "angle": at + stage.turn,
                        "height": up,
                        "head": head,
                        "distance": away,
                    }
                ],
            ),
            frozenset(words),
            name == "from below",
        )


def eyes(stage):
    """Lamps that an eye mirrors to the lens, and lamps that it cannot."""
    for angle, height in ((14, 4), (22, 8)):
        yield Case(
            f"{stage.called}, glints from {angle}",
            f"a box {angle} degrees off the lens and {height} above the eyes",
            "eyes",
            stage.scene([{"name": "key", "angle": stage.side * angle, "height": height}]),
            frozenset({"lives"}),
            False,
        )
    wide = {"name": "key", "head": "softbox-large", "distance": 1.1, "height": 6}
    yield Case(
        f"{stage.called}, glints from a wide box",
        "a box of 1.2 m, 1.1 m from the face: mirrored as wide, and under middle grey",
        "eyes",
        stage.scene([{**wide, "angle": stage.side * 20}]),
        frozenset({"lives"}),
        False,
    )
    for words, angle, height in (("behind", 150, 25), ("the ceiling", 20, 75)):
        yield Case(
            f"{stage.called}, no glint from {words}",
            f"a lamp {angle} degrees off the lens, {height} above the eyes, in a black room",
            "eyes",
            stage.scene(
                [{"name": "key", "angle": stage.side * angle, "height": height, "distance": 1.5}],
                wall=0.0,
                garment=0.02,
                floor={"reflectance": 0.0},
                ceiling={"reflectance": 0.0},
            ),
            frozenset({"no glint"}),
            True,
        )


def sockets(stage):
    """Light from far above, and light at the height it is usual."""
    for height in (80, 87):
        yield Case(
            f"{stage.called}, from {height} above",
            f"a lamp {height} degrees above the eyes, nothing else",
            "sockets",
            stage.scene(
                [
                    {
                        "name": "key",
                        "angle": stage.side * 8,
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
            f"{stage.called}, eyes lit from {height}",
            f"a lamp {height} degrees above the eyes",
            "sockets",
            stage.scene([{"name": "key", "angle": stage.side * 25, "height": height}]),
            frozenset({""}),
            False,
        )


def _named(stage, name, how, kind, setup, wanted, fault):
    return Case(f"{stage.called}, {name}", how, kind, setup, frozenset(wanted), fault)


def shadows(stage):
    """A hard lamp and a wall behind the person, near and far, high and low."""
    key = {
        "name": "key",
        "angle": 28 * stage.side,
        "height": 8,
        "head": "point-300",
        "dimmer": 0.05,
    }
    near = {"wall": 0.5, "depth": 7.0, "behind": 0.75}
    yield _named(
        stage,
        "hard shadow on the wall",
        "a bare lamp from the side, level with the eyes, a light wall 75 cm behind",
        "shadow",
        stage.scene([key], **near),
        {"hard shadow", "soft shadow"},
        True,
    )
    yield _named(
        stage,
        "the wall far behind",
        "the same lamp at 45 degrees to the side, the wall 3 m behind",
        "shadow",
        stage.scene(
            [{**key, "angle": (45 + abs(stage.slant)) * stage.side, "height": 30}],
            wall=0.5,
            behind=3.0,
        ),
        {""},
        False,
    )
    yield _named(
        stage,
        "a wide cloth near",
        "the wall 1.6 m behind, a wide soft source a metre off the face",
        "shadow",
        stage.scene(
            [
                {
                    "name": "key",
                    "angle": 50 * stage.side,
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


def hair(stage):
    """Dark hair before a dark wall without and with light from behind, and before a light one."""
    key = {"name": "key", "angle": 45 * stage.side, "height": 10}
    dark = replace(
        stage, look={**stage.look, "cut": "grown", "hair": {"reflectance": 0.02}, "skin": 0.3}
    )
    rims = [
        {"name": n, "angle": 150 * s, "height": 35, "head": "point-300", "dimmer": 0.5}
        for n, s in (("edge", 1), ("kicker", -1))
    ]
    wash = {
        "name": "background",
        "position": (2.0 * stage.side, -1.4, 0.6),
        "aim": (-0.3 * stage.side, -2.95, 0.0),
        "dimmer": 0.5,
    }
    for name, units, wall, words, fault in (
        ("dark before dark", [key], 0.01, {"gone"}, True),
        ("with two rims", [key, *rims], 0.01, {"reads", "too much"}, False),
        ("dark before a lit wall", [key, wash], WHITE, {"reads"}, False),
    ):
        made = dark.scene(units, wall=wall, garment=0.3)
        yield _named(stage, f"hair, {name}", "black hair", "hair", made, words, fault)


def lamps(stage):
    """A bulb in the frame at so many stops over the skin, in closed form: flux of key and bulb."""
    pale = replace(stage, look={**stage.look, "skin": 0.3})
    key = {"name": "key", "angle": 35 * stage.side, "height": 20, "head": "point-300"}
    lux = 0.02 * HEADS["point-300"].peak / 2.0**2
    skin = 0.8 * lux * 0.3 / np.pi
    full = HEADS["bulb"].peak / (np.pi * (HEADS["bulb"].size[0] / 2) ** 2)
    for over, words, fault in (
        (2.0, {"glows"}, False),
        (6.5, {"glares"}, True),
        (-1.7, {"dull"}, True),
        (-np.inf, {"not lit"}, True),
    ):
        bulb = {
            "name": "bulb",
            "role": "practical",
            "head": "bulb",
            "position": (-0.75 * stage.half(-0.8) * stage.side, -0.8, 0),
            "aim": (0, 0, 0),
            "dimmer": float(skin * 2**over / full),
            "held": "built-in",
        }
        made = pale.scene([{**key, "dimmer": 0.02}, bulb], wall=0.2)
        how = "a bulb of known intensity and size, skin of 30 % under a key of known intensity"
        yield _named(stage, f"bulb at {over:+g}", how, "lamps", made, words, fault)


def fans(stage):
    """A loud head near the microphone, and one without a fan."""
    for head, words, fault in (("point-300", {"fan heard"}, True), ("tube-4ft", {""}, False)):
        key = {"name": "key", "angle": 40 * stage.side, "height": 20, "head": head}
        made = stage.scene([key], microphone=(0, 0.4, -0.1))
        yield _named(
            stage, f"fan of {head}", "a microphone by the face", "sound", made, words, fault
        )


def pulls(stage):
    """A lamp on the wall behind: far over the face, and well under it."""
    key = {"name": "key", "angle": 40 * stage.side, "height": 25, "dimmer": 0.08}
    for dimmer, words, fault in ((1.0, {"pulls the eye"}, True), (0.001, {""}, False)):
        lamp = {
            "name": "background",
            "head": "point-300",
            "position": (max(1.8, 1.9 * stage.half(-1.4)) * stage.side, -1.4, 0.7),
            "aim": (-0.6 * stage.side, -2.95, 0.3),
            "dimmer": dimmer,
            "held": "hung",
        }
        yield _named(
            stage,
            f"wall lit at {dimmer:g}",
            "a hard lamp out of the frame on the wall beside the head",
            "pulls",
            stage.scene([key, lamp], wall=0.5, behind=3.0),
            words,
            fault,
        )


def lines(stage):
    """A dark post before a light wall, behind the head and beside it; a shelf's edge at its height
    and over it.
    """
    key = {"name": "key", "angle": 40 * stage.side, "height": 25}
    for where, x, words, fault in (
        ("behind the head", 0.02, {"grows out of the head"}, True),
        ("aside", -0.55 * stage.side, {""}, False),
    ):
        post = {
            "id": "p",
            "name": "Post",
            "kind": "box",
            "position": (x, -1.4, 0),
            "floor": True,
            "size": [0.07, 0.07, 2.9],
            "surface": {"reflectance": 0.03},
        }
        made = stage.scene([key], wall=0.6, furniture=[post])
        yield _named(stage, f"post {where}", "a dark post", "lines", made, words, fault)
    for where, z, words, fault in (
        ("at the height of the eyes", 0.0, {"runs through the head"}, True),
        ("over the head", 0.42, {""}, False),
    ):
        rail = {
            "id": "r",
            "name": "Rail",
            "kind": "box",
            "position": (0, -1.5, z - stage.lens_up * 1.5 / stage.away),
            "size": [4.0, 0.05, 0.05],
            "surface": {"reflectance": 0.03},
        }
        made = stage.scene([key], wall=0.6, furniture=[rail])
        yield _named(stage, f"rail {where}", "a dark rail", "lines", made, words, fault)


def in_frame(stage):
    """Lamps, stands and boards in the picture, and the same beside it."""
    key = {"name": "key", "angle": 45 * stage.side, "height": 25}
    seen = {"in the picture", "its stand is in the picture"}
    for across, words, fault in ((0.8, seen, True), (2.1, {""}, False)):
        edge = {
            "name": "edge",
            "head": "panel-small",
            "position": (across * stage.half(-1.2) * stage.side, -1.2, 0.3),
            "aim": (0, 0, 0.1),
            "dimmer": 0.1,
        }
        yield _named(
            stage,
            f"edge at {across} of the frame",
            "a panel on a stand behind the person",
            "frame",
            stage.scene([key, edge]),
            words,
            fault,
        )
    for across, words, fault in ((0.5, {"in the picture"}, True), (2.5, {""}, False)):
        board = {
            "id": "b",
            "name": "Board",
            "kind": "board",
            "material": "foam-white",
            "position": (-(across * stage.half(0.6) + 0.3) * stage.side, 0.6, 0.0),
            "aim": (0, 0, 0),
            "size": [0.6, 0.9],
        }
        yield _named(
            stage,
            f"board from {across} of the frame",
            "a white board beside the face",
            "frame",
            stage.scene([key], grip=[board]),
            words,
            fault,
        )


def mirrors(stage):
    """A mirror behind the person, turned so that it shows the lamp, and turned away."""
    at = np.array([-0.57 * stage.half(-1.8) * stage.side, -1.8, 0.15])
    lamp = np.array([1.3 * stage.side, 1.6, 0.5])
    lens = np.array([0, stage.away, stage.lens_up])

    def toward(place, of=at):
        return (place - of) / np.linalg.norm(place - of)

    half = toward(lamp) + toward(lens)
    for turn, words, fault in ((0, {"seen in the mirror"}, True), (28, {""}, False)):
        a = np.radians(turn * stage.side)
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
            "aim": (at / 2).tolist(),
            "head": "panel-small",
        }
        yield _named(
            stage,
            f"mirror turned {turn}",
            "a mirror at the half angle between lens and lamp, or turned off it",
            "mirrored",
            stage.scene([key], grip=[mirror]),
            words,
            fault,
        )
    for there, words, fault in ((True, {"mirrored"}, True), (False, {""}, False)):
        # A shiny wall panel behind: the lamp's mirror image beside the head, or past its edge.
        panel = {
            "id": "p",
            "name": "Tiles",
            "kind": "box",
            "position": (0, -1.8, 0),
            "floor": True,
            "turn": stage.bearing(0 if there else 28 * stage.side),
            "size": [3.0, 0.1, 2.8],
            "gloss": 1.0,
            "surface": {"reflectance": 0.15},
        }
        lamp = {
            "name": "key",
            "position": (0.74 * stage.half(-4.5) * stage.side, 0.9, 0.3),
            "aim": (0.2 * stage.side, -0.9, 0.1),
            "head": "point-300",
            "dimmer": 0.1,
        }
        yield _named(
            stage,
            f"tiles {'square' if there else 'turned away'}",
            "a shiny wall behind, the lamp's image beside the head, or the wall turned off it",
            "mirrored",
            stage.scene([lamp], furniture=[panel]),
            words,
            fault,
        )


def skins(stage):
    """A face and clothes set by a meter, and two stops and more off."""
    key = {"name": "key", "angle": 35 * stage.side, "height": 25}
    for lit, words, fault in (
        (3.4, {"blown"}, True),
        (0.6, {"holds"}, False),
        (-3.4, {"dark"}, True),
    ):
        made = partial(_metered, stage.scene([key], garment=0.3), lit)
        how = f"the lit cheek put {lit:+g} stops about grey by the iris"
        yield _named(stage, f"skin at {lit:+g}", how, "skin", made, words, fault)
    # Set by the face, clothes lie where they should only if the skin is neither dark nor light.
    stage = replace(stage, look={**stage.look, "skin": 0.3})
    made = partial(_metered, stage.scene([key], garment=0.85), 2.4)
    how = "white clothes, the lit cheek 2.4 over"
    yield _named(stage, "white clothes", how, "clothes", made, {"blown"}, True)
    dull = replace(stage, look={**stage.look, "cloth": "wool"})
    made = partial(_metered, dull.scene([key], garment=0.005, wall=0.05), -0.6)
    how = "woollen clothes that send back half a hundredth, one lamp from the side"
    yield _named(stage, "black clothes", how, "clothes", made, {"drowned"}, True)
    made = partial(_metered, stage.scene([key], garment=0.3), 0.6)
    yield _named(stage, "grey clothes", "grey clothes", "clothes", made, {"hold"}, False)


def _metered(scene, stops):
    """The set-up with its index put so that the lit skin sits so many stops about grey."""
    from moth.camera import stops_over_grey
    from moth.judging import picture_of

    made = scene()
    for _ in range(2):
        now = stops_over_grey(picture_of(made).signal("skin"))
        made = _with_camera(made, iso=float(made.cameras[0].iso * 2 ** (stops - now)))
    return made


def _with_camera(made, **change):
    return made.model_copy(update={"cameras": (made.cameras[0].model_copy(update=change),)})


def _balanced(scene, white):
    return _with_camera(scene(), white_balance=white)


def whites(stage):
    """Lamps and camera at one white, and at odds."""
    for cct, balance, words, fault in (
        (5600, 5600, {"agrees"}, False),
        (3200, 3200, {"agrees"}, False),
        (5600, 3200, {"blue"}, True),
        (3000, 5600, {"amber"}, True),
    ):
        key = {"name": "key", "angle": 40 * stage.side, "height": 25, "cct": cct}
        made = partial(_balanced, stage.scene([key]), balance)
        how = f"one lamp of {cct} K before a camera at {balance} K"
        yield _named(stage, f"{cct} at {balance}", how, "whites", made, words, fault)
    for other, words, fault in ((5600, {""}, False), (2800, {"two colours"}, True)):
        pair = [
            {"name": "key", "angle": 65 * stage.side, "height": 10, "cct": 5600},
            {"name": "fill", "angle": -65 * stage.side, "height": 10, "cct": other},
        ]
        made = stage.squared.scene(pair)
        how = f"a lamp of 5600 K from one side, one of {other} K from the other"
        yield _named(stage, f"5600 and {other}", how, "apart", made, words, fault)


def reasons(stage):
    """A lamp of the place in the frame, and the key from its side or from the other."""
    lamp = {
        "name": "lamp",
        "role": "practical",
        "head": "bulb",
        "position": (-0.75 * stage.half(-0.8) * stage.side, -0.8, 0),
        "aim": (0, 0, 0),
        "dimmer": 0.005,
        "held": "built-in",
    }
    for turn, words, fault in (
        (85 * stage.side, {"explained"}, False),
        (-60 * stage.side, {"against its reason"}, True),
    ):
        key = {"name": "key", "angle": turn, "height": 20, "dimmer": 0.3}
        made = stage.scene([key, lamp])
        how = "a lit lamp in the frame, the key from its side or from the other"
        yield _named(stage, f"key at {turn:+d}", how, "reasons", made, words, fault)


def glasses(stage):
    """Spectacles, and a lamp where they mirror it, and where they cannot."""
    for (angle, height), words, fault in (
        ((6 * stage.side, -16), {"glare"}, True),
        ((55 * stage.side, 40), {"clear"}, False),
    ):
        key = {
            "name": "key",
            "angle": angle,
            "height": height,
            "distance": 1.5,
            "head": "softbox-small",
        }
        worn = replace(stage.squared, look={**stage.look, "spectacles": True})
        made = worn.scene([key], wall=0.02)
        how = "the box low by the lens, where glasses tilted down look, or high to the side"
        yield _named(stage, f"box at {angle}, {height}", how, "glasses", made, words, fault)


def cases(seeds=()):
    """All of them before the four chosen stages, or before stages drawn with these seeds."""
    kinds = (
        outlines,
        patterns,
        eyes,
        sockets,
        hair,
        shadows,
        pulls,
        lines,
        in_frame,
        mirrors,
        skins,
        whites,
        lamps,
        fans,
        reasons,
        glasses,
    )
    stages = [drawn(seed) for seed in seeds] if seeds else CHOSEN
    return [case for kind in kinds for stage in stages for case in kind(stage)]
