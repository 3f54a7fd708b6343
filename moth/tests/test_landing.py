"""Where beams land: conic sections and mirror images in closed form."""

import numpy as np
import pytest

from moth.inspection import landing
from moth.tests.scenes import setup
from moth.tests.test_properties import beam

NIGHT = {"kind": "overcast", "level": 0, "on": False}


def scene(unit, **more):
    base = {"id": "k", "name": "k", "head": "point-600", "ies": beam(5000, 12)}
    return setup(
        room={"width": 6, "depth": 7, "height": 3},
        figures=[{"id": "s", "name": "s", "position": [0.5, 0.5]}],
        cameras=[{"id": "a", "name": "A", "position": [1, 5, 1.3], "aim": [0.5, 0.5, 1.2]}],
        units=[{**base, **unit}],
        **more,
    )


@pytest.mark.parametrize("seed", range(8))
def test_a_beam_on_the_floor_is_the_cones_section(seed):
    """Every place of the ring lies half the beam off the axis, on the floor."""
    draw = np.random.default_rng(seed)
    lamp = draw.uniform((2.5, 3, 2), (3.5, 4, 2.8))
    aim = np.array([*draw.uniform((2.2, 2.7), (3.8, 4.3)), 0.0])
    found = landing(scene({"position": lamp.tolist(), "aim": aim.tolist()}), "k")
    (ring,) = found.rings
    assert ring.on == "the floor" and ring.mirrors == 0
    places = np.array(ring.places)
    assert np.abs(places[:, 2]).max() < 0.02
    axis = (aim - lamp) / np.linalg.norm(aim - lamp)
    to = places - lamp
    off = np.degrees(np.arccos(to @ axis / np.linalg.norm(to, axis=1)))
    # The rays set out 2 mm before the face.
    assert off == pytest.approx(found.beam / 2, abs=0.1)


@pytest.mark.parametrize("seed", range(6))
def test_by_a_mirror_it_lands_where_the_image_would_throw_it(seed):
    draw = np.random.default_rng(seed)
    lamp = draw.uniform((1, 3, 1.2), (2, 5, 2))
    glass = draw.uniform((4.5, 3, 1.5), (5.2, 5, 2.2))
    target = draw.uniform((1.5, 5.4, 0.0), (3.5, 6.4, 0.0))
    bisector = (lamp - glass) / np.linalg.norm(lamp - glass) + (target - glass) / np.linalg.norm(
        target - glass
    )
    mirror = {
        "id": "m",
        "name": "m",
        "kind": "mirror",
        "material": "mirror",
        "position": glass.tolist(),
        "aim": (glass + bisector).tolist(),
        "size": [0.5, 0.5],
    }
    made = scene({"position": lamp.tolist(), "aim": glass.tolist()}, grip=[mirror])
    ring = next(r for r in landing(made, "k").rings if r.mirrors == 1)
    # The image of the lamp behind the glass, its line through the glass's middle.
    normal = bisector / np.linalg.norm(bisector)
    image = lamp - 2 * ((lamp - glass) @ normal) * normal
    way = (glass - image) / np.linalg.norm(glass - image)
    hit = glass + (0 - glass[2]) / way[2] * way
    assert hit[:2] == pytest.approx(target[:2], abs=1e-6)
    places = np.array(ring.places)
    low, high = places.min(0), places.max(0)
    assert (low[:2] < target[:2]).all() and (target[:2] < high[:2]).all()
    to = places - image
    to /= np.linalg.norm(to, axis=1, keepdims=True)
    # No place of it is farther off the axis than the beam, or past the mirror's edge.
    axis = (glass - image) / np.linalg.norm(glass - image)
    assert np.degrees(np.arccos(np.clip(to @ axis, -1, 1))).max() < 12.2


def test_through_a_window_it_is_cut_by_the_windows_edges():
    hole = {"id": "w", "name": "w", "wall": "east", "along": 3.5, "up": 1.5, "size": [0.6, 0.6]}
    made = scene(
        {"position": [8, 3.5, 2.5], "aim": [6, 3.5, 1.5], "ies": beam(5000, 35)},
        openings=[hole],
        sky=NIGHT,
    )
    (ring,) = landing(made, "k").rings
    places = np.array(ring.places)
    assert (places[:, 0] < 6).all()
    # Traced back to the lamp every ray passes the pane within its edges, and along them.
    lamp = np.array([8, 3.5, 2.5])
    t = (6 - lamp[0]) / (places[:, 0] - lamp[0])
    at = lamp + t[:, None] * (places - lamp)
    off = np.maximum(np.abs(at[:, 1] - 3.5), np.abs(at[:, 2] - 1.5))
    assert off.max() < 0.305 and off.min() > 0.29


def test_a_soft_panel_has_no_outline_and_a_beam_past_the_window_none():
    assert (
        landing(
            scene({"head": "panel-small", "ies": None, "position": [3, 3, 2], "aim": [3, 3, 0.1]}),
            "k",
        ).rings
        == ()
    )
    hole = {"id": "w", "name": "w", "wall": "east", "along": 1, "up": 1.5, "size": [0.6, 0.6]}
    past = scene({"position": [8, 6, 2], "aim": [6, 6, 1.5]}, openings=[hole], sky=NIGHT)
    assert landing(past, "k").rings == ()
    with pytest.raises(KeyError):
        landing(past, "nobody")


def test_the_frame_shows_what_it_can_see_of_it():
    lit = scene({"position": [1.2, 2.5, 2.8], "aim": [1.2, 2.0, 0], "ies": beam(5000, 6)})
    (ring,) = landing(lit, "k").rings
    assert all(place is None or (0 <= place[0] <= 1 and 0 <= place[1] <= 1) for place in ring.frame)
    table = {"id": "t", "name": "t", "position": [1.1, 4, 0], "size": [1.5, 0.2, 2.6]}
    hidden = landing(lit.model_validate({**lit.model_dump(), "furniture": [table]}), "k").rings[0]
    assert sum(place is not None for place in hidden.frame) < sum(
        place is not None for place in ring.frame
    ) or all(place is None for place in hidden.frame)


def test_through_a_sheer_it_lands_on_the_cloth_and_behind_it():
    hole = {"id": "w", "name": "w", "wall": "east", "along": 3.5, "up": 1.5, "size": [0.6, 0.6]}
    lamp = {"position": [8, 3.5, 2.5], "aim": [6, 3.5, 1.5], "ies": beam(5000, 35)}

    def on(cover):
        made = scene(lamp, openings=[{**hole, "cover": cover}], sky=NIGHT)
        return [ring.on for ring in landing(made, "k").rings]

    assert on("clear") == ["the floor"] or len(on("clear")) == 1
    assert on("voile") == [*on("clear"), "'w'"]
    assert on("muslin-bleached") == ["'w'"]
