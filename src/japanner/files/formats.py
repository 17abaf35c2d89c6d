"""Every format of paintings and pictures: a line each, from which opening, saving, exporting and menus are made."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Final

from japanner.errors import InputError
from japanner.files import ora_read, ora_write, png
from japanner.files.exchange import flat, pdf
from japanner.files.opened import Opened
from japanner.painting.model import Painting

__all__ = ["EXPORTS", "FORMATS", "NATIVE", "Export", "Format", "export_for"]


@dataclass(frozen=True)
class Export:
    """A way to write the picture of a painting, as the menu calls it."""

    words: str
    write: Callable[[Painting, Path], None]
    layered: bool = False
    """It writes layers, not the picture."""


@dataclass(frozen=True)
class Format:
    """A kind of file: its endings, the usual one first, the bytes that it may begin with, how it is opened (None: it is
    only written), and what is written of a painting.

    keeps: what of a painting such a file holds, for people.
    """

    name: str
    endings: tuple[str, ...]
    begins: tuple[bytes, ...]
    open: Callable[[Path], Opened] | None
    keeps: str
    exports: tuple[Export, ...] = ()

    @property
    def ending(self) -> str:
        return self.endings[0]


FORMATS: Final = (
    Format("OpenRaster painting", (".ora",), (b"PK",), ora_read.opened, "everything"),
    Format(
        "PNG picture", (".png",), (png.SIGNATURE,), png.opened, "what is seen, with its ppi",
        (Export("8-bit PNG…", partial(png.export, bits=8)), Export("16-bit PNG…", partial(png.export, bits=16))),
    ),
    Format(
        "TIFF picture", (".tif", ".tiff"), (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+"), flat.opened_tiff,
        "what is seen, or every layer as a page",
        (
            Export("8-bit TIFF…", partial(flat.export_tiff, bits=8)),
            Export("16-bit TIFF…", partial(flat.export_tiff, bits=16)),
            Export("Layers as TIFF…", flat.export_layers, layered=True),
        ),
    ),
    Format(
        "JPEG picture", (".jpg", ".jpeg"), (b"\xff\xd8\xff",), flat.opened, "what is seen, with small losses",
        (Export("JPEG…", flat.export_jpeg),),
    ),
    Format(
        "WebP picture", (".webp",), (b"RIFF",), flat.opened, "what is seen, with small losses",
        (Export("WebP…", flat.export_webp),),
    ),
    Format(
        "PDF page", (".pdf",), (), None, "what is seen, at its size on paper",
        (
            Export("PDF…", pdf.export_pdf),
            Export("PDF with bleed and marks…", partial(pdf.export_pdf, bleed_mm=3.0, marks=True)),
        ),
    ),
)  # fmt: skip
NATIVE: Final = FORMATS[0]
EXPORTS: Final = tuple((kind, export) for kind in FORMATS for export in kind.exports)


def export_for(path: Path) -> Callable[[Painting, Path], object]:
    """How to write a painting to a file by its ending; as our own where the ending says nothing else."""
    for kind, export in EXPORTS:
        if path.suffix.lower() in kind.endings:
            return export.write
    if path.suffix and path.suffix.lower() != NATIVE.ending:
        known = ", ".join(kind.ending for kind in FORMATS)
        raise InputError(f"{path.name}: expected a file that ends in one of {known}")
    return ora_write.write
