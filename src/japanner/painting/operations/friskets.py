"""Friskets: setting, changing and dropping the limit to where paint goes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any, ClassVar, Final

from japanner import checks
from japanner.errors import InputError
from japanner.painting.form.frisket_shapes import shape_sheet
from japanner.painting.model import Frisket, Painting
from japanner.painting.operations.base import Change
from japanner.raster.sheets import grown, inverted, joined, shrunk, softened
from japanner.raster.tiles import Sheet

__all__ = ["FRISKET_CHANGES", "ChangeFrisket", "DropFrisket", "SetFrisket"]


SHAPE_PX: Final = ("x", "y", "x0", "y0", "x1", "y1", "points", "nodes")
"""Fields of shapes that are places on the canvas."""


@dataclass(frozen=True)
class SetFrisket:
    """Lay a frisket of some shape (a record, `japanner.painting.form.frisket_shapes`): in place of the one that is on
    ("new"), added to it ("add"), taken away from it ("take"), or only where both are ("meet").
    """

    op: ClassVar[str] = "frisket"
    shape: dict[str, Any] = field(default_factory=dict)
    how: str = "new"

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        sheet = shape_sheet(painting, self.shape)
        nodes = self.shape["nodes"] if self.shape["shape"] == "curve" and self.how == "new" else ()
        if painting.frisket is not None:
            sheet = joined(painting.frisket.sheet, sheet, self.how)
        elif checks.one_of("how", self.how, ("new", "add", "take", "meet")) == "take":
            sheet = inverted(sheet)
        frisket = Frisket(_some(sheet), tuple(tuple(float(v) for v in node) for node in nodes))
        return replace(painting, frisket=frisket), Change(f"{self.shape['shape']} frisket")

    def scaled(self, factor: float) -> SetFrisket:
        """The same on a painting `factor` times as large."""

        def one(value: Any) -> Any:
            return [one(v) for v in value] if isinstance(value, (list, tuple)) else value * factor

        shape = {name: one(v) if name in SHAPE_PX else v for name, v in self.shape.items()}
        return replace(self, shape=shape)


FRISKET_CHANGES: Final[dict[str, Callable[[Sheet, float], Sheet]]] = {
    "invert": lambda sheet, _: inverted(sheet),
    "grow": grown,
    "shrink": shrunk,
    "soften": softened,
}


@dataclass(frozen=True)
class ChangeFrisket:
    """Invert, grow, shrink or soften the frisket by `px`."""

    op: ClassVar[str] = "change frisket"
    change: str
    px: float = 0.0

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        change = FRISKET_CHANGES[checks.one_of("change", self.change, FRISKET_CHANGES)]
        if painting.frisket is None:
            raise InputError("There is no frisket to change")
        sheet = _some(change(painting.frisket.sheet, self.px))
        return replace(painting, frisket=Frisket(sheet)), Change(f"{self.change} frisket")

    def scaled(self, factor: float) -> ChangeFrisket:
        """The same on a painting `factor` times as large."""
        return replace(self, px=self.px * factor)


@dataclass(frozen=True)
class DropFrisket:
    """Take the frisket off: paint goes everywhere again."""

    op: ClassVar[str] = "drop frisket"

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        if painting.frisket is None:
            raise InputError("There is no frisket to drop")
        return replace(painting, frisket=None), Change("drop frisket")


def _some(sheet: Sheet) -> Sheet:
    if not sheet.tiles:
        raise InputError("The frisket would let nothing through; nothing has changed")
    return sheet
