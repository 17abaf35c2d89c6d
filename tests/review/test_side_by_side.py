"""Two pictures laid on each other."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.color import lab
from japanner.painting.operations import SetLandmarks
from japanner.review.side_by_side import FULL_DIFFERENCE, fitted_reference, value_difference
from japanner.scripting import Script


def pixels(grey):
    codes = np.asarray(grey, np.uint32)
    return np.uint32(0xFF000000) | codes << 16 | codes << 8 | codes


def test_a_difference_is_grey_where_values_agree_and_says_which_is_lighter():
    one, other = pixels([[100, 200, 50, 0]]), pixels([[100, 120, 130, 255]])
    found = value_difference(one, other) & 255
    assert found[0, 0] == pytest.approx(127.5, abs=1)
    values = lab.lightness_from_srgb(np.repeat(np.array([[200], [120]]) / 255, 3, axis=1))
    assert found[0, 1] == pytest.approx(127.5 + 127.5 * (values[0] - values[1]) / FULL_DIFFERENCE, abs=1)
    assert found[0, 2] < 127
    assert found[0, 3] == 0


def spotted(height, width, x, y):
    codes = np.full((height, width, 3), 60, np.uint8)
    codes[y - 6 : y + 6, x - 6 : x + 6] = 250
    return codes


def where(found):
    y, x = np.nonzero((found & 255) > 180)
    return x.mean() + 0.5, y.mean() + 0.5


def test_a_picture_without_landmarks_covers_the_canvas():
    painting = Script.new(200, 100).painting
    found = fitted_reference(painting, "photo", spotted(100, 100, 50, 50), 1)
    assert found.shape == (100, 200)
    assert where(found) == (pytest.approx(100, abs=1.5), pytest.approx(50, abs=1.5))
    assert ((found & 255) > 40).all()


@pytest.mark.parametrize("step", [1, 2])
def test_with_landmarks_it_lies_where_they_put_it(step):
    script = Script.new(200, 100)
    places = {"a": (20.0, 20.0), "b": (80.0, 30.0), "c": (40.0, 70.0)}
    script.do(SetLandmarks("photo", tuple((name, x, y) for name, (x, y) in places.items())))
    # Turned by a right angle, and half as large.
    script.do(SetLandmarks("", tuple((name, 120 - 0.5 * y, 20 + 0.5 * x) for name, (x, y) in places.items())))
    found = fitted_reference(script.painting, "photo", spotted(100, 100, 80, 30), step)
    assert where(found) == (pytest.approx(105 / step, abs=1.5), pytest.approx(60 / step, abs=1.5))
