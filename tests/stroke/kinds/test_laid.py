"""Fur of one stroke under and over that of another."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.raster.geometry import Rect
from japanner.raster.limit import FREE, Limit
from japanner.raster.tiles import Raster, Sheet
from japanner.strand.comb import Guide, combed
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from japanner.stroke.kinds.hair_layer import HairPaint
from japanner.stroke.kinds.laid import LaidHair, rank_codes

SIDE = 320
FUR = Brush("Fur", kind="fur", tip="round", size_px=40, spacing=0.3, hairs=40, hair_px=44, turn="comb", mess_deg=4.0)
COLOURS = ((0.7, 0.3, 0.2), (0.2, 0.6, 0.3), (0.3, 0.3, 0.8))
PAINT = Brush("Paint", kind="lay", tip="round", size_px=50)


def down():
    return combed(np.ones((SIDE, SIDE), np.float32), Rect(0, 0, SIDE, SIDE), (Guide(((160.0, 20.0), (160.0, 300.0))),))


def row(y):
    return [(float(x), float(y), 1.0) for x in range(60, 261, 10)]


class Sheets:
    """A layer's pixels and the hair laid on it, from stroke to stroke."""

    def __init__(self, base=None, limit=FREE):
        self.pixels, self.laid, self.limit = base or Raster(SIDE, SIDE), None, limit

    def stroke(self, brush, colour, rows, seed=3, comb=None, **rest):
        hair = HairPaint(colour, comb or down(), laid=self.laid)
        stroke = StrokeInProgress(self.pixels, brush, colour, seed=seed, hair=hair, limit=self.limit, **rest)
        stroke.add(rows)
        stroke.finish()
        self.pixels = stroke.result()
        self.laid = stroke.laid(self.pixels) or self.laid
        return self

    @property
    def codes(self):
        return self.pixels.read(self.pixels.rect).astype(int)


def rows_of_fur(order, base=None):
    sheets = Sheets(base)
    for i in order:
        sheets.stroke(FUR, COLOURS[i], row(80 + 45 * i), seed=i)
    return sheets


def test_the_order_of_strokes_does_not_matter_for_rows_side_by_side():
    orders = [(0, 1, 2), (2, 1, 0), (1, 0, 2), (1, 2, 0)]
    found = [rows_of_fur(order).codes for order in orders]
    for one in found[1:]:
        assert np.abs(one - found[0]).max() <= 3
    # The same upon paint that is opaque already.
    paint = Raster(SIDE, SIDE).written(0, 0, np.full((4, SIDE, SIDE), 65535, np.uint16))
    one, other = (rows_of_fur(order, paint).codes for order in orders[:2])
    assert np.abs(one - other).max() <= 4


def test_an_upper_row_lies_over_a_lower_one_that_comes_later():
    upper = rows_of_fur((0,)).codes
    both = rows_of_fur((0, 1)).codes
    solid = upper[3] > 65000
    below = np.s_[100:140]
    assert solid[below].sum() > 300
    assert np.abs(both - upper)[:, below][:, solid[below]].max() <= 65535 - 65000


def test_a_stroke_in_the_same_place_covers_the_former_one():
    once = Sheets().stroke(FUR, COLOURS[0], row(120))
    twice = once.stroke(FUR, COLOURS[1], row(120), seed=8).codes
    solid = Sheets().stroke(FUR, COLOURS[1], row(120), seed=8).codes[3] > 60000
    assert solid.sum() > 2000
    assert (twice[1] > twice[0])[solid].mean() > 0.9


def test_what_has_been_painted_over_is_no_hair_any_more():
    covered = Sheets().stroke(FUR, COLOURS[0], row(80)).stroke(PAINT, COLOURS[2], row(120))
    assert covered.laid.of is not covered.pixels
    below = covered.stroke(FUR, COLOURS[1], row(125)).codes[:, 130:140, 100:220]
    assert (below[1] > below[2]).mean() > 0.9


