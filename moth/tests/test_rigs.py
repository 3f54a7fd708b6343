"""Attachments, sky, faults, moves in one go, the figures of one unit."""

import warnings

import numpy as np
import pytest
from eulumdat_ies import ies_to_ldt
from hypothesis import given, settings
from hypothesis import strategies as st
from pyldt import LdtReader

from moth.camera import source_colours, source_levels
from moth.colour import LUMINANCE, mired_gain, unit_gain, white_of
from moth.document import load, upgrade
from moth.errors import MothError
from moth.inspection import inspect_unit, level_map
from moth.materials import MATERIALS, calibrated
from moth.metering import read_setup
from moth.photometry import (
    ATTACHMENTS,
    HEADS,
    Distribution,
    Lamp,
    from_angles,
    from_function,
    lamp_of,
    read_photometry,
    stages,
    write_ies,
    write_ldt,
)
from moth.photometry.shaping import CHIP, INNER, INNER_PASSES
from moth.solving import CAUTION, MOVES, make
from moth.tests.scenes import BLACK_ROOM, data, moved, setup, ways
from moth.transport import FULL_SKY, FULL_SUN, light_of, render_layer, sources, view_of
from moth.transport.sources import outside, sky_luminance, sun_direction
from moth.world import anchor, build_world, check_placement


def bare(group):
    head = next(h for h in HEADS.values() if h.group == group)
    return Lamp(head.distribution, head.shape, head.size)


@pytest.mark.parametrize("key", ATTACHMENTS)
def test_no_attachment_makes_light(key):
    attachment = ATTACHMENTS[key]
    lamp = bare(attachment.fits[0])
    ends = [{}, *({s.key: end} for s in attachment.settings for end in (s.low, s.high))]
    for end in ends:
        hung = attachment.change(lamp, attachment.values(end))
        # The bilinear tables of a distribution with sharp edges err by a percent.
        assert (
            0 < hung.distribution.lumens <= 1.4 * lamp.distribution.lumens
            if key == "travel"
            else hung.distribution.lumens <= 1.011 * lamp.distribution.lumens
        )
        assert (hung.distribution.candela >= 0).all() and max(hung.size) < 2.5
        assert hung.gel @ [0.2126, 0.7152, 0.0722] <= 1.0001
        assert hung.face is None or hung.face.mean() == pytest.approx(1, rel=1e-6)


def test_a_crate_passes_what_thin_square_cells_pass():
    lamp = Lamp(from_function(lambda c, g: 0 * g + 1.0), "rectangle", (0.6, 0.6))
    crate = ATTACHMENTS["crate"].change(lamp, {"cutoff": 45.0}).distribution
    for turn, angle in ((0, 20), (45, 20), (90, 30), (30, 10)):
        x, y = (
            np.tan(np.radians(angle)) * np.cos(np.radians(turn)),
            np.tan(np.radians(angle)) * np.sin(np.radians(turn)),
        )
        assert crate.intensity(angle, turn) == pytest.approx(
            0.92 * (1 - abs(x)) * (1 - abs(y)), abs=0.01
        )
    assert crate.intensity(46, 0) == pytest.approx(0, abs=0.002)


def test_a_projection_lens_has_its_angle_and_cuts():
    lens = ATTACHMENTS["lens-26"]
    plain = lens.change(bare("point"), lens.values({})).distribution
    assert plain.beam_angle == pytest.approx(26, rel=0.03)
    cut = lens.change(bare("point"), lens.values({"cut_left": 0.5})).distribution
    assert cut.intensity(10, 180) < 0.02 * cut.intensity(10, 0) and cut.peak == pytest.approx(
        plain.peak, rel=0.01
    )
    assert (
        lens.change(bare("point"), lens.values({"pattern": 1})).distribution.lumens
        < 0.75 * plain.lumens
    )


