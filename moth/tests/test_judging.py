"""The picture judged by its parts, targets, exposing for what is fixed, the order of work: against
the meter and closed forms.
"""

import numpy as np
import pytest

from moth.camera import bt709, frame_exposure, key_level, stops_over_grey
from moth.document import Order, Step, load
from moth.errors import DocumentError
from moth.judging import (
    PLANS,
    PROFILES,
    can_be_fixed,
    headroom,
    picture_of,
    read_asked,
    read_fixed,
    read_order,
    read_targets,
    start,
)
from moth.judging.glints import glints_of
from moth.judging.picture import SIZE, project_far
from moth.materials import MATERIALS
from moth.metering import lay_out, read_ratios, read_setup
from moth.tests.scenes import BLACK_ROOM, data, setup
from moth.transport import project
from moth.wording import ratio_words
from moth.world import opening_corners

KEY = {
    "id": "k",
    "name": "Key",
    "role": "key",
    "head": "softbox-large",
    "position": [1.6, 4.6, 2.0],
    "aim": [3, 3, 1.2],
    "dimmer": 0.4,
}
FILL = {
    "id": "f",
    "name": "Fill",
    "role": "fill",
    "head": "panel-2x1",
    "position": [4.4, 4.9, 1.5],
    "aim": [3, 3, 1.2],
    "dimmer": 0.1,
}
RIM = {
    "id": "r",
    "name": "Rim",
    "role": "edge",
    "head": "fresnel-200",
    "position": [3.9, 1.0, 2.4],
    "aim": [3, 3, 1.4],
    "dimmer": 0.03,
}
DARK = {
    "width": 6,
    "depth": 7,
    "height": 3,
    **{
        side: {"reflectance": 0.05}
        for side in ("floor", "ceiling", "north", "south", "east", "west")
    },
}
CAMERA = {
    "id": "a",
    "name": "A",
    "position": [3, 5.5, 1.25],
    "aim": [3, 3, 1.2],
    "focal_length": 70,
}
BULB = {
    "id": "lamp",
    "name": "Table lamp",
    "role": "practical",
    "head": "bulb",
    "position": [3.7, 3.0, 1.2],
    "aim": [3.7, 3.0, 0.2],
}


def lit(*units, **more):
    return setup(
        **{"units": list(units or (KEY, FILL, RIM)), "room": DARK, "cameras": [CAMERA], **more}
    )


@pytest.fixture(scope="module")
def scene():
    return lit()


@pytest.fixture(scope="module")
def picture(scene):
    return picture_of(scene)


def by(rows, key="key"):
    return {getattr(r, key): r for r in rows}


def test_parts_lie_where_they_should(scene, picture):
    parts = picture.parts
    assert all(
        len(parts[part]) for part in ("skin", "shadow", "highlights", "floor", "backdrop", "edge")
    )
    rows, columns = {}, {}
    for part, pixels in parts.items():
        rows[part], columns[part] = np.divmod(pixels, SIZE[0])
    # The key stands camera right of this lens: the lit cheek shows right of the shaded one, both
    # under the crown.
    marks = lay_out(scene).marks
    for part, mark in (("skin", "key-side"), ("shadow", "fill-side")):
        ((x, y),) = project(scene.cameras[0], [marks[mark].position])
        assert columns[part].mean() == pytest.approx(x * SIZE[0], abs=2.5) and rows[
            part
        ].mean() == pytest.approx(y * SIZE[1], abs=2.5)
    assert not set(parts["backdrop"]) & (set(parts["skin"]) | set(parts["edge"]))
    assert (
        picture.signal("highlights")
        > picture.signal("skin")
        > picture.signal("shadow")
        > picture.signal("floor")
    )


@pytest.mark.parametrize(
    ("material", "looked_through"),
    [("net-single", True), ("net-double", True), ("muslin-bleached", False)],
)
def test_what_stands_behind_a_net_is_judged_as_if_it_were_not_there(
    picture, material, looked_through
):
    cloth = {
        "id": "net",
        "name": "Net",
        "kind": "frame",
        "material": material,
        "position": [3, 5.2, 1.25],
        "aim": [3, 5.4, 1.25],
        "size": [1.2, 1.2],
    }
    netted = picture_of(lit(grip=[cloth]))
    same = len(np.intersect1d(picture.parts["skin"], netted.parts["skin"])) / len(
        picture.parts["skin"]
    )
    assert (same > 0.8) if looked_through else same < 0.2
    if looked_through:
        assert netted.signal("skin") == pytest.approx(
            MATERIALS[material].straight * picture.signal("skin"), rel=0.12
        )


