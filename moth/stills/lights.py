"""The light of a still taken apart: what the marks of each light tell of where it stands, how large
it is, how strong and how white, and how far each may be off.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from scipy import ndimage
from scipy.optimize import curve_fit
from scipy.special import erf

from ..camera import blur
from ..colour import LUMINANCE
from ..document import Polar, to_polar
from ..errors import MothError
from ..wording import THIRDS
from ..world.eyes import CORNEA, IRIS
from .framing import HAND, OFF, Estimate
from .laying import Laid, profile
from .marks import MarkedLine
from .nose import way_of
from .reading import linear_of, read_pair, read_spot, white_read

SNAP = 6
"""How far from its mark a glint is looked for [px]."""
ROUGH = 6.5
"""Standard deviation from which a direction is only roughly told [deg]."""
UNTOLD = 0.35
"""How far a size may be off, as a part, and still be told."""
IRIS_OURS = 6.15
"""Radius of the iris of our own figures [mm], their mean."""
IRISES_DIFFER = 0.06
"""How far irises differ, and the size of the head with them, as a part; typical."""
LIKENESS = {"nose": 0.004, "glint": 4.0, "upright": 3.0}
"""How far a nose is off ours [m], and how far a direction may be off because the eye looks
elsewhere [deg]; typical.
"""
OURS = {"nose": 0.001, "glint": 2.0, "upright": 1.0}
"""The same for a frame of the desk's own."""
APART = 3.0
"""Standard deviations from which marks of one light are said to disagree."""
SKIN_DIFFERS = 0.1
"""How far the two cheeks of one face may differ in reflectance [stops]; typical."""
SMALLEST = 1.2
"""Width of an edge under which a picture's own sharpness is seen [px, standard deviation]."""


@dataclass(frozen=True)
class LightRead:
    """What is known of one light of a still."""

    id: str
    name: str
    role: str
    angle: Estimate | None
    """Off lens, negative camera left [deg]."""
    height: Estimate | None
    """Over the eyes [deg]."""
    softness: Estimate | None
    """Full angle of an even strip that spreads it as far [deg]."""
    stops: Estimate | None
    """Of what it lights against what the key lights."""
    shift: Estimate | None
    """White against the key's [mired], + warmer."""
    kelvin: Estimate | None
    """Where the camera's white is known [K]."""
    green: float | None
    """As a unit's."""
    told_by: tuple[str, ...]
    doubts: tuple[str, ...]
    words: str

    @property
    def sure(self):
        """Whether its direction is told within ten degrees, nine times in ten."""
        if self.angle is None or self.height is None:
            return False
        return bool(1.645 * max(self.angle.off, self.height.off) <= 10.0)


def read_lights(code, record, marks, framing, say=THIRDS):
    """The lights of a still.

    Parameters
    ----------
    code : ndarray, shape (height, width, 3)
    record : moth.stills.marks.Record
    marks : moth.stills.marks.Marks
    framing : moth.stills.framing.Framing
    say : moth.wording.Wording

    Returns
    -------
    list of LightRead
        In the order of the marks.
    """
    taking = _Taking(code, record, marks, framing)
    return [taking.read(source, say) for source in marks.sources]


