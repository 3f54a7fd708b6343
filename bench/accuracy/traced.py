"""Light between matte surfaces, by particles: python -m bench.accuracy.traced [--seeds A-B]
[--walls] [--sheets] [--particles N]. It needs no other renderer and takes a few seconds a room.

Rooms of 2.5 to 20 m with furniture and one lamp are drawn at random. Particles leave the lamp by
its table and are followed from surface to surface in numpy; each throws its light at the meters
from where it lands, and cloths and boards turn it by the shares of their material. The geometry,
its paints and its shadow rays are ours, all of the transport is not: no patches, no links, no
glows, no gathering.
"""

import argparse
from dataclasses import dataclass

import numpy as np

from moth.colour import LUMINANCE
from moth.document import bare, load
from moth.materials import MATERIALS, lobe_concentration
from moth.photometry import from_function, lamp_of, write_ies
from moth.transport import light_of, meter_light, sources
from moth.transport.ways import Way
from moth.world import build_world

from .blocks import sheet
from .compare import DARK, Meter
from .drawn import FAR, NEAR

KINDS = ("box", "cylinder", "ball", "table", "round-table", "shelf", "sofa", "desk", "steps")
BACKED = ("cupboard", "shelf", "bed", "counter", "crate", "sideboard", "sofa", "desk")
"""Pieces that stand with their backs to a wall, where they are drawn so."""
SHEETS = [
    m.key
    for m in MATERIALS.values()
    if m.group in ("cloth", "net", "board", "reflector")
    and not (m.mirror or m.tint)
    and m.colour == (1.0, 1.0, 1.0)
]
"""Cloths and boards without a colour; no mirrors, which throw at no meter."""
CLOTHS = [k for k in SHEETS if MATERIALS[k].transmission]
WALLS = {
    "west": (1, 0, 0),
    "east": (-1, 0, 0),
    "south": (0, 1, 0),
    "north": (0, -1, 0),
    "floor": (0, 0, 1),
    "ceiling": (0, 0, -1),
}
"""Ways that the sides of the room face."""
BOUNCES, ROULETTE, KEPT = 80, 4, 0.8
"""Bounces that are followed; from which on a particle lives on with what chance."""
CLOSE = 0.1
"""Nearer than this to a meter a particle's light is told as if from there [m]."""


def drawn(seed, walls=False, sheets=False):
    """A set-up with one lamp and pieces of furniture, on wish some with their backs to a wall, on
    wish cloths in the lamp's beam and a board, and four meters: places and ways (4, 3). With cloths
    two of the meters are behind them, one may be between them, and all three look at the lamp.
    """
    rng = np.random.default_rng([seed, 77])
    w, d, h = (float(rng.uniform(*reach)) for reach in ((2.5, 20), (2.5, 20), (2.3, 6)))
    half = float(np.exp(rng.uniform(0, np.log(60))))
    beam = from_function(
        lambda c, g: 1000.0 * np.clip((1.3 * half - g) / (0.6 * half), 0, 1),
        reach=min(90, 1.4 * half),
        step=half / 40,
    )
    lamp = {
        "position": rng.uniform([0.3, 0.3, 0.5], [w - 0.3, d - 0.3, h - 0.2]).tolist(),
        "aim": rng.uniform(0, [w, d, h]).tolist(),
        "ies": write_ies(beam, (0.0, 0.0), "drawn beam"),
    }
    furniture = [
        {
            "id": f"f{k}",
            "name": f"F{k}",
            "kind": str(rng.choice(KINDS)),
            "position": [*rng.uniform(1, [w - 1, d - 1]).tolist(), 0.0],
            "size": rng.uniform(0.2, [1.6, 1.0, 1.8]).tolist(),
            "turn": float(rng.uniform(0, 360)),
            "surface": {"reflectance": float(rng.uniform(0.05, 0.85))},
        }
        for k in range(int(rng.integers(0, 5)))
    ]
    paints = {
        side: {"reflectance": float(np.exp(rng.uniform(np.log(0.05), np.log(0.9))))}
        for side in WALLS
    }
    if walls:
        furniture += [_backed(rng, f"w{k}", k % 4, (w, d)) for k in range(5)]
    setup = bare(
        room={"width": w, "depth": d, "height": h, **paints},
        figures=[{"id": "s", "name": "S", "position": rng.uniform(0.7, [w - 0.7, d - 0.7])}],
        cameras=[{"id": "a", "name": "A", "position": [w / 2, d - 0.3, 1.2], "aim": [w / 2, 0, 1]}],
        units=[{"id": "k", "name": "K", "role": "key", "head": "point-60", **lamp}],
        furniture=furniture,
    )
    ways = rng.normal(size=(4, 3))
    places = rng.uniform([0.3, 0.3, 0.3], [w - 0.3, d - 0.3, h - 0.3], (4, 3))
    if sheets:
        grip, held = _sheets(rng, lamp, np.array([w, d, h]))
        clear = [f for f in furniture if _beside(f, grip)]
        setup = load({**setup.model_dump(mode="json"), "grip": grip, "furniture": clear})
        places[:3] = held
        ways[:3] = lamp["position"] - held
    return setup, places, ways / np.linalg.norm(ways, axis=1, keepdims=True)


