"""Tasks: what the hand does on the easel when it does not paint."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QObject, QPointF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPen, QTransform
from PySide6.QtWidgets import QWidget

from japanner.desk.session.session import Session
from japanner.desk.theme import theme

__all__ = ["HANDLE_REACH", "CommitTask", "Press", "Task", "draw_handle", "draw_line", "draw_word"]

HANDLE_REACH = 9.0


@dataclass(frozen=True)
class Press:
    """Where the pointer is on the canvas, what one easel pixel is there, and the keys held with it."""

    at: QPointF
    px: float
    shift: bool = False
    ctrl: bool = False

    @staticmethod
    def of(event: QMouseEvent, at: QPointF, zoom: float) -> Press:
        keys = event.modifiers()
        return Press(
            at,
            1 / zoom,
            bool(keys & Qt.KeyboardModifier.ShiftModifier),
            bool(keys & Qt.KeyboardModifier.ControlModifier),
        )

    def near(self, x: float, y: float) -> bool:
        """Whether the pointer is on a handle at a canvas position."""
        return (self.at - QPointF(x, y)).manhattanLength() < HANDLE_REACH * 1.4 * self.px


class Task(QObject):
    """One kind of work. It hears the pointer in canvas positions and draws over the picture.

    `title` heads its line above the easel, `options` is what stands there beside it.
    """

    title = ""
    hint = ""
    shows_comb = False
    unfolds = False  # its line begins with all that it has
    cursor = Qt.CursorShape.CrossCursor
    redraw = Signal()
    finished = Signal()  # the painter is back to painting

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.session = session
        self.options: QWidget = QWidget()

    @property
    def hides_guides(self) -> bool:
        """Whether it draws the head guides itself just now."""
        return False

    def begin(self) -> None:
        """The task is taken up."""

    def end(self) -> None:
        """The task is left; what has not been committed is dropped."""

    def press(self, press: Press) -> None: ...

    def move(self, press: Press, *, down: bool) -> None: ...

    def release(self, press: Press) -> None: ...

    def double(self, press: Press) -> None: ...

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        """A key while the easel has the focus; True if it meant something."""
        return False

    def key_up(self, key: Qt.Key) -> None: ...

    def claims(self, key: Qt.Key) -> bool:
        """Whether a key is its own just now, though the window has a shortcut with it."""
        return False

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        """Draw in easel px; `to_view` maps canvas positions there."""


class CommitTask(Task):
    """A task whose outcome counts once the painter says so: by Enter, or by its button."""

    def done(self) -> None:
        """Make it count, and go back to painting."""
        raise NotImplementedError

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.done()
            return True
        return False


def draw_line(painter: QPainter, points: list[QPointF], *, closed: bool = False, thin: bool = False) -> None:
    """A line that shows on any value: light on dark."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for colour, width in ((QColor(0, 0, 0, 150), 1.5 if thin else 2.6), (theme["gold"], 0.8 if thin else 1.2)):
        painter.setPen(QPen(colour, width))
        if closed:
            painter.drawPolygon(points)
        else:
            painter.drawPolyline(points)


def draw_word(painter: QPainter, at: QPointF, word: str) -> None:
    """A word that shows on any value."""
    painter.setPen(QColor(0, 0, 0, 200))
    painter.drawText(at + QPointF(1, 1), word)
    painter.setPen(theme["gold"])
    painter.drawText(at, word)


def draw_handle(painter: QPainter, at: QPointF, *, hot: bool = False) -> None:
    """A lozenge to take hold of."""
    size = 5.5 if hot else 4.5
    painter.setPen(QPen(QColor(0, 0, 0, 180), 1))
    painter.setBrush(theme["cinnabar"] if hot else theme["gold"])
    painter.drawPolygon([at + QPointF(0, -size), at + QPointF(size, 0), at + QPointF(0, size), at + QPointF(-size, 0)])
