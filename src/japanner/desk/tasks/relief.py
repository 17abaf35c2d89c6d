"""Setting how a layer's relief shows, with the outcome on the easel while the numbers move."""

from __future__ import annotations

from PySide6.QtCore import Qt

from japanner.desk.easel.task import CommitTask
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options
from japanner.painting.model import MOST_AMOUNT, Relief
from japanner.painting.operations import SetRelief

__all__ = ["ReliefTask"]


class ReliefTask(CommitTask):
    """How strongly the thickness of a layer's paint shows in the key light, and how it shines."""

    title = "RELIEF"
    hint = "brushes lay thickness as their sheet says; drag the light to see it move"
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        row = self.options = Options()
        self.amount = row.number(
            "amount",
            0,
            100 * MOST_AMOUNT,
            100,
            "How strongly thickness shows",
            unit=" %",
            changed=lambda _: self._show(),
        )
        self.gloss = row.number(
            "gloss", 0, 100, 25, "How brightly it shines where it faces the light", unit=" %",
            changed=lambda _: self._show(),
        )  # fmt: skip
        row.button("done", "Make it count (Enter)", self.done)

    def operation(self) -> SetRelief | None:
        """What would be set; None without a layer."""
        if self.session.work.active_layer is None:
            self.session.told.emit("There is no layer yet: add a part and a layer first.")
            return None
        return SetRelief(self.session.work.active_layer, self.amount.value() / 100, self.gloss.value() / 100)

    def begin(self) -> None:
        layer = self.session.layer
        relief = None if layer is None else layer.relief
        for box, value in (
            (self.amount, Relief.amount if relief is None else relief.amount),
            (self.gloss, Relief.gloss if relief is None else relief.gloss),
        ):
            box.blockSignals(True)
            box.setValue(value * 100)
            box.blockSignals(False)
        self._show()

    def end(self) -> None:
        self.session.trials.end()

    def _show(self) -> None:
        operation = self.operation()
        if operation is not None:
            self.session.trials.show(operation)

    def done(self) -> None:
        """Make it count, and go back to painting."""
        operation = self.operation()
        if operation is None:
            self.finished.emit()
        else:
            self.session.carry_out(operation, self.finished.emit)
