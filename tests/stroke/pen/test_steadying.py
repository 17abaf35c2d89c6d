"""A steadied hand, and recorded strokes."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.stroke.pen.samples import PenSample
from japanner.stroke.pen.steadying import Steady, assisted
from japanner.stroke.pen.traces import TRACES, trace

coordinate = st.floats(-500, 500)
ways = st.lists(st.tuples(coordinate, coordinate), min_size=1, max_size=30)


def samples(points, step_ms=8.0):
    return [PenSample(x, y, 0.7, time_ms=i * step_ms) for i, (x, y) in enumerate(points)]


@given(ways)
def test_without_lag_the_brush_is_the_pen(points):
    steady = Steady(0.0)
    assert steady.follow(samples(points)) == samples(points)
    assert steady.end() == []


# p += (1 - exp(-dt / tau)) (p_new - p): after tau a step is taken to .632121 (common practice).
def test_a_step_is_followed_at_the_rate_of_the_lag():
    steady = Steady(80.0)
    steady.follow([PenSample(0, 0, time_ms=0)])
    followed = steady.follow([PenSample(100, 0, time_ms=80.0)])
    assert followed[0].x == pytest.approx(63.2121, abs=1e-3)


@given(ways, st.floats(1, 600))
def test_the_brush_stays_within_the_way_and_catches_up(points, lag):
    steady = Steady(lag)
    followed = steady.follow(samples(points)) + steady.end()
    xs, ys = np.array([s[:2] for s in followed]).T
    given_x, given_y = np.array(points).T
    assert given_x.min() - 1e-6 <= xs.min()
    assert xs.max() <= given_x.max() + 1e-6
    assert math.hypot(xs[-1] - given_x[-1], ys[-1] - given_y[-1]) < 4.01
    steps = np.hypot(np.diff(xs), np.diff(ys))
    assert steps.max(initial=0) <= np.hypot(np.diff(given_x), np.diff(given_y)).sum() + 1e-6


def test_lag_takes_the_tremor_out():
    rng = np.random.default_rng(1)
    x = np.linspace(0, 600, 200)
    shaken = samples(zip(x, rng.normal(0, 3, 200), strict=True))
    steady = Steady(60.0)
    left = np.std([s.y for s in steady.follow(shaken)][40:])
    assert left < 0.4 * 3


@given(ways)
def test_a_straight_stroke_is_straight_and_goes_forward(points):
    moved = assisted(samples(points), "straight")
    assert len(moved) == len(points)
    if len(points) > 1:
        way = np.array([s[:2] for s in moved]) - points[0]
        whole = np.array(points[-1]) - points[0]
        assert np.abs(way[:, 0] * whole[1] - way[:, 1] * whole[0]).max() < 1e-6 * max(float(whole @ whole), 1)
        assert (np.diff(way @ whole) >= -1e-6).all()


@pytest.mark.parametrize("turn", [0, 30, 75])
@pytest.mark.parametrize("span", [1.0, 0.97, 0.6])
def test_an_ellipse_is_found_and_closed(turn, span):
    """Least squares (Fitzgibbon, Pilu & Fisher 1999): a drawn ellipse with a tremor of 2 px gives its own axes back."""
    rng = np.random.default_rng(2)
    t = np.linspace(0.3, 0.3 + 2 * np.pi * span, 120)
    ring = np.stack((160 * np.cos(t), 70 * np.sin(t)), axis=1)
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    drawn = ring @ np.array(((c, s), (-s, c))) + (300, 200) + rng.normal(0, 2, (120, 2))
    moved = np.array([one[:2] for one in assisted(samples(drawn), "ellipse")]) - (300, 200)
    back = moved @ np.array(((c, -s), (s, c)))
    assert np.abs((back[:, 0] / 160) ** 2 + (back[:, 1] / 70) ** 2 - 1).max() < (0.08 if span > 0.9 else 0.2)
    if span > 0.9:
        assert np.hypot(*(back[0] - back[-1])) < 3
    assert [one.pressure for one in assisted(samples(drawn), "ellipse")] == [0.7] * 120


@given(ways)
def test_what_fits_no_ellipse_is_left_or_sound(points):
    moved = assisted(samples(points), "ellipse")
    assert len(moved) == len(points)
    assert np.isfinite([one[:2] for one in moved]).all()


def test_an_unknown_assist_is_refused():
    with pytest.raises(InputError, match="assist"):
        assisted(samples([(0, 0), (1, 1)]), "wobbly")
    with pytest.raises(InputError, match="lag_ms"):
        Steady(9000)


@pytest.mark.parametrize("name", list(TRACES))
def test_traces_are_strokes_of_a_hand(name):
    found = trace(name)
    xs, ys, pressures = np.array([s[:3] for s in found]).T
    assert 0.5 < np.ptp(xs) < 1.3
    assert np.ptp(ys) < 1.2
    assert pressures.min() > 0
    assert pressures.max() <= 1
    assert [s.time_ms for s in found] == sorted(s.time_ms for s in found)
    assert trace(name) is found
