"""A hand for stroke scripts: outlines, fills, and strokes that follow a form, all as pen samples."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

__all__ = ["Flow", "Row", "bristles", "closed_outline", "fill_rows", "flow_along", "flow_round", "runs", "taper"]

Row = tuple[float, float, float]
Point = tuple[float, float]
Grid = NDArray[np.float32]
Mask = NDArray[np.bool_]


def closed_outline(mask: Mask, scale: int, inset_px: float, step_px: float = 24.0) -> list[list[Row]]:
    """Closed strokes that run `inset_px` inside the edge of a mask whose pixels are `scale` px wide."""
    depth = cv2.distanceTransform(np.pad(mask, 2).astype(np.uint8), cv2.DIST_L2, 5)
    # Enlarged before it is cut, so that the outline is smoother than the mask's pixels.
    fine = cv2.GaussianBlur(cv2.resize(depth, None, fx=4, fy=4, interpolation=cv2.INTER_CUBIC), (0, 0), 4)
    inside = (fine > max(inset_px / scale, 0.5)).astype(np.uint8)
    contours, _ = cv2.findContours(inside, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    strokes = []
    for contour in contours:
        points = (contour[:, 0, :].astype(float) / 4 - 2 + 0.125) * scale
        if len(points) > 80:
            strokes.append(_evenly(_smoothed(points, 14), step_px))
    return strokes


def _smoothed(points: NDArray[np.float64], sigma: float) -> NDArray[np.float64]:
    """A closed polygon freed from its steps."""
    spread = np.arange(-3 * int(sigma), 3 * int(sigma) + 1)
    kernel = np.exp(-((spread / sigma) ** 2) / 2)
    kernel /= kernel.sum()
    wrapped = np.vstack((points[-len(spread) :], points, points[: len(spread)]))
    smooth = np.column_stack([np.convolve(wrapped[:, k], kernel, mode="same") for k in range(2)])
    return smooth[len(spread) : -len(spread)]


def _evenly(points: NDArray[np.float64], step: float) -> list[Row]:
    closed = np.vstack((points, points[:3]))
    run = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))))
    marks = np.arange(0, run[-1], step)
    xs, ys = np.interp(marks, run, closed[:, 0]), np.interp(marks, run, closed[:, 1])
    return [(float(x), float(y), 1.0) for x, y in zip(xs, ys, strict=True)]


def runs(rows: list[Row], wanted: list[bool]) -> list[list[Row]]:
    """The pieces of a stroke where `wanted` holds, each a row longer than it has to be at both ends."""
    found: list[list[Row]] = []
    for index, (row, here) in enumerate(zip(rows, wanted, strict=True)):
        if here and (index == 0 or not wanted[index - 1]):
            found.append([rows[index - 1]] if index else [])
        if here or (index and wanted[index - 1]):
            found[-1].append(row)
    return [piece for piece in found if len(piece) > 2]


def fill_rows(mask: Mask, scale: int, tip_px: float) -> Iterator[list[Row]]:
    """Level strokes that fill a mask with a tip of `tip_px`, staying half a tip inside."""
    depth = cv2.distanceTransform(np.pad(mask, 1).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    inside = depth > tip_px / 2 / scale
    for row in range(0, inside.shape[0], max(int(tip_px / 3 / scale), 1)):
        edges = np.flatnonzero(np.diff(np.concatenate(([0], inside[row].astype(np.int8), [0]))))
        for start, end in zip(edges[::2], edges[1::2], strict=True):
            y = (row + 0.5) * scale
            yield [(float(start * scale), y, 1.0), (float(end * scale), y, 1.0)]


@dataclass(frozen=True, eq=False)
class Flow:
    """Where strokes may run, which way, and the value that holds them: grids (h, w) of `scale` px.

    A stroke ends where L* `value` leaves its tolerance.
    """

    scale: int
    inside: Mask
    angle: Grid
    value: Grid

    def stroke(
        self, x: float, y: float, half_length: float, step: float, tolerance: float, turn: float = 0.0
    ) -> list[Point]:
        """Points both ways through (x, y) px, `turn` radians off the flow, while the value is within `tolerance`."""
        forth = self._trace(x, y, half_length, step, tolerance, turn)
        back = self._trace(x, y, half_length, step, tolerance, turn + math.pi)
        return [*reversed(back), (x, y), *forth]

    def _trace(self, x: float, y: float, length: float, step: float, tolerance: float, turn: float) -> list[Point]:
        points: list[Point] = []
        start, angle = self._at(self.value, x, y), self._at(self.angle, x, y)
        heading = (math.cos(angle + turn), math.sin(angle + turn))
        for _ in range(int(length / step)):
            angle = self._at(self.angle, x, y) + turn
            dx, dy = math.cos(angle), math.sin(angle)
            # The field has no sense of its own: a stroke goes on the way it came.
            heading = (dx, dy) if dx * heading[0] + dy * heading[1] >= 0 else (-dx, -dy)
            x, y = x + heading[0] * step, y + heading[1] * step
            if not self._at(self.inside, x, y) or abs(self._at(self.value, x, y) - start) > tolerance:
                break
            points.append((x, y))
        return points

    def _at(self, grid: NDArray[np.generic], x: float, y: float) -> float:
        row = min(max(int(y / self.scale), 0), grid.shape[0] - 1)
        column = min(max(int(x / self.scale), 0), grid.shape[1] - 1)
        return float(grid[row, column])


def flow_along(value: Grid, inside: Mask, scale: int, sigma: float, rest: float) -> Flow:
    """Strokes along lines of equal value; where the value is even, at the angle `rest`."""
    weight = cv2.GaussianBlur(inside.astype(np.float32), (0, 0), sigma)
    smooth = cv2.GaussianBlur(np.where(inside, value, 0).astype(np.float32), (0, 0), sigma) / np.maximum(weight, 1e-3)
    gx, gy = cv2.Sobel(smooth, cv2.CV_32F, 1, 0), cv2.Sobel(smooth, cv2.CV_32F, 0, 1)
    # Double angles average directions without regard to their sense (Knutsson 1989).
    strength = np.float32(0.6)
    cos2 = gy * gy - gx * gx + strength * np.float32(math.cos(2 * rest))
    sin2 = -2 * gx * gy + strength * np.float32(math.sin(2 * rest))
    cos2, sin2 = cv2.GaussianBlur(cos2, (0, 0), sigma), cv2.GaussianBlur(sin2, (0, 0), sigma)
    return Flow(scale, inside, (np.arctan2(sin2, cos2) / 2).astype(np.float32), value)


def flow_round(normal: Grid, value: Grid, inside: Mask, scale: int, axis: tuple[float, float, float]) -> Flow:
    """Strokes round a form, across an `axis` (x right, y up, z out), as its normals have it."""
    along = np.cross(normal, np.asarray(axis, np.float32))
    return Flow(scale, inside, np.arctan2(-along[..., 1], along[..., 0]).astype(np.float32), value)


def bristles(points: list[Point], width_px: float, count: int, rng: np.random.Generator) -> list[list[Point]]:
    """The traces of a flat brush's bristles along a path: side by side, ragged at both ends."""
    path = np.asarray(points, float)
    if len(path) < 2:
        return []
    ahead = np.gradient(path, axis=0)
    side = np.column_stack((-ahead[:, 1], ahead[:, 0])) / np.maximum(np.hypot(*ahead.T), 1e-6)[:, None]
    traces = []
    for offset in np.linspace(-0.5, 0.5, count) + rng.normal(0, 0.25 / count, count):
        first, last = int(rng.integers(0, 2)), len(path) - int(rng.integers(0, 2))
        trace = (path + side * offset * width_px)[first:last]
        if len(trace) > 1:
            traces.append([(float(x), float(y)) for x, y in trace])
    return traces


def taper(points: list[Point], pressure: float = 1.0) -> list[Row]:
    """Pen rows that swell in and out."""
    count = max(len(points) - 1, 1)
    return [
        (x, y, pressure * (0.35 + 0.65 * math.sin(math.pi * min(max(i / count, 0.12), 0.88))))
        for i, (x, y) in enumerate(points)
    ]
