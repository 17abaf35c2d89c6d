"""Warping by a cage: a grid of points over an area, each of which can be dragged."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.painting.model import Layer, Painting
from japanner.painting.operations.base import Change, Target, some_layers, tiles_between
from japanner.raster.field import Field, Warp, resampled
from japanner.raster.geometry import Rect

__all__ = ["CageWarp", "cage_points"]

LARGEST_GRID = 20


def cage_points(area: Rect, columns: int, rows: int) -> NDArray[np.float64]:
    """The points of a cage at rest: (rows + 1, columns + 1, 2), evenly over the area."""
    xs, ys = np.linspace(area.x0, area.x1, columns + 1), np.linspace(area.y0, area.y1, rows + 1)
    return np.stack(np.meshgrid(xs, ys), axis=-1)


@dataclass(frozen=True)
class CageWarp:
    """Move what lies under the points of a cage along with them.

    area: x0, y0, x1, y1 of the cage at rest. points: where each of its (rows + 1) x (columns + 1) points has been
    dragged, row by row. Between points the move is smooth; the rim fades into what is around.
    """

    op: ClassVar[str] = "cage"
    layers: tuple[int, ...]
    area: tuple[int, int, int, int]
    columns: int
    rows: int
    points: tuple[tuple[float, float], ...]

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        area = Rect(*(checks.integer("area", v, -100_000, 100_000) for v in self.area))
        shifts, reach = self._shifts(area, painting.rect)
        if painting.frisket is not None:
            shifts = shifts * painting.frisket.sheet.coverage(reach)
        changed: dict[Rect, None] = {}
        for uid in some_layers(painting, self.layers):
            target = Target.of(painting, uid)
            fresh = self._warped(target.layer, shifts, reach)
            painting = target.with_pixels(fresh.pixels, warp=fresh)
            changed |= dict.fromkeys(tiles_between(target.pixels, fresh.pixels))
        return painting, Change("cage warp", tuple(changed))

    def scaled(self, factor: float) -> CageWarp:
        """The same on a painting `factor` times as large."""
        x0, y0, x1, y1 = (round(v * factor) for v in self.area)
        at = cage_points(Rect(*self.area), self.columns, self.rows).reshape(-1, 2)
        moves = (np.asarray(self.points, float) - at) * factor
        points = cage_points(Rect(x0, y0, x1, y1), self.columns, self.rows).reshape(-1, 2) + moves
        rows = tuple((float(x), float(y)) for x, y in points)
        return CageWarp(self.layers, (x0, y0, x1, y1), self.columns, self.rows, rows)

    @staticmethod
    def _warped(layer: Layer, shifts: NDArray[np.float32], reach: Rect) -> Warp:
        origin, field = (layer.warp.origin, layer.warp.field) if layer.warp else (layer.pixels, Field())
        field = field.after(reach, shifts)
        pixels = layer.pixels.written(reach.x0, reach.y0, resampled(origin, field.read(reach), reach))
        return Warp(origin, field, pixels)

    def _shifts(self, area: Rect, canvas: Rect) -> tuple[NDArray[np.float32], Rect]:
        """Shifts, float32 (2, h, w), of the area that they reach."""
        columns = checks.integer("columns", self.columns, 1, LARGEST_GRID)
        rows = checks.integer("rows", self.rows, 1, LARGEST_GRID)
        points = checks.in_range("points", np.asarray(self.points, float), -1e6, 1e6)
        if area.empty or points.shape != ((rows + 1) * (columns + 1), 2):
            raise InputError("A cage needs an area, and a place for each of its points")
        moves = points.reshape(rows + 1, columns + 1, 2) - cage_points(area, columns, rows)
        if not moves.any():
            raise InputError("The cage is at rest; drag one of its points")
        cell = np.array((area.width / columns, area.height / rows))
        if (np.abs(np.diff(moves, axis=0)).max(initial=0) > 4 * cell.max()) or np.abs(moves).max() > 4 * cell.max():
            raise InputError("A point is dragged too far: the cage would fold over itself")
        # One more ring of points at rest: beyond it nothing moves.
        margin = np.ceil(cell).astype(int)
        reach = Rect(area.x0 - margin[0], area.y0 - margin[1], area.x1 + margin[0], area.y1 + margin[1])
        forward = _smooth(np.pad(moves, ((1, 1), (1, 1), (0, 0))), reach)
        inverse = _inverted(forward)
        inside = reach.intersected(canvas)
        if inside.empty:
            raise InputError("The cage lies outside the canvas")
        top, left = inside.y0 - reach.y0, inside.x0 - reach.x0
        return inverse[:, top : top + inside.height, left : left + inside.width], inside


def _smooth(moves: NDArray[Any], reach: Rect) -> NDArray[np.float32]:
    """Moves of a grid (r, c, 2) as moves of every pixel of an area (h, w, 2), by cubic convolution (Keys 1981)."""
    rows, columns = moves.shape[:2]
    xs = (np.arange(reach.width, dtype=np.float32) + 0.5) * np.float32((columns - 1) / reach.width)
    ys = (np.arange(reach.height, dtype=np.float32) + 0.5) * np.float32((rows - 1) / reach.height)
    grid_x, grid_y = np.meshgrid(xs, ys)
    return _cubic(moves.astype(np.float32), grid_x, grid_y)


def _cubic(moves: NDArray[np.float32], xs: NDArray[np.float32], ys: NDArray[np.float32]) -> NDArray[np.float32]:
    # OpenCV's positions have 1/32 of a cell, too coarse between far points: separable weights are exact.
    wx, wy = _weights(xs[0], moves.shape[1]), _weights(ys[:, 0], moves.shape[0])
    return np.einsum("yr,rcd,xc->yxd", wy, moves, wx, optimize=True).astype(np.float32)


def _weights(at: NDArray[np.float32], count: int) -> NDArray[np.float32]:
    distance = np.abs(at[:, None] - np.arange(count, dtype=np.float32))
    near = (1.5 * distance - 2.5) * distance**2 + 1
    far = ((-0.5 * distance + 2.5) * distance - 4) * distance + 2
    return np.where(distance <= 1, near, np.where(distance < 2, far, 0)).astype(np.float32)


def _inverted(forward: NDArray[np.float32]) -> NDArray[np.float32]:
    """Where each pixel comes from: the shift s with s(p) = -forward(p + s(p)), by iteration."""
    height, width = forward.shape[:2]
    ys, xs = np.mgrid[:height, :width].astype(np.float32)
    shift = -forward
    for _ in range(12):
        seen = cv2.remap(forward, xs + shift[..., 0], ys + shift[..., 1], cv2.INTER_LINEAR)
        shift = -seen
    return np.ascontiguousarray(shift.transpose(2, 0, 1))
