"""Lamps that are told by a table, for Mitsuba 3: any lit face, any intensity over turn and angle.

A head of the catalogue with what hangs on it sends otherwise than the renderer's own lamps do. Its
light is asked for by places of its lit face alone (no ray is to meet the face), so a rig with such
lamps has no mirrors and no cloth that lets light straight through. Runs in the references' own
environment.
"""

import drjit as dr
import mitsuba as mi
import numpy as np

POINT, DISC, RECTANGLE, BALL = range(4)
"""Kinds of lit faces, as bench/accuracy/export.py writes them."""


class ToldLamp(mi.Emitter):
    """A lit face every part of which sends the same share of an intensity, but for its pattern."""

    def __init__(self, props):
        mi.Emitter.__init__(self, props)
        # A place of the face is drawn anew each time, so that to the renderer it is a point.
        self.m_flags = mi.EmitterFlags.DeltaPosition
        self.m_needs_sample_2 = self.m_needs_sample_3 = True
        frame, self.table, self.pattern = WAITING[int(props["number"])]
        # Numbers of Python's own: with numpy's the renderer would try to work out its unknowns.
        self.frame = [float(v) for v in frame]
        self.cells = mi.Float(self.table.astype(np.float32).ravel())
        self.shares = mi.Float(self.pattern.astype(np.float32).ravel())

    def sample_direction(self, it, sample, active=True):
        f = self.frame
        centre, right, up, forward = (mi.Vector3f(*f[k : k + 3]) for k in (1, 4, 7, 10))
        to = mi.Vector3f(it.p) - centre
        if f[0] == BALL:
            # Even over the cone that it fills: radiance I / (pi r^2) times the cone's solid angle.
            far = dr.norm(to)
            depth = dr.square(f[13] / far)
            depth = depth / (1 + dr.sqrt(dr.maximum(1 - depth, 0)))
            c = 1 - sample.x * depth
            s = dr.sqrt(dr.maximum(1 - c * c, 0))
            sin, cos = dr.sincos(2 * dr.pi * sample.y)
            d = mi.Frame3f(-to / far).to_world(mi.Vector3f(s * cos, s * sin, c))
            distance = far * c - dr.sqrt(dr.maximum(dr.square(f[13]) - dr.square(far * s), 0))
            place = mi.Vector3f(it.p) + distance * d
            share = mi.Float(2 / f[13] ** 2) * depth
        else:
            if f[0] == DISC:
                uv = mi.warp.square_to_uniform_disk(sample)
            else:
                uv = 2 * sample - 1
            half = (0.0, 0.0) if f[0] == POINT else (f[13], f[14])
            place = centre + uv.x * half[0] * right + uv.y * half[1] * up
            to = place - mi.Vector3f(it.p)
            distance = dr.norm(to)
            d = to / distance
            share = self._brightness(uv) / dr.square(distance)
        cosine = dr.clip(dr.dot(-d, forward), -1, 1)
        turn = dr.atan2(dr.dot(-d, up), dr.dot(-d, right))
        value = self._intensity(dr.acos(cosine), turn) * share
        ds = dr.zeros(mi.DirectionSample3f)
        ds.p, ds.n, ds.d, ds.dist = mi.Point3f(place), mi.Normal3f(forward), d, distance
        ds.pdf, ds.delta, ds.time = mi.Float(1), mi.Bool(True), it.time
        ds.emitter = mi.EmitterPtr(self)
        return ds, dr.select(active, mi.Color3f(value), 0)

    def _intensity(self, angle, turn):
        rows, steps = self.table.shape
        at = angle / dr.pi * (steps - 1)
        low = dr.minimum(mi.UInt32(at), steps - 2)
        part = at - mi.Float(low)
        if rows == 1:
            return self._cell(mi.UInt32(0), low, part)
        round_ = dr.select(turn < 0, turn + 2 * dr.pi, turn) / (2 * dr.pi) * (rows - 1)
        row = dr.minimum(mi.UInt32(round_), rows - 2)
        on = round_ - mi.Float(row)
        return self._cell(row, low, part) * (1 - on) + self._cell(row + 1, low, part) * on

    def _cell(self, row, low, part):
        at = row * self.table.shape[1] + low
        first, second = (dr.gather(mi.Float, self.cells, at + k) for k in (0, 1))
        return first * (1 - part) + second * part

    def _brightness(self, uv):
        k = len(self.pattern)
        if k == 1:
            return mi.Float(1)
        a, b = (dr.minimum(mi.UInt32(dr.maximum((c + 1) / 2 * k, 0)), k - 1) for c in (uv.x, uv.y))
        return dr.gather(mi.Float, self.shares, a * k + b)

    def eval(self, si, active=True):
        return mi.Color3f(0)

    def pdf_direction(self, it, ds, active=True):
        return mi.Float(0)

    def bbox(self):
        middle, reach = self.frame[1:4], max(self.frame[13:15])
        low, high = ([c + by for c in middle] for by in (-reach, reach))
        return mi.ScalarBoundingBox3f(low, high)

    def to_string(self):
        return "ToldLamp[]"