def _sheets(rng, lamp, corner):
    """One to three cloths in a lamp's beam and a board anywhere, two places behind them and one
    that may be between them.
    """
    start, aim = np.array(lamp["position"]), np.array(lamp["aim"])
    way = (aim - start) / np.linalg.norm(aim - start)
    # As far as the beam goes within the room.
    far = float((np.where(way > 0, corner - start, start) / np.maximum(np.abs(way), 1e-9)).min())
    grip = []
    for k, share in enumerate(np.sort(rng.uniform(0.08, 0.5, int(rng.integers(1, 4))))):
        side = rng.uniform(0.4, 1.3, 2).tolist()
        back = start - way + rng.normal(0, 0.25, 3)
        place = (start + share * far * way).tolist()
        grip.append(sheet(f"c{k}", "frame", str(rng.choice(CLOTHS)), place, back.tolist(), side))
    board, toward = rng.uniform(0.7, corner - 0.7, (2, 3))
    kind = str(rng.choice([k for k in SHEETS if k not in CLOTHS]))
    what = "reflector" if MATERIALS[kind].group == "reflector" else "board"
    side = rng.uniform(0.4, 1.3, 2).tolist()
    grip.append(sheet("b", what, kind, board.tolist(), toward.tolist(), side))
    behind = start + rng.uniform(0.6, 0.9, (2, 1)) * far * way + rng.normal(0, 0.3, (2, 3))
    among = start + rng.uniform(0.1, 0.5, (1, 1)) * far * way + rng.normal(0, 0.1, (1, 3))
    return grip, np.clip(np.concatenate([behind, among]), 0.2, corner - 0.2)


def _beside(piece, grip):
    """Whether a piece of furniture stands clear of all sheets: none can be hung through one."""
    place, reach = np.array(piece["position"][:2]), np.hypot(*piece["size"][:2]) / 2
    return all(
        np.linalg.norm(place - g["position"][:2]) > reach + np.hypot(*g["size"]) / 2 for g in grip
    )


def _backed(rng, name, wall, across):
    """A piece of furniture with its back to the south, north, west or east wall."""
    width, depth, height = rng.uniform([0.5, 0.35, 0.4], [1.8, 0.7, 2.0]).tolist()
    w, d = across
    along = float(rng.uniform(0.9, (w if wall < 2 else d) - 0.9))
    place = [(along, depth / 2), (along, d - depth / 2), (depth / 2, along), (w - depth / 2, along)]
    return {
        "id": name,
        "name": name.upper(),
        "kind": str(rng.choice(BACKED)),
        "position": [*place[wall], 0.0],
        "size": [width, depth, height],
        "turn": (0, 180, -90, 90)[wall],
        "surface": {"reflectance": float(rng.uniform(0.1, 0.85))},
    }


