"""From Qt's tablet and mouse events to pen samples."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QMouseEvent, QTabletEvent

from japanner.stroke.pen.practice_pen import PracticePen
from japanner.stroke.pen.samples import PenSample

__all__ = ["mouse_sample", "pressed_for_pick_up", "tablet_sample"]


def tablet_sample(event: QTabletEvent, canvas: QPointF) -> PenSample:
    """The sample of a real pen at canvas position `canvas`."""
    return PenSample(
        canvas.x(),
        canvas.y(),
        event.pressure(),
        float(event.xTilt()),
        float(event.yTilt()),
        float(event.rotation()) % 360,
        float(event.timestamp()),
    )


def mouse_sample(event: QMouseEvent, canvas: QPointF, pen: PracticePen) -> PenSample:
    """The practice pen's sample of a mouse or finger."""
    return pen.sample(canvas.x(), canvas.y(), float(event.timestamp()))


def pressed_for_pick_up(event: QMouseEvent | QTabletEvent) -> bool:
    """The right mouse button and a pen's barrel button pick up colour."""
    return event.button() in (Qt.MouseButton.RightButton, Qt.MouseButton.MiddleButton)
