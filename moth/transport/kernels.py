"""The inner loops, compiled. Each releases the interpreter lock.

What they are given has names (:mod:`operands`) and is taken apart first, for every access by name
in a loop would count references; places and directions on the way are plain triples.
"""

import math
from typing import Any

import numpy as np
from numba import njit

from ..engine.sampling import R2_U, R2_V, shifts
from ..world.embree import WIDTH, cast_occluded, is_clear, new_packet, put_ray, ray_of
from ..world.world import left_by_air, past_cloth
from .gloss import returned, strand_gloss
from .operands import BALL, DISC, DISTANT, FAR, POINT, RECTANGLE
from .vectors import added, at_row, dot, minus, put, scaled

_FAST: dict[str, Any] = {"nogil": True, "cache": True, "fastmath": True, "error_model": "numpy"}


@njit(inline="always")
def off_surface(points, normals, i):
    """Where rays from a place start."""
    return (
        points[i, 0] + OFF_SURFACE * normals[i, 0],
        points[i, 1] + OFF_SURFACE * normals[i, 1],
        points[i, 2] + OFF_SURFACE * normals[i, 2],
    )


@njit(inline="always")
def _in_pixel(spots, i, k):
    """Where the k-th ray of a place starts: the first in the middle, others all over its pixel."""
    points, normals, _, pixels = spots
    p = off_surface(points, normals, i)
    if k == 0 or len(pixels.across) == 0:
        return p
    # Square roots, so that the steps follow no step over the lamp's face.
    a, b = (k * math.sqrt(2.0)) % 1.0 - 0.5, (k * math.sqrt(3.0)) % 1.0 - 0.5
    step = added(scaled(at_row(pixels.across, i), a), scaled(at_row(pixels.down, i), b))
    return added(p, step)


@njit(inline="always")
def _intensity(lamp, d):
    """Candela toward a unit direction."""
    table = lamp.table
    # The table is even in sin(angle / 2) = sqrt((1 - cos) / 2).
    at = math.sqrt(max(0.0, 0.5 - 0.5 * dot(d, lamp.forward))) * (table.shape[1] - 1)
    low = min(int(at), table.shape[1] - 2)
    part = at - low
    if table.shape[0] == 1:
        return table[0, low] * (1 - part) + table[0, low + 1] * part
    turn = math.atan2(dot(d, lamp.up), dot(d, lamp.right)) * ((table.shape[0] - 1) / (2 * math.pi))
    if turn < 0:
        turn += table.shape[0] - 1
    row = min(int(turn), table.shape[0] - 2)
    tpart = turn - row
    a = table[row, low] * (1 - part) + table[row, low + 1] * part
    b = table[row + 1, low] * (1 - part) + table[row + 1, low + 1] * part
    return a * (1 - tpart) + b * tpart


@njit(**_FAST)
def _basis(a):
    """Two unit vectors square to a unit vector and to each other.

    Duff et al., "Building an orthonormal basis, revisited" (2017).
    """
    sign = 1.0 if a[2] >= 0 else -1.0
    k = -1.0 / (sign + a[2])
    m = a[0] * a[1] * k
    return (1 + sign * a[0] * a[0] * k, sign * m, -sign * a[0]), (m, sign + a[1] * a[1] * k, -a[1])


@njit(**_FAST)
def _in_cone(axis, along, across, turn):
    """Unit direction at an angle from an axis, of which cosine and sine are given."""
    x, y = _basis(axis)
    c, s = across * math.cos(turn), across * math.sin(turn)
    return (
        along * axis[0] + c * x[0] + s * y[0],
        along * axis[1] + c * x[1] + s * y[1],
        along * axis[2] + c * x[2] + s * y[2],
    )