class _Taking:
    def __init__(self, code, record, marks, framing):
        self.code, self.record, self.marks = code, record, marks
        self.laid = Laid(framing, marks, record)
        self.size = np.array(code.shape[1::-1], float)
        self.likeness = OURS if record.taken == "desk" else LIKENESS
        self.spread: dict[int, float] = {}
        self.key = next((s for s in marks.sources if s.role == "key" and s.lit), None)

    def read(self, source, say):
        directions, doubts = self.directions(source), []
        if not directions and (source.glints or source.shadows or source.uprights):
            doubts.append(
                "Its marks meet no skin of the figure that is laid over: move them a little."
            )
        way, off, apart = _together(directions)
        if apart:
            doubts.append(f"Its marks differ by {apart:.0f}°: are they of one light?")
        angle = height = None
        if way is not None:
            at = self.polar(way)
            if off > ROUGH:
                doubts.append(f"From where is only roughly told: {off:.0f}° either way.")
            # Near the zenith a few degrees of arc are many of bearing.
            wide = off / max(np.cos(np.radians(at.height)), 0.1)
            angle, height = Estimate(at.angle, min(wide, 180.0)), Estimate(at.height, off)
        angle = angle if source.angle is None else Estimate(source.angle, 10.0)
        height = height if source.height is None else Estimate(source.height, 10.0)
        softness = self.softness(source, way, off, doubts)
        stops, shift, kelvin, green = self.level(source, doubts)
        read = LightRead(
            id=source.id,
            name=source.name,
            role=source.role,
            angle=angle,
            height=height,
            softness=softness,
            stops=stops,
            shift=shift,
            kelvin=kelvin,
            green=green,
            told_by=tuple(name for name, _, _ in directions),
            doubts=tuple(doubts),
            words="",
        )
        return replace(read, words=_sentence(read, say))

    def polar(self, way) -> Polar:
        return to_polar(self.laid.eyes + 2.0 * way, self.laid.eyes, self.laid.lens)

    def directions(self, source):
        """What each mark tells: its name, a unit vector toward the light, and how far that may be
        off [deg].
        """
        found = []
        for glint in source.glints:
            found.append(("glint", self.by_glint, _spots(glint, "iris", "rim", "at"), glint))
        for shadow in source.shadows:
            if shadow.of == "nose_tip":
                found.append(("nose", self.by_nose, _spots(shadow, "tip"), shadow))
        for upright in source.uprights:
            found.append(
                ("upright", self.by_upright, _spots(upright, "foot", "top", "tip"), upright)
            )
        told = []
        for name, how, spots, mark in found:
            way = how(spots, mark)
            if way is not None:
                told.append((name, way, self.off(name, how, spots, mark, way)))
        return told

    def off(self, name, how, spots, mark, way):
        """How far a direction may be off: each mark of it nudged, and what is typical besides."""
        if name == "nose":
            # The spread of the ways that throw it there holds the hand already.
            return float(np.hypot(self.spread[id(mark)], 0.5 * self.laid.framing.angle.off))
        total = self.likeness[name] ** 2
        if name != "glint":
            # A head that faces elsewhere has its nose elsewhere; a glint does not ask.
            total += (0.5 * self.laid.framing.angle.off) ** 2
        step = HAND / self.size
        for row in range(len(spots)):
            for axis in range(2):
                swings = []
                for sign in (-1, 1):
                    moved = spots.copy()
                    moved[row, axis] += sign * step[axis]
                    other = how(moved, mark)
                    if other is not None:
                        swings.append(_between(way, other))
                total += (max(swings) if swings else 10.0) ** 2
        return float(np.sqrt(total))

    def by_glint(self, spots, glint):
        """The iris is a ring on the cornea's ball: what is mirrored off its middle by so much is
        turned by twice the angle.
        """
        eye = self.laid.iris(glint.eye)
        toward = self.laid.lens - eye
        toward /= np.linalg.norm(toward)
        right, up = _square_to(toward, self.laid.right, self.laid.up)
        iris, rim, at = spots * self.size
        ours = self.record.taken == "desk"
        radius = self.iris_radius(np.linalg.norm(rim - iris), eye, ours)
        if radius < 3.0:
            return None
        iris = self.iris_middle(iris, eye, ours)
        at = self.snapped(at)
        ball = CORNEA / IRIS
        # The ball's middle is behind the iris; how far it is seen aside is how far the eye looks.
        behind = np.sqrt(ball * ball - 1)
        gaze = self.gaze(toward)
        middle = iris / radius - behind * np.array([gaze @ right, -(gaze @ up)])
        off = (at / radius - middle) / ball
        off = np.array([off[0], -off[1]])
        if off @ off >= 0.95:
            return None
        normal = off[0] * right + off[1] * up + np.sqrt(1 - off @ off) * toward
        return 2 * (normal @ toward) * normal - toward

    def iris_middle(self, marked, eye, ours):
        """Middle of an iris [px]: as marked, and where the head that is laid over has it."""
        drawn = self.laid.drawn(eye)[0] * self.size
        scale = self.laid.focal * self.size[0] / np.linalg.norm(eye - self.laid.lens)
        off = np.hypot(0.5 * HAND, (0.0005 if ours else OFF["eye_left"]) * scale)
        a, b = HAND**-2, off**-2
        return (a * marked + b * drawn) / (a + b)

    def snapped(self, marked):
        """Middle of the brightest spot about a mark [px]: a glint is a spot, a hand is near it."""
        x, y = np.round(marked - 0.5).astype(int)
        reach = SNAP + 2
        rows = slice(max(y - reach, 0), y + reach + 1)
        columns = slice(max(x - reach, 0), x + reach + 1)
        patch = self.level_of[rows, columns]
        if min(patch.shape, default=0) < 3:
            return marked
        r, c = np.mgrid[rows.start : rows.start + patch.shape[0],
                        columns.start : columns.start + patch.shape[1]]  # fmt: skip
        near = np.hypot(c + 0.5 - marked[0], r + 0.5 - marked[1]) <= SNAP
        if not near.any():
            return marked
        top, ground = patch[near].max(), np.median(patch)
        if top < 1.5 * ground:
            return marked
        weight = np.clip(patch - (top + ground) / 2, 0, None)
        # Of the spot alone that holds the brightest place.
        label, _ = ndimage.label(weight > 0)
        best = np.where(near, weight, -1).argmax()
        weight = weight * (label == label.ravel()[best])
        total = weight.sum()
        if total <= 0:
            return marked
        return np.array([((c + 0.5) * weight).sum(), ((r + 0.5) * weight).sum()]) / total

    @cached_property
    def level_of(self):
        """Luminance of the still, the curve undone."""
        return linear_of(self.code, self.record) @ LUMINANCE

    def iris_radius(self, marked, eye, ours):
        """Radius of an iris [px]: as marked, and as large as irises are at that distance; each by
        how far it may be off.
        """
        away = np.linalg.norm(eye - self.laid.lens)
        scale = self.laid.focal * self.size[0] / away
        known = (IRIS_OURS if ours else IRIS) / 1000 * scale
        a, b = (HAND * 1.41) ** -2, (IRISES_DIFFER * known) ** -2
        return (a * marked + b * known) / (a + b)

    def gaze(self, toward):
        """Where the eyes look: ours as the head faces, a real person's taken to be at the lens."""
        if self.record.taken == "camera":
            return toward
        return self.laid.front

    def by_nose(self, spots, shadow):
        fell = self.laid.nearest_on_face(spots[0], 3 * HAND / self.size)
        if fell is None:
            return None
        px = np.linalg.norm(fell - self.laid.lens) / (self.laid.focal * self.size[0])
        slack = float(np.hypot(self.likeness["nose"], HAND * px))
        found = way_of(self.laid.figure, fell, slack)
        if found is None:
            return None
        self.spread[id(shadow)] = found[1]
        return found[0]

    def by_upright(self, spots, upright):
        foot, tip = self.laid.on_floor(spots[[0, 2]])
        if np.isnan([foot, tip]).any():
            return None
        ray = self.laid.rays(spots[1:2])[0]
        # The top is over the foot, where the ray passes nearest.
        flat = ray[:2] @ ray[:2]
        if flat < 1e-6:
            return None
        far = (foot - self.laid.lens)[:2] @ ray[:2] / flat
        top = np.array([foot[0], foot[1], self.laid.lens[2] + far * ray[2]])
        way = top - tip
        return way / np.linalg.norm(way) if top[2] > 0.02 else None

    def softness(self, source, way, off, doubts):
        """Full angle of an even strip [deg]."""
        if source.softness is not None:
            return Estimate(source.softness, 0.3 * source.softness)
        return self.by_border(source, way, off, doubts)

    def by_border(self, source, way, off, doubts):
        """How wide the edge of a shadow is, over how far it was thrown."""
        if source.border is None or way is None:
            return None
        if not source.shadows:
            doubts.append("Its edge is drawn, and the shadow that it is of is not marked.")
            return None
        shadow = source.shadows[0]
        ends = self.cast_on(shadow, source.border, way)
        if ends is None:
            doubts.append("Its edge is drawn where the shadow does not fall.")
            return None
        first, last, thrown, slack = ends
        measured = _edge(self.level_of, source.border)
        if measured is None:
            doubts.append("No single edge is found along the line drawn across it.")
            return None
        width, unsure = measured
        px = float(np.linalg.norm((np.array(source.border.b) - source.border.a) * self.size))
        blurred = self.blurred(first) / px * self.size[0]
        sharp = np.sqrt(max(width**2 - (0.5 / px) ** 2 - blurred**2, 0.0))
        if width * px < SMALLEST or sharp < 0.5 * width:
            doubts.append("Its edge is about as sharp as the picture: it may be harder still.")
            return None
        if self.record.t_stop is None and shadow.of != "nose_tip":
            doubts.append(
                "The lens's stop is not known: what blurs the wall is counted to the light."
            )
        across = last - first
        across -= (across @ way) * way
        spread = sharp * float(np.linalg.norm(across))
        angle = np.degrees(np.sqrt(12) * spread / thrown)
        part = np.hypot(unsure / max(width, 1e-6), np.radians(off))
        part = float(np.hypot(part, 0.1 + slack * np.radians(np.hypot(off, 0.5))))
        if part > UNTOLD:
            doubts.append("How far the shadow is thrown is too little known to tell its size.")
            return None
        return Estimate(float(angle), float(angle * part))

    def cast_on(self, shadow, border, way):
        """Both ends of a line across an edge in the world, how far the shadow was thrown [m], and
        by which part of that a radian of direction is off.
        """
        if shadow.of == "nose_tip":
            ends = self.laid.on_face([border.a, border.b])
            fell = self.laid.on_face([shadow.tip])[0]
            if np.isnan(ends).any() or np.isnan(fell).any():
                return None
            return ends[0], ends[1], float(np.linalg.norm(self.laid.at["nose_tip"] - fell)), 1.0
        ray = self.laid.rays([shadow.tip])[0]
        caster = self.laid.caster(shadow.of, way)
        # Where the ray from the lens and the one from the light pass nearest.
        apart = caster - self.laid.lens
        both = np.stack([ray, way], 1)
        far, thrown = np.linalg.lstsq(both, apart, rcond=None)[0]
        if thrown < 0.05 or far < 0.1:
            return None
        deep = far * (ray @ self.laid.forward)
        ends = [
            self.laid.lens + r * deep / (r @ self.laid.forward)
            for r in self.laid.rays([border.a, border.b])
        ]
        # Two lines that run almost alike meet nobody knows where.
        sine = float(np.linalg.norm(np.cross(ray, way)))
        return ends[0], ends[1], float(thrown), 1 / max(sine, 1e-3)

    def blurred(self, place):
        """Standard deviation by which the lens blurs what is at a place, as a part of the width."""
        if self.record.t_stop is None:
            return 0.0
        camera = self.laid.camera.model_copy(update={"t_stop": self.record.t_stop})
        focus = float(np.linalg.norm(self.laid.eyes - self.laid.lens))
        away = float((place - self.laid.lens) @ self.laid.forward)
        # An even disc's standard deviation along a line is a quarter of its width.
        return blur(camera, focus, away) / 4

    def level(self, source, doubts):
        """Stops and white of what it lights against what the key lights."""
        stops = shift = kelvin = green = None
        if source.lit is not None and self.key is not None and source is not self.key:
            pair = read_pair(self.code, self.record, self.key.lit, source.lit)
            stops = Estimate(pair.stops, float(np.hypot(pair.unsure, SKIN_DIFFERS)))
            shift = Estimate(pair.shift, 12.0)
            if pair.words.startswith("One of them"):
                doubts.append(pair.words)
        if source is self.key:
            stops, shift = Estimate(0.0, 0.0), Estimate(0.0, 0.0)
        neutral = self.marks.neutral
        if neutral is not None and self.record.white is not None:
            spot = read_spot(self.code, self.record, neutral)
            if spot.lost:
                doubts.append(f"What has no colour is {spot.lost}: its white cannot be told.")
            else:
                key_kelvin, key_green = white_read(spot, self.record)
                if source is self.key:
                    kelvin, green = Estimate(key_kelvin, _of_mired(key_kelvin, 6.0)), key_green
                elif shift is not None:
                    mired = float(np.clip(1e6 / key_kelvin + shift.value, 40, 500))
                    kelvin = Estimate(1e6 / mired, _of_mired(1e6 / mired, shift.off))
        return stops, shift, kelvin, green


