"""Rooms and rigs drawn at random: every seed is another. Nothing of the model is fitted to them."""

import numpy as np
import shapely
import trimesh
from trimesh.visual.material import PBRMaterial

from moth.document import Unit
from moth.photometry import ATTACHMENTS, HEADS, from_function, write_ies
from moth.place import PIECES, scan_of
from moth.place.scans import shelve
from moth.scans.opening import open_model
from moth.transport.emitters import build_emitter

from .blocks import SIDES, panel, rig, sheet, spot, unit

CLOTHS = (
    "grid-full",
    "grid-half",
    "grid-quarter",
    "frost-light",
    "frost-heavy",
    "opal",
    "silk",
    "muslin-bleached",
    "tracing-paper",
)
BOARDS = ("foam-white", "silver-soft", "gold", "duvetyne", "mirror")


def drawn(seed):
    """A set-up document: a room of 2.5 to 25 m, reflectances of 0.02 to 0.95, one or two lamps, up
    to three cloths in a row before the first, a board, boxes, a second person, a mirror.

    Parameters
    ----------
    seed : int

    Returns
    -------
    dict
    """
    rng = np.random.default_rng(seed)
    w, d = (float(np.exp(rng.uniform(np.log(3.5), np.log(25)))) for _ in range(2))
    h = float(rng.uniform(2.5, min(8, 0.6 * max(w, d) + 2)))
    sides = {s: {"reflectance": float(rng.uniform(0.02, 0.95))} for s in SIDES}
    face = np.array([0.45 * w, 0.4 * d, 1.2])
    reach = 0.45 * min(w, d, 7.0)

    def around(distance, angle, z):
        return [
            float(face[0] + distance * np.sin(angle)),
            float(face[1] + distance * np.cos(angle)),
            float(z),
        ]

    angle = float(rng.uniform(-1.2, 1.2))
    far = reach * float(rng.uniform(0.75, 1.0))
    lamp = around(far, angle, min(rng.uniform(1.3, 2.6), h - 0.3))
    side = float(rng.uniform(0.15, 0.6))
    beam = int(rng.integers(6, 22))
    cutoff = beam + int(rng.integers(4, 14))
    count = int(rng.integers(0, 4))
    # A point behind cloth that lets light straight through is what paths cannot find.
    soft = rng.random() < 0.5 or count > 0
    ies = panel(4_000, (side, side)) if soft else spot(30_000, beam, cutoff)
    aim = face.tolist()
    units, grip = [unit(ies, lamp, aim)], []
    for k, part in enumerate(np.sort(rng.uniform(0.25, 0.8, count))[::-1]):
        place = (face + part * (np.array(lamp) - face)).tolist()
        size = float(rng.uniform(0.6, 1.2))
        material = str(rng.choice(CLOTHS))
        grip.append(sheet(f"c{k}", "frame", material, place, aim, [size, size]))
    if rng.random() < 0.6:
        place = around(reach * rng.uniform(0.3, 0.6), angle + rng.choice([-1, 1]) * 1.8, 1.2)
        size = float(rng.uniform(0.6, 1.2))
        grip.append(sheet("b", "board", str(rng.choice(BOARDS)), place, aim, [size, size]))
    if rng.random() < 0.5:
        place = around(reach * rng.uniform(0.6, 0.95), angle + 2.4, min(2.0, h - 0.4))
        units.append(unit(panel(1_500, (0.3, 0.3)), place, aim))
    boxes = [
        {
            "id": f"box{k}",
            "name": f"Box {k}",
            "kind": "box",
            "position": around(reach * rng.uniform(0.4, 0.9), rng.uniform(1.9, 4.4), 0),
            "size": [float(rng.uniform(0.2, 0.7)) for _ in range(3)],
            "surface": {"reflectance": float(rng.uniform(0.05, 0.8))},
        }
        for k in range(int(rng.integers(0, 3)))
    ]
    document = rig(units, grip, size=(w, d, h), sides=sides, furniture=boxes)
    figure = document["figures"][0]
    document["figures"] = [{**figure, "position": [float(face[0]), float(face[1])]}]
    if rng.random() < 0.4:
        other = around(1.2, np.pi - angle, 0)[:2]
        document["figures"].append(
            {**figure, "id": "second", "name": "Second", "pose": "standing", "position": other}
        )
    document["cameras"][0]["position"] = around(min(2.5, 0.55 * d), 0.1, 1.4)
    document["cameras"][0]["aim"] = face.tolist()
    for mark in document["marks"]:
        off = np.array(mark["position"]) - [2.5, 2.5, 1.2]
        mark["position"] = (face + off).tolist()
    return document


