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
from japanner.files.reading import read_bytes

__all__ = ["PICTURE_NAMES", "read_picture"]

PICTURE_NAMES: Final = "*.png *.jpg *.jpeg *.webp *.tif *.tiff"
KINDS: Final = ("JPEG", "WEBP", "TIFF")
LARGEST_PICTURE: Final = 2 << 30


def read_picture(path: Path) -> Picture:
    """The picture in a file as straight sRGB; FileFormatError says in one sentence why it cannot be had."""
    data = read_bytes(path, LARGEST_PICTURE)
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
