"""The inner loops, compiled. Plain numbers in and out; each releases the interpreter lock."""

import math
from typing import Any

import numpy as np
from numba import njit

from ..engine.sampling import R2_U, R2_V, shifts
from ..world.embree import WIDTH, cast_occluded, is_clear, new_packet, put_ray
from ..world.geometry import past_cloth

# Frame layout, see Emitter.frame: 0 kind, 1-3 centre, 4-6 right, 7-9 up, 10-12 forward, 13-14 half
# sizes.
_FAST: dict[str, Any] = {"nogil": True, "cache": True, "fastmath": True, "error_model": "numpy"}


@njit(inline="always")
def _intensity(frame, table, dx, dy, dz):
    """Candela toward a unit direction."""
    forward = dx * frame[10] + dy * frame[11] + dz * frame[12]
    # The table is even in sin(angle / 2) = sqrt((1 - cos) / 2).
    at = math.sqrt(max(0.0, 0.5 - 0.5 * forward)) * (table.shape[1] - 1)
    low = min(int(at), table.shape[1] - 2)
    part = at - low
    if table.shape[0] == 1:
        return table[0, low] * (1 - part) + table[0, low + 1] * part
    right = dx * frame[4] + dy * frame[5] + dz * frame[6]
    up = dx * frame[7] + dy * frame[8] + dz * frame[9]
    turn = math.atan2(up, right) * ((table.shape[0] - 1) / (2 * math.pi))
    if turn < 0:
        turn += table.shape[0] - 1
    row = min(int(turn), table.shape[0] - 2)
    tpart = turn - row
    a = table[row, low] * (1 - part) + table[row, low + 1] * part
    b = table[row + 1, low] * (1 - part) + table[row + 1, low + 1] * part
    return a * (1 - tpart) + b * tpart


@njit(inline="always")
def _on_face(frame, u, v, px, py, pz):
    """Place on the lit face for u, v in 0..1; a ball shows a disc turned to the receiver."""
    kind = int(frame[0])
    if kind == 0:
        return frame[1], frame[2], frame[3]
    a, b = (2 * u - 1) * frame[13], (2 * v - 1) * frame[14]
    rx, ry, rz, ux, uy, uz = frame[4], frame[5], frame[6], frame[7], frame[8], frame[9]
    if kind != 2:
        radius, turn = math.sqrt(u), 2 * math.pi * v
        a, b = radius * math.cos(turn) * frame[13], radius * math.sin(turn) * frame[14]
    if kind == 3:
        fx, fy, fz = px - frame[1], py - frame[2], pz - frame[3]
        flat = math.sqrt(fx * fx + fy * fy)
        if flat > 1e-9:
            n = 1 / math.sqrt(flat * flat + fz * fz)
            rx, ry, rz = fy / flat, -fx / flat, 0.0
            ux, uy, uz = -fx * fz / flat * n, -fy * fz / flat * n, flat * n
    return frame[1] + a * rx + b * ux, frame[2] + a * ry + b * uy, frame[3] + a * rz + b * uz


@njit(inline="always")
def _brightness(frame, face, sx, sy, sz):
    """Brightness of a place of the face against its mean."""
    k = face.shape[0]
    if k == 1:
        return 1.0
    x, y, z = sx - frame[1], sy - frame[2], sz - frame[3]
    a = ((x * frame[4] + y * frame[5] + z * frame[6]) / max(frame[13], 1e-6) + 1) / 2 * k
    b = ((x * frame[7] + y * frame[8] + z * frame[9]) / max(frame[14], 1e-6) + 1) / 2 * k
    return face[min(max(int(a), 0), k - 1), min(max(int(b), 0), k - 1)]


@njit(inline="always")
def _ggx(nx, ny, nz, vx, vy, vz, lx, ly, lz, alpha, f0):
    """Microfacet reflectance [1/sr] times nothing: GGX, height-correlated Smith, Schlick
    Fresnel.
    """
    hx, hy, hz = vx + lx, vy + ly, vz + lz
    length = math.sqrt(hx * hx + hy * hy + hz * hz)
    if length < 1e-9:
        return 0.0
    hx, hy, hz = hx / length, hy / length, hz / length
    nh, nl = nx * hx + ny * hy + nz * hz, nx * lx + ny * ly + nz * lz
    nv = max(nx * vx + ny * vy + nz * vz, 1e-3)
    if nl <= 0 or nh <= 0:
        return 0.0
    a2 = alpha * alpha
    d = a2 / (math.pi * (nh * nh * (a2 - 1) + 1) ** 2)
    g = 0.5 / (nl * math.sqrt(nv * nv * (1 - a2) + a2) + nv * math.sqrt(nl * nl * (1 - a2) + a2))
    fresnel = f0 + (1 - f0) * (1 - (vx * hx + vy * hy + vz * hz)) ** 5
    return d * g * fresnel


