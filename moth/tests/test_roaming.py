"""Room to move: what is told of a lean, a turn of the head, getting up, against what must be so."""

import numpy as np
import pytest

from moth.document import load
from moth.metering import lay_out
from moth.solving import changed, roaming, tried
from moth.tests.test_reading import scene
from moth.world import anchor


def told_of(made):
    return {p.words: tried(made, changed(made, p.patches)) for p in roaming(made)}


def words_of(made):
    return [p.words for p in roaming(made)]


def test_moves_are_a_lean_toward_each_side_a_turn_and_up():
    made = scene([{}])
    by = {p.words: changed(made, p.patches) for p in roaming(made)}
    face = anchor(made)
    went = {words: anchor(after) - face for words, after in by.items()}
    # The lens looks along -y from the north: toward it is north, its left is east.
    assert np.allclose(went["leans in"], [0, 0.3, 0], atol=1e-3)
    assert np.allclose(went["leans back"], [0, -0.3, 0], atol=1e-3)
    assert np.allclose(went["camera left"], [0.3, 0, 0], atol=1e-3)
    assert np.allclose(went["camera right"], [-0.3, 0, 0], atol=1e-3)
    assert by["head to own left"].figures[0].head_turn == 30
    assert by["stands up"].figures[0].pose == "standing"
    # The lens tilts after the face: it stands as high in the picture as it sat.
    assert np.allclose(
        by["stands up"].cameras[0].aim - anchor(by["stands up"]),
        made.cameras[0].aim - face,
        atol=2e-3,
    )
    assert "sits down" in words_of(by["stands up"])


def test_nobody_leans_into_a_wall_nor_turns_farther_than_a_head_goes():
    made = scene([{}], figures=[{"id": "s", "name": "S", "position": [3, 0.4], "head_turn": 50}])
    assert "leans back" not in words_of(made)
    turned = {p.words: p for p in roaming(made)}["head to own left"]
    assert turned.patches[0].change == {"head_turn": 60}


@pytest.mark.parametrize("seed", range(4))
def test_a_lean_in_a_small_lamps_light_goes_by_the_inverse_square(seed):
    rng = np.random.default_rng(seed)
    # Beside the lens's way to the face, about which it would stand in the picture.
    lamp = {
        "head": "pocket-ball",
        "angle": float(rng.uniform(25, 35)),
        "height": float(rng.uniform(5, 15)),
        "distance": float(rng.uniform(1.2, 3.0)),
        "dimmer": 1.0,
    }
    made = scene([lamp], wall=0.0, cameras=[_lens(6.5, 105)])
    found = told_of(made)
    for proposal in roaming(made):
        after = changed(made, proposal.patches)
        if not proposal.words.startswith("leans"):
            # Aside the light falls otherwise too.
            continue
        before, now = (
            float(np.linalg.norm(np.subtract(s.units[0].position, _cheek(s))))
            for s in (made, after)
        )
        wanted = 2 * np.log2(before / now)
        told = found[proposal.words]
        # The way the light falls changes by some degrees besides.
        assert told.skin == pytest.approx(wanted, abs=0.25)
        sides = [w for w in told.changes if w.startswith("key side")]
        if abs(wanted) > 1 / 3 + 0.25:
            assert sides[0].split()[-1] == ("brighter" if wanted > 0 else "darker")
        if abs(wanted) < 1 / 3 - 0.25:
            assert not sides


def _cheek(made):
    return lay_out(made).marks["key-side"].position


def _lens(y, focal):
    return {
        "id": "a",
        "name": "A",
        "position": [3, y, 1.25],
        "aim": [3, 3, 1.15],
        "focal_length": focal,
    }


def test_under_an_even_sky_a_lean_changes_nothing_that_is_told():
    plain = scene([{}])
    data = plain.model_dump(mode="json")
    data["room"]["outdoors"] = True
    data.update(units=[], sky={"kind": "overcast", "level": 10_000.0})
    found = told_of(load(data))
    for words in ("camera left", "camera right", "leans in", "leans back", "stands up"):
        assert found[words].changes == []
        assert abs(found[words].skin) < 0.15


def test_a_head_turned_from_the_key_loses_its_pattern_and_up_leaves_the_beam():
    found = told_of(scene([{"angle": 30, "height": 35, "distance": 2.0}], wall=0.05))
    assert any("becomes" in w or "lost" in w for w in found["head to own left"].changes)
    narrow = {
        "angle": 30,
        "height": 5,
        "distance": 2.0,
        "head": "fresnel-200",
        "attachments": [{"key": "travel", "settings": {"travel": 0}}],
    }
    up = told_of(scene([narrow], wall=0.0))["stands up"]
    assert up.skin is None or up.skin < -1
    assert any("key side" in w for w in up.changes)
