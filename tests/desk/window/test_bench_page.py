"""Room for the picture: its share of the window, what never moves it, panels in their forms, bars over the easel."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QWidget

from japanner.desk.tasks.registry import TASKS
from japanner.desk.widgets.numbers import NumberBox
from japanner.desk.window.arrangement import NARROWEST, PANELS, WIDEST, Arrangement
from japanner.painting.operations import AddLayer, AddPart

Key = Qt.Key
SIZES = ((1024, 700), (1280, 800), (1920, 1080))
TIGHTEST = SIZES[0]
# Shares of the window that the easel has at least, as the design says them; at the largest size those of the middle.
SHARES = {(1024, 700): {"slim": 0.52, "full": 0.38}, (1280, 800): {"slim": 0.58, "full": 0.46},
          (1920, 1080): {"slim": 0.58, "full": 0.46}}  # fmt: skip


def form_all(window, form):
    for name, forms in PANELS.items():
        window.bench.set_form(name, "hidden" if name == "board" else form if form in forms else "full")
    QApplication.processEvents()


def sized(window, size):
    window.resize(*size)
    QApplication.processEvents()
    assert (window.width(), window.height()) == size


def is_whole(widget):
    """Whether it has the room it asks for; labels that wrap need their height at their width."""
    if isinstance(widget, QLabel) and widget.wordWrap():
        return widget.height() >= widget.heightForWidth(widget.width()) - 2
    if isinstance(widget, QComboBox | NumberBox):
        text = widget.currentText() if isinstance(widget, QComboBox) else widget.text()
        return widget.width() >= widget.fontMetrics().horizontalAdvance(text) + 12
    wanted = widget.sizeHint()
    return widget.width() >= wanted.width() - 1 and widget.height() >= wanted.height() - 4


def clipped(within):
    """Labels, buttons and fields that show, but not whole."""
    found = []
    for widget in within.findChildren(QWidget):
        shows = isinstance(widget, QLabel | QAbstractButton | QComboBox | NumberBox) and not (
            isinstance(widget, QLabel)
            and (not widget.text() or widget.sizePolicy().horizontalPolicy().name == "Ignored")
        )
        seen = widget.isVisible() and widget.width() > 0 and not widget.visibleRegion().isEmpty()
        if shows and seen and not is_whole(widget):
            found.append((type(widget).__name__, widget.text() if hasattr(widget, "text") else "", widget.size()))
    return found


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("form", ["slim", "full"])
def test_the_picture_has_its_share_and_nothing_is_clipped_whatever_is_taken_up(hand, size, form):
    window, easel = hand.window, hand.easel
    sized(window, size)
    form_all(window, form)
    assert clipped(window.bench) == []
    seen = easel.view.to_view()
    # Every task at the size that is tightest, every third at each of the others.
    case = list(SIZES).index(size) + 2 * (form == "full")
    for task in TASKS if size == TIGHTEST else list(TASKS)[case % 3 :: 3]:
        window.tasks.take_up(task)
        for _ in range(2):  # folded, and with all its options
            QApplication.processEvents()
            assert clipped(window.task_line) == [], task
            assert easel.geometry().contains(window.task_line.geometry()), task
            window.task_line.more.click()
        assert easel.width() * easel.height() >= SHARES[size][form] * size[0] * size[1], task
        assert easel.view.to_view() == seen, task
        assert (window.width(), window.height()) == size, task
        easel.leave_task()
    window.tell("A longer sentence that says what could not be done just now, and what to do about it instead of that.")
    window.messages.go_on(0.5, "Counting")
    QApplication.processEvents()
    assert clipped(window.messages.bar) == []
    assert easel.view.to_view() == seen


def whole(widget):
    """Whether nothing of it is out of sight."""
    return widget.visibleRegion().boundingRect() == widget.rect()


def test_twelve_parts_and_twelve_layers_are_seen_without_scrolling(hand, qtbot):
    window, session = hand.window, hand.window.session
    sized(window, (1280, 800))
    form_all(window, "slim")
    for number in range(11):
        session.apply(AddPart(f"Part {number}", "fur"))
    part = session.painting.parts[-1].uid
    session.work.work_on_part(part)
    for _ in range(12):
        session.apply(AddLayer(part, "strands"))
    cards = [card for card in window.parts._cards.children() if hasattr(card, "uid")]
    assert len(cards) == 12
    qtbot.waitUntil(lambda: all(whole(card) for card in cards), timeout=3000)
    tiles = window.build._shown
    assert len(tiles) == 12
    qtbot.waitUntil(lambda: all(whole(tile) for tile in tiles), timeout=3000)
    assert all(tile.width() >= 66 for tile in tiles)
    for _ in range(4):
        session.apply(AddLayer(part, "strands"))
    tiles = window.build._shown
    assert len(tiles) == 16
    qtbot.waitUntil(lambda: all(whole(tile) for tile in tiles), timeout=3000)


def test_what_is_in_hand_is_scrolled_into_view(hand, qtbot):
    window, session = hand.window, hand.window.session
    sized(window, (1024, 700))
    form_all(window, "full")
    for number in range(30):
        session.apply(AddPart(f"Part {number}", "fur"))
    part = session.painting.parts[-1].uid
    for _ in range(20):
        session.apply(AddLayer(part, "strands"))
    session.work.work_on_part(part)
    session.work.work_on_layer(session.painting.part(part).layers[-1].uid)
    card = next(card for card in window.parts._cards.children() if getattr(card, "uid", None) == part)
    tile = window.build._shown[-1]
    for widget in (card, tile):
        qtbot.waitUntil(lambda widget=widget: whole(widget), timeout=3000)


# --- forms ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("name", "key"), [("parts", Key.Key_F2), ("build", Key.Key_F4), ("rail", Key.Key_F6),
                                           ("right", Key.Key_F10)])  # fmt: skip
def test_a_key_takes_each_panel_through_its_forms(hand, name, key):
    window = hand.window
    window.bench.set_form(name, "hidden")
    seen = []
    for _ in range(3):
        hand.key(key)
        seen.append(window.bench.form_of(name))
    assert seen == ["slim", "full", "hidden"]
    assert not window.bench.panels[name].isVisible()


def test_forms_and_widths_are_remembered(hand):
    bench = hand.window.bench
    bench.set_form("rail", "slim")
    bench.set_form("build", "hidden")
    grip = bench._grips["parts"]
    place = grip.rect().center()
    QTest.mousePress(grip, Qt.MouseButton.LeftButton, pos=place)
    QTest.mouseMove(grip, place + QPoint(70, 0))
    QTest.mouseRelease(grip, Qt.MouseButton.LeftButton, pos=place + QPoint(70, 0))
    wide = bench.panels["parts"].width()
    assert wide == pytest.approx(196 + 70, abs=3)
    again = Arrangement.read(bench.arrangement.kept(), 1280)
    assert again == bench.arrangement
    bench.begin_with(1280)
    assert (bench.form_of("rail"), bench.form_of("build")) == ("slim", "hidden")
    assert bench.panels["parts"].width() == wide
    QTest.mouseDClick(grip, Qt.MouseButton.LeftButton, pos=place)
    assert bench.panels["parts"].width() == 196


def test_columns_are_dragged_between_their_limits():
    made = Arrangement.first(1280)
    assert made.widened("parts", "slim", 20).width_of("parts") == NARROWEST == 130
    assert made.widened("right", "slim", 900).width_of("right") == WIDEST == 480


@pytest.mark.parametrize("kept", [{}, {"forms": 3}, {"forms": {"parts": "huge", "nobody": "full"}},
                                  {"widths": {"parts": [1]}}, {"widths": {"parts": {"slim": "wide"}}}])  # fmt: skip
def test_nonsense_that_was_remembered_is_passed_over(kept):
    assert Arrangement.read(kept, 1280) == Arrangement.first(1280)


# --- easel alone --------------------------------------------------------------------------------------------


def test_easel_alone_and_back(hand):
    window, easel, bench = hand.window, hand.easel, hand.window.bench
    before = easel.geometry()
    easel.look_at(200, 150, zoom=2.0)
    hand.key(Key.Key_F)
    QApplication.processEvents()
    assert bench.alone
    assert easel.size() == window.size()
    assert not any(panel.isVisible() for panel in bench.panels.values())
    hand.key(Key.Key_X)  # keys of hidden menus go on
    assert easel.view.mirrored
    hand.key(Key.Key_X)
    hand.key(Key.Key_F)
    QApplication.processEvents()
    assert easel.geometry() == before
    assert easel.view.zoom == pytest.approx(2.0)
    assert easel.view.centre == QPointF(200, 150)


@pytest.mark.parametrize(("edge", "at", "names"), [
    ("left", (1, 300), ["parts"]), ("right", (-2, 300), ["right"]), ("top", (300, 1), ["roll"]),
    ("bottom", (300, -2), ["build", "rail"]),
])  # fmt: skip
def test_a_touched_edge_slides_its_panel_in(hand, qtbot, edge, at, names):
    bench, easel = hand.window.bench, hand.easel
    hand.key(Key.Key_F)
    seen = easel.view.to_view()
    x, y = (value % size for value, size in zip(at, (easel.width(), easel.height()), strict=True))
    QTest.mouseMove(easel, QPoint(x, y))
    assert bench.slid == edge
    assert [name for name, panel in bench.panels.items() if panel.isVisible()] == names
    assert easel.view.to_view() == seen
    QTest.mouseMove(easel, easel.rect().center())
    qtbot.waitUntil(lambda: bench.slid is None, timeout=2000)
    assert not any(panel.isVisible() for panel in bench.panels.values())


def test_a_panels_key_held_keeps_it_over_the_picture(hand, qtbot):
    bench = hand.window.bench
    hand.key(Key.Key_F)
    hand.press(Key.Key_F10)
    assert bench.panels["right"].isVisible()
    qtbot.wait(350)
    hand.release(Key.Key_F10)
    assert not bench.panels["right"].isVisible()
    hand.tap(Key.Key_F2)  # it stays
    assert bench.panels["parts"].isVisible()
    hand.key(Key.Key_F2)
    assert not bench.panels["parts"].isVisible()


# --- bars -----------------------------------------------------------------------------------------------------


def test_a_message_stays_is_put_away_by_a_press_and_read_again(hand):
    window = hand.window
    window.tell("The first thing")
    window.tell("The second thing")
    bar = window.messages.bar
    assert bar.isVisible()
    assert window.messages.message.text() == "The second thing."
    QTest.mouseClick(bar, Qt.MouseButton.LeftButton, pos=bar.message.geometry().center())
    assert not bar.isVisible()
    hand.command("Help › What was said")
    from japanner.desk.window.messages import MessageList

    shown = window.findChild(MessageList)
    words = [shown.list.item(row).text() for row in range(shown.list.count())]
    assert "The second thing." in words[0]
    assert "The first thing." in words[1]
    shown.close()
    for number in range(80):
        window.tell(f"Thing {number}")
    assert len(window.messages.kept) == 50


def test_a_stroke_goes_on_beside_a_message(hand):
    session = hand.window.session
    hand.window.tell("A word")
    count = len(session.document.records)
    hand.pen([(240, 180), (260, 190)])
    assert len(session.document.records) == count + 1
    assert hand.window.messages.bar.isVisible()


def test_bars_are_dragged_to_the_foot_and_stay_there(hand):
    window = hand.window
    window.tasks.take_up("comb")
    line, easel = window.task_line, hand.easel
    assert line.geometry().top() < easel.geometry().center().y()
    grip = QPoint(6, line.height() // 2)
    QTest.mousePress(line, Qt.MouseButton.LeftButton, pos=grip)
    QTest.mouseMove(line, line.mapFromParent(easel.geometry().center()) + QPoint(0, 120))
    QTest.mouseRelease(line, Qt.MouseButton.LeftButton)
    assert line.geometry().top() > easel.geometry().center().y()
    assert window.over.at_foot


def test_a_task_line_folds_and_remembers_it(hand):
    window = hand.window
    window.tasks.take_up("comb")
    line = window.task_line
    folded = line.height()
    QTest.mouseClick(line.more, Qt.MouseButton.LeftButton)
    assert line.height() > folded + 30
    window.easel.leave_task()
    window.tasks.take_up("comb")
    assert line.height() > folded + 30
    QTest.mouseClick(line.more, Qt.MouseButton.LeftButton)
    assert line.height() == folded


# --- the wheel --------------------------------------------------------------------------------------------------


def test_the_wheel_scrolls_a_column_unless_a_control_is_meant(hand, qtbot):
    from PySide6.QtWidgets import QScrollArea

    from japanner.desk.widgets.fader import Fader

    window = hand.window
    sized(window, (1280, 800))
    form_all(window, "full")
    scroll = window.right.findChild(QScrollArea)
    fader = next(one for one in window.right.findChildren(Fader) if one.accessibleName() == "chroma")
    assert scroll.verticalScrollBar().maximum() > 0
    value = fader.value
    hand.hover_widget(fader)
    hand.wheel_widget(fader, -1)
    assert scroll.verticalScrollBar().value() > 0
    assert fader.value == value
    qtbot.wait(550)  # the pointer has rested on it
    at = scroll.verticalScrollBar().value()
    hand.wheel_widget(fader, 1)
    assert fader.value > value
    assert scroll.verticalScrollBar().value() == at
