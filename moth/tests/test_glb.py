"""The model file: read back by the library that others read it with."""

import io
import json
import struct

import numpy as np
import pytest
import trimesh

from moth.__main__ import main
from moth.glb import to_glb
from moth.tests.scenes import data, setup
from moth.world import build_world


def back(scene):
    return trimesh.load(io.BytesIO(to_glb(scene)), file_type="glb", force="scene")


FULL = {
    "furniture": [
        {"id": "t", "name": "Table", "kind": "table", "position": [2, 2, 0], "size": [1, 1, 0.7]},
        {"id": "u", "name": "Table", "kind": "table", "position": [4, 2, 0], "size": [1, 1, 0.7]},
    ],
    "grip": [
        {
            "id": "g",
            "name": "Board",
            "material": "foam-white",
            "position": [2, 4, 1],
            "aim": [3, 3, 1],
            "size": [1, 1.2],
        }
    ],
}


def test_everything_is_there_by_its_name_in_metres_with_y_up():
    scene = setup(**FULL)
    model = back(scene)
    names = set(model.graph.nodes_geometry)
    assert {"Room", "Table", "Table (2)", "Subject", "Board", "Unit: Key", "Unit: Fill"} <= names
    low, high = model.geometry["Room"].bounds
    # West to east is x; up is y; north is away from the viewer, -z.
    assert low == pytest.approx([0, 0, -7], abs=1e-4) and high == pytest.approx([6, 3, 0], abs=1e-4)
    world = build_world(scene)
    corners = world.mesh.vertices[world.mesh.faces]
    area = np.linalg.norm(
        np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1
    )
    own = {k: v for k, v in model.geometry.items() if not k.startswith("Unit")}
    assert sum(m.area for m in own.values()) == pytest.approx(area.sum() / 2, rel=1e-4)


def test_units_stand_where_they_stand_and_face_where_they_aim():
    scene = setup()
    key = scene.units[0]
    face = back(scene).geometry["Unit: Key, lit face"]
    x, y, z = key.position
    assert face.vertices.mean(0) == pytest.approx([x, z, -y], abs=1e-4)
    way = np.subtract(key.aim, key.position)
    normal = face.face_normals[0]
    expected = np.array([way[0], way[2], -way[1]]) / np.linalg.norm(way)
    assert abs(normal @ expected) == pytest.approx(1, abs=1e-3)


def test_colours_are_what_surfaces_reflect():
    room = {
        "width": 6,
        "depth": 7,
        "height": 3,
        "floor": {"reflectance": 0.4, "colour": [1, 0.5, 0.5]},
    }
    mesh = back(setup(room=room)).geometry["Room"]
    floor = mesh.visual.vertex_colors[mesh.vertices[:, 1] < 1e-4][:, :3] / 255
    middle = np.median(floor, axis=0)
    assert middle @ [0.2126, 0.7152, 0.0722] == pytest.approx(0.4, abs=0.01)
    assert middle[0] == pytest.approx(2 * middle[1], abs=0.02)


def test_the_file_is_gltf_2_and_an_open_place_leaves_the_sky_out():
    found = to_glb(setup(room={"outdoors": True, "width": 6, "depth": 7, "height": 3}))
    magic, version, length = struct.unpack("<4sII", found[:12])
    assert magic == b"glTF" and version == 2 and length == len(found)
    size = struct.unpack("<I", found[12:16])[0]
    header = json.loads(found[20 : 20 + size])
    assert header["asset"]["version"] == "2.0"
    tops = [a["max"][1] for a in header["accessors"] if "max" in a and len(a["max"]) == 3]
    assert max(tops) < 10


def test_the_command_writes_it(tmp_path, capsys):
    file, out = tmp_path / "a.json", tmp_path / "a.glb"
    file.write_text(json.dumps(data()))
    assert main(["model", str(file), "--out", str(out)]) == 0
    assert out.read_bytes()[:4] == b"glTF"
    assert main(["model", "/nowhere.json", "--out", str(out)]) == 1
    capsys.readouterr()
