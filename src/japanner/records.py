"""Records: frozen dataclasses as JSON-ready data, and back through one strict reader.

Whatever comes from a file, a journal or a script is read here. A value of a wrong type, a missing or unknown field, a
number that is not finite: each raises `InputError` with the path to it and what was expected there, and nothing is
converted that was not meant.
"""

from __future__ import annotations

import math
import types
from collections.abc import Callable, Collection, Mapping
from dataclasses import MISSING, fields, is_dataclass
from functools import cache
from typing import Any, Final, TypeVar, Union, get_args, get_origin, get_type_hints

from japanner.checks import shown
from japanner.errors import InputError

__all__ = ["changes_from", "from_record", "read_as", "to_record"]

Kind = TypeVar("Kind")
Reader = Callable[[Any, str], Any]
DEEPEST: Final = 20
LARGEST: Final = 2**63
"""Beyond it, a number in a record is a mistake, and arithmetic with it may fail in ways of its own."""


def from_record(kind: type[Kind], record: Any, where: str = "") -> Kind:
    """The dataclass `kind` from JSON data; `where` names the record in errors."""
    reader: Reader = _reader(kind)  # type: ignore[arg-type]
    value: Kind = reader(record, where or kind.__name__.lower())
    return value


def read_as(hint: Any, value: Any, where: str) -> Any:
    """JSON data as a type: bool, int, float, str, None, Any, tuples, dicts, unions and dataclasses of these."""
    return _reader(hint)(value, where)


def changes_from(kind: type, record: Any, allowed: Collection[str], where: str = "changes") -> dict[str, Any]:
    """Some fields of the dataclass `kind`, each of the type it has there; InputError for any that is not allowed."""
    if not isinstance(record, Mapping):
        raise _wrong(where, "a record", record)
    hints, found = _hints(kind), {}
    for name, value in record.items():
        if name not in allowed:
            raise InputError(f"{where}: expected one of {', '.join(allowed)}, got {shown(name)}")
        found[name] = _reader(hints[name])(value, f"{where}.{name}")
    return found


def to_record(value: Any, *, whole: bool = False) -> dict[str, Any]:
    """A dataclass as JSON-ready data, without fields that are as by default, or (`whole`) only those that are None."""
    record = {}
    for one in fields(value):
        found = getattr(value, one.name)
        if one.default is MISSING or found != one.default or (whole and found is not None):
            record[one.name] = _plain(found, whole)
    return record


def _plain(value: Any, whole: bool) -> Any:
    if is_dataclass(value) and not isinstance(value, type):
        return to_record(value, whole=whole)
    if isinstance(value, (tuple, list)):
        return [_plain(one, whole) for one in value]
    return value


# --- readers --------------------------------------------------------------------------------------------


def _wrong(where: str, expected: str, value: Any) -> InputError:
    return InputError(f"{where}: expected {expected}, got {shown(value)}")


@cache
def _hints(kind: type) -> dict[str, Any]:
    hints = get_type_hints(kind)
    return {one.name: hints[one.name] for one in fields(kind)}


@cache
def _reader(hint: Any) -> Reader:
    """The reader of a type, put together once."""
    if hint in _PLAIN:
        return _PLAIN[hint]
    if isinstance(hint, type) and is_dataclass(hint):
        return _dataclass_reader(hint)
    origin, inner = get_origin(hint), get_args(hint)
    if origin is tuple:
        return _tuple_reader(inner)
    if origin is dict:
        return _record
    if origin in (Union, types.UnionType):
        return _union_reader(inner)
    raise TypeError(f"records cannot hold {hint!r}")


def _bool(value: Any, where: str) -> bool:
    if not isinstance(value, bool):
        raise _wrong(where, "true or false", value)
    return value


def _int(value: Any, where: str) -> int:
    if not isinstance(value, int) or isinstance(value, bool) or abs(value) > LARGEST:
        raise _wrong(where, "a whole number", value)
    return value


