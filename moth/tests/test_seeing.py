"""What a camera sees past cloth that stands before it."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.materials import MATERIALS
from moth.tests.scenes import BLACK_ROOM, data, setup
from moth.transport import light_of, render_layer, sources, view_of
from moth.transport.glow import glow_visibility
from moth.world import build_world

SIZE = (192, 108)
LAMP = {
    "id": "key",
    "name": "Key",
    "role": "key",
    "head": "panel-small",
    "position": [4.4, 3.6, 1.6],
    "aim": [3, 3, 1.2],
    "dimmer": 1.0,
}
BACK = {**LAMP, "position": [3.5, 2.2, 1.5], "aim": [3.2, 5.0, 1.3]}


def cloth(material, y=4.8, size=(3.0, 3.0), x=3.0):
    """A cloth across the way from the lens to the face, no lamp's light on its way to the face."""
    return {
        "id": f"cloth-{round(10 * y)}",
        "name": "Cloth",
        "kind": "frame",
        "material": material,
        "position": [x, y, 1.3],
        "aim": [x, y + 1, 1.3],
        "size": list(size),
    }


def seen(*grip, unit=LAMP):
    scene = setup(
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}, units=[unit], grip=list(grip)
    )
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], SIZE)
    return view, render_layer(world, view, sources(scene)[0])


def luminance(layer):
    return (layer.surfaces @ LUMINANCE).reshape(SIZE[::-1])


@pytest.mark.parametrize("nets", [["net-single"], ["net-double"], ["net-single", "net-double"]])
def test_a_net_takes_the_same_part_of_all_behind_it(nets):
    bare = luminance(seen()[1])
    netted = luminance(seen(*(cloth(net, 4.8 - 0.2 * k) for k, net in enumerate(nets)))[1])
    face = bare > 0.2 * bare.max()
    assert face.sum() > 300
    part = np.prod([MATERIALS[net].straight for net in nets])
    # What little the net sends back itself, and shade of the key cast in a few rays, is the rest.
    assert (netted[face] / bare[face]).mean() == pytest.approx(part, rel=0.03)


def test_half_the_frame_behind_a_net_has_a_clear_edge():
    bare, netted = luminance(seen()[1]), luminance(seen(cloth("net-double", x=1.5))[1])
    lit = bare > 0.1 * bare.max()
    part = np.where(lit, netted / np.maximum(bare, 1e-9), np.nan)
    across = np.nanmean(part[:, lit.any(0)], 0)
    # The camera looks north to the face: the net's east edge, at x = 3, stands in the middle of the
    # frame.
    low, high = np.sort(across)[[3, -4]]
    assert low == pytest.approx(
        MATERIALS["net-double"].straight, rel=0.06
    ) and high == pytest.approx(1, rel=0.06)


def test_what_lets_nothing_straight_through_hides_all():
    view, _ = seen(cloth("muslin-unbleached"))
    assert view.past.max() == 0 and view.behind == ()
    view, _ = seen(cloth("net-single"))
    assert view.past.max() == 1 and len(view.behind) == 1


def test_no_pixel_holds_more_than_itself():
    view, _ = seen(cloth("net-single"), cloth("frost-light", 4.4, (1.0, 1.0)))
    for past in range(view.past.max() + 1):
        weight = np.bincount(
            view.pixel[view.past == past], view.weight[view.past == past], SIZE[0] * SIZE[1]
        )
        assert weight.max() <= 1 + 1e-9
        assert past or weight.min() == pytest.approx(1)
    # Behind both only what both let through is left.
    both = view.left[view.past == 2]
    assert both == pytest.approx(
        np.full(len(both), MATERIALS["net-single"].straight * MATERIALS["frost-light"].straight)
    )


