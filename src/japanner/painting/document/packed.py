"""Former paintings packed: what differs from the one after, tile by tile, and nothing else.

A painting before a stroke is the one after it but for the tiles that the stroke touched, and there mostly the same: the
bits that differ pack well. What is unpacked is what was packed, to the last bit.
"""

from __future__ import annotations

import contextlib
import os
import tempfile
import weakref
from collections.abc import Callable, Iterator
from concurrent.futures import Future
from dataclasses import dataclass, fields, replace
from pathlib import Path
from typing import IO, Any, Final, Protocol

import numpy as np
from isal import isal_zlib

from japanner.painting.model import Frisket, Layer, Mask, Painting, Part, Relief
from japanner.raster.field import Warp
from japanner.raster.geometry import Key
from japanner.raster.parallel import ASIDE, each
from japanner.raster.tiles import Raster
from japanner.stroke.kinds.laid import LaidHair
from japanner.types import Tile

__all__ = ["History", "Packed", "Packer", "pack"]

WALKED: Final = (Painting, Part, Layer, Mask, Relief, Warp, LaidHair, Frisket)
"""Values that hold rasters, somewhere below."""
Trail = tuple[object, ...]
LEVEL: Final = 0
AT_ONCE: Final = 16


@dataclass(frozen=True, eq=False)
class _Difference:
    """A raster by the one that it is like (`partner`, its number in the painting after; None for an empty one): tiles
    that it does not have, and those that differ, packed.
    """

    partner: int | None
    bare: Raster
    without: tuple[Key, ...] = ()
    tiles: tuple[tuple[Key, bytes], ...] = ()

    def raster(self, after: list[Raster]) -> Raster:
        if self.partner is not None and not self.tiles and not self.without and _alike(after[self.partner], self.bare):
            return after[self.partner]
        base: dict[Key, Tile] = {} if self.partner is None else dict(after[self.partner].tiles)
        shape = self.bare.EMPTY.shape
        found: dict[Key, Tile] = {}

        def unpack(one: tuple[Key, bytes]) -> None:
            key, data = one
            bits = np.frombuffer(isal_zlib.decompress(data, isal_zlib.MAX_WBITS, self.bare.EMPTY.nbytes), np.uint16)
            tile = bits.reshape(shape) ^ base.get(key, self.bare.EMPTY)
            tile.setflags(write=False)
            found[key] = tile

        each(self.tiles, unpack)
        tiles = {key: tile for key, tile in base.items() if key not in self.without} | found
        return replace(self.bare, tiles=tiles)


class Packed:
    """A former painting without its pixels, and what they differ by."""

    def __init__(self, painting: Painting, skeleton: Painting, differences: dict[int, _Difference]) -> None:
        self._skeleton, self._differences = skeleton, differences
        self._itself = weakref.ref(painting)
        self._file: IO[bytes] | None = None
        self.size = sum(len(data) for one in differences.values() for _, data in one.tiles)
        """Bytes of what is packed, wherever it lies."""

    @property
    def in_memory(self) -> int:
        return 0 if self._file is not None else self.size

    def spill(self, folder: Path) -> None:
        """Put the bytes into a file without a name, gone when nobody holds it; OSError as the system has it."""
        file = tempfile.TemporaryFile(dir=folder)  # noqa: SIM115 - it stays open as long as the step can be undone
        spilled = {}
        for number, one in self._differences.items():
            places = []
            for key, data in one.tiles:
                places.append((key, (file.tell(), len(data))))
                file.write(data)
            spilled[number] = replace(one, tiles=tuple(places))  # type: ignore[arg-type]
        file.flush()
        self._differences, self._file = spilled, file

    def painting(self, after: Painting) -> Painting:
        """The former painting; `after`: the one that came of it, whose bits it was packed against."""
        itself = self._itself()
        if itself is not None:
            return itself
        rasters = [raster for _, raster in _walk(after)]
        fresh = {number: self._read(one).raster(rasters) for number, one in self._differences.items()}
        return _remade(self._skeleton, lambda bare: fresh[id(bare)], {})

    def _read(self, one: _Difference) -> _Difference:
        if self._file is None:
            return one
        tiles = []
        for key, place in one.tiles:
            at, length = place
            tiles.append((key, os.pread(self._file.fileno(), length, at)))  # any thread may ask
        return replace(one, tiles=tuple(tiles))


def pack(painting: Painting, after: Painting) -> Packed:
    """A former painting as what it differs by from the one `after` it; on all cores that nobody else wants."""
    there = list(_walk(after))
    numbers = {id(raster): number for number, (_, raster) in enumerate(there)}
    by_path = {path: number for number, (path, _) in enumerate(there)}
    bares: dict[int, Raster] = {}
    differences: dict[int, _Difference] = {}
    for path, raster in _walk(painting):
        if id(raster) in bares:
            continue
        bare = bares[id(raster)] = replace(raster, tiles={})
        partner = numbers.get(id(raster), by_path.get(path))
        if partner is not None and type(there[partner][1]) is not type(raster):
            partner = None
        differences[id(bare)] = _difference(raster, bare, partner, None if partner is None else there[partner][1])
    skeleton = _remade(painting, lambda raster: bares[id(raster)], {})
    return Packed(painting, skeleton, differences)


