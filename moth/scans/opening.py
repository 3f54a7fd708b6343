"""A model file opened: GLB or OBJ, alone or in a zip with its textures, with care for what is none.

Run as ``python -m moth.scans.opening NAME UP`` it opens standard input in a process of its own,
within bounds of memory and time: see :mod:`moth.scans.apart`.

glTF 2.0 (ISO/IEC 12113) has Y up and its factors linear; textures of both formats, and the colours
of an OBJ's materials, are taken as coded by sRGB.
"""

import io
import json
import logging
import struct
import zipfile
from typing import Any, NamedTuple

import fast_simplification
import numpy as np
import trimesh
from scipy.spatial import cKDTree
from trimesh.resolvers import Resolver
from trimesh.visual.material import PBRMaterial

from ..errors import MothError
from ..place.scans import BUDGET, Scan, coded, decoded, pack
from .results import UNREADABLE, Brought

BYTES, UNPACKED, MEMBERS = 60_000_000, 200_000_000, 300
"""Of a file; of what a zip unpacks to; how many files a zip holds."""
LARGEST = 1_500_000
"""Triangles of a file."""
GREY = 0.5
"""Reflectance of what the file gives no colour."""
UNSAID = (102, 102, 102)
"""What trimesh says of a material that says nothing."""
LEAST, MOST = 0.02, 0.9
"""Reflectances of real surfaces; what a file paints blacker or whiter is taken as that."""
THIN = 0.5
"""Opacity below which a surface is left out, as glass is."""
POLISHED = 0.3
"""glTF roughness below which a surface is polished."""
PARTS = 24
"""Parts of a model's length that its triangles are cut to at most, so that light can differ."""
SPOTS = 300_000
"""Places at which its textures are looked at."""


def open_model(data, name, up="y"):
    """Open a model file.

    Parameters
    ----------
    data : bytes
    name : str
        Of the file: what tells an OBJ.
    up : {"y", "z"}
        Which of an OBJ's axes is up; a GLB says it itself.

    Returns
    -------
    Brought

    Raises
    ------
    MothError
        With a sentence for what is too large, damaged, empty or no model.

    Examples
    --------
    >>> import moth.place.scans as scans
    >>> square = b"v 0 0 0\\nv 2 0 0\\nv 2 1 0\\nv 0 1 0\\nf 1 2 3 4\\n"
    >>> brought = open_model(square, "square.obj")
    >>> scans.scan_of(scans.shelve(brought.scan)).size.tolist()
    [2.0, 0.0, 1.0]
    """
    logging.getLogger("trimesh").setLevel(logging.CRITICAL)
    if len(data) > BYTES:
        raise MothError(f"The file holds {len(data) / 1e6:.0f} MB; at most {BYTES / 1e6:.0f} MB.")
    try:
        return _open(data, name, up)
    except MothError:
        raise
    except MemoryError:
        raise MothError("The model takes more memory than there is for it.") from None
    except Exception:  # a damaged file ends its reader in any way
        raise MothError(UNREADABLE) from None


def _open(data, name, up):
    files = {}
    if data[:2] == b"PK":
        files = _unzipped(data)
        name, data = _model_in(files)
    kind = name.lower().rpartition(".")[2]
    if data[:4] == b"glTF":
        kind = "glb"
    if kind not in ("glb", "gltf", "obj"):
        raise MothError(UNREADABLE)
    notes = _notes_of_obj(data, files) if kind == "obj" else _notes_of_gltf(data, kind, files)
    beside = _Beside(files, name.rpartition("/")[0])
    loaded = trimesh.load(io.BytesIO(data), file_type=kind, resolver=beside, process=False)
    scene: Any = loaded if isinstance(loaded, trimesh.Scene) else trimesh.Scene(loaded)
    meshes = [
        m for m in scene.dump(concatenate=False) if isinstance(m, trimesh.Trimesh) and len(m.faces)
    ]
    count = sum(len(m.faces) for m in meshes)
    if count == 0:
        raise MothError("The file holds no surface: no triangle is in it.")
    if count > LARGEST:
        raise MothError(
            f"The model has {count:,} triangles; at most {LARGEST:,}. Let the program that made it"
            " reduce it."
        )
    return _brought([_Raw.of(m, kind == "obj") for m in meshes], up == "y" or kind != "obj", notes)


