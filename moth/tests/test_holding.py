"""How units are held: what is drawn of it, where it can stand, what it wants."""

from dataclasses import replace

import numpy as np
import pytest

from moth.document import load
from moth.errors import DocumentError
from moth.inspection import inspect_unit
from moth.place import CROWN, SPREAD, InTheWay, foot_of, in_its_way, load_of
from moth.place.standing import POLE
from moth.solving import make
from moth.tests.scenes import data, setup
from moth.transport import build_emitter, render_layer, sources
from moth.transport.housings import body_distance
from moth.transport.view import view_of
from moth.world import build_world

LAMP = {
    "id": "k",
    "name": "Key",
    "head": "panel-small",
    "position": [3, 1.6, 1.9],
    "aim": [3, 3, 1.2],
}
TABLE = {
    "id": "t",
    "name": "Chart table",
    "kind": "table",
    "position": [3, 1.6, 0],
    "size": [1.4, 0.8, 0.75],
}


def held(by="stand", things=(), **more):
    return load(data(units=[{**LAMP, "held": by, **more}], furniture=list(things)))


def test_a_ray_meets_a_rod_where_arithmetic_says():
    """A level pole seen square: its width over its distance; just beside it, nothing."""
    unit = held().units[0]
    pole = np.array(build_emitter(unit).rods[0][0][:2])
    eye = np.array([pole[0], pole[1] + 2.0, 1.2])
    half = POLE / 2.0
    rays = np.array([[0, -1, 0], [0.98 * half, -1, 0], [1.03 * half, -1, 0], [0, 1.0, 0]])
    met = body_distance(eye, rays, build_emitter(unit))
    assert met[0] == pytest.approx(2.0 - POLE) and np.isfinite(met[1])
    assert np.isinf(met[2]) and np.isinf(met[3])
    # Its legs spread at the floor and nowhere else.
    low = body_distance(np.array([pole[0], pole[1] + 2.0, 0.02]), rays[:1], build_emitter(unit))
    assert low[0] < 2.0 - 0.8 * SPREAD and met[0] > 1.9
    assert CROWN < 1.2


@pytest.mark.parametrize(
    ("hung", "sides"), [([], 4), ([{"key": "octagon", "settings": {"width": 1.2}}], 8)]
)
def test_a_head_is_square_or_eight_sided_seen_from_behind(hung, sides):
    """The area that its body hides, over the square of its half width: 4, or 8 (root 2 - 1)."""
    head = "point-300" if hung else "mat-2x2"
    emitter = build_emitter(held(head=head, attachments=hung).units[0])
    emitter = replace(emitter, rods=())
    half, forward = emitter.face.half_width, emitter.vectors[2]
    eye = emitter.centre - 50 * forward
    k = np.linspace(-1.3, 1.3, 261) * half
    x, y = (g.ravel() for g in np.meshgrid(k, k))
    rays = emitter.centre + x[:, None] * emitter.vectors[0] + y[:, None] * emitter.vectors[1] - eye
    met = np.isfinite(body_distance(eye, rays / 50, emitter))
    area = met.sum() * (2.6 / 260) ** 2
    asked = 4 if sides == 4 else 8 * (2**0.5 - 1)
    # The near end is a little larger than the face, by its nearness.
    assert area == pytest.approx(asked, rel=0.03)


@pytest.mark.parametrize(
    "by, below, above", [("stand", True, False), ("hung", False, True), ("built-in", False, False)]
)
def test_what_holds_a_lamp_shows_in_the_frame_below_it_or_above(by, below, above):
    scene = held(by, position=[1.6, 1.6, 1.9])
    camera = scene.cameras[0].model_copy(update={"aim": (1.6, 1.6, 1.9), "focal_length": 20})
    view = view_of(build_world(scene), scene, camera, (320, 180))
    layer = render_layer(build_world(scene), view, sources(scene)[0])
    rows = layer.seen // 320
    assert (rows > 160).any() == below and (rows < 40).any() == above
    assert ((rows > 70) & (rows < 110)).any()


def test_a_boom_holds_it_from_beside():
    scene = held("boom", foot=[4.2, 1.6])
    ends = np.array(
        [end for one, other, _ in build_emitter(scene.units[0]).rods for end in (one, other)]
    )
    assert ends[:, 0].max() == pytest.approx(4.2 + 0.5, abs=0.01)
    assert foot_of(scene.units[0]) == (4.2, 1.6)
    load_ = load_of(scene.units[0])
    # Levers: 1.2 m of arm against half a metre.
    assert load_.counterweight == pytest.approx(load_.weight * 1.2 / 0.5)
    words = " ".join(inspect_unit(scene, "k").holding)
    assert f"{load_.counterweight:.1f} kg" in words and "licensed people decide" in words


