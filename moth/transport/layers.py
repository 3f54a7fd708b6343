"""One linear picture a unit, at full and white; dimmer, colour and exposure are gains on it."""

import os
import threading
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from ..errors import Cancelled
from ..materials import FINISHES
from ..world.keys import content_hash
from .emitters import BALL, emitter_key
from .kernels import face_along, fold, gather, mirror_hits, shadow_rays, unshadowed
from .nodes import picture_nodes
from .view import view_key

_TILE = 12_288
_BATCH = 49_152
"""Rays cast at once: a batch stays in the processor's cache."""
FIRST_SAMPLES, PENUMBRA_SAMPLES = 4, 20
_ROUGHNESS = np.array([f.roughness for f in FINISHES])
_NORMAL_REFLECTANCE = np.array([f.normal_reflectance for f in FINISHES])
_TINTED = np.array([f.tinted for f in FINISHES])
_EYE = next(i for i, f in enumerate(FINISHES) if f.name == "eye")
_own = threading.local()
_threads = ThreadPoolExecutor(max_workers=os.cpu_count() or 1, thread_name_prefix="tile")


@dataclass(frozen=True)
class Layer:
    """A unit's share of the picture."""

    surfaces: np.ndarray
    """(height, width, 3) luminance-like BT.709 parts [cd/m^2] of what it lights."""
    seen: np.ndarray
    """(k,) pixels in which the unit itself stands in the frame."""
    glow: np.ndarray
    """(k,) luminance of its lit face there [cd/m^2], cover included."""
    cover: np.ndarray
    """(k,) part of the pixel it hides, 0..1."""


def layer_key(setup, camera, unit, size):
    """Content hash of a layer: geometry of unit, camera and world, and the size."""
    return content_hash("layer-3", view_key(setup, camera), emitter_key(unit), list(size))


def _tiles(indices, size=_TILE):
    return [indices[k : k + size] for k in range(0, len(indices), size)]


def _ray_buffers():
    """Origins, directions, distances, weights of a batch: one set a thread, since fresh memory costs as much as the rays."""
    if not hasattr(_own, "buffers"):
        _own.buffers = np.empty((_BATCH, 3), np.float32), np.empty((_BATCH, 3), np.float32), np.empty(_BATCH, np.float32), np.empty(_BATCH)
    return _own.buffers


def _run(work, tiles, cancelled):
    def guarded(tile):
        if cancelled():
            raise Cancelled
        return work(tile)

    return list(_threads.map(guarded, tiles))


