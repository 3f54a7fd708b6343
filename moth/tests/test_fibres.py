"""Light on hair, against a cylinder of glass that is traced here, and against its own books."""

import numpy as np
import pytest
from numba import njit

from moth.transport.fibres import (
    BACK,
    BACKWARD,
    CHORD,
    FORWARD,
    INDEX,
    MIRRORED,
    THROUGH,
    TILT,
    fibre,
    mass,
    strand_colours,
)


def _cylinder():
    """A clear cylinder lit square to its axis, 200,000 rays across: place, angles in and within,
    what its surface mirrors at each (Fresnel).
    """
    across = (np.arange(200_000) + 0.5) / 100_000 - 1
    outer, inner = np.arcsin(across), np.arcsin(across / INDEX)
    a, b = np.cos(outer), np.cos(inner)
    mirrored = ((a - INDEX * b) / (a + INDEX * b)) ** 2 + ((INDEX * a - b) / (INDEX * a + b)) ** 2
    return outer, inner, mirrored / 2


def _mean_of(concentration):
    """Mean cosine of a von Mises lobe, by summing it."""
    turn = np.linspace(0, np.pi, 20_001)
    lobe = np.exp(concentration * (np.cos(turn) - 1))
    return (lobe * np.cos(turn)).sum() / lobe.sum()


def test_shares_and_widths_are_those_of_a_traced_cylinder():
    outer, inner, mirrored = _cylinder()
    through, back = (1 - mirrored) ** 2, (1 - mirrored) ** 2 * mirrored
    assert through.mean() == pytest.approx(THROUGH, rel=0.005)
    assert back.mean() == pytest.approx(BACK, rel=0.01)
    assert (2 * np.cos(inner)).mean() == pytest.approx(CHORD, rel=0.002)
    # Turned against straight back: by half a turn for what passes, and once more for what comes
    # back.
    for times, share, lobe in ((1, through, -_mean_of(FORWARD)), (2, back, _mean_of(BACKWARD))):
        turned = 2 * times * inner - 2 * outer + times * np.pi
        mean = (share * np.cos(turned)).sum() / share.sum()
        assert mean == pytest.approx(lobe, abs=0.005)


@njit
def _over(rows, along, eye):
    """Each of the three parts, summed over directions of light."""
    a, b, c = 0.0, 0.0, 0.0
    for k in range(len(rows)):
        mirrored, through, back = fibre(along, eye, (rows[k, 0], rows[k, 1], rows[k, 2]))
        a, b, c = a + mirrored, b + through, c + back
    return a, b, c


def _sphere(count):
    """Unit vectors that fill the sphere evenly (n, 3)."""
    z = (np.arange(count) + 0.5) / count * 2 - 1
    turn = np.arange(count) * np.pi * (3 - 5**0.5)
    r = np.sqrt(1 - z * z)
    return np.stack([r * np.cos(turn), r * np.sin(turn), z], 1)


@pytest.mark.parametrize("tilt", [0, 20, 45, -35, 60])
def test_a_clear_fibre_loses_no_light_and_makes_none(tilt):
    eye = (np.cos(np.radians(tilt)), 0.0, np.sin(np.radians(tilt)))
    rows = _sphere(200_000)
    found = np.array(_over(rows, (0.0, 0.0, 1.0), eye)) * 4 * np.pi / len(rows)
    # The scales lean over: light of a lobe lies as much steeper or flatter on the fibre.
    shift = np.array([2, -1, -3]) * np.degrees(TILT)
    lean = np.sqrt(np.cos(np.radians(shift - tilt)) / np.cos(np.radians(tilt)))
    assert found[1:] / lean[1:] == pytest.approx([THROUGH, BACK], rel=0.08)
    # Schlick's mirror is a little dimmer than Fresnel's; the wide lobe is cut where it grazes.
    assert found[0] / lean[0] == pytest.approx(_cylinder()[2].mean(), rel=0.15)
    assert found.sum() < 1.1


