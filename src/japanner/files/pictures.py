"""Pictures of other kinds than ours, decoded with distrust: PNG, and JPEG, TIFF and WebP by Pillow."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Final

import numpy as np
from PIL import Image, ImageOps

from japanner.errors import FileFormatError
from japanner.files import png
from japanner.files.png import Picture

__all__ = ["PICTURE_NAMES", "read_picture"]

PICTURE_NAMES: Final = "*.png *.jpg *.jpeg *.webp *.tif *.tiff"
KINDS: Final = ("JPEG", "WEBP", "TIFF")
LARGEST_FILE: Final = 2 << 30


def read_picture(path: Path) -> Picture:
    """The picture in a file as straight sRGB; FileFormatError says in one sentence why it cannot be had."""
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise FileFormatError(f"{path.name} is refused: it is {path.stat().st_size / 1e9:.0f} GB long.")
        data = path.read_bytes()
    except OSError as error:
        raise FileFormatError(f"{path.name} cannot be read: {(error.strerror or str(error)).lower()}.") from error
    if data.startswith(png.SIGNATURE):
        return png.read(data, path.name)
    try:
        with Image.open(io.BytesIO(data), formats=list(KINDS)) as image:
            png.check_size(image.size, path.name)
            ppi, profile = image.info.get("dpi"), image.info.get("icc_profile")
            upright = ImageOps.exif_transpose(image).convert("RGBA")
            codes = np.asarray(upright).transpose(2, 0, 1)
    except FileFormatError:
        raise
    except Exception as error:  # Pillow raises many kinds for damaged files, and each means the same to us
        raise FileFormatError(f"{path.name} is damaged, or no picture of a kind that can be read here.") from error
    pixels = np.ascontiguousarray(codes.astype(np.uint16) * np.uint16(257))
    remarks: tuple[str, ...] = ()
    if profile:
        pixels, remarks = png.to_srgb(pixels, profile)
    return Picture(pixels, float(ppi[0]) if ppi else None, remarks)
