"""Filling from a point: what belongs together, also where the line around it has gaps."""

from __future__ import annotations

from functools import cache
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.color import oklab, srgb
from japanner.raster import _kernels_fill as kernels
from japanner.raster.accumulate import Accumulator
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.parallel import each

__all__ = ["LARGEST_GAP_PX", "colour_coverage", "difference_into", "flooded", "seed_of"]

Floats = NDArray[np.float32]
Flags = NDArray[np.uint8]

LARGEST_GAP_PX: Final = 200
STEPS: Final = 16384
# How far past the tolerance a pixel still belongs in part: the width of an anti-aliased edge in colour.
SOFT: Final = 0.5
# Which side of a gap of this width its middle belongs to, matters less than a pixel: half the pixels tell it.
COARSE_FROM_PX: Final = 8
# The standard deviation, in px, that turns steps between pixels into a clean edge.
EDGE_SIGMA: Final = 0.7


def seed_of(acc: Accumulator, x: int, y: int) -> tuple[float, float, float, float]:
    """OKLab and coverage of a pixel of an accumulator; columns, then rows."""
    r, g, b, alpha = (float(v) for v in acc[:, y, x])
    straight = np.array([r, g, b]) / alpha if alpha > 0 else np.zeros(3)
    lightness, a, blue = (float(v) for v in oklab.oklab_from_linear(srgb.decode(np.clip(straight, 0, 1))))
    return lightness, a, blue, alpha


def difference_into(
    out: Floats, acc: Accumulator, key: Key, seed: tuple[float, float, float, float], area: Rect
) -> None:
    """Write how far the pixels of one tile are from `seed`, as 100 times the OKLab distance, into `out` (h, w)."""
    decode, root, lms, lab = _tables()
    codes = (np.float32(v) for v in seed)
    kernels.difference(acc, decode, root, lms, lab, *codes, out, key[0] * TILE, key[1] * TILE, *area.rows_and_columns)


def colour_coverage(difference: Floats, tolerance: float) -> Floats:
    """Coverage 0..1 of pixels by colour: whole up to `tolerance`, fading to none at one and a half times that."""
    limit = max(tolerance, 0.01)
    return np.clip((1 + SOFT - difference / np.float32(limit)) / np.float32(SOFT), 0, 1)


def flooded(
    difference: Floats, x: int, y: int, *, tolerance: float, gap_px: int = 0, under_px: int = 0
) -> tuple[Flags, Rect]:
    """What belongs together with pixel (x, y).

    Parameters
    ----------
    difference : float32 (h, w), distance of every pixel from the colour at (x, y)
    tolerance : up to this difference a pixel is free; what is beyond bounds the fill
    gap_px : openings in the bounds up to this wide count as closed, 0..200
    under_px : how far the fill reaches under its bounds, 0..200

    Returns
    -------
    coverage uint8 0..255 of an area, and that area. The edge is anti-aliased.

    An opening is closed where the free space is nowhere wider than `gap_px`: space wider than that falls apart into
    chambers, and every narrow pixel goes to the chamber next to it (a watershed of the distance from the bounds;
    Serra 1982 for the opening by a disc, from memory).
    """
    checks.integer("gap_px", gap_px, 0, LARGEST_GAP_PX)
    checks.integer("under_px", under_px, 0, LARGEST_GAP_PX)
    checks.number("tolerance", tolerance, 0, 200)
    height, width = difference.shape
    free = (difference <= max(tolerance, 0.01)).astype(np.uint8)
    free[y, x] = 1
    connected, inside = _connected(free, (x, y))
    reach = inside.grown(under_px + 4).intersected(Rect(0, 0, width, height))
    free, connected = _cut(free, reach), _cut(connected, reach)
    region = _chamber(free, connected, (x - reach.x0, y - reach.y0), gap_px) if gap_px else connected
    return _edged(region, free, under_px), reach


def _connected(free: Flags, seed: tuple[int, int]) -> tuple[Flags, Rect]:
    """The connected piece of `free` around `seed` (x, y), and the rectangle around it."""
    marked = free.copy()
    _, _, _, (left, top, wide, high) = cv2.floodFill(marked, None, seed, 2)
    return marked >> np.uint8(1), Rect(left, top, left + wide, top + high)


