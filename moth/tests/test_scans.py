"""Scans and models: read from files, refused in sentences, lit like furniture of the same shape."""

import io
import json
import struct
import zipfile

import numpy as np
import pytest
import trimesh
from PIL import Image
from trimesh.exchange.gltf import export_gltf
from trimesh.visual.material import PBRMaterial

from moth.document import bare
from moth.errors import DocumentError, MothError
from moth.place import in_its_way, inside, scan_of
from moth.place.scans import BUDGET, scan_parts, shelf, shelve
from moth.scans import model_apart, outline, view_png
from moth.scans.opening import LARGEST, open_model
from moth.tests.scenes import ways
from moth.world import build_world

KEY = {
    "id": "k",
    "name": "Key",
    "head": "panel-small",
    "position": [1.0, 1.2, 2.2],
    "aim": [2.5, 3.0, 0.6],
}


@pytest.fixture(autouse=True)
def own_shelf(tmp_path_factory, monkeypatch):
    monkeypatch.setenv("MOTH_SCANS", str(tmp_path_factory.getbasetemp() / "scans"))


def painted(mesh, colour=(0.5, 0.5, 0.5), **more):
    """A mesh with a glTF material of a reflectance."""
    factor = [*(round(255 * c) for c in colour), 255]
    mesh.visual = trimesh.visual.TextureVisuals(
        uv=np.zeros((len(mesh.vertices), 2)),
        material=PBRMaterial(baseColorFactor=factor, **more),
    )
    return mesh


def lux_at(scene, place, way):
    """All that the key brings to a disc."""
    return sum(ways(scene, place, way).values())


def glb(*meshes):
    scene = trimesh.Scene()
    for mesh in meshes:
        scene.add_geometry(mesh)
    return scene.export(file_type="glb")


def brought(data, name="model.glb"):
    """(digest, notes)"""
    found = open_model(data, name)
    return shelve(found.scan), found.notes


def box_file(w, d, h):
    """A grey box as a file has it: y is up."""
    return glb(painted(trimesh.creation.box((w, h, d))))


def piece(digest, size, position=(2.5, 3.0, 0.0), turn=0.0, **more):
    return {
        "id": "t",
        "name": "Thing",
        "kind": "scan",
        "scan": digest,
        "size": size,
        "position": position,
        "turn": turn,
        **more,
    }


def test_a_box_from_a_file_lights_the_room_as_our_own_box_does():
    rng = np.random.default_rng(4)
    for _ in range(4):
        size = tuple(float(v) for v in rng.uniform(0.4, 1.2, 3))
        turn = float(rng.uniform(0, 360))
        digest, notes = brought(box_file(*size))
        assert scan_of(digest).closed and not notes
        assert scan_of(digest).size == pytest.approx(size, rel=1e-5)
        paint = float(scan_of(digest).albedo[0, 0, 0])
        assert paint == pytest.approx(128 / 255, rel=1e-3)
        place = tuple(float(v) for v in rng.uniform(0.3, 1.3, 3) * (1, -1, 1) + (2.5, 3, 0.2))
        own = {**piece(None, size, turn=turn), "kind": "box", "surface": {"reflectance": paint}}
        read = [
            lux_at(bare(furniture=[made], units=[KEY]), place, (-0.6, 0, 0.8))
            for made in (own, piece(digest, size, turn=turn))
        ]
        assert read[1] == pytest.approx(read[0], rel=0.015)


def test_both_sides_of_an_open_surface_are_lit_apart():
    corners = [[0, 0, 0], [1.2, 0, 0], [1.2, 1, 0], [0, 1, 0]]
    sheet = painted(trimesh.Trimesh(corners, [[0, 1, 2], [0, 2, 3]], process=False))
    digest, notes = brought(glb(sheet))
    assert not scan_of(digest).closed and "both sides" in notes[-1]
    stood = {"position": (2.5, 3.0, 0.2), "turn": 20.0}
    own = {**piece(None, (1.2, 0.005, 1.0), **stood), "kind": "box",
           "surface": {"reflectance": 128 / 255}}  # fmt: skip
    for place, way in (((2.2, 2.2, 0.6), (0, 1, 0)), ((2.9, 3.8, 0.6), (0, -1, 0))):
        read = [
            lux_at(bare(furniture=[made], units=[KEY]), place, way)
            for made in (own, piece(digest, (1.2, 0.005, 1.0), **stood))
        ]
        # The two are cut into other patches, and the darker side is lit by the room alone.
        assert read[1] == pytest.approx(read[0], rel=0.035)