def _unzipped(data):
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            infos = [i for i in archive.infolist() if not i.is_dir()]
            if len(infos) > MEMBERS:
                raise MothError(f"The zip holds {len(infos)} files; at most {MEMBERS}.")
            if sum(i.file_size for i in infos) > UNPACKED:
                raise MothError(f"The zip unpacks to more than {UNPACKED / 1e6:.0f} MB.")
            out, left = {}, UNPACKED
            for info in infos:
                # What the zip says of itself may be untrue.
                with archive.open(info) as member:
                    out[info.filename] = member.read(left + 1)
                left -= len(out[info.filename])
                if left < 0:
                    raise MothError(f"The zip unpacks to more than {UNPACKED / 1e6:.0f} MB.")
            return out
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError):
        raise MothError(UNREADABLE) from None


def _model_in(files):
    found = [n for n in files if n.lower().endswith((".glb", ".gltf", ".obj"))]
    found = [n for n in found if not n.startswith("__MACOSX")]
    if len(found) != 1:
        raise MothError(
            f"The zip holds {len(found) or 'no'} models: put one GLB, glTF or OBJ into it, and its"
            " textures."
        )
    return found[0], files[found[0]]


class _Beside(Resolver):
    """What lies in the zip beside the model; nothing else on this machine is looked at."""

    def __init__(self, files, folder):
        self._files, self._folder = files, folder

    def get(self, name):
        plain = str(name).replace("\\", "/").removeprefix("./")
        for tried in (f"{self._folder}/{plain}" if self._folder else plain, plain):
            if tried in self._files:
                return self._files[tried]
        tail = plain.rpartition("/")[2]
        for known, data in self._files.items():
            if known.rpartition("/")[2] == tail:
                return data
        raise FileNotFoundError(name)

    def namespaced(self, namespace):
        return self

    def keys(self):
        return self._files.keys()

    def write(self, name, data):
        raise NotImplementedError

    def holds(self, name):
        """Whether a name is found."""
        try:
            self.get(name)
        except FileNotFoundError:
            return False
        return True


def _notes_of_gltf(data, kind, files):
    """What cannot be honoured of a glTF; a sentence where nothing can."""
    if kind == "glb":
        length, _ = struct.unpack("<II", data[12:20])
        data = data[20 : 20 + length]
    told = json.loads(data)
    needed = set(told.get("extensionsRequired", []))
    packed = needed & {"KHR_draco_mesh_compression", "EXT_meshopt_compression"}
    if packed:
        raise MothError("The model is compressed inside its file: save it without compression.")
    uris = [i.get("uri", "") for i in told.get("images", [])]
    return _missing(uris, files)


def _notes_of_obj(data, files):
    text = data.decode(errors="replace")
    uris = [line.split(None, 1)[1] for line in text.splitlines() if line.startswith("mtllib ")]
    return _missing([u.strip() for u in uris], files)


def _missing(uris, files):
    beside = _Beside(files, "")
    lost = [u for u in uris if u and not u.startswith("data:") and not beside.holds(u)]
    if not lost:
        return []
    return [
        f"{len(lost)} of its files {'is' if len(lost) == 1 else 'are'} missing"
        f" ({lost[0].rpartition('/')[2][:60]}): what has no colour is taken as {GREY:.0%} grey. A"
        " zip can hold the model with its textures."
    ]


