"""Moving pixels by a projective matrix, with one resampling: Lanczos where they grow, means where they shrink."""

from __future__ import annotations

import math
from typing import Any, Final, TypeVar

import cv2
import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster

__all__ = ["checked_matrix", "corner_matrix", "moved_by", "outline_of", "placed", "resized"]

Matrix = NDArray[np.float64]
Pixels = NDArray[np.uint16]
AnyRaster = TypeVar("AnyRaster", bound=Raster)

BAND_PX: Final = 256
MOST_SAMPLES: Final = 16
LARGEST_GROWTH: Final = 1000.0
# Half a pixel of positions is lost to rounding by OpenCV's tables below this; whole moves are copied.
WHOLE_PX: Final = 1e-6


def checked_matrix(values: ArrayLike, content: Rect) -> Matrix:
    """A 3x3 projective matrix, row by row, that keeps `content` in front of the eye and neither flat nor endless."""
    matrix = checks.in_range("matrix", values, -1e9, 1e9)
    if matrix.size != 9:
        raise InputError(f"matrix: expected 9 numbers, got {matrix.size}")
    matrix = matrix.reshape(3, 3)
    corners = _corners(content)
    depth = corners @ matrix[2, :2] + matrix[2, 2]
    if (depth <= 1e-6 * max(abs(depth).max(), 1e-9)).any():
        raise InputError("The perspective is too steep: a corner would lie behind the eye")
    grown = [_scales(matrix, point) for point in corners]
    if min(low for low, _ in grown) < 1 / LARGEST_GROWTH or max(high for _, high in grown) > LARGEST_GROWTH:
        raise InputError("The shape would be flat or endless; give it some width and height")
    return matrix


def corner_matrix(source: Rect, corners: ArrayLike) -> Matrix:
    """The matrix that takes the corners of a rectangle, clockwise from the upper left, to four positions."""
    target = np.asarray(corners, np.float32).reshape(4, 2)
    if not np.isfinite(target).all() or source.empty:
        raise InputError("corners: expected four positions and something to move")
    matrix: Matrix = cv2.getPerspectiveTransform(_corners(source).astype(np.float32), target).astype(np.float64)
    return matrix


def outline_of(matrix: Matrix, area: Rect) -> NDArray[np.float64]:
    """Where the corners of an area go, shape (4, 2)."""
    return _mapped(matrix, _corners(area))


def moved_by(raster: AnyRaster, matrix: Matrix, *, quick: bool = False) -> AnyRaster:
    """The raster with its pixels where a checked matrix takes them; canvas positions, pixel centres at halves.

    quick: linear and single samples, for a glance while a handle is dragged.
    """
    return _put(raster, matrix, type(raster)(raster.width, raster.height), quick=quick)


def placed(pixels: Pixels, matrix: Matrix, width: int, height: int) -> Raster:
    """Premultiplied pixels (4, h, w) put on an empty canvas; the matrix goes from their positions to the canvas's."""
    _, h, w = pixels.shape
    return _put(Raster(w, h).written(0, 0, pixels), matrix, Raster(width, height))


def resized(raster: AnyRaster, width: int, height: int) -> AnyRaster:
    """The raster on a canvas of another size, its content scaled along."""
    matrix = np.diag((width / raster.width, height / raster.height, 1.0))
    return _put(raster, matrix, type(raster)(width, height))


def _put(raster: Raster, matrix: Matrix, empty: AnyRaster, *, quick: bool = False) -> AnyRaster:
    source = raster.bounds()
    if source.empty:
        return empty
    outline = outline_of(matrix, source)
    low, high = np.floor(outline.min(axis=0)) - 3, np.ceil(outline.max(axis=0)) + 3
    target = Rect(*(int(v) for v in np.clip((*low, *high), -1e6, 1e6))).intersected(empty.rect)
    if target.empty:
        return empty
    shift = _whole_move(matrix)
    if shift is not None:
        return empty.written(source.x0 + shift[0], source.y0 + shift[1], raster.read(source))
    return empty.written(target.x0, target.y0, _warped(raster.read(source), source, matrix, target, quick))


