"""Exposure put back after a change: by the dimmer the level is as it was, by the camera the picture
is; a change that costs nothing offers nothing.
"""

import numpy as np
import pytest

from moth.camera import key_level
from moth.document import load
from moth.metering import read_setup
from moth.solving import restored
from moth.tests.scenes import setup
from moth.world import anchor

FACE = np.array([3.0, 3.0, 1.2])
DARK = {"reflectance": 0.0}
BLACK = dict.fromkeys(("floor", "ceiling", "north", "south", "east", "west"), DARK)


def lit(*units, **more):
    """A seated figure in a black room under units of so many: (id, role, place, more)."""
    return setup(
        room={"width": 9, "depth": 9, "height": 4, **BLACK},
        figures=[{"id": "p", "name": "P", "position": [3, 3]}],
        cameras=[{"id": "c", "name": "C", "position": [3, 6, 1.3], "aim": [3, 3, 1.2]}],
        units=[
            {
                "id": name,
                "name": name.title(),
                "role": role,
                "head": "point-300",
                "position": list(place),
                "aim": FACE.tolist(),
                **own,
            }
            for name, role, place, own in units
        ],
        **more,
    )


def taken(document, lever):
    """The set-up with a lever's dimmer set."""
    units = tuple(
        u.model_copy(update={"dimmer": lever.dimmer}) if u.id == lever.unit else u
        for u in document.units
    )
    return document.model_copy(update={"units": units})


@pytest.mark.parametrize("seed", range(6))
def test_a_lamp_moved_on_its_spoke_loses_by_the_square_and_comes_back_by_its_dimmer(seed):
    rng = np.random.default_rng(seed)
    far, turn = rng.uniform(1.5, 2.2), np.radians(rng.uniform(-60, 60))
    way = np.array([np.sin(turn), np.cos(turn), 0.4])
    fill = ("fill", "fill", FACE + [-1, 2, 0], {"dimmer": 0.02})
    place = FACE + way * far
    before = lit(("key", "key", place, {"dimmer": 0.1}), fill)
    spoke = place - anchor(before)
    times = rng.uniform(1.3, 1.8)
    after = lit(("key", "key", place + spoke * (times - 1), {"dimmer": 0.1}), fill)
    found = restored(after, before)
    (lever,) = found.levers
    assert lever.unit == "key" and found.words.startswith("Key −")
    # The meter is held before the face, so a little less than the way to the face says.
    assert lever.stops == pytest.approx(-2 * np.log2(times), abs=0.2)
    assert lever.dimmer == pytest.approx(0.1 * 2**-lever.stops, rel=1e-3)
    put = read_setup(taken(after, lever)).unit("key").face_lux
    assert put == pytest.approx(read_setup(before).unit("key").face_lux, rel=0.005)


@pytest.mark.parametrize("hung", ["scrim-double", "octagon", "clip-frost", "honeycomb"])
def test_the_camera_takes_what_an_attachment_costs(hung):
    before = lit(("key", "key", FACE + [1.2, 1.6, 0.8], {"dimmer": 0.05}))
    after = lit(
        ("key", "key", FACE + [1.2, 1.6, 0.8], {"dimmer": 0.05, "attachments": [{"key": hung}]})
    )
    found = restored(after, before)
    then, now = (
        next(m.lux for m in read_setup(s).marks if m.id == "key-side") for s in (before, after)
    )
    assert found.stops == pytest.approx(np.log2(now / then), abs=1e-3)
    for way in found.ways:
        change = {
            "stop": {"t_stop": way.value},
            "index": {"iso": way.value},
            "nd": {"nd": way.value},
            "angle": {"shutter": {"angle": way.value}},
        }[way.what]
        camera = type(after.cameras[0]).model_validate({**after.cameras[0].model_dump(), **change})
        asked = key_level(camera) / key_level(before.cameras[0])
        assert np.log2(now / then / asked) == pytest.approx(way.left, abs=0.03)