@njit(**_FAST)
def unshadowed(
    points,
    normals,
    toward,
    finish,
    roughness,
    normal_reflectance,
    frame,
    table,
    face,
    near,
    middle,
    far,
    diffuse,
    sheen,
):
    """Irradiance and sheen without shadows, by quadrature over the lit face.

    points, normals, toward (the eye): (n, 3) [m, 1, 1]; finish: (n,) index into roughness and
    normal_reflectance; near, middle, far: (q, 3) nodes u, v, weight; writes diffuse (n,) [lx] and
    sheen (n,) [cd/m^2].
    """
    # Two-point Gauss errs by about (half width / distance)^4 / 135, one point by its square: both
    # stay under 0.1 %.
    half2 = max(frame[13], frame[14]) ** 2
    for i in range(len(points)):
        px, py, pz = points[i, 0], points[i, 1], points[i, 2]
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        alpha, f0 = roughness[finish[i]], normal_reflectance[finish[i]]
        away = (px - frame[1]) ** 2 + (py - frame[2]) ** 2 + (pz - frame[3]) ** 2
        nodes = far if away > 900 * half2 else middle if away > 4 * half2 else near
        total, shine = 0.0, 0.0
        for q in range(len(nodes)):
            sx, sy, sz = _on_face(frame, nodes[q, 0], nodes[q, 1], px, py, pz)
            lx, ly, lz = sx - px, sy - py, sz - pz
            d2 = lx * lx + ly * ly + lz * lz
            inv = 1 / math.sqrt(max(d2, 1e-8))
            lx, ly, lz = lx * inv, ly * inv, lz * inv
            cosine = nx * lx + ny * ly + nz * lz
            if cosine <= 0:
                continue
            e = (
                _intensity(frame, table, -lx, -ly, -lz)
                * cosine
                * inv
                * inv
                * nodes[q, 2]
                * _brightness(frame, face, sx, sy, sz)
            )
            total += e
            if f0 > 0 and alpha > 0:
                shine += e * _ggx(
                    nx, ny, nz, toward[i, 0], toward[i, 1], toward[i, 2], lx, ly, lz, alpha, f0
                )
        diffuse[i] = total
        sheen[i] = shine


OFF_SURFACE = 5e-4
"""Start of rays above a surface [m]. Three times as much lets light over the edge of shade about a
nose: 4 % of a frame in a black room.
"""


@njit(inline="always")
def _to_face(frame, table, face, u, v, px, py, pz, nx, ny, nz):
    """From a place to one of the face: unit direction, distance [m], and the light it would bring
    (any unit).
    """
    sx, sy, sz = _on_face(frame, u - math.floor(u), v - math.floor(v), px, py, pz)
    lx, ly, lz = sx - px, sy - py, sz - pz
    d = math.sqrt(lx * lx + ly * ly + lz * lz)
    inv = 1 / max(d, 1e-6)
    lx, ly, lz = lx * inv, ly * inv, lz * inv
    weight = (
        max(nx * lx + ny * ly + nz * lz, 0.0)
        * inv
        * inv
        * _intensity(frame, table, -lx, -ly, -lz)
        * _brightness(frame, face, sx, sy, sz)
    )
    return lx, ly, lz, d * 0.9999, weight


@njit(**_FAST)
def shadow_rays(
    points,
    normals,
    chosen,
    seeds,
    frame,
    table,
    face,
    first,
    count,
    origins,
    directions,
    distances,
    weights,
):
    """Rays from chosen points to samples `first`..`first + count` of a progressive sequence over
    the face.

    Writes (n * count, 3) float32 origins and directions, (n * count,) distances and weights
    (the light each sample would bring, any unit).
    """
    for k in range(len(chosen)):
        i = chosen[k]
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        px, py, pz = (
            points[i, 0] + OFF_SURFACE * nx,
            points[i, 1] + OFF_SURFACE * ny,
            points[i, 2] + OFF_SURFACE * nz,
        )
        su, sv = shifts(seeds[i])
        for j in range(count):
            at = k * count + j
            lx, ly, lz, far, weight = _to_face(
                frame,
                table,
                face,
                su + (first + j) * R2_U,
                sv + (first + j) * R2_V,
                px,
                py,
                pz,
                nx,
                ny,
                nz,
            )
            origins[at, 0], origins[at, 1], origins[at, 2] = px, py, pz
            directions[at, 0], directions[at, 1], directions[at, 2] = lx, ly, lz
            distances[at], weights[at] = far, weight


