"""Mechanisms of light against closed forms and against a small tracer of its own, also on cases
drawn at random.
"""

from itertools import pairwise

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.materials import MATERIALS, lobe_concentration
from moth.metering.marks import Place
from moth.photometry import from_function, write_ies
from moth.tests.scenes import BLACK_ROOM, setup
from moth.transport import light_of, meter_light, receive, sources
from moth.transport.emitters import emitter_from
from moth.transport.exchange import samples
from moth.transport.glow import matte, shine
from moth.transport.operands import BALL
from moth.world import build_world

ASIDE = [{"id": "s", "name": "s", "position": [0.4, 0.4]}]


def spot(candela, half, cutoff, size=(0, 0)):
    """A lamp that is even within a half angle and falls to nothing at the cut-off [deg]."""

    def shape(c, g):
        return candela * np.clip((cutoff - g) / max(cutoff - half, 1e-6), 0, 1)

    return write_ies(from_function(shape, step=0.1), size, "spot")


def unit(ies, position, aim, **more):
    return {
        "id": "k",
        "name": "k",
        "head": "point-600",
        "ies": ies,
        "position": list(position),
        "aim": list(aim),
        **more,
    }


def board(id_, material, position, aim, size):
    return {
        "id": id_,
        "name": id_,
        "kind": "board" if material in ("mirror", "foam-board") else "frame",
        "material": material,
        "position": list(position),
        "aim": list(aim),
        "size": list(size),
    }


def reading(scene, position, direction, receiver="disc", only=None):
    """Luminance of all that a set-up's sources at full, or one of them, bring to a meter [lx]."""
    world = build_world(scene)
    n = np.asarray(direction, float) / np.linalg.norm(direction)
    mark = Place("m", "m", tuple(position), tuple(n), receiver)
    return sum(
        float(sum(meter_light(world, light_of(world, s), mark).values()) @ LUMINANCE)
        for s in sources(scene)
        if only in (None, s.id)
    )


def dark(**more):
    """A black room of 8 by 8 by 4 m whose figure stands in a corner."""
    room = {"width": 8, "depth": 8, "height": 4, **BLACK_ROOM}
    return setup(**{"room": room, "figures": ASIDE, **more})


@pytest.mark.parametrize("diameter", [0.25, 0.65, 1.2])
@pytest.mark.parametrize("distance", [0.8, 1.0, 1.5, 3.0])
def test_an_even_ball_lights_by_the_inverse_square_from_its_middle(diameter, distance):
    """Exact for a sphere of even luminance at any distance outside it."""
    even = from_function(lambda c, g: 0 * g + 500.0, reach=180)
    ball = emitter_from(even, BALL, (diameter, diameter), (4, 4, 2), (4, 4, 0))
    place, facing = np.array([[4 + distance, 4, 2.0]]), np.array([[-1.0, 0, 0]])
    assert receive(None, ball, place, facing, [False])[0] == pytest.approx(
        500 / distance**2, rel=3e-3
    )


def traced(lamp, candela, half, sheets, mark, count=400_000, seed=1):
    """Level that a spot brings to a meter through sheets one after another, by rays [lx].

    sheets: (place, normal, half sizes, forward share, concentration) with level right hands; what
    leaves the last is asked straight, no ray need find the meter.
    """
    rng = np.random.default_rng(seed)
    place, aim = lamp
    forward = (aim - place) / np.linalg.norm(aim - place)

    def around(axis, cosine):
        turn = rng.uniform(0, 2 * np.pi, len(cosine))
        other = np.where(np.abs(axis[:, 2:]) < 0.9, [[0, 0, 1.0]], [[1.0, 0, 0]])
        x = np.cross(axis, other)
        x /= np.linalg.norm(x, axis=1, keepdims=True)
        y = np.cross(axis, x)
        sine = np.sqrt(np.maximum(1 - cosine**2, 0))
        return (
            cosine[:, None] * axis
            + (sine * np.cos(turn))[:, None] * x
            + (sine * np.sin(turn))[:, None] * y
        )

    least = np.cos(np.radians(half))
    way = around(np.tile(forward, (count, 1)), rng.uniform(least, 1, count))
    flux = np.full(count, candela * 2 * np.pi * (1 - least) / count)
    at = np.tile(place, (count, 1))
    for k, (middle, normal, size, share, kappa) in enumerate(sheets):
        slant = way @ normal
        t = ((middle - at) @ normal) / slant
        at = at + t[:, None] * way
        right = np.array([-normal[1], normal[0], 0.0]) / np.hypot(*normal[:2])
        up = np.cross(normal, right)
        off = at - middle
        on = (t > 0) & (np.abs(off @ right) < size[0]) & (np.abs(off @ up) < size[1])
        at, way, flux = at[on], way[on], flux[on] * share
        if k < len(sheets) - 1:
            u = rng.uniform(1e-12, 1, len(at))
            before = np.sign(way @ normal)
            way = around(way, 1 + np.log(u + (1 - u) * np.exp(-2 * kappa)) / kappa)
            keep = np.sign(way @ normal) == before
            at, way, flux = at[keep], way[keep], flux[keep]
            continue
        to = mark[0] - at
        d = np.linalg.norm(to, axis=1)
        to /= d[:, None]
        density = (
            kappa / (2 * np.pi * (1 - np.exp(-2 * kappa))) * np.exp(kappa * ((to * way).sum(1) - 1))
        )
        same = np.sign(to @ normal) == np.sign(way @ normal)
        cosine = np.maximum(-(to @ mark[1]), 0)
        return float((flux * density * cosine / d**2 * same).sum())


