"""The brush in hand, always in sight: its tip at true size, what changes all day, and where it will land."""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import QPointF, QRectF, QSignalBlocker, Qt
from PySide6.QtGui import QImage, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLabel, QSizePolicy, QWidget

from japanner.color.srgb import srgb_from_hex
from japanner.desk.brushes.preview import dab_image
from japanner.desk.brushes.settings import SETTINGS
from japanner.desk.easel.easel import Easel
from japanner.desk.easel.landing import landing_words
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.painter import painter_on
from japanner.stroke.brush import Brush

__all__ = ["HandBlock"]

TIP_SIDE = 46
PLACES = {"size_px": (0, 0), "strength": (1, 0), "edge": (0, 1), "flow": (1, 1), "turn_deg": (0, 2)}


@lru_cache(maxsize=64)
def _dab(brush: Brush, side: int, ink: str) -> QImage:
    return dab_image(brush.with_changes(strength=1.0, flow=1.0), side, srgb_from_hex(ink))


class TipView(QWidget):
    """The tip as large as on the easel, turned as it is; what is larger than the round is cut off by it."""

    def __init__(self, session: Session, easel: Easel) -> None:
        super().__init__()
        self._session, self._easel = session, easel
        self.setFixedSize(TIP_SIDE, TIP_SIDE)
        self.setToolTip("The tip as large as it is on the easel")
        for signal in (session.hand.brush_changed, session.hand.colour_changed, easel.turned):
            signal.connect(self.update)

    def paintEvent(self, event: QPaintEvent) -> None:
        brush, middle = self._session.hand.brush, QPointF(TIP_SIDE / 2, TIP_SIDE / 2)
        size = brush.size_px * self._easel.view.zoom
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            round_ = QRectF(0.5, 0.5, TIP_SIDE - 1, TIP_SIDE - 1)
            painter.setPen(QPen(theme["hairline"], 1))
            painter.setBrush(theme["lacquer"])
            painter.drawEllipse(round_)
            if brush.does.hair:
                painter.setPen(QPen(theme["text"], 1))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(middle, min(size, TIP_SIDE - 6) / 2, min(size, TIP_SIDE - 6) / 2)
                return
            inside = QPainterPath()
            inside.addEllipse(round_)
            painter.setClipPath(inside)
            side = max(round(size), 3)
            picture = _dab(brush.with_changes(turn="fixed"), min(side, 96), theme["text"].name())
            shown = QRectF(0, 0, side, side)
            shown.moveCenter(middle)
            painter.drawImage(shown, picture)
            if size > TIP_SIDE:
                painter.setPen(theme["lacquer"])
                painter.setFont(font(10))
                painter.drawText(round_, Qt.AlignmentFlag.AlignCenter, f"{size / TIP_SIDE:.1f} ×")


class HandBlock(QWidget):
    """Only the faders that count for this brush; they keep their places."""

    def __init__(self, session: Session, easel: Easel) -> None:
        super().__init__()
        self._session = session
        self.setFixedWidth(436)
        self._name, self._lands = QLabel(), QLabel()
        self._name.setObjectName("gold")
        self._lands.setObjectName("quiet")
        self._lands.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._lands.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.faders: dict[str, Fader] = {}
        self._settings = {one.name: one for one in SETTINGS if one.name in PLACES}
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(1)
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self._name)
        head.addWidget(self._lands, 1)
        grid.addLayout(head, 0, 0, 1, 3)
        for name, (row, column) in PLACES.items():
            one = self._settings[name]
            fader = Fader(one.label, one.low, one.high, unit=one.unit, digits=one.digits, logarithmic=one.logarithmic,
                          name_width=(48, 30, 28)[column], figure_width=46)  # fmt: skip
            fader.setToolTip(one.tip)
            fader.setAccessibleName(f"Brush {one.label}")
            fader.setFixedHeight(17)
            fader.moved.connect(lambda value, n=name: self._set(n, value))
            policy = fader.sizePolicy()
            policy.setRetainSizeWhenHidden(True)
            fader.setSizePolicy(policy)
            grid.addWidget(fader, row + 1, column)
            self.faders[name] = fader
        for column in range(3):
            grid.setColumnStretch(column, 1)
        grid.addLayout(self._switches(), 2, 2)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(6, 2, 0, 2)
        whole.setSpacing(8)
        whole.addWidget(TipView(session, easel))
        whole.addLayout(grid, 1)
        hand, work = session.hand, session.work
        for signal in (hand.brush_changed, work.active_changed, work.target_changed, session.changed, session.opened):
            signal.connect(self.refresh)
        self.refresh()

    def _switches(self) -> QHBoxLayout:
        self.wipe, self.pick_up = QCheckBox("wipe"), QCheckBox("pick up")
        self.wipe.setToolTip("Take paint off with the same tip")
        self.pick_up.setToolTip("Pick up the colour that the stroke begins on")
        self.wipe.toggled.connect(lambda _: self._session.hand.toggle_wiping())
        self.pick_up.toggled.connect(lambda on: self._session.hand.set_brush(pick_up=on))
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.wipe)
        row.addWidget(self.pick_up)
        row.addStretch(1)
        return row

    def _set(self, name: str, value: float) -> None:
        self._session.hand.set_brush(**{name: value / self._settings[name].scale})

    def refresh(self, _: object = None) -> None:
        """Show the brush in hand, and where its strokes go."""
        hand = self._session.hand
        brush = hand.brush
        for name, fader in self.faders.items():
            fader.setVisible(self._settings[name].applies(brush))
            fader.set_value(getattr(brush, name) * self._settings[name].scale)
        for box, on in ((self.wipe, hand.wiping), (self.pick_up, brush.pick_up)):
            with QSignalBlocker(box):
                box.setChecked(on)
        self._name.setText(brush.name)
        words = landing_words(self._session)
        metrics = self._lands.fontMetrics()
        room = self.width() - TIP_SIDE - 40 - self._name.sizeHint().width()
        self._lands.setText(metrics.elidedText(words, Qt.TextElideMode.ElideRight, room))
        self._lands.setToolTip(words)
