"""Ratios set by one unit, and schools of metering: checked by metering again."""

import numpy as np
import pytest

from moth.errors import MothError
from moth.metering import SCHOOLS, exposed_for, read_schools, read_setup
from moth.solving import ratio_of, set_ratio
from moth.tests.scenes import setup

KEY = {
    "id": "k",
    "name": "Key",
    "role": "key",
    "head": "panel-2x1",
    "position": [4.4, 4.6, 2.1],
    "aim": [3, 3, 1.2],
}
FILL = {
    "id": "f",
    "name": "Fill",
    "role": "fill",
    "head": "panel-2x1",
    "position": [1.9, 4.9, 1.5],
    "aim": [3, 3, 1.2],
}


def lit(key=None, fill=None, **more):
    return setup(**{"units": [{**KEY, **(key or {})}, {**FILL, **(fill or {})}], **more})


STARTS = [
    ({}, {}),
    ({"dimmer": 0.3}, {"dimmer": 0.9}),
    ({"dimmer": 0.1}, {}),
    ({}, {"dimmer": 0.02}),
    ({"position": [5.2, 3.4, 2.4]}, {}),
    ({"position": [3.6, 4.4, 1.9]}, {"dimmer": 0.5}),
    ({}, {"position": [1.2, 3.6, 1.4]}),
    ({"dimmer": 0.6}, {"position": [2.7, 5.6, 1.6]}),
    ({"head": "softbox-large", "dimmer": 0.7}, {}),
    ({"position": [4.9, 5.4, 2.6], "dimmer": 0.9}, {"position": [1.5, 4.2, 1.8], "dimmer": 0.8}),
]


@pytest.mark.parametrize("start", range(len(STARTS)))
def test_four_to_one_from_ten_starts(start):
    scene = lit(*STARTS[start])
    tried = []
    for unit in ("f", "k"):
        try:
            solved = set_ratio(scene, unit, 4.0)
        except MothError as error:
            tried.append(error.sentence)
            assert "cannot do it" in error.sentence and any(
                word in error.sentence for word in ("more", "What would")
            )
            continue
        # Metered again, by what the desk shows.
        told = read_setup(solved.setup).ratios.combined.ratio
        assert abs(np.log2(told / 4)) < 0.1
        return
    pytest.fail(f"neither unit could: {tried}")


def test_the_two_schools_are_set_each_by_its_own_measure():
    scene = lit()
    for school in ("combined", "single"):
        solved = set_ratio(scene, "f", 6.0, school)
        told = getattr(read_setup(solved.setup).ratios, school).ratio
        assert told == pytest.approx(6.0, rel=0.01)
    assert set_ratio(scene, "f", 6.0, "single").setup.units[1].dimmer != pytest.approx(
        set_ratio(scene, "f", 6.0).setup.units[1].dimmer, rel=0.01
    )


def test_by_distance_the_dimmer_stays():
    scene = lit(fill={"dimmer": 0.5})
    wanted = ratio_of(scene, "combined") * 1.6
    solved = set_ratio(scene, "f", wanted, means="distance")
    assert (
        solved.setup.units[1].dimmer == 0.5
        and solved.setup.units[1].position != scene.units[1].position
    )
    assert abs(np.log2(ratio_of(solved.setup, "combined") / wanted)) < 0.1
    # Still on its line to the face.
    before, after = (
        np.subtract(scene.units[1].aim, scene.units[1].position),
        np.subtract(solved.setup.units[1].aim, solved.setup.units[1].position),
    )
    np.testing.assert_allclose(before, after, atol=2e-3)


def test_what_cannot_be_is_said_with_what_would():
    weak = lit(fill={"dimmer": 1.0, "head": "battery-panel", "position": [0.6, 5.8, 1.6]})
    with pytest.raises(MothError, match=r"stops? more.*m from the face"):
        set_ratio(weak, "f", 3.0)
    with pytest.raises(MothError, match="between 1:1 and 64:1"):
        set_ratio(weak, "f", 0.5)
    with pytest.raises(MothError, match="no unit 'x'"):
        set_ratio(weak, "x", 2)
    with pytest.raises(MothError, match="neither key nor fill"):
        set_ratio(lit(fill={"role": "edge"}), "f", 4, "single")
    with pytest.raises(MothError, match="without a key"):
        ratio_of(setup(units=[]), "combined")


