"""The real window, on no screen."""

from __future__ import annotations

import pytest
from PySide6.QtWidgets import QApplication
from tests.desk.hand import Hand

from japanner.desk.app import make_application
from japanner.desk.main_window import MainWindow


@pytest.fixture(scope="session")
def qapp():
    return make_application(["japanner-test"])


@pytest.fixture
def window(qapp, qtbot):
    """The window at its start."""
    made = MainWindow()
    qtbot.addWidget(made, before_close_func=_forget_work)
    made.show()
    made.activateWindow()
    qtbot.waitActive(made)
    return made


@pytest.fixture
def bench_window(window):
    """The window with a small painting: one part with its flat."""
    window.files.new(480, 360, 144.0)
    window.parts.add_part("plain")
    QApplication.processEvents()
    window.easel.setFocus()
    return window


@pytest.fixture
def hand(bench_window):
    return Hand(bench_window)


def _forget_work(window):
    window.files.wait()
    window.bench._saved_painting = window.bench.painting