LOBED = ["frost-light", "frost-heavy", "opal", "grid-quarter", "grid-half", "tracing-paper", "silk"]


@pytest.mark.parametrize("seed", range(10))
def test_cloths_one_after_another_are_what_rays_find(seed, monkeypatch):
    """Two and three cloths that send light on in lobes, drawn at random."""
    # What a cloth sends every way raises no lobes then: the tracer follows none of that.
    monkeypatch.setattr("moth.transport.light.FEW_BRIGHT", 0)
    monkeypatch.setattr("moth.transport.light.BOOK", 2.0)
    rng = np.random.default_rng(seed)
    count = 2 + seed % 2
    materials = [str(k) for k in rng.choice(LOBED, count)]
    y = np.concatenate([[6.5], 6.5 - np.cumsum(rng.uniform(0.35, 0.9, count))])
    lamp = np.array([4, 6.5, 2.0]), np.array([4, 4, 2.0])
    mark = np.array([4 + rng.uniform(-0.4, 0.4), y[-1] - rng.uniform(0.9, 1.8), 1.9])
    facing = np.array([0, 1.0, 0])
    half = float(rng.uniform(5, 20))
    sheets, grip = [], []
    for k, key in enumerate(materials):
        side = float(rng.uniform(1.0, 1.6))
        turned = rng.uniform(-0.25, 0.25)
        place = np.array([4 + rng.uniform(-0.1, 0.1), y[k + 1], 2.0])
        normal = np.array([np.sin(turned), -np.cos(turned), 0])
        grip.append(board(f"g{k}", key, place, place + normal, (side, side)))
        m = MATERIALS[key]
        sheets.append(
            (place, normal, (side / 2, side / 2), m.forward, lobe_concentration(m.forward_width))
        )
    scene = dark(units=[unit(spot(20_000, half, half + 0.05), *lamp)], grip=grip)
    light = light_of(build_world(scene), sources(scene)[0])
    # What passes straight, or leaves a cloth every way, is no part of what the tracer follows.
    lobes = 0.0
    for glow in light.glows:
        out, none = np.zeros((1, 3)), np.zeros((1, 3))
        only = glow.cells._replace(flux=np.zeros_like(glow.cells.flux))
        shine(matte(mark[None], facing[None]), False, only, out, none, 4)
        if glow.sheet == count - 1:
            lobes += float(out[0] @ LUMINANCE)
    # Lobes raised on the last cloth by all that passed those before it in lobes, or straight.
    expected = 0.0
    for bits in range(2 ** (count - 1)):
        through = [k for k in range(count - 1) if bits >> k & 1]
        straight = np.prod(
            [MATERIALS[materials[k]].straight for k in range(count - 1) if k not in through]
        )
        chosen = [sheets[k] for k in [*through, count - 1]]
        expected += straight * traced(lamp, 20_000, half, chosen, (mark, facing), seed=seed)
    hue = np.prod([MATERIALS[k].hue @ LUMINANCE for k in materials])
    assert lobes == pytest.approx(expected * hue, rel=0.055)


