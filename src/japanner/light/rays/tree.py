"""Triangles in a tree of boxes, which rays are sent through."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.rays import _kernels_tree as kernels
from japanner.raster.parallel import each

if TYPE_CHECKING:
    from japanner._numba import Kernel

__all__ = ["Floats", "Met", "Tree"]

Floats = NDArray[np.float32]
CHUNK: Final = 4096
"""Rays to a piece of work."""


@dataclass(frozen=True, eq=False)
class Met:
    """What n rays met first: triangle (n,), -1 for none; how far (n,); shares (n, 2) of its second and third corner."""

    triangle: NDArray[np.int64]
    far: Floats
    shares: Floats


@dataclass(frozen=True, eq=False)
class Tree:
    """boxes (m, 6) and kids (m, 2): see the kernels; corners (n, 9): of each triangle in the tree's order one corner,
    and from there the ways to the other two; order (n,): their numbers outside.
    """

    boxes: Floats
    kids: NDArray[np.int32]
    corners: Floats
    order: NDArray[np.int64]

    @staticmethod
    def of(points: Floats, triangles: NDArray[np.int32]) -> Tree:
        """The tree of triangles (n, 3) between points (k, 3); n > 0."""
        a, b, c = (points[triangles[:, k]] for k in range(3))
        lo, hi = np.minimum(np.minimum(a, b), c), np.maximum(np.maximum(a, b), c)
        count = len(triangles)
        order = np.arange(count)
        boxes, kids = np.empty((2 * count, 6), np.float32), np.empty((2 * count, 2), np.int32)
        used = kernels.build(lo, hi, (lo + hi) * np.float32(0.5), order, boxes, kids)
        a, b, c = a[order], b[order], c[order]
        return Tree(boxes[:used].copy(), kids[:used].copy(), np.concatenate((a, b - a, c - a), axis=1), order)

    def first_met(self, starts: Floats, ways: Floats, far: float = 1e9) -> Met:
        """The first triangle on each way (n, 3) from starts (n, 3), within `far` lengths of the way."""
        found, triangle = np.empty((len(starts), 3), np.float32), np.empty((len(starts), 1), np.int32)

        def chunk(begin: int) -> None:
            end = min(begin + CHUNK, len(starts))
            kernels.first_met(
                self.boxes, self.kids, self.corners, starts, ways, np.float32(far), found, triangle, begin, end
            )

        each(range(0, len(starts), CHUNK), chunk, worth_it=2)
        numbers = np.where(triangle[:, 0] >= 0, self.order[triangle[:, 0]], -1)
        return Met(numbers, found[:, 0], found[:, 1:])

    def towards_light(
        self, starts: Floats, normals: Floats, ways: Floats, subset: NDArray[np.int64], far: float
    ) -> Floats:
        """Share (n,), 0..1, of a start's ways to the light that are free for `far`: of the m sets of ways (m, k, 3),
        all of unit length, a start takes that of its `subset`. Only ways above the surface are asked for.
        """
        return self._shares(kernels.towards_light, starts, normals, ways, subset, far)

    def round_about(
        self, starts: Floats, normals: Floats, ways: Floats, subset: NDArray[np.int64], far: float
    ) -> Floats:
        """The same for ways that are given about z and taken about each start's normal."""
        return self._shares(kernels.round_about, starts, normals, ways, subset, far)

    def gathered(self, starts: Floats, normals: Floats, ways: Floats, subset: NDArray[np.int64], far: float) -> Floats:
        """The mean cosine (n,) between a start's normal and its ways to a light, those that are not free at 0."""
        return self._shares(kernels.gathered, starts, normals, ways, subset, far)

    def reflected(
        self, starts: Floats, normals: Floats, ways: Floats, subset: NDArray[np.int64], far: float, sent: Floats
    ) -> Floats:
        """The mean light (n, 3) that triangles send, (m, 3), which a start's ways about its normal meet."""
        light, flat, count = np.empty((len(starts), 3), np.float32), ways.reshape(-1, 3), ways.shape[1]
        in_order = np.ascontiguousarray(sent[self.order], np.float32)

        def chunk(begin: int) -> None:
            kernels.reflected(
                self.boxes, self.kids, self.corners, starts, normals, flat, subset, count, np.float32(far), in_order,
                light, begin, min(begin + CHUNK, len(starts)),
            )  # fmt: skip

        each(range(0, len(starts), CHUNK), chunk, worth_it=2)
        return light

    def _shares(
        self, kernel: Kernel, starts: Floats, normals: Floats, ways: Floats, subset: NDArray[np.int64],
        far: float,
    ) -> Floats:  # fmt: skip
        share, flat, count = np.empty(len(starts), np.float32), ways.reshape(-1, 3), ways.shape[1]

        def chunk(begin: int) -> None:
            kernel(
                self.boxes, self.kids, self.corners, starts, normals, flat, subset, count, np.float32(far), share,
                begin, min(begin + CHUNK, len(starts)),
            )  # fmt: skip

        each(range(0, len(starts), CHUNK), chunk, worth_it=2)
        return share
