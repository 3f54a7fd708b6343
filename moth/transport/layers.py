"""One linear picture a unit, at full and white; dimmer, colour and exposure are gains on it."""

from dataclasses import dataclass

import numpy as np

from ..colour import LUMINANCE
from ..engine.caching import content_hash
from ..engine.cancelling import checkpoint
from ..engine.cores import shared_out, tiles
from ..materials import FINISHES
from ..world.room import SKY_RADIUS
from .ambient import ambient_of
from .arrival import BEFORE, arrive, with_images
from .beyond import LAND, SKY
from .gloss import TINT, Gloss
from .glow import glow_visibility, lobes_along, matte, shine
from .haze import airlight
from .housings import body_distance, housing
from .kernels import OFF_SURFACE, face_along, gather, mirror_hits, unshadowed
from .light import light_of
from .nodes import picture_nodes
from .operands import DISTANT, Shading, room_for
from .secondary import rings_of
from .skin import under_skin
from .through import lobes_of_the_room
from .view import PLACES, view_key
from .visibility import COARSE_WIDTH, visibility
from .walks import walk

FAINT_GLOW = 0.25
"""Of the lamp's own light: a surface that brings less is summed at the gathering points, without
its sheen.
"""
GLOW_RAYS, QUICK_GLOW_RAYS = 12, 6
"""Rays from a gathering point to a surface that is followed as a source; ten gathering points are
blended into one.
"""
_EYE = next(i for i, f in enumerate(FINISHES) if f.name == "eye")


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


def layer_key(setup, camera, source, size):
    """Content hash of a layer: source, camera, world and air, and the size."""
    return content_hash("layer", view_key(setup, camera), source.key, list(size))


def render_layer(world, view, source):
    """A source's share of the picture: straight from the lamp, by mirrors, and from every surface
    it lights.

    Parameters
    ----------
    world : moth.world.World
    view : View
    source : Source

    Returns
    -------
    Layer

    Raises
    ------
    Cancelled
    """
    n = len(view.points)
    width, height = view.size
    diffuse, sheen = np.zeros((n, 3)), np.zeros((n, 3))
    # Lamps first: while the meter is read, its thread works out the light on surfaces, which is
    # waited for here only after them.
    lamps = with_images(world, source.emitters)
    for emitter in lamps:
        _add_lamp(world, view, emitter, diffuse, sheen)
    light = light_of(world, source)
    _add_surfaces(world, view, light, source.sky, diffuse, sheen)
    _catchlights(world, view, light, sheen)
    under_skin(view, diffuse)
    checkpoint()
    diffuse *= view.left[:, None]
    sheen *= view.left[:, None]
    image = np.zeros((width * height, 3))
    tint = TINT[view.finish]
    gather(view.pixel, view.weight, view.albedo, tint, (diffuse, sheen), image)
    _glare(world, view, light, image)
    haze = world.extinction
    if haze > 0:
        image = (
            image * np.exp(-haze * view.depth)[:, None]
            + airlight(world, view, light, haze)[:, None]
        )
    panes = [e for e in lamps if e.beyond is not None and not e.mirrored]
    if panes:
        _lay_outside(view, panes, image)
    in_sight = [e for e in lamps if e.drawn and (not e.via or e.kind != DISTANT)]
    return Layer(
        image.reshape(height, width, 3).astype(np.float32),
        *_together([_unit_in_frame(world, view, e) for e in in_sight]),
    )


def _together(parts):
    """What is seen of several emitters: each pixel once, that two of them share by both."""
    if not parts:
        return np.zeros(0, np.int64), np.zeros(0, np.float32), np.zeros(0, np.float32)
    pixels, glow, cover = (np.concatenate(part) for part in zip(*parts, strict=True))
    pixel, at = np.unique(pixels, return_inverse=True)
    glow, cover = (np.bincount(at, k, len(pixel)).astype(np.float32) for k in (glow, cover))
    return pixel, glow, np.minimum(cover, 1)


def _shading(view, some):
    """Some of a picture's points, with their sheen."""
    return Shading(
        view.points[some],
        view.normals[some],
        view.toward[some],
        Gloss(*(part[some] for part in view.gloss)),
        view.strands._replace(row=view.strands.row[some]),
    )


