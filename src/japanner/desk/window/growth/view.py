"""Watch a painting grow: played or scrubbed along its way, two moments beside each other, any of them to go on from."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Final

from PySide6.QtCore import QElapsedTimer, QEvent, QObject, QPointF, QRect, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QComboBox, QLabel, QPushButton, QVBoxLayout, QWidget

from japanner.desk.easel.task import draw_line
from japanner.desk.screen import screens
from japanner.desk.theme import surround_colour, theme
from japanner.desk.widgets.flow import Flow
from japanner.desk.widgets.painter import painter_on
from japanner.desk.widgets.words import counted
from japanner.desk.window.growth.pictures import Pictures
from japanner.desk.window.growth.track import Track
from japanner.painting.document.way import Seen, Way
from japanner.types import Record

__all__ = ["GrowthView"]

WHOLE_S: Final = 20.0
"""How long it all takes at the speed that it begins with."""
SPEEDS: Final = (0.125, 0.25, 0.5, 1.0, 2.0, 4.0, 8.0, 16.0)
AS_IT_BEGINS: Final = 3
STEP: Final = 0.02
"""How far an arrow key goes."""
FRAME_MS: Final = 30
SURROUND: Final = 20.0
BESIDE, WIPE = "side by side", "wipe line"
GAP_PX: Final = 4
WORDS_PX, RATE_PX = 150, 44


@lru_cache(maxsize=24)
def _image(picture: bytes) -> QImage:
    return screens.image(QImage.fromData(picture))


class GrowthView(QWidget):
    """Lies over the easel; nothing of the painting is touched."""

    left = Signal()
    wanted = Signal(int)  # go on from after this change, as a painting of its own
    film_wanted = Signal()
    told = Signal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setObjectName("panel")
        self.hide()
        self.way = Way(1, (), (), (0, 0))
        self.at = 0.0
        """How far it has come, 0 to 1."""
        self.held: Seen | None = None
        self.line = 0.5
        self._speed = AS_IT_BEGINS
        self.pictures = Pictures(self, self.told.emit)
        self.pictures.arrived.connect(self._arrived)
        self._words, self._rate = QLabel(), QLabel()
        self.track = Track()
        self.track.sought.connect(self.go_to)
        self._lay_out()
        self._clock, self._timer = QElapsedTimer(), QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._step)

    def _lay_out(self) -> None:
        self.play_button = self._button("pause", "Pause, or go on (Space)", self.toggle)
        self.slower = self._button("slower", "Half the speed", lambda: self._set_speed(self._speed - 1))
        self.faster = self._button("faster", "Twice the speed", lambda: self._set_speed(self._speed + 1))
        self.hold_button = self._button("hold this moment", "Compare it with others (Enter)", self.hold)
        self.compare = QComboBox()
        self.compare.addItems([BESIDE, WIPE])
        self.compare.setToolTip("How the moment that is held is seen with another one")
        self.compare.setAccessibleName("Compared")
        self.compare.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.compare.installEventFilter(self)
        self.compare.currentTextChanged.connect(lambda _: self.update())
        self.compare.hide()
        self.from_here = self._button("go on from here", "This moment as a painting of its own", self._go_on_from)
        self.film = self._button("film…", "Write it to a file as a film", self._film)
        self.leave = self._button("leave", "Back to the painting (Esc)", self.stop)
        buttons = QWidget()
        row = Flow(buttons)
        self._words.setFixedWidth(WORDS_PX)
        self._rate.setFixedWidth(RATE_PX)
        for one in (self.play_button, self.slower, self._rate, self.faster, self._words, self.hold_button, self.compare,
                    self.from_here, self.film, self.leave):  # fmt: skip
            row.addWidget(one)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 8, 14, 10)
        column.addStretch(1)
        column.addWidget(self.track)
        column.addWidget(buttons)

    def _button(self, words: str, tip: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setToolTip(tip)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.installEventFilter(self)
        button.clicked.connect(lambda _=False: run())
        return button

    @property
    def playing(self) -> bool:
        return self._timer.isActive()

    @property
    def change(self) -> int:
        """After which change it is shown."""
        return self.way.at(self.at)

    @property
    def seen(self) -> Seen | None:
        """The picture that is shown: the last there is up to the change."""
        return self.pictures.at(self.change)

    def play(self, way: Way, records: Sequence[Record], area: QRect) -> None:
        """Play from the beginning, over an area of the parent."""
        self.way = way
        self.track.show_way(way)
        self._let_go()
        self.from_here.setEnabled(way.whole)
        self.film.setEnabled(way.whole)
        self.pictures.begin(way, records)
        self.setGeometry(area)
        self._set_speed(AS_IT_BEGINS)
        self.go_to(0.0)
        self.show()
        self.raise_()
        self.setFocus()
        self._go_on()

    def toggle(self) -> None:
        """Pause, or go on."""
        if self.playing:
            self._pause()
            return
        if self.at >= 1.0:
            self.go_to(0.0)
        self._go_on()

    def stop(self) -> None:
        """Back to the painting."""
        self._timer.stop()
        self.pictures.stop()
        if not self.isHidden():
            self.hide()
            self.left.emit()

    def go_to(self, share: float) -> None:
        """Show the growth as far as a share of it, 0 to 1."""
        self.at = self.track.at = min(max(share, 0.0), 1.0)
        self._tell()
        self.track.update()
        self.update()

    def _tell(self) -> None:
        change, stage = self.change, self.way.stage_at(self.change)
        done = counted(self.way.strokes[min(change, len(self.way.strokes) - 1)], "stroke")
        self._words.setText(f"{stage}, {done}" if stage else done)

    def _pause(self) -> None:
        self._timer.stop()
        self.play_button.setText("go on")

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

    def _arrived(self, change: int) -> None:
        """A finer picture: it is shown if it is the one for where the way stands."""
        seen = self.seen
        if seen is not None and seen.at == change:
            self.update()

    # --- two moments, and what comes of one ---------------------------------------------------------------

    def hold(self) -> None:
        """Hold the moment that is shown beside those that follow, or let it go."""
        if self.held is not None:
            self._let_go()
        elif self.seen is not None:
            self.held, self.track.held = self.seen, self.at
            self.hold_button.setText("let it go")
            self.compare.show()
            self._pause()
        self.track.update()
        self.update()

    def _let_go(self) -> None:
        self.held = self.track.held = None
        self.hold_button.setText("hold this moment")
        self.compare.hide()

    def _go_on_from(self) -> None:
        self._pause()
        self.wanted.emit(self.change)

    def _film(self) -> None:
        self.stop()
        self.film_wanted.emit()

    # --- keys and the mouse -------------------------------------------------------------------------------

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
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.hold()
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.go_to(self.at + (STEP if event.key() == Qt.Key.Key_Right else -STEP))
        else:
            event.ignore()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag the wipe line."""
        place = self._place(self._room()) if self.seen is not None else QRectF()
        if self.held is not None and self.compare.currentText() == WIPE and place.width() > 0:
            self.line = min(max((event.position().x() - place.x()) / place.width(), 0.0), 1.0)
            self.update()

    # --- what is seen -------------------------------------------------------------------------------------

    def _room(self) -> QRectF:
        return QRectF(0, 0, self.width(), self.track.y() - 8)

    def _place(self, room: QRectF) -> QRectF:
        """Where a picture lies in some room."""
        seen = self.seen
        size = _image(seen.picture).size() if seen is not None else None
        if size is None or size.isEmpty():
            return QRectF()
        scale = min(room.width() / size.width(), room.height() / size.height())
        found = QRectF(0, 0, size.width() * scale, size.height() * scale)
        found.moveCenter(room.center())
        return found

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.fillRect(self.rect(), theme["panel"])
            room = self._room()
            painter.fillRect(room, surround_colour(SURROUND))
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            seen = self.seen
            if seen is None:
                return
            if self.held is not None and self.compare.currentText() == BESIDE:
                half = (room.width() - GAP_PX) / 2
                for one, x in ((self.held, 0.0), (seen, half + GAP_PX)):
                    painter.drawImage(self._place(QRectF(x, 0, half, room.height())), _image(one.picture))
                return
            place = self._place(room)
            painter.drawImage(place, _image(seen.picture))
            if self.held is not None:
                self._draw_wipe(painter, place, self.held)

    def _draw_wipe(self, painter: QPainter, place: QRectF, held: Seen) -> None:
        """The held moment left of the line."""
        x = place.x() + place.width() * self.line
        painter.save()
        painter.setClipRect(QRectF(place.x(), place.y(), x - place.x(), place.height()))
        painter.drawImage(place, _image(held.picture))
        painter.restore()
        draw_line(painter, [QPointF(x, place.y()), QPointF(x, place.bottom())])
