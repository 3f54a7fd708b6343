"""What a set-up says itself: its limits, reasons outside the frame, the microphone, percents."""

import math
from typing import get_args

import numpy as np
import pytest

from moth.camera import curve_of, stops_over_grey
from moth.document import LimitKey
from moth.errors import MothError
from moth.judging import LIMITS, limit, picture_of, read_picture, read_targets
from moth.judging.sound import AT_ONE, ROOM, WALL, levels, read_sound
from moth.photometry import HEADS
from moth.tests.scenes import data, setup


def read(made, start):
    return [r for r in read_picture(made, picture_of(made)) if r.key.startswith(start)]


def test_every_limit_of_the_document_is_explained_and_within_its_range():
    assert set(LIMITS) == set(get_args(LimitKey))
    for known in LIMITS.values():
        for value in (known.typical, *known.by_plan.values()):
            assert known.least <= value <= known.most
        assert known.source


def test_a_limit_is_the_users_own_then_the_plans_then_typical():
    order = {"plan": "high-contrast", "steps": [{"key": "key"}]}
    assert limit(setup(), "skin-under") == -2.2
    assert limit(setup(order=order), "skin-under") == -3.2
    own = [{"key": "skin-under", "at": -5}]
    assert limit(setup(order=order, limits=own), "skin-under") == -5
    with pytest.raises(MothError, match="set twice"):
        setup(limits=own * 2)


@pytest.mark.parametrize(
    ("key", "start", "word"),
    [
        ("skin-over", "skin 0 lit", "hot"),
        ("outline-faint", "outline 0", "faint"),
        ("whites-apart", "whites 0 apart", "two colours"),
        ("backdrop-even", "backdrop tone", "flat"),
    ],
)
def test_a_reading_changes_its_word_where_its_own_limit_says(key, start, word):
    made = data()
    made["units"][1]["cct"] = 2900

    def words(at):
        limits = [{"key": key, "at": at}] if at is not None else []
        return {r.word for r in read(setup(**{**made, "limits": limits}), start)}

    known = LIMITS[key]
    ends = words(known.least), words(known.most)
    assert sum(word in found for found in ends) == 1


def reasons(made, **reason):
    declared = [{"id": "r", "name": "The window", **reason}] if reason else []
    found = read(setup(**{**made, "reasons": declared}), "reasons key")
    assert len(found) == 1
    return found[0]


@pytest.mark.parametrize("seed", range(6))
def test_a_reason_outside_the_frame_explains_light_from_its_side_and_of_its_colour(seed):
    rng = np.random.default_rng(900 + seed)
    made = data()
    turn, away = rng.uniform(-80, 80), rng.uniform(1.4, 2.2)
    way = (math.sin(math.radians(turn)), math.cos(math.radians(turn)))
    made["units"][0]["position"] = [3 + away * way[0], 3 + away * way[1], 2.0]
    made["units"][0]["cct"] = 5600
    made["units"][1]["dimmer"] = 0.02
    assert reasons(made).word == "not explained"
    # Clockwise from north as on a map: x is east, y is north.
    same = reasons(made, bearing=turn, cct=5600)
    assert same.word == "explained" and same.verdict == "well"
    assert same.figure < 12
    beside = reasons(made, bearing=turn + rng.choice([-1, 1]) * 60, cct=5600)
    assert beside.word == "explained"
    behind = reasons(made, bearing=turn + 180, cct=5600)
    assert behind.word == "against its reason" and behind.verdict == "mind"
    fire = reasons(made, bearing=turn, cct=1900)
    assert fire.word == "another colour" and "348 mired cooler" in fire.words


def fan(position, head="spot-focus", **more):
    return {
        "id": "fan",
        "name": "Fan",
        "head": head,
        "position": position,
        "aim": [3, 3, 1],
        **more,
    }


LOUD = next(key for key, head in HEADS.items() if head.noise == 2)
QUIET = next(key for key, head in HEADS.items() if head.noise == 1)
SILENT = next(key for key, head in HEADS.items() if head.noise == 0)


def heard(units, microphone=(3, 3.2, 1.9), **more):
    made = setup(units=units, microphone=microphone, **more)
    return {u.id: level for u, level in levels(made)}, read_sound(made)


def test_fans_fall_off_to_what_the_room_holds_up_and_by_a_wall():
    (near, _), (far, _), (out, _), (through, _) = (
        heard([fan(at, LOUD)], **more)
        for at, more in (
            ([3, 3.7, 1.9], {}),
            ([5.8, 6.8, 1.9], {}),
            ([5.8, 6.8, 1.9], {"room": {"outdoors": True}}),
            ([8, 3.2, 1.9], {}),
        )
    )
    assert near["fan"] == pytest.approx(AT_ONE[2] + 20 * math.log10(2))
    assert far["fan"] == pytest.approx(AT_ONE[2] - ROOM)
    off = math.dist([5.8, 6.8], [3, 3.2])
    assert out["fan"] == pytest.approx(AT_ONE[2] - 20 * math.log10(off))
    assert through["fan"] == pytest.approx(AT_ONE[2] - 20 * math.log10(5) - WALL)


def test_a_fan_is_told_where_a_voice_is_recorded_and_only_there():
    near = [3, 4, 1.9]
    assert heard([fan(near, LOUD)])[1][0].word == "fan heard"
    assert heard([fan(near, LOUD)])[1][0].verdict == "fault"
    assert read_sound(setup(units=[fan(near, LOUD)])) == []
    assert heard([fan(near, SILENT)])[1] == []
    assert heard([fan(near, LOUD, on=False)])[1] == []
    assert heard([fan(near, LOUD, dimmer=0)])[1] == []
    (quiet,) = heard([fan([5.8, 6.8, 1.9], QUIET)])[1]
    assert quiet.verdict == "well" and quiet.word == "not heard"


def test_many_quiet_fans_are_heard_together_and_told_until_the_rest_is_not():
    def several(count):
        return [{**fan([5.5, 4 + 0.1 * k, 2], QUIET), "id": f"f{k}"} for k in range(count)]

    each = AT_ONE[1] - ROOM
    assert each < LIMITS["sound"].typical < each + 10 * math.log10(4)
    assert [r.word for r in heard(several(1))[1]] == ["not heard"]
    told = heard(several(4))[1]
    assert {r.word for r in told} == {"fan heard"}
    left = 4 - len(told)
    assert each + 10 * math.log10(max(left, 1)) <= LIMITS["sound"].typical


@pytest.mark.parametrize("curve", ["bt709", "hlg", "acescct", "linear"])
@pytest.mark.parametrize("percent", [20, 42, 70])
def test_a_target_in_percent_is_of_the_signal_on_the_cameras_curve(curve, percent):
    made = data()
    made["cameras"][0]["curve"] = curve
    made["profile"] = {"name": "own", "targets": [{"what": "skin", "percent": percent}]}
    made = setup(**made)
    picture = picture_of(made)
    (row,) = read_targets(made, picture)
    told = 100 * float(curve_of(made.cameras[0]).encode(picture.signal("skin")))
    assert row.code == pytest.approx(percent / 100)
    # Over and under in stops as in percent.
    assert np.sign(row.off) == np.sign(told - percent)
    assert row.sits == pytest.approx(stops_over_grey(picture.signal("skin")))


def test_a_target_is_in_stops_or_in_percent():
    for wrong in ({}, {"stops": 0, "percent": 42}):
        profile = {"name": "own", "targets": [{"what": "skin", **wrong}]}
        with pytest.raises(MothError, match="stops or in percent"):
            setup(profile=profile)
