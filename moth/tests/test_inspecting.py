"""The figures of one unit, each against what geometry says of a lamp in a black room."""

import re
from itertools import pairwise

import numpy as np
import pytest

from moth.document import load
from moth.inspection import inspect_unit
from moth.metering.marks import HEAD_RADIUS, at_head
from moth.photometry import HEADS, from_function, lamp_of, write_ies
from moth.tests.scenes import BLACK_ROOM, setup
from moth.wording import TENTHS, THIRDS
from moth.world import anchor

HALL = {"width": 12, "depth": 12, "height": 8, **BLACK_ROOM}
FIGURE = [{"id": "s", "name": "S", "pose": "seated", "position": [6, 6]}]
CAMERA = [{"id": "a", "name": "A", "position": [6, 9, 1.25], "aim": [6, 6, 1.2]}]
EVEN = write_ies(from_function(lambda c, g: 2000 + 0 * g), (0.0, 0.0), "even lamp")


def panel(candela, size):
    return write_ies(
        from_function(lambda c, g: candela * np.cos(np.radians(np.minimum(g, 90)))), size, "panel"
    )


def hall(lamp, grip=(), **more):
    return setup(
        room=HALL,
        figures=FIGURE,
        cameras=CAMERA,
        units=[{"id": "k", "name": "K", "role": "key", "head": "point-60", **lamp}],
        grip=list(grip),
        **more,
    )


FACE = anchor(hall({"position": [6, 8, 2], "aim": [6, 6, 1.2], "ies": EVEN}))
AHEAD = np.array([0.6, 0.8, 0.0])
"""Way from the face to the lamp: level, so that heights do not come into it."""


def lamp(distance, ies=EVEN, **more):
    return {
        "position": (FACE + distance * AHEAD).tolist(),
        "aim": FACE.tolist(),
        "ies": ies,
        **more,
    }


@pytest.mark.parametrize("distance", [1.5, 2.5])
def test_level_and_ways_of_a_bare_lamp(distance):
    scene = hall(lamp(distance, dimmer=0.25))
    found = inspect_unit(scene, "k")
    held = at_head(scene, scene.units[0].position)
    expected = 2000 / float(((np.array(scene.units[0].position) - held.position) ** 2).sum())
    assert found.lux == pytest.approx(0.25 * expected, rel=0.005)
    assert found.stages[-1].lux == pytest.approx(expected, rel=0.005)  # the way is told at full
    # Nothing is lost or won on a straight way: both are told where the meter is held.
    assert found.stages[0].lux == pytest.approx(expected, rel=0.005)
    assert found.stages[-1].words == "0"
    assert [w.name for w in found.ways] == ["straight from the lamp"] and found.ways[
        0
    ].share == pytest.approx(1, abs=2e-3)  # her own clothes send a little
    assert found.footcandles == pytest.approx(found.lux / 10.7639, rel=1e-4)
    assert found.cost is None and found.faults == () and found.origin == "lamp"
    assert (
        np.linalg.norm(np.array(held.position) - [6, held.position[1], held.position[2]])
        <= HEAD_RADIUS
    )


@pytest.mark.parametrize("distance", [1.5, 3.0])
def test_coverage_and_fall_off_of_an_even_lamp(distance):
    # Across a plane square to the way, E = I D / (D^2 + x^2)^1.5.
    found = inspect_unit(hall(lamp(distance)), "k").coverage
    square = distance**2
    for name, within in (("half", 0.5), ("one", 1.0), ("one_and_half", 1.5)):
        width = 2 * np.sqrt(square * (2 ** (within / 1.5) - 1))
        assert getattr(found.widths, name) == pytest.approx(min(width, 8), rel=0.02)
    assert found.falloff == pytest.approx(1.5 * np.log2(1 + 1.8288**2 / square), abs=0.02)


def test_a_narrow_beam_covers_its_cone_and_no_wall():
    spot = write_ies(
        from_function(lambda c, g: np.where(g <= 10, 5000.0, 0.0)), (0.0, 0.0), "narrow"
    )
    found = inspect_unit(hall(lamp(3.0, spot)), "k").coverage
    assert found.widths.one_and_half == pytest.approx(2 * 3.0 * np.tan(np.radians(10)), abs=0.2)
    assert found.falloff == 20.0