def _difference(raster: Raster, bare: Raster, partner: int | None, after: Raster | None) -> _Difference:
    if raster is after:
        return _Difference(partner, bare)
    then = {} if after is None else after.tiles
    without = tuple(key for key in then if key not in raster.tiles)
    keys = [key for key, tile in raster.tiles.items() if then.get(key) is not tile]
    packed: dict[Key, bytes] = {}

    def work(key: Key) -> None:
        bits = raster.tiles[key] ^ then.get(key, raster.EMPTY)
        packed[key] = isal_zlib.compress(np.ascontiguousarray(bits).data, LEVEL)

    each(keys, work)
    return _Difference(partner, bare, without, tuple((key, packed[key]) for key in keys))


def _alike(one: Raster, other: Raster) -> bool:
    return (one.width, one.height) == (other.width, other.height)


def _walk(value: Any, path: Trail = ()) -> Iterator[tuple[Trail, Raster]]:
    """Every raster in a value, by a path that stays the same from version to version."""
    if isinstance(value, Raster):
        yield path, value
    elif isinstance(value, tuple):
        for at, one in enumerate(value):
            yield from _walk(one, (*path, getattr(one, "uid", at)))
    elif isinstance(value, WALKED):
        # A layer keeps its path when it moves to another part.
        start = (value.uid,) if isinstance(value, Layer) else path
        for field in fields(value):
            yield from _walk(getattr(value, field.name), (*start, field.name))


def _remade(value: Any, raster_of: Callable[[Raster], Raster], made: dict[int, Raster]) -> Any:
    """A value with other rasters; what is the same raster twice stays so."""
    if isinstance(value, Raster):
        if id(value) not in made:
            made[id(value)] = raster_of(value)
        return made[id(value)]
    if isinstance(value, tuple):
        fresh = tuple(_remade(one, raster_of, made) for one in value)
        return value if all(one is other for one, other in zip(fresh, value, strict=True)) else fresh
    if isinstance(value, WALKED):
        now = {field.name: getattr(value, field.name) for field in fields(value)}
        changes = {name: new for name, old in now.items() if (new := _remade(old, raster_of, made)) is not old}
        return replace(value, **changes) if changes else value
    return value


class History(Protocol):
    """Whoever keeps former paintings."""

    @property
    def spills(self) -> bool:
        """Whether what is packed should go to disk."""

    def to_pack(self, most: int) -> list[tuple[Any, Painting, Painting]]:
        """Steps to pack, each with its painting and the one after."""

    def packed(self, step: Any, packed: Packed) -> None:
        """Take what a step was packed to."""

    def to_unpack(self) -> tuple[Any, Packed, Painting] | None:
        """The step that is wanted next, if it is packed, and the painting that came of it."""

    def unpacked(self, step: Any, painting: Painting) -> None:
        """Take what it was unpacked to."""


class Packer:
    """Has former paintings packed behind whatever else there is to do; the document takes them at the next `tick`."""

    def __init__(self, folder: Path) -> None:
        """`folder`: where they go when they are many."""
        self._folder = folder
        self._work: Future[list[tuple[Any, Packed | Painting]]] | None = None
        self._document: History | None = None

    def tick(self, document: History) -> None:
        """To be called now and then, by the thread that the document belongs to."""
        if self._work is not None:
            if not self._work.done():
                return
            if document is self._document:
                for step, made in self._work.result():
                    if isinstance(made, Packed):
                        document.packed(step, made)
                    else:
                        document.unpacked(step, made)
            self._work = None
        if (next_one := document.to_unpack()) is not None:
            step, packed, after = next_one
            self._document = document
            self._work = ASIDE.submit(lambda: [(step, packed.painting(after))])
        elif todo := document.to_pack(AT_ONCE):
            self._document = document
            self._work = ASIDE.submit(self._packed, todo, document.spills)

    def settle(self, document: History) -> None:
        """Wait until all is packed that should be."""
        self.tick(document)
        while self._work is not None:
            self._work.result()
            self.tick(document)

    def _packed(self, todo: list[tuple[Any, Painting, Painting]], spills: bool) -> list[tuple[Any, Packed | Painting]]:
        done: list[tuple[Any, Packed | Painting]] = []
        for step, painting, after in todo:
            packed = pack(painting, after)
            if spills:
                # Where the disk refuses, it stays in memory.
                with contextlib.suppress(OSError):
                    self._folder.mkdir(parents=True, exist_ok=True)
                    packed.spill(self._folder)
            done.append((step, packed))
        return done
