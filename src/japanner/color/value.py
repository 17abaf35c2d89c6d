"""Moving a colour in value while its hue holds, and the exposure arithmetic of dodging and burning."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final

import numpy as np
import scipy
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.color import lab, oklab, srgb
from japanner.types import Colour

__all__ = ["TONES", "exposed", "srgb_from_lch", "srgb_from_value", "tone_weight", "with_value"]


ROOTS: Final = oklab.ROOTS_FROM_LAB.tolist()
LUMINANCE_OF_LMS: Final = (srgb.LUMINANCE_WEIGHTS @ oklab.LINEAR_FROM_LMS).tolist()

MOST_LIGHTNESS: Final = 1.3
NEWTON_STEPS: Final = 12
ROOT_WITHIN: Final = 1e-12

TONES: Final = ("all", "shadows", "midtones", "highlights")


def tone_weight(tone: str, value: ArrayLike) -> NDArray[Any]:
    """Weight 0..1 of a tone range at L* 0..100, any shape; the three ranges sum to 1 everywhere.

    Cosine windows (our choice): shadows fall to 0 at L* 50, highlights rise from there.
    """
    t = np.asarray(value, dtype=np.float64) / 100
    name = checks.one_of("tone", tone, TONES)
    if name == "all":
        return np.ones_like(t)
    if name == "midtones":
        return np.sin(np.pi * t) ** 2
    return np.where(t < 0.5 if name == "shadows" else t > 0.5, np.cos(np.pi * t) ** 2, 0.0)


def exposed(encoded: ArrayLike, stops: float, tone: str = "all") -> NDArray[Any]:
    """Encoded sRGB after an exposure of `stops` in linear light, shape (..., 3); channels clip at 1.

    Chromaticity holds until a channel reaches 1. The unit is that of exposure value (ISO 2720):
    one stop doubles the light.
    """
    linear = srgb.decode(checks.as_channels("encoded", encoded))
    weight = tone_weight(tone, lab.lightness(srgb.luminance(linear)))
    return srgb.encode(np.minimum(linear * 2.0 ** (stops * weight[..., None]), 1.0))


def srgb_from_value(value: float, chroma: float, hue_deg: float) -> Colour:
    """The encoded colour of CIE L* `value`, OKLab `chroma` and hue; chroma shrinks to fit the sRGB gamut.

    Parameters
    ----------
    value : L*, 0..100
    chroma : OKLab chroma, 0..0.5
    hue_deg : OKLab hue in degrees
    """
    checks.number("value", value, 0, 100)
    checks.number("chroma", chroma, 0, 0.5)
    low, high = 0.0, float(chroma)
    best = _at_chroma(value, high, hue_deg)
    if _in_gamut(best):
        return _clipped(best)
    for _ in range(20):
        middle = (low + high) / 2
        best = _at_chroma(value, middle, hue_deg)
        low, high = (middle, high) if _in_gamut(best) else (low, middle)
    return _clipped(_at_chroma(value, low, hue_deg))


def srgb_from_lch(value: float, chroma: float, hue_deg: float) -> Colour:
    """The encoded colour of CIE L* `value` (0..100), C* `chroma` (0..200) and h `hue_deg`.

    What the sRGB gamut does not hold keeps L* and its OKLab hue, and loses chroma.
    """
    checks.number("value", value, 0, 100)
    checks.number("chroma", chroma, 0, 200)
    hue = np.radians(checks.number("hue_deg", hue_deg, -360, 720))
    linear = srgb.linear_from_xyz(lab.xyz_from_lab((value, chroma * np.cos(hue), chroma * np.sin(hue))))
    a, b = oklab.oklab_from_linear(linear)[1:]
    return srgb_from_value(value, min(float(np.hypot(a, b)), 0.5), float(np.degrees(np.arctan2(b, a))))


def with_value(encoded: ArrayLike, value: float) -> Colour:
    """Move one encoded colour to L* `value` at its OKLab hue, keeping chroma as far as the gamut allows."""
    _, chroma, hue = (float(x) for x in oklab.oklch_from_srgb(encoded))
    return srgb_from_value(value, min(chroma, 0.5), hue)


def _at_chroma(value: float, chroma: float, hue_deg: float) -> NDArray[Any]:
    """Linear RGB with the OKLab lightness whose CIE L* is `value`."""
    target = float(lab.luminance_from_lightness(value))
    hue = np.radians(hue_deg)
    a, b = float(chroma * np.cos(hue)), float(chroma * np.sin(hue))
    (l0, l1, l2), (m0, m1, m2), (s0, s1, s2) = ROOTS
    at_l, at_m, at_s = l1 * a + l2 * b, m1 * a + m2 * b, s1 * a + s2 * b
    wl, wm, ws = LUMINANCE_OF_LMS

    def over(lightness: float) -> tuple[float, float]:
        """How much too bright, a cubic in the lightness, and its slope (plain numbers: grids ask a thousand times)."""
        long, middle, short = l0 * lightness + at_l, m0 * lightness + at_m, s0 * lightness + at_s
        bright = wl * long * long * long + wm * middle * middle * middle + ws * short * short * short - target
        return bright, 3 * (wl * l0 * long * long + wm * m0 * middle * middle + ws * s0 * short * short)

    if over(0.0)[0] >= 0:
        found = 0.0
    else:
        # From the grey of that value Newton's rule comes there in a few steps; if not, a bracket does.
        found, settled = _newton(over, target ** (1 / 3))
        if not settled or not 0 <= found <= MOST_LIGHTNESS:
            found = float(scipy.optimize.brentq(lambda at: over(at)[0], 0.0, MOST_LIGHTNESS, xtol=1e-12))
    return oklab.linear_from_oklab(np.array([found, a, b]))


def _newton(function: Callable[[float], tuple[float, float]], at: float) -> tuple[float, bool]:
    """A root by Newton's rule, of a function that also gives its slope, and whether it was found."""
    for _ in range(NEWTON_STEPS):
        value, slope = function(at)
        if slope <= 0:
            break
        step = value / slope
        at -= step
        if abs(step) < ROOT_WITHIN:
            return at, True
    return at, False


def _in_gamut(linear: NDArray[Any]) -> bool:
    return bool((linear > -1e-5).all() and (linear < 1 + 1e-5).all())


def _clipped(linear: NDArray[Any]) -> Colour:
    r, g, b = srgb.encode(np.clip(linear, 0, 1))
    return float(r), float(g), float(b)
