"""Watch it grow: in the real window, by its buttons and keys."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from japanner.demo import DEMOS, Demo
from japanner.painting.document.document import Document
from japanner.painting.document.larger import beginning
from japanner.painting.model import Painting
from japanner.painting.operations import Fill
from japanner.painting.picture.moments import moment_of
from tests.desk.hand import Hand

STAGES = ("sketch", "flats", "flats", "values")


@pytest.fixture
def shipped(script, tmp_path, monkeypatch):
    """A small demo that is shipped, with four moments."""
    script.document.moments = tuple(moment_of(script.painting, stage, n // 3) for n, stage in enumerate(STAGES))
    script.save(tmp_path / "small.ora")
    monkeypatch.setattr("japanner.demo.PAINTINGS", tmp_path)
    part = script.painting.parts[0]
    hand = part.name, part.layers[0].name
    small = Demo("Small", "For a test.", "small", in_hand=hand, _painted=lambda progress: script)
    monkeypatch.setitem(DEMOS, "tidebell", small)
    return script


def pressed(window, name):
    window.show_start()
    button = next(one for one in window.start.findChildren(QPushButton) if one.accessibleName() == name)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    window.files.wait()


def test_it_plays_from_the_start_view_stops_and_goes_on(window, shipped, qtbot):
    pressed(window, "Small: watch it grow")
    growth = window.growth
    qtbot.waitUntil(growth.isVisible)
    assert growth.geometry().size() == window.easel.size()
    assert growth.playing
    before = growth.at
    qtbot.waitUntil(lambda: growth.at > before)
    QTest.mouseClick(growth.play_button, Qt.MouseButton.LeftButton)
    assert not growth.playing
    assert growth.play_button.text() == "go on"
    first = next(at for at, name in growth.way.stages if name == "flats")
    Hand.click(growth.track, QPointF(growth.track.width() * growth.way.share_of(first) + 2, 4))
    assert growth._words.text() == "flats, 0 strokes"
    for _ in range(10):
        QTest.mouseClick(growth.faster, Qt.MouseButton.LeftButton)
    assert growth._rate.text() == "× 16"
    assert not growth.faster.isEnabled()
    QTest.mouseClick(growth.slower, Qt.MouseButton.LeftButton)
    assert growth._rate.text() == "× 8"
    QTest.keyClick(growth, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: growth.at == 1.0)
    assert not growth.playing
    assert growth.play_button.text() == "again"
    QTest.mouseClick(growth.leave, Qt.MouseButton.LeftButton)
    assert growth.isHidden()
    assert window.focusWidget() is window.easel


def test_no_key_reaches_the_painting_that_is_not_seen(window, shipped, qtbot):
    pressed(window, "Small: watch it grow")
    qtbot.waitUntil(window.growth.isVisible)
    colour, painting = window.session.hand.colour, window.session.painting
    for key in (Qt.Key.Key_1, Qt.Key.Key_B, Qt.Key.Key_Z, Qt.Key.Key_M):
        QTest.keyClick(window.growth, key)
    assert window.session.hand.colour == colour
    assert window.session.painting is painting
    assert window.easel.task is None
    growth = window.growth
    growth.toggle()
    growth.go_to(0.5)
    QTest.keyClick(growth, Qt.Key.Key_Right)
    assert growth.at == pytest.approx(0.52)
    QTest.keyClick(growth, Qt.Key.Key_Left)
    QTest.keyClick(growth, Qt.Key.Key_Left)
    assert growth.at == pytest.approx(0.48)
    growth.faster.setFocus()  # by the keyboard, too
    QTest.keyClick(growth.faster, Qt.Key.Key_2)
    assert window.session.hand.colour == colour
    QTest.keyClick(growth.faster, Qt.Key.Key_Escape)
    assert growth.isHidden()


def test_a_demo_opens_as_it_is_shipped_and_is_nobodys_file(window, shipped):
    pressed(window, "Small")
    session = window.session
    assert session.painting.title == shipped.painting.title
    assert session.path is None  # it is saved elsewhere
    assert session.layer.name == shipped.painting.parts[0].layers[0].name
    assert not session.unsaved
    assert window.growth.isHidden()


def test_a_demo_is_painted_when_that_is_asked_for(window, shipped):
    pressed(window, "Small: paint it")
    assert window.session.painting is shipped.painting


def test_without_anything_painted_the_command_says_why(window):
    window.files.begin(Document(Painting(40, 30)))
    command = window.menus.commands["Review › Watch it grow"]
    assert not command.ready
    command.call(window.tell)
    assert "Nothing has been painted yet" in window.messages.message.text()


def test_moments_stay_with_a_painting_that_is_saved(window, shipped, tmp_path):
    from japanner.files.opening import open_painting

    pressed(window, "Small")
    window.files._save_to(tmp_path / "Mine.ora")
    window.files.wait()
    assert [one.stage for one in open_painting(tmp_path / "Mine.ora").moments] == list(STAGES)


@pytest.fixture
def grown(hand, qtbot):
    """Painted in the window: two fills, a part, a save, and a stroke that was undone; watched, and paused."""
    session = hand.window.session
    session.apply(Fill(session.work.active_layer, (0.8, 0.2, 0.2), "canvas"))
    session.apply(Fill(session.work.active_layer, (0.2, 0.2, 0.8), "canvas"))
    hand.window.building.add_part("hair")
    session.document.settle()
    session.apply(Fill(session.work.active_layer, (0.2, 0.8, 0.2), "canvas"))
    session.undo()
    hand.command("Review › Watch it grow")
    growth = hand.window.growth
    growth.toggle()
    growth.pictures.wait()
    return growth


def colour_at(growth, x, y):
    image = growth.grab().toImage()
    return image.pixelColor(round(image.width() * x), round(image.height() * y))


def red(colour):
    return colour.red() > 150 and colour.blue() < 90


def blue(colour):
    return colour.blue() > 150 and colour.red() < 90


def test_the_journal_is_scrubbed_change_by_change(grown, hand):
    way = grown.way
    assert way.whole
    filled = [n for n in range(way.count + 1) if red_after(grown, n)]
    assert len(filled) == 1, "one change alone left it red"
    assert {one.kind for one in way.marks} == {"part", "save"}
    first = way.share_of(filled[0])
    Hand.click(grown.track, QPointF(grown.track.width() * first, 14))
    assert red(colour_at(grown, 0.5, 0.3))
    Hand.click(grown.track, QPointF(grown.track.width() - 1.0, 14))
    assert blue(colour_at(grown, 0.5, 0.3)), "what was undone is not on the way"
    save = next(one for one in way.marks if one.kind == "save")
    assert "saved" in grown.track.words_at(grown.track.width() * way.share_of(save.at))


def red_after(grown, change):
    """By the picture alone, which is quicker than drawing the view."""
    image = QImage.fromData(grown.pictures.at(change).picture)
    return red(image.pixelColor(image.width() // 2, image.height() // 2))


def first_red(grown):
    return next(n for n in range(grown.way.count + 1) if red_after(grown, n))


def test_two_moments_stand_beside_each_other_and_by_a_wipe_line(grown, qtbot):
    grown.go_to(grown.way.share_of(first_red(grown)))
    QTest.mouseClick(grown.hold_button, Qt.MouseButton.LeftButton)
    grown.go_to(1.0)
    assert red(colour_at(grown, 0.25, 0.35))
    assert blue(colour_at(grown, 0.75, 0.35))
    grown.compare.setCurrentText("wipe line")
    assert red(colour_at(grown, 0.4, 0.35))
    assert blue(colour_at(grown, 0.6, 0.35))
    Hand.click(grown, QPointF(grown.width() * 0.65, grown.height() * 0.35))
    assert red(colour_at(grown, 0.6, 0.35))
    QTest.keyClick(grown, Qt.Key.Key_Return)
    assert grown.held is None
    assert blue(colour_at(grown, 0.4, 0.35))


def test_any_moment_is_gone_on_from_as_a_painting_of_its_own(grown, hand, monkeypatch):
    monkeypatch.setattr(hand.window.files, "ask_to_leave", lambda: "drop")
    session = hand.window.session
    grown.go_to(grown.way.share_of(first_red(grown)))
    QTest.mouseClick(grown.from_here, Qt.MouseButton.LeftButton)
    hand.window.files.wait()
    assert grown.isHidden()
    assert session.painting.layers().__next__()[1].pixels.read(session.painting.rect)[0].min() > 50000
    assert session.path is None
    fresh = beginning(session.document.records)[1]
    session.apply(Fill(session.work.active_layer, (0.1, 0.1, 0.1), "canvas"))
    assert len(beginning(session.document.records)[1]) == len(fresh) + 1, "its journal goes on"


def test_the_film_is_one_press_away(grown, hand):
    QTest.mouseClick(grown.film, Qt.MouseButton.LeftButton)
    assert grown.isHidden()
    assert hand.easel.task is hand.window.tasks["film"]
