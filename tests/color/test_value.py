"""Moving colours in value, and exposure."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import lab, oklab, srgb
from japanner.color.value import TONES, exposed, srgb_from_lch, srgb_from_value, tone_weight, with_value
from japanner.errors import InputError


# One stop doubles linear light (exposure value, ISO 2720), through the sRGB curve of IEC 61966-2-1.
@pytest.mark.parametrize(
    ("encoded", "stops", "expected"),
    [(0.5, 1, 0.685836), (0.5, -1, 0.360780), (0.5, 1 / 3, 0.556087), (0.25, 2, 0.488448)],
)
def test_exposure_in_stops(encoded, stops, expected):
    assert exposed((encoded,) * 3, stops) == pytest.approx((expected,) * 3, abs=1e-6)


# A grey of 9 % through three stops, in CIE L*.
def test_stops_in_lightness():
    grey = np.full(3, srgb.encode(0.09))
    values = [float(lab.lightness_from_srgb(exposed(grey, stops))) for stops in range(4)]
    assert values == pytest.approx([35.984, 49.496, 66.520, 87.969], abs=0.02)


def test_exposure_keeps_chromaticity():
    before, after = (0.4, 0.3, 0.2), exposed((0.4, 0.3, 0.2), 0.7)
    one, two = (oklab.oklch_from_srgb(colour) for colour in (before, after))
    assert two[2] == pytest.approx(one[2], abs=1e-6)
    assert two[1] / two[0] == pytest.approx(one[1] / one[0], rel=1e-6)


# Windows of the tone ranges at t = L*/100: squares of sine and cosine.
def test_tone_windows():
    values = [0, 10, 25, 50, 75]
    assert tone_weight("shadows", values) == pytest.approx([1, 0.904508, 0.5, 0, 0], abs=1e-6)
    assert tone_weight("midtones", values) == pytest.approx([0, 0.095492, 0.5, 1, 0.5], abs=1e-6)
    assert tone_weight("highlights", values) == pytest.approx([0, 0, 0, 0, 0.5], abs=1e-6)
    every = np.linspace(0, 100, 301)
    assert sum(tone_weight(tone, every) for tone in TONES[1:]) == pytest.approx(np.ones(301), abs=1e-12)


@pytest.mark.parametrize(
    ("value", "tone", "up", "down"),
    [(25, "shadows", 30.0209, 20.5268), (50, "midtones", 67.1548, 36.3842), (75, "highlights", 86.1440, 65.0718)],
)
def test_windowed_exposure(value, tone, up, down):
    grey = srgb_from_value(value, 0, 0)
    assert float(lab.lightness_from_srgb(exposed(grey, 1, tone))) == pytest.approx(up, abs=1e-3)
    assert float(lab.lightness_from_srgb(exposed(grey, -1, tone))) == pytest.approx(down, abs=1e-3)


@given(st.floats(0, 100), st.floats(0, 0.3), st.floats(0, 360))
def test_a_colour_of_a_value_has_that_value(value, chroma, hue):
    colour = srgb_from_value(value, chroma, hue)
    assert all(0 <= channel <= 1 for channel in colour)
    assert float(lab.lightness_from_srgb(colour)) == pytest.approx(value, abs=0.02)


@given(st.tuples(*[st.floats(0.1, 0.9)] * 3), st.floats(8, 92))
def test_moving_in_value_keeps_the_hue(colour, value):
    moved = with_value(colour, value)
    _, chroma, hue = oklab.oklch_from_srgb(colour)
    _, new_chroma, new_hue = oklab.oklch_from_srgb(moved)
    assert new_chroma <= chroma + 1e-4
    if new_chroma > 0.01:
        assert abs((new_hue - hue + 180) % 360 - 180) < 0.6


@pytest.mark.parametrize("value", [-1, 101, float("nan")])
def test_a_value_out_of_range_is_named(value):
    with pytest.raises(InputError, match="value: expected 0 to 100"):
        srgb_from_value(value, 0.1, 20)


def test_an_unknown_tone_is_named():
    with pytest.raises(InputError, match="tone: expected one of all, shadows"):
        tone_weight("mids", 50)


@given(st.floats(2, 98), st.floats(0, 134), st.floats(0, 360))
def test_typed_numbers_give_their_value_and_as_much_chroma_as_fits(value, chroma, hue):
    made = srgb_from_lch(value, chroma, hue)
    got = lab.lch_from_srgb(made)
    assert got[0] == pytest.approx(value, abs=0.02)
    inside = lab.srgb_from_lab((value, chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))))
    if ((inside >= 0) & (inside <= 1)).all():
        assert made == pytest.approx(tuple(inside), abs=2e-3)
    else:
        assert got[1] < chroma + 12  # a constant OKLab hue is not quite a constant CIE one


# A red of the gamut and one beyond it: the OKLab hue holds within a degree (Ottosson 2020 for the space).
@pytest.mark.parametrize("hue", range(0, 360, 30))
def test_what_is_out_of_gamut_keeps_its_hue(hue):
    wanted = lab.xyz_from_lab((60.0, 130 * np.cos(np.radians(hue)), 130 * np.sin(np.radians(hue))))
    a, b = oklab.oklab_from_xyz(wanted)[1:]
    got = float(oklab.oklch_from_srgb(srgb_from_lch(60.0, 130.0, hue))[2])
    assert abs((got - np.degrees(np.arctan2(b, a)) + 180) % 360 - 180) < 1
