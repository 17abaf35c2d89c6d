"""Tapers, turns, chance, grain and bristles: what a brush does along a stroke."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.color import lab
from japanner.raster.geometry import Rect
from japanner.raster.limit import Limit
from japanner.raster.textures import texture
from japanner.raster.tiles import Raster, Sheet
from japanner.stroke.brush import TIPS, Brush
from japanner.stroke.brush.tips import tip_pictures
from japanner.stroke.engine import StrokeInProgress
from japanner.stroke.kinds.chance import Chance
from japanner.stroke.kinds.dabs import COLOUR, rows_for
from japanner.stroke.pen.path import PRESSURE, RUN
from tests.paintings import HARD, same_pixels, solid
from tests.stroke.brush.test_brush_and_pen import brushes

GREY = (0.5, 0.5, 0.5)
ROUND = Brush("Round", tip="round", edge=0.0, size_px=40, spacing=0.03)


def painted(brush, points, *, size=(400, 120), base=None, colour=(1.0, 1.0, 1.0), seed=0, bundle=None, wipe=False):
    base = base or Raster(*size)
    stroke = StrokeInProgress(base, brush, colour, seed=seed, wipe=wipe)
    for start in range(0, len(points), bundle or len(points)):
        stroke.add(points[start : start + (bundle or len(points))])
    stroke.finish()
    return stroke.result()


def coverage(raster):
    return raster.read(raster.rect)[3] / 65535


def along(count, **columns):
    """Path rows of a level stroke, a px apart."""
    rows = np.zeros((count, RUN + 1))
    rows[:, 0] = rows[:, RUN] = np.arange(count)
    rows[:, PRESSURE] = 1.0
    return rows


# --- taper ----------------------------------------------------------------------------------------------


def widths(raster):
    """The height of the stroke in every column."""
    return coverage(raster).sum(axis=0)


def test_a_stroke_grows_and_fades_over_the_lengths_it_says():
    brush = ROUND.with_changes(taper_in=100.0, taper_out=150.0)
    found = widths(painted(brush, [(30, 60), (120, 60), (200, 60), (370, 60)]))
    length = 340
    for x in (60, 80, 100, 129):
        assert found[x] == pytest.approx(40 * (x - 30) / 100, abs=2.5)
    assert found[160:200] == pytest.approx(np.full(40, 40.0), abs=0.6)
    for x in (250, 300, 340):
        assert found[x] == pytest.approx(40 * (30 + length - x) / 150, abs=2.5)


def test_a_taper_by_share_goes_with_the_length():
    brush = ROUND.with_changes(taper_in=25.0, taper_out=25.0, taper_by="share")
    for end in (210, 370):
        found = widths(painted(brush, [(30, 60), (90, 60), (150, 60), (end, 60)]))
        quarter = (end - 30) / 4
        assert found[round(30 + quarter / 2)] == pytest.approx(20, abs=2.5)
        assert found[round(end - quarter / 2)] == pytest.approx(20, abs=2.5)
        assert found[round(30 + 2 * quarter)] == pytest.approx(40, abs=0.6)


def test_strength_tapers_apart_from_size():
    brush = ROUND.with_changes(taper_in=200.0, taper_size=0.0, taper_strength=1.0)
    raster = painted(brush, [(30, 60), (120, 60), (200, 60), (370, 60)])
    assert coverage(raster)[60, 130] == pytest.approx(0.6, abs=0.06)  # half-way, with what half a tip ahead lays
    assert (coverage(raster)[:, 150] > 0.05).sum() == pytest.approx(40, abs=2)


def test_a_taper_multiplies_what_pressure_does():
    brush = ROUND.with_changes(taper_in=200.0).driven("size", amount=1.0)
    half = painted(brush, [(30, 60, 0.5), (120, 60, 0.5), (370, 60, 0.5)])
    assert widths(half)[300] == pytest.approx(20, abs=0.6)
    assert widths(half)[130] == pytest.approx(10, abs=1.5)


@settings(max_examples=12, deadline=None)
@given(
    st.lists(st.tuples(st.integers(10, 390), st.integers(10, 110)), min_size=2, max_size=7, unique=True),
    st.sampled_from(["px", "share"]),
)
def test_a_fading_stroke_does_not_depend_on_how_it_was_bundled(points, by):
    brush = ROUND.with_changes(taper_in=20.0, taper_out=40.0, taper_by=by, jitter_size=0.4, scatter=0.2)
    base = solid(400, 120, (0.2, 0.3, 0.4))
    whole = painted(brush, points, base=base, seed=5)
    assert same_pixels(whole, painted(brush, points, base=base, seed=5, bundle=1))


def test_what_a_fading_stroke_has_left_again_is_as_it_was():
    """A wide stroke that fades at its end leaves tiles as they were that it had reached before it ended."""
    base = solid(400, 120, (0.2, 0.3, 0.4))
    brush = ROUND.with_changes(taper_out=5000.0, size_px=100.0)
    result = painted(brush, [(20, 60), (200, 60), (390, 60)], base=base)
    assert np.array_equal(result.read(Rect(395, 0, 400, 10)), base.read(Rect(395, 0, 400, 10)))


# --- turn and shape --------------------------------------------------------------------------------------


def spread(raster):
    """Standard deviation of the coverage along x and y."""
    cover = coverage(raster)
    ys, xs = np.mgrid[: cover.shape[0], : cover.shape[1]]
    total = cover.sum()
    return tuple(math.sqrt(float((cover * (v - (cover * v).sum() / total) ** 2).sum() / total)) for v in (xs, ys))


@pytest.mark.parametrize("tip", ["round", "mop", "flat"])
@pytest.mark.parametrize("turn_deg", [0, 30, 90, -45])
def test_a_dab_is_turned_as_it_says(tip, turn_deg):
    brush = Brush("Any", tip=tip, edge=0.1, size_px=80, roundness=1.0 if tip == "flat" else 0.3, turn_deg=turn_deg)
    cover = coverage(painted(brush, [(60, 60)], size=(120, 120)))
    ys, xs = np.mgrid[:120, :120] - 59.5
    axis = 0.5 * math.atan2(-2 * float((cover * xs * ys).sum()), float((cover * (xs**2 - ys**2)).sum()))
    apart = (math.degrees(axis) - turn_deg + 90) % 180 - 90
    assert abs(apart) < 1.5


def test_roundness_is_the_share_of_the_axes():
    x, y = spread(painted(ROUND.with_changes(size_px=90, roundness=0.4), [(60, 60)], size=(120, 120)))
    assert y / x == pytest.approx(0.4, rel=0.03)


@pytest.mark.parametrize(("turn", "thickness"), [("along", 12), ("across", 40)])
@pytest.mark.parametrize("degrees", [0, 35, 120])
def test_a_stroke_is_as_thick_as_the_tip_lies(turn, thickness, degrees):
    """A tip of 40 x 12 px drawn along its long axis leaves 12 px, across it 40 px, whichever way the stroke runs."""
    brush = ROUND.with_changes(roundness=0.3, turn=turn)
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    points = [(200 + c * t, 200 + s * t) for t in np.linspace(-120, 120, 9)]
    cover = coverage(painted(brush, points, size=(400, 400)))
    ys, xs = np.mgrid[:400, :400] + 0.5 - 200
    middle = np.abs(c * xs + s * ys) < 40
    assert cover[middle].sum() / 80 == pytest.approx(thickness, rel=0.06)


@pytest.mark.parametrize("tip", [t for t in TIPS if t != "image"])
@pytest.mark.parametrize("size", [5, 40, 300])
def test_every_tip_lays_paint_within_its_size(tip, size):
    raster = painted(Brush("Any", tip=tip, size_px=size, edge=0.2), [(200, 200)], size=(400, 400))
    bounds = raster.bounds()
    assert bounds.width <= size * 1.0 + 4
    assert bounds.height <= size + 4
    assert coverage(raster).max() > (0.1 if size < 10 else 0.4)


def test_even_strokes_of_a_flat_do_not_depend_on_spacing():
    """The stroke of a solid, hard tip is what it sweeps over, however close its dabs lie."""
    found = [
        coverage(painted(Brush("Flat", tip="flat", edge=0.1, size_px=60, spacing=s, turn="across"),
                         [(60, 60), (200, 60), (340, 60)]))[20:100, 100:300]
        for s in (0.02, 0.04, 0.08)
    ]  # fmt: skip
    assert np.abs(found[0] - found[1]).max() < 0.01
    assert np.abs(found[0] - found[2]).max() < 0.05


# --- bristles -------------------------------------------------------------------------------------------


def traces(cover):
    """How many separate traces a row across the stroke shows."""
    return int(((cover[1:] > 0.3) & (cover[:-1] <= 0.3)).sum())


def test_bristles_leave_separate_traces():
    brush = Brush("Flat", tip="hake", bristles=14, size_px=100, spacing=0.01, turn="across", stiffness=1.0)
    cover = coverage(painted(brush, [(60, 60), (200, 60), (340, 60)]))
    found = [traces(cover[:, x]) for x in range(150, 250)]
    assert min(found) >= 5
    # Each trace runs on: columns far apart are alike, rows are not.
    assert np.abs(cover[:, 160] - cover[:, 240]).mean() < 0.1 * cover[:, 160].std() + 0.02


def test_a_light_touch_lays_with_fewer_bristles():
    brush = Brush("Flat", tip="flat", bristles=40, size_px=100, spacing=0.02, turn="across", stiffness=0.0)
    areas = []
    for pressure in (0.05, 0.5, 1.0):
        cover = coverage(painted(brush, [(60, 60, pressure), (200, 60, pressure), (340, 60, pressure)]))
        areas.append(float((cover[:, 150:250] > 0.1).mean()))
    assert areas == sorted(areas)
    assert areas[0] < 0.75 * areas[2]


def test_tip_pictures_have_a_bare_rim():
    for tip in TIPS:
        if tip != "image":
            pictures = tip_pictures(Brush("Any", tip=tip, bristles=30))
            assert pictures[:, 0].max() == pictures[:, -1].max() == pictures[:, :, 0].max() == 0
            assert pictures.max() <= 1


# --- chance ---------------------------------------------------------------------------------------------


def test_chance_is_even_and_uncorrelated():
    chances = np.array([Chance(7, 0, 20000).of(purpose) for purpose in range(4)])
    for row in chances:
        assert row.mean() == pytest.approx(0.5, abs=0.01)
        assert row.var() == pytest.approx(1 / 12, rel=0.03)
        counts = np.histogram(row, 20, (0, 1))[0]
        assert ((counts - 1000) ** 2 / 1000).sum() < 44  # chi squared with 19 degrees: 0.1 %
        assert abs(np.corrcoef(row[1:], row[:-1])[0, 1]) < 0.03
    assert np.abs(np.corrcoef(chances) - np.eye(4)).max() < 0.03


def test_chance_goes_by_the_number_of_the_dab():
    whole = Chance(3, 0, 100).of(2)
    assert np.array_equal(whole[40:70], Chance(3, 40, 30).of(2))
    assert not np.array_equal(whole, Chance(4, 0, 100).of(2))


def test_jitter_and_scatter_have_the_spread_they_say():
    count = 5000
    brush = Brush("Any", size_px=100, jitter_size=0.6, jitter_strength=0.5, jitter_turn=1.0, scatter=0.8)
    rows = rows_for(brush, along(count), GREY, Chance(1, 0, count), 0.0)
    assert rows[:, 2].min() == pytest.approx(50 * 0.4, abs=0.1)
    assert rows[:, 2].mean() == pytest.approx(50 * 0.7, rel=0.02)
    assert rows[:, 3].mean() == pytest.approx(0.75, rel=0.02)
    angles = np.arctan2(rows[:, 6], rows[:, 5])
    assert abs(np.exp(1j * angles).mean()) < 0.03
    away = np.hypot(rows[:, 0] - np.arange(count), rows[:, 1])
    assert away.max() <= 80 + 1e-3
    assert (away**2).mean() == pytest.approx(80**2 / 2, rel=0.05)  # evenly over a disc


def test_colours_move_in_hue_and_value_as_far_as_they_say():
    count = 3000
    brush = Brush("Any", jitter_hue=0.2, jitter_value=0.3)
    rows = rows_for(brush, along(count), (0.6, 0.45, 0.35), Chance(1, 0, count), 0.0)
    value, _, hue = lab.lch_from_srgb((0.6, 0.45, 0.35))
    found = lab.lch_from_srgb(rows[:, COLOUR].astype(float))
    assert np.abs(found[:, 0] - value).max() == pytest.approx(15, abs=0.6)
    assert np.abs((found[:, 2] - hue + 180) % 360 - 180).max() == pytest.approx(18, abs=1.5)


def test_coloured_dabs_stay_among_the_colours_they_were_given():
    brush = ROUND.with_changes(jitter_value=0.2, spacing=0.1)
    raster = painted(brush, [(40, 60), (200, 60), (360, 60)], colour=(0.6, 0.45, 0.35), seed=3)
    pixels = raster.read(Rect(60, 50, 340, 70)).astype(float)
    values = lab.lightness_from_srgb((pixels[:3] / pixels[3]).transpose(1, 2, 0))
    middle = float(lab.lightness_from_srgb((0.6, 0.45, 0.35)))
    assert np.abs(values - middle).max() < 10.5
    assert values.std() > 1.5


def test_a_seed_gives_the_same_stroke_and_another_seed_another():
    brush = ROUND.with_changes(jitter_size=0.5, scatter=0.5)
    points = [(40, 60), (200, 60), (360, 60)]
    assert same_pixels(painted(brush, points, seed=1), painted(brush, points, seed=1))
    assert not same_pixels(painted(brush, points, seed=1), painted(brush, points, seed=2))


def test_spots_are_many_small_and_few_large():
    """The logarithm of their size is spread evenly (our choice), their places over the tip."""
    count = 4000
    brush = Brush("Freckles", kind="spots", tip="round", size_px=200, jitter_size=1.0, jitter_strength=0.8)
    rows = rows_for(brush, np.repeat(along(1), count, axis=0), GREY, Chance(1, 0, count), 0.0)
    logs = np.log(rows[:, 2] / (100 * 0.08)) / np.log(4)
    assert logs.min() == pytest.approx(-1, abs=0.01)
    assert logs.max() == pytest.approx(1, abs=0.01)
    assert logs.mean() == pytest.approx(0, abs=0.03)
    assert np.hypot(rows[:, 0], rows[:, 1]).max() <= 100.01
    assert rows[:, 3].min() == pytest.approx(0.2, abs=0.01)
    raster = painted(brush.with_changes(spacing=0.1, per_step=2, jitter_size=0.4), [(40, 60), (360, 60)], seed=2)
    assert 0.02 < (coverage(raster) > 0.3).mean() < 0.5


# --- grain and drying -------------------------------------------------------------------------------------


def test_grain_fixed_to_the_canvas_stays_however_often_one_goes_over_it():
    brush = Brush("Dry", tip="round", edge=0.3, size_px=100, strength=1.0, grain="plaster", grain_depth=1.0)
    points = [(60, 60), (340, 60)] * 4
    once, often = coverage(painted(brush, points[:2])), coverage(painted(brush, points))
    inner = (slice(40, 80), slice(100, 300))
    assert np.abs(once[inner] - often[inner]).max() < 0.02
    heights = texture("plaster", 400, 120, contrast=1.4)[inner]
    assert np.corrcoef(once[inner].ravel(), heights.ravel())[0, 1] > 0.65
    assert once[inner].std() > 0.15


def test_grain_on_the_tip_goes_along_with_it():
    brush = Brush("Dry", tip="round", edge=0.3, size_px=100, grain="plaster", grain_depth=1.0, grain_on="tip")
    found = [coverage(painted(brush, [(x, 60)])) for x in (150, 220)]
    assert np.allclose(found[0][10:110, 100:200], found[1][10:110, 170:270], atol=1e-3)


def test_depth_of_the_grain_is_how_bare_the_hollows_stay():
    lowest = []
    for depth in (0.0, 0.5, 1.0):
        brush = Brush("Dry", tip="round", edge=0.3, size_px=100, grain="weave", grain_depth=depth)
        lowest.append(float(coverage(painted(brush, [(60, 60), (340, 60)]))[40:80, 100:300].min()))
    assert lowest[0] == pytest.approx(1, abs=1e-3)
    assert lowest[1] == pytest.approx(0.5, abs=0.1)
    assert lowest[2] < 0.1


def test_paint_runs_dry():
    brush = ROUND.with_changes(dry_px=200.0)
    cover = coverage(painted(brush, [(30, 60), (120, 60), (390, 60)]))
    assert cover[60, 40] > 0.9
    assert 0.4 < cover[60, 150] < 0.8
    assert cover[60, 300:].max() == 0


# --- anything ---------------------------------------------------------------------------------------------


@settings(max_examples=14, deadline=None)
@given(
    brushes(),
    st.lists(st.tuples(st.floats(-50, 350), st.floats(-50, 350), st.floats(0, 1)), min_size=1, max_size=5),
    st.integers(0, 2**31),
)
def test_any_brush_paints_sound_pixels_and_keeps_to_the_frisket(brush, points, seed):
    brush = brush.with_changes(size_px=min(brush.size_px, 160.0), spacing=max(brush.spacing, 0.1), per_step=1)
    base = solid(300, 300, (0.4, 0.5, 0.3), alpha=0.7)
    window = np.zeros((300, 300), np.float32)
    window[100:200, 100:200] = 1
    sheet = Sheet.of(window, 0, 0, 300, 300)
    stroke = StrokeInProgress(base, brush, (0.8, 0.3, 0.1), seed=seed, limit=Limit(sheet), steps=(10, 30, 50, 70, 90))
    stroke.add(points)
    stroke.finish()
    result = stroke.result().read(base.rect)
    assert (result[:3] <= result[3]).all()
    outside = window == 0
    assert np.array_equal(result[:, outside], base.read(base.rect)[:, outside])


def test_hard_strokes_are_as_before():
    """The general way of stamping gives what the quick one gives: a tip that is hardly less than round."""
    quick = coverage(painted(HARD, [(60, 60), (340, 60)]))
    general = coverage(painted(HARD.with_changes(roundness=0.99999), [(60, 60), (340, 60)]))
    assert np.abs(quick - general).max() < 2e-3
