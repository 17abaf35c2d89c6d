"""Even and build-up strokes, tips, lay and wipe: arithmetic of coverage."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from tests.paintings import HARD, rgba, same_pixels, solid

SPOT = (80, 80)


def painted(base, brush, rows, colour=(1, 1, 1), **settings):
    stroke = StrokeInProgress(base, brush, colour, **settings)
    stroke.add(rows)
    stroke.finish()
    return stroke.result()


def alpha_after(brush, dabs):
    """Coverage in the middle of a hard tip after dabs of the given pressures, hopping away and back in between."""
    rows = [(SPOT[0], SPOT[1], 0.0)]
    for pressure in dabs:
        rows += [(SPOT[0], SPOT[1], 0.0), (SPOT[0], SPOT[1], pressure)]
    stroke = StrokeInProgress(Raster(160, 160), brush, (1, 1, 1))
    for row in rows:
        stroke.add([row])
    return rgba(stroke.result(), *SPOT)[3]


# Porter & Duff (1984): n dabs of alpha a build up to 1 - (1 - a)^n.
@pytest.mark.parametrize(("count", "expected"), [(5, 0.049010), (10, 0.095618), (100, 0.633968), (300, 0.950959)])
def test_build_up_of_strokes_at_one_per_cent(count, expected):
    brush = HARD.with_changes(strength=0.01)
    raster = Raster(160, 160)
    for _ in range(count):
        raster = painted(raster, brush, [(*SPOT, 1.0)])
    # Rounding to 16 bits is at most half a code a stroke.
    assert rgba(raster, *SPOT)[3] == pytest.approx(expected, abs=count * 0.5 / 65535)


@pytest.mark.parametrize("count", [5, 10, 22, 50])
def test_build_up_inside_a_stroke(count):
    """A line of dabs so dense that every pixel of the middle gets the same number of them."""
    brush = HARD.with_changes(even=False, flow=0.1, size_px=40, spacing=1 / count)
    raster = painted(Raster(400, 100), brush, [(0, 50, 1.0), (400, 50, 1.0)])
    row = raster.read(Rect(150, 50, 250, 51))[3, 0] / 65535
    assert row.mean() == pytest.approx(1 - 0.9**count, abs=0.02)


# Strength is the ceiling of a stroke, flow its share per dab.
def test_build_up_tends_to_the_strength_and_never_passes_it():
    brush = HARD.with_changes(even=False, flow=0.3, strength=0.5, spacing=0.01)
    rows = [(60, 80, 1.0), (100, 80, 1.0)] * 6
    raster = painted(Raster(160, 160), brush, rows)
    top = raster.read(raster.rect)[3].max() / 65535
    assert 0.499 < top <= 0.5 + 1 / 65535


@given(st.lists(st.tuples(st.floats(20, 140), st.floats(20, 140)), min_size=2, max_size=8), st.floats(0.05, 1))
def test_an_even_stroke_never_covers_more_than_its_strength(points, strength):
    brush = HARD.with_changes(strength=strength, size_px=30)
    raster = painted(Raster(160, 160), brush, [(x, y, 1.0) for x, y in points])
    pixels = raster.read(raster.rect)[3] / 65535
    assert pixels.max() == pytest.approx(strength, abs=1 / 65535)


def test_going_over_twice_in_one_even_stroke_changes_nothing():
    brush = Brush("Even", size_px=40, strength=0.4)
    once = painted(Raster(200, 100), brush, [(40, 50), (160, 50)])
    thrice = painted(Raster(200, 100), brush, [(40, 50), (160, 50), (40, 50), (160, 50)])
    middle = Rect(62, 0, 138, 100)  # at its ends a stroke may differ by a dab
    difference = once.read(middle)[3].astype(int) - thrice.read(middle)[3]
    assert np.abs(difference).max() / 65535 < 0.004


# The greatest dab counts: .2, .5, .3 give .5, in any order.
def test_an_even_stroke_takes_the_greatest_dab():
    brush = HARD.driven("strength", amount=1.0)
    for order in ((0.2, 0.5, 0.3), (0.5, 0.3, 0.2), (0.3, 0.2, 0.5)):
        assert alpha_after(brush, order) == pytest.approx(0.5, abs=1e-4)


# A hard round tip of radius r covers pi r^2.
@pytest.mark.parametrize("size", [1.0, 3.0, 10.0, 47.0, 100.0])
def test_area_of_a_hard_tip(size):
    raster = painted(Raster(160, 160), HARD.with_changes(size_px=size), [(80.3, 79.6, 1.0)])
    area = raster.read(raster.rect)[3].sum() / 65535
    assert area == pytest.approx(np.pi * size**2 / 4, rel=0.12 if size < 3 else 0.03)


# The mop's profile is half of 1 + cos(pi r).
def test_profile_of_the_mop():
    raster = painted(Raster(220, 220), Brush("Mop", size_px=200), [(110, 110, 1.0)])
    row = raster.read(Rect(110, 110, 211, 111))[3, 0] / 65535
    r = (np.arange(101) + 0.5) / 100
    expected = np.where(r < 1, (1 + np.cos(np.pi * np.minimum(np.hypot(r, 0.005), 1))) / 2, 0)
    assert row == pytest.approx(expected, abs=2e-4)


@pytest.mark.parametrize(("edge", "inside"), [(0.0, 0.97), (0.5, 0.45), (1.0, 0.02)])
def test_the_edge_goes_from_hard_to_soft(edge, inside):
    raster = painted(Raster(220, 220), HARD.with_changes(size_px=200, edge=edge), [(110, 110, 1.0)])
    row = raster.read(Rect(110, 110, 220, 111))[3, 0] / 65535
    assert (np.diff(row) <= 0).all()
    assert row[int(inside * 100)] == pytest.approx(1.0, abs=0.01)
    assert row[102] == 0


# Even dabs of a soft tip dip between their middles: spacing .05 of the size stays within a per cent.
def test_an_even_stroke_is_smooth_along_its_middle():
    raster = painted(Raster(500, 120), Brush("Mop", size_px=80, spacing=0.05), [(0, 60, 1.0), (500, 60, 1.0)])
    middle = raster.read(Rect(50, 60, 450, 61))[3, 0] / 65535
    assert middle.max() - middle.min() < 0.01


def test_wiping_takes_off_and_leaves_the_colour():
    base = solid(160, 160, (0.6, 0.4, 0.2))
    raster = painted(base, HARD.with_changes(strength=0.25, kind="wipe"), [(*SPOT, 1.0)])
    assert rgba(raster, *SPOT) == pytest.approx([0.45, 0.3, 0.15, 0.75], abs=2e-5)
    assert same_pixels(raster, painted(base, HARD.with_changes(strength=0.25), [(*SPOT, 1.0)], wipe=True))


def test_laying_over_paint_is_source_over():
    raster = painted(solid(160, 160, (0.6, 0.4, 0.2), 0.5), HARD.with_changes(strength=0.5), [(*SPOT, 1.0)], (1, 0, 0))
    assert rgba(raster, *SPOT) == pytest.approx([0.65, 0.1, 0.05, 0.75], abs=3e-5)


def test_what_is_outside_the_canvas_stays_empty():
    raster = painted(Raster(100, 70), HARD, [(-20, 30, 1.0), (130, 60, 1.0)])
    for tile in raster.tiles.values():
        assert not tile[:, 70:, :].any()
        assert not tile[:, :, 100:].any()


@given(st.lists(st.tuples(st.floats(-50, 350), st.floats(-50, 250), st.floats(0, 1)), min_size=1, max_size=14))
def test_bundling_of_samples_does_not_matter(rows):
    """Live painting gives samples one by one, a script all at once: the bytes are the same."""
    for kind in ("lay", "smudge"):
        brush = Brush("Any", kind=kind, tip="round", size_px=35, strength=0.6).driven("size", amount=0.7)
        base = solid(300, 200, (0.2, 0.5, 0.7), 0.8)
        base = painted(base, HARD, [(150, 100, 1.0)], (1, 0.9, 0.1))
        live = StrokeInProgress(base, brush, (1, 1, 1))
        for row in rows:
            live.add([row])
        live.finish()
        assert same_pixels(live.result(), painted(base, brush, rows))


def test_the_base_is_never_touched():
    base = solid(160, 160, (0.6, 0.4, 0.2))
    before = base.read(base.rect)
    painted(base, HARD, [(*SPOT, 1.0)])
    assert np.array_equal(base.read(base.rect), before)


def test_changed_areas_hold_every_change():
    base = solid(600, 400, (0.6, 0.4, 0.2))
    stroke = StrokeInProgress(base, Brush("Mop", size_px=90), (1, 1, 1))
    areas = stroke.add([(100, 100, 1), (480, 300, 1), (50, 380, 1)]) + stroke.finish()
    changed = (stroke.result().read(base.rect) != base.read(base.rect)).any(axis=0)
    for area in areas:
        changed[area.y0 : area.y1, area.x0 : area.x1] = False
    assert not changed.any()


def test_a_bad_colour_is_named():
    with pytest.raises(InputError, match=r"colour: expected 0 to 1, got 1\.2 at \(0,\)"):
        StrokeInProgress(Raster(10, 10), HARD, (1.2, 0, 0))
