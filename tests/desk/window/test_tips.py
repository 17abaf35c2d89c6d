"""Tooltips that lead to the guide."""

import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QHelpEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton, QWidget

from japanner.desk.window import tips as tips_module
from japanner.desk.window.guide_view import PANEL_TOPICS, TASK_TOPICS, GuideView


@pytest.fixture
def pointer(monkeypatch):
    """Where the pointer is, on no screen: a place that a test sets."""
    place = [QPoint(0, 0)]
    monkeypatch.setattr(tips_module.QCursor, "pos", lambda: place[0])
    return place


def hover(widget: QWidget, pointer) -> QPoint:
    at = widget.mapToGlobal(widget.rect().center())
    pointer[0] = at
    event = QHelpEvent(QEvent.Type.ToolTip, widget.rect().center(), at)
    QApplication.sendEvent(widget, event)
    return at


def a_button(panel: QWidget) -> QWidget:
    return next(one for one in panel.findChildren(QPushButton) if one.toolTip() and one.isVisible())


def test_a_tip_of_every_panel_leads_to_its_section(hand, pointer):
    tips = hand.window.tips
    for name in ("roll", "build", "right"):
        button = a_button(hand.window.bench.panels[name])
        hover(button, pointer)
        assert tips.box.isVisible(), name
        assert tips.words.text() == button.toolTip()
        QTest.mouseClick(tips.more, Qt.MouseButton.LeftButton)
        assert tips.box.isHidden()
        guide = hand.window.findChildren(GuideView)[-1]
        assert guide.topic == PANEL_TOPICS[name]
        guide.close()


def test_a_tip_of_a_task_leads_to_the_section_of_the_task(hand, pointer):
    hand.window.tasks.take_up("comb")
    hover(hand.window.task_line.guide, pointer)
    assert hand.window.tips.box.isVisible()
    QTest.mouseClick(hand.window.tips.more, Qt.MouseButton.LeftButton)
    guide = hand.window.findChildren(GuideView)[-1]
    assert guide.topic == TASK_TOPICS["COMB"]
    guide.close()


def test_a_tip_stays_for_the_pointer_on_it_and_goes_when_it_leaves_or_presses(hand, pointer):
    tips, button = hand.window.tips, a_button(hand.window.bench.panels["right"])
    hover(button, pointer)
    pointer[0] = tips.box.frameGeometry().center()
    tips._look()
    assert tips.box.isVisible()
    pointer[0] = QPoint(3, 3)
    tips._look()
    assert tips.box.isHidden()
    hover(button, pointer)
    hand.key(Qt.Key.Key_Shift)
    assert tips.box.isHidden()
    hover(button, pointer)
    QTest.mousePress(hand.easel, Qt.MouseButton.LeftButton, pos=QPointF(5, 5).toPoint())
    QTest.mouseRelease(hand.easel, Qt.MouseButton.LeftButton, pos=QPointF(5, 5).toPoint())
    assert tips.box.isHidden()


def test_a_long_tip_is_folded_and_stays_on_the_screen(hand, pointer):
    button = a_button(hand.window.bench.panels["parts"])
    words = button.toolTip()
    button.setToolTip("word " * 60)
    hover(button, pointer)
    box = hand.window.tips.box.frameGeometry()
    assert box.width() < 520
    assert QApplication.primaryScreen().availableGeometry().contains(box)
    button.setToolTip(words)
    hand.window.tips.hide()


def test_what_the_guide_does_not_tell_of_is_left_to_the_system(hand, pointer):
    bare = QPushButton("x", hand.window)
    bare.setToolTip("Of no panel")
    hover(bare, pointer)
    assert hand.window.tips.box.isHidden()
    bare.deleteLater()
