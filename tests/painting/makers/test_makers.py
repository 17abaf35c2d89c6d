"""Makers: the same every time, inside the silhouette, and run again until they are painted on."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from japanner.color import lab
from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.makers import MAKERS
from japanner.painting.operations import (
    DropFrisket,
    Fill,
    Make,
    SetFrisket,
    SetLayer,
    SetMaquette,
    operation_from_record,
    to_record,
)
from japanner.painting.picture.compositor import flattened, silhouette_tile
from japanner.raster.geometry import TILE
from japanner.scripting import Script
from tests.paintings import HARD, same_pixels

MATERIALS = {"metal": "metal", "glass": "glass", "thin cloth": "cloth", "skin": "skin", "wet nose": "fur"}
COLOURS = {"glass": (0.25, 0.5, 0.35), "skin": (0.72, 0.52, 0.42), "cloth": (0.5, 0.5, 0.62)}


NOT_ANYWHERE = ("eye", "lashes and brows", "beard")
ANYWHERE = [name for name, one in MAKERS.items() if not one.over_all and name not in NOT_ANYWHERE]
"""What needs a silhouette, and no more."""


def begun(maker, width=240, height=200):
    """A painting with one oval part of the maker's material."""
    material = MATERIALS.get(maker, "plain")
    script = Script.new(width, height)
    part = script.part("Part", material)
    layer = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "oval", "x0": 50, "y0": 40, "x1": 190, "y1": 160}))
    script.do(Fill(layer, COLOURS.get(material, (0.5, 0.45, 0.4))))
    return script, part


def made(script, part):
    return [layer for layer in script.painting.part(part).layers if layer.made]


def outside(script, part):
    """The most that a body layer changes the picture outside the silhouette."""
    painting = script.painting
    cover = np.zeros((painting.height, painting.width), np.float32)
    for key, local in painting.rect.tiles():
        tile = silhouette_tile(painting.part(part), key)
        if tile is not None:
            y, x = key[0] * TILE, key[1] * TILE
            cover[y : y + local.height, x : x + local.width] = tile[: local.height, : local.width]
    bare = Script.new(painting.width, painting.height).painting
    held = [one for one in painting.part(part).layers if one.place == "body" and one.role != "edge"]
    body = painting.with_part(part, layers=tuple(held))
    seen = flattened(body).read(painting.rect).astype(int) - flattened(bare).read(painting.rect).astype(int)
    return int(np.abs(seen[:, cover == 0]).max())


@pytest.mark.parametrize("maker", ANYWHERE)
def test_a_maker_makes_the_same_again_and_stays_inside(maker):
    script, part = begun(maker)
    script.do(Make(part, maker, seed=3))
    layers = made(script, part)
    assert layers
    assert any(layer.pixels.tiles for layer in layers)
    assert outside(script, part) <= 1
    other, there = begun(maker)
    record = json.loads(json.dumps(to_record(Make(there, maker, seed=3))))
    other.do(operation_from_record(record))
    for one, same in zip(layers, made(other, there), strict=True):
        assert (one.name, one.role, one.mode) == (same.name, same.role, same.mode)
        assert same_pixels(one.pixels, same.pixels)


@pytest.mark.parametrize("maker", [name for name in ANYWHERE if name not in ("planes", "lay-in")])
def test_another_seed_makes_another_piece(maker):
    script, part = begun(maker)
    script.do(Make(part, maker, seed=1))
    script.do(Make(part, maker, seed=2))
    layers = made(script, part)
    half = len(layers) // 2
    assert any(not same_pixels(a.pixels, b.pixels) for a, b in zip(layers[:half], layers[half:], strict=True))


def test_an_eye_needs_no_silhouette_and_keeps_to_one_that_there_is():
    script = Script.new(300, 220)
    part = script.part("Eye", "eye")
    script.do(Make(part, "eye", {"width": 160.0}))
    names = [layer.name for layer in made(script, part)]
    assert names[0] == "Lids"
    assert {"Iris", "Far-side glow", "Pupil", "Catch light", "Wet line", "Lid shadow", "Red corner"} <= set(names)
    own, there = begun("eye")
    own.do(Make(there, "eye"))
    assert "Opening" not in [layer.name for layer in made(own, there)]
    assert outside(own, there) <= 1