LAMPS = ("table-lamp", "floor-lamp", "pendant", "work-lamp")


def with_a_lamp(seed):
    """The same rooms lit by nothing but a lamp of the place, its shade of any size, cloth and tone.

    Its bulb sends the same every way, as the other renderer's ball does. No meter is held within a
    hand's breadth of it.
    """
    return next(d for d in _lamps(np.random.default_rng(10_000 + seed), seed) if _apart(d))


def _apart(document):
    lamp = document["furniture"][-1]
    reach = max(lamp["size"][:2]) / 2 + 0.1
    off = [np.subtract(m["position"][:2], lamp["position"][:2]) for m in document["marks"]]
    return all(float(np.hypot(*k)) > reach for k in off)


def _lamps(rng, seed):
    while True:
        yield _with_one(rng, seed)


def _with_one(rng, seed):
    document = drawn(seed)
    face = np.array(document["cameras"][0]["aim"])
    room = document["room"]
    kind = PIECES[str(rng.choice(LAMPS))]
    size = [float(k * rng.uniform(0.7, 1.6)) for k in kind.size]
    if kind.round:
        size[1] = size[0]
    lower = min(kind.base, room["height"] - size[2] - 0.05)
    angle = rng.uniform(-1.5, 1.5)
    away = rng.uniform(0.6, 1.4)
    place = [face[0] + away * np.sin(angle), face[1] + away * np.cos(angle), max(lower, 0.0)]
    through, back = float(rng.uniform(0, 0.6)), float(rng.uniform(0.1, 0.7))
    shade = {"reflectance": min(back, 0.95 - through)}
    lamp = {
        "id": "lit",
        "name": "Lamp of the place",
        "kind": kind.key,
        "position": place,
        "size": size,
        "surface": {"reflectance": 0.2},
        "second": shade,
        "through": through,
    }
    middle = [place[0]] + [place[k] + kind.lamp.at[k] * size[k] for k in (1, 2)]
    even = write_ies(from_function(lambda c, g: 72.0 + 0 * g, reach=180), (-0.06,) * 3, "ball")
    bulb = unit(even, middle, [middle[0], middle[1], middle[2] + kind.lamp.aim[2]])
    document["furniture"] = [*document["furniture"], lamp]
    document["units"] = [{**bulb, "id": "lamp", "head": "bulb", "piece": "lit"}]
    document["grip"] = []
    return document


COVERS = ("clear", "clear", "grid-full", "grid-half", "silk", "muslin-bleached", "tracing-paper")
OUTWARD = {"north": 0.0, "east": 90.0, "south": 180.0, "west": 270.0}
"""Azimuths that walls look out to [deg]."""


def with_windows(seed):
    """The same rooms lit by nothing but one or two windows: an overcast sky, through cloth or none,
    or the sun alone, high or low, with the land that it lights.

    Parameters
    ----------
    seed : int

    Returns
    -------
    dict
    """
    rng = np.random.default_rng([seed, 7])
    document = drawn(seed)
    room = document["room"]
    sunny = bool(rng.random() < 0.5)
    walls = rng.choice(list(OUTWARD), int(rng.integers(1, 3)), replace=False)
    openings = []
    for k, wall in enumerate(walls):
        long = room["width"] if wall in ("north", "south") else room["depth"]
        wide = float(rng.uniform(0.7, min(3.0, long - 0.6)))
        high = float(rng.uniform(0.6, min(2.0, room["height"] - 0.8)))
        openings.append(
            {
                "id": f"w{k}",
                "name": f"Window {k}",
                "wall": str(wall),
                "along": float(rng.uniform(wide / 2 + 0.2, long - wide / 2 - 0.2)),
                "up": float(rng.uniform(high / 2 + 0.3, room["height"] - high / 2 - 0.2)),
                "size": [wide, high],
                # The sun straight through cloth is what paths cannot find.
                "cover": "clear" if sunny else str(rng.choice(COVERS)),
            }
        )
    sky = {"kind": "overcast", "level": 10_000.0, "on": not sunny}
    if sunny:
        azimuth = (OUTWARD[str(walls[0])] + rng.uniform(-50, 50)) % 360
        height = float(rng.uniform(10, 60))
        sky["sun"] = {"azimuth": float(azimuth), "elevation": height, "level": 50_000.0}
    boards = [g for g in document["grip"] if g["kind"] == "board"]
    return {**document, "units": [], "grip": boards, "openings": openings, "sky": sky}


