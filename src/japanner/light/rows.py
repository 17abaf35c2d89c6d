"""Pieces as the kernels take them: a row of numbers each, and one array for their points and grids."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.light import _kernels_forms as forms
from japanner.light import _kernels_points as kernels
from japanner.light.cloth import DOWN, Cloth, Floats, draped, hung, worn
from japanner.light.faces import extent, points_of, surface_of
from japanner.light.figure.data import figure_data
from japanner.light.grids import Grid, along, grid_of
from japanner.light.pieces import DRAPE, FACED, FALLEN, KINDS, WORN, Piece, joins_of
from japanner.light.turning import turned

__all__ = ["Rows", "laid_over", "rows_of", "worn_by"]

COLLAR_DEG: Final = 24.0
"""So much lower a collar lies in front than at the back."""
NECK, LONG = 0.21, 0.55
"""Radius of a collar and length of a cape, in widths of the shoulders."""
STROKE_REACH: Final = 3.0
"""Widths of a stroke to where nothing is left of it."""


@dataclass(frozen=True, eq=False)
class Rows:
    """rows (n, COLUMNS); data (m,); scale: about half of how large the whole is; strokes: reach of the widest one."""

    rows: NDArray[np.float32]
    data: NDArray[np.float32]
    scale: float
    strokes: float


def rows_of(pieces: tuple[Piece, ...]) -> Rows:
    """The pieces for the kernels."""
    rows = np.zeros((len(pieces), forms.COLUMNS), np.float32)
    kinds, group, data, used = list(KINDS), 0, [np.zeros(1, np.float32)], 1
    for number, (row, piece) in enumerate(zip(rows, pieces, strict=True)):
        if number and (not piece.group or piece.group != pieces[number - 1].group):
            group += 1
        row[:6] = kinds.index(piece.kind), _join(piece), piece.blend, piece.mirror, group, piece.part
        row[6:9], row[9:18] = piece.place, turned(piece.turn).ravel()
        row[18:21], row[21] = piece.size, piece.edge
        row[forms.START] = used
        cloth = _cloth(piece, pieces[:number]) if piece.kind == "sheet" else None
        centre, row[forms.REACH] = _bound(piece, cloth)
        row[forms.CENTRE : forms.CENTRE + 3] = centre
        if (piece.points or cloth) and piece.kind not in FACED:
            own = _data(piece, row, cloth)
            data.append(own)
            used += len(own)
    scale = _scale(rows)
    # What is raised stands out of the ball around a form.
    raised = max((one.size[1] for one in pieces if one.kind == "stroke" and one.join == "raise"), default=0.0)
    closed = (rows[:, forms.REACH] > 0) & (rows[:, forms.KIND] != forms.STROKE)
    rows[closed, forms.REACH] += raised
    reaches = (max(STROKE_REACH * one.size[0], 4 * one.size[1]) for one in pieces if one.kind == "stroke")
    widest = max(reaches, default=0.0)
    return Rows(rows, np.concatenate(data), scale, widest)


def _join(piece: Piece) -> int:
    return 0 if piece.join in FALLEN else joins_of(piece.kind).index(piece.join)


def _data(piece: Piece, row: NDArray[np.float32], cloth: Cloth | None) -> NDArray[np.float32]:
    """A piece's curve or grid, noted in its row."""
    if cloth:
        volume = cloth.volume
        row[forms.COUNT], row[forms.CELL] = volume.far.size, volume.cell
        row[forms.ACROSS], row[forms.DOWN] = volume.far.shape[:2]
        return np.concatenate((volume.low.astype(np.float32), volume.far.ravel()))
    if piece.kind in ("cord", "stroke"):
        curve = _curve(piece)
        row[forms.COUNT] = len(curve)
        return curve.ravel()
    grid = _grid(piece)
    row[forms.COUNT], row[forms.ACROSS] = grid.coefficients.size, grid.coefficients.shape[1]
    row[forms.LEFT], row[forms.LOW], row[forms.CELL] = grid.left, grid.low, grid.cell
    return grid.coefficients.ravel()


def _curve(piece: Piece) -> NDArray[np.float32]:
    """The curve, which is the same wherever the piece is and whatever it is called."""
    return _smooth_curve(Piece("curve", piece.kind, size=piece.size, join=piece.join, points=piece.points))


@lru_cache(maxsize=256)
def _smooth_curve(piece: Piece) -> NDArray[np.float32]:
    thick = max(piece.size[:2]) if piece.kind == "cord" else piece.size[0]
    return np.ascontiguousarray(along(piece, max(thick * (0.7 if piece.kind == "cord" else 1.0), 1e-3)), np.float32)


def _grid(piece: Piece) -> Grid:
    """The grid, which is the same wherever the piece is and whatever it is called."""
    return grid_of(Piece("grid", piece.kind, edge=piece.edge, points=piece.points, names=piece.names))


def _cloth(piece: Piece, before: tuple[Piece, ...]) -> Cloth:
    if piece.join not in FALLEN:
        return hung(piece.size[:2], piece.edge, piece.points)
    return _draped(replace(piece, name="cloth", part=0, mirror=False, blend=0.0), before)


