"""PDF at physical size, with bleed and crop marks."""

from __future__ import annotations

import zlib
from pathlib import Path
from typing import Final

import numpy as np

from japanner import checks
from japanner.files.colour.profiles import srgb_icc
from japanner.files.png import as_8_bit
from japanner.files.writing import replacing
from japanner.painting.model import Painting
from japanner.painting.picture.compositor import flattened

__all__ = ["MM", "export_pdf"]

MM: Final = 72 / 25.4
"""Points to a millimetre."""
MARK_MM: Final = 5.0
GAP_MM: Final = 1.5
LINE: Final = 0.25
LEVEL: Final = 3


def export_pdf(painting: Painting, path: Path, *, bleed_mm: float = 0.0, marks: bool = False) -> None:
    """Write the picture as a page of its physical size (ISO 32000), without loss.

    bleed_mm: so much of the picture on every side is cut off; the page's trim box says where. marks: crop marks outside
    of it.
    """
    import pikepdf  # noqa: PLC0415 - it takes a moment, and only PDF needs it
    from pikepdf import Dictionary, Name  # noqa: PLC0415

    checks.number("bleed_mm", bleed_mm, 0, 50)
    width, height = (side / painting.ppi * 72 for side in (painting.width, painting.height))
    bleed, around = bleed_mm * MM, (MARK_MM + GAP_MM) * MM if marks else 0.0
    if 2 * bleed >= min(width, height):
        checks.number("bleed_mm", bleed_mm, 0, min(width, height) / 2 / MM)
    codes = as_8_bit(flattened(painting).read(painting.rect)[:3]).transpose(1, 2, 0)
    with pikepdf.new() as pdf:
        profile = pdf.make_stream(srgb_icc(), N=3, Alternate=Name.DeviceRGB)
        # Differences of neighbours pack better (PNG's filter for Sub, predictor 11).
        rows = np.concatenate((np.ones((len(codes), 1), np.uint8), _differences(codes)), axis=1)
        image = pdf.make_stream(
            zlib.compress(rows.tobytes(), LEVEL), Type=Name.XObject, Subtype=Name.Image, Width=painting.width,
            Height=painting.height, BitsPerComponent=8, ColorSpace=pikepdf.Array([Name.ICCBased, profile]),
            Filter=Name.FlateDecode,
            DecodeParms=Dictionary(Predictor=15, Colors=3, BitsPerComponent=8, Columns=painting.width),
        )  # fmt: skip
        page = pdf.add_blank_page(page_size=(width + 2 * around, height + 2 * around))
        page.obj.Resources = Dictionary(XObject=Dictionary(Picture=image))
        drawn = f"q {width:.4f} 0 0 {height:.4f} {around:.4f} {around:.4f} cm /Picture Do Q\n"
        trim = around + bleed, around + bleed, around + width - bleed, around + height - bleed
        if marks:
            drawn += _marks(trim, bleed)
        page.obj.Contents = pdf.make_stream(drawn.encode())
        page.obj.TrimBox = pikepdf.Array([round(v, 4) for v in trim])
        page.obj.BleedBox = pikepdf.Array([round(v, 4) for v in (around, around, around + width, around + height)])
        with pdf.open_metadata() as meta:
            meta["dc:title"] = painting.title
        with replacing(path) as file:
            pdf.save(file)


def _differences(codes: np.ndarray[tuple[int, ...], np.dtype[np.uint8]]) -> np.ndarray:
    flat = codes.copy()
    flat[:, 1:] -= codes[:, :-1]
    return flat.reshape(len(codes), -1)


def _marks(trim: tuple[float, float, float, float], bleed: float) -> str:
    """Two lines at each corner of the trim box, beyond the bleed."""
    left, low, right, high = trim
    first, last = bleed + GAP_MM * MM, bleed + (GAP_MM + MARK_MM) * MM
    lines = []
    for x, out_x in ((left, -1), (right, 1)):
        for y, out_y in ((low, -1), (high, 1)):
            lines.append(f"{x + out_x * first:.3f} {y:.3f} m {x + out_x * last:.3f} {y:.3f} l")
            lines.append(f"{x:.3f} {y + out_y * first:.3f} m {x:.3f} {y + out_y * last:.3f} l")
    return f"q {LINE} w 0 G {' '.join(lines)} S Q\n"
