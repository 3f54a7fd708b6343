"""Kit, power and tasks against sums by hand; the order of the day against every order there is."""

import itertools
import math
import random
import time

import pytest

from moth.document import bare
from moth.errors import MothError
from moth.photometry import HEADS
from moth.planning.kit import Gear, read_kit, write_kit
from moth.planning.needs import needs_of, shortages, together
from moth.planning.order import DayAsked, Meal, Shot, order_of
from moth.planning.power import capacity, drawn, drop_along, lasts, power_of
from moth.planning.tasks import Task, changeover, rigged, tasks_of


def unit(name="k", head="point-300", at=(1, 1, 2), **more):
    given = {"id": name, "name": name, "head": head, "position": at, "aim": (2.5, 3, 1.2)}
    return given | more


def with_power(volts, amperes, *units, wire=2.5):
    circuit = {"id": "a", "name": "A", "volts": volts, "amperes": amperes, "wire": wire}
    hung = [unit(f"u{n}", head, feed="a", run=run) for n, (head, run) in enumerate(units)]
    return bare(circuits=[circuit], units=hung)


class TestPower:
    @pytest.mark.parametrize("volts", [120, 230])
    def test_current_is_watts_over_volts_and_power_factor(self, volts):
        load = power_of(with_power(volts, 16, ("point-300", 5), ("fresnel-650", 5))).circuits[0]
        by_hand = 350 / 0.9 / volts + 650 / volts
        assert load.amperes == pytest.approx(by_hand)
        assert load.full == pytest.approx(by_hand)
        assert load.left == pytest.approx(0.8 * 16 - by_hand)

    @pytest.mark.parametrize(
        "volts, heads, amperes, verdict",
        [(230, 1, 6.5, "fits"), (230, 2, 13.0, "close"), (230, 3, 19.6, "over")]
        + [(120, 1, 12.5, "fits"), (120, 2, 25.0, "over")],
    )
    def test_verdicts_by_the_breaker(self, volts, heads, amperes, verdict):
        load = power_of(with_power(volts, 16, *[("point-1200", 5)] * heads)).circuits[0]
        # 1350 W each, at a power factor of 0.9; 12.8 A are planned with for hours.
        assert load.full == pytest.approx(amperes, abs=0.05)
        assert load.verdict == verdict

    @pytest.mark.parametrize(
        "volts, amperes, heads, surge",
        [(230, 16, 4, 200), (230, 16, 3, 0), (230, 6, 2, 100), (120, 16, 6, 0), (120, 16, 7, 183)],
    )
    def test_supplies_that_surge_together(self, volts, amperes, heads, surge):
        # 50 A each at 230 V against ten times the breaker; a panel of 60 W has no such supply.
        hung = [("point-600", 5)] * heads + [("point-60", 5)] * 3
        said = power_of(with_power(volts, amperes, *hung)).circuits[0].words
        assert ("surge" in said) == bool(surge)
        assert not surge or f"{heads} supplies surge to some {surge} A" in said

    def test_cold_filaments_are_told_before_supplies(self):
        said = power_of(with_power(230, 16, *[("fresnel-650", 5)] * 3)).circuits[0].words
        assert f"cold filaments draw some {12 * 3 * 650 / 230:.0f} A" in said

    def test_what_is_dimmed_still_counts_at_full(self):
        setup = with_power(120, 15, ("point-1200", 5))
        dim = setup.model_copy(
            update={"units": tuple(u.model_copy(update={"dimmer": 0.25}) for u in setup.units)}
        )
        one, other = power_of(setup).circuits[0], power_of(dim).circuits[0]
        assert other.amperes == pytest.approx(one.amperes * (0.03 + 0.97 * 0.25))
        assert other.full == one.full

    @pytest.mark.parametrize("volts, wire, per_km", [(230, 1.5, 13.3), (120, 2.5, 7.98)])
    def test_drop_by_the_table_of_the_standard(self, volts, wire, per_km):
        # IEC 60228, class 5: ohms a kilometre of one core; there and back.
        run, draw = 40, power_of(with_power(volts, 16, ("fresnel-650", 40), wire=wire)).draws[0]
        by_hand = 2 * per_km / 1000 * run * (650 / volts) / volts
        assert draw.drop == pytest.approx(by_hand, rel=0.01)
        assert bool(draw.fault) == (by_hand > 0.05)

    def test_a_dropped_tungsten_lamp_is_told_what_it_loses(self):
        setup = with_power(120, 15, ("fresnel-650", 60), wire=1.5)
        drop = drop_along(60, 1.5, 650 / 120) / 120
        less = round(100 * (1 - (1 - drop) ** 3.4))
        assert f"{less} % less light" in power_of(setup).draws[0].fault

    def test_tungsten_draws_more_for_its_light_the_lower_it_burns(self):
        head = HEADS["fresnel-650"]
        # Half the voltage: light 0.5^3.4, watts 0.5^1.6.
        assert drawn(head, 0.5**3.4) == pytest.approx(650 * 0.5**1.6)

    def test_battery_minutes(self):
        head = HEADS["battery-panel"]
        assert capacity(head) == pytest.approx(9 * 1.5)
        assert lasts(head, 1.0) == pytest.approx(90)
        assert lasts(head, 0.2) == pytest.approx(90 / (0.03 + 0.97 * 0.2))
        assert lasts(head, 0.2, charge=0.09) == pytest.approx(0.09 * lasts(head, 0.2))

    def test_a_lamp_that_dies_in_the_take_is_told_with_its_changes(self):
        setup = bare(units=[unit(head="battery-panel", feed="@battery", charge=0.5)])
        battery = power_of(setup, minutes=200).batteries[0]
        assert battery.changes == pytest.approx((45, 135))
        assert battery.charges == 3
        assert "dies after 45 min" in battery.words

    def test_mains_only_on_a_battery_is_told(self):
        power = power_of(bare(units=[unit(head="point-1200", feed="@battery")]))
        assert "needs mains" in power.faults[0]
        assert not power.batteries

    def test_which_breaker_goes_first(self):
        circuits = [{"id": c, "name": c.upper(), "amperes": 10} for c in "ab"]
        units = [unit(f"u{n}", "point-1200", feed="b") for n in range(3)] + [
            unit("x", "point-300", feed="a")
        ]
        said = power_of(bare(circuits=circuits, units=units)).first
        assert said.startswith("B goes first") and "within the hour" in said

    def test_a_circuit_that_is_not_there_is_refused(self):
        with pytest.raises(ValueError, match="there is no circuit 'b'"):
            bare(units=[unit(feed="b")])

    def test_cable_goes_along_the_walls_from_the_nearest_socket_and_up(self):
        circuit = {"id": "a", "name": "A", "sockets": [(0, 0), (5, 6)]}
        setup = bare(circuits=[circuit], units=[unit(at=(1, 2, 2.5), feed="a")])
        assert power_of(setup).draws[0].run == pytest.approx(1 + 2 + 2.5)


