"""Thick paint: laid, wiped and dragged by brushes, shown by the key light, flattened, saved."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.color import srgb
from japanner.errors import InputError
from japanner.files import ora_read
from japanner.light.relief import AMBIENT, THICKEST_PX
from japanner.painting.document.document import begun, replayed
from japanner.painting.operations import (
    AddMask,
    ClearPaint,
    DropRelief,
    Fill,
    FlattenRelief,
    FormRelief,
    FrameCanvas,
    ScaleCanvas,
    SetFrisket,
    SetLayer,
    SetLight,
    SetRelief,
    Transform,
)
from japanner.painting.picture.compositor import flattened
from japanner.painting.picture.picture import Picture
from japanner.raster.geometry import Rect
from japanner.scripting import Script, shipped_brush
from japanner.stroke.brush import BRUSH_KINDS, TIPS, Brush
from tests.paintings import same_painting

THICK = Brush("Thick", tip="round", edge=1.0, size_px=80, thick_px=6, spacing=0.05)
HARD = THICK.with_changes(edge=0.1)
ACROSS = [(40, 100, 1), (260, 100, 1)]


@pytest.fixture
def made():
    script = Script.new(300, 200, ground=(0.3, 0.3, 0.3))
    part = script.part("Paint")
    script.do(Fill(script.layer(part, "flat"), (0.5, 0.45, 0.4)))
    return script, script.layer(part, "light")


def picture(script):
    return flattened(script.painting).read(script.painting.rect)[:3] / 65535


def heights(script, layer):
    """Thickness in px (h, w)."""
    relief = script.painting.layer(layer).relief
    return relief.heights.read(script.painting.rect)[3] / 65535 * THICKEST_PX


def test_a_thick_brush_lays_its_thickness_and_a_thin_one_none(made):
    script, layer = made
    script.stroke(layer, HARD.with_changes(thick_px=0), (0.8, 0.7, 0.6), ACROSS)
    assert script.painting.layer(layer).relief is None
    script.stroke(layer, HARD, (0.8, 0.7, 0.6), ACROSS)
    assert heights(script, layer)[100, 150] == pytest.approx(6, abs=0.01)
    assert heights(script, layer)[20, 150] == 0
    # The second stroke piles up on the first: half of what is left to the thickest.
    script.stroke(layer, HARD, (0.8, 0.7, 0.6), ACROSS, seed=1)
    assert heights(script, layer)[100, 150] == pytest.approx(9, abs=0.01)


def test_the_slope_of_a_laid_edge_is_lit_by_lamberts_law(made):
    script, layer = made
    script.do(SetLight(0.0, -45.0))  # from the left, half way to the viewer: (-.7071, 0, .7071)
    script.do(SetRelief(layer, 1.0, 0.0))
    down = [(150, -60, 1), (150, 260, 1)]
    script.stroke(layer, THICK, (0.6, 0.5, 0.4), down)
    # Paint of the same colour everywhere, so that light alone makes the difference.
    script.stroke(
        layer, Brush("Flat", tip="round", edge=0, size_px=900), (0.6, 0.5, 0.4), [(150, 100, 1), (151, 100, 1)]
    )
    row, seen = heights(script, layer)[100], srgb.decode(picture(script)[:, 100])
    slope = np.gradient(row)
    cosine = np.maximum((1 + slope) / np.sqrt(2 * (1 + slope**2)), 0)
    gain = (AMBIENT + (1 - AMBIENT) * cosine) / (AMBIENT + (1 - AMBIENT) * math.sqrt(0.5))
    flat = srgb.decode(np.array((0.6, 0.5, 0.4)))
    assert 0.2 < slope.max() < 1
    assert seen[:, 2:-2] == pytest.approx((flat[:, None] * gain)[:, 2:-2], abs=4e-3)


def test_thick_white_on_multiply_shows_as_texture_only(made):
    script, _ = made
    before = picture(script)
    layer = script.layer(script.painting.parts[0].uid, "texture", mode="Multiply")
    script.do(SetRelief(layer, 1.0, 0.0))
    script.stroke(layer, HARD, (1, 1, 1), ACROSS)
    after = picture(script)
    assert np.abs(after[:, 95:105, 80:220] - before[:, 95:105, 80:220]).max() < 1e-4  # level paint: nothing
    edge = after[0, :, 150] / before[0, :, 150]
    assert edge.max() > 1.05  # the flank towards the light
    assert edge.min() < 0.9  # and the one away from it
    assert after[:, 20, 150] == pytest.approx(before[:, 20, 150])


def test_wipe_takes_thickness_away_and_smudge_drags_it(made):
    script, layer = made
    script.stroke(layer, HARD, (0.8, 0.7, 0.6), [(100, 40, 1), (100, 160, 1)])
    script.stroke(layer, HARD.with_changes(thick_px=0, size_px=30), (0, 0, 0), [(100, 100, 1)], wipe=True)
    assert heights(script, layer)[100, 100] == 0
    assert heights(script, layer)[60, 100] == pytest.approx(6, abs=0.01)
    smudge = Brush("Smudge", kind="smudge", tip="round", size_px=40, strength=0.9, carry=2)
    script.stroke(layer, smudge, (0, 0, 0), [(100, 60, 1), (220, 60, 1)])
    assert heights(script, layer)[60, 170] > 0.5


def test_a_knife_leaves_ridges_along_its_pull(made):
    script, layer = made
    bristled = THICK.with_changes(tip="hake", bristles=40, turn="across", edge=0.3, thick_px=8)
    script.stroke(layer, bristled, (0.8, 0.7, 0.6), [(40, 100, 1), (120, 100, 1)])
    knife = Brush("Knife", kind="knife", tip="flat", size_px=70, strength=0.95, spacing=0.03, carry=3.0, turn="across")
    script.stroke(layer, knife, (0, 0, 0), [(80, 100, 1), (260, 100, 1)])
    pulled = heights(script, layer)[75:125, 150:200]
    across, along = (np.abs(np.diff(pulled, axis=axis)).mean() for axis in (0, 1))
    assert across > 3 * along > 0


def test_light_amount_and_gloss_change_the_look(made):
    script, layer = made
    script.stroke(layer, HARD, (0.6, 0.5, 0.4), ACROSS)
    first = picture(script)
    script.do(SetLight(-48.0, 40.0))
    turned = picture(script)
    assert (first[0, 58:66, 150] > turned[0, 58:66, 150]).any()
    assert (first[0, 134:142, 150] < turned[0, 134:142, 150]).any()
    script.do(SetRelief(layer, 0.0, 0.0))
    flat = picture(script)
    script.do(DropRelief(layer))
    assert np.array_equal(picture(script), flat)
    with pytest.raises(InputError, match="no relief"):
        script.do(DropRelief(layer))
    with pytest.raises(InputError, match="amount"):
        script.do(SetRelief(layer, 9.0))


@pytest.mark.parametrize("mode", ["Normal", "Multiply", "Screen", "Overlay"])
@pytest.mark.parametrize("strength", [1.0, 0.6])
def test_flattening_the_relief_keeps_the_picture(made, mode, strength):
    script, layer = made
    script.do(SetLayer(layer, {"mode": mode, "strength": strength}))
    script.stroke(layer, THICK, (0.7, 0.6, 0.3), ACROSS)
    before = picture(script)
    script.do(FlattenRelief(layer))
    assert script.painting.layer(layer).relief is None
    assert np.abs(picture(script) - before).max() < 1.5 / 255


def test_held_edges_and_friskets_hold_thickness_too(made):
    script, layer = made
    script.stroke(layer, HARD.with_changes(thick_px=0, size_px=40), (0.8, 0.7, 0.6), [(100, 100, 1)])
    script.do(SetLayer(layer, {"hold_edges": True}))
    script.do(SetFrisket({"shape": "box", "x0": 0.0, "y0": 0.0, "x1": 300.0, "y1": 100.0}))
    script.stroke(layer, HARD, (0.2, 0.7, 0.6), ACROSS)
    thick = heights(script, layer)
    assert thick[95, 100] == pytest.approx(6, abs=0.01)
    assert thick[:, 140:].max() == 0
    assert thick[101:].max() == 0


def test_clearing_levels_and_masks_hide(made):
    script, layer = made
    script.stroke(layer, HARD, (0.8, 0.7, 0.6), ACROSS)
    bare = script.painting
    script.do(SetFrisket({"shape": "box", "x0": 0.0, "y0": 0.0, "x1": 150.0, "y1": 200.0}))
    script.do(ClearPaint(layer))
    assert heights(script, layer)[:, :150].max() == 0
    assert heights(script, layer)[100, 200] == pytest.approx(6, abs=0.01)
    script.do(AddMask(layer, from_frisket=True))
    masked = picture(script)
    script.do(DropRelief(layer))
    assert np.abs(masked[:, :, 160:] - picture(script)[:, :, 160:]).max() < 1e-4
    assert bare.layer(layer).relief is not None


def test_relief_goes_along_when_the_paint_is_moved_framed_and_scaled(made):
    script, layer = made
    script.stroke(layer, HARD, (0.8, 0.7, 0.6), [(80, 100, 1)])
    script.do(Transform((layer,), (1.0, 0.0, 60.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0)))
    assert heights(script, layer)[100, 140] == pytest.approx(6, abs=0.01)
    assert heights(script, layer)[100, 80] == 0
    script.do(FrameCanvas(40, 0, 260, 200))
    assert heights(script, layer)[100, 100] == pytest.approx(6, abs=0.01)
    script.do(ScaleCanvas(520, 400))
    assert heights(script, layer)[200, 200] == pytest.approx(6, abs=0.05)
    assert script.painting.layer(layer).relief.amount == pytest.approx(2)


def test_a_file_keeps_the_relief_and_the_journal_makes_it_anew(made, tmp_path):
    script, layer = made
    script.stroke(layer, THICK, (0.8, 0.7, 0.6), ACROSS)
    script.do(SetRelief(layer, 1.5, 0.4))
    script.save(tmp_path / "relief.ora")
    again = ora_read.opened(tmp_path / "relief.ora")
    assert same_painting(again.painting, script.painting)
    assert same_painting(begun(script.document.records), script.painting)


def test_the_picture_on_the_easel_follows_across_tile_borders():
    """A stroke that ends a pixel before a tile's border changes the slope in the tile next to it."""
    script = Script.new(600, 300, ground=(0.3, 0.3, 0.3))
    layer = script.layer(script.part("Paint"), "flat")
    script.do(Fill(layer, (0.5, 0.45, 0.4)))
    shown = Picture(script.painting)
    top = script.layer(script.painting.parts[0].uid, "light")
    for seed, rows in enumerate(([(236, 120, 1)], [(216, 130, 1), (216, 200, 1)], [(300, 150, 1)])):
        change_from = len(script.document.records)
        script.stroke(top, HARD.with_changes(size_px=40), (0.5, 0.45, 0.4), rows, seed=seed)
        assert len(script.document.records) == change_from + 1
        shown.refresh(script.painting, script.document.former[1].areas, top)
    assert np.array_equal(shown.levels[0], Picture(script.painting).levels[0])


