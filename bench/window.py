"""The real window with the large painting in it."""

from __future__ import annotations

from PySide6.QtWidgets import QApplication

from bench.large import large_painting
from japanner.desk.app import make_application
from japanner.desk.window.main_window import MainWindow
from japanner.painting.document.document import Document

__all__ = ["opened_window"]


def opened_window() -> MainWindow:
    """A window on the bench, with the painting that the promises speak of."""
    make_application(["bench"])
    window = MainWindow()
    window.show()
    window.session.open_document(Document(large_painting()))
    window.show_bench()
    QApplication.processEvents()
    return window
