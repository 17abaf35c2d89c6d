"""CIEDE2000 against the published test data and colour-science."""

from __future__ import annotations

import colour
import numpy as np
import pytest

from japanner.color.difference import ciede2000


# Sharma, Wu & Dalal (2005), six of the 34 pairs; the pair with .0011 tests the hue branch.
@pytest.mark.parametrize(
    ("one", "two", "expected"),
    [
        ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
        ((50, -1, 2), (50, 0, 0), 2.3669),
        ((50, 2.49, -0.001), (50, -2.49, 0.0009), 7.1792),
        ((50, 2.49, -0.001), (50, -2.49, 0.0011), 7.2195),
        ((50, 2.5, 0), (73, 25, -18), 27.1492),
        ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
    ],
)
def test_published_pairs(one, two, expected):
    assert ciede2000(one, two) == pytest.approx(expected, abs=5e-5)


def test_random_pairs_agree_with_colour_science():
    rng = np.random.default_rng(3)
    low, high = (0, -90, -90), (100, 90, 90)
    one, two = rng.uniform(low, high, (800, 3)), rng.uniform(low, high, (800, 3))
    assert np.allclose(ciede2000(one, two), colour.delta_E(one, two, method="CIE 2000"), atol=1e-9)


def test_it_is_symmetric_and_nil_for_equals():
    rng = np.random.default_rng(4)
    one, two = rng.uniform(0, 60, (50, 3)), rng.uniform(0, 60, (50, 3))
    assert np.allclose(ciede2000(one, two), ciede2000(two, one))
    assert np.allclose(ciede2000(one, one), 0)
