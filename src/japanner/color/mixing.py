"""How two colours mix: four models, each right for something.

encoded: plain averages of sRGB codes, as layers blend. light: averages of light, as two beams or a blur in the eye do.
perceptual: averages in OKLab, even to the eye, without the dark seam between strong hues. pigment: as paints do, blue
and yellow giving green.
"""

from __future__ import annotations

from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.color import oklab, pigment, srgb

__all__ = ["MIXINGS", "mixed"]

MIXINGS: Final = ("encoded", "light", "perceptual", "pigment")


def mixed(one: ArrayLike, other: ArrayLike, share: ArrayLike, how: str) -> NDArray[Any]:
    """Encoded sRGB (..., 3) of a mixture of two encoded colours, `share` 0..1 (...) being the other; cut to 0..1."""
    checks.one_of("mixing", how, MIXINGS)
    a, b, t = checks.as_channels("one", one), checks.as_channels("other", other), np.asarray(share)[..., None]
    if how == "encoded":
        return np.clip((1 - t) * a + t * b, 0, 1)
    first, second = srgb.decode(a), srgb.decode(b)
    if how == "light":
        light = (1 - t) * first + t * second
    elif how == "perceptual":
        light = oklab.linear_from_oklab((1 - t) * oklab.oklab_from_linear(first) + t * oklab.oklab_from_linear(second))
    else:
        light = pigment.mixed_linear(first, second, share)
    return srgb.encode(np.clip(light, 0, 1))
