"""Accumulators, and the halved pictures of the easel."""

from __future__ import annotations

import cv2
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from japanner.raster import accumulate
from japanner.raster.accumulate import halve
from japanner.raster.geometry import TILE, Rect


def random_tile(seed):
    rng = np.random.default_rng(seed)
    alpha = rng.random((TILE, TILE))
    return np.concatenate((rng.random((3, TILE, TILE)) * alpha, alpha[None])).astype(np.float32)


def test_storing_and_loading_is_exact_for_stored_tiles():
    stored = accumulate.stored(random_tile(1))
    assert np.array_equal(accumulate.stored(accumulate.loaded(stored)), stored)
    assert (stored[:3] <= stored[3]).all()


# Porter & Duff (1984), source-over of a group at a strength.
def test_merging_a_group_is_source_over():
    below, group = random_tile(2), random_tile(3)
    result = accumulate.copied(below)
    accumulate.merge(result, group, 0.6)
    expected = group * 0.6 + (1 - group[3] * 0.6) * below
    assert np.allclose(result, expected, atol=1e-6)


def test_only_the_area_is_touched():
    below = random_tile(4)
    result, area = accumulate.copied(below), Rect(10, 20, 30, 50)
    accumulate.merge(result, accumulate.filled((1, 0, 0)), 1.0, area)
    outside = np.ones((TILE, TILE), bool)
    outside[20:50, 10:30] = False
    assert np.array_equal(result[:, outside], below[:, outside])
    assert (result[:, 20:50, 10:30] == np.array([1, 0, 0, 1], np.float32)[:, None, None]).all()


def test_showing_rounds_to_the_nearest_code():
    picture = np.zeros((TILE, TILE), np.uint32)
    acc = accumulate.filled((0.5, 0.1, 1.0))
    accumulate.show(acc, picture, (0, 0))
    assert (picture == 0xFF801AFF).all()


@given(st.integers(2, 41), st.integers(2, 41))
def test_halving_is_the_mean_of_four(width, height):
    rng = np.random.default_rng(width * 100 + height)
    fine = rng.integers(0, 1 << 32, (height, width), dtype=np.uint32) | np.uint32(0xFF000000)
    coarse = np.zeros(((height + 1) // 2, (width + 1) // 2), np.uint32)
    halve(fine, coarse, Rect(0, 0, coarse.shape[1], coarse.shape[0]))
    even = fine.view(np.uint8).reshape(height, width, 4)[: height // 2 * 2, : width // 2 * 2]
    expected = cv2.resize(even.astype(np.float32), (width // 2, height // 2), interpolation=cv2.INTER_AREA)
    got = coarse.view(np.uint8).reshape(*coarse.shape, 4)[: height // 2, : width // 2]
    assert np.abs(got - expected).max() <= 0.5
