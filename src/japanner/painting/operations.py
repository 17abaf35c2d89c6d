"""Operations: the small records that make every change, in the window, in scripts, and on replay.

Each is a frozen dataclass of JSON-ready fields whose `apply` takes a painting and gives the new one and
what changed. The same record on the same painting always gives the same bytes.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, fields, replace
from typing import Any, ClassVar, Final, Protocol

from japanner import checks
from japanner.errors import InputError
from japanner.painting.compositor import Compositor, plan
from japanner.painting.model import Layer, Light, Painting, Part
from japanner.raster.accumulate import Accumulator
from japanner.raster.geometry import Key, Rect
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from japanner.stroke.samples import samples_from_rows

__all__ = [
    "OPERATIONS",
    "AddLayer",
    "AddPart",
    "Change",
    "DeleteLayer",
    "DeletePart",
    "DuplicateLayer",
    "MoveLayer",
    "MovePart",
    "Operation",
    "SetLayer",
    "SetLight",
    "SetPainting",
    "SetPart",
    "Stroke",
    "begin_stroke",
    "operation_from_record",
    "to_record",
]


@dataclass(frozen=True)
class Change:
    """What an operation did: words for the Edit menu, the areas to show anew, and whether the build changed."""

    words: str
    areas: tuple[Rect, ...] = ()
    structure: bool = False


class Operation(Protocol):
    """A change as data."""

    op: ClassVar[str]

    def apply(self, painting: Painting) -> tuple[Painting, Change]: ...


def begin_stroke(painting: Painting, layer: int, brush: Brush, colour: Any, *, wipe: bool = False) -> StrokeInProgress:
    """A stroke on a layer of the painting, ready for samples. The picture under it is read only if needed."""
    compositor = Compositor()

    def visible(key: Key) -> Accumulator:
        return compositor.tile(painting, plan(painting), key)

    return StrokeInProgress(painting.layer(layer).pixels, brush, colour, wipe=wipe, visible=visible)


@dataclass(frozen=True)
class Stroke:
    """One stroke; rows are x, y, pressure, tilt x, tilt y, twist, time."""

    op: ClassVar[str] = "stroke"
    layer: int
    brush: dict[str, Any]
    colour: tuple[float, float, float]
    samples: tuple[tuple[float, ...], ...]
    wipe: bool = False
    seed: int = 0

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        stroke = begin_stroke(painting, self.layer, Brush.from_record(self.brush), self.colour, wipe=self.wipe)
        areas = stroke.add(samples_from_rows(self.samples)) + stroke.finish()
        return self.finished(painting, stroke, areas)

    def finished(self, painting: Painting, stroke: StrokeInProgress, areas: list[Rect]) -> tuple[Painting, Change]:
        """The painting with a stroke that was painted live; `apply` would give the same bytes."""
        kind = "wipe" if self.wipe else stroke.brush.kind
        return painting.with_layer(self.layer, pixels=stroke.result()), Change(f"{kind} stroke", tuple(areas))


@dataclass(frozen=True)
class AddPart:
    """A new part in front, or at `index` from the back."""

    op: ClassVar[str] = "add part"
    name: str
    material: str = "plain"
    index: int | None = None

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part = Part(painting.next_uid, self.name, self.material)
        parts = _inserted(painting.parts, part, self.index)
        return replace(painting, parts=parts, next_uid=part.uid + 1), Change(f"add part {self.name}", structure=True)


@dataclass(frozen=True)
class DeletePart:
    op: ClassVar[str] = "delete part"
    part: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        gone = painting.part(self.part)
        rest = tuple(part for part in painting.parts if part is not gone)
        return replace(painting, parts=rest), Change(f"delete part {gone.name}", _areas(gone.layers), structure=True)


@dataclass(frozen=True)
class MovePart:
    """Move a part to `index` from the back."""

    op: ClassVar[str] = "move part"
    part: int
    index: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        moved = painting.part(self.part)
        rest = tuple(part for part in painting.parts if part is not moved)
        parts = _inserted(rest, moved, self.index)
        return replace(painting, parts=parts), Change(f"move part {moved.name}", _areas(moved.layers), structure=True)


@dataclass(frozen=True)
class SetPart:
    """Change name, material, strength, shown or scale of a part."""

    op: ClassVar[str] = "set part"
    part: int
    changes: dict[str, Any] = field(default_factory=dict)

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        changes = _only(self.changes, ("name", "material", "strength", "shown", "scale"))
        if "scale" in changes:
            changes["scale"] = tuple(float(v) for v in checks.in_range("scale", changes["scale"], 0, 100))
        part = painting.part(self.part)
        areas = _areas(part.layers) if {"strength", "shown"} & set(changes) else ()
        words = f"{', '.join(changes)} of part {part.name}"
        return painting.with_part(self.part, **changes), Change(words, areas, structure=True)


@dataclass(frozen=True)
class AddLayer:
    """A new empty layer, last in its part's build or at `index`."""

    op: ClassVar[str] = "add layer"
    part: int
    role: str
    name: str = ""
    place: str = "body"
    mode: str = "Normal"
    strength: float = 1.0
    index: int | None = None

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, empty = painting.part(self.part), Raster(painting.width, painting.height)
        name = self.name or str(self.role).capitalize()
        layer = Layer(painting.next_uid, name, self.role, empty, self.place, self.mode, self.strength)
        fresh = painting.with_part(part.uid, layers=_inserted(part.layers, layer, self.index))
        return replace(fresh, next_uid=layer.uid + 1), Change(f"add layer {name}", structure=True)