def test_a_cloth_pushed_through_a_wall_shows_nothing_of_the_outside():
    """Where it stands outside the room, and in the wall's very plane, rays past it meet nothing:
    the picture stays one of numbers.
    """
    scene = setup(
        room={"width": 6, "depth": 7, "height": 3},
        units=[LAMP],
        grip=[
            {**cloth("silk"), "position": [5.9, 3.0, 1.5], "aim": [3, 3.6, 1.2], "size": [3.0, 2.5]}
        ],
        cameras=[
            {
                "id": "a",
                "name": "A",
                "position": [3, 5.5, 1.5],
                "aim": [5.9, 3, 1.4],
                "focal_length": 24,
            }
        ],
    )
    world = build_world(scene)
    for size in ((96, 54), SIZE):
        view = view_of(world, scene, scene.cameras[0], size)
        assert view.past.max() == 1 and all(
            np.isfinite(part).all()
            for part in (view.points, view.normals, view.toward, view.albedo, view.left)
        )
        assert (view.left > 0).all()
        layer = render_layer(world, view, sources(scene)[0])
        assert np.isfinite(layer.surfaces).all()


def test_what_is_behind_is_told_for_each_pixel_of_the_cloth_and_no_other():
    net = cloth("net-double", x=1.5)
    view, _ = seen(net)
    ((share, wall),) = view.behind
    covered = share > 0
    assert 0.3 < covered.mean() < 0.7 and share[covered].max() == pytest.approx(
        MATERIALS["net-double"].straight
    )
    # What shows through stands farther off, and beside the cloth there is nothing behind.
    assert (wall[covered] > view.depth[covered]).all() and np.isinf(wall[~covered]).all()


def test_a_lamp_glows_through_a_net():
    _, bare = seen(unit=BACK)
    _, netted = seen(cloth("net-single"), unit=BACK)
    part = MATERIALS["net-single"].straight
    assert len(bare.seen) > 20 and set(bare.seen) <= set(netted.seen)
    there = np.isin(netted.seen, bare.seen)
    assert netted.glow[there].sum() == pytest.approx(part * bare.glow.sum(), rel=0.01)
    assert netted.cover[there].sum() == pytest.approx(part * bare.cover.sum(), rel=0.01)


def test_a_lamp_before_the_net_is_as_it_was():
    before = {**BACK, "position": [3.3, 5.0, 1.35], "aim": [3.3, 5.5, 1.3]}
    bare, netted = seen(unit=before)[1], seen(cloth("net-single"), unit=before)[1]
    assert netted.glow.sum() == pytest.approx(
        bare.glow.sum(), rel=1e-6
    ) and netted.cover.sum() == pytest.approx(bare.cover.sum(), rel=1e-6)


def test_a_setup_without_cloth_has_nothing_behind():
    scene = setup(**data())
    view = view_of(build_world(scene), scene, scene.cameras[0], SIZE)
    assert view.behind == () and not view.past.any() and (view.left == 1).all()


@pytest.mark.parametrize(("off", "shade"), [(0.003, False), (0.004, False), (0.02, True)])
def test_a_lapels_shade_is_not_that_of_a_whole_gathering_point(off, shade):
    """A black flag so near before a place hides a lit muslin from it, or is let be."""
    muslin = {
        "id": "m",
        "name": "m",
        "kind": "frame",
        "material": "muslin-bleached",
        "position": [3, 5, 1.5],
        "aim": [3, 0, 1.5],
        "size": [1.2, 1.2],
    }
    lapel = {
        **{"id": "l", "name": "l", "kind": "flag", "material": "duvetyne"},
        "position": [3, 3 + off, 1.5],
        "aim": [3, 9, 1.5],
        "size": [0.3, 0.3],
    }
    scene = setup(
        figures=[{"id": "s", "name": "s", "position": [0.4, 0.4]}],
        furniture=[],
        units=[
            {
                "id": "k",
                "name": "k",
                "head": "panel-small",
                "position": [3, 6, 1.5],
                "aim": [3, 0, 1.5],
            }
        ],
        grip=[muslin, lapel],
    )
    world = build_world(scene)
    glow = next(g for g in light_of(world, sources(scene)[0]).glows if g.sheet == 0)
    place = np.array([[3.0, 3.0, 1.5]]), np.array([[0.0, 1.0, 0.0]])
    assert glow_visibility(world, glow, place, 64)[0] == 0
    seen = glow_visibility(world, glow, place, 64, skip=np.array([0.008]))[0]
    assert seen == (0 if shade else 1)
