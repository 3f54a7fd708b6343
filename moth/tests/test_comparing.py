"""Set-ups compared and matched; the subject walked through the light."""

import numpy as np
import pytest

from moth.errors import MothError
from moth.judging import acting_area, compare, walk_path
from moth.metering import read_setup
from moth.solving import match
from moth.tests.scenes import BLACK_ROOM, setup

KEY = {
    "id": "k",
    "name": "Key",
    "role": "key",
    "head": "panel-2x1",
    "position": [4.4, 4.6, 2.1],
    "aim": [3, 3, 1.2],
    "dimmer": 0.5,
}
FILL = {
    "id": "f",
    "name": "Fill",
    "role": "fill",
    "head": "panel-2x1",
    "position": [1.9, 4.9, 1.5],
    "aim": [3, 3, 1.2],
    "dimmer": 0.12,
}
RIM = {
    "id": "r",
    "name": "Rim",
    "role": "edge",
    "head": "fresnel-200",
    "position": [3.6, 0.8, 2.3],
    "aim": [3, 3, 1.4],
    "dimmer": 0.3,
}
WASH = {
    "id": "w",
    "name": "Wash",
    "role": "background",
    "head": "battery-panel",
    "position": [1.4, 1.4, 1.8],
    "aim": [3, 0, 1.4],
    "dimmer": 0.6,
}


def lit(*units, **more):
    return setup(**{"units": list(units or (KEY, FILL, RIM, WASH)), **more})


def face(scene):
    return {m.id: m.lux for m in read_setup(scene).marks}


STARTS = [
    (0.9, 0.9, 0.9, 0.9),
    (0.05, 0.05, 0.05, 0.05),
    (0.5, 0.9, 0.1, 0.2),
    (1.0, 0.02, 1.0, 0.02),
    (0.02, 1.0, 0.02, 1.0),
    (0.3, 0.3, 0.3, 0.3),
    (0.7, 0.2, 0.9, 0.6),
    (0.11, 0.6, 0.4, 1.0),
    (0.99, 0.5, 0.01, 0.5),
    (0.4, 0.01, 0.8, 0.3),
]


@pytest.mark.parametrize("start", STARTS)
def test_match_brings_every_level_back_from_ten_starts(start):
    reference = lit()
    away = lit(*({**u, "dimmer": d} for u, d in zip((KEY, FILL, RIM, WASH), start, strict=True)))
    found = match(away, reference)
    # Metered again on its own: within a tenth of a stop on every mark.
    was, now = face(reference), face(found.setup)
    assert all(abs(np.log2(now[mark] / was[mark])) < 0.1 for mark in was), found.words
    assert "within a tenth" in found.words


def test_a_moved_lamp_is_matched_as_far_as_it_goes_and_the_rest_is_told():
    reference = lit()
    away = lit({**KEY, "position": [5.2, 3.6, 1.5]}, FILL, RIM, WASH)
    found = match(away, reference)
    was, now = face(reference), face(found.setup)
    # The other places of the lamp make another face: what the words leave is what the meter still
    # finds.
    for mark, off in found.left.items():
        if mark != "hair":
            # The key side itself moves with the key: both read where their own key stands.
            assert off == pytest.approx(np.log2(now[mark] / was[mark]), abs=1e-6)
    assert found.words.endswith(".") and ("Left:" in found.words) == any(
        abs(v) > 0.1 for v in found.left.values()
    )
    before = max(abs(np.log2(face(away)[m] / was[m])) for m in was)
    assert max(abs(np.log2(now[m] / was[m])) for m in was) <= before + 0.05


def test_what_cannot_be_dimmed_stays_and_a_unit_nobody_needs_goes_off():
    reference = lit(KEY, FILL)
    held = lit(KEY, {**FILL, "dimmer": 0.4}, fixed=[{"thing": "f"}])
    assert match(held, reference).setup.units[1].dimmer == 0.4
    extra = match(lit(KEY, FILL, {**WASH, "dimmer": 0.8}), reference)
    assert not extra.setup.units[2].on and "Wash off" in extra.words
    assert "can be dimmed" in match(setup(units=[]), reference).words
    assert "no light there" in match(lit(), setup(units=[])).words


def test_a_brighter_reference_says_what_is_short():
    found = match(lit({**KEY, "head": "battery-panel"}, FILL), lit({**KEY, "dimmer": 1.0}, FILL))
    assert (
        found.setup.units[0].dimmer == 1.0
        and found.left["key-side"] < -0.5
        and "key side" in found.words
        and "under" in found.words
    )


def rows(scene, reference):
    return {(r.kind, r.what): r for r in compare(scene, reference)}


