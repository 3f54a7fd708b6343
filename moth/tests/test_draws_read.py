"""Readings of the picture on set-ups drawn at random, against geometry of one's own."""

import numpy as np
import pytest
import shapely

from moth.document import load
from moth.judging import picture_of, read_picture
from moth.judging.backdrop import THROUGH
from moth.judging.outline import project_near
from moth.tests.test_mending import rail
from moth.tests.test_reading import scene
from moth.world import axes, landmarks


def read(made, start):
    return [r for r in read_picture(made, picture_of(made)) if r.key.startswith(start)]


def heads_off(made, height):
    """How far a rail's middle lies under the middle of the head in the frame, in heads."""
    camera, marks = made.cameras[0], landmarks(made.figures[0])
    crown, chin = (project_near(camera, marks[k])[1] for k in ("crown", "chin"))
    front = made.furniture[0].position[1] + 0.025
    line = project_near(camera, np.array([3.0, front, height + 0.025]))[1]
    return (line - (crown + chin) / 2) / (chin - crown)


@pytest.mark.parametrize("seed", range(14))
def test_a_rail_is_told_where_it_runs_through_the_head_and_nowhere_else(seed):
    """Its height drawn at random; what is near the limit either way is not asked."""
    draw = np.random.default_rng(seed)
    while True:
        height = float(draw.uniform(0.95, 1.62))
        made = scene([{}], wall=0.6, furniture=[rail(height)])
        off = abs(heads_off(made, height))
        if off < THROUGH - 0.12 or off > THROUGH + 0.25:
            break
    told = [r.word for r in read(made, "backdrop line")]
    assert (told == ["runs through the head"]) == (off < THROUGH), (height, off, told)


def shown(made, piece):
    """The outline of a sheet in the frame, as its corners are projected: in parts of the frame."""
    right, up, _ = axes(piece.position, piece.aim, piece.roll)
    corners = [
        project_near(
            made.cameras[0],
            np.asarray(piece.position) + i * piece.size[0] / 2 * right + j * piece.size[1] / 2 * up,
        )
        for i, j in ((-1, -1), (1, -1), (1, 1), (-1, 1))
    ]
    return shapely.Polygon(corners).intersection(shapely.box(0, 0, 1, 1))


@pytest.mark.parametrize("seed", range(12))
def test_a_boards_edge_is_told_by_as_much_of_the_frame_as_it_hides(seed):
    """Boards between lens and face, rolled anyhow, in and out of the frame."""
    draw = np.random.default_rng(100 + seed)
    bare = scene([{}])
    lens, face = np.array(bare.cameras[0].position), landmarks(bare.figures[0])["face"]
    middle = lens + draw.uniform(0.45, 0.7) * (face - lens)
    side = np.array([1.0, 0, 0]) * draw.choice([-1, 1]) * draw.uniform(0.35, 0.75)
    board = {
        "id": "b",
        "name": "Board",
        "kind": "board",
        "material": "board-matte",
        "position": (middle + side + [0, 0, draw.uniform(-0.2, 0.2)]).tolist(),
        "aim": (face + [0, 0, 0.0]).tolist(),
        "roll": float(draw.uniform(-90, 90)),
        "size": draw.uniform(0.25, 0.6, 2).tolist(),
    }
    made = load({**bare.model_dump(), "grip": [board]})
    part = shown(made, made.grip[0]).area
    told = read(made, "frame grip b")
    if part < 1e-4:
        assert not told
    elif part > 2e-3:
        (reading,) = told
        assert reading.verdict == "fault" and reading.figure == pytest.approx(part, rel=0.12)
