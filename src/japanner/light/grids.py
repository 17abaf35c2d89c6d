"""Grids that stand for forms without a formula: blown-up silhouettes, and heads through landmarks."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.light.inflate import poisson
from japanner.light.pieces import Piece

__all__ = ["Grid", "along", "coefficients", "grid_of"]

Floats = NDArray[np.floating]

PUFF_CELLS: Final = 150
MARGIN: Final = 10
HEAD_SHAPE: Final = (129, 97)
HEAD_SMOOTHING: Final = 2e-4


@dataclass(frozen=True, eq=False)
class Grid:
    """B-spline coefficients (rows, columns), top row first; left, low: where the upper left cell is, in units; cell:
    its width.
    """

    coefficients: NDArray[np.float32]
    left: float = 0.0
    low: float = 0.0
    cell: float = 1.0


def along(piece: Piece, step: float) -> Floats:
    """The smooth curve through a piece's points as nodes (n, 6), evenly about every `step` units: their places, and
    the slope of the curve from node to node.
    """
    points = np.asarray(piece.points, float)
    keep = np.r_[True, np.linalg.norm(np.diff(points, axis=0), axis=1) > 1e-9]
    points = points[keep]
    if len(points) == 1:
        points = np.repeat(points, 2, axis=0) + np.array(((0, 0, 0), (1e-4, 0, 0)))
    chords = np.linalg.norm(np.diff(points, axis=0), axis=1)
    knots = np.r_[0, np.cumsum(np.sqrt(chords))]
    curve = scipy.interpolate.make_interp_spline(knots, points, k=min(len(points), 4) - 1) if len(points) != 3 else (
        scipy.interpolate.CubicSpline(knots, points)
    )  # fmt: skip
    fine = np.linspace(0, knots[-1], 40 * len(points))
    length = np.r_[0, np.cumsum(np.linalg.norm(np.diff(curve(fine), axis=0), axis=1))]
    count = int(np.clip(np.ceil(length[-1] / step), max(len(points) - 1, 1), 400))
    at = np.interp(np.linspace(0, length[-1], count + 1), length, fine)
    ways = curve.derivative()(at)
    ways *= length[-1] / count / np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-12)
    return np.column_stack((curve(at), ways))


@lru_cache(maxsize=64)
def grid_of(piece: Piece) -> Grid:
    """The grid of a puff or a head; only what shapes the grid of the piece matters."""
    return _puff(piece) if piece.kind == "puff" else _head(piece)


def coefficients(values: Floats) -> NDArray[np.float32]:
    """Spline coefficients whose curve goes through the values; the outermost ones are repeated beyond the edge."""
    padded = scipy.ndimage.spline_filter(np.pad(np.asarray(values, float), 8, mode="edge"), mode="nearest")
    return np.ascontiguousarray(padded[8:-8, 8:-8], np.float32)


def _puff(piece: Piece) -> Grid:
    """Square of the half thickness: 0 on the outline, below 0 outside.

    Inside it solves Poisson's equation with -4 on the right, so that a disc becomes a ball; with an `edge`, it rises
    with the distance from the outline as a circle of that radius does, and is even from there.
    """
    points = np.asarray(piece.points, float)
    low, high = points[:, :2].min(axis=0), points[:, :2].max(axis=0)
    extent = float((high - low).max())
    if extent < 1e-6:
        raise InputError("points: the outline of a puff has no extent")
    cell = extent / PUFF_CELLS
    columns, rows = (int(np.ceil(v / cell)) + 2 * MARGIN for v in high - low)
    rings = [np.column_stack(((ring[:, 0] - low[0]) / cell, (high[1] - ring[:, 1]) / cell)) + MARGIN
             for ring in (points[points[:, 2] == number] for number in np.unique(points[:, 2]))]  # fmt: skip
    fine = np.zeros((rows * 4, columns * 4), np.uint8)
    cv2.fillPoly(fine, [np.rint(ring * 4 + 1.5).astype(np.int32) for ring in rings], 1)
    if not fine.any():
        raise InputError("points: the outline of a puff encloses nothing")
    inner = scipy.ndimage.distance_transform_edt(fine)
    outer, nearest = scipy.ndimage.distance_transform_edt(1 - fine, return_indices=True)
    depth = (np.where(fine > 0, inner - 0.5, 0.5 - outer) / 4 * cell).reshape(rows, 4, columns, 4).mean(axis=(1, 3))
    if piece.edge > 0:
        d = np.minimum(depth, piece.edge)
        square = np.where(depth > 0, d * (2 * piece.edge - d), depth * 2 * piece.edge - depth**2)
    else:
        square = poisson(depth > 0) * cell**2
        slope = np.hypot(*np.gradient(scipy.ndimage.gaussian_filter(square, 1), cell))
        at = tuple(index[1::4, 1::4] // 4 for index in nearest)
        # Two cells further in, where the slope is what it will be on the outline.
        pull = np.where(depth > 0, 0, np.maximum(scipy.ndimage.maximum_filter(slope, 5)[at], 0.2 * extent))
        square = np.where(depth > 0, square, depth * pull - depth**2)
    square = scipy.ndimage.gaussian_filter(square, 0.8)
    return Grid(coefficients(square), low[0] - (MARGIN - 0.5) * cell, high[1] + (MARGIN - 0.5) * cell, cell)


def _head(piece: Piece) -> Grid:
    """Radius over azimuth from the front (0..180 degrees, either side) and height, through the landmarks: a thin plate
    on the unit ball.
    """
    points = np.asarray(piece.points, float)
    radius = np.linalg.norm(points, axis=1)
    if radius.min() < 1e-3:
        raise InputError("points: a landmark of a head lies in its very middle")
    towards = points / radius[:, None]
    aside = np.abs(towards[:, 0]) > 1e-6
    towards = np.concatenate((towards, towards[aside] * (-1, 1, 1)))
    radius = np.concatenate((radius, radius[aside]))
    _, once = np.unique(np.round(towards, 6), axis=0, return_index=True)
    plate = scipy.interpolate.RBFInterpolator(
        towards[once], radius[once], kernel="thin_plate_spline", smoothing=HEAD_SMOOTHING
    )  # fmt: skip
    rows, columns = HEAD_SHAPE
    polar, azimuth = np.meshgrid(np.linspace(0, np.pi, rows), np.linspace(0, np.pi, columns), indexing="ij")
    grid = np.stack((np.sin(polar) * np.sin(azimuth), np.cos(polar), np.sin(polar) * np.cos(azimuth)), axis=-1).reshape(
        -1, 3
    )
    found = np.maximum(plate(grid), 0.05 * radius.max()).reshape(rows, columns)
    # Beyond front and back the grid goes on as its mirror image does.
    wide = np.pad(found, ((0, 0), (8, 8)), mode="reflect")
    spline = scipy.ndimage.spline_filter(np.pad(wide, ((8, 8), (0, 0)), mode="edge"), mode="nearest")[8:-8, 8:-8]
    return Grid(np.ascontiguousarray(spline, np.float32))
