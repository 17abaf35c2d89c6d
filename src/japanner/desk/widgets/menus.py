"""Menus that open beside what was pressed."""

from __future__ import annotations

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QMenu

__all__ = ["open_menu"]


def open_menu(menu: QMenu, at: QPoint) -> None:
    """Open a menu at a place on the screen; it goes when it closes, and nothing waits for it meanwhile."""
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    menu.popup(at)
