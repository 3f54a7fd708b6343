"""People as asked: heads turn on their necks, skin, hair and clothes reflect what is said."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.document import Figure, Surface
from moth.inspection import behind
from moth.tests.scenes import BLACK_ROOM, setup, ways
from moth.transport import project, render_layer, sources, view_of
from moth.world import build_world, landmarks
from moth.world.eyes import CORNEA, IRIS, WHITE
from moth.world.figures import FIGURE_NAMES, FINISHES, dressed, head_front
from moth.world.rays import RayScene

FINISH = {f.name: k for k, f in enumerate(FINISHES)}
POSES = ("standing", "seated")


def person(**more):
    return Figure(id="s", name="s", position=(0, 0), **more)


def vertices_of(mesh, finish):
    return np.unique(mesh.faces[mesh.finish == FINISH[finish]])


def lightness(mesh, finish):
    return float((mesh.albedo[vertices_of(mesh, finish)] @ LUMINANCE).mean())


@pytest.mark.parametrize("name", FIGURE_NAMES)
@pytest.mark.parametrize("spectacles", [False, True])
def test_eyes_are_open_as_eyes_are_and_their_corneas_bulge(name, spectacles):
    """An upper lid stands 4 to 6 mm over the middle of the pupil."""
    mesh = dressed(person(figure=name, spectacles=spectacles))
    rays = RayScene(mesh.vertices.astype(np.float32), mesh.faces)
    for side in ("left", "right"):
        eye = mesh.landmarks[f"eye_{side}"]
        own = vertices_of(mesh, "eye")
        own = own[np.abs(mesh.vertices[own] - eye).max(1) < 0.02]
        places, dark = mesh.vertices[own], mesh.albedo[own] @ LUMINANCE < WHITE
        front = places[:, 1] > np.median(places[:, 1])
        iris = places[dark & front]
        middle = (iris.min(0) + iris.max(0)) / 2
        aside = np.hypot(*(iris - middle)[:, [0, 2]].T)
        wide = aside.max()
        # All of the iris but its very rim lies on one cornea.
        cornea = CORNEA * wide / IRIS
        depth = iris[:, 1].max() - (cornea - np.sqrt(cornea**2 - aside**2))
        within = aside < 0.95 * wide
        np.testing.assert_allclose(iris[within, 1], depth[within], atol=1.5e-4)
        if spectacles:
            continue
        high = np.arange(-0.010, 0.010, 1e-4)
        start = np.column_stack([np.full(len(high), middle[0]), np.full(len(high), 0.5), high])
        start[:, 2] += middle[2]
        found, _, _ = rays.first(start, np.tile([0.0, -1.0, 0.0], (len(high), 1)))
        seen = high[mesh.finish[found] == FINISH["eye"]]
        assert 0.004 < seen.max() < 0.006 and 0.0075 < np.ptp(seen) < 0.0105


@pytest.mark.parametrize("name", FIGURE_NAMES)
@pytest.mark.parametrize("pose", POSES)
@pytest.mark.parametrize(("turn", "tilt"), [(45, 0), (-60, 0), (0, 25), (0, -30), (40, -20)])
def test_a_head_turns_on_its_neck_and_the_shoulders_stay(name, pose, turn, tilt):
    plain, turned = (
        person(figure=name, pose=pose),
        person(figure=name, pose=pose, head_turn=turn, head_tilt=tilt),
    )
    before, after = landmarks(plain), landmarks(turned)
    for shoulder in ("shoulder_left", "shoulder_right"):
        assert after[shoulder] == pytest.approx(before[shoulder], abs=0.004)
    # The face is rigid: distances between its landmarks stay.
    face = ("eye_left", "eye_right", "nose_tip", "forehead", "crown")
    for a in face:
        for b in face:
            was, now = (np.linalg.norm(m[a] - m[b]) for m in (before, after))
            assert now == pytest.approx(was, abs=0.003)
    # It looks where it is said to look: square to the line between the eyes, and so far up.
    across = after["eye_right"] - after["eye_left"]
    front = head_front(turned)
    assert abs(across @ front) / np.linalg.norm(across) < 0.03
    up_before = before["crown"] - (before["eye_left"] + before["eye_right"]) / 2
    up_after = after["crown"] - (after["eye_left"] + after["eye_right"]) / 2
    t, a = np.radians(tilt), np.radians(turn)
    y = np.cos(t) * up_before[1] - np.sin(t) * up_before[2]
    z = np.sin(t) * up_before[1] + np.cos(t) * up_before[2]
    expected = [np.cos(a) * up_before[0] - np.sin(a) * y, np.sin(a) * up_before[0] + np.cos(a) * y]
    assert up_after == pytest.approx([*expected, z], abs=0.004)


@pytest.mark.parametrize("name", FIGURE_NAMES)
def test_the_neck_twists_and_nothing_turns_inside_out(name):
    """No triangle of the skin flips: its normal goes round no farther than the head does."""
    plain, turned = (
        dressed(person(figure=name, pose="seated", head_turn=t, head_tilt=u))
        for t, u in ((0, 0), (50, -15))
    )
    skin = plain.faces[plain.finish == FINISH["skin"]]

    def normals(mesh):
        a, b, c = (mesh.vertices[skin[:, k]] for k in range(3))
        n = np.cross(b - a, c - a)
        return n / np.maximum(np.linalg.norm(n, axis=1, keepdims=True), 1e-15), np.linalg.norm(
            n, axis=1
        )

    (before, area), (after, _) = normals(plain), normals(turned)
    cosine = (before * after).sum(1)
    # Turned by 50 and 15 degrees together: 52; the twist itself shears a little more.
    assert (cosine[area > 1e-8] > np.cos(np.radians(80))).mean() > 0.999


@pytest.mark.parametrize("name", FIGURE_NAMES)
@pytest.mark.parametrize("asked", [0.05, 0.12, 0.3, 0.55])
def test_skin_and_cloth_reflect_what_is_asked(name, asked):
    mesh = dressed(
        person(figure=name, skin=asked, garment=Surface(reflectance=asked, colour=(1, 0.8, 0.7)))
    )
    assert lightness(mesh, "skin") == pytest.approx(asked, rel=0.03)
    assert lightness(mesh, "garment") == pytest.approx(asked, rel=0.03)
    assert mesh.albedo.max() <= 0.95 and mesh.albedo.min() >= 0
    # Skin is redder than grey, the darker the more; cloth has the hue that was asked for.
    skin = mesh.albedo[vertices_of(mesh, "skin")].mean(0)
    assert skin[0] > skin[1] > skin[2]
    cloth = mesh.albedo[vertices_of(mesh, "garment")].mean(0)
    assert cloth[1] / cloth[0] == pytest.approx(0.8, rel=0.02)


def test_darker_skin_is_redder_and_an_undertone_moves_blue():
    def hue(**more):
        return dressed(person(**more)).albedo[vertices_of(dressed(person()), "skin")].mean(0)

    dark, light = hue(skin=0.06), hue(skin=0.5)
    assert dark[0] / dark[1] > 1.2 * light[0] / light[1]
    rosy, golden = hue(skin=0.3, undertone=-1), hue(skin=0.3, undertone=1)
    assert rosy[2] / rosy[1] > 1.15 * golden[2] / golden[1]


@pytest.mark.parametrize("name", FIGURE_NAMES)
def test_hair_takes_its_tone_and_fades_to_the_skin(name):
    plain = dressed(person(figure=name))
    fair = dressed(person(figure=name, hair=Surface(reflectance=0.4, colour=(1, 0.8, 0.5))))
    hair = vertices_of(plain, "hair")
    core = np.median(fair.albedo[hair] @ LUMINANCE)
    assert core == pytest.approx(0.4, rel=0.2)
    # What was all but skin stays all but skin: no bright rim at the hairline.
    skin = plain.albedo[vertices_of(plain, "skin")].mean(0)
    near = np.linalg.norm(plain.albedo[hair] - skin, axis=1) < 0.15 * np.linalg.norm(skin)
    if near.sum() > 20:
        off = np.linalg.norm(fair.albedo[hair][near] - skin, axis=1) / np.linalg.norm(skin)
        assert np.median(off) < 0.5


def test_silk_shines_and_plain_cloth_does_not():
    plain, shiny = dressed(person()), dressed(person(cloth="silk"))
    assert FINISH["satin"] not in plain.finish
    changed = plain.finish != shiny.finish
    assert changed.sum() == (plain.finish == FINISH["garment"]).sum()
    assert FINISHES[FINISH["satin"]].normal_reflectance > 0.03


def test_white_clothes_light_the_chin_and_black_ones_do_not():
    """The shirt is a board under the face: in a black room it is what lights a meter held down."""

    def from_below(reflectance):
        scene = setup(
            room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
            figures=[
                {
                    "id": "s",
                    "name": "s",
                    "pose": "seated",
                    "position": [3, 3],
                    "garment": {"reflectance": reflectance},
                }
            ],
        )
        x, y, z = landmarks(scene.figures[0])["chin"]
        return sum(ways(scene, (x, y + 0.06, z), (0, 0, -1)).values())

    white, grey, black = (from_below(r) for r in (0.8, 0.4, 0.02))
    assert white > 10 * black and 1.6 < white / grey < 2.6


def test_what_is_behind_the_face_is_measured_along_the_line_of_sight():
    """A box room by arithmetic: the wall that the line from the lens through the eyes meets."""
    draw = np.random.default_rng(3)
    for _ in range(8):
        x = float(draw.uniform(1, 5))
        scene = setup(
            cameras=[{"id": "a", "name": "A", "position": [x, 6.2, 1.2], "aim": [3, 3, 1.2]}]
        )
        marks = landmarks(scene.figures[0])
        face = (marks["eye_left"] + marks["eye_right"]) / 2
        way = face - [x, 6.2, 1.2]
        way = way / np.linalg.norm(way)
        spans = [((0 if way[k] < 0 else (6, 7, 3)[k]) - face[k]) / way[k] for k in range(3)]
        found = behind(scene)
        assert found.distance == pytest.approx(min(spans), abs=0.01)
        assert found.name == ("the east wall", "the south wall", "the floor")[
            int(np.argmin(spans))
        ] or found.name in ("the west wall", "the ceiling")
        # f^2 |d - s| / (N d (s - f)), of the sensor's width.
        f, s = 0.05, float(np.linalg.norm(face - [x, 6.2, 1.2]))
        d = s + found.distance
        expected = f * f * (d - s) / (2.8 * d * (s - f)) / 0.0249
        assert found.blur == pytest.approx(expected, rel=1e-3)


@pytest.mark.parametrize("name", ["old-woman", "weathered-man", "girl"])
def test_a_mouth_is_dark_behind_the_lips(name):
    """A lamp behind the head lights an ear; what is seen between the lips has none of it."""
    figure = {"id": "s", "name": "s", "figure": name, "pose": "seated", "position": [3, 3]}
    marks = landmarks(Figure(**figure))
    eyes = marks["eye_left"][2]
    # Only as much of the face in the frame as is looked at.
    lips = tuple((marks["nose_tip"] + marks["chin"]) / 2)
    lamp = {"head": "fresnel-200", "position": [1.5, 1.5, eyes + 0.9], "aim": [3, 3, eyes]}
    lens = {"position": [2.9, 5.2, eyes - 0.05], "aim": lips, "focal_length": 220}
    scene = setup(
        figures=[figure],
        cameras=[{"id": "a", "name": "A", **lens}],
        units=[{"id": "k", "name": "k", "role": "edge", **lamp}],
    )
    world, size = build_world(scene), (480, 270)
    view = view_of(world, scene, scene.cameras[0], size)
    lum = render_layer(world, view, sources(scene)[0]).surfaces @ LUMINANCE
    (x, nose), (_, chin) = project(scene.cameras[0], [marks["nose_tip"], marks["chin"]])
    mouth = lum[int(nose * 270) : int(chin * 270), int(x * 480) - 25 : int(x * 480) + 10]
    assert mouth.max() < 3 * np.median(mouth)
