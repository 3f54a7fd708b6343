"""Light from surface to surface, against closed forms: factors, furnace, energy."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from moth.colour import LUMINANCE
from moth.materials import MATERIALS, lobe_concentration
from moth.photometry import from_function, write_ies
from moth.tests.scenes import BLACK_ROOM, Held, setup, ways
from moth.transport import light_of, meter_light, sources
from moth.transport.exchange import balance, links, samples
from moth.transport.glow import lobes_along
from moth.transport.kernels import OFF_SURFACE
from moth.transport.walks import hemisphere, walk
from moth.world import build_world

FAR_FIGURE = [{"id": "s", "name": "s", "position": [0.5, 0.5], "facing": 180}]
FAR_CAMERA = [{"id": "a", "name": "A", "position": [5.6, 6.6, 2.6], "aim": [1, 1, 1.2]}]


def room(reflectance=0.5, **more):
    sides = {side: {"reflectance": reflectance} for side in BLACK_ROOM}
    return setup(
        **{
            "room": {"width": 6, "depth": 7, "height": 3, **sides},
            "figures": FAR_FIGURE,
            "cameras": FAR_CAMERA,
            "units": [],
            **more,
        }
    )


def lambert(flux_candela, size, position, aim):
    ies = write_ies(
        from_function(lambda c, g: flux_candela * np.cos(np.radians(np.minimum(g, 90)))),
        size,
        "panel",
    )
    return {
        "id": "k",
        "name": "k",
        "head": "panel-small",
        "ies": ies,
        "position": position,
        "aim": aim,
    }


def sheet(material, position, aim, size, kind="board", id_="g"):
    return {
        "id": id_,
        "name": id_,
        "kind": kind,
        "material": material,
        "position": position,
        "aim": aim,
        "size": size,
    }


@pytest.mark.parametrize("albedo", [0.2, 0.6, 0.9])
def test_a_closed_furnace_glows_evenly(albedo):
    # Every surface gives 1 and sends back the same part: all are at 1 / (1 - albedo), whatever
    # stands in the room.
    world = build_world(
        room(
            furniture=[{"id": "b", "name": "b", "position": [3, 4, 0], "size": [1, 1, 1]}],
            grip=[sheet("foam-white", [4, 3, 1.5], [3, 3, 1.5], [1, 1])],
        )
    )
    patches = world.patches
    even = replace(patches, albedo=np.full((len(patches), 3), albedo))
    glowing = balance(replace(world, patches=even), np.ones((len(patches), 3)))
    shares = np.asarray(links(world).sum(1)).ravel()
    open_ = shares > 0.999  # the floor under a box sees its dark inside
    assert open_.mean() > 0.97
    np.testing.assert_allclose(
        glowing[open_ & (patches.sheet < 0)].mean(), 1 / (1 - albedo), rtol=0.002 / (1 - albedo)
    )  # one ray in a thousand slips out at an edge


def test_factors_of_opposite_walls_are_the_books():
    # Floor to ceiling of a 6 x 7 x 3 room: Howell, A Catalog of Radiation Heat Transfer
    # Configuration Factors, C-11.
    world = build_world(room(figures=[{"id": "s", "name": "s", "position": [0.5, 0.5]}]))
    p, mesh = world.patches, world.mesh
    first = p.triangle[p.start[:-1]]
    floor = np.flatnonzero((mesh.flat[first][:, 2] > 0.99) & (mesh.body[first] == 0))
    ceiling = np.flatnonzero((mesh.flat[first][:, 2] < -0.99) & (mesh.body[first] == 0))
    x, y = 6 / 3, 7 / 3
    a, b = np.sqrt(1 + x * x), np.sqrt(1 + y * y)
    exact = (
        2
        / (np.pi * x * y)
        * (
            np.log(a * b / np.sqrt(1 + x * x + y * y))
            + x * b * np.arctan(x / b)
            + y * a * np.arctan(y / a)
            - x * np.arctan(x)
            - y * np.arctan(y)
        )
    )
    rows = np.asarray(links(world)[ceiling][:, floor].sum(1)).ravel()
    assert rows @ p.area[ceiling] / p.area[ceiling].sum() == pytest.approx(
        exact, rel=0.02
    )  # a person stands on part of it


def test_a_lamp_in_a_closed_room_is_absorbed_whole():
    # What the surfaces swallow is what the lamp sends: sum of (1 - albedo) E A = its flux.
    scene = room(0.7, units=[lambert(1000, (0.4, 0.4), [3, 4, 1.5], [3, 0, 1.5])])
    world = build_world(scene)
    light = light_of(world, sources(scene)[0])
    p = world.patches
    radiosity = light.radiosity @ LUMINANCE
    arrived = light.lit @ LUMINANCE + links(world) @ radiosity
    swallowed = (arrived * (1 - p.albedo @ LUMINANCE) * p.area).sum()
    assert swallowed == pytest.approx(1000 * np.pi, rel=0.02)


def test_the_mean_level_in_a_white_ball_of_a_room_is_the_spheres():
    # Integrating sphere: indirect level = flux / area x albedo / (1 - albedo); a box of even walls
    # comes near it.
    scene = room(0.8, units=[lambert(1000, (0.4, 0.4), [3, 3.5, 1.5], [3, 0, 1.5])])
    world = build_world(scene)
    light = light_of(world, sources(scene)[0])
    p = world.patches
    indirect = links(world) @ (light.radiosity @ LUMINANCE)
    inside = 2 * (6 * 7 + 7 * 3 + 3 * 6)
    assert (indirect * p.area).sum() / p.area.sum() == pytest.approx(
        1000 * np.pi / inside * 0.8 / 0.2, rel=0.1
    )


def test_a_board_lights_as_a_disc_or_rectangle_should():
    # A small board lit evenly by a far lamp: E = rho E_b / pi x A cos cos / d^2, room black.
    lamp = lambert(200_000, (0.05, 0.05), [3, 6.5, 1.5], [3, 1.0, 1.5])
    scene = room(
        0.0, units=[lamp], grip=[sheet("foam-white", [3, 1.0, 1.5], [3, 6, 1.5], [0.3, 0.3])]
    )
    on_board = ways(scene, (3, 1.003, 1.5), (0, 1, 0))["lamp"]
    got = ways(scene, (4.5, 3.0, 1.5), (-1.5, -2.0, 0))
    d2 = 1.5**2 + 2**2
    expected = 0.86 * on_board / np.pi * 0.09 * (2.0 / np.sqrt(d2)) / d2
    assert got["g"] == pytest.approx(expected, rel=0.02)
    assert got.get("lamp", 0) == 0


def test_two_cloths_pass_what_two_layers_should():
    # Between two diffusers much nearer than they are wide light goes to and fro: T = t1 t2 / (1 -
    # r1 r2), as for thick plates.
    lamp = lambert(50_000, (0.6, 0.6), [3, 6.0, 1.5], [3, 1.0, 1.5])
    first, second = (
        sheet("muslin-bleached", [3, y, 1.5], [3, 0, 1.5], [2.6, 2.6], "frame", id_)
        for y, id_ in ((4.0, "a"), (3.96, "b"))
    )
    levels = []
    for grip in ([first], [first, second]):
        got = ways(room(0.0, units=[lamp], grip=grip), (3, 3.2, 1.5), (0, 1, 0))
        levels.append(got.get("a", 0) + got.get("b", 0))
    m = MATERIALS["muslin-bleached"]
    assert levels[1] / levels[0] == pytest.approx(m.through / (1 - m.reflectance**2), rel=0.06)


def test_the_straight_share_keeps_a_hard_core():
    lamp = lambert(50_000, (0.1, 0.1), [3, 6.0, 1.5], [3, 1.0, 1.5])
    bare = ways(room(0.0, units=[lamp]), (3, 1.0, 1.5), (0, 1, 0))["lamp"]
    through = ways(
        room(
            0.0,
            units=[lamp],
            grip=[sheet("frost-light", [3, 4.0, 1.5], [3, 0, 1.5], [1, 1], "frame")],
        ),
        (3, 1.0, 1.5),
        (0, 1, 0),
    )
    assert through["lamp"] / bare == pytest.approx(MATERIALS["frost-light"].straight, rel=1e-3)
    assert through["g"] > 0.05 * bare
    nets = [
        sheet("net-single", [3, y, 1.5], [3, 0, 1.5], [1, 1], "frame", f"n{k}")
        for k, y in enumerate((4.0, 4.5))
    ]
    assert ways(room(0.0, units=[lamp], grip=nets), (3, 1.0, 1.5), (0, 1, 0))[
        "lamp"
    ] / bare == pytest.approx(0.71**2, rel=1e-3)


def test_a_mirror_is_a_lamp_behind_it():
    # Lamp 2 m before a mirror, meter 1.5 m before it: as from a lamp at the image, times what the
    # glass sends back.
    lamp = lambert(5_000, (0.2, 0.2), [2.0, 2.0, 1.5], [3.0, 0.2, 1.5])
    scene = room(
        0.0,
        units=[lamp],
        grip=[sheet("mirror", [3.0, 0.2, 1.5], [3.0, 3, 1.5], [1.5, 1.5], "mirror")],
    )
    meter = np.array([3.8, 1.7, 1.5])
    image = np.array([2.0, 0.2 - 1.8, 1.5])
    line = meter - image
    d2 = line @ line
    forward = np.array([1.0, 1.8, 0]) / np.hypot(1, 1.8)
    expected = 0.88 * 5_000 * (line @ forward) / np.sqrt(d2) / d2
    got = ways(scene, meter, image - meter)
    assert got["mirror"] == pytest.approx(expected, rel=0.01)
    # Aside of its outline the glass throws nothing.
    assert ways(scene, (5.8, 0.4, 1.5), (-1, 0, 0)).get("mirror", 0) == 0


def test_a_hard_reflector_throws_its_lobe_whole():
    # The peak of a von Mises-Fisher lobe of the catalogue's width, all of the board's flux in it.
    lamp = lambert(300_000, (0.05, 0.05), [2.0, 6.5, 1.5], [3.0, 0.3, 1.5])
    scene = room(
        0.0,
        units=[lamp],
        grip=[sheet("reflector-40", [3.0, 0.3, 1.5], [3.0, 3, 1.5], [0.2, 0.2], "reflector")],
    )
    on_board = ways(scene, (3.0, 0.303, 1.5), (0, 1, 0))["lamp"]
    out = np.array([1.0, 6.2, 0]) / np.hypot(1, 6.2)
    kappa = np.log(2) / (1 - np.cos(np.radians(20)))
    meter = np.array([3.0, 0.3, 1.5]) + 4 * out
    expected = 0.76 * on_board * 0.04 * kappa / (2 * np.pi) / 16
    diffuse = 0.05 * on_board * 0.04 / np.pi / 16
    assert ways(scene, meter, -out)["g"] == pytest.approx(expected + diffuse, rel=0.03)


@settings(max_examples=25)
@given(
    st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: np.hypot(np.hypot(v[0], v[1]), v[2]) > 0.1)
)
def test_directions_are_spread_as_they_say(v):
    normal = np.array([v]) / np.linalg.norm(v)
    for even, mean in ((True, 0.5), (False, 2 / 3)):
        directions = np.empty((4096, 3))
        hemisphere(normal, 4096, even, 1, directions)
        cosine = directions @ normal[0]
        np.testing.assert_allclose(np.linalg.norm(directions, axis=1), 1, atol=1e-9)
        assert cosine.min() >= -1e-9 and cosine.mean() == pytest.approx(mean, abs=0.01)
        sideways = directions - cosine[:, None] * normal
        assert np.abs(sideways.mean(0)).max() < 0.02


def test_places_on_patches_lie_on_them_and_fill_them():
    world = build_world(room(grip=[sheet("foam-white", [3, 3, 1.5], [4, 3.5, 1.2], [1.2, 0.8])]))
    p = world.patches
    front = np.flatnonzero((p.sheet == 0) & (p.side == 1))
    origins, normals = samples(world, front, 64)
    s = world.sheets[0]
    local = origins - s.centre
    np.testing.assert_allclose(local @ s.normal, OFF_SURFACE, atol=1e-6)
    np.testing.assert_allclose(normals, np.tile(s.normal, (len(normals), 1)), atol=1e-9)
    assert np.abs(local @ s.right).max() == pytest.approx(0.6, rel=0.02) and np.abs(
        local @ s.up
    ).max() == pytest.approx(0.4, rel=0.02)
    assert p.area[front].sum() == pytest.approx(0.96, rel=1e-6)


def test_walls_of_colour_colour_the_face():
    red = {"reflectance": 0.5, "colour": [1.0, 0.2, 0.15]}
    lamp = lambert(20_000, (0.2, 0.2), [2.0, 3.5, 1.5], [6.0, 3.5, 1.5])
    scene = setup(
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM, "east": red},
        figures=FAR_FIGURE,
        cameras=FAR_CAMERA,
        units=[lamp],
    )
    world = build_world(scene)
    rgb = sum(
        meter_light(
            world,
            light_of(world, sources(scene)[0]),
            Held((2.5, 5.5, 1.5), (1.0, 0.0, 0.0), "dome"),
        ).values()
    )
    assert rgb[0] > 3 * rgb[1] > 0


def test_a_small_board_gives_a_far_wall_what_the_wall_takes_from_it():
    world = build_world(room(grip=[sheet("foam-white", [4.5, 2, 1.5], [1, 4, 1.5], [1.0, 1.0])]))
    p, f = world.patches, links(world)
    exchange = f * p.area[:, None]
    np.testing.assert_allclose(
        np.asarray(exchange.sum(0)).sum(), np.asarray(exchange.sum(1)).sum(), rtol=1e-5
    )
    lopsided = abs(exchange - exchange.T).sum() / exchange.sum()
    assert lopsided < 1e-3
    # The wall opposite: its share of the board's view by the closed form of the board's own rays is
    # met from the wall's side too.
    board = np.flatnonzero((p.sheet == 0) & (p.side > 0))
    mesh = world.mesh
    west = np.flatnonzero(
        (mesh.flat[p.triangle[p.start[:-1]]][:, 0] > 0.99)
        & (mesh.body[p.triangle[p.start[:-1]]] == 0)
    )
    sent = float((f[board][:, west] * p.area[board, None]).sum())
    taken = float((f[west][:, board] * p.area[west, None]).sum())
    assert taken == pytest.approx(sent, rel=1e-3) and sent > 0.01


def test_no_patch_of_a_wall_lies_half_behind_a_window():
    window = {
        "id": "w",
        "name": "w",
        "wall": "east",
        "along": 3.13,
        "up": 1.47,
        "size": [1.31, 0.93],
    }
    world = build_world(room(openings=[window]))
    p, mesh = world.patches, world.mesh
    first = p.triangle[p.start[:-1]]
    east = np.flatnonzero((mesh.flat[first][:, 0] < -0.99) & (mesh.body[first] == 0))
    behind = []
    for k in east:
        corners = mesh.vertices[mesh.faces[p.triangle[p.start[k] : p.start[k + 1]]]].reshape(-1, 3)
        low, high = corners.min(0), corners.max(0)
        inside = max(0, min(high[1], 3.13 + 0.655) - max(low[1], 3.13 - 0.655)) * max(
            0, min(high[2], 1.47 + 0.465) - max(low[2], 1.47 - 0.465)
        )
        behind.append(inside / p.area[k])
    behind = np.array(behind)
    assert ((behind < 0.01) | (behind > 0.99)).all()
    assert (behind * p.area[east]).sum() == pytest.approx(1.31 * 0.93, rel=1e-3)
    assert p.area[east].sum() == pytest.approx(7 * 3, rel=1e-6)


@pytest.mark.parametrize("tilt", [0, 25, 50])
def test_a_walk_through_a_lobe_spreads_like_the_lobe_and_keeps_its_share(tilt):
    # One heavy frost before a far wall, walked at from a way off: the way on is a von Mises-Fisher
    # lobe about the way in.
    world = build_world(
        room(grip=[sheet("frost-heavy", [3, 3.5, 1.5], [3, 6, 1.5], [1.2, 1.2], "frame")])
    )
    m, cloth = MATERIALS["frost-heavy"], world.sheets[0]
    way = np.cos(np.radians(tilt)) * cloth.normal + np.sin(np.radians(tilt)) * cloth.right
    n = 40_000
    legs = walk(
        world, np.tile(cloth.centre - 0.5 * way, (n, 1)), np.tile(way, (n, 1)), np.arange(n)
    )
    owner, patch, weight, *_ = legs[1]
    share = m.straight + m.forward
    # Mean of the lobe's cosine to its axis is 1/tanh k - 1/k: the weight's mean is its share of
    # that, over the cosine of the way out.
    kappa = lobe_concentration(m.forward_width)
    resultant = 1 / np.tanh(kappa) - 1 / kappa
    expected = m.straight + m.forward * resultant
    assert weight.sum() / n == pytest.approx(expected, rel=0.02)
    # Most of what is met lies on many patches of the wall behind, not on one.
    assert len(np.unique(patch)) > 20 and weight.max() < 2.5 * share


@pytest.mark.parametrize("material", ["frost-heavy", "grid-full"])
def test_a_cloth_close_to_a_panel_spreads_its_light_as_all_its_lobes_would(material):
    # A lobe for each place of the panel, summed, against the patterns that the cloth is followed
    # by.
    panel = lambert(1000, (1.0, 1.0), [3, 4.3, 1.5], [3, 0, 1.5])
    scene = room(
        0.0, units=[panel], grip=[sheet(material, [3, 4.0, 1.5], [3, 0, 1.5], [1.2, 1.2], "frame")]
    )
    world = build_world(scene)
    m = MATERIALS[material]
    ways = np.random.default_rng(3).normal(size=(4000, 3))
    ways /= np.linalg.norm(ways, axis=1)[:, None]
    ways = ways[ways[:, 1] < 0]  # the panel shines along -y
    lobe = lambda kappa, cosine: (
        kappa / (2 * np.pi * (1 - np.exp(-2 * kappa))) * np.exp(kappa * (cosine - 1))
    )

    glows = [
        g
        for g in light_of(world, sources(scene)[0]).glows
        if g.has_beam and g.cells.normal[0, 1] < 0
    ]
    got = sum(
        lobes_along(glow.cells, np.full(len(ways), k), ways) * power
        for glow in glows
        for k, power in enumerate(glow.cells.power @ LUMINANCE)
    )

    x, z = (
        k.ravel()
        for k in np.meshgrid((np.arange(24) + 0.5) / 24 - 0.5, (np.arange(24) + 0.5) / 24 - 0.5)
    )
    exact = 0
    for cell in np.unique(np.concatenate([g.cells.middle for g in glows]).round(6), axis=0):
        came = cell - np.stack([3 + x, np.full(len(x), 4.3), 1.5 + z], 1)
        far = np.linalg.norm(came, axis=1)
        came /= far[:, None]
        level = 1000 / len(x) * came[:, 1] ** 2 / far**2
        exact = exact + m.forward * 0.01 * (
            lobe(lobe_concentration(m.forward_width), ways @ came.T) @ level
        )
    assert got.sum() == pytest.approx(exact.sum(), rel=0.02)
    assert np.sqrt(((got - exact) ** 2).sum() / (exact**2).sum()) < 0.03
