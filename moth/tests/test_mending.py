"""Ways to mend a reading: they can be, do what was said of them, and what they cost is told."""

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.judging import picture_of, read_picture
from moth.place import in_its_way
from moth.solving import changed, proposals, tried
from moth.solving.trying import RANKS, Patch
from moth.tests.test_hidden import before_the_face
from moth.tests.test_reading import scene
from moth.transport import render_layer, sources, view_of
from moth.world import build_world, check_placement


def rail(height):
    return {
        "id": "r",
        "name": "Rail",
        "kind": "box",
        "position": [3, 1.5, height],
        "size": [4.0, 0.05, 0.05],
        "surface": {"reflectance": 0.03},
    }


def made_wrong():
    """Set-ups with something to mend, and the key of the reading."""
    edge = {
        "id": "edge",
        "head": "panel-small",
        "position": [3.75, 1.8, 1.4],
        "aim": [3, 3, 1.3],
        "dimmer": 0.1,
    }
    yield "a black shoulder on black", scene([{}]), "outline 0 shoulder"
    yield "light from below", scene([{"height": -33, "distance": 1.4}]), "face 0 pattern"
    yield "a key from behind", scene([{"angle": 150, "height": 25}], wall=0.0), "eyes 0"
    yield "far over", scene([{"dimmer": 1.0, "distance": 1.2}]), "skin 0 lit"
    yield "lamp and camera at odds", scene([{"cct": 2800}]), "whites 0 key-side"
    yield "a panel in the picture", scene([{}, edge]), "frame unit edge"
    yield "a board before the face", before_the_face(0), "frame hidden"
    yield "a rail behind the head", scene([{}], wall=0.6, furniture=[rail(1.15)]), "backdrop line"


WRONG = {name: (setup, start) for name, setup, start in made_wrong()}


@pytest.mark.parametrize("name", WRONG)
def test_what_is_offered_stands_mends_and_says_what_it_costs(name):
    made, start = WRONG[name]
    before = {r.key: r for r in read_picture(made, picture_of(made))}
    own = next(r for k, r in before.items() if k.startswith(start) and r.verdict != "well")
    offered, mends = proposals(made, own), 0
    assert offered and len({p.words for p in offered}) == len(offered)
    for proposal in offered:
        after = changed(made, proposal.patches)
        check_placement(after)
        for unit in after.units:
            assert in_its_way(after, unit) is None or unit in made.units
        told = tried(made, after, own.key)
        now = {r.key: r for r in read_picture(after, picture_of(after))}
        rank = RANKS[now[own.key].verdict] if own.key in now else 0
        assert told.mends == (rank < RANKS[own.verdict])
        lost = {
            r.name
            for k, r in now.items()
            if k != own.key and RANKS[r.verdict] > (RANKS[before[k].verdict] if k in before else 0)
        }
        assert {w.name for w in told.worse} == lost
        assert told.faults == sum(r.verdict == "fault" for r in now.values())
        mends += told.mends
        if mends == 2:
            break
    assert mends


def test_at_full_size_the_wall_is_as_far_down_as_the_small_picture_said():
    lamp = {
        "id": "background",
        "head": "point-300",
        "position": [4.8, 1.6, 1.9],
        "aim": [2.4, 0.05, 1.5],
        "dimmer": 0.2,
    }
    made = scene([{}, lamp], wall=0.5)
    own = next(
        r for r in read_picture(made, picture_of(made)) if r.key == "backdrop pulls background"
    )
    after = changed(made, proposals(made, own)[0].patches)
    assert tried(made, after, own.key).mends
    size = (640, 360)
    world = build_world(after)
    view = view_of(world, after, after.cameras[0], size)
    frame = sum(
        render_layer(world, view, s).surfaces * u.dimmer
        for s, u in zip(sources(after), after.units, strict=True)
    )
    level = frame @ LUMINANCE
    rows, columns = np.divmod(np.flatnonzero(view.body[view.single] == 0), size[0])
    places = np.array(own.path)
    low, high = places.min(0), places.max(0)
    x, y = columns / size[0], rows / size[1]
    inside = (x > low[0]) & (x < high[0]) & (y > low[1]) & (y < high[1])
    wall = np.quantile(level[rows[inside], columns[inside]], 0.9)
    picture = picture_of(made)
    skin = picture.parts["skin"]
    across, down = skin % 192 * 10 // 3, skin // 192 * 10 // 3
    # The dimmer told puts the brightest of it a tenth under a stop over the lit skin.
    assert np.log2(wall / level[down, across].mean()) == pytest.approx(0.9, abs=1 / 3)


def test_a_flag_is_offered_for_light_that_spills_and_spares_the_subject():
    edge = {
        "id": "edge",
        "name": "Edge",
        "role": "edge",
        "head": "point-150",
        "position": [5.4, 1.6, 1.6],
        "aim": [3, 1.8, 1.4],
        "dimmer": 0.5,
    }
    made = scene([{"dimmer": 0.15}, edge], wall=0.6)
    own = next(r for r in read_picture(made, picture_of(made)) if r.key == "backdrop pulls edge")
    flag = next(p for p in proposals(made, own) if p.words == "a flag before Edge")
    after = changed(made, flag.patches)
    check_placement(after)
    assert len(after.grip) == 1 and in_its_way(after, after.grip[0]) is None
    wall, skin = ([p.signal(part) for p in map(picture_of, (made, after))] for part in PARTS)
    assert wall[1] < 0.6 * wall[0] and skin[1] > 0.93 * skin[0]


PARTS = "backdrop", "skin"


def test_a_patch_changes_one_thing_or_brings_it_in():
    made = scene([{}])
    dimmed = changed(made, [Patch("units", "key", {"dimmer": 0.5})])
    # Its one lamp from a fifth to a half.
    told = tried(made, dimmed)
    assert told.skin == pytest.approx(np.log2(0.5 / 0.2), abs=0.01)
    parts = {(t.name, t.word) for t in told.outlines}
    assert (told.outline.name, told.outline.word) in parts and len(parts) > 4
    assert dimmed.units[0].dimmer == 0.5 and dimmed.cameras == made.cameras
    new = {**made.units[0].model_dump(exclude={"id"}), "name": "Second"}
    more = changed(made, [Patch("units", "second", new)])
    assert [u.name for u in more.units] == ["key", "Second"]
    with pytest.raises(ValueError, match="dimmer"):
        changed(made, [Patch("units", "key", {"dimmer": 2})])


def test_one_of_two_bright_places_is_mended_though_the_other_stays():
    def lamp(name, side):
        return {
            "id": name,
            "role": "background",
            "head": "point-60",
            "position": [3 + 1.4 * side, 0.9, 1.9],
            "aim": [3 + 1.0 * side, 0.05, 1.35],
            "dimmer": 0.05,
        }

    made = scene([{}, lamp("left", -1), lamp("right", 1)], wall=0.3)
    picture = picture_of(made)
    bright = [r for r in read_picture(made, picture) if r.key.startswith("backdrop pulls")]
    assert {r.unit for r in bright} == {"left", "right"}
    for own in bright:
        told = tried(made, changed(made, proposals(made, own)[0].patches), own.key)
        assert told.mends
        assert not any(w.word == "pulls the eye" for w in told.worse)
