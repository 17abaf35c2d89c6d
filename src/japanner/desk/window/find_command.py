"""Find a command: type to filter, Enter runs."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from japanner.desk.theme import theme
from japanner.desk.window.menus import Menus

__all__ = ["FindCommand"]


class FindCommand(QFrame):
    """A panel over the upper middle of the window; Escape or a click elsewhere closes it."""

    def __init__(self, parent: QWidget, menus: Menus) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self._window = parent
        self._menus = menus
        self.setObjectName("panel")
        self.setStyleSheet("QFrame#panel { border: 1px solid palette(mid); }")
        self.setFixedSize(440, 330)
        self._line = QLineEdit()
        self._line.setPlaceholderText("Find a command")
        self._line.setToolTip("Type to filter, arrows choose, Enter runs")
        self._line.textChanged.connect(self._filter)
        self._line.installEventFilter(self)
        self._list = QListWidget()
        self._list.itemActivated.connect(self._run)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.addWidget(self._line)
        column.addWidget(self._list)
        self._filter("")

    def open(self) -> None:
        window = self._window
        at = window.mapToGlobal(window.rect().topLeft())
        self.move(at.x() + (window.width() - self.width()) // 2, at.y() + 96)
        self._line.clear()
        self._filter("")
        self.show()
        self._line.setFocus()

    def _filter(self, text: str) -> None:
        self._list.clear()
        words = text.lower().split()
        for path, command in self._menus.commands.items():
            if all(word in path.lower() for word in words):
                item = QListWidgetItem(f"{path}    {command.keys[0] if command.keys else ''}".rstrip())
                item.setData(Qt.ItemDataRole.UserRole, path)
                if not command.ready:
                    item.setForeground(theme["quiet"])
                    item.setToolTip(command.need.why if command.need is not None else "")
                self._list.addItem(item)
        self._list.setCurrentRow(0)

    def _run(self, item: QListWidgetItem) -> None:
        self.close()
        self._menus.actions[item.data(Qt.ItemDataRole.UserRole)].trigger()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self._list.setCurrentRow(min(max(self._list.currentRow() + step, 0), self._list.count() - 1))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if (item := self._list.currentItem()) is not None:
                    self._run(item)
                return True
        return super().eventFilter(watched, event)
