"""TIFF, JPEG and WebP out and in: flat pictures, and TIFF with a page for every layer."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from japanner import checks
from japanner.errors import InputError
from japanner.files import png
from japanner.files.colour.profiles import srgb_icc
from japanner.files.opened import Opened
from japanner.files.pictures import read_picture
from japanner.files.png import as_8_bit
from japanner.files.reading import read_bytes
from japanner.files.tiff.pages import MOST_PAGES, pictures_in
from japanner.files.writing import replacing
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.picture.compositor import flattened
from japanner.raster.tiles import Raster, premultiplied, straight

__all__ = [
    "MOST_PAGES",
    "export_jpeg",
    "export_layers",
    "export_tiff",
    "export_webp",
    "opened",
    "opened_tiff",
]

QUALITY: Final = 95
LARGEST: Final = 2 << 30
PACKED: Final[dict[str, Any]] = {"compression": "zlib", "compressionargs": {"level": 1}, "predictor": True}


def _codes(painting: Painting, bits: int) -> NDArray[Any]:
    """The picture (h, w, 3) with so many bits a channel."""
    pixels = flattened(painting).read(painting.rect)[:3]
    codes = as_8_bit(pixels) if bits == 8 else pixels
    return np.ascontiguousarray(codes.transpose(1, 2, 0))


def export_tiff(painting: Painting, path: Path, *, bits: int = 8) -> None:
    """Write the picture as a TIFF of 8 or 16 bits a channel (TIFF 6.0), with its ppi and colour profile."""
    checks.one_of("bits", str(bits), ("8", "16"))
    import tifffile  # noqa: PLC0415 - it takes a moment, and only TIFF needs it

    file = io.BytesIO()
    tifffile.imwrite(
            file, _codes(painting, bits), photometric="rgb", **PACKED, iccprofile=srgb_icc(),
            resolution=(painting.ppi, painting.ppi), resolutionunit="INCH", metadata=None, software="Japanner",
        )  # fmt: skip
    with replacing(path) as target:
        target.write(file.getvalue())


def export_layers(painting: Painting, path: Path) -> None:
    """Write every shown layer as a page of a 16-bit TIFF with coverage, from back to front, by its name; what is
    clipped, blended or lit in the painting is only paint there.
    """
    import tifffile  # noqa: PLC0415 - it takes a moment, and only TIFF needs it

    shown = [(part, layer) for part, layer in painting.layers() if part.shown and layer.shown]
    if not shown:
        raise InputError("There is no layer to write: show one first")
    file = io.BytesIO()
    with tifffile.TiffWriter(file) as whole:
        for part, layer in shown:
            codes = straight(layer.pixels.read(painting.rect)).transpose(1, 2, 0)
            whole.write(
                np.ascontiguousarray(codes), photometric="rgb", extrasamples=["unassalpha"], **PACKED,
                iccprofile=srgb_icc(), resolution=(painting.ppi, painting.ppi), resolutionunit="INCH",
                description=f"{part.name}: {layer.name}".encode("ascii", "replace").decode(), metadata=None,
                software="Japanner",
            )  # fmt: skip
    with replacing(path) as target:
        target.write(file.getvalue())


def export_jpeg(painting: Painting, path: Path) -> None:
    """Write the picture as a JPEG with its ppi and colour profile."""
    _by_pillow(painting, path, "JPEG", quality=QUALITY, subsampling=0)


def export_webp(painting: Painting, path: Path) -> None:
    """Write the picture as a WebP with its colour profile."""
    if max(painting.width, painting.height) > 16383:
        raise InputError("A WebP picture is 16383 px long at the most")
    _by_pillow(painting, path, "WEBP", quality=QUALITY, method=4)


def _by_pillow(painting: Painting, path: Path, kind: str, **how: Any) -> None:
    file = io.BytesIO()
    image, ppi = Image.fromarray(_codes(painting, 8)), (painting.ppi, painting.ppi)
    image.save(file, kind, dpi=ppi, icc_profile=srgb_icc(), **how)
    with replacing(path) as target:
        target.write(file.getvalue())


def opened(path: Path) -> Opened:
    """A JPEG or WebP becomes the flat of a single part."""
    return png.painting_of(read_picture(path), path)


def opened_tiff(path: Path) -> Opened:
    """A TIFF becomes a part with a layer for each of its pages, the first at the back."""
    pages = pictures_in(read_bytes(path, LARGEST), path.name)
    first, remarks = pages[0][0], tuple(dict.fromkeys(one for picture, _ in pages for one in picture.remarks))
    if len(pages) == 1:
        return png.painting_of(first, path)
    whole_opened = png.painting_of(first, path)
    painting = whole_opened.painting
    layers = []
    for number, (picture, name) in enumerate(pages):
        pixels = Raster(painting.width, painting.height).written(0, 0, premultiplied(picture.pixels))
        layers.append(Layer(2 + number, name or f"Page {number + 1}", "texture" if number else "flat", pixels, "over"))
    part = Part(1, painting.parts[0].name, "plain", tuple(layers))
    return Opened(
        Painting(painting.width, painting.height, painting.ppi, painting.title, parts=(part,), next_uid=2 + len(pages)),
        (), remarks,
    )  # fmt: skip
