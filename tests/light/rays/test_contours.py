"""Contours inside a maquette."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.contours import contours, edges, reached
from japanner.light.rays.surface import seen
from japanner.raster.geometry import Rect

AREA = Rect(0, 0, 300, 300)
EYE, UNIT, MIDDLE = 12.0, 100.0, (150.3, 150.6)
BALL = Piece("Ball", "ball", place=(0, 0, 1.2), size=(0.5, 0.5, 0.5))
WALL = Piece("Wall", "box", place=(0, 0, -1.0), size=(3.0, 3.0, 0.2))


@pytest.fixture(scope="module")
def before_a_wall():
    maquette = Maquette((BALL, WALL), MIDDLE, UNIT, eye=EYE)
    return maquette, seen(maquette, AREA)


def test_a_contour_covers_what_the_ball_covers(before_a_wall):
    maquette, found = before_a_wall
    ends = contours(found, maquette)
    ball = ends.mixed((found.piece == 0).astype(np.float32))
    # A ball seen from a point is seen as an ellipse; here, its middle on the axis, a circle of half the angle asin r/d.
    away = EYE - 1.2
    radius = EYE * 0.5 / np.sqrt(away**2 - 0.25) * UNIT
    assert ball.sum() == pytest.approx(np.pi * radius**2, rel=1e-3)
    hard = (found.piece == 0).sum()
    assert ((ball > 0.02) & (ball < 0.98)).sum() > 0.8 * 2 * np.pi * radius
    assert abs(ball.sum() - hard) < 0.005 * hard


def test_every_pixel_of_a_contour_has_one_on_its_other_side(before_a_wall):
    maquette, found = before_a_wall
    ends = contours(found, maquette)
    here, there = (found.piece[tuple(one.T)] for one in (ends.pixels, ends.others))
    assert set(np.abs(here - there)) == {1}
    assert (np.abs(ends.pixels - ends.others).sum(axis=1) == 1).all()
    assert (ends.share >= 0.25).all()
    assert (ends.share < 1).all()


def test_what_has_no_side_within_a_mask_is_left_out(before_a_wall):
    maquette, found = before_a_wall
    ends = contours(found, maquette)
    left = np.zeros(found.piece.shape, bool)
    left[:, :150] = True
    half = ends.within(left)
    assert 0.4 < len(half.pixels) / len(ends.pixels) < 0.6
    moved = ends.within(left[100:200, 50:150], 100, 50)
    assert (moved.pixels >= 0).all()
    assert (moved.pixels < 100).all()
    assert len(moved.pixels)
    assert not len(ends.within(found.piece == 0).pixels)


def test_creeping_keeps_to_its_side_of_a_contour(before_a_wall):
    maquette, found = before_a_wall
    away = reached(found, maquette, 150, 150, 400)
    assert (away[found.piece == 0] < 100).all()
    assert (away[found.piece == 1] > 1e8).all()
    outside = reached(found, maquette, 10, 10, 1000)
    assert (outside[found.piece == 0] > 1e8).all()
    # Behind the ball it is farther than straight across.
    assert outside[280, 280] > 1.02 * np.hypot(270, 270)
    assert outside[10, 290] == pytest.approx(280, rel=0.02)
    assert outside[150, 20] == pytest.approx(np.hypot(140, 10), rel=0.05)


def test_it_goes_no_farther_than_its_reach(before_a_wall):
    maquette, found = before_a_wall
    away = reached(found, maquette, 150, 20, 30)
    near = away < 1e8
    assert near.sum() == pytest.approx(2540, rel=0.05)  # a circle, less what the border cuts off at 20.5
    with pytest.raises(InputError, match="reach"):
        reached(found, maquette, 150, 20, 0)


def test_nothing_seen_has_no_contours():
    empty = Maquette((), MIDDLE, UNIT, eye=EYE)
    found = seen(empty, AREA)
    assert not edges(found, empty).any()
    assert not len(contours(found, empty).pixels)
    assert (reached(found, empty, 5, 5, 10) > 1e8).all()
