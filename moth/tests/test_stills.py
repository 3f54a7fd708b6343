"""Stills: opened, read, laid over a head, their light taken apart."""

import io
import struct
from concurrent.futures import ProcessPoolExecutor

import numpy as np
import OpenEXR
import pytest
from PIL import Image, ImageCms
from scipy.special import erf

from bench.stills import apart, found_of, judged
from moth.camera import curve_by_name
from moth.colour import unit_gain
from moth.document import Figure, LogCurve
from moth.errors import MothError
from moth.solving import make
from moth.stills.apart import opened_apart
from moth.stills.building import build, nearest_gel
from moth.stills.differing import differ
from moth.stills.framing import find_camera, head_places
from moth.stills.laying import Laid
from moth.stills.lights import _edge, _Taking, read_lights
from moth.stills.marks import LANDMARKS, MarkedArea, MarkedEdge, MarkedLine, Marks, Record
from moth.stills.nose import tips, way_of
from moth.stills.opening import SIDE, open_still
from moth.stills.reading import read_pair, read_spot, shown, white_read
from moth.tests.known_stills import drawn

AT = MarkedArea(at=(0.5, 0.5), radius=0.05)
LEFT, RIGHT = MarkedArea(at=(0.25, 0.5)), MarkedArea(at=(0.75, 0.5))


def file_of(image, kind="PNG", **options):
    file = io.BytesIO()
    image.save(file, kind, **options)
    return file.getvalue()


def gradient(size=(64, 36)):
    x, y = np.meshgrid(np.linspace(0, 255, size[0]), np.linspace(0, 255, size[1]))
    return Image.fromarray(np.stack([x, y, 255 - x], 2).astype(np.uint8))


# Opening.


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "TIFF"])
def test_a_picture_is_opened_as_it_was_recorded(kind):
    options = {"quality": 98, "subsampling": 0} if kind == "JPEG" else {}
    opened = open_still(file_of(gradient(), kind, **options))
    assert abs(opened.code - np.asarray(gradient(), float) / 255).max() < 0.02


def test_a_picture_lies_as_its_file_says_and_tells_lens_and_stop():
    exif = Image.Exif()
    exif[0x0112] = 6
    exif.get_ifd(0x8769)[41989] = 85
    exif.get_ifd(0x8769)[33437] = 2.0
    opened = open_still(file_of(gradient(), "JPEG", exif=exif, quality=98))
    assert opened.code.shape == (64, 36, 3)
    assert (opened.focal, opened.stop) == (85, 2.0)
    turned = np.asarray(gradient().transpose(Image.Transpose.ROTATE_270), float) / 255
    assert abs(opened.code - turned).mean() < 0.03


def test_another_profile_is_honoured():
    # Swapped colours of a made-up profile come out as the eye sees them.
    grey = Image.new("L", (32, 32), 128)
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    assert np.allclose(open_still(file_of(grey, icc_profile=profile)).code, 128 / 255, atol=0.01)
    broken = open_still(file_of(gradient(), icc_profile=b"nothing of a profile"))
    assert abs(broken.code - np.asarray(gradient(), float) / 255).max() < 0.01


def test_a_large_picture_is_made_smaller_and_keeps_its_levels():
    opened = open_still(file_of(Image.new("RGB", (4000, 2000), (10, 100, 200))))
    assert opened.code.shape == (SIDE // 2, SIDE, 3)
    assert np.allclose(opened.code, np.array([10, 100, 200]) / 255, atol=0.003)


def exr(tmp_path, light, **header):
    path = tmp_path / "a.exr"
    info = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage, **header}
    with OpenEXR.File(info, {"RGB": np.asarray(light, np.float32)}) as file:
        file.write(str(path))
    return path.read_bytes()


