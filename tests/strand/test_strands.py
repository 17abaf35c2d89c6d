"""Strands as drawn: their width, their order, what they cover."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.raster.geometry import Rect
from japanner.strand.strands import Strands, tapered

AREA = Rect(0, 0, 240, 120)
WHITE, BLACK = np.ones((1, 3, 3), np.float32), np.zeros((1, 3, 3), np.float32)


def straight(x0=20.0, x1=220.0, y=60.0, joints=41, colour=WHITE, width=16.0, alpha=1.0, **rest):
    points = np.stack((np.linspace(x0, x1, joints), np.full(joints, y)), axis=1)[None]
    return Strands.of(points, width, colour, alpha, **rest)


def test_the_taper_is_as_its_formula_says():
    """1 - s^k as in the computation sheet for a full root: .9375, .75, .4375 for k = 2, whose root we take."""
    drawn = straight(power=2.0, soft=0.0).drawn(AREA)[3]
    share = np.array((0.25, 0.5, 0.75))
    wide = drawn[:, (20 + 200 * share).astype(int)].sum(axis=0)
    assert wide == pytest.approx(16 * np.sqrt((0.9375, 0.75, 0.4375)), abs=0.25)
    assert tapered(share, 0.0, 2.0) == pytest.approx(np.sqrt((0.9375, 0.75, 0.4375)))
    assert straight(soft=0.5).drawn(AREA)[3][:, 30].sum() < 0.5 * 16


def test_a_thin_strand_covers_as_much_as_it_is_wide():
    for width in (0.3, 0.7, 1.0, 3.0):
        drawn = straight(width=width, power=20.0, soft=0.0).drawn(AREA)[3]
        assert drawn[:, 60:180].sum(axis=0).mean() == pytest.approx(max(width, min(width, 1)), rel=0.12)


def test_joints_do_not_show_and_alpha_holds():
    drawn = straight(alpha=0.4, power=20.0, soft=0.0).drawn(AREA)
    assert drawn[3, 60, 40:190] == pytest.approx(0.4, abs=1e-5)
    curve = np.linspace(0, np.pi, 60)
    points = np.stack((120 + 50 * np.cos(curve), 100 - 50 * np.sin(curve)), axis=1)[None]
    arc = Strands.of(points, 4.0, WHITE, 0.5, power=20.0).drawn(AREA)[3]
    assert arc.max() == pytest.approx(0.5, abs=1e-5)


def test_later_ones_lie_over_earlier_ones():
    one, other = straight(colour=BLACK), straight(colour=WHITE)
    over = Strands.together([one, other], np.array((1.0, 0.0))).drawn(AREA)
    assert over[:3, 60, 120].max() == 0
    under = Strands.together([one, other], np.array((0.0, 1.0))).drawn(AREA)
    assert under[:3, 60, 120].min() == 1


def test_colours_run_from_root_over_middle_to_tip():
    colours = np.array([[[1, 0, 0], [0, 1, 0], [0, 0, 1]]], np.float32)
    drawn = straight(colour=colours, power=20.0, soft=0.0).drawn(AREA)
    for x, wanted in ((26, (0.935, 0.065, 0)), (70, (0.5, 0.5, 0)), (120, (0, 1, 0)), (170, (0, 0.5, 0.5))):
        assert drawn[:3, 60, x] == pytest.approx(wanted, abs=0.03)


def test_a_piece_of_the_canvas_is_the_same_piece():
    random = np.random.default_rng(3)
    points = random.uniform(0, 240, (300, 1, 2)) + np.cumsum(random.normal(0, 6, (300, 6, 2)), axis=1)
    some = Strands.of(points, 2.0, random.random((300, 3, 3)), 0.7)
    whole, piece = some.drawn(AREA), some.drawn(Rect(70, 30, 150, 90))
    assert np.array_equal(whole[:, 30:90, 70:150], piece)
    assert np.array_equal(whole, some.drawn(AREA))


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(*[st.floats(-1e5, 1e5)] * 4), min_size=1, max_size=8), st.floats(0.05, 40), st.floats(0, 1))
def test_any_strands_give_sound_pixels(ends, width, alpha):
    points = np.array(ends).reshape(-1, 2, 2)
    colours = np.full((len(points), 3, 3), 0.5)
    drawn = Strands.of(points, width, colours, alpha).drawn(Rect(0, 0, 60, 40))
    assert np.isfinite(drawn).all()
    assert drawn.min() >= 0
    assert drawn.max() <= 1


def test_what_is_no_strand_is_refused():
    with pytest.raises(InputError, match="points"):
        Strands.of(np.zeros((3, 1, 2)), 1.0, np.zeros((3, 3, 3)), 1.0)
    with pytest.raises(InputError, match="colours"):
        Strands.of(np.zeros((3, 2, 2)), 1.0, np.zeros((2, 3, 3)), 1.0)
    assert not Strands.of(np.zeros((0, 2, 2)), 1.0, np.zeros((0, 3, 3)), 1.0).drawn(AREA).any()