def test_the_pupil_is_round_and_the_far_side_of_the_iris_is_brighter():
    script = Script.new(700, 420)
    part = script.part("Eye", "eye")
    script.do(Make(part, "eye", {"width": 500.0, "open": 180.0}))
    by_name = {layer.name: layer for layer in made(script, part)}
    pupil = by_name["Pupil"].pixels.read(script.painting.rect)[3] > 32768
    rows, columns = np.nonzero(pupil)
    across, down = np.ptp(columns) + 1, np.ptp(rows) + 1
    assert across / down == pytest.approx(1, abs=0.03)
    assert pupil.sum() == pytest.approx(np.pi / 4 * across * down, rel=0.03)
    # 1.9 mm, seen 1.13 times as large through the cornea (computed), at 500 / 30 px to a millimetre.
    assert across / 2 == pytest.approx(1.9 * 1.13 * 500 / 30, rel=0.06)
    glow = by_name["Far-side glow"].pixels.read(script.painting.rect)[:3].sum(axis=0).astype(float)
    light, (y, x) = script.painting.light.direction, (rows.mean(), columns.mean())
    ys, xs = np.mgrid[: glow.shape[0], : glow.shape[1]]
    towards = (xs - x) * light[0] - (ys - y) * light[1]
    far, near = glow[towards < -20].sum(), glow[towards > 20].sum()
    assert far > 1.5 * near


@pytest.mark.parametrize("pupil", ["round", "slit", "oblong"])
def test_a_pair_shares_gaze_and_light_but_not_the_nose(pupil):
    script = Script.new(900, 300)
    part = script.part("Eyes", "eye")
    settings_ = {"width": 240.0, "pair": True, "gaze_right": 12.0, "pupil": pupil, "lids": False, "open": 150.0}
    script.do(Make(part, "eye", settings_))
    by_name = {layer.name: layer.pixels.read(script.painting.rect) for layer in made(script, part)}
    left, right = by_name["Pupil"][3, :, :450] > 32768, by_name["Pupil"][3, :, 450:] > 32768
    centres = [np.argwhere(half).mean(axis=0) for half in (left, right)]
    # Both look the same way: as far apart as the eyes are, on one line.
    assert centres[1][1] + 450 - centres[0][1] == pytest.approx(63 * 240 / 30, abs=2)
    assert centres[0][0] == pytest.approx(centres[1][0], abs=1)
    assert centres[0][1] > 450 - 63 * 240 / 60 + 10
    wide, high = (np.ptp(np.nonzero(left)[axis]) for axis in (1, 0))
    assert {"round": 0.9 < wide / high < 1.1, "slit": wide < 0.4 * high, "oblong": wide > 2 * high}[pupil]
    # The red corners are on the sides of the nose.
    red = np.nonzero(by_name["Red corner"][3] > 16000)[1]
    assert red[red < 450].mean() > centres[0][1]
    assert red[red > 450].mean() < centres[1][1] + 450


def test_the_white_of_the_eye_is_never_white():
    script = Script.new(400, 260)
    part = script.part("Eye", "eye")
    script.do(Make(part, "eye", {"width": 260.0}))
    white = next(layer for layer in made(script, part) if layer.name == "White")
    pixels = white.pixels.read(script.painting.rect).astype(float) / 65535
    seen = pixels[3] > 0.99
    values = lab.lightness_from_srgb(np.moveaxis(pixels[:3], 0, -1))[seen]
    assert np.percentile(values, 99) < 80  # 62 to 66 in studies; never more than a light grey
    assert values.mean() < 66


