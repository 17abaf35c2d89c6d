"""How the picture is looked at; none of it changes the painting."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, Signal

from japanner.desk.session.worked_on import WorkedOn
from japanner.painting.model import DEFAULT_SCALE, Painting
from japanner.painting.picture.looks import LOOKS, even_scale
from japanner.raster.geometry import Rect

if TYPE_CHECKING:
    from japanner.files.colour.profiles import Proof

__all__ = ["Looking"]


class Looking(QObject):
    """The look in force, what lies over the picture, and what picking up reads."""

    look_changed = Signal()
    whole_changed = Signal()  # other parts or sketches show: the whole picture has to be composed anew

    def __init__(self, work: WorkedOn, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._work = work
        self.look = "colour"
        self.line_shown = True
        self.outlines_shown = False
        self.guides_shown = True
        self.part_alone = False
        self.sketch_on_top = False
        self.even_steps = 0  # 0: the steps look shows the part's own scale
        self.squint = 3
        self.proof: Proof | None = None  # of a print through a profile
        self.warned = False  # what the print loses is marked
        self.surround = 50.0  # L* around the canvas
        self.step = 1  # so many px of the canvas are shown as one
        self.area: Rect | None = None  # ... and what of the canvas is shown
        self.pick_side, self.pick_source = 1, "visible"
        work.active_changed.connect(self._on_active)
        self._alone = work.active_part

    def set_look(self, look: str) -> None:
        self.look = look
        self.look_changed.emit()

    def next_look(self) -> None:
        names = list(LOOKS)
        at = names.index(self.look) if self.look in names else -1
        self.set_look(names[(at + 1) % len(names)])

    @property
    def look_scale(self) -> tuple[float, ...]:
        """The steps that the steps look shows."""
        if self.even_steps:
            return even_scale(self.even_steps)
        return self._work.part.scale if self._work.part is not None else DEFAULT_SCALE

    @property
    def proof_table(self) -> NDArray[np.float32] | None:
        """From colours to how they are seen, while a proof is looked at."""
        if self.proof is None:
            return None
        return self.proof.warned if self.warned else self.proof.seen

    def set_view(self, **settings: Any) -> None:
        """Change what needs no composing: outlines_shown, guides_shown, line_shown, even_steps, squint, surround,
        proof, warned, pick_side, pick_source.
        """
        for name, value in settings.items():
            setattr(self, name, value)
        self.look_changed.emit()

    def show_part_alone(self, on: bool) -> None:
        """Look at the part worked on without the others."""
        self.part_alone = on
        self._compose()

    def show_sketch_on_top(self, on: bool) -> None:
        """Draw sketches over everything, light on dark and dark on light; the layers stay as they are."""
        self.sketch_on_top = on
        self._compose()

    def seen(self, painting: Painting) -> Painting:
        """The painting as it is looked at: all of it, or one part alone on the ground."""
        if not self.part_alone:
            return painting
        return replace(painting, parts=tuple(part for part in painting.parts if part.uid == self._work.active_part))

    def _compose(self) -> None:
        self.whole_changed.emit()
        self.look_changed.emit()

    def _on_active(self) -> None:
        if self.part_alone and self._alone != self._work.active_part:
            self.whole_changed.emit()
        self._alone = self._work.active_part
