"""Pictures for the reference board: kept in the painting as a reduced copy, or linked, with a small copy in case."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.errors import FileFormatError
from japanner.files.pictures import read_picture
from japanner.painting.model import Pinned
from japanner.painting.operations import PinPicture
from japanner.raster.codec import decoded, to_text
from japanner.raster.png_data import as_8_bit

__all__ = ["KEPT_PX", "Reference", "pin_of", "reference_of", "size_of"]

KEPT_PX: Final = 2400
"""A copy that is kept has this longer side at the most."""
LINKED_PX: Final = 600
"""So large is the copy of a linked one, for when its file is gone."""
Pixels = NDArray[np.uint8]


@dataclass(frozen=True, eq=False)
class Reference:
    """Straight pixels (4, h, w) of 8 bits. lost: why its file does not show, in a sentence; "" where it does."""

    pixels: Pixels
    lost: str = ""


def pin_of(pixels: NDArray[np.uint16], name: str, link: Path | None = None) -> PinPicture:
    """What pins a picture, straight uint16 (4, h, w): as a reduced copy, or linked to the file that it comes from."""
    _, height, width = pixels.shape
    small = _reduced(as_8_bit(pixels), KEPT_PX if link is None else LINKED_PX)
    data = to_text(small.astype(np.uint16) * np.uint16(257))
    if link is None:
        return PinPicture(name, data)
    return PinPicture(name, data, str(link.resolve()), width, height)


def _reduced(pixels: Pixels, long_px: int) -> Pixels:
    _, height, width = pixels.shape
    factor = long_px / max(height, width)
    if factor >= 1:
        return pixels
    return _resized(pixels, max(round(width * factor), 1), max(round(height * factor), 1))


def _resized(pixels: Pixels, width: int, height: int) -> Pixels:
    how = cv2.INTER_AREA if width <= pixels.shape[2] else cv2.INTER_CUBIC
    found: Pixels = np.stack([cv2.resize(one, (width, height), interpolation=how) for one in pixels])
    return found


def size_of(pinned: Pinned) -> tuple[int, int]:
    """Width and height that places on it count in."""
    if pinned.width:
        return pinned.width, pinned.height
    _, height, width = _copy(pinned.data).shape
    return width, height


@lru_cache(maxsize=16)
def _copy(data: bytes) -> Pixels:
    found: Pixels = as_8_bit(decoded(data))
    return found


def reference_of(pinned: Pinned) -> Reference:
    """A pinned picture at its full size; its copy where the file that it is linked to is gone, or is another one."""
    if not pinned.link:
        return Reference(_copy(pinned.data))
    try:
        stamp = Path(pinned.link).stat().st_mtime_ns
    except OSError:
        stamp = None
    pixels = None if stamp is None else _file(pinned.link, stamp)
    wide, high = size_of(pinned)
    if pixels is not None and pixels.shape[1:] == (high, wide):
        return Reference(pixels)
    name = Path(pinned.link).name
    why = "is not where it was" if stamp is None else "cannot be read" if pixels is None else "has another size by now"
    return Reference(_resized(_copy(pinned.data), wide, high), f"{name} {why}: a small copy of it is shown.")


@lru_cache(maxsize=4)
def _file(path: str, stamp: int) -> Pixels | None:
    """Of a file as it was at a time; None where it cannot be read."""
    try:
        found: Pixels = as_8_bit(read_picture(Path(path)).pixels)
    except FileFormatError:
        return None
    return found
