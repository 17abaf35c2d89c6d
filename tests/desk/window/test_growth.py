"""Watch it grow: in the real window, by its buttons and keys."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from japanner.demo import DEMOS, Demo
from japanner.desk.window.growth_view import _ends
from japanner.painting.picture.moments import Moment, moment_of
from tests.desk.hand import Hand

STAGES = ("sketch", "flats", "flats", "values")


@pytest.fixture
def shipped(script, tmp_path, monkeypatch):
    """A small demo that is shipped, with four moments."""
    script.document.moments = tuple(moment_of(script.painting, stage, 10 * n) for n, stage in enumerate(STAGES, 1))
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
    Hand.click(growth.track, QPointF(growth.track.width() * 0.6, 4))
    assert growth.moment.stage == "flats"
    assert "flats, 30 strokes" in growth._words.text()
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


def test_no_stage_is_too_short_to_be_seen():
    moments = tuple(Moment("sketch" if n == 0 else "details", n, b"") for n in range(100))
    ends = _ends(moments)
    assert 0.04 < ends[0] < 0.06
    assert ends[-1] == pytest.approx(1.0)
    assert np.ptp(np.diff(ends)) == pytest.approx(0, abs=1e-9)


def test_without_moments_the_command_says_why(window):
    window.show_bench()
    command = window.menus.commands["Review › Watch it grow"]
    assert not command.ready
    command.call(window.tell)
    assert "keeps no moments" in window.messages.message.text()


def test_moments_stay_with_a_painting_that_is_saved(window, shipped, tmp_path):
    from japanner.files.opening import open_painting

    pressed(window, "Small")
    window.files._save_to(tmp_path / "Mine.ora")
    window.files.wait()
    assert [one.stage for one in open_painting(tmp_path / "Mine.ora").moments] == list(STAGES)
