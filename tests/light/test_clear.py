"""Balls and shells of glass against an independent trace through circles, and published lenses."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.light.clear import caustic, through_ball, through_shell
from japanner.light.optics import ball_deviation, focal_length


def bent(way, normal, ratio):
    """Snell's law in vectors; None where all is thrown back."""
    cosine = -(way @ normal)
    k = 1 - ratio**2 * (1 - cosine**2)
    return None if k < 0 else ratio * way + (ratio * cosine - np.sqrt(k)) * normal


def met(place, way, radius):
    """How far on a ray crosses a circle; None if it does not."""
    b = place @ way
    q = b * b - (place @ place - radius**2)
    ways = [one for one in (-b - np.sqrt(max(q, 0)), -b + np.sqrt(max(q, 0))) if one > 1e-9]
    return min(ways) if q >= 0 and ways else None


def traced(rho, index, wall):
    """Way in glass, turn in degrees and height at the end of a ray that comes along x and meets a shell at rho."""
    inner, place = 1 - wall, np.array([-np.sqrt(1 - rho**2), rho])
    way, long, in_glass = bent(np.array([1.0, 0.0]), place, 1 / index), 0.0, True
    for _ in range(8):
        if not in_glass:
            place = place + way * met(place, way, inner)
            way, in_glass = bent(way, -place / inner, 1 / index), True
            continue
        to_cavity, to_end = met(place, way, inner), met(place, way, 1.0)
        if to_cavity is None or to_cavity > to_end:
            place, long = place + way * to_end, long + to_end
            return long, np.degrees(np.arctan2(-bent(way, -place, index)[1], bent(way, -place, index)[0])), place[1]
        place, long = place + way * to_cavity, long + to_cavity
        normal = place / inner
        through = bent(way, normal, index)
        way, in_glass = (way - 2 * (way @ normal) * normal, True) if through is None else (through, False)
    raise AssertionError("it does not come out")


@given(st.floats(0.01, 0.985), st.sampled_from((1.33, 1.5, 1.7)), st.floats(0.02, 0.6))
def test_a_shell_turns_light_as_a_trace_through_circles_says(rho, index, wall):
    if abs(rho - (1 - wall)) < 0.004 or abs(rho / index - (1 - wall)) < 0.004:
        return  # on the very edge of the cavity the two may disagree on which side
    long, turn, out = traced(rho, index, wall)
    found = through_shell(rho, index, wall)
    assert float(found.way) == pytest.approx(long, abs=1e-6)
    assert np.degrees(float(found.turn)) == pytest.approx(turn, abs=1e-4)
    assert float(found.out) == pytest.approx(out, abs=1e-6)


@given(st.floats(0.0, 0.99), st.sampled_from((1.33, 1.5, 2.0)))
def test_a_ball_turns_light_as_the_formula_says_and_leaves_on_the_far_side(rho, index):
    found = through_ball(rho, index)
    assert float(found.turn) == pytest.approx(float(ball_deviation(rho, index)), abs=1e-9)
    # The place where it leaves, by a trace through one circle (a shell without a cavity to speak of).
    start, way = np.array([-np.sqrt(1 - rho**2), rho]), None
    way = bent(np.array([1.0, 0.0]), start, 1 / index)
    end = start + way * (met(start, way, 1.0) or 0)
    assert float(found.out) == pytest.approx(end[1], abs=1e-6)
    assert float(found.way) == pytest.approx(np.linalg.norm(end - start), abs=1e-6)
    assert 0 <= float(found.share) <= 1


def test_rays_near_the_axis_of_a_ball_meet_in_its_focus():
    """The ball lens: n D / (4 (n - 1)) from the middle (paraxial optics)."""
    found = through_ball(0.01, 1.5)
    height, turn = float(found.out), float(found.turn)
    place = np.sqrt(1 - height**2)  # where it leaves, along the axis
    crosses = place + 0.0 if turn == 0 else place + height / np.tan(turn)
    assert crosses == pytest.approx(focal_length(2.0, 1.5), rel=2e-3)


def test_the_light_of_a_ball_gathers_within_its_focal_cone():
    """From straight above, on the floor: inside the circle that its shadow would fill, and far brighter than beside."""
    rho = np.linspace(0, 1, 401)
    found = caustic(through_ball(rho, 1.5), rho, 90.0)
    gathered = found.gathered[0]
    y, x = np.indices(gathered.shape)
    away = np.hypot(found.top + (y + 0.5) * found.step, found.left + (x + 0.5) * found.step)
    cell = found.step**2
    whole = float(gathered.sum()) * cell
    # What is thrown back at both faces is lost: the mean of the shares over the disc.
    share = through_ball(rho, 1.5).share
    expected = np.pi * float(np.trapezoid(share * 2 * rho, rho))
    assert whole == pytest.approx(expected, rel=0.03)
    # A marginal ray that is turned by 80 degrees lands outside; nine tenths of the light come down within half of it.
    assert float(gathered[away < 0.5].sum()) * cell > 0.85 * whole
    assert float(gathered.max()) > 8
    assert float(found.shade.sum()) * cell == pytest.approx(np.pi, rel=0.02)


@pytest.mark.parametrize("elevation", [25.0, 45.0, 70.0])
def test_a_shadow_grows_longer_the_lower_the_light_is(elevation):
    rho = np.linspace(0, 1, 401)
    found = caustic(through_ball(rho, 1.5), rho, elevation, reach=8.0)
    # The shadow of a ball of radius 1: an ellipse 2 wide and 2 / sin(elevation) long, its middle 1 / tan on.
    rows = np.flatnonzero(found.shade.max(axis=1) > 0.5)
    long = (rows[-1] - rows[0] + 1) * found.step
    middle = found.top + (rows[0] + rows[-1] + 1) / 2 * found.step
    assert long == pytest.approx(2 / np.sin(np.radians(elevation)), rel=0.03)
    assert middle == pytest.approx(1 / np.tan(np.radians(elevation)), abs=0.05)


def test_coloured_glass_lets_less_through_the_longer_the_way():
    """Beer-Lambert: a way of two radii through the middle leaves the square of what one leaves."""
    rho = np.linspace(0, 1, 401)
    clear, tinted = (caustic(through_ball(rho, 1.5), rho, 90.0, clear=(c,)).gathered.sum() for c in (1.0, 0.7))
    assert 0.7**2 * clear < tinted < 0.7**1.5 * clear
