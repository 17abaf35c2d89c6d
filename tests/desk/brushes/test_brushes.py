"""Brushes in the real window: rolls by material, the brush sheet, the stroke ring."""

from __future__ import annotations

import json

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QInputDialog

from japanner.desk.brushes.pen_panel import PenPanel
from japanner.desk.brushes.practice_pads import PressurePad, TiltDial
from japanner.desk.brushes.preview import dab_image, patch_image, preview_image
from japanner.desk.brushes.setting_rows import Choice
from japanner.desk.panels.brush_roll import _Slot
from japanner.desk.session.hand import Hand
from japanner.desk.session.own_brushes import own_brushes
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.picture_dialog import PictureDialog
from japanner.painting.operations import SetLight
from japanner.painting.picture.picture import Picture
from japanner.stroke.brush.shipped import shipped_brushes
from tests.desk.steps import pump, settle


@pytest.fixture
def sheet(hand):
    hand.key(Qt.Key.Key_L)
    pump()
    yield hand.window.sheet
    hand.window.sheet.close()


def slots(window):
    return [window.session.hand.brushes[slot._index] for slot in window.roll.findChildren(_Slot)]


def test_the_roll_follows_the_material(hand):
    window = hand.window
    assert window.session.hand.roll == "basic"
    rolls = {"skin": "skin", "fur": "coat", "hair": "locks", "drawing": "sketch", "plain": "basic"}
    for material, roll in rolls.items():
        window.building.add_part(material)
        pump()
        assert window.session.hand.roll == roll
        assert slots(window)[0].roll == roll
        assert {brush.roll for brush in slots(window)} == ({roll} if roll == "basic" else {roll, "blend"})


def test_another_roll_is_laid_out_and_the_hand_keeps_its_brush(hand):
    window, session = hand.window, hand.window.session
    held = session.hand.brush
    session.hand.show_roll("metal")
    pump()
    assert {brush.roll for brush in slots(window)} == {"metal", "blend"}
    assert session.hand.brush is held
    slot = window.roll.findChildren(_Slot)[0]
    hand.click(slot)
    assert session.hand.brush.roll == "metal"
    hand.key(Qt.Key.Key_Q)
    assert session.hand.brush is held


def test_slots_move_within_their_roll_only(hand):
    window, session = hand.window, hand.window.session
    first = next(i for i, brush in enumerate(session.hand.brushes) if brush.roll == "skin")
    names = [brush.name for brush in session.hand.brushes if brush.roll == "skin"]
    window.roll.reorder(first, first - 5)
    assert [brush.name for brush in session.hand.brushes if brush.roll == "skin"] == names
    window.roll.reorder(first, first + 2)
    assert [brush.name for brush in session.hand.brushes if brush.roll == "skin"][2] == names[0]


# --- the sheet --------------------------------------------------------------------------------------------


def test_the_sheet_finds_and_takes_brushes(hand, sheet):
    session = hand.window.session
    sheet.search.setText("fur fan")
    names = {
        session.hand.brushes[sheet.names.item(row).data(Qt.ItemDataRole.UserRole)].name
        for row in range(sheet.names.count())
    }
    assert names == {"Comb fan", "Fur tuft", "Soft pelt"}
    QTest.mouseClick(
        sheet.names.viewport(), Qt.MouseButton.LeftButton, pos=sheet.names.visualItemRect(sheet.names.item(0)).center()
    )
    assert session.hand.brush.name == "Fur tuft"


def test_another_theme_draws_the_brushes_in_another_ink(hand, sheet, qtbot):
    def ink():
        image = sheet.names.item(0).icon().pixmap(72, 22).toImage()
        tones = [image.pixelColor(x, y) for x in range(72) for y in range(22)]
        return np.mean([tone.lightness() for tone in tones if tone.alpha() > 128])

    drawn = lambda: not sheet.names.item(0).icon().isNull()  # noqa: E731
    sheet.search.setText("Double coat")
    qtbot.waitUntil(drawn, timeout=5000)
    assert ink() > 140
    hand.command("Look › Theme › Plaster")
    qtbot.waitUntil(drawn, timeout=5000)
    assert ink() < 110
    hand.command("Look › Theme › Lacquer")
    qtbot.waitUntil(drawn, timeout=5000)
    assert ink() > 140


