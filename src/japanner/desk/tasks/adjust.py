"""Adjusting and filtering, with the outcome on the easel while the numbers move."""

from __future__ import annotations

from typing import Any, Final

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from japanner.color.value import with_value
from japanner.desk.easel.task import CommitTask
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.numbers import NumberBox
from japanner.desk.widgets.option_row import Options
from japanner.desk.widgets.painter import painter_on
from japanner.painting.model import DEFAULT_SCALE
from japanner.painting.operations import Filter
from japanner.painting.operations.filters import FILTERS, filter_settings
from japanner.raster.adjust import ADJUSTMENTS

__all__ = ["ADJUST_NAMES", "AdjustTask", "CurvePad"]

ADJUST_NAMES: Final = (*ADJUSTMENTS, *FILTERS)
WHAT: Final = ("layer", "part", "everything")
LABELS: Final = {"sigma_px": "width"}


class CurvePad(QWidget):
    """A value curve: drag its points, click to add one, double-click to take one away."""

    changed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.points: list[list[float]] = [[0.0, 0.0], [100.0, 100.0]]
        self._held: int | None = None
        self.setFixedSize(QSize(150, 96))
        self.setAccessibleName("Value curve")
        self.setToolTip("From the values that are there to those they become; click to add a point")

    def _at(self, x: float, y: float) -> QPointF:
        return QPointF(4 + x / 100 * (self.width() - 8), self.height() - 4 - y / 100 * (self.height() - 8))

    def _values(self, at: QPointF) -> list[float]:
        x = (at.x() - 4) / (self.width() - 8) * 100
        y = (self.height() - 4 - at.y()) / (self.height() - 8) * 100
        return [min(max(x, 0.0), 100.0), min(max(y, 0.0), 100.0)]

    def _near(self, at: QPointF) -> int | None:
        found = [i for i, point in enumerate(self.points) if (self._at(*point) - at).manhattanLength() < 12]
        return found[0] if found else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held = self._near(event.position())
        if self._held is None:
            point = self._values(event.position())
            self.points = sorted([*self.points, point])
            self._held = self.points.index(point)
        self._drag(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._drag(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._held = None

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        near = self._near(event.position())
        if near not in (None, 0, len(self.points) - 1):
            del self.points[near]
            self._held = None
            self.changed.emit()
            self.update()

    def _drag(self, at: QPointF) -> None:
        if self._held is None:
            return
        x, y = self._values(at)
        low = self.points[self._held - 1][0] + 1 if self._held else 0.0
        high = self.points[self._held + 1][0] - 1 if self._held < len(self.points) - 1 else 100.0
        self.points[self._held] = [min(max(x, low), max(high, low)), y]
        self.changed.emit()
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(theme["edge"], 1))
            painter.setBrush(theme["tile"])
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
            for share in (20, 40, 60, 80):
                painter.drawLine(self._at(share, 0), self._at(share, 100))
                painter.drawLine(self._at(0, share), self._at(100, share))
            painter.setPen(QPen(theme["gold"], 1.4))
            painter.drawPolyline([self._at(x, y) for x, y in self._line()])
            painter.setBrush(theme["gold"])
            for point in self.points:
                painter.drawEllipse(self._at(*point), 3, 3)

    def _line(self) -> list[tuple[float, float]]:
        from scipy.interpolate import PchipInterpolator  # noqa: PLC0415 - a slow import that few strokes need

        xs, ys = zip(*self.points, strict=True)
        curve = PchipInterpolator(xs, ys)
        steps = [i * 2.0 for i in range(51)]
        return [(x, float(curve(min(max(x, xs[0]), xs[-1])))) for x in steps]


class AdjustTask(CommitTask):
    """One adjustment or filter; the easel shows it until it counts or is left."""

    title = "ADJUST"
    hint = ""
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.name = "levels"
        row = self.options = Options()
        self._name_box = row.choice("", ADJUST_NAMES, "What to adjust", self.take_name)
        self.what = row.choice("of the", WHAT, "This layer, the part, or everything", lambda _: self._show())
        row.button("done", "Make it count (Enter)", self.done)
        row.row()
        self._numbers: dict[str, NumberBox] = {}
        self._curve: CurvePad | None = None
        self._fill()

    def take_name(self, name: str) -> None:
        self.name = name
        self._name_box.setCurrentText(name)
        self._fill()
        if self.session.trials.trial is not None:
            self._show()

    def _fill(self) -> None:
        row = self.options
        assert isinstance(row, Options)
        row.clear(last_row=True)
        self._numbers, self._curve = {}, None
        for one in filter_settings(self.name):
            digits = 0 if one.high - one.low >= 90 else 2
            self._numbers[one.name] = row.number(
                LABELS.get(one.name, one.name), one.low, one.high, one.start, one.name, unit=one.unit, digits=digits,
                changed=lambda _: self._show(),
            )  # fmt: skip
        if self.name == "curve":
            self._curve = CurvePad()
            self._curve.changed.connect(self._show)
            row.add(self._curve)

    @property
    def layers(self) -> tuple[int, ...]:
        session, what = self.session, self.what.currentText()
        if what == "everything":
            return tuple(layer.uid for _, layer in session.painting.layers() if layer.pixels.tiles)
        if what == "part" and session.part is not None:
            return tuple(layer.uid for layer in session.part.layers if layer.pixels.tiles)
        return (session.work.active_layer,) if session.work.active_layer is not None else ()

    def operation(self) -> Filter:
        settings: dict[str, Any] = {name: box.value() for name, box in self._numbers.items()}
        if self._curve is not None:
            settings["points"] = [list(point) for point in self._curve.points]
        if self.name == "gradient map":
            scale = self.session.part.scale if self.session.part else DEFAULT_SCALE
            settings |= {
                "steps": list(scale),
                "colours": [list(with_value(self.session.hand.colour, v)) for v in scale],
            }
        on = self.session.work.on if self.what.currentText() == "layer" else "paint"
        return Filter(self.layers, self.name, settings, on)

    def begin(self) -> None:
        self.session.trials.begin()
        self._show()

    def end(self) -> None:
        self.session.trials.end()

    def _show(self) -> None:
        self.session.trials.show(self.operation())

    def done(self) -> None:
        self.session.carry_out(self.operation(), self.finished.emit)
