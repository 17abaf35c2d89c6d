"""Playing recorded strokes on the easel, as a tablet would send them."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QInputDevice, QPointingDevice, QTabletEvent
from PySide6.QtWidgets import QApplication

from japanner.desk.easel.easel import Easel
from japanner.stroke.pen.samples import PenSample
from japanner.stroke.pen.traces import trace

__all__ = ["TracePlayer"]

# How wide a trace is drawn, as a share of the easel's width.
WIDTH = 0.55
LEFT, NONE = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton


class TracePlayer(QObject):
    """Sends the samples of a trace to the easel in the time that the hand took; one trace at a time."""

    def __init__(self, easel: Easel) -> None:
        super().__init__(easel)
        self._easel = easel
        self._left: list[PenSample] = []
        self._began = False
        self._device = QPointingDevice(
            "", 78, QInputDevice.DeviceType.Stylus, QPointingDevice.PointerType.Pen,
            QInputDevice.Capability.Pressure, 1, 2,
        )  # fmt: skip
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self.step)

    @property
    def playing(self) -> bool:
        return bool(self._left)

    def play(self, name: str) -> None:
        """Begin a trace in the middle of the easel."""
        if self.playing:
            return
        self._left, self._began = list(trace(name)), False
        self._timer.start(8)

    def step(self) -> None:
        """Send the next sample; the last one lifts the pen."""
        if not self._left:
            self._timer.stop()
            return
        sample = self._left.pop(0)
        self._send(QEvent.Type.TabletMove if self._began else QEvent.Type.TabletPress, sample)
        self._began = True
        if not self._left:
            self._timer.stop()
            self._send(QEvent.Type.TabletRelease, sample)

    def _send(self, kind: QEvent.Type, sample: PenSample) -> None:
        easel = self._easel
        at = QPointF(easel.width() / 2, easel.height() / 2) + QPointF(sample.x, sample.y) * easel.width() * WIDTH
        screen = QPointF(easel.mapToGlobal(QPoint(0, 0))) + at
        cause = NONE if kind == QEvent.Type.TabletMove else LEFT
        down = NONE if kind == QEvent.Type.TabletRelease else LEFT
        event = QTabletEvent(
            kind, self._device, at, screen, sample.pressure, sample.tilt_x, sample.tilt_y, 0.0, 0.0, 0.0,
            Qt.KeyboardModifier.NoModifier, cause, down,
        )  # fmt: skip
        event.setTimestamp(round(sample.time_ms) + 1)
        QApplication.sendEvent(easel, event)
