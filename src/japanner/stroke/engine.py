"""A stroke in progress: pen samples in, changed areas out. Live painting and replay run this same code."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.raster.field import Field, Warp
from japanner.raster.geometry import Key, Rect
from japanner.raster.limit import FREE, Limit
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush
from japanner.stroke.brush.kinds import KINDS
from japanner.stroke.kinds import dabs
from japanner.stroke.kinds.chance import Chance
from japanner.stroke.kinds.coverage import CoverageStroke, Paint
from japanner.stroke.kinds.feather import FeatherStroke
from japanner.stroke.kinds.fur import FurStroke
from japanner.stroke.kinds.hair_layer import HairPaint
from japanner.stroke.kinds.laid import LaidHair
from japanner.stroke.kinds.locks import LockStroke
from japanner.stroke.kinds.nudge import NudgeStroke
from japanner.stroke.kinds.smudge import SmudgeStroke, VisibleTile
from japanner.stroke.kinds.working import WorkingStroke
from japanner.stroke.pen.path import RUN, SPEED, DabPath
from japanner.stroke.pen.samples import PenSample, admitted
from japanner.types import Colour, Tile

__all__ = ["StrokeInProgress", "checked_colour"]


def checked_colour(colour: Sequence[float]) -> Colour:
    """An encoded colour of three channels 0..1."""
    values = checks.in_range("colour", colour, 0, 1)
    checks.as_channels("colour", values.reshape(-1))
    r, g, b = (float(v) for v in values.reshape(3))
    return r, g, b


class StrokeInProgress:
    """One stroke of `brush` on the pixels of one layer.

    `tiles` holds the stroke's own copies of the tiles it has changed so far; `base` is left as it is.
    """

    def __init__(
        self,
        base: Raster,
        brush: Brush,
        colour: Sequence[float],
        *,
        wipe: bool = False,
        seed: int = 0,
        visible: VisibleTile | None = None,
        limit: Limit = FREE,
        warp: Warp | None = None,
        steps: tuple[float, ...] = (),
        pick: Callable[[float, float], Colour | None] | None = None,
        hair: HairPaint | None = None,
        px: float = 1.0,
        unseen: bool = False,
    ) -> None:
        """`wipe`: the brush takes paint off instead; `seed`: of all that is left to chance; `visible`: gives tiles of
        the picture to pick up from; `limit`: where the paint may change; `warp`: how `base` came from nudges so far;
        `steps`: the value scale that dodge and burn may aim at; `pick`: gives the colour at a canvas position, for a
        brush that picks up where it begins; `hair`: comb field and light, for strokes of hair; `px`: how many px of
        the canvas that the hand is on one here stands for; `unseen`: nobody looks before the stroke ends.
        """
        self.base = base
        self.brush = brush
        self.seed = seed
        self._limit = self._given_limit = limit
        self.samples: list[PenSample] = []
        self._path = DabPath(
            lambda pen: dabs.step_px(brush, pen, px), turning=brush.turn in ("along", "across", "comb", "form"), px=px
        )
        self.colour = checked_colour(colour)
        self._pick = pick if brush.pick_up and not wipe else None
        self._wipe, self._px, self._unseen = wipe, px, unseen
        self._kind = KINDS["wipe"] if wipe and not brush.does.hair else brush.does
        self._hair = hair or HairPaint(self.colour)
        self._visible, self._warp, self._steps = visible, warp, steps
        self._stroke = self._begun()
        self._dabs, self._pace = 0, 0.0
        self._length = 0.0
        # How a stroke fades at its end is known when it ends: then it is painted once more, from these.
        self._fades = brush.taper_out > 0 or (brush.taper_by == "share" and brush.taper_in > 0)
        self._pieces: list[NDArray[np.float64]] = []

    def _begun(self) -> WorkingStroke:
        made = self._made()
        made.px, made.unseen = self._px, self._unseen
        return made

    def _made(self) -> WorkingStroke:
        brush, kind = self.brush, self._kind
        if kind.hair:
            paint = replace(self._hair, colour=self.colour, seed=self.seed, wipe=self._wipe, visible=self._visible)
            return (FurStroke if kind.stroke == "fur" else LockStroke)(self.base, brush, paint)
        if kind.stroke == "nudge":
            warp = self._warp
            origin, field = (warp.origin, warp.field) if warp is not None else (self.base, Field())
            # The frisket has its say in the field; a second time would leave a blend of two pictures at its edge.
            self._limit = Limit(None, self._given_limit.hold_edges)
            return NudgeStroke(self.base, origin, field, brush, self._given_limit.frisket)
        if kind.stroke == "feather":
            return FeatherStroke(self.base, brush)
        if kind.stroke == "drag" or (kind.plain and brush.wetness):
            return SmudgeStroke(self.base, brush, self._visible)
        return CoverageStroke(self.base, Paint(brush, self.colour, self.base, self._steps), kind.name)

    @property
    def tiles(self) -> dict[Key, Tile]:
        return self._stroke.tiles

    def add(self, samples: Iterable[Sequence[float]]) -> list[Rect]:
        """Take pen samples; the canvas areas that changed. Samples that are not finite are dropped."""
        pens = [admitted(sample, self.base.width, self.base.height) for sample in samples]
        fresh = [pen for pen in pens if pen is not None]
        if self._pick is not None and fresh:
            self._pick_up(fresh[0])
        self.samples += fresh
        return self._put([self._path.add(pen) for pen in fresh])

    def _pick_up(self, first: PenSample) -> None:
        """Take the colour that lies where the stroke begins."""
        found = None if self._pick is None else self._pick(first.x, first.y)
        self._pick = None
        if found is not None:
            self.colour = found
            if isinstance(self._stroke, CoverageStroke):
                self._stroke.repaint(Paint(self.brush, found, self.base, self._steps))

    def finish(self) -> list[Rect]:
        """Draw what was held back for the spline; the canvas areas that changed."""
        areas = self._put([self._path.end()])
        if self._fades and self._pieces:
            areas += self._faded()
        return areas + self._limited(self._stroke.end(self._pace))

    def _faded(self) -> list[Rect]:
        """The whole stroke once more, now that its length is known."""
        path = np.concatenate(self._pieces)
        self._length = max(float(path[-1, RUN]), 1e-3)
        former = self.tiles
        self._stroke, self._dabs = self._begun(), 0
        self._paint(path)
        for key, tile in former.items():
            # What the stroke has left again is as it was.
            if key not in self.tiles:
                tile[:] = self.base.tile(key)
                self.tiles[key] = tile
        return [Rect.of_tile(key).intersected(self.base.rect) for key in self.tiles]

    def result(self) -> Raster:
        """The layer's pixels with the stroke on them; its tiles are frozen by this."""
        return self.base.with_tiles(self.tiles)

    def warp(self, result: Raster) -> Warp | None:
        """How the layer came from nudges, once `result` is its pixels."""
        return self._stroke.warp(result)

    def laid(self, result: Raster) -> LaidHair | None:
        """The hair that strokes of fur have laid, once `result` is the layer's pixels; None if this is none of them."""
        return self._stroke.laid(result, self._limit)

    def _put(self, pieces: list[NDArray[np.float64]]) -> list[Rect]:
        """Paint the dabs of path pieces, many at once: what comes out does not depend on how they are bundled."""
        path = np.concatenate(pieces) if pieces else np.empty((0, RUN + 1))
        if self._fades and len(path):
            self._pieces.append(path)
            if self._unseen:
                return []
        return self._paint(path)

    def _paint(self, path: NDArray[np.float64]) -> list[Rect]:
        brush, count = self.brush, len(path) * self.brush.per_step
        rows = dabs.rows_for(
            brush, path, self.colour, Chance(self.seed, self._dabs, count), self._length, self._hair.comb
        )
        self._dabs += count
        if len(path):
            self._pace = float(path[-1, SPEED])
        step = self._stroke.BATCH
        return [area for start in range(0, len(rows), step) for area in self._put_bundle(rows[start : start + step])]

    def _put_bundle(self, rows: dabs.DabRows) -> list[Rect]:
        return self._limited(self._stroke.put(rows))

    def _limited(self, areas: list[Rect]) -> list[Rect]:
        """Areas of the stroke's tiles, freshly made, held to the limit."""
        if not self._limit.free:
            # The areas of one bundle do not overlap, and hold nothing yet of what the limit keeps out.
            for area in areas:
                for key, local in area.tiles():
                    self._limit.apply(key, self.base.tile(key), self.tiles[key], local)
        return areas