def test_every_setting_changes_the_brush_and_shows_it(hand, sheet):
    session = hand.window.session
    session.hand.take_brush_named("Round")
    fader = sheet.rows["tip"].rows["bristles"]
    assert isinstance(fader, Fader)
    fader.moved.emit(40.0)
    assert session.hand.brush.bristles == 40
    kind = sheet.rows["stroke"].rows["kind"]
    assert isinstance(kind, Choice)
    kind.box.textActivated.emit("feather")
    assert session.hand.brush.kind == "feather"
    assert sheet.rows["blending"].rows["keep_grain_px"].isVisible()
    assert not sheet.rows["blending"].rows["carry"].isVisible()
    kind.box.textActivated.emit("lay")
    grain = sheet.rows["grain"].rows["grain"]
    grain.box.textActivated.emit("plaster")
    assert session.hand.brush.grain == "plaster"
    assert sheet.rows["grain"].rows["grain_depth"].isVisible()
    grain.box.textActivated.emit("none")
    assert session.hand.brush.grain == ""


def test_what_drives_a_setting(hand, sheet):
    from japanner.desk.brushes.drive_rows import DriveRows

    session, rows = hand.window.session, sheet.findChild(DriveRows)
    session.hand.take_brush_named("Wipe")
    rows.setting.box.setCurrentText("size")
    rows.source.box.setCurrentText("speed")
    rows.amount.moved.emit(-60.0)
    rows.high.moved.emit(50.0)
    drive = session.hand.brush.drive("size", "speed")
    assert (drive.amount, drive.high) == (-0.6, 0.5)
    assert session.hand.brush.drive("strength").amount == pytest.approx(0.7)  # what was there stays
    rows.amount.moved.emit(0.0)
    assert session.hand.brush.drive("size", "speed").amount == 0


def test_back_to_how_it_was_shipped(hand, sheet):
    session = hand.window.session
    session.hand.take_brush_named("Dodge")
    before = session.hand.brush
    session.hand.set_brush(size_px=7.0, stops=3.0)
    sheet.reset()
    assert session.hand.brush == before


def test_keeping_writing_and_taking_brushes(hand, sheet, tmp_path, monkeypatch):
    session = hand.window.session
    session.hand.take_brush_named("Fur tuft")
    session.hand.set_brush(size_px=77.0)
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("Otter cheek", True))
    sheet.keep()
    assert (session.hand.brush.name, session.hand.brush.roll, session.hand.roll) == ("Otter cheek", "own", "own")
    assert [brush.name for brush in own_brushes()] == ["Otter cheek"]
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "b"), ""))
    sheet.save()
    written = json.loads((tmp_path / "b.json").read_text())
    assert written["brushes"][0]["size_px"] == 77.0
    written["brushes"][0]["wings"] = 2
    (tmp_path / "b.json").write_text(json.dumps(written))
    monkeypatch.setattr(PictureDialog, "asked", lambda *_, **__: str(tmp_path / "b.json"))
    sheet.open()
    assert "wings is not a setting" in hand.window.messages.message.text()
    assert [brush.name for brush in own_brushes()] == ["Otter cheek"] * 2
    (tmp_path / "b.json").write_text("soup")
    sheet.open()
    assert "b.json was not taken" in hand.window.messages.message.text()


# --- the pen ----------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["short flick", "spiral"])
def test_a_trace_is_played_as_a_pen_would(hand, name):
    window, session = hand.window, hand.window.session
    session.hand.take_brush_named("Round")
    hand.command(f"Stroke › Play a trace › {name.capitalize()}")
    while window.desk.traces.playing:
        window.desk.traces.step()
    record = session.document.records[-1]
    pressures = [row[2] for row in record["samples"]]
    assert record["op"] == "stroke"
    assert max(pressures) > 0.5
    assert min(pressures) < max(pressures) - 0.2
    assert {row[3] for row in record["samples"]} != {0.0}  # it leans


