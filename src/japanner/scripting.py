"""Painting from a script: the same operations that the window makes, without the window.

See docs/scripting.md.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from japanner.files import ora_write, png
from japanner.files.formats import NATIVE, export_for
from japanner.painting.document.document import Document, new_document
from japanner.painting.model import Painting
from japanner.painting.operations import AddPart, Operation, Stroke
from japanner.painting.operations.layer_stroke import LayerStroke
from japanner.painting.working_order import stage_for
from japanner.stroke.brush import Brush
from japanner.stroke.brush.shipped import shipped_brush

__all__ = ["Script", "shipped_brush"]

Colour = Sequence[float]


class Script:
    """A document and short words for what scripts do most.

    scale: what the script says is brought to a canvas so many times as large: strokes with their brushes, and
    operations that can be scaled. The picture is the same one, not the same bits.
    """

    def __init__(self, document: Document, scale: float = 1.0) -> None:
        self.document, self.scale = document, scale

    @staticmethod
    def new(width: int, height: int, *, scale: float = 1.0, **settings: Any) -> Script:
        """Begin an empty painting; settings as in `Painting`: ppi, title, ground."""
        return Script(new_document(round(width * scale), round(height * scale), **settings), scale)

    @property
    def painting(self) -> Painting:
        return self.document.painting

    def do(self, operation: Operation) -> None:
        """Apply any operation."""
        scaled = getattr(operation, "scaled", None)
        self.document.apply(scaled(self.scale) if scaled is not None and self.scale != 1 else operation)

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
        rows: Iterable[Sequence[float]],
        *,
        wipe: bool = False,
        on: str = "paint",
        seed: int = 0,
    ) -> None:
        """Draw one stroke on a layer, or on its mask; rows are x, y, pressure and so on, as in `PenSample`."""
        points = _plain(rows)
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

    def save(self, path: str | Path) -> None:
        """Save as .ora."""
        ora_write.write(self.painting, Path(path), self.document.records)

    def write(self, path: str | Path) -> None:
        """Write to a file of any kind that the program knows, by its ending."""
        if Path(path).suffix.lower() == NATIVE.ending:
            self.save(path)
        else:
            export_for(Path(path))(self.painting, Path(path))

    def export(self, path: str | Path, bits: int = 8) -> None:
        """Write the picture as PNG."""
        png.export(self.painting, Path(path), bits=bits)


def _plain(rows: Iterable[Sequence[float]]) -> list[tuple[float, ...]]:
    return [tuple(row) for row in np.asarray(list(rows), dtype=float).tolist()]
