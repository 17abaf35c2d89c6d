"""sRGB against IEC 61966-2-1 values and colour-science."""

from __future__ import annotations

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import srgb
from japanner.errors import InputError


# IEC 61966-2-1:1999, evaluated by hand from its two formulas.
@pytest.mark.parametrize(
    ("encoded", "linear"),
    [(10 / 255, 0.00303527), (0.25, 0.05087609), (0.5, 0.21404114), (128 / 255, 0.21586050), (0.75, 0.52252155)],
)
def test_decoding_follows_the_standard(encoded, linear):
    assert srgb.decode(encoded) == pytest.approx(linear, abs=1e-8)


@pytest.mark.parametrize(
    ("linear", "encoded"), [(0.0031308, 0.04044994), (0.01, 0.09985282), (0.18, 0.46135613), (0.5, 0.73535698)]
)
def test_encoding_follows_the_standard(linear, encoded):
    assert srgb.encode(linear) == pytest.approx(encoded, abs=1e-8)


def test_all_codes_survive_decoding_and_encoding():
    codes = np.arange(256)
    for dtype in (np.float32, np.float64):
        back = srgb.encode(srgb.decode((codes / 255).astype(dtype)))
        assert back.dtype == dtype
        assert np.array_equal(np.rint(back * 255).astype(int), codes)


def test_curves_agree_with_colour_science():
    values = np.linspace(0, 1, 999)
    assert np.allclose(srgb.decode(values), colour.models.eotf_sRGB(values), atol=1e-12)
    assert np.allclose(srgb.encode(values), colour.models.eotf_inverse_sRGB(values), atol=1e-12)


def test_values_beyond_the_range_keep_their_sign():
    assert srgb.decode(-0.5) == -srgb.decode(0.5)
    assert srgb.encode(-0.2) == -srgb.encode(0.2)


# The matrix of IEC 61966-2-1 with four digits.
def test_primaries_and_white_have_the_luminance_of_the_standard():
    assert srgb.xyz_from_linear([1, 1, 1]) == pytest.approx([0.9505, 1.0, 1.0890], abs=1e-12)
    assert srgb.luminance(np.eye(3)) == pytest.approx([0.2126, 0.7152, 0.0722])


@given(st.lists(st.floats(0, 1), min_size=3, max_size=3))
def test_xyz_and_back(rgb):
    assert srgb.linear_from_xyz(srgb.xyz_from_linear(rgb)) == pytest.approx(rgb, abs=1e-12)


@given(st.integers(0, 0xFFFFFF))
def test_hex_and_back(number):
    text = f"#{number:06x}"
    assert srgb.hex_from_srgb(srgb.srgb_from_hex(text)) == text


@pytest.mark.parametrize("text", ["", "#12", "#12345g", "red", "#1234567"])
def test_a_bad_code_is_named(text):
    with pytest.raises(InputError, match="colour: expected one of #rrggbb"):
        srgb.srgb_from_hex(text)


def test_wrong_shape_is_named():
    with pytest.raises(InputError, match=r"linear: expected three channels in the last axis, got shape \(4,\)"):
        srgb.xyz_from_linear([1, 2, 3, 4])
