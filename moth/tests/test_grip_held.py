"""How grip is held: its stands are things of the place, seen, in the way, packed and minded."""

import numpy as np
import pytest

from moth.document import load
from moth.errors import MothError
from moth.inspection import grip_holding, inspect_unit
from moth.judging import picture_of, read_picture
from moth.place import (
    InTheWay,
    arm_rods,
    ends_of,
    grip_rods,
    in_its_way,
    load_of,
    over,
    shared_by,
    stands_of,
)
from moth.planning.cautions import cautions_of
from moth.planning.needs import STANDS, bags_against_pull, needs_of, stand_for, usual_bags
from moth.planning.tasks import tasks_of
from moth.solving import make, stood
from moth.tests.scenes import data
from moth.transport import project
from moth.world import build_world

BOARD = {
    "id": "b",
    "name": "Board",
    "kind": "board",
    "material": "foam-white",
    "position": [1.6, 2.4, 1.3],
    "aim": [3, 3, 1.3],
    "size": [1.0, 1.2],
}
TABLE = {
    "id": "t",
    "name": "Chart table",
    "kind": "table",
    "position": [1.6, 2.4, 0],
    "size": [2.4, 1.8, 0.75],
}


def held(by="stand", things=(), **more):
    return load(data(grip=[{**BOARD, "held": by, **more}], furniture=list(things)))


@pytest.mark.parametrize("seed", range(6))
def test_stands_stand_under_the_sheets_sides(seed):
    """However it is turned and rolled: half its width to either side, along the floor."""
    draw = np.random.default_rng(seed)
    way = np.array([*draw.normal(size=2), draw.uniform(-0.4, 0.4)])
    size = draw.uniform(0.5, 2.4, 2).round(2).tolist()
    roll = float(draw.choice([0.0, 90.0, draw.uniform(-40, 40)]))
    aim = (np.array(BOARD["position"]) + way).tolist()
    piece = held(aim=aim, size=size, roll=roll).grip[0]
    one, other, top = ends_of(piece)
    assert (one + other) / 2 == pytest.approx(piece.position)
    # The more level of its two directions; its top is half of the other above its middle.
    flat = size[1] if roll == 90.0 else size[0]
    assert np.linalg.norm(one - other) == pytest.approx(flat, abs=1e-6)
    assert (top - piece.position) @ (one - other) == pytest.approx(0, abs=1e-9)
    assert top[2] > piece.position[2]
    stands = stands_of(piece)
    assert len(stands) == (2 if size[0] * size[1] >= 1.5 else 1)
    for stand in stands:
        assert np.hypot(*(np.array(stand.foot) - piece.position[:2])) <= flat / 2 + 1e-9


def test_rods_are_tubes_whose_outside_is_outside():
    """Bodies of the world as well: what a ray meets first is a rod's near side, dark steel."""
    scene = held()
    (foot, _), height = stands_of(scene.grip[0])[0].foot, 0.9
    world = build_world(scene)
    foot = np.array(stands_of(scene.grip[0])[0].foot)
    way = np.array([0.6, 0.8, 0.0])
    origin = np.array([*foot, height]) - way
    triangle, _, far = world.rays.first(origin[None], way[None])
    assert far[0] == pytest.approx(1 - 0.0175, abs=0.003)
    assert world.mesh.flat[triangle[0]] @ way < -0.5
    assert world.mesh.albedo[world.mesh.faces[triangle[0], 0]].max() < 0.2
    # Nobody said how: nothing is there.
    bare = build_world(held(""))
    assert bare.rays.first(origin[None], way[None])[2][0] > 1.2
    assert len(bare.mesh.faces) < len(world.mesh.faces)


def test_an_arm_carries_a_sheet_from_beside_and_wants_its_counterweight():
    scene = held("boom", foot=[1.6, 0.9])
    ends = np.array(
        [end for one, two, _ in grip_rods(scene.room, scene.grip[0]) for end in (one, two)]
    )
    assert ends[:, 1].min() == pytest.approx(0.9 - 0.5, abs=0.01)
    load_ = load_of(scene.grip[0])
    # 1.2 m² at 2.5 kg; 1.5 m of arm against half a metre.
    assert (load_.weight, load_.arm) == (pytest.approx(3.0), pytest.approx(1.5))
    assert load_.counterweight == pytest.approx(9.0)
    words = " ".join(grip_holding(scene, "b").words)
    assert "9.0 kg" in words and "licensed people decide" in words


