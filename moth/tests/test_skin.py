"""Light under the skin, on flat skin before a lens, against the profile integrated apart."""

from types import SimpleNamespace

import numpy as np
import pytest
from scipy.integrate import quad

from moth.materials import FINISHES
from moth.transport.skin import profile_lengths, under_skin

SKIN = next(i for i, f in enumerate(FINISHES) if f.name == "skin")
ALBEDO = np.array([0.42, 0.27, 0.19])


def flat(pitch, wide=181, high=61, slant=1.0):
    """A picture of flat skin whose pixels are so wide [m], turned away from the lens."""
    x, y = np.meshgrid(np.arange(wide), np.arange(high))
    n = wide * high
    across = (x.ravel() - wide // 2) * pitch / slant
    lean = np.sqrt(1 - slant**2)
    normal = np.array([lean, 0.0, slant])
    # Along the skin a pixel covers more of it the more it is turned away.
    points = np.stack([across * slant, y.ravel() * pitch, -across * lean], 1)
    return SimpleNamespace(
        points=points,
        normals=np.tile(normal, (n, 1)),
        toward=np.tile([0.0, 0.0, 1.0], (n, 1)),
        finish=np.full(n, SKIN),
        body=np.ones(n, int),
        albedo=np.tile(ALBEDO, (n, 1)),
        reach=np.ones(n),
        pixel=np.arange(n),
        single=np.arange(n),
        size=(wide, high),
        spread=(pitch * wide / 2, pitch * high / 2),
    )


def edge(x, d):
    """Light at a distance x [m] into the shade of a straight edge: the profile over all beyond."""

    def line(u):
        # Across the line all of the profile that lies at this distance from it.
        def at(v):
            r = np.hypot(u, v)
            return (np.exp(-r / d) + np.exp(-r / (3 * d))) / (8 * np.pi * d * r)

        return 2 * quad(at, 0, 20 * d, points=[abs(u)], limit=200)[0]

    return quad(line, x, 25 * d, limit=200)[0]


@pytest.mark.parametrize("pitch", [0.3e-3, 0.7e-3, 1.3e-3])
@pytest.mark.parametrize("slant", [1.0, 0.6])
def test_the_edge_of_a_shadow_is_as_soft_as_the_profile_says(pitch, slant):
    view = flat(pitch, slant=slant)
    light = np.zeros((len(view.pixel), 3))
    column = view.pixel % view.size[0]
    middle = view.size[0] // 2
    light[column > middle] = 100.0
    under_skin(view, light)
    row = light.reshape(view.size[1], view.size[0], 3)[view.size[1] // 2]
    on_skin = pitch / slant
    for channel, d in enumerate(profile_lengths(ALBEDO)):
        for away in (0.8e-3, 1.5e-3, 3e-3, 6e-3):
            k = round(away / on_skin)
            # The edge lies between two pixels.
            wanted = 100 * edge((k + 0.5) * on_skin, d)
            assert row[middle - k, channel] == pytest.approx(wanted, abs=6.0)
            # What is lost in the light is what is won in the shade.
            assert row[middle - k, channel] + row[middle + 1 + k, channel] == pytest.approx(
                100, abs=1.0
            )


def test_red_goes_farther_than_blue():
    view = flat(0.5e-3)
    light = np.zeros((len(view.pixel), 3))
    light[view.pixel % view.size[0] > view.size[0] // 2] = 1.0
    under_skin(view, light)
    shade = light.reshape(view.size[1], view.size[0], 3)[30, view.size[0] // 2 - 4]
    assert shade[0] > 2 * shade[1] > 3 * shade[2] > 0


@pytest.mark.parametrize("seed", range(8))
def test_even_light_stays_and_no_light_is_made(seed):
    rng = np.random.default_rng(seed)
    view = flat(rng.uniform(0.2e-3, 2e-3), slant=rng.uniform(0.4, 1))
    even = np.full((len(view.pixel), 3), 40.0)
    under_skin(view, even)
    assert even == pytest.approx(40.0)
    spots = rng.random((len(view.pixel), 3)) * (rng.random((len(view.pixel), 1)) < 0.2)
    before = spots.reshape(view.size[1], view.size[0], 3)
    inner = slice(15, -15), slice(40, -40)
    total = before[inner].sum((0, 1))
    under_skin(view, spots)
    after = spots.reshape(view.size[1], view.size[0], 3)[inner].sum((0, 1))
    assert after == pytest.approx(total, rel=0.05)


def test_far_skin_and_other_things_are_left_alone():
    for change in ({"finish": np.zeros(61 * 181, int) + SKIN + 1}, {"reach": np.full(11041, 50.0)}):
        view = flat(0.5e-3)
        view.__dict__.update(change)
        light = np.random.default_rng(1).random((len(view.pixel), 3))
        kept = light.copy()
        under_skin(view, light)
        assert (light == kept).all()


def test_two_people_do_not_shine_into_each_other():
    view = flat(0.5e-3)
    view.body = np.where(view.pixel % view.size[0] > 90, 2, 1)
    light = np.where(view.body == 2, 1.0, 0.0)[:, None] * np.ones(3)
    under_skin(view, light)
    assert light[view.body == 1].max() == 0 and light[view.body == 2].min() == pytest.approx(1)
