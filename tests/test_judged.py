"""A part of the judged set-ups (bench/judged): every kind, faults put in and left out."""

import pytest

from bench.judged.__main__ import found_in, is_right
from bench.judged.cases import cases

CHOSEN, DRAWN = 7, 13
"""Each so many-th: shares no factor with how many cases a stage has of a kind, so that right and
wrong ones come up.
"""
PARTLY = [*cases()[::CHOSEN], *cases(range(8))[::DRAWN]]


@pytest.mark.parametrize("case", PARTLY, ids=lambda case: case.name)
def test_what_was_put_in_is_found_and_nothing_else(case):
    assert is_right(case, found_in(case)), case.how