@pytest.mark.parametrize("depth", [0.2, 0.35, 0.6])
@pytest.mark.parametrize("cloths", [2, 3])
def test_a_boxs_front_is_lit_as_rays_from_its_lamp_light_it(depth, cloths):
    """Lambert's rays from the back, through an inner cloth where there is one; the rest is even."""
    draw = np.random.default_rng(3)
    n, width, height = 400_000, 1.0, 0.7

    def sent(x, y, away):
        turn, r = draw.random(len(x)) * 2 * np.pi, np.sqrt(draw.random(len(x)))
        t = away * r / np.sqrt(1 - r**2)
        return x + t * np.cos(turn), y + t * np.sin(turn)

    x, y = np.zeros(n), np.zeros(n)
    part = 1.0
    if cloths == 3:
        x, y = sent(x, y, depth / 2)
        inside = (np.abs(x) < INNER * width / 2) & (np.abs(y) < INNER * height / 2)
        x, y, part = x[inside], y[inside], INNER_PASSES
        x, y = sent(x, y, depth / 2)
    else:
        x, y = sent(x, y, depth)
    edges = np.linspace(-0.5, 0.5, 10)
    hits = np.histogram2d(x / width, y / height, (edges, edges))[0] * part / n
    expected = hits * 81 + 1 - hits.sum()
    expected /= expected.mean()
    box = ATTACHMENTS["softbox"]
    given = {"width": width, "height": height, "depth": depth, "cloths": cloths}
    face = box.change(bare("point"), box.values(given)).face
    assert np.abs(face - expected).max() < 0.03 * expected.max() + 0.03


def test_an_uneven_front_is_a_smaller_source():
    """Depth and cloths decide: the same box is the harder the less there is to even it."""

    def half(**settings):
        hung = [{"key": "softbox", "settings": {"width": 1.2, "height": 1.2, **settings}}]
        unit = {**data()["units"][0], "head": "point-300", "attachments": hung}
        room = {**data()["room"], **BLACK_ROOM}
        return inspect_unit(setup(units=[unit], room=room), unit["id"]).size.half

    none, inner, front, both = (half(depth=0.35, cloths=k) for k in range(4))
    assert none < 0.7 * inner and inner < 0.8 * front and front < both
    assert half(depth=0.2, cloths=3) < 0.9 * half(depth=0.6, cloths=3)


@pytest.mark.parametrize("drop", [0.25, 0.5, 0.8])
def test_a_skirt_hides_of_the_ball_what_lies_beyond_its_rim(drop):
    """Rays to a ball in a tube: what of its disc is seen past the rim, counted."""
    draw = np.random.default_rng(5)
    lantern = ATTACHMENTS["lantern"]
    with_, without = (
        lantern.change(bare("point"), lantern.values({"skirt": k})).distribution for k in (drop, 0)
    )
    for angle in (20.0, 60.0, 90.0, 120.0):
        u, v = draw.uniform(-1, 1, (2, 200_000))
        on = u**2 + v**2 < 1
        g = np.radians(angle)
        # u along the axis' shadow on the sight: the rim's near middle lies at this height on it.
        rim = (2 * drop - 1) * np.sin(g) - np.cos(g)
        seen = (u[on] > rim).mean()
        told = float(with_.intensity(angle) / without.intensity(angle))
        assert told == pytest.approx(seen, abs=0.02)
    assert with_.lumens < without.lumens


@given(st.floats(4, 12), st.floats(0.1, 0.3))
@settings(max_examples=12)
def test_a_parallel_beam_fills_a_panel_of_its_lens_and_spreads_by_its_angle(angle, front):
    lens = ATTACHMENTS["parallel"]
    lamp = lens.change(bare("point"), lens.values({"angle": angle, "front": front}))
    assert lamp.size == (front, front) and lamp.distribution.beam_angle == pytest.approx(
        angle, rel=0.03
    )
    # A lens takes in no more than falls on it from its focus.
    focal = CHIP / 2 / np.tan(np.radians(angle / 2))
    most = np.sin(np.arctan(front / 2 / focal)) ** 2
    assert lamp.distribution.lumens <= most * bare("point").distribution.lumens


