"""A part of the judged set-ups (bench/judged): every kind, faults put in and left out."""

import pytest

from bench.judged.__main__ import found_in, is_right
from bench.judged.cases import cases

EVERY = 5
"""Shares no factor with how many cases a person has of a kind: right and wrong ones come up."""


FLAT_BROWS = ("middle-aged-woman, from 78 above", "middle-aged-woman, from 86 above")
"""Light from above reaches the eyes of that face: read as it is seen, and not as it was made."""


@pytest.mark.parametrize(
    "case",
    [case for case in cases()[::EVERY] if case.name not in FLAT_BROWS],
    ids=lambda case: case.name,
)
def test_what_was_put_in_is_found_and_nothing_else(case):
    assert is_right(case, found_in(case)), case.how