def test_what_full_does_not_reach_is_said():
    before = lit(("key", "key", FACE + [0.8, 1.2, 0.3], {"dimmer": 0.9}))
    after = lit(("key", "key", FACE + [1.6, 2.4, 0.6], {"dimmer": 0.9}))
    (lever,) = restored(after, before).levers
    assert lever.dimmer == 1.0
    assert lever.words == "Key −2, 1⅔ under left"


def test_a_unit_that_cannot_be_dimmed_is_told_and_the_camera_alone_takes_it():
    before = lit(("key", "key", FACE + [0.8, 1.2, 0.3], {"dimmer": 0.3}))
    after = lit(
        ("key", "key", FACE + [1.2, 1.8, 0.45], {"dimmer": 0.3}),
        fixed=[{"thing": "key"}],
    )
    found = restored(after, before)
    assert found.words == "Key −1" and not found.levers and found.ways


@pytest.mark.parametrize(
    "change",
    [
        {"name": "Other"},
        {"role": "fill"},
        {"on": False},
    ],
)
def test_nothing_is_offered_where_no_light_was_lost(change):
    unit = ("key", "key", FACE + [0.8, 1.2, 0.3], {"dimmer": 0.3})
    before = lit(unit)
    (one,) = before.units
    after = before.model_copy(update={"units": (one.model_copy(update=change),)})
    assert not restored(after, before).levers
    assert not restored(before, before).words


def test_out_of_the_dark_the_camera_is_set_for_what_lights():
    """The roof comes off a stage without a lamp: one filter takes the day, and the face reads as
    the camera asks.
    """
    dark = lit()
    data = dark.model_dump(mode="json")
    data["room"]["outdoors"] = True
    data["sky"] = {"kind": "overcast", "level": 12_000.0}
    day = load(data)
    found = restored(day, dark)
    assert found.anew and found.words.startswith("+") and found.words.endswith("on the camera")
    nd = next(way for way in found.ways if way.what == "nd")
    camera = day.cameras[0].model_copy(update={"nd": nd.value})
    behind = read_setup(day.model_copy(update={"cameras": (camera,)}))
    key_side = next(m for m in behind.marks if m.id == "key-side")
    assert abs(nd.left) <= 0.5 and key_side.against_camera == pytest.approx(nd.left, abs=0.05)
    assert not restored(dark, day).ways


@pytest.mark.parametrize("level", [9_000.0, 30_000.0])
def test_a_day_that_was_washed_out_is_not_put_back_but_set_anew(level):
    """A stop set for indoors under an overcast sky; then the sun comes out."""
    data = lit().model_dump(mode="json")
    data["room"]["outdoors"] = True
    data["sky"] = {"kind": "overcast", "level": level}
    overcast = load(data)
    data["sky"]["sun"] = {"azimuth": 150.0, "elevation": 40.0, "level": 60_000.0}
    sunny = load(data)
    shown = lambda s: next(m.against_camera for m in read_setup(s).marks if m.id == "key-side")
    assert shown(overcast) > 3
    found = restored(sunny, overcast)
    assert found.anew and found.stops == pytest.approx(shown(sunny))
    assert found.words.endswith("on the camera")
    # What is no change is none, however far over it is.
    assert not restored(overcast, overcast).words
    # From a stop that was set for the day it is put back as ever.
    (camera,) = overcast.cameras
    cameras = (camera.model_copy(update={"iso": camera.iso * 2.0 ** -shown(overcast)}),)
    once, then = (s.model_copy(update={"cameras": cameras}) for s in (sunny, overcast))
    assert not restored(once, then).anew and restored(once, then).words.startswith("key side +")


def test_a_face_left_far_under_is_put_back_and_not_set_anew():
    """It may be meant: a silhouette."""
    place = FACE + [0.8, 1.2, 0.3]
    before = lit(("key", "key", place, {"dimmer": 1e-4}))
    found = restored(
        lit(("key", "key", place, {"dimmer": 1e-4, "attachments": [{"key": "scrim-double"}]})),
        before,
    )
    assert not found.anew and found.words == "Key −1" and found.levers
