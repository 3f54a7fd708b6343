"""Stills with known truth: frames of ours, made to look like a camera's, marked as by a hand that
is off by two pixels.
"""

import io
from dataclasses import dataclass

import numpy as np
from PIL import Image
from scipy.ndimage import gaussian_filter

from moth.camera import blur, curve_by_name, exr_bytes, mixed, noise
from moth.colour import LUMINANCE
from moth.document import load, to_polar
from moth.inspection import inspect_unit
from moth.judging.glints import glints_of
from moth.materials import FINISHES
from moth.metering import lay_out, origin_of
from moth.stills.marks import LANDMARKS, MarkedArea, Marks, Record
from moth.stills.reading import covered
from moth.transport import render_layer, sources, view_of
from moth.world import build_world, landmarks
from moth.world.eyes import CORNEA, IRIS
from moth.world.figures import FIGURE_NAMES, dressed, load_figure, placed

SIZE = (1920, 1080)
HAND = 2.0
"""How far each mark is off [px], root mean square."""
CURVES = ("bt709", "hlg", "acescct", "log", "linear", "unknown")
_EYE, _SKIN = (next(i for i, f in enumerate(FINISHES) if f.name == n) for n in ("eye", "skin"))
SIDES = ("floor", "ceiling", "north", "south", "east", "west")


@dataclass
class Still:
    """A frame as a file, what a hand marks in it, and the truth."""

    file: bytes
    record: Record
    marks: Marks
    truth: dict


def drawn(seed, size=SIZE):
    """A still whose truth is known, drawn at random.

    Parameters
    ----------
    seed : int
    size : (int, int)
        [px]

    Returns
    -------
    Still
    """
    rng = np.random.default_rng(seed)
    setup = _setup(rng)
    return _Taken(setup, rng, seed, size).still()


def _setup(rng):
    """A person by a corner, a key, often a fill, sometimes an edge."""
    by_wall = rng.random() < 0.5
    name = FIGURE_NAMES[rng.integers(4)]
    facing = float(rng.uniform(-20, 20))
    person = np.array([4.0, 5.2 if by_wall else 3.6])
    # The wall is behind: people face south, to the lens.
    facing += 180
    balance = float(rng.choice([3200, 4300, 5600]))
    side = float(rng.choice([-1, 1]))
    angle, height = side * rng.uniform(18, 60), rng.uniform(12, 42)
    key_far = rng.uniform(1.4, 2.6)
    if by_wall:
        # A shadow on the wall is in the frame only when the light is near the lens.
        angle, height = side * rng.uniform(12, 35), rng.uniform(14, 34)
    lens_far = rng.uniform(2.2, 3.6) if by_wall else rng.uniform(1.3, 3.4)
    off = np.radians(rng.choice([-1, 1]) * rng.uniform(0, 25) if by_wall else rng.uniform(25, 60))
    across = rng.uniform(1.2, 1.8) if by_wall else rng.uniform(0.3, 0.6)
    focal = float(np.clip(lens_far / across * 24.9, 18, 190))
    eyes = float(load_figure(name, "seated").landmarks["eye_left"][2])
    lens = [
        float(person[0] + lens_far * np.sin(off)),
        float(person[1] - lens_far * np.cos(off)),
        float(eyes + rng.uniform(-0.15, 0.25)),
    ]
    toward = np.array(lens[:2]) - person
    toward /= np.linalg.norm(toward)
    right = np.array([-toward[1], toward[0]])

    def at(angle, height, far):
        a, h = np.radians([angle, height])
        flat = far * np.cos(h) * (np.cos(a) * toward + np.sin(a) * right)
        return [*(person + flat).tolist(), float(eyes + far * np.sin(h))]

    hard = rng.random() < 0.35
    wide = float(rng.uniform(0.4, 1.2))
    box = {"key": "softbox", "settings": {"width": wide, "height": wide}}
    lens_on = {"key": "fresnel", "settings": {"travel": 0.8}}
    units = [
        {
            "id": "key",
            "name": "Key",
            "role": "key",
            "head": "point-300",
            "cct": float(np.clip(balance * rng.uniform(0.85, 1.2), 2700, 6500)),
            "position": at(angle, height, key_far),
            "aim": [*person.tolist(), eyes],
            "attachments": [lens_on if hard else box],
        }
    ]
    if rng.random() < 0.7:
        units.append(
            {
                "id": "fill",
                "name": "Fill",
                "role": "fill",
                "head": "panel-2x1",
                "cct": float(np.clip(balance, 2800, 10000)),
                "position": at(-side * rng.uniform(15, 50), rng.uniform(0, 20), 2.2),
                "aim": [*person.tolist(), eyes],
                "dimmer": float(rng.uniform(0.02, 0.12)),
            }
        )
    walls = float(rng.uniform(0.1, 0.6))
    return load(
        {
            "schema_version": 6,
            "title": "Known",
            "room": {
                "width": 8,
                "depth": 6,
                "height": 3.2,
                **{k: {"reflectance": walls} for k in SIDES},
            },
            "figures": [
                {
                    "id": "subject",
                    "name": "Subject",
                    "figure": name,
                    "pose": "seated",
                    "position": person.tolist(),
                    "facing": facing,
                    "head_tilt": float(rng.uniform(-4, 4)),
                    "skin": float(rng.uniform(0.12, 0.5)),
                    "garment": {"reflectance": float(rng.uniform(0.25, 0.6))},
                }
            ],
            "cameras": [
                {
                    "id": "a",
                    "name": "A",
                    "position": lens,
                    "aim": [*person.tolist(), eyes - 0.03],
                    "focal_length": focal,
                    "white_balance": balance,
                    "t_stop": 2.8,
                }
            ],
            "units": units,
        }
    )


