"""The reference board: in the column, beside the easel, in a window, over the canvas."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

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