@njit(inline="always")
def _toward(lamp, u, v, p):
    """From a place to one of the lit face, for u, v in 0..1: unit direction, distance [m], what
    intensity is divided into there [1/m^2] (of a distant face 1), and the place on the face.

    Places of a flat face are even over it. A ball shows a cap whose edge is where its surface turns
    away; directions are even over the cone that it fills, so that an even ball brings just its
    intensity over the square of the distance to its middle.
    """
    c = lamp.centre
    if lamp.kind == DISTANT:
        radius, turn = math.sqrt(u) * lamp.half_width, 2 * math.pi * v
        inv = 1 / math.sqrt(1 + radius * radius)
        ray = _in_cone(scaled(lamp.forward, -1.0), inv, radius * inv, turn)
        return ray, FAR, 1.0, c
    if lamp.kind == BALL:
        to = (c[0] - p[0], c[1] - p[1], c[2] - p[2])
        r2 = lamp.half_width * lamp.half_width
        d2 = max(dot(to, to), 1e-8)
        d = math.sqrt(d2)
        # From within the ball it fills half of all directions.
        least = math.sqrt(max(1 - r2 / d2, 0.0))
        # 1 - cos of the cone's half angle, without the loss of digits far away.
        depth = min(r2 / d2, 1.0) / (1 + least)
        along = 1 - u * depth
        across = math.sqrt(max(1 - along * along, 0.0))
        ray = _in_cone(scaled(to, 1 / d), along, across, 2 * math.pi * v)
        far = max(d * along - math.sqrt(max(r2 - d2 * across * across, 0.0)), 1e-3)
        share = 2 * depth / r2
        return ray, far, share, (p[0] + far * ray[0], p[1] + far * ray[1], p[2] + far * ray[2])
    s = (c[0], c[1], c[2])
    if lamp.kind != POINT:
        a, b = (2 * u - 1) * lamp.half_width, (2 * v - 1) * lamp.half_height
        if lamp.kind == DISC:
            radius, turn = math.sqrt(u), 2 * math.pi * v
            a = radius * math.cos(turn) * lamp.half_width
            b = radius * math.sin(turn) * lamp.half_height
        right, up = lamp.right, lamp.up
        s = (
            c[0] + a * right[0] + b * up[0],
            c[1] + a * right[1] + b * up[1],
            c[2] + a * right[2] + b * up[2],
        )
    to = (s[0] - p[0], s[1] - p[1], s[2] - p[2])
    inv = 1 / math.sqrt(max(dot(to, to), 1e-8))
    return scaled(to, inv), 1 / inv, inv * inv, s


@njit(inline="always")
def _brightness(lamp, s):
    """Brightness of a place of the face against its mean."""
    pattern = lamp.pattern
    k = pattern.shape[0]
    if k == 1:
        return 1.0
    off = (s[0] - lamp.centre[0], s[1] - lamp.centre[1], s[2] - lamp.centre[2])
    a = (dot(off, lamp.right) / max(lamp.half_width, 1e-6) + 1) / 2 * k
    b = (dot(off, lamp.up) / max(lamp.half_height, 1e-6) + 1) / 2 * k
    return pattern[min(max(int(a), 0), k - 1), min(max(int(b), 0), k - 1)]


@njit(**_FAST)
def unshadowed(shading, lamp, nodes, diffuse, sheen):
    """Irradiance and sheen without shadows, by quadrature over the lit face.

    shading: Shading; lamp: LitFace; nodes: three arrays (q, 3) of u, v, weight, for near, middling
    and far places; writes diffuse (n,) [lx] and sheen (n, 3) [cd/m^2].
    """
    near, middle, far = nodes
    points, normals, toward, gloss, strands = shading
    shiny = gloss.shiny
    row, ways, once, twice = strands
    centre = (lamp.centre[0], lamp.centre[1], lamp.centre[2])
    # Two-point Gauss errs by about (half width / distance)^4 / 135, one point by its square: both
    # stay under 0.1 %.
    half2 = max(lamp.half_width, lamp.half_height) ** 2
    for i in range(len(points)):
        p, n = at_row(points, i), at_row(normals, i)
        away = minus(p, centre)
        away2 = dot(away, away)
        own = far if away2 > 900 * half2 else middle if away2 > 4 * half2 else near
        total, red, green, blue = 0.0, 0.0, 0.0, 0.0
        for q in range(len(own)):
            ray, _, share, s = _toward(lamp, own[q, 0], own[q, 1], p)
            cosine = dot(n, ray)
            if cosine <= 0:
                continue
            e = (
                _intensity(lamp, scaled(ray, -1.0))
                * cosine
                * share
                * own[q, 2]
                * _brightness(lamp, s)
            )
            total += e
            if row[i] >= 0:
                hair = row[i], ways, once, twice
                r, g, b = strand_gloss(hair, n, at_row(toward, i), ray)
                red, green, blue = red + e * r, green + e * g, blue + e * b
            elif shiny[i]:
                shine = e * returned(gloss, i, n, at_row(toward, i), ray)
                red, green, blue = red + shine, green + shine, blue + shine
        diffuse[i] = total
        sheen[i, 0], sheen[i, 1], sheen[i, 2] = red, green, blue


OFF_SURFACE = 5e-4
"""Start of rays above a surface [m]. Three times as much lets light over the edge of shade about a
nose: 4 % of a frame in a black room.
"""


