"""Flags that keep light off a thing, and boards that bring a ratio: held against geometry and a
meter of one's own.
"""

import numpy as np
import pytest

from moth.errors import MothError
from moth.metering import read_setup
from moth.solving import TRIES, bring_board, keep_off, ratio_of, try_board
from moth.solving.fitting import hidden_by, in_free_air, spread
from moth.tests.scenes import data, setup
from moth.world import anchor, axes, check_placement, landmarks

BOX = {
    "id": "box",
    "name": "Sea chest",
    "kind": "box",
    "size": [0.5, 0.5, 0.9],
    "surface": {"reflectance": 0.06},
}


def drawn(seed):
    """A small hard lamp that lights the face and a box, both drawn at random."""
    draw = np.random.default_rng(seed)
    angle = draw.uniform(20, 75) * draw.choice([-1, 1])
    face = anchor(setup())
    toward = np.array([np.sin(np.radians(angle)), np.cos(np.radians(angle)), 0.0])
    lamp = face + draw.uniform(1.6, 2.4) * toward + [0, 0, draw.uniform(0.3, 1.0)]
    side = np.array([toward[1], -toward[0], 0.0]) * draw.choice([-1, 1])
    place = face + draw.uniform(0.9, 1.3) * side + draw.uniform(-0.4, 0.4) * toward
    units = [
        {
            **data()["units"][0],
            "id": "k",
            "name": "Key",
            "role": "key",
            "head": "point-150",
            "position": lamp.round(3).tolist(),
            "aim": face.round(3).tolist(),
            "attachments": [],
        }
    ]
    return setup(
        units=units, furniture=[{**BOX, "position": [*place[:2].round(3).tolist(), 0]}], grip=[]
    )


def stopped(piece, origins, target):
    """Which straight ways from places to a lamp a sheet stops: a rectangle met by a line."""
    right, up, normal = axes(piece.position, piece.aim, piece.roll)
    middle = np.asarray(piece.position)
    way = np.asarray(target) - origins
    far = ((middle - origins) @ normal) / (way @ normal)
    at = origins + far[:, None] * way - middle
    inside = (np.abs(at @ right) < piece.size[0] / 2) & (np.abs(at @ up) < piece.size[1] / 2)
    return inside & (far > 0) & (far < 1)


@pytest.mark.parametrize("seed", range(8))
def test_a_flag_stands_between_lamp_and_thing_and_not_between_lamp_and_face(seed):
    scene = drawn(seed)
    found = keep_off(scene, "k", "furniture:box")
    check_placement(found.setup)
    flag, lamp = found.setup.grip[-1], np.array(scene.units[0].position)
    # By lines alone, on the box's sides that look at the lamp.
    box = scene.furniture[0]
    draw = np.random.default_rng(1000 + seed)
    at = draw.uniform(-0.5, 0.5, (3000, 3))
    side, which = draw.choice([-0.5, 0.5], 3000), draw.integers(0, 3, 3000)
    at[np.arange(3000), which] = side
    outward = np.zeros((3000, 3))
    outward[np.arange(3000), which] = np.sign(side)
    places = np.asarray(box.position) + [0, 0, 0.45] + at * box.size
    facing = ((lamp - places) * outward).sum(1)
    facing = facing > 0.05
    assert stopped(flag, places[facing], lamp).mean() > 0.6
    face = np.array(list(landmarks(scene.figures[0]).values()))
    assert not stopped(flag, face, lamp).any()
    # By the meter: what the face gets is what it got, as the words say.
    chin = [
        next(m.lux for m in read_setup(s).marks if m.id == "chin") for s in (scene, found.setup)
    ]
    assert abs(np.log2(chin[0] / chin[1])) < 0.15
    assert found.off > 0.66 and found.face <= 0.1
    assert hidden_by(found.setup, [flag]) < 0.002 and in_free_air(scene, flag)
    assert "Sea chest loses" in found.words and "the face" in found.words


def test_what_lies_behind_the_face_on_the_lamps_way_is_refused():
    """A mark a hand's breadth beside the cheek, as seen from a large soft source."""
    scene = drawn(0)
    face = anchor(scene)
    lamp = np.array(scene.units[0].position)
    to = (lamp - face) / np.linalg.norm(lamp - face)
    mark = {
        "id": "m",
        "name": "Collar",
        "position": (face + 0.09 * to + [0, 0, -0.05]).tolist(),
        "direction": to.tolist(),
    }
    soft = [{**scene.units[0].model_dump(), "head": "panel-2x1", "attachments": []}]
    close = setup(units=soft, marks=[mark], grip=[])
    with pytest.raises(MothError, match="No flag keeps Key off Collar"):
        keep_off(close, "k", "mark:m")


