"""What an eye mirrors: a small lamp, a wide box that is mirrored dim, the sky, nothing."""

import numpy as np
import pytest

from moth.camera import frame_exposure, stops_over_grey
from moth.document import load
from moth.judging import picture_of, read_picture
from moth.judging.glints import glints_of
from moth.metering import lay_out, read_setup
from moth.photometry import lamp_of
from moth.tests.test_reading import scene
from moth.transport import build_emitter
from moth.world.figures import FIGURE_NAMES


def box(width, distance, **more):
    hung = {"key": "softbox", "settings": {"width": width, "height": 0.75 * width}}
    lamp = {"head": "point-300", "attachments": [hung], "angle": 30, "height": 12, "dimmer": 0.5}
    return exposed(scene([{**lamp, "distance": distance, **more}], wall=0.1))


def exposed(made):
    """The same with its camera at what the key side reads."""
    key = next(m for m in read_setup(made).marks if m.id == "key-side")
    iso = made.cameras[0].iso * 2**-key.against_camera
    return made.model_copy(update={"cameras": (made.cameras[0].model_copy(update={"iso": iso}),)})


def words_of(made):
    readings = read_picture(made, picture_of(made))
    return {r.word for r in readings if r.kind == "eyes" and " glass " not in r.key}


@pytest.mark.parametrize(("width", "distance"), [(0.9, 1.6), (1.2, 1.2), (1.8, 1.1)])
def test_a_wide_box_near_is_seen_in_both_eyes_as_bright_as_its_face_is_mirrored(width, distance):
    made = box(width, distance)
    assert words_of(made) == {"lives"}
    unit, camera = made.units[0], made.cameras[0]
    lamp = lamp_of(unit)
    luminance = float(lamp.distribution.intensity(0.0)) / (width * 0.75 * width) * unit.dimmer
    # A cornea sends back 2.5 % of what comes straight, a little more aslant.
    wanted = stops_over_grey(0.026 * luminance * frame_exposure(camera))
    for glints in glints_of(lay_out(made)).values():
        assert glints[0].stops == pytest.approx(wanted, abs=0.5)
        assert glints[0].stops < 1.5


@pytest.mark.parametrize("seed", range(12))
def test_a_small_lamp_about_the_height_of_the_eyes_is_mirrored_by_each_of_them(seed):
    """Wherever it stands before the face, once, on its side, as bright as a cornea makes it: the
    lids of none leave less than the middle of the eye.
    """
    rng = np.random.default_rng(seed)
    angle = float(rng.uniform(12, 45) * rng.choice([-1, 1]))
    lamp = {
        "head": str(rng.choice(["point-60", "point-150", "panel-small", "fresnel-200"])),
        "angle": angle,
        "height": float(rng.uniform(-6, 8)),
        "distance": float(rng.uniform(1.2, 3.0)),
        "dimmer": 0.2,
    }
    made = exposed(scene([lamp], wall=0.0))
    unit, camera = made.units[0], made.cameras[0]
    intensity = float(lamp_of(unit).distribution.intensity(0.0)) * unit.dimmer
    luminance = intensity / build_emitter(unit).area
    wanted = stops_over_grey(0.026 * luminance * frame_exposure(camera))
    for glints in glints_of(lay_out(made)).values():
        (glint,) = glints
        assert glint.stops == pytest.approx(wanted, abs=0.5)
        assert glint.clock in ((2, 3, 4) if angle > 0 else (8, 9, 10))


def test_an_open_sky_is_seen_in_the_eyes_of_whom_it_lights():
    data = scene([{}]).model_dump(mode="json")
    data["room"]["outdoors"] = True
    data.update(units=[], sky={"kind": "overcast", "level": 10_000.0})
    made = exposed(load(data))
    assert words_of(made) == {"lives"}
    found = glints_of(lay_out(made))
    assert all(g.source == "@sky" for glints in found.values() for g in glints)
    # It is mirrored by the upper half of an eye.
    assert all(g.clock in (9, 10, 11, 12, 1, 2, 3) for glints in found.values() for g in glints)


@pytest.mark.parametrize("name", FIGURE_NAMES)
def test_an_ordinary_key_is_mirrored_in_both_eyes_and_one_from_the_top_in_neither(name):
    """Of eight people five had eyes so nearly shut that a key 30° high gave one of them none."""

    def lit(**where):
        who = {"id": "s", "name": "S", "figure": name, "pose": "seated", "position": [3, 3]}
        return words_of(exposed(scene([{"head": "point-150", **where}], figures=[who])))

    assert lit(angle=45, height=30) == {"lives"}
    assert lit(angle=-45, height=25) == {"lives"}
    assert lit(angle=20, height=60) == {"no glint"}


@pytest.mark.parametrize("where", [{"angle": 110}, {"height": 78}, {"angle": 150}])
def test_a_lamp_that_no_eye_mirrors_to_the_lens_gives_none(where):
    made = box(0.6, 1.6, **where)
    black = made.model_dump(mode="json")
    for side in ("floor", "ceiling", "north", "south", "east", "west"):
        black["room"][side]["reflectance"] = 0.0
    assert words_of(load(black)) <= {"no glint"}


def test_what_is_mirrored_is_nothing_where_the_picture_is_dark():
    made = box(1.2, 1.2)
    dim, bright = (
        made.model_copy(
            update={
                "cameras": (made.cameras[0].model_copy(update={"iso": made.cameras[0].iso * k}),)
            }
        )
        for k in (0.03, 1.0)
    )
    # Five stops under, nothing of it is seen any more.
    assert words_of(dim) == {"no glint"} and words_of(bright) == {"lives"}
