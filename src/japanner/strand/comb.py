"""The comb field: which way hair lies at every place of a silhouette, from a few guide strokes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Any, Final

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from japanner import checks
from japanner.raster.geometry import Rect
from japanner.raster.outwards import outwards
from japanner.records import read_as
from japanner.strand.comb_form import axes_on_form, factored
from japanner.types import Plane

__all__ = ["CombField", "Guide", "combed", "guides_from"]

CELLS: Final = 22_000
"""About as many cells of a field lie in a silhouette."""
FORM_CELLS: Final = 6_000
"""So many for what is carried over a form, where they cost more."""
FINEST_PX: Final = 3.0
MOST_POINTS: Final = 200
FARTHEST_PX: Final = 100_000.0


@dataclass(frozen=True)
class Guide:
    """One guide stroke, from root to tip: canvas px. length: of the hair along it, as a factor; lift: how far it stands
    off, 0 flat to 1 upright; curl: 0..1.
    """

    points: tuple[tuple[float, float], ...]
    length: float = 1.0
    lift: float = 0.2
    curl: float = 0.0

    def __post_init__(self) -> None:
        checks.integer("number of points", len(self.points), 2, MOST_POINTS)
        checks.in_range("points", self.points, -FARTHEST_PX, FARTHEST_PX)
        checks.number("length", self.length, 0.05, 10)
        checks.number("lift", self.lift, 0, 1)
        checks.number("curl", self.curl, 0, 1)

    def scaled(self, factor: float, shift: tuple[float, float] = (0, 0)) -> Guide:
        """The same stroke on a canvas `factor` times as large, and then shifted."""
        return replace(self, points=tuple((x * factor + shift[0], y * factor + shift[1]) for x, y in self.points))


def guides_from(records: Any) -> tuple[Guide, ...]:
    """Guides from JSON data; InputError says what is wrong with it."""
    guides: tuple[Guide, ...] = read_as(tuple[Guide, ...], records, "comb")
    return guides


@dataclass(frozen=True, eq=False)
class CombField:
    """Hair over an `area` of the canvas, on a grid (h, w) of cells `cell` px wide.

    direction (2, h, w): unit vectors, canvas axes (y down). length, lift, curl: as of guides. sure: 0..1, how far the
    guides agree there. inside: 1 where there is a silhouette. rank: falls along the hair, so that what lies upstream
    is laid over what lies downstream.
    """

    area: Rect
    cell: float
    direction: Plane
    length: Plane
    lift: Plane
    curl: Plane
    sure: Plane
    rank: Plane
    inside: Plane

    def at(self, plane: Plane, x: NDArray[np.floating], y: NDArray[np.floating]) -> Plane:
        """A plane of the field at canvas places, between cells in proportion."""
        u = (np.asarray(x, np.float32) - np.float32(self.area.x0)) / np.float32(self.cell) - np.float32(0.5)
        v = (np.asarray(y, np.float32) - np.float32(self.area.y0)) / np.float32(self.cell) - np.float32(0.5)
        return _sampled(plane, u, v)

    def directions(self, x: NDArray[np.floating], y: NDArray[np.floating]) -> tuple[Plane, Plane]:
        """Unit vectors (x, y) at canvas places."""
        dx, dy = self.at(self.direction[0], x, y), self.at(self.direction[1], x, y)
        length = np.maximum(np.hypot(dx, dy), np.float32(1e-6))
        return dx / length, dy / length


def _sampled(plane: Plane, u: Plane, v: Plane) -> Plane:
    flat = u.reshape(-1, 1)
    # The library takes maps of less than 32768 rows.
    rows = max(1, min(len(flat), 16_384))
    out = np.empty(flat.shape, np.float32)
    for start in range(0, len(flat), rows):
        piece = slice(start, start + rows)
        out[piece] = cv2.remap(
            plane, flat[piece], v.reshape(-1, 1)[piece], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
    return out.reshape(u.shape)


def combed(
    cover: Plane, area: Rect, guides: Sequence[Guide], normal: Plane | None = None, cells: int = CELLS
) -> CombField:
    """Fill a silhouette with the directions of guide strokes.

    cover (h, w): the silhouette over the area, 0..1. normal (3, any, any): of its form (y up): guides are carried over
    it, and without guides hair lies outward and down on it. Directions go from the guides as heat would (Laplace's
    equation with the guides fixed), as axes, that is, double angles (Knutsson 1989), and as vectors, which keep which
    way is the tip.
    """
    inside = cover > 0.02
    cell = max(math.sqrt(inside.sum() / cells), FINEST_PX)
    shape = max(math.ceil(area.height / cell), 2), max(math.ceil(area.width / cell), 2)
    small = _resized(cover, shape) > 0.02
    small = scipy.ndimage.binary_dilation(small, iterations=2) if small.any() else np.ones(shape, bool)
    fixed, values = _marked(guides, area, cell, shape)
    system = _system(small.shape, small.tobytes())
    if not fixed.any():
        fixed, values = _natural(small, normal, area, cell)
    found = system.solved(fixed & small, values) if (fixed & small).any() else values
    if guides and normal is not None:
        found[:2] = _on_form(cover, area, guides, normal, cell, shape)
    return _field(system, found, area, cell, _resized(cover, shape))


def _on_form(
    cover: Plane, area: Rect, guides: Sequence[Guide], normal: Plane, cell: float, shape: tuple[int, int]
) -> NDArray[np.float64]:
    """Axes (2, h, w), carried over the form on a coarser grid: they change slowly."""
    cell = max(cell, math.sqrt((cover > 0.02).sum() / FORM_CELLS))
    coarse = max(math.ceil(area.height / cell), 2), max(math.ceil(area.width / cell), 2)
    inside = scipy.ndimage.binary_dilation(_resized(cover, coarse) > 0.02, iterations=2)
    fixed, values = _marked(guides, area, cell, coarse)
    planes = np.stack([_resized(np.ascontiguousarray(plane, np.float32), coarse) for plane in normal])
    planes[1] *= -1
    found = axes_on_form(inside, planes, fixed & inside, np.arctan2(values[1], values[0]) / 2)
    (axes,) = outwards(inside, np.stack(found))
    return np.stack([cv2.resize(plane, shape[::-1], interpolation=cv2.INTER_LINEAR) for plane in axes])


def _resized(plane: Plane, shape: tuple[int, int]) -> Plane:
    result: Plane = cv2.resize(plane, shape[::-1], interpolation=cv2.INTER_AREA)
    return result


def _marked(
    guides: Sequence[Guide], area: Rect, cell: float, shape: tuple[int, int]
) -> tuple[NDArray[np.bool_], NDArray[np.float64]]:
    """Cells on guides, and what they say: double angle, vector, length, lift, curl (7, h, w)."""
    cells, told = [np.zeros(0, np.int64)], [np.zeros((7, 0))]
    for guide in guides:
        points = np.asarray(guide.points, float)
        steps = np.diff(points, axis=0)
        run = np.r_[0, np.cumsum(np.hypot(*steps.T))]
        if run[-1] < 1e-6:
            continue
        at = np.linspace(0, run[-1], int(run[-1] / (0.5 * cell)) + 2)
        x, y = places = np.stack([np.interp(at, run, points[:, k]) for k in (0, 1)])
        # A guide bends: its direction is taken over a little more than a cell.
        soft = scipy.ndimage.gaussian_filter1d(places, 1.5, axis=1, mode="nearest")
        dx, dy = np.gradient(soft, axis=1)
        i, j = ((x - area.x0) / cell).astype(int), ((y - area.y0) / cell).astype(int)
        ok = (x >= area.x0) & (y >= area.y0) & (i < shape[1]) & (j < shape[0])
        own = np.full((3, int(ok.sum())), ((guide.length,), (guide.lift,), (guide.curl,)))
        cells.append(j[ok] * shape[1] + i[ok])
        told.append(np.concatenate((_ways(np.arctan2(dy, dx)[ok]), own)))
    where, values = np.concatenate(cells), np.concatenate(told, axis=1)
    total = np.stack([np.bincount(where, one, shape[0] * shape[1]).reshape(shape) for one in values])
    count = np.bincount(where, minlength=shape[0] * shape[1]).reshape(shape)
    return count > 0, total / np.maximum(count, 1)


def _ways(angle: NDArray[np.floating]) -> tuple[NDArray[np.floating], ...]:
    """As an axis, by the double angle, and as a vector."""
    return np.cos(2 * angle), np.sin(2 * angle), np.cos(angle), np.sin(angle)


def _natural(
    inside: NDArray[np.bool_], normal: Plane | None, area: Rect, cell: float
) -> tuple[NDArray[np.bool_], NDArray[np.float64]]:
    """How hair lies that nobody has combed: away from where the form is highest, and down."""
    shape = inside.shape
    if normal is None:
        out = np.zeros((2, *shape))
    else:
        out = np.stack([_resized(plane, shape) for plane in (normal[0], -normal[1])])
    x, y = 0.8 * out[0], 0.8 * out[1] + 0.45
    angle = np.arctan2(y, x)
    ones = np.ones(shape)
    values = np.stack((*_ways(angle), ones, 0.2 * ones, 0 * ones))
    return inside, values


@lru_cache(maxsize=3)
def _system(shape: tuple[int, int], inside: bytes) -> _System:
    """Kept from stroke to stroke: a silhouette stays as it is while it is combed."""
    return _System.of(np.frombuffer(inside, bool).reshape(shape))


@dataclass(frozen=True, eq=False)
class _System:
    """Laplace's equation on the cells of a silhouette, without flow over its border."""

    inside: NDArray[np.bool_]
    index: NDArray[np.int64]
    matrix: scipy.sparse.csr_matrix

    @staticmethod
    def of(inside: NDArray[np.bool_]) -> _System:
        index = np.full(inside.shape, -1)
        index[inside] = np.arange(inside.sum())
        pairs = []
        for a, b in ((np.s_[:, :-1], np.s_[:, 1:]), (np.s_[:-1], np.s_[1:])):
            both = (index[a] >= 0) & (index[b] >= 0)
            pairs.append(np.stack((index[a][both], index[b][both])))
        i, j = np.concatenate(pairs, axis=1)
        count = int(inside.sum())
        near = scipy.sparse.coo_matrix((np.ones(2 * len(i)), (np.r_[i, j], np.r_[j, i])), shape=(count, count)).tocsr()
        return _System(inside, index, (scipy.sparse.diags(np.asarray(near.sum(axis=1)).ravel()) - near).tocsr())

    @cached_property
    def _held(self) -> Any:
        """All cells, ready to be solved: a whisper of a spring to zero holds what has no level of its own."""
        return factored(self.matrix + scipy.sparse.identity(self.matrix.shape[0]) * 1e-7)

    def solved(self, fixed: NDArray[np.bool_], values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Values (k, h, w) that are fixed in some cells, in all cells."""
        known = fixed[self.inside]
        given = values[:, self.inside]
        if known.all():
            return values
        free = np.flatnonzero(~known)
        rows = self.matrix[free]
        solver = factored(rows[:, free] + scipy.sparse.identity(len(free)) * 1e-9)
        given[:, free] = solver.solve(-(rows[:, np.flatnonzero(known)] @ given[:, known].T)).T
        out = np.zeros_like(values)
        out[:, self.inside] = given
        return out

    def potential(self, x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.float64]:
        """The plane whose slope is nearest to a field of vectors (least squares)."""
        source = np.zeros(int(self.inside.sum()))
        for a, b, plane in ((np.s_[:, :-1], np.s_[:, 1:], x), (np.s_[:-1], np.s_[1:], y)):
            both = (self.index[a] >= 0) & (self.index[b] >= 0)
            flow = (plane[a][both] + plane[b][both]) / 2
            np.add.at(source, self.index[b][both], flow)
            np.add.at(source, self.index[a][both], -flow)
        found = self._held.solve(source)
        out = np.zeros(self.inside.shape)
        out[self.inside] = found
        return out


def _field(system: _System, found: NDArray[np.float64], area: Rect, cell: float, cover: Plane) -> CombField:
    cos2, sin2, x, y, length, lift, curl = outwards(system.inside, found)[0]
    angle = np.arctan2(sin2, cos2) / 2
    dx, dy = np.cos(angle), np.sin(angle)
    back = dx * x + dy * y < 0
    dx, dy = np.where(back, -dx, dx), np.where(back, -dy, dy)
    (rank,) = outwards(system.inside, -system.potential(dx, dy))
    planes = (length, lift, curl, np.hypot(cos2, sin2), rank, cover)
    direction = np.stack((dx, dy)).astype(np.float32)
    return CombField(area, cell, direction, *(np.ascontiguousarray(plane, np.float32) for plane in planes))
