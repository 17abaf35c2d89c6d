"""What drives a setting of the brush in hand, through which curve."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QVBoxLayout, QWidget

from japanner.desk.brushes.setting_rows import Choice
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.painter import painter_on
from japanner.stroke.brush.drive import DRIVEN, SOURCES, Drive

__all__ = ["CurvePicture", "DriveRows"]


class CurvePicture(QWidget):
    """The factor over the source."""

    def __init__(self) -> None:
        super().__init__()
        self._drive = Drive("size")
        self.setFixedHeight(46)

    def show_drive(self, drive: Drive) -> None:
        self._drive = drive
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            box = QRectF(self.rect()).adjusted(0.5, 2.5, -0.5, -2.5)
            painter.setPen(QPen(theme["edge"], 1))
            painter.drawRect(box)
            points = [
                QPointF(
                    box.left() + box.width() * i / 60, box.bottom() - box.height() * float(self._drive.factor(i / 60))
                )
                for i in range(61)
            ]
            painter.setPen(QPen(theme["gold"], 1.5))
            painter.drawPolyline(QPolygonF(points))


class DriveRows(QWidget):
    """Choose a setting and what drives it; below, how far and through which curve."""

    def __init__(self, session: Session, name_width: int) -> None:
        super().__init__()
        self._session = session
        self.setting = Choice("setting", DRIVEN, "Which setting is driven", name_width)
        self.source = Choice("by", SOURCES, "What drives it", name_width)
        self.amount = Fader("how far", -100, 100, unit=" %", name_width=name_width)
        self.amount.setToolTip("0: not at all. 100 %: nothing of the source means nothing of the setting. "
                               "Below 0: the other way round")  # fmt: skip
        self.low = Fader("from", 0, 99, unit=" %", name_width=name_width)
        self.low.setToolTip("Up to here the source counts as nothing")
        self.high = Fader("up to", 1, 100, unit=" %", name_width=name_width)
        self.high.setToolTip("From here on the source counts in full")
        self.gamma = Fader("bend", 0.1, 10, digits=2, logarithmic=True, name_width=name_width)
        self.gamma.setToolTip("1: straight. Above: slow at first. Below: quick at first")
        self._curve = CurvePicture()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        for row in (self.setting, self.source, self.amount, self.low, self.high, self.gamma, self._curve):
            column.addWidget(row)
        for choice in (self.setting, self.source):
            choice.box.currentTextChanged.connect(self.refresh)
        for name, scale in (("amount", 100), ("low", 100), ("high", 100), ("gamma", 1)):
            getattr(self, name).moved.connect(lambda value, n=name, s=scale: self._set(n, value / s))
        session.hand.brush_changed.connect(self.refresh)
        self.refresh()

    def _drive(self) -> Drive:
        return self._session.hand.brush.drive(self.setting.box.currentText(), self.source.box.currentText())

    def _set(self, name: str, value: float) -> None:
        drive = self._drive()
        if name == "low":
            value = min(value, drive.high - 0.01)
        elif name == "high":
            value = max(value, drive.low + 0.01)
        self._session.hand.drive_brush(drive.setting, drive.source, **{name: value})

    def refresh(self, *_: object) -> None:
        drive = self._drive()
        self.amount.set_value(drive.amount * 100)
        self.low.set_value(drive.low * 100)
        self.high.set_value(drive.high * 100)
        self.gamma.set_value(drive.gamma)
        self._curve.show_drive(drive)
