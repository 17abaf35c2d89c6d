"""A picture on a sheet of paper: where it lies, and what is to be known before it is printed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.files.colour.profiles import Proof

__all__ = ["AS_PICTURE", "PAPERS", "BeforePrint", "Sheet", "before_print", "ppi_word"]

MM_A_INCH: Final = 25.4
PAPERS: Final = {
    "A6": (105.0, 148.0), "A5": (148.0, 210.0), "A4": (210.0, 297.0), "A3": (297.0, 420.0), "A2": (420.0, 594.0),
    "A1": (594.0, 841.0), "B4": (250.0, 353.0), "B5": (176.0, 250.0),
}  # fmt: skip
"""ISO 216, mm, upright."""
AS_PICTURE: Final = "as the picture"
FINE_PPI, COARSE_PPI = 240.0, 150.0
"""From where single px are not seen at reading distance, and below which they are: common practice."""


@dataclass(frozen=True)
class Sheet:
    """A sheet of paper, mm, and a picture on it: its corner from the upper left, and its size."""

    wide: float
    high: float
    x: float
    y: float
    width: float
    height: float

    @staticmethod
    def of(paper: str, *, across: bool, margin: float, width_mm: float, size_px: tuple[int, int]) -> Sheet:
        """A picture of so many px, `width_mm` wide (0: as large as fits), in the middle of a paper between margins.

        InputError if it is larger than the paper, or margins leave no room.
        """
        checks.number("margin", margin, 0, 200)
        ratio = size_px[1] / size_px[0]
        if paper == AS_PICTURE:
            wide = checks.number("width", width_mm, 5, 5000)
            return Sheet(wide + 2 * margin, wide * ratio + 2 * margin, margin, margin, wide, wide * ratio)
        short, long = PAPERS[checks.one_of("paper", paper, PAPERS)]
        wide, high = (long, short) if across else (short, long)
        room = wide - 2 * margin, high - 2 * margin
        if min(room) < 5:
            raise InputError(f"Margins of {margin:g} mm leave no room on {paper}")
        most = min(room[0], room[1] / ratio)
        width = most if not width_mm else checks.number("width", width_mm, 5, 5000)
        if width > wide + 0.05 or width * ratio > high + 0.05:
            raise InputError(f"{width:.0f} x {width * ratio:.0f} mm is larger than {paper}: {wide:.0f} x {high:.0f} mm")
        return Sheet(wide, high, (wide - width) / 2, (high - width * ratio) / 2, width, width * ratio)


def ppi_word(ppi: float) -> str:
    """What so many px an inch are worth in the hand."""
    if ppi >= FINE_PPI:
        return "fine"
    return "to be seen from some way off" if ppi >= COARSE_PPI else "coarse: single px are seen"


@dataclass(frozen=True)
class BeforePrint:
    """ppi on the paper; shares of the picture, 0..1, whose colours are out of reach, and whose darks close; black: the
    darkest L* of the print.
    """

    ppi: float
    outside: float
    closes: float
    black: float
    profile: str

    @property
    def words(self) -> str:
        """As it is told."""
        told = [f"{self.ppi:.0f} ppi on the paper, {ppi_word(self.ppi)}"]
        if self.outside >= 0.001:
            told.append(f"{100 * self.outside:.1f} % of the picture is out of reach of {self.profile}")
        else:
            told.append(f"all colours are within reach of {self.profile}")
        if self.closes >= 0.001:
            told.append(f"darks below L* {self.black:.0f} close: {100 * self.closes:.0f} % of the picture")
        return " · ".join(told)


def before_print(codes: NDArray[np.floating], width_px: int, sheet: Sheet, proof: Proof) -> BeforePrint:
    """What is to be known of a print. codes (h, w, 3): encoded colours of the picture, reduced; width_px: of it in
    full.
    """
    outside, closes = proof.lost(codes)
    ppi = width_px / sheet.width * MM_A_INCH
    return BeforePrint(ppi, float(outside.mean()), float(closes.mean()), proof.black, proof.profile.name)
