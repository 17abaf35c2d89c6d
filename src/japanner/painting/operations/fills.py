"""Fills: of a silhouette or all of the canvas, from a point, and gradients. A frisket limits them all."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Final

import numpy as np

from japanner import checks
from japanner.errors import InputError
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.form.forms import maquette_sheet
from japanner.painting.model import Painting
from japanner.painting.operations.base import Change, Target
from japanner.painting.picture.reference import difference_from
from japanner.raster.fill import flooded
from japanner.raster.gradient import gradient_tiles
from japanner.raster.limit import Limit
from japanner.raster.sheets import full
from japanner.raster.tiles import Raster, Sheet
from japanner.types import Colour

__all__ = ["FILLS", "ClearPaint", "Fill", "FloodFill", "Gradient"]


FILLS: Final = ("canvas", "silhouette", "maquette")


@dataclass(frozen=True)
class Fill:
    """Fill the silhouette of the layer's part, all of the canvas, or where the maquette's pieces of the part are seen;
    what a frisket keeps out stays.
    """

    op: ClassVar[str] = "fill"
    layer: int
    colour: Colour
    what: str = "canvas"
    on: str = "paint"

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        target = Target.of(painting, self.layer, self.on)
        sheet = _sheet(painting, self.layer, self.what)
        return target.changed_to(_laid(target.pixels, sheet, target.colour(self.colour)), f"fill {self.what}")


@dataclass(frozen=True)
class FloodFill:
    """Fill what belongs together with the point x, y.

    reference: what bounds the fill (`japanner.painting.picture.reference`). tolerance: OKLab distance, in hundredths,
    up to which a colour still belongs. gap_px: openings up to this wide count as closed. under_px: how far the
    fill reaches under its bounds.
    """

    op: ClassVar[str] = "flood fill"
    layer: int
    colour: Colour
    x: float
    y: float
    reference: str = "visible"
    tolerance: float = 12.0
    gap_px: int = 0
    under_px: int = 2
    on: str = "paint"

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        target = Target.of(painting, self.layer, self.on)
        difference = difference_from(painting, self.x, self.y, self.reference, self.layer)
        region, area = flooded(
            difference, int(self.x), int(self.y),
            tolerance=self.tolerance, gap_px=self.gap_px, under_px=self.under_px,
        )  # fmt: skip
        sheet = Sheet.of_codes(region, area, painting.width, painting.height)
        return target.changed_to(_laid(target.pixels, sheet, target.colour(self.colour)), "fill")

    def scaled(self, factor: float) -> FloodFill:
        """The same on a painting `factor` times as large."""
        gap, under = (max(round(px * factor), min(px, 1)) for px in (self.gap_px, self.under_px))
        return replace(self, x=self.x * factor, y=self.y * factor, gap_px=gap, under_px=under)


@dataclass(frozen=True)
class Gradient:
    """A gradient along a drag: linear between two points, or round about the first through the second.

    start, end: encoded colour and coverage at either point. what: as in `Fill`.
    """

    op: ClassVar[str] = "gradient"
    layer: int
    kind: str
    points: tuple[float, float, float, float]
    start: tuple[float, float, float, float]
    end: tuple[float, float, float, float]
    what: str = "canvas"
    on: str = "paint"

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        target = Target.of(painting, self.layer, self.on)
        ends = [(*target.colour(end[:3]), checks.number("coverage", end[3], 0, 1)) for end in (self.start, self.end)]
        sheet = _sheet(painting, self.layer, self.what)
        tiles = gradient_tiles(target.pixels, sheet.tiles, self.kind, self.points, ends[0], ends[1])
        fresh = Limit(sheet).applied(target.pixels, target.pixels.with_tiles(tiles))
        return target.changed_to(fresh, f"{self.kind} gradient")

    def scaled(self, factor: float) -> Gradient:
        """The same on a painting `factor` times as large."""
        x0, y0, x1, y1 = self.points
        return replace(self, points=(x0 * factor, y0 * factor, x1 * factor, y1 * factor))


@dataclass(frozen=True)
class ClearPaint:
    """Take all paint off a layer, or off its mask, as far as the frisket lets it."""

    op: ClassVar[str] = "clear"
    layer: int
    on: str = "paint"

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        target = Target.of(painting, self.layer, self.on)
        if target.limit.hold_edges:
            raise InputError(f"{target.layer.name} holds its edges, so nothing can be taken off it")
        bare = Raster(painting.width, painting.height)
        painting, change = target.changed_to(bare, "clear")
        relief = target.layer.relief
        if relief is not None and self.on == "paint":
            level = replace(relief, heights=target.limit.applied(relief.heights, bare))
            painting = painting.with_layer(self.layer, relief=level)
        if not change.areas:
            raise InputError("There is nothing to clear: no paint here, or none inside the frisket")
        return painting, change


def _sheet(painting: Painting, layer: int, what: str) -> Sheet:
    if checks.one_of("what", what, FILLS) == "silhouette":
        return silhouette_sheet(painting, painting.find(layer)[0])
    if what == "maquette":
        return maquette_sheet(painting, painting.find(layer)[0])
    return full(painting.width, painting.height)


def _laid(base: Raster, sheet: Sheet, colour: Colour) -> Raster:
    """A colour laid through a sheet."""
    if not sheet.tiles:
        raise InputError("There is nothing to fill here")
    codes = np.rint(np.array((*colour, 1.0)) * 65535).astype(np.uint16)
    tile = np.ascontiguousarray(np.broadcast_to(codes[:, None, None], base.EMPTY.shape))
    return Limit(sheet).applied(base, base.with_tiles(dict.fromkeys(sheet.tiles, tile)))
