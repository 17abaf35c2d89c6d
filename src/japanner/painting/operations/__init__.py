"""Operations: the small records that make every change, in the window, in scripts, and on replay.

Each is a frozen dataclass of JSON-ready fields whose `apply` takes a painting and gives the new one and
what changed. The same record on the same painting always gives the same bytes.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from japanner import checks
from japanner.errors import InputError
from japanner.painting.operations.base import Change, Operation, Target
from japanner.painting.operations.canvas import FrameCanvas, ScaleCanvas
from japanner.painting.operations.edges import BreakEdge
from japanner.painting.operations.faces import DressFigure, LayFace
from japanner.painting.operations.fills import ClearPaint, Fill, FloodFill, Gradient
from japanner.painting.operations.filters import Filter
from japanner.painting.operations.friskets import ChangeFrisket, DropFrisket, SetFrisket
from japanner.painting.operations.making import Make, MakeAnew
from japanner.painting.operations.maquettes import SetLandmarks, SetMaquette, SetMeasures
from japanner.painting.operations.masks import AddMask, ApplyMask, ChangeMask, DropMask
from japanner.painting.operations.merging import FlattenPart, FlattenRelief, MergeDown
from japanner.painting.operations.moving import Transform
from japanner.painting.operations.pictures import AddPicture, AddTexture, PinPicture, UnpinPicture
from japanner.painting.operations.reliefs import DropRelief, FormRelief, SetRelief
from japanner.painting.operations.scratching import Scratch
from japanner.painting.operations.strokes import Stroke
from japanner.painting.operations.structure import (
    AddLayer,
    AddPart,
    DeleteLayer,
    DeletePart,
    DuplicateLayer,
    DuplicatePart,
    MoveLayer,
    MovePart,
    SetComb,
    SetGuide,
    SetLayer,
    SetLight,
    SetPainting,
    SetPart,
)
from japanner.painting.operations.templates import AddParts, template_of
from japanner.painting.operations.warping import CageWarp
from japanner.records import from_record
from japanner.records import to_record as _fields_of

__all__ = [
    "OPERATIONS",
    "AddLayer",
    "AddMask",
    "AddPart",
    "AddParts",
    "AddPicture",
    "AddTexture",
    "ApplyMask",
    "BreakEdge",
    "CageWarp",
    "Change",
    "ChangeFrisket",
    "ChangeMask",
    "ClearPaint",
    "DeleteLayer",
    "DeletePart",
    "DressFigure",
    "DropFrisket",
    "DropMask",
    "DropRelief",
    "DuplicateLayer",
    "DuplicatePart",
    "Fill",
    "Filter",
    "FlattenPart",
    "FlattenRelief",
    "FloodFill",
    "FormRelief",
    "FrameCanvas",
    "Gradient",
    "LayFace",
    "Make",
    "MakeAnew",
    "MergeDown",
    "MoveLayer",
    "MovePart",
    "Operation",
    "PinPicture",
    "ScaleCanvas",
    "Scratch",
    "SetComb",
    "SetFrisket",
    "SetGuide",
    "SetLandmarks",
    "SetLayer",
    "SetLight",
    "SetMaquette",
    "SetMeasures",
    "SetPainting",
    "SetPart",
    "SetRelief",
    "Stroke",
    "Target",
    "Transform",
    "UnpinPicture",
    "operation_from_record",
    "template_of",
    "to_record",
]

_ALL: Final[tuple[Any, ...]] = (
    Stroke,
    Scratch,
    Fill,
    FloodFill,
    Gradient,
    ClearPaint,
    SetFrisket,
    ChangeFrisket,
    DropFrisket,
    AddMask,
    ChangeMask,
    ApplyMask,
    DropMask,
    AddPart,
    AddParts,
    DuplicatePart,
    DeletePart,
    MovePart,
    SetPart,
    SetComb,
    SetGuide,
    FlattenPart,
    AddLayer,
    DeleteLayer,
    DuplicateLayer,
    MoveLayer,
    SetLayer,
    MergeDown,
    SetRelief,
    DropRelief,
    FormRelief,
    FlattenRelief,
    SetLight,
    SetLandmarks,
    SetMaquette,
    SetMeasures,
    DressFigure,
    LayFace,
    Make,
    MakeAnew,
    BreakEdge,
    SetPainting,
    Filter,
    Transform,
    CageWarp,
    AddPicture,
    AddTexture,
    PinPicture,
    UnpinPicture,
    FrameCanvas,
    ScaleCanvas,
)
OPERATIONS: Final[dict[str, Any]] = {one.op: one for one in _ALL}


def to_record(operation: Operation) -> dict[str, Any]:
    """The operation as JSON-ready data."""
    return {"op": operation.op, **_fields_of(operation, whole=True)}


def operation_from_record(record: Mapping[str, Any]) -> Operation:
    """An operation from JSON data; anything unknown raises InputError."""
    if not isinstance(record, Mapping):
        raise InputError(f"operation: expected a record, got {checks.shown(record)}")
    kind = OPERATIONS[checks.one_of("op", record.get("op", ""), OPERATIONS)]
    values = {name: value for name, value in record.items() if name != "op"}
    operation: Operation = from_record(kind, values, kind.op)
    return operation
