"""Giving colours another luminance, against worked values."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import lab, srgb
from japanner.color.gamut import into_gamut, with_luminance

unit = st.floats(0, 1)


# Worked by hand from IEC 61966-2-1 and CIE 15: the scaling of linear light to a wanted L*.
@pytest.mark.parametrize(
    ("codes", "value", "expected"),
    [((141, 85, 36), 52, (176.46, 107.65, 47.44)), ((240, 60, 40), 75, (255, 158.62, 154.59))],
)
def test_worked_values(codes, value, expected):
    linear = srgb.decode(np.array(codes) / 255)
    found = srgb.encode(with_luminance(linear, lab.luminance_from_lightness(value))) * 255
    assert found == pytest.approx(expected, abs=0.02)


@given(st.tuples(unit, unit, unit), st.floats(0, 1))
def test_the_luminance_is_what_was_asked_for_and_the_gamut_holds(encoded, luminance):
    found = with_luminance(srgb.decode(np.array(encoded)), luminance)
    assert found.min() >= 0
    assert found.max() <= 1
    assert float(srgb.luminance(found)) == pytest.approx(luminance, abs=1e-6)


@given(st.tuples(*[st.floats(-0.5, 1.5)] * 3))
def test_into_the_gamut_at_constant_luminance(linear):
    before = float(np.clip(srgb.luminance(np.array(linear)), 0, 1))
    found = into_gamut(np.array(linear))
    assert found.min() >= 0
    assert found.max() <= 1
    if 0 < before < 1:
        assert float(srgb.luminance(found)) == pytest.approx(before, abs=1e-6)


def test_black_is_lifted_to_grey():
    assert with_luminance([0, 0, 0], 0.2) == pytest.approx([0.2, 0.2, 0.2])
