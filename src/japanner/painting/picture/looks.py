"""Ways to look at the picture; they change what is seen, never the picture."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.color import lab, srgb
from japanner.raster import _kernels_adjust
from japanner.raster import _kernels_tiles as kernels

__all__ = [
    "EDGES_REACH_PX",
    "EVEN_STEPS",
    "LOOKS",
    "SQUINTS",
    "even_scale",
    "grey_code",
    "look",
    "nearest_step",
    "squinted",
    "through_table",
]

EVEN_STEPS: Final = (2, 3, 4, 5, 6, 7, 8, 9)
SQUINTS: Final = (1, 2, 3, 4, 5)
"""How far a squint blurs, in per cent of the picture's longer side."""

Pixels = NDArray[np.uint32]


def look(name: str, pixels: Pixels, scale: tuple[float, ...] = ()) -> Pixels:
    """0xffRRGGBB pixels (h, w) as the look shows them; `scale` is the part's five steps for "steps".

    "edges" counts in the pixels that it is given: what is hard on the screen is hard.
    """
    return LOOKS[checks.one_of("look", name, LOOKS)](pixels, tuple(scale))


def through_table(pixels: Pixels, table: NDArray[np.float32]) -> Pixels:
    """0xffRRGGBB pixels (h, w) with their colours as a table (n * n, n, 3) of n nodes a side has them, 0..1."""
    out = np.empty_like(pixels, order="C")
    _kernels_adjust.look_up_picture(np.ascontiguousarray(pixels), table, out)
    return out


def even_scale(count: int) -> tuple[float, ...]:
    """The middles of `count` equal bands of L* (2 to 9)."""
    checks.integer("count", count, EVEN_STEPS[0], EVEN_STEPS[-1])
    return tuple(100 * (i + 0.5) / count for i in range(count))


def squinted(pixels: Pixels, share: float) -> Pixels:
    """0xffRRGGBB pixels under a Gaussian of `share` (0..0.2) of the longer side, as through half-closed eyes.

    The light is what blurs, as it does in an eye: mixing is linear.
    """
    checks.number("share", share, 0, 0.2)
    channels = np.stack([pixels >> shift & 255 for shift in (16, 8, 0)], axis=-1)
    light = _linear_codes()[channels]
    soft = cv2.GaussianBlur(light, (0, 0), max(share * max(pixels.shape), 0.1), borderType=cv2.BORDER_REPLICATE)
    r, g, b = np.rint(srgb.encode(np.clip(soft, 0, 1)) * 255).astype(np.uint32).transpose(2, 0, 1)
    return np.uint32(0xFF000000) | r << np.uint32(16) | g << np.uint32(8) | b


def grey_code(value: float) -> int:
    """The 8-bit neutral grey of L* `value`."""
    return int(np.rint(float(srgb.encode(lab.luminance_from_lightness(value))) * 255))


def nearest_step(scale: tuple[float, ...], value: float) -> int:
    """Index of the step of `scale` nearest to L* `value`."""
    return int(np.argmin(np.abs(np.asarray(scale) - value)))


@cache
def _linear_codes() -> NDArray[np.float32]:
    return np.ascontiguousarray(srgb.decode(np.arange(256) / 255), np.float32)


def _values() -> NDArray[np.float64]:
    """L* over the square root of luminance in 4096 steps, as the kernel looks it up."""
    values: NDArray[np.float64] = lab.lightness(np.linspace(0, 1, 4096) ** 2)
    return values


def _greys(values: NDArray[np.float64]) -> NDArray[np.uint8]:
    return np.rint(srgb.encode(lab.luminance_from_lightness(values)) * 255).astype(np.uint8)


@cache
def _value_codes() -> NDArray[np.uint8]:
    return _greys(_values())


@cache
def _step_codes(scale: tuple[float, ...]) -> NDArray[np.uint8]:
    steps = np.asarray(scale, float)
    middles = (steps[1:] + steps[:-1]) / 2
    return _greys(steps[np.searchsorted(middles, _values())])


def _in_greys(pixels: Pixels, codes: NDArray[np.uint8]) -> Pixels:
    out = np.empty_like(pixels)
    kernels.grey_picture(np.ascontiguousarray(pixels), out, codes, _linear_codes())
    return out


def _edges(pixels: Pixels, scale: tuple[float, ...]) -> Pixels:
    """Edges on paper: hard ones as thin dark lines, soft ones as wide warm bands, lost ones not at all.

    By how steep values are near by and farther off: a hard edge is steeper by far when it is looked at closely.
    """
    value = (_in_greys(pixels, _value_codes()) & np.uint32(255)).astype(np.float32) / np.float32(2.55)
    near, far = (_steepness(value, sigma) for sigma in (NEAR_PX, FAR_PX))
    # Of a step of any height, seen through a blur: its height, and how much closer its sides are than the blur.
    high = far * np.float32(FAR_PX * np.sqrt(2 * np.pi))
    shows = np.clip((high - LEAST_STEP) / LEAST_STEP, 0, 1)
    ratio = near / np.maximum(far, 1e-3)
    hard = np.clip((ratio - 1.6) / 1.6, 0, 1)
    line = np.clip(near * np.float32(NEAR_PX * np.sqrt(2 * np.pi)) / np.maximum(high, 1e-3), 0, 1) * hard * shows
    # What is left of a hard edge farther off is not a soft one.
    beside = cv2.GaussianBlur(cv2.dilate(line, np.ones((13, 13), np.uint8)), (0, 0), 1.5)
    band = (1 - hard) * shows * 0.8 * np.clip(1 - 1.6 * beside, 0, 1)
    out = np.zeros(pixels.shape, np.uint32)
    for shift, (paper, ink, warm) in zip((16, 8, 0), zip(PAPER, HARD, SOFT, strict=True), strict=True):
        channel = paper + (warm - paper) * band
        channel = channel + (ink - channel) * line
        out |= np.rint(np.clip(channel, 0, 255)).astype(np.uint32) << np.uint32(shift)
    return np.uint32(0xFF000000) | out


def _steepness(value: NDArray[np.float32], sigma: float) -> NDArray[np.float32]:
    """L* a pixel (h, w) of values seen through a blur."""
    soft = cv2.GaussianBlur(value, (0, 0), sigma, borderType=cv2.BORDER_REPLICATE)
    across, down = (cv2.Sobel(soft, cv2.CV_32F, *way, ksize=3, borderType=cv2.BORDER_REPLICATE) / 8
                    for way in ((1, 0), (0, 1)))  # fmt: skip
    return np.hypot(across, down).astype(np.float32)


NEAR_PX, FAR_PX = 0.8, 4.0
EDGES_REACH_PX: Final = 14
"""So far from a pixel lies what the look of edges asks for."""
LEAST_STEP: Final = 5.0
"""L* that an edge has to be high to be one."""
PAPER, HARD, SOFT = (233, 229, 220), (28, 24, 22), (206, 146, 62)

LOOKS: Final[dict[str, Callable[[Pixels, tuple[float, ...]], Pixels]]] = {
    "colour": lambda pixels, _: pixels,
    "values": lambda pixels, _: _in_greys(pixels, _value_codes()),
    "steps": lambda pixels, scale: _in_greys(pixels, _step_codes(scale)),
    "edges": _edges,
}
"""Every look: from 0xffRRGGBB pixels and a part's scale to what is seen."""
