"""Placing a reference that lies over the canvas."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, Qt

from japanner.desk.easel.over_canvas import OverCanvas
from japanner.desk.easel.task import Press, Task
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options, set_quietly

__all__ = ["OverTask"]


class OverTask(Task):
    """Drag to move it, with Shift to turn it, with Ctrl to size it; painting goes on under it once this is left."""

    title = "OVER"
    hint = "drag moves the reference, with Shift turns it, with Ctrl sizes it · it is never paint"
    cursor = Qt.CursorShape.SizeAllCursor

    def __init__(self, session: Session, over: OverCanvas) -> None:
        super().__init__(session)
        self._over = over
        self._from: QPointF | None = None
        row = self.options = Options()
        self._strength = row.number("strength", 5, 100, 50, "How strongly it shows", unit=" %",
                                    changed=lambda v: over.change(strength=v / 100))  # fmt: skip
        self._size = row.number("size", 1, 2000, 100, "Of its own pixels", unit=" %",
                                changed=lambda v: over.change(scale=v / 100))  # fmt: skip
        self._turn = row.number("turn", -180, 180, 0, "Clockwise", unit="°", digits=1,
                                changed=lambda v: over.change(turn_deg=v))  # fmt: skip
        self._mirror = row.switch("mirror", False, "Left for right", lambda on: over.change(mirrored=on))
        row.button("take off", "Nothing lies over the canvas any more", self._take_off)
        over.changed.connect(self._show)

    def begin(self) -> None:
        if self._over.laid is None:
            self.session.told.emit("Nothing lies over the canvas: choose a picture of the board and press over.")
        self._show()

    def _show(self) -> None:
        laid = self._over.laid
        if laid is not None:
            set_quietly(self._strength, laid.strength * 100)
            set_quietly(self._size, laid.scale * 100)
            set_quietly(self._turn, laid.turn_deg)
            self._mirror.setChecked(laid.mirrored)
        self.redraw.emit()

    def _take_off(self) -> None:
        self._over.take_off()
        self.finished.emit()

    def press(self, press: Press) -> None:
        self._from = press.at

    def move(self, press: Press, *, down: bool) -> None:
        laid, start = self._over.laid, self._from
        if not down or laid is None or start is None:
            return
        middle = QPointF(laid.x, laid.y)
        before, after = start - middle, press.at - middle
        if press.shift:
            turn = math.degrees(math.atan2(after.y(), after.x()) - math.atan2(before.y(), before.x()))
            self._over.change(turn_deg=(laid.turn_deg + turn + 180) % 360 - 180)
        elif press.ctrl:
            grown = math.hypot(after.x(), after.y()) / max(math.hypot(before.x(), before.y()), 1e-6)
            self._over.change(scale=min(max(laid.scale * grown, 0.01), 20.0))
        else:
            self._over.change(x=laid.x + press.at.x() - start.x(), y=laid.y + press.at.y() - start.y())
        self._from = press.at

    def release(self, press: Press) -> None:
        self._from = None
