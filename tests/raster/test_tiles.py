"""Sparse tiles: reading, writing, sharing."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from japanner.errors import InputError
from japanner.raster.geometry import TILE, Rect, union
from japanner.raster.thumbnail import thumbnail
from japanner.raster.tiles import LONGEST_SIDE, Raster, paint_codes, premultiplied, straight


def random_pixels(seed, height, width):
    rng = np.random.default_rng(seed)
    alpha = rng.integers(0, 65536, (height, width))
    colour = rng.random((3, height, width)) * alpha
    return np.concatenate((colour, alpha[None])).astype(np.uint16)


rects = st.builds(
    lambda x, y, w, h: Rect(x, y, x + w, y + h),
    st.integers(-50, 400), st.integers(-50, 400), st.integers(0, 300), st.integers(0, 300),
)  # fmt: skip


@given(st.integers(0, 5), st.integers(-60, 330), st.integers(-60, 230), st.integers(1, 200), st.integers(1, 200), rects)
def test_what_is_written_is_read_back_and_the_rest_is_empty(seed, x, y, width, height, window):
    raster = Raster(300, 200)
    pixels = random_pixels(seed, height, width)
    written = raster.written(x, y, pixels)
    reference = np.zeros((4, 1000, 1000), np.uint16)
    reference[:, 300 + y : 300 + y + height, 300 + x : 300 + x + width] = pixels
    reference[:, :300] = 0
    reference[:, 500:] = 0
    reference[:, :, :300] = 0
    reference[:, :, 600:] = 0
    expected = reference[:, 300 + window.y0 : 300 + window.y1, 300 + window.x0 : 300 + window.x1]
    assert np.array_equal(written.read(window), expected)
    assert not raster.tiles


@given(st.integers(0, 20))
def test_bounds_hold_all_paint(seed):
    rng = np.random.default_rng(seed)
    x, y = int(rng.integers(0, 280)), int(rng.integers(0, 180))
    width, height = int(rng.integers(1, 20)), int(rng.integers(1, 20))
    raster = Raster(300, 200).written(x, y, np.full((4, height, width), 900, np.uint16))
    assert raster.bounds() == Rect(x, y, min(x + width, 300), min(y + height, 200))


def test_versions_share_the_tiles_they_have_in_common():
    before = Raster(TILE * 4, TILE * 2).written(0, 0, np.full((4, TILE * 2, TILE * 4), 500, np.uint16))
    after = before.written(3, 3, np.full((4, 2, 2), 700, np.uint16))
    different = [key for key in after.tiles if after.tiles[key] is not before.tiles[key]]
    assert different == [(0, 0)]
    assert before.read(Rect(3, 3, 4, 4))[0, 0, 0] == 500


def test_tiles_of_a_raster_cannot_be_written_to():
    raster = Raster(50, 50).written(0, 0, np.full((4, 5, 5), 9, np.uint16))
    with pytest.raises(ValueError, match="read-only"):
        raster.tiles[0, 0][0, 0, 0] = 1


def test_emptied_tiles_are_dropped():
    raster = Raster(50, 50).written(0, 0, np.full((4, 5, 5), 9, np.uint16))
    assert raster.byte_count == 4 * TILE * TILE * 2
    assert not raster.written(0, 0, np.zeros((4, 50, 50), np.uint16)).tiles


@given(arrays(np.uint16, (4, 5, 7)))
def test_straight_and_back_loses_nothing(straight_pixels):
    visible = np.where(straight_pixels[3] > 0, straight_pixels, 0).astype(np.uint16)
    once = premultiplied(visible)
    assert (once[:3] <= once[3]).all()
    assert np.array_equal(premultiplied(straight(once)), once)


def test_bad_pixels_are_named():
    raster = Raster(10, 10)
    with pytest.raises(InputError, match=r"pixels: expected uint16 of shape \(4, h, w\), got float64"):
        raster.written(0, 0, np.zeros((4, 2, 2)))
    with pytest.raises(InputError, match="got a channel above its coverage"):
        raster.written(0, 0, np.array([9, 0, 0, 5], np.uint16)[:, None, None])
    with pytest.raises(InputError, match=f"width: expected 1 to {LONGEST_SIDE}, got 0"):
        Raster(0, 10)


@given(rects)
def test_tiles_of_a_rectangle_cover_it_once(area):
    covered = np.zeros((800, 800), int)
    for (row, column), local in area.tiles():
        assert Rect(0, 0, TILE, TILE).united(local) == Rect(0, 0, TILE, TILE)
        y, x = row * TILE + 60, column * TILE + 60
        covered[y + local.y0 : y + local.y1, x + local.x0 : x + local.x1] += 1
    expected = np.zeros_like(covered)
    expected[60 + area.y0 : 60 + area.y1, 60 + area.x0 : 60 + area.x1] = 1
    assert np.array_equal(covered, expected)


@given(st.lists(rects, max_size=4))
def test_union_holds_every_rectangle(areas):
    whole = union(areas)
    for area in areas:
        assert area.empty or whole.united(area) == whole


@pytest.mark.parametrize("area", [None, Rect(40, 30, 300, 200), Rect(0, 0, 128, 128), Rect(130, 140, 139, 150)])
def test_thumbnail_shows_the_means_of_its_area(area):
    raster = Raster(400, 260).written(0, 0, np.full((4, 260, 400), 32768, np.uint16))
    small = thumbnail(raster, 64, area)
    wanted = area or raster.rect
    assert max(small.shape[:2]) <= 65
    assert small.shape[1] / small.shape[0] == pytest.approx(wanted.width / wanted.height, rel=0.1)
    assert (small[: small.shape[0] - 1, : small.shape[1] - 1] == 127).all()


def test_paint_becomes_codes_and_what_is_no_number_nothing():
    random = np.random.default_rng(7)
    colour, cover = random.uniform(-0.2, 1.2, (3, 20, 30)), random.uniform(-0.2, 1.2, (20, 30))
    cover[3, 4], colour[1, 5, 6] = np.nan, np.nan
    codes = paint_codes(colour.astype(np.float32), cover.astype(np.float32))
    assert codes[:, 3, 4].tolist() == [0] * 4
    assert codes[1, 5, 6] == 0
    alpha = np.rint(np.clip(np.nan_to_num(cover), 0, 1).astype(np.float32) * 65535)
    expected = np.rint(np.clip(np.nan_to_num(colour), 0, 1) * alpha)
    assert np.abs(codes[:3] - expected).max() <= 1
    assert np.array_equal(codes[3], alpha)
    assert (codes[:3] <= codes[3]).all()
    one = np.broadcast_to(np.float32([0.2, 0.5, 0.9])[:, None, None], colour.shape)
    assert np.array_equal(paint_codes(one, cover.astype(np.float32)), paint_codes(one.copy(), cover.astype(np.float32)))
