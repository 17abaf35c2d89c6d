"""Masks, merging and flattening: arithmetic, and a picture that stays as it is."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.painting.form.coverages import mask_sheet
from japanner.painting.operations import (
    AddMask,
    ApplyMask,
    ChangeMask,
    DropFrisket,
    DropMask,
    DuplicatePart,
    Fill,
    FlattenPart,
    MergeDown,
    SetFrisket,
    SetLayer,
    SetPart,
)
from japanner.painting.picture.compositor import flattened
from japanner.raster.geometry import Rect
from japanner.raster.modes import MODES
from japanner.scripting import Script
from japanner.stroke.brush import Brush
from tests.paintings import HARD, same_pixels

OVAL = {"shape": "oval", "x0": 60.0, "y0": 40.0, "x1": 260.0, "y1": 200.0}
SOFT = Brush("Soft", tip="mop", size_px=150, strength=0.8)


def picture(script):
    return flattened(script.painting).read(script.painting.rect)[:3] / 65535


def mask_of(script, layer):
    sheet = mask_sheet(script.painting, script.painting.layer(layer))
    return sheet.coverage(sheet.rect)


@pytest.fixture
def filled():
    script = Script.new(320, 240, ground=(0.35, 0.3, 0.4))
    layer = script.layer(script.part("Part"), "flat")
    script.do(Fill(layer, (0.7, 0.5, 0.3)))
    return script, layer


def test_a_mask_from_the_frisket_shows_what_it_lets_through(filled):
    script, layer = filled
    before = picture(script)
    script.do(SetFrisket(OVAL))
    share = script.painting.frisket.sheet.coverage(script.painting.rect)
    script.do(AddMask(layer, from_frisket=True))
    ground = np.array(script.painting.ground)[:, None, None]
    assert np.abs(picture(script) - (ground + share * (before - ground))).max() < 1e-3
    script.do(ChangeMask(layer, "invert"))
    assert np.abs(picture(script) - (ground + (1 - share) * (before - ground))).max() < 1e-3
    assert np.abs(mask_of(script, layer) - (1 - share)).max() < 1e-4
    script.do(DropMask(layer))
    assert np.abs(picture(script) - before).max() < 1e-6


def test_painting_in_a_mask_with_grey(filled):
    script, layer = filled
    script.do(AddMask(layer))
    assert mask_of(script, layer).min() == 1
    script.stroke(layer, HARD, (0.5, 0.5, 0.5), [(160, 120, 1)], on="mask")
    assert mask_of(script, layer)[120, 160] == pytest.approx(0.5, abs=1e-3)
    script.stroke(layer, HARD, (0, 0, 0), [(60, 60, 1)], on="mask")
    assert picture(script)[:, 60, 60] == pytest.approx(script.painting.ground, abs=1e-3)
    script.stroke(layer, HARD, (0, 0, 0), [(60, 60, 1)], wipe=True, on="mask")
    assert mask_of(script, layer)[60, 60] == 1  # wiped, the sheet is bare again
    # A colour counts as the grey of its value.
    script.stroke(layer, HARD, (0.0, 0.0, 1.0), [(200, 60, 1)], on="mask")
    blue = mask_of(script, layer)[60, 200]
    assert blue == pytest.approx(0.2978, abs=0.01)  # L* 32.30 of sRGB blue (CIE 15) as a neutral code: 76 of 255


def test_softening_and_applying(filled):
    script, layer = filled
    script.do(SetFrisket(OVAL))
    script.do(AddMask(layer, True))
    hard = mask_of(script, layer)
    script.do(ChangeMask(layer, "soften", 5.0))
    soft = mask_of(script, layer)
    assert soft.sum() == pytest.approx(hard.sum(), rel=0.01)
    assert ((soft > 0.05) & (soft < 0.95)).sum() > 3 * ((hard > 0.05) & (hard < 0.95)).sum()
    before = picture(script)
    script.do(ApplyMask(layer))
    assert script.painting.layer(layer).mask is None
    assert np.abs(picture(script) - before).max() < 1e-4
    assert np.abs(script.painting.layer(layer).pixels.read(script.painting.rect)[3] / 65535 - soft).max() < 1e-4


def test_inverting_twice_and_softening_a_white_sheet(filled):
    script, layer = filled
    script.do(AddMask(layer))
    script.stroke(layer, SOFT, (0.1, 0.1, 0.1), [(160, 120, 1), (200, 140, 1)], on="mask")
    before = mask_of(script, layer)
    script.do(ChangeMask(layer, "invert"))
    assert np.abs(mask_of(script, layer) - (1 - before)).max() < 1e-4
    script.do(ChangeMask(layer, "invert"))
    assert np.array_equal(mask_of(script, layer), before)
    script.do(ChangeMask(layer, "soften", 4.0))
    assert mask_of(script, layer)[0, 0] == 1  # the border of the canvas is no edge
    assert mask_of(script, layer).sum() == pytest.approx(before.sum(), rel=0.01)


@pytest.mark.parametrize("operation", [DropMask, ApplyMask, lambda uid: ChangeMask(uid, "invert")])
def test_without_a_mask_there_is_nothing_to_do(filled, operation):
    script, layer = filled
    with pytest.raises(InputError, match="no mask"):
        script.do(operation(layer))
    with pytest.raises(InputError, match="no frisket"):
        script.do(AddMask(layer, True))
    script.do(AddMask(layer))
    with pytest.raises(InputError, match="already"):
        script.do(AddMask(layer))


def built(mode, place, *, strength=0.8, part_strength=1.0):
    """A part over another, with two layers of a place whose edges are soft; the upper one in `mode`."""
    script = Script.new(320, 240, ground=(0.35, 0.3, 0.4))
    ground = script.layer(script.part("Ground"), "flat")
    script.stroke(ground, SOFT, (0.2, 0.5, 0.6), [(60, 60, 1), (260, 200, 1)])
    part = script.part("Part")
    flat = script.layer(part, "flat")
    script.do(SetFrisket(OVAL))
    script.do(Fill(flat, (0.7, 0.5, 0.3)))
    script.do(DropFrisket())
    lower = script.layer(part, "light", place=place, mode="Normal", strength=0.9)
    script.stroke(lower, SOFT, (0.9, 0.6, 0.5), [(100, 100, 1), (200, 150, 1)])
    upper = script.layer(part, "shadow", place=place, mode=mode, strength=strength, neutral=False)
    script.stroke(upper, SOFT, (0.3, 0.55, 0.75), [(180, 80, 1), (120, 180, 1), (240, 150, 1)])
    script.do(SetPart(part, {"strength": part_strength}))
    return script, part, flat, lower, upper


@pytest.mark.parametrize("place", ["behind", "body", "over"])
@pytest.mark.parametrize("mode", MODES)
def test_merging_down_keeps_the_picture(mode, place):
    script, _, _, lower, upper = built(mode, place)
    before = picture(script)
    script.do(MergeDown(upper))
    assert np.abs(picture(script) - before).max() <= 1 / 255
    assert [layer.uid for layer in script.painting.parts[1].layers if layer.place == place][-1] == lower
    assert script.painting.layer(lower).mode == "Normal"
    script.document.undo()
    assert np.array_equal(picture(script), before)


@pytest.mark.parametrize("mode", MODES)
def test_merging_into_the_flat_keeps_picture_and_silhouette(mode):
    script, _, flat, lower, upper = built(mode, "body")
    before, silhouette = picture(script), script.painting.layer(flat).pixels.read(script.painting.rect)[3]
    script.do(MergeDown(upper))
    script.do(MergeDown(lower))
    assert np.abs(picture(script) - before).max() <= 1 / 255
    after = script.painting.layer(flat).pixels.read(script.painting.rect)[3]
    assert np.abs(after.astype(int) - silhouette).max() <= 2


@pytest.mark.parametrize("part_strength", [1.0, 0.6])
@pytest.mark.parametrize("mode", MODES)
def test_flattening_keeps_the_picture(mode, part_strength):
    script, part, _, _, upper = built(mode, "body", part_strength=part_strength)
    for place in ("behind", "over"):
        layer = script.layer(part, "glow", place=place, mode=mode, strength=0.7, neutral=False)
        script.stroke(layer, SOFT, (0.8, 0.7, 0.2), [(40, 40, 1), (280, 120, 1)])
    script.do(AddMask(upper))
    script.stroke(upper, SOFT, (0, 0, 0), [(200, 120, 1)], on="mask")
    before = picture(script)
    script.do(FlattenPart(part))
    assert np.abs(picture(script) - before).max() <= 1 / 255
    assert [layer.place for layer in script.painting.part(part).layers] == ["behind", "body", "over"]


def test_an_edge_is_not_merged_with_what_stays_inside_and_a_part_with_it_is_flattened():
    script, part, *_ = built("Multiply", "body")
    edge = script.layer(part, "edge")
    script.stroke(edge, SOFT, (0.8, 0.7, 0.5), [(20, 120, 1), (300, 130, 1)])
    shade = script.layer(part, "shadow", mode="Multiply", strength=0.7)
    script.stroke(shade, SOFT, (0.5, 0.5, 0.7), [(20, 140, 1), (300, 110, 1)])
    for layer in (edge, shade):
        with pytest.raises(InputError, match="leaves the silhouette"):
            script.do(MergeDown(layer))
    before = picture(script)
    script.do(FlattenPart(part))
    assert np.abs(picture(script) - before).max() <= 1 / 255


def test_a_shade_becomes_a_veil_and_does_not_take_the_backdrop_along():
    script, part, *_ = built("Multiply", "over")
    glow = script.layer(part, "glow", place="over", mode="Screen", strength=1.0, neutral=True)
    script.do(MergeDown(glow))
    pixels = script.painting.parts[1].layers[-1].pixels.read(Rect(0, 0, 320, 240))
    assert pixels[3, 235, 5] == 0


def test_what_cannot_be_merged_is_said(filled):
    script, layer = filled
    with pytest.raises(InputError, match="lies on no other"):
        script.do(MergeDown(layer))
    light = script.layer(script.painting.parts[0].uid, "light")
    script.do(SetLayer(light, {"shown": False}))
    with pytest.raises(InputError, match="hidden"):
        script.do(MergeDown(light))
    script.do(SetPart(script.painting.parts[0].uid, {"shown": False}))
    with pytest.raises(InputError, match="hidden"):
        script.do(FlattenPart(script.painting.parts[0].uid))


def test_a_part_is_duplicated_with_all_its_layers(filled):
    script, layer = filled
    script.layer(script.painting.parts[0].uid, "light")
    script.do(DuplicatePart(script.painting.parts[0].uid))
    one, two = script.painting.parts
    assert two.name == "Part copy"
    assert [la.role for la in two.layers] == [la.role for la in one.layers]
    uids = [la.uid for _, la in script.painting.layers()] + [one.uid, two.uid]
    assert len(set(uids)) == len(uids)
    assert max(uids) < script.painting.next_uid
    assert same_pixels(two.layers[0].pixels, script.painting.layer(layer).pixels)
