"""What two hours at a real bench brought up, each held by a test."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from japanner.desk.easel.easel import Easel
from japanner.desk.panels.mixing_grid import MixingGrid
from japanner.desk.widgets.picture_dialog import PictureDialog, picture_of
from japanner.painting.makers import MAKERS, start_of
from japanner.painting.operations import AddLayer, AddPart, Fill, SetFrisket, SetLight
from japanner.review.separation import separation_of
from japanner.scripting import Script

Key = Qt.Key
BOX = {"shape": "box", "x0": 100, "y0": 80, "x1": 380, "y1": 280}


def grey_of(easel: Easel) -> np.ndarray:
    image = easel.grab().toImage().convertToFormat(QImage.Format.Format_Grayscale8)
    rows = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine())
    return rows[60 : image.height() - 60, 60 : image.width() - 60].astype(float)


def roughness(grey: np.ndarray) -> float:
    return float(np.abs(np.diff(grey, axis=1)).max())


@pytest.mark.parametrize("zoom", [0.4, 1.0, 4.0])
def test_a_squint_is_seen_at_every_zoom_held_and_released(hand, zoom):
    session, easel = hand.window.session, hand.easel
    session.apply(SetFrisket(BOX))
    session.apply(Fill(session.work.active_layer, (0.95, 0.95, 0.9)))
    hand.command("Frisket › Drop")
    easel.look_at(240 if zoom < 4 else 100, 180, zoom=zoom)
    sharp = roughness(grey_of(easel))
    QTest.keyPress(easel, Key.Key_S)
    for _ in range(4):  # as a key that is held repeats itself
        hand.repeat(Key.Key_S)
    assert easel.holding == "squint"
    assert "SQUINT" in easel.foot_text()
    assert roughness(grey_of(easel)) < sharp / 3
    QTest.keyRelease(easel, Key.Key_S)
    assert easel.holding is None
    assert roughness(grey_of(easel)) == sharp


def test_skin_begins_with_a_skin_colour_and_rows_have_names(hand):
    session = hand.window.session
    session.hand.set_colour((0.1, 0.2, 0.9))
    hand.window.building.add_part("skin")
    r, g, b = session.hand.colour
    assert r > g > b
    session.apply(Fill(session.work.active_layer, session.hand.colour))
    grid = hand.window.parts.findChild(MixingGrid)
    assert grid.row_in_use is not None
    session.hand.set_colour(grid.colours()[2][2])
    assert grid.row_in_use == 2


def test_a_bright_bell_on_a_dark_ground_is_not_lost():
    """Half of its edge is light, half is black: the means of the bands cancelled, and the rail said lost, +0."""
    y, x = np.mgrid[:200, :200]
    mask = np.hypot(x - 100, y - 100) < 60
    colours = np.zeros((200, 200, 3))
    colours[..., 0] = 40
    colours[mask, 0] = np.where(x < 100, 75, 5)[mask]
    found = separation_of(colours, mask, 8)
    assert abs(found.values) < 6
    assert found.word == "clear"
    assert found.clear > 0.85
    assert found.clear + found.close + found.lost == pytest.approx(1)


def test_a_light_that_is_none_of_the_six_is_called_own(hand):
    from dataclasses import replace

    from japanner.desk.brushes.setting_rows import Choice

    session = hand.window.session
    box = next(one.box for one in hand.window.right.findChildren(Choice) if one.box.accessibleName() == "light")
    assert box.currentText() == "studio"
    session.apply(SetLight.of(replace(session.painting.light, up_deg=11.0)))
    assert box.currentIndex() == -1
    assert box.placeholderText() == "own"


def test_readouts_follow_when_the_view_changes_under_the_pointer(hand, heard):
    session, easel = hand.window.session, hand.easel
    session.apply(SetFrisket(BOX))
    session.apply(Fill(session.work.active_layer, (0.9, 0.9, 0.9)))
    hand.hover(240, 180)
    seen = heard(easel.pointed)
    easel.look_at(-200, -200, zoom=2.0)  # the canvas has gone from under it
    assert seen[-1] is None or seen[-1] != pytest.approx((0.9, 0.9, 0.9), abs=0.02)


def test_a_frisket_is_nothing_to_save_for(hand, tmp_path):
    session = hand.window.session
    session._saved_painting = session.painting
    session.apply(SetFrisket(BOX))
    assert not session.unsaved
    session.apply(Fill(session.work.active_layer, (0.9, 0.9, 0.9)))
    assert session.unsaved


def test_whether_friskets_are_steps_is_a_switch(hand):
    session = hand.window.session
    session.apply(Fill(session.work.active_layer, (0.9, 0.9, 0.9)))
    for x1 in (200, 300):
        session.apply(SetFrisket({**BOX, "x1": x1}))
    hand.key(Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.painting.frisket is not None
    hand.key(Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    hand.command("Edit › Friskets are steps of undo")
    hand.key(Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.painting.frisket is None
    assert not session.layer.pixels.tiles  # friskets and the fill before them, in one step
    hand.command("Edit › Friskets are steps of undo")


def test_saved_ago_follows_no_opening(hand, tmp_path):
    window = hand.window
    made = Script.new(60, 40, title="Bell")
    made.save(tmp_path / "bell.ora")
    window.session._saved_painting = window.session.painting
    window.files.open(tmp_path / "bell.ora")
    window.files.wait()
    QApplication.processEvents()
    assert window.name_corner.text() == "Bell — from bell.ora"
    window.session.apply(AddPart("Bell", "metal"))
    assert window.name_corner.text() == "Bell — from bell.ora, changed since"
    window.files.save()
    window.files.wait()
    QApplication.processEvents()
    assert "saved 0 s ago" in window.name_corner.text()


def test_the_brush_sheet_closes_by_escape_and_by_its_key(hand):
    for key in (Key.Key_Escape, Key.Key_L):
        hand.key(Key.Key_L)
        sheet = hand.window.sheet
        sheet.activateWindow()
        QTest.qWaitForWindowActive(sheet)
        QTest.keyClick(sheet, key)
        assert not sheet.isVisible()


def test_a_duplicated_layer_is_in_hand(hand):
    session = hand.window.session
    first = session.work.active_layer
    hand.command("Layer › Duplicate layer")
    assert session.work.active_layer != first
    assert session.layer is session.part.layers[1]


def test_dialogs_remember_their_folder_by_purpose(hand, tmp_path, monkeypatch):
    asked = []

    def answer(window, title, start, kinds):
        asked.append((title, start))
        return str(tmp_path / "pictures" / "a.png")

    (tmp_path / "pictures").mkdir()
    monkeypatch.setattr(PictureDialog, "asked", answer)
    from japanner.desk.widgets.questions import ask_where_from

    ask_where_from(hand.window, "Open", "*")
    ask_where_from(hand.window, "Open", "*")
    ask_where_from(hand.window, "Pin a picture", "*")
    assert asked == [("Open", ""), ("Open", str(tmp_path / "pictures")), ("Pin a picture", "")]


def test_an_eye_on_fur_is_an_animals(hand):
    session = hand.window.session
    session.apply(AddPart("Head", "fur"))
    session.apply(AddPart("Eye", "eye"))
    eye = session.painting.parts[-1]
    begins = start_of(MAKERS["eye"], session.painting, eye)
    assert begins["iris_mm"] > 9  # the iris fills the opening
    assert max(begins["lid"]) < 0.15  # dark lids
    plain = start_of(MAKERS["eye"], session.painting, session.painting.parts[0])
    assert plain["lid"] == MAKERS["eye"].checked({})["lid"]


def test_adding_a_part_does_not_wait_for_previews(hand, qtbot, monkeypatch):
    """A second went by before: all brushes of the roll were drawn first."""
    from japanner.desk.panels import brush_roll

    drawn, draw = [], brush_roll.preview_image
    monkeypatch.setattr(brush_roll, "preview_image", lambda *what: drawn.append(what) or draw(*what))
    previews = hand.window.roll.previews
    previews._made.clear()
    hand.window.building.add_part("cloth")
    assert drawn == []
    brush = hand.window.session.hand.brush
    assert previews.of(brush) is None
    qtbot.waitUntil(lambda: previews.of(brush) is not None, timeout=5000)


def test_words_over_bars_can_be_read(hand):
    session, rail = hand.window.session, hand.window.rail
    session.apply(AddLayer(session.work.active_part, "light"))
    rail.measure()
    still = rail._draw_still().toImage()
    x = round(rail.x_of(session.part.scale[2]))
    y = round(rail._ramp().bottom() + 11)
    assert still.pixelColor(x - 44, y).lightness() < 60


def test_dialogs_show_the_picture_of_a_file(hand, tmp_path):
    Script.new(64, 48, title="Red", ground=(0.8, 0.1, 0.1)).save(tmp_path / "red.ora")
    picture = picture_of(tmp_path / "red.ora")
    assert picture.toImage().pixelColor(10, 10).red() > 150
    Script.new(64, 48, title="Green", ground=(0.1, 0.7, 0.1)).export(tmp_path / "green.png")
    assert picture_of(tmp_path / "green.png").toImage().pixelColor(10, 10).green() > 130
    (tmp_path / "words.txt").write_text("words")
    assert picture_of(tmp_path / "words.txt").isNull()
    dialog = PictureDialog(hand.window, "Open", str(tmp_path), "All files (*)")
    dialog.show()
    dialog.currentChanged.emit(str(tmp_path / "red.ora"))
    assert dialog.preview.isVisible()
    assert dialog.preview.pixmap().width() == 190
    dialog.currentChanged.emit(str(tmp_path / "words.txt"))
    assert dialog.preview.text() == "no picture"
    dialog.close()
