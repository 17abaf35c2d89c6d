"""The way that a painting came: its records as a line to go along, with what is marked on it, and pictures of it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import accumulate, pairwise
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.painting.document.document import MARKS, SAVED
from japanner.painting.document.larger import beginning, begun_at, replay_at
from japanner.painting.picture.moments import Moment
from japanner.painting.picture.picture import Picture
from japanner.told import Told, silent
from japanner.types import Record

__all__ = ["Mark", "Seen", "Way", "pictures_along", "way_of"]

SHORTEST: Final = 0.05
"""No stage takes less of the way than this share, so that it is seen."""
PART, SAVE = "part", "save"
LONGEST_PX: Final = 720
MOST_PICTURES: Final = 400
QUALITY: Final = 84


@dataclass(frozen=True)
class Mark:
    """Something that is marked on the way: a part that was added, or a save, after so many changes."""

    at: int
    kind: str
    name: str


@dataclass(frozen=True, eq=False)
class Seen:
    """How it looked after so many changes; picture: JPEG, ISO/IEC 10918-1."""

    at: int
    picture: bytes


@dataclass(frozen=True, eq=False)
class Way:
    """count: changes from the empty canvas on, or pictures where there is no journal. stages: the first change of each,
    and its name. strokes: how many there are after each change. known: pictures that are there without painting anew.
    whole: any place of it can be painted anew.
    """

    count: int
    stages: tuple[tuple[int, str], ...]
    marks: tuple[Mark, ...]
    strokes: tuple[int, ...]
    known: tuple[Seen, ...] = ()
    whole: bool = True

    def stage_at(self, at: int) -> str:
        """The stage that a change belongs to; "" where there is none."""
        return next((name for first, name in reversed(self.stages) if first <= max(at, 1)), "")

    @property
    def _knots(self) -> tuple[list[float], list[float]]:
        """Changes, and the shares of the way that they stand at, where stages begin and at the end."""
        firsts = [0, *(first - 1 for first, _ in self.stages[1:]), max(self.count, 1)]
        shares = [max((end - start) / firsts[-1], SHORTEST) for start, end in pairwise(firsts)]
        return [float(one) for one in firsts], [0.0, *(end / sum(shares) for end in accumulate(shares))]

    def share_of(self, at: float) -> float:
        """How far on the way a change is, 0..1: all take as long, but no stage is too short to be seen."""
        return float(np.interp(at, *self._knots))

    def at(self, share: float) -> int:
        """The change at a share of the way."""
        changes, shares = self._knots
        return round(float(np.interp(share, shares, changes)))


def way_of(records: Sequence[Record], moments: Sequence[Moment] = ()) -> Way:
    """The way of a painting by its records and the moments that its file keeps; InputError where neither tells it."""
    try:
        _, rest = beginning(records)
    except InputError:
        if not moments:
            raise
        return _by_moments(moments)
    strokes, marks, count, done = [0], list[Mark](), 0, 0
    for record in rest:
        kind = record.get("op")
        if kind in MARKS:
            if kind == SAVED["op"]:
                marks.append(Mark(count, SAVE, "saved"))
            continue
        count += 1
        done += kind == "stroke"
        strokes.append(done)
        if kind == "add part":
            marks.append(Mark(count, PART, str(record.get("name", ""))))
    known = _placed(moments, strokes)
    stages = _first_of((at, one.stage) for at, one in known)
    seen = tuple(Seen(at, one.picture) for at, one in known)
    return Way(count, stages, tuple(marks), tuple(strokes), seen)


def _by_moments(moments: Sequence[Moment]) -> Way:
    stages = _first_of((n, one.stage) for n, one in enumerate(moments, 1))
    seen = tuple(Seen(n, one.picture) for n, one in enumerate(moments, 1))
    strokes = (0, *(one.strokes for one in moments))
    return Way(len(moments), stages, (), strokes, seen, whole=False)


def _first_of(named: Iterator[tuple[int, str]]) -> tuple[tuple[int, str], ...]:
    """The first change of each stage: what follows the last moment of the stage before."""
    found, before = dict[str, int](), 0
    for at, name in named:
        found.setdefault(name, before + 1)
        before = at
    return tuple((at, name) for name, at in found.items())


def _placed(moments: Sequence[Moment], strokes: Sequence[int]) -> list[tuple[int, Moment]]:
    """After which change each moment was: those after as many strokes share the changes until the next stroke."""
    found: list[tuple[int, Moment]] = []
    for count in sorted({one.strokes for one in moments}):
        same = [one for one in moments if one.strokes == count]
        room = [at for at, done in enumerate(strokes) if done == count and at] or [len(strokes) - 1]
        found += [(room[round((k + 1) / len(same) * (len(room) - 1))], one) for k, one in enumerate(same)]
    return found


def pictures_along(records: Sequence[Record], told: Told = silent) -> Iterator[Seen]:
    """The painting after changes, evenly spread over its way, painted anew from its journal at a small size; told may
    end it by raising. InputError if the journal does not reach back.
    """
    first, rest = beginning(records)
    total = sum(one.get("op") not in MARKS for one in rest)
    every = max(total / MOST_PICTURES, 1.0)
    begun = begun_at(first)
    factor = min(LONGEST_PX / max(begun.width, begun.height), 1.0)
    at, due, picture = 0, 1.0, None
    for number, step in enumerate(replay_at(records, factor)):
        told(at / max(total, 1), "the way")
        size = step.painting.width, step.painting.height
        if picture is None or (picture.painting.width, picture.painting.height) != size:
            picture = Picture(step.painting)
        elif step.areas is None or step.areas:
            picture.refresh(step.painting, [step.painting.rect] if step.areas is None else step.areas)
        if number and step.record.get("op") not in MARKS:
            at += 1
            if at >= due - 1e-9 or at == total:
                due += every
                yield Seen(at, _jpeg(picture.levels[0]))
        elif not number:
            yield Seen(0, _jpeg(picture.levels[0]))


def _jpeg(pixels: NDArray[np.uint32]) -> bytes:
    codes = np.ascontiguousarray(pixels).view(np.uint8).reshape(*pixels.shape, 4)[..., :3]
    done, packed = cv2.imencode(".jpg", codes, [cv2.IMWRITE_JPEG_QUALITY, QUALITY])
    assert done
    return bytes(packed.tobytes())