class TestKit:
    def test_there_and_back(self):
        kit = [
            Gear(kind="head", name="=cmd", key="panel-small", count=3, price=12.5, watts=40),
            Gear(kind="sheet", name="Big, white", key="muslin-bleached", width=2.4, height=2.4),
            Gear(kind="cable", name="Long", length=25, note="-1 plug"),
        ]
        text = write_kit(kit)
        assert "'=cmd" in text
        assert read_kit(text) == kit

    def test_semicolons_and_decimal_commas(self):
        gear = read_kit("name;kind;weight [kg]\nMine;bag;7,5\n")[0]
        assert gear.weight == 7.5

    @pytest.mark.parametrize(
        "row, said",
        [
            ("head,X,panel-small,1,,,-3", "Line 2, Power [W]"),
            ("head,X,nothing,1,,,", "Line 2: a head needs the head of the catalogue"),
            ("lamp,X,,1,,,", "Line 2, Kind"),
            ("head,X,panel-small,1.5,,,", "Line 2, Count"),
            ("head,X,panel-small,1,nan,,", "Line 2, Price a day"),
        ],
    )
    def test_a_bad_line_is_named_and_nothing_is_taken(self, row, said):
        head = "kind,name,key,count,price,weight,watts\n"
        with pytest.raises(MothError) as refused:
            read_kit(head + row + "\n")
        assert said.lower() in str(refused.value).lower()

    def test_a_thousand_lines(self):
        kit = [Gear(kind="bag", name=f"Bag {n}") for n in range(1000)]
        assert len(read_kit(write_kit(kit))) == 1000

    @pytest.mark.parametrize("text", ["", "kind,name", "nonsense\n1\n"])
    def test_no_table(self, text):
        with pytest.raises(MothError):
            read_kit(text)