def _of_mired(kelvin, mired):
    return kelvin * kelvin * mired / 1e6


def _spots(mark, *names):
    return np.array([getattr(mark, name) for name in names], float)


def _between(a, b):
    """Angle between two unit vectors [deg]."""
    return float(np.degrees(np.arccos(np.clip(a @ b, -1, 1))))


def _square_to(toward, right, up):
    right = right - (right @ toward) * toward
    right /= np.linalg.norm(right)
    up = up - (up @ toward) * toward - (up @ right) * right
    return right, up / np.linalg.norm(up)


def _together(directions):
    """Directions weighed by how far each may be off: unit vector, how far it may be off, and by how
    much they differ where that is more than they may.
    """
    if not directions:
        return None, None, None
    ways = np.array([way for _, way, _ in directions])
    offs = np.array([off for _, _, off in directions])
    weights = 1 / offs**2
    mean = weights @ ways
    mean /= np.linalg.norm(mean)
    off = float(1 / np.sqrt(weights.sum()))
    away = np.array([_between(mean, way) for way in ways])
    apart = None
    if (away > APART * offs).any():
        apart = max(_between(a, b) for a in ways for b in ways)
        off = max(off, float(away.max()))
    return mean, off, apart


def _edge(image, line: MarkedLine):
    """Width of the edge along a line, and how far that may be off: standard deviation of what
    spreads it, in parts of the line; None where there is no single edge.
    """
    levels = profile(image, line)
    t = np.linspace(0, 1, len(levels))
    high, low = float(levels.max()), float(levels.min())
    if high - low < 0.05 * max(high, 1e-6):
        return None
    falls = levels[:20].mean() > levels[-20:].mean()

    def model(t, top, depth, slope, middle, width):
        return top + slope * (t - 0.5) - depth * (1 + erf((t - middle) / (np.sqrt(2) * width))) / 2

    depth = (high - low) if falls else (low - high)
    start = [high if falls else low, depth, 0.0, 0.5, 0.15]
    bounds = ([-np.inf, -np.inf, -np.inf, 0.0, 0.005], [np.inf, np.inf, np.inf, 1.0, 0.6])
    try:
        best, spread = curve_fit(model, t, levels, start, bounds=bounds, maxfev=2000)
    except (RuntimeError, ValueError):
        return None
    left = float(np.sqrt(((model(t, *best) - levels) ** 2).mean()))
    if left > 0.2 * abs(best[1]) or best[4] > 0.4:
        return None
    return float(best[4]), float(max(np.sqrt(spread[4, 4]), 0.05 * best[4]))