def test_the_picture_is_the_sum_of_its_sources(scene, picture):
    alone = sum(
        picture_of(
            scene.model_copy(
                update={
                    "units": tuple(u.model_copy(update={"on": u.id == name}) for u in scene.units)
                }
            )
        ).mix
        for name in ("k", "f", "r")
    )
    np.testing.assert_allclose(picture.mix, alone, rtol=1e-6, atol=1e-9)
    halved = picture_of(
        scene.model_copy(update={"cameras": (scene.cameras[0].model_copy(update={"nd": 1.0}),)})
    )
    np.testing.assert_allclose(halved.mix, picture.mix / 2, rtol=1e-6)


def test_a_matte_wall_sits_where_its_light_puts_it():
    # A wall of known reflectance: L = rho E / pi, and the frame's own exposure.
    wall = {**DARK, "south": {"reflectance": 0.4}}
    washer = {
        "id": "w",
        "name": "Wash",
        "role": "background",
        "head": "panel-2x1",
        "position": [3.0, 1.9, 2.8],
        "aim": [3.0, 0, 1.3],
    }
    scene = lit(washer, room=wall)
    picture, told = picture_of(scene), read_setup(scene)
    backdrop = next(m for m in told.marks if m.id == "backdrop")
    ((x, y),) = project(scene.cameras[0], [[backdrop.position[0] - 0.45, *backdrop.position[1:]]])
    seen = picture.mix[int(y * SIZE[1]), int(x * SIZE[0])]
    # Beside the head, half a metre off the mark: the wash is nearly even there.
    assert stops_over_grey(seen) == pytest.approx(
        stops_over_grey(0.4 * backdrop.lux / np.pi * frame_exposure(scene.cameras[0])), abs=0.35
    )


def test_targets_are_met_or_missed_by_stops_and_their_unit_moves_them(scene, picture):
    sits = {part: stops_over_grey(picture.signal(part)) for part in ("skin", "backdrop", "edge")}
    profile = {
        "name": "Own",
        "targets": [
            {"what": "skin", "stops": sits["skin"] - 1},
            {"what": "edge", "stops": sits["edge"]},
            {"what": "backdrop", "stops": sits["backdrop"] + 9},
        ],
    }
    asked = lit(profile=profile)
    rows = by(read_targets(asked, picture), "what")
    assert rows["edge"].met and rows["edge"].words.startswith("met")
    assert rows["skin"].code == pytest.approx(float(bt709(0.18 * 2 ** (sits["skin"] - 1))))
    assert (
        rows["skin"].off == pytest.approx(1)
        and not rows["skin"].met
        and rows["skin"].unit == "k"
        and "1 over" in rows["skin"].words
    )
    assert (
        rows["backdrop"].dimmer is None
        and "not by its dimmer alone" in rows["backdrop"].words
        and "clips" in rows["backdrop"].words
    )
    # Taken to the dimmer that is told, it sits on the target.
    moved = asked.model_copy(
        update={
            "units": tuple(
                u.model_copy(update={"dimmer": rows["skin"].dimmer}) if u.id == "k" else u
                for u in asked.units
            )
        }
    )
    again = by(read_targets(moved, picture_of(moved)), "what")["skin"]
    assert again.met and again.off == pytest.approx(0, abs=0.02)


@pytest.mark.parametrize(
    ("how", "under", "over"), [("at most", True, False), ("at least", False, True)]
)
def test_a_most_and_a_least_are_met_from_their_own_side(scene, picture, how, under, over):
    sits = stops_over_grey(picture.signal("skin"))
    for off, met in ((-2.0, under), (2.0, over), (0.0, True)):
        target = {"what": "skin", "stops": sits - off, "how": how}
        row = read_targets(lit(profile={"name": "Own", "targets": [target]}), picture)[0]
        assert (row.met, row.how) == (met, how)


def test_profiles_can_be_met_by_their_curve():
    for profile in PROFILES.values():
        assert len({t.what for t in profile.targets}) == len(profile.targets) >= 5
    # BT.709 ends at 1.0: log2(1 / 0.18) stops over grey.
    assert headroom(load(data()).cameras[0]) == pytest.approx(np.log2(1 / 0.18)) and bt709(
        1.0
    ) == pytest.approx(1)