def test_its_paint_is_its_own_or_one_over_all():
    top = painted(trimesh.creation.box((1, 0.5, 1)), (0.8, 0.1, 0.1))
    foot = painted(trimesh.creation.box((0.4, 1, 0.4)), (0.1, 0.1, 0.6), roughnessFactor=0.1)
    foot.apply_translation((0, -0.75, 0))
    digest, _ = brought(glb(top, foot))
    scan = scan_of(digest)
    high = scan.vertices[scan.faces].mean(1)[:, 2] > 1.01
    red = np.array([204, 26, 26]) / 255
    assert scan.albedo[high].reshape(-1, 3) == pytest.approx(
        np.broadcast_to(red, (3 * high.sum(), 3)), abs=0.002
    )
    assert not scan.gloss[high].any() and scan.gloss[~high].mean() > 0.5
    over = {"reflectance": 0.3}
    world = build_world(bare(furniture=[piece(digest, (1, 1, 1.5), second=over)]))
    thing = world.mesh.faces[world.mesh.body == 1]
    assert world.mesh.albedo[thing] == pytest.approx(0.3)
    # A patch is of one paint: none lies between the two.
    world = build_world(bare(furniture=[piece(digest, (1, 1, 1.5))]))
    patches = np.unique(world.mesh.front[world.mesh.body == 1])
    paints = world.patches.albedo[patches]
    off = [np.abs(paints - p).max(1) for p in (red, np.array([26, 26, 153]) / 255)]
    assert np.minimum(*off).max() < 0.01


def textured(*, without=()):
    """A zip of an OBJ 1.5 m wide in millimetres, half of it black, half white."""
    picture = np.zeros((64, 64, 3), np.uint8)
    picture[:, 32:] = 188
    file, out = io.BytesIO(), io.BytesIO()
    Image.fromarray(picture).save(file, "PNG")
    parts = {
        "in/panel.obj": b"mtllib wall.mtl\nv 0 0 0\nv 1500 0 0\nv 1500 1200 0\nv 0 1200 0\n"
        b"vt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nusemtl w\nf 1/1 2/2 3/3 4/4\n",
        "in/wall.mtl": b"newmtl w\nKd 1 1 1\nmap_Kd wall.png\n",
        "in/wall.png": file.getvalue(),
    }
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in parts.items():
            if name not in without:
                archive.writestr(name, data)
    return out.getvalue()


def test_a_texture_becomes_reflectance_where_it_lies():
    digest, notes = brought(textured(), "panel.zip")
    scan = scan_of(digest)
    assert scan.size == pytest.approx([1500, 0, 1200])
    assert any("the light that it was taken in" in n for n in notes)
    east = scan.vertices[scan.faces].mean(1)[:, 0]
    # 188 of 255 is half the light as sRGB codes it; what is painted black is still 2 %.
    assert np.median(scan.albedo[east > 60]) == pytest.approx(0.503, abs=0.01)
    assert np.median(scan.albedo[east < -60]) == pytest.approx(0.02, abs=0.002)
    digest, notes = brought(textured(without=("in/wall.png",)), "panel.zip")
    digest, notes = brought(textured(without=("in/wall.mtl", "in/wall.png")), "panel.zip")
    assert any("missing" in n and "wall.mtl" in n for n in notes)
    assert np.median(scan_of(digest).albedo) == pytest.approx(0.5, abs=0.03)


