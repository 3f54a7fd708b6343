"""The document: reading, refusing, placing."""

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from moth.__main__ import main
from moth.document import Polar, from_polar, load, parse, schema, to_polar
from moth.errors import DocumentError, MothError, PlacementError
from moth.metering import read_setup
from moth.photometry import HEADS
from moth.tests.scenes import data, moved, setup
from moth.transport import build_emitter, render_layer, sources, view_of
from moth.world import build_world, check_placement, landmarks, world_key
from moth.world.figures import FIGURE_NAMES, load_figure

ROOT = Path(__file__).resolve().parents[2]
coordinate = st.floats(-5, 5)


@given(coordinate, coordinate, st.floats(0, 4), coordinate, coordinate)
def test_polar_words_and_metres_are_inverse(x, y, z, lens_x, lens_y):
    face, lens = np.array([0.3, -0.2, 1.4]), np.array([lens_x, lens_y, 1.6])
    back = from_polar(to_polar((x, y, z), face, lens), face, lens)
    np.testing.assert_allclose(back, (x, y, z), atol=1e-9)


@given(st.floats(-179.9, 179.9), st.floats(-85, 85), st.floats(0.2, 20))
def test_metres_and_polar_words_are_inverse(angle, height, distance):
    face, lens = (1, 2, 1.4), (1.5, 5, 1.5)
    p = to_polar(from_polar(Polar(angle, height, distance), face, lens), face, lens)
    assert (p.angle, p.height, p.distance) == pytest.approx((angle, height, distance), abs=1e-7)


def test_camera_left_is_negative():
    # The lens looks south, so its left is east.
    assert to_polar((1, 1, 0), (0, 0, 0), (0, 3, 0)).angle == pytest.approx(-45)


def test_a_document_survives_its_file():
    document = setup()
    assert parse(document.model_dump_json()) == document


FAULTS = [
    (moved(data(), "units", 1, dimmer=1.5), "units[1].dimmer"),
    (moved(data(), "units", 0, cct=900), "units[0].cct"),
    (moved(data(), "cameras", 0, t_stop=0), "cameras[0].t_stop"),
    (moved(data(), "units", 0, position=[1, 2]), "units[0].position[2]"),
    (moved(data(), "units", 0, position=[1e9, 0, 0]), "units[0].position[0]"),
    (moved(data(), "units", 0, aim=[4.4, 4.4, 2.0]), "units[0]"),
    (moved(data(), "cameras", 0, shutter={"angle": 180, "time": 0.02}), "cameras[0].shutter"),
    (data(figures=[]), "figures"),
    (data(room={"width": 0, "depth": 3, "height": 3}), "room.width"),
    (data(mood="dark"), "mood"),
    ({**data(), "schema_version": 99}, "schema_version"),
]


@pytest.mark.parametrize("document,path", FAULTS, ids=[p for _, p in FAULTS])
def test_faults_name_the_place(document, path):
    with pytest.raises(DocumentError) as caught:
        load(document)
    assert caught.value.path == path
    assert caught.value.sentence.endswith((".", ")"))


@pytest.mark.parametrize(
    "text",
    [
        "",
        "[",
        "[]",
        "null",
        b"\xff\xfe\x00",
        "[" * 100_000,
        '{"schema_version": NaN}',
        '{"schema_version": 1, "room": {"width": 1e999}}',
        "x" * 3_000_000,
    ],
)
def test_what_is_no_document_is_refused(text):
    with pytest.raises(DocumentError):
        parse(text)


def test_the_same_id_twice_is_refused():
    document = data()
    document["units"][1]["id"] = "key"
    with pytest.raises(DocumentError, match="used twice"):
        load(document)


def placement(**changes):
    with pytest.raises(PlacementError) as caught:
        check_placement(setup(**changes))
    return caught.value


