"""How far off heads reach, against the meter of a set-up and the inverse square."""

import numpy as np
import pytest

from moth.document import load
from moth.metering import read_setup
from moth.photometry import HEADS
from moth.solving.reaching import BOX, FARTHEST, longest_way, reach, which_reach
from moth.solving.standins import Candidate
from moth.tests.scenes import BLACK_ROOM, data

BROUGHT = [h for h in HEADS.values() if not h.of_place]


def metered(head, boxed, distance, cct):
    """What a disc reads on the head's axis in a black hall, so far off."""
    unit = {
        "id": "k",
        "name": "Key",
        "head": head,
        "position": [6, 2, 1.5],
        "aim": [6, 60, 1.5],
        "cct": cct,
        "attachments": [BOX.model_dump()] if boxed else [],
    }
    mark = {
        "id": "m",
        "name": "M",
        "position": [6, 2 + distance, 1.5],
        "direction": [0, -1, 0],
        "receiver": "disc",
    }
    room = {"width": 12, "depth": 140, "height": 6, **BLACK_ROOM}
    person = [{"id": "s", "name": "S", "position": [1, 1]}]
    camera = [{"id": "c", "name": "C", "position": [2, 3, 1.5], "aim": [1, 1, 1.5]}]
    scene = load(data(units=[unit], marks=[mark], room=room, figures=person, cameras=camera))
    return next(m.lux for m in read_setup(scene).marks if m.id == "mark:m")


@pytest.mark.parametrize("seed", range(8))
def test_at_the_distance_told_a_meter_reads_the_level(seed):
    draw = np.random.default_rng(seed)
    head = BROUGHT[draw.integers(len(BROUGHT))]
    lux = float(np.exp(draw.uniform(np.log(60), np.log(2500))))
    scene = load(data())
    found = reach(scene, Candidate(head.name, head.key), lux)
    low, high = head.cct
    cct = float(np.clip(scene.cameras[0].white_balance, low, high))
    for boxed, distance in ((False, found.bare), (True, found.boxed)):
        if distance is not None and distance < FARTHEST:
            assert metered(head.key, boxed, distance, cct) == pytest.approx(lux, rel=0.02)
    if found.bare is None:
        assert metered(head.key, False, 0.3, cct) < lux


def test_far_off_a_stop_is_a_ring():
    """Two stops less reach twice as far; near a large face the fall-off is gentler."""
    scene = load(data())
    far = [reach(scene, Candidate("r", "point-600"), lux).bare for lux in (50, 200)]
    assert far[0] / far[1] == pytest.approx(2, rel=0.01)
    near = [reach(scene, Candidate("r", "point-600"), lux).boxed for lux in (4e3, 16e3)]
    assert near[0] / near[1] > 2.05


def test_the_room_is_held_against_what_reaches_and_the_weak_are_told():
    scene = load(data())
    found = which_reach(scene, [Candidate(h.name, h.key) for h in BROUGHT])
    assert [r.bare or 0 for r in found.heads] == sorted(r.bare or 0 for r in found.heads)[::-1]
    longest = longest_way(scene)
    for r in found.heads:
        assert r.room == (max(r.bare or 0, r.boxed or 0) <= longest)
    over = which_reach(scene, [Candidate("bulb", "bulb")], over=6)
    assert over.lux == pytest.approx(64 * found.lux) and over.heads[0].bare is None
    outside = load(data(room={**data()["room"], "outdoors": True}))
    assert longest_way(outside) is None
