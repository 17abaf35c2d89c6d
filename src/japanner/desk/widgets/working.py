"""A pointer that says at once that the program works, while the window cannot."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication

__all__ = ["working"]


@contextmanager
def working() -> Iterator[None]:
    """Within this the pointer is that of waiting. Nothing in it may ask the painter anything."""
    QGuiApplication.setOverrideCursor(Qt.CursorShape.WaitCursor)
    try:
        yield
    finally:
        QGuiApplication.restoreOverrideCursor()
