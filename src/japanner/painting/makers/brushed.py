"""Painting a target with strokes from large to small that follow the form."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.stroke import _kernels_brushed as kernels

__all__ = ["MOST_STROKES", "brushed", "directions", "passes"]

Plane = NDArray[np.float32]

MOST_STROKES: Final = 400_000
# By pass: length in widths, strength, how often strokes cover the place, error above which one is laid, L* at which a
# stroke stops (our choice, from studies painted in this way).
PASSES: Final = (
    (3.6, 0.94, 7.0, 0.0, 16.0),
    (3.8, 0.86, 5.0, 1.2, 12.0),
    (3.9, 0.76, 4.0, 1.5, 9.0),
    (4.0, 0.68, 3.2, 1.6, 7.0),
    (4.2, 0.62, 3.0, 1.8, 6.0),
    (4.2, 0.62, 3.0, 2.0, 5.0),
    (4.0, 0.64, 3.0, 2.2, 5.0),
)
SMALLEST_PX: Final = 1.5


def passes(size_px: float, finish: float) -> list[tuple[float, ...]]:
    """Width in px and the rest of `PASSES`, from the largest brush to as small as `finish` 0..100 carries it."""
    widths = [size_px * 0.52**k for k in range(len(PASSES))]
    last = size_px * (SMALLEST_PX / max(size_px, SMALLEST_PX)) ** (finish / 100)
    last = max(last, SMALLEST_PX) * 0.95
    return [(w, *rest) for w, rest in zip(widths, PASSES, strict=True) if w >= last or w == size_px]


def directions(normal: Plane, value: Plane, sigma_px: float) -> Plane:
    """Angle (h, w) in radians, x right and y down, along which form and value change least (structure tensor, Bigün &
    Granlund 1987).
    """
    xx, xy, yy = (np.zeros(value.shape, np.float32) for _ in range(3))
    for plane, weight in (*((one, 1.0) for one in normal), (value / 100, 12.0)):
        soft = cv2.GaussianBlur(np.ascontiguousarray(plane, np.float32), (0, 0), max(sigma_px / 3, 0.8))
        gx, gy = cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1)
        xx += weight * gx * gx
        xy += weight * gx * gy
        yy += weight * gy * gy
    xx, xy, yy = (cv2.GaussianBlur(plane, (0, 0), max(sigma_px, 0.8)) for plane in (xx, xy, yy))
    # Where nothing changes, strokes lean as a right hand lays them.
    xx += 1e-7
    xy += 1e-7
    result: Plane = (0.5 * np.arctan2(2 * xy, xx - yy) + np.pi / 2).astype(np.float32)
    return result


def brushed(
    colours: Plane, value: Plane, normal: Plane, inside: NDArray[np.bool_], random: np.random.Generator,
    *, size_px: float, finish: float, steps: NDArray[np.floating], told: Callable[[float], None] = lambda done: None,
) -> Plane:  # fmt: skip
    """Paint (layers, 4, h, w), premultiplied, one layer more than there are `steps` between their values.

    colours: encoded target (3, h, w). value: its L* (h, w). inside: where strokes may go. A stroke takes the colour of
    where it begins, follows the form, and ends at the border, or where the value leaves its own by too much.
    """
    checks.number("size_px", size_px, SMALLEST_PX, 4096)
    checks.number("finish", finish, 0, 100)
    shape = value.shape
    painted = np.zeros((len(steps) + 1, 4, *shape), np.float32)
    canvas = np.full((3, *shape), -1, np.float32)
    target = np.ascontiguousarray(colours, np.float32)
    values, allowed = np.ascontiguousarray(value, np.float32), np.ascontiguousarray(inside, np.uint8)
    middles = np.ascontiguousarray(steps, np.float32)
    places = np.argwhere(inside)
    todo = passes(size_px, finish)
    for number, (width, length, strength, cover, error, stop) in enumerate(todo):
        told(number / len(todo))
        along = directions(normal, value, max(width * 0.45, 1.2))
        count = int(min(cover * len(places) / (width * width * length), MOST_STROKES)) + 1
        rows = np.empty((count, 6), np.float32)
        rows[:, :2] = places[random.integers(0, len(places), count)][:, ::-1] + random.random((count, 2))
        rows[:, 2] = width * np.exp(0.22 * random.standard_normal(count))
        rows[:, 3] = rows[:, 2] * length * np.exp(0.2 * random.standard_normal(count))
        # Large strokes vary in value by about a step of the eye, small ones by half of it.
        rows[:, 4] = random.standard_normal(count) * (0.010 if number < 2 else 0.005)
        # Either way along the form, and a little off it.
        rows[:, 5] = random.normal(0, 0.09, count) + np.pi * random.integers(0, 2, count)
        seeds = random.integers(0, 2**31 - 1, count).astype(np.int32)
        kernels.strokes(
            rows, seeds[None], np.float32(strength), np.float32(error / 255 * 2.5), np.float32(stop), target, values,
            along, allowed, middles, canvas, painted,
        )  # fmt: skip
    told(1.0)
    return painted