WAITING: list = []
"""Frames, tables and patterns of lamps to be made, by number: properties carry no arrays, and two
lamps without a property that differs would be made one.
"""
mi.register_emitter("moth_told", ToldLamp)


def told_lamp(frame, table, pattern):
    """Description of a lamp for ``mi.load_dict``."""
    WAITING.append((frame, table, pattern))
    return {"type": "moth_told", "number": len(WAITING) - 1}


def light_of_told(scene, position, normal, lamp, response, n=360):
    """Light of a told lamp in sight [lx], from n x n places of it, or directions of a ball."""
    f, table, pattern = lamp
    k = (np.arange(n) + 0.5) / n
    a, b = (m.reshape(-1, 1) for m in np.meshgrid(k, k, indexing="ij"))
    off = f[1:4] - position
    if f[0] == BALL:
        far = np.linalg.norm(off)
        side = np.linalg.svd(off[None])[2][1:]
        least = np.sqrt(1 - (f[13] / far) ** 2)
        c = 1 - a * (1 - least)
        s = np.sqrt(1 - c * c)
        turn = 2 * np.pi * b
        way = c * off / far + s * (np.cos(turn) * side[0] + np.sin(turn) * side[1])
        distance = np.full(n * n, far - f[13])
        weight = 2 * (1 - least) / f[13] ** 2
    else:
        u, v = 2 * a - 1, 2 * b - 1
        bright = 1.0
        if len(pattern) > 1:
            cells = [np.minimum((x * len(pattern)).astype(int), len(pattern) - 1) for x in (a, b)]
            bright = pattern[cells[0], cells[1]][:, 0]
        inside = np.ones(n * n)
        if f[0] == DISC:
            # The square round it is asked, and what lies on the disc counts.
            inside = (np.hypot(u, v)[:, 0] <= 1) * 4 / np.pi
        half = (0, 0) if f[0] == POINT else f[13:15]
        to = off + u * half[0] * f[4:7] + v * half[1] * f[7:10]
        distance = np.linalg.norm(to, axis=1)
        way = to / distance[:, None]
        weight = bright * inside / distance**2
    angle = np.arccos(np.clip(-way @ f[10:13], -1, 1)) / np.pi * (table.shape[1] - 1)
    turn = np.arctan2(-way @ f[7:10], -way @ f[4:7]) % (2 * np.pi) / (2 * np.pi)
    turn *= len(table) - 1
    low = np.minimum(angle.astype(int), table.shape[1] - 2)
    row = np.minimum(turn.astype(int), max(len(table) - 2, 0))
    part, on = angle - low, (turn - row) * (len(table) > 1)
    rows = [
        table[r, low] * (1 - part) + table[r, low + 1] * part
        for r in (row, np.minimum(row + 1, len(table) - 1))
    ]
    candela = rows[0] * (1 - on) + rows[1] * on
    ray = mi.Ray3f(
        mi.Point3f(*(float(c) for c in position)),
        mi.Vector3f(np.ascontiguousarray(way.T, np.float32)),
    )
    ray.maxt = mi.Float((distance - 2e-4).astype(np.float32))
    seen = ~np.array(scene.ray_test(ray))
    return float((candela * weight * response(way @ normal) * seen).mean())
