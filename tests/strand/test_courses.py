"""Dressed hair, and strands in pieces that pass before and behind each other."""

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.raster.geometry import Rect
from japanner.strand.courses import DRESSED, LockKind, braided, laid, loose, wound
from japanner.strand.lock import lock
from japanner.strand.strands import Strands

LIGHT = (-0.45, 0.6, 0.66)
LINE = np.stack((np.full(60, 150.0), np.linspace(20, 520, 60)), axis=1)
KIND = LockKind(90, pattern="flat", variety=0.0, stray=0.0)
AREA = Rect(0, 0, 300, 540)


def chance():
    return np.random.Generator(np.random.PCG64(4))


def dressed(way, line, half):
    kind = LockKind(160, 1.4, way, stray=0.0)
    return lock(line, np.full(len(line), half), kind, (0.5, 0.4, 0.3), 0.9, LIGHT, 3).drawn(AREA)


def bow(alpha=1.0, **look):
    t = np.linspace(0, 1, 25)
    points = np.stack((40 + 200 * t, 60 + 80 * np.sin(3 * t)), axis=-1)[None]
    colours = np.array([[(0.2, 0.1, 0.0), (0.9, 0.5, 0.2), (0.3, 0.3, 0.9)]])
    shade = 1 - 0.4 * np.sin(5 * t)[None]
    return Strands.of(points, 5.0, colours, alpha, shade=shade, **look)


@pytest.mark.parametrize("pieces", [1, 2, 4, 12])
def test_pieces_of_a_strand_look_like_the_whole(pieces):
    whole, cut = (one.drawn(Rect(0, 0, 280, 200)) for one in (bow(0.8, tip=0.4), bow(0.8, tip=0.4).cut(pieces)))
    assert np.abs(whole - cut).mean() < 2e-4
    # At a joint hardly a pixel is left out or covered twice.
    assert (np.abs(whole - cut).max(axis=0) > 0.2).sum() <= pieces
    assert (cut[3] > 0.8 + 1e-6).sum() <= pieces


def test_pieces_have_to_come_out_even():
    with pytest.raises(InputError, match="divisor"):
        bow().cut(5)


def test_pieces_of_a_coil_are_in_order_from_back_to_front():
    kind = LockKind(40, pattern="ringlets", variety=0.3, stray=0.0)
    course = loose(LINE, np.full(60, 25.0), kind, 1, chance())
    n, pieces = course.order.shape
    assert pieces > 40
    high = course.toward[:, 1:].reshape(n, pieces, -1).mean(axis=2)
    assert np.corrcoef(high.ravel(), course.order.ravel())[0, 1] > 0.9
    assert loose(LINE, np.full(60, 25.0), KIND, 1, chance()).order.shape == (90, 1)


def test_a_braid_crosses_its_outer_locks_over_the_middle_one_in_turn():
    """So the first always lies over the second, the second over the third, the third over the first."""
    course = braided(LINE, np.full(60, 25.0), KIND, 1, chance())
    half = course.share[0] < 0.8
    # The three locks: their middles go from side to side, each a third of a turn behind the other.
    middles = np.stack([course.points[which::3, :, 0].mean(axis=0) - 150 for which in range(3)])[:, half]
    high = np.stack([course.toward[which::3].mean(axis=0) for which in range(3)])[:, half]
    assert np.abs(middles.sum(axis=0)).max() < 4
    crossings, winners = 0, set()
    for one, other in ((0, 1), (1, 2), (2, 0)):
        apart = middles[one] - middles[other]
        at = np.flatnonzero(np.diff(np.sign(apart)) != 0)[1:-1]
        over = np.sign(high[one] - high[other])[at]
        assert (np.abs(high[one] - high[other])[at] > 0.3).all()
        winners.add((over[0], (over == over[0]).all()))
        crossings += len(at)
    assert len(winners) == 1
    assert all(same for _, same in winners)
    assert crossings >= 12


