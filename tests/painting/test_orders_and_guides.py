"""Working orders as data, neutral sheets, and the proportions of the head guide."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.painting import working_order as module
from japanner.painting.model import MATERIALS
from japanner.painting.model.head_guide import BROW, EYE_LINE, MOUTH, NOSE_BASE, HeadGuide, guide_lines
from japanner.painting.operations import Fill, SetFrisket, SetGuide
from japanner.painting.picture.compositor import flattened
from japanner.painting.working_order import next_stage, orders_from, working_order
from japanner.raster.neutral import NEUTRAL
from japanner.scripting import Script
from japanner.stroke.brush.shipped import shipped_brush
from tests.paintings import HARD

OVAL = {"shape": "oval", "x0": 40.0, "y0": 30.0, "x1": 200.0, "y1": 150.0}


@pytest.mark.parametrize("material", MATERIALS)
def test_each_working_order_makes_a_build_that_renders(material):
    script = Script.new(240, 180, ground=(0.4, 0.35, 0.3))
    part = script.part("Part", material)
    script.do(SetFrisket(OVAL))
    for stage in working_order(material):
        assert next_stage(script.painting.part(part)) == stage
        script.do(stage.layer_for(script.painting.part(part)))
        layer = script.painting.part(part).layers[-1]
        assert (layer.role, layer.mode, layer.place) == (stage.role, stage.mode, stage.place)
        before = flattened(script.painting).read(script.painting.rect)
        if stage.role in ("flat", "sketch"):
            script.do(Fill(layer.uid, (0.6, 0.45, 0.35)))
        elif stage.brush:
            brush = shipped_brush(stage.brush).with_changes(size_px=60)
            script.stroke(layer.uid, brush, (0.8, 0.7, 0.6), [(90, 70, 1), (150, 110, 1)])
        after = flattened(script.painting).read(script.painting.rect)
        assert not np.array_equal(after, before), stage.role
    assert next_stage(script.painting.part(part)) is None


@pytest.mark.parametrize("mode", NEUTRAL)
def test_a_neutral_sheet_changes_nothing_until_it_is_painted_on(mode):
    script = Script.new(300, 280, ground=(0.4, 0.35, 0.3))
    part = script.part("Part")
    flat = script.layer(part, "flat")
    script.do(SetFrisket(OVAL))
    script.do(Fill(flat, (0.6, 0.45, 0.35)))
    before = flattened(script.painting).read(script.painting.rect).astype(int)
    layer = script.layer(part, "light", mode=mode, strength=1.0, neutral=True)
    assert script.painting.layer(layer).pixels.bounds() == script.painting.rect
    # Touched, the tile is no longer the shared one, and still neutral where there is no paint.
    script.stroke(layer, HARD.with_changes(size_px=10), (0.9, 0.2, 0.2), [(120, 90, 1)])
    after = flattened(script.painting).read(script.painting.rect).astype(int)
    changed = np.abs(after - before)[:3].max(axis=0)
    changed[70:110, 100:140] = 0
    assert changed.max() < 65535 / 255 / 2


def test_a_neutral_sheet_needs_a_neutral_colour_and_a_flat_under_it():
    script = Script.new(100, 100)
    part = script.part("Part")
    with pytest.raises(InputError, match="neutral"):
        script.layer(part, "light", mode="Normal", neutral=True)
    stage = next(one for one in working_order("metal") if one.role == "light")
    assert stage.neutral
    assert not stage.layer_for(script.painting.part(part)).neutral
    script.layer(part, "flat")
    assert stage.layer_for(script.painting.part(part)).neutral


def test_a_painters_own_orders_take_the_place_of_the_shipped_ones(tmp_path, monkeypatch):
    monkeypatch.setenv("JAPANNER_CONFIG", str(tmp_path))
    module._orders.cache_clear()
    try:
        own = {"format": 1, "skin": [{"role": "flat"}, {"role": "glow", "mode": "Screen", "neutral": True}]}
        (tmp_path / "working_orders.json").write_text(json.dumps(own))
        assert [stage.role for stage in working_order("skin")] == ["flat", "glow"]
        assert working_order("metal")[0].role == "flat"
        assert module.users_trouble() == ""
        module._orders.cache_clear()
        (tmp_path / "working_orders.json").write_text('{"format": 1, "skin": [{"role": "polish"}]}')
        assert len(working_order("skin")) > 2
        assert "role" in module.users_trouble()
    finally:
        monkeypatch.undo()
        module._orders.cache_clear()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ([], "format"),
        ({"format": 2}, "format"),
        ({"format": 1, "wood": []}, "material"),
        ({"format": 1, "skin": []}, "at least one"),
        ({"format": 1, "skin": [{"role": "flat", "shine": 1}]}, "shine"),
        ({"format": 1, "skin": [{"role": "flat", "neutral": True}]}, "neutral"),
        ({"format": 1, "skin": [{"role": "flat", "brush": "Broom"}]}, "brush"),
        ({"format": 1, "skin": 5}, "skin"),
    ],
)
def test_orders_that_make_no_sense_are_refused(data, words):
    with pytest.raises(InputError, match=words):
        orders_from(data)


# --- the head guide -----------------------------------------------------------------------------------


def lines(guide, name):
    found = [line for line in guide_lines(guide) if line.name == name]
    assert found, name
    return np.concatenate([line.points for line in found])


# Common practice of drawing an adult's head from the front: the eye line at half height, the nose base half-way from
# there to the chin, the mouth a third from nose base to chin, five eyes wide with one between, ears from brow to nose.
def test_proportions_of_a_head_from_the_front():
    guide = HeadGuide("human", 300, 400, 200)
    crown = 300.0
    assert lines(guide, "eye line")[:, 1] == pytest.approx(crown + 100)
    assert lines(guide, "nose base")[:, 1] == pytest.approx(crown + 150)
    assert lines(guide, "mouth")[:, 1] == pytest.approx(crown + 166.7, abs=0.1)
    outline = lines(guide, "outline")
    assert np.ptp(outline[:, 0]) == pytest.approx(150, abs=1.5)
    assert (outline[:, 1].min(), outline[:, 1].max()) == pytest.approx((300, 500), abs=1.5)
    corners = np.sort(np.unique(lines(guide, "eye corner")[:, 0].round(3)))
    assert corners - 300 == pytest.approx([-45, -15, 15, 45])
    ear = lines(guide, "ear")
    assert (ear[:, 1].min(), ear[:, 1].max()) == pytest.approx((crown + 200 * BROW, crown + 200 * NOSE_BASE), abs=0.5)
    assert lines(guide, "centre line")[:, 0] == pytest.approx(300)
    assert (EYE_LINE, NOSE_BASE, round(MOUTH, 4)) == (0.5, 0.75, 0.8333)


def test_turning_a_head():
    front, side = HeadGuide("human", 0, 0, 100), HeadGuide("human", 0, 0, 100, yaw_deg=90)
    assert np.ptp(lines(side, "outline")[:, 0]) == pytest.approx(86, abs=1.5)  # as deep as it is, seen from the side
    face = [line for line in guide_lines(side) if line.name == "centre line" and not line.hidden]
    assert np.concatenate([line.points for line in face])[:, 0].max() > 35  # the face looks to the right
    up = lines(HeadGuide("human", 0, 0, 100, pitch_deg=25), "eye line")
    assert up[:, 1].mean() < lines(front, "eye line")[:, 1].mean()
    rolled = lines(HeadGuide("human", 0, 0, 100, roll_deg=90), "eye line")
    assert np.ptp(rolled[:, 0]) < 1e-6


@given(st.floats(-180, 180), st.floats(-90, 90), st.floats(-180, 180), st.sampled_from(["human", "animal"]))
def test_a_turned_head_keeps_its_size(yaw, pitch, roll, kind):
    guide = HeadGuide(kind, 10, 20, 100, yaw, pitch, roll)
    assert guide.turn @ guide.turn.T == pytest.approx(np.eye(3), abs=1e-12)
    form = np.concatenate([line.points for line in guide_lines(guide)])
    assert np.isfinite(form).all()
    assert np.hypot(*(form - (10, 20)).T).max() < 160


def test_an_animals_lengths():
    short, long = HeadGuide("animal", 0, 0, 100, -90, muzzle=0.2), HeadGuide("animal", 0, 0, 100, -90, muzzle=0.8)
    assert lines(long, "nose")[:, 0].min() == pytest.approx(lines(short, "nose")[:, 0].min() - 60, abs=0.5)
    assert not [line for line in guide_lines(HeadGuide("animal", 0, 0, 100, ears=0)) if line.name == "ear"]
    assert np.ptp(lines(HeadGuide("animal", 0, 0, 100), "skull")[:, 1]) == pytest.approx(100, abs=1)


def test_a_guide_belongs_to_a_part_and_is_no_paint():
    script = Script.new(100, 100)
    part = script.part("Drawing", "drawing")
    before = flattened(script.painting).read(script.painting.rect)
    script.do(SetGuide(part, {"kind": "human", "x": 50.0, "y": 50.0, "height_px": 60.0}))
    assert script.painting.part(part).guide == HeadGuide("human", 50, 50, 60)
    assert np.array_equal(flattened(script.painting).read(script.painting.rect), before)
    script.do(SetGuide(part, None))
    assert script.painting.part(part).guide is None


@pytest.mark.parametrize(
    "fields", [{"kind": "robot"}, {"height_px": 0.0}, {"yaw_deg": float("nan")}, {"muzzle": -1.0}, {"hat": 1}]
)
def test_guides_that_cannot_be_are_refused(fields):
    script = Script.new(100, 100)
    script.part("Drawing", "drawing")
    with pytest.raises(InputError):
        script.do(SetGuide(1, fields))
