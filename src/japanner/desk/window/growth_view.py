"""Watch a painting grow: the moments that its file keeps, one after another, over the easel."""

from __future__ import annotations

from bisect import bisect_right
from collections import Counter
from functools import lru_cache
from itertools import accumulate
from typing import Final

from PySide6.QtCore import QElapsedTimer, QEvent, QObject, QRect, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from japanner.desk.theme import surround_colour, theme
from japanner.desk.widgets.words import counted
from japanner.painting.picture.moments import Moment

__all__ = ["GrowthView"]

WHOLE_S: Final = 20.0
"""How long it all takes at the speed that it begins with."""
SPEEDS: Final = (0.125, 0.25, 0.5, 1.0, 2.0, 4.0, 8.0, 16.0)
AS_IT_BEGINS: Final = 3
STEP: Final = 0.02
"""How far an arrow key goes."""
SHORTEST_STAGE: Final = 0.05
"""Of the whole."""
FRAME_MS: Final = 30
TRACK_PX: Final = 26
MARK_PX: Final = 9
SURROUND: Final = 20.0


@lru_cache(maxsize=24)
def _image(moment: Moment) -> QImage:
    return QImage.fromData(moment.picture)


def _ends(moments: tuple[Moment, ...]) -> list[float]:
    """When each moment ends, 0 to 1: all take as long, but no stage is so short that it would not be seen."""
    counts = Counter(one.stage for one in moments)
    shares = [max(1.0, SHORTEST_STAGE * len(moments) / counts[one.stage]) for one in moments]
    return [end / sum(shares) for end in accumulate(shares)]


class Track(QWidget):
    """The way through the stages: a mark where each begins; a press or a drag goes there."""

    sought = Signal(float)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(TRACK_PX)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName("Growth")
        self.setToolTip("Press to go there")
        self.begins: list[tuple[float, str]] = []
        self.at = 0.0

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._seek(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._seek(event)

    def _seek(self, event: QMouseEvent) -> None:
        self.sought.emit(min(max(event.position().x() / max(self.width(), 1), 0.0), 1.0))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        wide, line = self.width(), QRectF(0, 0, self.width(), 4)
        painter.fillRect(line, theme["edge"])
        painter.fillRect(QRectF(0, 0, wide * self.at, 4), theme["gold"])
        names = painter.font()
        names.setPixelSize(11)
        painter.setFont(names)
        ends = [share for share, _ in self.begins[1:]] + [1.0]
        for (share, name), end in zip(self.begins, ends, strict=True):
            here = share <= self.at < end or (end == 1.0 and self.at == 1.0)
            painter.fillRect(QRectF(wide * share, 0, 1, MARK_PX), theme["gold"] if share <= self.at else theme["quiet"])
            room = int(wide * (end - share)) - 6
            painter.setPen(theme["text"] if here else theme["quiet"])
            words = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, room)
            if len(words) > 1:
                painter.drawText(int(wide * share) + 4, TRACK_PX - 5, words)
        painter.end()