def _add_lamp(world, view, emitter, diffuse, sheen):
    """Light that comes straight from a lamp's face, or from its image in a mirror."""
    n = len(view.points)
    plain, shine_ = np.zeros(n), np.zeros((n, 3))
    nodes = picture_nodes(emitter)

    def shade(tile):
        a, b = int(tile[0]), int(tile[-1]) + 1
        unshadowed(_shading(view, slice(a, b)), emitter.face, nodes, plain[a:b], shine_[a:b])

    shared_out(shade, tiles(np.arange(n)))
    floor = 1e-6 * max(float(plain.max(initial=0.0)), 1e-12)
    part, _ = visibility(world, view, emitter, np.flatnonzero(plain > floor))
    diffuse += (plain * part)[:, None]
    sheen += shine_ * part[:, None]


def _add_surfaces(world, view, light, sky, diffuse, sheen):
    """Light from cloth, boards and walls: glows point by point, all the rest through the gathering
    points.
    """
    n = len(view.points)
    ambient = ambient_of(world, view)
    checkpoint()
    spots, facing = view.points[ambient.at], view.normals[ambient.at]
    straight = float(diffuse[ambient.at].sum())
    gathered = sum(view @ sent for view, sent in zip(ambient.views, light.by_turn, strict=True))
    nothing = np.zeros((len(spots), 3))
    shiny = np.flatnonzero(view.gloss.shiny)
    rays = QUICK_GLOW_RAYS if view.size[0] <= COARSE_WIDTH else GLOW_RAYS
    for k, glow in enumerate(light.glows):
        here, part = np.zeros((len(spots), 3)), np.zeros(len(spots))

        def weigh(tile, glow=glow, here=here):
            a, b = int(tile[0]), int(tile[-1]) + 1
            shine(matte(spots[a:b], facing[a:b]), False, glow.cells, here[a:b], nothing[a:b])

        shared_out(weigh, tiles(np.arange(len(spots)), 3000))
        lit = np.flatnonzero(here.sum(1) > 1e-4 * here.sum(1).max(initial=1e-12))

        def look(tile, glow=glow, part=part, k=k):
            places, seed = (spots[tile], facing[tile]), 97 * k + int(tile[0])
            part[tile] = glow_visibility(
                world, glow, places, rays, seed=seed, skip=ambient.apart[tile]
            )

        shared_out(look, tiles(lit, 3000))
        if here.sum() < FAINT_GLOW * straight:
            # A little light from a wide patch: the gathering points are near enough together for
            # it.
            gathered += here * part[:, None]
            if glow.sheet >= 0 and len(shiny):
                # Its sheen is another matter: a panel that only sends back what the others send
                # stands where it shows.
                gloss, unused = np.zeros((len(shiny), 3)), np.zeros((len(shiny), 3))

                def shimmer(tile, glow=glow, gloss=gloss, unused=unused):
                    a, b = int(tile[0]), int(tile[-1]) + 1
                    shine(_shading(view, shiny[a:b]), False, glow.cells, unused[a:b], gloss[a:b])

                shared_out(shimmer, tiles(np.arange(len(shiny)), 3000))
                sheen[shiny] += gloss * ambient.spread(ambient.blend @ part)[shiny, None]
            continue
        out, gloss = np.zeros((n, 3)), np.zeros((n, 3))

        def shade(tile, glow=glow, out=out, gloss=gloss):
            a, b = int(tile[0]), int(tile[-1]) + 1
            shine(_shading(view, slice(a, b)), False, glow.cells, out[a:b], gloss[a:b])

        shared_out(shade, tiles(np.arange(n)))
        part = ambient.spread(ambient.blend @ part)[:, None]
        diffuse += out * part
        sheen += gloss * part
    diffuse += ambient.spread(ambient.blend @ gathered)
    _add_let_through(world, view, light, sky, sheen)