@njit(inline="always")
def _to_face(lamp, u, v, p, n):
    """From a place to one of the face: unit direction, distance [m], and the light it would bring
    (any unit).
    """
    ray, far, share, s = _toward(lamp, u - math.floor(u), v - math.floor(v), p)
    weight = (
        max(dot(n, ray), 0.0) * share * _intensity(lamp, scaled(ray, -1.0)) * _brightness(lamp, s)
    )
    return ray, far * 0.9999, weight


@njit(**_FAST)
def shadow_rays(spots, chosen, lamp, first, count, rays):
    """Rays from chosen spots to samples `first`..`first + count` of a progressive sequence over
    the face; fills n * count rays.
    """
    _, normals, seeds, _ = spots
    origins, directions, distances, weights = rays
    for k in range(len(chosen)):
        i = chosen[k]
        n = at_row(normals, i)
        su, sv = shifts(seeds[i])
        for j in range(count):
            p = _in_pixel(spots, i, first + j)
            ray, far, weight = _to_face(
                lamp, su + (first + j) * R2_U, sv + (first + j) * R2_V, p, n
            )
            at = k * count + j
            put(origins, at, p)
            put(directions, at, ray)
            distances[at], weights[at] = far, weight


@njit(**_FAST)
def rays_to(points, normals, count, stride, lamp, rays):
    """One ray from each place to one of the face: each `count` places in a row go to as many that
    fill the face evenly.

    In another order than the places, which follow the same sequence: stride has no divisor in
    common with count.
    """
    origins, directions, distances, weights = rays
    for at in range(len(points)):
        n, p = at_row(normals, at), off_surface(points, normals, at)
        su, sv = shifts(at // count)
        j = stride * (at % count) % count
        ray, far, weight = _to_face(lamp, su + j * R2_U, sv + j * R2_V, p, n)
        put(origins, at, p)
        put(directions, at, ray)
        distances[at], weights[at] = far, weight


@njit(**_FAST)
def fold(chosen, count, visible, weights, seen):
    """Add the samples of each chosen point to what it got and what it could have got."""
    lit, total = seen
    for k in range(len(chosen)):
        a, b = 0.0, 0.0
        for j in range(count):
            w = weights[k * count + j]
            b += w
            a += w * visible[k * count + j]
        lit[chosen[k]] += a
        total[chosen[k]] += b


@njit(**_FAST)
def see_face(obstacles, spots, chosen, lamp, samples, seen):
    """Shadow rays of chosen spots, cast and folded at once: what :func:`shadow_rays` and
    :func:`fold` do, without the arrays between.

    samples: (first, count) of the sequence.
    """
    first, count = samples
    _, normals, seeds, _ = spots
    scene, cloths, extinction = obstacles
    lit, total = seen
    hung = len(cloths.straight) > 0
    packet = new_packet()
    owner, light = np.empty(WIDTH, np.int64), np.empty(WIDTH)
    filled = 0
    for k in range(len(chosen)):
        i = chosen[k]
        n = at_row(normals, i)
        su, sv = shifts(seeds[i])
        for j in range(count):
            p = _in_pixel(spots, i, first + j)
            ray, far, weight = _to_face(
                lamp, su + (first + j) * R2_U, sv + (first + j) * R2_V, p, n
            )
            if weight > 0:
                put_ray(packet, filled, p, ray, far)
                owner[filled], light[filled] = i, weight
                total[i] += weight
                filled += 1
            if filled == WIDTH or (filled and k == len(chosen) - 1 and j == count - 1):
                cast_occluded(scene, packet)
                for r in range(filled):
                    if is_clear(packet, r):
                        past = 1.0
                        if hung or extinction > 0:
                            q, d, reach = ray_of(packet, r)
                            past = past_cloth(q, d, reach, cloths) * left_by_air(extinction, reach)
                        lit[owner[r]] += light[r] * past
                packet.counted[:] = 0
                filled = 0


@njit(**_FAST)
def ranges(candidates, pixel, part, low, high):
    """Lowest and highest part of the lamp that is seen from the points of each pixel; writes into
    (width * height,).
    """
    low[:], high[:] = 2, -1
    for i in candidates:
        own, at = np.float32(part[i]), pixel[i]
        low[at], high[at] = min(low[at], own), max(high[at], own)


ALIKE_SHADE, ALIKE_LUCK = 0.12, 0.4
"""Differences in the part of a lamp that is seen, over which neighbours count as another depth of
shade: where it truly varies, and where luck may tell them apart.
"""


@njit(inline="always")
def _one_surface(i, j, points, normals, depth):
    """Whether two shading points lie side by side on one smooth surface."""
    same, off = 0.0, 0.0
    for c in range(3):
        same += normals[i, c] * normals[j, c]
        off += normals[i, c] * (points[j, c] - points[i, c])
    return same > 0.98 and abs(off) < 0.01 * depth[i]


@njit(**_FAST)
def mean_part(chosen, grid, own, part):
    """Writes the part of the lamp that chosen points and their eight neighbours on the same surface
    see on the whole.

    own: (n,) what each sees by its own samples, -1 where that is not known.
    """
    points, normals, depth, pixel, single, width, height = grid
    for i in chosen:
        x0, y0 = pixel[i] % width, pixel[i] // width
        s, n = 0.0, 0
        for y in range(max(y0 - 1, 0), min(y0 + 2, height)):
            for x in range(max(x0 - 1, 0), min(x0 + 2, width)):
                j = single[y * width + x]
                if j >= 0 and own[j] >= 0 and _one_surface(i, j, points, normals, depth):
                    s, n = s + own[j], n + 1
        if n:
            part[i] = s / n


@njit(**_FAST)
def share(chosen, grid, reach, part, seen, out):
    """Sums of lit and total over neighbours on the same surface that are about as deep in the
    shade: writes (k, 2).

    part: (n,) as by :func:`mean_part`: one point's own samples would tell luck from depth too
    seldom.
    """
    points, normals, depth, pixel, single, width, height = grid
    lit, total = seen.lit, seen.total
    for k in range(len(chosen)):
        i = chosen[k]
        x0, y0 = pixel[i] % width, pixel[i] // width
        a, b = 0.0, 0.0
        # Of luck alone, means of nine vary by a ninth of what single points do: more than twice
        # that is shade of another depth.
        n, mean, square, alone, alone_square = 0, 0.0, 0.0, 0.0, 0.0
        for y in range(max(y0 - reach, 0), min(y0 + reach + 1, height)):
            for x in range(max(x0 - reach, 0), min(x0 + reach + 1, width)):
                j = single[y * width + x]
                if j >= 0 and total[j] > 0:
                    own = lit[j] / total[j]
                    n, mean, square = n + 1, mean + part[j], square + part[j] * part[j]
                    alone, alone_square = alone + own, alone_square + own * own
        varies = (square - mean * mean / n) > 2 / 9 * (alone_square - alone * alone / n)
        alike = ALIKE_SHADE if varies else ALIKE_LUCK
        for y in range(max(y0 - reach, 0), min(y0 + reach + 1, height)):
            for x in range(max(x0 - reach, 0), min(x0 + reach + 1, width)):
                j = single[y * width + x]
                if j < 0 or total[j] <= 0:
                    continue
                apart = (part[j] - part[i]) / alike
                if abs(apart) < 3 and _one_surface(i, j, points, normals, depth):
                    w = (
                        math.exp(-apart * apart)
                        / (1 + 0.1 * ((x - x0) ** 2 + (y - y0) ** 2))
                        * total[i]
                        / total[j]
                    )
                    a += w * lit[j]
                    b += w * total[j]
        out[k, 0], out[k, 1] = a, b


@njit(**_FAST)
def receive_nodes(position, direction, dome, lamp, nodes, rays):
    """Light of each node of the face on a meter: rays whose weights are its light [lx]."""
    origins, directions, distances, weights = rays
    p, facing = (position[0], position[1], position[2]), (direction[0], direction[1], direction[2])
    for q in range(len(nodes)):
        ray, far, share, s = _toward(lamp, nodes[q, 0], nodes[q, 1], p)
        cosine = dot(ray, facing)
        # A half ball on its base plate: the plate hides all that comes from behind.
        response = 0.0 if cosine <= 0 else 0.5 * (1 + cosine) if dome else cosine
        value = (
            _intensity(lamp, scaled(ray, -1.0))
            * share
            * response
            * nodes[q, 2]
            * _brightness(lamp, s)
        )
        put(origins, q, p)
        put(directions, q, ray)
        distances[q], weights[q] = 0.9999 * far, value


@njit(**_FAST)
def mirror_hits(points, normals, toward, lamp, rays):
    """Where the mirrored view from each point meets the lit face: rays whose weights are its
    luminance [cd/m^2], 0 for a miss.
    """
    origins, directions, distances, weights = rays
    for i in range(len(points)):
        p, n, v = at_row(points, i), at_row(normals, i), at_row(toward, i)
        nv = dot(n, v)
        d = (2 * nv * n[0] - v[0], 2 * nv * n[1] - v[1], 2 * nv * n[2] - v[2])
        luminance, far = face_radiance(lamp, p, d)
        put(origins, i, off_surface(points, normals, i))
        put(directions, i, d)
        distances[i], weights[i] = far, luminance


@njit(inline="always")
def face_radiance(lamp, p, d):
    """Luminance [cd/m^2] and distance [m] of the lit face along a ray; (0, 0) for a miss."""
    half_w, half_h = max(lamp.half_width, 0.005), max(lamp.half_height, 0.005)
    c = (lamp.centre[0] - p[0], lamp.centre[1] - p[1], lamp.centre[2] - p[2])
    if lamp.kind == DISTANT:
        cosine = -dot(d, lamp.forward)
        if cosine <= 0 or 1 / (cosine * cosine) - 1 > lamp.half_width * lamp.half_width:
            return 0.0, 0.0
        return _intensity(lamp, scaled(d, -1.0)) / lamp.area, FAR
    if lamp.kind == BALL:
        along = dot(c, d)
        off = dot(c, c) - along * along
        if along <= 0 or off > half_w * half_w:
            return 0.0, 0.0
        return _intensity(lamp, scaled(d, -1.0)) / lamp.area, along - math.sqrt(
            half_w * half_w - off
        )
    slant = dot(d, lamp.forward)
    if slant > -1e-4:
        return 0.0, 0.0
    t = dot(c, lamp.forward) / slant
    if t <= 0:
        return 0.0, 0.0
    hit = (t * d[0] - c[0], t * d[1] - c[1], t * d[2] - c[2])
    a, b = dot(hit, lamp.right) / half_w, dot(hit, lamp.up) / half_h
    inside = abs(a) <= 1 and abs(b) <= 1 if lamp.kind == RECTANGLE else a * a + b * b <= 1
    if not inside:
        return 0.0, 0.0
    return _intensity(lamp, scaled(d, -1.0)) / (lamp.area * -slant), t


@njit(**_FAST)
def face_along(origin, directions, lamp, radiance, distances):
    """Luminance and distance of the lit face along rays from one place; see face_radiance."""
    p = (origin[0], origin[1], origin[2])
    for i in range(len(directions)):
        radiance[i], distances[i] = face_radiance(lamp, p, at_row(directions, i))


@njit(**_FAST)
def face_rays(points, directions, lamp, radiance, distances):
    """Luminance [cd/m^2] of the lit face along one ray from each point, 0 for a miss, and its
    distance [m].
    """
    for i in range(len(points)):
        p, d = at_row(points, i), at_row(directions, i)
        radiance[i], distances[i] = face_radiance(lamp, p, d)
        if radiance[i] > 0:
            t = distances[i]
            radiance[i] *= _brightness(lamp, (p[0] + t * d[0], p[1] + t * d[1], p[2] + t * d[2]))


@njit(**_FAST)
def gather(pixel, weight, albedo, tint, light, image):
    """Sum shading points into the picture: image (h * w, 3) [cd/m^2].

    tint: (n,) power of the albedo that the sheen takes; light: diffuse light (n, 3) [lx] and sheen
    (n, 3) [cd/m^2].
    """
    diffuse, sheen = light
    for i in range(len(pixel)):
        p = pixel[i]
        for c in range(3):
            s = sheen[i, c] * albedo[i, c] ** tint[i] if tint[i] > 0 else sheen[i, c]
            image[p, c] += weight[i] * (albedo[i, c] * diffuse[i, c] / math.pi + s)


@njit(**_FAST)
def mirrored_legs(origins, directions, distances, pane, legs):
    """A ray to a lamp's image behind a mirror: where it meets the glass, the way on, and both
    lengths.
    """
    hits, turned, first, rest = legs
    for i in range(len(distances)):
        first[i], rest[i] = -1.0, 0.0
        p, d = at_row(origins, i), at_row(directions, i)
        put(hits, i, p)
        put(turned, i, d)
        slant = dot(d, pane.normal)
        if abs(slant) < 1e-9:
            continue
        c = (pane.centre[0] - p[0], pane.centre[1] - p[1], pane.centre[2] - p[2])
        t = dot(c, pane.normal) / slant
        if t <= 1e-4 or t >= distances[i]:
            continue
        hit = (t * d[0] - c[0], t * d[1] - c[1], t * d[2] - c[2])
        if abs(dot(hit, pane.right)) > pane.half[0] or abs(dot(hit, pane.up)) > pane.half[1]:
            continue
        first[i], rest[i] = t - 1e-3, distances[i] - t
        for k in range(3):
            turned[i, k] = d[k] - 2 * slant * pane.normal[k]
            hits[i, k] = p[k] + t * d[k] + 1e-3 * turned[i, k]
