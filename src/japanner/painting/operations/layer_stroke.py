"""A stroke on a layer of a painting: on its paint and, where that is thick, on its relief."""

from __future__ import annotations

from collections import ChainMap
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.painting.form.combing import bald_cover, comb_of, fur_map, level_lines
from japanner.painting.form.edge_band import edge_band
from japanner.painting.model import Layer, Painting, Part, Relief
from japanner.painting.operations.base import Target
from japanner.painting.picture.compositor import Compositor, plan, shown_tile
from japanner.painting.picture.picking import picked, picked_inside
from japanner.raster.accumulate import Accumulator
from japanner.raster.geometry import Key, Rect
from japanner.raster.limit import Limit
from japanner.raster.sheets import inverted, joined
from japanner.raster.tiles import EMPTY_TILE, Raster, Sheet
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from japanner.stroke.kinds.hair_layer import CoverTile, HairPaint
from japanner.stroke.kinds.thickness import thickness_brush
from japanner.stroke.pen.samples import PenSample
from japanner.types import Colour

__all__ = ["LayerStroke"]


# What a brush that picks up on touch takes: the mean of so many px square.
TOUCH_PX = 5
# How far from an edge *lose* and *find* work, as a share of what they soften over.
EDGE_REACH = 2.0
BLACK: Colour = (0.0, 0.0, 0.0)


