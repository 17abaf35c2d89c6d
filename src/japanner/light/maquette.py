"""The maquette: joined forms, turned and placed over the canvas, and what is seen of their surface."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, replace
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.light import _kernels_march as kernels
from japanner.light.pieces import JOINS, KINDS, Piece, turned
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each

__all__ = ["Maquette", "Surface", "surface"]

MOST_PIECES: Final = 500
FORMAT: Final = 1
BAND_ROWS: Final = 16


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

    def to_record(self) -> dict[str, Any]:
        """The maquette as JSON-ready data."""
        rest = {name: value for name, value in asdict(self).items() if name != "pieces"}
        return {"format": FORMAT, **rest, "pieces": [piece.to_record() for piece in self.pieces]}

    @staticmethod
    def from_record(record: Mapping[str, Any]) -> Maquette:
        """A maquette from JSON data; InputError says what is wrong with it."""
        if not isinstance(record, Mapping) or record.get("format") != FORMAT:
            raise InputError(f"maquette: expected format {FORMAT}, got {record!r:.60}")
        values: dict[str, Any] = {
            name: tuple(v) if isinstance(v, list) else v for name, v in record.items() if name != "format"
        }
        pieces = values.pop("pieces", ())
        if not isinstance(pieces, tuple):
            raise InputError(f"pieces: expected a list, got {pieces!r:.60}")
        try:
            return Maquette(tuple(Piece.from_record(one) for one in pieces), **values)
        except TypeError as error:
            raise InputError(f"maquette: {error}") from None


@dataclass(frozen=True, eq=False)
class Surface:
    """What is seen of a maquette in an `area` of the canvas, a grid (h, w) of pixels `step` canvas px wide.

    depth: distance from the viewer in units, -1 where nothing is. normal: (3, h, w), as the viewer has it: x right, y
    up, z towards the viewer. piece: index of what is seen, -1 for nothing. openness: how much of the surroundings is
    free, 0..1. lit: how much of the key light gets there, whichever way the surface is turned, 0..1.
    """

    area: Rect
    step: int
    depth: NDArray[np.float32]
    normal: NDArray[np.float32]
    piece: NDArray[np.int32]
    openness: NDArray[np.float32]
    lit: NDArray[np.float32]

    @property
    def seen(self) -> NDArray[np.bool_]:
        """Where there is any surface."""
        result: NDArray[np.bool_] = self.piece >= 0
        return result


def surface(
    maquette: Maquette,
    area: Rect,
    light: tuple[float, float, float],
    *,
    light_deg: float = 8.0,
    step: int = 1,
    told: Callable[[float], None] = lambda done: None,
) -> Surface:
    """March to what is seen of a maquette in an area of the canvas, every `step` px.

    light: unit vector to the key light, as the viewer has it; light_deg: its angular size. told: hears the share done,
    and stops the work by raising.
    """
    checks.integer("step", step, 1, 256)
    checks.number("light_deg", light_deg, 0.05, 120)
    if area.empty:
        raise InputError("area: expected a piece of the canvas, got an empty one")
    height, width = -(-area.height // step), -(-area.width // step)
    planes = [np.full((height, width), value, np.float32) for value in (-1, 1, 0)]
    normal, piece = np.zeros((3, height, width), np.float32), np.full((height, width), -1, np.int32)
    if maquette.pieces:
        turn = turned(maquette.turn)
        eye = (turn.T @ np.array((0, 0, maquette.eye))).astype(np.float32)
        towards = (turn.T @ np.array(light)).astype(np.float32)
        rows, half_angle = _rows(maquette.pieces), np.float32(np.tan(np.radians(light_deg) / 2))
        rays, scale = _rays(maquette, area, step, turn), np.float32(_scale(maquette.pieces))

        def band(top: int) -> None:
            kernels.march(
                rows, eye, rays, towards, half_angle, scale, planes[0], normal, piece, planes[1], planes[2],
                top, min(top + BAND_ROWS, height),
            )  # fmt: skip
            told(min((top + BAND_ROWS) / height, 1.0))

        each(range(0, height, BAND_ROWS), band, worth_it=2)
        normal = np.einsum("ij,jhw->ihw", turn, normal).astype(np.float32)
    return Surface(area, step, planes[0], normal, piece, planes[1], planes[2])


def _rays(maquette: Maquette, area: Rect, step: int, turn: NDArray[np.float64]) -> NDArray[np.float32]:
    """Where the ray of the upper left pixel crosses the plane of the origin, and the steps to the right and down."""
    unit, (x, y) = maquette.unit_px, maquette.middle
    corner = np.array(((area.x0 + step / 2 - x) / unit, (y - area.y0 - step / 2) / unit, 0))
    steps = np.array(((step / unit, 0, 0), (0, -step / unit, 0)))
    return np.ascontiguousarray(np.stack((corner, *steps)) @ turn, np.float32)


def _rows(pieces: tuple[Piece, ...]) -> NDArray[np.float32]:
    """The pieces as the kernel takes them."""
    rows = np.zeros((len(pieces), 26), np.float32)
    kinds, group = list(KINDS), 0
    for number, (row, piece) in enumerate(zip(rows, pieces, strict=True)):
        if number and (not piece.group or piece.group != pieces[number - 1].group):
            group += 1
        row[:6] = kinds.index(piece.kind), JOINS.index(piece.join), piece.blend, piece.mirror, group, piece.part
        row[6:9], row[9:18] = piece.place, turned(piece.turn).ravel()
        row[18:21], row[21] = piece.size, piece.edge
        centre, row[22] = _bound(piece)
        row[23:26] = centre
    return rows


def _bound(piece: Piece) -> tuple[NDArray[np.float64], float]:
    """A ball around a piece: its middle and radius; 0 for what has no end."""
    place, (a, b, c) = np.array(piece.place), piece.size
    if piece.kind == "slab":
        return place, 0.0
    if piece.kind == "tube":
        along = turned(piece.turn) @ np.array((0.0, c / 2, 0.0))
        return place + along, c / 2 + max(a, b)
    if piece.kind == "ring":
        return place, a + b
    reach = float(np.linalg.norm(piece.size)) if piece.kind == "box" else max(a, b, c)
    return place, reach * (1.5 if piece.kind == "egg" else 1.0)


def _scale(pieces: tuple[Piece, ...]) -> float:
    """About half of how large the whole is."""
    bounds = [_bound(piece) for piece in pieces]
    reach = [float(np.linalg.norm(centre)) + radius for centre, radius in bounds if radius]
    return max(reach, default=1.0)
