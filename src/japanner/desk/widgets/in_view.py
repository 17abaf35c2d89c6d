"""What is in hand is never out of sight."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QTimer
from PySide6.QtWidgets import QApplication, QScrollArea, QWidget

__all__ = ["InView"]

SETTLED_MS = 30


class InView(QObject):
    """Scrolls to the widget that `find` gives, once the layout has settled."""

    def __init__(self, scroll: QScrollArea, find: Callable[[], QWidget | None], margin: int = 12) -> None:
        super().__init__(scroll)
        self._scroll, self._find, self._margin = scroll, find, margin
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(SETTLED_MS)
        self._timer.timeout.connect(self._see)

    def later(self) -> None:
        """Look for it soon."""
        self._timer.start()

    def _see(self) -> None:
        found, content = self._find(), self._scroll.widget()
        if found is None or content is None:
            return
        if (layout := content.layout()) is not None:
            layout.activate()
        # Qt now and then misses that what lies in a scrolled area has grown.
        QApplication.sendEvent(self._scroll.viewport(), QEvent(QEvent.Type.LayoutRequest))
        self._scroll.ensureWidgetVisible(found, self._margin, self._margin)
