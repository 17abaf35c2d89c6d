"""How a painting grew, in its file: records, packed a save at a time so that none is made twice, and moments."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import Any, Final

from isal import isal_zlib
from isal.isal_zlib import IsalError

from japanner.errors import FileFormatError, InputError
from japanner.files.container import LARGEST_JOURNAL, MOST_RECORDS, Container, Piece, put
from japanner.painting.document.record_lines import RecordReader, RecordWriter
from japanner.painting.picture.moments import Moment
from japanner.raster.codec import picture_in, to_text_of
from japanner.types import Record

__all__ = ["JOURNAL", "JournalText", "read_journal", "read_moments", "write_moments"]

JOURNAL: Final = "japanner/journal.jsonl.gz"
PLAIN: Final = "japanner/journal.jsonl"
"""Where files of old have it, as it is."""
PICTURES: Final = "japanner/pictures/"
GZIP: Final = 31  # zlib's word for a gzip stream
LEVEL: Final = 2
PIECE: Final = 1 << 20
LONGEST_LINE: Final = 256 << 20

MOST_MOMENTS: Final = 1000
LARGEST_MOMENT: Final = 4 << 20
MOMENTS: Final = "japanner/moments.json"


class JournalText:
    """The records of a painting as gzip members, which may stand one after another (RFC 1952), and the pictures that
    they speak of.
    """

    def __init__(self) -> None:
        self._begin()

    def _begin(self) -> None:
        self._writer = RecordWriter(put=self._put)
        self._packed: list[bytes] = []
        self._count, self._size = 0, 0
        self._last: Record | None = None
        self._texts: dict[str, str] = {}

    def _put(self, name: str, text: str) -> bool:
        if picture_in(text) is None:
            return False
        self._texts[name] = text
        return True

    def add(self, records: Sequence[Record]) -> bool:
        """Take in what is new in `records`; False if there is more than could be read again."""
        if self._count > len(records) or (self._count and records[self._count - 1] is not self._last):
            self._begin()
        if len(records) > MOST_RECORDS:
            return False
        fresh = [self._writer.line(record).encode() for record in records[self._count :]]
        if fresh:
            text = b"".join(fresh)
            self._packed.append(isal_zlib.compress(text, LEVEL, GZIP))
            self._count, self._last, self._size = len(records), records[-1], self._size + len(text)
        return self._size <= LARGEST_JOURNAL

    def write(self, archive: zipfile.ZipFile, more: Sequence[Record], again: Callable[[str], Piece | None]) -> None:
        """Put all of it into a file, with `more` records behind, which stay there alone. again: a picture's entry in
        the file before this one, if it is there.
        """
        last = b"".join(self._writer.line(record).encode() for record in more)
        packed = [*self._packed, isal_zlib.compress(last, LEVEL, GZIP)] if last else self._packed
        put(archive, JOURNAL, b"".join(packed))
        for name, text in self._texts.items():
            entry = f"{PICTURES}{name}.png"
            put(archive, entry, again(entry) or picture_in(text) or b"")

    def take(self, packed: bytes, size: int, reader: RecordReader, records: Sequence[Record]) -> None:
        """Go on from what was read of a file."""
        self._begin()
        self._packed, self._size = [packed], size
        self._texts = reader.fetched
        self._writer = RecordWriter(reader.texts, put=self._put)
        self._count, self._last = len(records), records[-1] if records else None


def read_journal(container: Container, text: JournalText) -> list[Record]:
    """The records in a file, noted in `text` for the next save; none where there are none. InputError or
    FileFormatError where they cannot be understood.
    """
    reader, records, size = RecordReader(lambda name: _fetched(container, name)), list[Record](), 0
    packed = container.read(JOURNAL) if JOURNAL in container else b""
    for line in _lines(packed) if packed else container.lines(PLAIN, LARGEST_JOURNAL) if PLAIN in container else ():
        records.append(reader.record(line.decode()))
        size += len(line)
        if len(records) > MOST_RECORDS or size > LARGEST_JOURNAL:
            raise InputError("it is too long")
    if packed:
        text.take(packed, size, reader, records)
    return records


def _lines(packed: bytes) -> Iterator[bytes | bytearray]:
    """Lines one after another: what unpacks to too much is never held as a whole."""
    rest, waiting = bytearray(), packed
    try:
        while waiting:
            inflate = isal_zlib.decompressobj(GZIP)
            while not inflate.eof:
                if not waiting:
                    raise InputError("it is cut off")
                piece = inflate.decompress(waiting, PIECE)
                rest += piece
                if b"\n" in piece:
                    *whole, rest = rest.split(b"\n")
                    yield from whole
                elif len(rest) > LONGEST_LINE:
                    raise InputError("a line of it is too long")
                waiting = inflate.unconsumed_tail
            waiting = inflate.unused_data
    except IsalError as error:  # type: ignore[misc]  # its stub has it as a value
        raise InputError("it cannot be unpacked") from error
    if rest:
        yield rest


def _fetched(container: Container, name: str) -> str | None:
    entry = f"{PICTURES}{name}.png"
    return to_text_of(container.read(entry)) if entry in container else None


def write_moments(archive: zipfile.ZipFile, moments: Iterable[Moment]) -> None:
    """Put moments into a painting's file; nothing where there are none."""
    listed: list[dict[str, Any]] = []
    for number, one in enumerate(moments):
        name = f"japanner/moments/{number:04}.jpg"
        archive.writestr(name, one.picture, zipfile.ZIP_STORED)
        listed.append({"stage": one.stage, "strokes": one.strokes, "src": name})
    if listed:
        archive.writestr(MOMENTS, json.dumps(listed))


def read_moments(container: Container) -> tuple[Moment, ...]:
    """The moments of a file; none where what it says of them cannot be understood: the painting is what counts."""
    if MOMENTS not in container:
        return ()
    try:
        listed = json.loads(container.read(MOMENTS))
        return tuple(
            Moment(str(one["stage"])[:80], int(one["strokes"]), container.read(str(one["src"]), LARGEST_MOMENT))
            for one in listed[:MOST_MOMENTS]
        )
    except (FileFormatError, ValueError, KeyError, TypeError, RecursionError, OverflowError):
        return ()