def test_what_hangs_hangs_from_the_ceiling_and_over_whom_is_told():
    scene = held("hung", position=[3, 3, 2.4], aim=[3, 3, 1], size=[1.2, 1.2])
    rods = grip_rods(scene.room, scene.grip[0])
    assert [rod[1][2] for rod in rods] == [3.0, 3.0] and len(rods) == 2
    assert over(scene, scene.grip[0]) == "Subject"
    assert "a safety cable" in " ".join(grip_holding(scene, "b").words)
    assert any(c.kind == "over people" and c.about == "Board" for c in cautions_of(scene))
    room = {**data()["room"], "outdoors": True}
    outside = load(data(room=room, grip=[{**BOARD, "held": "hung"}]))
    assert "nothing outdoors" in grip_holding(outside, "b").fault


@pytest.mark.parametrize("height", [2.4, 4.0])
def test_what_hangs_in_a_gap_or_in_the_loft_hangs_from_its_roof(height):
    room = {**data()["room"], "gaps": [{"low": [2, 2], "high": [4, 4]}]}
    sheet = {**BOARD, "held": "hung", "position": [3, 3, height], "aim": [3, 3, 1]}
    scene = load(data(room=room, grip=[sheet]))
    # The loft is six metres high, over a ceiling of three.
    rods = grip_rods(scene.room, scene.grip[0])
    assert [rod[1][2] for rod in rods] == [9.0, 9.0]
    assert all(rod[0][2] < rod[1][2] for rod in rods)
    words = " ".join(grip_holding(scene, "b").words)
    assert f"{9 - height:.1f} m under what it hangs from" in words


@pytest.mark.parametrize(
    "change, found",
    [
        ({}, None),
        ({"position": [0.3, 2.4, 1.3], "aim": [0.3, 5, 1.3], "foot": [0, 2.4]}, InTheWay("wall")),
        ({"position": [2.6, 3, 1.3], "aim": [2.6, 5, 1.3], "foot": [3, 3]}, "person"),
    ],
)
def test_where_a_sheets_stand_cannot_stand(change, found):
    scene = held(**change)
    way = in_its_way(scene, scene.grip[0])
    assert way == found or (way and way.what == found)
    assert bool(grip_holding(scene, "b").fault) == (found is not None)


@pytest.mark.parametrize("seed", range(5))
def test_a_stand_is_found_where_one_has_room(seed):
    draw = np.random.default_rng(seed)
    crates = [
        {
            "id": f"c{k}",
            "name": f"Crate {k}",
            "kind": "box",
            "position": [*draw.uniform((0.5, 0.5), (2.8, 5)).tolist(), 0],
            "size": [*draw.uniform(0.3, 0.9, 2).tolist(), 0.6],
            "turn": float(draw.uniform(0, 90)),
        }
        for k in range(7)
    ]
    scene = held("", crates)
    piece = stood(scene, scene.grip[0])
    assert piece.held in ("stand", "boom") and in_its_way(scene, piece) is None
    # A floor that is one crate leaves no place.
    full = [{**TABLE, "kind": "box", "size": [5.9, 6.9, 0.2], "position": [3, 3.5, 0]}]
    with pytest.raises(MothError, match="no place for a stand"):
        stood(held("", full), held("").grip[0])


def test_rigs_in_one_move_stand_on_stands_that_have_room():
    scene = load(data())
    for move in ("book", "cloth", "bounce-board", "negative"):
        made = make(scene, "key", move)
        for piece in made.grip:
            assert piece.held in ("stand", "boom") and in_its_way(made, piece) is None


def stands_read(scene):
    return [r for r in read_picture(scene, picture_of(scene)) if r.key == "frame stand b"]


def test_a_stand_in_the_picture_is_told_and_one_beside_it_is_not():
    """The sheet is over the frame in both; only its stand comes down into it."""
    lens, face = np.array([3, 5.5, 1.25]), np.array([3, 3.1, 1.25])
    middle = lens + 0.55 * (face - lens)
    above = {"position": [middle[0] + 0.75, middle[1], 2.2], "aim": [3.75, 9, 2.2]}
    size = {"size": [1.0, 0.5]}
    into = held("stand", foot=[2.9, float(middle[1])], **above, **size)
    beside = held("stand", foot=[4.6, float(middle[1])], **above, **size)
    (found,) = stands_read(into)
    assert found.verdict == "fault" and found.word == "its stand is in the picture"
    foot = stands_of(into.grip[0])[0].foot
    ((across, _),) = project(into.cameras[0], [(*foot, 1.25)])
    xs = [x for x, _ in found.path]
    assert min(xs) - 0.02 < across < max(xs) + 0.02 and max(xs) - min(xs) < 0.3
    assert not stands_read(beside) and not stands_read(held("", **above, **size))


def counts(scene):
    return {(n.kind, n.key): n.count for n in needs_of(scene) if "Board" in n.of}


