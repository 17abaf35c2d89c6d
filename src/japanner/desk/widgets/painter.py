"""Painters that end, whatever is met while they paint: one that is left open takes the whole program down."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QWidget

from japanner.desk.trouble import trouble

__all__ = ["painter_on"]


@contextmanager
def painter_on(widget: QWidget) -> Iterator[QPainter]:
    """A painter for a widget's paintEvent; an error is told like any other, and the widget shows what it can."""
    with QPainter(widget) as painter:
        try:
            yield painter
        except Exception as error:
            trouble.take(error)
