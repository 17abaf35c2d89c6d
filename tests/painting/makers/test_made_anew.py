"""Made layers know what they were made from: marked when that has changed, and made anew in order."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.files.ora_read import opened
from japanner.painting.makers import outdated
from japanner.painting.operations import DropFrisket, Fill, Make, MakeAnew, SetFrisket, SetLight
from japanner.scripting import Script, shipped_brush


def disc(x, y, r):
    return {"shape": "oval", "x0": x - r, "y0": y - r, "x1": x + r, "y1": y + r}


def part_of(script, name, material, shape, colour):
    part = script.part(name, material)
    layer = script.layer(part, "flat")
    script.do(SetFrisket(shape))
    script.do(Fill(layer, colour))
    script.do(DropFrisket())
    return part


@pytest.fixture
def still_life():
    """A ground, a glass ball before it, and a metal one beside."""
    script = Script.new(260, 160)
    ground = script.layer(script.part("Ground"), "flat")
    script.do(Fill(ground, (0.5, 0.45, 0.4)))
    glass = part_of(script, "Glass", "glass", disc(80, 80, 50), (0.5, 0.7, 0.6))
    metal = part_of(script, "Metal", "metal", disc(190, 80, 45), (0.6, 0.5, 0.3))
    script.do(Make(glass, "glass", {"caustic": 0.0}, seed=1))
    script.do(Make(metal, "metal", {"bloom": 0.0}, seed=1))
    return script, ground, glass, metal


def stale(script):
    return [(one.name, [made.maker for made in outdated(script.painting, one)]) for one in script.painting.parts]


def names(script):
    return {name for name, runs in stale(script) if runs}


def test_what_lies_behind_and_beside_marks_what_shows_it(still_life):
    script, ground, *_ = still_life
    script.do(MakeAnew()) if names(script) else None
    assert not names(script)  # though each of the two is seen in the other
    brush = shipped_brush("Round").with_changes(size_px=30.0)
    script.stroke(ground, brush, (0.9, 0.9, 0.8), [(20, 80, 1.0), (240, 80, 1.0)])
    assert names(script) == {"Glass", "Metal"}
    script.do(MakeAnew())
    assert not names(script)


def test_making_anew_shows_what_has_changed_and_keeps_names_and_paint(still_life):
    script, ground, glass, _ = still_life
    before = {one.name: one for one in script.painting.part(glass).layers}
    script.stroke(
        ground, shipped_brush("Round").with_changes(size_px=60.0), (1, 0.1, 0.1), [(20, 80, 1.0), (240, 80, 1.0)]
    )
    script.do(MakeAnew(glass))
    after = {one.name: one for one in script.painting.part(glass).layers}
    assert list(after) == list(before)
    seen = [one["Seen through"].pixels.read(script.painting.rect)[:3, 80, 80].astype(float) for one in (before, after)]
    assert seen[1][0] - seen[1][1] > seen[0][0] - seen[0][1] + 5000
    assert not outdated(script.painting, script.painting.part(glass))


def test_the_light_marks_all_and_painting_on_the_part_none(still_life):
    script, _, glass, _ = still_life
    script.do(MakeAnew()) if names(script) else None
    own = script.layer(glass, "highlight")
    script.stroke(own, shipped_brush("Round").with_changes(size_px=10.0), (1, 1, 1), [(80, 60, 1.0), (90, 60, 1.0)])
    assert not outdated(script.painting, script.painting.part(glass))
    light = script.painting.light
    script.do(SetLight(light.up_deg - 20, light.right_deg))
    assert names(script) == {"Glass", "Metal"}


def test_nothing_out_of_date_is_said(still_life):
    script = still_life[0]
    script.do(MakeAnew()) if names(script) else None
    with pytest.raises(InputError, match="out of date"):
        MakeAnew().apply(script.painting)


def test_what_was_painted_on_wholly_or_is_not_known_is_not_marked(still_life):
    script, _, glass, _ = still_life
    painting = script.painting
    part = painting.part(glass)
    for changes in ({"on": True}, {"seen": 0}):
        layers = tuple(
            one if one.made is None else replace(one, made=replace(one.made, **changes)) for one in part.layers
        )
        assert not outdated(painting.with_part(glass, layers=layers), replace(part, layers=layers))


def test_files_keep_what_layers_were_made_from_but_in_eight_bits(still_life, tmp_path):
    script = still_life[0]
    script.save(tmp_path / "whole.ora")
    script.save(tmp_path / "small.ora", 8)
    painting = opened(tmp_path / "whole.ora").painting
    assert [[one.run for one in outdated(painting, part)] for part in painting.parts] == [
        [one.run for one in outdated(script.painting, part)] for part in script.painting.parts
    ]
    small = opened(tmp_path / "small.ora").painting
    assert {one.made.seen for part in small.parts for one in part.layers if one.made} == {0}
    assert np.isfinite([one.made.run for part in small.parts for one in part.layers if one.made]).all()


@pytest.mark.parametrize("maker", ["flesh strokes", "coat"])
def test_paint_beneath_counts_for_what_takes_its_colours_from_it_and_paint_above_does_not(maker):
    script = Script.new(200, 160)
    part = part_of(script, "Fur", "fur", disc(100, 80, 60), (0.5, 0.4, 0.3))
    marks = script.layer(part, "undertone", mode="Normal", strength=1.0)
    settings = {"length": 12.0} if maker == "coat" else {"brush": 14.0}
    script.do(Make(part, maker, settings, seed=1))
    made = [one.uid for one in script.painting.part(part).layers if one.made]
    glaze = script.layer(part, "texture", mode="Normal", strength=1.0)
    brush = shipped_brush("Round").with_changes(size_px=40.0)
    script.stroke(glaze, brush, (0.1, 0.2, 0.9), [(60, 80, 1.0), (140, 80, 1.0)])
    assert not names(script)
    script.stroke(marks, brush, (0.9, 0.85, 0.8), [(60, 60, 1.0), (140, 60, 1.0)])
    assert names(script) == {"Fur"}
    script.do(MakeAnew())
    assert not names(script)
    # Nothing of the blue above has come into it.
    for uid in made:
        codes = script.painting.layer(uid).pixels.read(script.painting.rect).astype(float)
        bluer = (codes[2] > 1.1 * codes[0]) & (codes[3] > 20000)
        assert bluer[70:90, 70:130].mean() < 0.05