@pytest.mark.parametrize("seed", range(8))
def test_flux_of_any_beam_in_any_room_is_kept(seed):
    """All that a lamp sends falls on the room: to 1 %, for beams of 1 to 60 degrees."""
    rng = np.random.default_rng(seed)
    w, d, h = (float(rng.uniform(*k)) for k in ((3, 25), (3, 25), (2.5, 8)))
    half = float(rng.uniform(0.5, 30))
    table = {
        "id": "t",
        "name": "t",
        "kind": "cylinder",
        "position": [0.6 * w, 0.6 * d, 0],
        "size": [1.2, 1.2, 0.75],
        "surface": {"reflectance": 0.4},
    }
    place = [float(rng.uniform(0.2, 0.8)) * k for k in (w, d, h)]
    aim = [float(rng.uniform(0.1, 0.9)) * k for k in (w, d)] + [0.0]
    if seed % 2:
        aim = [0.6 * w, 0.6 * d, 0.75]
    scene = setup(
        room={"width": w, "depth": d, "height": h, **BLACK_ROOM},
        figures=ASIDE,
        furniture=[table],
        units=[unit(spot(5_000, half, half + 0.05), place, aim)],
    )
    world, source = build_world(scene), sources(scene)[0]
    light = light_of(world, source)
    fallen = float((light.lit[:, 0] * world.patches.area).sum())
    # Of the table in use, whose steps round the edge of so narrow a beam.
    table = source.emitters[0].face.table[0]
    t = np.linspace(0, 1, len(table))
    sent = float(np.trapezoid(table * 8 * np.pi * t, t))
    assert fallen == pytest.approx(sent, rel=0.01)


@pytest.mark.parametrize("seed", range(6))
def test_no_cell_of_a_cloth_before_a_panel_is_blotched(seed):
    """Level on every cell against the panel summed in 24 x 24 pieces. Rays from the lamp tell a
    cell by sixty hits: believed wherever they differ they put one in eight off by a fifth.
    """
    rng = np.random.default_rng(seed)
    size = rng.uniform(0.3, 0.8, 2)
    lamp = np.array([1.4, 3.6, 1.6]) + rng.uniform(-0.1, 0.1, 3)
    middle = lamp + [rng.uniform(0.7, 1.2), rng.uniform(-0.4, 0.2), rng.uniform(-0.2, 0.2)]
    aim = middle + [1.0, rng.uniform(-0.3, 0.3), 0.0]
    cloth = {
        "id": "c",
        "name": "c",
        "kind": "frame",
        "material": str(rng.choice(["frost-light", "muslin-bleached", "grid-half"])),
        "position": middle.tolist(),
        "aim": aim.tolist(),
        "size": [1.2, 1.2],
    }
    even = write_ies(
        from_function(lambda c, g: 1000 * np.cos(np.radians(np.minimum(g, 90)))), tuple(size), "p"
    )
    scene = setup(
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
        figures=ASIDE,
        units=[unit(even, lamp.tolist(), middle.tolist())],
        grip=[cloth],
    )
    world = build_world(scene)
    light, p = light_of(world, sources(scene)[0]), world.patches
    emitter = sources(scene)[0].emitters[0]
    k = (np.arange(24) + 0.5) / 12 - 1
    a, b = (g.ravel() for g in np.meshgrid(k, k))
    right, up, forward = emitter.vectors
    face = emitter.centre + np.outer(a * size[0] / 2, right) + np.outer(b * size[1] / 2, up)
    mine = np.flatnonzero((p.sheet == 0) & (light.straight[:, 0] > 0))
    assert len(mine) == 144
    places, normals = samples(world, mine, 16)
    to = face[None] - places[:, None]
    far = np.linalg.norm(to, axis=2)
    leaves = np.maximum(-(to @ forward) / far, 0)
    falls = np.maximum((to * normals[:, None]).sum(2) / far, 0)
    level = (1000 / 576 * leaves * falls / far**2).sum(1).reshape(144, 16).mean(1)
    found = light.straight[mine, 0] / light.straight[mine, 0].sum()
    assert found == pytest.approx(level / level.sum(), rel=0.09)
    assert np.sqrt(np.mean((found * level.sum() / level - 1) ** 2)) < 0.025


