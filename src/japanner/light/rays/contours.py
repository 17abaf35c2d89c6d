"""Contours inside a maquette: where one surface ends before another."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.light.maquette import Maquette
from japanner.light.rays import _kernels_contours as kernels
from japanner.light.rays.surface import Surface, View
from japanner.light.rays.tree import Floats

__all__ = ["Contours", "contours", "edges", "reached"]

JUMP_PX: Final = 3.0
"""So many pixels' width off each other's plane are two surfaces."""
SIDE: Final = 4
"""Rays across a pixel, for how much of it is before the contour."""
SWEEP: Final = 1 << 14
FAR: Final = 1e9
Flags = NDArray[np.bool_]
Pixels = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Contours:
    """Pixels (n, 2), row and column, that a contour runs through; others (n, 2): the pixel beyond it.

    share (n,), 0..1: how much of the pixel shows what its middle shows; the rest shows what the other does.
    """

    pixels: Pixels
    others: Pixels
    share: Floats

    def within(self, own: Flags, top: int = 0, left: int = 0) -> Contours:
        """Those that have both sides in a mask (h, w) whose corner is at a row and column, counted from there."""
        moved = [one - (top, left) for one in (self.pixels, self.others)]
        kept = np.ones(len(self.pixels), bool)
        for one in moved:
            kept &= ((one >= 0) & (one < own.shape)).all(axis=1)
        for one in moved:
            kept[kept] = own[tuple(one[kept].T)]
        return Contours(moved[0][kept], moved[1][kept], self.share[kept])

    def mixed(self, plane: Floats) -> Floats:
        """Values (..., h, w) of one sample a pixel, smoothed along the contours by the shares."""
        out, (j, i), (k, m) = plane.copy(), self.pixels.T, self.others.T
        out[..., j, i] = self.share * plane[..., j, i] + (1 - self.share) * plane[..., k, m]
        return out


def edges(found: Surface, maquette: Maquette) -> Flags:
    """Where depth jumps (h, w): pixels whose surface ends before something farther off, or before nothing."""
    edge = np.zeros(found.piece.shape, bool)
    for pixels, _ in _ends(found, maquette):
        edge[tuple(pixels.T)] = True
    return edge


def _ends(found: Surface, maquette: Maquette) -> Iterator[tuple[Pixels, Pixels]]:
    """Along rows, then along columns: pixels (n, 2) whose surface ends before a neighbour (n, 2), which is deeper.

    Two neighbours are one surface where either lies on the other's plane, to within a few pixels' width: where a
    surface turns edge on, its depth runs away, but not from its planes.
    """
    depth = np.where(found.seen, found.depth, np.float32(FAR))
    pixel = found.step / found.unit_px / maquette.eye  # by depth
    for axis in (1, 0):
        deeper = np.abs(np.diff(depth, axis=axis))
        least = np.minimum(depth[1:] if axis == 0 else depth[:, 1:], depth[:-1] if axis == 0 else depth[:, :-1])
        # Who is no farther apart than that cannot be off a plane by more.
        first = np.argwhere(deeper > (JUMP_PX - 1) * pixel * least)
        second = first + ((1, 0) if axis == 0 else (0, 1))
        here, there = depth[tuple(first.T)], depth[tuple(second.T)]
        off = _places(found, maquette, second) - _places(found, maquette, first)
        apart = (here >= FAR) != (there >= FAR)
        for one in (first, second):
            normal = found.normal[:, one[:, 0], one[:, 1]].T
            apart |= np.abs((off * normal).sum(axis=1)) > JUMP_PX * pixel * np.minimum(here, there)
        before = (here < there)[:, None]
        yield np.where(before, first, second)[apart], np.where(before, second, first)[apart]


def _places(found: Surface, maquette: Maquette, pixels: Pixels) -> Floats:
    """Where the surface is at pixels (n, 2), as the viewer has it."""
    view = View.of(replace(maquette, turn=(0.0, 0.0, 0.0)), found.area, found.step)
    rows, columns = pixels.T.astype(np.float32)[:, :, None]
    ways = view.rays[0] + columns * view.rays[1] + rows * view.rays[2] - view.eye
    far = found.depth[tuple(pixels.T)][:, None] / np.linalg.norm(ways, axis=1, keepdims=True)
    places: Floats = (view.eye + ways * far).astype(np.float32)
    return places


def contours(found: Surface, maquette: Maquette) -> Contours:
    """The pixels along contours, on either side, where something is seen beyond; shares by rays through the pixel."""
    near, far = (np.concatenate(one) for one in zip(*_ends(found, maquette), strict=True))
    both = found.seen[tuple(far.T)]
    pixels, others = np.concatenate((near[both], far[both])), np.concatenate((far[both], near[both]))
    here, there = (found.depth[tuple(one.T)] for one in (pixels, others))
    # Of several neighbours the one that is farthest away counts.
    order = np.argsort(-np.abs(here - there), kind="stable")
    _, first = np.unique(pixels[order] @ (found.piece.shape[1], 1), return_index=True)
    one_each = order[first]
    pixels, others, here, there = (one[one_each] for one in (pixels, others, here, there))
    if not len(pixels):
        return Contours(pixels, others, np.ones(0, np.float32))
    share = _shares(found, maquette, pixels, (here + there) / 2, here < there)
    cut = share < 1
    return Contours(pixels[cut], others[cut], share[cut])


def _shares(found: Surface, maquette: Maquette, pixels: Pixels, between: Floats, before: Flags) -> Floats:
    """How much of pixels (n, 2) is nearer than a depth (n,), or farther where they are not `before` it."""
    assert found.shell is not None  # whoever asks has seen to it
    view, tree = View.of(maquette, found.area, found.step), found.shell.tree
    fine = (np.arange(SIDE, dtype=np.float32) + 0.5) / SIDE - 0.5
    out = np.empty(len(pixels), np.float32)
    for begin in range(0, len(pixels), SWEEP):
        rows, columns = pixels[begin : begin + SWEEP].T.astype(np.float32)
        y = (rows[:, None, None] + fine[:, None]).repeat(SIDE, 2).reshape(-1, 1)
        x = (columns[:, None, None] + fine).repeat(SIDE, 1).reshape(-1, 1)
        ways = view.rays[0] + x * view.rays[1] + y * view.rays[2] - view.eye
        ways /= np.linalg.norm(ways, axis=1, keepdims=True)
        met = tree.first_met(np.tile(view.eye, (len(ways), 1)), np.ascontiguousarray(ways, np.float32))
        nearer = (met.far.reshape(-1, SIDE * SIDE) < between[begin : begin + SWEEP, None]).mean(axis=1)
        out[begin : begin + SWEEP] = np.where(before[begin : begin + SWEEP], nearer, 1 - nearer)
    return out


def reached(found: Surface, maquette: Maquette, row: int, column: int, reach: float) -> Floats:
    """How far each pixel (h, w) is from one, in pixels' widths, without a step over a contour; `FAR` past `reach`."""
    checks.number("reach", reach, 1, 1e6)
    away = np.full(found.piece.shape, FAR, np.float32)
    if not found.seen[row, column]:
        return away
    far = int(reach) + 2
    top, left = max(row - far, 0), max(column - far, 0)
    near = found.cropped(top, left, row + far + 1, column + far + 1)
    part = np.full_like(near.depth, FAR)
    part[row - top, column - left] = 0
    across, down = _joined(near, maquette)
    kernels.creep(across, down, part, np.float32(reach))
    tall, wide = near.piece.shape
    away[top : top + tall, left : left + wide] = part
    return away


def _joined(found: Surface, maquette: Maquette) -> Iterator[NDArray[np.uint8]]:
    """Whether pixels (h, w) are one surface with the one on their right, and with the one below."""
    for axis, (pixels, others) in zip((1, 0), _ends(found, maquette), strict=True):
        joined = found.seen & np.roll(found.seen, -1, axis)
        joined[(slice(-1, None), slice(None)) if axis == 0 else (slice(None), slice(-1, None))] = False
        joined[tuple(np.minimum(pixels, others).T)] = False
        yield joined.view(np.uint8)
