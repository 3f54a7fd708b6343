"""A scan as it is seen from above, from its front and from its left hand, to measure in."""

import io

import fast_simplification
import numpy as np
import shapely
from PIL import Image

from ..world.rays import RayScene

VIEWS = {
    # Right and up in the picture, and the way it looks, in the scan's own axes.
    "above": ((1, 0, 0), (0, 1, 0), (0, 0, -1)),
    "front": ((-1, 0, 0), (0, 0, 1), (0, -1, 0)),
    "side": ((0, 1, 0), (0, 0, 1), (1, 0, 0)),
}
SIDE = 480
"""Longest side of a picture [px]."""
EDGE = 1.04
"""The picture's side against the scan's."""


def _frame(scan, view):
    """Right, up, forward, the scan's middle, and width and height that the picture shows."""
    right, up, forward = (np.array(k, float) for k in VIEWS[view])
    low, high = scan.vertices.min(0).astype(float), scan.vertices.max(0).astype(float)
    span = high - low
    shown = np.array([abs(right) @ span, abs(up) @ span])
    shown = np.maximum(shown, 0.02 * span.max()) * EDGE
    return right, up, forward, (low + high) / 2, shown, float(np.linalg.norm(span))


def _met(scan, view, places):
    """Triangles met at places of the picture (k, 2), 0..1 from its upper left; -1 for none."""
    right, up, forward, middle, shown, deep = _frame(scan, view)
    off = (np.asarray(places, float) - 0.5) * shown
    origin = middle + off[:, :1] * right - off[:, 1:] * up - 0.6 * deep * forward
    direction = np.broadcast_to(forward, origin.shape)
    rays = RayScene(scan.vertices, scan.faces)
    return rays.first(origin.astype(np.float32), direction.astype(np.float32))[0]


def view_png(scan, view):
    """A picture of a scan, lit from the viewer's side.

    Parameters
    ----------
    scan : moth.place.scans.Scan
    view : str
        Key of :data:`VIEWS`.

    Returns
    -------
    bytes
        PNG.
    """
    shown, forward = _frame(scan, view)[4], np.array(VIEWS[view][2], float)
    wide, high = np.maximum(np.round(SIDE * shown / shown.max()), 24).astype(int)
    x, y = np.meshgrid((np.arange(wide) + 0.5) / wide, (np.arange(high) + 0.5) / high)
    triangle = _met(scan, view, np.stack([x.ravel(), y.ravel()], 1))
    corners = scan.vertices[scan.faces]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    shade = 0.45 + 0.55 * np.abs(normal @ forward)
    colour = scan.colours.mean(1) / 257 * shade[:, None]
    picture = np.where((triangle >= 0)[:, None], colour[triangle], 0)
    alpha = np.where(triangle >= 0, 255, 0)[:, None]
    rgba = np.concatenate([picture, alpha], 1).astype(np.uint8).reshape(high, wide, 4)
    file = io.BytesIO()
    Image.fromarray(rgba).save(file, "PNG")
    return file.getvalue()


def shown(scan, view):
    """Width and height that a picture shows, in the measure of the scan's file.

    Parameters
    ----------
    scan : moth.place.scans.Scan
    view : str

    Returns
    -------
    (float, float)
    """
    wide, high = _frame(scan, view)[4]
    return float(wide), float(high)


COARSE, FINE = 3000, 0.004
"""Triangles that an outline is made from at most, and how far it may be off, in parts of the scan's
length.
"""


def outline(scan):
    """What a scan covers of the floor.

    Parameters
    ----------
    scan : moth.place.scans.Scan

    Returns
    -------
    list of list of (float, float)
        Rings, in parts of its width and depth from its middle; none where it is upright and thin.
    """
    vertices, faces = scan.vertices, scan.faces
    if len(faces) > COARSE:
        vertices, faces = fast_simplification.simplify(vertices, faces, target_count=COARSE)
    flat = vertices[faces][:, :, :2].astype(float)
    (ax, ay), (bx, by) = (flat[:, 1] - flat[:, 0]).T, (flat[:, 2] - flat[:, 0]).T
    long = float(scan.size.max())
    seen = np.abs(ax * by - ay * bx) > 1e-8 * long**2
    off = FINE * long
    # A little wider and back again: what the coarse triangles left open is closed.
    shape = shapely.union_all(shapely.polygons(flat[seen])).buffer(off).buffer(-off).simplify(off)
    rings = [g.exterior.coords[:-1] for g in getattr(shape, "geoms", [shape]) if not g.is_empty]
    span = np.maximum(scan.size[:2], 1e-9)
    middle = (scan.vertices.min(0)[:2] + scan.vertices.max(0)[:2]) / 2
    return [[(round(float(u), 3), round(float(v), 3)) for u, v in (np.array(r) - middle) / span]
            for r in rings]  # fmt: skip