def test_an_exr_is_light_and_its_primaries_are_honoured(tmp_path):
    light = np.full((36, 64, 3), [4.0, 1.0, 0.25])
    opened = open_still(exr(tmp_path, light))
    assert opened.linear and np.allclose(opened.code, light)
    # A white is white in any primaries; a pure green of wide ones is greener than ours can be.
    wide = (0.708, 0.292, 0.17, 0.797, 0.131, 0.046, 0.3127, 0.329)
    white = open_still(exr(tmp_path, np.ones((36, 64, 3)), chromaticities=wide)).code
    assert np.allclose(white, 1, atol=0.002)
    green = np.zeros((36, 64, 3))
    green[..., 1] = 1
    seen = open_still(exr(tmp_path, green, chromaticities=wide)).code[0, 0]
    assert seen[1] == pytest.approx(1.1329, abs=0.002) and seen[0] == seen[2] == 0


def test_a_bomb_is_refused_before_it_is_unpacked():
    header = struct.pack(">IIBBBBB", 30000, 30000, 8, 2, 0, 0, 0)
    import zlib

    chunk = b"IHDR" + header
    png = b"\x89PNG\r\n\x1a\n" + struct.pack(">I", 13) + chunk
    png += struct.pack(">I", zlib.crc32(chunk)) + b"\0\0\0\0IDAT\x35\xaf\x06\x1e"
    with pytest.raises(MothError, match="too many pixels"):
        open_still(png)


def _mangled(seed):
    """Opens a file with some of its bytes changed, cut or doubled; what came of it."""
    rng = np.random.default_rng(seed)
    data = bytearray(_WHOLE[seed % len(_WHOLE)])
    for _ in range(int(rng.integers(1, 12))):
        at = int(rng.integers(0, len(data)))
        data[at] = int(rng.integers(0, 256))
    if rng.random() < 0.4:
        data = data[: int(rng.integers(1, len(data)))]
    if rng.random() < 0.1:
        data = data + data
    try:
        opened = open_still(bytes(data))
    except MothError as error:
        return bool(error.sentence)
    return bool(np.isfinite(opened.code).all()) and max(opened.code.shape) <= SIDE


def _whole_files():
    import tempfile
    from pathlib import Path

    with tempfile.TemporaryDirectory() as folder:
        light = exr(Path(folder), np.random.default_rng(1).random((36, 64, 3)))
    return [
        file_of(gradient()),
        file_of(gradient(), "JPEG"),
        file_of(gradient(), "TIFF"),
        file_of(gradient(), "TIFF", compression="tiff_lzw"),
        light,
    ]


_WHOLE = _whole_files()


def test_three_thousand_damaged_files_are_refused_or_read():
    # In a process of its own: a decoder that falls takes no test with it.
    with ProcessPoolExecutor(2) as pool:
        assert all(pool.map(_mangled, range(3000), chunksize=100))


def test_a_file_that_does_harm_harms_nothing_else(tmp_path):
    half = exr(tmp_path, np.random.default_rng(2).random((36, 64, 3)))[:-9000]
    for data in (b"", b"MZ" + bytes(4000), file_of(gradient())[:80], half):
        with pytest.raises(MothError, match="cannot be read"):
            opened_apart(data)
    opened = opened_apart(file_of(gradient()))
    assert np.allclose(opened.code, np.asarray(gradient()) / 255, atol=1e-3)


# Reading.


def split(first, second, record):
    """A picture whose halves have two levels of light, as a curve records them."""
    light = np.ones((36, 64, 3)) * np.repeat([first, second], 32)[None, :, None]
    if record.curve == "linear":
        return light
    name = "srgb" if record.curve == "unknown" else record.curve
    return curve_by_name(name, record.log).encode(light)


@pytest.mark.parametrize("curve", ["srgb", "bt709", "hlg", "acescct", "log", "linear"])
def test_a_ratio_is_told_through_every_curve(curve):
    record = Record(curve=curve, log=LogCurve(grey=0.42, over=5, under=9))
    rng = np.random.default_rng(3)
    for _ in range(8):
        a, b = 0.18 * 2.0 ** rng.uniform(-3, 2, 2)
        pair = read_pair(split(a, b, record), record, LEFT, RIGHT)
        assert abs(pair.stops - np.log2(b / a)) < 0.02
        assert pair.ratio == pytest.approx(b / a, rel=0.02)


