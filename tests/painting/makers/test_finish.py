"""The last punch: what it does to colours, that its sheets come to just that, and that nothing beneath is touched."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import lab, oklab, srgb
from japanner.painting.makers.finish import toned
from japanner.painting.operations import AddLayer, AddPart, Fill, Gradient, Make, SetPart
from japanner.painting.picture.compositor import flattened
from japanner.scripting import Script

NONE = {"contrast": 0.0, "about": 45.0, "chroma": 0.0, "warm": 0.0, "cool": 0.0}
OFF = {**NONE, "local": 0.0, "vignette": 0.0, "grain": 0.0}


def grey_of(*values):
    return np.repeat(srgb.encode(lab.luminance_from_lightness(np.array(values, float)))[:, None], 3, axis=1)


@pytest.fixture
def painting():
    """A ramp from dark to light on one part, a red piece on another."""
    script = Script.new(320, 240, title="Plain")
    first = script.part("Back")
    layer = script.layer(first, "flat")
    script.do(Gradient(layer, "linear", (0, 0, 320, 0), (0.1, 0.12, 0.15, 1), (0.9, 0.85, 0.8, 1)))
    return script.painting


def codes(painting):
    return flattened(painting).read(painting.rect)[:3].astype(int)


def values_of(painting):
    return lab.lightness_from_srgb(np.moveaxis(codes(painting), 0, -1) / 65535)


def finished(painting, **settings):
    return Make(0, "finish", {**OFF, **settings}).apply(painting)[0]


@given(st.floats(-60, 100), st.floats(20, 80))
def test_contrast_leaves_black_white_and_its_middle_and_always_rises(contrast, about):
    values = np.array([0.0, about, 100.0, *np.linspace(0, 100, 60)])
    found = lab.lightness_from_srgb(toned(grey_of(*values), {**NONE, "contrast": contrast, "about": about}))
    assert found[:3] == pytest.approx([0, about, 100], abs=0.05)
    assert (np.diff(found[3:]) > -1e-3).all()
    beside = grey_of(about - 0.4, about + 0.4)
    near = lab.lightness_from_srgb(toned(beside, {**NONE, "contrast": contrast, "about": about}))
    assert (near[1] - near[0]) / 0.8 == pytest.approx(1 + contrast / 100, rel=0.025), "its slope is what is asked for"


def test_chroma_warm_and_cool_move_colours_as_they_say():
    skin = np.array([[0.7, 0.5, 0.4]])
    more = oklab.oklch_from_srgb(toned(skin, {**NONE, "chroma": 20.0}))
    before = oklab.oklch_from_srgb(skin)
    assert more[0, 1] == pytest.approx(1.2 * before[0, 1], rel=0.01)
    assert more[0, 2] == pytest.approx(before[0, 2], abs=0.5)
    light, dark = toned(grey_of(80, 20), {**NONE, "warm": 100.0, "cool": 100.0})
    assert light[0] > light[2] + 0.02, "lights turn to the lamp"
    assert dark[2] > dark[0] + 0.02, "shadows to the sky"
    ends = toned(grey_of(0, 100), {**NONE, "warm": 100.0, "cool": 100.0})
    assert ends == pytest.approx(grey_of(0, 100), abs=2e-3), "black and white have no colour"


def test_the_sheets_come_to_the_finished_picture(painting):
    before = codes(painting)
    after = finished(painting, contrast=40.0, chroma=30.0, warm=50.0, cool=50.0)
    part = after.parts[-1]
    assert part.name == "Finish"
    assert [(one.name, one.mode, one.place) for one in part.layers] == [
        ("Darker", "Multiply", "over"), ("Lighter", "Screen", "over"),
    ]  # fmt: skip
    wanted = toned(
        before.reshape(3, -1).T / 65535, {**NONE, "contrast": 40.0, "chroma": 30.0, "warm": 50.0, "cool": 50.0}
    )
    apart = np.abs(codes(after).reshape(3, -1).T / 65535 - wanted)
    assert apart.max() < 0.008, "the table's error where the gamut ends, and no more"
    assert apart.mean() < 0.0006
    hidden = SetPart(part.uid, {"shown": False}).apply(after)[0]
    assert (codes(hidden) == before).all(), "turned off, nothing is left of it"


def test_paint_beneath_is_seen_at_once_and_made_anew_when_asked(painting):
    after = finished(painting, contrast=40.0)
    layer = after.parts[0].layers[0].uid
    darker = Fill(layer, (0.2, 0.1, 0.1), "canvas").apply(after)[0]
    assert codes(darker)[0].mean() < codes(after)[0].mean() * 0.6
    run = darker.parts[-1].layers[0].made.run
    again = Make(0, "finish", {**OFF, "contrast": 40.0}, again=run).apply(darker)[0]
    assert len(again.parts[-1].layers) == 2
    direct = finished(Fill(layer, (0.2, 0.1, 0.1), "canvas").apply(painting)[0], contrast=40.0)
    assert np.abs(codes(again) - codes(direct)).max() <= 2


def test_its_part_comes_to_the_front_again(painting):
    after = finished(painting, contrast=20.0)
    more = AddPart("Hat").apply(after)[0]
    run = after.parts[-1].layers[0].made.run
    again = Make(0, "finish", {**OFF, "contrast": 20.0}, again=run).apply(more)[0]
    assert [part.name for part in again.parts] == ["Back", "Hat", "Finish"]


def test_local_contrast_moves_values_away_from_their_surroundings_but_not_far():
    script = Script.new(300, 200)
    part = script.part("Back")
    layer = script.layer(part, "flat")
    script.do(Gradient(layer, "linear", (145, 0, 155, 0), (0.4, 0.4, 0.4, 1), (0.6, 0.6, 0.6, 1)))
    before, after = (
        values_of(one)[100] for one in (script.painting, finished(script.painting, local=100.0, local_px=40.0))
    )
    assert after[160] > before[160] + 3
    assert after[140] < before[140] - 3
    assert after[20] == pytest.approx(before[20], abs=0.3), "far from the edge nothing moves"
    assert np.abs(after - before).max() <= 14.1


def test_vignette_and_grain():
    script = Script.new(300, 200)
    layer = script.layer(script.part("Back"), "flat")
    script.do(Fill(layer, (0.5, 0.5, 0.5), "canvas"))
    dark = values_of(finished(script.painting, vignette=80.0, vignette_from=20.0))
    assert dark[100, 150] > dark[100, 20] > dark[2, 2]
    assert dark[100, 150] == pytest.approx(values_of(script.painting)[100, 150], abs=0.2)
    grain = values_of(finished(script.painting, grain=60.0))
    assert grain.std() > 1.5
    assert grain.mean() == pytest.approx(values_of(script.painting).mean(), abs=0.6)
    black = Fill(layer, (0.0, 0.0, 0.0), "canvas").apply(script.painting)[0]
    assert values_of(finished(black, grain=60.0)).max() < 0.05, "black stays"


def test_it_lies_over_everything_without_flats_of_its_own(painting):
    after = finished(painting, vignette=50.0)
    assert not after.parts[-1].flats
    more = AddLayer(after.parts[-1].uid, "detail").apply(after)[0]
    assert len(more.parts[-1].layers) == 2