def test_strokes_are_made_straight_when_the_pen_is_lifted(hand):
    session = hand.window.session
    session.hand.take_brush_named("Round")
    session.hand.steady(assist="straight")
    hand.pen([(100, 100), (160, 140), (220, 60), (300, 100)])
    rows = np.array([row[:2] for row in session.document.records[-1]["samples"]])
    assert np.abs(rows[:, 1] - 100).max() < 0.01
    bounds = session.layer.pixels.bounds()
    assert bounds.height < session.hand.brush.size_px + 4  # nothing of what was drawn on the way is left
    assert np.abs(np.array(session.picture.value_at(160, 140)) - session.painting.ground).max() < 0.01


def test_a_lagging_brush_arrives(hand):
    session = hand.window.session
    session.hand.take_brush_named("Round")
    session.hand.steady(lag_ms=300.0)
    hand.pen([(100, 100), (160, 100), (220, 100), (300, 100)])
    rows = np.array([row[:2] for row in session.document.records[-1]["samples"]])
    assert rows[3, 0] < 150
    assert rows[-1] == pytest.approx((300, 100), abs=0.5)


def test_the_pressure_curve_of_the_pen_is_kept(hand):
    session = hand.window.session
    session.hand.set_pen_curve(low=0.2, high=0.8, gamma=2.0)
    hand.pen([(100, 100, 0.5), (200, 100, 0.5)])
    assert {row[2] for row in session.document.records[-1]["samples"]} == {0.25}
    assert (Hand().pen_curve.low, Hand().pen_curve.gamma) == (0.2, 2.0)
    session.hand.set_pen_curve(low=0.0, high=1.0, gamma=1.0)


def test_the_pad_sets_pressure_and_over_what_way_it_grows(hand):
    session, pad = hand.window.session, hand.window.findChild(PressurePad)
    session.hand.set_practice_pen(source="taper", pressure=0.5, taper_px=100.0)
    for key in (Qt.Key.Key_Up, Qt.Key.Key_Up, Qt.Key.Key_Right):
        QTest.keyClick(pad, key)
    assert session.hand.practice_pen.pressure == pytest.approx(0.6)
    assert 110 < session.hand.practice_pen.taper_px < 140
    hand.drag_on(pad, [(10, 30), (56, 2)])
    assert (session.hand.practice_pen.pressure, session.hand.practice_pen.taper_px) == pytest.approx(
        (1.0, 1000.0), rel=0.01
    )
    hand.mouse([(100, 100), (300, 100)])
    pressures = [row[2] for row in session.document.records[-1]["samples"]]
    assert pressures == pytest.approx([0.2, 0.36], abs=0.02)
    session.hand.set_practice_pen(source="fixed")
    hand.drag_on(pad, [(10, 29)])
    assert session.hand.practice_pen.pressure == pytest.approx(0.5, abs=0.02)


def test_a_pen_without_pressure_practises_and_the_choice_is_kept(hand):
    window, session = hand.window, hand.window.session
    panel = window.findChild(PenPanel)
    assert not panel._device.isVisibleTo(panel)
    session.hand.set_practice_pen(source="fixed", pressure=0.4)
    hand.pen([(100, 100, 0.9), (200, 100, 0.9)])
    assert session.hand.pen_met == "tablet"
    assert {row[2] for row in session.document.records[-1]["samples"]} == {0.9}
    panel._device.box.activated.emit(1)
    hand.pen([(100, 120, 0.9), (200, 120, 0.9)])
    assert {row[2] for row in session.document.records[-1]["samples"]} == {0.4}
    assert Hand().practises("tablet")
    panel._device.box.activated.emit(0)
    session.hand.meet_pen("plain stick", presses=False)
    assert session.hand.practises("plain stick")
    assert panel._device.box.currentText() == "practice pen"


def test_the_practice_pen_leans(hand):
    session, dial = hand.window.session, hand.window.findChild(TiltDial)
    QTest.keyClick(dial, Qt.Key.Key_Right)
    QTest.keyClick(dial, Qt.Key.Key_Up)
    hand.mouse([(100, 100), (200, 100)])
    row = session.document.records[-1]["samples"][0]
    assert row[3:5] == pytest.approx((5, -5), abs=0.01)