def test_differences_are_told_in_words_and_stops():
    reference = lit()
    other = lit(
        {**KEY, "dimmer": 0.25, "position": [4.4, 4.9, 2.1]},
        {**FILL, "on": False},
        RIM,
        title="Second",
        cameras=[
            {
                "id": "a",
                "name": "A",
                "position": [3, 5.5, 1.25],
                "aim": [3, 3, 1.2],
                "t_stop": 4.0,
                "iso": 1600,
                "focal_length": 85,
            }
        ],
    )
    told = rows(other, reference)
    assert (
        told["camera", "stop"].stops == pytest.approx(2 * np.log2(2.8 / 4.0))
        and "less exposure" in told["camera", "stop"].words
    )
    assert (
        told["camera", "index"].stops == pytest.approx(1)
        and "more exposure" in told["camera", "index"].words
    )
    assert "85 mm" in told["camera", "lens"].words
    assert (
        told["unit", "Key"].stops == pytest.approx(-1)
        and "1 stop down" in told["unit", "Key"].words
        and "0.30 m" in told["unit", "Key"].words
    )
    assert (
        "off, there on" in told["unit", "Fill"].words and told["unit", "Wash"].words == "only there"
    )
    was, now = face(reference), face(other)
    chin = told["level", "under the chin, toward the lens"]
    assert chin.stops == pytest.approx(np.log2(now["chin"] / was["chin"])) and "down" in chin.words
    assert ("ratio", "key to fill") in told


def test_the_same_differs_in_nothing_and_the_other_way_round_the_signs_turn():
    a, b = lit(), lit({**KEY, "dimmer": 0.25}, FILL, RIM, WASH)
    assert compare(a, a) == []
    assert {k: pytest.approx(-r.stops) for k, r in rows(a, b).items() if r.stops is not None} == {
        k: r.stops for k, r in rows(b, a).items() if r.stops is not None
    }


def test_softness_and_grip_are_compared():
    board = {
        "id": "b",
        "name": "Board",
        "kind": "board",
        "material": "foam-white",
        "position": [1.5, 3.0, 1.4],
        "aim": [3, 3, 1.2],
        "size": [1.2, 1.2],
    }
    soft = lit({**KEY, "head": "softbox-large"}, grip=[board])
    told = rows(
        soft,
        lit(
            KEY,
            grip=[
                {
                    **board,
                    "material": "muslin-bleached",
                    "position": [1.5, 3.4, 1.4],
                    "size": [1.0, 1.0],
                }
            ],
        ),
    )
    assert "softer" in told["unit", "Key"].words and " for " in told["grip", "Board"].words
    assert "moved" in told["grip", "Board"].words and "1.2 × 1.2" in told["grip", "Board"].words


CAMERA = {"id": "a", "name": "A", "position": [3, 5.5, 1.25], "aim": [3, 3, 1.2]}


@pytest.mark.parametrize(
    ("changed", "what", "words", "stops"),
    [
        ({"shutter": {"angle": 90}}, "shutter", "1/100 s for 1/50 s, 1 stop less exposure", -1),
        ({"shutter": {"time": 0.02}, "fps": 24}, "frame rate", "24 for 25 fps", None),
        ({"nd": 2}, "ND and filters", "2 for 0 stops, 2 stops less exposure", -2),
        ({"nd": 1, "filter_loss": 1}, "ND and filters", "2 for 0 stops, 2 stops less exposure", -2),
        ({"white_balance": 3200, "tint": 0.2}, "white", "3200 K, tint +0.2 for 5600 K, +0", None),
        ({"sensor": "full-frame"}, "lens", "50 mm on full frame for 50 mm on super 35", None),
        ({"position": [3, 6.0, 1.25]}, "place", "moved 0.50 m", None),
        ({"aim": [3.3, 3, 1.2]}, "aim", "moved 0.30 m", None),
        ({"curve": "acescct"}, "curve", "acescct for bt709", None),
    ],
)
def test_every_setting_of_the_camera_is_told_with_what_it_does_to_exposure(
    changed, what, words, stops
):
    told = rows(lit(KEY, cameras=[{**CAMERA, **changed}]), lit(KEY, cameras=[CAMERA]))
    row = told["camera", what]
    assert row.words == words and row.stops == (pytest.approx(stops) if stops else None)
    # Nothing else of the camera is said to have changed.
    assert [key for key in told if key[0] == "camera"] == [("camera", what)]


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"on": False}, "off, there on"),
        ({"head": "panel-small"}, "Soft panel"),
        ({"aim": [3.4, 3, 1.2]}, "aims 0.40 m off"),
        ({"cct": 3200}, "white 3200 K for 5600 K"),
        ({"green": 0.5}, "another colour"),
        ({"attachments": [{"key": "crate"}]}, "hung with Egg crate for nothing"),
    ],
)
def test_every_change_of_a_unit_is_told(changed, words):
    there = lit(KEY, FILL)
    here = lit({**KEY, **changed}, FILL)
    told, turned = rows(here, there), rows(there, here)
    assert words in told["unit", "Key"].words and ("unit", "Fill") not in told
    assert ("unit", "Key") in turned and ("unit", "Fill") not in turned


def test_what_is_dark_here_and_lit_there_is_told_without_stops():
    dark, bright = (
        lit({**KEY, "on": False}, room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}),
        lit(KEY, room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}),
    )
    here, there = (
        rows(dark, bright)["level", "under the chin, toward the lens"],
        rows(bright, dark)["level", "under the chin, toward the lens"],
    )
    assert (here.words, here.stops) == ("dark here, lit there", None) and (
        there.words,
        there.stops,
    ) == ("lit here, dark there", None)
    assert compare(dark, dark) == []


