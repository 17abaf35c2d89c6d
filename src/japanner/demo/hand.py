"""A hand for stroke scripts: outlines, fills and strokes that follow the form, all as pen samples."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

__all__ = ["Flow", "closed_outline", "fill_rows", "flow_along", "taper"]

Row = tuple[float, float, float]


def closed_outline(mask: NDArray[np.bool_], scale: int, inset_px: float, step_px: float = 24.0) -> list[list[Row]]:
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


def fill_rows(mask: NDArray[np.bool_], scale: int, tip_px: float) -> Iterator[list[Row]]:
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
    """Where strokes may run, which way, and what they should look like there."""

    scale: int
    inside: NDArray[np.bool_]
    angle: NDArray[np.float32]
    value: NDArray[np.float32]

    def stroke(
        self, x: float, y: float, half_length: float, step: float, tolerance: float
    ) -> list[tuple[float, float]]:
        """Points along the flow through (x, y) px, both ways, as far as the value stays within `tolerance` L*."""
        forth = self._trace(x, y, half_length, step, tolerance, +1)
        back = self._trace(x, y, half_length, step, tolerance, -1)
        return [*reversed(back), (x, y), *forth]

    def _trace(
        self, x: float, y: float, length: float, step: float, tolerance: float, sign: int
    ) -> list[tuple[float, float]]:
        points: list[tuple[float, float]] = []
        start = self._at(self.value, x, y)
        heading = None
        for _ in range(int(length / step)):
            angle = self._at(self.angle, x, y)
            dx, dy = math.cos(angle), math.sin(angle)
            if heading is None:
                heading = (dx * sign, dy * sign)
            elif dx * heading[0] + dy * heading[1] < 0:
                dx, dy = -dx, -dy
            heading = (dx, dy) if points else heading
            x, y = x + heading[0] * step, y + heading[1] * step
            if not self._at(self.inside, x, y) or abs(self._at(self.value, x, y) - start) > tolerance:
                break
            points.append((x, y))
        return points

    def _at(self, grid: NDArray[np.generic], x: float, y: float) -> float:
        row = min(max(int(y / self.scale), 0), grid.shape[0] - 1)
        column = min(max(int(x / self.scale), 0), grid.shape[1] - 1)
        return float(grid[row, column])


def flow_along(value: NDArray[np.float32], inside: NDArray[np.bool_], scale: int, sigma: float, rest: float) -> Flow:
    """Strokes along lines of equal value, which is along the form; where the value is even, at angle `rest`."""
    weight = cv2.GaussianBlur(inside.astype(np.float32), (0, 0), sigma)
    smooth = cv2.GaussianBlur(np.where(inside, value, 0).astype(np.float32), (0, 0), sigma) / np.maximum(weight, 1e-3)
    gx, gy = cv2.Sobel(smooth, cv2.CV_32F, 1, 0), cv2.Sobel(smooth, cv2.CV_32F, 0, 1)
    # Double angles average directions without regard to their sense (Knutsson 1989).
    strength = np.float32(0.6)
    cos2 = gy * gy - gx * gx + strength * np.float32(math.cos(2 * rest))
    sin2 = -2 * gx * gy + strength * np.float32(math.sin(2 * rest))
    cos2, sin2 = cv2.GaussianBlur(cos2, (0, 0), sigma), cv2.GaussianBlur(sin2, (0, 0), sigma)
    return Flow(scale, inside, (np.arctan2(sin2, cos2) / 2).astype(np.float32), value)


def taper(points: list[tuple[float, float]], pressure: float = 1.0) -> list[Row]:
    """Pen rows that swell in and out."""
    count = max(len(points) - 1, 1)
    return [
        (x, y, pressure * (0.35 + 0.65 * math.sin(math.pi * min(max(i / count, 0.12), 0.88))))
        for i, (x, y) in enumerate(points)
    ]
