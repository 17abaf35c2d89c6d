"""The value rail: L* 0 to 100, where the part, the ground, the brush and the pointer stand on it."""

from __future__ import annotations

import contextlib
import time
from concurrent.futures import Future
from functools import cache, partial

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF, QResizeEvent
from PySide6.QtWidgets import QWidget

from japanner.color import lab
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.painter import painter_on
from japanner.painting.model import STEP_NAMES, Part
from japanner.painting.operations import SetPart
from japanner.painting.picture.looks import grey_code
from japanner.raster.parallel import ASIDE
from japanner.review.gauge import NOTHING, Figures, Gauge
from japanner.review.separation import Separation
from japanner.review.values import BINS, ValueHistograms

__all__ = ["ValueRail"]

LEFT, RIGHT = {"slim": 70, "full": 98}, {"slim": 190, "full": 178}
RAMP_TOP, RAMP_HEIGHT = {"slim": 9, "full": 23}, {"slim": 14, "full": 17}
# Histograms are read from a picture of about this width, while a stroke is painted from a smaller one.
SAMPLE_WIDTH, FOLLOW_WIDTH = 1100, 600
FOLLOW_MS, SETTLE_MS = 200, 120
# The pointer is shown so often: it moves some hundred times a second.
POINTER_MS = 40
GRAB_PX = 5
CLIPPED_FROM = 0.01
# From this share on it is said how much chroma the gamut takes.
TOLD_FROM = 0.02
# Of the outline; what is less is not said.
TOLD_SHARE = 0.05


