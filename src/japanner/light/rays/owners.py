"""Whose what is seen is: by pixels, and by shares of pixels along edges."""

from __future__ import annotations

from collections.abc import Collection
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.light.maquette import Maquette
from japanner.light.rays import _kernels_cover as kernels
from japanner.light.rays.shell import Shell
from japanner.light.rays.surface import Surface, View
from japanner.light.rays.tree import Floats
from japanner.raster.parallel import each

__all__ = ["belongs", "coverage", "seen_values", "zone"]

BAND: Final = 64
CHUNK: Final = 1024


def seen_values(found: Surface, values: Floats) -> Floats:
    """Values (n,) of the shell's points as they are seen (h, w); 0 where nothing is."""
    out, height = np.zeros(found.piece.shape, np.float32), found.piece.shape[0]
    if found.shell is None:
        return out
    triangles, shares = found.shell.triangles, found.shares.reshape(-1, found.shares.shape[2])

    def band(top: int) -> None:
        kernels.blend(found.hit, shares, triangles, values, out, top, min(top + BAND, height))

    each(range(0, height, BAND), band, worth_it=2)
    return out


def zone(found: Surface, name: str) -> Floats:
    """How much of what is seen (h, w), 0..1, is of a zone of figures, or of a group of meshes."""
    if found.shell is None:
        return np.zeros(found.piece.shape, np.float32)
    values = np.zeros(len(found.shell.points), np.float32)
    for start, net in found.shell.nets:
        if name in net.zones:
            values[start : start + len(net.points)] = net.zones[name]
    return seen_values(found, values)


def belongs(found: Surface, maquette: Maquette, part: int) -> NDArray[np.bool_]:
    """Where what is seen belongs to a part (h, w)."""
    by_piece = np.append(_by_piece(maquette, (part,)), np.float32(0))
    own: NDArray[np.bool_] = by_piece[found.piece] >= 0.5
    if found.shell is not None and any(one.parts for one in maquette.pieces):
        zoned = np.append([bool(one.parts) for one in maquette.pieces], False)[found.piece]
        own = np.where(zoned, seen_values(found, _field(found.shell, maquette, (part,))) >= 0.5, own)
    return own


def coverage(found: Surface, maquette: Maquette, part: int, above: Collection[int] = ()) -> Floats:
    """How much of each pixel (h, w) a part's forms cover, 0..1.

    above: parts that are painted over it. Where one of them meets it, the part goes on below, so that nothing shows
    between the two; each edge pixel is covered in shares that come to one.
    """
    own = belongs(found, maquette, part)
    if found.shell is None or not own.any():
        return own.astype(np.float32)
    other = np.zeros_like(own)
    for one in above:
        other |= belongs(found, maquette, one)
    kind = own.astype(np.uint8) + 2 * other.astype(np.uint8)
    cross = np.ones((3, 3), np.uint8)
    pixels = np.argwhere(cv2.dilate(kind, cross) != cv2.erode(kind, cross)).astype(np.int32)
    shares = _shares(found, found.shell, maquette, np.ascontiguousarray(pixels), part, above)
    result = own.astype(np.float32)
    covered = np.where(shares[:, 0] > 0, shares.sum(axis=1), 0)
    result[pixels[:, 0], pixels[:, 1]] = np.minimum(covered, 1)
    return result


def _shares(
    found: Surface, shell: Shell, maquette: Maquette, pixels: NDArray[np.int32], part: int, above: Collection[int]
) -> Floats:
    view, rows, tree = View.of(maquette, found.area, found.step), shell.rows, shell.tree
    by_piece = np.stack((_by_piece(maquette, (part,)), _by_piece(maquette, above)), axis=1)
    fields = np.stack((_field(shell, maquette, (part,)), _field(shell, maquette, above)), axis=1)
    out, order = np.empty((len(pixels), 2), np.float32), tree.order.astype(np.int32)[:, None]

    def chunk(begin: int) -> None:
        kernels.cover(
            rows.rows, rows.data, np.float32(rows.strokes), shell.fine, tree.boxes, tree.kids, tree.corners, order,
            shell.triangles, shell.rough, shell.cells, view.eye, view.rays, pixels, fields, by_piece, out, begin,
            min(begin + CHUNK, len(pixels)),
        )  # fmt: skip

    each(range(0, len(pixels), CHUNK), chunk, worth_it=2)
    return out


def _by_piece(maquette: Maquette, parts: Collection[int]) -> Floats:
    """1 for pieces that are one of the parts' but for their zones, else 0."""
    return np.array([one.part in parts for one in maquette.pieces], np.float32)


def _field(shell: Shell, maquette: Maquette, parts: Collection[int]) -> Floats:
    """How much each point of a shell (n,) is of some parts, 0..1."""
    field = _by_piece(maquette, parts)[shell.piece[:, 0]]
    for start, net in shell.nets:
        piece = maquette.pieces[int(net.piece[0])]
        if not piece.parts:
            continue
        own, taken = np.zeros(len(net.points), np.float32), np.zeros(len(net.points), np.float32)
        for name, uid in piece.parts:
            share = net.zones.get(name, np.float32(0))
            taken += share
            if uid in parts:
                own += share
        if piece.part in parts:
            own += 1 - np.minimum(taken, 1)
        field[start : start + len(own)] = np.clip(own, 0, 1)
    return field
