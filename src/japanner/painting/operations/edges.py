"""Breaking a hard silhouette into strands."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Final

import numpy as np

from japanner import checks
from japanner.painting.form.breaking import broken_edge, coat_layers
from japanner.painting.makers import Sheet as MadeSheet
from japanner.painting.model import Layer, Painting
from japanner.painting.operations.base import Change, areas_of, tiles_between
from japanner.raster.geometry import Rect
from japanner.raster.limit import Limit
from japanner.raster.sheets import inverted
from japanner.raster.tiles import Raster, Sheet

__all__ = ["BreakEdge"]

LONGEST_PX: Final = 600.0


@dataclass(frozen=True)
class BreakEdge:
    """Wipe strands along the comb lines out of a part's flats where hair leads out, and lay some over their edge on a
    layer of their own. With a coat that has a fringe, it is the coat that is broken: the flats stay whole under it, so
    that no ground shows between them.
    """

    op: ClassVar[str] = "break edge"
    part: int
    length_px: float = 24.0
    seed: int = 1

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        checks.number("length_px", self.length_px, 1, LONGEST_PX)
        checks.integer("seed", self.seed, 0, 2**31)
        part = painting.part(self.part)
        found = broken_edge(painting, part, self.length_px, self.seed)
        area = found.area
        left = inverted(Sheet.of(found.wiped, area.x0, area.y0, painting.width, painting.height))
        frisket = Limit(None if painting.frisket is None else painting.frisket.sheet)
        fresh, areas, empty = painting, list[Rect](), Raster(painting.width, painting.height)
        for flat in coat_layers(part) or part.flats:
            pixels = frisket.applied(flat.pixels, Limit(left).applied(empty, flat.pixels))
            areas += tiles_between(flat.pixels, pixels)
            fresh = fresh.with_layer(flat.uid, pixels=pixels)
        sheet = MadeSheet("Edge", "edge", area, found.colour.astype(np.float32), found.cover.astype(np.float32))
        laid = frisket.applied(empty, empty.written(area.x0, area.y0, sheet.codes()))
        layer = Layer(painting.next_uid, "Edge", "edge", laid)
        part = fresh.part(self.part)
        fresh = replace(fresh.with_part(part.uid, layers=(*part.layers, layer)), next_uid=painting.next_uid + 1)
        return fresh, Change("break the edge", tuple(dict.fromkeys((*areas, *areas_of([layer])))), structure=True)

    def scaled(self, factor: float) -> BreakEdge:
        """The same on a painting `factor` times as large."""
        return replace(self, length_px=min(self.length_px * factor, LONGEST_PX))