class _Raw(NamedTuple):
    """Triangles of one mesh with the colours that they have."""

    vertices: np.ndarray
    faces: np.ndarray
    uv: np.ndarray | None
    image: np.ndarray | None
    """(h, w, 4) as coded, 0..1."""
    factor: np.ndarray
    """(4,) linear, opacity last."""
    corners: np.ndarray | None
    """(n, 4) linear colours of its vertices."""
    gloss: bool
    blends: bool

    @classmethod
    def of(cls, mesh, coded):
        """From trimesh's; `coded` where the colours of its corners are coded by sRGB."""
        vertices, faces = np.asarray(mesh.vertices, float), np.asarray(mesh.faces)
        factor, image, uv, corners = np.array([GREY, GREY, GREY, 1.0]), None, None, None
        gloss = blends = False
        visual = mesh.visual
        if visual.kind == "texture":
            material = visual.material
            uv = None if visual.uv is None else np.asarray(visual.uv, float)
            if isinstance(material, PBRMaterial):
                image = material.baseColorTexture
                given = material.baseColorFactor
                factor = np.ones(4) if given is None else _share(given)
                rough = material.roughnessFactor
                gloss = rough is not None and rough < POLISHED
                blends = material.alphaMode in ("BLEND", "MASK")
            else:
                image = None if _unsaid(material.image) else material.image
                given = getattr(material, "diffuse", None)
                if given is not None and not np.array_equal(np.ravel(given)[:3], UNSAID):
                    factor = _share(given)
                    factor = np.append(decoded(factor[:3]), factor[3])
                    blends = factor[3] < 1
                if image is not None:
                    factor = np.array([1.0, 1, 1, factor[3]])
            if image is not None and uv is not None and len(uv) == len(vertices):
                image = np.asarray(_small(image).convert("RGBA"), np.float32) / 255
            else:
                image = None
        elif visual.kind in ("vertex", "face"):
            factor = np.ones(4)
            if visual.kind == "vertex":
                corners = _share(visual.vertex_colors)
            else:
                corners = _share(visual.face_colors).repeat(3, 0)
                vertices, faces = vertices[faces].reshape(-1, 3), np.arange(3 * len(faces))
                faces = faces.reshape(-1, 3)
            if coded:
                corners[:, :3] = decoded(corners[:, :3])
        return cls(vertices, faces, uv, image, factor, corners, bool(gloss), bool(blends))

    def colour(self, triangle, shares):
        """(k, 4) linear colours, opacity last, at places in its triangles by the shares (k, 3) of
        their corners.
        """
        of = self.faces[triangle]
        out = np.broadcast_to(self.factor, (len(triangle), 4)).copy()
        if self.image is not None and self.uv is not None:
            u, v = (np.einsum("kc,kcx->kx", shares, self.uv[of]) % 1.0).T
            high, wide = self.image.shape[:2]
            x = np.minimum((u * wide).astype(int), wide - 1)
            y = np.minimum(((1 - v) * high).astype(int), high - 1)
            texel = self.image[y, x].astype(float)
            out *= np.column_stack([decoded(texel[:, :3]), texel[:, 3]])
        if self.corners is not None:
            out *= np.einsum("kc,kcx->kx", shares, self.corners[of])
        return out


def _unsaid(image):
    """Whether a picture is the one that trimesh makes for a material that is not there."""
    return image is not None and image.size == (2, 2) and len(image.getcolors()) == 1


TEXTURE = 2048
"""Longest side of a texture that is looked at [px]."""


def _small(image):
    """A texture no finer than it can be kept."""
    if max(image.size) > TEXTURE:
        image = image.copy()
        image.thumbnail((TEXTURE, TEXTURE))
    return image


def _share(colour):
    """Colours as parts of one, with opacity."""
    colour = np.atleast_1d(np.asarray(colour))
    out = colour / 255 if colour.dtype == np.uint8 else np.asarray(colour, float)
    if out.shape[-1] == 3:
        out = np.concatenate([out, np.ones((*out.shape[:-1], 1))], -1)
    return np.nan_to_num(np.clip(out, 0, 1))