def test_a_braid_gets_narrower_and_ends_in_a_tail():
    drawn = lock(LINE, np.full(60, 25.0), LockKind(160, 1.4, "braid", stray=0.0), (0.5, 0.4, 0.3), 0.9, LIGHT, 3).drawn(
        AREA
    )
    wide = (drawn[3] > 0.5).sum(axis=1)
    assert 35 < wide[100:160].mean() < 60
    assert wide[360:420].mean() < 0.85 * wide[100:160].mean()
    assert wide[445:462].min() < 0.6 * wide[360:420].mean()
    assert wide[:15].max() == 0


def test_a_cord_is_as_wide_all_along_and_blunt_at_both_ends():
    drawn = dressed("cord", LINE, 20.0)
    wide = (drawn[3] > 0.5).sum(axis=1)
    assert wide[:19].max() == 0
    assert wide[522:].max() == 0
    rows = wide[24:516].reshape(-1, 12).mean(axis=1)
    assert 30 < rows.min() <= rows.max() < 44
    assert min(wide[22:28].mean(), wide[512:518].mean()) > 0.75 * rows.mean()


def test_the_yarns_of_a_cord_come_up_in_turn():
    """Three yarns at a third of a turn, each a turn in 3.4 widths of the cord (common practice): a ridge every 1.13."""
    course = laid(LINE, np.full(60, 20.0), KIND, 1, chance())
    high = np.stack([course.toward[which::3].mean(axis=0) for which in range(3)])
    assert np.abs(high.sum(axis=0)).max() < 0.35
    turns = (np.diff(np.sign(high[0])) > 0).sum()
    assert turns == pytest.approx(500 / (3.4 * 40), abs=1)
    assert set(high.argmax(axis=0)) == {0, 1, 2}


def test_a_bun_lies_between_the_ends_of_its_stroke():
    line = np.stack((np.full(60, 150.0), np.linspace(150, 310, 60)), axis=1)
    course = wound(line, np.full(60, 20.0), KIND, 1, chance())
    far = np.hypot(course.points[..., 0] - 150, course.points[..., 1] - 230)
    assert far.max() < 80 * 1.06
    # Later rows lie nearer to the middle, and over earlier ones.
    assert np.corrcoef(far.mean(axis=0), np.arange(far.shape[1]))[0, 1] < -0.9
    assert (np.diff(course.order.mean(axis=0)) > 0).all()
    drawn = lock(line, np.full(60, 20.0), LockKind(160, 1.4, "bun", stray=0.0), (0.5, 0.4, 0.3), 0.9, LIGHT, 3).drawn(
        AREA
    )
    ys, xs = np.mgrid[:540, :300] + 0.5
    inner = np.hypot(xs - 150, ys - 230) < 66
    assert (drawn[3][inner] > 0.6).mean() > 0.97
    assert drawn[3][np.hypot(xs - 150, ys - 230) > 88].max() == 0
    # It is round: lighter where it faces the light than on the other side.
    left, right = (
        drawn[:3, ys_, xs_].mean()
        for ys_, xs_ in ((slice(170, 210), slice(90, 130)), (slice(250, 290), slice(170, 210)))
    )
    assert left > 1.15 * right


@pytest.mark.parametrize("way", DRESSED)
def test_dressed_hair_repeats_and_stands_any_size(way):
    kind = LockKind(30, 1.0, way, variety=1.0, stray=1.0)
    for size, line in ((1.0, LINE), (400.0, LINE), (5.0, LINE[:2]), (5.0, np.repeat(LINE[:1], 5, axis=0))):
        one, other = (lock(line, np.full(len(line), size), kind, (0.5, 0.4, 0.3), 0.9, LIGHT, 3) for _ in range(2))
        assert np.array_equal(one.points, other.points)
        for values in (one.points, one.look, one.shade, one.wide):
            assert np.isfinite(values).all()