def test_the_surface_mirrors_around_a_cylinder_as_a_cylinder_does():
    # Square to the axis, light turned by an angle lands where a strip of the surface half as far
    # turned sends it.
    along, eye = (0.0, 0.0, 1.0), (1.0, 0.0, 0.0)
    for degrees in (10, 60, 120, 170):
        turn = np.radians(degrees)
        here = fibre(along, eye, (np.cos(turn), np.sin(turn), 0.0))[0]
        straight = fibre(along, eye, eye)[0]
        fresnel = MIRRORED + (1 - MIRRORED) * (1 - np.cos(turn / 2)) ** 5
        assert here / straight == pytest.approx(np.cos(turn / 2) * fresnel / MIRRORED, rel=1e-6)


def _drawn(seed):
    """Hair that lies any way on a surface, eye and light over it: unit triples."""
    rng = np.random.default_rng(seed)
    normal = np.array([0.0, 0.0, 1.0])
    eye, light = (k / np.linalg.norm(k) for k in rng.normal(size=(2, 3)))
    turn, lean = rng.uniform(0, 2 * np.pi), rng.uniform(-0.5, 0.5)
    along = np.array([np.cos(turn) * np.cos(lean), np.sin(turn) * np.cos(lean), np.sin(lean)])
    return along, normal, np.abs(eye), np.abs(light)


@pytest.mark.parametrize("seed", range(40))
def test_a_mass_of_hair_is_the_same_both_ways(seed):
    along, normal, eye, light = map(tuple, _drawn(seed))
    assert mass(along, normal, eye, light) == pytest.approx(mass(along, normal, light, eye))


@njit
def _sent(rows, along, normal, light):
    """What the mass sends over the half of all directions before it, its parts apart."""
    a, b, c = 0.0, 0.0, 0.0
    for k in range(len(rows)):
        eye = (rows[k, 0], rows[k, 1], rows[k, 2])
        up = eye[0] * normal[0] + eye[1] * normal[1] + eye[2] * normal[2]
        if up > 0:
            mirrored, through, back = mass(along, normal, eye, light)
            a, b, c = a + up * mirrored, b + up * through, c + up * back
    return a, b, c


@pytest.mark.parametrize("seed", range(30))
def test_a_mass_of_any_colour_never_sends_more_than_falls_on_it(seed):
    along, normal, _, light = map(tuple, _drawn(seed))
    rows = _sphere(60_000)
    parts = np.array(_sent(rows, along, normal, light)) * 4 * np.pi / len(rows)
    for albedo in np.random.default_rng(seed).uniform(0.005, 0.9, 4):
        once, twice = (float(k[0, 0]) for k in strand_colours(np.full((1, 3), albedo)))
        assert albedo + parts[0] + once * parts[1] + twice * parts[2] < 1.0


def test_light_from_behind_comes_through_fair_hair_more_than_through_black():
    along, normal = (0.0, 0.0, -1.0), (1.0, 0.0, 0.0)
    eye, behind, before = (0.05, 1.0, 0.0), (0.3, -0.95, 0.0), (0.3, 0.95, 0.0)
    eye, behind, before = (tuple(np.array(k) / np.linalg.norm(k)) for k in (eye, behind, before))
    tones = [0.012, 0.04, 0.11, 0.32, 0.55]
    rim = []
    for tone in tones:
        once, twice = (float(k[0, 0]) for k in strand_colours(np.full((1, 3), tone)))
        mirrored, through, back = mass(along, normal, eye, behind)
        rim.append(tone / np.pi + mirrored + once * through + twice * back)
        front = mass(along, normal, eye, before)
        assert once * through > 20 * once * front[1]
    # From red hair on as much passes as can.
    assert rim[0] < rim[1] < rim[2] and rim[3:] == pytest.approx([rim[2]] * 2, rel=0.25)
    # Black hair needs two stops more: its rim is mirrored light and what little passes.
    assert rim[2] / rim[0] > 4
