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
MOST_JOINTS: Final = 1000
Floats = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Strands:
    """Strands from first to last, later ones over earlier ones.

    points (n, m, 2): x, y in canvas px from root to tip, at even shares of the length. look (n, COLUMNS): see
    `_kernels_strands`. shade, wide (n, m): factors on the colour and on the width at every joint.
    """

    points: Floats
    look: Floats
    shade: Floats
    wide: Floats

    @staticmethod
    def of(
        points: NDArray[np.floating], width: NDArray[np.floating] | float, colours: NDArray[np.floating],
        alpha: NDArray[np.floating] | float, *, shade: NDArray[np.floating] | None = None,
        wide: NDArray[np.floating] | None = None,
        tip: float = 1.0, soft: float = 0.12, power: float = 1.7,
    ) -> Strands:  # fmt: skip
        """Strands of one kind.

        points (n, m, 2). width: px, where a strand is widest. colours (n, 3, 3): encoded, at root, middle and tip.
        alpha: coverage 0..1; tip: what of it is left at the tip. soft: share of the length over which a strand comes in
        at its root. power: k of the taper sqrt(1 - s^k), s from the root: the greater, the later it thins; 0: it does
        not.
        """
        points = np.ascontiguousarray(points, np.float32)
        if points.ndim != 3 or points.shape[2] != 2 or not 2 <= points.shape[1] <= MOST_JOINTS:
            raise InputError(f"points: expected (n, 2 to {MOST_JOINTS}, 2), got {points.shape}")
        if np.shape(colours) != (len(points), 3, 3):
            raise InputError(f"colours: expected three for each strand, got {np.shape(colours)}")
        checks.number("tip", tip, 0, 1)
        checks.number("soft", soft, 0, 1)
        checks.number("power", power, 0, 20)
        look = np.empty((len(points), kernels.COLUMNS), np.float32)
        look[:, kernels.WIDTH], look[:, kernels.ALPHA] = width, alpha
        look[:, kernels.TIP], look[:, kernels.SOFT], look[:, kernels.POWER] = tip, soft, power
        look[:, kernels.ROOT_COLOUR :] = np.reshape(colours, (-1, 9))
        return Strands(points, look, *(_factor(one, points.shape[:2]) for one in (shade, wide)))

    @staticmethod
    def together(several: Sequence[Strands], order: NDArray[np.floating]) -> Strands:
        """All of them as one, by rising `order` (n in all)."""
        ranks = np.argsort(order, kind="stable")
        points, look, shade, wide = (np.concatenate([getattr(one, name) for one in several])[ranks]
                               for name in ("points", "look", "shade", "wide"))  # fmt: skip
        return Strands(points, look, shade, wide)

    def cut(self, pieces: int) -> Strands:
        """Every strand as so many pieces from root to tip (n * pieces in all) that join without a seam: so what passes
        in front and what passes behind can be put in order. The joints but one are a multiple of the pieces.
        """
        n, m = self.points.shape[:2]
        if pieces == 1:
            return self
        if pieces < 1 or (m - 1) % pieces:
            raise InputError(f"pieces: expected a divisor of {m - 1}, got {pieces}")
        step = (m - 1) // pieces
        at = np.arange(pieces)[:, None] * step + np.arange(step + 1)
        share = np.linspace(0, 1, m, dtype=np.float32)
        soft, power = self.look[:, kernels.SOFT, None], self.look[:, kernels.POWER, None]
        wide = self.wide * tapered(share[None], soft, power)
        look = np.repeat(self.look, pieces, axis=0)
        tip = 1 + share[at[:, (0, -1)]] * (self.look[:, kernels.TIP, None, None] - 1)
        first, last = tip[..., 0].reshape(-1), tip[..., 1].reshape(-1)
        look[:, kernels.ALPHA] *= first
        look[:, kernels.TIP] = last / np.maximum(first, 1e-6)
        look[:, kernels.POWER] = 0
        if np.ptp(self.look[:, kernels.ROOT_COLOUR :].reshape(-1, 3, 3), axis=1).any():
            look[:, kernels.ROOT_COLOUR :] = self._colours(share[at[:, (0, step // 2, -1)]]).reshape(-1, 9)
        points, shade, wide = (one[:, at].reshape(n * pieces, step + 1, *one.shape[2:])
                               for one in (self.points, self.shade, wide))  # fmt: skip
        return Strands(points, look, shade, np.ascontiguousarray(wide, np.float32))

    def _colours(self, share: Floats) -> Floats:
        """Encoded colours (n, k, 3, 3) at shares (k, 3) of the length."""
        stops = self.look[:, kernels.ROOT_COLOUR :].reshape(-1, 1, 1, 3, 3)
        weights = np.maximum(1 - np.abs(share[..., None] * 2 - np.arange(3)), 0)
        result: Floats = (stops * weights[None, ..., None]).sum(axis=3).astype(np.float32)
        return result

    def where(self, chosen: NDArray[np.bool_]) -> Strands:
        """Some of them, in the same order."""
        return Strands(self.points[chosen], self.look[chosen], self.shade[chosen], self.wide[chosen])

    def drawn(self, area: Rect) -> Floats:
        """Premultiplied encoded colour and coverage (4, h, w) of an area of the canvas, 0..1."""
        out = np.zeros((4, area.height, area.width), np.float32)
        depth, ranks = np.zeros((2, *out.shape[1:]), np.float32), np.zeros((len(self.points), 2), np.float32)

        def band(top: int) -> None:
            self.draw_rows(out, depth, area.x0, area.y0, top, min(top + BAND_PX, area.height), ranks)

        each(range(0, area.height, BAND_PX), band, worth_it=3)
        return out

    def draw_rows(self, out: Floats, depth: Floats, left: int, up: int, top: int, bottom: int, ranks: Floats) -> None:
        """Draw over, or by the first of `ranks` (n, 2) under, what there is in rows of a piece of the canvas that
        begins at (left, up): out (4, h, w), and the highest ranks at every pixel, depth (2, h, w).
        """
        kernels.draw(self.points, self.look, self.shade, self.wide, ranks, left, up, out, depth, top, bottom)


def _factor(given: NDArray[np.floating] | None, shape: tuple[int, ...]) -> Floats:
    return np.ones(shape, np.float32) if given is None else np.ascontiguousarray(given, np.float32)


def tapered(
    share: NDArray[np.floating], soft: NDArray[np.floating] | float = 0.12, power: NDArray[np.floating] | float = 1.7
) -> NDArray[np.floating]:
    """Width of a strand at shares 0..1 of its length, of its greatest: a soft root, and sqrt(1 - s^k) to the tip; 1
    all along where k is 0.
    """
    s = checks.in_range("share", share, 0, 1)
    grown = np.minimum(s / np.maximum(soft, 1e-4) + 0.25, 1) * np.sqrt(1 - s**power)
    return np.where(np.asarray(power) == 0, 1, grown)