# --- the ring and previews -------------------------------------------------------------------------------


def test_the_wheel_turns_the_tip_in_the_stroke_ring(hand):
    session, easel = hand.window.session, hand.easel
    session.hand.take_brush_named("Chisel chalk")
    before, zoom = session.hand.brush.turn_deg, easel.view.zoom
    hand.hover(240, 180)
    hand.press(Qt.Key.Key_G)
    hand.wheel(hand.view(240, 180), 3)
    assert session.hand.brush.turn_deg == pytest.approx(before + 15)
    assert easel.view.zoom == zoom
    assert "50°" in easel._ring.words()
    hand.release(Qt.Key.Key_G)
    hand.wheel(hand.view(240, 180), 1)
    assert easel.view.zoom > zoom


@pytest.mark.parametrize("brush", shipped_brushes(), ids=lambda brush: brush.name)
def test_every_shipped_brush_has_a_preview_that_shows_it(qapp, brush):
    image = preview_image(brush, 72, 24, (0.9, 0.9, 0.9))
    assert image.width() == 144
    assert any(image.pixelColor(x, y).alpha() > 30 for x in range(10, 134, 2) for y in range(0, 48, 2))
    patch = patch_image(brush, 200, 100, (0.7, 0.3, 0.2))
    plain = patch_image(brush.with_changes(strength=0.0), 200, 100, (0.7, 0.3, 0.2))
    assert patch != plain or brush.kind == "sharpen"
    assert dab_image(brush, 40, (0.7, 0.3, 0.2)).pixelColor(20, 20).alpha() >= 0


def test_thick_paint_in_the_window(hand):
    window, session = hand.window, hand.window.session
    window.building.add_part("plain")
    session.hand.take_brush(next(i for i, one in enumerate(session.hand.brushes) if one.name == "Thick fold"))
    session.hand.set_brush(size_px=50.0)
    session.hand.set_colour((0.6, 0.5, 0.4))
    hand.pen([(120, 180, 1.0), (240, 190, 1.0), (360, 180, 1.0)])
    relief = session.layer.relief
    assert relief.heights.bounds().width > 200
    shown = np.array(session.picture.levels[0])
    hand.command("Layer › Relief › Amount and gloss")
    task = window.tasks["relief"]
    assert (task.amount.value(), task.gloss.value()) == (100, 25)
    task.amount.setValue(300)
    assert session.trials.trial is not None
    hand.key(Qt.Key.Key_Return)
    settle(window)
    assert session.layer.relief.amount == pytest.approx(3)
    assert session.layer.relief.heights is relief.heights
    assert (np.array(session.picture.levels[0]) != shown).any()
    # What is on the easel is what the painting says, also after the light has moved.
    session.apply(SetLight(-30.0, 50.0))
    assert np.array_equal(session.picture.levels[0], Picture(session.painting).levels[0])
    before = np.array(session.picture.levels[0])
    hand.command("Layer › Relief › Flatten into paint")
    assert session.layer.relief is None
    codes = [np.ascontiguousarray(one).view(np.uint8).astype(int) for one in (before, session.picture.levels[0])]
    assert np.abs(codes[0] - codes[1]).max() <= 2
    hand.command("Edit › Undo")
    assert np.array_equal(session.picture.levels[0], before)


def test_the_roll_shows_thick_strokes_as_they_are_lit():
    thick = next(one for one in shipped_brushes() if one.name == "Thick fold")
    ink = (0.6, 0.5, 0.4)
    flat, lit = (preview_image(one, 120, 40, ink) for one in (thick.with_changes(thick_px=0.0), thick))
    tones = [{flat_or_lit.pixelColor(x, 40).value() for x in range(60, 180)} for flat_or_lit in (flat, lit)]
    assert max(tones[1]) > max(tones[0])
    assert flat.pixelColor(120, 40).alpha() == lit.pixelColor(120, 40).alpha()
