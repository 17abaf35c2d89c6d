"""Rows of hairs along a line: width across it, tufts, and a curve of length."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.strand.fringe import FringeKind, fringe, in_tufts

LINE = np.stack((np.linspace(0, 300, 40), np.full(40, 100.0)), axis=1)
HALF = np.full(40, 20.0)


def hairs(**settings):
    kind = FringeKind(count=400, long_px=30.0, from_deg=90.0, to_deg=90.0, bend=0.0, variety=0.2, **settings)
    return fringe(LINE, kind, (0.1, 0.08, 0.07), 0.9, 3, HALF).points


def test_roots_stand_on_the_line_or_over_the_width():
    on = hairs()
    assert np.abs(on[:, 0, 1] - 100).max() < 1e-3
    over = hairs(across=1.0)
    assert np.abs(over[:, 0, 1] - 100).max() <= 20
    assert over[:, 0, 1].std() > 5
    # Denser along the middle than at the sides.
    middle = np.abs(over[:, 0, 1] - 100) < 7
    assert middle.mean() > 0.5


def test_hairs_of_either_side_lean_back_to_the_line():
    points = hairs(across=1.0, across_deg=-40.0)
    aside = points[:, 0, 1] - 100
    along = points[:, -1, 0] - points[:, 0, 0]
    left, right = along[aside < -8], along[aside > 8]
    assert abs(left.mean() - right.mean()) > 8


def test_lengths_follow_their_curve():
    points = hairs(long_in=0.2, long_out=1.0)
    long = np.linalg.norm(np.diff(points, axis=1), axis=2).sum(axis=1)
    x = points[:, 0, 0]
    first, middle, last = (float(np.median(long[(x > a) & (x < b)])) for a, b in ((0, 20), (140, 160), (280, 300)))
    assert first < 0.45 * middle
    assert last > 0.85 * middle


@pytest.mark.parametrize("amount", [0.3, 0.8])
def test_neighbours_are_drawn_to_one_tip(amount):
    random = np.random.default_rng(2)
    points = np.zeros((120, 8, 2))
    points[:, :, 0] = np.arange(120)[:, None] * 4 + random.normal(0, 1, 120)[:, None] * np.linspace(0, 1, 8)
    points[:, :, 1] = -np.linspace(0, 20, 8)
    drawn = in_tufts(points, amount, np.random.default_rng(3))
    assert np.array_equal(drawn[:, 0], points[:, 0])  # roots stay
    gaps = [np.sort(np.diff(np.sort(one[:, -1, 0]))) for one in (points, drawn)]
    # Many tips come close together, with wider gaps between.
    assert gaps[1].std() > gaps[0].std() * (1 + 0.4 * amount)
    assert gaps[1][-10:].mean() > gaps[0][-10:].mean()
