"""Parts: pieces of the subject, of one material each."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from japanner import checks
from japanner.errors import InputError
from japanner.painting.model.head_guide import HeadGuide
from japanner.painting.model.kept_grid import KeptGrid
from japanner.painting.model.layer import Layer
from japanner.strand.comb import Guide
from japanner.stroke.engine import checked_colour

__all__ = ["DEFAULT_SCALE", "MATERIALS", "STEP_NAMES", "Part"]

MATERIALS: Final = ("drawing", "plain", "skin", "hair", "fur", "eye", "metal", "glass", "cloth")
STEP_NAMES: Final = ("accent", "shadow", "halftone", "light", "highlight")
DEFAULT_SCALE: Final = (10.0, 28.0, 48.0, 68.0, 90.0)
MOST_GUIDES: Final = 2000


@dataclass(frozen=True, eq=False)
class Part:
    """One piece of the subject, of one material; its layers stand from first to last.

    scale: the five value steps, L* of accent, shadow, halftone, light and highlight. guide: lines to sketch over.
    mixed: cells of the mixing grid that the painter has set: undertone, step, encoded colour. grid: the mixing grid
    kept for this part; None while it is worked out. around: encoded colour of what surrounds the part; None: as the
    ground. comb: strokes that say which way its hair lies. bald: fur of other parts keeps off it.
    length_map, density_map: layers, by their uid, whose paint says how long and how dense its fur grows; 0: none.
    """

    uid: int
    name: str
    material: str = "plain"
    layers: tuple[Layer, ...] = ()
    strength: float = 1.0
    shown: bool = True
    scale: tuple[float, float, float, float, float] = DEFAULT_SCALE
    guide: HeadGuide | None = None
    mixed: tuple[tuple[int, int, float, float, float], ...] = ()
    grid: KeptGrid | None = None
    around: tuple[float, float, float] | None = None
    comb: tuple[Guide, ...] = ()
    bald: bool = False
    length_map: int = 0
    density_map: int = 0

    def __post_init__(self) -> None:
        checks.text("name", self.name, 80)
        checks.one_of("material", self.material, MATERIALS)
        checks.number("strength", self.strength, 0, 1)
        checks.flag("shown", self.shown)
        checks.flag("bald", self.bald)
        for name in ("length_map", "density_map"):
            checks.integer(name, getattr(self, name), 0, 2**40)
        values = checks.in_range("scale", self.scale, 0, 100)
        if values.shape != (5,) or (values[1:] <= values[:-1]).any():
            raise InputError(f"scale: expected five rising L* values, got {self.scale!r}")
        for row, step, *colour in self.mixed:
            checks.integer("undertone", row, 0, 20)
            checks.integer("step", step, 0, 4)
            checked_colour(colour)
        if self.around is not None:
            checked_colour(self.around)
        checks.integer("number of comb strokes", len(self.comb), 0, MOST_GUIDES)

    def in_place(self, place: str) -> tuple[Layer, ...]:
        return tuple(layer for layer in self.layers if layer.place == place)

    @property
    def flats(self) -> tuple[Layer, ...]:
        """The layers whose coverage is the silhouette."""
        return tuple(layer for layer in self.in_place("body") if layer.role == "flat")

    def standing(self, place: str) -> tuple[Layer, ...]:
        """The layers of a place from back to front, as they are blended: in the body flats come before the rest."""
        line = self.in_place(place)
        return tuple(sorted(line, key=lambda layer: layer.role != "flat")) if place == "body" else line
