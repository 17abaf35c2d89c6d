"""The canvas: cropping, extending and scaling it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import ClassVar

from japanner import checks
from japanner.errors import InputError
from japanner.painting.model import LARGEST_AREA_PX, Frisket, Layer, Painting
from japanner.painting.model.head_guide import HeadGuide
from japanner.painting.operations.base import Change
from japanner.raster.geometry import Rect
from japanner.raster.resample import resized
from japanner.raster.tiles import LONGEST_SIDE, Raster

__all__ = ["FrameCanvas", "ScaleCanvas"]

Remake = Callable[[Raster], Raster]


@dataclass(frozen=True)
class FrameCanvas:
    """Give the canvas another frame: crop it, extend it, or both. x, y: the new upper left corner on the old canvas."""

    op: ClassVar[str] = "frame canvas"
    x: int
    y: int
    width: int
    height: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        _check_size(self.width, self.height)
        x, y = (checks.integer(name, getattr(self, name), -LONGEST_SIDE, LONGEST_SIDE) for name in ("x", "y"))
        frame = Rect(x, y, x + self.width, y + self.height)
        if frame.intersected(painting.rect).empty:
            raise InputError("The new frame lies wholly outside the canvas")

        def reframed(raster: Raster) -> Raster:
            kept = raster.bounds().intersected(frame)
            empty = type(raster)(self.width, self.height)
            return empty if kept.empty else empty.written(kept.x0 - x, kept.y0 - y, raster.read(kept))

        fresh = _remade(painting, self.width, self.height, painting.ppi, reframed, (-x, -y))
        return fresh, _change("frame canvas", frame)

    def scaled(self, factor: float) -> FrameCanvas:
        """The same on a painting `factor` times as large."""
        x, y, width, height = (round(v * factor) for v in (self.x, self.y, self.width, self.height))
        return FrameCanvas(x, y, max(width, 1), max(height, 1))


@dataclass(frozen=True)
class ScaleCanvas:
    """Scale the whole picture to another size; ppi stays unless given."""

    op: ClassVar[str] = "scale canvas"
    width: int
    height: int
    ppi: float | None = None

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        _check_size(self.width, self.height)
        ppi = painting.ppi if self.ppi is None else self.ppi
        factor = math.sqrt(self.width / painting.width * self.height / painting.height)
        fresh = _remade(
            painting,
            self.width,
            self.height,
            ppi,
            lambda raster: resized(raster, self.width, self.height),
            (0, 0),
            factor,
        )
        return fresh, _change("scale canvas", fresh.rect)

    def scaled(self, factor: float) -> ScaleCanvas:
        """The same on a painting `factor` times as large."""
        return replace(self, width=max(round(self.width * factor), 1), height=max(round(self.height * factor), 1))


def _change(words: str, frame: Rect) -> Change:
    return Change(words, (Rect(0, 0, frame.width, frame.height),), structure=True)


def _check_size(width: int, height: int) -> None:
    checks.integer("width", width, 1, LONGEST_SIDE)
    checks.integer("height", height, 1, LONGEST_SIDE)
    if width * height > LARGEST_AREA_PX:
        raise InputError(
            f"The canvas would have {width * height / 1e6:.0f} Mpx; {LARGEST_AREA_PX / 1e6:.0f} is the most"
        )


def _remade(
    painting: Painting,
    width: int,
    height: int,
    ppi: float,
    remake: Remake,
    shift: tuple[int, int] = (0, 0),
    factor: float = 1.0,
) -> Painting:
    """The painting on another canvas, `factor` times as large and then shifted, with every raster made anew."""

    def layer(one: Layer) -> Layer:
        return one.remade(remake).relief_scaled(factor)

    def guide(one: HeadGuide) -> HeadGuide:
        x, y = one.x * factor + shift[0], one.y * factor + shift[1]
        return replace(one, x=x, y=y, height_px=one.height_px * factor)

    parts = tuple(
        replace(
            part,
            layers=tuple(layer(one) for one in part.layers),
            guide=part.guide and guide(part.guide),
            comb=tuple(one.scaled(factor, shift) for one in part.comb),
        )
        for part in painting.parts
    )
    frisket = None
    if painting.frisket is not None:
        sheet = remake(painting.frisket.sheet)
        frisket = Frisket(sheet) if sheet.tiles else None  # type: ignore[arg-type]
    maquette = painting.maquette.scaled(factor).moved(*shift)
    landmarks = tuple(one.scaled(factor, shift) for one in painting.landmarks)
    measures = tuple(one.scaled(factor, shift) for one in painting.measures)
    return replace(painting, width=width, height=height, ppi=ppi, parts=parts, frisket=frisket, maquette=maquette,
                   landmarks=landmarks, measures=measures)  # fmt: skip