def test_percent_over_percent_is_told_apart_from_light():
    record = Record(curve="bt709")
    pair = read_pair(split(0.36, 0.09, record), record, LEFT, RIGHT)
    percent = curve_by_name("bt709").encode([0.36, 0.09])
    assert pair.by_percent == pytest.approx(percent[1] / percent[0], rel=0.01)
    assert "no straight line" in pair.words
    straight = Record(curve="linear")
    assert "both ways" in read_pair(split(0.36, 0.09, straight), straight, LEFT, RIGHT).words


def test_what_is_blown_or_drowned_is_said():
    record = Record(curve="bt709")
    assert read_spot(np.ones((36, 64, 3)), record, AT).lost == "blown"
    assert read_spot(np.zeros((36, 64, 3)), record, AT).lost == "drowned"
    assert read_spot(np.full((36, 64, 3), 0.5), record, AT).lost == ""
    pair = read_pair(split(0.2, 4.0, record), record, LEFT, RIGHT)
    assert "this much or more" in pair.words


def test_an_unknown_grade_is_less_sure_the_more_it_tells():
    record = Record()
    near = read_pair(split(0.2, 0.18, record), record, LEFT, RIGHT)
    far = read_pair(split(0.6, 0.05, record), record, LEFT, RIGHT)
    assert far.unsure > 1.0 > 0.2 > near.unsure
    # Graded harder or softer by a third, the true difference is within what is said.
    for contrast in (0.75, 1.3):
        light = np.repeat([0.6, 0.05], 32) ** contrast * 0.18 ** (1 - contrast)
        code = curve_by_name("srgb").encode(np.ones((36, 64, 3)) * light[None, :, None])
        read = read_pair(code, record, LEFT, RIGHT)
        assert abs(read.stops - np.log2(0.05 / 0.6)) < read.unsure


def test_whites_come_back():
    rng = np.random.default_rng(5)
    for _ in range(10):
        lamp, balance = rng.uniform(2700, 7500), float(rng.choice([3200, 4300, 5600]))
        record = Record(curve="linear", white=balance)
        code = np.ones((36, 64, 3)) * (0.2 * unit_gain(lamp, 0.0, balance, 0.0))
        kelvin, green = white_read(read_spot(code, record, AT), record)
        assert abs(1e6 / kelvin - 1e6 / lamp) < 3 and abs(green) < 0.05


def test_a_still_is_shown_as_a_display_would():
    code = np.full((18, 32, 3), 0.4)
    assert (shown(code, Record(curve="bt709")) == 102).all()
    grey = curve_by_name("acescct").grey
    seen = shown(np.full((18, 32, 3), grey), Record(curve="acescct"))
    assert abs(int(seen[0, 0, 0]) - 104) <= 1


# The camera of a still.


class Pinhole:
    """A camera that draws places, written out apart from the code that is tested."""

    def __init__(self, rng, wide=(0.9, 4.5)):
        self.focal = float(rng.uniform(*wide))
        self.distance = float(rng.uniform(max(0.9, 0.35 * self.focal), 4.5))
        across, up = np.radians(rng.uniform(-30, 30)), np.radians(rng.uniform(-6, 10))
        self.place = self.distance * np.array(
            [-np.sin(across) * np.cos(up), np.cos(across) * np.cos(up), np.sin(up)]
        )
        frame = self.distance / self.focal
        aim = np.array([rng.uniform(-0.1, 0.1), 0, -rng.uniform(0, 0.1)]) * frame
        self.forward = (aim - self.place) / np.linalg.norm(aim - self.place)
        self.right = np.cross(self.forward, [0, 0, 1])
        self.right /= np.linalg.norm(self.right)
        self.up = np.cross(self.right, self.forward)
        self.rng = rng

    def spot(self, place, hand=2.0):
        off = np.asarray(place) - self.place
        deep = off @ self.forward
        x = 0.5 + self.focal * (off @ self.right) / deep
        y = 0.5 - self.focal * (off @ self.up) / deep * 16 / 9
        jitter = self.rng.normal(0, hand / np.sqrt(2), 2) / [1920, 1080]
        return tuple(map(float, np.array([x, y]) + jitter))