class TestNeeds:
    def setup(self, **more):
        return bare(
            units=[
                unit("key", at=(1, 1, 2.4), attachments=[{"key": "softbox"}]),
                unit("hair", "panel-small", held="boom", foot=(3, 5), at=(2.5, 4, 2.3)),
                unit("lamp", "bulb", switch="door"),
            ],
            **more,
        )

    def test_what_belongs_to_the_place_is_not_packed(self):
        heads = {n.key for n in needs_of(self.setup()) if n.kind == "head"}
        assert heads == {"point-300", "panel-small"}

    def test_a_boom_takes_its_counterweight_in_bags(self):
        hair = unit("hair", "panel-small", held="boom", foot=(2.5, 5), at=(2.5, 3, 2))
        setup = bare(units=[hair])
        bags = next(n.count for n in needs_of(setup) if n.kind == "bag")
        # 1.9 kg at 2 m against half a metre: 7.6 kg, two bags of 7 kg, and two for the stand.
        assert bags == 2 + math.ceil(1.9 * 2 / 0.5 / 7)

    def test_short_pieces_are_told_and_larger_ones_serve(self):
        needs = needs_of(self.setup())
        kit = [
            Gear(kind="head", name="Mine", key="point-300"),
            Gear(kind="stand", name="Heavy", key="stand-heavy", count=2),
            Gear(kind="cable", name="Long", length=50, count=9),
            Gear(kind="bag", name="Bag", count=30),
        ]
        short = {(s.need.kind, s.need.key): s.missing for s in shortages(needs, kit)}
        assert ("head", "point-300") not in short
        assert short["head", "panel-small"] == 1
        assert not any(kind in ("stand", "cable", "bag") for kind, _ in short)

    def test_a_sheet_serves_for_one_of_its_size_only(self):
        piece = {
            "id": "f",
            "name": "F",
            "kind": "frame",
            "material": "muslin-bleached",
            "position": (2, 2, 2),
            "aim": (2, 4, 1),
            "size": (2.4, 1.2),
        }
        needs = needs_of(bare(grip=[piece]))
        for size, serves in [((1.2, 2.4), True), ((2.5, 1.25), True), ((1.2, 1.2), False)]:
            width, height = size
            gear = Gear(kind="sheet", name="M", key="muslin-bleached", width=width, height=height)
            missing = [s for s in shortages(needs, [gear]) if s.need.kind == "sheet"]
            assert (not missing) == serves

    def test_nd_and_sockets_are_packed(self):
        circuit = {"id": "a", "name": "A", "sockets": [(0, 0)]}
        hung = [unit(f"u{n}", feed="a") for n in range(3)]
        made = bare(circuits=[circuit], units=hung)
        camera = made.cameras[0].model_copy(update={"nd": 2.0})
        needs = {n.kind: n for n in needs_of(made.model_copy(update={"cameras": (camera,)}))}
        assert needs["distribution"].name == "Sockets, 3 ways"
        assert needs["filter"].name == "ND, 2 stops"
        kit = [
            Gear(kind="filter", name="Set of ND", key="nd"),
            Gear(kind="distribution", name="Block", amperes=16),
        ]
        assert not shortages([needs["filter"], needs["distribution"]], kit)
        alone = bare(circuits=[circuit], units=hung[:1])
        assert not any(n.kind == "distribution" for n in needs_of(alone))

    def test_a_day_takes_the_most_of_what_serves_in_turn(self):
        one = bare(units=[unit("a"), unit("b")])
        other = bare(units=[unit("c")])
        day = together([*needs_of(one), *needs_of(other)], most=True)
        assert next(n.count for n in day if n.kind == "head") == 2


