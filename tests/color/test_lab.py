"""CIE lightness, Lab and OKLab against published values and two libraries."""

from __future__ import annotations

import colour
import numpy as np
import pytest
import skimage.color
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import lab, oklab, srgb

RNG = np.random.default_rng(1)
COLOURS = RNG.random((400, 3))


# CIE 15: L* = 116 (Y)^(1/3) - 16 above (6/29)^3, else (29/3)^3 Y.
@pytest.mark.parametrize(
    ("luminance", "value"),
    [(0.001, 0.903296), (0.05, 26.734765), (0.18, 49.496108), (0.5, 76.069261), (0.72, 87.968590), (0, 0), (1, 100)],
)
def test_lightness_is_that_of_cie_15(luminance, value):
    assert lab.lightness(luminance) == pytest.approx(value, abs=1e-6)


@pytest.mark.parametrize(
    ("value", "luminance"), [(8, 0.00885645), (20, 0.02989052), (50, 0.18418652), (70, 0.40749416), (90, 0.76303354)]
)
def test_luminance_of_a_lightness(value, luminance):
    assert lab.luminance_from_lightness(value) == pytest.approx(luminance, abs=1e-8)


@given(st.floats(0, 1))
def test_lightness_and_back(luminance):
    assert lab.luminance_from_lightness(lab.lightness(luminance)) == pytest.approx(luminance, abs=1e-12)


# The nine-step grey scale as 8-bit codes: CIE 15 with IEC 61966-2-1.
def test_codes_of_the_nine_step_scale():
    expected = [27.46, 48.29, 70.63, 94.23, 118.91, 144.55, 171.05, 198.33, 226.33]
    codes = srgb.encode(lab.luminance_from_lightness(np.arange(10, 100, 10))) * 255
    assert codes == pytest.approx(expected, abs=0.01)


# CIE 15 with the white of the sRGB matrix; libraries round the white, hence the tolerance.
@pytest.mark.parametrize(
    ("rgb", "expected"),
    [
        ((1, 0, 0), (53.24, 80.09, 67.20)),
        ((0, 1, 0), (87.74, -86.18, 83.18)),
        ((0, 0, 1), (32.30, 79.19, -107.86)),
        ((0.5, 0.5, 0.5), (53.3890, 0, 0)),
        ((224 / 255, 172 / 255, 105 / 255), (73.79, 11.28, 41.53)),
    ],
)
def test_lab_of_known_colours(rgb, expected):
    assert lab.lab_from_srgb(rgb) == pytest.approx(expected, abs=0.03)


def test_lab_agrees_with_two_libraries():
    ours = lab.lab_from_srgb(COLOURS)
    assert np.abs(ours - skimage.color.rgb2lab(COLOURS)).max() < 0.05
    theirs = colour.XYZ_to_Lab(colour.sRGB_to_XYZ(COLOURS), colour.CCS_ILLUMINANTS["cie_2_1931"]["D65"])
    assert np.abs(ours - theirs).max() < 0.05


def test_lab_and_back_in_both_precisions():
    assert np.allclose(lab.srgb_from_lab(lab.lab_from_srgb(COLOURS)), COLOURS, atol=1e-12)
    single = COLOURS.astype(np.float32)
    back = lab.srgb_from_lab(lab.lab_from_srgb(single))
    assert back.dtype == np.float32
    assert np.allclose(back, single, atol=3e-5)


def test_polar_form():
    L, C, h = lab.lch_from_srgb((0.2, 0.4, 0.9))
    _, a, b = lab.lab_from_srgb((0.2, 0.4, 0.9))
    assert (C * np.cos(np.radians(h)), C * np.sin(np.radians(h))) == pytest.approx((a, b))
    assert lab.lightness_from_srgb((0.2, 0.4, 0.9)) == pytest.approx(L)


# The table of Ottosson (2020), three digits.
@pytest.mark.parametrize(
    ("xyz", "expected"),
    [
        ((0.950, 1, 1.089), (1.000, 0, 0)),
        ((1, 0, 0), (0.450, 1.236, -0.019)),
        ((0, 1, 0), (0.922, -0.671, 0.263)),
        ((0, 0, 1), (0.153, -1.415, -0.449)),
    ],
)
def test_oklab_of_the_published_table(xyz, expected):
    assert oklab.oklab_from_xyz(xyz) == pytest.approx(expected, abs=1.5e-3)


# Ottosson's matrices of 2021 on the sRGB primaries.
@pytest.mark.parametrize(
    ("rgb", "expected"),
    [
        ((1, 1, 1), (1, 0, 0)),
        ((1, 0, 0), (0.62796, 0.22486, 0.12585)),
        ((0, 1, 0), (0.86644, -0.23389, 0.17950)),
        ((0, 0, 1), (0.45201, -0.03246, -0.31153)),
    ],
)
def test_oklab_of_the_primaries(rgb, expected):
    assert oklab.oklab_from_linear(rgb) == pytest.approx(expected, abs=2e-4)


def test_oklab_agrees_with_colour_science():
    ours = oklab.oklab_from_linear(srgb.decode(COLOURS))
    theirs = colour.XYZ_to_Oklab(colour.sRGB_to_XYZ(COLOURS))
    assert np.abs(ours - theirs).max() < 5e-4


@given(st.tuples(*[st.floats(0.01, 1)] * 3))
def test_oklch_and_back(rgb):
    assert oklab.srgb_from_oklch(oklab.oklch_from_srgb(rgb)) == pytest.approx(rgb, abs=1e-7)
