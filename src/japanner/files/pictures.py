"""Pictures of other kinds than ours, decoded with distrust: PNG and TIFF at their bits, JPEG and WebP by Pillow."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps

from japanner.errors import FileFormatError
from japanner.files import png
from japanner.files.colour.profiles import from_profile
from japanner.files.png import Picture
from japanner.files.reading import read_bytes
from japanner.files.tiff.pages import BEGINS, pictures_in

__all__ = ["PICTURE_NAMES", "read_picture"]

PICTURE_NAMES: Final = "*.png *.jpg *.jpeg *.webp *.tif *.tiff"
KINDS: Final = ("JPEG", "WEBP")
OWN_PLANES: Final = ("CMYK", "L")
"""Kinds of planes that a profile of their own belongs to."""
LARGEST_PICTURE: Final = 2 << 30


def read_picture(path: Path) -> Picture:
    """The picture in a file as straight sRGB; FileFormatError says in one sentence why it cannot be had."""
    data = read_bytes(path, LARGEST_PICTURE)
    if data.startswith(png.SIGNATURE):
        return png.read(data, path.name)
    if data.startswith(BEGINS):
        return pictures_in(data, path.name, first=True)[0][0]
    try:
        with Image.open(io.BytesIO(data), formats=list(KINDS)) as image:
            png.check_size(image.size, path.name)
            ppi, profile = image.info.get("dpi"), image.info.get("icc_profile")
            upright = ImageOps.exif_transpose(image)
            raw = np.atleast_3d(np.asarray(upright)) if profile and upright.mode in OWN_PLANES else None
            codes = np.asarray(upright.convert("RGBA")).transpose(2, 0, 1)
    except FileFormatError:
        raise
    except Exception as error:  # Pillow raises many kinds for damaged files, and each means the same to us
        raise FileFormatError(f"{path.name} is damaged, or no picture of a kind that can be read here.") from error
    pixels = np.ascontiguousarray(codes.astype(np.uint16) * np.uint16(257))
    remarks: tuple[str, ...] = ()
    if raw is not None and profile:
        return Picture(*_through_profile(raw, profile, pixels, float(ppi[0]) if ppi else None))
    if profile:
        pixels, remarks = png.to_srgb(pixels, profile)
    return Picture(pixels, float(ppi[0]) if ppi else None, remarks)


def _through_profile(
    raw: NDArray[np.uint8], profile: bytes, pixels: NDArray[np.uint16], ppi: float | None
) -> tuple[NDArray[np.uint16], float | None, tuple[str, ...]]:
    """A picture of inks or greys (h, w, n) by its profile; as `pixels` have it where that cannot be used."""
    planes = raw.transpose(2, 0, 1).astype(np.uint16) * np.uint16(257)
    try:
        colours, said = from_profile(planes, profile)
    except FileFormatError as error:
        return pixels, ppi, (f"{error} The picture is taken as sRGB.",)
    return np.concatenate((colours, pixels[3:])), ppi, (said,) if said else ()
