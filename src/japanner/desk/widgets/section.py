"""A titled section of a side column, which folds."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QBoxLayout, QHBoxLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

__all__ = ["Section", "clear", "hairline"]


class Section(QWidget):
    """A heading (click it to fold) over some content."""

    def __init__(self, title: str, content: QWidget, aside: QWidget | None = None) -> None:
        super().__init__()
        self._heading = QPushButton(title)
        self._heading.setObjectName("fold")
        self._heading.setCursor(Qt.CursorShape.PointingHandCursor)
        self._heading.setToolTip("Fold or unfold this section")
        self._heading.setMinimumWidth(0)
        self._heading.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        self._content, self._aside = content, aside
        self._heading.clicked.connect(self._fold)
        top = QHBoxLayout()
        top.setContentsMargins(0, 0, 0, 0)
        top.addWidget(self._heading)
        if aside is None:
            top.addStretch(1)
        else:
            # It gives way in a narrow column; menus have the same.
            aside.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            top.addWidget(aside, 1, Qt.AlignmentFlag.AlignRight)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 5, 8, 4)
        column.setSpacing(4)
        column.addLayout(top)
        column.addWidget(content)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._make_room()

    def _make_room(self) -> None:
        if self._aside is not None:
            wide = self._aside.sizeHint().width()
            room = self.width() - 20 - self._heading.sizeHint().width()
            self._aside.setMaximumWidth(wide if room >= wide else 0)

    def set_title(self, title: str) -> None:
        self._heading.setText(title)
        self._make_room()

    def _fold(self) -> None:
        self._content.setVisible(not self._content.isVisible())


def hairline(vertical: bool = False) -> QLabel:
    """A thin gold line between panels."""
    line = QLabel()
    line.setObjectName("hairline")
    if vertical:
        line.setFixedWidth(1)
    else:
        line.setFixedHeight(1)
    return line


def clear(layout: QBoxLayout) -> None:
    """Empty a row or column; its widgets are gone for every search at once."""
    while (item := layout.takeAt(0)) is not None:
        if widget := item.widget():
            # Hidden by name: a layout still about to show it would show it as a window of its own.
            widget.hide()
            widget.setParent(None)
            widget.deleteLater()
