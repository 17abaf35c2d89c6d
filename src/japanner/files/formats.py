"""Every format of paintings and pictures: a line each, from which opening, saving, exporting and menus are made."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Final

from japanner.errors import InputError
from japanner.files import ora_read, ora_write, png
from japanner.files.opened import Opened
from japanner.painting.model import Painting

__all__ = ["EXPORTS", "FORMATS", "NATIVE", "Export", "Format", "export_for"]


@dataclass(frozen=True)
class Export:
    """A way to write the picture of a painting, as the menu calls it."""

    words: str
    write: Callable[[Painting, Path], None]


@dataclass(frozen=True)
class Format:
    """A kind of file: its ending, the bytes that it begins with, how it is opened, and what is written of a painting.

    keeps: what of a painting such a file holds, for people.
    """

    name: str
    ending: str
    begins: bytes
    open: Callable[[Path], Opened]
    keeps: str
    exports: tuple[Export, ...] = ()


FORMATS: Final = (
    Format("OpenRaster painting", ".ora", b"PK", ora_read.opened, "everything"),
    Format(
        "PNG picture", ".png", png.SIGNATURE, png.opened, "what is seen, with its ppi",
        (Export("8-bit PNG…", partial(png.export, bits=8)), Export("16-bit PNG…", partial(png.export, bits=16))),
    ),
)  # fmt: skip
NATIVE: Final = FORMATS[0]
EXPORTS: Final = tuple((kind, export) for kind in FORMATS for export in kind.exports)


def export_for(path: Path) -> Callable[[Painting, Path], object]:
    """How to write a painting to a file by its ending; as our own where the ending says nothing else."""
    for kind, export in EXPORTS:
        if path.suffix.lower() == kind.ending:
            return export.write
    if path.suffix and path.suffix.lower() != NATIVE.ending:
        known = ", ".join(kind.ending for kind in FORMATS)
        raise InputError(f"{path.name}: expected a file that ends in one of {known}")
    return ora_write.write
