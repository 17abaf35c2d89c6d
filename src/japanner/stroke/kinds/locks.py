"""Strokes that are one lock, one strand or one row of hairs."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster
from japanner.strand.curls import PATTERNS, helix_length
from japanner.strand.fringe import FringeKind, fringe
from japanner.strand.gesture import swung
from japanner.strand.lock import LockKind, lock
from japanner.strand.strands import Strands
from japanner.stroke.brush import Brush
from japanner.stroke.kinds.dabs import DabRows
from japanner.stroke.kinds.hair_layer import HairLayer, HairPaint
from japanner.stroke.kinds.working import WorkingStroke

__all__ = ["LockStroke", "relaxed"]

MOST_LAYERS: Final = 3.5
"""So many hairs over each other fill a lock."""
QUICK_PX: Final = 30_000.0
"""So much of all hairs together is drawn at every sample of the pen; the rest follows when it is lifted."""
FEWEST: Final = 16
THICK_PX: Final = 30.0
FLICK_MS: Final = 60.0
"""A flick draws a strand out by so much of the way that the hand would still have made."""


class LockStroke(WorkingStroke):
    """One stroke is one lock, one strand or one row of hairs: it is drawn anew whenever the stroke goes on."""

    BATCH = 1 << 30

    def __init__(self, base: Raster, brush: Brush, paint: HairPaint) -> None:
        self._base, self._brush, self._paint = base, brush, paint
        self._layer = HairLayer(base, brush, wipe=paint.wipe)
        self.tiles = self._layer.tiles
        self._rows: list[DabRows] = []
        self._rough = False

    def put(self, rows: DabRows) -> list[Rect]:
        """Go on with the lock; the changed canvas areas."""
        self._rows.append(rows)
        return [] if self.unseen else self._drawn(0.0, quick=True)

    def end(self, pace: float) -> list[Rect]:
        """All hairs of a long lock, and what a flick of the hand draws its end out by."""
        flick = self._brush.flick * pace * FLICK_MS
        return self._drawn(flick, quick=False) if self._rows and (flick > 1 or self._rough or self.unseen) else []

    def _drawn(self, flick_px: float, *, quick: bool) -> list[Rect]:
        whole = relaxed(np.concatenate(self._rows))
        if len(whole) < 2:
            return []
        return self._layer.draw(self._strands(whole, flick_px, quick=quick), anew=True)

    def _strands(self, rows: NDArray[np.floating], flick_px: float, *, quick: bool) -> Strands:
        brush, paint = self._brush, self._paint
        line, alpha = rows[:, :2].astype(float), float(rows[:, 3].max())
        if brush.does.row:
            row = FringeKind(brush.hairs, brush.hair_px, brush.hair_wide, brush.from_deg, brush.to_deg, brush.curl,
                             brush.hair_variety, brush.pattern, brush.mm_px, brush.across, brush.across_deg, brush.tuft,
                             brush.long_in, brush.long_out)  # fmt: skip
            return fringe(line, row, paint.colour, alpha, paint.seed, rows[:, 2].astype(float))
        line = swung(line, brush.arch, brush.gravity, flick_px)
        # What a flick has added is as thick as the end of the stroke.
        rows = np.concatenate((rows, np.repeat(rows[-1:], len(line) - len(rows), axis=0)))
        half = rows[:, 2] if brush.does.bundle else np.zeros(len(rows))
        kind = LockKind(
            _count(brush, 2 * float(half.max())), brush.hair_wide, brush.pattern, brush.mm_px, brush.clump,
            brush.hair_variety, brush.hair_depth, brush.hair_gloss, brush.stray, brush.stretch,
        )  # fmt: skip
        thick = None
        if brush.does.single:
            # A single strand is as thick as the tip, along with its pressure.
            kind = replace(kind, wide_px=2 * float(rows[:, 2].max()))
            thick = rows[:, 2].astype(float) / float(rows[:, 2].max())
        every = _every(kind, line, QUICK_PX / self.px) if quick else 1
        self._rough = every > 1
        return lock(line, half.astype(float), kind, paint.colour, alpha, paint.light, paint.seed, thick, every)


def _every(kind: LockKind, line: NDArray[np.floating], quick_px: float) -> int:
    """Every how many hairs of a lock can be drawn while the hand moves; a single thick one with fewer joints, then."""
    if kind.count == 1:
        return 2 if kind.wide_px > THICK_PX else 1
    pattern = PATTERNS.get(kind.pattern, PATTERNS["flat"])
    coils = 1.0 if pattern.shape == "line" else helix_length(pattern.coil_mm / 2, pattern.pitch_mm) / pattern.pitch_mm
    length = float(np.hypot(*np.diff(line, axis=0).T).sum()) * coils
    return max(min(math.ceil(kind.count * length / quick_px), kind.count // FEWEST), 1)


def _count(brush: Brush, wide_px: float) -> int:
    """Hairs of a lock: a narrow one needs fewer to be full, and so far locks become simple shapes."""
    if brush.does.single:
        return 1
    return max(min(brush.hairs, round(MOST_LAYERS * wide_px / brush.hair_wide)), 3)


def relaxed(rows: NDArray[np.floating], sharpest_deg: float = 100.0) -> NDArray[np.floating]:
    """A path without what doubles back: where a line turns round within a few px, it ends."""
    if len(rows) < 5:
        return rows
    x, y = rows[:, 0], rows[:, 1]
    run = np.r_[0, np.cumsum(np.hypot(np.diff(x), np.diff(y)))]
    reach = max(12.0, 0.02 * float(run[-1]))
    ahead = np.minimum(np.searchsorted(run, run + reach), len(run) - 1)
    behind = np.maximum(np.searchsorted(run, run - reach), 0)
    before = np.stack((x - x[behind], y - y[behind]), axis=1)
    after = np.stack((x[ahead] - x, y[ahead] - y), axis=1)
    size = np.maximum(np.linalg.norm(before, axis=1) * np.linalg.norm(after, axis=1), 1e-9)
    turned = np.einsum("ni,ni->n", before, after) / size < np.cos(np.radians(sharpest_deg))
    turned &= (run > reach) & (run[-1] - run > reach / 2)
    if not turned.any():
        return rows
    return rows[: int(np.argmax(turned)) + 1]