class LayerStroke:
    """A stroke in progress; the painting stays as it is."""

    def __init__(
        self,
        painting: Painting,
        layer: int,
        brush: Brush,
        colour: Any,
        *,
        wipe: bool = False,
        on: str = "paint",
        seed: int = 0,
        px: float = 1.0,
        unseen: bool = False,
    ) -> None:
        """px: how many px of the canvas that the hand is on one here stands for. unseen: nobody looks till it ends."""
        self._px, self._unseen = px, unseen
        self._target = Target.of(painting, layer, on)
        self._paint = self._begun(brush, self._target.colour(colour), wipe, seed)
        self._relief, self._heights = self._begun_on_relief(brush, wipe, seed)

    def _begun(self, brush: Brush, colour: Colour, wipe: bool, seed: int) -> StrokeInProgress:
        """The picture under the stroke is read only if needed."""
        target, painting = self._target, self._target.painting
        compositor, uid = Compositor(), target.layer.uid

        def visible(key: Key) -> Accumulator:
            return compositor.tile(painting, plan(painting), key)

        def pick(x: float, y: float) -> Colour | None:
            part, layer = painting.find(uid)
            inside = layer.place == "body" and any(one.pixels.tiles for one in part.flats)
            found = (
                picked_inside(painting, x, y, part, TOUCH_PX)
                if inside
                else picked(painting, x, y, "visible", uid, TOUCH_PX)
            )
            return None if found is None else target.colour(found)

        return StrokeInProgress(
            target.pixels, brush, colour,
            wipe=wipe, seed=seed, visible=visible, limit=self._limit(brush), pick=pick, px=self._px,
            unseen=self._unseen,
            steps=painting.find(uid)[0].scale, hair=self._hair(brush, colour),
            warp=target.layer.warp if target.on == "paint" else None,
        )  # fmt: skip

    def _limit(self, brush: Brush) -> Limit:
        """Besides what friskets and held edges say: fur keeps off what is bald, *lose* and *find* keep to edges."""
        target, limit = self._target, self._target.limit
        painting = target.painting
        part = painting.find(target.layer.uid)[0]
        if brush.does.at_edges:
            free = edge_band(painting, part, target.layer, EDGE_REACH * brush.soften_px)
        else:
            bald = bald_cover(painting, part) if brush.does.coat else None
            free = None if bald is None else inverted(bald)
        if free is None:
            return limit
        return Limit(free if limit.frisket is None else joined(limit.frisket, free, "meet"), limit.hold_edges)

    def _hair(self, brush: Brush, colour: Colour) -> HairPaint | None:
        """The part's comb field and the light, for brushes that ask for them."""
        painting = self._target.painting
        field = {"comb": comb_of, "form": level_lines}.get(brush.turn)
        if not brush.does.hair and field is None:
            return None
        comb, part = None, painting.find(self._target.layer.uid)[0]
        if field is not None:
            try:
                comb = field(painting, part)
            except InputError:
                comb = None  # without a silhouette the stroke is followed
        laid = self._target.layer.laid if self._target.on == "paint" else None
        length, density = (_fur_map(part, brush, name) for name in ("length_map", "density_map"))
        return HairPaint(colour, comb, painting.light.direction, laid=laid, length=length, density=density)

    def _begun_on_relief(self, brush: Brush, wipe: bool, seed: int) -> tuple[Relief | None, StrokeInProgress | None]:
        """The relief that the layer has, or gets if the brush lays thickly, and the stroke on its heights."""
        target = self._target
        relief, same = target.layer.relief, thickness_brush(brush, wipe=wipe)
        piles = (brush.does.piles_up or (brush.does.blade and brush.thick_px > 0)) and not wipe
        if target.on != "paint" or same is None or (relief is None and not piles):
            return relief, None
        if relief is None:
            relief = Relief(Raster(target.pixels.width, target.pixels.height))
        return relief, StrokeInProgress(
            relief.heights,
            same,
            BLACK,
            wipe=wipe,
            seed=seed,
            limit=self._relief_limit(only_on_paint=brush.does.blade and piles),
            px=self._px,
            unseen=self._unseen,
        )

    def _relief_limit(self, *, only_on_paint: bool) -> Limit:
        """Held edges, and blades, hold thickness to where there is paint."""
        limit, pixels = self._target.limit, self._target.pixels
        if not (limit.hold_edges or only_on_paint):
            return limit
        paint = Sheet(pixels.width, pixels.height, {key: tile[3:] for key, tile in pixels.tiles.items()})
        return Limit(paint if limit.frisket is None else joined(limit.frisket, paint, "meet"))

    @property
    def brush(self) -> Brush:
        return self._paint.brush

    @property
    def colour(self) -> Colour:
        """What it lays: the colour given, or what it has picked up on touch."""
        return self._paint.colour

    @property
    def samples(self) -> list[PenSample]:
        return self._paint.samples

    @property
    def changes(self) -> bool:
        """Whether anything has changed yet."""
        return bool(self._paint.samples and self._paint.tiles)

    def add(self, samples: Iterable[Sequence[float]]) -> list[Rect]:
        """Take pen samples; the canvas areas that look different."""
        pens = list(samples)
        return self._seen(self._paint.add(pens), [] if self._heights is None else self._heights.add(pens))

    def finish(self) -> list[Rect]:
        """The pen is lifted; the canvas areas that look different."""
        return self._seen(self._paint.finish(), [] if self._heights is None else self._heights.finish())

    @staticmethod
    def _seen(paint: list[Rect], heights: list[Rect]) -> list[Rect]:
        """Slopes reach a pixel beyond what has changed."""
        return paint + [area.grown(1) for area in heights]

    def preview(self) -> Painting:
        """The painting that looks through to the stroke while it goes on."""
        relief, heights = self._relief, self._heights
        if relief is not None and heights is not None:
            relief = replace(relief, heights=_looking_through(heights))
        return self._with(_looking_through(self._paint), relief)

    def outcome(self) -> Painting:
        """The painting with the stroke on it; its tiles are frozen by this."""
        relief, heights = self._relief, self._heights
        if relief is not None and heights is not None:
            relief = replace(relief, heights=heights.result())
        pixels = self._paint.result()
        laid = self._paint.laid(pixels)
        return self._with(pixels, relief, **({} if laid is None or self._target.on == "mask" else {"laid": laid}))

    def _with(self, pixels: Raster, relief: Relief | None, **beside: Any) -> Painting:
        painting = self._target.with_pixels(pixels, warp=self._paint.warp(pixels), **beside)
        if relief is self._target.layer.relief:
            return painting
        return painting.with_layer(self._target.layer.uid, relief=relief)


def _fur_map(part: Part, brush: Brush, name: str) -> CoverTile | None:
    """By tile, how long or how dense fur is, where a layer of the part says so."""
    layer = fur_map(part, name) if brush.does.grows else None
    return None if layer is None else _coverage(layer)


def _coverage(layer: Layer) -> CoverTile:
    def tile(key: Key) -> NDArray[np.uint16]:
        found = shown_tile(layer, key)
        return (EMPTY_TILE if found is None else found)[3:]

    return tile


def _looking_through(stroke: StrokeInProgress) -> Raster:
    """The stroke's tiles before those of its base."""
    base = stroke.base
    return Raster(base.width, base.height, ChainMap(stroke.tiles, dict(base.tiles)))