# --- laying in ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("way", ["smooth", "brushed"])
def test_a_lay_in_has_the_parts_values(way):
    script, part = begun("lay-in", 400, 320)
    script.do(Make(part, "lay-in", {"way": way, "brush": 30.0, "finish": 100.0}))
    rect = script.painting.rect
    picture = flattened(script.painting).read(rect)[:3].astype(float) / 65535
    values = lab.lightness_from_srgb(np.moveaxis(picture, 0, -1))
    scale, light = script.painting.part(part).scale, script.painting.light.direction
    # The oval is 140 x 120: where its blown-up form faces the light, and where it is turned away.
    x, y = 120 + 70 * light[0] * 0.8, 100 - 60 * light[1] * 0.8
    lit = values[int(y) - 4 : int(y) + 5, int(x) - 4 : int(x) + 5].mean()
    dark = values[int(200 - y) - 4 : int(200 - y) + 5, int(240 - x) - 4 : int(240 - x) + 5].mean()
    assert lit == pytest.approx(scale[3], abs=7)
    assert dark == pytest.approx(scale[1], abs=9)
    roles = {layer.role for layer in made(script, part)}
    assert {"shadow", "accent", "light", "highlight"} <= roles


def test_strokes_of_a_lay_in_cover_the_part_without_gaps():
    script, part = begun("lay-in")
    script.do(Make(part, "lay-in", {"brush": 24.0}))
    cover = np.max([layer.pixels.read(script.painting.rect)[3] for layer in made(script, part)], axis=0)
    flat = script.painting.part(part).flats[0].pixels.read(script.painting.rect)[3] > 60000
    assert (cover[flat] > 30000).mean() > 0.97


def test_a_lay_in_takes_the_form_from_the_maquette():
    script, part = begun("lay-in")
    ball = Piece("Ball", size=(0.7, 0.6, 0.7), part=part)
    script.do(SetMaquette(Maquette((ball,), (120.0, 100.0), 100.0).to_record()))
    script.do(Make(part, "planes", {"count": 5.0}))
    other, there = begun("lay-in")
    other.do(Make(there, "planes", {"count": 5.0}))
    assert not same_pixels(made(script, part)[0].pixels, made(other, there)[0].pixels)
    script.do(SetMaquette(Maquette((ball,), (900.0, 900.0), 100.0).to_record()))
    with pytest.raises(InputError, match="not where its silhouette is"):
        script.do(Make(part, "planes"))


# --- running again ------------------------------------------------------------------------------------------------


def test_it_is_made_anew_until_it_is_painted_on():
    script, part = begun("metal")
    script.do(Make(part, "metal", {"polish": 50.0, "patina": 60.0}))
    first = made(script, part)
    run = first[0].made.run
    script.stroke(first[0].uid, HARD, (0.9, 0.1, 0.1), [(120, 100, 1.0), (140, 110, 1.0)])
    script.do(Make(part, "metal", {"polish": 95.0}, 1, run))
    again = made(script, part)
    by_uid = {layer.uid: layer for layer in again}
    assert by_uid[first[0].uid].made.on
    assert by_uid[first[0].uid].pixels is script.painting.layer(first[0].uid).pixels
    # What is no longer made goes; what was not touched is another now, where it was.
    assert "Patina" not in [layer.name for layer in again]
    hot, former = next(one for one in again if one.name == "Hot spots"), next(o for o in first if o.name == "Hot spots")
    assert hot.made.settings["polish"] == 95
    assert not same_pixels(hot.pixels, former.pixels)
    with pytest.raises(InputError, match="nothing of that run"):
        script.do(Make(part, "metal", {}, 1, 987654))


def test_a_new_run_does_not_see_the_last_one():
    script, part = begun("glass")
    behind = script.part("Behind", "plain")
    assert behind
    script.do(Make(part, "glass"))
    first = made(script, part)
    script.do(Make(part, "glass", {}, 1, first[0].made.run))
    for one, other in zip(first, made(script, part), strict=True):
        assert one.uid == other.uid
        assert same_pixels(one.pixels, other.pixels)


@pytest.mark.parametrize("maker", ANYWHERE)
def test_an_empty_silhouette_is_refused_in_one_sentence(maker):
    script = Script.new(120, 100)
    part = script.part("Empty", MATERIALS.get(maker, "plain"))
    script.layer(part, "flat")
    before = script.painting
    with pytest.raises(InputError, match="no silhouette"):
        script.do(Make(part, maker))
    assert script.painting is before


@pytest.mark.parametrize(
    ("settings_", "words"),
    [({"polish": 400.0}, "polish"), ({"metal": "mithril"}, "metal"), ({"shine": 3}, "unknown"),
     ({"strip": ((50, 20), (10, 30))}, "rising"), ({"bevel": float("nan")}, "bevel")],
)  # fmt: skip
def test_settings_that_are_none_are_refused(settings_, words):
    script, part = begun("metal")
    with pytest.raises(InputError, match=words):
        script.do(Make(part, "metal", settings_))


