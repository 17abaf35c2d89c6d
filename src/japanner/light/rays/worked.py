"""What forms do to meshes: strokes over them, and seams where they meet others."""

from __future__ import annotations

from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.light.grids import along
from japanner.light.mesh.mesh import Floats, normals_of
from japanner.light.pieces import Piece
from japanner.light.rays.faced import Faced

__all__ = ["softened", "stroked"]

REACH: Final = 3.0
"""Widths of a stroke to where nothing is left of it."""
SMOOTHINGS: Final = 12
MIRRORED: Final = np.array((-1, 1, 1), np.float32)


def stroked(found: Faced, strokes: tuple[Piece, ...]) -> Faced:
    """A mesh under strokes that raise, lower, crease and smooth it, in their order, as they do with other forms."""
    points, normals = found.points, found.normals
    for stroke in strokes:
        for sign in (1, -1) if stroke.mirror else (1,):
            away = _away(stroke, points if sign > 0 else points * MIRRORED)
            near = np.flatnonzero(away < REACH)
            if not len(near):
                continue
            points = _worked(stroke, points, normals, found.triangles, near, away[near])
            normals = normals_of(points, found.triangles)
    return found if points is found.points else Faced(points, normals, found.triangles, found.zones, found.edge)


def _away(stroke: Piece, points: Floats) -> Floats:
    """Distance (n,) of points to a stroke, in widths of it."""
    nodes = along(stroke, max(0.25 * stroke.size[0], 1e-3))[:, :3]
    found = scipy.spatial.cKDTree(nodes).query(points, distance_upper_bound=REACH * stroke.size[0])[0]
    return (np.asarray(found) / stroke.size[0]).astype(np.float32)


def _worked(
    stroke: Piece, points: Floats, normals: Floats, triangles: NDArray[np.int32], near: NDArray[np.int64], away: Floats
) -> Floats:  # fmt: skip
    height, fresh = stroke.size[1], points.copy()
    bell = np.exp(-(away**2))[:, None]
    if stroke.join == "smooth":
        weight = np.zeros((len(points), 1), np.float32)
        weight[near] = min(height, 1.0) * bell
        for _ in range(SMOOTHINGS):
            fresh += 0.5 * weight * (_means(fresh, triangles) - fresh)
        return fresh
    if stroke.join == "crease":
        bell = np.exp(-2 * np.sqrt(away**2 + 0.01))[:, None]
    fresh[near] += normals[near] * (height if stroke.join == "raise" else -height) * bell
    return fresh


def _means(points: Floats, triangles: NDArray[np.int32]) -> Floats:
    """The mean of every point's neighbours; those without any stay."""
    total, count = np.zeros(points.shape), np.zeros(len(points))
    for k in range(3):
        a, b = triangles[:, k], triangles[:, (k + 1) % 3]
        for axis in range(3):
            total[:, axis] += np.bincount(a, points[b, axis], len(points)) + np.bincount(
                b, points[a, axis], len(points)
            )
        count += np.bincount(a, minlength=len(points)) + np.bincount(b, minlength=len(points))
    return np.where(count[:, None] > 0, total / np.maximum(count, 1)[:, None], points).astype(np.float32)


def softened(points: Floats, normals: Floats, gap: Floats, blend: float) -> Floats:
    """Points (n, 3) of one surface drawn out where another one is near, so that the two flow into each other.

    gap (n,): distance to the other surface, below 0 inside it. What a smooth minimum by a parabola does to two forms.
    """
    short = np.clip(blend - np.abs(gap), 0, blend)
    result: Floats = (points + normals * (short * short / (4 * blend))[:, None]).astype(np.float32)
    return result
