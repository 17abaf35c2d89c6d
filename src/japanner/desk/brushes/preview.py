"""A brush's own stroke as a small picture, drawn by the engine itself."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from PySide6.QtGui import QImage

from japanner.color.value import srgb_from_value
from japanner.desk.brushes.kept_pictures import kept_picture
from japanner.desk.widgets.images import image_of
from japanner.painting.model import DEFAULT_SCALE, Layer, Painting, Part
from japanner.painting.operations import FlattenRelief
from japanner.painting.operations.layer_stroke import LayerStroke
from japanner.raster.tiles import Raster, straight
from japanner.stroke.brush import Brush
from japanner.stroke.brush.kinds import BrushKind
from japanner.types import Colour

__all__ = ["dab_image", "patch_image", "preview_image", "scale_image"]


# Drawn at twice the size and reduced, so that thin tips stay clean.
SCALE = 2
COLOURED = (0.62, 0.42, 0.34)
BAND = ((0.20, 0.19, 0.18), (0.52, 0.49, 0.45), (0.74, 0.70, 0.64))


@lru_cache(maxsize=256)
def preview_image(brush: Brush, width: int, height: int, ink: tuple[float, float, float]) -> QImage:
    """A swelling S-stroke of `brush` in `ink`, `width` x `height` px; kinds that change paint get paint to change."""
    what = {"picture": "stroke", "brush": brush.to_record(), "size": (width, height), "ink": ink}
    return kept_picture(what, SCALE, lambda: _preview(brush, width, height, ink))


def _preview(brush: Brush, width: int, height: int, ink: Colour) -> QImage:
    w, h = width * SCALE, height * SCALE
    tip = _reduced(brush, min(max(brush.size_px * 0.16, 3.0), h * 0.55)).with_changes(strength=max(brush.strength, 0.5))
    lays = (tip.does.plain or tip.does.strews or tip.does.hair) and not tip.changes_paint
    paint = Raster(w, h) if lays and not tip.wetness else _laid(w, h, tip.does)
    if not tip.even:
        tip = tip.with_changes(flow=min(tip.flow * 3, 1.0))
    if tip.does.tonal:
        tip = tip.with_changes(stops=1.6, strength=1.0)
    return _as_image(_stroked(paint, tip, ink, _swelling(w, h)))


def _reduced(brush: Brush, size_px: float) -> Brush:
    """The brush at another size, with its hair in proportion, though never too fine to be seen."""
    factor = size_px / brush.size_px
    return brush.with_changes(
        size_px=size_px, hair_px=max(brush.hair_px * factor, 4.0), hair_wide=max(brush.hair_wide * factor, 1.0),
        mm_px=max(brush.mm_px * factor, 0.1), hairs=max(round(brush.hairs * min(2.5 * factor, 1.0)), 1),
    )  # fmt: skip


def dab_image(brush: Brush, side: int, colour: tuple[float, float, float]) -> QImage:
    """One dab of `brush` in its true shape, `side` px large, with nothing beneath."""
    tip = brush.with_changes(
        kind="lay", size_px=float(max(side - 2, 2)), wetness=0.0, scatter=0.0, per_step=1, drives=(), taper_in=0.0,
        taper_out=0.0, jitter_size=0.0, jitter_turn=0.0, pick_up=False, mixing="encoded",
    )  # fmt: skip
    return _as_image(_stroked(Raster(side, side), tip, colour, [(side / 2, side / 2)]), 1)


def patch_image(brush: Brush, width: int, height: int, colour: tuple[float, float, float]) -> QImage:
    """What `brush` does on dark and light: a swelling stroke across both, and a short one within each."""
    tip = _reduced(brush, min(brush.size_px, height * 0.42))
    paint, half = Raster(width, height), width // 2
    for left, value in ((0, 30.0), (half, 70.0)):
        code = np.rint(np.array((*srgb_from_value(value, 0.035, 60), 1.0)) * 65535).astype(np.uint16)
        paint = paint.written(left, 0, np.broadcast_to(code[:, None, None], (4, height, width - left)).copy())
    across = [(x, y * 0.62, p) for x, y, p in _swelling(width, height)]
    low = height * 0.8
    for rows in (across, [(half * 0.2, low, 1), (half * 0.8, low, 1)], [(half * 1.8, low, 1), (half * 1.2, low, 1)]):
        paint = _stroked(paint, tip, colour, [(x, y, p, 0, 0, 0, i * 8) for i, (x, y, p) in enumerate(rows)], seed=1)
    return _as_image(paint, 1)


@lru_cache(maxsize=4)
def scale_image(width: int, height: int) -> QImage:
    """Five broad strokes side by side, each a value step lighter than the one it overlaps."""
    return kept_picture({"picture": "scale", "size": (width, height)}, SCALE, lambda: _scale(width, height))


def _scale(width: int, height: int) -> QImage:
    w, h = width * SCALE, height * SCALE
    paint, rng = Raster(w, h), np.random.default_rng(11)
    brush = Brush("Bristle", tip="round", edge=0.55, size_px=h / 7.5, strength=0.75, spacing=0.05)
    brush = brush.driven("size", amount=0.7).driven("strength", amount=0.35)
    for step, value in enumerate(DEFAULT_SCALE):
        loads = [srgb_from_value(value + off, 0.045, 62) for off in (-1.4, 0, 1.3)]
        for bristle in range(15):
            y = h * (0.2 + 0.6 * bristle / 14) + rng.normal(0, h * 0.012)
            start, end = w * (0.03 + 0.175 * step), w * (0.25 + 0.175 * step)
            start, end = start + rng.normal(0, w * 0.008), end + rng.normal(0, w * 0.014)
            arch = h * 0.06
            rows = [(start, y + arch, 0.7), ((start + end) / 2, y - arch / 3, 1.0), (end, y + arch / 2, 0.25)]
            colour = loads[int(rng.integers(len(loads)))]
            paint = _stroked(paint, brush, colour, rows)
    return _as_image(paint)


def _stroked(paint: Raster, brush: Brush, colour: Colour, rows: Sequence[Sequence[float]], seed: int = 0) -> Raster:
    """The paint with a stroke on it, as a layer shows it: thick paint is lit."""
    layer = Layer(2, "Paint", "detail", paint, "over")
    painting = Painting(paint.width, paint.height, parts=(Part(1, "Part", layers=(layer,)),), next_uid=3)
    stroke = LayerStroke(painting, layer.uid, brush, colour, seed=seed)
    stroke.add(rows)
    stroke.finish()
    painting = stroke.outcome()
    if painting.layer(layer.uid).relief is not None:
        painting, _ = FlattenRelief(layer.uid).apply(painting)
    return painting.layer(layer.uid).pixels


def _as_image(paint: Raster, scale: int = SCALE) -> QImage:
    pixels = straight(paint.read(paint.rect))
    image = image_of((pixels.transpose(1, 2, 0) >> 8).astype(np.uint8))
    image.setDevicePixelRatio(scale)
    return image


def _swelling(w: int, h: int) -> list[tuple[float, float, float]]:
    """A lying S, light at both ends."""
    t = np.linspace(0, 1, 24)
    xs = w * (0.09 + 0.82 * t)
    ys = h * (0.5 - 0.2 * np.sin(2 * np.pi * t))
    pressure = 0.12 + 0.88 * np.sin(np.pi * t) ** 0.8
    return [(float(x), float(y), float(p)) for x, y, p in zip(xs, ys, pressure, strict=True)]


def _laid(w: int, h: int, does: BrushKind) -> Raster:
    """Paint to work on: one value for dodge, burn and wipe, two that meet for a smudge."""
    band = Brush("Band", tip="round", edge=0.3, size_px=h * 0.62, spacing=0.03)
    paint = Raster(w, h)
    pieces = [(0.10, 0.90, COLOURED if does.tonal and not does.exposes else BAND[1])]
    if does.drags or does.pushes or does.keeps_grain or does.levels or does.plain or does.hair:
        pieces = [(0.10, 0.36, BAND[0]), (0.40, 0.64, BAND[2]), (0.70, 0.90, BAND[0])]
    for start, end, colour in pieces:
        paint = _stroked(paint, band, colour, [(w * start, h * 0.5), (w * end, h * 0.5)])
    return paint