@pytest.mark.parametrize("width, height, distance", [(0.6, 0.6, 2.0), (1.2, 0.4, 1.5)])
def test_size_shadow_and_wrap_of_a_panel(width, height, distance):
    found = inspect_unit(hall(lamp(distance, panel(3000, (width, height)))), "k")
    size, shadow = found.size, found.shadow
    assert sorted((size.width, size.height)) == pytest.approx(sorted((width, height)), rel=0.04)
    assert size.distance == pytest.approx(distance, rel=0.05)
    widest = max(width, height)
    assert size.degrees == pytest.approx(
        np.degrees(2 * np.arctan(widest / 2 / size.distance)), rel=0.04
    )
    assert shadow.cheek == pytest.approx(widest * 0.03 / (size.distance - 0.03), rel=0.04)
    assert shadow.wrap == pytest.approx(np.degrees(np.arctan(widest / 2 / size.distance)), rel=0.04)
    # On the way on from the face the south wall comes first: y runs out at 0.8 a metre.
    behind = FACE[1] / AHEAD[1]
    assert shadow.to_backdrop == pytest.approx(behind, rel=0.01)
    assert shadow.backdrop == pytest.approx(widest * behind / size.distance, rel=0.04)


def test_the_shadow_softens_as_the_lamp_comes_near():
    edges = [
        inspect_unit(hall(lamp(d, panel(3000, (0.6, 0.6)))), "k").shadow.cheek
        for d in (3.0, 2.0, 1.0)
    ]
    assert edges == sorted(edges) and edges[2] / edges[0] == pytest.approx(2.97 / 0.97, rel=0.05)


def cloth(size, distance, id_="c"):
    return {
        "id": id_,
        "name": "Cloth",
        "kind": "frame",
        "material": "muslin-bleached",
        "position": (FACE + distance * AHEAD).tolist(),
        "aim": FACE.tolist(),
        "size": [size, size],
    }


def test_a_cloth_evenly_filled_is_as_wide_as_it_is():
    far = inspect_unit(hall(lamp(5.5), [cloth(1.2, 1.5)]), "k")
    assert far.origin == "sheet"
    assert far.size.width == pytest.approx(1.2, rel=0.06) and far.size.distance == pytest.approx(
        1.5, rel=0.01
    )
    # A lamp close behind it makes a hot middle: a smaller source on the same frame.
    near = inspect_unit(hall(lamp(1.8), [cloth(1.2, 1.5)]), "k")
    assert near.size.width < 0.8 * far.size.width
    stage = next(s for s in near.stages if s.kind == "muslin-bleached" or "Cloth" in s.name)
    assert "middle" in stage.note


@pytest.mark.parametrize("behind", [0.4, 0.8, 1.6])
def test_evenness_of_a_cloth_is_the_lamps_fall_off_over_it(behind):
    # An even lamp behind the middle: E = I h / (h^2 + r^2)^1.5 over the frame; its edge is the mean
    # of the outer row of cells.
    found = inspect_unit(hall(lamp(1.5 + behind), [cloth(1.2, 1.5)]), "k")
    stage = next(s for s in found.stages if s.name == "On Cloth")
    at = (np.arange(12) + 0.5) / 12 * 1.2 - 0.6
    x, y = np.meshgrid(at, at)
    level = 2000 * behind / (behind**2 + x**2 + y**2) ** 1.5
    middle, edge = (
        level[5:7, 5:7].mean(),
        np.mean([level[0].mean(), level[-1].mean(), level[:, 0].mean(), level[:, -1].mean()]),
    )
    assert stage.lux == pytest.approx(middle, rel=0.05)
    said = np.log2(middle / edge)
    # Said in thirds: a level near the middle of two may go either way.
    assert any(
        (
            f"middle {THIRDS.difference(said + slack)} over its edges"
            if said + slack > 0.2
            else "even"
        )
        == stage.note.partition(";")[0]
        for slack in (-0.1, 0, 0.1)
    )


