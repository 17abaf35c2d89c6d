"""All keys on one sheet, beside the painting and not in its way."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from japanner.desk.commands.command import HELD, Command

__all__ = ["KeysView", "key_rows"]

COLUMNS = 2


def key_rows(commands: Sequence[Command]) -> list[tuple[str, str]]:
    """Every key and what it does: those that are held, then those of commands."""
    held = [(f"{one.key} held", one.words) for one in HELD]
    others = [("wheel", "zoom at the pointer")]
    return [*held, *others, *((keys, command.path) for command in commands for keys in command.keys)]


class KeysView(QDialog):
    """Rows of key and words, in two columns; Escape closes it."""

    def __init__(self, parent: QWidget, commands: Sequence[Command]) -> None:
        super().__init__(parent)
        rows = key_rows(commands)
        self.setWindowTitle("Keys")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet = QWidget()
        grid = QGridLayout(sheet)
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(3)
        length = -(-len(rows) // COLUMNS)
        for index, (keys, words) in enumerate(rows):
            column, row = divmod(index, length)
            key, what = QLabel(keys), QLabel(words)
            key.setObjectName("gold")
            what.setObjectName("small")
            grid.addWidget(key, row, 2 * column)
            grid.addWidget(what, row, 2 * column + 1)
        grid.setColumnMinimumWidth(1, 270)
        grid.setRowStretch(length, 1)
        scroll = QScrollArea()
        scroll.setWidget(sheet)
        scroll.setWidgetResizable(True)
        column_layout = QVBoxLayout(self)
        column_layout.addWidget(scroll)
        self.resize(820, 520)
