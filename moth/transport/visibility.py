"""What of a lamp each point of a picture sees: few rays where the picture agrees, many in
penumbrae.
"""

import threading
from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from ..engine.cores import shared_out, tiles
from .arrival import arrive
from .kernels import fold, mean_part, ranges, see_face, shadow_rays, share
from .operands import Grid, Obstacles, Rays, Seen, Spots, room_for

_BATCH = 49_152
"""Rays cast at once: a batch stays in the processor's cache."""
FIRST_SAMPLES = 4
"""Rays a point where the picture does not agree."""


@dataclass(frozen=True)
class Effort:
    """What a picture is worth."""

    doubt: int
    """Pixels each way whose first ray must find what a point's own found, for that ray to be
    enough.
    """
    dark: int
    """The same where all found dark: behind slats a lamp that is seen by a twentieth may be missed
    by fifty first rays.
    """
    some: int
    """Rays more a point in penumbrae."""
    edge: int
    """And still more in narrow ones."""
    near: int
    """Pixels each way that belong to a penumbra found."""


WHOLE, QUICK = Effort(3, 12, 8, 12, 3), Effort(2, 4, 4, 0, 1)
"""The quick one stands for a moment: a quarter fewer rays, and the light of a lamp errs by 1.3 %
where it would by 0.9 (the keeper's key).
"""
SAME, STEEP = 0.02, 0.5
"""Differences in the part of a lamp that is seen: what counts as none, and what is an edge and no
slope.
"""
COARSE_WIDTH = 192
"""Pictures up to this wide are the quick ones."""
SHARED = 4
"""Pixels around that share their samples in wide penumbrae."""
WIDE = 0.6
"""Part of them that must be penumbra; about a sharp edge it is a third."""
_own = threading.local()


def _ray_buffers():
    """Origins, directions, distances, weights of a batch: one set a thread, since fresh memory
    costs as much as the rays.
    """
    if not hasattr(_own, "buffers"):
        _own.buffers = room_for(_BATCH)
    return _own.buffers


def visibility(world, view, emitter, candidates):
    """Part of the emitter that each candidate point sees.

    One ray a point first. Where those of the pixels around do not find the same, three more; where
    still they, or those
    of a neighbour, disagree is the penumbra: more there. Neighbours share theirs where it is wide.

    Parameters
    ----------
    world, view, emitter
    candidates : ndarray of int
        Points that face the light at all.

    Returns
    -------
    part : ndarray, shape (n,)
        0..1, weighted by the light each sample would bring; 0 where no light could come.
    rays : int
        Number of rays cast.
    """
    n = len(view.points)
    seen = Seen(np.zeros(n), np.zeros(n))
    lit, total = seen
    obstacles = Obstacles(world.solid.triangles.together, world.cloths, world.extinction)
    spots = Spots(view.points, view.normals, view.pixel, view.pixels)
    grid = Grid(view.points, view.normals, view.reach, view.pixel, view.single, *view.size)

    def cast(tile, first, count):
        if not emitter.via:
            return see_face(obstacles, spots, tile, emitter.face, (first, count), seen)
        rays = Rays(*(buffer[: len(tile) * count] for buffer in _ray_buffers()))
        shadow_rays(spots, tile, emitter.face, first, count, rays)
        visible = arrive(world, emitter, rays.origins, rays.directions, rays.distances)
        fold(tile, count, visible, rays.weights, seen)

    rays, width = 0, view.size[0]
    effort = QUICK if width <= COARSE_WIDTH else WHOLE

    def more(points, first, count):
        nonlocal rays
        rays += len(points) * count
        shared_out(lambda tile: cast(tile, first, count), tiles(points, _BATCH // count))

    def part_seen():
        return np.divide(lit, total, out=np.full(n, -1.0), where=total > 0)

    def uneven(points, part, reach, limit, dark_reach=0):
        """Which points have, up to `reach` pixels away, parts that differ by more than a limit;
        those not known (-1) differ from all.

        In the dark the light is looked for farther, up to `dark_reach`.
        """
        low, high = np.empty((2, view.size[1], width), np.float32)
        ranges(candidates, view.pixel, part, low.reshape(-1), high.reshape(-1))
        near = ndimage.maximum_filter(high, 2 * reach + 1, mode="nearest")
        differ = near - ndimage.minimum_filter(low, 2 * reach + 1, mode="nearest") > limit
        if dark_reach:
            differ |= (near <= 0) & (
                ndimage.maximum_filter(high, 2 * dark_reach + 1, mode="nearest") > 0
            )
        return differ.ravel()[view.pixel[points]]

    def evened(points):
        """Parts that points and their eight neighbours see on the whole."""
        own = part_seen()
        part = own.copy()
        shared_out(
            lambda some: mean_part(some, grid, own, part),
            tiles(points),
        )
        return part

    more(candidates, 0, 1)
    doubtful = candidates[uneven(candidates, part_seen(), effort.doubt, SAME, effort.dark)]
    more(doubtful, 1, FIRST_SAMPLES - 1)
    penumbra = doubtful[uneven(doubtful, part_seen(), effort.near, SAME, effort.dark // 2)]
    wide = _in_the_wide(view, penumbra)
    more(penumbra, FIRST_SAMPLES, effort.some)
    # Where the shade of something near begins within a wide one, that edge stays sharp.
    part = evened(penumbra[wide])
    wide[wide] = ~uneven(penumbra[wide], part, 1, STEEP)
    soft, edge = penumbra[wide], penumbra[~wide]
    if effort.edge:
        # Several points of one pixel have as many samples together as one.
        more(edge[view.weight[edge] == 1], FIRST_SAMPLES + effort.some, effort.edge)
    soft = soft[total[soft] > 0]
    shared = np.empty((len(soft), 2))

    def even_out(rows):
        some = slice(int(rows[0]), int(rows[-1]) + 1)
        share(soft[some], grid, SHARED, part, seen, shared[some])

    shared_out(even_out, tiles(np.arange(len(soft))))
    lit[soft], total[soft] = shared.T
    return np.divide(lit, total, out=np.zeros(n), where=total > 0), rays


def _in_the_wide(view, penumbra):
    """Which points lie where the shade is wide, of big sources and behind slats: most pixels around
    them are penumbra too.
    """
    width, height = view.size
    # Edges of bodies hold more than one point; they are no edge of the shade.
    around = view.single < 0
    around[view.pixel[penumbra]] = True
    around = ndimage.uniform_filter(
        around.reshape(height, width).astype(np.float32), 2 * SHARED + 1, mode="nearest"
    ).ravel()
    pixel = view.pixel[penumbra]
    return (around[pixel] > WIDE) & (view.single[pixel] >= 0)
