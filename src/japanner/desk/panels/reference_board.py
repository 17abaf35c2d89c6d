"""The reference board in the right column: pinned pictures, one under the other."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from japanner.desk.panels.reference_picture import ReferencePicture
from japanner.desk.session.session import Session
from japanner.desk.widgets.section import clear
from japanner.painting.model import Pinned

__all__ = ["ReferenceBoard"]


class ReferenceBoard(QWidget):
    """All pinned pictures; a double click on one opens it large beside the easel."""

    large_wanted = Signal(int)  # which

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: tuple[Pinned, ...] = ()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)
        session.changed.connect(self._refresh)
        session.opened.connect(self._refresh)
        self._refresh()

    def _refresh(self, _: object = None) -> None:
        board = self._session.painting.board
        self.setVisible(bool(board))
        if board == self._shown:
            return
        self._shown = board
        clear(self._column)
        for index, pinned in enumerate(board):
            self._column.addWidget(self._picture(index, pinned))

    def _picture(self, index: int, pinned: Pinned) -> ReferencePicture:
        made = ReferencePicture(self._session, index, pinned)
        made.large_wanted.connect(lambda: self.large_wanted.emit(index))
        return made
