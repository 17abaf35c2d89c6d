"""Outlines, and the coverage of what they enclose."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.raster import _kernels_shapes as kernels
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Sheet

__all__ = ["box_outline", "curve_outline", "enclosed", "oval_outline"]

Points = NDArray[np.float64]

FARTHEST = 1e6
SMALLEST_AREA = 0.01


def oval_outline(x0: float, y0: float, x1: float, y1: float) -> Points:
    """The ellipse that fits between two corners, as a polygon within 1/5000 of its area."""
    _corners(x0, y0, x1, y1)
    # A regular polygon of n sides lacks (2 pi / n)^2 / 6 of the circle.
    count = min(max(int(math.hypot(x1 - x0, y1 - y0)), 256), 2048)
    t = np.arange(count) * (2 * np.pi / count)
    middle, half = np.array([x0 + x1, y0 + y1]) / 2, np.array([x1 - x0, y1 - y0]) / 2
    return middle + half * np.stack((np.cos(t), np.sin(t)), axis=1)


def box_outline(x0: float, y0: float, x1: float, y1: float) -> Points:
    """The box between two corners."""
    _corners(x0, y0, x1, y1)
    return np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], float)


def curve_outline(nodes: ArrayLike) -> Points:
    """A closed path of cubic Bezier segments as a polygon.

    nodes: shape (n, 6): x, y, and the two handles, as absolute positions: the one before the node (x, y), then
    the one after it.
    """
    rows = _points("nodes", nodes, 6)
    if len(rows) < 2:
        raise InputError(f"nodes: expected at least 2, got {len(rows)}")
    pieces = []
    for here, there in zip(rows, np.roll(rows, -1, axis=0), strict=True):
        control = np.stack((here[:2], here[4:6], there[2:4], there[:2]))
        length = float(np.hypot(*np.diff(control, axis=0).T).sum())
        t = np.linspace(0, 1, min(max(int(length / 2), 8), 2000), endpoint=False)[:, None]
        u = 1 - t
        pieces.append(u**3 * control[0] + 3 * u * u * t * control[1] + 3 * u * t * t * control[2] + t**3 * control[3])
    return np.concatenate(pieces)


def enclosed(outline: ArrayLike, width: int, height: int) -> Sheet:
    """Exact coverage of everything that a closed outline encloses, on a canvas of `width` x `height`.

    outline: canvas positions (n, 2); the last joins the first. Where it crosses itself, every piece of the canvas
    that it goes around counts, whichever way round. An outline that encloses nothing raises InputError.
    """
    # Only who draws an outline waits for this import.
    import shapely  # noqa: PLC0415
    from shapely.ops import polygonize, unary_union  # noqa: PLC0415

    # Finer than any pixel could show; what is nearly nothing would only overflow in divisions.
    points = np.round(_points("outline", outline, 2), 6)
    if len(points) < 3 or float(np.ptp(points, axis=0).min()) == 0:
        raise InputError("outline: expected one that encloses some of the canvas, got none of it")
    whole = unary_union(list(polygonize(unary_union(shapely.LineString([*points, points[0]])))))
    if whole.area < SMALLEST_AREA:
        raise InputError("outline: expected one that encloses some of the canvas, got none of it")
    shapes = [shapely.orient_polygons(one) for one in shapely.get_parts(whole)]
    rings = [ring for one in shapes for ring in (one.exterior, *one.interiors)]
    return _filled([np.asarray(ring.coords) for ring in rings], width, height)


def _filled(rings: Iterable[Points], width: int, height: int) -> Sheet:
    """Coverage of rings that do not cross: outer ones one way round, holes the other."""
    found = list(rings)
    every = np.concatenate(found)
    low, high = np.floor(every.min(axis=0)).astype(int), np.ceil(every.max(axis=0)).astype(int)
    area = Rect(int(low[0]), int(low[1]), int(high[0]), int(high[1])).intersected(Rect(0, 0, width, height))
    if area.empty:
        return Sheet(width, height)
    corner = np.array([area.x0, area.y0], float)
    edges = np.concatenate([np.hstack((ring[:-1] - corner, ring[1:] - corner)) for ring in found])
    sums = np.zeros((area.height, area.width + 1), np.float32)
    kernels.add_edges(np.ascontiguousarray(edges), sums)
    coverage = np.abs(np.cumsum(sums, axis=1, dtype=np.float64)[:, :-1])
    return Sheet.of(coverage, area.x0, area.y0, width, height)


def _points(name: str, values: ArrayLike, columns: int) -> Points:
    try:
        rows = np.asarray(values, dtype=np.float64)
    except (TypeError, ValueError):
        raise InputError(f"{name}: expected rows of {columns} numbers") from None
    if rows.ndim != 2 or rows.shape[1] != columns:
        raise InputError(f"{name}: expected rows of {columns} numbers, got shape {rows.shape}")
    return checks.in_range(name, rows, -FARTHEST, FARTHEST)


def _corners(*values: float) -> None:
    x0, y0, x1, y1 = (checks.number("corner", value, -FARTHEST, FARTHEST) for value in values)
    if x0 == x1 or y0 == y1:
        raise InputError("corners: expected two with some canvas between them, got none")