def test_colours_of_corners_are_light_in_a_glb_and_coded_in_an_obj():
    corners = ((0, 0, 0), (1, 0, 0), (0, 2, 0), (0, 0, 3))
    told = "".join(f"v {x} {y} {z} 0.5 0.5 0.5\n" for x, y, z in corners)
    faces = "f 1 3 2\nf 1 2 4\nf 1 4 3\nf 2 3 4\n"
    digest = shelve(open_model((told + faces).encode(), "a.obj", "z").scan)
    assert scan_of(digest).size == pytest.approx([1, 2, 3])
    # 0.5 as sRGB codes it is 21 % of the light.
    assert np.median(scan_of(digest).albedo) == pytest.approx(0.214, abs=0.003)
    box = trimesh.creation.box((1, 2, 3))
    box.visual.vertex_colors = [128, 128, 128, 255]
    digest, _ = brought(glb(box))
    assert np.median(scan_of(digest).albedo) == pytest.approx(0.502, abs=0.003)


def test_a_gltf_in_a_zip_finds_what_lies_beside_it():
    box = trimesh.creation.box((1, 2, 3))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in export_gltf(trimesh.Scene(painted(box))).items():
            archive.writestr(f"in/{name}", data)
    digest, notes = brought(out.getvalue(), "box.zip")
    assert scan_of(digest).size == pytest.approx([1, 3, 2]) and not notes


def test_too_many_triangles_are_reduced_and_the_shape_stays():
    ball = trimesh.creation.icosphere(subdivisions=7)
    digest, notes = brought(glb(painted(ball)))
    scan = scan_of(digest)
    assert len(ball.faces) > BUDGET >= len(scan.faces)
    assert scan.closed and "It had 327,680 triangles" in notes[0]
    kept = trimesh.Trimesh(scan.vertices, scan.faces, process=False)
    assert kept.volume == pytest.approx(4 / 3 * np.pi, rel=0.005)


def test_stands_find_it_in_their_way_and_lamps_inside_of_it_are_refused():
    table = trimesh.util.concatenate(
        [
            trimesh.creation.box((1.4, 0.06, 0.8)).apply_translation((0, 0.72, 0)),
            *(
                trimesh.creation.box((0.06, 0.7, 0.06)).apply_translation((x, 0.35, z))
                for x in (-0.62, 0.62)
                for z in (-0.32, 0.32)
            ),
        ]
    )
    digest, _ = brought(glb(painted(table)))
    size = tuple(scan_of(digest).size)
    parts = scan_parts(digest, size)
    assert len(parts) < 60
    assert max(p.position[2] + p.size[2] for p in parts) == pytest.approx(0.75, abs=0.01)
    lamp = {**KEY, "position": (4.0, 4.0, 1.8)}
    thing = piece(digest, size, (4.0, 4.0, 0.0))
    setup = bare(furniture=[thing], units=[lamp])
    assert in_its_way(setup, setup.units[0]).what == "through"
    setup = bare(furniture=[{**thing, "position": (1.5, 4.0, 0.0)}], units=[lamp])
    assert in_its_way(setup, setup.units[0]) is None
    box, _ = brought(box_file(1, 1, 1))
    item = bare(furniture=[piece(box, (1, 1, 1), turn=30)]).furniture[0]
    places = np.array([[2.5, 3.0, 0.5], [2.9, 3.1, 0.2], [2.5, 3.0, 1.1], [3.1, 3.5, 0.5]])
    assert inside(item, places).tolist() == [True, True, False, False]


def test_what_it_covers_and_how_it_looks():
    digest, _ = brought(glb(painted(trimesh.creation.cylinder(0.5, 0.2, sections=64))))
    ring = np.array(outline(scan_of(digest))[0])
    # Its axis lies along the file's z, which is the depth: from above it is a rectangle.
    assert np.abs(ring).max() == pytest.approx(0.5, abs=0.01)
    for view, shape in (("above", (96, 480)), ("front", (480, 480))):
        picture = np.asarray(Image.open(io.BytesIO(view_png(scan_of(digest), view))))
        assert abs(picture.shape[0] / picture.shape[1] - shape[0] / shape[1]) < 0.15
        assert (picture[..., 3] > 0).mean() > 0.6


