"""How a stroke script covers an area: from large strokes to small ones, each in the colour wanted where it lies."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import oklab
from japanner.demo import hand
from japanner.demo.hand import Flow, Grid, Mask
from japanner.scripting import Script
from japanner.stroke.brush import Brush
from japanner.stroke.brush.drive import Drive
from japanner.types import Colour

__all__ = ["Painter", "Pass", "busy"]


FILLING: Final = Brush("Filling", tip="round", edge=0.6, spacing=0.07, drives=(Drive("size", amount=0.6, gamma=0.9),))


@dataclass(frozen=True)
class Pass:
    """One size of strokes.

    apart: distance of strokes as a share of the size. reach_px: half length. tolerance: L* within which a
    stroke stays. spread: L* by which mixed colours differ. detail: strokes go only where the value under
    the tip varies by less than this, so that large ones leave edges to the smaller that follow.
    """

    size_px: float
    apart: float
    reach_px: float
    tolerance: float
    spread: float
    detail: float = 101.0
    strength: float = 0.85
    edge: float = 0.6
    turn: float = 0.25


@dataclass(frozen=True, eq=False)
class Painter:
    """A script, its chance, and whom to tell how far it is."""

    script: Script
    rng: np.random.Generator
    told: Callable[[], None]

    def cover(self, layer: int, flow: Flow, colours: Grid, where: Mask, passes: tuple[Pass, ...]) -> None:
        """Cover `where` with one pass after another; colours (h, w, 3) are encoded."""
        for one in passes:
            calm = _range_under_tip(flow, one.size_px) < one.detail
            brush = FILLING.with_changes(size_px=one.size_px, strength=one.strength, edge=one.edge)
            self.strokes(layer, flow, colours, where & calm, one, brush)

    def strokes(self, layer: int, flow: Flow, colours: Grid, where: Mask, one: Pass, brush: Brush) -> None:
        """Strokes from scattered starts in `where`, in no order."""
        step = max(one.size_px / 3, 12.0)
        for x, y in self.starts(where, one.size_px * one.apart, flow.scale):
            points = self._path(flow, x, y, one, step)
            colour = self.mixed(colours[int(y / flow.scale), int(x / flow.scale)], one.spread)
            self.script.stroke(layer, brush, colour, hand.taper(points))
        self.told()

    def flat_brush(
        self, layer: int, flow: Flow, colours: Grid, where: Mask, one: Pass, brush: Brush, count: int
    ) -> None:
        """Strokes of a flat brush, `count` bristles side by side; each bristle carries a little other paint."""
        for x, y in self.starts(where, one.size_px * one.apart, flow.scale):
            points = self._path(flow, x, y, one, 44.0)
            wanted = colours[int(y / flow.scale), int(x / flow.scale)]
            loaded = self.mixed(wanted, one.spread)
            for trace in hand.bristles(points, one.size_px, count, self.rng):
                tip = brush.with_changes(size_px=one.size_px / count * float(self.rng.uniform(1.1, 2.0)))
                self.script.stroke(layer, tip, self.mixed(loaded, 0.7), hand.taper(trace))
        self.told()

    def blend(
        self, layer: int, flow: Flow, brush: Brush, where: Mask, apart_px: float, reach_px: float,
        colour: Colour = (0.0, 0.0, 0.0),
    ) -> None:  # fmt: skip
        """One brush all over `where`: smudge, dodge, burn, or a veil of one colour."""
        for x, y in self.starts(where, apart_px, flow.scale):
            points = flow.stroke(x, y, reach_px * float(self.rng.uniform(0.6, 1.1)), 20.0, 60.0)
            if len(points) > 2:
                if self.rng.random() < 0.5:
                    points.reverse()
                self.script.stroke(layer, brush, colour, hand.taper(points))
        self.told()

    def starts(self, where: Mask, apart_px: float, scale: int) -> list[tuple[float, float]]:
        """Points of a shaken grid that lie in `where`, in no order."""
        height, width = where.shape[0] * scale, where.shape[1] * scale
        xs, ys = np.meshgrid(np.arange(apart_px / 2, width, apart_px), np.arange(apart_px / 2, height, apart_px))
        points = np.column_stack((xs.ravel(), ys.ravel()))
        points += self.rng.uniform(-0.45, 0.45, points.shape) * apart_px
        points = points[(points > 0).all(axis=1) & (points < (width - 1, height - 1)).all(axis=1)]
        kept = points[where[(points[:, 1] / scale).astype(int), (points[:, 0] / scale).astype(int)]]
        self.rng.shuffle(kept)
        return [(float(x), float(y)) for x, y in kept]

    def mixed(self, colour: NDArray[np.floating] | Colour, spread: float) -> Colour:
        """A mixed colour is never quite the one wanted: a little off in value, chroma and hue."""
        light, chroma, hue = (float(c) for c in oklab.oklch_from_srgb(np.asarray(colour, float)))
        light += float(self.rng.normal(0, spread)) / 100
        chroma *= float(self.rng.normal(1, 0.03 * spread))
        hue += float(self.rng.normal(0, 2.0 * spread))
        r, g, b = np.clip(oklab.srgb_from_oklch(np.array((max(light, 0.0), max(chroma, 0.0), hue))), 0, 1)
        return float(r), float(g), float(b)

    def _path(self, flow: Flow, x: float, y: float, one: Pass, step: float) -> list[tuple[float, float]]:
        reach, turn = one.reach_px * float(self.rng.uniform(0.6, 1.1)), float(self.rng.normal(0, one.turn))
        points = flow.stroke(x, y, reach, step, one.tolerance, turn)
        return points if len(points) > 1 else [points[0], (points[0][0] + step, points[0][1])]


def busy(value: Grid, least: float, scale: int) -> Mask:
    """Where the value changes by at least `least` L* over 25 px."""
    gy, gx = np.gradient(value)
    found: Mask = np.hypot(gx, gy) * (25 / scale) > least
    return found


def _range_under_tip(flow: Flow, size_px: float) -> Grid:
    """How much L* varies under a tip of this size, the outside of the form left out."""
    side = max(int(size_px / flow.scale * 0.8) | 1, 3)
    element = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
    high = cv2.dilate(np.where(flow.inside, flow.value, -1).astype(np.float32), element)
    low = cv2.erode(np.where(flow.inside, flow.value, 101).astype(np.float32), element)
    result: Grid = high - low
    return result