def test_hair_that_follows_no_comb_lies_over_all():
    free = FUR.with_changes(turn="fixed", turn_deg=-90)
    before = Sheets().stroke(FUR, COLOURS[0], row(80))
    laid = before.laid
    after = before.stroke(free, COLOURS[1], row(90))
    assert after.laid is laid
    assert (after.codes[1, 95:105, 80:240] > after.codes[0, 95:105, 80:240]).mean() > 0.8


def test_a_frisket_keeps_hair_that_it_covers():
    half = np.zeros((SIDE, SIDE), np.float32)
    half[:, :160] = 1
    sheet = Sheet.of(half, 0, 0, SIDE, SIDE)
    whole = Sheets().stroke(FUR, COLOURS[0], row(80))
    paint, ranks = whole.laid.paint.read(whole.pixels.rect), whole.laid.ranks.read(whole.pixels.rect)
    whole.limit = Limit(sheet)
    whole.stroke(FUR, COLOURS[1], row(90), seed=9)
    assert np.array_equal(whole.laid.paint.read(whole.pixels.rect)[:, :, 160:], paint[:, :, 160:])
    assert np.array_equal(whole.laid.ranks.read(whole.pixels.rect)[:, :, 160:], ranks[:, :, 160:])
    assert not np.array_equal(whole.laid.paint.read(whole.pixels.rect)[:, :, :160], paint[:, :, :160])


def test_held_edges_leave_no_hair_where_paint_is_thin():
    thin = np.full((4, SIDE, SIDE), 65535, np.uint16)
    thin[:, :, :160] = 20000
    base = Raster(SIDE, SIDE).written(0, 0, thin)
    held = Sheets(base, Limit(None, hold_edges=True)).stroke(FUR, COLOURS[0], row(80))
    paint = held.laid.paint.read(base.rect)
    assert not paint[:, :, :160].any()
    assert paint[3, :, 160:].any()
    assert np.array_equal(held.codes[3], thin[3])


def test_settled_hair_knows_what_is_left_of_it():
    sheets = Sheets().stroke(FUR, COLOURS[0], row(80))
    laid, pixels = sheets.laid, sheets.pixels
    assert laid.settled(pixels) is laid
    assert laid.settled(Raster(SIDE, SIDE)) is None
    other = pixels.written(100, 60, np.full((4, 80, 60), 65535, np.uint16))
    rest = laid.settled(other)
    assert rest.of is other
    assert not rest.paint.read(Rect(100, 60, 160, 140)).any()
    outside = Rect(170, 60, 260, 140)
    assert np.array_equal(rest.paint.read(outside), laid.paint.read(outside))
    assert rest.settled(other) is rest
    assert LaidHair.none(pixels).settled(other) is None
    shifted = laid.remade(pixels, other, lambda raster: raster)
    assert shifted.of is other


def test_rank_codes_are_whole_and_within_range():
    assert rank_codes(np.array([0.0, 1.0, 1e9])).tolist() == [1, 16, 65535]


@settings(max_examples=15, deadline=None)
@given(st.lists(st.tuples(st.floats(40, 280), st.floats(40, 280), st.floats(0.1, 1)), min_size=1, max_size=4),
       st.floats(0, 1), st.integers(0, 9))  # fmt: skip
def test_any_fur_over_fur_is_sound(rows, strength, seed):
    sheets = Sheets().stroke(FUR, COLOURS[0], row(120))
    comb = down()
    for i in range(2):
        sheets.stroke(FUR.with_changes(strength=strength, hairs=12), COLOURS[1], rows, seed=seed + i, comb=comb)
    codes, hair = sheets.codes, sheets.laid.paint.read(sheets.pixels.rect).astype(int)
    assert (codes[:3] <= codes[3]).all()
    assert (hair[:3] <= hair[3]).all()
    # The hair is a part of the paint.
    assert (hair[3] <= codes[3] + 2).all()
    assert codes[3].max() == pytest.approx(hair[3].max(), abs=2)
