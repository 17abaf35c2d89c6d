"""The real window, on no screen."""

from __future__ import annotations

import tempfile

import pytest
from PySide6.QtCore import QEvent
from PySide6.QtWidgets import QApplication, QFileDialog, QInputDialog, QMessageBox

from japanner.desk.app import make_application
from japanner.desk.widgets.picture_dialog import PictureDialog
from japanner.desk.window.main_window import MainWindow
from tests.desk.as_new import as_new
from tests.desk.hand import Hand


@pytest.fixture(autouse=True)
def no_dialogs(monkeypatch):
    """A dialog that a test has not foreseen fails it, instead of waiting for a painter."""

    def refuse(*_, **__):
        raise AssertionError("a dialog was opened")

    for kind, names in (
        (QMessageBox, ("exec", "about")),
        (QInputDialog, ("getText",)),
        (QFileDialog, ("getSaveFileName",)),
        (PictureDialog, ("asked",)),
    ):
        for name in names:
            monkeypatch.setattr(kind, name, refuse)


@pytest.fixture
def heard():
    """What a signal says from now on, in a list; nothing stays connected to a window that others use."""
    connected = []

    def listen(signal):
        said = []
        hear = lambda *words: said.append(words[0] if len(words) == 1 else words)  # noqa: E731
        signal.connect(hear)
        connected.append((signal, hear))
        return said

    yield listen
    for signal, hear in connected:
        signal.disconnect(hear)


@pytest.fixture(scope="session")
def qapp():
    return make_application(["japanner-test"])


@pytest.fixture(scope="session")
def built(qapp):
    """A window for all tests of a process: to build one takes a second."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setenv("JAPANNER_STATE", tempfile.mkdtemp(prefix="japanner-window-"))
        patch.setenv("JAPANNER_CONFIG", tempfile.mkdtemp(prefix="japanner-window-"))
        made = MainWindow()
    made.show()
    yield made
    made.session.rest_hand()
    made.session._saved_painting = made.session.painting
    made.close()
    made.deleteLater()
    qapp.sendPostedEvents(made, QEvent.Type.DeferredDelete)


@pytest.fixture
def window(built, qtbot):
    """The window as at its start, with an empty painting behind the start view."""
    as_new(built)
    built.show_start()
    built.activateWindow()
    qtbot.waitActive(built)
    QApplication.processEvents()
    yield built
    built.files.wait()
    QApplication.processEvents()


@pytest.fixture
def own_window(qapp, qtbot):
    """A window of a test's own, for what happens while one is made or closed."""
    made = MainWindow()
    made.show()
    made.activateWindow()
    qtbot.waitActive(made)
    yield made
    made.files.wait()
    made.session.rest_hand()
    made.session._saved_painting = made.session.painting
    made.close()
    made.deleteLater()
    qapp.sendPostedEvents(made, QEvent.Type.DeferredDelete)


@pytest.fixture
def bench_window(built, qtbot):
    """The window with a small painting: one part with its flat."""
    as_new(built)
    built.session.keeper.start(built.session.document, None, built.session.document.records)
    built.show_bench()
    built.building.add_part("plain")
    built.activateWindow()
    qtbot.waitActive(built)
    QApplication.processEvents()
    built.easel.setFocus()
    yield built
    built.files.wait()
    QApplication.processEvents()


@pytest.fixture
def hand(bench_window):
    return Hand(bench_window)