@pytest.mark.parametrize(
    "profile",
    [
        {"name": "", "targets": []},
        {"name": "x", "targets": [{"what": "nose", "stops": 0}]},
        {"name": "x", "targets": [{"what": "skin", "stops": 0}, {"what": "skin", "stops": 1}]},
        {"name": "x", "targets": [{"what": "skin", "stops": 99}]},
    ],
)
def test_profiles_that_cannot_be(profile):
    with pytest.raises(DocumentError):
        load(data(profile=profile))


def test_exposing_for_a_lamp_in_the_picture_holds_it_and_tells_the_key_its_level():
    scene = lit(KEY, FILL, BULB, fixed=[{"thing": "lamp", "stops": -0.5}])
    row = read_fixed(scene, picture_of(scene))[0]
    assert row.sits is not None and not row.met and row.off > 1
    nd = next(w for w in row.ways if w.what == "nd")
    held = scene.model_copy(
        update={"cameras": (scene.cameras[0].model_copy(update={"nd": nd.value}),)}
    )
    after = read_fixed(held, picture_of(held))[0]
    assert after.sits == pytest.approx(-0.5 + nd.left, abs=0.02)
    # The level told is what asks for the camera's stop through that ND, before and after.
    asked = key_level(held.cameras[0]) * 2**after.off
    assert row.key_lux == pytest.approx(after.key_lux) == pytest.approx(asked)
    told = {u.id: u for u in after.units}
    assert "lamp" not in told and set(told) <= {"k", "f"}
    if told["k"].dimmer is not None:
        reached = held.model_copy(
            update={
                "units": tuple(
                    u.model_copy(update={"dimmer": told["k"].dimmer}) if u.id == "k" else u
                    for u in held.units
                )
            }
        )
        mark = read_setup(reached).mark("key-side")
        assert mark.against_camera == pytest.approx(after.off, abs=0.02)
    else:
        assert "short at full" in told["k"].words or "others alone" in told["k"].words


WINDOW = {
    "id": "win",
    "name": "Window",
    "wall": "south",
    "along": 2.2,
    "up": 1.75,
    "size": [1.0, 0.8],
}


HELD = {"thing": "window:win", "stops": 2.0}


def test_a_window_is_found_in_the_picture_and_held():
    scene = lit(KEY, openings=[WINDOW], sky={"level": 4000}, fixed=[HELD])
    picture = picture_of(scene)
    corners = project_far(scene.cameras[0], opening_corners(scene, scene.openings[0]))
    columns = picture.things["window:win"] % SIZE[0]
    assert (
        columns.min() >= SIZE[0] * min(c[0] for c in corners) - 1
        and columns.max() <= SIZE[0] * max(c[0] for c in corners) + 1
    )
    # An overcast sky of E lux on the ground is about E / pi * (1 + 2 sin h) * 3 / 7 bright at the
    # height h seen (CIE).
    camera = scene.cameras[0]
    sits = stops_over_grey(4000 * 3 / 7 / np.pi * 1.1 * frame_exposure(camera))
    assert read_fixed(scene, picture)[0].sits == pytest.approx(sits, abs=0.35)
    offered = can_be_fixed(scene)
    assert ("window:win", "Window") in offered and ("@backdrop", "the backdrop") in offered


def test_a_stop_asks_for_a_level_and_the_dimmer_told_gives_it():
    scene = lit(KEY, FILL)
    asked = read_asked(scene)
    # ISO 2720, dome: C N^2 / (t S).
    assert asked.lux == pytest.approx(320 * 2.8**2 * 50 / 800)
    row = asked.units[0]
    taken = scene.model_copy(
        update={
            "units": (scene.units[0].model_copy(update={"dimmer": row.dimmer}), *scene.units[1:])
        }
    )
    assert row.id == "k" and next(
        m for m in read_setup(taken).marks if m.id == "key-side"
    ).lux == pytest.approx(asked.lux, rel=1e-6)


def test_what_is_out_of_the_picture_need_not_be_held():
    scene = lit(
        KEY,
        openings=[{**WINDOW, "wall": "north", "along": 1.0}],
        fixed=[{"thing": "window:win", "stops": 2.0}],
    )
    row = read_fixed(scene, picture_of(scene))[0]
    assert row.met and row.sits is None and "not in this picture" in row.words


