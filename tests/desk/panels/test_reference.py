"""The reference board: in the column, beside the easel, in a window, over the canvas."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt
from PySide6.QtGui import QDropEvent, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from japanner.desk.panels.reference_picture import ReferencePicture
from japanner.files import png
from japanner.painting.operations import PinPicture
from japanner.raster.codec import to_text

Key = Qt.Key


def picture(left, right):
    """Left and right halves of two colours, 200 x 100 px."""
    pixels = np.full((4, 100, 200), 65535, np.uint16)
    for part, colour in ((slice(0, 100), left), (slice(100, 200), right)):
        for channel in range(3):
            pixels[channel, :, part] = round(colour[channel] * 65535)
    return to_text(pixels)


@pytest.fixture
def session(hand):
    session = hand.window.session
    session.apply(PinPicture("Otter", picture((0.8, 0.2, 0.2), (0.1, 0.1, 0.3))))
    session.apply(PinPicture("Bell", picture((0.9, 0.8, 0.3), (0.2, 0.2, 0.1))))
    return session


def seen(widget, x, y):
    colour = widget.grab().toImage().pixelColor(x, y)
    return colour.red(), colour.green(), colour.blue()


def test_a_double_click_opens_it_large_beside_the_easel(hand, session):
    window = hand.window
    small = window.right.findChildren(type(window.board.pictures[0]))[1]
    before = hand.easel.width()
    QTest.mouseDClick(small, Qt.MouseButton.LeftButton, pos=QPoint(60, 60))
    QApplication.processEvents()
    assert window.board.isVisible()
    assert [one._name for one in window.board.pictures] == ["Bell"]
    assert window.board.pictures[0].height() > 250
    assert hand.easel.width() < before
    assert window.board.geometry().left() > hand.easel.geometry().right()


def test_the_pane_is_dragged_and_closed(hand, session):
    window = hand.window
    hand.key(Key.Key_F7)
    wide, grip = window.board.width(), window.bench._grips["board"]
    QTest.mousePress(grip, Qt.MouseButton.LeftButton, pos=grip.rect().center())
    QTest.mouseMove(grip, grip.rect().center() - QPoint(120, 0))
    QTest.mouseRelease(grip, Qt.MouseButton.LeftButton)
    assert window.board.width() == pytest.approx(wide + 120, abs=4)
    window.board.closed.emit()
    assert not window.board.isVisible()


def test_looks_mirror_and_picking_up(hand, session):
    window = hand.window
    window.show_reference("beside", 0)
    QApplication.processEvents()
    shown, pane = window.board.pictures[0], window.board
    left, middle = shown.width() // 4, shown.height() // 2
    assert seen(shown, left, middle)[0] > 180
    pane.how.setCurrentText("values")
    pane.how.activated.emit(1)
    r, g, b = seen(shown, left, middle)
    assert r == g == b
    pane.how.setCurrentText("steps")
    pane.how.activated.emit(2)
    greys = {seen(shown, x, middle) for x in (left, 3 * left)}
    assert len(greys) == 2
    pane.how.setCurrentText("colour")
    pane.how.activated.emit(0)
    pane.mirrored.click()
    assert seen(shown, 3 * left, middle)[0] > 180
    QTest.mousePress(shown, Qt.MouseButton.RightButton, pos=QPoint(3 * left, middle))
    QTest.mouseRelease(shown, Qt.MouseButton.RightButton, pos=QPoint(3 * left, middle))
    assert session.hand.colour == pytest.approx((0.8, 0.2, 0.2), abs=0.01)


def test_linked_it_looks_where_the_easel_looks(hand, session):
    window, easel = hand.window, hand.easel
    window.show_reference("beside", 0)
    window.board.linked.click()
    shown = window.board.pictures[0]
    width, height = session.painting.width, session.painting.height
    easel.look_at(
        width / 4, height / 2, zoom=4 * min(easel.view.size.width() / width, easel.view.size.height() / height)
    )
    assert shown._zoom == pytest.approx(4, rel=0.01)
    assert shown._middle == QPointF(50, 50)


def test_a_window_of_its_own_with_several(hand, session):
    window = hand.window
    hand.command("Look › Reference › In its own window")
    assert window.reference.isVisible()
    pane = window.reference.pane
    pane.which.setCurrentIndex(0)
    pane.which.activated.emit(0)
    assert [one._name for one in pane.pictures] == ["Otter", "Bell"]
    window.reference.close()


def test_over_the_canvas_it_is_placed_and_is_no_paint(hand, session):
    easel = hand.easel
    records = len(session.document.records)
    hand.key(Key.Key_F7, Qt.KeyboardModifier.ShiftModifier)
    laid = easel.over.laid
    assert laid.name == "Otter"
    assert easel.task.title == "OVER"
    at = hand.view(120, 180)
    before = easel.grab().toImage().pixelColor(at.toPoint())
    assert before.red() > before.green() + 40  # through it
    hand.mouse([(240, 180), (340, 180)])
    assert easel.over.laid.x == pytest.approx(laid.x + 100, abs=1)
    easel.task._strength.setValue(20)
    assert easel.over.laid.strength == pytest.approx(0.2)
    easel.task._mirror.click()
    assert easel.over.laid.mirrored
    hand.key(Key.Key_Escape)
    assert easel.over.laid is not None  # painting goes on under it
    assert len(session.document.records) == records
    hand.command("Look › Reference › Place what lies over the canvas")
    easel.task._take_off()
    assert easel.over.laid is None
    assert easel.task is None


def test_the_corner_has_the_rest(hand, session, monkeypatch):
    chosen = []
    monkeypatch.setattr(QMenu, "popup", lambda self, at, *_: chosen.extend(self.actions()))
    hand.window.show_reference("beside", 0)
    QApplication.processEvents()
    shown = hand.window.board.pictures[0]
    QTest.mouseClick(shown, Qt.MouseButton.LeftButton, pos=shown._corner().center().toPoint())
    words = [action.text() for action in chosen]
    assert "Take off the board" in words
    next(action for action in chosen if action.text() == "Take off the board").trigger()
    assert [one.name for one in session.painting.board] == ["Bell"]


def pressed_in_the_corner(shown, words, monkeypatch):
    """An entry of a picture's menu, opened by its corner."""
    chosen = []
    monkeypatch.setattr(QMenu, "popup", lambda self, at, *_: chosen.extend(self.actions()))
    QTest.mouseClick(shown, Qt.MouseButton.LeftButton, pos=shown._corner().center().toPoint())
    next(action for action in chosen if action.text() == words).trigger()


