"""The second look: the whole picture small, in colour and in values, and as a window of its own."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from japanner.desk.screen import screens
from japanner.desk.session.session import Session
from japanner.desk.theme import surround_colour, theme
from japanner.desk.widgets.images import shared_image
from japanner.desk.widgets.painter import painter_on
from japanner.painting.picture.looks import look

__all__ = ["SecondLook", "SecondWindow"]

# Renewed at most so often while a stroke is being painted: quick enough to follow, seldom enough not to slow the hand.
FOLLOW_MS = 120
WHEEL_ZOOM = 1.15
LARGEST_ZOOM = 32.0


class _View(QWidget):
    """The picture through one look; wheel zooms, dragging moves, a double click shows all of it again."""

    def __init__(self, session: Session, how: str) -> None:
        super().__init__()
        self._session, self._how = session, how
        self._zoom, self._middle = 1.0, QPointF(0.5, 0.5)
        self._drag: QPointF | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(FOLLOW_MS)
        self._timer.timeout.connect(self.update)
        for signal in (session.shown, session.opened, session.resized, session.looking.look_changed):
            signal.connect(self._later)
        self.setAccessibleName(f"Second look, {how}")
        self.setToolTip(f"The whole picture in {how}; wheel zooms, drag moves, double-click shows all")

    def _later(self, *_: object) -> None:
        if not self._timer.isActive():
            self._timer.start()

    def _scale(self) -> float:
        """Px here for one canvas px."""
        painting = self._session.painting
        return min(self.width() / painting.width, self.height() / painting.height) * self._zoom

    def paintEvent(self, event: QPaintEvent) -> None:
        scale = self._scale()
        with painter_on(self) as painter:
            painter.fillRect(self.rect(), surround_colour(50))
            levels = self._session.picture.levels
            level = int(np.floor(-np.log2(scale * self.devicePixelRatioF()) + 0.02))
            level = min(max(level, 0), len(levels) - 1)
            seen = look(self._how, np.ascontiguousarray(levels[level]))
            image = shared_image(screens.through(seen, self))
            painting = self._session.painting
            corner = QPointF(self.width() / 2, self.height() / 2) - QPointF(
                self._middle.x() * painting.width * scale, self._middle.y() * painting.height * scale
            )
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            target = QRectF(corner.x(), corner.y(), painting.width * scale, painting.height * scale)
            painter.drawImage(target, image)
            painter.setPen(QPen(theme["edge"], 1))
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._zoom = min(max(self._zoom * WHEEL_ZOOM ** (event.angleDelta().y() / 120), 1.0), LARGEST_ZOOM)
        if self._zoom == 1.0:
            self._middle = QPointF(0.5, 0.5)
        self.update()
        event.accept()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._drag = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None and self._zoom > 1:
            by, painting, scale = event.position() - self._drag, self._session.painting, self._scale()
            self._middle -= QPointF(by.x() / (painting.width * scale), by.y() / (painting.height * scale))
            self._drag = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag = None

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self._zoom, self._middle = 1.0, QPointF(0.5, 0.5)
        self.update()


class SecondLook(QWidget):
    """Both looks side by side in the right column."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setFixedHeight(92)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self.views = [_View(session, how) for how in ("colour", "values")]
        for view in self.views:
            row.addWidget(view, 1)


class SecondWindow(QWidget):
    """Both looks in a window of their own, for a second screen."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setWindowTitle("Second look — Japanner")
        self.resize(QSize(900, 420))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(1)
        for how in ("colour", "values"):
            row.addWidget(_View(session, how), 1)