def test_plans_hold_every_step_once():
    for key, plan in PLANS.items():
        assert len(set(plan.steps)) == len(plan.steps) == 11 and [
            s.key for s in start(key).steps
        ] == list(plan.steps)


@pytest.mark.parametrize(
    "order",
    [
        {"plan": "opera", "steps": [{"key": "key"}]},
        {"plan": "natural", "steps": []},
        {"plan": "natural", "steps": [{"key": "key"}, {"key": "key"}]},
        {"plan": "natural", "steps": [{"key": "key", "state": "skipped", "reason": " "}]},
    ],
)
def test_orders_that_cannot_be(order):
    with pytest.raises(DocumentError):
        load(data(order=order))


def test_each_step_checks_itself(scene, picture):
    rows = by(read_order(scene.model_copy(update={"order": start("three-point")}), picture))
    told = read_setup(scene)
    mark = next(m for m in told.marks if m.id == "key-side")
    assert rows["key"].met == (abs(mark.against_camera) <= 0.34)
    off = np.log2(told.ratios.combined.ratio / 4)
    assert rows["fill"].met == (abs(off) <= 0.34) and rows["fill"].unit == "f"
    assert (
        rows["frame"].met and rows["keep"].met and rows["fixed"].met and rows["note"].met is False
    )
    over = stops_over_grey(picture.signal("edge")) - stops_over_grey(picture.signal("backdrop"))
    assert rows["separation"].met == (over >= 1) and rows["separation"].unit == "r"


def test_the_key_step_is_met_by_the_dimmer_it_tells():
    scene = lit({**KEY, "dimmer": 1.0}, FILL, cameras=[{**CAMERA, "iso": 400}])
    row = by(read_order(scene, picture_of(scene)))["key"]
    assert row.met is False and row.dimmer
    taken = scene.model_copy(
        update={
            "units": (scene.units[0].model_copy(update={"dimmer": row.dimmer}), *scene.units[1:])
        }
    )
    assert by(read_order(taken, picture_of(taken)))["key"].met


def test_the_room_is_asked_about_until_it_is_decided():
    key = {**KEY, "dimmer": 0.002}
    loose = lit(key, BULB)
    row = by(read_order(loose, picture_of(loose)))["keep"]
    assert row.met is False and "Table lamp" in row.words and row.unit == "lamp"
    for decided in (
        lit(key, {**BULB, "on": False}),
        lit(key, {**BULB, "dimmer": 0.2}),
        lit(key, BULB, fixed=[{"thing": "lamp"}]),
    ):
        assert by(read_order(decided, picture_of(decided)))["keep"].met, decided


def test_a_lamp_in_the_picture_and_a_rig_that_cannot_work_are_told():
    inside = lit(KEY, {**RIM, "position": [3.5, 2.0, 1.5]})
    row = by(read_order(inside, picture_of(inside)))["control"]
    assert row.met is False and row.unit == "r" and "in the picture: move it" in row.words
    wrong = lit(KEY, {**BULB, "on": True, "attachments": [{"key": "lens-26"}]})
    row = by(read_order(wrong, picture_of(wrong)))["control"]
    assert row.met is False and row.unit == "lamp" and "cannot be hung" in row.words


def test_eyes_mirror_a_lamp_near_the_lens_and_none_from_behind():
    front = lay_out(lit({**KEY, "position": [2.4, 5.2, 1.7]}, room={**DARK, **BLACK_ROOM}))
    back = lay_out(lit(RIM, room={**DARK, **BLACK_ROOM}))
    assert all(eye for eye in glints_of(front).values())
    assert not any(eye for eye in glints_of(back).values())
    # The mirror image of an even face is its luminance times the cornea's reflectance, whatever its
    # distance: twice as far, the same glint.
    far = lay_out(lit({**KEY, "position": [1.9, 6.7, 2.1]}, room={**DARK, **BLACK_ROOM}))
    brightest = [max(eye[0].stops for eye in glints_of(r).values()) for r in (far, front)]
    assert brightest[0] == pytest.approx(brightest[1], abs=0.35)