def test_a_ratio_that_only_one_of_them_has_is_told():
    row = rows(lit(KEY, FILL), setup(units=[]))["ratio", "key to fill"]
    assert row.words.endswith(":1; there nothing lights the face") and row.stops is None


def test_grip_turned_the_subject_moved_and_another_place_are_told():
    flag = {
        "id": "g",
        "name": "Flag",
        "kind": "flag",
        "material": "duvetyne",
        "position": [1.5, 3.0, 1.4],
        "aim": [3, 3, 1.2],
        "size": [0.6, 0.9],
    }
    subject = {"id": "subject", "name": "Subject", "pose": "seated", "position": [3, 3]}
    reference = lit(KEY, grip=[flag], figures=[subject])
    other = lit(
        KEY,
        grip=[{**flag, "aim": [3, 3.6, 1.2]}],
        figures=[{**subject, "position": [3.2, 3], "facing": 20}],
        haze=0.02,
    )
    told = rows(other, reference)
    assert told["grip", "Flag"].words == "turned" and told["place", "haze"].words == "not the same"
    assert told["place", "Subject"].words == "moved 0.20 m, turned +20°"
    assert rows(lit(KEY, figures=[subject]), reference)["grip", "Flag"].words == "only there"
    assert rows(reference, lit(KEY, figures=[subject]))["grip", "Flag"].words == "only here"


FAR = {
    "id": "k",
    "name": "Key",
    "role": "key",
    "head": "point-600",
    "position": [3, 6.8, 1.3],
    "aim": [3, 3, 1.17],
}


def test_a_walk_toward_a_lamp_follows_the_inverse_square():
    scene = setup(
        units=[FAR],
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
        cameras=[{"id": "a", "name": "A", "position": [3, 6.7, 1.6], "aim": [3, 3, 1.2]}],
    )
    path = walk_path(scene, 0.0, 1.8)
    lamp = np.array(FAR["position"])
    away = [np.linalg.norm(lamp - p.position) for p in path]
    expected = [2 * np.log2(away[0] / d) for d in away]
    np.testing.assert_allclose([p.stops for p in path], expected, atol=0.06)
    assert path[0].distance == 0 and path[-1].distance == pytest.approx(1.8)


def test_a_walk_ends_at_the_wall_and_in_the_dark_there_is_none():
    scene = lit(KEY, FILL)
    assert walk_path(scene, 180.0, 6.0)[-1].distance < 3.0
    with pytest.raises(MothError, match="dark at the mark"):
        walk_path(setup(units=[]), 0.0, 1.0)
    with pytest.raises(MothError, match="between"):
        walk_path(scene, 0.0, 30.0)


def test_the_acting_area_of_a_far_lamp_is_wider_than_that_of_a_near_one():
    room = {"width": 10, "depth": 12, "height": 4, **BLACK_ROOM}
    near, far = ({**FAR, "position": [3, 3 + d, 1.3]} for d in (1.5, 6.0))
    cameras = [{"id": "a", "name": "A", "position": [3, 8.0, 1.6], "aim": [3, 3, 1.2]}]
    wide, narrow = (acting_area(setup(units=[u], room=room, cameras=cameras)) for u in (far, near))
    third, half = ({a.part: a.area for a in w.areas} for w in (wide, narrow))
    assert (
        third[1 / 3] > 2 * half[1 / 3] > 0
        and all(a.area > 0 for a in wide.areas)
        and wide.areas[1].area > wide.areas[0].area
    )
    # On the axis a third of a stop is a change of distance by 2^(1/6): 0.17 m at 1.5 m.
    n, stops = narrow.cells, np.array(narrow.stops).reshape(narrow.cells, -1)
    column = stops[:, n // 2]
    y = np.linspace(-narrow.side / 2, narrow.side / 2, n)
    ahead = y[(y > 0) & (y < 1.0)][np.argmax(column[(y > 0) & (y < 1.0)] > 1 / 3)]
    assert ahead == pytest.approx(1.5 * (1 - 2 ** (-1 / 6)), abs=0.16)


def test_where_the_eyes_rest_costs_no_new_light():
    from moth.world import world_key

    scene = lit()
    turned = scene.model_copy(
        update={"figures": (scene.figures[0].model_copy(update={"eyeline": (3.5, 5.0, 1.2)}),)}
    )
    assert world_key(turned) == world_key(scene)


def test_what_the_frame_does_otherwise_is_told_in_the_words_of_its_readings():
    low = {**KEY, "position": [3.6, 4.2, 0.35]}
    rows = compare(lit(low, FILL), lit(KEY, FILL))
    told = {r.what: r.words for r in rows if r.kind == "reading"}
    assert told["nose shadow"].startswith("from below for ")
    back = {r.what: r.words for r in compare(lit(KEY, FILL), lit(low, FILL)) if r.kind == "reading"}
    assert back["nose shadow"].endswith(" for from below")
    assert not [r for r in compare(lit(), lit()) if r.kind == "reading"]
