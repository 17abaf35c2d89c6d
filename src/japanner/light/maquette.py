"""The maquette: joined forms, turned and placed over the canvas, as data."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from typing import Any, Final

from japanner import checks
from japanner.errors import InputError
from japanner.light.pieces import Piece
from japanner.records import from_record, to_record

__all__ = ["Maquette"]

MOST_PIECES: Final = 500
FORMAT: Final = 1


@dataclass(frozen=True)
class Maquette:
    """Pieces, and how they stand before the canvas.

    middle: the canvas position, in px, where the maquette's origin is seen. unit_px: canvas px to a maquette unit, at
    the origin. turn: yaw, pitch and roll of the whole, as a head turns, in degrees. eye: distance of the viewer from
    the origin, in units; the nearer, the stronger the perspective.
    """

    pieces: tuple[Piece, ...] = ()
    middle: tuple[float, float] = (0.0, 0.0)
    unit_px: float = 100.0
    turn: tuple[float, float, float] = (0.0, 0.0, 0.0)
    eye: float = 12.0

    def __post_init__(self) -> None:
        checks.integer("number of pieces", len(self.pieces), 0, MOST_PIECES)
        checks.in_range("middle", self.middle, -1e6, 1e6)
        checks.number("unit_px", self.unit_px, 0.01, 1e5)
        checks.in_range("turn", self.turn, -360, 360)
        checks.number("eye", self.eye, 0.1, 1e4)

    def with_piece(self, index: int, **changes: Any) -> Maquette:
        """The maquette with a piece changed."""
        checks.integer("piece", index, 0, len(self.pieces) - 1)
        fresh = replace(self.pieces[index], **changes)
        return replace(self, pieces=(*self.pieces[:index], fresh, *self.pieces[index + 1 :]))

    def unnamed(self) -> Maquette:
        """The maquette without all that does not shape it: names of pieces, and whose they are."""
        return replace(self, pieces=tuple(one.shape() for one in self.pieces))

    def moved(self, x: float, y: float) -> Maquette:
        """The maquette elsewhere on the canvas, by so many px."""
        return replace(self, middle=(self.middle[0] + x, self.middle[1] + y))

    def scaled(self, factor: float) -> Maquette:
        """The maquette on a canvas `factor` times as large."""
        x, y = self.middle
        return replace(self, middle=(x * factor, y * factor), unit_px=self.unit_px * factor)

    def to_record(self) -> dict[str, Any]:
        """The maquette as JSON-ready data."""
        whole = to_record(self, whole=True)
        return {"format": FORMAT, **whole, "pieces": [piece.to_record() for piece in self.pieces]}

    @staticmethod
    def from_file(record: Mapping[str, Any]) -> tuple[Maquette, tuple[str, ...]]:
        """A maquette from a file's JSON data, and what of it was left because it is not known here."""
        left: list[str] = []

        def known(given: Any, kind: type, where: str) -> Any:
            if not isinstance(given, Mapping):
                return given
            names = {one.name for one in fields(kind)} | ({"format"} if kind is Maquette else set())
            left.extend(f"{where}{name}" for name in given if name not in names)
            return {name: value for name, value in given.items() if name in names}

        whole = known(record, Maquette, "")
        if isinstance(whole, Mapping) and isinstance(whole.get("pieces"), (list, tuple)):
            pieces = [known(one, Piece, f"piece {i + 1}: ") for i, one in enumerate(whole["pieces"])]
            whole = {**whole, "pieces": pieces}
        return Maquette.from_record(whole), tuple(left)

    @staticmethod
    def from_record(record: Mapping[str, Any]) -> Maquette:
        """A maquette from JSON data; InputError says what is wrong with it."""
        if not isinstance(record, Mapping) or record.get("format") != FORMAT:
            raise InputError(f"maquette: expected format {FORMAT}, got {checks.shown(record)}")
        return from_record(Maquette, {name: value for name, value in record.items() if name != "format"})