def _brought(raws, y_up, notes):
    raws, bad = _sound(raws)
    if bad:
        notes.append(f"{bad:,} triangles without an area, or nowhere, are left out.")
    raws, clear = _without_glass(raws)
    if clear:
        notes.append(f"{clear:,} see-through triangles are left out: put glass in as a window.")
    if not raws:
        raise MothError("The file holds no surface that light could fall on.")
    first = np.cumsum([0, *(len(r.vertices) for r in raws)])
    vertices = np.concatenate([r.vertices for r in raws])
    faces = np.concatenate([r.faces + n for r, n in zip(raws, first, strict=False)])
    if y_up:
        vertices = np.column_stack([vertices[:, 0], -vertices[:, 2], vertices[:, 1]])
    low, high = vertices[faces].reshape(-1, 3).min(0), vertices[faces].reshape(-1, 3).max(0)
    middle = np.array([*((low + high) / 2)[:2], low[2]])
    vertices, long = vertices - middle, float((high - low).max())
    seen = _Seen(raws, vertices, faces)
    v, f, own = _welded(vertices, faces, long)
    if len(f) > BUDGET:
        notes.append(f"It had {len(f):,} triangles and is kept with {BUDGET:,}.")
        v, f = fast_simplification.simplify(
            v.astype(np.float32), f.astype(np.int32), target_count=int(0.7 * BUDGET)
        )
        own = None
    body = trimesh.Trimesh(v, f, process=False)
    closed = bool(body.is_watertight and body.is_winding_consistent)
    if closed and body.volume < 0:
        f = f[:, ::-1]
    v, f, cut_from = _cut(np.asarray(v, float), np.asarray(f), long)
    scan = _coloured(v, f, seen, None if own is None else own[cut_from], closed)
    if seen.pictures:
        notes.append(
            "Its colours come from pictures: a scan's hold the light that it was taken in."
        )
    if not closed:
        notes.append("It is not a closed body: both sides of its surface are seen.")
    return Brought(pack(scan), tuple(notes))


def _sound(raws):
    """Meshes without triangles of no area or at no place, and how many those were."""
    out, bad = [], 0
    for raw in raws:
        corners = raw.vertices[raw.faces]
        edges = corners - np.roll(corners, 1, axis=1)
        longest = (edges**2).sum(2).max(1)
        area = np.linalg.norm(np.cross(edges[:, 0], edges[:, 1]), axis=1)
        good = np.isfinite(corners).all((1, 2)) & (np.abs(corners) < 1e7).all((1, 2))
        good &= area > 1e-9 * np.maximum(longest, 1e-30)
        bad += int((~good).sum())
        if good.any():
            out.append(raw._replace(faces=raw.faces[good]))
    return out, bad


def _without_glass(raws):
    out, clear = [], 0
    for raw in raws:
        if raw.blends:
            every = np.arange(len(raw.faces))
            solid = raw.colour(every, np.full((len(every), 3), 1 / 3))[:, 3] >= THIN
            clear += int((~solid).sum())
            if not solid.any():
                continue
            raw = raw._replace(faces=raw.faces[solid])
        out.append(raw)
    return out, clear


class _Seen:
    """The surface as its file has it, to be asked for its colour."""

    def __init__(self, raws, vertices, faces):
        self._raws, self._corners = raws, vertices[faces]
        self._first = np.cumsum([0, *(len(r.faces) for r in raws)])
        self.pictures = any(r.image is not None for r in raws)
        """Whether its colours come from pictures."""

    def at(self, triangle, shares):
        """Reflectances (k, 3), and whether it is polished (k,), at places in its triangles by the
        shares (k, 3) of their corners.
        """
        colours, gloss = np.empty((len(triangle), 3)), np.empty(len(triangle), bool)
        for raw, start, end in zip(self._raws, self._first, self._first[1:], strict=False):
            mine = (triangle >= start) & (triangle < end)
            if mine.any():
                colours[mine] = raw.colour(triangle[mine] - start, shares[mine])[:, :3]
                gloss[mine] = raw.gloss
        return np.clip(colours, LEAST, MOST), gloss

    def shares(self, triangle, places):
        """Shares (k, 3) of the corners of triangles at places (k, 3) in them."""
        a, b, c = self._corners[triangle].transpose(1, 0, 2)
        e, f, g = b - a, c - a, places - a
        ee, ef, ff = (np.einsum("kx,kx->k", *pair) for pair in ((e, e), (e, f), (f, f)))
        ge, gf = (np.einsum("kx,kx->k", g, side) for side in (e, f))
        det = np.maximum(ee * ff - ef * ef, 1e-300)
        u, v = (ff * ge - ef * gf) / det, (ee * gf - ef * ge) / det
        out = np.clip(np.stack([1 - u - v, u, v], 1), 0, 1)
        return out / out.sum(1, keepdims=True)

    def spots(self):
        """Triangles and shares all over it: the middle of each, and more where they are large."""
        area = np.linalg.norm(
            np.cross(
                self._corners[:, 1] - self._corners[:, 0], self._corners[:, 2] - self._corners[:, 0]
            ),
            axis=1,
        )
        n, count = np.arange(SPOTS), len(area)
        more = np.searchsorted(np.cumsum(area) / area.sum(), (n + 0.5) / SPOTS)
        triangle = np.concatenate([np.arange(count), np.minimum(more, count - 1)])
        # A low-discrepancy pair each (Roberts' sequence), folded into the triangle.
        a, b = (n * 0.7548776662466927) % 1, (n * 0.5698402909980532) % 1
        a, b = np.where(a + b > 1, 1 - a, a), np.where(a + b > 1, 1 - b, b)
        shares = np.concatenate([np.full((count, 3), 1 / 3), np.stack([1 - a - b, a, b], 1)])
        return triangle, shares, np.einsum("kc,kcx->kx", shares, self._corners[triangle])


