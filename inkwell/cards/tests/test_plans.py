"""The plan as vector files, read by others than their writers; the card where light lands."""

import io
import math
import xml.etree.ElementTree as ET

import numpy as np
import pytest
import shapely
from trimesh.path.exchange.dxf import load_dxf

from inkwell.cards.plans import dxf, svg
from moth.card import level_card, plan_of
from moth.document import bare
from moth.inspection import axis_end
from moth.photometry import HEADS

KEY = {
    **{"id": "k", "name": "Key & <more>", "head": "point-300"},
    **{"position": [1.5, 4.0, 2.0], "aim": [2.5, 3.0, 1.4]},
}


@pytest.fixture
def setup():
    return bare(
        title="Chart <store>",
        room={"width": 4.0, "depth": 5.0},
        units=[KEY],
        circuits=[{"id": "a", "name": "Stair", "amperes": 10, "sockets": [[0.2, 0.3]]}],
    )


def test_dxf_is_opened_by_another_reader_in_metres(setup):
    read = load_dxf(io.StringIO(dxf(plan_of(setup))))
    outlines = [read["vertices"][e.points] for e in read["entities"] if len(e.points) > 3]
    closed = [shapely.Polygon(p[:, :2]) for p in outlines]
    room = max(closed, key=lambda p: p.area)
    assert room.area == pytest.approx(4.0 * 5.0)
    assert np.allclose(room.bounds, (0, 0, 4, 5))


def test_svg_is_read_and_to_scale(setup):
    plan = plan_of(setup, feet=True)
    root = ET.fromstring(svg(plan))
    high = plan.high[1]
    assert float(root.get("width").removesuffix("mm")) == pytest.approx(
        1000 * (plan.high[0] - plan.low[0]), abs=0.1
    )
    walls = next(p for p in root.iter() if p.get("class") == "walls")
    corners = [tuple(map(float, c.split(","))) for c in walls.get("points").split()]
    metres = [(x / 100 + plan.low[0], high - y / 100) for x, y in corners]
    assert shapely.Polygon(metres).area == pytest.approx(20.0, rel=1e-3)
    words = [e.text for e in root.iter() if e.tag.endswith("text")]
    assert "1 Key & <more>" in words and "Stair 10 A" in words
    lines = sorted(
        float(e.get("x1"))
        for e in root.iter()
        if e.get("class") == "grid" and e.get("x1") == e.get("x2")
    )
    assert np.diff(lines) == pytest.approx(30.48, abs=0.11)


def test_a_unit_points_where_it_is_aimed(setup):
    plan = plan_of(setup)
    (a, b), (c, d) = next(p for p in plan.parts if p.layer == "aims").ends
    assert (a, b) == (1.5, 4.0)
    assert math.atan2(d - b, c - a) == pytest.approx(math.atan2(-1.0, 1.0))


def test_a_background_unit_reads_on_the_wall():
    # A small lamp square on a matte wall: peak over distance squared, as far as its beam is known.
    lamp = {**KEY, "name": "Wash", "position": [2, 3.0, 1.5], "aim": [2, 0, 1.5]}
    room = {"width": 4.0, "depth": 6.0}
    dark = {w: {"reflectance": 0.0} for w in ("floor", "ceiling", "north", "south", "east", "west")}
    figure = {"id": "f", "name": "Keeper", "figure": "weathered-man", "position": [3.4, 4.5]}
    made = bare(room=room | dark, units=[lamp], figures=[figure])
    end = axis_end(made, "k")
    assert end.name == "the south wall" and end.place[1] == pytest.approx(0, abs=0.01)
    head = HEADS["point-300"]
    assert end.lux == pytest.approx(head.peak * head.output(5600) / 9, rel=0.02)
    row = level_card(made).units[0]
    assert row.lands == "the south wall" and row.lands_lux == pytest.approx(end.lux, rel=0.01)
    assert (row.bearing, row.tilt) == (180, 0)


def test_what_is_off_lands_nowhere(setup):
    off = setup.model_copy(update={"units": (setup.units[0].model_copy(update={"on": False}),)})
    row = level_card(off).units[0]
    assert row.lands == "" and row.lands_lux is None and row.soft is None
