"""Direct illuminance against closed forms (Modest, Radiative Heat Transfer, app. D; CIE S 017)."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from moth.photometry import from_function
from moth.photometry.catalogue import tube_pattern
from moth.transport import receive
from moth.transport.emitters import BALL, DISC, POINT, RECTANGLE, emitter_from

COSINE = from_function(lambda c, g: np.cos(np.radians(g)) * (g <= 90))
UP = np.array([[0.0, 0.0, 1.0]])


def lux(emitter, position, direction=UP[0], dome=False):
    return float(
        receive(None, emitter, np.array([position], float), np.array([direction], float), [dome])[0]
    )


def above(shape, size, height=1.0, distribution=COSINE):
    """Emitter of 1 cd peak looking straight down from a height."""
    return emitter_from(distribution, shape, size, (0, 0, height), (0, 0, 0))


@pytest.mark.parametrize("angle", [0, 30, 60, 80])
@pytest.mark.parametrize("distance", [0.5, 2.0, 7.0])
def test_point_source_falls_with_square_and_cosine(angle, distance):
    lamp = emitter_from(
        from_function(lambda c, g: 0 * g + 500.0, reach=180),
        POINT,
        (0, 0),
        (0, 0, distance),
        (0, 0, 0),
    )
    tilt = np.array([math.sin(math.radians(angle)), 0, math.cos(math.radians(angle))])
    assert lux(lamp, (0, 0, 0), tilt) == pytest.approx(
        500 / distance**2 * math.cos(math.radians(angle)), rel=1e-6
    )


@pytest.mark.parametrize("radius", [0.05, 0.3, 1.0, 3.0])
def test_disc_on_axis(radius):
    luminance = 1 / (math.pi * radius**2)
    expected = math.pi * luminance * radius**2 / (radius**2 + 1)
    assert lux(above(DISC, (2 * radius, 2 * radius)), (0, 0, 0)) == pytest.approx(
        expected, rel=0.005
    )


@pytest.mark.parametrize("width,height", [(0.3, 0.3), (1.2, 0.9), (0.2, 2.0), (3.0, 3.0)])
def test_rectangle_parallel_over_its_corner(width, height):
    x, y = width, height  # over the distance, 1 m
    factor = (
        x / math.sqrt(1 + x * x) * math.atan(y / math.sqrt(1 + x * x))
        + y / math.sqrt(1 + y * y) * math.atan(x / math.sqrt(1 + y * y))
    ) / (2 * math.pi)
    expected = math.pi / (width * height) * factor
    lamp = above(RECTANGLE, (width, height))
    right, up, _ = lamp.vectors
    corner = right * width / 2 + up * height / 2
    assert lux(lamp, (corner[0], corner[1], 0)) == pytest.approx(expected, rel=0.005)


def lambert_polygon(corners, position, normal):
    """Form factor integral of a polygon wholly above the receiver's horizon (Lambert 1760)."""
    v = corners - position
    v /= np.linalg.norm(v, axis=1, keepdims=True)
    total = np.zeros(3)
    for a, b in zip(v, np.roll(v, -1, axis=0), strict=True):
        cross = np.cross(a, b)
        total += cross / np.linalg.norm(cross) * math.acos(np.clip(a @ b, -1, 1))
    return abs(total @ normal) / 2


@settings(max_examples=60)
@given(
    st.floats(0.2, 1.5),
    st.floats(0.2, 1.5),
    st.floats(-1.5, 1.5),
    st.floats(-1.5, 1.5),
    st.floats(1.2, 3.0),
    st.floats(-0.4, 0.4),
    st.floats(-0.4, 0.4),
)
def test_rectangle_anywhere_matches_the_polygon_formula(
    width, height, x, y, distance, tilt_x, tilt_y
):
    lamp = above(RECTANGLE, (width, height), distance)
    right, up, _ = lamp.vectors
    corners = np.array(
        [
            [0, 0, distance] + i * right * width / 2 + j * up * height / 2
            for i, j in ((-1, -1), (1, -1), (1, 1), (-1, 1))
        ]
    )
    position, normal = np.array([x, y, 0.0]), np.array([tilt_x, tilt_y, 1.0])
    normal /= np.linalg.norm(normal)
    if ((corners - position) @ normal).min() < 0.05:
        return
    expected = lambert_polygon(corners, position, normal) / (width * height)
    assert lux(lamp, position, normal) == pytest.approx(expected, rel=0.005)


@pytest.mark.parametrize("length", [0.6, 1.2, 2.4])
def test_tube_over_its_middle(length):
    lamp = emitter_from(
        from_function(tube_pattern, reach=180, step=0.5, symmetric=False),
        RECTANGLE,
        (length, 0.0),
        (0, 0, 1),
        (0, 0, 0),
    )
    half = length / 2
    expected = (
        half / (1 + half**2) + math.atan(half)
    ) / length  # integral of d^2 / (d^2 + x^2)^2 at d = 1
    assert lux(lamp, (0, 0, 0)) == pytest.approx(expected, rel=0.005)


def test_ball_acts_from_its_middle():
    lamp = emitter_from(
        from_function(lambda c, g: 0 * g + 72.0, reach=180),
        BALL,
        (0.06, 0.06),
        (0, 0, 1.5),
        (0, 0, 0),
    )
    assert lux(lamp, (0, 0, 0)) == pytest.approx(72 / 1.5**2, rel=0.005)


@pytest.mark.parametrize("half_angle", [20, 45, 70, 80])
def test_dome_and_disc_under_an_even_sky(half_angle):
    """Uniform luminance within a cone: disc pi L sin^2, dome pi L ((1 - cos) + sin^2 / 2)."""
    radius = math.tan(math.radians(half_angle))
    lamp = above(DISC, (2 * radius, 2 * radius))
    luminance = 1 / (math.pi * radius**2)
    sin2, cos = math.sin(math.radians(half_angle)) ** 2, math.cos(math.radians(half_angle))
    assert lux(lamp, (0, 0, 0)) == pytest.approx(math.pi * luminance * sin2, rel=0.005)
    assert lux(lamp, (0, 0, 0), dome=True) == pytest.approx(
        math.pi * luminance * (1 - cos + sin2 / 2), rel=0.005
    )


@pytest.mark.parametrize("angle,dome", [(0, 1.0), (60, 0.75), (89.9, 0.5), (91, 0.0), (180, 0.0)])
def test_dome_response_to_one_direction(angle, dome):
    lamp = emitter_from(
        from_function(lambda c, g: 0 * g + 1.0, reach=180), POINT, (0, 0), (0, 0, 1), (0, 0, 0)
    )
    tilt = np.array([math.sin(math.radians(angle)), 0, math.cos(math.radians(angle))])
    assert lux(lamp, (0, 0, 0), tilt, dome=True) == pytest.approx(dome, abs=2e-3)
    assert lux(lamp, (0, 0, 0), tilt) == pytest.approx(
        max(math.cos(math.radians(angle)), 0), abs=1e-6
    )