def with_a_scan(seed):
    """A drawn room in which a model from a file stands where a box stood: a ring, a bowl that is
    open, a screen of three leaves, an angle of two paints.

    Parameters
    ----------
    seed : int

    Returns
    -------
    dict
    """
    rng = np.random.default_rng([seed, 3])
    document = drawn(seed)
    face = np.array(document["cameras"][0]["aim"])
    shape = ("ring", "bowl", "screen", "angle")[rng.integers(4)]
    paints = rng.uniform(0.05, 0.85, 2)
    scene = trimesh.Scene()
    for mesh, paint in zip(_meshes(shape), paints, strict=False):
        # A file has y up.
        mesh.apply_transform(trimesh.transformations.rotation_matrix(-np.pi / 2, [1, 0, 0]))
        material = PBRMaterial(baseColorFactor=[*(3 * [round(255 * paint)]), 255])
        uv = np.zeros((len(mesh.vertices), 2))
        mesh.visual = trimesh.visual.TextureVisuals(uv=uv, material=material)
        scene.add_geometry(mesh)
    digest = shelve(open_model(scene.export(file_type="glb"), f"{shape}.glb").scan)
    size = scan_of(digest).size * rng.uniform(0.5, 1.1)
    angle, away = rng.uniform(-2.2, 2.2), rng.uniform(0.9, 1.6)
    thing = {
        "id": "scan",
        "name": shape,
        "kind": "scan",
        "scan": digest,
        "position": [face[0] + away * np.sin(angle), face[1] + away * np.cos(angle), 0.02],
        "size": [float(v) for v in size],
        "turn": float(rng.uniform(0, 360)),
    }
    document["furniture"] = [thing]
    return document


def _meshes(shape):
    """Meshes of a thing about as high as a person, z up."""
    if shape == "ring":
        return [trimesh.creation.torus(0.6, 0.2)]
    if shape == "bowl":
        ball = trimesh.creation.icosphere(subdivisions=4, radius=0.8)
        return [ball.submesh([np.flatnonzero(ball.triangles_center[:, 2] < 0)])[0]]
    if shape == "screen":
        corners = np.array([[-0.9, 0.3], [-0.35, 0], [0.35, 0], [0.9, 0.3]])
        at = np.concatenate([np.column_stack([corners, np.full(4, z)]) for z in (0, 1.7)])
        faces = [[(k, k + 1, k + 5), (k, k + 5, k + 4)] for k in range(3)]
        return [trimesh.Trimesh(at, np.reshape(faces, (-1, 3)), process=False)]
    outline = shapely.Polygon([(0, 0), (1, 0), (1, 0.3), (0.3, 0.3), (0.3, 1), (0, 1)])
    tall = trimesh.creation.extrude_polygon(outline, 0.8, engine="manifold")
    foot = trimesh.creation.box((0.8, 0.8, 0.3))
    return [tall, foot.apply_translation((0.5, 0.5, -0.16))]


SHINY = ("mirror", "silver-soft", "gold", "reflector-20", "reflector-40", "foam-white")