def visibility(world, view, emitter, candidates, cancelled=lambda: False):
    """Part of the emitter that each candidate point sees.

    Four samples a point first; then twenty more wherever those, or those of a
    neighbouring pixel, disagree: in the penumbra.

    Parameters
    ----------
    world, view, emitter
    candidates : ndarray of int
        Points that face the light at all.

    Returns
    -------
    part : ndarray, shape (n,)
        0..1, weighted by the light each sample would bring; 1 where no ray was cast.
    rays : int
        Number of rays cast.
    """
    n = len(view.points)
    lit, total = np.zeros(n), np.zeros(n)

    def cast(tile, first, count):
        m = len(tile) * count
        origins, directions, distances, weights = (buffer[:m] for buffer in _ray_buffers())
        shadow_rays(view.points, view.normals, tile, view.pixel, emitter.frame, emitter.table, first, count,
                    origins, directions, distances, weights)
        fold(tile, count, world.rays.visible(origins, directions, distances), weights, lit, total)

    first = 1 if emitter.kind == 0 else FIRST_SAMPLES
    _run(lambda tile: cast(tile, 0, first), _tiles(candidates, _BATCH // first), cancelled)
    rays = len(candidates) * first
    if emitter.kind != 0:
        part = np.divide(lit, total, out=np.zeros(n), where=total > 0)
        width, height = view.size
        low, high = np.full(width * height, 2.0), np.full(width * height, -1.0)
        np.minimum.at(low, view.pixel[candidates], part[candidates])
        np.maximum.at(high, view.pixel[candidates], part[candidates])
        low, high = low.reshape(height, width), high.reshape(height, width)
        for axis in (0, 1):
            low = np.minimum(np.minimum(low, _shifted(low, 1, axis, 2.0)), _shifted(low, -1, axis, 2.0))
            high = np.maximum(np.maximum(high, _shifted(high, 1, axis, -1.0)), _shifted(high, -1, axis, -1.0))
        varies = ((high - low) > 0.02).ravel()
        penumbra = candidates[varies[view.pixel[candidates]]]
        _run(lambda tile: cast(tile, FIRST_SAMPLES, PENUMBRA_SAMPLES), _tiles(penumbra, _BATCH // PENUMBRA_SAMPLES), cancelled)
        rays += len(penumbra) * PENUMBRA_SAMPLES
    return np.divide(lit, total, out=np.zeros(n), where=total > 0), rays


def _shifted(image, by, axis, filler):
    out = np.roll(image, by, axis)
    edge = 0 if by > 0 else -1
    if axis == 0:
        out[edge, :] = filler
    else:
        out[:, edge] = filler
    return out


def render_layer(world, view, emitter, cancelled=lambda: False):
    """A unit's share of the picture, direct light.

    Parameters
    ----------
    world : moth.world.World
    view : View
    emitter : Emitter
    cancelled : callable
        Asked between tiles; when it says True the work stops.

    Returns
    -------
    Layer

    Raises
    ------
    Cancelled
    """
    n = len(view.points)
    width, height = view.size
    diffuse, sheen = np.zeros(n), np.zeros(n)
    nodes = picture_nodes(emitter)

    def shade(tile):
        a, b = int(tile[0]), int(tile[-1]) + 1
        unshadowed(view.points[a:b], view.normals[a:b], view.toward[a:b], view.finish[a:b], _ROUGHNESS,
                   _NORMAL_REFLECTANCE, emitter.frame, emitter.table, *nodes, diffuse[a:b], sheen[a:b])

    _run(shade, _tiles(np.arange(n)), cancelled)
    floor = 1e-6 * max(float(diffuse.max(initial=0.0)), 1e-12)
    part, _ = visibility(world, view, emitter, np.flatnonzero(diffuse > floor), cancelled)
    diffuse *= part
    sheen *= part
    _catchlights(world, view, emitter, sheen)
    if cancelled():
        raise Cancelled
    image = np.zeros((width * height, 3))
    gather(view.pixel, view.weight, view.albedo, _TINTED[view.finish], diffuse, sheen, image)
    return Layer(image.reshape(height, width, 3).astype(np.float32), *_unit_in_frame(view, emitter))


def _catchlights(world, view, emitter, sheen):
    """The mirrored shape of the source in wet eyes, added to the sheen."""
    eyes = np.flatnonzero(view.finish == _EYE)
    if not len(eyes):
        return
    points, normals, toward = view.points[eyes], view.normals[eyes], view.toward[eyes]
    directions, reach, radiance = np.empty((len(eyes), 3)), np.empty(len(eyes)), np.empty(len(eyes))
    mirror_hits(points, normals, toward, emitter.frame, emitter.table, emitter.area, directions, reach, radiance)
    hit = np.flatnonzero(radiance > 0)
    if not len(hit):
        return
    seen = world.rays.visible(points[hit] + 1.5e-3 * normals[hit], directions[hit], reach[hit] * 0.999)
    cosine = (normals[hit] * toward[hit]).sum(1)
    f0 = _NORMAL_REFLECTANCE[_EYE]
    fresnel = f0 + (1 - f0) * (1 - np.clip(cosine, 0, 1)) ** 5
    sheen[eyes[hit]] += radiance[hit] * seen * fresnel


def housing(emitter):
    """Half sizes (right, up) and depth behind the lit face [m] of the box a unit is drawn as."""
    a, b = max(emitter.frame[13], 0.02), max(emitter.frame[14], 0.02)
    return a, b, float(np.clip(0.9 * min(a, b) + 0.05, 0.06, 0.35))


STAND_RADIUS = 0.0175
"""Of the pole a unit is drawn on [m]; typical riser."""


def _unit_in_frame(view, emitter):
    """Pixels the unit itself covers, its glow there, and how much of the pixel it hides."""
    none = np.zeros(0, np.int64), np.zeros(0, np.float32), np.zeros(0, np.float32)
    width, height = view.size
    right, up, forward = view.basis
    a, b, deep = housing(emitter)
    centre, f = emitter.centre, emitter.frame
    face = np.array([centre + i * a * f[4:7] + j * b * f[7:10] - k * deep * f[10:13]
                     for i in (-1, 1) for j in (-1, 1) for k in (0, 1)])
    foot = np.array([[centre[0], centre[1], 0.0]]) - deep / 2 * np.array([f[10], f[11], 0.0])
    offset = np.concatenate([face, foot]) - view.origin
    z = offset @ forward
    across, above = offset @ right, offset @ up
    beyond = (across - view.spread[0] * z, -across - view.spread[0] * z, above - view.spread[1] * z, -above - view.spread[1] * z)
    if z.max() < 0.02 or any((side > 0).all() for side in beyond):
        return none
    if z.min() < 0.02:
        low, high = np.zeros(2, int), np.array([width, height])
    else:
        x = (across / z / view.spread[0] + 1) / 2 * width
        y = (1 - above / z / view.spread[1]) / 2 * height
        low = np.maximum(np.floor([x.min() - 2, y.min() - 2]).astype(int), 0)
        high = np.minimum(np.ceil([x.max() + 2, y.max() + 2]).astype(int), [width, height])
    if (high <= low).any():
        return none
    columns, rows = np.meshgrid(np.arange(low[0], high[0]), np.arange(low[1], high[1]))
    pixel = (rows * width + columns).ravel()
    glow, cover = np.zeros(len(pixel)), np.zeros(len(pixel))
    for dy in (0.25, 0.75):
        for dx in (0.25, 0.75):
            rays = view.rays(columns.ravel() + dx, rows.ravel() + dy)
            radiance, distance = np.empty(len(rays)), np.empty(len(rays))
            face_along(view.origin, rays, f, emitter.table, emitter.area, radiance, distance)
            wall = view.depth[pixel]
            body = _body_distance(view.origin, rays, emitter, a, b, deep)
            lit = (radiance > 0) & (distance < wall) & (distance <= body + 1e-6)
            glow += np.where(lit, radiance, 0) / 4
            cover += (lit | (body < wall)) / 4
    keep = cover > 0
    return pixel[keep], glow[keep].astype(np.float32), cover[keep].astype(np.float32)


def _body_distance(origin, rays, emitter, a, b, deep):
    """Distance [m] to the housing or the stand along rays; infinite for a miss."""
    f = emitter.frame
    offset = origin - emitter.centre
    if emitter.kind == BALL:
        reach = np.full(len(rays), np.inf)
    else:
        turn = np.stack([f[4:7], f[7:10], f[10:13]])
        o, d = turn @ offset, rays @ turn.T
        with np.errstate(divide="ignore", invalid="ignore"):
            t0, t1 = (np.array([-a, -b, -deep]) - o) / d, (np.array([a, b, -1e-4]) - o) / d
        near, far = np.minimum(t0, t1).max(1), np.maximum(t0, t1).min(1)
        reach = np.where((near < far) & (near > 0), near, np.inf)
    pole = emitter.centre[:2] - deep / 2 * f[10:12]
    flat = rays[:, :2]
    aa = np.maximum((flat**2).sum(1), 1e-12)
    o2 = origin[:2] - pole
    half = flat @ o2
    disc = half**2 - aa * (o2 @ o2 - STAND_RADIUS**2)
    t = (-half - np.sqrt(np.maximum(disc, 0))) / aa
    z = origin[2] + t * rays[:, 2]
    stand = (disc > 0) & (t > 0) & (z < emitter.centre[2]) & (z > 0)
    return np.minimum(reach, np.where(stand, t, np.inf))