@pytest.mark.parametrize("reflectance", [0.5, 0.8, 0.95])
def test_a_room_takes_up_just_what_is_sent(reflectance):
    """The balance of all orders: what is absorbed is what was sent, however white the walls."""
    room = {
        "width": 4,
        "depth": 5,
        "height": 3,
        **{side: {"reflectance": reflectance} for side in BLACK_ROOM},
    }
    ies = write_ies(from_function(lambda c, g: 0 * g + 100.0, reach=180), (0, 0), "lamp")
    scene = setup(room=room, figures=ASIDE, units=[unit(ies, (2, 2.5, 1.5), (2, 2.5, 0))])
    world = build_world(scene)
    light, p = light_of(world, sources(scene)[0]), world.patches
    white = p.albedo[:, 1] > 0.01
    taken = light.radiosity[:, 1] * (1 / np.maximum(p.albedo[:, 1], 1e-6) - 1) * p.area
    assert float(taken[white].sum()) == pytest.approx(400 * np.pi, rel=0.012)


def outdoors(w, d, **more):
    ground = {"reflectance": 0.3}
    room = {"width": w, "depth": d, "height": 3, "outdoors": True, "floor": ground}
    return setup(room=room, **more)


def test_sun_falls_alike_on_all_the_ground():
    sky = {
        "kind": "clear",
        "level": 0.001,
        "sun": {"azimuth": 200, "elevation": 35, "level": 50_000},
    }
    scene = outdoors(6, 6, figures=ASIDE, sky=sky)
    world = build_world(scene)
    sun = next(s for s in sources(scene) if s.id == "@sun")
    p = world.patches
    centres = world.mesh.vertices[world.mesh.faces[p.triangle[p.start[:-1]]]].mean(1)
    far = (p.sky[:, 2] == 0) & (centres[:, 2] < 0.01) & (np.abs(centres[:, :2] - 3).max(1) > 8)
    level = light_of(world, sun).lit[far, 0]
    assert far.sum() > 100
    np.testing.assert_allclose(level, 50_000 * np.sin(np.radians(35)), rtol=1e-3)


@pytest.mark.parametrize("seed", range(4))
def test_the_size_of_the_stage_lights_nothing(seed):
    """One lamp over open ground, beside a face: the same readings on any stage."""
    rng = np.random.default_rng(seed)
    off = rng.uniform(-3, 3, 2)
    height, half = float(rng.uniform(1.5, 4)), float(rng.uniform(8, 35))
    found = []
    for w, d in ((5.0, 6.0), (12.0, 9.0), (20.0, 20.0)):
        middle = np.array([w / 2, d / 2])
        lamp = [*(middle + off), height]
        scene = outdoors(
            w,
            d,
            figures=[{"id": "s", "name": "s", "position": [0.3, 0.3]}],
            sky={"kind": "overcast", "level": 1.0, "on": False},
            units=[unit(spot(30_000, half, half + 5), lamp, [*(middle + 0.3 * off), 0])],
        )
        world = build_world(scene)
        mark = Place("m", "m", (*middle, 1.2), (0, 0, -1.0), "disc")
        light = light_of(world, sources(scene)[0])
        found.append(float(sum(meter_light(world, light, mark).values()) @ LUMINANCE))
    assert min(found) > 5
    assert max(found) / min(found) < 1.04


def mirror(id_, position, aim, size=(1.0, 1.0)):
    return board(id_, "mirror", position, aim, size)


def bisecting(place, before, after):
    """Where a mirror at a place must look to send light from one place to another."""
    place, before, after = (np.asarray(k, float) for k in (place, before, after))
    a = (before - place) / np.linalg.norm(before - place)
    b = (after - place) / np.linalg.norm(after - place)
    return (place + a + b).tolist()


@pytest.mark.parametrize(
    "stations",
    [
        [(2, 6, 2), (6, 6, 2)],
        [(2, 6, 2), (6, 6, 2), (6, 2, 2)],
    ],
)
def test_mirrors_one_after_another(stations):
    """A lamp seen by two and three mirrors: the inverse square of the whole way."""
    lamp, mark = (2, 2, 2), (4, 3.4, 2)
    way = [lamp, *stations, mark]
    grip = [mirror(f"m{k}", p, bisecting(p, way[k], way[k + 2])) for k, p in enumerate(stations)]
    flag = board("f", "duvetyne", (3, 2.7, 2), (4, 3.4, 2), (0.8, 0.8))
    scene = dark(units=[unit(spot(40_000, 15, 20), lamp, stations[0])], grip=[*grip, flag])
    length = sum(np.linalg.norm(np.subtract(a, b)) for a, b in pairwise(way))
    facing = np.subtract(stations[-1], mark)
    share = MATERIALS["mirror"].mirror ** len(stations)
    assert reading(scene, mark, facing) == pytest.approx(40_000 / length**2 * share, rel=0.02)


