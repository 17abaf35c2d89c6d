"""Landmarks of a head set on the picture, and a figure fitted to them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Final

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QTransform

from japanner.desk.easel.over_canvas import OverCanvas
from japanner.desk.easel.task import Press, Task, draw_word
from japanner.desk.session.latest import Latest
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.option_row import Options
from japanner.desk.widgets.questions import ask_for_name
from japanner.errors import InputError
from japanner.light.figure.fit import FEWEST_SLIDERS, Fit, fit, landmarks
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.live.figure_lines import figure_lines
from japanner.painting.model import Landmarks
from japanner.painting.operations import SetLandmarks, SetMaquette

__all__ = ["LandmarksTask"]

Place = tuple[float, float]
FIRST: Final = (
    "nose tip", "left outer eye corner", "right outer eye corner", "left mouth corner", "right mouth corner",
    "under the chin", "left inner eye corner", "right inner eye corner", "left wing of the nose",
    "right wing of the nose", "upper lip", "lower lip", "mouth", "crown", "nose base", "root of the nose",
)  # fmt: skip
"""What is asked for first: what tells most of how a head stands."""
ANIMAL: Final = (
    "nose tip", "left nostril", "right nostril", "left inner eye corner", "right inner eye corner",
    "left outer eye corner", "right outer eye corner", "left mouth corner", "right mouth corner", "chin", "brow",
    "crown", "left ear root", "left ear tip", "right ear root", "right ear tip",
)  # fmt: skip
FIGURE: Final = (
    "crown", "chin", "pit of the neck", "left shoulder", "right shoulder", "left elbow", "right elbow", "left wrist",
    "right wrist", "navel", "left hip", "right hip", "crotch", "left knee", "right knee", "left ankle", "right ankle",
    "left toes", "right toes",
)  # fmt: skip
HEAD, FACE, ANIMAL_WORDS, FIGURE_WORDS = "a head, to be fitted", "a face", "an animal's head", "a figure"
OWN_NAME: Final = "own name…"
LINES: Final = QColor(233, 211, 150, 70)


@dataclass(frozen=True)
class _Wish:
    places: Mapping[str, Place]
    begin: Mapping[str, float]


def _work(wish: _Wish, deliver: Callable[[Fit], None], told: Callable[[float], None]) -> None:
    deliver(fit(wish.places, wish.begin, told))


class LandmarksTask(Task):
    """Click where the landmark is that is named; drag one to move it. They belong to the reference over the canvas, if
    there is one, else to the canvas.
    """

    title = "LANDMARKS"
    hint = (
        "click where the landmark that is named lies, on the reference over the canvas or on the canvas; drag one to "
        "move it, Backspace takes it away · from six on a head can be fitted, from twenty on its features, too"
    )

    maquette_wanted = Signal()

    def __init__(self, session: Session, over: OverCanvas) -> None:
        super().__init__(session)
        self._over = over
        self._held = ""
        self._moved: Landmarks | None = None
        self._lines: list[list[Place]] = []
        self.fitted: Fit | None = None
        self._latest = Latest(self, _work)
        self._latest.delivered.connect(self._found)
        self._latest.failed.connect(session.told)
        form = self.options = Options()
        self.preset = form.choice("of", list(_sets()), "Which landmarks are asked for; a figure's head is fitted to "
                                  "those of a head", self._take_set)  # fmt: skip
        self._next = form.choice("next", _in_order(), "The landmark that the next click sets", self._named)
        form.button("fit", "Let the figure stand as the landmarks have it; with twenty, its features too", self.fit)
        form.button("take away", "Take away the landmark that is named (Backspace)", self.take_away)
        form.button("clear", "Take away all landmarks of this picture", self.clear)
        form.button("maquette", "Back to the maquette", self.maquette_wanted.emit)
        for signal in (session.changed, session.opened, over.changed):
            signal.connect(self._from_painting)

    # --- what there is -----------------------------------------------------------------------------------

    @property
    def picture(self) -> str:
        """Whose landmarks are set: the name of the reference over the canvas, or "" for the canvas."""
        return "" if self._over.laid is None else self._over.laid.name

    @property
    def marks(self) -> Landmarks:
        """The landmarks, as they are dragged."""
        return self._moved or self.session.painting.landmarks_on(self.picture)

    def _to_canvas(self) -> QTransform:
        laid = self._over.laid
        if laid is None:
            return QTransform()
        return QTransform.fromTranslate(-laid.image.width() / 2, -laid.image.height() / 2) * laid.to_canvas()

    def on_canvas(self) -> dict[str, Place]:
        """Where the landmarks are on the canvas."""
        to_canvas = self._to_canvas()
        found = {}
        for name, (x, y) in self.marks.as_places().items():
            at = to_canvas.map(QPointF(x, y))
            found[name] = (at.x(), at.y())
        return found

    def begin(self) -> None:
        self._from_painting()
        self._take_set(self.preset.currentText())

    def end(self) -> None:
        self._latest.stop()

    def _from_painting(self, *_: object) -> None:
        self._lines = figure_lines(self.session.painting.maquette)
        self.redraw.emit()

    def _take_set(self, preset: str) -> None:
        """Ask for these landmarks, and for those of own names that are there."""
        names = _sets()[preset]
        own = [name for one in self.session.painting.landmarks for name, _, _ in one.places if name not in names]
        chosen = self._next.currentText()
        self._next.clear()
        self._next.addItems([*names, *dict.fromkeys(own), OWN_NAME])
        if self._next.findText(chosen) >= 0 and chosen != OWN_NAME:
            self._next.setCurrentText(chosen)
        self._go_on()
        self.redraw.emit()

    def _named(self, name: str) -> None:
        """The next landmark is this one; or one of an own name."""
        if name == OWN_NAME:
            self.session.rest_hand()
            name = ask_for_name(self.options.window(), "A landmark of your own", "").strip()[:80]
            if name and self._next.findText(name) < 0:
                self._next.insertItem(self._next.count() - 1, name)
            self._next.setCurrentText(name or self._next.itemText(0))
        self.redraw.emit()

    def _go_on(self) -> None:
        """Name the next landmark that is not set yet."""
        known = self.marks.as_places()
        for name in _sets()[self.preset.currentText()]:
            if name not in known:
                self._next.setCurrentText(name)
                return

    # --- what is done ------------------------------------------------------------------------------------

    def _set(self, marks: Landmarks) -> None:
        self.session.apply(SetLandmarks(marks.picture, marks.places))

    def take_away(self) -> None:
        """Take away the landmark that is named."""
        name = self._next.currentText()
        if name in self.marks.as_places():
            self._set(self.marks.with_place(name, None))
        else:
            self.session.told.emit(f"{name.capitalize()} is not set.")

    def clear(self) -> None:
        """Take away all of them."""
        if self.marks.places:
            self._set(Landmarks(self.picture))
            self._go_on()

    def fit(self) -> None:
        """Find how a figure has to stand, beside the window; the figure of the maquette, or a new one."""
        figure, known = self._figure(), set(landmarks())
        places = {name: at for name, at in self.on_canvas().items() if name in known}
        self._latest.want(_Wish(places, dict(figure.sliders) if figure is not None else {}))

    def wait(self) -> None:
        """Until what was asked for is found."""
        self._latest.settle()

    def _figure(self) -> Piece | None:
        return next((one for one in self.session.painting.maquette.pieces if one.kind == "figure"), None)

    def _found(self, _: _Wish, found: Fit) -> None:
        self.fitted = found
        maquette, figure, standing = self.session.painting.maquette, self._figure(), found.standing
        sliders = tuple(sorted(found.sliders.items()))
        piece = replace(figure or Piece("Figure", "figure", part=self.session.work.active_part or 0), sliders=sliders,
                        place=(0.0, 0.0, 0.0), turn=(0.0, 0.0, 0.0), size=(1.0, 1.0, 1.0))  # fmt: skip
        pieces = (
            tuple(piece if one is figure else one for one in maquette.pieces) if figure else (*maquette.pieces, piece)
        )
        try:
            fresh = Maquette(pieces, standing.middle, standing.unit_px, standing.turn, standing.eye)
        except InputError as error:
            self.session.told.emit(str(error))
            return
        self.session.apply(SetMaquette(fresh.to_record()))
        count = len(found.off)
        whose = "how it stands and whose it is" if count >= FEWEST_SLIDERS else "how it stands"
        worst = max(found.off, key=lambda name: found.off[name])
        self.session.told.emit(
            f"Found {whose} from {count} landmarks: they are off by {found.rms:.2f} % of the head's height, most at "
            f"{worst} ({found.off[worst]:.1f} %)."
        )

    # --- the hand ----------------------------------------------------------------------------------------

    def press(self, press: Press) -> None:
        near = {name: abs(press.at.x() - x) + abs(press.at.y() - y) for name, (x, y) in self.on_canvas().items()
                if press.near(x, y)}  # fmt: skip
        if not near and self._next.currentText() == OWN_NAME:
            self._named(OWN_NAME)
            return
        self._held = min(near, key=lambda name: near[name]) if near else self._next.currentText()
        self._next.setCurrentText(self._held)
        self._put(press)

    def _put(self, press: Press) -> None:
        inverse, _ = self._to_canvas().inverted()
        at = inverse.map(press.at)
        self._moved = self.marks.with_place(self._held, (at.x(), at.y()))
        self.redraw.emit()

    def move(self, press: Press, *, down: bool) -> None:
        if down and self._held:
            self._put(press)

    def release(self, press: Press) -> None:
        moved, self._moved, self._held = self._moved, None, ""
        if moved is not None:
            self._set(moved)
            self._go_on()

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        if key == Qt.Key.Key_Backspace:
            self.take_away()
            return True
        return False

    # --- what is seen ------------------------------------------------------------------------------------

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        path = QPainterPath()
        for line in self._lines:
            path.moveTo(to_view.map(QPointF(*line[0])))
            for at in line[1:]:
                path.lineTo(to_view.map(QPointF(*at)))
        painter.setPen(QPen(LINES, 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
        off = self.fitted.off if self.fitted is not None else {}
        current = self._next.currentText()
        for name, at in self.on_canvas().items():
            seen = to_view.map(QPointF(*at))
            painter.setBrush(theme["cinnabar" if name == current else "gold"])
            painter.setPen(QColor(0, 0, 0, 180))
            painter.drawEllipse(seen, 3.5, 3.5)
            if name == current or off.get(name, 0.0) > 1.0:
                draw_word(painter, seen + QPointF(8, -6), f"{name} {off[name]:.1f} %" if name in off else name)


def _sets() -> dict[str, tuple[str, ...]]:
    """Landmarks that are asked for, by what they are of."""
    return {HEAD: tuple(_in_order()), FACE: FIRST, ANIMAL_WORDS: ANIMAL, FIGURE_WORDS: FIGURE}


def _in_order() -> list[str]:
    rest = [name for name in landmarks() if name not in FIRST]
    return [*FIRST, *rest]
