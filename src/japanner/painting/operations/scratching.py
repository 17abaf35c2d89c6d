"""Scratches: each has a lit and a shaded side, by its direction and that of the key light."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.painting.model import Layer, Painting
from japanner.painting.operations.base import Change
from japanner.painting.operations.layer_stroke import LayerStroke
from japanner.raster.tiles import Raster
from japanner.stroke.brush.shipped import shipped_brush
from japanner.stroke.pen.samples import samples_from_rows

__all__ = ["SIDES", "Scratch", "sides_of"]

Rows = NDArray[np.float64]

SIDES: Final = (("Scratches, shaded", "shadow", "Multiply"), ("Scratches, lit", "highlight", "Screen"))
"""The two layers that scratches go on."""


@dataclass(frozen=True)
class Scratch:
    """A scratch along samples (x, y, pressure and so on, as in `Stroke`) into a part.

    width_px: from side to side. depth: how strongly its sides show, 0..1. A scratch is a groove: the side away from
    the light faces it. Layers for the two sides come into the part's build with the first scratch.
    """

    op: ClassVar[str] = "scratch"
    part: int
    samples: tuple[tuple[float, ...], ...]
    width_px: float = 3.0
    depth: float = 0.8
    seed: int = 0

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        checks.number("width_px", self.width_px, 0.5, 400)
        checks.number("depth", self.depth, 0, 1)
        rows = np.array([tuple(sample) for sample in samples_from_rows(self.samples)], float)
        if len(rows) < 2:
            raise InputError("A scratch needs two places at least")
        painting, layers = _with_layers(painting, self.part)
        brush = shipped_brush("Scratch").with_changes(size_px=max(self.width_px * 0.62, 0.5))
        areas = []
        tones = ((0.10, 0.09, 0.09), (1.0, 0.97, 0.92))
        light = painting.light.direction
        for layer, tone, side in zip(layers, tones, sides_of(rows, (light[0], -light[1]), self.width_px), strict=True):
            side[:, 2] *= self.depth
            stroke = LayerStroke(painting, layer, brush, tone, seed=self.seed)
            areas += stroke.add([tuple(row) for row in side.tolist()]) + stroke.finish()
            painting = stroke.outcome()
        return painting, Change("scratch", tuple(areas), structure=True)

    def scaled(self, factor: float) -> Scratch:
        """The same on a painting `factor` times as large."""
        moved = tuple((x * factor, y * factor, *rest) for x, y, *rest in self.samples)
        return replace(self, samples=moved, width_px=max(self.width_px * factor, 0.5))


def sides_of(rows: Rows, light: tuple[float, float], width: float) -> tuple[Rows, Rows]:
    """The shaded and the lit side of a scratch along rows (n, x y pressure ...): a quarter of its width aside, with
    pressure by how squarely the light meets it there.

    light: towards it on the canvas, y down; its length is how flat it falls.
    """
    way = np.gradient(rows[:, :2], axis=0)
    way /= np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9)
    across = np.column_stack((-way[:, 1], way[:, 0]))
    meets = across @ np.asarray(light)
    # Along the light, both sides are lit alike and hardly show.
    off = across * (np.sign(meets) * width / 4)[:, None]
    pressure = np.clip(0.12 + np.abs(meets), 0, 1)
    shaded, lit = rows.copy(), rows.copy()
    shaded[:, :2] += off
    lit[:, :2] -= off
    for side in (shaded, lit):
        side[:, 2] *= pressure
    return shaded, lit


def _with_layers(painting: Painting, part_uid: int) -> tuple[Painting, list[int]]:
    """The painting with the two layers in the part, and their uids."""
    found = []
    for name, role, mode in SIDES:
        part = painting.part(part_uid)
        layer = next((one for one in part.layers if one.name == name and one.mode == mode), None)
        if layer is None:
            layer = Layer(painting.next_uid, name, role, Raster(painting.width, painting.height), mode=mode)
            painting = replace(painting.with_part(part_uid, layers=(*part.layers, layer)), next_uid=layer.uid + 1)
        found.append(layer.uid)
    return painting, found