@pytest.mark.parametrize(
    "unit, thing, words",
    [
        ("nobody", "@backdrop", "no unit"),
        ("k", "furniture:none", "nothing called"),
        ("k", "person:subject", "left alone"),
        ("k", "mark:none", "no mark"),
    ],
)
def test_what_is_not_there_is_told(unit, thing, words):
    scene = drawn(1)
    thing = thing.replace("subject", scene.figures[0].id)
    with pytest.raises(MothError, match=words):
        keep_off(scene, unit, thing)


def test_a_lamp_that_does_not_reach_a_thing_is_told():
    """A mark that looks away from the lamp."""
    scene = drawn(2)
    lamp = np.array(scene.units[0].position)
    mark = {
        "id": "m",
        "name": "Far side",
        "position": [1.0, 1.0, 1.0],
        "direction": (np.array([1.0, 1.0, 1.0]) - lamp).tolist(),
    }
    dark = setup(units=list(scene.units), marks=[mark], grip=[])
    with pytest.raises(MothError, match="brings no light of its own to Far side"):
        keep_off(dark, "k", "mark:m")


def room_of(seed):
    """A key and a weak fill in a room of walls drawn at random, and nothing else."""
    draw = np.random.default_rng(seed)
    wall = {"reflectance": float(draw.uniform(0.3, 0.7))}
    scene = drawn(seed)
    room = {**data()["room"], **dict.fromkeys(("north", "south", "east", "west"), wall)}
    head = str(draw.choice(["point-150", "panel-small", "fresnel-100"]))
    unit = {**scene.units[0].model_dump(), "head": head}
    fill = {**data()["units"][1], "dimmer": float(draw.uniform(0.05, 0.2))}
    return setup(room=room, units=[unit, fill], grip=[], furniture=[])


@pytest.mark.parametrize("seed", range(5))
def test_a_board_brings_the_ratio_that_was_asked_for(seed):
    scene = room_of(seed)
    draw = np.random.default_rng(50 + seed)
    now = ratio_of(scene, "combined")
    target = max(now * float(draw.uniform(0.75, 0.9)), 1.05)
    lamp = np.asarray(scene.units[0].position)
    lens = np.asarray(scene.cameras[0].position)
    face = anchor(scene)
    across = np.cross(lens - face, [0, 0, 1.0])
    # The lens sees what lies along `across` on its left; the shade is where the key is not.
    side = "right" if (lamp - face) @ across > 0 else "left"
    found = bring_board(scene, target, "combined", side)
    board = found.setup.grip[-1]
    check_placement(found.setup)
    # Told as it is, and as another reading of the set-up tells it.
    assert abs(np.log2(found.ratio / target)) < 0.1
    assert ratio_of(found.setup, "combined") == pytest.approx(found.ratio)
    assert board.kind == ("board" if target < now else "flag") and side in board.name
    assert in_free_air(scene, board) and hidden_by(found.setup, [board]) < 0.002
    assert np.sign((np.asarray(board.position) - face) @ across) == (1 if side == "left" else -1)
    assert spread(board)[:, 2].min() > 0


def test_black_cloth_is_brought_where_the_shade_is_too_light():
    """In a white room the ratio is small; white boards cannot make it larger, black cloth can."""
    white = {"reflectance": 0.8}
    walls = dict.fromkeys(("north", "south", "east", "west", "floor"), white)
    unit = drawn(3).units[0].model_dump()
    scene = setup(room={**data()["room"], **walls}, units=[unit], grip=[])
    now = ratio_of(scene, "combined")
    tried = [try_board(scene, 1.15 * now, "combined", side, 4) for side in ("left", "right")]
    assert any(t.solved and t.solved.setup.grip[-1].material == "duvetyne" for t in tried)


def test_what_no_board_can_do_is_told_with_how_near_it_comes():
    scene = room_of(1)
    now = ratio_of(scene, "combined")
    with pytest.raises(MothError, match="already"):
        try_board(scene, now, "combined", "left", 0)
    tried = try_board(scene, 1.0, "combined", "left", 0)
    assert tried.solved is None and tried.off > 0.1
    assert "the nearest is" in tried.words and "What would" in tried.words
    assert len(TRIES) == 12
    with pytest.raises(MothError, match="between"):
        try_board(scene, 99, "combined", "left", 0)