def test_a_bounce_costs_what_its_way_and_its_board_cost():
    board = BOARD
    narrow = write_ies(
        from_function(lambda c, g: np.where(g <= 15, 20_000.0, 0.0)), (0.0, 0.0), "narrow"
    )
    scene = hall(
        {"position": (FACE + [-0.6, 1.8, 0.4]).tolist(), "aim": board["position"], "ies": narrow},
        [board],
    )
    found = inspect_unit(scene, "k")
    assert found.origin == "sheet" and found.ways[0].name == "Board" and found.ways[0].share > 0.97
    legs = [np.array(scene.units[0].position), np.array(board["position"]), FACE]
    length = sum(float(np.linalg.norm(b - a)) for a, b in pairwise(legs))
    assert found.cost.path == pytest.approx(length, rel=1e-3)
    assert found.cost.stops == pytest.approx(
        np.log2(found.stages[-1].lux / (20_000 / length**2)), abs=0.02
    )
    assert found.cost.stops < -1


def test_spill_on_what_is_behind_is_told_against_the_face():
    scene = hall(lamp(2.0))
    found = inspect_unit(scene, "k")
    # The lens looks along -y from over (6, 6): what stands behind is the south wall.
    wall = np.array([6.0, 0.0, FACE[2]])
    to = np.array(scene.units[0].position) - wall
    level = 2000 * to[1] / np.linalg.norm(to) ** 3
    assert found.spill.stops == pytest.approx(np.log2(level / found.stages[-1].lux), abs=0.1)


@pytest.mark.parametrize("kelvin, green", [(3200, 0.0), (5600, 0.3), (4300, -0.4)])
def test_the_white_at_the_face_is_the_lamps(kelvin, green):
    found = inspect_unit(
        hall({**lamp(2.0), "ies": None, "head": "panel-small", "cct": kelvin, "green": green}), "k"
    ).white
    assert found.kelvin == pytest.approx(kelvin, rel=0.01) and found.green == pytest.approx(
        green, abs=0.03
    )


def test_a_unit_switched_off_is_still_looked_into():
    on, off = (inspect_unit(hall(lamp(2.0, dimmer=0.5, on=on)), "k") for on in (True, False))
    assert off.lux == pytest.approx(on.lux) and off.stages == on.stages


def test_steps_are_said_as_asked():
    third, tenth = (
        inspect_unit(hall(lamp(2.0), [cloth(1.2, 1.0)]), "k", say) for say in (THIRDS, TENTHS)
    )
    assert [s.lux for s in third.stages] == [s.lux for s in tenth.stages]
    assert "." in tenth.stages[-1].words and "." not in third.stages[-1].words


def test_a_two_colour_head_shows_what_its_white_costs():
    """Both strings work in the middle of its range, one alone at an end."""
    costs = {}
    for kelvin in (2700, 3200, 3815, 6500):
        own = {**lamp(2.0), "ies": None, "head": "point-300", "cct": kelvin}
        rows = [s for s in inspect_unit(hall(own), "k").stages if s.kind == "colour"]
        costs[kelvin] = rows[0].stops if rows else 0.0
    for kelvin, stops in costs.items():
        assert stops == pytest.approx(np.log2(HEADS["point-300"].output(kelvin)), abs=0.05)
    assert costs[2700] < -0.3 and -0.3 < costs[3200] < 0 and costs[3815] == 0


BOARD = {
    "id": "b",
    "name": "Board",
    "kind": "board",
    "material": "foam-white",
    "position": (FACE + [1.2, 1.6, 0]).tolist(),
    "aim": FACE.tolist(),
    "size": [1.2, 1.2],
}


def spot(candela, half):
    return write_ies(
        from_function(lambda c, g: np.where(g <= half, candela, 0.0), reach=half + 5, step=0.25),
        (0.0, 0.0),
        "spot",
    )


def test_one_beam_on_two_boards_is_told_board_by_board():
    """Each has its own share; beside the main way the face tells by what else it is lit."""
    other = {**BOARD, "id": "o", "name": "Other board"}
    other["position"] = (FACE + [-0.9, 1.8, 0]).tolist()
    between = ((np.array(BOARD["position"]) + other["position"]) / 2).tolist()
    place = {
        "position": (FACE + [0.15, 0.6, 1.6]).tolist(),
        "aim": between,
        "ies": spot(20_000, 50),
    }
    found = inspect_unit(hall(place, [BOARD, other]), "k")
    shares = {w.name: w.share for w in found.ways}
    assert shares["Board"] > 0.15 and shares["Other board"] > 0.15
    assert sum(shares.values()) == pytest.approx(1, abs=0.01)
    main = max(("Board", "Other board"), key=lambda name: shares[name])
    assert [s.name for s in found.stages[-3:]] == [
        f"On {main}",
        "On the face by this way",
        "On the face",
    ]
    assert found.stages[-2].lux / found.stages[-1].lux == pytest.approx(shares[main], rel=0.01)
    assert ({"Board", "Other board"} - {main}).pop() in found.stages[-1].note


