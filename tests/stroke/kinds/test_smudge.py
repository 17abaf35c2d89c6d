"""Smudging: how far colour is carried, and what is kept."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.painting.operations.layer_stroke import LayerStroke
from japanner.raster import accumulate
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster
from japanner.scripting import Script
from japanner.stroke import _kernels_wet as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from japanner.stroke.kinds import smudge
from tests.paintings import HARD, rgba, same_pixels, solid

SMUDGE = Brush("Smudge", kind="smudge", tip="round", edge=0.0, size_px=40, strength=1.0, spacing=0.1, carry=1.0)


def dragged(base, brush, rows):
    stroke = StrokeInProgress(base, brush, (0, 0, 0))
    stroke.add(rows)
    stroke.finish()
    return stroke.result()


def half_and_half(width=400, height=80, border=60):
    left = np.zeros((4, height, width), np.uint16)
    left[3] = 65535
    left[:3, :, :border] = 65535
    return Raster(width, height).written(0, 0, left)


# Laying a and taking up a / carry per dab, paint travels at carry / (1 + carry) of the tip's speed; it is left
# behind when the tip's length has passed over it, carry sizes further on. (Own derivation, see docs/design.md.)
@pytest.mark.parametrize("carry", [0.5, 1.0, 3.0])
@pytest.mark.parametrize("strength", [0.2, 0.6, 1.0])
@pytest.mark.parametrize("spacing", [0.03, 0.1])
def test_paint_is_carried_as_far_as_the_brush_says(carry, strength, spacing):
    brush = SMUDGE.with_changes(carry=carry, strength=strength, spacing=spacing)
    raster = dragged(half_and_half(1600, border=300), brush, [(250, 40, 1), (1590, 40, 1)])
    beyond = raster.read(Rect(300, 40, 1600, 41))[0, 0].sum() / 65535
    assert beyond / brush.size_px == pytest.approx(carry, rel=0.05)


# One dab: C' = (1 - a) C + a B, then B' = k B + (1 - k) C. A full brush of a = .5 and k = .9 on clean ground
# gives .5, .45, .405, ...: a geometric sequence, common practice.
def test_the_first_dabs_by_hand():
    carried = np.ones((4, 25, 25), np.float32)
    room = (np.empty((25, 25), np.float32), np.empty((25, 25), np.float32), np.empty((25, 2), np.uintp))
    dab = np.array([[12.5, 12.5, 10, 1.0, 0.5, 1, 0, 1, 0, 1, 0, 0, 0]], np.float32)
    none, tip = np.zeros((0, 0), np.float32), (1, np.float32(0), np.zeros((0, 0, 0), np.float32), np.float32(1))
    seen = []
    for _ in range(6):
        ground = np.zeros((4, 25, 25), np.float32)
        rates = (np.float32(0.5 / (1 - 0.9)), np.float32(1), np.float32(0))
        kernels.smudge(ground, ground, False, carried, *room, dab, none, *tip, none, *rates, 0, 25, 0, 25)
        seen.append(float(ground[0, 12, 12]))
    assert seen == pytest.approx([0.5 * 0.9**n for n in range(6)], abs=1e-6)
    assert seen[5] == pytest.approx(0.295245, abs=1e-6)


def test_a_stronger_smudge_takes_more_of_the_picture_along():
    left = []
    for strength in (0.1, 0.3, 0.6, 0.9):
        raster = dragged(half_and_half(border=200), SMUDGE.with_changes(strength=strength), [(20, 40, 1), (390, 40, 1)])
        left.append(raster.read(Rect(203, 40, 204, 41))[0, 0, 0] / 65535)
    assert left == sorted(left)
    assert left[0] < 0.45
    assert left[-1] > 0.95


def test_strength_nil_does_nothing():
    base = half_and_half()
    raster = dragged(base, SMUDGE.with_changes(strength=0.0), [(20, 40, 1), (390, 40, 1)])
    assert same_pixels(raster, base)


@given(st.floats(0.05, 1), st.floats(0.1, 4), st.floats(0, 1))
def test_an_even_colour_stays_as_it_is(strength, carry, edge):
    base = solid(120, 90, (0.3, 0.6, 0.2), 0.7)
    brush = SMUDGE.with_changes(strength=strength, carry=carry, edge=edge, size_px=30)
    raster = dragged(base, brush, [(-20, 20, 1), (60, 60, 1), (150, 30, 1)])
    assert np.abs(raster.read(base.rect).astype(int) - base.read(base.rect)).max() <= 1


def test_nothing_new_comes_in():
    """Smudged colours lie between those that were there."""
    rng = np.random.default_rng(8)
    noise = np.full((4, 90, 300), 65535, np.uint16)
    noise[:3] = rng.integers(9000, 50000, (3, 90, 300))
    base = Raster(300, 90).written(0, 0, noise)
    pixels = dragged(base, SMUDGE, [(10, 20, 1), (290, 70, 1), (20, 70, 1)]).read(base.rect)
    assert pixels[:3].min() >= 9000 - 1
    assert pixels[:3].max() <= 50000 + 1
    assert (pixels[3] == 65535).all()


def test_the_edge_of_the_canvas_gives_nothing():
    base = solid(100, 100, (0.8, 0.7, 0.6))
    raster = dragged(base, SMUDGE, [(-60, 50, 1), (160, 50, 1)])
    assert np.abs(raster.read(base.rect).astype(int) - base.read(base.rect)).max() <= 1


def test_a_large_tip_on_two_cores_gives_the_same_bytes(monkeypatch):
    rng = np.random.default_rng(9)
    noise = np.full((4, 400, 700), 65535, np.uint16)
    noise[:3] = rng.integers(0, 65535, (3, 400, 700))
    base, brush = Raster(700, 400).written(0, 0, noise), SMUDGE.with_changes(size_px=260, edge=0.6, strength=0.5)
    rows = [(40, 90, 0.6), (400, 330, 1.0), (690, -30, 0.8)]
    split = dragged(base, brush, rows)
    monkeypatch.setattr(smudge, "LARGE_PX", 9999)
    assert same_pixels(split, dragged(base, brush, rows))


def test_picking_up_from_all_that_is_visible():
    made = Script.new(300, 80, ground=(0.1, 0.1, 0.1))
    part = made.part("Patch")
    flat = made.layer(part, "flat")
    made.stroke(flat, HARD.with_changes(size_px=60), (0.9, 0.9, 0.9), [(30, 40, 1), (110, 40, 1)])
    over = made.layer(part, "detail", place="over")
    # On an empty layer, a smudge that looks at its own layer only has nothing to drag.
    alone = LayerStroke(made.painting, over, SMUDGE, (0, 0, 0))
    alone.add([(60, 40, 1), (240, 40, 1)])
    alone.finish()
    assert not alone.outcome().layer(over).pixels.tiles
    both = LayerStroke(made.painting, over, SMUDGE.with_changes(pick_from="visible"), (0, 0, 0))
    both.add([(60, 40, 1), (240, 40, 1)])
    both.finish()
    dragged = both.outcome().layer(over).pixels
    assert rgba(dragged, 160, 40)[0] > 0.3
    assert rgba(dragged, 160, 40)[3] == pytest.approx(1.0, abs=1e-3)


def test_many_weak_dabs_lose_nothing_to_rounding():
    """At a strength of half a per cent each dab moves far less than a code of 8 bits, and yet nothing is lost."""
    border, brush = half_and_half(200, 60, 100), SMUDGE.with_changes(strength=0.005, size_px=50)
    raster = border
    for _ in range(60):
        raster = dragged(raster, brush, [(60, 30, 1), (160, 30, 1)])
    row = raster.read(Rect(0, 30, 200, 31))[0, 0] / 65535
    assert row[101] > 0.5
    assert (np.diff(row[60:150]) <= 1e-4).all()


def test_float_tiles_round_trip():
    tile = solid(128, 128, (0.3, 0.6, 0.2), 0.7).tiles[0, 0]
    assert np.array_equal(accumulate.stored(accumulate.loaded(tile)), tile)
