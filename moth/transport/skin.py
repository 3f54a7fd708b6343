"""Skin that light gets under: what falls on it comes out again beside, red farther than blue.

The terminator and small shadows of a face are soft and warm by this even under a hard lamp. The
profile is Christensen and Burley's ("Approximate reflectance profiles for efficient subsurface
scattering", 2015), its lengths those of skin measured by Jensen et al. ("A practical model for
subsurface light transport", 2001). It is gathered over the picture: what the lens does not see
sends nothing.
"""

import math

import numpy as np
from numba import njit

from ..engine.cores import shared_out, tiles
from ..engine.sampling import GOLDEN
from ..materials import FINISHES

PATHS = np.array([3.67e-3, 1.37e-3, 0.68e-3])
"""Mean free paths of diffusion in skin for red, green, blue [m]; Jensen et al., table 1, skin1."""
COARSE = 4e-3
"""Pixels wider than this on the skin [m] show nothing of it."""
TAPS = 90
"""Places looked at about each; where and how far follows the three profiles."""
_SKIN = next(i for i, f in enumerate(FINISHES) if f.name == "skin")


def profile_lengths(albedo):
    """Burley's d [m] of red, green and blue, by the mean albedo of the skin.

    Parameters
    ----------
    albedo : ndarray, shape (3,)

    Returns
    -------
    ndarray, shape (3,)

    Examples
    --------
    >>> bool((np.diff(profile_lengths(np.array([0.4, 0.25, 0.18]))) < 0).all())
    True
    """
    return PATHS / (3.5 + 100 * (np.asarray(albedo) - 0.33) ** 4)


def profile(radius, d):
    """What comes out at a distance [m] of where it fell in, of all of it [1/m^2].

    Examples
    --------
    >>> bool(profile(1e-3, 1e-3) > profile(2e-3, 1e-3) > 0)
    True
    """
    return (np.exp(-radius / d) + np.exp(-radius / (3 * d))) / (8 * np.pi * d * radius)


def within(radius, d):
    """Share of the light that comes out within a distance [m] of where it fell in.

    Examples
    --------
    >>> round(float(within(1.0, 1e-3)), 6), float(within(0.0, 1e-3))
    (1.0, 0.0)
    """
    return 1 - 0.25 * np.exp(-radius / d) - 0.75 * np.exp(-radius / (3 * d))


def _taps(lengths):
    """Places about one (t, 2) [m] and their density (t,) [1/m^2], by the mean of the profiles."""
    radius = np.concatenate([[0], np.geomspace(1e-6, 30 * lengths.max(), 2000)])
    inside = np.mean([within(radius, d) for d in lengths], axis=0)
    # In pairs across: what one side gets the other has given.
    k = np.arange(TAPS // 2) + 0.5
    r = np.interp(k / (TAPS // 2) * inside[-1], inside, radius)
    turn = 2 * np.pi * GOLDEN * k
    density = np.mean([profile(r, d) for d in lengths], axis=0)
    half = np.stack([r * np.cos(turn), r * np.sin(turn)], 1)
    return np.concatenate([half, -half]), np.concatenate([density, density])


def under_skin(view, light):
    """Light on a picture's points after it has spread under the skin.

    Parameters
    ----------
    view : View
    light : ndarray, shape (n, 3)
        Diffuse light on each point, any unit. Written over where there is skin.
    """
    skin = np.flatnonzero(view.finish == _SKIN)
    pixel_width = 2 * view.spread[0] / view.size[0]
    skin = skin[view.reach[skin] * pixel_width < COARSE]
    if not len(skin):
        return
    lengths = profile_lengths(view.albedo[skin].mean(0))
    slant = np.clip((view.normals * view.toward).sum(1), 0.25, 1)
    out = np.empty((len(skin), 3))
    take = (view.points, view.body, slant, view.reach)
    # Only what has a pixel of its own is asked: the rest are edges.
    single = np.where(view.finish[view.single] == _SKIN, view.single, -1)
    grid = (single, view.pixel, *view.size)
    scale = (lengths, pixel_width, *_taps(lengths))

    def spread(tile):
        a, b = int(tile[0]), int(tile[-1]) + 1
        _gathered(skin[a:b], take, grid, scale, light, out[a:b])

    shared_out(spread, tiles(np.arange(len(skin)), 2000))
    light[skin] = out


@njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _gathered(chosen, take, grid, scale, light, out):
    """Mean of the light about each chosen point, weighted by what comes out of it there."""
    points, body, slant, reach = take
    single, pixel, width, height = grid
    lengths, pixel_width, taps, density = scale
    total = np.empty(3)
    for k in range(len(chosen)):
        i = chosen[k]
        per_pixel = 1 / (reach[i] * pixel_width)
        x0, y0 = pixel[i] % width, pixel[i] // width
        total[:] = 0.0
        out[k] = 0.0
        for t in range(len(taps)):
            u, v = taps[t, 0] * per_pixel, taps[t, 1] * per_pixel
            du, dv = round(u), round(v)
            x, y = x0 + du, y0 + dv
            if x < 0 or x >= width or y < 0 or y >= height:
                continue
            j = i if du == 0 and dv == 0 else single[y * width + x]
            if j < 0 or body[j] != body[i]:
                continue
            r = math.sqrt(u * u + v * v) / per_pixel
            if j == i:
                r /= math.sqrt(slant[i])
            else:
                # As far on the skin as the place in the picture is, not the middle of its pixel.
                r2 = 0.0
                for c in range(3):
                    r2 += (points[i, c] - points[j, c]) ** 2
                r *= math.sqrt(r2 / (du * du + dv * dv)) * per_pixel
            share = 1 / (density[t] * slant[j])
            for c in range(3):
                d = lengths[c]
                e = math.exp(-r / (3 * d))
                w = share * (e * e * e + e) / (d * r)
                total[c] += w
                out[k, c] += w * light[j, c]
        for c in range(3):
            out[k, c] = out[k, c] / total[c] if total[c] > 0 else light[i, c]