@dataclass(frozen=True)
class Traced:
    """What the particles found."""

    patches: np.ndarray
    """(p,) flux that fell on each patch of the world, all bounces [lm]."""
    meters: np.ndarray
    """(m,) light on discs, all but what comes straight from the lamp [lx]."""
    grain: np.ndarray
    """(m,) standard error of that [lx]."""


SHARES = ("reflectance", "lobe", "straight", "forward", "through")
"""Shares of a material; a wall has the first alone."""
WIDTHS = ("lobe_width", "forward_width")


@dataclass(frozen=True)
class Landed:
    """Particles where they meet something."""

    origin: np.ndarray
    normal: np.ndarray
    """(n, 3) on the side that they came from."""
    way: np.ndarray
    """(n, 3) as they came."""
    flux: np.ndarray
    """(n,) [lm]."""
    shares: np.ndarray
    """(n, 5) by :data:`SHARES`."""
    kappa: np.ndarray
    """(n, 2) concentrations of the lobes back and through."""

    @property
    def mirrored(self):
        return self.way - 2 * (self.way * self.normal).sum(1, keepdims=True) * self.normal


def traced(setup, places, ways, particles, seed=0):
    """Follow particles from the set-up's only lamp."""
    world, rng = build_world(setup), np.random.default_rng([seed, particles])
    mesh, p = world.mesh, world.patches
    patch = np.zeros(len(mesh.faces), int)
    patch[p.triangle] = np.repeat(np.arange(len(p)), np.diff(p.start))
    albedo = p.albedo @ LUMINANCE
    materials = [s.material for s in world.sheets]
    cloths = np.array([[getattr(m, share) for share in SHARES] for m in materials])
    narrow = np.array([[lobe_concentration(getattr(m, w)) for w in WIDTHS] for m in materials])
    origin, way, flux = _leaving(setup.units[0], particles, rng)
    fell = np.zeros(len(p))
    sums, squares = np.zeros(len(places)), np.zeros(len(places))
    for bounce in range(BOUNCES):
        triangle, _, far = world.rays.first(origin.astype(np.float32), way.astype(np.float32))
        met = triangle >= 0
        triangle, way, flux = triangle[met], way[met], flux[met]
        origin = origin[met] + far[met, None] * way
        normal = mesh.flat[triangle].astype(float)
        normal *= -np.sign((normal * way).sum(1))[:, None]
        on, held = patch[triangle], mesh.sheet[triangle]
        fell += np.bincount(on, np.where(held < 0, flux, 0), len(p))
        shares, kappa = np.zeros((len(flux), len(SHARES))), np.ones((len(flux), 2))
        shares[:, 0] = albedo[on]
        if materials:
            cloth = held >= 0
            shares[cloth], kappa[cloth] = cloths[held[cloth]], narrow[held[cloth]]
        landed = Landed(origin, normal, way, flux, shares, kappa)
        for k, (place, facing) in enumerate(zip(places, ways, strict=True)):
            light = _thrown(world, landed, place, facing)
            sums[k] += light.sum()
            squares[k] += (light**2).sum()
        origin, way, flux = _sent_on(landed, rng)
        alive = flux > 0
        if bounce >= ROULETTE:
            alive &= rng.random(len(flux)) < KEPT
            flux = flux / KEPT
        origin, way, flux = origin[alive], way[alive], flux[alive]
        if not len(flux):
            break
    return Traced(fell, sums, np.sqrt(squares))