def _add_let_through(world, view, light, sky, sheen):
    """What a cloth in the frame shows of the light behind it, and the open sky; added to the sheen,
    which no albedo dims.
    """
    p = world.patches
    seen = np.flatnonzero(
        (view.patch >= 0) & ((p.sheet[view.patch] >= 0) | (p.sky[view.patch, 2] != 0))
    )
    if not len(seen):
        return
    extra = np.zeros((len(seen), 3))
    room = lobes_of_the_room(world, view.origin, view.patch[seen], light)
    for patch, share in _about(world, view.points[seen], view.patch[seen]):
        # Behind a cloth the patches know what comes through; before it the points know better what
        # falls on it.
        back = light.radiosity[patch] - p.albedo[patch] * p.arrived(light.radiosity, patch)
        cloth = p.through[patch].max(1) > 0
        extra += np.where(cloth[:, None], np.maximum(back, 0), 0.0) * share[:, None]
        extra += room[patch] * share[:, None]
        for glow in light.glows:
            if glow.has_beam and not glow.via:
                lobes = _lobes_toward(world, view, seen, glow, patch)
                extra += lobes * share[:, None]
    if sky is not None:
        open_sky = p.sky[view.patch[seen], 2] != 0
        extra[open_sky] = np.pi * sky(-view.toward[seen[open_sky]])[:, None]
    sheen[seen] += extra / np.pi


def _about(world, points, patch):
    """Patches about each point of a sheet and their shares of it: (patch, share) four times.

    What a sheet lets through is known cell by cell; between their middles it goes over from one to
    the next, or a finished frame would show the cells as squares. Elsewhere it is the patch itself.
    """
    p, n = world.patches, len(points)
    patches, shares = np.tile(patch, (4, 1)), np.zeros((4, n))
    shares[0] = 1.0
    for ring in rings_of(world.sheets).values():
        sheet = world.sheets[ring[0]]
        high, around = sheet.cells[1], len(ring) > 1
        across = len(ring) if around else sheet.cells[0]
        for side in (1, -1):
            own = np.flatnonzero(np.isin(p.sheet, ring) & (p.side == side))
            on = np.flatnonzero(np.isin(p.sheet[patch], ring) & (p.side[patch] == side))
            if not len(on):
                continue
            if around:
                u = _around(world.sheets, ring, p.sheet[patch[on]], points[on])
                i = np.floor(u).astype(int)
            else:
                u = ((points[on] - sheet.centre) @ sheet.right / sheet.half[0] + 1) / 2
                u = np.clip(u * across - 0.5, 0, across - 1)
                i = np.minimum(u.astype(int), across - 1)
            v = ((points[on] - sheet.centre) @ sheet.up / sheet.half[1] + 1) / 2 * high - 0.5
            v = np.clip(v, 0, high - 1)
            j = np.minimum(v.astype(int), high - 1)
            x, y = u - i, v - j
            # A round shade's last flat has the first beside it.
            i, a = (k % across if around else np.minimum(k, across - 1) for k in (i, i + 1))
            b = np.minimum(j + 1, high - 1)
            for m, (row, column, share) in enumerate(
                (
                    (i, j, (1 - x) * (1 - y)),
                    (a, j, x * (1 - y)),
                    (i, b, (1 - x) * y),
                    (a, b, x * y),
                )
            ):
                patches[m, on], shares[m, on] = own[row * high + column], share
    return zip(patches, shares, strict=True)


def _around(sheets, ring, sheet, points):
    """Places on a round shade, in flats from the middle of its first."""
    first = ring[0]
    centre, right = (
        np.array([getattr(sheets[k], part) for k in ring]) for part in ("centre", "right")
    )
    half = np.array([sheets[k].half[0] for k in ring])
    onward = np.sign((centre[1] - centre[0]) @ right[0])
    at = sheet - first
    return at + onward * ((points - centre[at]) * right[at]).sum(1) / half[at] / 2


def _lobes_toward(world, view, seen, glow, patch):
    """What cells of a glow send in lobes toward the lens, as radiosity (n, 3)."""
    out = np.zeros((len(seen), 3))
    row = np.full(len(world.patches), -1)
    row[glow.patches] = np.arange(len(glow.patches))
    at = row[patch]
    on = np.flatnonzero(at >= 0)
    toward, flux = view.toward[seen[on]], glow.cells.power[at[on]]
    density = lobes_along(glow.cells, at[on], toward)
    cosine = np.maximum(np.abs((toward * view.normals[seen[on]]).sum(1)), 0.05)
    out[on] = np.pi * flux * (density / cosine / world.patches.area[patch[on]])[:, None]
    return out


