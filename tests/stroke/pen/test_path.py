"""Splines and spacing against published geometry and SciPy."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline

from japanner.errors import InputError
from japanner.stroke.pen.path import DabPath, catmull_rom
from japanner.stroke.pen.samples import PenSample

SQUARE = ((0, 0), (0, 1), (4, 1), (4, 0))
STAIRS = ((0, 0), (1, 0), (2, 1), (6, 1))


def all_dabs(points, step, pressures=None):
    path = DabPath(lambda pressure: step)
    pressures = pressures or [1.0] * len(points)
    pieces = [path.add(PenSample(x, y, p)) for (x, y), p in zip(points, pressures, strict=True)]
    return np.concatenate([*pieces, path.end()])


# Barry & Goldman (1988), centripetal knots 0, 1, 3, 4 and 0, 1, 1 + 2^(1/4), ...
@pytest.mark.parametrize(
    ("points", "u", "expected"),
    [
        (SQUARE, 0.25, (0.75, 1.25)),
        (SQUARE, 0.5, (2, 4 / 3)),
        (STAIRS, 0.25, (1.240360, 0.191090)),
        (STAIRS, 0.5, (1.448599, 0.478709)),
        (STAIRS, 0.75, (1.682538, 0.776974)),
    ],
)
def test_centripetal_spline(points, u, expected):
    assert catmull_rom(points, np.array([u]))[0] == pytest.approx(expected, abs=1e-6)


def test_uniform_spline():
    assert catmull_rom(SQUARE, np.array([0.5]), alpha=0)[0] == pytest.approx((2, 1.125))


@given(st.lists(st.tuples(st.floats(-100, 100), st.floats(-100, 100)), min_size=4, max_size=4))
def test_spline_agrees_with_scipy(points):
    p = np.array(points)
    gaps = np.hypot(*np.diff(p, axis=0).T)
    if gaps.min() < 0.1:
        return
    t = np.concatenate(([0], np.cumsum(gaps**0.5)))
    # Tangents of the non-uniform Catmull-Rom spline.
    tangents = [
        (p[i] - p[i - 1]) / (t[i] - t[i - 1])
        - (p[i + 1] - p[i - 1]) / (t[i + 1] - t[i - 1])
        + (p[i + 1] - p[i]) / (t[i + 1] - t[i])
        for i in (1, 2)
    ]
    u = np.linspace(0, 1, 9)
    expected = CubicHermiteSpline(t[1:3], p[1:3], tangents)(t[1] + (t[2] - t[1]) * u)
    assert np.allclose(catmull_rom(points, u), expected, atol=1e-7)


def test_a_repeated_point_is_mirrored():
    line = catmull_rom(((0, 0), (0, 0), (10, 0), (10, 0)), np.linspace(0, 1, 5))
    assert np.allclose(line, [[0, 0], [2.5, 0], [5, 0], [7.5, 0], [10, 0]])


def test_bad_points_are_named():
    with pytest.raises(InputError, match="points: expected four points"):
        catmull_rom(((0, 0), (1, 1)), np.array([0.5]))
    with pytest.raises(InputError, match="points: expected the second and third to differ"):
        catmull_rom(((0, 0), (1, 1), (1, 1), (2, 2)), np.array([0.5]))


# Arc-length resampling, remainder carried over: a polyline of 7 + 8 px at step 5.
def test_remainders_are_carried_over_a_sample():
    dabs = all_dabs([(0, 0), (7, 0), (15, 0)], 5)
    assert dabs[:, 0] == pytest.approx([0, 5, 10, 15], abs=1e-9)


# A circle of radius 100 through 12 points: the spline is .99910 of its length.
def test_spacing_on_a_circle():
    angles = np.radians(np.arange(-30, 420, 30))
    dabs = all_dabs([(100 * np.cos(a), 100 * np.sin(a)) for a in angles], 5)
    inner = dabs[20:-20]
    assert np.hypot(inner[:, 0], inner[:, 1]) == pytest.approx(np.full(len(inner), 100), abs=0.18)
    gaps = np.hypot(*np.diff(inner[:, :2], axis=0).T)
    assert gaps.min() > 4.98
    assert gaps.max() < 5.001


@given(
    st.lists(st.tuples(st.floats(0, 500), st.floats(0, 500)), min_size=1, max_size=12),
    st.floats(0.5, 40),
    st.lists(st.floats(0, 1), min_size=12, max_size=12),
)
def test_dabs_lie_a_step_apart_and_hold_the_pressure(points, step, pressures):
    dabs = all_dabs(points, step, pressures[: len(points)])
    assert np.isfinite(dabs).all()
    assert len(dabs) >= 1
    assert dabs[0, :2] == pytest.approx(points[0])
    assert dabs[:, 2].min() >= min(pressures) - 1e-9
    assert dabs[:, 2].max() <= max(pressures) + 1e-9
    gaps = np.hypot(*np.diff(dabs[:, :2], axis=0).T)
    assert (gaps <= step + 1e-6).all()


def test_a_growing_tip_lays_its_dabs_further_apart():
    path = DabPath(lambda pen: 2 + 8 * pen[0])
    pieces = [path.add(PenSample(x, 0, x / 200)) for x in (0, 100, 200)]
    gaps = np.diff(np.concatenate([*pieces, path.end()])[:, 0])
    assert (np.diff(gaps) > 0).all()
    assert gaps[0] == pytest.approx(2, abs=0.1)
    assert gaps[-1] == pytest.approx(10, abs=0.5)


def test_a_resting_pen_lays_more_only_when_pressed_harder():
    path = DabPath(lambda pressure: 5)
    path.add(PenSample(10, 10, 0.3))
    assert len(path.add(PenSample(10, 10, 0.305))) == 0
    assert path.add(PenSample(10, 10, 0.5))[:, :3].tolist() == [[10, 10, 0.5]]
    assert len(path.add(PenSample(10, 10, 0.2))) == 0