class TestTasks:
    def test_nothing_changes_nothing(self):
        setup = bare(units=[unit("a"), unit("b", at=(4, 1, 2))])
        assert tasks_of(setup, setup) == ()

    def test_only_what_changes(self):
        before = bare(units=[unit("a"), unit("b", at=(4, 1, 2)), unit("c", "panel-small")])
        moved = unit("b", at=(4, 2, 2))
        after = bare(units=[unit("a"), moved])
        kinds = sorted((t.kind, t.key.split(":")[1]) for t in tasks_of(after, before))
        assert ("move", "b") in kinds and ("strike", "c") in kinds and ("focus", "b") in kinds
        assert not any(about == "a" for _, about in kinds)

    def test_another_level_is_balanced_only(self):
        before = bare(units=[unit("a")])
        after = bare(units=[unit("a", dimmer=0.5)])
        assert [t.kind for t in tasks_of(after, before)] == ["balance", "marks", "sound"]

    def test_flags_wait_for_the_lamps_and_balance_for_all(self):
        flag = {
            "id": "f",
            "name": "F",
            "kind": "flag",
            "material": "duvetyne",
            "position": (2, 2, 2),
            "aim": (2, 4, 1),
            "size": (0.6, 0.9),
        }
        tasks = {t.kind: t for t in tasks_of(bare(units=[unit("a")], grip=[flag]))}
        assert "focus:a" in tasks["flag"].after
        assert {"focus:a", "flag:grip-f"} <= set(tasks["balance"].after)

    def test_each_sheet_that_stood_serves_once(self):
        def board(name, x):
            return {"id": name, "name": name, "kind": "board", "material": "foam-white",
                    "position": (x, 2, 1.5), "aim": (x, 4, 1), "size": (0.9, 1.2)}  # fmt: skip

        one, two = bare(grip=[board("a", 1)]), bare(grip=[board("a", 1), board("b", 4)])
        assert [t.kind for t in tasks_of(two, one) if t.key.endswith("grip-b")] == ["sheet"]
        assert [t.key for t in tasks_of(one, two) if t.kind == "strike"] == ["strike:grip-b"]
        swapped = bare(grip=[board("a", 4), board("b", 1)])
        assert not any(t.kind in ("sheet", "move", "strike") for t in tasks_of(swapped, two))

    @pytest.mark.parametrize("seed", range(20))
    def test_a_rigging_breaks_no_rule(self, seed):
        draw = random.Random(seed)
        tasks = [
            Task(
                f"t{n}",
                "stand",
                f"T{n}",
                draw.randint(1, 9),
                draw.randint(1, 2),
                tuple(f"t{k}" for k in range(n) if draw.random() < 0.25),
            )
            for n in range(14)
        ]
        hands = draw.randint(1, 4)
        made = rigged(tasks, hands)
        at = {t.task.key: t for t in made.tasks}
        assert len(at) == len(tasks)
        for timed in made.tasks:
            assert all(at[a].end <= timed.begin + 1e-9 for a in timed.task.after)
            used = sum(
                min(t.task.hands, hands)
                for t in made.tasks
                if t.begin <= timed.begin < t.end - 1e-9
            )
            assert used <= hands
        work = sum(t.minutes * t.hands for t in tasks)
        assert made.minutes >= work / hands - 1e-9

    def test_more_hands_are_no_slower(self):
        setup = bare(units=[unit(f"u{n}", at=(1 + n, 1, 2)) for n in range(4)])
        times = [changeover(setup, None, hands) for hands in (1, 2, 4)]
        assert times == sorted(times, reverse=True)
        assert times[0] == sum(t.minutes for t in tasks_of(setup))

    def test_minutes_of_the_log_replace_the_typical(self):
        setup = bare(units=[unit("a")])
        more = changeover(setup, None, 1, {"stand": 10}) - changeover(setup, None, 1)
        assert more == 10 - 4