def _warped(pixels: Pixels, source: Rect, matrix: Matrix, target: Rect, quick: bool) -> Pixels:
    """The pixels of `target`, premultiplied (planes, h, w), from `pixels`, those of `source`."""
    image = np.ascontiguousarray(pixels.transpose(1, 2, 0))
    out = np.empty((target.height, target.width, pixels.shape[0]), np.uint16)
    samples = 1 if quick else _samples(matrix, source)
    how = cv2.INTER_LANCZOS4 if samples == 1 and not quick else cv2.INTER_LINEAR

    def work(top: int) -> None:
        bottom = min(top + BAND_PX, target.height)
        out[top:bottom] = _band(image, source, matrix, target.moved(0, top), bottom - top, samples, how)

    each(range(0, target.height, BAND_PX), work, worth_it=2)
    result = np.ascontiguousarray(out.transpose(2, 0, 1))
    # Lanczos overshoots: colour must not exceed coverage.
    np.minimum(result[:-1], result[-1:], out=result[:-1])
    return result


def _band(image: Any, source: Rect, matrix: Matrix, target: Rect, rows: int, samples: int, how: int) -> Any:
    """Rows of the target; `samples` per pixel and side are averaged where the content shrinks."""
    fine = np.diag((samples, samples, 1.0)) @ _shift(-target.x0, -target.y0)
    # OpenCV's positions are pixel indices: a pixel's centre lies half a pixel further.
    whole = _shift(-0.5, -0.5) @ fine @ matrix @ _shift(source.x0, source.y0) @ _shift(0.5, 0.5)
    size = (target.width * samples, rows * samples)
    band = cv2.warpPerspective(image, whole, size, flags=how)
    if samples > 1:
        band = cv2.resize(band, (target.width, rows), interpolation=cv2.INTER_AREA)
    return band.reshape(rows, target.width, -1)


def _samples(matrix: Matrix, source: Rect) -> int:
    """How many samples a pixel needs on a side so that none of the content is passed over."""
    least = min(_scales(matrix, point)[0] for point in _corners(source))
    return 1 if least > 0.99 else min(math.ceil(1 / least), MOST_SAMPLES)


def _whole_move(matrix: Matrix) -> tuple[int, int] | None:
    """The move in whole pixels that the matrix is, if it is one."""
    plain = matrix / matrix[2, 2]
    dx, dy = round(plain[0, 2]), round(plain[1, 2])
    return (dx, dy) if np.abs(plain - _shift(dx, dy)).max() < WHOLE_PX else None


def _scales(matrix: Matrix, point: NDArray[np.float64]) -> tuple[float, float]:
    """The least and the greatest growth at a point: singular values of the matrix's derivative."""
    w = float(matrix[2, :2] @ point + matrix[2, 2])
    if w == 0:
        return 0.0, math.inf
    mapped = (matrix[:2, :2] @ point + matrix[:2, 2]) / w
    low_high = np.linalg.svd((matrix[:2, :2] - np.outer(mapped, matrix[2, :2])) / w, compute_uv=False)
    return float(low_high[-1]), float(low_high[0])


def _mapped(matrix: Matrix, points: NDArray[np.float64]) -> NDArray[np.float64]:
    rows = np.column_stack((points, np.ones(len(points)))) @ matrix.T
    result: NDArray[np.float64] = rows[:, :2] / rows[:, 2:]
    return result


def _corners(area: Rect) -> NDArray[np.float64]:
    x0, y0, x1, y1 = area
    return np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], float)


def _shift(dx: float, dy: float) -> Matrix:
    return np.array([[1, 0, dx], [0, 1, dy], [0, 0, 1]], float)
