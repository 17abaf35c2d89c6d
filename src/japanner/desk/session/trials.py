"""Trying operations out before they count."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from japanner.errors import InputError
from japanner.painting.live.trial import Triable, Trial
from japanner.painting.model import Painting
from japanner.painting.operations import Operation
from japanner.raster.geometry import Rect

__all__ = ["Trials"]


class Trials(QObject):
    """A small copy of the painting to try on, or the painting itself while a handle is dragged."""

    tried = Signal()  # the trial shows something else, or there is none any more
    told = Signal(str)

    def __init__(
        self, painting: Callable[[], Painting], layer: Callable[[], int | None], *, rest: Callable[[], None],
        show: Callable[[Painting, list[Rect]], None], parent: QObject | None = None,
    ) -> None:  # fmt: skip
        """`layer`: the one worked on; `rest`: puts the hand to rest; `show`: shows another painting in its place."""
        super().__init__(parent)
        self._painting, self._layer, self._rest, self._show = painting, layer, rest, show
        self.trial: Trial | None = None

    def begin(self) -> None:
        """Have a small copy of the painting to try operations on; the easel shows it until `end`."""
        self._rest()
        self.trial = Trial(self._painting(), self._layer())

    def show(self, operation: Triable | None) -> bool:
        """Show what an operation would do; a refusal is told, and the picture stays."""
        if self.trial is None:
            self.begin()
        assert self.trial is not None
        try:
            self.trial.show(operation)
        except InputError as error:
            self.told.emit(str(error))
            return False
        self.tried.emit()
        return True

    def turn_to(self, trial: Trial) -> None:
        """Show another copy of the painting, coarser or finer."""
        self.trial = trial
        self.tried.emit()

    def end(self) -> None:
        self.trial = None
        self.tried.emit()

    def preview(self, operation: Operation) -> None:
        """Show what an operation would do, while a handle is being dragged; applying it makes it count."""
        self._rest()
        try:
            painting, change = operation.apply(self._painting())
        except InputError as error:
            self.told.emit(str(error))
            return
        self._show(painting, list(change.areas))
