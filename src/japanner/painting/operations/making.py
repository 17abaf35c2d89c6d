"""Running a maker: its layers come into a part's build, and can be made anew until they are painted on."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, ClassVar

from japanner import checks
from japanner.errors import InputError
from japanner.painting.makers import MAKERS, Maker, Scene, Sheet, before_run, made_from, outdated, part_over_all
from japanner.painting.model import Layer, Made, Painting, Part
from japanner.painting.operations.base import Change, areas_of, tiles_between
from japanner.painting.operations.structure import AddPart, MovePart
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each, watching
from japanner.raster.tiles import Raster

__all__ = ["Make", "MakeAnew"]


@dataclass(frozen=True)
class Make:
    """Let a maker (`japanner.painting.makers`) make layers of a part.

    part: 0 for a maker that works on the whole picture: it has a part of its own, which comes in front of all others.
    again: a run whose layers it makes anew; what has been painted on since stays as it is, and so do names, modes and
    strengths. amount: 0..1, less of everything; where it is made anew, the strengths of layers go with it.
    """

    op: ClassVar[str] = "make"
    part: int
    maker: str
    settings: dict[str, Any] = field(default_factory=dict)
    seed: int = 1
    again: int = 0
    amount: float = 1.0

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        return self._made(painting, sketch=False)

    def sketch(self, painting: Painting) -> tuple[Painting, Change]:
        """About what `apply` comes to, for a first look."""
        return self._made(painting, sketch=True)

    def _made(self, painting: Painting, *, sketch: bool) -> tuple[Painting, Change]:
        maker = MAKERS[checks.one_of("maker", self.maker, MAKERS)]
        checks.integer("seed", self.seed, 0, 2**31)
        checks.number("amount", self.amount, 0, 1)
        painting, part = _with_part(painting, maker, self.part)
        former = {one.made.sheet: one for one in part.layers if one.made and one.made.run == self.again}
        if self.again and not former:
            raise InputError("There is nothing of that run any more; make it anew")
        below = before_run(painting, part, maker, self.again)
        values = maker.checked(self.settings)
        sheets = maker.made(Scene(below, below.part(part.uid), values, self.seed, watching(), sketch))
        seen = 0 if sketch else made_from(below, below.part(part.uid), maker, values)
        made = Made(self.maker, self.again or painting.next_uid, self.seed, values, seen=seen, amount=self.amount)
        return self._placed(painting, part, former, sheets, made)

    def _placed(
        self, painting: Painting, part: Part, former: dict[str, Layer], sheets: list[Sheet], made: Made
    ) -> tuple[Painting, Change]:
        uid, layers, fresh = painting.next_uid, list(part.layers), list[Layer]()
        pale = [one for one in part.flats if one.strength < 1] if MAKERS[self.maker].whole else []
        layers = [replace(one, strength=1.0) if one in pale else one for one in layers]
        areas: list[Rect] = list(areas_of(pale))
        rasters = dict[str, Raster]()

        def stored(sheet: Sheet) -> None:
            empty = Raster(painting.width, painting.height)
            rasters[sheet.name] = empty.written(sheet.area.x0, sheet.area.y0, sheet.codes())

        each(sheets, stored, worth_it=2)
        for sheet in sheets:
            pixels = rasters[sheet.name]
            mark, old = replace(made, sheet=sheet.name), former.get(sheet.name)
            if old is None:
                strength = sheet.strength * self.amount
                layer = Layer(uid, sheet.name, sheet.role, pixels, sheet.place, sheet.mode, strength, made=mark)
                uid += 1
                fresh.append(layer)
                areas += areas_of([layer])
            elif old.made is not None and not old.made.on:
                strength = _less(old.strength, sheet.strength, old.made.amount, self.amount)
                layers[layers.index(old)] = replace(old, pixels=pixels, warp=None, made=mark, strength=strength)
                areas += tiles_between(old.pixels, pixels)
        names = {sheet.name for sheet in sheets}
        gone = [old for name, old in former.items() if name not in names and old.made and not old.made.on]
        areas += areas_of(gone)
        layers = [one for one in layers if one not in gone]
        kept = [i for i, one in enumerate(layers) if one.made and one.made.run == made.run]
        at = kept[-1] + 1 if kept else len(layers)
        layers[at:at] = fresh
        result = replace(painting.with_part(part.uid, layers=tuple(layers)), next_uid=uid)
        return result, Change(f"make {self.maker}", tuple(dict.fromkeys(areas)), structure=True)

    def scaled(self, factor: float) -> Make:
        """The same on a painting `factor` times as large."""
        maker = MAKERS[checks.one_of("maker", self.maker, MAKERS)]
        values = maker.checked(self.settings)
        for one in maker.settings:
            if one.px:
                values[one.name] = min(max(values[one.name] * factor, one.low), one.high)
            if one.kind == "edits":
                values[one.name] = tuple(edit.scaled(factor) for edit in values[one.name])
        return replace(self, settings=values)


def _with_part(painting: Painting, maker: Maker, uid: int) -> tuple[Painting, Part]:
    """The painting with the part that a maker works on, which may be its own."""
    if uid or not maker.over_all:
        return painting, painting.part(uid)
    own = part_over_all(painting, maker.name)
    if own is None:
        painting, _ = AddPart(maker.name.capitalize()).apply(painting)
        return painting, painting.parts[-1]
    return MovePart(own.uid, len(painting.parts) - 1).apply(painting)[0], own


def _less(now: float, whole: float, former: float, amount: float) -> float:
    """A layer's strength when there is to be another amount of all: as the painter has set it meanwhile, in shares."""
    if former == amount:
        return now
    return min(whole * amount if former == 0 else now * amount / former, 1.0)


@dataclass(frozen=True)
class MakeAnew:
    """Make all runs of makers anew that are out of date, of a part (0: of all parts), from back to front and from first
    to last, each from what the former have come to; InputError if none is.
    """

    op: ClassVar[str] = "make anew"
    part: int = 0

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        chosen = [painting.part(self.part)] if self.part else list(painting.parts)
        areas, count = list[Rect](), 0
        for uid in [one.uid for one in chosen]:
            asked = set[int]()
            while made := next((one for one in outdated(painting, painting.part(uid)) if one.run not in asked), None):
                asked.add(made.run)
                painting, change = Make(uid, made.maker, made.settings, made.seed, made.run, made.amount).apply(
                    painting
                )
                areas += change.areas
                count += 1
        if not count:
            raise InputError("Nothing is out of date")
        return painting, Change(self.op, tuple(dict.fromkeys(areas)), structure=True)