@settings(max_examples=25, deadline=None)
@given(
    st.sampled_from([kind for kind in BRUSH_KINDS if kind != "nudge"]),
    st.sampled_from([tip for tip in TIPS if tip != "image"]),
    st.floats(4, 90), st.floats(0.1, 12), st.floats(0, 1), st.integers(0, 60), st.booleans(), st.integers(0, 99),
)  # fmt: skip
def test_any_thick_brush_stays_inside_the_frisket(kind, tip, size, thick, wetness, bristles, wipe, seed):
    script = Script.new(200, 160, ground=(0.3, 0.3, 0.3))
    layer = script.layer(script.part("Paint"), "flat")
    script.stroke(layer, HARD, (0.8, 0.7, 0.6), [(40, 80, 1), (160, 80, 1)])
    before = heights(script, layer)
    script.do(SetFrisket({"shape": "box", "x0": 60.0, "y0": 0.0, "x1": 200.0, "y1": 160.0}))
    brush = Brush("Any", kind=kind, tip=tip, size_px=size, thick_px=thick, wetness=wetness, bristles=bristles)
    script.stroke(layer, brush, (0.2, 0.5, 0.6), [(30, 60, 0.4), (120, 100, 1), (60, 90, 0.7)], wipe=wipe, seed=seed)
    after = heights(script, layer)
    assert np.array_equal(after[:, :60], before[:, :60])
    assert after.max() <= THICKEST_PX
    assert np.isfinite(picture(script)).all()
    assert same_painting(replayed(Script.new(200, 160, ground=(0.3, 0.3, 0.3)).painting, script.document.records[1:]),
                         script.painting)  # fmt: skip