def test_sun_through_a_window_is_mirrored():
    sky = {
        "kind": "clear",
        "level": 0.001,
        "sun": {"azimuth": 180, "elevation": 30, "level": 50_000},
    }
    toward = np.array([0, -np.cos(np.radians(30)), np.sin(np.radians(30))])
    window = {"id": "w", "name": "w", "wall": "south", "along": 4, "up": 2.5, "size": [2, 2]}
    # The middle of the window's patch 3 m into the room.
    place = np.array([4, 0, 2.5]) - 2.0 * toward
    mark = np.array([2.0, 4.0, 1.4])
    away = (mark - place) / np.linalg.norm(mark - place)
    glass = mirror("m", place, (place + toward + away).tolist(), (0.6, 0.6))
    scene = dark(openings=[window], sky=sky, grip=[glass])
    got = reading(scene, mark, -away, only="@sun")
    assert got == pytest.approx(50_000 * MATERIALS["mirror"].mirror, rel=0.01)


@pytest.mark.parametrize("seed", range(6))
def test_half_shade_of_a_post_is_what_a_fine_sum_finds(seed):
    """A panel behind a post, partly hidden: the meter against 400 by 400 places of its face."""
    rng = np.random.default_rng(seed)
    size = float(rng.uniform(0.4, 1.2))
    panel = write_ies(
        from_function(lambda c, g: 3_000 * np.cos(np.radians(np.minimum(g, 90)))),
        (size, size),
        "panel",
    )
    x, post = float(rng.uniform(-0.25, 0.25)), float(rng.uniform(0.1, 0.3))
    box = {
        "id": "p",
        "name": "p",
        "kind": "box",
        "position": [4 + x, 4.0, 0],
        "size": [post, post, 3.5],
        "surface": {"reflectance": 0.0},
    }
    scene = dark(units=[unit(panel, (4, 6, 2), (4, 2, 2), head="panel-small")], furniture=[box])
    mark = np.array([4.0, 2.2, 2.0])
    k = ((np.arange(400) + 0.5) / 400 - 0.5) * size
    u, v = (m.ravel() for m in np.meshgrid(k, k))
    to = np.stack([4 + u, np.full(len(u), 6.0), 2 + v], 1) - mark
    d2 = (to**2).sum(1)
    cosine = to[:, 1] / np.sqrt(d2)
    value = 3_000 * cosine * cosine / d2
    hidden = np.zeros(len(u), bool)
    for y in (4.0 - post / 2, 4.0 + post / 2):
        at = mark[0] + to[:, 0] * (y - mark[1]) / to[:, 1]
        hidden |= np.abs(at - (4 + x)) < post / 2
    # Between its front and its back a ray may also pass its side.
    a = mark[0] + to[:, 0] * (4.0 - post / 2 - mark[1]) / to[:, 1] - (4 + x)
    b = mark[0] + to[:, 0] * (4.0 + post / 2 - mark[1]) / to[:, 1] - (4 + x)
    hidden |= a * b < 0
    got = reading(scene, mark, (0, 1, 0))
    assert got == pytest.approx(float((value * ~hidden).mean()), rel=0.01, abs=2.0)


@pytest.mark.parametrize("gap", [0.0015, 0.004, 0.02])
def test_a_lamp_close_behind_a_cloth_shines_through_it_as_through_any(gap):
    """A small Lambertian lamp of flux Phi behind muslin is a spot that sends tau Phi / pi ahead."""
    lamp = write_ies(
        from_function(lambda c, g: 1000 * np.cos(np.radians(np.minimum(g, 90)))), (0.0, 0.0), "p"
    )
    cloth = board("c", "muslin-bleached", (3, 3 + gap, 1.5), (3, 6, 1.5), (1.2, 1.2))
    room = {"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}
    scene = setup(
        units=[unit(lamp, (3, 3, 1.5), (3, 4, 1.5))], grip=[cloth], figures=ASIDE, room=room
    )
    sent = MATERIALS["muslin-bleached"].through * 1000 * np.pi / np.pi
    got = reading(scene, (3, 5, 1.5), (0, -1, 0))
    assert got == pytest.approx(sent / (2 - gap) ** 2, rel=0.02)