def day_of(draw, count, windows=0, meals=1):
    """A day drawn at random that some order meets: windows lie where one order would have them."""
    keys = [f"s{n}" for n in range(count)]
    rooms = {k: f"room {draw.randint(1, 3)}" for k in keys}
    rig = {k: draw.randint(20, 60) for k in keys}
    change = {
        (a, b): draw.randint(5, 25) if rooms[a] == rooms[b] else draw.randint(30, 60)
        for a in keys
        for b in keys
        if a != b
    }
    minutes = {k: draw.choice([15, 20, 30]) for k in keys}
    order = keys[:]
    draw.shuffle(order)
    at, begins, before = 480, {}, None
    lunch = order[count // 2]
    for key in order:
        at += rig[key] if before is None else change[before, key]
        if key == lunch and meals:
            lunch_at = at
            at += 45
        begins[key] = at
        at, before = at + minutes[key], key
    sunny = draw.sample(keys, windows)
    shots = tuple(
        Shot(
            k,
            k.upper(),
            rooms[k],
            minutes[k],
            ((begins[k] - 20, begins[k] + minutes[k] + 20),) if k in sunny else (),
        )
        for k in keys
    )
    eaten = (Meal("Lunch", lunch_at - 30, lunch_at + 30, 45),) if meals else ()
    return DayAsked(480, at + 60, shots, rig, change, eaten)


def by_hand(day):
    """The least rigging over every order and every place of the meals; None where none will do."""
    best = None
    shots = {s.key: s for s in day.shots}
    gaps = range(len(shots) + 1)
    for order in itertools.permutations(shots):
        for places in itertools.product(gaps, repeat=len(day.meals)):
            cost = _cost(day, [shots[k] for k in order], places)
            if cost is not None and (best is None or cost < best):
                best = cost
    return best


def _cost(day, order, places):
    at, rigging, before = day.begin, 0, None
    for n in range(len(order) + 1):
        eaten = [m for m, place in zip(day.meals, places, strict=True) if place == n]
        ready = at
        for meal in eaten:
            begin = max(ready, meal.earliest)
            if begin > meal.latest:
                return None
            ready = begin + meal.minutes
        if n == len(order):
            return (rigging, at) if ready <= day.end and at <= day.end else None
        shot = order[n]
        rig = day.rig[shot.key] if before is None else day.change[before, shot.key]
        rigging += rig
        begin = max(at + rig + sum(m.minutes for m in eaten), ready)
        if shot.windows:
            fits = [max(begin, a) for a, b in shot.windows if max(begin, a) + shot.minutes <= b]
            if not fits:
                return None
            begin = min(fits)
        at, before = begin + shot.minutes, shot.key
    return None


class TestOrder:
    @pytest.mark.parametrize("seed", range(12))
    def test_the_best_of_small_days(self, seed):
        draw = random.Random(seed)
        day = day_of(draw, draw.randint(2, 5), windows=draw.randint(0, 2), meals=draw.randint(0, 1))
        plan = order_of(day, seconds=10)
        assert not plan.broken
        assert plan.best
        assert (plan.rigging, plan.wraps) == by_hand(day)

    @pytest.mark.parametrize("seed", range(3))
    def test_twelve_setups_three_rooms_two_windows(self, seed):
        day = day_of(random.Random(100 + seed), 12, windows=2)
        begun = time.monotonic()
        plan = order_of(day)
        assert time.monotonic() - begun < 5
        assert not plan.broken
        self.holds(day, plan)

    def holds(self, day, plan):
        """Every wish of a day against the plan, reckoned anew."""
        shots = {s.key: s for s in day.shots}
        assert sorted(s.key for s in plan.slots) == sorted(shots)
        at, before, total = day.begin, None, 0
        for slot in plan.slots:
            rig = day.rig[slot.key] if before is None else day.change[before, slot.key]
            total += rig
            eaten = sum(m.end - m.begin for m in plan.meals if at <= m.begin < slot.begin)
            assert slot.begin >= at + rig + eaten
            shot = shots[slot.key]
            if shot.windows:
                assert any(a <= slot.begin and slot.end <= b for a, b in shot.windows)
            for meal in plan.meals:
                assert meal.end <= slot.begin or slot.end <= meal.begin
            at, before = slot.end, slot.key
        assert total == plan.rigging
        assert at == plan.wraps <= day.end

    def test_a_day_of_twenty_four(self):
        day = day_of(random.Random(7), 24, windows=3)
        begun = time.monotonic()
        plan = order_of(day)
        assert time.monotonic() - begun < 6
        assert len(plan.slots) == 24

    def test_conflicting_wishes_are_named_and_no_others(self):
        shots = (
            Shot("g", "Gallery", "gallery", 30, ((540, 580),), "needs sun"),
            Shot("c", "Chart store", "store", 30, people=("the keeper",)),
            Shot("d", "Door", "store", 30, pieces=("the crane lamp",), locked=545),
        )
        rig = dict.fromkeys("gcd", 20)
        change = {(a, b): 15 for a in "gcd" for b in "gcd" if a != b}
        day = DayAsked(
            480, 1080, shots, rig, change, (), {"the keeper": (600, 700)}, {"the crane lamp": 500}
        )
        plan = order_of(day)
        # Door is shot 09:05 to 09:35, then 15 min to the gallery: not before 09:40.
        assert set(plan.conflict) == {
            "Gallery needs sun 09:00 to 09:40.",
            "Door is fixed at 09:05.",
        }
        assert len(plan.broken) == 1
        assert sum(bool(s.broken) for s in plan.slots) == 1

    def test_a_piece_that_comes_late_and_a_person_that_leaves_early(self):
        shots = (Shot("a", "A", "r", 30, people=("pilot",), pieces=("crane",)),)
        day = DayAsked(480, 1080, shots, {"a": 10}, {}, (), {"pilot": (480, 600)}, {"crane": 590})
        plan = order_of(day)
        assert len(plan.conflict) == 2
        assert {"A needs pilot, here 08:00 to 10:00.", "A needs crane, here from 09:50."} == set(
            plan.conflict
        )

    def test_locked_parts_stay(self):
        draw = random.Random(3)
        day = day_of(draw, 5, meals=0)
        free = order_of(day)
        late = free.slots[0].key
        shots = tuple(
            s if s.key != late else Shot(s.key, s.name, s.room, s.minutes, locked=day.end - 60)
            for s in day.shots
        )
        longer = DayAsked(day.begin, day.end + 60, shots, day.rig, day.change)
        plan = order_of(longer)
        assert next(s.begin for s in plan.slots if s.key == late) == day.end - 60

    @pytest.mark.parametrize(
        "change",
        [
            {"shots": ()},
            {"end": 400},
            {"shots": (Shot("a", "A", "r", 30, ((600, 500),)),)},
            {"meals": (Meal("Lunch", 800, 700),)},
        ],
    )
    def test_days_that_are_none(self, change):
        given = {"begin": 480, "end": 1080, "shots": (Shot("a", "A", "r", 30),), "rig": {"a": 5}}
        with pytest.raises(MothError):
            order_of(DayAsked(**(given | {"change": {}} | change)))
