"""Trials: what is tried is what is lit, and its figures are the desk's."""

import io
import itertools
import os
import time

import numpy as np
import pytest
from PIL import Image
from pydantic import ValidationError

from moth.document import Surface, to_polar
from moth.inspection import inspect_unit
from moth.metering import read_setup
from moth.photometry import from_function, write_ies
from moth.tests.scenes import setup
from moth.transport import project
from moth.trials import (
    FIGURES,
    MOST,
    STAGES,
    TrialPlan,
    cells_of,
    changed_by,
    one_level,
    run_cell,
    stage,
    wall_map,
)
from moth.trials import cell as cells_run
from moth.trials.plan import Change
from moth.units import footcandles
from moth.world import anchor, landmarks


def plan(rows, columns=None, **more):
    def axis(names):
        return {"choices": [{"name": n, "steps": s} for n, s in names.items()]}

    columns = {"columns": axis(columns)} if columns else {}
    given = {"setup": setup(), "unit": "key", **more}
    return TrialPlan(rows=axis(rows), **columns, **given)


def head(key):
    return [{"kind": "head", "key": key}]


CLOTH = [{"kind": "move", "key": "cloth"}]


def test_every_row_meets_every_column_in_order_and_alone_leaves_no_other_light():
    made = plan(
        {"a": head("bulb"), "b": head("panel-2x1")}, {"bare": [], "cloth": CLOTH}, alone=True
    )
    cells = cells_of(made)
    assert [(c.row, c.column) for c in cells] == list(itertools.product(range(2), range(2)))
    assert all(c.setup and not c.fault for c in cells)
    assert [c.setup.units[0].head for c in cells] == ["bulb", "bulb", "panel-2x1", "panel-2x1"]
    assert [len(c.setup.grip) for c in cells] == [0, 1, 0, 1]
    for cell in cells:
        assert [u.id for u in cell.setup.units if u.on] == ["key"]
    beside = cells_of(plan({"a": []}, alone=False))[0].setup
    assert [u.id for u in beside.units if u.on] == ["key", "fill"]


def test_a_cell_is_named_by_its_content():
    one, other = (cells_of(plan({"a": head("bulb"), name: head("bulb")})) for name in "bc")
    assert one[0].key == one[1].key == other[1].key
    apart = cells_of(plan({"a": head("bulb")}, level="full"))
    assert apart[0].key != one[0].key


@pytest.mark.parametrize(("kind", "value"), [("distance", 1.5), ("angle", -30.0), ("height", 12.0)])
def test_a_unit_is_put_where_the_number_says_and_nothing_else_of_its_place_changes(kind, value):
    before = setup()
    after = changed_by(before, "key", [Change(kind=kind, value=value)])
    face, lens = anchor(before), before.cameras[0].position
    was, now = (to_polar(s.units[0].position, face, lens) for s in (before, after))
    for name in ("distance", "angle", "height"):
        wanted = value if name == kind else getattr(was, name)
        assert getattr(now, name) == pytest.approx(wanted, abs=0.02)


def test_steps_are_taken_in_the_order_in_which_a_rig_is_built():
    steps = [Change(kind="move", key="cloth"), Change(kind="distance", value=2.2)]
    made = [changed_by(setup(), "key", order) for order in (steps, steps[::-1])]
    assert made[0] == made[1] and len(made[0].grip) == 1


def test_cloths_put_one_after_another_stand_in_a_row_before_the_lamp():
    """Each is put between the lamp and what hangs already, five centimetres apart and more."""
    stack = ["grid-full", "opal", "frost-light"]
    steps = [Change(kind="move", key="cloth", material=m) for m in stack]
    rigged = changed_by(setup(), "key", steps)
    eyes = anchor(rigged)
    lamp = next(u for u in rigged.units if u.id == "key")
    hung = [g for g in rigged.grip if g.kind == "frame"]
    assert [g.material for g in hung] == stack
    far = [float(np.linalg.norm(np.subtract(k.position, eyes))) for k in (*hung, lamp)]
    assert (np.diff(far) > 0.05).all()


def test_what_cannot_be_is_told_and_the_rest_is_run():
    tube = [*head("tube-4ft"), {"kind": "attachment", "key": "fresnel"}]
    far = [{"kind": "distance", "value": 40}]
    cells = cells_of(plan({"tube": tube, "far": far, "bare": []}))
    assert "cannot be hung on" in cells[0].fault and cells[0].setup is None
    assert cells[1].fault and cells[1].setup is None
    assert cells[2].setup and len({c.key for c in cells}) == 3