def with_reflectors(seed):
    """A drawn room whose first lamp, past up to two cloths, falls on one or two boards or mirrors
    that throw it at the face.

    Parameters
    ----------
    seed : int

    Returns
    -------
    dict
    """
    rng = np.random.default_rng([seed, 11])
    document = drawn(seed)
    room, face = document["room"], np.array(document["cameras"][0]["aim"])
    reach = min(0.4 * min(room["width"], room["depth"]), 2.2)
    start = rng.uniform(-0.6, 0.6)
    grip, units = [], []
    for k in range(int(rng.integers(1, 3))):
        angle, away = start + k * rng.uniform(1.6, 2.6), reach * rng.uniform(0.55, 0.9)
        board = face + [away * np.sin(angle), away * np.cos(angle), rng.uniform(-0.1, 0.5)]
        turn = angle + rng.choice([-1, 1]) * rng.uniform(0.5, 1.1)
        lamp = board - reach * rng.uniform(0.6, 0.9) * np.array([np.sin(turn), np.cos(turn), 0.1])
        lamp = np.clip(lamp, 0.3, [room["width"] - 0.3, room["depth"] - 0.3, room["height"] - 0.3])
        # Its front half way between lamp and face.
        ways = [(place - board) / np.linalg.norm(place - board) for place in (lamp, face)]
        aim = (board + sum(ways)).tolist()
        kind = str(rng.choice(SHINY))
        size = [float(rng.uniform(0.5, 1.2))] * 2
        what = {"mirror": "mirror"}.get(kind, "reflector" if "reflector" in kind else "board")
        grip.append(sheet(f"b{k}", what, kind, board.tolist(), aim, size))
        side = float(rng.uniform(0.1, 0.4))
        units.append(unit(panel(8_000, (side, side)), lamp.tolist(), board.tolist()))
        for j, part in enumerate(np.sort(rng.uniform(0.25, 0.6, int(rng.integers(0, 3))))):
            place = (lamp + part * (board - lamp)).tolist()
            cloth = str(rng.choice(CLOTHS))
            grip.append(sheet(f"c{k}{j}", "frame", cloth, place, board.tolist(), [0.8, 0.8]))
    units = [{**u, "id": f"lamp-{k}" if k else "lamp"} for k, u in enumerate(units)]
    return {**document, "units": units, "grip": grip}


SPREADING = ("grid-full", "muslin-bleached")
"""Cloths that let nothing straight through."""


def with_heads(seed):
    """The same rooms lit by one or two heads of the catalogue, any of them, with up to two
    attachments that fit it, set anyhow.

    Parameters
    ----------
    seed : int

    Returns
    -------
    dict
    """
    rng = np.random.default_rng([seed, 13])
    document = drawn(seed)
    room = document["room"]
    corner = np.array([room["width"], room["depth"], room["height"]])
    units = []
    for unit_ in document["units"]:
        # A second lamp of a narrow room may have been drawn beyond its wall.
        place = np.clip(unit_["position"], 0.3, corner - 0.3).tolist()
        plain = {**{k: v for k, v in unit_.items() if k != "ies"}, "position": place}
        units.append(next(u for u in _heads(rng, plain) if _inside(u, corner)))
    grip = [
        {**g, "material": str(rng.choice(SPREADING))} if g["kind"] == "frame" else g
        for g in document["grip"]
        if g["material"] != "mirror"
    ]
    return {**document, "units": units, "grip": grip}


def _heads(rng, unit_):
    while True:
        head = HEADS[str(rng.choice(list(HEADS)))]
        fitting = [a for a in ATTACHMENTS.values() if head.group in a.fits]
        hung = []
        for groups in (("optic", "soft"), ("control",)):
            some = [a for a in fitting if a.group in groups]
            if some and rng.random() < 0.6:
                kind = some[rng.integers(len(some))]
                values = {
                    s.key: float(
                        rng.integers(len(s.choices)) if s.choices else rng.uniform(s.low, s.high)
                    )
                    for s in kind.settings
                }
                hung.append({"key": kind.key, "settings": values})
        yield {**unit_, "head": head.key, "attachments": hung, "roll": float(rng.uniform(-90, 90))}


def _inside(unit_, corner):
    """Whether all of the lit face hangs in the room."""
    face = build_emitter(Unit.model_validate(unit_)).face
    reach = np.hypot(face.half_width, face.half_height) + 0.1
    centre = np.array(face.centre)
    return bool((centre > reach).all() and (centre < corner - reach).all())


DRAWS = {
    "heads": with_heads,
    "lamps": with_a_lamp,
    "reflectors": with_reflectors,
    "scans": with_a_scan,
    "windows": with_windows,
}
"""What else can be asked for than rooms with lamps, by the command's options."""