def test_what_is_asked_of_relief_that_is_not_there(made):
    script, layer = made
    with pytest.raises(InputError, match="no relief"):
        script.do(FlattenRelief(layer))
    script.do(SetRelief(layer))
    script.do(SetLayer(layer, {"shown": False}))
    with pytest.raises(InputError, match="Show"):
        script.do(FlattenRelief(layer))
    assert script.painting.layer(layer).relief.heights.bounds() == Rect(0, 0, 0, 0)


def test_relief_from_the_form_of_a_disc_is_a_ball():
    script = Script.new(200, 200)
    part = script.part("Disc")
    layer = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "oval", "x0": 40, "y0": 40, "x1": 160, "y1": 160}))
    script.do(Fill(layer, (0.5, 0.5, 0.5)))
    script.do(FormRelief(layer, 8.0))
    found = heights(script, layer)
    ys, xs = np.mgrid[:200, :200] + 0.5
    share = np.sqrt(np.clip(1 - ((xs - 100) ** 2 + (ys - 100) ** 2) / 60**2, 0, 1))
    assert found[60:140, 60:140] == pytest.approx(8 * share[60:140, 60:140], abs=0.45)
    assert not found[:, :38].any()
    seen = picture(script)[1]
    assert seen[70, 70] > seen[100, 100] > seen[130, 130]
    with pytest.raises(InputError, match="high"):
        script.do(FormRelief(layer, 99.0))


def test_a_knife_with_thickness_leaves_ridges_only_where_paint_is():
    script = Script.new(300, 200)
    part = script.part("Mass")
    layer = script.layer(part, "flat")
    script.stroke(layer, HARD.with_changes(size_px=90, thick_px=0), (0.6, 0.4, 0.3), [(60, 100, 1), (160, 100, 1)])
    knife = shipped_brush("Ridge knife").with_changes(size_px=60)
    script.stroke(layer, knife, (0.5, 0.4, 0.3), [(60, 100, 1), (280, 100, 1)])
    relief = script.painting.layer(layer).relief
    assert relief is not None
    heights = relief.heights.read(Rect(0, 0, 300, 200))[3].astype(float) / 65535
    across = heights[75:125, 120]
    # Several ridges side by side, and the furrows between.
    assert ((np.diff(np.sign(np.diff(across))) < 0).sum()) >= 4
    assert across.max() > 3 * max(float(np.percentile(across, 10)), 0.01)
    assert not heights[:, 240:].any()
