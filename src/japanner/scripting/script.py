"""Painting from a script: the same operations that the window makes, without the window.

See docs/scripting.md.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.files import ora_write, png
from japanner.files.formats import NATIVE, export_for
from japanner.files.opening import open_painting
from japanner.light.maquette import Maquette
from japanner.painting.document.document import Document, new_document
from japanner.painting.model import Painting
from japanner.painting.operations import AddPart, Fill, Make, Operation, SetComb, SetMaquette, Stroke
from japanner.painting.operations.layer_stroke import LayerStroke
from japanner.painting.picture.moments import moment_of
from japanner.painting.working_order import stage_for
from japanner.scripting.on_form import CombRule, OnForm
from japanner.stroke.brush import Brush

__all__ = ["Script"]

Colour = Sequence[float]


class Script:
    """A document and short words for what scripts do most.

    scale: what the script says is brought to a canvas so many times as large: strokes with their brushes, and
    operations that can be scaled. The picture is the same one, not the same bits.
    """

    def __init__(self, document: Document, scale: float = 1.0) -> None:
        self.document, self.scale = document, scale
        self._stage = ""
        self._every, self._strokes, self._last_look = 0, 0, 0

    @staticmethod
    def new(width: int, height: int, *, scale: float = 1.0, **settings: Any) -> Script:
        """Begin an empty painting; settings as in `Painting`: ppi, title, ground."""
        return Script(new_document(round(width * scale), round(height * scale), **settings), scale)

    @staticmethod
    def open(path: str | Path, *, scale: float = 1.0) -> Script:
        """Go on with a painting of a file: our own with its journal, or a picture as one layer."""
        found = open_painting(Path(path))
        return Script(Document(found.painting, records=found.records), scale)

    @property
    def painting(self) -> Painting:
        return self.document.painting

    def do(self, operation: Operation) -> None:
        """Apply any operation."""
        scaled = getattr(operation, "scaled", None)
        self.document.apply(scaled(self.scale) if scaled is not None and self.scale != 1 else operation)
        self._looked_at(long=isinstance(operation, Make))

    def part(self, name: str, material: str = "plain") -> int:
        """Add a part in front; its uid."""
        self.do(AddPart(name, material))
        return self.painting.parts[-1].uid

    def layer(self, part: int, role: str, **settings: Any) -> int:
        """Add a layer, set up as the part's working order has it unless `settings` say else; its uid."""
        uid = self.painting.next_uid
        operation = stage_for(self.painting.part(part), role).layer_for(self.painting.part(part))
        if settings.get("mode", operation.mode) != operation.mode:
            settings = {"neutral": False, **settings}  # the sheet was neutral in the other mode
        self.do(replace(operation, **settings))
        return uid

    def stroke(
        self,
        layer: int,
        brush: Brush,
        colour: Colour,
        rows: Iterable[Sequence[float] | NDArray[np.floating]],
        *,
        wipe: bool = False,
        on: str = "paint",
        seed: int = 0,
        form: OnForm | None = None,
    ) -> None:
        """Draw one stroke on a layer, or on its mask; rows are x, y, pressure and so on, as in `PenSample`.

        form: the rows begin with points of this form, x, y, z, instead of px.
        """
        points = _plain(rows) if form is None else [(*form.at(row[:3]), *row[3:]) for row in _plain(rows)]
        if self.scale != 1:
            brush = brush.scaled(self.scale)
            points = [(x * self.scale, y * self.scale, *rest) for x, y, *rest in points]
        stroke = LayerStroke(self.painting, layer, brush, colour, wipe=wipe, on=on, seed=seed)
        areas = stroke.add(points) + stroke.finish()
        operation = Stroke(
            layer,
            brush.to_record(),
            (float(colour[0]), float(colour[1]), float(colour[2])),
            tuple(tuple(sample) for sample in stroke.samples),
            wipe=wipe,
            seed=seed,
            on=on,
        )
        self.document.commit(operation, *operation.finished(stroke, areas))
        self._looked_at()

    def watch(self, every: int) -> None:
        """From now on, keep a moment of the painting's growth after every so many operations; they go into its file."""
        self._every, self._last_look = checks.integer("every", every, 1, 100_000), self._strokes

    @property
    def stage(self) -> str:
        """What is being painted, for whoever watches; a moment is kept as each begins."""
        return self._stage

    @stage.setter
    def stage(self, name: str) -> None:
        if self._every and self._strokes > self._last_look:
            self.look()
        self._stage = name

    def _looked_at(self, *, long: bool = False) -> None:
        """One more operation is done; after one that did much, there is always something to see."""
        self._strokes += 1
        if self._every and (long or self._strokes - self._last_look >= self._every):
            self.look()

    def look(self) -> None:
        """Keep a moment of the painting as it is."""
        self._last_look = self._strokes
        self.document.moments += (moment_of(self.painting, self.stage, self._strokes),)

    # --- forms ------------------------------------------------------------------------------------------

    def stand(self, maquette: Maquette) -> OnForm:
        """Put a maquette before the canvas, in the script's px; what is asked of it is answered in them, too."""
        self.do(SetMaquette(maquette.to_record()))
        width, height = (round(side / self.scale) for side in (self.painting.width, self.painting.height))
        return OnForm(maquette, width, height)

    @property
    def form(self) -> OnForm:
        """What stands before the canvas, in the script's px."""
        maquette = self.painting.maquette
        width, height = (round(side / self.scale) for side in (self.painting.width, self.painting.height))
        return OnForm(maquette if self.scale == 1 else maquette.scaled(1 / self.scale), width, height)

    def at(self, point: Sequence[float]) -> tuple[float, float]:
        """Where a point in the axes of what stands before the canvas is seen."""
        return self.form.at(point)

    def on(self, name: str) -> tuple[float, float]:
        """Where a landmark of a figure, or the middle of a zone or a piece, is seen."""
        return self.form.on(name)

    def outline(self, *names: str, part: int | None = None) -> list[tuple[float, float]]:
        """The outline of what is seen of pieces, zones or a part."""
        return self.form.outline(*names, part=part)

    def fill(self, part: int, role: str, colour: Colour, **settings: Any) -> int:
        """A layer filled with one colour where the maquette's pieces of the part are seen; its uid."""
        layer = self.layer(part, role, **settings)
        self.do(Fill(layer, (float(colour[0]), float(colour[1]), float(colour[2])), "maquette"))
        return layer

    def comb(self, part: int, form: OnForm, rule: CombRule, *, apart_px: int = 24, most: int = 2000) -> None:
        """Comb a part by a rule that is asked all over its pieces; `most` guides, shared out evenly."""
        guides = form.combed(part, rule, apart_px)
        self.do(SetComb(part, guides[:: max(-(-len(guides) // most), 1)]))

    # --- all over -----------------------------------------------------------------------------------------

    def over_all(self, colour: Colour, mode: str, strength: float, name: str = "Grade") -> int:
        """An adjustment over all: a sheet of one colour over everything, in a part of its own; its uid."""
        layer = self.layer(self.part(name), "detail", place="over", mode=mode, strength=strength, name=name)
        self.do(Fill(layer, (float(colour[0]), float(colour[1]), float(colour[2]))))
        return layer

    # --- files --------------------------------------------------------------------------------------------

    def save(self, path: str | Path, bits: int = 16) -> None:
        """Save as .ora; bits: of its layers, 16 or 8."""
        ora_write.write(self.painting, Path(path), self.document.records, self.document.moments, bits)

    def write(self, path: str | Path) -> None:
        """Write to a file of any kind that the program knows, by its ending."""
        if Path(path).suffix.lower() == NATIVE.ending:
            self.save(path)
        else:
            export_for(Path(path))(self.painting, Path(path))

    def export(self, path: str | Path, bits: int = 8) -> None:
        """Write the picture as PNG."""
        png.export(self.painting, Path(path), bits=bits)


def _plain(rows: Iterable[Sequence[float] | NDArray[np.floating]]) -> list[tuple[float, ...]]:
    return [tuple(row) for row in np.asarray(list(rows), dtype=float).tolist()]
