"""Ten and twenty blended layers at 1280 x 800, beside Pillow doing the same modes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from PIL import Image, ImageChops

from bench.result import Result, side_by_side
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.picture.compositor import Compositor, plan
from japanner.raster import accumulate
from japanner.raster.geometry import TILE, Key
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster, straight

WIDTH, HEIGHT = 1280, 800
# The modes that Pillow has with the standard's formulas.
PILLOW = {
    "Normal": lambda below, above: above,
    "Multiply": ImageChops.multiply,
    "Screen": ImageChops.screen,
    "Overlay": ImageChops.overlay,
    "Hard Light": ImageChops.hard_light,
    "Darken": ImageChops.darker,
    "Lighten": ImageChops.lighter,
    "Difference": ImageChops.difference,
}


def measure() -> list[Result]:
    results = []
    for count in (10, 20):
        layers = [_paint(seed) for seed in range(count)]
        modes = [list(PILLOW)[i % len(PILLOW)] for i in range(count)]
        ours, theirs, ratio = side_by_side(_ours(layers, modes), _theirs(layers, modes), rounds=5)
        results += [
            Result(f"{count} layers at 1280 x 800", ours * 1e3, "ms"),
            Result(f"{count} layers in Pillow", theirs * 1e3, "ms"),
            Result(f"{count} layers: times as fast as Pillow", ratio, "x", 5),
        ]
    return results


def _paint(seed: int) -> Raster:
    rng = np.random.default_rng(seed)
    alpha = rng.random((HEIGHT, WIDTH), np.float32)
    pixels = np.concatenate((rng.random((3, HEIGHT, WIDTH), np.float32) * alpha, alpha[None]))
    return Raster(WIDTH, HEIGHT).written(0, 0, (pixels * 65535).astype(np.uint16))


def _ours(rasters: list[Raster], modes: list[str]) -> Callable[[], object]:
    layers = tuple(
        Layer(i + 2, "Any", "detail", raster, "over", mode)
        for i, (raster, mode) in enumerate(zip(rasters, modes, strict=True))
    )
    painting = Painting(WIDTH, HEIGHT, parts=(Part(1, "A", layers=layers),), next_uid=99)
    steps, compositor = plan(painting), Compositor()
    picture = np.zeros((HEIGHT + TILE, WIDTH), np.uint32)
    keys = [key for key, _ in painting.rect.tiles()]

    def one(key: Key) -> None:
        accumulate.show(compositor.tile(painting, steps, key), picture, (key[0] * TILE, key[1] * TILE))

    return partial(each, keys, one)


def _theirs(rasters: list[Raster], modes: list[str]) -> Callable[[], object]:
    images = []
    for raster in rasters:
        codes = (straight(raster.read(raster.rect)) >> 8).astype(np.uint8).transpose(1, 2, 0)
        whole = Image.fromarray(np.ascontiguousarray(codes), "RGBA")
        images.append((whole.convert("RGB"), whole.getchannel("A")))
    ground = Image.new("RGB", (WIDTH, HEIGHT), (77, 74, 71))

    def compose() -> Image.Image:
        result = ground
        for (colour, mask), mode in zip(images, modes, strict=True):
            result = Image.composite(PILLOW[mode](result, colour), result, mask)
        return result

    return compose
