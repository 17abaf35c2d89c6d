"""What a part shows by itself, for hair that takes its colour from the paint beneath."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.model import Painting, Part
from japanner.painting.picture.compositor import flattened
from japanner.painting.value.mixing_grid import local_colour
from japanner.raster.geometry import Rect
from japanner.raster.outwards import outwards

__all__ = ["PLAIN", "own_paint"]

SOFT_PX: Final = 1.2
WHOLE: Final = 0.98
"""Where so much of a pixel is silhouette, nothing else shows in it."""
PLAIN: Final = (0.5, 0.48, 0.46)
"""The colour of a part that has none yet."""


def own_paint(painting: Painting, part: Part, area: Rect, without: tuple[str, ...] = ()) -> NDArray[np.float32]:
    """Encoded colour (3, h, w), 0..1, of the part alone over an area; outside of its silhouette as next to it. Layers
    of the roles `without` do not count.
    """
    whole = silhouette_sheet(painting, part).coverage(area) > WHOLE
    if not whole.any():
        local = np.asarray(local_colour(painting, part) or PLAIN, np.float32)
        return np.broadcast_to(local[:, None, None], (3, area.height, area.width)).copy()
    counted = tuple(layer for layer in part.layers if layer.role not in without)
    alone = replace(painting, parts=(replace(part, layers=counted),))
    codes = flattened(alone).read(area)[:3].astype(np.float32) / np.float32(65535)
    (codes,) = outwards(whole, codes)
    # Hair carries a colour along: single pixels of paint do not show.
    return np.stack([scipy.ndimage.gaussian_filter(plane, SOFT_PX) for plane in codes])
