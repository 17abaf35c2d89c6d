"""Sheets: joining, inverting, growing, softening."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.ndimage import distance_transform_edt

from japanner.errors import InputError
from japanner.raster.geometry import Rect
from japanner.raster.outwards import outwards
from japanner.raster.shapes import box_outline, enclosed, oval_outline
from japanner.raster.sheets import JOINS, full, grown, inverted, joined, shrunk, softened
from japanner.raster.tiles import Sheet

SIDE = 300


def sheet_of(draw_seed):
    values = np.random.default_rng(draw_seed).integers(0, 65536, (1, 40, 50), dtype=np.uint16)
    return Sheet(SIDE, SIDE).written(230, 240, values)


def values(sheet):
    return sheet.read(sheet.rect)[0].astype(np.int64)


@settings(max_examples=30)
@given(st.integers(0, 1000), st.integers(0, 1000))
def test_joining_is_arithmetic_on_coverage(seed, other):
    one, two = sheet_of(seed), sheet_of(other)
    a, b = values(one), values(two)
    expected = {"new": b, "add": np.maximum(a, b), "take": np.minimum(a, 65535 - b), "meet": np.minimum(a, b)}
    for how in JOINS:
        assert np.array_equal(values(joined(one, two, how)), expected[how]), how
    assert np.array_equal(values(inverted(one)), 65535 - a)
    assert np.array_equal(values(inverted(inverted(one))), a)


def test_adding_twice_changes_nothing_and_taking_leaves_nothing():
    disc = enclosed(oval_outline(50, 50, 200, 220), SIDE, SIDE)
    assert np.array_equal(values(joined(disc, disc, "add")), values(disc))
    left = values(joined(disc, disc, "take"))
    assert left.max() <= 32768  # half-covered pixels keep at most their other half
    assert values(full(SIDE, SIDE)).min() == 65535


@pytest.mark.parametrize("px", [1, 6.5, 40])
def test_a_disc_grows_and_shrinks_by_so_many_px(px):
    disc = enclosed(oval_outline(70, 70, 230, 230), SIDE, SIDE)
    for made, radius in ((grown(disc, px), 80 + px), (shrunk(disc, px), 80 - px)):
        assert values(made).sum() / 65535 == pytest.approx(np.pi * radius**2, rel=0.01)
    assert grown(disc, 0) is disc


def test_growing_keeps_an_edge_soft():
    wider = grown(enclosed(oval_outline(70, 70, 230, 230), SIDE, SIDE), 10)
    found = wider.coverage(wider.rect)
    assert ((found > 0.05) & (found < 0.95)).sum() > 300


# Gaussian: the 10-90 % width of a blurred step is 2.5631 sigma (quantiles of the normal distribution).
@pytest.mark.parametrize("sigma", [2.0, 6.0])
def test_softening_makes_the_edge_of_a_gaussian(sigma):
    soft = softened(enclosed(box_outline(100, -50, 400, 400), SIDE, SIDE), sigma)
    row = soft.coverage(Rect(0, 150, SIDE, 151))[0]
    x = np.arange(SIDE) + 0.5
    low, high = np.interp([0.1, 0.9], row[60:140], x[60:140])
    assert high - low == pytest.approx(2.5631 * sigma, rel=0.02)
    assert np.interp(0.5, row[60:140], x[60:140]) == pytest.approx(100, abs=0.1)
    assert row[-1] == 1  # the canvas goes on beyond its border


@pytest.mark.parametrize("px", [-1, 501, float("nan")])
def test_wrong_widths_are_refused(px):
    for change in (grown, shrunk, softened):
        with pytest.raises(InputError, match="px"):
            change(full(SIDE, SIDE), px)


@settings(max_examples=30)
@given(st.integers(0, 1000), st.floats(0.002, 0.6))
def test_what_lies_outside_takes_the_nearest_inside(seed, share):
    """Against SciPy's exact distances: never from more than a tenth of the way, and a pixel, further off."""
    random = np.random.default_rng(seed)
    inside = random.random((40, 60)) < share
    inside[tuple(random.integers(0, 40, 2))] = True
    ys, xs = np.mgrid[:40, :60].astype(np.float32)
    there = np.stack(outwards(inside, ys, xs))
    assert inside[tuple(there.astype(int))].all()
    assert np.array_equal(there[:, inside], np.stack((ys, xs))[:, inside])
    far = np.hypot(*(there - np.stack((ys, xs))))
    assert (far <= 1.1 * distance_transform_edt(~inside) + 1).all()
    both = outwards(inside, np.stack((ys, xs)))[0]
    assert np.array_equal(both, there)