class GrowthView(QWidget):
    """Lies over the easel while it plays; nothing of the painting is touched."""

    left = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setObjectName("panel")
        self.hide()
        self.moments: tuple[Moment, ...] = ()
        self._ends: list[float] = []
        self.at = 0.0
        """How far it has come, 0 to 1."""
        self._speed = AS_IT_BEGINS
        self._words, self._rate = QLabel(), QLabel()
        self.track = Track()
        self.track.sought.connect(self.go_to)
        self.play_button = self._button("pause", "Pause, or go on (Space)", self.toggle)
        self.slower = self._button("slower", "Half the speed", lambda: self._set_speed(self._speed - 1))
        self.faster = self._button("faster", "Twice the speed", lambda: self._set_speed(self._speed + 1))
        self.leave = self._button("leave", "Back to the painting (Esc)", self.stop)
        row = QHBoxLayout()
        for one in (self.play_button, self.slower, self._rate, self.faster, self._words):
            row.addWidget(one)
        row.addStretch(1)
        row.addWidget(self.leave)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 8, 14, 10)
        column.addStretch(1)
        column.addWidget(self.track)
        column.addLayout(row)
        self._clock, self._timer = QElapsedTimer(), QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._step)

    def _button(self, words: str, tip: str, run: object) -> QPushButton:
        button = QPushButton(words)
        button.setToolTip(tip)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.installEventFilter(self)
        button.clicked.connect(lambda _=False: run())  # type: ignore[operator]
        return button

    @property
    def playing(self) -> bool:
        return self._timer.isActive()

    @property
    def moment(self) -> Moment:
        """The one that is shown."""
        return self.moments[min(bisect_right(self._ends, self.at), len(self.moments) - 1)]

    def play(self, moments: tuple[Moment, ...], area: QRect) -> None:
        """Play from the beginning, over an area of the parent."""
        self.moments = moments
        self._ends = _ends(moments)
        begins: dict[str, float] = {}
        for one, begin in zip(moments, (0.0, *self._ends), strict=False):
            begins.setdefault(one.stage, begin)
        self.track.begins = [(share, stage) for stage, share in begins.items()]
        self.setGeometry(area)
        self._set_speed(AS_IT_BEGINS)
        self.go_to(0.0)
        self.show()
        self.raise_()
        self.setFocus()
        self._go_on()

    def toggle(self) -> None:
        if self.playing:
            self._timer.stop()
            self.play_button.setText("go on")
            return
        if self.at >= 1.0:
            self.go_to(0.0)
        self._go_on()

    def stop(self) -> None:
        """Back to the painting."""
        self._timer.stop()
        if not self.isHidden():
            self.hide()
            self.left.emit()

    def go_to(self, share: float) -> None:
        """Show the growth as far as a share of it, 0 to 1."""
        self.at = self.track.at = min(max(share, 0.0), 1.0)
        self._words.setText(f"{self.moment.stage}, {counted(self.moment.strokes, 'stroke')}")
        self.track.update()
        self.update()

    def _go_on(self) -> None:
        self._clock.restart()
        self._timer.start()
        self.play_button.setText("pause")

    def _step(self) -> None:
        seconds = self._clock.restart() / 1000
        self.go_to(self.at + seconds * SPEEDS[self._speed] / WHOLE_S)
        if self.at >= 1.0:
            self._timer.stop()
            self.play_button.setText("again")

    def _set_speed(self, index: int) -> None:
        self._speed = min(max(index, 0), len(SPEEDS) - 1)
        self._rate.setText(f"× {SPEEDS[self._speed]:g}")
        self.slower.setEnabled(self._speed > 0)
        self.faster.setEnabled(self._speed < len(SPEEDS) - 1)

    def event(self, event: QEvent) -> bool:
        return self._keeps(event) or super().event(event)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        return self._keeps(event) or super().eventFilter(watched, event)

    @staticmethod
    def _keeps(event: QEvent) -> bool:
        """Keys are ours while it plays: nothing is to happen to a painting that is not seen."""
        if event.type() != QEvent.Type.ShortcutOverride:
            return False
        event.accept()
        return True

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.stop()
        elif event.key() == Qt.Key.Key_Space:
            self.toggle()
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.go_to(self.at + (STEP if event.key() == Qt.Key.Key_Right else -STEP))
        else:
            event.ignore()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme["panel"])
        room = QRectF(0, 0, self.width(), self.track.y() - 8)
        painter.fillRect(room, surround_colour(SURROUND))
        if self.moments:
            image = _image(self.moment)
            scale = min(room.width() / max(image.width(), 1), room.height() / max(image.height(), 1))
            size = image.width() * scale, image.height() * scale
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(QRectF((room.width() - size[0]) / 2, (room.height() - size[1]) / 2, *size), image)
        painter.end()