class ValueRail(QWidget):
    """Click the ramp to set the brush's value; drag a red mark to move a step of the part."""

    measured = Signal(int, object)  # number of the measurement, Figures; from beside

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._under: tuple[float, float, float] | None = None
        self._histograms, self._separation = NOTHING
        self._name = ""
        self._dragged: int | None = None
        self._scale: list[float] = []
        self.setObjectName("rail")
        self.form = "full"
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Value rail")
        self.setToolTip("Click the ramp to set the brush's value; drag a red mark to move a step of the part")
        self._gauge = Gauge()
        self._took_s = 0.0
        self._asked, self._told = 0, 0  # measurements by number: an older one never replaces a newer one
        self._still: QPixmap | None = None
        self._follow, self._settle, self._soon = (self._timer(ms) for ms in (FOLLOW_MS, SETTLE_MS, POINTER_MS))
        self._soon.timeout.connect(self.update)
        self._follow.timeout.connect(lambda: self._measure_beside(FOLLOW_WIDTH))
        self._settle.timeout.connect(lambda: self._measure_beside(SAMPLE_WIDTH))
        self.measured.connect(self._show)
        session.shown.connect(self._follow_stroke)
        for signal in (session.work.active_changed, session.opened, session.changed, session.looking.look_changed):
            signal.connect(self._later)
        for signal in (session.hand.colour_changed, session.hand.brush_changed, session.aiming.changed):
            signal.connect(self.update)
        self._later()

    def set_form(self, form: str) -> None:
        """Slim: the ramp with its marks and pointers; full: the values of part and ground around it, too."""
        self.form = form
        self._redraw()

    def _timer(self, ms: int) -> QTimer:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(ms)
        return timer

    def set_under(self, colour: tuple[float, float, float] | None) -> None:
        """The colour under the pointer."""
        if colour != self._under:
            self._under = colour
            self._pointer_moved()

    def set_name(self, name: str) -> None:
        """The part under the pointer, or none."""
        if name != self._name:
            self._name = name
            self._pointer_moved()

    def _pointer_moved(self) -> None:
        if not self._soon.isActive():
            self._soon.start()

    @property
    def separation(self) -> Separation | None:
        """Part against ground, as last measured."""
        return self._separation

    def measure(self) -> None:
        """Count the values of the part and of the ground around it, now."""
        self._follow.stop()
        self._settle.stop()
        part = self._session.part
        self._asked += 1
        level, pixels = self._session.picture.level_for(SAMPLE_WIDTH)
        self._show(self._asked, NOTHING if part is None else self._gauge.figures(part, level, pixels))

    def _measure_beside(self, width: int) -> None:
        """Measure beside the hand, in a picture about `width` px wide; the figures show when they are there."""
        part = self._session.part
        self._asked += 1
        if part is None:
            self._show(self._asked, NOTHING)
            return
        level, pixels = self._session.picture.level_for(width)
        done = ASIDE.submit(self._figures, part, level, pixels.copy())
        done.add_done_callback(partial(self._tell, self._asked))

    def _figures(self, part: Part, level: int, pixels: NDArray[np.uint32]) -> Figures:
        began = time.perf_counter()
        found = self._gauge.figures(part, level, pixels)
        self._took_s = time.perf_counter() - began
        return found

    def _tell(self, number: int, done: Future[Figures]) -> None:
        with contextlib.suppress(RuntimeError):  # the window is gone
            self.measured.emit(number, done.result())

    def _show(self, number: int, figures: Figures) -> None:
        if number > self._told:
            self._told = number
            self._histograms, self._separation = figures
            self._redraw()

    @property
    def histograms(self) -> ValueHistograms:
        return self._histograms

    def _later(self, *_: object) -> None:
        self._settle.start()
        self._redraw()

    def _follow_stroke(self, *_: object) -> None:
        """Measure soon, and once more when the picture rests."""
        if not self._follow.isActive():
            # A tenth of a core at most goes into figures while the hand is at it.
            self._follow.start(max(FOLLOW_MS, round(self._took_s * 10_000)))
        self._settle.start()

    def _redraw(self) -> None:
        """What does not move with the pointer has changed, too."""
        self._still = None
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._redraw()

    def changeEvent(self, event: QEvent) -> None:
        if event.type() == QEvent.Type.StyleChange:
            self._redraw()
        super().changeEvent(event)

    # --- geometry -------------------------------------------------------------------------------------

    def _ramp(self) -> QRectF:
        left, form = LEFT[self.form], self.form
        return QRectF(left, RAMP_TOP[form], max(self.width() - left - RIGHT[form], 50), RAMP_HEIGHT[form])

    def x_of(self, value: float) -> float:
        """Where L* `value` stands, in px from the left."""
        ramp = self._ramp()
        return ramp.left() + ramp.width() * value / 100

    def _value_at(self, x: float) -> float:
        ramp = self._ramp()
        return min(max((x - ramp.left()) / ramp.width() * 100, 0.0), 100.0)

    # --- input ----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent) -> None:
        part, position = self._session.part, event.position()
        if event.button() != Qt.MouseButton.LeftButton or not self._ramp().adjusted(-6, -22, 6, 24).contains(position):
            return
        if part is not None and position.y() > self._ramp().top() + self._ramp().height() * 0.6:
            near = [abs(self.x_of(value) - position.x()) for value in part.scale]
            if min(near) <= GRAB_PX:
                self._dragged, self._scale = near.index(min(near)), list(part.scale)
                return
        self._session.aiming.set_value(self._value_at(position.x()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragged is not None:
            low = self._scale[self._dragged - 1] + 1 if self._dragged else 0.0
            high = self._scale[self._dragged + 1] - 1 if self._dragged < 4 else 100.0
            self._scale[self._dragged] = round(min(max(self._value_at(event.position().x()), low), high), 1)
            self._redraw()
        elif event.buttons() & Qt.MouseButton.LeftButton and self._ramp().top() - 22 < event.position().y():
            self._session.aiming.set_value(self._value_at(event.position().x()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        part = self._session.part
        if self._dragged is not None and part is not None and tuple(self._scale) != part.scale:
            self._session.apply(SetPart(part.uid, {"scale": list(self._scale)}))
        self._dragged = None
        self._redraw()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self._session.aiming.set_value(self._session.aiming.value + step)

    # --- looks ----------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            if self._still is None:
                self._still = self._draw_still()
            painter.drawPixmap(0, 0, self._still)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._draw_pointers(painter)
            self._draw_figures(painter)
            if self.hasFocus():
                painter.setPen(QPen(theme["gold"], 1))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(self._ramp())

    def _draw_still(self) -> QPixmap:
        """Everything that does not follow the pointer: it moves some hundred times a second."""
        ratio = self.devicePixelRatioF()
        still = QPixmap(self.size() * ratio)
        still.setDevicePixelRatio(ratio)
        still.fill(theme["panel"])
        with QPainter(still) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._draw_labels(painter)
            if self.form == "full":
                self._draw_histograms(painter)
            painter.drawImage(self._ramp(), _ramp_image())
            self._draw_steps(painter)
        return still

    def _draw_labels(self, painter: QPainter) -> None:
        painter.setFont(font(11, bold=True))
        painter.setPen(theme["gold"])
        if self.form == "slim":
            painter.drawText(QPointF(10, 21), "RAIL  L*")
            return
        painter.drawText(QPointF(10, 18), "VALUE RAIL")
        painter.setFont(font(11))
        painter.setPen(theme["quiet"])
        painter.drawText(QPointF(10, 36), "L* 0–100")
        painter.drawText(QPointF(10, 53), "part / ground")

    def _draw_histograms(self, painter: QPainter) -> None:
        ramp, width = self._ramp(), self._ramp().width() / BINS
        for shares, base, sign, colour, room in (
            (self._histograms.part, ramp.top() - 1, -1, theme["gold"], ramp.top() - 4),
            (self._histograms.ground, ramp.bottom() + 1, 1, theme["quiet"], 12),
        ):
            self._warn_of_clipping(painter, shares, base, sign)
            self._draw_percentiles(painter, shares, base, sign)
            peak = float(shares.max())
            # The square root lets small shares be seen beside a peak.
            heights = np.maximum(room * np.sqrt(shares / max(peak, 1e-9)), 1.0)
            bars = [
                QRectF(ramp.left() + i * width, base - heights[i] * (sign < 0), max(width - 1.5, 1), heights[i])
                for i in np.flatnonzero(shares)
            ]
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour)
            # On whole pixels: smooth edges cost three times as much, and blur the bars.
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            painter.drawRects(bars)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def _draw_percentiles(self, painter: QPainter, shares: np.ndarray, base: float, sign: int) -> None:
        """A line from where two hundredths lie below to where two hundredths lie above."""
        total = np.cumsum(shares)
        if total[-1] > 0:
            low, high = (self.x_of(float(np.searchsorted(total, share * total[-1]))) for share in (0.02, 0.98))
            painter.fillRect(QRectF(low, base - (sign < 0), max(high - low, 1), 1), theme["text"])

    def _warn_of_clipping(self, painter: QPainter, shares: np.ndarray, base: float, sign: int) -> None:
        """A mark at either end where more than a hundredth lies at the very end of the scale."""
        for index, value in ((0, 0.0), (BINS - 1, 100.0)):
            if shares[index] > CLIPPED_FROM:
                painter.fillRect(QRectF(self.x_of(value) - 3, base + (sign - 1) * 4, 6, 8), theme["cinnabar"])

    def _draw_steps(self, painter: QPainter) -> None:
        part, ramp = self._session.part, self._ramp()
        if part is None:
            return
        painter.setFont(font(10))
        for index, value in enumerate(self._scale if self._dragged is not None else part.scale):
            x = self.x_of(value)
            painter.fillRect(QRectF(x - 1, ramp.top() - 3, 2, ramp.height() + 7), theme["cinnabar"])
            text = f"{STEP_NAMES[index]} {value:.0f}"
            below = 9 if self.form == "full" else 3
            place = QRectF(x - 50, ramp.bottom() + below, 100, 14)
            if self.form == "full":  # over the bars of the ground
                wide = painter.fontMetrics().horizontalAdvance(text) + 6
                painter.fillRect(QRectF(x - wide / 2, place.top() + 1, wide, 13), theme["panel"])
            painter.setPen(theme["text"])
            painter.drawText(place, Qt.AlignmentFlag.AlignCenter, text)

    def _draw_pointers(self, painter: QPainter) -> None:
        ramp = self._ramp()
        if self._under is not None:
            x = self.x_of(float(lab.lightness_from_srgb(self._under)))
            painter.fillRect(QRectF(x - 1.5, ramp.top() - 5, 3, ramp.height() + 10), theme["lacquer"])
            painter.fillRect(QRectF(x - 0.5, ramp.top() - 5, 1, ramp.height() + 10), theme["text"])
        x, tip = self.x_of(self._session.hand.value), ramp.top() + 3
        painter.setPen(QPen(theme["lacquer"], 1))
        painter.setBrush(Qt.GlobalColor.white)
        painter.drawPolygon(QPolygonF([QPointF(x - 6, tip - 10), QPointF(x + 6, tip - 10), QPointF(x, tip + 2)]))
        comes_to = self.comes_to
        if comes_to is not None:
            x = self.x_of(comes_to)
            painter.setPen(QPen(theme["gold"], 1.4))
            painter.setBrush(theme["lacquer"])
            painter.drawPolygon(QPolygonF([QPointF(x - 6, tip - 10), QPointF(x + 6, tip - 10), QPointF(x, tip + 2)]))

    @property
    def comes_to(self) -> float | None:
        """L* that a stroke comes to through the layer's mode, under the pointer; None where it is the colour's own."""
        return self._session.aiming.comes_to(self._under)

    def figures(self) -> list[str]:
        """What stands at the right end: the brush, what is under the pointer, and the part against the ground."""
        brush = lab.lch_from_srgb(self._session.hand.colour)
        lines = [f"brush  L* {brush[0]:.0f}   C* {brush[1]:.0f}", ""]
        comes_to, missed = self.comes_to, self._session.aiming.missed
        if comes_to is not None:
            lines[0] = f"brush {brush[0]:.0f}  comes to {comes_to:.0f}"
            if missed is not None:
                lines[0] = f"{missed[0]:.0f} out of reach, nearest {missed[1]:.0f}"
        elif self._session.hand.chroma_lost >= TOLD_FROM:
            lines[0] += f"  (−{self._session.hand.chroma_lost * 100:.0f} %)"
        if self._under is not None:
            under = float(lab.lightness_from_srgb(self._under))
            lines[1] = f"under  L* {under:.0f}  ({brush[0] - under:+.0f})  {self._name}"
            passed = self._session.aiming.full_pass(self._under)
            if passed is not None:
                in_hand = self._session.hand.brush
                tone = (
                    "to the next step"
                    if in_hand.aim == "step"
                    else "all tones"
                    if in_hand.tone == "all"
                    else in_hand.tone
                )
                lines[0] = f"full pass {under:.0f} to {passed:.0f}, {tone}"
        if self._separation is not None:
            found = self._separation
            shares = {"clear": found.clear, "close": found.close, "lost": found.lost}
            most = found.word
            beside = "lost" if most != "lost" and found.lost >= TOLD_SHARE else "close" if most != "close" else "clear"
            told = (most, *((beside,) if shares[beside] >= TOLD_SHARE else ()))
            words = ", ".join(f"{shares[word] * 100:.0f} % {word}" for word in told)
            lines.append(f"outline: {words}")
        return lines

    def _draw_figures(self, painter: QPainter) -> None:
        x = self.width() - RIGHT[self.form] + 18
        painter.setFont(font(11))
        metrics, room = painter.fontMetrics(), RIGHT[self.form] - 24
        lines = self.figures()
        if self.form == "slim":
            lines = [lines[0], *(lines[2:] or lines[1:2])]
        for row, line in enumerate(lines):
            # In the warning colour when the part melts into what is around it.
            melts = line.startswith("outline") and self._separation is not None and self._separation.word != "clear"
            missed = row == 0 and "out of reach" in line
            painter.setPen(theme["warning"] if melts or missed else theme["text"])
            words = metrics.elidedText(line, Qt.TextElideMode.ElideRight, room)
            painter.drawText(QPointF(x, (18 if self.form == "full" else 16) + row * 17), words)


@cache
def _ramp_image() -> QImage:
    """A true neutral ramp: one column per tenth of L*."""
    codes = np.array([grey_code(value) for value in np.linspace(0, 100, 501)], np.uint8)[None, :]
    return image_of(codes)
