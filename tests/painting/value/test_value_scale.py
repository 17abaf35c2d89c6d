"""Proposed value scales."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.painting.model import MATERIALS, Light, Part
from japanner.painting.value.value_scale import proposed_scale


@given(st.floats(0, 100), st.sampled_from(MATERIALS), st.floats(-90, 90), st.floats(-180, 180))
def test_any_proposal_is_a_scale(value, material, up, right):
    scale = proposed_scale(value, material, Light(up, right))
    assert Part(1, "A", material, scale=scale).scale == scale  # rising, within 0..100
    assert scale[0] >= 2.9
    assert scale[4] <= 97.1
    assert min(b - a for a, b in pairwise(scale)) >= 3.8


def test_the_halftone_is_the_flats_own_value_and_metal_has_the_widest_range():
    side = Light(30, -90)
    ranges = {m: proposed_scale(50, m, side)[4] - proposed_scale(50, m, side)[0] for m in MATERIALS}
    assert all(proposed_scale(50, m, side)[2] == 50 for m in MATERIALS)
    assert max(ranges, key=ranges.get) in ("metal", "glass")
    assert ranges["cloth"] < ranges["skin"] < ranges["metal"]


def test_shadows_are_lighter_when_the_light_comes_from_the_front():
    assert proposed_scale(50, "skin", Light(10, 0))[0] > proposed_scale(50, "skin", Light(10, -90))[0] + 5


def test_nonsense_is_refused():
    with pytest.raises(InputError):
        proposed_scale(120, "skin", Light())
    with pytest.raises(InputError):
        proposed_scale(50, "wood", Light())
