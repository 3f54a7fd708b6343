"""The order of a day as the solver sees it: OR-Tools' CP-SAT."""

import time
from dataclasses import dataclass, replace

from ortools.sat.python import cp_model

from ..errors import MothError
from ..wording import clock
from .order import ALL_DAY, SECONDS, DayPlan, MealSlot, Slot


@dataclass(frozen=True)
class _Wish:
    """Something the day must keep, while its literal holds."""

    words: str
    literal: cp_model.IntVar
    shot: str = ""


def solved(day, seconds=SECONDS):
    """The order of a day that was checked; see :func:`.order.order_of`.

    Parameters
    ----------
    day : moth.planning.order.DayAsked
    seconds : float

    Returns
    -------
    moth.planning.order.DayPlan
    """
    until = time.monotonic() + seconds
    # The hard day first: most days can be met.
    model = _Model(day)
    found = model.solve(0.5 * seconds, all_hold=True)
    if found is not None:
        return found
    proved = model.status == cp_model.INFEASIBLE
    conflict = _conflict(day, until - 0.25 * seconds) if proved else ()
    loose = _Model(day)
    found = loose.solve(max(until - time.monotonic(), 0.5), all_hold=False)
    if found is None:
        raise MothError("No order was found in the time there is: ask for less.", "shots")
    return replace(found, conflict=conflict)


class _Model:
    """The day as the solver sees it: a round way through the shots, and one meal at most between
    two of them.
    """

    def __init__(self, day):
        self.day = day
        self.model = cp_model.CpModel()
        self.wishes: list[_Wish] = []
        self.status = cp_model.UNKNOWN
        m, top = self.model, 2 * ALL_DAY
        self.begin = {s.key: m.new_int_var(day.begin, top, f"b{s.key}") for s in day.shots}
        self.meal_at = [m.new_int_var(day.begin, top, f"m{at}") for at in range(len(day.meals))]
        # Before which shot each meal is; None after the last.
        self.meal_before = [
            {k: m.new_bool_var(f"m{at}{k}") for k in [*self.begin, None]}
            for at in range(len(day.meals))
        ]
        for before in self.meal_before:
            m.add_exactly_one(before.values())
        self.last = m.new_int_var(day.begin, top, "last")
        self.rigging = m.new_int_var(0, top, "rigging")
        self._way()
        self._wishes()

    def _meals_before(self, key):
        pairs = zip(self.day.meals, self.meal_before, strict=True)
        return sum(meal.minutes * before[key] for meal, before in pairs)

    def _way(self):
        day, m = self.day, self.model
        number = {s.key: at for at, s in enumerate(day.shots, 1)}
        self.arcs = {}
        costs = []

        def meals_from(key, literal, end):
            """What is eaten before a shot is eaten after the one that it follows."""
            for at, before in zip(self.meal_at, self.meal_before, strict=True):
                m.add(at >= end).only_enforce_if(literal, before[key])

        for shot in day.shots:
            key = shot.key
            first = m.new_bool_var(f"first{key}")
            last = m.new_bool_var(f"last{key}")
            self.arcs[None, key], self.arcs[key, None] = first, last
            rig = int(day.rig[key])
            costs.append(rig * first)
            m.add(self.begin[key] >= day.begin + rig + self._meals_before(key)).only_enforce_if(
                first
            )
            end = self.begin[key] + shot.minutes
            m.add(self.last >= end)
            meals_from(None, last, end)
            for other in day.shots:
                if other.key == key:
                    continue
                arc = m.new_bool_var(f"{key}>{other.key}")
                self.arcs[key, other.key] = arc
                change = int(day.change[key, other.key])
                costs.append(change * arc)
                m.add(
                    self.begin[other.key] >= end + change + self._meals_before(other.key)
                ).only_enforce_if(arc)
                meals_from(other.key, arc, end)
            for meal, at, before in zip(day.meals, self.meal_at, self.meal_before, strict=True):
                m.add(at + meal.minutes <= self.begin[key]).only_enforce_if(before[key])
        m.add_circuit(
            [(number.get(a, 0), number.get(b, 0), arc) for (a, b), arc in self.arcs.items()]
        )
        m.add(self.rigging == sum(costs))
        # Two meals are not eaten at once.
        meals = [
            m.new_fixed_size_interval_var(at, meal.minutes, f"meal{n}")
            for n, (meal, at) in enumerate(zip(day.meals, self.meal_at, strict=True))
        ]
        m.add_no_overlap(meals)

    def _wish(self, words, shot="", *constraints):
        literal = self.model.new_bool_var(f"wish{len(self.wishes)}")
        for constraint in constraints:
            constraint.only_enforce_if(literal)
        self.wishes.append(_Wish(words, literal, shot))
        return literal

    def _wishes(self):
        day, m = self.day, self.model
        for shot in day.shots:
            at, end = self.begin[shot.key], self.begin[shot.key] + shot.minutes
            if shot.windows:
                self._windows(shot, at, end)
            for name in shot.people:
                if name in day.hours:
                    here, gone = day.hours[name]
                    words = f"{shot.name} needs {name}, here {clock(here)} to {clock(gone)}"
                    self._wish(words, shot.key, m.add(at >= here), m.add(end <= gone))
            for piece in shot.pieces:
                if piece in day.arrives:
                    words = f"{shot.name} needs {piece}, here from {clock(day.arrives[piece])}"
                    self._wish(words, shot.key, m.add(at >= day.arrives[piece]))
            if shot.locked is not None:
                words = f"{shot.name} is fixed at {clock(shot.locked)}"
                self._wish(words, shot.key, m.add(at == shot.locked))
        for meal, at in zip(day.meals, self.meal_at, strict=True):
            words = f"{meal.name} begins {clock(meal.earliest)} to {clock(meal.latest)}"
            self._wish(words, "", m.add(at >= meal.earliest), m.add(at <= meal.latest))
        meal_ends = [at + meal.minutes for meal, at in zip(day.meals, self.meal_at, strict=True)]
        words = f"The day ends by {clock(day.end)}"
        self._wish(words, "", *(m.add(end <= day.end) for end in [self.last, *meal_ends]))

    def _windows(self, shot, at, end):
        m = self.model
        spans = " or ".join(f"{clock(a)} to {clock(b)}" for a, b in shot.windows)
        literal = self._wish(f"{shot.name} {shot.why or 'is shot'} {spans}".strip(), shot.key)
        chosen = [m.new_bool_var(f"{shot.key}w{n}") for n in range(len(shot.windows))]
        m.add_bool_or(chosen).only_enforce_if(literal)
        for (begin, close), literal in zip(shot.windows, chosen, strict=True):
            m.add(at >= begin).only_enforce_if(literal)
            m.add(end <= close).only_enforce_if(literal)

    def solve(self, seconds, all_hold):
        """A plan, or None where there is none or none was found in time."""
        m = self.model
        cost = self.rigging * 2 * ALL_DAY + self.last
        if all_hold:
            for wish in self.wishes:
                m.add(wish.literal == 1)
            m.minimize(cost)
        else:
            kept = sum(wish.literal for wish in self.wishes)
            m.minimize(cost - 4 * ALL_DAY * ALL_DAY * kept)
        solver = _solver(seconds)
        self.status = solver.solve(m)
        if self.status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return None
        return self._plan(solver)

    def _plan(self, solver):
        day = self.day
        shots = {s.key: s for s in day.shots}
        broken = [w for w in self.wishes if not solver.value(w.literal)]
        after = {a: b for (a, b), arc in self.arcs.items() if solver.value(arc)}
        meals = tuple(
            MealSlot(meal.name, solver.value(v), solver.value(v) + meal.minutes)
            for meal, v in zip(day.meals, self.meal_at, strict=True)
        )
        slots, at, free = [], after[None], day.begin
        before = None
        while at is not None:
            shot, begin = shots[at], solver.value(self.begin[at])
            rig = int(day.rig[at] if before is None else day.change[before, at])
            mine = tuple(w.words + "." for w in broken if w.shot == at)
            end = begin + shot.minutes
            spans = _before(begin, rig, meals)
            slots.append(Slot(at, shot.name, shot.room, free, begin, end, rig, spans, mine))
            before, at, free = at, after[at], end
        best = self.status == cp_model.OPTIMAL
        rigging, wraps = solver.value(self.rigging), slots[-1].end
        words = f"{len(slots)} set-up{'s' if len(slots) > 1 else ''}, {rigging} min of rigging"
        words += f", done at {clock(wraps)}"
        if broken:
            words += f"; {len(broken)} of {len(self.wishes)} wishes are not met"
        words += "." if best else "; a better order may exist."
        said = tuple(w.words + "." for w in broken)
        return DayPlan(tuple(slots), meals, rigging, wraps, best, said, (), words)


