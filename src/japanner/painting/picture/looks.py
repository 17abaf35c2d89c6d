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
from japanner.raster import _kernels_tiles as kernels

__all__ = ["EVEN_STEPS", "LOOKS", "SQUINTS", "even_scale", "grey_code", "look", "nearest_step", "squinted"]

EVEN_STEPS: Final = (2, 3, 4, 5, 6, 7, 8, 9)
SQUINTS: Final = (1, 2, 3, 4, 5)
"""How far a squint blurs, in per cent of the picture's longer side."""

Pixels = NDArray[np.uint32]


def look(name: str, pixels: Pixels, scale: tuple[float, ...] = ()) -> Pixels:
    """0xffRRGGBB pixels (h, w) as the look shows them; `scale` is the part's five steps for "steps"."""
    codes_of = LOOKS[checks.one_of("look", name, LOOKS)]
    if codes_of is None:
        return pixels
    out, codes = np.empty_like(pixels), codes_of(tuple(scale))
    kernels.grey_picture(np.ascontiguousarray(pixels), out, codes, _linear_codes())
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


LOOKS: Final[dict[str, Callable[[tuple[float, ...]], NDArray[np.uint8]] | None]] = {
    "colour": None,
    "values": lambda _: _value_codes(),
    "steps": _step_codes,
}
"""Every look: from a part's scale to the grey of each value, or None for the picture as it is."""