def test_a_unit_in_a_wall_or_a_head_is_said_so():
    document = data()
    assert (
        "behind the east wall"
        in placement(units=moved(document, "units", 0, position=[6.2, 3, 1])["units"]).sentence
    )
    assert (
        placement(units=moved(document, "units", 1, position=[3, 3, 3.5])["units"]).path
        == "units[1].position"
    )
    eyes = landmarks(setup().figures[0])["eye_left"]
    assert (
        "Subject"
        in placement(
            units=moved(document, "units", 0, position=[round(float(c), 3) for c in eyes])["units"]
        ).sentence
    )
    chest = [3.0, 3.0, 0.95]
    assert (
        "Subject" in placement(units=moved(document, "units", 0, position=chest)["units"]).sentence
    )


def test_a_camera_in_furniture_is_said_so():
    box = {
        "id": "b",
        "name": "Chart cabinet",
        "position": [3, 5.5, 0],
        "size": [1, 1, 2],
        "turn": 30,
    }
    problem = placement(furniture=[box])
    assert problem.path == "cameras[0].position" and "Chart cabinet" in problem.sentence
    ball = {**box, "kind": "ball", "position": [3, 5.5, 0.75], "size": [1, 1, 1]}
    assert "Chart cabinet" in placement(furniture=[ball]).sentence
    check_placement(setup(furniture=[{**box, "position": [0.7, 0.7, 0]}]))


def test_heads_and_files_are_named_when_they_fail():
    unit = setup().units[0]
    with pytest.raises(MothError) as caught:
        build_emitter(unit.model_copy(update={"head": "moonbeam"}), "units[0]")
    assert caught.value.path == "units[0].head"
    with pytest.raises(MothError) as caught:
        build_emitter(unit.model_copy(update={"ies": "nonsense"}), "units[0]")
    assert caught.value.path == "units[0].ies"


def test_a_source_without_size_is_a_point():
    ies = "IESNA91\nTILT=NONE\n1 1000 1 3 1 1 2 0 0 0\n1 1 50\n0 45 90\n0\n4000 3000 0\n"
    scene = setup(units=[{**data()["units"][0], "ies": ies}])
    emitter = build_emitter(scene.units[0])
    assert emitter.kind == 0 and emitter.area > 0
    layer = render_layer(
        build_world(scene),
        view_of(build_world(scene), scene, scene.cameras[0], (64, 36)),
        sources(scene)[0],
    )
    assert np.isfinite(layer.surfaces).all() and layer.surfaces.max() > 1
    # The reading speaks of the file, not of the head it replaces.
    reading = read_setup(scene).units[0]
    assert reading.beam == pytest.approx(2 * 60, abs=0.2) and reading.lumens != pytest.approx(
        HEADS["softbox-small"].distribution.lumens, rel=0.01
    )


@pytest.mark.parametrize("name", FIGURE_NAMES)
def test_people_have_their_landmarks_where_they_belong(name):
    short = 0.25 if name == "girl" else 0.05 if name == "middle-aged-woman" else 0
    for pose, low, high in (("standing", 1.5, 2.0), ("leaning", 1.2, 1.5), ("seated", 1.2, 1.5)):
        low, high = low - short, high - short
        mesh = load_figure(name, pose, False, "moulded")
        marks = mesh.landmarks
        assert low < marks["crown"][2] < high
        assert (
            marks["crown"][2]
            > marks["forehead"][2]
            > marks["eye_left"][2]
            > marks["nose_tip"][2]
            > marks["chin"][2]
            > marks["shoulder_left"][2]
        )
        assert marks["eye_left"][0] < 0 < marks["eye_right"][0]  # facing +y, the left hand is at -x
        assert marks["nose_tip"][1] > marks["cheek_left"][1]
        hang = 0.134 if (name, pose) == ("girl", "leaning") else 0
        assert mesh.vertices[:, 2].min() == pytest.approx(hang, abs=0.02)
        assert set(np.unique(mesh.finish)) >= {0, 1, 2, 3}
    coarse, fine = (load_figure(name, "seated", much, "moulded") for much in (False, True))
    assert len(fine.faces) > len(coarse.faces)


