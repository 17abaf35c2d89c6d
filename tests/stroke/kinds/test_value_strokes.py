"""Strokes that aim at a value: to the next step, in hue, in chroma, and those that pick up where they begin."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.color import lab, oklab, srgb
from japanner.painting.document.document import begun
from japanner.painting.operations import DropFrisket, Fill, SetFrisket, SetPart
from japanner.painting.picture.picking import mean_colour, picked
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster
from japanner.scripting import Script
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from tests.paintings import rgba, same_painting, solid

SCALE = (10.0, 28.0, 48.0, 68.0, 90.0)
STEP = Brush("Step", kind="dodge", aim="step", tip="mop", size_px=60, strength=1.0)
HARD = Brush("Hard", kind="dodge", aim="step", tip="round", edge=0.0, size_px=60)


def stroke(base, brush, rows, steps=SCALE):
    made = StrokeInProgress(base, brush, (0, 0, 0), steps=steps)
    made.add(rows)
    made.finish()
    return made.result()


def values(raster):
    pixels = raster.read(raster.rect) / 65535
    return lab.lightness_from_srgb((pixels[:3] / np.maximum(pixels[3], 1e-9)).transpose(1, 2, 0))


def coloured(value, chroma=0.06, hue=50.0, size=(160, 120)):
    from japanner.color.value import srgb_from_value

    return solid(*size, srgb_from_value(value, chroma, hue))


rows = st.lists(st.tuples(st.floats(20, 140), st.floats(20, 100), st.floats(0.2, 1)), min_size=2, max_size=12)


@settings(max_examples=40, deadline=None)
@given(rows, st.floats(12, 88), st.sampled_from(["dodge", "burn"]), st.floats(0.2, 1))
def test_overlapping_passes_never_pass_the_step_and_end_at_one_value(points, start, kind, strength):
    base = coloured(start)
    here = float(values(base)[0, 0])
    brush = STEP.with_changes(kind=kind, strength=strength)
    found = values(stroke(base, brush, points))
    up = [step for step in SCALE if step > here + 0.5]
    down = [step for step in SCALE if step < here - 0.5]
    target = here if not (up if kind == "dodge" else down) else (up[0] if kind == "dodge" else down[-1])
    low, high = min(here, target), max(here, target)
    assert found.min() >= low - 0.1
    assert found.max() <= high + 0.1
    # Passing over the same places again within the stroke changes nothing, but that the curve runs a little elsewhere.
    again = values(stroke(base, brush, [*points, *reversed(points), *points]))
    assert np.abs(again - values(stroke(base, brush, [*points, *reversed(points)]))).max() < 0.2 * (high - low) + 0.5


def test_a_full_dab_lands_on_the_step_at_constant_hue():
    base = coloured(43)
    after = stroke(base, HARD, [(80, 60, 1)])
    r, g, b, _ = rgba(after, 80, 60)
    assert float(lab.lightness_from_srgb((r, g, b))) == pytest.approx(48, abs=0.05)
    before = oklab.oklch_from_srgb(rgba(base, 80, 60)[:3])
    assert abs(oklab.oklch_from_srgb((r, g, b))[2] - before[2]) < 1


# Our choice, from the plan: with dabs of alpha .2, .5 and .3 towards L* 50 from 43, the greatest counts: 46.5.
def test_the_greatest_dab_counts():
    base = solid(160, 120, tuple(srgb.encode(lab.luminance_from_lightness(np.full(3, 43.0)))))
    made = StrokeInProgress(base, HARD.with_changes(strength=0.5), (0, 0, 0), steps=(50.0,))
    made.add([(80, 60, 1)])
    made.finish()
    assert float(values(made.result())[60, 80]) == pytest.approx(46.5, abs=0.05)


def test_ten_strokes_climb_the_scale_step_by_step():
    base, seen = coloured(5, chroma=0.02), []
    for _ in range(10):
        base = stroke(base, HARD, [(80, 60, 1), (90, 60, 1)])
        seen.append(round(float(values(base)[60, 80]), 1))
    assert seen == [10, 28, 48, 68, 90, 90, 90, 90, 90, 90]
    for expected in (68, 48, 28, 10, 10):
        base = stroke(base, HARD.with_changes(kind="burn"), [(80, 60, 1), (90, 60, 1)])
        assert float(values(base)[60, 80]) == pytest.approx(expected, abs=0.1)


def test_the_steps_are_those_of_the_part_and_replay_is_exact():
    script = Script.new(160, 120)
    part = script.part("Part")
    layer = script.layer(part, "flat")
    script.do(Fill(layer, (0.4, 0.4, 0.4)))
    script.do(SetPart(part, {"scale": [20, 40, 55, 60, 80]}))
    script.stroke(layer, HARD, (0, 0, 0), [(80, 60, 1)])
    assert float(values(script.painting.layer(layer).pixels)[60, 80]) == pytest.approx(55, abs=0.1)
    assert same_painting(begun(json.loads(json.dumps(script.document.records))), script.painting)


def test_exposure_that_keeps_the_hue():
    base = solid(160, 120, (0.95, 0.45, 0.25))
    plain = HARD.with_changes(aim="stops", stops=1.5)
    hue = oklab.oklch_from_srgb((0.95, 0.45, 0.25))[2]
    shifted = oklab.oklch_from_srgb(rgba(stroke(base, plain, [(80, 60, 1)]), 80, 60)[:3])[2]
    kept = oklab.oklch_from_srgb(rgba(stroke(base, plain.with_changes(keep_hue=True), [(80, 60, 1)]), 80, 60)[:3])[2]
    assert abs(shifted - hue) > 15
    assert abs(kept - hue) < 1
    dark = solid(160, 120, (0.3, 0.2, 0.1))
    one, two = (stroke(dark, plain.with_changes(keep_hue=k), [(80, 60, 1)]) for k in (True, False))
    assert np.abs(one.read(one.rect).astype(int) - two.read(two.rect)).max() < 40  # inside the gamut they are the same


@pytest.mark.parametrize(("kind", "sign"), [("saturate", 1), ("desaturate", -1)])
def test_chroma_changes_and_value_stays(kind, sign):
    base = coloured(55, chroma=0.05)
    after = stroke(base, HARD.with_changes(kind=kind, strength=0.5), [(80, 60, 1)])
    before, now = (oklab.oklch_from_srgb(rgba(one, 80, 60)[:3]) for one in (base, after))
    assert (now[1] - before[1]) * sign > 0.015
    assert float(values(after)[60, 80]) == pytest.approx(55, abs=0.05)
    assert abs(now[2] - before[2]) < 4  # constant dominant wavelength is not quite constant OKLab hue
    grey = stroke(base, HARD.with_changes(kind="desaturate"), [(80, 60, 1)])
    assert oklab.oklch_from_srgb(rgba(grey, 80, 60)[:3])[1] < 1e-3
    strong = stroke(coloured(55, 0.2), HARD.with_changes(kind="saturate"), [(80, 60, 1)])
    pixels = strong.read(strong.rect)
    assert (pixels[:3] <= pixels[3]).all()


# --- picking up ---------------------------------------------------------------------------------------


def test_the_mean_is_taken_in_linear_light():
    pixels = np.ones((4, 1, 2))
    pixels[:3, 0, 0] = 0
    # IEC 61966-2-1: half of the light is encoded as 0.735.
    assert mean_colour(pixels) == pytest.approx((0.7354,) * 3, abs=1e-4)
    assert mean_colour(np.zeros((4, 2, 2))) is None


def test_picking_up_from_the_picture_and_from_a_layer():
    script = Script.new(160, 120, ground=(0.2, 0.2, 0.2))
    part = script.part("Part")
    layer = script.layer(part, "flat", strength=0.5)
    script.do(SetFrisket({"shape": "box", "x0": 0, "y0": 0, "x1": 80, "y1": 120}))
    script.do(Fill(layer, (0.8, 0.6, 0.4)))
    painting = script.painting
    assert picked(painting, 40, 60, "layer", layer, 1) == pytest.approx((0.8, 0.6, 0.4), abs=1e-4)
    assert picked(painting, 40, 60, "visible", layer, 1) == pytest.approx((0.5, 0.4, 0.3), abs=1e-3)
    assert picked(painting, 120, 60, "layer", layer, 5) is None
    edge = picked(painting, 80, 60, "visible", layer, 31)
    assert 0.2 < edge[0] < 0.5
    assert picked(painting, -1, 60, "visible", layer, 5) is None
    assert picked(painting, 0, 0, "visible", layer, 31) == pytest.approx((0.5, 0.4, 0.3), abs=1e-3)


def test_two_planes_are_turned_by_strokes_that_pick_up_on_touch():
    """Sample on one side, paint across, sample on the other, paint back: with a brush that picks up, just strokes."""
    script = Script.new(400, 240)
    part = script.part("Planes")
    layer = script.layer(part, "flat")
    script.do(Fill(layer, (0.62, 0.5, 0.42)))
    script.do(SetFrisket({"shape": "box", "x0": 200, "y0": -5, "x1": 410, "y1": 250}))
    script.do(Fill(layer, (0.28, 0.2, 0.17)))
    script.document.undo()
    script.document.redo()
    from japanner.painting.operations import DropFrisket

    script.do(DropFrisket())
    before = profile(script, layer)
    brush = Brush("Turn", tip="mop", size_px=110, strength=0.32, spacing=0.04, pick_up=True)
    rng = np.random.default_rng(5)
    for sweep in range(7):
        for y in range(10, 240, 16):
            offset = float(rng.uniform(-14, 14))
            reach = 62 - 5 * sweep
            there = [(200 + offset - reach, y), (200 + offset, y), (200 + offset + reach * 0.7, y)]
            back = [(200 + offset + reach, y + 8), (200 + offset, y + 8), (200 + offset - reach * 0.7, y + 8)]
            for line in (there, back):
                script.stroke(layer, brush, (0, 0, 0), [(x, yy, 1.0) for x, yy in line])
    after = profile(script, layer)
    assert np.abs(after[[20, 379]] - before[[20, 379]]).max() < 1
    steps = np.diff(after)
    assert steps.max() < 0.25  # falls all the way, but for the grain of strokes
    assert np.abs(steps).max() <= np.abs(np.diff(before)).max() / 4
    record = script.document.records[-1]
    assert record["brush"]["pick_up"] is True
    assert same_painting(begun(json.loads(json.dumps(script.document.records))), script.painting)


def profile(script, layer):
    """L* along the middle, averaged over the height of some strokes."""
    pixels = script.painting.layer(layer).pixels.read(Rect(0, 80, 400, 160))[:3] / 65535
    return lab.lightness_from_srgb(srgb.encode(srgb.decode(pixels).mean(axis=1)).T)


def test_a_brush_that_picks_up_lays_what_it_finds():
    script = Script.new(160, 120)
    layer = script.layer(script.part("Part"), "flat")
    script.do(Fill(layer, (0.7, 0.3, 0.2)))
    over = script.layer(script.painting.parts[0].uid, "detail", place="over")
    brush = Brush("Touch", tip="round", edge=0, size_px=20, pick_up=True)
    script.stroke(over, brush, (0, 0, 1), [(40, 40, 1), (60, 40, 1)])
    assert rgba(script.painting.layer(over).pixels, 50, 40) == pytest.approx([0.7, 0.3, 0.2, 1], abs=0.002)
    off = Raster(160, 120)
    made = StrokeInProgress(off, brush, (0, 0, 1), pick=lambda x, y: None)
    made.add([(40, 40, 1)])
    made.finish()
    assert rgba(made.result(), 40, 40)[2] == 1  # nothing there to pick up: the colour in hand


def test_what_is_picked_up_on_touch_is_never_what_lies_outside_the_silhouette():
    script = Script.new(200, 160, ground=(0.1, 0.2, 0.9))
    part = script.part("Part", "skin")
    flat = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "oval", "x0": 40, "y0": 30, "x1": 160, "y1": 130}))
    script.do(Fill(flat, (0.8, 0.5, 0.4)))
    script.do(DropFrisket())
    light = script.layer(part, "light")
    brush = Brush("Touch", tip="round", edge=0, size_px=20, pick_up=True)
    # The touch is on the border: half of what is under it is ground.
    script.stroke(light, brush, (0.0, 1.0, 0.0), [(158.5, 80, 1.0), (120, 80, 1.0)])
    found = script.painting.layer(light).pixels.read(script.painting.rect)
    colour = found[:3, 80, 120] / found[3, 80, 120]
    assert colour == pytest.approx((0.8, 0.5, 0.4), abs=0.01)