def test_gels_and_cct_are_gains():
    unit = data()["units"][0]
    scene = setup(
        units=[
            {**unit, "cct": 5600, "attachments": [{"key": "gel-warm", "settings": {"eighths": 8}}]}
        ]
    )
    assert [s.key for s in sources(scene)] == [s.key for s in sources(setup(units=[unit]))]
    gains = source_colours(scene, 6504)["key"]
    kelvin, _ = white_of(gains)
    assert 1e6 / kelvin - 1e6 / 5600 == pytest.approx(159, abs=12)
    assert gains @ [0.2126, 0.7152, 0.0722] == pytest.approx(
        0.58 * HEADS["softbox-small"].output(5600), rel=0.03
    )
    for kelvin in (2800, 4300, 6500):
        assert white_of(unit_gain(kelvin, 0.3, 6504, 0))[0] == pytest.approx(kelvin, rel=0.01)
    assert (mired_gain(40) * mired_gain(-40)).round(2).tolist() == pytest.approx(
        [1, 1, 1], abs=0.06
    )


@pytest.mark.parametrize(
    "fault, path",
    [
        ({"attachments": [{"key": "moon"}]}, "units[0].attachments[0].key"),
        (
            {"attachments": [{"key": "crate", "settings": {"depth": 1}}]},
            "units[0].attachments[0].settings.depth",
        ),
    ],
)
def test_what_cannot_be_hung_is_named(fault, path):
    with pytest.raises(MothError) as caught:
        sources(setup(**moved(data(), "units", 0, **fault)))
    assert caught.value.path == path


def test_a_reading_replaces_the_output():
    scene = setup(
        units=[{**data()["units"][0], "head": "point-60", "measured": {"lux": 1000, "distance": 3}}]
    )
    assert stages(scene.units[0])[0][1].distribution.intensity(0.0) == pytest.approx(9000)


@pytest.mark.parametrize("shape", ["round", "turned"])
@pytest.mark.parametrize("write", [write_ies, write_ldt])
def test_written_files_are_read_back_by_us_and_by_others(shape, write, tmp_path):
    made = (
        from_angles(5000, 40, 70)
        if shape == "round"
        else from_function(
            lambda c, g: 800 * (1 + 0.5 * np.cos(np.radians(c))) * np.cos(np.radians(g)) ** 2,
            symmetric=False,
        )
    )
    text = write(made, (0.4, 0.2), "Saltmarsh lamp", 100)
    read = read_photometry(text)
    assert read.distribution.lumens == pytest.approx(made.lumens, rel=0.01) and {
        round(s, 3) for s in read.size
    } >= {0.4, 0.2}
    for g, c in ((0, 0), (20, 90), (45, 180), (60, 270)):
        assert float(read.distribution.intensity(g, c)) == pytest.approx(
            float(made.intensity(g, c)), rel=0.01, abs=1
        )
    other = _independent(text, "ies" if write is write_ies else "ldt", tmp_path)
    assert other == pytest.approx(made.peak, rel=0.01)


def _independent(text, kind, folder):
    """Largest intensity as the registry's parser reads it [cd]."""
    path = folder / f"lamp.{kind}"
    path.write_text(text, encoding="latin-1", newline="")
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        lamp = LdtReader.read(str(path)) if kind == "ldt" else ies_to_ldt(str(path))
    return float(np.max(lamp.intensities)) * sum(float(f) for f in lamp.header.lamp_flux) / 1000