def _leaving(unit, particles, rng):
    """Where particles leave a lamp, their ways, and the flux of each."""
    lamp, place = lamp_of(unit), np.asarray(unit.position, float)
    off = np.linspace(0, 90, 4501)
    level = np.array([float(lamp.distribution.intensity(angle)) for angle in off])
    ring = 2 * np.pi * -np.diff(np.cos(np.radians(off)))
    power = (level[1:] + level[:-1]) / 2 * ring
    rank = (np.arange(particles) + rng.random(particles)) / particles * power.sum()
    at = np.minimum(np.searchsorted(np.cumsum(power), rank), len(power) - 1)
    angle = np.radians(off[at] + rng.random(particles) * off[1])
    turn = rng.random(particles) * 2 * np.pi
    axis = np.asarray(unit.aim, float) - place
    axis /= np.linalg.norm(axis)
    a, b = _across(axis[None])
    way = np.cos(angle)[:, None] * axis + np.sin(angle)[:, None] * (
        np.cos(turn)[:, None] * a + np.sin(turn)[:, None] * b
    )
    each = power.sum() / particles
    return np.tile(place, (particles, 1)), way, np.full(particles, each)


def _across(axis):
    """Two unit vectors square to each of (n, 3) and to each other."""
    other = np.where(np.abs(axis[:, 2:]) > 0.5, [[1.0, 0, 0]], [[0, 0, 1.0]])
    a = np.cross(axis, other)
    a /= np.linalg.norm(a, axis=1, keepdims=True)
    return a, np.cross(axis, a)


def _cosine_spread(normal, rng):
    u, turn = rng.random(len(normal)), rng.random(len(normal)) * 2 * np.pi
    a, b = _across(normal)
    return (
        np.sqrt(u)[:, None] * (np.cos(turn)[:, None] * a + np.sin(turn)[:, None] * b)
        + np.sqrt(1 - u)[:, None] * normal
    )


def _sent_on(landed, rng):
    """Where each particle starts next, its way, and its flux: none for one that a lobe sends into
    the sheet.
    """
    normal, shares = landed.normal, landed.shares
    total = shares.sum(1)
    at = (rng.random(len(total)) * total)[:, None] >= np.cumsum(shares, 1)[:, :-1]
    fate = at.sum(1)
    way = np.where(
        (fate == 2)[:, None],
        landed.way,
        _cosine_spread(np.where((fate == 4)[:, None], -normal, normal), rng),
    )
    for share, axis, kappa in ((1, landed.mirrored, 0), (3, landed.way, 1)):
        some = fate == share
        way[some] = _lobe_spread(axis[some], landed.kappa[some, kappa], rng)
    side = np.sign((way * normal).sum(1))
    wanted = np.where(fate < 2, 1, -1)
    return (
        landed.origin + 1e-4 * wanted[:, None] * normal,
        way,
        np.where(side == wanted, landed.flux * total, 0),
    )


def _lobe_spread(axis, kappa, rng):
    """Ways of von Mises-Fisher lobes about axes (n, 3)."""
    u, turn = rng.random(len(axis)), rng.random(len(axis)) * 2 * np.pi
    cos = 1 + np.log(u + (1 - u) * np.exp(-2 * kappa)) / kappa
    sin = np.sqrt(np.maximum(1 - cos**2, 0))
    a, b = _across(axis)
    return cos[:, None] * axis + sin[:, None] * (
        np.cos(turn)[:, None] * a + np.sin(turn)[:, None] * b
    )


def _density(cos, kappa):
    """Of a von Mises-Fisher lobe [1/sr]."""
    return kappa / (2 * np.pi * (1 - np.exp(-2 * kappa))) * np.exp(kappa * (cos - 1))


def _thrown(world, landed, place, facing):
    """What each particle that landed throws at a disc [lx]."""
    to = place - landed.origin
    far = np.maximum(np.linalg.norm(to, axis=1), 1e-6)
    to /= far[:, None]
    slant = (to * landed.normal).sum(1)
    back, lobe, _, forward, through = landed.shares.T
    mirrored = lobe * _density((to * landed.mirrored).sum(1), landed.kappa[:, 0])
    past = forward * _density((to * landed.way).sum(1), landed.kappa[:, 1])
    out = np.where(slant > 0, back / np.pi * slant + mirrored, through / np.pi * -slant + past)
    out *= landed.flux * np.maximum(-(to @ facing), 0) / np.maximum(far, CLOSE) ** 2
    lit = np.flatnonzero(out)
    out[lit] *= world.clear(
        np.tile(place, (len(lit), 1)).astype(np.float32),
        -to[lit].astype(np.float32),
        (far[lit] - 1e-3).astype(np.float32),
    )
    return out


