"""The name of the painting at the right end of the menu bar, and how long ago it was saved."""

from __future__ import annotations

import time

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from japanner.desk.session.session import Session

__all__ = ["NameCorner"]


class NameCorner(QLabel):
    """Follows the session; `refresh` counts the time on. It names the window, too."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("quiet")
        self.setContentsMargins(0, 5, 12, 0)
        self.setFixedSize(420, 24)
        self.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
        for signal in (session.opened, session.changed, session.saved):
            signal.connect(self.refresh)
        self.refresh()

    def refresh(self, _: object = None) -> None:
        """Say it as it is now."""
        session = self._session
        if session.saved_at is None and session.path is not None:
            state = f"from {session.path.name}{', changed since' if session.unsaved else ''}"
        elif session.saved_at is None:
            state = "not saved yet" if session.unsaved or session.painting.parts else "new"
        else:
            changed = ", changed since" if session.unsaved else ""
            state = f"saved {_ago(time.monotonic() - session.saved_at)} ago{changed}"
        self.setText(f"{session.painting.title} — {state}")
        self.window().setWindowTitle(f"{session.painting.title} — Japanner")


def _ago(seconds: float) -> str:
    if seconds < 60:
        return f"{seconds:.0f} s"
    return f"{seconds / 60:.0f} min" if seconds < 3600 else f"{seconds / 3600:.0f} h"
