"""The only place that puts numbers into words: stops, ratios, parts of a hundred.

Whoever makes a sentence is handed a :class:`Wording`, which knows how fine stops are said, and
passes it on whole.
"""

import math
from dataclasses import dataclass
from typing import Literal

from .units import FULL_STOPS

_FIRST = -2  # FULL_STOPS[0] is sqrt(2) ** -2
_FRACTIONS = ("", "⅓", "⅔")


@dataclass(frozen=True)
class Wording:
    """How stops are said: in thirds, as lenses are engraved, or in tenths, as meters show them."""

    step: Literal["third", "tenth"] = "third"

    def stop(self, number):
        """An f- or T-number [1], > 0, in full stops and a rest.

        Examples
        --------
        >>> THIRDS.stop(3.17), TENTHS.stop(3.17), THIRDS.stop(2**1.5)
        ('T2.8 + ⅓', 'T2.8 + 3/10', 'T2.8')
        """
        parts = 3 if self.step == "third" else 10
        full, rest = divmod(round(2 * math.log2(number) * parts), parts)
        index = full - _FIRST
        if index < 0:
            return "below T0.5"
        if index >= len(FULL_STOPS):
            return "over T90"
        name = f"T{FULL_STOPS[index]:g}"
        if not rest:
            return name
        return f"{name} + {_FRACTIONS[rest]}" if parts == 3 else f"{name} + {rest}/10"

    def difference(self, stops):
        """A signed difference in stops.

        Examples
        --------
        >>> THIRDS.difference(-1.66), THIRDS.difference(0.1), TENTHS.difference(1.24)
        ('−1⅔', '0', '+1.2')
        """
        if self.step == "tenth":
            text = f"{abs(stops):.1f}"
            return "0" if text == "0.0" else ("+" if stops > 0 else "−") + text
        steps = round(stops * 3)
        if steps == 0:
            return "0"
        full, rest = divmod(abs(steps), 3)
        return (
            ("+" if steps > 0 else "−")
            + (str(full) if full or not rest else "")
            + (_FRACTIONS[rest])
        )

    def amount(self, stops):
        """A difference in stops without its sign; what a third would round away is told in tenths.

        Examples
        --------
        >>> THIRDS.amount(-1.66), THIRDS.amount(0.13), THIRDS.amount(0.01)
        ('1⅔', '0.1', '0')
        """
        words = self.difference(abs(stops)).lstrip("+")
        return TENTHS.difference(abs(stops)).lstrip("+") if words == "0" else words

    def counted(self, stops):
        """The same with its noun.

        Examples
        --------
        >>> THIRDS.counted(-1.66), THIRDS.counted(0.33), THIRDS.counted(0.1)
        ('1⅔ stops', '⅓ stop', '0.1 stop')
        """
        words = self.amount(stops)
        one = words in ("1", "⅓", "⅔") or words.startswith("0.")
        return f"{words} stop{'' if one else 's'}"

    def off(self, stops, over="over", under="under"):
        """How far something is over or under where it should be.

        Examples
        --------
        >>> THIRDS.off(1.33), THIRDS.off(-2, over="light", under="dark")
        ('1⅓ over', '2 dark')
        """
        return f"{self.amount(stops)} {over if stops >= 0 else under}"


THIRDS, TENTHS = Wording("third"), Wording("tenth")


def ratio_words(value):
    """A ratio of light, the greater first when it is told of something against a lesser thing.

    Examples
    --------
    >>> ratio_words(4.0), ratio_words(0.5), ratio_words(16.3)
    ('4:1', '1:2', '16:1')
    """
    if 0 < value < 1:
        return "1:" + ratio_words(1 / value).split(":")[0]
    return f"{value:.2g}:1" if value < 9.95 else f"{value:.0f}:1"


def percent(part):
    """A part of a whole in hundredths.

    Examples
    --------
    >>> percent(0.437)
    '44 %'
    """
    return f"{100 * part:.0f} %"


def as_cell(value):
    """A cell of a table; none that a spreadsheet takes for a formula.

    Examples
    --------
    >>> as_cell(True), as_cell(None), as_cell(1.5), as_cell("=1+1")
    ('yes', '', 1.5, "'=1+1")
    """
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value is None:
        return ""
    formula = isinstance(value, str) and value.startswith(("=", "+", "-", "@", "\t", "\r"))
    return f"'{value}" if formula else value


def clock(minute):
    """A minute of the day as a clock shows it, past midnight too.

    Examples
    --------
    >>> clock(75), clock(1500)
    ('01:15', '01:00')
    """
    return f"{int(minute) // 60 % 24:02d}:{int(minute) % 60:02d}"
