"""The figures of one unit, each against what geometry says of a lamp in a black room."""

from itertools import pairwise

import numpy as np
import pytest

from moth.inspection import inspect_unit
from moth.metering.marks import HEAD_RADIUS, at_head
from moth.photometry import from_function, write_ies
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
    assert found.stages[0].lux == pytest.approx(2000 / distance**2, rel=0.005)
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
    square = (distance - 0.25) ** 2
    for name, within in (("half", 0.5), ("one", 1.0), ("one_and_half", 1.5)):
        width = 2 * np.sqrt(square * (2 ** (within / 1.5) - 1))
        assert (
            width - 0.2 <= getattr(found.widths, name) <= min(width, 8) + 1e-6
        )  # told in steps of 10 cm a side
    assert found.falloff == pytest.approx(1.5 * np.log2(1 + 1.8**2 / square), abs=0.05)


def test_a_narrow_beam_covers_its_cone_and_no_wall():
    spot = write_ies(
        from_function(lambda c, g: np.where(g <= 10, 5000.0, 0.0)), (0.0, 0.0), "narrow"
    )
    found = inspect_unit(hall(lamp(3.0, spot)), "k").coverage
    assert found.widths.one_and_half == pytest.approx(2 * 2.75 * np.tan(np.radians(10)), abs=0.2)
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
        == stage.note
        for slack in (-0.1, 0, 0.1)
    )


def test_a_bounce_costs_what_its_way_and_its_board_cost():
    board = {
        "id": "b",
        "name": "Board",
        "kind": "board",
        "material": "foam-white",
        "position": (FACE + [1.2, 1.6, 0]).tolist(),
        "aim": FACE.tolist(),
        "size": [1.2, 1.2],
    }
    spot = write_ies(
        from_function(lambda c, g: np.where(g <= 15, 20_000.0, 0.0)), (0.0, 0.0), "narrow"
    )
    scene = hall(
        {"position": (FACE + [-0.6, 1.8, 0.4]).tolist(), "aim": board["position"], "ies": spot},
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
