"""Colour difference CIEDE2000."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks

__all__ = ["ciede2000"]


def ciede2000(lab1: ArrayLike, lab2: ArrayLike) -> NDArray[Any]:
    """CIEDE2000 with kL = kC = kH = 1 between L*a*b* arrays of shape (..., 3), as (...).

    References
    ----------
    Sharma, Wu & Dalal (2005), Color Res. Appl. 30(1), 21; CIE 142. Symbols as in the paper.
    """
    one, two = checks.as_channels("lab1", lab1), checks.as_channels("lab2", lab2)
    L1, a1, b1 = (one[..., i] for i in range(3))
    L2, a2, b2 = (two[..., i] for i in range(3))
    mean_C7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    G = 0.5 * (1 - np.sqrt(mean_C7 / (mean_C7 + 25.0**7)))
    C1, C2 = np.hypot((1 + G) * a1, b1), np.hypot((1 + G) * a2, b2)
    h1 = np.degrees(np.arctan2(b1, (1 + G) * a1)) % 360
    h2 = np.degrees(np.arctan2(b2, (1 + G) * a2)) % 360

    grey = C1 * C2 == 0
    dh = np.where(grey, 0.0, (h2 - h1 + 180) % 360 - 180)
    # The paper keeps +180 for a difference of exactly 180 degrees; the remainder gives -180.
    dh = np.where((dh == -180) & (h2 > h1), 180.0, dh)
    dL, dC, dH = L2 - L1, C2 - C1, 2 * np.sqrt(C1 * C2) * np.sin(np.radians(dh / 2))

    mean_L, mean_C = (L1 + L2) / 2, (C1 + C2) / 2
    far = np.abs(h1 - h2) > 180
    mean_h = np.where(far, (h1 + h2 + np.where(h1 + h2 < 360, 360, -360)) / 2, (h1 + h2) / 2)
    mean_h = np.where(grey, h1 + h2, mean_h)
    T = (
        1
        - 0.17 * np.cos(np.radians(mean_h - 30))
        + 0.24 * np.cos(np.radians(2 * mean_h))
        + 0.32 * np.cos(np.radians(3 * mean_h + 6))
        - 0.20 * np.cos(np.radians(4 * mean_h - 63))
    )
    S_L = 1 + 0.015 * (mean_L - 50) ** 2 / np.sqrt(20 + (mean_L - 50) ** 2)
    S_C, S_H = 1 + 0.045 * mean_C, 1 + 0.015 * mean_C * T
    R_C = 2 * np.sqrt(mean_C**7 / (mean_C**7 + 25.0**7))
    R_T = -np.sin(np.radians(60 * np.exp(-(((mean_h - 275) / 25) ** 2)))) * R_C
    return np.sqrt((dL / S_L) ** 2 + (dC / S_C) ** 2 + (dH / S_H) ** 2 + R_T * (dC / S_C) * (dH / S_H))
