"""Ten and twenty blended layers at 1280 x 800, beside Pillow, OpenCV and NumPy doing the same modes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

import cv2
import numpy as np
from PIL import Image, ImageChops

from bench.result import Result, seconds_per_call, side_by_side
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
            Result(f"{count} layers in OpenCV, 8 bits", 1e3 * seconds_per_call(_in_opencv(layers, modes)), "ms"),
            Result(f"{count} layers in NumPy, floats", 1e3 * seconds_per_call(_in_numpy(layers, modes)), "ms"),
            Result(f"{count} layers copied in memory", 1e3 * seconds_per_call(_copied(layers)), "ms"),
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


def _straight(rasters: list[Raster]) -> list[tuple[np.ndarray, np.ndarray]]:
    """Colours (h, w, 3) and coverage (h, w, 1) of each, 8 bits."""
    found = []
    for raster in rasters:
        codes = np.ascontiguousarray((straight(raster.read(raster.rect)) >> 8).astype(np.uint8).transpose(1, 2, 0))
        found.append((np.ascontiguousarray(codes[..., :3]), np.ascontiguousarray(codes[..., 3:])))
    return found


OPENCV: dict[str, Callable[..., Any]] = {
    "Normal": lambda below, above: above,
    "Multiply": lambda below, above: cv2.multiply(below, above, scale=1 / 255),
    "Screen": lambda below, above: 255 - cv2.multiply(255 - below, 255 - above, scale=1 / 255),
    "Darken": cv2.min,
    "Lighten": cv2.max,
    "Difference": cv2.absdiff,
}
"""The modes that are one or two of its functions; in the place of others stands Multiply."""


def _in_opencv(rasters: list[Raster], modes: list[str]) -> Callable[[], object]:
    images = [(colour, cv2.merge([cover] * 3)) for colour, cover in _straight(rasters)]
    ground = np.full((HEIGHT, WIDTH, 3), 75, np.uint8)

    def compose() -> np.ndarray:
        result = ground
        for (colour, mask), mode in zip(images, modes, strict=True):
            blended = OPENCV.get(mode, OPENCV["Multiply"])(result, colour)
            kept = cv2.multiply(result, 255 - mask, scale=1 / 255)
            result = cv2.add(kept, cv2.multiply(blended, mask, scale=1 / 255))
        return result

    return compose


def _in_numpy(rasters: list[Raster], modes: list[str]) -> Callable[[], object]:
    images = [(colour.astype(np.float32) / 255, cover.astype(np.float32) / 255) for colour, cover in _straight(rasters)]
    ground = np.full((HEIGHT, WIDTH, 3), 0.3, np.float32)
    formulas: dict[str, Callable[..., Any]] = {
        "Normal": lambda b, s: s,
        "Multiply": lambda b, s: b * s,
        "Screen": lambda b, s: b + s - b * s,
        "Overlay": lambda b, s: np.where(b <= 0.5, 2 * b * s, 1 - 2 * (1 - b) * (1 - s)),
        "Hard Light": lambda b, s: np.where(s <= 0.5, 2 * b * s, 1 - 2 * (1 - b) * (1 - s)),
        "Darken": np.minimum,
        "Lighten": np.maximum,
        "Difference": lambda b, s: np.abs(b - s),
    }

    def compose() -> np.ndarray:
        result = ground
        for (colour, cover), mode in zip(images, modes, strict=True):
            result = result + cover * (formulas[mode](result, colour) - result)
        return result

    return compose


def _copied(rasters: list[Raster]) -> Callable[[], object]:
    """What has to be read at least."""
    whole = np.stack([raster.read(raster.rect) for raster in rasters])
    to = np.empty_like(whole)
    return lambda: np.copyto(to, whole)
