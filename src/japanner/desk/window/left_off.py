"""The window as it was left: its place, its panels, the painting, and how that was seen."""

from __future__ import annotations

import contextlib
from typing import TYPE_CHECKING

from PySide6.QtCore import QByteArray, QPointF, Qt
from PySide6.QtWidgets import QMainWindow, QWidget

from japanner.desk.easel.easel import Easel
from japanner.desk.resume import View, recall_view, remember_last, remember_view
from japanner.desk.session.session import Session
from japanner.desk.settings import recall, remember
from japanner.errors import InputError

if TYPE_CHECKING:
    from japanner.desk.commands.desk import Pages

__all__ = ["LeftOff", "fill_screen"]

FRAME_PX, TITLE_PX = 2, 34


class LeftOff:
    """Remembers at the end, and brings back at the start and with every painting that is opened."""

    def __init__(self, session: Session, easel: Easel, window: QMainWindow) -> None:
        self._session, self._easel, self._window = session, easel, window
        session.opened.connect(self._on_opened)
        session.saved.connect(self._remember_view)

    def restore_window(self, pages: Pages) -> None:
        """Place, size and panels of the window."""
        geometry = QByteArray.fromBase64(recall("window", "").encode())
        if geometry.isEmpty() or not self._window.restoreGeometry(geometry):
            fill_screen(self._window)
        pages.bench.begin_with(self._window.width())

    def remember(self) -> None:
        """The program ends."""
        remember("window", self._window.saveGeometry().toBase64().toStdString())
        remember_last(self._session.path)
        self._remember_view()

    def _remember_view(self) -> None:
        session, view = self._session, self._easel.view
        if session.path is not None:
            work = session.work
            remember_view(session.path, View(
                view.zoom, view.centre.x(), view.centre.y(), view.turn_deg, view.mirrored, self._easel.whole,
                session.looking.look, work.active_part, work.active_layer,
            ))  # fmt: skip

    def _on_opened(self) -> None:
        """A painting that was worked on before comes back with the layer that was in hand, seen as it was."""
        left = None if self._session.path is None else recall_view(self._session.path)
        if left is None:
            return
        work = self._session.work
        with contextlib.suppress(InputError):
            if left.part is not None:
                work.work_on_part(left.part)
            if left.layer is not None:
                work.work_on_layer(left.layer)
        self._session.looking.set_look(left.look)
        if not left.whole:
            self._easel.see(QPointF(left.x, left.y), left.zoom, left.turn_deg, mirrored=left.mirrored)


def fill_screen(window: QWidget) -> None:
    """The size of the screen that it opens on, with room for a title bar where nobody maximises windows."""
    room = window.screen().availableGeometry()
    window.setGeometry(room.adjusted(FRAME_PX, TITLE_PX, -FRAME_PX, -FRAME_PX))
    window.setWindowState(Qt.WindowState.WindowMaximized)