def test_a_book_is_told_board_first_and_what_black_walls_send_is_nothing():
    frame = {**BOARD, "id": "f", "name": "Front", "kind": "frame", "material": "muslin-bleached"}
    frame["position"] = (FACE + [0.75, 1.0, 0]).tolist()
    board = {**BOARD, "position": (FACE + [1.35, 1.8, 0]).tolist()}
    unit = {
        "position": (FACE + [2.1, 1.0, 0]).tolist(),
        "aim": board["position"],
        "ies": spot(40_000, 18),
    }
    found = inspect_unit(hall(unit, [frame, board]), "k")
    assert [s.name for s in found.stages[1:3]] == ["On Board", "On Front"]
    by_room = next((w.share for w in found.ways if w.name.startswith("walls")), 0.0)
    assert by_room < 0.02


@pytest.mark.parametrize("turned", [False, True])
def test_a_bounced_lamp_that_shines_at_the_face_as_well_is_told(turned):
    """Side on to the board its edge reaches the face; from behind the face it does not."""
    place = FACE + ([-1.2, 1.3, 0.9] if not turned else [-0.9, -1.2, 1.5])
    unit = {"position": place.tolist(), "aim": BOARD["position"], "head": "point-300"}
    found = inspect_unit(hall(unit, [BOARD]), "k")
    straight = next((w.share for w in found.ways if w.name.startswith("straight")), 0.0)
    told = [f for f in found.faults if "straight from the lamp" in f]
    assert bool(told) == (found.origin == "sheet" and straight > 0.12)
    if told:
        assert f"{100 * straight:.0f} %" in told[0]


def test_a_board_that_only_helps_is_no_fault_and_neither_is_anothers_cloth():
    key = {**lamp(2.0), "ies": EVEN}
    helped = inspect_unit(hall(key, [{**BOARD, "position": (FACE + [-1.5, 0.5, 0]).tolist()}]), "k")
    assert helped.faults == ()
    scene = hall(lamp(3.0), [cloth(0.8, 1.5)])
    fill = {**lamp(2.2), "id": "f", "name": "F", "role": "fill", "head": "point-60"}
    fill["position"] = (FACE + [-1.2, 1.6, 0]).tolist()
    both = scene.model_copy(
        update={"units": (*scene.units, hall(fill).units[0].model_copy(update={"id": "f"}))}
    )
    assert not any("goes past" in f for f in inspect_unit(both, "f").faults)


def test_faults_come_worst_first():
    hot = {**cloth(0.3, 1.9), "name": "Hot cloth"}
    found = inspect_unit(hall(lamp(2.0, ies=None, head="point-300"), [hot]), "k").faults
    assert len(found) >= 1 and "keep at least" in found[0]
    unit = lamp(
        2.0, ies=None, head="point-300", attachments=[{"key": "lens-26"}, {"key": "lens-50"}]
    )
    both = inspect_unit(hall(unit, [hot]), "k").faults
    assert "keep at least" in both[0] and any("only one of them" in f for f in both[1:])


def test_cover_is_told_where_the_face_is():
    """E = I cos^3(a) / d^2 across a flat wall through the face, for any distance."""
    for distance in (1.2, 1.8, 3.0):
        found = inspect_unit(hall(lamp(distance)), "k").coverage
        half = 1.8288
        cosine = distance / np.hypot(distance, half)
        assert found.falloff == pytest.approx(-3 * np.log2(cosine), abs=0.06)


BESIDE = (FACE + [0.9, 0.9, 0]).tolist()
TABLE = {
    "id": "t",
    "name": "Chart table",
    "position": [*BESIDE[:2], 0],
    "size": [1.2, 1.0, 0.75],
    "surface": {"reflectance": 0.85},
}
OVER_TABLE = {"position": [*BESIDE[:2], 2.2], "aim": [*BESIDE[:2], 0.75]}


