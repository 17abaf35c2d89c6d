"""Image tips: any picture as the shape of a brush."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush, image_tip
from japanner.stroke.brush.image_tip import LARGEST_TIP_PX, tip_coverage, tip_from_pixels
from japanner.stroke.engine import StrokeInProgress


def cross(side=64):
    """A cross with coverage of its own."""
    pixels = np.zeros((4, side, side), np.uint16)
    pixels[3, side // 2 - 4 : side // 2 + 4, :] = 65535
    pixels[3, :, side // 2 - 4 : side // 2 + 4] = 65535
    return pixels


def stamped(brush, rows=((100, 100),)):
    stroke = StrokeInProgress(Raster(200, 200), brush, (1, 0, 0))
    stroke.add(rows)
    stroke.finish()
    return stroke.result().read(Rect(0, 0, 200, 200))[3] / 65535


def test_the_stamp_is_the_picture():
    brush = Brush("Cross", tip="image", image=tip_from_pixels(cross()), size_px=66, spacing=1.0)
    found = stamped(brush)
    assert found[100, 75:125].min() > 0.95
    assert found[75:125, 100].min() > 0.95
    assert found[80, 80] < 0.01
    assert found.sum() == pytest.approx(2 * 64 * 8 - 64, rel=0.02)


def test_it_scales_with_the_size_and_obeys_the_strength():
    brush = Brush("Cross", tip="image", image=tip_from_pixels(cross()), size_px=132, spacing=1.0, strength=0.5)
    found = stamped(brush)
    assert found.max() == pytest.approx(0.5, abs=0.01)
    assert found.sum() / 0.5 == pytest.approx(4 * (2 * 64 * 8 - 64), rel=0.03)


def test_an_opaque_picture_lays_where_it_is_dark():
    pixels = np.full((4, 20, 20), 65535, np.uint16)
    pixels[:3, 5:15, 5:15] = 0
    tip = tip_coverage(tip_from_pixels(pixels))
    assert tip[11, 11] == 1
    assert tip[3, 3] == 0


def test_a_tip_may_be_large_and_a_larger_one_is_made_smaller(monkeypatch):
    assert tip_coverage(tip_from_pixels(cross(LARGEST_TIP_PX))).shape == (LARGEST_TIP_PX + 2,) * 2
    monkeypatch.setattr(image_tip, "LARGEST_TIP_PX", 300)
    assert tip_coverage(tip_from_pixels(cross(900))).shape == (302,) * 2


def test_a_small_brush_shows_the_mean_of_a_large_picture():
    """Fine lines, half of them bare, stay a half tone: they neither vanish nor flicker from dab to dab."""
    pixels = np.zeros((4, 1200, 1200), np.uint16)
    pixels[3, :, ::2] = 65535
    brush = Brush("Lines", tip="image", image=tip_from_pixels(pixels), size_px=60, spacing=1.0)
    for at in ((100, 100), (100.3, 99.6)):
        middle = stamped(brush, (at,))[90:110, 90:110]
        assert middle.mean() == pytest.approx(0.5, abs=0.02)
        assert np.ptp(middle) < 0.06


def test_what_is_no_tip_is_refused():
    with pytest.raises(InputError, match="empty"):
        tip_from_pixels(np.zeros((4, 9, 9), np.uint16))
    with pytest.raises(InputError, match="image tip"):
        Brush("None", tip="image")
    with pytest.raises(InputError, match="picture"):
        stamped(Brush("Bad", tip="image", image="AAAA"))
    again = Brush.from_record(Brush("Cross", tip="image", image=tip_from_pixels(cross())).to_record())
    assert again.tip == "image"
