"""Optics against closed forms and worked values."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from japanner.light import optics
from japanner.light.shading import fresnel


# Snell's law and Fresnel's equations, n = 1.5 (Born & Wolf): 4.0 % straight on, Brewster's angle 56.3099 degrees.
def test_straight_on_and_at_brewsters_angle():
    assert float(fresnel(1.0, 1.5)) == pytest.approx(0.04, abs=1e-12)
    angle = optics.brewster_deg(1.5)
    assert angle == pytest.approx(56.3099, abs=1e-4)
    assert float(fresnel(np.cos(np.radians(angle)), 1.5)) == pytest.approx(0.073964, abs=1e-6)
    # There, what is mirrored and what goes in are at right angles.
    assert angle + float(np.degrees(optics.snell(np.radians(angle), 1.5))) == pytest.approx(90, abs=1e-9)


@settings(max_examples=20, deadline=None)
@given(st.floats(0, 89), st.floats(1.05, 2.5), st.floats(0, 360))
def test_refraction_keeps_to_its_plane_and_to_snell(angle, index, turn):
    theta, phi = np.radians(angle), np.radians(turn)
    incoming = np.array((np.sin(theta) * np.cos(phi), np.sin(theta) * np.sin(phi), -np.cos(theta)))
    out = optics.refracted(incoming, np.array((0.0, 0.0, 1.0)), 1 / index)
    assert np.linalg.norm(out) == pytest.approx(1)
    assert np.hypot(out[0], out[1]) == pytest.approx(np.sin(theta) / index, abs=1e-9)
    assert out[0] * incoming[1] == pytest.approx(out[1] * incoming[0], abs=1e-9)


# n D / (4 (n - 1)), paraxial: 0.75 D for n = 1.5, 1.0076 D for water, on the surface for n = 2.
def test_the_focal_length_of_a_ball_lens_and_a_traced_ray():
    assert optics.focal_length(1, 1.5) == pytest.approx(0.75)
    assert optics.focal_length(1, 1.33) == pytest.approx(1.0076, abs=1e-4)
    assert optics.focal_length(1, 2.0) == pytest.approx(0.5)
    for height, wanted in ((0.001, 0.75), (0.1, 0.741616), (0.25, 0.695786), (0.4, 0.600141)):
        deviation = float(optics.ball_deviation(2 * height, 1.5))
        theta = np.arcsin(2 * height)
        # It leaves the ball at a height of sin(theta - deviation) / 2 and crosses the axis further on.
        out = np.sin(theta - deviation) / 2
        found = np.cos(theta - deviation) / 2 + out / np.tan(deviation)
        assert found == pytest.approx(wanted, abs=2e-5)


def test_how_far_a_ball_turns_rays_and_lets_light_through():
    # rho: deviation in degrees, n = 1.5 (geometry).
    for rho, degrees in ((0.5, 21.058), (0.8, 41.798), (0.9, 54.576), (0.95, 65.017), (0.99, 81.181)):
        assert np.degrees(optics.ball_deviation(rho, 1.5)) == pytest.approx(degrees, abs=1e-3)
    for rho, share in ((0.5, 0.918679), (0.9, 0.784746), (0.95, 0.646159), (0.99, 0.292343)):
        assert optics.ball_transmission(rho, 1.5) == pytest.approx(share, abs=1e-6)
    for rho, share in ((0.0, 0.4608), (0.7071, 0.489491), (0.9, 0.450718), (0.99, 0.173676)):
        assert optics.ball_transmission(rho, 1.5, 0.5) == pytest.approx(share, abs=1e-5)


# Beer-Lambert, straight ray: 1 - (1 - a)^(1 / cos).
@pytest.mark.parametrize(
    ("straight", "angle", "opacity"),
    [(0.2, 30, 0.227145), (0.2, 45, 0.270629), (0.2, 60, 0.36), (0.2, 75, 0.577751), (0.2, 85, 0.922717),
     (0.1, 60, 0.19), (0.5, 60, 0.75)],
)  # fmt: skip
def test_a_film_is_denser_seen_aslant(straight, angle, opacity):
    assert optics.film_opacity(straight, np.cos(np.radians(angle))) == pytest.approx(opacity, abs=1e-6)


def test_a_film_that_bends_light_and_a_hollow_shell():
    for angle, opacity in ((30, 0.214008), (60, 0.254735), (85, 0.285945)):
        assert optics.film_opacity(0.2, np.cos(np.radians(angle)), 1.33) == pytest.approx(opacity, abs=1e-6)
    for rho, one in ((0.5, 0.114550), (0.9, 0.214720), (0.95, 0.286390)):
        assert optics.film_opacity(0.1, optics.shell_cosine(rho)) == pytest.approx(one, abs=5e-6)
    assert optics.shell_opacity(0.1, 0.0) == pytest.approx(0.19)
    assert optics.shell_opacity(0.1, 0.95) == pytest.approx(0.490770, abs=5e-6)
    # The longest way through a wall: sqrt(2 / d - 1) of it.
    assert optics.shell_opacity(0.1, 1.0, 0.1) == pytest.approx(1 - 0.9 ** (2 * 4.3589), abs=1e-5)


# --- the eye ----------------------------------------------------------------------------------------------


# Mirror law on a ball of 7.8 mm: offset from the axis R sin(phi / 2).
@pytest.mark.parametrize(("phi", "offset"), [(30, 2.0188), (60, 3.9), (80, 5.0137), (90, 5.5154)])
def test_where_the_catch_light_is(phi, offset):
    light = np.array((np.sin(np.radians(phi)), 0, np.cos(np.radians(phi))))
    assert optics.catch_light(light)[0] == pytest.approx(offset, abs=1e-4)


def test_the_catch_light_of_a_worked_case_and_a_window():
    spot = optics.catch_light(np.array((-1, 1, 2)) / np.sqrt(6))
    assert spot[:2] == pytest.approx((-1.6707, 1.6707), abs=1e-4)
    for degrees, width in ((20, 1.360), (40, 2.709)):
        assert optics.window_width(degrees) == pytest.approx(width, abs=2e-3)


def test_the_iris_seems_nearer_and_larger_than_it_is():
    depth, larger = optics.seen_depth(3.6)
    assert depth == pytest.approx(3.0485, abs=1e-4)
    assert larger == pytest.approx(1.1313, abs=1e-4)


# Irradiance 2.25 mm from the middle, far side over the side of the light (ray trace with Fresnel loss, 3 %).
@pytest.mark.parametrize(
    ("phi", "far", "near"), [(30, 1.168, 1.046), (45, 1.094, 0.893), (60, 1.007, 0.702), (75, 0.890, 0.480)]
)
def test_the_far_side_of_the_iris_is_the_brighter_one(phi, far, near):
    across = 61
    grid = ndimage.gaussian_filter(optics.iris_irradiance(phi, across, rays=900), 1.2)
    middle, cell = across // 2, 2 * optics.CORNEA["iris"] / across
    off = 2.25 / cell
    there, here = ndimage.map_coordinates(grid, ((middle, middle), (middle - off, middle + off)), order=1)
    assert there == pytest.approx(far, rel=0.03)
    assert here == pytest.approx(near, rel=0.03)
    assert there / here == pytest.approx(far / near, rel=0.04)
