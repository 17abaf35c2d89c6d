"""PNG data as text, for records."""

from __future__ import annotations

import base64
import binascii
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.raster import png_data
from japanner.raster.png_data import as_8_bit

__all__ = ["LARGEST_PICTURE_PX", "data_of", "decoded", "from_text", "picture_in", "to_text", "to_text_of"]

LARGEST_PICTURE_PX: Final = 100_000_000


def to_text(pixels: NDArray[np.uint16]) -> str:
    """Straight pixels (4, h, w) as text; 8 bits a channel if that loses nothing."""
    narrow = as_8_bit(pixels)
    exact = np.array_equal(narrow.astype(np.uint16) * np.uint16(257), pixels)
    return to_text_of(png_data.encode(narrow if exact else pixels))


def to_text_of(data: bytes) -> str:
    """PNG data as text."""
    return base64.b64encode(data).decode("ascii")


def picture_in(text: str) -> bytes | None:
    """The PNG data that a text is; None if it is something else, or would not come back as the same text."""
    try:
        data = base64.b64decode(text, validate=True)
    except (binascii.Error, ValueError):
        return None
    return data if data.startswith(png_data.SIGNATURE) and to_text_of(data) == text else None


def data_of(text: str) -> bytes:
    """The PNG data in such text, its size checked; anything else raises InputError."""
    try:
        data = base64.b64decode(text, validate=True)
    except (binascii.Error, ValueError, TypeError):
        raise InputError("picture: expected PNG data as text") from None
    width, height = png_data.size_in(data) or (0, 0)
    checks.integer("pixels of the picture", width * height, 1, LARGEST_PICTURE_PX)
    return data


def decoded(data: bytes) -> NDArray[np.uint16]:
    """Straight uint16 pixels (4, h, w) from PNG data of ours; anything else raises InputError."""
    try:
        pixels = png_data.decode(data)
    except InputError as error:
        raise InputError(f"picture: {error}") from None
    if pixels is None or len(pixels) != 4:
        raise InputError("picture: expected PNG data with four channels")
    return pixels


def from_text(text: str) -> NDArray[np.uint16]:
    """Straight uint16 pixels (4, h, w) from PNG data as text."""
    return decoded(data_of(text))
