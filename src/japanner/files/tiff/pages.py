"""TIFF (TIFF 6.0): pages decoded with distrust, at the bits they have."""

from __future__ import annotations

import io
from typing import Any, Final

import numpy as np

from japanner.errors import FileFormatError
from japanner.files import png
from japanner.files.png import Picture
from japanner.raster.tiles import straight

__all__ = ["BEGINS", "MOST_PAGES", "pictures_in"]

MOST_PAGES: Final = 200
BEGINS: Final = (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+")


def pictures_in(data: bytes, name: str, *, first: bool = False) -> list[tuple[Picture, str]]:
    """Every page, or the first alone, as straight sRGB with its description; FileFormatError in one sentence."""
    import tifffile  # noqa: PLC0415 - it takes a moment, and only TIFF needs it

    try:
        with tifffile.TiffFile(io.BytesIO(data)) as whole:
            if not 0 < len(whole.pages) <= MOST_PAGES:
                raise FileFormatError(f"{name} has {len(whole.pages)} pages; {MOST_PAGES} can be opened at most.")
            pages = [whole.pages[0]] if first else list(whole.pages)
            for page in pages:
                png.check_size((int(page.imagewidth), int(page.imagelength)), name)  # type: ignore[union-attr]
            return [(_picture(page, name), _name_of(page)) for page in pages]
    except FileFormatError:
        raise
    except Exception as error:  # the library raises many kinds for damaged files, and each means the same to us
        raise FileFormatError(f"{name} is damaged, or of a kind of TIFF that cannot be read.") from error


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