def edges_of(camera, turn):
    """Edges along both walls of a room that is turned, and uprights, as a hand marks them."""
    c, s = np.cos(turn), np.sin(turn)
    ways = {"along": [c, s, 0], "across": [-s, c, 0], "upright": [0, 0, 1]}
    found = []
    for kind, way in ways.items():
        for _ in range(300):
            start = camera.place + camera.forward * camera.rng.uniform(1, 6)
            start = start + camera.right * camera.rng.uniform(-2, 2)
            start = start + [0, 0, camera.rng.uniform(-1, 1)]
            end = start + np.array(way) * camera.rng.uniform(0.5, 2)
            deep = [(p - camera.place) @ camera.forward for p in (start, end)]
            if min(deep) < 0.4:
                continue
            a, b = camera.spot(start), camera.spot(end)
            inside = all(0 < k < 1 for k in (*a, *b))
            if inside and np.linalg.norm(np.subtract(a, b)) > 0.25:
                found.append(MarkedEdge(kind=kind, a=a, b=b))
            if sum(e.kind == kind for e in found) == 4:
                break
    return found


@pytest.mark.parametrize("seed", range(12))
def test_a_known_lens_tells_the_distance(seed):
    rng = np.random.default_rng(seed)
    camera = Pinhole(rng)
    figure = Figure(id="s", name="s", figure="broad-man", position=(0, 0))
    places = head_places(figure, "desk")
    marks = Marks(head={n: camera.spot(places[n]) for n in LANDMARKS}, figure=figure)
    record = Record(focal_length=25 * camera.focal, sensor_width=25, taken="desk")
    found = find_camera(marks, record, (1920, 1080))
    assert abs(found.distance.value / camera.distance - 1) < 0.1 and found.sure
    assert abs(found.rise.value - camera.place[2]) < 4 * found.rise.off + 0.02


def test_what_is_said_to_be_sure_of_lens_and_distance_is_right():
    # Heads of real people differ from ours: here each is scaled by what they may.
    right, sure = [], 0
    for seed in range(40):
        rng = np.random.default_rng(100 + seed)
        camera = Pinhole(rng, (0.9, 3.0))
        figure = Figure(id="s", name="s", position=(0, 0))
        size = 1 + rng.normal(0, 0.03)
        places = {k: size * p for k, p in head_places(figure, "camera").items()}
        marks = Marks(
            head={n: camera.spot(places[n]) for n in LANDMARKS},
            edges=edges_of(camera, np.radians(rng.uniform(25, 65))) if seed % 2 else [],
            figure=figure,
        )
        found = find_camera(marks, Record(sensor_width=25), (1920, 1080))
        lens = abs(found.focal_length.value / (25 * camera.focal) - 1) < 0.1
        far = abs(found.distance.value / camera.distance - 1) < 0.1
        if not seed % 2:
            # A head alone does not tell a lens, and nobody says so.
            assert not found.sure
        elif found.sure:
            sure += 1
            right.append(lens and far)
    assert sure >= 8 and np.mean(right) >= 0.9


def test_marks_that_fit_no_head_are_refused():
    camera = Pinhole(np.random.default_rng(4))
    figure = Figure(id="s", name="s", position=(0, 0))
    places = head_places(figure, "camera")
    swapped = {n: camera.spot(places[n]) for n in LANDMARKS}
    swapped["chin"], swapped["crown"] = swapped["crown"], swapped["chin"]
    with pytest.raises(MothError, match="fit no head"):
        find_camera(Marks(head=swapped, figure=figure), Record(), (1920, 1080))
    with pytest.raises(MothError, match="both eyes"):
        find_camera(Marks(figure=figure), Record(), (1920, 1080))