def _free(world, places):
    """Which places are out of all furniture, and farther than CLOSE from what there is."""
    ways = _cosine_spread(np.tile([0.0, 0, 1], (500, 1)), np.random.default_rng(0))
    ways = np.concatenate([ways, -ways])
    out = []
    for place in places:
        met, _, far = world.rays.first(
            np.tile(place, (len(ways), 1)).astype(np.float32), ways.astype(np.float32)
        )
        slant = (world.mesh.flat[met] * ways).sum(1)
        solid = (met >= 0) & (world.mesh.sheet[met] < 0)
        out.append(far.min() > CLOSE and bool((slant[solid] < 0).all()))
    return np.array(out)


def compared(seed, particles, **drawing):
    """Errors of a drawn room: of the flux on each side of it that takes two parts in a hundred or
    more [%], and of the meters that are bright and free enough to be told [%], with the particles'
    grain.
    """
    setup, places, ways = drawn(seed, **drawing)
    found = traced(setup, places, ways, particles, seed)
    world = build_world(setup)
    light, p, mesh = light_of(world, sources(setup)[0]), world.patches, world.mesh
    first = p.triangle[p.start[:-1]]
    ours = light.radiosity @ LUMINANCE / np.maximum(p.albedo @ LUMINANCE, 1e-9) * p.area
    room = mesh.body[first] == 0
    sides = []
    for facing in WALLS.values():
        of = room & (mesh.flat[first] @ np.array(facing, float) > 0.99)
        theirs = float(found.patches[of].sum())
        if theirs > 0.02 * found.patches.sum():
            sides.append(100 * (float(ours[of].sum()) / theirs - 1))
    told = np.flatnonzero((found.meters > DARK * found.meters.max()) & _free(world, places))
    mine = [
        sum(
            float(rgb @ LUMINANCE)
            for route, rgb in meter_light(
                world, light, Meter(tuple(places[k]), tuple(ways[k]), "disc")
            ).items()
            if route.way != Way.LAMP
        )
        for k in told
    ]
    meters = 100 * (np.array(mine) / found.meters[told] - 1)
    return np.array(sides), meters, 100 * found.grain[told] / found.meters[told]


def main():
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seeds", default="0-19", help="first-last")
    parser.add_argument("--walls", action="store_true", help="with furniture along the walls")
    parser.add_argument("--sheets", action="store_true", help="with cloths and a board")
    parser.add_argument("--particles", type=int, default=400_000)
    asked = parser.parse_args()
    first, last = (int(k) for k in asked.seeds.split("-"))
    sides, meters = [], []
    for seed in range(first, last + 1):
        side, meter, grain = compared(seed, asked.particles, walls=asked.walls, sheets=asked.sheets)
        sides.append(side)
        meters.append(meter[grain < 1])
        told = "  ".join(f"{e:+.1f} ± {g:.1f}" for e, g in zip(meter, grain, strict=True))
        print(f"{seed}: sides worst {max(side, key=abs):+.1f} %; meters {told} %", flush=True)
    for name, found in (("sides of rooms", sides), ("meters, grain under 1 %", meters)):
        off = np.concatenate(found)
        print(
            f"{name}: {len(off)}, rms {np.sqrt((off**2).mean()):.1f} %, within {NEAR:.0f} %"
            f" {100 * (np.abs(off) < NEAR).mean():.0f} %, over {FAR:.0f} %"
            f" {(np.abs(off) > FAR).sum()}, worst {max(off, key=abs):+.1f} %"
        )


if __name__ == "__main__":
    main()
