"""Onto paper: the printers of this computer, and a PDF file that stands for one."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Final

import numpy as np
from PySide6.QtCore import QMarginsF, QRectF, QSizeF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter

from japanner.desk.widgets.images import image_of
from japanner.errors import SaveError
from japanner.files.colour.sheet_of_paper import Sheet
from japanner.files.png import as_8_bit
from japanner.files.writing import replacing
from japanner.painting.model import Painting
from japanner.painting.picture.compositor import flattened

__all__ = ["print_sheet", "printers"]

MM_A_INCH: Final = 25.4


def printers() -> list[str]:
    """Names of printers that this computer knows."""
    from PySide6.QtPrintSupport import QPrinterInfo  # noqa: PLC0415 - it asks the print service

    return list(QPrinterInfo.availablePrinterNames())


def print_sheet(
    painting: Painting, sheet: Sheet, path: Path | None, printer: str, told: Callable[[float, str], None]
) -> None:
    """Print a painting on a sheet: to a PDF file, or (None) to a printer by its name; SaveError if it cannot be."""
    told(0.1, "composing")
    codes = as_8_bit(flattened(painting).read(painting.rect)[:3]).transpose(1, 2, 0)
    told(0.5, "onto paper")
    if path is None:
        _paint(painting, sheet, codes, printer=printer)
        return
    with replacing(path) as file:
        # Qt writes to a name of its own choosing only; what it wrote is put in the place of the file at once.
        handle, name = tempfile.mkstemp(suffix=".pdf")
        os.close(handle)
        try:
            _paint(painting, sheet, codes, file=name)
            file.write(Path(name).read_bytes())
        finally:
            Path(name).unlink(missing_ok=True)


def _paint(painting: Painting, sheet: Sheet, codes: np.ndarray, *, printer: str = "", file: str = "") -> None:
    from PySide6.QtPrintSupport import QPrinter, QPrinterInfo  # noqa: PLC0415

    if file:
        target = QPrinter(QPrinter.PrinterMode.HighResolution)
        target.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        target.setOutputFileName(file)
    else:
        target = QPrinter(QPrinterInfo.printerInfo(printer), QPrinter.PrinterMode.HighResolution)
    target.setDocName(painting.title)
    target.setCreator("Japanner")
    size = QPageSize(
        QSizeF(sheet.wide, sheet.high), QPageSize.Unit.Millimeter, "", QPageSize.SizeMatchPolicy.ExactMatch
    )
    layout = QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0))
    layout.setMode(QPageLayout.Mode.FullPageMode)
    target.setPageLayout(layout)
    target.setFullPage(True)
    painter = QPainter()
    if not painter.begin(target):
        raise SaveError(f"{printer or 'The page'} cannot be printed to: the printer does not answer.")
    try:
        dot = target.resolution() / MM_A_INCH
        place = QRectF(sheet.x * dot, sheet.y * dot, sheet.width * dot, sheet.height * dot)
        painter.setRenderHint(QPainter.RenderHint.LosslessImageRendering)
        painter.drawImage(place, image_of(codes))
    finally:
        painter.end()