def test_a_lamp_over_a_white_table_lands_on_the_table():
    """By its name: level is not the floor's mark."""
    unit = {
        **OVER_TABLE,
        "ies": spot(20_000, 15),
    }
    found = inspect_unit(hall(unit, furniture=[TABLE]), "k")
    assert found.origin == "wall"
    assert [s.name for s in found.stages[1:]] == ["On 'Chart table'", "On the face"]
    assert found.ways[0].name == "'Chart table'" and found.ways[0].share > 0.8
    # A black cloth laid on it takes that away, and the lamp no longer comes by way of it.
    cloth = {**TABLE, "surface": {"reflectance": 0.02}}
    black = inspect_unit(hall(unit, furniture=[cloth]), "k")
    parts = {way.name: way.share for way in black.ways}
    assert parts.get("'Chart table'", 0.0) * black.lux < 0.06 * found.ways[0].share * found.lux


def test_a_lamp_that_shines_past_a_table_is_told_by_the_table():
    """A lamp over a white table with so wide a skirt to its beam that the face sees it too."""
    unit = {
        **OVER_TABLE,
        "ies": write_ies(
            from_function(lambda c, g: np.where(g <= 25, 20_000.0, 600.0), reach=70, step=0.25),
            (0.0, 0.0),
            "skirted",
        ),
    }
    found = inspect_unit(hall(unit, furniture=[TABLE]), "k")
    straight = next(w.share for w in found.ways if w.name == "straight from the lamp")
    assert 0.12 < straight < 0.5
    told = [f for f in found.faults if "straight from the lamp" in f]
    assert len(told) == 1 and "by way of 'Chart table'" in told[0]


def test_what_a_lamp_is_bounced_off_is_told_by_its_name():
    up = {"position": [4, 5, 1.2], "aim": [4, 5, 3], "ies": spot(20_000, 20)}
    white = {**HALL, "height": 4, "ceiling": {"reflectance": 0.85}}
    scene = hall(up).model_dump(mode="json")
    found = inspect_unit(load({**scene, "room": white}), "k")
    assert found.ways[0].name == "the ceiling" and found.ways[0].share > 0.5


@pytest.mark.parametrize("seed", range(6))
def test_what_goes_past_the_first_board_is_told_where_the_light_meets_it(seed):
    """A projection lens into a board too small for it, against the lamp's own intensity gone round
    by the solid angle of the board.
    """
    rng = np.random.default_rng(seed)
    lamp = np.array([5.4, 6.2, 2.2])
    middle = np.array([4.7, 2.2, 1.6]) + rng.uniform(-0.1, 0.1, 3)
    aim = np.array([4.0, 4.2, 1.5])
    size = rng.uniform(0.8, 1.3, 2)
    unit = {
        "id": "k",
        "name": "Key",
        "head": "point-300",
        "position": lamp.tolist(),
        "aim": middle.tolist(),
        "attachments": [{"key": str(rng.choice(["lens-26", "lens-36"])), "settings": {}}],
    }
    blanket = {
        "id": "b",
        "name": "Blanket",
        "kind": "board",
        "material": "foam-white",
        "position": middle.tolist(),
        "aim": aim.tolist(),
        "size": size.tolist(),
    }
    scene = setup(units=[unit], grip=[blanket], furniture=[])
    normal = (aim - middle) / np.linalg.norm(aim - middle)
    right = np.cross(normal, [0, 0, 1.0])
    right /= np.linalg.norm(right)
    up = np.cross(right, normal)
    k = (np.arange(60) + 0.5) / 60 - 0.5
    s, t = (g.ravel() * size[i] for i, g in enumerate(np.meshgrid(k, k)))
    to = middle + s[:, None] * right + t[:, None] * up - lamp
    far = np.linalg.norm(to, axis=1)
    axis = (middle - lamp) / np.linalg.norm(middle - lamp)
    off = np.degrees(np.arccos(np.clip(to @ axis / far, -1, 1)))
    distribution = lamp_of(scene.units[0]).distribution
    solid = np.abs(to @ normal) / far**3 * size.prod() / 3600
    caught = float((distribution.intensity(off) * solid).sum())
    angle = (np.arange(3600) + 0.5) / 20
    ring = 2 * np.pi * np.sin(np.radians(angle)) * np.radians(1 / 20)
    past = 1 - caught / float((distribution.intensity(angle) * ring).sum())
    stage = next(k for k in inspect_unit(scene, "k").stages if k.name == "On Blanket")
    told = re.search(r"(\d+) % of the light goes past", stage.note)
    assert float(told[1]) == pytest.approx(100 * past, abs=3)
