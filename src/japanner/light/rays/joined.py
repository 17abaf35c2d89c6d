"""Joined forms as meshes: what flows into each other together, what only touches each for itself."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light import _kernels_forms as forms
from japanner.light.rays.blocks import MIRRORED, SIDE, all_blocks, grid_of, sorted_out
from japanner.light.rays.finer import RATIO, refined, thickness
from japanner.light.rays.net import STEPS, Net, net_through
from japanner.light.rays.tree import Floats
from japanner.light.rows import STROKE_REACH, Rows

__all__ = ["Pitch", "components", "net_of"]

THIN: Final = 0.9
"""Cells are at most so wide, in thicknesses of the thinnest form."""
FINER: Final = 1.25
"""How many more cells than `most` thin forms may have."""
SLOPE: Final = 2e-4
"""Step for slopes, in shares of the maquette's size."""


@dataclass(frozen=True)
class Pitch:
    """How fine a mesh is to be: cells `wide` units, but at least `fewest` and at most `most` of them across it."""

    wide: float = 0.0
    fewest: int = 96
    most: int = 300

    def cell(self, extent: float, thinnest: float) -> float:
        """The width for a form: in quarters of an octave, so that one that changes a little keeps its grid."""
        wanted = min(max(self.wide, extent / self.most), extent / self.fewest)
        # A thin form needs more, within reason.
        wanted = max(min(wanted, THIN * thinnest), min(wanted, extent / (FINER * self.most)))
        return float(2 ** (round(4 * math.log2(wanted)) / 4))


def components(rows: Rows) -> list[NDArray[np.int64]]:
    """Rows that have to be meshed together: what blends, cuts or strokes what it reaches."""
    table = rows.rows
    solid = table[:, forms.KIND] <= forms.STROKE
    numbers = dict.fromkeys(table[solid, forms.GROUP].tolist())
    groups = [np.flatnonzero((table[:, forms.GROUP] == one) & solid) for one in numbers]
    leader = list(range(len(groups)))

    def lead(one: int) -> int:
        while leader[one] != one:
            one = leader[one]
        return one

    for j, later in enumerate(groups):
        for i in range(j):
            if lead(i) != lead(j) and _meet(table, groups[i], later):
                leader[max(lead(i), lead(j))] = min(lead(i), lead(j))
    leaders = [lead(one) for one in range(len(groups))]
    found = [np.sort(np.concatenate([groups[i] for i, one in enumerate(leaders) if one == leading]))
             for leading in dict.fromkeys(leaders)]  # fmt: skip
    # Strokes alone have no surface, nor has what is only cut away.
    return [one for one in found if (table[one, forms.KIND] != forms.STROKE).any()]


def _meet(table: Floats, before: NDArray[np.int64], later: NDArray[np.int64]) -> bool:
    head = table[later[0]]
    stroke = head[forms.KIND] == forms.STROKE or table[before[0], forms.KIND] == forms.STROKE
    if not stroke and int(head[forms.JOIN]) == forms.MEET:
        return True
    blend = float(head[forms.BLEND])
    if not stroke and int(head[forms.JOIN]) == forms.ADD and blend <= 0:
        return False
    return any(_near(table[i], table[j], blend) for i in before for j in later)


def _near(one: Floats, other: Floats, blend: float) -> bool:
    if one[forms.REACH] <= 0 or other[forms.REACH] <= 0:
        return True
    wide = float(one[forms.REACH] + other[forms.REACH]) + blend
    a, b = one[forms.CENTRE : forms.CENTRE + 3], other[forms.CENTRE : forms.CENTRE + 3]
    gaps = [float(np.linalg.norm(a - b))]
    if one[forms.MIRROR] or other[forms.MIRROR]:
        gaps.append(float(np.linalg.norm(a * (-1, 1, 1) - b)))
    return min(gaps) < wide


def net_of(rows: Rows, chosen: NDArray[np.int64], pitch: Pitch) -> Net | None:
    """The mesh of the forms of some rows, finer where they are; None if they have no surface."""
    table = np.ascontiguousarray(rows.rows[chosen])
    strokes = np.float32(_strokes(table))
    bounds = _bounds(table, rows.data, strokes)
    if bounds is None:
        return None
    low, high = bounds
    # What is cut away may come out a little rounder; what stands by itself must not fall to pieces.
    solid = (row for row in table if row[forms.KIND] != forms.STROKE and int(row[forms.JOIN]) == forms.ADD)
    thinnest = min(map(thickness, solid), default=math.inf) * (RATIO if pitch.wide else 1)
    cell = pitch.cell(float((high - low).max()), thinnest)
    grid = grid_of(table, rows.data, strokes, low, high, cell)
    fine = np.float32(SLOPE * rows.scale)
    net = None if grid is None else net_through(grid, fine, chosen, STEPS if pitch.wide else 1)
    if grid is None or net is None or not pitch.wide:
        return net
    return refined(grid, net, fine, chosen)


def _strokes(table: Floats) -> float:
    own = table[table[:, forms.KIND] == forms.STROKE]
    return float(np.maximum(STROKE_REACH * own[:, forms.SIZE], 4 * own[:, forms.SIZE + 1]).max()) if len(own) else 0.0


def _bounds(table: Floats, data: Floats, strokes: np.float32) -> tuple[Floats, Floats] | None:
    """About where the surface is: by blocks that it may pass."""
    solid = table[(table[:, forms.KIND] != forms.STROKE) & (table[:, forms.REACH] > 0)]
    if not len(solid):
        return np.full(3, -1, np.float32), np.full(3, 1, np.float32)
    centre, reach = solid[:, forms.CENTRE : forms.CENTRE + 3], solid[:, forms.REACH, None]
    mirrored = solid[:, forms.MIRROR] > 0
    centre = np.concatenate((centre, centre[mirrored] * MIRRORED))
    reach = np.concatenate((reach, reach[mirrored]))
    low, high = (centre - reach).min(axis=0), (centre + reach).max(axis=0)
    side = float((high - low).max()) / 11
    blocks = all_blocks(np.ceil((high - low) / side).astype(int))
    kept = blocks[sorted_out(table, data, strokes, low, side / SIDE, blocks) == 1]
    if not len(kept):
        return None
    return low + kept.min(axis=0) * np.float32(side), low + (kept.max(axis=0) + 1) * np.float32(side)
