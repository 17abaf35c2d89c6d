"""A hand for tests: real Qt events on the real window, in canvas positions."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QEnterEvent, QInputDevice, QKeyEvent, QMouseEvent, QPointingDevice, QTabletEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from japanner.desk.window.main_window import MainWindow

LEFT, RIGHT, NONE = Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton, Qt.MouseButton.NoButton


class Hand:
    """Pen and mouse on the easel, keys anywhere."""

    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.easel = window.easel
        self._time = 1000

    def view(self, x: float, y: float) -> QPointF:
        """Easel position of a canvas position."""
        return self.easel.view.to_view().map(QPointF(x, y))

    # --- pen ------------------------------------------------------------------------------------------

    def pen(
        self, rows: Iterable[Sequence[float]], button: Qt.MouseButton = LEFT,
        end: QPointingDevice.PointerType = QPointingDevice.PointerType.Pen,
    ) -> None:  # fmt: skip
        """One stroke of a tablet pen; rows are canvas x, y and pressure."""
        rows = list(rows)
        self.pen_down(rows, button, end)
        self.pen_up(rows[-1], button)

    def pen_down(
        self, rows: Iterable[Sequence[float]], button: Qt.MouseButton = LEFT,
        end: QPointingDevice.PointerType = QPointingDevice.PointerType.Pen,
    ) -> None:  # fmt: skip
        """Put the pen down and go along rows, without lifting it."""
        self._device = QPointingDevice(
            "tablet", 77, QInputDevice.DeviceType.Stylus, end, QInputDevice.Capability.Pressure, 1, 2
        )
        rows = [(*row, 1.0)[:3] for row in rows]
        self._tablet(QEvent.Type.TabletPress, rows[0], button)
        for row in rows[1:]:
            self._tablet(QEvent.Type.TabletMove, row, button)

    def pen_up(self, row: Sequence[float], button: Qt.MouseButton = LEFT) -> None:
        """Lift the pen."""
        self._tablet(QEvent.Type.TabletRelease, (*row, 1.0)[:3], button)

    def _tablet(self, kind: QEvent.Type, row: Sequence[float], button: Qt.MouseButton) -> None:
        at = self.view(row[0], row[1])
        on = NONE if kind == QEvent.Type.TabletRelease else button
        screen = QPointF(self.easel.mapToGlobal(QPoint(0, 0))) + at
        cause = NONE if kind == QEvent.Type.TabletMove else button
        event = QTabletEvent(
            kind, self._device, at, screen, row[2], 10.0, -5.0, 0.0, 0.0, 0.0, Qt.KeyboardModifier.NoModifier, cause, on
        )
        self._stamped(event)

    # --- mouse ----------------------------------------------------------------------------------------

    def mouse(
        self, points: Iterable[Sequence[float]], button: Qt.MouseButton = LEFT, *, shift: bool = False,
        ctrl: bool = False,
    ) -> None:  # fmt: skip
        """One drag of the mouse over canvas positions."""
        self.drag([self.view(x, y) for x, y in points], button, shift=shift, ctrl=ctrl)

    def drag(
        self, points: Sequence[QPointF], button: Qt.MouseButton = LEFT, *, shift: bool = False, ctrl: bool = False
    ) -> None:
        """One drag over easel positions."""
        self.mouse_event(QEvent.Type.MouseButtonPress, points[0], button, shift=shift, ctrl=ctrl)
        for point in points[1:]:
            self.mouse_event(QEvent.Type.MouseMove, point, button, shift=shift, ctrl=ctrl)
        self.mouse_event(QEvent.Type.MouseButtonRelease, points[-1], button, shift=shift, ctrl=ctrl)

    def hover(self, x: float, y: float, *, shift: bool = False) -> None:
        self.mouse_event(QEvent.Type.MouseMove, self.view(x, y), NONE, shift=shift)

    def mouse_event(
        self, kind: QEvent.Type, at: QPointF, button: Qt.MouseButton, *, shift: bool = False, ctrl: bool = False
    ) -> None:
        on = NONE if kind == QEvent.Type.MouseButtonRelease else button
        cause = NONE if kind == QEvent.Type.MouseMove else button
        modifiers = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier
        if ctrl:
            modifiers |= Qt.KeyboardModifier.ControlModifier
        screen = QPointF(self.easel.mapToGlobal(QPoint(0, 0))) + at
        self._stamped(QMouseEvent(kind, at, screen, cause, on, modifiers))

    def drag_on(self, widget: QWidget, points: Sequence[Sequence[float]], button: Qt.MouseButton = LEFT) -> None:
        """One drag over positions of a widget."""
        for index, (x, y) in enumerate([*points, points[-1]]):
            first, last = index == 0, index == len(points)
            kind = QEvent.Type.MouseButtonPress if first else QEvent.Type.MouseButtonRelease
            kind = kind if first or last else QEvent.Type.MouseMove
            cause, down = (button if first or last else NONE), (NONE if last else button)
            screen = QPointF(widget.mapToGlobal(QPoint(0, 0))) + QPointF(x, y)
            self._stamped(QMouseEvent(kind, QPointF(x, y), screen, cause, down, Qt.KeyboardModifier.NoModifier), widget)

    def wheel(self, at: QPointF, notches: int) -> None:
        self._wheel(self.easel, at, notches)

    def wheel_widget(self, widget: QWidget, notches: int) -> None:
        """Turn the wheel over a widget; what it does not take goes to what it stands in, as in a real window."""
        while widget is not None and not self._wheel(widget, QPointF(widget.rect().center()), notches):
            widget = widget.parentWidget()

    def hover_widget(self, widget: QWidget) -> None:
        """Bring the pointer over a widget."""
        middle = QPointF(widget.rect().center())
        QApplication.sendEvent(widget, QEnterEvent(middle, middle, QPointF(widget.mapToGlobal(middle))))

    def _wheel(self, widget: QWidget, at: QPointF, notches: int) -> bool:
        screen = QPointF(widget.mapToGlobal(QPoint(0, 0))) + at
        event = QWheelEvent(
            at, screen, QPoint(), QPoint(0, 120 * notches), NONE, Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(widget, event)
        return event.isAccepted()

    def _stamped(self, event: QMouseEvent | QTabletEvent, widget: QWidget | None = None) -> None:
        self._time += 8
        event.setTimestamp(self._time)
        QApplication.sendEvent(widget or self.easel, event)

    # --- keys and widgets -----------------------------------------------------------------------------

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(self.easel, key, modifiers)

    def tap(self, key: Qt.Key, heard_late_s: float = 0.0) -> None:
        """Press and let go within a tenth of a second, however late the program hears of it."""
        for kind, at_ms in ((QEvent.Type.KeyPress, 1000), (QEvent.Type.KeyRelease, 1080)):
            event = QKeyEvent(kind, key, Qt.KeyboardModifier.NoModifier)
            event.setTimestamp(at_ms)
            QApplication.sendEvent(self.easel, event)
            QTest.qWait(round(heard_late_s * 1000))

    def command(self, path: str) -> None:
        """Run a command by its path in the menus."""
        self.window.menus.actions[path].trigger()
        QApplication.processEvents()

    def key_up(self, key: Qt.Key) -> None:
        """Let go of a modifier that mouse events carried."""
        QTest.keyRelease(self.easel, key)

    def press(self, key: Qt.Key) -> None:
        QTest.keyPress(self.easel, key)

    def repeat(self, key: Qt.Key) -> None:
        """A key that is held comes again and again."""
        for kind in (QEvent.Type.KeyRelease, QEvent.Type.KeyPress):
            QApplication.sendEvent(self.easel, QKeyEvent(kind, key, Qt.KeyboardModifier.NoModifier, "", True))

    def release(self, key: Qt.Key) -> None:
        QTest.keyRelease(self.easel, key)

    @staticmethod
    def click(widget: QWidget, at: QPointF | None = None) -> None:
        QTest.mouseClick(widget, LEFT, pos=at.toPoint() if at else widget.rect().center())