class _Taken:
    def __init__(self, setup, rng, seed, size):
        self.rng, self.size, self.curve = rng, size, CURVES[seed % len(CURVES)]
        self.world = build_world(setup)
        self.setup = setup
        self.camera = setup.cameras[0]
        self.view = view_of(self.world, setup, self.camera, size)
        layers = {s.id: render_layer(self.world, self.view, s) for s in sources(setup)}
        self.light = mixed(setup, self.camera, layers)
        self.of_key = mixed(setup, self.camera, {"key": layers["key"]}) @ LUMINANCE
        self.lens = np.asarray(self.camera.position, float)
        self.right, self.up, self.forward = self.view.basis
        self.at = landmarks(setup.figures[0])
        self.figure = setup.figures[0]
        source = sources(setup)[0]
        self.from_where = np.asarray(origin_of(setup, self.world, source).place)
        self._expose()

    def _expose(self):
        """As a camera would be: the lit cheek a little over middle grey."""
        spot = np.clip(self.px(self.lit())[0], 0, np.array(self.size) - 1)
        r, c = int(spot[1]), int(spot[0])
        here = self.light[max(r - 6, 0) : r + 7, max(c - 6, 0) : c + 7] @ LUMINANCE
        gain = 0.3 / max(float(np.median(here)), 1e-6)
        self.light, self.of_key = self.light * gain, self.of_key * gain

    def px(self, places):
        off = np.atleast_2d(places) - self.lens
        deep = off @ self.forward
        wide, high = self.view.spread
        x = 0.5 + (off @ self.right) / deep / wide / 2
        y = 0.5 - (off @ self.up) / deep / high / 2
        return np.stack([x * self.size[0], y * self.size[1]], 1)

    def spot(self, place):
        """Where a hand marks a place: off by :data:`HAND`."""
        at = self.px(place)[0] + self.rng.normal(0, HAND / np.sqrt(2), 2)
        return tuple(map(float, at / self.size))

    def lit(self, shade=False):
        """Middle of the cheek toward the key, or away from it."""
        a, b = self.at["cheek_left"], self.at["cheek_right"]
        near = [np.linalg.norm(p - self.from_where) for p in (a, b)]
        return (b, a)[int((near[0] < near[1]) != shade)]

    def seen(self, place, slack=0.012):
        """Whether the lens sees a place."""
        way = place - self.lens
        far = np.linalg.norm(way)
        _, _, hit = self.world.rays.first(self.lens[None], (way / far)[None])
        return bool(hit[0] > far - slack) and bool(
            (self.px(place)[0] > 0).all() and (self.px(place)[0] < self.size).all()
        )

    def file(self):
        """The frame as a camera leaves it: blur of depth, noise, curve, file."""
        rng, light = self.rng, self.light
        away = float(np.linalg.norm(self.at["eye_left"] - self.lens))
        depth = self.view.depth.reshape(self.size[::-1])
        behind = depth > away + 0.35
        if behind.any():
            wide = blur(self.camera, away, float(np.median(depth[behind])))
            soft = gaussian_filter(light, (*(2 * [max(wide * self.size[0], 0.1) / 4]), 0))
            light = np.where(behind[:, :, None], soft, light)
        sd = noise(self.camera, light) * self.size[0] / 3840
        light = np.maximum(light + rng.normal(0, 1, light.shape) * sd, 0)
        if self.curve == "linear":
            return exr_bytes(light)
        if self.curve == "unknown":
            code = curve_by_name("srgb").encode(light)
            code = code + rng.uniform(0.0, 0.12) * np.sin(2 * np.pi * (code - 0.5)) / np.pi
        else:
            code = curve_by_name(self.curve, self.record().log).encode(light)
        image = Image.fromarray(np.round(255 * np.clip(code, 0, 1)).astype(np.uint8))
        file = io.BytesIO()
        if rng.random() < 0.5:
            image.save(file, "JPEG", quality=int(rng.integers(80, 96)), subsampling=0)
        else:
            image.save(file, "PNG")
        return file.getvalue()

    def record(self):
        return Record(
            curve=self.curve,
            white=self.camera.white_balance,
            sensor_width=24.9,
            focal_length=self.camera.focal_length if self.known else None,
            t_stop=self.camera.t_stop,
            taken="desk",
        )

    def still(self):
        # Square to a wall its edges tell nothing of the lens: then its length is known.
        self.known = bool(self.rng.random() < 0.4) or self.figure.position[1] > 5
        key, mark = inspect_unit(self.setup, "key"), self.source()
        area = lambda p, r: {"at": self.spot(p), "radius": r}
        wide = 0.009 * self.camera.focal_length / 24.9 / np.linalg.norm(self.at["face"] - self.lens)
        r = float(np.clip(wide, 0.004, 0.03))
        lit, shade = self.lit(), self.lit(shade=True)
        if self.seen(lit):
            mark["lit"] = area(lit, r)
        neutral = self.neutral()
        marks = Marks.model_validate(
            {
                "head": {n: self.spot(p) for n in LANDMARKS if self.framed(p := self.part(n))},
                "edges": [] if self.known else self.edges(),
                "sources": [mark],
                "shade": area(shade, r) if self.seen(shade) else None,
                "neutral": None if neutral is None else area(neutral, r),
                "figure": self.figure.model_dump(),
            }
        )  # fmt: skip
        eyes = (self.at["eye_left"] + self.at["eye_right"]) / 2
        polar = to_polar(self.from_where, eyes, self.lens)
        both = self.seen(lit) and self.seen(shade)
        levels = [self.level(p, r) for p in (lit, shade)] if both else [1, 1]
        truth = {
            "angle": polar.angle,
            "height": polar.height,
            "softness": key.size.degrees,
            "ratio": float(np.log2(levels[1] / levels[0])) if both else None,
            "kelvin": key.white.kelvin,
            "focal": self.camera.focal_length,
            "distance": float(np.linalg.norm(eyes - self.lens)),
            "neutral": neutral is not None,
        }
        return Still(self.file(), self.record(), marks, truth)

    def framed(self, place):
        at = self.px(place)[0] / self.size
        return bool((at > 0).all() and (at < 1).all())

    def level(self, place, radius):
        """Mean luminance about a place in the frame as it was before camera and file."""
        area = MarkedArea(at=tuple(self.px(place)[0] / self.size), radius=radius)
        return float((self.light[covered(self.light.shape, area)] @ LUMINANCE).mean())

    def source(self):
        mark = {"id": "key", "name": "Key", "role": "key"}
        glints, shadows = self.glints(), []
        nose = self.thrown("nose_tip")
        if nose is not None:
            shadows.append({"of": "nose_tip", "tip": self.spot(nose)})
        crown = self.thrown("crown")
        if crown is not None:
            shadows = [{"of": "crown", "tip": self.spot(crown)}]
            if nose is not None:
                shadows.append({"of": "nose_tip", "tip": self.spot(nose)})
            mark["border"] = self.across(crown)
        return mark | {"glints": glints, "shadows": shadows}

    def part(self, name):
        """Where a hand marks a part of the head: of an eye, the middle of its iris."""
        if not name.startswith("eye"):
            return self.at[name]
        middle, ball, iris = _eye(self.figure, name[4:])
        return middle + np.sqrt(ball**2 - iris**2) * self._front()

    def thrown(self, name):
        """Where the shadow of a part of the head falls, if the lens sees it there."""
        mesh = self.world.mesh
        nose = name == "nose_tip"
        own = np.unique(mesh.faces[mesh.body[: len(mesh.faces)] == 1])
        own = own[
            np.linalg.norm(mesh.vertices[own] - self.at[name], axis=1) < (0.014 if nose else 0.12)
        ]
        # What passes a hair's breadth off the skin there, away from the light, is its shadow's rim.
        begin = mesh.vertices[own] + 0.0006 * mesh.normals[own]
        ways = begin - self.from_where
        ways /= np.linalg.norm(ways, axis=1, keepdims=True)
        triangle, _, far = self.world.rays.first(begin, ways)
        hit = triangle >= 0
        if nose:
            hit &= (mesh.body[triangle] == 1) & (mesh.finish[triangle] == _SKIN) & (far > 0.012)
        else:
            hit &= mesh.body[triangle] != 1
        fell = begin[hit] + far[hit, None] * ways[hit]
        if not len(fell):
            return None
        # The tip of the shadow is what lies farthest the way that shadows fall on the face; on a
        # wall, its upper end.
        way = self.at[name] - self.from_where
        way -= (way @ self._front()) * self._front()
        tip = fell[((fell - self.at[name]) @ way).argmax() if nose else fell[:, 2].argmax()]
        return tip if self.seen(tip) else None

    def across(self, crown):
        """A line across the upper edge of the head's shadow on the wall, from lit to dark."""
        size = np.radians(max(inspect_unit(self.setup, "key").size.degrees, 1.0))
        reach = 1.2 * size * np.linalg.norm(crown - self.at["crown"]) + 0.03
        up = np.array([0, 0, 1.0])
        a, b = (
            np.clip(self.px(p)[0] / self.size, 0.01, 0.99)
            for p in (crown + reach * up, crown - reach * up)
        )
        off = self.rng.normal(0, HAND / np.sqrt(2), (2, 2)) / self.size
        return {"a": tuple(map(float, a + off[0])), "b": tuple(map(float, b + off[1]))}

    def glints(self):
        """Of the key, in eyes large enough in the frame to be marked."""
        ready = lay_out(self.setup)
        found = []
        for side, glints in glints_of(ready).items():
            own = [g for g in glints or [] if g.source == "key"]
            if not own:
                continue
            middle, ball, iris = _eye(self.figure, side)
            front = self._front()
            rim_way = np.cross(front, [0, 0, 1.0])
            centre = middle + np.sqrt(ball**2 - iris**2) * front
            radius = np.linalg.norm(self.px(centre + iris * rim_way) - self.px(centre))
            if radius < 10:
                continue
            at = _mirrored(middle, ball, self.lens, self.from_where)
            glint = {
                "eye": side,
                "iris": self.spot(centre),
                "rim": self.spot(centre + iris * rim_way),
                "at": self.spot(at),
            }
            found.append(glint)
        return found

    def _front(self):
        tilt, turn = np.radians([self.figure.head_tilt, self.figure.facing])
        return np.array([-np.sin(turn) * np.cos(tilt), np.cos(turn) * np.cos(tilt), np.sin(tilt)])

    def neutral(self):
        """A place on the grey garment that the key lights more than anything else does."""
        # Far from the neck, whose skin throws its own colour back.
        for part in np.linspace(0.9, 0.3, 13):
            for side in ("left", "right"):
                start = self.at[f"shoulder_{side}"] * part + self.at["chin"] * (1 - part)
                way = start - self.lens
                way /= np.linalg.norm(way)
                t, _, far = self.world.rays.first(self.lens[None], way[None])
                mesh = self.world.mesh
                if (
                    t[0] < 0
                    or mesh.body[t[0]] != 1
                    or FINISHES[mesh.finish[t[0]]].name != "garment"
                ):
                    continue
                place = self.lens + far[0] * way
                x, y = self.px(place)[0].astype(int)
                if not (8 < x < self.size[0] - 8 and 8 < y < self.size[1] - 8):
                    continue
                of_key = self.of_key[y, x] / max(self.light[y, x] @ LUMINANCE, 1e-9)
                if self.light[y, x] @ LUMINANCE > 0.08 and of_key > 0.85:
                    return place
        return None

    def edges(self):
        """Edges of things along both walls, drawn by a hand."""
        ways = {"along": np.array([1.0, 0, 0]), "across": np.array([0, 1.0, 0]),
                "upright": np.array([0, 0, 1.0])}  # fmt: skip
        found = []
        for kind, way in ways.items():
            drawn = 0
            for _ in range(200):
                start = self.lens + self.forward * self.rng.uniform(1.0, 5.0)
                start = start + self.right * self.rng.uniform(-2, 2)
                start[2] = self.rng.uniform(0.1, 3.1)
                end = start + way * self.rng.uniform(0.5, 2.5)
                if min((p - self.lens) @ self.forward for p in (start, end)) < 0.4:
                    continue
                both = self.px([start, end]) / self.size
                if (both < 0).any() or (both > 1).any() or np.ptp(both, 0).max() < 0.25:
                    continue
                found.append({"kind": kind, "a": self.spot(start), "b": self.spot(end)})
                drawn += 1
                if drawn == 3:
                    break
        return found


def _eye(figure, side):
    """Middle of an eyeball in the room, its radius and that of the iris [m]: found on the mesh."""
    mesh = dressed(figure)
    eye = mesh.landmarks[f"eye_{side}"]
    own = mesh.vertices[np.unique(mesh.faces[mesh.finish == _EYE])]
    own = own[np.linalg.norm(own - eye, axis=1) < 0.03]
    front = own[own[:, 1] > own[:, 1].max() - 0.0015]
    fit = np.linalg.lstsq(np.c_[2 * front, np.ones(len(front))], (front**2).sum(1), rcond=None)[0]
    ball = float(np.sqrt(fit[3] + fit[:3] @ fit[:3]))
    return placed(fit[:3], figure.position, figure.facing), ball, ball * IRIS / CORNEA


def _mirrored(middle, ball, lens, lamp):
    """Where a ball mirrors a lamp to the lens."""
    to_lens, to_lamp = (p - middle for p in (lens, lamp))
    normal = to_lens / np.linalg.norm(to_lens)
    for _ in range(60):
        at = middle + ball * normal
        halfway = sum((p - at) / np.linalg.norm(p - at) for p in (lens, lamp))
        normal = halfway / np.linalg.norm(halfway)
    return middle + ball * normal
