"""Parts and layers: adding, moving, setting; the light, and the painting as a whole."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field, replace
from typing import Any, ClassVar, Final

from japanner.painting.model import Layer, Light, Painting, Part
from japanner.painting.model.head_guide import HeadGuide
from japanner.painting.model.kept_grid import grid_from_record
from japanner.painting.operations.base import Change, affected, areas_of, inserted
from japanner.raster.neutral import neutral_raster
from japanner.raster.tiles import Raster
from japanner.records import changes_from, from_record
from japanner.strand.comb import guides_from

__all__ = [
    "AddLayer",
    "AddPart",
    "DeleteLayer",
    "DeletePart",
    "DuplicateLayer",
    "DuplicatePart",
    "MoveLayer",
    "MovePart",
    "SetComb",
    "SetGuide",
    "SetLayer",
    "SetLight",
    "SetPainting",
    "SetPart",
]


@dataclass(frozen=True)
class AddPart:
    """A new part in front, or at `index` from the back."""

    op: ClassVar[str] = "add part"
    name: str
    material: str = "plain"
    index: int | None = None

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part = Part(painting.next_uid, self.name, self.material)
        parts = inserted(painting.parts, part, self.index)
        return replace(painting, parts=parts, next_uid=part.uid + 1), Change(f"add part {self.name}", structure=True)


@dataclass(frozen=True)
class DeletePart:
    op: ClassVar[str] = "delete part"
    part: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        gone = painting.part(self.part)
        rest = tuple(part for part in painting.parts if part is not gone)
        return replace(painting, parts=rest), Change(f"delete part {gone.name}", areas_of(gone.layers), structure=True)


@dataclass(frozen=True)
class DuplicatePart:
    """A copy with all layers, right in front of the part."""

    op: ClassVar[str] = "duplicate part"
    part: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        original, uid = painting.part(self.part), painting.next_uid
        layers = tuple(replace(layer, uid=uid + 1 + i) for i, layer in enumerate(original.layers))
        copy = replace(original, uid=uid, name=f"{original.name[:74]} copy", layers=layers)
        parts = inserted(painting.parts, copy, painting.parts.index(original) + 1)
        fresh = replace(painting, parts=parts, next_uid=uid + 1 + len(layers))
        return fresh, Change(f"duplicate part {original.name}", areas_of(layers), structure=True)


@dataclass(frozen=True)
class MovePart:
    """Move a part to `index` from the back."""

    op: ClassVar[str] = "move part"
    part: int
    index: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        moved = painting.part(self.part)
        rest = tuple(part for part in painting.parts if part is not moved)
        parts = inserted(rest, moved, self.index)
        return replace(painting, parts=parts), Change(f"move part {moved.name}", areas_of(moved.layers), structure=True)


LAYER_FIELDS: Final = ("name", "role", "place", "mode", "strength", "shown", "hold_edges")
FIELDS: Final = (
    "name",
    "material",
    "strength",
    "shown",
    "scale",
    "mixed",
    "grid",
    "around",
    "bald",
    "length_map",
    "density_map",
)


@dataclass(frozen=True)
class SetPart:
    """Change some of `FIELDS` of a part; mixed: cells of the mixing grid."""

    op: ClassVar[str] = "set part"
    part: int
    changes: dict[str, Any] = field(default_factory=dict)

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        given = dict(self.changes)
        grid = {"grid": given.pop("grid")} if "grid" in given else {}
        changes = changes_from(Part, given, FIELDS)
        if grid:
            changes["grid"] = None if grid["grid"] is None else grid_from_record(grid["grid"])
        part = painting.part(self.part)
        areas = areas_of(part.layers) if {"strength", "shown"} & set(changes) else ()
        words = f"{', '.join(changes)} of part {part.name}"
        return painting.with_part(self.part, **changes), Change(words, areas, structure=True)


@dataclass(frozen=True)
class SetGuide:
    """Give a part a head guide, from the fields of `HeadGuide`, or take it away."""

    op: ClassVar[str] = "set guide"
    part: int
    guide: dict[str, Any] | None = None

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        guide = None if self.guide is None else from_record(HeadGuide, self.guide, "guide")
        return painting.with_part(self.part, guide=guide), Change("head guide")

    def scaled(self, factor: float) -> SetGuide:
        """The same on a painting `factor` times as large."""
        if self.guide is None:
            return self
        px: dict[str, Any] = {name: self.guide[name] * factor for name in ("x", "y", "height_px") if name in self.guide}
        return replace(self, guide={**self.guide, **px})


@dataclass(frozen=True)
class SetComb:
    """Give a part its comb strokes, each from the fields of `Guide`, in place of those that it had."""

    op: ClassVar[str] = "set comb"
    part: int
    guides: tuple[dict[str, Any], ...] = ()

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        return painting.with_part(self.part, comb=guides_from(self.guides)), Change("comb")

    def scaled(self, factor: float) -> SetComb:
        """The same on a painting `factor` times as large."""
        return replace(self, guides=tuple(asdict(one.scaled(factor)) for one in guides_from(self.guides)))


@dataclass(frozen=True)
class AddLayer:
    """A new layer, last in its part's build or at `index`.

    neutral: it is filled with the colour that leaves what is beneath as it is in its mode; else it is empty.
    """

    op: ClassVar[str] = "add layer"
    part: int
    role: str
    name: str = ""
    place: str = "body"
    mode: str = "Normal"
    strength: float = 1.0
    index: int | None = None
    neutral: bool = False

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part = painting.part(self.part)
        width, height = painting.width, painting.height
        pixels = neutral_raster(self.mode, width, height) if self.neutral else Raster(width, height)
        name = self.name or str(self.role).capitalize()
        layer = Layer(painting.next_uid, name, self.role, pixels, self.place, self.mode, self.strength)
        fresh = painting.with_part(part.uid, layers=inserted(part.layers, layer, self.index))
        return replace(fresh, next_uid=layer.uid + 1), Change(f"add layer {name}", structure=True)


@dataclass(frozen=True)
class DeleteLayer:
    op: ClassVar[str] = "delete layer"
    layer: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, gone = painting.find(self.layer)
        rest = tuple(layer for layer in part.layers if layer is not gone)
        change = Change(f"delete layer {gone.name}", areas_of(affected(part, gone)), structure=True)
        return painting.with_part(part.uid, layers=rest), change


@dataclass(frozen=True)
class DuplicateLayer:
    """A copy right after the layer."""

    op: ClassVar[str] = "duplicate layer"
    layer: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, original = painting.find(self.layer)
        copy = replace(original, uid=painting.next_uid, name=f"{original.name[:74]} copy")
        layers = inserted(part.layers, copy, part.layers.index(original) + 1)
        fresh = replace(painting.with_part(part.uid, layers=layers), next_uid=copy.uid + 1)
        return fresh, Change(f"duplicate layer {original.name}", areas_of([copy]), structure=True)


@dataclass(frozen=True)
class MoveLayer:
    """Move a layer to `index` in its part's build."""

    op: ClassVar[str] = "move layer"
    layer: int
    index: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, moved = painting.find(self.layer)
        rest = tuple(layer for layer in part.layers if layer is not moved)
        fresh = painting.with_part(part.uid, layers=inserted(rest, moved, self.index))
        return fresh, Change(f"move layer {moved.name}", areas_of([moved]), structure=True)


