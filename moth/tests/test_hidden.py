"""Faces that something stands before: told where the lens cannot see them, and nowhere else."""

import numpy as np
import pytest

from moth.tests.test_picture_read import found
from moth.tests.test_reading import scene
from moth.world import anchor


def told(made):
    return [(r.verdict, r.words) for r in found(made, "frame hidden")]


def before_the_face(seed, aside=-0.3, **change):
    """The scene with a sheet between the lens and the face, somewhere along the way; as the lens
    sees it, its edge is so far aside of the face's middle [m], whose other side it all covers.
    """
    draw = np.random.default_rng([seed, 11])
    lens, face = np.array(scene([{}]).cameras[0].position), anchor(scene([{}]))
    way, size = float(draw.uniform(0.3, 0.7)), 0.8
    middle = face + way * (lens - face) + [(1 - way) * aside + size / 2, 0, 0]
    piece = {
        "id": "p",
        "name": "Screen",
        "kind": "flag",
        "material": "velvet",
        "position": middle.round(3).tolist(),
        "aim": (middle + [0, 1, 0]).round(3).tolist(),
        "size": [size, size],
        **change,
    }
    return scene([{}], grip=[piece])


@pytest.mark.parametrize("seed", range(4))
def test_a_face_behind_a_board_is_told_with_what_hides_it(seed):
    assert told(before_the_face(seed)) == [("fault", "behind 'Screen'")]
    # Cloth that no outline is read through hides whom it is before.
    for cloth in ("silk", "frost-light"):
        made = before_the_face(seed, kind="frame", material=cloth)
        assert told(made) and not found(made, "outline")
    # Half of it is the crown and the chin, and one side of what is beside them.
    assert told(before_the_face(seed, -0.02)) == [("fault", "behind 'Screen'")]


@pytest.mark.parametrize("seed", range(4))
def test_a_face_that_is_seen_is_not_told(seed):
    assert not told(before_the_face(seed, 0.02))
    assert not told(before_the_face(seed, 0.15))
    for net in ("net-single", "net-double", "voile"):
        assert not told(before_the_face(seed, kind="frame", material=net))


def test_one_whom_another_hides_is_told_and_nobody_without_anything_before_them():
    alone = scene([{}])
    assert not told(alone)
    (person,) = alone.figures
    other = person.model_copy(update={"id": "o", "name": "Other", "position": (3.0, 3.9)})
    assert told(alone.model_copy(update={"figures": [person, other]})) == [
        ("fault", "behind the body of 'Other'")
    ]
    behind = other.model_copy(update={"position": (3.0, 1.6)})
    assert told(alone.model_copy(update={"figures": [person, behind]})) == [
        ("mind", "behind the body of 'S'")
    ]
