"""Many strands at once, drawn in their order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each
from japanner.strand import _kernels_strands as kernels

__all__ = ["Strands", "tapered"]

BAND_PX: Final = 64
MOST_JOINTS: Final = 400
Floats = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Strands:
    """Strands from first to last, later ones over earlier ones.

    points (n, m, 2): x, y in canvas px from root to tip, at even shares of the length. look (n, COLUMNS): see
    `_kernels_strands`.
    """

    points: Floats
    look: Floats

    @staticmethod
    def of(
        points: NDArray[np.floating], width: NDArray[np.floating] | float, colours: NDArray[np.floating],
        alpha: NDArray[np.floating] | float, *, tip: float = 1.0, soft: float = 0.12, power: float = 1.7,
    ) -> Strands:  # fmt: skip
        """Strands of one kind.

        points (n, m, 2). width: px, where a strand is widest. colours (n, 3, 3): encoded, at root, middle and tip.
        alpha: coverage 0..1; tip: what of it is left at the tip. soft: share of the length over which a strand comes in
        at its root. power: k of the taper sqrt(1 - s^k), s from the root: the greater, the later it thins.
        """
        points = np.ascontiguousarray(points, np.float32)
        if points.ndim != 3 or points.shape[2] != 2 or not 2 <= points.shape[1] <= MOST_JOINTS:
            raise InputError(f"points: expected (n, 2 to {MOST_JOINTS}, 2), got {points.shape}")
        if np.shape(colours) != (len(points), 3, 3):
            raise InputError(f"colours: expected three for each strand, got {np.shape(colours)}")
        checks.number("tip", tip, 0, 1)
        checks.number("soft", soft, 0, 1)
        checks.number("power", power, 0.1, 20)
        look = np.empty((len(points), kernels.COLUMNS), np.float32)
        look[:, kernels.WIDTH], look[:, kernels.ALPHA] = width, alpha
        look[:, kernels.TIP], look[:, kernels.SOFT], look[:, kernels.POWER] = tip, soft, power
        look[:, kernels.ROOT_COLOUR :] = np.reshape(colours, (-1, 9))
        return Strands(points, look)

    @staticmethod
    def together(several: Sequence[Strands], order: NDArray[np.floating]) -> Strands:
        """All of them as one, by rising `order` (n in all)."""
        ranks = np.argsort(order, kind="stable")
        points, look = (np.concatenate([getattr(one, name) for one in several]) for name in ("points", "look"))
        return Strands(np.ascontiguousarray(points[ranks]), np.ascontiguousarray(look[ranks]))

    def where(self, chosen: NDArray[np.bool_]) -> Strands:
        """Some of them, in the same order."""
        return Strands(np.ascontiguousarray(self.points[chosen]), np.ascontiguousarray(self.look[chosen]))

    def drawn(self, area: Rect) -> Floats:
        """Premultiplied encoded colour and coverage (4, h, w) of an area of the canvas, 0..1."""
        out = np.zeros((4, area.height, area.width), np.float32)

        def band(top: int) -> None:
            kernels.draw(self.points, self.look, area.x0, area.y0, out, top, min(top + BAND_PX, area.height))

        each(range(0, area.height, BAND_PX), band, worth_it=2)
        return out


def tapered(share: NDArray[np.floating], soft: float = 0.12, power: float = 1.7) -> NDArray[np.floating]:
    """Width of a strand at shares 0..1 of its length, of its greatest: a soft root, and sqrt(1 - s^k) to the tip."""
    s = checks.in_range("share", share, 0, 1)
    result: NDArray[np.floating] = np.minimum(s / max(soft, 1e-4) + 0.25, 1) * np.sqrt(1 - s**power)
    return result