@njit(**_FAST)
def rays_to(
    points, normals, count, stride, frame, table, face, origins, directions, distances, weights
):
    """One ray from each place to one of the face: each `count` places in a row go to as many that
    fill the face evenly.

    In another order than the places, which follow the same sequence: stride has no divisor in
    common with count.
    """
    for at in range(len(points)):
        nx, ny, nz = normals[at, 0], normals[at, 1], normals[at, 2]
        px, py, pz = (
            points[at, 0] + OFF_SURFACE * nx,
            points[at, 1] + OFF_SURFACE * ny,
            points[at, 2] + OFF_SURFACE * nz,
        )
        su, sv = shifts(at // count)
        j = stride * (at % count) % count
        lx, ly, lz, far, weight = _to_face(
            frame, table, face, su + j * R2_U, sv + j * R2_V, px, py, pz, nx, ny, nz
        )
        origins[at, 0], origins[at, 1], origins[at, 2] = px, py, pz
        directions[at, 0], directions[at, 1], directions[at, 2] = lx, ly, lz
        distances[at], weights[at] = far, weight


@njit(**_FAST)
def fold(chosen, count, visible, weights, lit, total):
    """Add the samples of each chosen point to what it got and what it could have got."""
    for k in range(len(chosen)):
        a, b = 0.0, 0.0
        for j in range(count):
            w = weights[k * count + j]
            b += w
            a += w * visible[k * count + j]
        lit[chosen[k]] += a
        total[chosen[k]] += b


@njit(inline="always")
def _past(numbers, r, cloths):
    """Straight share of the cloths that the r-th ray of a packet crosses."""
    w = WIDTH
    return past_cloth(
        numbers[r],
        numbers[w + r],
        numbers[2 * w + r],
        numbers[4 * w + r],
        numbers[5 * w + r],
        numbers[6 * w + r],
        numbers[8 * w + r],
        cloths,
    )


@njit(**_FAST)
def see_face(
    scene, cloths, points, normals, chosen, seeds, frame, table, face, first, count, lit, total
):
    """Shadow rays of chosen points, cast and folded at once: what :func:`shadow_rays` and
    :func:`fold` do, without the arrays between.

    scene: addresses of what stands in the way (moth.world.embree.Triangles.together); cloths: (c,
    16) that let light through.
    """
    numbers, whole, counted = new_packet()
    owner, light = np.empty(WIDTH, np.int64), np.empty(WIDTH)
    filled = 0
    for k in range(len(chosen)):
        i = chosen[k]
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        px, py, pz = (
            points[i, 0] + OFF_SURFACE * nx,
            points[i, 1] + OFF_SURFACE * ny,
            points[i, 2] + OFF_SURFACE * nz,
        )
        su, sv = shifts(seeds[i])
        for j in range(count):
            lx, ly, lz, far, weight = _to_face(
                frame,
                table,
                face,
                su + (first + j) * R2_U,
                sv + (first + j) * R2_V,
                px,
                py,
                pz,
                nx,
                ny,
                nz,
            )
            if weight > 0:
                put_ray(numbers, whole, counted, filled, px, py, pz, lx, ly, lz, far)
                owner[filled], light[filled] = i, weight
                total[i] += weight
                filled += 1
            if filled == WIDTH or (filled and k == len(chosen) - 1 and j == count - 1):
                cast_occluded(scene, numbers, counted)
                for r in range(filled):
                    if is_clear(whole, r):
                        lit[owner[r]] += light[r] * _past(numbers, r, cloths)
                counted[:] = 0
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
    dot, off = 0.0, 0.0
    for c in range(3):
        dot += normals[i, c] * normals[j, c]
        off += normals[i, c] * (points[j, c] - points[i, c])
    return dot > 0.98 and abs(off) < 0.01 * depth[i]


@njit(**_FAST)
def mean_part(chosen, pixel, point, points, normals, depth, width, height, own, part):
    """Writes the part of the lamp that chosen points and their eight neighbours on the same surface
    see on the whole.

    own: (n,) what each sees by its own samples, -1 where that is not known; point: (width *
    height,) the one shading point of each pixel, -1 where there are more.
    """
    for i in chosen:
        x0, y0 = pixel[i] % width, pixel[i] // width
        s, n = 0.0, 0
        for y in range(max(y0 - 1, 0), min(y0 + 2, height)):
            for x in range(max(x0 - 1, 0), min(x0 + 2, width)):
                j = point[y * width + x]
                if j >= 0 and own[j] >= 0 and _one_surface(i, j, points, normals, depth):
                    s, n = s + own[j], n + 1
        if n:
            part[i] = s / n


@njit(**_FAST)
def share(
    chosen, pixel, point, points, normals, depth, width, height, reach, part, lit, total, out
):
    """Sums of lit and total over neighbours on the same surface that are about as deep in the
    shade: writes (k, 2).

    part: (n,) as by :func:`mean_part`: one point's own samples would tell luck from depth too
    seldom.
    """
    for k in range(len(chosen)):
        i = chosen[k]
        x0, y0 = pixel[i] % width, pixel[i] // width
        a, b = 0.0, 0.0
        # Of luck alone, means of nine vary by a ninth of what single points do: more than twice
        # that is shade of another depth.
        n, mean, square, alone, alone_square = 0, 0.0, 0.0, 0.0, 0.0
        for y in range(max(y0 - reach, 0), min(y0 + reach + 1, height)):
            for x in range(max(x0 - reach, 0), min(x0 + reach + 1, width)):
                j = point[y * width + x]
                if j >= 0 and total[j] > 0:
                    own = lit[j] / total[j]
                    n, mean, square = n + 1, mean + part[j], square + part[j] * part[j]
                    alone, alone_square = alone + own, alone_square + own * own
        varies = (square - mean * mean / n) > 2 / 9 * (alone_square - alone * alone / n)
        alike = ALIKE_SHADE if varies else ALIKE_LUCK
        for y in range(max(y0 - reach, 0), min(y0 + reach + 1, height)):
            for x in range(max(x0 - reach, 0), min(x0 + reach + 1, width)):
                j = point[y * width + x]
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
def receive_nodes(
    position, direction, dome, frame, table, face, nodes, directions, distances, values
):
    """Light of each node of the face on a meter: writes unit directions, distances [m], values
    [lx].
    """
    px, py, pz = position[0], position[1], position[2]
    for q in range(len(nodes)):
        sx, sy, sz = _on_face(frame, nodes[q, 0], nodes[q, 1], px, py, pz)
        lx, ly, lz = sx - px, sy - py, sz - pz
        d2 = max(lx * lx + ly * ly + lz * lz, 1e-8)
        inv = 1 / math.sqrt(d2)
        lx, ly, lz = lx * inv, ly * inv, lz * inv
        cosine = lx * direction[0] + ly * direction[1] + lz * direction[2]
        # A half ball on its base plate: the plate hides all that comes from behind.
        response = 0.0 if cosine <= 0 else 0.5 * (1 + cosine) if dome else cosine
        directions[q, 0], directions[q, 1], directions[q, 2] = lx, ly, lz
        distances[q] = 0.9999 / inv
        values[q] = (
            _intensity(frame, table, -lx, -ly, -lz)
            / d2
            * response
            * nodes[q, 2]
            * _brightness(frame, face, sx, sy, sz)
        )


@njit(**_FAST)
def mirror_hits(points, normals, toward, frame, table, area, directions, distances, radiance):
    """Where the mirrored view from each point meets the lit face: its luminance [cd/m^2], 0 for a
    miss.
    """
    half_w, half_h = max(frame[13], 0.005), max(frame[14], 0.005)
    for i in range(len(points)):
        nv = (
            normals[i, 0] * toward[i, 0]
            + normals[i, 1] * toward[i, 1]
            + normals[i, 2] * toward[i, 2]
        )
        dx = 2 * nv * normals[i, 0] - toward[i, 0]
        dy = 2 * nv * normals[i, 1] - toward[i, 1]
        dz = 2 * nv * normals[i, 2] - toward[i, 2]
        directions[i, 0], directions[i, 1], directions[i, 2] = dx, dy, dz
        distances[i] = 0.0
        radiance[i] = 0.0
        radiance[i], distances[i] = face_radiance(
            points[i, 0], points[i, 1], points[i, 2], dx, dy, dz, frame, table, area, half_w, half_h
        )


@njit(inline="always")
def face_radiance(px, py, pz, dx, dy, dz, frame, table, area, half_w, half_h):
    """Luminance [cd/m^2] and distance [m] of the lit face along a ray; (0, 0) for a miss."""
    cx, cy, cz = frame[1] - px, frame[2] - py, frame[3] - pz
    kind = int(frame[0])
    if kind == 3:
        along = cx * dx + cy * dy + cz * dz
        off = cx * cx + cy * cy + cz * cz - along * along
        if along <= 0 or off > half_w * half_w:
            return 0.0, 0.0
        return _intensity(frame, table, -dx, -dy, -dz) / area, along - math.sqrt(
            half_w * half_w - off
        )
    slant = dx * frame[10] + dy * frame[11] + dz * frame[12]
    if slant > -1e-4:
        return 0.0, 0.0
    t = (cx * frame[10] + cy * frame[11] + cz * frame[12]) / slant
    if t <= 0:
        return 0.0, 0.0
    hx, hy, hz = t * dx - cx, t * dy - cy, t * dz - cz
    a = (hx * frame[4] + hy * frame[5] + hz * frame[6]) / half_w
    b = (hx * frame[7] + hy * frame[8] + hz * frame[9]) / half_h
    inside = abs(a) <= 1 and abs(b) <= 1 if kind == 2 else a * a + b * b <= 1
    if not inside:
        return 0.0, 0.0
    return _intensity(frame, table, -dx, -dy, -dz) / (area * -slant), t


@njit(**_FAST)
def face_along(origin, rays, frame, table, area, radiance, distance):
    """Luminance and distance of the lit face along rays from one place; see face_radiance."""
    half_w, half_h = max(frame[13], 0.005), max(frame[14], 0.005)
    for i in range(len(rays)):
        radiance[i], distance[i] = face_radiance(
            origin[0],
            origin[1],
            origin[2],
            rays[i, 0],
            rays[i, 1],
            rays[i, 2],
            frame,
            table,
            area,
            half_w,
            half_h,
        )


@njit(**_FAST)
def face_rays(points, directions, frame, table, face, area, radiance, distances):
    """Luminance [cd/m^2] of the lit face along one ray from each point, 0 for a miss, and its
    distance [m].
    """
    half_w, half_h = max(frame[13], 0.005), max(frame[14], 0.005)
    for i in range(len(points)):
        px, py, pz, dx, dy, dz = (
            points[i, 0],
            points[i, 1],
            points[i, 2],
            directions[i, 0],
            directions[i, 1],
            directions[i, 2],
        )
        radiance[i], distances[i] = face_radiance(
            px, py, pz, dx, dy, dz, frame, table, area, half_w, half_h
        )
        if radiance[i] > 0:
            t = distances[i]
            radiance[i] *= _brightness(frame, face, px + t * dx, py + t * dy, pz + t * dz)


@njit(**_FAST)
def gather(pixel, weight, albedo, tinted, diffuse, sheen, image):
    """Sum shading points into the picture: image (h * w, 3) [cd/m^2] of diffuse light (n, 3) [lx]
    and sheen (n, 3) [cd/m^2].
    """
    for i in range(len(pixel)):
        p = pixel[i]
        for c in range(3):
            s = sheen[i, c] * albedo[i, c] if tinted[i] else sheen[i, c]
            image[p, c] += weight[i] * (albedo[i, c] * diffuse[i, c] / math.pi + s)


@njit(**_FAST)
def mirrored_legs(origins, directions, distances, via, hits, turned, first, rest):
    """A ray to a lamp's image behind a mirror: where it meets the glass, the way on, and both
    lengths.

    `via` is a sheet's row. first is -1 for rays that miss the glass.
    """
    for i in range(len(distances)):
        first[i], rest[i] = -1.0, 0.0
        for c in range(3):
            hits[i, c], turned[i, c] = origins[i, c], directions[i, c]
        slant = directions[i, 0] * via[9] + directions[i, 1] * via[10] + directions[i, 2] * via[11]
        if abs(slant) < 1e-9:
            continue
        x, y, z = via[0] - origins[i, 0], via[1] - origins[i, 1], via[2] - origins[i, 2]
        t = (x * via[9] + y * via[10] + z * via[11]) / slant
        if t <= 1e-4 or t >= distances[i]:
            continue
        x, y, z = t * directions[i, 0] - x, t * directions[i, 1] - y, t * directions[i, 2] - z
        if (
            abs(x * via[3] + y * via[4] + z * via[5]) > via[12]
            or abs(x * via[6] + y * via[7] + z * via[8]) > via[13]
        ):
            continue
        first[i], rest[i] = t - 1e-3, distances[i] - t
        for c in range(3):
            turned[i, c] = directions[i, c] - 2 * slant * via[9 + c]
            hits[i, c] = origins[i, c] + t * directions[i, c] + 1e-3 * turned[i, c]