def test_the_committed_schema_is_the_models():
    assert json.loads((ROOT / "docs" / "setup.schema.json").read_text()) == json.loads(
        json.dumps(schema())
    )


def run(*args):
    return main([*map(str, args)])


def test_the_command_line_reads_checks_and_renders(tmp_path, capsys):
    file = tmp_path / "setup.json"
    file.write_text(setup().model_dump_json())
    assert run("read", file) == 0
    assert json.loads(capsys.readouterr().out)["ratios"]["combined"]["ratio"] > 1
    assert run("check", file) == 0
    assert run("layers", file, "--out", tmp_path / "out", "--size", "64x36") == 0
    assert sorted(p.name for p in (tmp_path / "out").iterdir()) == [
        "fill.exr",
        "frame.png",
        "key.exr",
    ]
    import OpenEXR
    from PIL import Image

    with OpenEXR.File(str(tmp_path / "out" / "key.exr")) as exr:
        assert exr.channels()["RGB"].pixels.shape == (36, 64, 3)
    with Image.open(tmp_path / "out" / "frame.png") as frame:
        assert frame.size == (64, 36) and np.asarray(frame).max() > 60


def test_the_command_line_says_what_is_wrong(tmp_path, capsys):
    file = tmp_path / "bad.json"
    file.write_text(json.dumps(moved(data(), "units", 1, dimmer=2)))
    assert run("read", file) == 1
    assert "units[1].dimmer" in capsys.readouterr().err
    assert run("check", tmp_path / "nowhere.json") == 1
    assert run("layers", file, "--out", tmp_path, "--size", "wide") == 2


def test_states_keep_levels_and_the_one_that_stands_is_one_of_them():
    night = {
        "id": "n",
        "name": "Night",
        "sky": {"level": 20},
        "units": [{"id": "key", "on": False, "dimmer": 0.1, "cct": 2900}],
    }
    found = load(data(states=[night], state="n"))
    assert found.states[0].units[0].cct == 2900 and found.states[0].sky.level == 20
    with pytest.raises(DocumentError, match="no state 'day'"):
        load(data(states=[night], state="day"))
    with pytest.raises(DocumentError, match="used twice"):
        load(data(states=[night, night]))
    with pytest.raises(DocumentError, match="dimmer"):
        load(data(states=[{**night, "units": [{"id": "key", "dimmer": 2}]}]))


def test_states_are_no_light():
    night = {"id": "n", "name": "Night", "units": [{"id": "key", "on": False}]}
    one, other = load(data()), load(data(states=[night]))
    assert world_key(one) == world_key(other)
    assert [s.key for s in sources(one)] == [s.key for s in sources(other)]


@pytest.mark.parametrize(
    "change, words",
    [
        ({"aims_at": "person:nobody"}, "which is not there"),
        ({"aims_at": "unit:key"}, "aims at itself"),
        ({"aims_at": "moon:one"}, "aims_at"),
    ],
)
def test_an_aim_is_kept_on_what_is_there(change, words):
    with pytest.raises(DocumentError, match=words):
        load(data(units=[{**data()["units"][0], **change}]))
    whose = f"person:{data()['figures'][0]['id']}"
    assert load(data(units=[{**data()["units"][0], "aims_at": whose}])).units[0].aims_at == whose


def test_a_mirror_throws_the_light_of_a_unit_that_is_there():
    glass = {
        "id": "m",
        "name": "Mirror",
        "kind": "mirror",
        "material": "mirror",
        "position": [1, 1, 1],
        "aim": [2, 2, 1],
        "size": [0.6, 0.6],
    }
    for thrown in ("unit:key", "@sun"):
        kept = load(data(grip=[{**glass, "throws": thrown}]))
        assert kept.grip[0].throws == thrown
    assert world_key(kept) == world_key(load(data(grip=[glass])))
    for wrong in ("unit:nobody", "grip:m"):
        with pytest.raises(DocumentError, match="throws"):
            load(data(grip=[{**glass, "throws": wrong}]))