@pytest.mark.parametrize(
    "place, found",
    [
        ([3, 1.6, 1.9], InTheWay("through", "Chart table")),
        ([3.8, 1.35, 1.9], InTheWay("legs", "Chart table")),
        # Its legs go under the table's edge, beside the table's own.
        ([3.8, 1.6, 1.9], None),
        ([3, 3.05, 1.9], InTheWay("person", "Subject")),
        ([0.01, 5, 1.9], InTheWay("wall")),
        # Under the top, between the legs: a small lamp on a low stand.
        ([3, 1.6, 0.3], None),
    ],
)
def test_where_a_stand_can_stand(place, found):
    scene = held(things=[TABLE], position=place)
    assert in_its_way(scene, scene.units[0]) == found


def test_a_stand_that_has_no_room_is_a_fault_and_a_hung_one_is_none():
    assert any("through 'Chart table'" in f for f in inspect_unit(held(things=[TABLE]), "k").faults)
    for by in ("hung", "built-in"):
        faults = inspect_unit(held(by, things=[TABLE]), "k").faults
        assert not any("stand" in f for f in faults)


@pytest.mark.parametrize("seed", range(6))
def test_a_boom_finds_a_place_where_one_is_and_says_where_none_is(seed):
    draw = np.random.default_rng(seed)
    crates = [
        {
            "id": f"c{k}",
            "name": f"Crate {k}",
            "kind": "box",
            "position": [*draw.uniform((0.5, 0.5), (5.5, 2.4)).tolist(), 0],
            "size": [*draw.uniform(0.3, 0.9, 2).tolist(), 0.6],
            "turn": float(draw.uniform(0, 90)),
        }
        for k in range(9)
    ]
    scene = held(things=[TABLE, *crates])
    found = make(scene, "k", "boom")
    unit = found.units[0]
    assert unit.held == "boom" and not in_its_way(found, unit)
    arm = np.hypot(*np.subtract(unit.foot, unit.position[:2]))
    assert 0.39 < arm < 2.01
    # A floor that is one crate leaves no place.
    full = [
        {**TABLE, "kind": "box", "name": "Stage", "size": [5.9, 6.9, 0.2], "position": [3, 3.5, 0]}
    ]
    with pytest.raises(DocumentError, match="no place for a stand"):
        make(held(things=full), "k", "boom")


def test_over_a_person_a_cable_is_asked_for():
    above = held("hung", position=[3, 3, 2.6], aim=[3, 3.2, 1])
    assert "It is over Subject: a safety cable" in " ".join(inspect_unit(above, "k").holding)
    assert not inspect_unit(held("hung"), "k").holding


def test_an_arm_through_a_wall_or_a_head_is_told():
    """An L-shaped room: from the one leg to the other the arm would go through the corner."""
    corners = [(0, 0), (6, 0), (6, 3), (3, 3), (3, 7), (0, 7)]
    room = {"height": 3, "outline": [{"at": list(c)} for c in corners]}
    lamp = {**data()["units"][0], "held": "boom", "position": [2.5, 4.2, 2.2], "foot": [4.2, 2.5]}

    def way(**more):
        scene = setup(
            room=room,
            figures=[{"id": "s", "name": "Pilot", "position": [1, 1]}],
            cameras=[{"id": "a", "name": "A", "position": [1, 5, 1.2], "aim": [1, 1, 1.2]}],
            units=[{**lamp, **more}],
        )
        return in_its_way(scene, scene.units[0])

    assert way().what == "arm-wall"
    assert way(foot=[2.5, 2.2]) is None
    # Low over the floor it would go through a person on the way; over the head it does not.
    low = way(position=[1.9, 1, 1.3], foot=[0.4, 1])
    assert low.what == "arm-person" and low.name == "Pilot"
    assert way(position=[1.9, 1, 2.3], foot=[0.4, 1]) is None
    found = setup(
        room=room,
        figures=[{"id": "s", "name": "Pilot", "position": [1, 1]}],
        cameras=[{"id": "a", "name": "A", "position": [1, 5, 1.2], "aim": [1, 1, 1.2]}],
        units=[lamp],
    )
    assert any("arm of its boom" in fault for fault in inspect_unit(found, "key").faults)
