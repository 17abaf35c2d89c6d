"""A painting with its history: what the window, scripts and tests all work through."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterable
from dataclasses import dataclass, fields
from itertools import islice, pairwise
from typing import Any, Final

from japanner.errors import InputError
from japanner.painting.document.engine import ENGINE
from japanner.painting.document.packed import Packed
from japanner.painting.model import Painting
from japanner.painting.operations import Change, Operation, operation_from_record, to_record
from japanner.painting.picture.moments import Moment
from japanner.records import from_record
from japanner.types import Record

__all__ = [
    "CHECKPOINT",
    "ENGINE_MARK",
    "MARKS",
    "SAVED",
    "Beginning",
    "Document",
    "Past",
    "begun",
    "new_document",
    "replayed",
    "standing_records",
]


RECENT: Final = 4
"""The latest steps lie as they are in such a share of the memory for undo."""
SPILLED: Final = 4
"""So much more than in memory may lie on disk."""

UNDO: Final[Record] = {"op": "undo"}
REDO: Final[Record] = {"op": "redo"}
SAVED: Final[Record] = {"op": "saved"}
"""A file holds no memory of nudges, so what follows begins without."""
CHECKPOINT: Final[Record] = {"op": "checkpoint"}
"""Stands in journals only: the pixels were kept there, and nothing has changed by it."""
ENGINE_MARK: Final = "engine"
"""Another engine works out what follows: {"op": "engine", "version": n}."""
MARKS: Final = (SAVED["op"], CHECKPOINT["op"], ENGINE_MARK)
"""Records that stand between changes."""


@dataclass(frozen=True)
class Beginning:
    """What the first record says of an empty canvas; as in `Painting`."""

    width: int
    height: int
    ppi: float = Painting.ppi
    title: str = Painting.title
    ground: tuple[float, float, float] = Painting.ground

    def painting(self) -> Painting:
        return Painting(self.width, self.height, self.ppi, self.title, self.ground)


@dataclass(eq=False)
class Past:
    """A value to go back (or forward) to, as it was or packed, and what leaving it changed. cost: bytes of memory."""

    kept: Painting | Packed
    change: Change
    cost: int

    def painting(self, after: Painting) -> Painting:
        """The value; `after` is the one that came of it."""
        return self.kept if isinstance(self.kept, Painting) else self.kept.painting(after)


class Document:
    """The present painting, the former ones, and the record of every change.

    `write` is called with each record before the change counts: a journal stores it there, and if it
    raises, nothing has happened. Undo keeps former values up to `limit_bytes` of memory for tiles not shared with
    the present, up to four times that on disk, and `limit_steps` of them; at least one is always kept. What lies behind
    the latest quarter of that memory is to be packed (`to_pack`, `packed`), by whoever has time for it.
    """

    def __init__(
        self,
        painting: Painting,
        *,
        records: Iterable[Record] = (),
        write: Callable[[Record], None] | None = None,
        limit_bytes: int = 1 << 30,
        limit_steps: int = 1000,
    ) -> None:
        self.painting = painting
        self.records: list[Record] = list(records)
        self.write = write
        self.moments: tuple[Moment, ...] = ()
        """How it grew, where its file says so."""
        self.undo_bytes = 0
        """Memory that former values hold beyond the present one; what lies on disk is `spilled_bytes`."""
        self.spilled_bytes = 0
        self.held_bytes = 0
        """Memory that others hold of former values, such as kept moments: there is less for undo."""
        self.limit_bytes, self.limit_steps = limit_bytes, limit_steps
        self._past: deque[Past] = deque()
        self._future: deque[Past] = deque()

    def apply(self, operation: Operation) -> Change:
        """Run one operation; InputError leaves everything as it was."""
        painting, change = operation.apply(self.painting)
        self.commit(operation, painting, change)
        return change

    def commit(self, operation: Operation, painting: Painting, change: Change) -> None:
        """Take the outcome of an operation that has already been run, such as a stroke painted live."""
        self._log(to_record(operation))
        self._keep(self._past, change, painting)
        self.undo_bytes -= sum(one.cost for one in self._future)
        self._future.clear()
        self.painting = painting
        self._bound()

    def count_held(self, paintings: Iterable[Painting]) -> None:
        """Others hold on to these values."""
        now = {id(tile) for _, raster in self.painting.rasters() for tile in raster.tiles.values()}
        held = {id(tile): tile.nbytes for one in paintings for _, raster in one.rasters()
                for tile in raster.tiles.values() if id(tile) not in now}  # fmt: skip
        self.held_bytes = sum(held.values())
        self._bound()

    def _bound(self) -> None:
        """Let the oldest steps go that are beyond a limit."""
        while len(self._past) > 1 and (
            self.undo_bytes + self.held_bytes > self.limit_bytes
            or len(self._past) > self.limit_steps
            or self.spilled_bytes > SPILLED * self.limit_bytes
        ):
            one = self._past.popleft()
            self.undo_bytes -= one.cost
            self.spilled_bytes -= _spilled(one)

    # --- packing --------------------------------------------------------------------------------------

    def to_pack(self, most: int = 1) -> list[tuple[Past, Painting, Painting]]:
        """The oldest steps that should be packed, each with its value and the one after."""
        recent, first = 0, len(self._past) - 1
        while first > 0 and recent + self._past[first].cost <= self.limit_bytes / RECENT:
            recent += self._past[first].cost
            first -= 1
        line = list(self._past)[: first + 2]
        pairs = ((one, one.kept, after.kept) for one, after in pairwise(line))
        found = (three for three in pairs if isinstance(three[1], Painting) and isinstance(three[2], Painting))
        return list(islice(found, most))  # type: ignore[arg-type]

    def packed(self, step: Past, packed: Packed) -> None:
        """Take what a step was packed to, unless it is no step any more."""
        if step not in self._past:
            return
        self.undo_bytes += packed.in_memory - step.cost
        step.kept, step.cost = packed, packed.in_memory
        self.spilled_bytes += _spilled(step)
        self._bound()

    @property
    def spills(self) -> bool:
        """Whether there is so much in memory that what is packed should go to disk."""
        return self.undo_bytes + self.held_bytes > self.limit_bytes / RECENT

    def to_unpack(self) -> tuple[Past, Packed, Painting] | None:
        """The step that undo comes to next, if it is packed, and the present value."""
        one = self._past[-1] if self._past else None
        return None if one is None or isinstance(one.kept, Painting) else (one, one.kept, self.painting)

    def unpacked(self, step: Past, painting: Painting) -> None:
        """Take what a step was unpacked to, if it is still the next."""
        if self._past and step is self._past[-1] and isinstance(step.kept, Packed):
            cost = _tiles_lost(painting, self.painting)
            self.undo_bytes += cost - step.cost
            self.spilled_bytes -= _spilled(step)
            step.kept, step.cost = painting, cost

    def settle(self) -> None:
        """Forget how nudges came about, as the file does that the painting has just been saved to."""
        self.painting = self.painting.settled()
        if self.records and self.records[-1] != SAVED:
            self.records.append(SAVED)

    def begin_here(self) -> None:
        """What was done so far belongs to how it began: there is nothing to undo."""
        self._past.clear()
        self._future.clear()
        self.undo_bytes = self.spilled_bytes = 0

    def mark_engine(self, former: int) -> None:
        """From here on this engine works everything out; `former` did so before."""
        if self.records and former != ENGINE:
            self._log({"op": ENGINE_MARK, "version": ENGINE})

    def undo(self, *, skip_friskets: bool = False) -> Change | None:
        """Go back one step; None if there is none. skip_friskets: those of friskets alone count with the one before."""
        return self._steps(self._past, self._future, UNDO, skip_friskets=skip_friskets)

    def redo(self, *, skip_friskets: bool = False) -> Change | None:
        """Go forward again; None if there is nothing."""
        return self._steps(self._future, self._past, REDO, skip_friskets=skip_friskets)

    def _steps(self, source: deque[Past], target: deque[Past], record: Record, *, skip_friskets: bool) -> Change | None:
        change: Change | None = None
        while True:
            before = self.painting
            one = self._step(source, target, record)
            if one is None:
                return change
            areas = (*(change.areas if change is not None else ()), *one.areas)
            change = Change(one.words, areas, structure=True)
            if not (skip_friskets and same_but_frisket(before, self.painting)):
                return change

    @property
    def former(self) -> tuple[Painting, Change] | None:
        """The painting before the last change, and that change."""
        return (self._past[-1].painting(self.painting), self._past[-1].change) if self._past else None

    @property
    def undo_words(self) -> str | None:
        return self._past[-1].change.words if self._past else None

    @property
    def redo_words(self) -> str | None:
        return self._future[-1].change.words if self._future else None

    def _step(self, source: deque[Past], target: deque[Past], record: Record) -> Change | None:
        if not source:
            return None
        self._log(record)
        former = source.pop()
        painting = former.painting(self.painting)
        self.undo_bytes -= former.cost
        self.spilled_bytes -= _spilled(former)
        self._keep(target, former.change, painting)
        self.painting = painting
        # Undoing a deletion shows as much as the deletion hid.
        areas = former.change.areas or ((self.painting.rect,) if former.change.structure else ())
        return Change(former.change.words, tuple(areas), structure=True)

    def _log(self, record: Record) -> None:
        if self.write is not None:
            self.write(record)
        self.records.append(record)

    def _keep(self, where: deque[Past], change: Change, successor: Painting) -> None:
        """Hold on to the present value, which `successor` is about to replace."""
        cost = _tiles_lost(self.painting, successor)
        where.append(Past(self.painting, change, cost))
        self.undo_bytes += cost


def _spilled(step: Past) -> int:
    return 0 if isinstance(step.kept, Painting) else step.kept.size - step.kept.in_memory


def same_but_frisket(one: Painting, other: Painting) -> bool:
    """Whether two paintings differ in nothing but the frisket."""
    return all(
        getattr(one, field.name) is getattr(other, field.name) or getattr(one, field.name) == getattr(other, field.name)
        for field in fields(Painting)
        if field.name != "frisket"
    )


def _tiles_lost(before: Painting, after: Painting) -> int:
    """Bytes of tiles that only `before` holds."""
    kept = dict(after.rasters())
    lost = 0
    for name, raster in before.rasters():
        now = kept.get(name)
        if now is raster:
            continue
        tiles = {} if now is None else now.tiles
        lost += sum(tile.nbytes for key, tile in raster.tiles.items() if tiles.get(key) is not tile)
    return lost


def standing_records(records: Iterable[Record]) -> list[Record]:
    """The records that still count after all undo and redo among them.

    Marks stay with the record that they follow.
    """
    done: list[list[Record]] = [[]]  # each change with the marks after it; the first has marks alone
    undone: list[list[Record]] = []
    for record in records:
        if record == UNDO:
            if len(done) > 1:
                undone.append(done.pop())
        elif record == REDO:
            if undone:
                done.append(undone.pop())
        elif record.get("op") in MARKS:
            done[-1].append(record)
        else:
            done.append([record])
            undone.clear()
    return [record for group in done for record in group]


def replayed(painting: Painting, records: Iterable[Record]) -> Painting:
    """The painting after all records; bit for bit what was painted."""
    for record in standing_records(records):
        if record.get("op") == SAVED["op"]:
            painting = painting.settled()
        elif record.get("op") not in MARKS:
            painting, _ = operation_from_record(record).apply(painting)
    return painting


def new_document(width: int, height: int, **settings: Any) -> Document:
    """An empty painting whose first record says how it began; settings as in `Painting`."""
    begin = from_record(Beginning, {"width": width, "height": height, **settings}, "begin")
    return Document(begin.painting(), records=[{"op": "begin", "width": width, "height": height, **settings}])


def begun(records: Iterable[Record]) -> Painting:
    """The painting that records starting with `begin` describe."""
    standing = standing_records(records)
    if not standing or standing[0].get("op") != "begin":
        raise InputError("journal: expected it to say how the painting began")
    settings = {name: value for name, value in standing[0].items() if name != "op"}
    return replayed(from_record(Beginning, settings, "begin").painting(), standing[1:])