@dataclass(frozen=True)
class DeleteLayer:
    op: ClassVar[str] = "delete layer"
    layer: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, gone = painting.find(self.layer)
        rest = tuple(layer for layer in part.layers if layer is not gone)
        change = Change(f"delete layer {gone.name}", _areas(_affected(part, gone)), structure=True)
        return painting.with_part(part.uid, layers=rest), change


@dataclass(frozen=True)
class DuplicateLayer:
    """A copy right after the layer."""

    op: ClassVar[str] = "duplicate layer"
    layer: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, original = painting.find(self.layer)
        copy = replace(original, uid=painting.next_uid, name=f"{original.name[:74]} copy")
        layers = _inserted(part.layers, copy, part.layers.index(original) + 1)
        fresh = replace(painting.with_part(part.uid, layers=layers), next_uid=copy.uid + 1)
        return fresh, Change(f"duplicate layer {original.name}", _areas([copy]), structure=True)


@dataclass(frozen=True)
class MoveLayer:
    """Move a layer to `index` in its part's build."""

    op: ClassVar[str] = "move layer"
    layer: int
    index: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, moved = painting.find(self.layer)
        rest = tuple(layer for layer in part.layers if layer is not moved)
        fresh = painting.with_part(part.uid, layers=_inserted(rest, moved, self.index))
        return fresh, Change(f"move layer {moved.name}", _areas([moved]), structure=True)


@dataclass(frozen=True)
class SetLayer:
    """Change name, role, place, mode, strength or shown of a layer."""

    op: ClassVar[str] = "set layer"
    layer: int
    changes: dict[str, Any] = field(default_factory=dict)

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        changes = _only(self.changes, ("name", "role", "place", "mode", "strength", "shown"))
        part, layer = painting.find(self.layer)
        areas = _areas(_affected(part, layer)) if set(changes) - {"name"} else ()
        words = f"{', '.join(changes)} of layer {layer.name}"
        return painting.with_layer(self.layer, **changes), Change(words, areas, structure=True)


@dataclass(frozen=True)
class SetLight:
    """Turn the key light."""

    op: ClassVar[str] = "set light"
    up_deg: float
    right_deg: float

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        return replace(painting, light=Light(self.up_deg, self.right_deg)), Change("key light")


@dataclass(frozen=True)
class SetPainting:
    """Change title, ppi or ground of the painting."""

    op: ClassVar[str] = "set painting"
    changes: dict[str, Any] = field(default_factory=dict)

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        changes = _only(self.changes, ("title", "ppi", "ground"))
        if "ground" in changes:
            changes["ground"] = tuple(float(v) for v in checks.in_range("ground", changes["ground"], 0, 1))
        areas = (painting.rect,) if "ground" in changes else ()
        return replace(painting, **changes), Change(", ".join(changes), areas)


_ALL: Final[tuple[Any, ...]] = (
    Stroke,
    AddPart,
    DeletePart,
    MovePart,
    SetPart,
    AddLayer,
    DeleteLayer,
    DuplicateLayer,
    MoveLayer,
    SetLayer,
    SetLight,
    SetPainting,
)
OPERATIONS: Final[dict[str, Any]] = {one.op: one for one in _ALL}


def to_record(operation: Operation) -> dict[str, Any]:
    """The operation as JSON-ready data."""
    names = (one.name for one in fields(operation))  # type: ignore[arg-type]
    return {"op": operation.op, **{name: getattr(operation, name) for name in names}}


def operation_from_record(record: Mapping[str, Any]) -> Operation:
    """An operation from JSON data; anything unknown raises InputError."""
    if not isinstance(record, Mapping):
        raise InputError(f"operation: expected a record, got {record!r:.60}")
    kind = OPERATIONS[checks.one_of("op", record.get("op", ""), OPERATIONS)]
    values = {name: value for name, value in record.items() if name != "op"}
    known = {one.name for one in fields(kind)}
    if unknown := sorted(set(values) - known):
        raise InputError(f"operation {kind.op}: unknown fields {unknown}")
    if "samples" in values:
        values["samples"] = tuple(tuple(row) for row in values["samples"])
    try:
        operation: Operation = kind(**values)
    except TypeError as error:
        raise InputError(f"operation {kind.op}: {error}") from None
    return operation


def _inserted(items: tuple[Any, ...], item: Any, index: int | None) -> tuple[Any, ...]:
    at = len(items) if index is None else checks.integer("index", index, 0, len(items))
    return (*items[:at], item, *items[at:])


def _only(changes: Mapping[str, Any], allowed: tuple[str, ...]) -> dict[str, Any]:
    for name in changes:
        checks.one_of("changes", name, allowed)
    return dict(changes)


def _affected(part: Part, layer: Layer) -> Iterable[Layer]:
    """The layers whose look may change with `layer`: a flat carries the rest of the body."""
    return part.layers if layer.role == "flat" or layer.place == "body" else (layer,)


def _areas(layers: Iterable[Layer]) -> tuple[Rect, ...]:
    keys = {key for layer in layers for key in layer.pixels.tiles}
    return tuple(Rect.of_tile(key) for key in sorted(keys))