def test_a_mixing_grid_is_taken_from_a_region(hand, session, heard, monkeypatch):
    told = heard(session.told)
    pictured = hand.window.right.findChildren(ReferencePicture)[0]
    pressed_in_the_corner(pictured, "Mixing grid from a region…", monkeypatch)
    assert "Drag a box" in told[-1]
    hand.drag_on(pictured, [(pictured.width() / 2 - 80, 20), (pictured.width() / 2 - 20, 80)])
    part = session.part
    assert part.grid is not None
    assert part.grid.name == "Otter"
    assert "mixing grid of" in told[-1]
    session.undo()
    assert session.part.grid is None
    pictured.take_region()
    hand.drag_on(pictured, [(20, 20), (21, 21)])
    assert "too small" in told[-1]


def test_a_linked_picture_that_went_away_is_marked_and_found_again(hand, session, tmp_path, monkeypatch):
    path = tmp_path / "sky.png"
    path.write_bytes(png.encode(np.full((3, 60, 90), 200, np.uint8)))
    hand.window.clipboard.add_file(path, "linked")
    assert session.painting.board[-1].link == str(path)
    moved = tmp_path / "elsewhere.png"
    path.rename(moved)
    board = hand.window.right.findChildren(ReferencePicture)
    shown = [one for one in board if one._name == "sky"]
    fresh = ReferencePicture(session, 2, session.painting.board[-1])
    assert "not where it was" in fresh.toolTip()
    assert shown
    monkeypatch.setattr("japanner.desk.panels.reference_picture.ask_where_from", lambda *_: moved)
    fresh.resize(200, 110)
    pressed_in_the_corner(fresh, "Find the file…", monkeypatch)
    assert session.painting.board[-1].link == str(moved)
    fresh.deleteLater()


def test_a_picture_is_pasted_onto_the_board_and_dropped_there(hand, session, heard):
    told = heard(session.told)
    QApplication.clipboard().clear()
    hand.command("Painting › Import a picture › From the clipboard to the reference board")
    assert "no picture" in told[-1]
    image = QImage(30, 20, QImage.Format.Format_RGB32)
    image.fill(0xFF336699)
    QApplication.clipboard().setImage(image)
    hand.command("Painting › Import a picture › From the clipboard to the reference board")
    assert session.painting.board[-1].name == "Pasted"
    mime = QMimeData()
    mime.setImageData(image)
    window, at = hand.window, hand.window.right.mapTo(hand.window, QPoint(40, 40))
    drop = QDropEvent(
        QPointF(at), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    count = len(session.painting.board)
    window.dropEvent(drop)
    assert len(session.painting.board) == count + 1