def sheen_of(world, view, source, some):
    """What some of a picture's points send to the lens by their sheen alone, of lamps, cloths and
    boards.

    Parameters
    ----------
    world : moth.world.World
    view : View
    source : Source
        At full.
    some : ndarray of int, shape (k,)
        Points of the view.

    Returns
    -------
    ndarray, shape (k, 3)
        [cd/m^2]
    """
    part = view.only(some)
    diffuse, sheen = np.zeros((len(some), 3)), np.zeros((len(some), 3))
    for emitter in with_images(world, source.emitters):
        _add_lamp(world, part, emitter, diffuse, sheen)
    for k, glow in enumerate(light_of(world, source).glows):
        if glow.sheet < 0:
            # A wall's is as wide as what it is mirrored in.
            continue
        gloss = np.zeros((len(some), 3))
        shine(_shading(part, slice(None)), False, glow.cells, diffuse, gloss)
        seen = glow_visibility(
            world, glow, (part.points, part.normals), QUICK_GLOW_RAYS, seed=97 * k
        )
        sheen += gloss * seen[:, None]
    return sheen * part.left[:, None]


def _catchlights(world, view, light, sheen):
    """What wet eyes mirror, added to the sheen."""
    eyes = np.flatnonzero(view.finish == _EYE)
    if len(eyes):
        sheen[eyes] += mirrored_light(
            world,
            light,
            view.points[eyes],
            view.normals[eyes],
            view.toward[eyes],
            FINISHES[_EYE].normal_reflectance,
        )


GLASS_REFLECTANCE = 2 * 0.04
"""Of both faces of a spectacle glass of index 1.5, uncoated, straight on (Fresnel)."""


def _glare(world, view, light, image):
    """What spectacles mirror, laid over the picture."""
    pixel, places, normals, toward = view.glass
    if len(pixel):
        np.add.at(
            image, pixel, mirrored_light(world, light, places, normals, toward, GLASS_REFLECTANCE)
        )


def mirrored_light(world, light, points, normals, toward, reflectance, beyond=0.0):
    """What smooth surfaces mirror: the lit face of each lamp, and every lit surface, in its own
    shape.

    Parameters
    ----------
    world : moth.world.World
    light : Light
    points, normals, toward : ndarray, shape (n, 3)
        Places [m], unit normals, unit vectors to the eye.
    reflectance : float
        Straight on; Schlick's Fresnel elsewhere.
    beyond : float
        Surfaces that are nearer are left out, lamps are not [m].

    Returns
    -------
    ndarray, shape (n, 3)
        [cd/m^2]
    """
    n = len(points)
    out = np.zeros((n, 3))
    fresnel = reflectance + (1 - reflectance) * (1 - np.clip((normals * toward).sum(1), 0, 1)) ** 5
    away = 2 * (normals * toward).sum(1, keepdims=True) * normals - toward
    start = points + OFF_SURFACE * normals
    for owner, patch, weight, *_ in walk(world, start, away, np.arange(n), np.full(n, beyond)):
        np.add.at(out, owner, light.radiosity[patch] / np.pi * (weight * fresnel[owner])[:, None])
    for emitter in light.emitters:
        rays = room_for(n)
        mirror_hits(points, normals, toward, emitter.face, rays)
        hit = np.flatnonzero(rays.weights > 0)
        if len(hit):
            start, way, far = rays.origins[hit], rays.directions[hit], rays.distances[hit]
            seen = arrive(world, emitter, start, way, 0.999 * far)
            out[hit] += (rays.weights[hit] * seen * fresnel[hit])[:, None]
    return out


