"""A painting replayed from its records at another size: strokes, tips, hair and makers are as fine as they would be
there; only pictures that came in as pixels are resampled.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Final, NamedTuple

from japanner import checks
from japanner.errors import InputError
from japanner.painting.document.document import MARKS, REDO, SAVED, UNDO, Beginning, standing_records
from japanner.painting.model import Painting
from japanner.painting.operations import Operation, operation_from_record, to_record
from japanner.raster.geometry import Rect
from japanner.records import from_record
from japanner.told import Told, silent
from japanner.types import Record

__all__ = [
    "MOST_TIMES",
    "NO_BEGINNING",
    "Step",
    "beginning",
    "begun_at",
    "first_records",
    "larger",
    "replay_at",
    "resampled_only",
    "scaled",
    "scaled_records",
]

MOST_TIMES: Final = 8.0
MOST_UNDONE: Final = 60
NO_BEGINNING: Final = (
    "The journal of this painting does not reach back to its beginning: it was opened from a picture, or by a program "
    "that kept none. It can be scaled, but not painted anew."
)


def scaled(operation: Operation, factor: float) -> Operation:
    """An operation for a canvas `factor` times as large; most have no lengths in them."""
    if factor == 1 or not hasattr(operation, "scaled"):
        return operation
    fresh: Operation = operation.scaled(factor)
    return fresh


def beginning(records: Iterable[Record]) -> tuple[Record, list[Record]]:
    """The record that says how a painting began, and those after it that still count; InputError without one."""
    standing = standing_records(records)
    if not standing or standing[0].get("op") != "begin":
        raise InputError(NO_BEGINNING)
    return standing[0], standing[1:]


def begun_at(first: Record, factor: float = 1.0) -> Beginning:
    """What the first record says of the empty canvas, `factor` times as large; InputError if that is no sense."""
    begun = from_record(Beginning, {name: value for name, value in first.items() if name != "op"}, "begin")
    width, height = (max(round(side * factor), 1) for side in (begun.width, begun.height))
    return replace(begun, width=width, height=height, ppi=min(begun.ppi * factor, 10000.0))


class Step(NamedTuple):
    """A painting after a record; areas: what of it looks different, None for all of it."""

    painting: Painting
    record: Record
    areas: tuple[Rect, ...] | None


def replay_at(records: Iterable[Record], factor: float = 1.0, *, undone: bool = False) -> Iterator[Step]:
    """The painting after each record, from the empty canvas on, `factor` times as large as it was painted; marks give
    it again. At 1 it is the same to the last bit; below, what is too fine for the canvas is left out. undone: ways that
    were undone are gone, too, and back.
    """
    checks.number("factor", factor, 0.01, MOST_TIMES)
    every = list(records)
    first, rest = beginning(every)
    painting = begun_at(first, factor).painting()
    yield Step(painting, first, None)
    past, future = list[Painting](), list[Painting]()
    for record in every[1:] if undone else rest:
        if record in (UNDO, REDO):
            source, target = (past, future) if record == UNDO else (future, past)
            if source:
                target.append(painting)
                painting = source.pop()
            yield Step(painting, record, None)
        elif record.get("op") in MARKS:
            painting = painting.settled() if record.get("op") == SAVED["op"] else painting
            yield Step(painting, record, ())
        else:
            if undone:
                past, future = [*past[-MOST_UNDONE:], painting], []
            before = painting
            try:
                painting, change = scaled(operation_from_record(record), factor).apply(painting)
            except InputError:
                if factor >= 1:
                    raise
                # What is too fine for a small canvas is not missed on it.
                yield Step(painting, record, ())
                continue
            same = (before.width, before.height) == (painting.width, painting.height)
            yield Step(painting, record, change.areas if same and not change.structure else None)


def scaled_records(records: Iterable[Record], factor: float) -> list[Record]:
    """The records of the same painting `factor` times as large; ways that were undone are left out."""
    first, rest = beginning(records)
    begun = begun_at(first, factor)
    whole: list[Record] = [{**first, "width": begun.width, "height": begun.height, "ppi": begun.ppi}]
    for record in rest:
        mark = record.get("op") in MARKS
        whole.append(record if mark else to_record(scaled(operation_from_record(record), factor)))
    return whole


def first_records(records: Iterable[Record], changes: int) -> list[Record]:
    """The beginning and the first so many changes that still count, with the marks among them; InputError without a
    beginning.
    """
    first, rest = beginning(records)
    kept, count = [first], 0
    for record in rest:
        count += record.get("op") not in MARKS
        if count > changes:
            break
        kept.append(record)
    return kept


def larger(records: Iterable[Record], factor: float, told: Told = silent) -> Painting:
    """The painting painted anew, so many times as large; told may end it by raising."""
    every = list(records)
    count, painting = max(len(standing_records(every)), 1), None
    for number, step in enumerate(replay_at(every, factor)):
        painting = step.painting
        told(min((number + 1) / count, 1.0), str(step.record.get("op", "")))
    assert painting is not None
    return painting


def resampled_only(records: Iterable[Record]) -> list[str]:
    """What of a painting came in as pixels, by name: at another size it can only be resampled."""
    return [
        str(record.get("name", "Picture")) for record in standing_records(records) if record.get("op") == "add picture"
    ]
