"""The tour: a ball in five values, step by step, at the pace of the hand."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QLabel, QPushButton

from japanner.demo.ball import ball_sheet, halftone
from japanner.desk.session.building import Building
from japanner.desk.session.files_desk import FilesDesk
from japanner.desk.session.session import Session
from japanner.desk.widgets.bar import Bar
from japanner.painting.model import Layer
from japanner.painting.operations import DropFrisket
from japanner.painting.operations import Stroke as StrokeOperation
from japanner.raster.geometry import Rect
from japanner.stroke.brush import Brush

__all__ = ["STEPS", "Step", "Tour", "TourBar"]

WORDS_PX: Final = 520
# So much of the circle must be covered before it counts as full.
FULL: Final = 0.93
# L* that a colour may be off its step.
NEAR: Final = 4.0
NAME: Final = "Soft round"
BRUSH: Final = {"strength": 1.0, "drives": ()}


@dataclass(frozen=True)
class Step:
    """role: of the layer that is painted on; step: the value to take, as its key counts; size_px: of the tip."""

    role: str
    step: int
    size_px: float
    words: str


STEPS: Final = (
    Step("flat", 3, 320, "The halftone is in your hand. Fill the circle with broad strokes; the frisket keeps the rest "
                         "clean."),
    Step("shadow", 2, 230, "The light comes from the upper left. Add the shadow layer, press 2 for the shadow's value, "
                           "and stroke along the lower right."),
    Step("accent", 1, 110, "Darkest where no light comes: add the accent layer, press 1, and stroke along the lowest "
                           "right edge, thinner."),
    Step("light", 4, 230, "Add the light layer, press 4, and stroke over the upper left."),
    Step("highlight", 5, 60, "Last, add the highlight layer, press 5, and set one short dab where the light strikes."),
)  # fmt: skip
DONE: Final = "A ball in five values. Press V to see them alone; whatever you paint follows the same order."


class TourBar(Bar):
    """What to do now; a button that does what is no painting, and the way out."""

    def __init__(self) -> None:
        super().__init__()
        self.words = QLabel(self)
        self.words.setWordWrap(True)
        self.add = QPushButton(self)
        self.add.setToolTip("Add the layer that this step is painted on")
        self.leave = QPushButton("leave the tour", self)
        self.leave.setObjectName("plain")
        self.leave.setToolTip("Go on without it; the painting stays")

    def fit(self, width: int) -> tuple[int, int]:
        return self.fit_words(self.words, (self.add, self.leave), width, WORDS_PX)


class Tour(QObject):
    """Waits at each step until the hand has done it."""

    def __init__(self, session: Session, building: Building, files: FilesDesk) -> None:
        super().__init__(session)
        self._session, self._building, self._files = session, building, files
        self.bar = TourBar()
        self.at: int | None = None  # the step, or None while there is no tour
        self.bar.leave.clicked.connect(lambda _=False: self.leave())
        self.bar.add.clicked.connect(lambda _=False: self._add())
        self._soon = QTimer(self)  # what a step leads to must not happen in the middle of what finished it
        self._soon.setSingleShot(True)
        self._soon.setInterval(0)
        self._soon.timeout.connect(self._look)
        session.changed.connect(lambda _: self._soon.start())
        session.opened.connect(self._on_opened)
        session.work.active_changed.connect(self._show)
        self._opening = False
        self._former: Brush | None = None

    def begin(self) -> None:
        """A fresh sheet, and the first step."""
        leaving = self._files.ask_to_leave()
        if leaving is None:
            return
        self._opening = True
        self._files.begin(ball_sheet(), leaving)
        self._opening = False
        self._session.hand.set_colour(halftone())
        self._session.aiming.set_over("flat")  # what its steps are measured by
        self._take(0)

    def leave(self) -> None:
        """Whatever has been painted stays."""
        self.at = None
        self._give_back()
        self.bar.hide()
        self.bar.resized.emit()

    def _on_opened(self) -> None:
        if not self._opening:
            self.leave()

    def _take(self, index: int) -> None:
        self.at = index
        if index == 0:
            self._hold()
        self._show()

    def _hold(self) -> None:
        """A soft round brush as large as the step asks for: strong, so that one stroke comes to its value."""
        assert self.at is not None
        hand = self._session.hand
        hand.take_brush_named(NAME)
        if self._former is None:
            self._former = hand.brush
        hand.set_brush(**BRUSH, size_px=STEPS[self.at].size_px, edge=0.1 if self.at == 0 else 0.8)

    def _give_back(self) -> None:
        """The brush of the roll is again as it was."""
        hand, former = self._session.hand, self._former
        self._former = None
        if former is not None:
            hand.brushes[:] = [former if one.name == former.name else one for one in hand.brushes]
            hand.brush_changed.emit()

    def _add(self) -> None:
        if self.at is not None and self.at < len(STEPS):
            self._building.add_layer(STEPS[self.at].role)
            self._hold()

    def _layer(self) -> Layer | None:
        """The layer of the step, if it is in hand."""
        layer = self._session.layer
        return layer if self.at is not None and layer is not None and layer.role == STEPS[self.at].role else None

    def _show(self) -> None:
        if self.at is None:
            return
        finished = self.at >= len(STEPS)
        words = DONE if finished else f"{self.at + 1} of {len(STEPS)}.  {STEPS[self.at].words}"
        self.bar.words.setText(words)
        self.bar.add.setVisible(not finished and self._layer() is None)
        if not finished:
            self.bar.add.setText(f"+ {STEPS[self.at].role.capitalize()}")
        self.bar.show()
        self.bar.resized.emit()

    def _look(self) -> None:
        """Whether the step is done now."""
        layer = None if self.at is None or self.at >= len(STEPS) else self._layer()
        if layer is None or self.at is None:
            self._show()
            return
        done: Callable[[Layer], bool] = self._filled if self.at == 0 else self._stroked
        if done(layer):
            first = self.at == 0
            self.at += 1
            if first:
                self._session.apply(DropFrisket())
        self._show()

    def _filled(self, layer: Layer) -> bool:
        frisket = self._session.painting.frisket
        if frisket is None:
            return False
        area: Rect = self._session.painting.rect
        inside = frisket.sheet.coverage(area) > 0.5
        cover = layer.pixels.read(area)[3] / 65535
        return bool(cover[inside].mean() > FULL)

    def _stroked(self, layer: Layer) -> bool:
        """The last thing that was done is a stroke of the step's value on its layer."""
        assert self.at is not None
        last, part = self._session.document.records[-1], self._session.part
        if last.get("op") != StrokeOperation.op or last.get("layer") != layer.uid or part is None:
            return False
        wanted = part.scale[STEPS[self.at].step - 1]
        return abs(self._session.aiming.value - wanted) <= NEAR
