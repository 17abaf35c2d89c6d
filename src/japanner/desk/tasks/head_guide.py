"""The head guide: placing it, turning it in space, and drawing it."""

from __future__ import annotations

from dataclasses import asdict, replace
from functools import partial
from typing import Any, Final

from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.guide_lines import draw_guide
from japanner.desk.easel.task import Press, Task, draw_handle
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.painting.model.head_guide import GUIDE_KINDS, HeadGuide
from japanner.painting.operations import AddPart, SetGuide

__all__ = ["GuideTask"]

# Half a turn for one head height.
TURN_DEG: Final = 110.0
NUMBERS: Final = (
    ("height_px", "high", 4, 99999, " px", "From crown to chin, or the height of an animal's skull"),
    ("yaw_deg", "yaw", -180, 180, "°", "Turned to the right of the picture"),
    ("pitch_deg", "pitch", -180, 180, "°", "Turned up"),
    ("roll_deg", "roll", -180, 180, "°", "Tilted clockwise"),
    ("muzzle", "muzzle", 0, 2, "", "Length of an animal's muzzle, in skull heights"),
    ("muzzle_width", "wide", 0.05, 1, "", "Width of the muzzle, in skull heights"),
    ("ears", "ears", 0, 2, "", "Height of an animal's ears, in skull heights"),
)


class GuideTask(Task):
    """Drag the middle to move, the side handle to size, anywhere else to turn the head."""

    title = "HEAD"
    hint = "drag to turn it in space; the middle moves it, the handle at its side sizes it"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.guide: HeadGuide | None = None
        self._held = ""
        self._grip: tuple[QPointF, HeadGuide] | None = None
        row = self.options = Options()
        self.kind = row.choice("", GUIDE_KINDS, "A human head, or an animal's", lambda kind: self._set(kind=kind))
        row.button("from the front", "Turn it back", lambda: self._set(yaw_deg=0.0, pitch_deg=0.0, roll_deg=0.0))
        row.button("take away", "Take the guide off the drawing", self._take_away)
        row.row()
        self._boxes = {
            name: row.number(
                label, low, high, low, tip, unit=unit, digits=0 if high > 2 else 2,
                changed=partial(self._number, name),
            )
            for name, label, low, high, unit, tip in NUMBERS
        }  # fmt: skip

    def begin(self) -> None:
        """Take up the guide of the part worked on, or of the first drawing; there is one from now on."""
        session = self.session
        part = session.part
        if part is None or part.guide is None:
            drawings = [one for one in session.painting.parts if one.material == "drawing"]
            part = next((one for one in drawings if one.guide is not None), drawings[0] if drawings else None)
        if part is None:
            session.apply(AddPart("Drawing", "drawing"))
            part = session.painting.parts[-1]
        self._part = part.uid
        painting = session.painting
        self.guide = part.guide or HeadGuide(
            x=painting.width / 2, y=painting.height / 2, height_px=round(min(painting.width, painting.height) * 0.6)
        )
        if part.guide is None:
            self._commit()
        self._show()

    def _set(self, **changes: Any) -> None:
        if self.guide is not None:
            self.guide = replace(self.guide, **changes)
            self._commit()
            self._show()

    def _number(self, name: str, value: float) -> None:
        self._set(**{name: value})

    def _commit(self) -> None:
        if self.guide is not None:
            self.session.apply(SetGuide(self._part, asdict(self.guide)))

    def _take_away(self) -> None:
        self.session.apply(SetGuide(self._part, None))
        self.guide = None
        self.finished.emit()

    def _show(self) -> None:
        if self.guide is not None:
            self.kind.setCurrentText(self.guide.kind)
            for name, box in self._boxes.items():
                set_quietly(box, getattr(self.guide, name))
                box.setEnabled(self.guide.kind == "animal" or name not in ("muzzle", "muzzle_width", "ears"))
        self.redraw.emit()

    def _size_handle(self, guide: HeadGuide) -> tuple[float, float]:
        return guide.x + guide.height_px * 0.62, guide.y

    def press(self, press: Press) -> None:
        if self.guide is None:
            return
        self._held = "turn"
        if press.near(self.guide.x, self.guide.y):
            self._held = "move"
        elif press.near(*self._size_handle(self.guide)):
            self._held = "size"
        self._grip = (press.at, self.guide)

    def move(self, press: Press, *, down: bool) -> None:
        if not down or self._grip is None:
            return
        start, guide = self._grip
        dx, dy = press.at.x() - start.x(), press.at.y() - start.y()
        if self._held == "move":
            guide = replace(guide, x=guide.x + dx, y=guide.y + dy)
        elif self._held == "size":
            guide = replace(guide, height_px=min(max(guide.height_px + dx / 0.62, 4), 100_000))
        else:
            share = TURN_DEG / guide.height_px
            yaw = (guide.yaw_deg + dx * share + 180) % 360 - 180
            guide = replace(guide, yaw_deg=yaw, pitch_deg=min(max(guide.pitch_deg - dy * share, -90), 90))
        self.guide = guide
        self._show()

    def release(self, press: Press) -> None:
        if self._grip is not None and self.guide is not None and self.guide != self._grip[1]:
            self._commit()
        self._grip = None

    @property
    def hides_guides(self) -> bool:
        return self._grip is not None and self.guide is not None

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        if self.guide is not None:
            if self._grip is not None:
                draw_guide(painter, self.guide, to_view)
            draw_handle(painter, to_view.map(QPointF(self.guide.x, self.guide.y)), hot=self._held == "move")
            draw_handle(painter, to_view.map(QPointF(*self._size_handle(self.guide))), hot=self._held == "size")
