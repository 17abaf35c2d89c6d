"""Measure in the window: lines on the canvas and on the pinned picture, dragged and compared; dividers, plumb, grid."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest

from japanner.desk.panels.reference_picture import ReferencePicture
from japanner.files import png
from japanner.painting.model import Measure
from japanner.painting.operations import PinPicture, SetMeasures, UnpinPicture
from japanner.raster.codec import to_text_of
from tests.desk.hand import Hand


@pytest.fixture
def task(hand: Hand):
    session = hand.window.session
    codes = np.full((4, 180, 240), 128, np.uint8)
    codes[3] = 255
    session.apply(PinPicture("Rust", to_text_of(png.encode(codes))))
    hand.command("Review › Measure")
    return hand.easel.task


def choose(task, box, words):
    box.setCurrentText(words)
    box.textActivated.emit(words)


def pictured(hand):
    return next(one for one in hand.window.findChildren(ReferencePicture) if one.isVisible())


def drag(widget, *places, keys=Qt.KeyboardModifier.NoModifier):
    """Over a widget, in its own px."""
    points = [QPoint(round(x), round(y)) for x, y in places]
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, keys, points[0])
    for one in points[1:]:
        QTest.mouseMove(widget, one)
        moved(widget, one, keys)
    QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, keys, points[-1])


def moved(widget, at, keys):
    event = QMouseEvent(QMouseEvent.Type.MouseMove, QPointF(at), widget.mapToGlobal(QPointF(at)),
                        Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton, keys)  # fmt: skip
    widget.mouseMoveEvent(event)


def test_a_line_is_laid_on_both_and_the_difference_is_told_at_once(hand, task):
    session = hand.window.session
    hand.mouse([(100, 100), (200, 100), (300, 100)])
    one, other = session.painting.measures
    assert (*one.ends[0], *one.ends[1]) == pytest.approx((100, 100, 300, 100), abs=1)
    assert other.picture == "Rust"
    assert other.length == pytest.approx(one.length / 2, abs=0.5), (
        "the picture is laid over the canvas at twice its size"
    )
    assert task.words.text() == "line 1: as on the reference"
    picture = pictured(hand)
    _start, end = (picture.to_view().map(QPointF(*place)) for place in other.ends)
    drag(picture, (end.x(), end.y()), (end.x(), end.y() + 8), (end.x(), end.y() + 12))
    moved_line = session.painting.measures[-1]
    assert moved_line.picture == "Rust"
    assert moved_line.y1 > other.y1 + 3
    assert "°" in task.words.text()
    assert "counterclockwise" in task.words.text(), "the painting's line is level, the reference's falls"
    session.undo()
    assert session.painting.measures[-1] == other, "every drag is a step back"


def test_ends_are_dragged_and_shift_keeps_to_steps(hand, task):
    session = hand.window.session
    hand.mouse([(100, 100), (200, 100), (300, 104)])
    hand.mouse([(300, 104), (300, 250), (102, 300)])
    line = next(one for one in session.painting.measures if not one.picture)
    assert (*line.ends[0], *line.ends[1]) == pytest.approx((100, 100, 102, 300), abs=1)
    session.measuring.press("", 102, 300, 1)
    session.measuring.move(150, 290, snap=True)
    session.measuring.release(1)
    line = next(one for one in session.painting.measures if not one.picture)
    angle = np.degrees(np.arctan2(line.y1 - line.y0, line.x1 - line.x0))
    assert (angle + 7.5) % 15 == pytest.approx(7.5, abs=0.1)


def test_a_divider_steps_by_the_line(hand, task, heard):
    session, told = hand.window.session, heard(hand.window.session.told)
    choose(task, task.kind, "divider")
    hand.mouse([(50, 50), (150, 50)])
    assert not session.painting.measures
    assert "draw a line first" in told[-1]
    choose(task, task.kind, "line")
    hand.mouse([(100, 100), (140, 100), (150, 100)])
    choose(task, task.kind, "divider")
    hand.mouse([(50, 200), (150, 200), (300, 200)])
    divider = session.painting.measures[-1]
    assert divider.by == 1
    places, count = session.measuring.steps_of(divider)
    assert count == pytest.approx(5, abs=0.05)
    assert len(places) >= 4
    picture = pictured(hand)
    drag(picture, (10, 30), (30, 30), (60, 30))
    there = session.painting.measures[-1]
    assert (there.kind, there.picture) == ("divider", "Rust")
    assert session.measuring.steps_of(there)[1] == pytest.approx(there.length / 25, rel=0.05), "its line there is half"


def test_plumb_and_grid_are_seen_and_taken_away(hand, task):
    session = hand.window.session
    before = hand.easel.grab().toImage()
    choose(task, task.kind, "plumb")
    hand.mouse([(200, 100), (220, 150)])
    assert session.painting.measures[0].kind == "plumb"
    with_line = hand.easel.grab().toImage()
    at = hand.easel.view.to_view().map(QPointF(220, 20)).toPoint()
    assert with_line.pixelColor(at) != before.pixelColor(at)
    task.cells.setValue(8)
    assert hand.easel.grab().toImage() != with_line
    hand.easel.setFocus()
    QTest.keyClick(hand.easel, Qt.Key.Key_Backspace)
    assert not session.painting.measures
    task.cells.setValue(0)
    assert hand.easel.grab().toImage() == before


def test_lines_stay_in_sight_with_the_guides_and_are_no_paint(hand, task):
    session = hand.window.session
    hand.mouse([(100, 100), (200, 100), (300, 160)])
    hand.easel.leave_task()
    assert not session.measuring.on
    seen = hand.easel.grab().toImage()
    session.looking.set_view(guides_shown=False)
    assert hand.easel.grab().toImage() != seen
    session.looking.set_view(guides_shown=True)
    assert not any(layer.pixels.tiles for _, layer in session.painting.layers())
    picture = pictured(hand)
    drag(picture, (20, 20), (60, 60))
    assert len(session.painting.measures) == 2, "once it is left, a drag moves the picture"


def test_there_is_an_end_to_lines(hand, task, heard):
    session, told = hand.window.session, heard(hand.window.session.told)
    many = tuple(Measure("line", n + 1, 0.0, float(n), 50.0, float(n)) for n in range(399))
    session.apply(SetMeasures(many))
    hand.mouse([(100, 300), (300, 300)])
    assert "as many lines as can be kept" in told[-1]
    hand.easel.grab()
    assert len(session.painting.measures) == 399


def test_a_line_of_no_length_is_dropped_and_what_is_unpinned_is_no_trouble(hand, task):
    session = hand.window.session
    hand.mouse([(100, 100), (101, 100)])
    assert not session.painting.measures
    hand.mouse([(100, 100), (200, 140), (300, 160)])
    hand.command("Review › Measure")
    session.apply(UnpinPicture(0))
    hand.command("Review › Measure")
    assert task.against.currentText() == "no picture"
    hand.mouse([(100, 200), (200, 240), (300, 260)])
    assert [one.picture for one in session.painting.measures] == ["", "Rust", ""]
