"""What a day costs, against what there is."""

from dataclasses import dataclass

from .needs import taken_from


@dataclass(frozen=True)
class CostLine:
    """One line of what a day costs."""

    name: str
    count: int
    price: float
    """Of one, a day."""
    total: float


@dataclass(frozen=True)
class Saving:
    """What could be left out."""

    name: str
    saves: float
    of: tuple[str, ...]
    """Names of the units that it is taken for."""


@dataclass(frozen=True)
class Money:
    """A day's costs, in the production's money."""

    hire: tuple[CostLine, ...]
    people: tuple[CostLine, ...]
    total: float
    budget: float | None
    left: float | None
    """Negative where it is over."""
    savings: tuple[Saving, ...]
    """The dearest first."""
    words: str


def money_of(needs, kit, people=(), budget=None):
    """What a day costs: of the kit as many of each as the day takes, and the people.

    Parameters
    ----------
    needs : sequence of Need
        Of the day.
    kit : sequence of Gear
    people : sequence of (str, float)
        Name and rate of the day.
    budget : float, optional

    Returns
    -------
    Money

    Examples
    --------
    >>> from .kit import Gear
    >>> from .needs import Need
    >>> kit = [Gear(kind="head", name="Mine", key="point-300", count=4, price=40)]
    >>> needs = [Need("head", "point-300", "Head", 2, of=("Key",))]
    >>> m = money_of(needs, kit, [("Gaffer", 300)], 350)
    >>> m.total, m.left
    (380.0, -30.0)
    """
    taken, _ = taken_from(needs, kit)
    hired = [(kit[at], count, of) for at, (count, of) in sorted(taken.items()) if kit[at].price]
    hire = tuple(CostLine(g.name, n, g.price, n * g.price) for g, n, _ in hired)
    crew = tuple(CostLine(name, 1, rate, rate) for name, rate in people)
    total = float(sum(line.total for line in (*hire, *crew)))
    savings = sorted(
        (Saving(g.name, n * g.price, of) for g, n, of in hired), key=lambda s: -s.saves
    )
    words = f"{total:,.0f} for the day"
    if budget is not None:
        over = total - budget
        words += f", {over:,.0f} over {budget:,.0f}" if over > 0 else f" of {budget:,.0f}"
    return Money(
        hire,
        crew,
        total,
        budget,
        None if budget is None else budget - total,
        tuple(savings),
        words + ".",
    )
