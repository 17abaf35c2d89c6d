"""Dodge and burn: exposure in stops, tone ranges, no stripes."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import lab
from japanner.color.value import exposed
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from tests.paintings import HARD, rgba, solid

DODGE = HARD.with_changes(kind="dodge", stops=1.0)
SPOT = (80, 80)


def after(base, brush, rows=((80, 80, 1.0),)):
    stroke = StrokeInProgress(base, brush, (0, 0, 0))
    stroke.add(rows)
    stroke.finish()
    return stroke.result()


def value_at(raster, x=80, y=80):
    r, g, b, a = rgba(raster, x, y)
    return float(lab.lightness_from_srgb((r / a, g / a, b / a)))


# One stop doubles linear light (exposure value, ISO 2720; sRGB of IEC 61966-2-1).
@pytest.mark.parametrize(
    ("encoded", "kind", "stops", "expected"),
    [
        (0.5, "dodge", 1, 0.685836),
        (0.5, "burn", 1, 0.360780),
        (0.5, "dodge", 1 / 3, 0.556087),
        (0.25, "dodge", 2, 0.488448),
    ],
)
def test_stops(encoded, kind, stops, expected):
    raster = after(solid(160, 160, (encoded,) * 3), DODGE.with_changes(kind=kind, stops=stops))
    assert rgba(raster, *SPOT)[:3] == pytest.approx([expected] * 3, abs=3e-5)


@given(st.tuples(*[st.floats(0.02, 1)] * 3), st.floats(0, 3), st.sampled_from(["all", "shadows", "midtones"]))
def test_the_stroke_follows_the_formula(colour, stops, tone):
    raster = after(solid(90, 90, colour), DODGE.with_changes(stops=stops, tone=tone), [(45, 45, 1.0)])
    codes = np.rint(np.array(colour) * 65535) / 65535
    assert rgba(raster, 45, 45)[:3] == pytest.approx(exposed(codes, stops, tone), abs=2e-4)


# L* after one stop up or down in the window of its tone.
@pytest.mark.parametrize(
    ("value", "tone", "up", "down"),
    [(25, "shadows", 30.0209, 20.5268), (50, "midtones", 67.1548, 36.3842), (75, "highlights", 86.1440, 65.0718)],
)
def test_tone_ranges(value, tone, up, down):
    grey = (float(lab.srgb_from_lab((value, 0, 0))[0]),) * 3
    base = solid(160, 160, grey)
    assert value_at(after(base, DODGE.with_changes(tone=tone))) == pytest.approx(up, abs=0.01)
    assert value_at(after(base, DODGE.with_changes(tone=tone, kind="burn"))) == pytest.approx(down, abs=0.01)


def test_passes_that_overlap_in_one_stroke_leave_no_stripe():
    brush = Brush("Dodge", kind="dodge", size_px=120, stops=1.0, strength=0.5)
    rows = [(40, 100, 1), (360, 100, 1), (360, 110, 1), (40, 110, 1), (40, 100, 1), (360, 100, 1)]
    once = after(solid(400, 220, (0.4,) * 3), brush, [(40, 105, 1), (360, 105, 1)])
    over = after(solid(400, 220, (0.4,) * 3), brush, rows)
    column = over.read(Rect(200, 40, 201, 165))[0, :, 0] / 65535
    # Even: nowhere lighter than the half stop of the stroke, and one smooth hill across.
    assert column.max() == pytest.approx(once.read(once.rect)[0].max() / 65535, abs=2e-3)
    rising = np.diff(column) > 1e-5
    assert np.count_nonzero(np.diff(rising.astype(int)) == 1) <= 1


def test_separate_strokes_do_add_up():
    base = solid(160, 160, (0.4,) * 3)
    half = DODGE.with_changes(strength=0.5)
    assert rgba(after(after(base, half), half), *SPOT)[0] == pytest.approx(rgba(after(base, DODGE), *SPOT)[0], abs=5e-5)


def test_dodge_and_burn_take_each_other_back():
    base = solid(160, 160, (0.45, 0.35, 0.25))
    there_and_back = after(after(base, DODGE), DODGE.with_changes(kind="burn"))
    assert rgba(there_and_back, *SPOT) == pytest.approx(rgba(base, *SPOT), abs=6e-5)


def test_coverage_is_left_alone_and_black_stays_black():
    base = solid(160, 160, (0.5, 0.4, 0.3), 0.5)
    assert rgba(after(base, DODGE), *SPOT)[3] == rgba(base, *SPOT)[3]
    assert rgba(after(solid(160, 160, (0, 0, 0)), DODGE), *SPOT)[:3].max() == 0
    assert not after(Raster(160, 160), DODGE).tiles


def test_tones_do_not_change_places():
    """One stop on shadows: a ramp of greys still rises."""
    ramp = np.zeros((4, 60, 400), np.uint16)
    ramp[:3] = np.linspace(0, 65535, 400).astype(np.uint16)
    ramp[3] = 65535
    for tone in ("all", "shadows", "midtones", "highlights"):
        for kind in ("dodge", "burn"):
            brush = DODGE.with_changes(tone=tone, kind=kind, size_px=60)
            raster = after(Raster(400, 60).written(0, 0, ramp), brush, [(0, 30, 1), (400, 30, 1)])
            row = raster.read(Rect(0, 30, 400, 31))[0, 0].astype(int)
            assert (np.diff(row) >= -1).all(), (tone, kind)