def _unit_in_frame(world, view, emitter):
    """Pixels the unit itself covers, or its image in a mirror, its glow there, and how much of the
    pixel it hides.
    """
    if emitter.kind == DISTANT:
        return _sun_in_frame(view, emitter)
    a, b, deep = housing(emitter)
    centre, vectors = emitter.centre, emitter.vectors
    face = np.array(
        [
            centre + np.array([i * a, j * b, -k * deep]) @ vectors
            for i in (-1, 1)
            for j in (-1, 1)
            for k in (0, 1)
        ]
    )
    ends = [end for one, other, _ in emitter.rods for end in (one, other)]
    pixel, columns, rows = _pixels_about(view, np.concatenate([face, np.reshape(ends, (-1, 3))]))
    glow, cover = np.zeros(len(pixel)), np.zeros(len(pixel))
    land, on_land = np.zeros((2, len(pixel)), bool)
    for (dx, dy), depth in zip(PLACES, view.depths, strict=True):
        rays = view.rays(columns + dx, rows + dy)
        shown, radiance, distance, body = _unit_along(view, emitter, rays)
        if emitter.beyond is not None and not emitter.mirrored:
            rgb, kind = emitter.beyond.seen(_behind(view.origin, rays, distance), rays)
            on_land = shown & (kind == LAND)
            radiance = np.where(kind == SKY, rgb @ LUMINANCE, 0.0)
        lit = shown & (radiance > 0)
        if emitter.mirrored:
            face, hull = (_left_by_mirror(world, view, emitter, rays, k) for k in (distance, body))
        else:
            face, hull = (
                _left_before(view, pixel, k, depth[pixel]) for k in (distance, body - NEARER)
            )
        if emitter.beyond is not None:
            # A pane has no body: where it does not shine itself, what is outside is seen.
            hull = np.zeros(len(pixel))
        glow += np.where(lit, radiance * face, 0) / 4
        cover += np.maximum(np.where(lit, face, 0), hull) / 4
        land |= on_land & (face > 0)
    # Land is laid over the picture in its own colour, and is the window's all the same.
    keep = (cover > 0) | land
    return pixel[keep], glow[keep].astype(np.float32), cover[keep].astype(np.float32)


NEARER = 0.004
"""A body is drawn so far before its place [m]: over itself, where it throws shadows."""


def _unit_along(view, emitter, rays):
    """Which rays from the lens meet a unit's face and not its body first, the face's luminance, and
    how far face and body are, infinite for a miss. Outside a window both are where the window is.
    """
    radiance, face = np.empty(len(rays)), np.empty(len(rays))
    face_along(view.origin, rays, emitter.face, radiance, face)
    face[face <= 0] = np.inf
    body = body_distance(view.origin, rays, emitter)
    shown = np.isfinite(face) & (face <= body + 1e-6)
    if not emitter.mirrored:
        for leg in emitter.via:
            pane = _pane_along(view.origin, rays, leg.pane)
            face, body = (np.where(k > pane, pane, np.inf) for k in (face, body))
    return shown, radiance, face, body


def _pixels_about(view, points):
    """Pixels of the box about some points in the frame, and their columns and rows."""
    none = np.zeros(0, np.int64)
    width, height = view.size
    right, up, forward = view.basis
    offset = points - view.origin
    z = offset @ forward
    across, above = offset @ right, offset @ up
    beyond = (
        across - view.spread[0] * z,
        -across - view.spread[0] * z,
        above - view.spread[1] * z,
        -above - view.spread[1] * z,
    )
    if z.max() < 0.02 or any((side > 0).all() for side in beyond):
        return none, none, none
    if z.min() < 0.02:
        low, high = np.zeros(2, int), np.array([width, height])
    else:
        x = (across / z / view.spread[0] + 1) / 2 * width
        y = (1 - above / z / view.spread[1]) / 2 * height
        low = np.maximum(np.floor([x.min() - 2, y.min() - 2]).astype(int), 0)
        high = np.minimum(np.ceil([x.max() + 2, y.max() + 2]).astype(int), [width, height])
    if (high <= low).any():
        return none, none, none
    grid = np.meshgrid(np.arange(low[0], high[0]), np.arange(low[1], high[1]))
    columns, rows = (k.ravel() for k in grid)
    return rows * width + columns, columns, rows


_CORNERS = [(s, t) for s in (-1, 1) for t in (-1, 1)]


