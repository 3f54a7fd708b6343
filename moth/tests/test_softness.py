"""How large a source is to the face, against the blur of a real edge that its light casts."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.inspection.softness import softness_of
from moth.metering.marks import Place
from moth.photometry import from_function, write_ies
from moth.tests.scenes import BLACK_ROOM, setup
from moth.transport import light_of, meter_light, render_layer, sources, view_of
from moth.world import build_world

SPOT = np.array([4.0, 2.5, 1.5])
GAP = 0.25
"""From the edge to where its shadow falls [m]."""


def lambert(width, height):
    return write_ies(
        from_function(lambda c, g: 3_000 * np.cos(np.radians(np.minimum(g, 90)))),
        (width, height),
        "panel",
    )


def lamp(y, ies=None, **more):
    return {
        "id": "k",
        "name": "k",
        "role": "key",
        "head": "panel-small",
        "position": [4, y, 1.5],
        "aim": [4, 0, 1.5],
        **({"ies": ies} if ies else {}),
        **more,
    }


def hung(material, y, size, kind="frame", id_="c"):
    return {
        "id": id_,
        "name": id_,
        "kind": kind,
        "material": material,
        "position": [4, y, 1.5],
        "aim": [4, 0, 1.5],
        "size": [size, size],
    }


def stage(unit, grip=()):
    return setup(
        room={"width": 8, "depth": 9, "height": 3, **BLACK_ROOM},
        figures=[{"id": "s", "name": "s", "position": [0.4, 8.5]}],
        units=[unit],
        grip=list(grip),
    )


SOURCES = {
    "small panel": (lamp(4.5, lambert(0.3, 0.3)), []),
    "panel": (lamp(4.5, lambert(0.6, 0.6)), []),
    "wide panel": (lamp(4.0, lambert(1.2, 0.4)), []),
    "near panel": (lamp(3.6, lambert(0.6, 0.6)), []),
    "softbox": (lamp(4.5, head="softbox-small"), []),
    "lantern": (lamp(4.5, head="softbox-large"), []),
    "muslin filled": (lamp(6.5, lambert(0.3, 0.3)), [hung("muslin-bleached", 4.0, 1.2)]),
    "muslin, hot middle": (lamp(4.5, lambert(0.3, 0.3)), [hung("muslin-bleached", 4.0, 1.2)]),
    "grid": (lamp(6.0, lambert(0.4, 0.4)), [hung("grid-full", 4.2, 1.0)]),
    "frost": (lamp(6.0, lambert(0.4, 0.4)), [hung("frost-light", 4.2, 1.0)]),
    "heavy frost": (lamp(6.0, lambert(0.3, 0.3)), [hung("frost-heavy", 4.4, 1.2)]),
    "tracing paper": (lamp(6.0, lambert(0.3, 0.3)), [hung("tracing-paper", 4.4, 1.2)]),
    "paper near the lamp, muslin near the face": (
        lamp(6.5, lambert(0.3, 0.3)),
        [hung("baking-parchment", 6.2, 0.5, id_="p"), hung("muslin-bleached", 4.0, 1.2)],
    ),
    "opal, then grid": (
        lamp(6.5, lambert(0.3, 0.3)),
        [hung("opal", 5.2, 1.2, id_="o"), hung("grid-full", 4.0, 1.2)],
    ),
}


EDGE = {
    "id": "e",
    "name": "e",
    "kind": "flag",
    "material": "duvetyne",
    "position": [4 - 1.5, SPOT[1] + GAP, 1.5],
    "aim": [4 - 1.5, 0, 1.5],
    "size": [3.0, 2.9],
}
"""Dark to the left of the middle."""


def foretold_of(scene):
    """Blur of the edge from a tenth to nine tenths [m], by the size that is told of the source."""
    world = build_world(scene)
    # As seen from the edge. Sources here are as wide as high, or wider: the widest way lies across.
    at_edge = SPOT + [0, GAP, 0]
    found = softness_of(world, light_of(world, sources(scene)[0]), at_edge, (0, 1.0, 0))
    return 0.8 * GAP * 2 * np.tan(np.radians(found.across / 2))


@pytest.mark.parametrize("name", list(SOURCES))
def test_softness_is_the_blur_of_an_edge(name):
    """An upright edge a quarter of a metre before a card: its shadow from a tenth to nine tenths,
    metered place by place, against what the size of the source foretells.
    """
    unit, grip = SOURCES[name]
    foretold = foretold_of(stage(unit, grip))
    shaded = stage(unit, [*grip, EDGE])
    world = build_world(shaded)
    light = light_of(world, sources(shaded)[0])
    x = np.linspace(-1.4 * foretold, 1.4 * foretold, 41)
    level = np.array(
        [
            float(
                sum(
                    meter_light(
                        world,
                        light,
                        Place("m", "m", (4 + dx, SPOT[1], 1.5), (0, 1.0, 0), "disc"),
                    ).values()
                )
                @ LUMINANCE
            )
            for dx in x
        ]
    )
    low, high = level[:3].mean(), level[-3:].mean()
    part = np.maximum.accumulate((level - low) / (high - low))
    blur = float(np.interp(0.9, part, x) - np.interp(0.1, part, x))
    assert blur == pytest.approx(foretold, rel=0.15)


def drawn(seed):
    """A head of the catalogue with what may hang on it, at any distance; as wide as high."""
    rng = np.random.default_rng(seed)
    across = float(rng.uniform(0.4, 1.2))
    box = str(rng.choice(["softbox", "octagon", "deep-dome", "lantern"]))
    size = {"diameter": across} if box == "lantern" else {"width": across}
    if box == "softbox":
        size["height"] = across * float(rng.uniform(0.5, 1.0))
    if box != "lantern":
        size["cloths"] = int(rng.integers(1, 4))
    return lamp(
        float(rng.uniform(3.9, 5.5)),
        head=str(rng.choice(["point-300", "point-600"])),
        attachments=[{"key": box, "settings": size}],
    )


IN_PICTURE = {
    **{k: v for k, v in SOURCES.items() if k != "near panel"},
    "flexible mat": (lamp(4.3, head="mat-2x2"), []),
    "panel of two feet": (lamp(4.1, head="panel-2x1"), []),
    **{f"drawn {seed}": (drawn(seed), []) for seed in range(6)},
}


def test_there_are_twenty_sources():
    assert len(IN_PICTURE) >= 20


@pytest.mark.parametrize("name", list(IN_PICTURE))
def test_softness_is_the_blur_in_the_rendered_picture(name):
    """The same edge's shadow on a white card, as a camera beside the light sees it."""
    unit, grip = IN_PICTURE[name]
    foretold = foretold_of(stage(unit, grip))
    card = {**hung("foam-white", SPOT[1], 2.4, "board", "card"), "aim": [4, 9, 1.5]}
    # The shadow fills a third of the frame.
    lens = float(np.clip(25 * 1.28 / (4.5 * foretold), 24, 135))
    eye = {"id": "a", "name": "A", "position": [5.0, 3.3, 1.6], "aim": SPOT.tolist()}
    scene = stage(unit, [*grip, EDGE, card]).model_copy(
        update={"cameras": setup(cameras=[{**eye, "focal_length": lens}]).cameras}
    )
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], (384, 216))
    seen = render_layer(world, view, sources(scene)[0]).surfaces.reshape(-1, 3) @ LUMINANCE
    at = view.points
    reach = 1.4 * foretold
    on_card = (
        (np.abs(at[:, 1] - SPOT[1]) < 0.02)
        & (np.abs(at[:, 2] - 1.5) < 0.04)
        & (np.abs(at[:, 0] - 4) < reach)
    )
    x, level = at[on_card, 0] - 4, seen[view.pixel[on_card]]
    bins = np.linspace(-reach, reach, 32)
    row = np.digitize(x, bins) - 1
    count = np.bincount(row, minlength=31)[:31]
    assert (count > 0).all()
    level = np.bincount(row, level, 31)[:31] / count
    low, high = level[:3].mean(), level[-3:].mean()
    part = np.maximum.accumulate((level - low) / (high - low))
    middle = (bins[1:] + bins[:-1]) / 2
    blur = float(np.interp(0.9, part, middle) - np.interp(0.1, part, middle))
    assert blur == pytest.approx(foretold, rel=0.15)


def test_most_of_the_light_is_held_by_a_wider_angle_than_half_of_it():
    scene = stage(*SOURCES["muslin filled"])
    world = build_world(scene)
    found = softness_of(world, light_of(world, sources(scene)[0]), SPOT, (0, 1.0, 0))
    assert 0 < found.half < found.most < 1.6 * found.across
    assert found.toward == pytest.approx((0, 1, 0), abs=0.02)
    assert found.distance == pytest.approx(1.5, rel=0.12)