def test_bad_plans_are_refused_in_sentences():
    with pytest.raises(ValidationError, match="cells are asked"):
        plan({str(k): [] for k in range(20)}, {str(k): [] for k in range(MOST // 20 + 1)})
    with pytest.raises(ValidationError, match="there is no unit 'nobody'"):
        plan({"a": []}, unit="nobody")
    with pytest.raises(ValidationError, match="there is no head 'sunbeam'"):
        plan({"a": head("sunbeam")})
    with pytest.raises(ValidationError, match="give a distance as a number"):
        plan({"a": [{"kind": "distance"}]})


@pytest.mark.parametrize("seed", range(4))
def test_one_level_is_metered_with_a_weak_lamp_as_with_a_strong_one(seed):
    rng = np.random.default_rng(60 + seed)
    lux = float(rng.uniform(50, 5000))
    cct = float(rng.uniform(2900, 6400))
    for key in ("bulb", "point-300", "panel-2x1"):
        made = changed_by(
            setup(), "key", [Change(kind="head", key=key), Change(kind="white", value=cct)]
        )
        made, gain = one_level(made, "key", lux)
        assert read_setup(made, "key").unit("key").face_lux == pytest.approx(lux, rel=0.01)
        assert (gain > 1) == (made.units[0].measured is not None)


def test_figures_are_those_of_the_desk():
    cell = run_cell(setup(), "key", "full", (64, 36))
    full = setup()
    unit = full.units[0].model_copy(update={"dimmer": 1.0})
    full = full.model_copy(update={"units": (unit, *full.units[1:])})
    told = inspect_unit(full, "key")
    assert set(cell.figures) <= set(FIGURES)
    assert cell.figures["level"] == pytest.approx(footcandles(told.lux))
    assert cell.figures["soft"] == told.size.half
    assert cell.figures["one"] == told.coverage.widths.one
    assert cell.figures["spill"] == told.spill.stops
    assert cell.figures["ratio"] == read_setup(full).ratios.combined.ratio
    assert cell.figures["gain"] == 0


def test_frames_of_one_level_are_alike_in_brightness_and_a_larger_source_is_softer():
    found = [
        run_cell(changed_by(stage("face"), "key", [Change(kind="head", key=key)]), "key", "same")
        for key in ("point-60", "panel-small", "softbox-large")
    ]
    shown = [np.asarray(Image.open(io.BytesIO(cell.png)), float) for cell in found]
    assert all(image.shape == (180, 320, 3) for image in shown)
    faces = [np.quantile(image[50:110, 130:190], 0.9) for image in shown]
    assert max(faces) - min(faces) < 20
    soft = [cell.figures["soft"] for cell in found]
    assert soft == sorted(soft) and soft[2] > 3 * soft[0]
    assert all(cell.exr[:4].hex() == "762f3101" for cell in found)


def test_a_cell_waits_while_a_hand_wants_light_and_not_for_ever(tmp_path, monkeypatch):
    hand = tmp_path / "hand"
    wait = cells_run._giving_way(str(hand))

    def took():
        start = time.monotonic()
        assert wait() is False
        return time.monotonic() - start

    assert took() < 0.05
    hand.touch()
    assert 0.8 * cells_run.REST < took() < 3 * cells_run.REST
    assert took() < 0.05
    # A clock that was put back must not stop the work.
    os.utime(hand, (time.time() + 900,) * 2)
    assert took() < 0.05
    monkeypatch.setattr(cells_run, "PATIENCE", 0.3)
    hand.touch()
    assert 0.25 < took() < 0.8


def test_grip_that_stands_for_other_light_is_not_carried_for_this_unit():
    def carried(grip):
        return run_cell(setup(grip=grip), "key", "full", (32, 18)).figures

    aside = {"id": "b", "name": "B", "kind": "board", "material": "foam-white", "size": [1, 1]}
    aside |= {"position": [0.6, 0.6, 1], "aim": [0, 0, 1]}
    for name in ("pieces", "minutes", "weight"):
        assert carried([aside])[name] == carried([])[name]
    rigged = changed_by(setup(), "key", [Change(kind="move", key="cloth")])
    assert run_cell(rigged, "key", "full", (32, 18)).figures["pieces"] > carried([])["pieces"]


def test_the_wall_behind_is_told_foot_by_foot():
    """A bare point light six feet off a black wall: the cube of the cosine."""
    staged = stage("wall")
    black = {"reflectance": 0.0}
    sides = ("floor", "ceiling", "north", "south", "east", "west")
    room = staged.room.model_copy(update={s: Surface(**black) for s in sides})
    even = write_ies(from_function(lambda c, g: 100.0 + 0 * g, reach=180), (-0.01,) * 3, "ball")
    lamp = staged.units[0].model_copy(update={"ies": even, "attachments": ()})
    away = staged.figures[0].model_copy(update={"position": (0.6, 6.4)})
    scene = staged.model_copy(update={"room": room, "units": (lamp,), "figures": (away,)})
    found = np.array(wall_map(scene, "key"), float)
    feet = np.arange(13) - 6.0
    # From the grid's middle, six feet up.
    across, up = np.meshgrid(feet, feet)
    expected = 3 * np.log2(6 / np.sqrt(36 + across**2 + up**2))
    assert found == pytest.approx(expected, abs=0.06)
    # Out of the ceiling there is no wall, outdoors none at all.
    low = scene.model_copy(update={"room": room.model_copy(update={"height": 2.5})})
    rows = wall_map(low, "key")
    assert rows[8][0] is not None and rows[9] == [None] * 13
    open_air = scene.model_copy(update={"room": room.model_copy(update={"outdoors": True})})
    assert wall_map(open_air, "key") is None


@pytest.mark.parametrize("key", STAGES)
def test_every_ready_arrangement_shows_a_whole_face_that_its_key_lights(key):
    staged = stage(key)
    camera, marks = staged.cameras[0], landmarks(staged.figures[0])
    places = project(camera, [marks[k] for k in ("crown", "chin", "eye_left", "eye_right")])
    assert all(spot is not None and 0.02 < spot[0] < 0.98 and spot[1] > 0.02 for spot in places)
    cell = run_cell(staged, "key", size=(96, 54))
    assert cell.figures["level"] > 5 and cell.wall is not None
    # Its lamp does not stand in the picture.
    at = project(camera, [np.array(staged.units[0].position)])[0]
    assert at is None or not all(0 <= k <= 1 for k in at)