def test_each_school_reads_its_own_way():
    scene = lit(key={"position": [5.2, 3.4, 2.0]}, fill={"dimmer": 0.15})
    rows = {r.key: r for r in read_schools(scene)}
    assert set(rows) == {*SCHOOLS, "disc-k", "disc-f"} - {"spot"}
    assert not any(row.uncounted for row in rows.values())
    # Toward the key reads most and leaves the lit side at middle grey; the shadow side least, and
    # lifts the face by as much.
    assert rows["source"].lux > rows["lens"].lux > rows["shade"].lux
    assert rows["source"].sits["key side"] == 0
    difference = np.log2(rows["source"].lux / rows["shade"].lux)
    assert rows["shade"].sits["key side"] == pytest.approx(difference)
    # Setting a reading leaves nothing against the camera.
    for row in (rows[key] for key in ("source", "lens", "shade", "disc-k")):
        again = {r.key: r for r in read_schools(exposed_for(scene, row.against))}[row.key]
        assert again.against == pytest.approx(0, abs=1e-3)


def test_a_rim_behind_the_subject_leaves_a_dome_toward_the_lens_alone():
    rim = {
        "id": "r",
        "name": "Rim",
        "role": "edge",
        "head": "fresnel-200",
        "position": [3.6, 0.8, 2.3],
        "aim": [3, 3, 1.4],
    }
    dark = {
        side: {"reflectance": 0.02}
        for side in ("floor", "ceiling", "north", "south", "east", "west")
    }
    room = {"width": 6, "depth": 7, "height": 3, **dark}
    without = {r.key: r for r in read_schools(lit(room=room))}
    scene = setup(units=[KEY, FILL, rim], room=room)
    with_rim = {r.key: r for r in read_schools(scene)}
    assert with_rim["lens"].lux == pytest.approx(without["lens"].lux, rel=0.01)
    assert with_rim["lens"].sits["hair"] > (without["lens"].sits["hair"] or -20) + 1
    # What is told of each lamp is what adding it changes.
    assert "does not count it" in with_rim["disc-r"].uncounted
    assert not with_rim["disc-k"].uncounted and not with_rim["disc-f"].uncounted
    added = with_rim["lens"].lux - without["lens"].lux
    assert added < 0.1 * with_rim["disc-r"].lux


def test_a_hand_over_the_top_keeps_the_steep_light_off():
    top = {
        "id": "t",
        "name": "Top",
        "role": "other",
        "head": "panel-2x1",
        "position": [3, 3.4, 2.8],
        "aim": [3, 3, 1.2],
    }
    rows = {r.key: r for r in read_schools(setup(units=[KEY, top]))}
    alone = {r.key: r for r in read_schools(setup(units=[KEY]))}
    assert (
        rows["shielded"].lux == pytest.approx(alone["lens"].lux, rel=1e-6)
        and rows["lens"].lux > rows["shielded"].lux
    )


def test_a_board_is_slid_until_the_ratio_is_there():
    board = {
        "id": "b",
        "name": "Fill board",
        "kind": "board",
        "material": "foam-white",
        "position": [1.2, 4.0, 1.4],
        "aim": [3, 3, 1.2],
        "size": [1.2, 1.2],
    }
    lamp = {
        "id": "f",
        "name": "Fill",
        "role": "fill",
        "head": "point-300",
        "dimmer": 0.3,
        "attachments": [{"key": "lens-19"}],
        "position": [3.4, 5.6, 1.6],
        "aim": [1.2, 4.0, 1.4],
    }
    scene = setup(units=[KEY, lamp], grip=[board])
    now = ratio_of(scene, "combined")
    assert now > 2
    target = now * 0.93
    solved = set_ratio(scene, "f", target, means="board")
    assert (
        abs(np.log2(read_setup(solved.setup).ratios.combined.ratio / target)) < 0.1
        and "Fill board" in solved.words
    )
    # The lamp stays and follows with its aim; a unit without a board is told so.
    assert solved.setup.units[1].position == scene.units[1].position
    assert np.allclose(
        np.subtract(solved.setup.units[1].aim, scene.units[1].aim),
        np.subtract(solved.setup.grip[0].position, scene.grip[0].position),
        atol=1e-3,
    )
    with pytest.raises(MothError, match="by no board"):
        set_ratio(lit(), "f", 4, means="board")
