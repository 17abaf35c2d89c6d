"""Compare over the easel: how it was, or a pinned picture, by a wipe line, through each other, or as a difference."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final, NamedTuple

from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtGui import QImage, QPainter, QTransform

from japanner.desk.easel.task import Press, Task
from japanner.desk.easel.wipe_line import WipeLine, step_for
from japanner.desk.screen import screens
from japanner.desk.session.latest import Latest
from japanner.desk.session.session import Session
from japanner.desk.theme import surround_colour
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.option_row import Options, refill
from japanner.files.shelf.references import reference_of
from japanner.painting.live.moments import LAST_SAVE
from japanner.painting.model import Painting
from japanner.painting.picture.looks import LOOKS, look
from japanner.painting.picture.picture import Picture
from japanner.painting.picture.reduced import reduced
from japanner.review.side_by_side import fitted_reference, value_difference

__all__ = ["CompareTask"]

WIPE, THROUGH, DIFFERENCE = "wipe line", "through each other", "difference of values"
BLINK, BESIDE = "blink", "side by side"
WAYS: Final = (WIPE, BESIDE, THROUGH, BLINK, DIFFERENCE)
BLINK_MS: Final = 700
EDGE_PX, SMALLEST = 16.0, 0.5
"""Side by side: room beside each, and how much smaller each is at the most."""
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
    whole = wish.painting
    step = step_for(whole)
    told(0.1)
    if wish.other is not None:
        pixels = Picture(reduced(wish.other, step)).levels[0]
    else:
        pixels = fitted_reference(whole, wish.name, wish.codes, step)
    told(0.6)
    own = Picture(reduced(whole, step)).levels[0] if wish.how in (DIFFERENCE, BESIDE) else None
    told(0.8)
    if wish.how == DIFFERENCE:
        assert own is not None
        deliver((image_of(value_difference(own, pixels)), None))
        return
    images = [None if one is None else image_of(_seen(wish, one)) for one in (pixels, own)]
    deliver(tuple(images))


def _seen(wish: Wish, pixels: Any) -> Any:
    """Pixels as the look shows them."""
    return look(wish.look, pixels, wish.scale) if wish.look in LOOKS else pixels


class CompareTask(Task):
    """Drag the line over the picture; the look that is on counts for both."""

    title = "COMPARE"
    hint = "drag the line across the picture: left of it is what you compare with"
    cursor = Qt.CursorShape.SplitHCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.wipe = WipeLine(self, session.told.emit)
        self.wipe.redraw.connect(self.redraw)
        self.image: QImage | None = None
        self.own: QImage | None = None
        """The painting itself, where it is drawn beside the other."""
        self._blink = QTimer(self)
        self._blink.setInterval(BLINK_MS)
        self._blink.timeout.connect(self._turn)
        self.seen = True
        """Whether a blink shows the other one just now."""
        self.row = row = Options()
        self.options = row
        self.what = row.choice("with", [""], "The painting as it was, or a pinned picture", lambda _: self._ask())
        self.how = row.choice("by", WAYS, "How the two are seen", lambda _: self._ask())
        self.strength = row.number("strength", 0, 100, 50, "How strongly it lies over the painting", unit=" %",
                                   changed=lambda _: self.redraw.emit())  # fmt: skip
        self._latest = Latest(self, _work)
        self._latest.delivered.connect(self._take)
        self._latest.failed.connect(session.told)
        session.changed.connect(self._changed)
        session.looking.look_changed.connect(self._changed)

    def begin(self) -> None:
        refill(self.what, self._names())
        self._ask()

    def end(self) -> None:
        self._latest.stop()
        self._blink.stop()
        self.wipe.take_off()
        self.image = self.own = None

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
            found = reference_of(pinned)
            if found.lost:
                session.told.emit(found.lost)
            codes = found.pixels[:3].transpose(1, 2, 0)
            name = pinned.name
        else:
            other = self._moment(name)
            now = session.painting
            if other is None or (other.width, other.height) != (now.width, now.height):
                session.told.emit("The canvas had another size then." if other else "That moment is not kept any more.")
                return
        looking, how = session.looking, self.how.currentText()
        if how == BLINK:
            self._blink.start()
        else:
            self._blink.stop()
        self._latest.want(Wish(session.painting, other, name, codes, how, looking.look, looking.look_scale))

    def _moment(self, name: str) -> Painting | None:
        comparing = self.session.comparing
        if name == LAST_SAVE:
            return comparing.last_saved()
        kept = {comparing.moments.name_of(k): one.painting for k, one in enumerate(comparing.moments.kept)}
        return kept.get(name)

    def _take(self, wish: Wish, images: tuple[QImage, QImage | None]) -> None:
        other, own = images
        self.image, self.own = screens.image(other), None if own is None else screens.image(own)
        self.seen = True
        if wish.how == WIPE:
            self.wipe.show(other)
        else:
            self.wipe.take_off()
        self.redraw.emit()

    def _turn(self) -> None:
        self.seen = not self.seen
        self.redraw.emit()

    # --- the hand, and what is seen -----------------------------------------------------------------------

    def press(self, press: Press) -> None:
        self.move(press, down=True)

    def move(self, press: Press, *, down: bool) -> None:
        if down and self.how.currentText() == WIPE:
            self.wipe.go_to(press.at.x() / self.session.painting.width)

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        painting, how = self.session.painting, self.how.currentText()
        if how == WIPE:
            self.wipe.draw(painter, to_view, painting.width, painting.height)
        elif how == BESIDE and self.own is not None:
            self._draw_beside(painter, to_view)
        elif self.image is not None and how != BESIDE and (self.seen or how != BLINK):
            painter.save()
            painter.setOpacity(self.strength.value() / 100 if how == THROUGH else 1.0)
            _draw_whole(painter, self.image, to_view, painting)
            painter.restore()

    def _draw_beside(self, painter: QPainter, to_view: QTransform) -> None:
        """Both as small as they have to be, the other at the left; the middle of the view is the middle of each."""
        view, whole = QRectF(painter.window()), self.session.painting.rect
        half = view.width() / 2
        shown = to_view.mapRect(QRectF(0, 0, whole.width, whole.height))
        factor = min(max((half - EDGE_PX) / max(shown.width(), 1.0), SMALLEST), 1.0)
        painter.save()
        painter.fillRect(view, surround_colour(self.session.looking.surround))
        for image, left in ((self.image, 0.0), (self.own, half)):
            here = QTransform.fromTranslate(-view.center().x(), -view.center().y())
            here *= QTransform.fromScale(factor, factor) * QTransform.fromTranslate(left + half / 2, view.center().y())
            painter.setClipRect(QRectF(left, 0, half - 1, view.height()))
            if image is not None:
                _draw_whole(painter, image, to_view * here, self.session.painting)
        painter.restore()


def _draw_whole(painter: QPainter, image: QImage, to_view: QTransform, painting: Painting) -> None:
    painter.save()
    painter.setTransform(to_view, True)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(QRectF(0, 0, painting.width, painting.height), image)
    painter.restore()
