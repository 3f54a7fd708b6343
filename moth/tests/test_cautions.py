"""Cautions on set-ups made to be wrong, and on the same ones made right."""

import pytest

from moth.document import bare
from moth.planning.cautions import bags_against, cautions_of, wind_force

LAMP = {"id": "k", "name": "Key", "head": "point-300", "position": (4, 4, 2), "aim": (2, 2, 1)}
CLOTH = {
    **{"id": "c", "name": "Cloth", "kind": "frame", "material": "silk", "size": (1.2, 1.2)},
    **{"position": (3.0, 3.0, 1.6), "aim": (2, 2, 1.2)},
}
DOOR = {"id": "d", "name": "Door", "kind": "door", "position": (4, 4, 0), "size": (0.9, 0.1, 2.1)}
WINDOW = {"id": "w", "name": "Window", "wall": "south", "along": 2.5, "up": 1.5, "size": (1, 1)}
OPEN = {"room": {"outdoors": True}}
HUNG = {**LAMP, "held": "hung", "position": (2, 2, 2.4), "aim": (2, 2.1, 0)}
BOOMED = {**LAMP, "held": "boom", "foot": (4, 5.5)}
BENCH = [{"id": "a", "name": "A", "amperes": 4}]


def kinds(**parts):
    return {c.kind for c in cautions_of(bare(**parts))}


@pytest.mark.parametrize(
    "kind, wrong, right",
    [
        ("over people", {"units": [HUNG]}, {"units": [{**HUNG, "position": (4.5, 4.5, 2.4)}]}),
        ("over people", {"units": [HUNG]}, {"units": [{**HUNG, "switch": "ceiling"}]}),
        ("stand", {"units": [{**LAMP, "head": "point-1200"}]}, {"units": [LAMP]}),
        ("stand", {"units": [BOOMED]}, {"units": [LAMP]}),
        ("wind", {"grip": [CLOTH], **OPEN}, {"grip": [CLOTH]}),
        (
            "heat",
            {"units": [LAMP], "grip": [{**CLOTH, "position": (3.8, 3.8, 2)}]},
            {"units": [LAMP], "grip": [CLOTH]},
        ),
        (
            "power",
            {"circuits": BENCH, "units": [{**LAMP, "head": "point-1200", "feed": "a"}]},
            {"circuits": BENCH, "units": [{**LAMP, "feed": "a"}]},
        ),
        ("wet", {"units": [LAMP], **OPEN}, {"units": [{**LAMP, "feed": "@battery"}], **OPEN}),
        ("glass", {"grip": [{**CLOTH, "kind": "mirror", "material": "mirror"}]}, {"grip": [CLOTH]}),
        (
            "exits",
            {"furniture": [DOOR], "units": [LAMP]},
            {"furniture": [DOOR], "units": [{**LAMP, "position": (1, 4, 2)}]},
        ),
        ("exits", {"openings": [{**WINDOW, "cover": "blackout"}]}, {"openings": [WINDOW]}),
        ("haze", {"haze": 0.03}, {}),
    ],
)
def test_what_is_wrong_is_told_and_what_is_right_is_not(kind, wrong, right):
    assert kind in kinds(**wrong)
    assert kind not in kinds(**right)


def test_wind_and_bags_by_hand():
    # A plate of 2.88 m² at 8 m/s: 0.5 · 1.2 · 64 · 1.3 · 2.88 = 143.8 N; 2 m up, 287.5 N m.
    assert wind_force(2.88) == pytest.approx(143.8, abs=0.1)
    # Over a line 0.3 m from the pole: 287.5 / (9.81 · 0.3) = 97.7 kg, less 27.7: ten bags of 7 kg.
    assert bags_against(287.5, 0.6, 27.7) == 10
    assert bags_against(10.0, 0.6, 50.0) == 0


def test_none_says_that_anything_is_safe():
    made = bare(units=[HUNG, {**BOOMED, "id": "b"}], grip=[CLOTH], haze=0.03, **OPEN)
    for caution in cautions_of(made):
        assert "safe " not in caution.words.replace("safety", "") and caution.follows