def _lay_outside(view, panes, image):
    """Lay land and what stands outside over the pixels of windows, in its own colours."""
    shown, sky = np.zeros(image.shape), np.zeros(len(image))
    for emitter in panes:
        pixel, there, open_ = _outside_in_frame(view, emitter)
        shown[pixel] += there
        sky[pixel] += open_
    # The sky covers what is under it: its part of the pixel will be taken off all the rest. The
    # panes themselves are black.
    image += shown
    image /= np.maximum(1 - sky, 1 / len(PLACES))[:, None]


def _outside_in_frame(view, emitter):
    """Pixels about a window, what they show there of land and solids (n, 3) [cd/m^2], and the part
    of each that is sky.
    """
    (a, b), (right, up, _) = emitter.face[5:7], emitter.vectors
    corners = [emitter.centre + s * a * right + t * b * up for s, t in _CORNERS]
    pixel, columns, rows = _pixels_about(view, np.array(corners))
    shown, sky = np.zeros((len(pixel), 3)), np.zeros(len(pixel))
    for (dx, dy), depth in zip(PLACES, view.depths, strict=True):
        rays = view.rays(columns + dx, rows + dy)
        _, _, distance, _ = _unit_along(view, emitter, rays)
        rgb, kind = emitter.beyond.seen(_behind(view.origin, rays, distance), rays)
        left = _left_before(view, pixel, distance, depth[pixel])
        seen = left * np.isfinite(distance) / len(PLACES)
        shown += rgb * (seen * (kind != SKY))[:, None]
        sky += seen * (kind == SKY)
    return pixel, shown, sky


def _behind(origin, rays, distance):
    """Places a little past a pane along rays; those that miss it are anywhere."""
    return origin + (np.where(np.isfinite(distance), distance, 0.0) + BEFORE)[:, None] * rays


def _left_by_mirror(world, view, emitter, rays, distance):
    """Share of the light left of what stands at a distance along rays into a mirror."""
    left, met = np.zeros(len(rays)), np.flatnonzero(np.isfinite(distance))
    start = np.tile(view.origin, (len(met), 1))
    left[met] = arrive(world, emitter, start, rays[met], 0.999 * distance[met])
    return left


def _pane_along(origin, rays, pane):
    """Distance to a pane along rays from one place; infinite for a miss."""
    centre, normal = np.array(pane.centre), np.array(pane.normal)
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (centre - origin) @ normal / (rays @ normal)
    off = origin + t[:, None] * rays - centre
    hit = (np.abs(off @ pane.right) <= pane.half[0]) & (np.abs(off @ pane.up) <= pane.half[1])
    return np.where(hit & (t > 0), t, np.inf)


AROUND_SUN = 0.02
"""So far to each side of its middle the sun is looked for, as a tangent: four times its radius."""


def _sun_in_frame(view, emitter):
    """Pixels that the sun's disc shines in, its glow and cover there."""
    right, up, forward = emitter.vectors
    disc = [view.origin - forward + AROUND_SUN * (s * right + t * up) for s, t in _CORNERS]
    pixel, columns, rows = _pixels_about(view, np.array(disc))
    glow, cover = np.zeros(len(pixel)), np.zeros(len(pixel))
    fine = (np.arange(4) + 0.5) / 4
    for dy in fine:
        for dx in fine:
            rays = view.rays(columns + dx, rows + dy)
            near = np.flatnonzero(rays @ -forward > 0.9999)
            radiance, distance = np.empty(len(near)), np.empty(len(near))
            face_along(view.origin, rays[near], emitter.face, radiance, distance)
            # The dome of sky is what its pixels are known by.
            afar = np.minimum(distance, 0.5 * SKY_RADIUS)
            left = _left_before(view, pixel[near], afar, view.depth[pixel[near]])
            glow[near] += radiance * left / 16
            cover[near] += (radiance > 0) * left / 16
    keep = cover > 0
    return pixel[keep], glow[keep].astype(np.float32), cover[keep].astype(np.float32)


def _left_before(view, pixel, distance, near):
    """Share of the light left of something at a distance in each pixel: all before what stands
    nearest there, what a cloth leaves behind it, else none.
    """
    left = np.where(distance < near, 1.0, 0.0)
    for share, wall in view.behind:
        left = np.where((distance >= near) & (distance < wall[pixel]), share[pixel], left)
        near = wall[pixel]
    return left
