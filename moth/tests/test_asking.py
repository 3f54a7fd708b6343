"""Asked-for light: what is said to be met is metered and read again on its own."""

import numpy as np
import pytest

from moth.errors import MothError
from moth.judging import picture_of, read_picture
from moth.metering import read_setup
from moth.solving import GRID, Wish, offer
from moth.tests.scenes import setup
from moth.tests.test_reading import scene
from moth.world import check_placement

FILL = {"id": "fill", "angle": -40, "height": 8, "distance": 2.2, "dimmer": 0.1}
WISHES = (
    Wish("stop"),
    Wish("ratio", low=3.0, high=5.0),
    Wish("pattern", word="loop"),
    Wish("soft", low=8.0),
    Wish("outline"),
)


@pytest.mark.parametrize("seed", range(3))
def test_what_is_met_is_so_when_it_is_metered_again(seed):
    draw = np.random.default_rng(seed)
    key = {"angle": float(draw.uniform(25, 60)), "height": float(draw.uniform(15, 40))}
    made = scene([{**key, "dimmer": float(draw.uniform(0.02, 1))}, FILL], wall=0.3)
    most = 0
    for at in (0, 2, 3, 6):
        found = offer(made, WISHES, at)
        if found is None:
            continue
        check_placement(found.setup)
        met = {w.kind: w.met for w in found.wishes}
        readings = read_setup(found.setup)
        assert met["stop"] == (abs(readings.mark("key-side").against_camera) <= 0.34)
        ratio = readings.ratios.combined.ratio
        assert met["ratio"] == (2.9 <= ratio <= 5.16)
        assert met["stop"] and met["ratio"]
        picture = {r.key: r for r in read_picture(found.setup, picture_of(found.setup))}
        assert met["pattern"] == (picture["face 0 pattern"].word == "loop")
        outline = [r for k, r in picture.items() if k.startswith("outline 0")]
        assert met["outline"] == all(r.verdict == "well" for r in outline)
        assert found.setup.cameras == made.cameras and found.setup.figures == made.figures
        most = max(most, sum(met.values()))
    assert most >= 3


def test_what_cannot_be_had_is_told_as_not_met():
    made = scene([{"angle": 45, "height": 25}], wall=0.8)
    found = offer(made, [Wish("ratio", low=40.0, high=64.0), Wish("soft", low=120.0)], 0)
    assert [w.met for w in found.wishes] == [False, False]
    assert all(w.words for w in found.wishes)


def test_the_grid_begins_where_the_key_stands_and_never_puts_it_in_a_wall():
    made = scene([{"angle": 45, "height": 25, "distance": 2.4}])
    assert GRID[0] == (0, 0)
    assert offer(made, [Wish("stop")], 0).setup.units[0].position == made.units[0].position
    for at in range(len(GRID)):
        found = offer(made, [Wish("stop")], at)
        if found:
            check_placement(found.setup)


def test_without_a_key_it_is_said():
    with pytest.raises(MothError, match="bring in a unit"):
        offer(setup(units=[]), [Wish("stop")], 0)