def test_ratios_three_ways(scene, picture):
    rows = by(read_ratios(scene, picture))
    told = read_setup(scene).ratios.combined
    assert rows["fill"].meter == pytest.approx(told.ratio, rel=1e-6)
    assert rows["fill"].linear == pytest.approx(picture.signal("skin") / picture.signal("shadow"))
    assert rows["fill"].read == pytest.approx(
        float(bt709(picture.signal("skin")) / bt709(picture.signal("shadow")))
    )
    assert 1 < rows["fill"].read < rows["fill"].linear and "bends" in rows["fill"].why
    straight = scene.model_copy(
        update={"cameras": (scene.cameras[0].model_copy(update={"curve": "linear"}),)}
    )
    same = by(read_ratios(straight, picture))["fill"]
    assert same.read == pytest.approx(same.linear) and "bends" not in same.why
    # A wall of one reflectance under even light: what the meter reads and what is seen differ by
    # the two reflectances only.
    assert ratio_words(0.25) == "1:4" and ratio_words(2.05) == "2:1"


def test_a_dark_stage_is_judged_without_a_fault():
    empty = setup(units=[], room=DARK)
    picture = picture_of(empty)
    rows = by(
        read_order(
            empty.model_copy(
                update={
                    "profile": PROFILES["middle-grey"],
                    "order": Order(
                        steps=(Step(key="key"), Step(key="fill"), Step(key="instruments"))
                    ),
                }
            ),
            picture,
        )
    )
    assert (
        rows["key"].met is False and rows["fill"].met is False and rows["instruments"].met is False
    )
    assert all(r.meter is None for r in read_ratios(empty, picture))


@pytest.mark.parametrize(
    ("camera", "words"),
    [
        ({"aim": [3, 5.5 + 1.0, 1.2]}, "the face is not in the picture"),
        ({"aim": [3, 3, 1.1]}, "tilt up"),
        ({"aim": [3, 3, 1.3]}, "tilt down"),
        ({"aim": [2.66, 3, 1.17]}, "at the left edge"),
        ({"aim": [3.34, 3, 1.17]}, "at the right edge"),
        ({"aim": [3, 3, 1.1], "focal_length": 24}, "above the head"),
    ],
)
def test_a_frame_that_does_not_hold_the_face_says_what_to_do(picture, camera, words):
    scene = lit(cameras=[{**CAMERA, **camera}], order=start("three-point").model_dump())
    row = by(read_order(scene, picture_of(scene)))["frame"]
    assert row.met is False and words in row.words and row.panel == "camera"


def test_a_close_up_may_cut_the_crown():
    scene = lit(
        cameras=[{**CAMERA, "focal_length": 135, "aim": [3, 3, 1.2]}],
        order=start("three-point").model_dump(),
    )
    row = by(read_order(scene, picture_of(scene)))["frame"]
    assert row.met and "the crown is cut" in row.words


def test_steps_without_what_they_ask_for_say_so():
    # No light at all, then a note and nothing else: each step names what is missing, none breaks.
    dark = by(
        read_order(
            lit({**KEY, "on": False}, order=start("three-point").model_dump()),
            picture_of(lit({**KEY, "on": False})),
        )
    )
    assert dark["key"].met is False and "bring in the key" in dark["key"].words
    assert dark["fill"].met is False and "no light" in dark["fill"].words
    assert dark["separation"].met is not True and dark["background"].met is not True
    noted = lit(notes="Tide at six.", order=start("three-point").model_dump())
    row = by(read_order(noted, picture_of(noted)))["note"]
    assert row.met and "noted" in row.words


def test_a_window_under_the_sky_is_asked_about_until_it_is_marked():
    window = {
        "id": "w",
        "name": "Sea window",
        "wall": "west",
        "along": 3.0,
        "up": 1.4,
        "size": [1.2, 1.2],
    }
    for fixed, met in (([], False), ([{"thing": "window:w"}], None)):
        scene = lit(
            KEY,
            openings=[window],
            fixed=fixed,
            order=start("natural").model_dump(),
            cameras=[
                {**CAMERA, "position": [4.6, 5.0, 1.3], "aim": [1.6, 2.6, 1.3], "focal_length": 28}
            ],
        )
        row = by(read_order(scene, picture_of(scene)))["fixed"]
        assert "Sea window" in row.words and (met is None or row.met is met)
        assert ("mark it if its light cannot be changed" in row.words) is (not fixed)