# Not shrunk: a maker takes a good part of a second.
@settings(max_examples=12, deadline=None, phases=(Phase.explicit, Phase.reuse, Phase.generate))
@given(st.sampled_from(ANYWHERE), st.integers(0, 99), st.data())
def test_any_settings_give_sound_layers(maker, seed, data):
    values = {}
    for one in MAKERS[maker].settings:
        if one.kind == "number":
            values[one.name] = data.draw(st.floats(one.low, min(one.high, 200.0)), one.name)
        elif one.kind == "choice":
            values[one.name] = data.draw(st.sampled_from(one.choices), one.name)
    script, part = begun(maker, 120, 110)
    try:
        script.do(Make(part, maker, values, seed))
    except InputError:
        return
    assert outside(script, part) <= 1


def mapped(script, part):
    """A hidden layer of the part with paint in its left half."""
    layer = script.layer(part, "sketch")
    script.do(SetFrisket({"shape": "box", "x0": 50, "y0": 40, "x1": 120, "y1": 160}))
    script.do(Fill(layer, (0.0, 0.0, 0.0)))
    script.do(DropFrisket())
    script.do(SetLayer(layer, {"shown": False}))
    return layer


@pytest.mark.parametrize(("sheet", "name"), [("Blood", "blood_map"), ("Freckles", "freckle_map")])
def test_skin_follows_painted_maps(sheet, name):
    script, part = begun("skin")
    layer = mapped(script, part)
    script.do(Make(part, "skin", {name: layer, "freckles": 100.0}))
    found = next(one for one in made(script, part) if one.name == sheet).pixels.read(script.painting.rect)[3]
    assert found[:, :115].sum() > 0
    assert found[:, 125:].sum() < 0.02 * found[:, :115].sum()


def test_folds_along_painted_strokes():
    script, part = begun("thin cloth")
    with pytest.raises(InputError, match="choose the layer"):
        script.do(Make(part, "thin cloth", {"folded": "along strokes"}))
    layer = script.layer(part, "sketch")
    script.stroke(layer, HARD.with_changes(size_px=12), (0, 0, 0), [(120, 40, 1), (120, 160, 1)])
    script.do(SetLayer(layer, {"shown": False}))
    script.do(Make(part, "thin cloth", {"folded": "along strokes", "strokes": layer, "sheer": 20.0}))
    found = flattened(script.painting).read(script.painting.rect)[1].astype(float)[70:130].mean(axis=0)
    # The key light stands on the left: that flank of the fold is lit, the other is not.
    assert found[112:118].mean() > 1.05 * found[123:129].mean()
    # Far from it the cloth hangs flat.
    assert np.abs(found[65:75].mean() - found[165:175].mean()) < 0.35 * (found[112:118].mean() - found[123:129].mean())
    with pytest.raises(InputError, match="no layer any more"):
        script.do(Make(part, "thin cloth", {"folded": "along strokes", "strokes": 999}))


def test_blood_is_near_where_a_figure_has_its_zones():
    from japanner.light.pieces import Piece
    from japanner.painting.makers.base import Scene
    from japanner.painting.makers.flesh.blood import warmth
    from japanner.painting.makers.flesh.skin import SKIN

    script = Script.new(240, 300)
    part = script.part("Face", "skin")
    form = script.stand(Maquette((Piece("Somebody", "figure", part=part),), (120.0, 140.0), 90.0, eye=9.0))
    script.fill(part, "flat", (0.7, 0.5, 0.4))
    painting = script.painting
    found = warmth(Scene(painting, painting.part(part), SKIN.checked({}), 1))
    area = Scene(painting, painting.part(part), SKIN.checked({}), 1).form.area

    def at(name):
        x, y = form.on(name)
        return found[int(y) - area.y0, int(x) - area.x0]

    assert min(at("nose tip"), at("left cheek"), at("right cheek")) > 0.5
    assert max(at("between the brows"), at("throat"), at("hairline")) < 0.2
