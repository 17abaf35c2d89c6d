"""TIFF, JPEG and WebP out and in: flat pictures, and TIFF with a page for every layer."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from japanner import checks
from japanner.errors import FileFormatError, InputError
from japanner.files import png
from japanner.files.colour.profiles import srgb_icc
from japanner.files.opened import Opened
from japanner.files.pictures import read_picture
from japanner.files.png import Picture, as_8_bit
from japanner.files.reading import read_bytes
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
MOST_PAGES: Final = 200
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
    import tifffile  # noqa: PLC0415 - it takes a moment, and only TIFF needs it

    data = read_bytes(path, LARGEST)
    try:
        with tifffile.TiffFile(io.BytesIO(data)) as whole:
            if not 0 < len(whole.pages) <= MOST_PAGES:
                raise FileFormatError(f"{path.name} has {len(whole.pages)} pages; {MOST_PAGES} can be opened at most.")
            for page in whole.pages:
                png.check_size((int(page.imagewidth), int(page.imagelength)), path.name)  # type: ignore[union-attr]
            pages = [(_picture(page, path.name), _name_of(page)) for page in whole.pages]
    except FileFormatError:
        raise
    except Exception as error:  # the library raises many kinds for damaged files, and each means the same to us
        raise FileFormatError(f"{path.name} is damaged, or of a kind of TIFF that cannot be read.") from error
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


def _picture(page: Any, name: str) -> Picture:
    """A page as straight sRGB."""
    import tifffile  # noqa: PLC0415 - it takes a moment, and only TIFF needs it

    codes = np.asarray(page.asarray())
    if codes.dtype == np.uint8:
        codes = codes.astype(np.uint16) * np.uint16(257)
    elif codes.dtype.kind == "f":
        codes = np.rint(np.clip(np.nan_to_num(codes), 0, 1) * 65535).astype(np.uint16)
    if codes.dtype != np.uint16 or codes.ndim not in (2, 3):
        raise FileFormatError(f"{name}: a TIFF of {codes.dtype} in {codes.ndim} dimensions cannot be read.")
    planes = codes[None] if codes.ndim == 2 else codes.transpose(2, 0, 1)
    kinds = tifffile.PHOTOMETRIC
    if page.photometric == kinds.MINISWHITE:
        planes = 65535 - planes
    if page.photometric not in (kinds.RGB, kinds.MINISBLACK, kinds.MINISWHITE):
        raise FileFormatError(f"{name}: a TIFF in {page.photometric.name} cannot be read.")
    colours = planes[:3] if len(planes) >= 3 else np.repeat(planes[:1], 3, axis=0)
    extra = planes[3:] if len(planes) >= 3 else planes[1:]
    cover = extra[:1] if len(extra) else np.full((1, *planes.shape[1:]), 65535, np.uint16)
    pixels = np.ascontiguousarray(np.concatenate((colours, cover)))
    if len(extra) and tifffile.EXTRASAMPLE.ASSOCALPHA in tuple(page.extrasamples):
        pixels = straight(pixels)
    remarks: tuple[str, ...] = ()
    if page.iccprofile:
        pixels, remarks = png.to_srgb(pixels, page.iccprofile)
    resolution = page.get_resolution("INCH")
    ppi = float(resolution[0]) if resolution and resolution[0] else None
    return Picture(pixels, ppi, remarks)


def _name_of(page: Any) -> str:
    words = str(page.description or "").split(":")[-1].strip()
    return "".join(c for c in words if c.isprintable())[:80]
