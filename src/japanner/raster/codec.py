"""PNG data of straight pixels, plain and as text for records."""

from __future__ import annotations

import base64
import binascii
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError

__all__ = ["LARGEST_PICTURE_PX", "as_8_bit", "data_of", "decoded", "encoded", "from_text", "to_text", "to_text_of"]

LARGEST_PICTURE_PX: Final = 100_000_000
# Level 1 on differences between rows: of what was measured on painted 16-bit layers the fastest, and the smallest.
COMPRESSION: Final = [cv2.IMWRITE_PNG_COMPRESSION, 1, cv2.IMWRITE_PNG_FILTER, cv2.IMWRITE_PNG_FILTER_UP]


def as_8_bit(pixels: NDArray[np.uint16]) -> NDArray[np.uint8]:
    """Codes 0..255 from 0..65535, rounded."""
    return ((pixels.astype(np.uint32) * 255 + 32767) // 65535).astype(np.uint8)


def encoded(pixels: NDArray[Any]) -> bytes:
    """PNG data of straight channels, uint8 or uint16, shape (1, 3 or 4, h, w)."""
    order = [2, 1, 0, 3][: pixels.shape[0]] if pixels.shape[0] > 1 else [0]
    ok, data = cv2.imencode(".png", np.ascontiguousarray(pixels[order].transpose(1, 2, 0)), COMPRESSION)
    if not ok:
        raise InputError("The picture could not be encoded as PNG")
    return data.tobytes()


def to_text(pixels: NDArray[np.uint16]) -> str:
    """Straight pixels (4, h, w) as text; 8 bits a channel if that loses nothing."""
    narrow = as_8_bit(pixels)
    exact = np.array_equal(narrow.astype(np.uint16) * np.uint16(257), pixels)
    return to_text_of(encoded(narrow if exact else pixels))


def to_text_of(data: bytes) -> str:
    """PNG data as text."""
    return base64.b64encode(data).decode("ascii")


def data_of(text: str) -> bytes:
    """The PNG data in such text, its size checked; anything else raises InputError."""
    try:
        data = base64.b64decode(text, validate=True)
    except (binascii.Error, ValueError, TypeError):
        raise InputError("picture: expected PNG data as text") from None
    width, height = (int.from_bytes(data[at : at + 4], "big") for at in (16, 20))
    checks.integer("pixels of the picture", width * height, 1, LARGEST_PICTURE_PX)
    return data


def decoded(data: bytes) -> NDArray[np.uint16]:
    """Straight uint16 pixels (4, h, w) from PNG data of ours; anything else raises InputError."""
    try:
        image = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    except cv2.error:
        image = None
    if image is None or image.ndim != 3 or image.shape[2] != 4 or image.dtype not in (np.uint8, np.uint16):
        raise InputError("picture: expected PNG data with four channels")
    wide = image.astype(np.uint16) * np.uint16(257) if image.dtype == np.uint8 else image
    return np.ascontiguousarray(wide[..., [2, 1, 0, 3]].transpose(2, 0, 1))


def from_text(text: str) -> NDArray[np.uint16]:
    """Straight uint16 pixels (4, h, w) from PNG data as text."""
    return decoded(data_of(text))
