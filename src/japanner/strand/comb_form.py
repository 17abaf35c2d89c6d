"""Combing on a form: directions are carried over its surface, and then seen from the front."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.types import Plane

__all__ = ["axes_on_form", "factored"]

STEEPEST: Final = 0.12
"""Normals are taken to point at the viewer by at least so much: what is steeper is seen as a line."""
LEAST: Final = 0.05
"""No two neighbours are quite apart."""
ALL, LATER, EARLIER = slice(None), slice(1, None), slice(None, -1)
RIGHT: Final = (ALL, LATER), (ALL, EARLIER)
DOWN: Final = (LATER, ALL), (EARLIER, ALL)
FALLING: Final = (LATER, LATER), (EARLIER, EARLIER)
RISING: Final = (LATER, EARLIER), (EARLIER, LATER)


def factored(matrix: Any) -> Any:
    """A symmetric (or Hermitian) sparse matrix, ready to be solved."""
    return scipy.sparse.linalg.splu(
        matrix.tocsc(), permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True}
    )  # fmt: skip


def axes_on_form(
    inside: NDArray[np.bool_], normal: Plane, fixed: NDArray[np.bool_], angle: Plane
) -> tuple[Plane, Plane]:
    """Double angles (cosine, sine) as seen, of axes that are given in some cells, in all cells inside.

    inside, fixed (h, w); normal (3, h, w) of the form, x right, y down, z to the viewer; angle (h, w): radians, image
    axes, where `fixed`. Laplace's equation on the surface, with neighbours turned into each other's tangent plane by
    the least rotation (a discrete connection: Crane, Desbrun & Schroeder 2010), for double angles (Knutsson 1989).
    """
    form = _Form.of(inside, normal)
    across, up = np.cos(angle), np.sin(angle)
    tangent = np.stack((across, up, form.slope[0] * across + form.slope[1] * up))
    values = np.exp(2j * np.arctan2((tangent * form.second).sum(axis=0), (tangent * form.first).sum(axis=0)))[inside]
    known = fixed[inside]
    free, given = np.flatnonzero(~known), np.flatnonzero(known)
    if len(free) and len(given):
        rows = form.matrix()[free]
        solver = factored(rows[:, free] + scipy.sparse.identity(len(free)) * 1e-9)
        values[free] = solver.solve(-(rows[:, given] @ values[given]))
    turned = np.zeros(inside.shape)
    turned[inside] = np.angle(values) / 2
    seen = np.cos(turned) * form.first[:2] + np.sin(turned) * form.second[:2]
    double = 2 * np.arctan2(seen[1], seen[0])
    sure = np.zeros(inside.shape)
    sure[inside] = np.minimum(np.abs(values), 1)
    return sure * np.cos(double), sure * np.sin(double)


@dataclass(frozen=True, eq=False)
class _Form:
    """Normals, tangents (3, h, w) and slopes (2, h, w) of a surface over a grid, and which cells are on it."""

    index: NDArray[np.int64]
    normal: Plane
    first: Plane
    second: Plane
    slope: Plane

    @staticmethod
    def of(inside: NDArray[np.bool_], normal: Plane) -> _Form:
        unit = np.stack((normal[0], normal[1], np.maximum(normal[2], STEEPEST))).astype(np.float64)
        unit /= np.linalg.norm(unit, axis=0)
        first = np.stack((unit[2], np.zeros_like(unit[2]), -unit[0])) / np.hypot(unit[2], unit[0])
        index = np.full(inside.shape, -1)
        index[inside] = np.arange(inside.sum())
        return _Form(index, unit, first, np.cross(unit, first, axis=0), -unit[:2] / unit[2])

    def matrix(self) -> scipy.sparse.csr_matrix:
        """The operator (m, m), Hermitian: nothing flows over the border."""
        p, q = self.slope
        size = np.sqrt(1 + p * p + q * q)
        # How easily a direction spreads along x, along y, and along both: the metric of the surface.
        along, both, down = (1 + q * q) / size, -p * q / size, (1 + p * p) / size
        links = [
            self._link(*RIGHT, np.maximum(_mean(along, *RIGHT) - np.abs(_mean(both, *RIGHT)), LEAST)),
            self._link(*DOWN, np.maximum(_mean(down, *DOWN) - np.abs(_mean(both, *DOWN)), LEAST)),
            self._link(*FALLING, np.maximum(_mean(both, *FALLING), 0)),
            self._link(*RISING, np.maximum(-_mean(both, *RISING), 0)),
        ]
        i, j, weight, turn = (np.concatenate(one) for one in zip(*links, strict=True))
        count = int(self.index.max()) + 1
        entries = np.concatenate((-weight * turn, -weight * turn.conj()))
        near = scipy.sparse.coo_matrix((entries, (np.r_[i, j], np.r_[j, i])), shape=(count, count)).tocsr()
        whole = np.bincount(i, weight, count) + np.bincount(j, weight, count)
        return (near + scipy.sparse.diags(whole)).tocsr()

    def _link(self, here: Any, there: Any, weight: Plane) -> tuple[NDArray[Any], ...]:
        """Cells and their neighbours, how strongly they hold to each other, and the turn from there to here."""
        both = (self.index[here] >= 0) & (self.index[there] >= 0)
        a, b, v = (plane[(ALL, *place)][:, both] for plane, place in
                   ((self.normal, here), (self.normal, there), (self.first, there)))  # fmt: skip
        # The least rotation of one normal into the other takes the tangent along.
        axis, cosine = np.cross(b, a, axis=0), (a * b).sum(axis=0)
        moved = v * cosine + np.cross(axis, v, axis=0) + axis * ((axis * v).sum(axis=0) / (1 + cosine))
        x, y = ((moved * plane[(ALL, *here)][:, both]).sum(axis=0) for plane in (self.first, self.second))
        return self.index[here][both], self.index[there][both], weight[both], np.exp(2j * np.arctan2(y, x))


def _mean(plane: Plane, here: Any, there: Any) -> Plane:
    result: Plane = (plane[here] + plane[there]) / 2
    return result
