"""Adjustments and filters of layers, parts, or everything."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, ClassVar, Final

from japanner import checks
from japanner.errors import InputError
from japanner.painting.model import Painting
from japanner.painting.operations.base import Change, Target, some_layers
from japanner.raster.adjust import ADJUSTMENTS, NODES, Setting, adjusted
from japanner.raster.soften import LARGEST_SIGMA_PX, blurred, noisy, sharpened
from japanner.raster.tiles import Raster

__all__ = ["FILTERS", "Filter", "filter_settings"]

Settings = Mapping[str, Any]

GLANCE_NODES: Final = 17

FILTERS: Final[dict[str, tuple[tuple[Setting, ...], Callable[[Raster, Settings], Raster]]]] = {
    "blur": (
        (Setting("sigma_px", 0, LARGEST_SIGMA_PX, 4, " px"),),
        lambda raster, s: blurred(raster, s["sigma_px"]),
    ),
    "sharpen": (
        (Setting("amount", 0, 5, 0.6), Setting("sigma_px", 0.1, LARGEST_SIGMA_PX, 2, " px")),
        lambda raster, s: sharpened(raster, s["amount"], s["sigma_px"]),
    ),
    "noise": (
        (Setting("amount", 0, 0.5, 0.03), Setting("seed", 0, 9999, 1)),
        lambda raster, s: noisy(raster, s["amount"], int(s["seed"])),
    ),
}


def filter_settings(name: str) -> tuple[Setting, ...]:
    """The numbers that an adjustment or filter is set by."""
    checks.one_of("filter", name, (*ADJUSTMENTS, *FILTERS))
    return ADJUSTMENTS[name].settings if name in ADJUSTMENTS else FILTERS[name][0]


@dataclass(frozen=True)
class Filter:
    """Adjust or filter layers, or their masks: a name of `ADJUSTMENTS` or `FILTERS`, and its settings."""

    op: ClassVar[str] = "filter"
    layers: tuple[int, ...]
    name: str
    settings: dict[str, Any] = field(default_factory=dict)
    on: str = "paint"

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        return self._applied(painting, NODES)

    def glance(self, painting: Painting) -> tuple[Painting, Change]:
        """Roughly what `apply` does, quickly enough to follow the hand."""
        return self._applied(painting, GLANCE_NODES)

    def _applied(self, painting: Painting, nodes: int) -> tuple[Painting, Change]:
        numbers = filter_settings(self.name)
        for one in numbers:
            checks.number(one.name, self.settings.get(one.name, one.start), one.low, one.high)
        settings = {**{one.name: one.start for one in numbers}, **self.settings}
        areas: dict[Any, None] = {}
        for uid in some_layers(painting, self.layers):
            target = Target.of(painting, uid, self.on)
            painting, change = target.changed_to(self._filtered(target.pixels, settings, nodes), self.name)
            areas |= dict.fromkeys(change.areas)
        if not areas:
            raise InputError(f"{self.name} finds nothing to change here")
        return painting, Change(self.name, tuple(areas))

    def _filtered(self, pixels: Raster, settings: Settings, nodes: int) -> Raster:
        if self.name in ADJUSTMENTS:
            try:
                return adjusted(pixels, self.name, settings, nodes)
            except KeyError as error:
                raise InputError(f"{self.name}: {error.args[0]} is missing") from None
        return FILTERS[self.name][1](pixels, settings)

    def scaled(self, factor: float) -> Filter:
        """The same on a painting `factor` times as large."""
        settings = {name: v * factor if name.endswith("_px") else v for name, v in self.settings.items()}
        return Filter(self.layers, self.name, settings, self.on)