def _before(begin, minutes, meals):
    """Spans of so many minutes of work that end at an hour, meals left out.

    Examples
    --------
    >>> _before(800, 50, [MealSlot("Lunch", 720, 780)])
    ((690, 720), (780, 800))
    """
    spans, end, left = [], begin, minutes
    for meal in sorted((m for m in meals if m.begin < begin), key=lambda m: -m.begin):
        here = min(left, end - meal.end)
        if here > 0:
            spans.append((end - here, end))
            left -= here
        end = meal.begin
    if left > 0:
        spans.append((end - left, end))
    return tuple(sorted(spans))


def _solver(seconds):
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = seconds
    # One thread: on two cores it is as quick as several, and finds the same each time.
    solver.parameters.num_workers = 1
    return solver


def _conflict(day, until):
    """Wishes that cannot be met together: as few as there is time to find."""
    model = _Model(day)
    model.model.add_assumptions([w.literal for w in model.wishes])
    solver = _solver(max(until - time.monotonic(), 0.2))
    if solver.solve(model.model) != cp_model.INFEASIBLE:
        return ()
    core = set(solver.sufficient_assumptions_for_infeasibility())
    held = [at for at, w in enumerate(model.wishes) if w.literal.index in core]
    for at in list(held):
        if time.monotonic() > until:
            break
        rest = [k for k in held if k != at]
        if _impossible(day, rest, until):
            held = rest
    return tuple(model.wishes[at].words + "." for at in held)


def _impossible(day, held, until):
    model = _Model(day)
    for at in held:
        model.model.add(model.wishes[at].literal == 1)
    solver = _solver(max(until - time.monotonic(), 0.1))
    return solver.solve(model.model) == cp_model.INFEASIBLE