def test_a_missing_model_is_named():
    with pytest.raises(DocumentError, match="'Thing' is not on this machine"):
        build_world(bare(furniture=[piece("0" * 32, (1, 1, 1))]))
    digest, _ = brought(box_file(0.3, 0.3, 0.3))
    path = shelf() / f"{digest}.npz"
    path.write_bytes(path.read_bytes()[:-9])
    with pytest.raises(DocumentError, match="'Torn' is not on this machine"):
        scan_of(digest, "Torn")
    with pytest.raises(ValueError, match="names a scan"):
        bare(furniture=[{**piece(None, (1, 1, 1)), "kind": "table", "scan": "0" * 32}])


def zipped(**files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name.replace("__", "."), data)
    return out.getvalue()


def with_header(data, **changes):
    """A GLB whose JSON is changed."""
    length = struct.unpack("<I", data[12:16])[0]
    told = {**json.loads(data[20 : 20 + length]), **changes}
    text = json.dumps(told).encode()
    text += b" " * (-len(text) % 4)
    rest = data[20 + length :]
    head = struct.pack("<III", 0x46546C67, 2, 20 + len(text) + len(rest))
    return head + struct.pack("<II", len(text), 0x4E4F534A) + text + rest


@pytest.mark.parametrize(
    "data, name, says",
    [
        (b"", "a.glb", "no model that can be read"),
        (b"solid a", "a.stl", "no model that can be read"),
        (box_file(1, 1, 1)[:300], "a.glb", "no model that can be read"),
        (b"v 0 0 0\nv 1 0 0\n", "a.obj", "no surface|no model"),
        (b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n", "a.obj", "no surface that light could fall"),
        (b"v 0 0 nan\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "a.obj", "no surface"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "a.obj", "no model|no surface"),
        (zipped(a__txt=b"hello"), "a.zip", "holds no models"),
        (zipped(a__obj=b"v 0 0 0", b__obj=b"v 0 0 0"), "a.zip", "holds 2 models"),
        (zipped(a__obj=b"\n" * 210_000_000), "a.zip", "unpacks to more than 200 MB"),
        (zipped(**{f"f{k}__txt": b"" for k in range(301)}), "a.zip", "301 files"),
        (b"PK\x03\x04 no zip", "a.zip", "no model that can be read"),
        (
            with_header(box_file(1, 1, 1), extensionsRequired=["KHR_draco_mesh_compression"]),
            "a.glb",
            "without compression",
        ),
    ],
)
def test_bad_models_are_refused_in_a_sentence(data, name, says):
    with pytest.raises(MothError, match=says):
        open_model(data, name)


def test_a_file_that_names_others_on_this_machine_is_not_given_them(tmp_path):
    secret = tmp_path / "secret.png"
    Image.new("RGB", (4, 4), (255, 0, 0)).save(secret)
    for uri in (str(secret), f"file://{secret}", "../../../etc/hostname"):
        data = with_header(box_file(1, 1, 1), images=[{"uri": uri}], textures=[{"source": 0}])
        _, notes = brought(data)
        assert "missing" in notes[0]


def test_what_is_too_large_is_refused_and_a_large_one_takes_a_bounded_time():
    square = np.array([[0, 1, 2], [0, 2, 3]])
    many = np.tile(square, (LARGEST // 2 + 10, 1))
    mesh = trimesh.Trimesh([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], many, process=False)
    with pytest.raises(MothError, match="1,500,020 triangles; at most 1,500,000"):
        model_apart(mesh.export(file_type="glb"), "many.glb", "y")


def test_damaged_files_are_read_or_refused_and_nothing_else():
    rng = np.random.default_rng(11)
    files = [(box_file(1, 1, 1), "a.glb"), (textured(), "a.zip")]
    read = 0
    for _ in range(150):
        data, name = files[rng.integers(2)]
        broken = bytearray(data)
        for _ in range(rng.integers(1, 12)):
            broken[rng.integers(len(broken))] = rng.integers(256)
        if rng.random() < 0.2:
            broken = broken[: rng.integers(1, len(broken))]
        try:
            scan = scan_of(shelve(open_model(bytes(broken), name).scan))
        except MothError:
            continue
        read += 1
        assert np.isfinite(scan.vertices).all() and 0 < len(scan.faces) <= BUDGET
    assert 5 < read < 145
