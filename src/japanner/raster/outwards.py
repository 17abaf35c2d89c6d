"""Numbers of a region carried on beyond it: what lies outside takes those of the nearest place inside."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

__all__ = ["outwards"]


def outwards(inside: NDArray[np.bool_], *planes: NDArray[Any]) -> list[NDArray[Any]]:
    """Planes (..., h, w) as they are inside (h, w), and elsewhere as at the nearest pixel inside (to some per cent of
    the way; Borgefors 1986). Something must be inside.
    """
    nothing = ~inside
    if not nothing.any():
        return list(planes)
    _, label = cv2.distanceTransformWithLabels(nothing.astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    places = np.flatnonzero(inside)
    of_label = np.empty(int(label.max()) + 1, np.intp)
    of_label[label.reshape(-1)[places]] = places
    there = np.flatnonzero(nothing)
    source = of_label[label.reshape(-1)[there]]
    result = []
    for plane in planes:
        flat = np.ascontiguousarray(plane).reshape(-1, inside.size)
        flat = flat.copy() if np.shares_memory(flat, plane) else flat
        for one in flat:
            one[there] = one[source]
        result.append(flat.reshape(plane.shape))
    return result