def _welded(vertices, faces, long):
    """Corners in one place as one; triangles that are still of three, and which they were."""
    grid = np.round(vertices / max(long * 1e-6, 1e-12)).astype(np.int64)
    _, index, back = np.unique(grid, axis=0, return_index=True, return_inverse=True)
    faces = back.reshape(-1)[faces]
    good = np.flatnonzero(
        (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    )
    used, faces = np.unique(faces[good], return_inverse=True)
    return vertices[index[used]], faces.reshape(-1, 3), good


def _cut(vertices, faces, long):
    """Large triangles cut up, as far as the budget goes, and which they are of."""
    edge = long / PARTS
    while True:
        corners = vertices[faces]
        longest = np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(1)
        # Each is cut into four until its longest edge is short enough.
        count = (4.0 ** np.ceil(np.log2(np.maximum(longest / edge, 1)))).sum()
        if count <= BUDGET:
            break
        edge *= 1.3
    if (longest <= edge).all():
        return vertices, faces, np.arange(len(faces))
    v, f, cut_from = trimesh.remesh.subdivide_to_size(
        vertices, faces, edge, max_iter=20, return_index=True
    )
    v, f, kept = _welded(v, f, long)
    return v, f, cut_from[kept]


INWARD = (0.12, 0.35, 0.6)
"""How far from a corner to the middle its colour is looked at: so an edge between two paints stays
one, and a picture's grain is not taken for its colour.
"""


def _coloured(vertices, faces, seen, own, closed):
    """A scan whose corners have the colour of the surface about them: of the triangle `own` that
    each is a part of, or, where that is not known, of the nearest places.
    """
    corners = vertices[faces]
    middle = corners.mean(1, keepdims=True)
    asked = np.stack([(1 - k) * corners + k * middle for k in INWARD], 2).reshape(-1, 3)
    if own is None:
        triangle, shares, places = seen.spots()
        tree = cKDTree(places)
        near = tree.query(asked)[1]
        triangle, shares = triangle[near], shares[near]
    else:
        triangle = np.repeat(own, 3 * len(INWARD))
        shares = seen.shares(triangle, asked)
    colours, gloss = seen.at(triangle, shares)
    return Scan(
        vertices.astype(np.float32),
        faces.astype(np.int32),
        coded(colours.reshape(-1, 3, len(INWARD), 3).mean(2)),
        gloss.reshape(len(faces), -1)[:, 0],
        closed,
    )


def main():
    """Open standard input; the scan goes to standard output, a refusal to standard error."""
    import os
    import sys

    # What readers print of a damaged file is not part of the answer.
    answer = os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)
    try:
        brought = open_model(sys.stdin.buffer.read(), sys.argv[1], sys.argv[2])
    except MothError as error:
        print(error, file=sys.stderr)
        return 2
    scan = np.frombuffer(brought.scan, np.uint8)
    np.savez(answer, scan=scan, notes=json.dumps(brought.notes))
    answer.close()
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
