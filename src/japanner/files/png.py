"""PNG in and out, 8 and 16 bit, with resolution and colour space.

References
----------
W3C Portable Network Graphics (PNG) Specification: chunk layout, `pHYs`, `sRGB`.
"""

from __future__ import annotations

import io
import struct
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from japanner import checks
from japanner.errors import FileFormatError, InputError
from japanner.files.opened import Opened
from japanner.files.reading import read_bytes
from japanner.files.writing import replacing
from japanner.painting.model import LARGEST_AREA_PX, Layer, Painting, Part
from japanner.painting.picture.compositor import flattened
from japanner.raster import png_data
from japanner.raster.png_data import SIGNATURE, as_8_bit, chunk, size_in
from japanner.raster.tiles import LONGEST_SIDE, Raster, premultiplied

__all__ = [
    "SIGNATURE",
    "Picture",
    "as_8_bit",
    "check_size",
    "encode",
    "export",
    "export_pixels",
    "opened",
    "painting_of",
    "read",
    "size_of",
    "to_srgb",
]

METRES_PER_INCH: Final = 0.0254

# Pillow's own limit lies below ours, which is checked before Pillow sees a file.
Image.MAX_IMAGE_PIXELS = None


@dataclass(frozen=True, eq=False)
class Picture:
    """A decoded picture: straight sRGB uint16 (4, h, w), its resolution if it says, and remarks for the painter."""

    pixels: NDArray[np.uint16]
    ppi: float | None
    remarks: tuple[str, ...] = ()


def encode(pixels: NDArray[Any], ppi: float | None = None) -> bytes:
    """A PNG of straight sRGB channels, uint8 or uint16, shape (3 or 4, h, w), or of one grey (1, h, w)."""
    extra = chunk(b"sRGB", b"\0")
    if ppi is not None:
        per_metre = round(ppi / METRES_PER_INCH)
        extra += chunk(b"pHYs", struct.pack(">IIB", per_metre, per_metre, 1))
    return png_data.encode(pixels, extra)


def export(painting: Painting, path: Path, *, bits: int = 8) -> None:
    """Write the painting's picture as an opaque PNG of 8 or 16 bits a channel with its ppi."""
    checks.one_of("bits", str(bits), ("8", "16"))
    pixels = flattened(painting).read(painting.rect)[:3]
    data = encode(as_8_bit(pixels) if bits == 8 else pixels, painting.ppi)
    with replacing(path) as file:
        file.write(data)


def export_pixels(pixels: NDArray[np.uint32], path: Path, ppi: float) -> None:
    """Write 0xffRRGGBB pixels (h, w) as an opaque 8-bit PNG."""
    codes = np.stack([pixels >> shift & 255 for shift in (16, 8, 0)]).astype(np.uint8)
    with replacing(path) as file:
        file.write(encode(codes, ppi))


def read(data: bytes, name: str) -> Picture:
    """Decode a PNG; FileFormatError says in one sentence why it cannot be."""
    size_of(data, name)
    try:
        with Image.open(io.BytesIO(data), formats=["PNG"]) as header:
            ppi, profile = header.info.get("dpi"), header.info.get("icc_profile")
    except Exception as error:  # Pillow raises many kinds for damaged files, and each means the same to us
        raise FileFormatError(f"{name} is not a readable PNG picture.") from error
    pixels = _decoded(data, name)
    remarks: tuple[str, ...] = ()
    if profile:
        pixels, remarks = to_srgb(pixels, profile)
    return Picture(pixels, float(ppi[0]) if ppi else None, remarks)


def size_of(data: bytes, name: str) -> tuple[int, int]:
    """Width and height that a PNG says it has; FileFormatError if it is none, or larger than what can be opened."""
    size = size_in(data)
    if size is None:
        raise FileFormatError(f"{name} is not a readable PNG picture.")
    check_size(size, name)
    return size


def check_size(size: tuple[int, int], name: str) -> None:
    """FileFormatError if a picture of that width and height is larger than what can be opened."""
    width, height = size
    if max(size) > LONGEST_SIDE or width * height > LARGEST_AREA_PX:
        raise FileFormatError(
            f"{name} is {width} x {height} px, more than the {LARGEST_AREA_PX / 1e6:.0f} Mpx that can be opened."
        )


def _decoded(data: bytes, name: str) -> NDArray[np.uint16]:
    """All PNG colour types as straight RGBA of 16 bits."""
    try:
        planes = png_data.decode(data)
    except InputError as error:
        raise FileFormatError(f"{name} is damaged or cut off.") from error
    if planes is None:
        planes = _of_another_kind(data, name)
    if len(planes) == 4:
        return planes
    colours = planes[:3] if len(planes) == 3 else np.repeat(planes[:1], 3, axis=0)
    cover = planes[1:] if len(planes) == 2 else np.full((1, *planes.shape[1:]), 65535, np.uint16)
    return np.concatenate((colours, cover))


def _of_another_kind(data: bytes, name: str) -> NDArray[np.uint16]:
    """Straight channels of PNGs with a palette, a transparent colour, interlacing, or fewer bits."""
    try:
        with Image.open(io.BytesIO(data), formats=["PNG"]) as whole:
            whole.load()  # checks every checksum; OpenCV fills missing rows without a word
            if "transparency" in whole.info:
                return np.asarray(whole.convert("RGBA")).transpose(2, 0, 1).astype(np.uint16) * np.uint16(257)
        image = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    except Exception as error:
        raise FileFormatError(f"{name} is damaged or cut off.") from error
    if image is None or image.dtype not in (np.uint8, np.uint16):
        raise FileFormatError(f"{name} is damaged or of a kind of PNG that cannot be read.")
    wide = image if image.dtype == np.uint16 else image.astype(np.uint16) * np.uint16(257)
    if wide.ndim == 2:
        return wide[None]
    return np.ascontiguousarray(wide[..., (2, 1, 0, 3)[: wide.shape[2]]].transpose(2, 0, 1))


def to_srgb(pixels: NDArray[np.uint16], profile: bytes) -> tuple[NDArray[np.uint16], tuple[str, ...]]:
    """Straight pixels (4, h, w) from an embedded ICC profile, at 16 bits; one that is damaged is said to be."""
    from japanner.files.colour.profiles import from_profile  # noqa: PLC0415 - most pictures are sRGB

    try:
        colours, said = from_profile(pixels[:3], profile)
    except FileFormatError as error:
        return pixels, (f"{error} The picture is taken as sRGB.",)
    return np.concatenate((colours, pixels[3:])), (said,) if said else ()


def opened(path: Path) -> Opened:
    """A picture becomes the flat of a single part."""
    return painting_of(read(read_bytes(path), path.name), path)


def painting_of(picture: Picture, path: Path) -> Opened:
    """A painting whose only part has a picture for its flat."""
    _, height, width = picture.pixels.shape
    ppi = picture.ppi if picture.ppi and 1 <= picture.ppi <= 10000 else 300.0
    try:
        pixels = Raster(width, height).written(0, 0, premultiplied(picture.pixels))
        layer = Layer(2, "Picture", "flat", pixels)
        part = Part(1, "Picture", "plain", (layer,))
        title = "".join(c for c in path.stem if c.isprintable())[:200] or "Untitled"
        painting = Painting(width, height, ppi, title, parts=(part,), next_uid=3)
    except InputError as error:
        raise FileFormatError(f"{path.name} cannot be opened: {error}.") from error
    return Opened(painting, (), picture.remarks)
