"""Stand-ins and proposals: metered anew, standing where they can, told when nothing does."""

import math
import random

import pytest

from moth.document import Measured, bare
from moth.errors import MothError
from moth.metering import read_setup
from moth.photometry import HEADS
from moth.place import in_its_way
from moth.planning.kit import Gear
from moth.solving import with_level
from moth.solving.standins import Candidate, candidates, stand_in
from moth.trials import KeyWish, cells_of, changed_by, misses, of_kit, propose, run_cell, stage


def lit(head="softbox-small", at=(1.2, 3.2, 2.0), width=5.0, **more):
    aim = (width / 2, 2.0, 1.3)
    key = {"id": "k", "name": "Key", "head": head, "position": at, "aim": aim}
    fill = {
        **key,
        "id": "f",
        "name": "Fill",
        "head": "panel-small",
        "position": (0.7 * width, 3.2, 1.5),
    }
    return bare(room={"width": width, "depth": 6.0}, units=[key | more, fill])


def level(setup, unit="k"):
    return read_setup(setup, unit).unit(unit).face_lux


class TestStandIns:
    @pytest.mark.parametrize("seed", range(6))
    def test_level_is_what_was_promised_on_rigs_drawn_at_random(self, seed):
        draw = random.Random(seed)
        at = (draw.uniform(0.6, 2.2), draw.uniform(2.6, 4.0), draw.uniform(1.4, 2.6))
        setup = lit(
            draw.choice(["softbox-small", "point-60", "panel-2x1", "fresnel-200"]),
            at,
            dimmer=draw.uniform(0.05, 1.0),
        )
        before, fill = level(setup), level(setup, "f")
        for candidate in draw.sample(candidates(setup, "k"), 5):
            found = stand_in(setup, "k", candidate)
            after = level(found.setup)
            assert math.log2(after / before) == pytest.approx(found.off, abs=0.02)
            if found.spare >= 0:
                assert abs(found.off) < 0.1
            else:
                assert found.dimmer == 1.0 and found.off == pytest.approx(found.spare, abs=0.02)
                assert found.off > -0.1 or any("lacks" in words for words in found.lost)
            assert level(found.setup, "f") == pytest.approx(fill, rel=0.02)

    def test_the_same_head_is_the_nearest(self):
        setup = lit("panel-small", dimmer=0.5)
        same = stand_in(setup, "k", Candidate("Another of it", "panel-small"))
        other = stand_in(setup, "k", Candidate("A bulb", "bulb"))
        assert same.away < 0.02 < other.away and same.lost == ()
        assert same.dimmer == pytest.approx(0.5, abs=0.005)

    def test_ones_own_reading_counts(self):
        setup = lit("panel-small", dimmer=0.5)
        weak = Measured(lux=750.0, distance=1.0)
        found = stand_in(setup, "k", Candidate("Old panel", "panel-small", measured=weak))
        # Half of the catalogue's 1500 cd, at whatever white: all that the catalogue has there.
        assert found.dimmer == pytest.approx(HEADS["panel-small"].output(5600), abs=0.01)

    def test_what_cannot_be_hung_is_told(self):
        setup = lit("point-300", attachments=[{"key": "softbox"}])
        found = stand_in(setup, "k", Candidate("Tube", "tube-4ft"))
        assert any("cannot be hung" in words for words in found.lost)
        unit = next(u for u in found.setup.units if u.id == "k")
        assert unit.attachments == ()

    def test_gains_follow_the_figures(self):
        setup = lit("point-600")
        gains = stand_in(setup, "k", Candidate("Small", "panel-small")).gains
        assert {"cheaper", "lighter", "battery", "quieter"} <= set(gains)
        dear = Candidate("Small but dear", "panel-small", price=500.0)
        assert "cheaper" not in stand_in(setup, "k", dear).gains

    def test_a_unit_that_brings_nothing_has_nothing_to_match(self):
        setup = lit("point-60", at=(2.5, 2.1, 2.9), dimmer=0.0)
        with pytest.raises(MothError):
            stand_in(setup, "k", Candidate("Bulb", "bulb"))


class TestProposals:
    @pytest.mark.parametrize("seed", range(5))
    def test_none_stands_in_a_wall_or_somebody(self, seed):
        draw = random.Random(seed)
        # Narrow rooms: many places are not there.
        setup = lit("point-300", (draw.uniform(0.4, 1.2), 3.0, 2.0), width=draw.uniform(2.9, 3.6))
        plan = propose(setup, "k", KeyWish(soft=draw.choice([0, 10, 25]), either_side=True))
        cells = cells_of(plan)
        assert any(c.setup for c in cells)
        for cell in cells:
            if cell.setup is None:
                assert cell.fault
                continue
            unit = next(u for u in cell.setup.units if u.id == "k")
            x, y, _ = unit.position
            assert 0 < x < setup.room.width and 0 < y < 6
            assert in_its_way(cell.setup, unit) is None

    def test_what_is_told_to_do_it_does_when_it_is_rigged(self):
        face = stage("face")
        wish = KeyWish(lux=300.0, soft=12)
        plan = propose(face, "key", wish)
        done = 0
        for cell in cells_of(plan)[:8]:
            figures = run_cell(cell.setup, "key", size=(64, 36)).figures
            if misses(plan.wish, figures):
                continue
            row, column = plan.rows.choices[cell.row], plan.columns.choices[cell.column]
            made = changed_by(face, "key", (*row.steps, *column.steps))
            rigged = with_level(made, "key", wish.lux).setup
            assert math.log2(level(rigged, "key") / 300.0) == pytest.approx(0, abs=0.1)
            done += 1
        assert done

    def test_what_falls_short_is_told_by_how_much(self):
        wish = KeyWish(lux=1076.4, soft=20, spill=-3.0)
        found = misses(wish, {"level": 50.0, "soft": 10.0, "spill": -1.0})
        assert found == pytest.approx({"level": 1.0, "soft": 1.0, "spill": 2.0}, abs=0.01)
        assert misses(wish, {"level": 101.0, "soft": 20.0, "spill": -4.0}) == {}

    def test_a_kit_that_cannot_is_told_so(self):
        weak = of_kit([Gear(kind="head", name="Pocket", key="pocket-ball")])
        with pytest.raises(MothError, match="Nothing at hand"):
            propose(stage("face"), "key", KeyWish(lux=50_000.0), weak)

    def test_only_what_the_kit_has(self):
        kit = [
            Gear(kind="head", name="A", key="point-150"),
            Gear(kind="head", name="None left", key="point-300", count=0),
            Gear(kind="attachment", name="Box", key="octagon"),
            Gear(kind="sheet", name="Silk", key="silk"),
        ]
        plan = propose(stage("face"), "key", KeyWish(), of_kit(kit))
        steps = [s for row in plan.rows.choices for s in row.steps]
        assert {s.key for s in steps if s.kind == "head"} == {"point-150"}
        assert {s.key for s in steps if s.kind == "attachment"} <= {"octagon"}
        assert {s.material for s in steps if s.kind == "move"} <= {"silk", None}

    def test_every_head_has_its_turn(self):
        plan = propose(stage("face"), "key", KeyWish())
        heads = [row.steps[0].key for row in plan.rows.choices]
        assert len(set(heads)) > 10 and set(heads) <= set(HEADS)
