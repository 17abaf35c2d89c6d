"""Whatever may take long shows at once that the program works, and stops showing it."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication

from japanner.painting.operations import Fill


def pointer():
    cursor = QGuiApplication.overrideCursor()
    return None if cursor is None else cursor.shape()


@pytest.fixture
def seen(monkeypatch):
    """The pointer while operations run."""
    shapes = []
    for kind in (Fill,):
        real = kind.apply
        monkeypatch.setattr(kind, "apply", lambda self, painting, real=real: (shapes.append(pointer()),
                                                                              real(self, painting))[1])  # fmt: skip
    return shapes


def test_operations_and_steps_back_show_a_waiting_pointer(hand, seen, heard):
    session = hand.window.session
    at_change = []
    session.changed.connect(note := lambda _: at_change.append(pointer()))
    session.apply(Fill(session.work.active_layer, (0.5, 0.4, 0.3)))
    session.undo()
    session.redo()
    session.changed.disconnect(note)
    assert seen == [Qt.CursorShape.WaitCursor]
    assert at_change == [Qt.CursorShape.WaitCursor] * 3
    assert pointer() is None


def test_a_refusal_leaves_no_waiting_pointer(hand, heard):
    session, said = hand.window.session, heard(hand.window.session.told)
    assert not session.apply(Fill(10**6, (0.5, 0.4, 0.3)))
    assert said
    assert pointer() is None


def test_tasks_the_clipboard_and_themes_show_it_too(hand, monkeypatch):
    window, shapes = hand.window, []
    session = window.session
    session.apply(Fill(session.work.active_layer, (0.5, 0.4, 0.3)))
    monkeypatch.setattr(window.clipboard, "_put", lambda pixels: shapes.append(pointer()) or True)
    hand.command("Edit › Copy")
    hand.command("Edit › Copy all that shows")
    assert shapes == [Qt.CursorShape.WaitCursor] * 2
    monkeypatch.setattr("japanner.desk.window.main_window.apply_theme", lambda *_: shapes.append(pointer()))
    hand.command("Look › Theme › Plaster")
    assert shapes[2:] == [Qt.CursorShape.WaitCursor]
    hand.command("Look › Theme › Lacquer")
    window.tasks.take_up("comb")
    assert pointer() is None
    window.easel.leave_task()


def test_an_error_that_nobody_expected_leaves_no_waiting_pointer(hand, monkeypatch):
    def broken(self, painting):
        raise RuntimeError("broken")

    monkeypatch.setattr(Fill, "apply", broken)
    with pytest.raises(RuntimeError):
        hand.window.session.apply(Fill(1, (0, 0, 0)))
    assert pointer() is None