def _sentence(light, say):
    """What is known of a light, in words."""
    parts = []
    if light.softness is not None:
        size = light.softness.value
        parts.append("small and hard" if size < 8 else "of middling size" if size < 18 else "large")
    if light.angle is not None:
        side = "left" if light.angle.value < 0 else "right"
        off = abs(light.angle.value)
        where = "near the lens" if off < 12 else f"camera {side}, {off:.0f}° off lens"
        if off > 120:
            where = f"behind, camera {side}"
        parts.append(where)
    if light.height is not None:
        parts.append(f"{light.height.value:.0f}° {'up' if light.height.value >= 0 else 'down'}")
    if light.stops is not None and light.role != "key":
        over = "over" if light.stops.value > 0 else "under"
        parts.append(
            "as bright as the key's side"
            if abs(light.stops.value) < 1 / 6
            else f"{say.counted(abs(light.stops.value))} {over} the key's side"
        )
    if light.kelvin is not None:
        parts.append(f"about {round(light.kelvin.value, -2):.0f} K")
    elif light.shift is not None and light.role != "key" and abs(light.shift.value) > 15:
        warmer = "warmer" if light.shift.value > 0 else "cooler"
        parts.append(f"{warmer} than the key by {abs(light.shift.value):.0f} mired")
    if not parts:
        return "Nothing of it is marked yet."
    lead = "Surely" if light.sure else "Probably"
    return f"{lead} {', '.join(parts)}."


def key_of(lights):
    """The key among lights that were read.

    Raises
    ------
    MothError
        When there is none whose direction is known.
    """
    for light in lights:
        if light.role == "key" and light.angle is not None and light.height is not None:
            return light
    raise MothError(
        "Mark the key first: its glint in an eye, or the nose's shadow.", "marks.sources"
    )