def _chamber(free: Flags, connected: Flags, seed: tuple[int, int], gap_px: int) -> Flags:
    """The part of `connected` that lies on the seed's side of every gap."""
    core = _wider_than(free, (gap_px + 1) / 2) & connected
    if not core.any():
        return connected  # all of it is narrow: there is no telling a gap from the shape
    mine = _nearest_core(core, seed, 2 if gap_px >= COARSE_FROM_PX else 1) & connected
    if not mine[seed[1], seed[0]]:
        return connected
    mine, around = _connected(mine, seed)
    # A pocket is no wider than a gap, so it does not reach far from the chamber that it belongs to.
    near = around.grown(4 * gap_px + 4).intersected(Rect(0, 0, free.shape[1], free.shape[0]))
    piece = _cut(mine, near)
    _add_pockets(piece, _cut(connected, near) - piece, _cut(core, near))
    mine[near.y0 : near.y1, near.x0 : near.x1] = piece
    return mine


def _nearest_core(core: Flags, seed: tuple[int, int], step: int) -> Flags:
    """Where the piece of `core` that is nearest is the same as at the seed, found at every `step`-th pixel."""
    height, width = core.shape
    coarse = cv2.dilate(core, np.ones((step, step), np.uint8))[::step, ::step] if step > 1 else core
    _, owner = cv2.distanceTransformWithLabels(
        np.ascontiguousarray(1 - coarse), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_CCOMP
    )
    mine = (owner == owner[seed[1] // step, seed[0] // step]).astype(np.uint8)
    fine: Flags = cv2.resize(mine, (mine.shape[1] * step, mine.shape[0] * step), interpolation=cv2.INTER_NEAREST)
    return np.ascontiguousarray(fine[:height, :width])


def _wider_than(free: Flags, width_px: float) -> Flags:
    """Where free space is wider than `width_px` all around: its distance from what is not free."""
    reach, middle = int(width_px) + 3, free.shape[0] // 2

    def half(rows: tuple[int, int]) -> None:
        top, bottom = max(rows[0] - reach, 0), min(rows[1] + reach, free.shape[0])
        distance = cv2.distanceTransform(free[top:bottom], cv2.DIST_L2, 5)
        core[rows[0] : rows[1]] = distance[rows[0] - top : rows[1] - top] > width_px

    core = np.empty_like(free)
    each(((0, middle), (middle, free.shape[0])), half, worth_it=2)
    return core


def _add_pockets(mine: Flags, rest: Flags, core: Flags) -> None:
    """Add narrow ends, such as the corners of a shape, that only seemed to be nearer to another chamber."""
    count, pieces = cv2.connectedComponents(rest, connectivity=4)
    marks = np.zeros((2, count), np.uint8)
    around = cv2.dilate(mine, cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3)))
    kernels.mark_pieces(pieces, around, marks, 0)
    kernels.mark_pieces(pieces, core, marks, 1)
    taken = marks[:1] & (1 - marks[1:])
    taken[0, 0] = 0  # what is no piece at all
    kernels.add_pieces(pieces, taken, mine)


def _edged(region: Flags, free: Flags, under_px: int) -> Flags:
    """Coverage of a region that reaches under its bounds, but not across them, with a clean edge."""
    if under_px:
        disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * under_px + 1, 2 * under_px + 1))
        region = cv2.dilate(region, disc) & ((1 - free) | region)
    coverage: Flags = cv2.GaussianBlur(region * np.uint8(255), (0, 0), EDGE_SIGMA)
    return coverage


def _cut(flags: Flags, area: Rect) -> Flags:
    return np.ascontiguousarray(flags[area.y0 : area.y1, area.x0 : area.x1])


@cache
def _tables() -> tuple[Floats, Floats, Floats, Floats]:
    steps = np.linspace(0, 1, STEPS)
    tables = (srgb.decode(steps), np.cbrt(steps), oklab.LMS_FROM_LINEAR, oklab.LAB_FROM_ROOTS)
    a, b, c, d = (np.ascontiguousarray(table, np.float32) for table in tables)
    return a, b, c, d
