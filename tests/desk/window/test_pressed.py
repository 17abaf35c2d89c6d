"""Controls of the bench pressed one by one, each for what it does."""

from __future__ import annotations

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from japanner.desk.window.guide_view import GuideView
from japanner.desk.window.messages import MessageList
from japanner.painting.makers.fur.pelt import WHERE
from japanner.painting.operations import AddLayer, DropFrisket, Fill, PinPicture, SetFrisket
from tests.desk.panels.test_reference import picture

LEFT = Qt.MouseButton.LeftButton


def button(within, text):
    return next(one for one in within.findChildren(QPushButton) if one.text() == text and one.isVisible())


def click(widget):
    assert widget.isVisible()
    QTest.mouseClick(widget, LEFT)
    QApplication.processEvents()


def test_the_brush_in_hand(hand):
    session, block = hand.window.session, hand.window.roll.hand
    session.hand.take_brush_named("Soft round")
    before = session.hand.brush
    for name, fader in block.faders.items():
        track = fader._track()
        QTest.mouseClick(fader, LEFT, pos=QPoint(round(track.left() + 3 * track.width() / 4), fader.height() // 2))
        assert getattr(session.hand.brush, name) != getattr(before, name), name
    block.wipe.click()
    assert session.hand.wiping
    block.wipe.click()
    assert not session.hand.wiping
    block.pick_up.click()
    assert session.hand.brush.pick_up


def test_what_counts_for_the_brush_alone_shows(hand):
    session, block = hand.window.session, hand.window.roll.hand
    session.hand.take_brush_named("Whisker")
    assert not block.faders["flow"].isVisible()
    session.hand.take_brush_named("Mop")
    assert block.faders["flow"].isVisible()


def test_buttons_of_a_message(hand):
    window, bar = hand.window, hand.window.messages.bar
    window.tell("One")
    window.tell("Two")
    click(bar.earlier)
    shown = window.findChild(MessageList)
    assert shown.list.count() == 2
    shown.close()
    click(bar.away)
    assert not bar.isVisible()


def test_buttons_of_the_reference_pane(hand):
    window, session = hand.window, hand.window.session
    session.apply(PinPicture("Otter", picture((0.8, 0.2, 0.2), (0.1, 0.1, 0.3))))
    window.show_reference("beside")
    QApplication.processEvents()
    click(button(window.board, "over"))
    assert hand.easel.over.laid is not None
    assert hand.easel.task.title == "OVER"
    hand.easel.leave_task()
    click(button(window.board, "✕"))
    assert not window.board.isVisible()
    window.show_reference("window")
    QApplication.processEvents()
    click(button(window.reference, "✕"))
    assert not window.reference.isVisible()


def test_a_section_of_the_guide(hand):
    hand.window.show_guide()
    view = hand.window.findChild(GuideView)
    row = next(row for row in range(view.names.count()) if view.names.item(row).text() == "Values")
    at = view.names.visualItemRect(view.names.item(row)).center()
    QTest.mouseClick(view.names.viewport(), LEFT, pos=at)
    assert view.topic == "Values"
    assert view.text.verticalScrollBar().value() > 100
    view.close()


def test_the_guide_opens_at_its_section_and_leaves_room_between_paragraphs(hand, qtbot):
    hand.window.show_guide("Fur")
    view = hand.window.findChildren(GuideView)[-1]
    bar = view.text.verticalScrollBar()
    qtbot.waitUntil(lambda: bar.value() > 100, timeout=3000)
    seen = view.text.cursorForPosition(QPoint(4, 24)).block()
    assert seen.text() == "Fur"
    assert seen.next().blockFormat().bottomMargin() > 4
    view.close()


def test_a_map_is_inverted_and_lies_over_the_part_as_a_veil(hand):
    window, session = hand.window, hand.window.session
    window.building.add_part("fur")
    session.apply(SetFrisket({"shape": "oval", "x0": 150, "y0": 90, "x1": 330, "y1": 270}))
    session.apply(Fill(session.work.active_layer, (0.4, 0.3, 0.2)))
    session.apply(AddLayer(session.work.active_part, "detail", "Map"))
    layer = session.part.layers[-1].uid
    session.apply(Fill(layer, (1, 1, 1)))
    session.apply(DropFrisket())
    window.tasks.make("coat")
    task = hand.easel.task
    assert task._veil() is None
    task._turn_to(WHERE)
    task._set("length_map", layer)
    veil = task._veil()
    assert veil.pixelColor(240, 180).lightness() > veil.pixelColor(1, 1).lightness()
    if window.task_line.unfolded is False:
        window.task_line.more.click()
    QApplication.processEvents()
    click(button(task.options, "invert"))
    assert (task.values["length_map_bare"], task.values["length_map_full"]) == (100, 0)
    veil = task._veil()
    assert veil.pixelColor(1, 1).lightness() > veil.pixelColor(240, 180).lightness()
    hand.easel.leave_task()