# The light taken apart.


@pytest.fixture(scope="module")
def known():
    return drawn(38, (1920, 1080))


def taking(known):
    opened = open_still(known.file)
    framing = find_camera(known.marks, known.record, opened.code.shape[1::-1])
    return _Taking(opened.code, known.record, known.marks, framing)


def test_a_figure_is_laid_where_the_head_is(known):
    laid = Laid(taking(known).laid.framing, known.marks, known.record)
    for name in ("nose_tip", "chin"):
        drawn_at = laid.drawn(laid.at[name])[0]
        marked = np.array(getattr(known.marks.head, name))
        assert (abs(drawn_at - marked) * [1920, 1080] < 8).all()
    ray = laid.rays([laid.drawn(laid.at["chin"])[0]])[0]
    away = laid.at["chin"] - laid.lens
    assert abs(ray @ away / np.linalg.norm(away) - 1) < 1e-9


@pytest.mark.parametrize("falls", [True, False])
def test_the_width_of_an_edge_is_measured(falls):
    rng = np.random.default_rng(2)
    x = np.arange(640)
    for width in (3.0, 8.0, 20.0):
        levels = 0.5 - 0.3 * erf((x - 322) / (np.sqrt(2) * width)) * (1 if falls else -1)
        image = np.tile(levels, (360, 1)) + rng.normal(0, 0.01, (360, 640))
        found, off = _edge(image, MarkedLine(a=(0.4, 0.5), b=(0.61, 0.5)))
        assert abs(found * 0.21 * 640 / width - 1) < 0.12 and off < found
    flat = np.full((360, 640), 0.3)
    assert _edge(flat, MarkedLine(a=(0.4, 0.5), b=(0.6, 0.5))) is None


def test_the_nose_tells_the_way_that_threw_its_shadow():
    figure = Figure(id="a", name="a", figure="young-woman", position=(2, 2), facing=30)
    ways, places = tips(figure)
    rng = np.random.default_rng(7)
    told = 0
    for k in rng.integers(0, len(ways), 40):
        way, off = way_of(figure, places[k] + rng.normal(0, 0.0005, 3), 0.001)
        apart_by = np.degrees(np.arccos(np.clip(way @ ways[k], -1, 1)))
        assert apart_by < 3.5 * off + 3
        told += off < 6.5
    assert told > 10
    assert way_of(figure, places[0] + [0, 0, 0.5], 0.001) is None


@pytest.mark.parametrize("seed", [2, 8, 12, 38, 48])
def test_stills_with_known_truth(seed):
    # bench.stills reads sixty such, and prints how many are within what is asked.
    still = drawn(seed, (1280, 720))
    found = found_of(still)
    got = judged(still.truth, found)
    if found["sure"]:
        assert apart(still.truth, found) <= 10
    if found["camera sure"]:
        assert got["lens"] and got["distance"]
    assert got["ratio"] is not False and got["white"] is not False


def test_a_lamp_that_comes_by_a_cloth_is_not_carried_alone(known):
    opened = open_still(known.file)
    framing = find_camera(known.marks, known.record, opened.code.shape[1::-1])
    lights = read_lights(opened.code, known.record, known.marks, framing)
    built = build(known.marks, known.record, framing, lights).setup
    unit = built.units[0]
    wide, (x, y, z) = built.room.width, unit.position
    across = built.model_copy(
        update={"units": (unit.model_copy(update={"position": (wide - x, y, z)}),)}
    )

    def direction(setup):
        found = differ(opened.code, known.record, known.marks, framing, lights, setup)
        return next(d for d in found if d.kind == "direction")

    assert direction(across).patches
    assert not direction(make(across, unit.id, "book")).patches


def test_the_nearest_gel_is_found():
    assert nearest_gel(3200, 5600) == {"key": "gel-warm", "settings": {"eighths": 7.0}}
    assert nearest_gel(5000, 5600)["settings"]["eighths"] == 1.0
    assert nearest_gel(5600, 3200)["key"] == "gel-cool"
