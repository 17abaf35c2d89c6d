"""Compare over the easel: how it was, or a pinned picture, by a wipe line, through each other, or as a difference."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final, NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QTransform

from japanner.desk.easel.task import Press, Task
from japanner.desk.session.latest import Latest
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.option_row import Options
from japanner.files import png
from japanner.files.png import as_8_bit
from japanner.painting.live.moments import LAST_SAVE
from japanner.painting.model import Painting
from japanner.painting.picture.looks import LOOKS, look
from japanner.painting.picture.picture import Picture
from japanner.painting.picture.reduced import reduced
from japanner.review.side_by_side import fitted_reference, value_difference

__all__ = ["CompareTask"]

WIPE, THROUGH, DIFFERENCE = "wipe line", "through each other", "difference of values"
LONGEST_PX: Final = 1600
"""What is compared with is as large as this at the most."""
PINNED: Final = "picture: "


class Wish(NamedTuple):
    """What is to be laid over the painting, and how: with a look, or as a difference."""

    painting: Painting
    other: Painting | None
    name: str
    codes: Any
    how: str
    look: str
    scale: tuple[float, ...]


def _work(wish: Wish, deliver: Callable[[Any], None], told: Callable[[float], None]) -> None:
    step, whole = 1, wish.painting
    while max(whole.width, whole.height) / step > LONGEST_PX:
        step *= 2
    told(0.1)
    if wish.other is not None:
        pixels = Picture(reduced(wish.other, step)).levels[0]
    else:
        pixels = fitted_reference(whole, wish.name, wish.codes, step)
    told(0.6)
    if wish.how == DIFFERENCE:
        own = Picture(reduced(whole, step)).levels[0]
        told(0.8)
        pixels = value_difference(own, pixels)
    elif wish.look in LOOKS:
        pixels = look(wish.look, pixels, wish.scale)
    deliver(image_of(pixels))


class CompareTask(Task):
    """Drag the line over the picture; the look that is on counts for both."""

    title = "COMPARE"
    hint = "drag the line across the picture: left of it is what you compare with"
    cursor = Qt.CursorShape.SplitHCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.line = 0.5
        self.image: QImage | None = None
        self.row = row = Options()
        self.options = row
        self.what = row.choice("with", [""], "The painting as it was, or a pinned picture", lambda _: self._ask())
        self.how = row.choice("by", [WIPE, THROUGH, DIFFERENCE], "How the two are seen", lambda _: self._ask())
        self.strength = row.number("strength", 0, 100, 50, "How strongly it lies over the painting", unit=" %",
                                   changed=lambda _: self.redraw.emit())  # fmt: skip
        self._latest = Latest(self, _work)
        self._latest.delivered.connect(self._take)
        self._latest.failed.connect(session.told)
        session.changed.connect(self._changed)
        session.looking.look_changed.connect(self._changed)

    def begin(self) -> None:
        kept, names = self.what.currentText(), self._names()
        self.what.blockSignals(True)
        self.what.clear()
        self.what.addItems(names)
        self.what.setCurrentText(kept if kept in names else names[0])
        self.what.blockSignals(False)
        self._ask()

    def end(self) -> None:
        self._latest.stop()
        self.image = None

    def wait(self) -> None:
        """Until it is there."""
        self._latest.settle()

    def _names(self) -> list[str]:
        moments = self.session.comparing.moments
        kept = [moments.name_of(index) for index in range(len(moments.kept))]
        return [LAST_SAVE, *kept, *(f"{PINNED}{one.name}" for one in self.session.painting.board)]

    def _changed(self, *_: object) -> None:
        if self.row.isVisible():
            self._ask()

    def _ask(self) -> None:
        session, name = self.session, self.what.currentText()
        other: Painting | None = None
        codes: Any = None
        if name.startswith(PINNED):
            pinned = next((one for one in session.painting.board if f"{PINNED}{one.name}" == name), None)
            if pinned is None:
                return
            codes = as_8_bit(png.read(pinned.data, pinned.name).pixels[:3]).transpose(1, 2, 0)
            name = pinned.name
        else:
            other = self._moment(name)
            now = session.painting
            if other is None or (other.width, other.height) != (now.width, now.height):
                session.told.emit("The canvas had another size then." if other else "That moment is not kept any more.")
                return
        looking = session.looking
        self._latest.want(
            Wish(session.painting, other, name, codes, self.how.currentText(), looking.look, looking.look_scale)
        )

    def _moment(self, name: str) -> Painting | None:
        comparing = self.session.comparing
        if name == LAST_SAVE:
            return comparing.last_saved()
        kept = {comparing.moments.name_of(k): one.painting for k, one in enumerate(comparing.moments.kept)}
        return kept.get(name)

    def _take(self, _: Wish, image: QImage) -> None:
        self.image = image
        self.redraw.emit()

    # --- the hand, and what is seen -----------------------------------------------------------------------

    def press(self, press: Press) -> None:
        self.move(press, down=True)

    def move(self, press: Press, *, down: bool) -> None:
        if down and self.how.currentText() == WIPE:
            self.line = min(max(press.at.x() / self.session.painting.width, 0.0), 1.0)
            self.redraw.emit()

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        if self.image is None:
            return
        painting, how = self.session.painting, self.how.currentText()
        whole = QRectF(0, 0, painting.width, painting.height)
        painter.save()
        painter.setTransform(to_view, True)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if how == WIPE:
            painter.setClipRect(QRectF(0, 0, painting.width * self.line, painting.height))
        elif how == THROUGH:
            painter.setOpacity(self.strength.value() / 100)
        painter.drawImage(whole, self.image)
        painter.restore()
        if how == WIPE:
            x = painting.width * self.line
            ends = to_view.map(QPointF(x, 0)), to_view.map(QPointF(x, painting.height))
            for colour, wide in ((QColor(0, 0, 0, 170), 3.0), (theme["gold"], 1.4)):
                painter.setPen(QPen(colour, wide))
                painter.drawLine(*ends)
