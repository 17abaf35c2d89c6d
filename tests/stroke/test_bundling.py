"""What a stroke becomes does not depend on how the pen's reports are bundled: not by one code, for any brush."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.raster.geometry import Rect
from japanner.raster.limit import Limit
from japanner.raster.tiles import Raster, Sheet
from japanner.stroke.brush import Brush
from japanner.stroke.brush.kinds import KINDS
from japanner.stroke.brush.shipped import shipped_brushes
from japanner.stroke.engine import StrokeInProgress
from japanner.stroke.kinds.nudge import NUDGES
from tests.paintings import same_pixels

WIDE, HIGH = 620, 400
PLACE = st.tuples(st.floats(-40, WIDE + 40), st.floats(-40, HIGH + 40), st.floats(0.05, 1))
ROWS = st.lists(PLACE, min_size=2, max_size=9)
CUTS = st.lists(st.integers(0, 9), max_size=8)


def paint(seed: int) -> Raster:
    """Coarse patches of colour with soft and empty places."""
    rng = np.random.default_rng(seed)
    small = rng.random((4, HIGH // 20, WIDE // 20))
    large = np.repeat(np.repeat(small, 20, axis=1), 20, axis=2)
    cover = np.clip(large[3:] * 1.6 - 0.2, 0, 1)
    codes = np.rint(np.concatenate((large[:3] * cover, cover)) * 65535).astype(np.uint16)
    return Raster(WIDE, HIGH).written(0, 0, codes)


BASE = paint(4)


def limits() -> list[Limit]:
    ys, xs = np.mgrid[:HIGH, :WIDE]
    oval = np.clip(1.6 - np.hypot((xs - 300) / 190, (ys - 200) / 130), 0, 1).astype(np.float32)
    return [Limit(), Limit(Sheet.of(oval, 0, 0, WIDE, HIGH)), Limit(None, hold_edges=True)]


def stroked(brush: Brush, rows, bundles, *, base=BASE, limit=None, warp=None):
    stroke = StrokeInProgress(base, brush, (0.8, 0.5, 0.3), seed=7, limit=limit or Limit(), warp=warp)
    for bundle in bundles:
        stroke.add(rows[bundle])
    stroke.finish()
    result = stroke.result()
    return result, stroke.warp(result)


def bundled(count: int, cuts) -> list[slice]:
    ends = sorted({min(cut, count) for cut in cuts} | {0, count})
    return [slice(a, b) for a, b in itertools.pairwise(ends)]


def one_by_one(count: int) -> list[slice]:
    return [slice(i, i + 1) for i in range(count)]


def check(brush, rows, cuts, limit, base=BASE, warp=None):
    whole, how = stroked(brush, rows, [slice(None)], base=base, limit=limit, warp=warp)
    for bundles in (one_by_one(len(rows)), bundled(len(rows), cuts)):
        other, _ = stroked(brush, rows, bundles, base=base, limit=limit, warp=warp)
        assert same_pixels(whole, other)
    return whole, how


@pytest.mark.parametrize("limit", limits(), ids=["free", "frisket", "held edges"])
@pytest.mark.parametrize("how", NUDGES)
@settings(max_examples=2)
@given(first=ROWS, second=ROWS, cuts=CUTS)
def test_nudges_and_nudges_of_what_was_nudged(how, limit, first, second, cuts):
    brush = Brush("Any", kind="nudge", nudge=how, size_px=90, strength=0.8, spacing=0.1)
    result, warp = check(brush, first, cuts, limit)
    check(brush, second, cuts, limit, result, warp)


@pytest.mark.parametrize("kind", [name for name in KINDS if name != "nudge"])
@settings(max_examples=2)
@given(rows=ROWS, cuts=CUTS, limit=st.sampled_from(limits()), edge=st.floats(0, 1), taper=st.sampled_from([0.0, 40.0]))
def test_every_kind(kind, rows, cuts, limit, edge, taper):
    brush = Brush("Any", kind=kind, size_px=50, strength=0.7, spacing=0.12, edge=edge, taper_out=taper)
    check(brush, rows, cuts, limit)


@settings(max_examples=10)
@given(brush=st.sampled_from(shipped_brushes()), rows=ROWS, cuts=CUTS)
def test_every_shipped_brush(brush, rows, cuts):
    check(brush.with_changes(size_px=min(brush.size_px, 60.0)), rows, cuts, Limit())


def test_what_a_mixing_stroke_does_not_touch_stays_to_the_last_bit():
    """A colour that goes into a space and back may come out one code off; stored with more around it, it did."""
    brush = next(one for one in shipped_brushes() if one.name == "Pigment smudge").with_changes(size_px=60.0)
    rows = [(68.0, 0.0, 1.0), (0.0, 1.0, 1.0), (0.0, 0.0, 1.0)]
    check(brush, rows, [], Limit())
    result, _ = stroked(brush, rows, [slice(None)])
    area = Rect(100, 0, 110, 40)
    assert np.array_equal(result.read(area), BASE.read(area))
