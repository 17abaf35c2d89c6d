"""Making a texture, with the outcome on the easel while the numbers move."""

from __future__ import annotations

from PySide6.QtCore import Qt

from japanner.desk.easel.task import CommitTask
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options
from japanner.painting.operations import AddTexture
from japanner.raster.modes import MODES
from japanner.raster.textures import TEXTURES

__all__ = ["TextureTask"]


class TextureTask(CommitTask):
    """A made texture over the part; arrow keys on mode and strength try them out."""

    title = "TEXTURE"
    hint = "arrow keys and wheel try things out; Enter in the easel or done adds the layer"
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        row = self.options = Options()
        self.kind = row.choice("", list(TEXTURES), "What it looks like", lambda _: self._show())
        self.mode = row.choice("mode", list(MODES), "How it lies on the part", lambda _: self._show())
        self.mode.setCurrentText("Overlay")
        self.strength = row.number(
            "strength", 0, 100, 40, "Strength of the layer", unit=" %", changed=lambda _: self._show()
        )
        row.button("done", "Add it as a layer (Enter)", self.done)
        row.row()
        self.scale = row.number("scale", 0.1, 20, 1, "Size of its features", digits=2, changed=lambda _: self._show())
        self.contrast = row.number(
            "contrast", 0, 4, 1, "How strongly it varies", digits=2, changed=lambda _: self._show()
        )
        self.seed = row.number("seed", 0, 9999, 1, "Another number, another piece", changed=lambda _: self._show())

    def take_kind(self, kind: str) -> None:
        self.kind.setCurrentText(kind)
        if self.session.trials.trial is not None:
            self._show()

    def operation(self) -> AddTexture | None:
        """What would be added; None without a part to add it to."""
        part = self.session.part
        if part is None:
            self.session.told.emit("A texture goes into a part: add one first.")
            return None
        return AddTexture(
            part.uid, self.kind.currentText(), self.scale.value(), self.contrast.value(), round(self.seed.value()),
            "body" if part.flats else "over", self.mode.currentText(), self.strength.value() / 100,
        )  # fmt: skip

    def begin(self) -> None:
        self._show()

    def end(self) -> None:
        self.session.trials.end()

    def _show(self) -> None:
        operation = self.operation()
        if operation is not None:
            self.session.trials.show(operation)

    def done(self) -> None:
        """Add the layer, and work on it."""
        operation, uid = self.operation(), self.session.painting.next_uid
        if operation is None:
            self.finished.emit()
        else:
            self.session.carry_out(operation, lambda: self._added(uid))

    def _added(self, uid: int) -> None:
        self.session.work.work_on_layer(uid)
        self.finished.emit()
