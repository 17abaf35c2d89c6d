"""Shading against the published models: closed values, integrals, limits."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from japanner.light import shading

UP = np.array((0.0, 0.0, 1.0))


def at(angle_deg, azimuth_deg=0.0):
    """A direction off the z axis."""
    t, a = np.radians(angle_deg), np.radians(azimuth_deg)
    return np.stack((np.sin(t) * np.cos(a), np.sin(t) * np.sin(a), np.cos(t)), axis=-1)


def test_lamberts_cosine():
    assert shading.lambert(UP, at(np.array([0, 60, 90, 120]))) == pytest.approx([1, 0.5, 0, 0], abs=1e-12)


# Trowbridge & Reitz 1975 in the form of Walter et al. 2007; values recomputed with scipy.
@pytest.mark.parametrize(
    ("alpha", "straight", "at_15"), [(0.1, 31.83099, 0.546516), (0.25, 5.09296, 1.267138), (0.5, 1.27324, 0.882778)]
)
def test_ggx_and_its_half_height(alpha, straight, at_15):
    assert shading.ggx(1.0, alpha) == pytest.approx(straight, rel=1e-6)
    assert shading.ggx(np.cos(np.radians(15)), alpha) == pytest.approx(at_15, rel=1e-5)
    half = np.sqrt((1 - np.sqrt(2) * alpha**2) / (1 - alpha**2))
    assert shading.ggx(half, alpha) == pytest.approx(straight / 2, rel=1e-5)
    total, _ = quad(lambda t: shading.ggx(np.cos(t), alpha) * np.cos(t) * 2 * np.pi * np.sin(t), 0, np.pi / 2)
    assert total == pytest.approx(1, abs=1e-6)


def test_smiths_share_and_that_facets_add_up():
    cosines = np.cos(np.radians([45, 75, 85]))
    assert shading.smith(cosines, 0.5) == pytest.approx([0.944272, 0.641625, 0.294037], abs=1e-6)


# Fresnel's equations, in Born & Wolf; n 1.5 and water.
def test_fresnel():
    cosines = np.cos(np.radians([0, 45, 60, 75, 85]))
    assert shading.fresnel(cosines, 1.5) == pytest.approx([0.04, 0.050240, 0.089187, 0.253061, 0.612800], abs=1e-6)
    # At Brewster's angle the light along the plane is not thrown back, so half of the other is the mean.
    assert shading.fresnel(np.cos(np.arctan(1.5)), 1.5) == pytest.approx(0.073964, abs=1e-6)
    approximate = shading.fresnel_schlick(np.cos(np.radians([45, 60, 75, 85])), 0.04)
    assert approximate == pytest.approx([0.042069, 0.07, 0.254730, 0.648492], abs=1e-6)
    assert [shading.normal_reflectance(n) for n in (1.33, 1.4, 1.376, 2.42)] == pytest.approx(
        [0.020059, 0.027778, 0.025043, 0.172395], abs=1e-6
    )


# Liu & Jordan 1963: an isotropic sky on a tilted plane.
def test_sky_and_ground():
    tilts = np.radians([0, 45, 60, 90, 135, 180])
    n = np.stack((np.sin(tilts), np.cos(tilts), np.zeros(6)), axis=-1)
    assert shading.sky_share(n) == pytest.approx([1, 0.853553, 0.75, 0.5, 0.146447, 0], abs=1e-6)
    assert shading.sky_share(n) + shading.ground_share(n) == pytest.approx(np.ones(6))


@settings(max_examples=40, deadline=None)
@given(st.floats(0, 89), st.floats(0, 89), st.floats(0, 360), st.floats(0, 1.2))
def test_rough_diffuse_limits(light, view, azimuth, sigma):
    towards, v = at(light), at(view, azimuth)
    smooth = shading.oren_nayar(UP, towards, v, 0.0)
    assert smooth == pytest.approx(np.cos(np.radians(light)), abs=1e-9)
    rough = shading.oren_nayar(UP, towards, v, sigma)
    assert np.isfinite(rough)
    assert rough >= 0
    # Helmholtz: per cosine, light and viewer may change places (Oren & Nayar 1994).
    back = shading.oren_nayar(UP, v, towards, sigma)
    assert rough * np.cos(np.radians(view)) == pytest.approx(back * np.cos(np.radians(light)), abs=1e-9)


def test_a_rough_ball_is_flatter_than_lamberts():
    """The full moon shows no darker rim: seen from the light, rough surfaces hold their light outwards."""
    angles = np.array([0, 40, 70])
    rough = shading.oren_nayar(UP, at(angles), at(angles), 0.8)
    plain = np.cos(np.radians(angles))
    assert (rough / rough[0] > plain)[1:].all()


@settings(max_examples=30, deadline=None)
@given(st.floats(0.05, 1), st.floats(0, 80))
def test_a_mirror_never_sends_out_more_than_comes_in(alpha, angle):
    """White furnace: the lobe over all directions of the viewer, each weighted by its cosine, stays below 1."""
    t = np.radians(np.linspace(0.5, 89.5, 90))[:, None]
    a = np.radians(np.arange(0, 360, 4))[None]
    view = np.stack((np.sin(t) * np.cos(a), np.sin(t) * np.sin(a), np.cos(t) + 0 * a), axis=-1)
    sent = shading.ggx_specular(UP, at(angle), view, alpha, 1.0) * np.cos(t) * np.sin(t)
    total = sent.sum() * np.radians(1) * np.radians(4)
    assert 0.09 < total < 1.03


def test_skin_carries_red_past_the_shadow_edge():
    n = at(np.array([60, 90, 100, 130]))
    seen = shading.wrapped(n, UP, np.array((0.4, 0.15, 0.1)))
    assert seen[1, 0] > seen[1, 1] > seen[1, 2] > 0
    assert seen[2, 0] > 0 == seen[2, 2]
    assert (seen[3] == 0).all()
    total = quad(lambda t: shading.wrapped(at(np.degrees(t)), UP, 0.4) * np.sin(t), 0, np.pi)[0]
    assert total == pytest.approx(0.5, abs=1e-3)  # as much as Lambert's law


def test_the_edge_of_a_shadow():
    gaps = np.array([-0.1, -0.05, 0, 0.05, 0.1])
    share = shading.shadow_fraction(gaps, 1.0, 2 * np.degrees(np.arctan(0.1)))
    assert share == pytest.approx([0, 0.1955, 0.5, 0.8045, 1], abs=1e-3)  # circular segments