def _float(value: Any, where: str) -> float:
    # A whole number stays one, so that a record reads back as it was written.
    if not isinstance(value, (float, int)) or isinstance(value, bool):
        raise _wrong(where, "a number", value)
    if abs(value) > LARGEST or not math.isfinite(value):
        raise _wrong(where, "a finite number", value)
    return value


def _str(value: Any, where: str) -> str:
    if not isinstance(value, str):
        raise _wrong(where, "text", value)
    return value


def _none(value: Any, where: str) -> None:
    if value is not None:
        raise _wrong(where, "nothing", value)


def _record(value: Any, where: str) -> dict[str, Any]:
    if not isinstance(value, Mapping) or not all(isinstance(name, str) for name in value):
        raise _wrong(where, "a record", value)
    return {name: _frozen(one, f"{where}.{name}") for name, one in value.items()}


def _frozen(value: Any, where: str, depth: int = 0) -> Any:
    """Lists, as JSON has them, as the tuples that they were."""
    if depth > DEEPEST:
        raise InputError(f"{where}: nested too deeply")
    if isinstance(value, (list, tuple)):
        return tuple(_frozen(one, where, depth + 1) for one in value)
    if isinstance(value, Mapping):
        return {name: _frozen(one, where, depth + 1) for name, one in value.items()}
    return value


_PLAIN: Final[dict[Any, Reader]] = {
    bool: _bool, int: _int, float: _float, str: _str, type(None): _none, Any: lambda value, _: value,
}  # fmt: skip


def _dataclass_reader(kind: type) -> Reader:
    readers = {name: _reader(hint) for name, hint in _hints(kind).items()}
    needed = [one.name for one in fields(kind) if one.default is MISSING and one.default_factory is MISSING]

    def read(record: Any, where: str) -> Any:
        if isinstance(record, kind):
            return record
        if not isinstance(record, Mapping):
            raise _wrong(where, "a record", record)
        values = {}
        for name, value in record.items():
            if name not in readers:
                raise InputError(f"{where}: {shown(name)} is not one of its fields")
            values[name] = readers[name](value, f"{where}.{name}")
        for name in needed:
            if name not in values:
                raise InputError(f"{where}: {name} is missing")
        try:
            return kind(**values)
        except InputError as error:
            raise InputError(f"{where}: {error}") from None

    return read


def _tuple_reader(inner: tuple[Any, ...]) -> Reader:
    if len(inner) == 2 and inner[1] is Ellipsis:
        return _row_reader(_reader(inner[0]))
    readers = [_reader(one) for one in inner]

    def read(value: Any, where: str) -> tuple[Any, ...]:
        if not isinstance(value, (list, tuple)) or len(value) != len(readers):
            raise _wrong(where, f"a list of {len(readers)}", value)
        return tuple(reader(one, f"{where}[{i}]") for i, (reader, one) in enumerate(zip(readers, value, strict=True)))

    return read


def _row_reader(reader: Reader) -> Reader:
    def read(value: Any, where: str) -> tuple[Any, ...]:
        if not isinstance(value, (list, tuple)):
            raise _wrong(where, "a list", value)
        return tuple(reader(one, f"{where}[{i}]") for i, one in enumerate(value))

    def read_numbers(value: Any, where: str) -> tuple[Any, ...]:
        # Samples of strokes are nearly all there is in a journal: their path is put together only when one is wrong.
        if isinstance(value, (list, tuple)) and all(
            type(one) in (float, int) and -LARGEST <= one <= LARGEST for one in value
        ):
            return tuple(value)
        return read(value, where)

    return read_numbers if reader is _float else read


def _union_reader(inner: tuple[Any, ...]) -> Reader:
    readers = {one: _reader(one) for one in inner if one is not type(None)}

    def read(value: Any, where: str) -> Any:
        if value is None and type(None) in inner:
            return None
        errors = []
        for reader in readers.values():
            try:
                return reader(value, where)
            except InputError as error:
                errors.append(error)
        raise errors[0]

    return read