@lru_cache(maxsize=16)
def _draped(piece: Piece, before: tuple[Piece, ...]) -> Cloth:
    found, turn = rows_of(before), turned(piece.turn)
    faced = [one for one in before if one.kind in FACED]

    def near(points: Floats) -> Floats:
        told = np.full((len(points), 4), forms.FAR, np.float32)
        there = np.ascontiguousarray(points @ turn.T + piece.place, np.float32)
        if before:
            kernels.distances(found.rows, found.data, np.float32(found.strokes), there, told)
        for one in faced:
            own = surface_of(one).distances(there)
            nearer = own[:, 0] < told[:, 0]
            told[nearer] = own[nearer]
        return np.column_stack((told[:, 0], told[:, 1:] @ turn))

    return (worn if piece.join == WORN else draped)(piece, turn.T @ DOWN, near)


def _bound(piece: Piece, cloth: Cloth | None = None) -> tuple[NDArray[np.float64], float]:
    """A ball around a piece: its middle and radius; 0 for what has no end."""
    middle, reach = _own_bound(piece, cloth)
    if piece.kind == "stroke":
        return middle, reach  # its points are the maquette's
    return np.array(piece.place, float) + turned(piece.turn) @ middle, reach


def _own_bound(piece: Piece, cloth: Cloth | None) -> tuple[NDArray[np.float64], float]:
    """The ball in the piece's own axes."""
    (a, b, c), middle, reach = piece.size, np.zeros(3), max(piece.size)
    if piece.kind in FACED:
        return extent(piece)
    if piece.kind == "slab":
        reach = 0.0
    elif piece.kind == "tube":
        middle, reach = np.array((0.0, c / 2, 0.0)), c / 2 + max(a, b)
    elif piece.kind == "ring":
        reach = a + b / min(c, 1.0)
    elif piece.kind in ("cord", "stroke"):
        curve = _curve(piece)[:, :3].astype(float)
        middle = (curve.min(axis=0) + curve.max(axis=0)) / 2
        reach = float(np.linalg.norm(curve - middle, axis=1).max())
        reach += STROKE_REACH * a if piece.kind == "stroke" else max(a, b)
    elif piece.kind == "head":
        reach = float(_grid(piece).coefficients.max()) * max(piece.size)
    elif piece.kind == "puff":
        flat = np.asarray(piece.points, float)[:, :2] * piece.size[:2]
        deepest = float(np.sqrt(_grid(piece).coefficients.max())) * c
        reach = float(np.hypot(np.linalg.norm(flat, axis=1).max(), deepest)) * 1.1
    elif cloth:
        low, high = cloth.place.min(axis=(0, 1)), cloth.place.max(axis=(0, 1))
        middle, reach = (low + high) / 2, float(np.linalg.norm(high - low)) / 2 + 2 * max(c, cloth.volume.cell)
    elif piece.kind == "box":
        reach = float(np.linalg.norm(piece.size))
    elif piece.kind == "egg":
        reach *= 1.5
    return middle, reach


def laid_over(pieces: tuple[Piece, ...]) -> Piece:
    """Cloth that is about to fall on all forms that have an end."""
    rows = rows_of(pieces).rows
    closed = rows[(rows[:, forms.REACH] > 0) & (rows[:, forms.KIND] != forms.STROKE)]
    if not len(closed):
        raise InputError("There is no form to lay cloth over")
    centre, reach = closed[:, forms.CENTRE : forms.CENTRE + 3], closed[:, forms.REACH, None]
    low, high = (centre - reach).min(axis=0), (centre + reach).max(axis=0)
    side = round(float(max(high[0] - low[0], high[2] - low[2])) * 0.7, 2)
    x, y, z = (round(float(v), 2) for v in ((low[0] + high[0]) / 2, high[1] + 0.05, (low[2] + high[2]) / 2))
    return Piece("Cloth", "sheet", (x, y, z), (0.0, 90.0, 0.0), (side, side, 0.02), join=DRAPE)


def worn_by(figure: Piece) -> Piece:
    """A cape about to fall round the shoulders of a figure, from its collar bones to its neck."""
    points = points_of(figure) * figure.size
    at = figure_data().landmarks
    hollow, nape, left, right = (
        points[at[name]] for name in ("neck hollow", "nape", "left shoulder", "right shoulder")
    )
    wide = float(np.linalg.norm(left - right))
    frame = scipy.spatial.transform.Rotation.from_matrix(turned(figure.turn))
    yaw, low, roll = (frame * scipy.spatial.transform.Rotation.from_euler("x", COLLAR_DEG, degrees=True)).as_euler(
        "yxz", degrees=True
    )
    middle = np.array((0.0, 0.55 * hollow[1] + 0.45 * nape[1], (hollow[2] + nape[2]) / 2))
    x, y, z = (round(float(v), 3) for v in frame.apply(middle) + figure.place)
    size = round(NECK * wide, 3), round(LONG * wide, 3), 0.02
    return Piece("Cape", "sheet", (x, y, z), (float(yaw), -float(low), float(roll)), size, join=WORN)


def _scale(rows: NDArray[np.float32]) -> float:
    """About half of how large it all is, from the middle of the maquette's axes."""
    closed = rows[(rows[:, forms.REACH] > 0) & (rows[:, forms.KIND] != forms.STROKE)]
    reach = np.linalg.norm(closed[:, forms.CENTRE : forms.CENTRE + 3], axis=1) + closed[:, forms.REACH]
    return float(reach.max()) if len(reach) else 1.0
