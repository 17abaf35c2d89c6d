"""Records as lines of JSON, in which a long text, such as the picture of a tip, stands once."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterable
from typing import Any, Final

from japanner.checks import shown
from japanner.errors import InputError
from japanner.types import Record

__all__ = ["RecordReader", "RecordWriter"]


# Shorter texts are not worth a reference of 40 characters.
LONG: Final = 1024
AGAIN: Final = "text again"


class RecordWriter:
    """Makes lines that are read in the same order; a long text that has been written is referred to by its SHA-1."""

    def __init__(self, written: Iterable[str] = (), put: Callable[[str, str], bool] = lambda name, text: False) -> None:
        """written: names of texts that stand in the file already. put: keeps a text elsewhere under its name, if it is
        of a kind that belongs there.
        """
        self._written, self._put = set(written), put

    @property
    def written(self) -> frozenset[str]:
        """Names of the texts that have been written."""
        return frozenset(self._written)

    def line(self, record: Record) -> str:
        """The record as a line of JSON, with its line break."""
        return json.dumps(self._short(record)) + "\n"

    def _short(self, value: Any) -> Any:
        if isinstance(value, dict):
            return {name: self._short(one) for name, one in value.items()}
        if _of_records(value):
            return [self._short(one) for one in value]
        if isinstance(value, str) and len(value) >= LONG:
            name = _name(value)
            if name in self._written:
                return {AGAIN: name}
            kept = self._put(name, value)
            self._written.add(name)
            return {AGAIN: name} if kept else value
        return value


class RecordReader:
    """Reads the lines of a `RecordWriter`, each once and in order."""

    def __init__(self, find: Callable[[str], str | None] = lambda name: None) -> None:
        """`find`: gets a text that was put elsewhere, by its name."""
        self._texts: dict[str, str] = {}
        self._find = find
        self.fetched: dict[str, str] = {}
        """Texts that came from elsewhere."""

    def record(self, line: str) -> Record:
        """The record of a line; InputError if it is none, or refers to a text that is not there."""
        try:
            data = json.loads(line)
        except (ValueError, RecursionError) as error:
            raise InputError(f"journal: expected a line of JSON ({error})") from None
        if not isinstance(data, dict) or not isinstance(data.get("op"), str):
            raise InputError(f"journal: expected a record with its op, got {shown(data)}")
        whole: Record = self._whole(data)
        return whole

    @property
    def texts(self) -> frozenset[str]:
        """Names of the long texts that have come by, for a `RecordWriter` that goes on where the reader ended."""
        return frozenset(self._texts)

    def _whole(self, value: Any) -> Any:
        if isinstance(value, dict):
            if value.keys() == {AGAIN}:
                return self._text(value[AGAIN])
            return {name: self._whole(one) for name, one in value.items()}
        if _of_records(value):
            return [self._whole(one) for one in value]
        if isinstance(value, str) and len(value) >= LONG:
            return self._texts.setdefault(_name(value), value)
        return value

    def _text(self, name: Any) -> str:
        if isinstance(name, str) and name not in self._texts:
            found = self._find(name)
            if found is not None and _name(found) == name:
                self._texts[name] = self.fetched[name] = found
        if not isinstance(name, str) or name not in self._texts:
            raise InputError(f"journal: a text that it refers to is missing ({shown(name)})")
        return self._texts[name]


def _of_records(value: Any) -> bool:
    """Whether it is a list of records, which may hold long texts; long lists of numbers are not looked through."""
    return isinstance(value, (list, tuple)) and bool(value) and isinstance(value[0], dict)


def _name(text: str) -> str:
    return hashlib.sha1(text.encode(), usedforsecurity=False).hexdigest()