@pytest.mark.parametrize(
    "spoil",
    [
        lambda t: t[: len(t) // 2],
        lambda t: t.replace("\r\n1\r\n", "\r\n9\r\n", 1),
        lambda t: t.replace("45", "x", 1),
        lambda t: "",
    ],
)
def test_spoilt_eulumdat_is_refused_in_words(spoil):
    text = spoil(write_ldt(from_angles(5000, 40, 70), (0.4, 0.2), "lamp"))
    with pytest.raises(MothError) as caught:
        read_photometry(text)
    assert len(caught.value.sentence) > 15


def test_eulumdat_symmetries_unfold():
    base = write_ldt(
        Distribution(np.array([0.0, 45, 90]), np.zeros(1), np.array([[300.0, 200, 0]])),
        (0.2, 0.1),
        "lamp",
    ).splitlines()
    # The same lamp told by four quarters: C planes every 90 deg, symmetry about both axes stores
    # two of them.
    flux = float(base[28])
    rows = [
        *base[:2],
        "4",
        "4",
        "90",
        *base[5:42],
        "0",
        "90",
        "180",
        "270",
        *base[43:46],
        *[f"{c * 1000 / flux:.7g}" for c in (300, 200, 0, 300, 100, 0)],
    ]
    lamp = read_photometry("\r\n".join(rows)).distribution
    assert [round(float(lamp.intensity(45, c))) for c in (0, 90, 180, 270)] == [200, 100, 200, 100]


def test_materials_keep_energy_and_name_their_source():
    for m in MATERIALS.values():
        assert 0 < m.returned + m.transmission <= 0.98 and m.source and 0 < m.tolerance <= 0.5
    assert calibrated(MATERIALS["silk"], 90, 100).returned + 0.9 <= 0.981
    for pair in ((0, 10), (11, 10), (-1, 10)):
        with pytest.raises(MothError):
            calibrated(MATERIALS["silk"], *pair)
    with pytest.raises(MothError):
        calibrated(MATERIALS["foam-white"], 1, 2)


@pytest.mark.parametrize("baffles, cloths", [(1, 2), (1.4, 2), (2, 3)])
def test_the_number_of_cloths_in_a_box_became_which(baffles, cloths):
    old = data() | {"schema_version": 5}
    hung = [{"key": "softbox", "settings": {"width": 0.8, "baffles": baffles}}, {"key": "doors"}]
    old["units"] = [{**old["units"][0], "attachments": hung}]
    unit = load(old).units[0]
    assert unit.attachments[0].settings == {"width": 0.8, "cloths": cloths}
    assert lamp_of(unit).face is not None and unit.attachments[1].settings == {}
    # What makes no sense is left for the model to refuse.
    for broken in ([{"key": "softbox", "settings": 3}], "box", [7]):
        with pytest.raises(MothError):
            load({**old, "units": [{**old["units"][0], "attachments": broken}]})


@pytest.mark.parametrize("satin, cloth", [(True, "silk"), (False, "plain")])
def test_what_shone_became_silk(satin, cloth):
    old = data() | {"schema_version": 6}
    old["figures"] = [{**old["figures"][0], "satin": satin}]
    assert load(old).figures[0].cloth == cloth
    for broken in (3, [7]):
        with pytest.raises(MothError):
            load({**old, "figures": broken})


def test_a_set_up_of_version_one_is_read():
    old = data() | {"schema_version": 1}
    assert load(old).schema_version == 7 and upgrade(old) is not old and old["schema_version"] == 1
    with pytest.raises(MothError):
        load(
            {
                **data(),
                "grip": [
                    {
                        "id": "g",
                        "name": "g",
                        "kind": "board",
                        "material": "foam-white",
                        "position": [1, 1, 1],
                        "aim": [1, 1, 1],
                        "size": [1, 1],
                    }
                ],
            }
        )
    with pytest.raises(MothError) as caught:
        build_world(
            setup(
                grip=[
                    {
                        "id": "g",
                        "name": "g",
                        "material": "cheese",
                        "position": [1, 1, 1],
                        "aim": [2, 1, 1],
                        "size": [1, 1],
                    }
                ]
            )
        )
    assert caught.value.path == "grip[0].material"
    with pytest.raises(MothError) as caught:
        check_placement(
            setup(
                openings=[
                    {
                        "id": "w",
                        "name": "Wide",
                        "wall": "north",
                        "along": 0.2,
                        "up": 1,
                        "size": [1, 1],
                    }
                ]
            )
        )
    assert caught.value.path == "openings[0]"


WINDOW = {"id": "w", "name": "Window", "wall": "east", "along": 3.5, "up": 1.5, "size": [1.2, 1.0]}


def test_a_window_lights_as_its_sky_says():
    # Overcast sky seen through a small hole: E = L(elevation) x A cos cos / d^2.
    room = {"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}
    scene = setup(room=room, units=[], openings=[{**WINDOW, "size": [0.2, 0.2]}])
    meter = np.array([4.2, 3.5, 0.4])
    to = np.array([6.0, 3.5, 1.5]) - meter
    d = np.linalg.norm(to)
    zenith = FULL_SKY * 9 / (7 * np.pi)
    expected = zenith * (1 + 2 * to[2] / d) / 3 * 0.04 * (to[0] / d) / d**2
    assert ways(scene, meter, to)["lamp"] == pytest.approx(expected, rel=0.02)
    dark = ways(
        setup(room=room, units=[], openings=[{**WINDOW, "cover": "grid-full"}]),
        (5.0, 3.5, 1.5),
        (1, 0, 0),
    )
    assert dark.get("lamp", 0) == 0 < dark["w"]
    assert not sources(setup(room=room, openings=[{**WINDOW, "cover": "blackout"}]))[2].emitters


def test_a_cloth_over_a_window_lets_no_light_round_its_edge():
    # On the wall beside it, five degrees off the cloth's own plane.
    room = {"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}
    beside = ways(
        setup(room=room, units=[], openings=[{**WINDOW, "cover": "grid-full"}]),
        (5.75, 0.1, 1.5),
        (0, 1, 0),
    )
    open_ = ways(setup(room=room, units=[], openings=[WINDOW]), (5.75, 0.1, 1.5), (0, 1, 0))
    assert beside.get("lamp", 0) == 0 < beside["w"] < open_["lamp"]


def test_the_sun_comes_in_only_where_it_looks():
    room = {"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}
    scene = setup(
        room=room,
        units=[],
        openings=[WINDOW],
        sky={"on": False, "sun": {"azimuth": 90, "elevation": 20, "level": 50_000}},
    )
    to = sun_direction(scene.sky.sun)
    inside = np.array([6, 3.5, 1.5]) - 2 * to
    assert ways(scene, inside, to, source=1)["lamp"] == pytest.approx(FULL_SUN, rel=0.01)
    assert ways(scene, inside + [0, 1.5, 0], to, source=1).get("lamp", 0) == 0
    assert source_levels(scene) == {"@sky": 0.0, "@sun": 1.0}


def test_an_open_sky_gives_its_level_on_the_ground():
    for kind in ("overcast", "clear"):
        scene = setup(
            room={
                "width": 6,
                "depth": 7,
                "height": 3,
                "outdoors": True,
                "floor": {"reflectance": 0.0},
            },
            units=[],
            sky={"kind": kind},
        )
        got = ways(scene, (1.0, 6.0, 0.05), (0, 0, 1))
        assert sum(got.values()) == pytest.approx(FULL_SKY, rel=0.03)
        luminance = outside(scene.sky)(np.array([[0, 0, 1.0], [0, 0, -1.0]]))
        assert luminance[1] == pytest.approx(0.2 * FULL_SKY / np.pi)
        assert (sky_luminance(scene.sky, np.array([[0, 0, 1.0]])) > 0).all()


def hard(**more):
    return {**data()["units"][0], "head": "point-300", "dimmer": 1.0, **more}


PANE = {"id": "w", "name": "w", "wall": "west", "along": 3.5, "up": 1.5, "size": [1.2, 1.2]}


@pytest.mark.parametrize("move", MOVES)
def test_every_move_gives_a_rig_that_stands(move):
    for position in ([4.4, 4.4, 2.0], [1.0, 4.5, 1.6], [3.2, 5.0, 2.6], [5.4, 1.0, 1.2]):
        scene = setup(units=[hard(position=position)], openings=[PANE])
        rigged = make(scene, "key", move)
        check_placement(rigged)
        assert CAUTION[move] and len({g.id for g in rigged.grip}) == len(rigged.grip)
        twice = make(rigged, "key", move)
        assert len({g.id for g in twice.grip}) == len(twice.grip)
    with pytest.raises(MothError):
        make(scene, "nobody", move)


def test_a_bounce_costs_and_softens():
    straight = inspect_unit(setup(units=[hard()]), "key")
    board = inspect_unit(make(setup(units=[hard()]), "key", "bounce-board"), "key")
    assert (
        board.origin == "sheet"
        and board.cost.stops < -1
        and board.size.degrees > 3 * straight.size.degrees
    )
    assert board.shadow.cheek > 3 * straight.shadow.cheek
    assert [s.kind for s in board.stages][-1] == "face" and sum(
        w.share for w in board.ways
    ) == pytest.approx(1, abs=0.01)
    ceiling = inspect_unit(make(setup(units=[hard()]), "key", "bounce-ceiling"), "key")
    assert ceiling.origin == "wall" and any(s.name == "On the ceiling" for s in ceiling.stages)
    cloth = inspect_unit(make(setup(units=[hard()]), "key", "cloth"), "key")
    assert (
        cloth.coverage.widths.half
        <= cloth.coverage.widths.one
        <= cloth.coverage.widths.one_and_half
    )
    with pytest.raises(KeyError):
        inspect_unit(setup(), "nobody")


def test_warm_cloth_warms_the_face():
    plain, warm = (
        inspect_unit(
            make(setup(units=[hard(cct=5600)]), "key", "cloth", material), "key"
        ).white.kelvin
        for material in ("muslin-bleached", "muslin-unbleached")
    )
    assert 1e6 / warm - 1e6 / plain == pytest.approx(25, abs=8)


@pytest.mark.parametrize(
    "unit, grip, words",
    [
        ({"head": "bulb", "attachments": [{"key": "crate"}]}, [], "bare bulb"),
        ({"head": "fresnel-200", "aim": [4.4, 6.9, 1.0]}, [], "aimed at the north wall"),
        (
            {"aim": [3, 3, 1.2]},
            [
                {
                    "id": "f",
                    "name": "Frame",
                    "kind": "frame",
                    "material": "grid-half",
                    "position": [4.9, 4.9, 2.1],
                    "aim": [3, 3, 1.2],
                    "size": [1, 1],
                }
            ],
            "behind this lamp",
        ),
        (
            {"position": [0.6, 6.2, 1.6], "aim": [1.2, 5.0, 1.5]},
            [
                {
                    "id": "b",
                    "name": "Board",
                    "kind": "board",
                    "material": "foam-white",
                    "position": [1.2, 5.0, 1.5],
                    "aim": [0.8, 6.2, 1.5],
                    "size": [1.2, 1.2],
                }
            ],
            "turned away",
        ),
        (
            {"aim": [3.6, 3.6, 1.6]},
            [
                {
                    "id": "c",
                    "name": "Cloth",
                    "kind": "frame",
                    "material": "grid-half",
                    "position": [4.2, 4.2, 1.9],
                    "aim": [3, 3, 1.2],
                    "size": [0.8, 0.8],
                }
            ],
            "keep at least",
        ),
        (
            {"attachments": [{"key": "lens-26"}, {"key": "lens-50"}]},
            [],
            "only one of them can be the optic",
        ),
        (
            {"head": "panel-small", "attachments": [{"key": "lens-26"}]},
            [],
            "cannot be hung on a soft panel",
        ),
        ({"head": "fresnel-200", "aim": [4.4, 4.4, 0.1]}, [], "aimed at the floor"),
        ({"head": "fresnel-200", "aim": [4.4, 4.4, 2.9]}, [], "aimed at the ceiling"),
        ({"head": "fresnel-200", "aim": [5.9, 4.4, 2.0]}, [], "aimed at the east wall"),
        (
            {"head": "fresnel-200", "aim": [5.4, 5.4, 2.0]},
            [
                {
                    "id": "f",
                    "name": "Black flag",
                    "kind": "flag",
                    "material": "duvetyne",
                    "position": [5.0, 5.0, 2.0],
                    "aim": [4.4, 4.4, 2.0],
                    "size": [1.2, 1.2],
                }
            ],
            "aimed at 'Black flag'",
        ),
        (
            {"head": "fresnel-200", "position": [4.4, 4.4, 1.6], "aim": [4.2, 2.8, 1.2]},
            [
                {
                    "id": "b",
                    "name": "Low board",
                    "kind": "board",
                    "material": "foam-white",
                    "position": [4.2, 2.8, 1.2],
                    "aim": [3.7, 3.8, 1.4],
                    "size": [0.3, 0.3],
                }
            ],
            "of its light goes past Low board",
        ),
    ],
)
def test_rigs_that_cannot_work_are_said_in_words(unit, grip, words):
    _said_at_the_unit(unit, grip, words)


@pytest.mark.parametrize(
    "unit, furniture, words",
    [
        (
            {"head": "fresnel-200", "aim": [5.4, 3.4, 0.6]},
            [
                {
                    "id": "c",
                    "name": "Chart chest",
                    "kind": "box",
                    "position": [5.2, 3.6, 0],
                    "size": [1.0, 1.0, 1.4],
                    "surface": {"reflectance": 0.01},
                }
            ],
            "aimed at 'Chart chest'",
        ),
        (
            {
                "attachments": [{"key": "lens-19"}],
                "position": [3.0, 4.6, 0.5],
                "aim": [3.2, 3.25, 0.45],
            },
            [],
            "aimed at the body of 'Subject'",
        ),
    ],
)
def test_what_a_lamp_is_aimed_at_instead_is_named(unit, furniture, words):
    _said_at_the_unit(unit, [], words, furniture)


def _said_at_the_unit(unit, grip, words, furniture=()):
    lamp = hard(**{"position": [4.4, 4.4, 2.0], **unit})
    black = "aimed at" in words or "goes past" in words
    room = {"width": 6, "depth": 7, "height": 3, **(BLACK_ROOM if black else {})}
    faults = inspect_unit(
        setup(units=[lamp], grip=grip, room=room, furniture=list(furniture)), "key"
    ).faults
    assert any(words in f for f in faults), faults


@pytest.mark.parametrize("plane", ["floor", "face", "north", "east"])
def test_a_map_agrees_with_the_meter(plane):
    scene = setup()
    found = level_map(scene, plane)
    lux = np.array(found.lux).reshape(found.rows, found.columns)
    assert lux.shape[0] > 5 and lux.max() > 0
    if plane == "floor":
        row, column = found.rows // 4, found.columns // 4
        place = np.array([(column + 0.5) / found.columns * 6, (row + 0.5) / found.rows * 7, 0.004])
        colour = source_colours(scene, 6504)
        expected = sum(
            sum(ways(scene, place, (0, 0, 1), source=k).values())
            * u.dimmer
            * (colour[u.id] @ [0.2126, 0.7152, 0.0722])
            for k, u in enumerate(scene.units)
        )
        assert lux[row, column] == pytest.approx(expected, rel=0.12)
    assert max(level_map(scene, plane, "fill").lux) < lux.max()


def test_one_board_serves_two_lamps():
    board = {
        "id": "b",
        "name": "Board",
        "kind": "board",
        "material": "foam-white",
        "position": [4.6, 4.2, 1.6],
        "aim": [3.2, 4.0, 1.4],
        "size": [1.2, 1.2],
    }
    lamps = [
        hard(position=[2.6, 6.2, 1.7], aim=[4.6, 4.2, 1.6]),
        hard(id="fill", name="Fill", role="fill", position=[2.2, 5.8, 2.0], aim=[4.6, 4.2, 1.6]),
    ]
    scene = setup(units=lamps, grip=[board])
    world = build_world(scene)
    assert all(any(g.sheet == 0 for g in light_of(world, s).glows) for s in sources(scene))
    assert read_setup(scene).ratios.single.ratio is not None


def test_a_lamp_that_stands_across_a_cloth_lights_it_from_both_sides():
    """A panel half before and half behind a frost, edge on to it: each side sends on what falls on
    it.
    """
    frost = {
        "id": "frost",
        "name": "Frost",
        "kind": "frame",
        "material": "frost-light",
        "position": [3, 4, 1.5],
        "aim": [3, 5, 1.5],
        "size": [1.2, 1.2],
    }
    panel = {
        "id": "key",
        "name": "Key",
        "role": "key",
        "head": "panel-small",
        "position": [1.9, 4, 1.5],
        "aim": [3, 4, 1.5],
        "dimmer": 1,
    }
    scene = setup(
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
        figures=[{**data()["figures"][0], "position": [3, 6.2]}],
        grip=[frost],
        units=[panel],
    )
    world = build_world(scene)
    light, p = light_of(world, sources(scene)[0]), world.patches
    fallen = [
        float((light.lit[:, 0] * p.area)[(p.sheet == 0) & (p.side == side)].sum())
        for side in (1, -1)
    ]
    sent = [
        sum(
            float(g.cells.power.sum())
            for g in light.glows
            if g.sheet == 0 and p.side[g.patches[0]] == side
        )
        for side in (1, -1)
    ]
    # The two sides stand alike to the lamp, and what one is lit by leaves the other in the lobe
    # through it.
    assert fallen[0] > 50 and fallen[0] == pytest.approx(fallen[1], rel=0.05)
    assert sent == pytest.approx(
        [3 * MATERIALS["frost-light"].forward * lm for lm in fallen[::-1]], rel=0.01
    )


def test_the_open_sky_in_the_frame_is_the_sky_and_not_its_patches():
    # CIE overcast: (1 + 2 sin h) / 3 of the zenith, 9/7 of the level over pi; smooth from row to
    # row.
    scene = setup(
        room={"width": 6, "depth": 7, "height": 3, "outdoors": True},
        sky={"kind": "overcast", "level": 10_000},
        units=[],
        cameras=[
            {
                "id": "a",
                "name": "A",
                "position": [3, 6, 1.5],
                "aim": [3, 0, 3.5],
                "focal_length": 24,
            }
        ],
    )
    world = build_world(scene)
    view = view_of(world, scene, scene.cameras[0], (64, 36))
    sky = render_layer(world, view, sources(scene)[0]).surfaces[:, 32] @ LUMINANCE
    rays = view.rays(np.full(36, 32.5), np.arange(36) + 0.5)
    up = rays[:, 2] / np.linalg.norm(rays, axis=1)
    expected = 10_000 * 9 / 7 / np.pi * (1 + 2 * up) / 3
    high = up > 0.1
    np.testing.assert_allclose(sky[high], expected[high], rtol=0.01)


def test_a_window_seen_aslant_is_as_bright_as_the_sky_behind_it():
    # An even sky, so that every pixel of the pane is the same; twenty degrees off its plane.
    room = {"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}
    scene = setup(
        room=room,
        units=[],
        openings=[WINDOW],
        figures=[{"id": "s", "name": "s", "position": [0.5, 0.5]}],
        cameras=[
            {
                "id": "a",
                "name": "A",
                "position": [5.2, 5.7, 1.5],
                "aim": [6.0, 3.5, 1.5],
                "focal_length": 35,
            }
        ],
    )
    world, source = build_world(scene), next(s for s in sources(scene) if s.id == "@sky")
    layer = render_layer(world, view_of(world, scene, scene.cameras[0], (320, 180)), source)
    sky = layer.cover > 0.99
    assert sky[layer.seen // 320 < 85].mean() > 0.9
    # The land, at a fifth of the level, or less beside the house, that hides sky from it.
    below = layer.seen[(layer.cover == 0) & (layer.seen // 320 > 100)]
    shown = (layer.surfaces @ LUMINANCE)[below // 320, below % 320] / (0.2 * FULL_SKY / np.pi)
    assert shown.max() < 1.02 and np.mean(shown > 0.6) > 0.97
    # And as even as it is: no pixel leaps from its neighbour.
    beside = np.diff(below) == 1
    leaps = np.abs(np.diff(shown)[beside] / shown[1:][beside])
    assert beside.sum() > 1000 and (leaps < 0.02).mean() > 0.97


@pytest.mark.parametrize(
    "move, angle",
    [
        # Nearer to the lens than this a book's own cloth reaches into the frame on either side.
        *(("book", angle) for angle in (-60, -45, 50)),
        *((move, a) for move in ("bounce-board", "mirror") for a in (-60, -45, 30, 50)),
    ],
)
def test_a_rig_stands_out_of_the_frame_where_a_side_is_free(move, angle):
    """What the frame shows of head, board and cloth is rendered: none of it hides the picture."""
    face = anchor(setup())
    room = {"width": 8, "depth": 9, "height": 3.2}
    camera = {"id": "a", "name": "A", "position": [3, 5.6, 1.25], "aim": [3, 3, 1.2]}
    a = np.radians(angle)
    place = face + 1.9 * np.array([np.sin(a), np.cos(a), 0.3])
    lamp = hard(head="softbox-small", position=place.tolist(), aim=face.tolist())
    made = make(setup(units=[lamp], room=room, cameras=[camera]), "key", move)
    world = build_world(made)
    view = view_of(world, made, made.cameras[0], (96, 54))
    layer = render_layer(world, view, sources(made)[0])
    assert layer.cover.sum() < 0.02 * 96 * 54
    before = np.linalg.norm(face - np.array(camera["position"])) - 0.4
    assert (view.depth < before).mean() < 0.02
