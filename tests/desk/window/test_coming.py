"""What is seen before the window, and how far back undo goes by the menu."""

from __future__ import annotations

import sys

import pytest
from PySide6.QtWidgets import QLabel

from japanner import cli
from japanner.desk import app as module
from japanner.desk.coming import Coming, application
from japanner.desk.theme_colours import THEMES


@pytest.mark.parametrize("name", THEMES)
def test_the_first_sign_is_in_the_colours_of_the_theme(qtbot, name):
    coming = Coming("The bench is being laid out.", THEMES[name])
    qtbot.addWidget(coming)
    coming.show_now()
    assert [label.text() for label in coming.findChildren(QLabel)] == ["Japanner", "The bench is being laid out."]
    corner = coming.grab().toImage().pixelColor(2, 2)
    assert corner.name() == THEMES[name]["panel"]
    for label in coming.findChildren(QLabel):
        assert label.sizeHint().width() <= label.width()


def test_the_command_shows_it_and_gives_it_to_the_window(qtbot, monkeypatch):
    seen = []
    monkeypatch.setattr(module, "run", lambda file, coming, **asked: seen.append((file, coming, asked)) or 0)
    monkeypatch.setattr("japanner.cli.windowed.all_compiled", lambda: True)
    assert cli.main([]) == 0
    ((file, coming, asked),) = seen
    qtbot.addWidget(coming)
    assert file is None
    assert asked == {}
    assert coming.isVisible()
    assert application(sys.argv[:1]) is application([])


def test_how_far_back_undo_goes_counts_at_once(bench_window):
    document, actions = bench_window.session.document, bench_window.menus.actions
    actions["Painting › Keeping › Undo goes back 100 steps"].trigger()
    assert document.limit_steps == 100
    actions["Painting › Keeping › Undo holds 4 GB"].trigger()
    assert document.limit_bytes == 4 << 30
    actions["Painting › Keeping › Undo goes back 1000 steps"].trigger()
    actions["Painting › Keeping › Undo holds 1 GB"].trigger()
    assert (document.limit_bytes, document.limit_steps) == (1 << 30, 1000)