@dataclass(frozen=True)
class SetLayer:
    """Change name, role, place, mode, strength, shown or hold_edges of a layer."""

    op: ClassVar[str] = "set layer"
    layer: int
    changes: dict[str, Any] = field(default_factory=dict)

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        changes = changes_from(Layer, self.changes, LAYER_FIELDS)
        part, layer = painting.find(self.layer)
        areas = areas_of(affected(part, layer)) if set(changes) - {"name", "hold_edges"} else ()
        words = f"{', '.join(changes)} of layer {layer.name}"
        return painting.with_layer(self.layer, **changes), Change(words, areas, structure=True)


@dataclass(frozen=True)
class SetLight:
    """Set the light of the painting; fields as in `Light`."""

    op: ClassVar[str] = "set light"
    up_deg: float
    right_deg: float
    kelvin: float = Light.kelvin
    key: float = Light.key
    size_deg: float = Light.size_deg
    sky: float = Light.sky
    sky_kelvin: float = Light.sky_kelvin
    bounce: float = Light.bounce
    bounce_colour: tuple[float, float, float] = Light.bounce_colour
    rim: float = Light.rim
    rim_up_deg: float = Light.rim_up_deg
    rim_right_deg: float = Light.rim_right_deg
    rim_size_deg: float = Light.rim_size_deg
    rim_kelvin: float = Light.rim_kelvin

    @staticmethod
    def of(light: Light) -> SetLight:
        """Set this very light."""
        return SetLight(**asdict(light))

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        fresh = replace(painting, light=Light(**asdict(self)))
        lit = [layer for _, layer in painting.layers() if layer.relief is not None]
        return fresh, Change("light", areas_of(lit))


@dataclass(frozen=True)
class SetPainting:
    """Change title, ppi or ground of the painting."""

    op: ClassVar[str] = "set painting"
    changes: dict[str, Any] = field(default_factory=dict)

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        changes = changes_from(Painting, self.changes, ("title", "ppi", "ground"))
        areas = (painting.rect,) if "ground" in changes else ()
        return replace(painting, **changes), Change(", ".join(changes), areas)