def test_what_is_packed_follows_how_it_is_held():
    assert counts(held("stand"))["stand", "stand-light"] >= 1
    hung = counts(held("hung"))
    assert hung["arm", "clamp"] == 2 and not any(kind == "stand" for kind, _ in hung)
    by_hand = counts(held("hand"))
    assert not {kind for kind, _ in by_hand} & {"stand", "arm", "bag"}
    assert counts(held("boom", foot=[1.6, 0.9]))["arm", "boom"] == 1
    # Nobody has said: it is packed as it usually stands.
    assert counts(held("")) == counts(held("stand"))


def test_a_stand_before_a_door_is_told():
    door = {
        "id": "d",
        "name": "Door",
        "kind": "door",
        "position": [0.6, 2.4, 0],
        "size": [0.9, 0.1, 2.0],
    }
    near = held("stand", [door], position=[1.0, 2.4, 1.3], foot=[0.6, 2.4])
    assert any(c.kind == "exits" and "Board" in c.words for c in cautions_of(near))
    assert not any(c.kind == "exits" for c in cautions_of(held("hand", [door])))


LAMP = {"id": "k", "name": "Key", "head": "panel-small", "position": [2, 1.5, 1], "aim": [2, 3, 2]}


def shared(lamp=(), **more):
    """A board above a lamp, on the lamp's stand."""
    on = {"position": [2.0, 2.1, 2.0], "aim": [2.5, 3.2, 1.2], "held": "arm", "bearer": "k"}
    board = {**BOARD, **on, "foot": [2, 1.5], **more}
    return load(data(units=[{**LAMP, **dict(lamp)}], grip=[board]))


def test_a_stand_bears_a_board_by_an_arm_and_is_packed_once():
    scene = shared()
    lamp, board = scene.units[0], scene.grip[0]
    assert in_its_way(scene, board) is None
    assert stands_of(board) == ()
    takes = [(n.kind, n.key, n.count) for n in needs_of(scene) if n.kind in ("stand", "arm")]
    assert takes == [("stand", "stand-light", 1), ("arm", "arm", 1)]
    apart = load(data(units=[LAMP], grip=[{**BOARD, "position": [2, 2.1, 2], "held": "stand"}]))
    assert sum(n.count for n in needs_of(apart) if n.kind == "stand") == 2
    assert [t.kind for t in tasks_of(scene)][:2] == ["stand", "power"]
    sheet = next(t for t in tasks_of(scene) if t.kind == "sheet")
    assert sheet.after == ("stand:k",)
    assert shared_by(scene, lamp).height == 2.0


@pytest.mark.parametrize("seed", range(8))
def test_what_pulls_at_a_shared_stand_by_hand(seed):
    """Weights and arms of several things at random: their sum, and bags about the nearer edge."""
    draw = np.random.default_rng(seed)
    grip, weight, pull = [], 1.9, np.zeros(2)
    for k in range(int(draw.integers(1, 4))):
        size = draw.uniform(0.3, 1.1, 2).round(2)
        off = draw.uniform(-0.8, 0.8, 2).round(2)
        place = [float(2 + off[0]), float(1.5 + off[1]), float(draw.uniform(0.8, 2.2))]
        on = {"id": f"g{k}", "position": place, "aim": [3, 3, 1.4], "size": size.tolist()}
        grip.append({**BOARD, **on, "held": "arm", "bearer": "k", "foot": [2, 1.5]})
        weight += 2.5 * size.prod()
        pull += 2.5 * size.prod() * off
    scene = load(data(units=[LAMP], grip=grip))
    found = shared_by(scene, scene.units[0])
    assert found.weight == pytest.approx(weight)
    assert found.pull == pytest.approx(tuple(pull), abs=1e-5)
    key = stand_for(found.weight, found.height)
    stand = STANDS[key]
    # About the line between two feet, half their radius from the pole.
    lacking = np.hypot(*pull) / (stand.radius / 2) - stand.weight - weight
    assert bags_against_pull(key, found) == max(0, int(np.ceil(lacking / 7.0)))
    mind = next(c for c in cautions_of(scene) if "bears" in c.words)
    bags = usual_bags(key) + bags_against_pull(key, found)
    assert f"{1 + len(grip)} things" in mind.words and f"{bags} bag" in mind.words


@pytest.mark.parametrize(
    ("change", "found"),
    [
        ({"position": [2.0, 3.4, 2.0]}, InTheWay("arm-long", "Key")),
        ({"foot": [2.3, 1.5]}, InTheWay("gone", "Key")),
        ({"position": [2.0, 2.6, 2.0]}, None),
    ],
)
def test_where_no_arm_holds_it(change, found):
    scene = shared(**change)
    assert in_its_way(scene, scene.grip[0]) == found
    fault = grip_holding(scene, "b").fault
    assert bool(fault) == bool(found)
    assert not found or "Key" in fault


