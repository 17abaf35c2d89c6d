"""Opening whatever a painter offers: the content decides what it is, not the name."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from japanner.errors import FileFormatError, InputError
from japanner.files import ora_read, png
from japanner.files.reading import file_size, read_bytes, reason
from japanner.painting.document.engine import ENGINE
from japanner.painting.model import Layer, Painting, Part
from japanner.raster.tiles import Raster, premultiplied

__all__ = ["Opened", "open_painting"]


@dataclass(frozen=True, eq=False)
class Opened:
    """A painting from a file, the records of how it grew, and remarks for the painter.

    native: saving it in place loses nothing; what came from elsewhere is first saved under a name of its own. engine:
    the one that the records were worked out by.
    """

    painting: Painting
    records: tuple[dict[str, Any], ...] = ()
    remarks: tuple[str, ...] = ()
    native: bool = False
    engine: int = ENGINE


def open_painting(path: Path) -> Opened:
    """Open an OpenRaster or PNG file; FileFormatError says in one sentence why that is not possible."""
    size = file_size(path)
    try:
        with path.open("rb") as file:
            start = file.read(8)
        if start.startswith(b"PK"):
            content = ora_read.read(path)
            return Opened(content.painting, content.records, content.remarks, native=content.own, engine=content.engine)
        if start == png.SIGNATURE:
            return _from_picture(path)
    except OSError as error:
        raise FileFormatError(f"{path.name} cannot be read: {reason(error)}.") from error
    except MemoryError as error:
        raise FileFormatError(f"{path.name} needs more memory than there is.") from error
    if size == 0:
        raise FileFormatError(f"{path.name} is empty.")
    raise FileFormatError(f"{path.name} is neither an OpenRaster painting nor a PNG picture.")


def _from_picture(path: Path) -> Opened:
    """A picture becomes the flat of a single part."""
    picture = png.read(read_bytes(path), path.name)
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