def test_an_arm_through_a_person_or_a_wall_is_told():
    # Between stand and board sits the subject.
    lamp = {"position": [2.6, 3.0, 1.0], "aim": [3, 5, 1]}
    over_head = shared(lamp, position=[3.5, 3.0, 1.2], foot=[2.6, 3.0], size=[0.5, 0.5])
    assert in_its_way(over_head, over_head.grip[0]).what == "arm-person"
    above = shared(lamp, position=[3.5, 3.0, 2.2], foot=[2.6, 3.0], size=[0.5, 0.5])
    assert in_its_way(above, above.grip[0]) is None
    assert over(above, above.grip[0])


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"bearer": "nobody"}, "an arm wants a unit with a stand"),
        ({"foot": None}, "an arm wants the place of its stand"),
    ],
)
def test_an_arm_on_nothing_is_refused(change, words):
    with pytest.raises(MothError, match=words):
        shared(**change)
    with pytest.raises(MothError, match="an arm wants a unit with a stand"):
        shared({"held": "hung"})


def test_an_arm_and_what_it_lengthens_of_the_pole_are_in_the_picture():
    scene = shared()
    longer, arm = arm_rods(scene, scene.grip[0])
    assert longer[0][:2] == (2.0, 1.5) and longer[0][2] > 1.0 and longer[1][2] == arm[1][2]
    without = load(data(units=[LAMP], grip=[{**BOARD, **scene.grip[0].model_dump(), "held": ""}]))
    extra = len(build_world(scene).mesh.faces) - len(build_world(without).mesh.faces)
    assert extra == 2 * 12
    # Below the lamp nothing is longer: its own pole is there.
    low = shared(position=[2.0, 2.1, 0.6], size=[0.4, 0.4])
    assert len(arm_rods(low, low.grip[0])) == 1


def test_parts_of_a_set_up_without_the_bearer_are_worked_out_too():
    """Where another light is asked about alone, the unit whose stand it is is away."""
    scene = shared()
    dark = scene.model_copy(update={"units": ()})
    assert len(build_world(dark).mesh.faces) == len(build_world(scene).mesh.faces)
    assert in_its_way(dark, dark.grip[0]) is None
    lamp = {**LAMP, "id": "b", "position": [2.0, 2.1, 2.0], "held": "arm", "bearer": "k"}
    two = load(data(units=[LAMP, {**lamp, "foot": [2, 1.5]}]))
    assert "the stand of Key" in inspect_unit(two, "b").holding[0]
    alone = two.model_copy(update={"units": two.units[1:]})
    assert "another's stand" in inspect_unit(alone, "b").holding[0]


@pytest.mark.parametrize("seed", range(6))
def test_under_any_ceiling_the_board_hangs_clear_of_the_cloth_or_it_is_refused(seed):
    """Someone stands: under 2.3 m there is no room, under 2.8 m all of it comes down."""
    draw = np.random.default_rng(seed)
    given = data()
    given["figures"][0]["pose"] = "standing"
    given["room"]["height"] = high = float(draw.uniform(2.2, 3.2))
    scene = load(given)
    if high < 2.3:
        with pytest.raises(MothError, match="ceiling is too low"):
            make(scene, scene.units[0].id, "book-stand")
        return
    try:
        board, cloth = make(scene, scene.units[0].id, "book-stand").grip[-2:]
    except MothError as error:
        assert "too low" in error.sentence and high < 2.45
        return
    assert board.position[2] - cloth.position[2] == pytest.approx(0.75, abs=0.01)
    assert max(end[2] for end in ends_of(board)) < high


@pytest.mark.parametrize("angle", [-60, -30, 45])
def test_a_book_light_on_one_stand_is_soft_and_stands(angle):
    scene = load(data())
    turn = np.radians(angle)
    lamp = scene.units[0].model_copy(
        update={"position": (3 + 1.6 * np.sin(turn), 3 + 1.6 * np.cos(turn), 2.0), "on": True}
    )
    scene = scene.model_copy(update={"units": (lamp, *scene.units[1:])})
    rigged = make(scene, lamp.id, "book-stand")
    board, cloth = rigged.grip[-2:]
    now = rigged.units[0]
    assert {g.bearer for g in (board, cloth)} == {now.id}
    assert not any(in_its_way(rigged, item) for item in (now, board, cloth))
    stands = [n for n in needs_of(rigged) if n.kind == "stand" and now.name in n.of]
    assert [n.count for n in stands] == [1]
    # The lamp is behind the cloth and under the board, which hangs over the cloth.
    assert now.position[2] < cloth.position[2] < board.position[2]
    found = inspect_unit(rigged, now.id)
    assert found.stages[-1].lux > 0
    # Most of it comes from the cloth: a square of 0.9 m at 1.6 m is 16 degrees to its side.
    assert found.size.half > 10
