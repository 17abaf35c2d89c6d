"""The icon in the sizes that desktops ask for, from its drawing; run by `make icons`."""

from __future__ import annotations

import os
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

FOLDER = Path(__file__).resolve().parent.parent / "src" / "japanner" / "desk" / "assets" / "icon"
SIZES = (16, 24, 32, 48, 64, 128, 256)


def main() -> int:
    app = QGuiApplication([])
    drawing = QSvgRenderer(str(FOLDER / "japanner.svg"))
    for side in SIZES:
        image = QImage(side, side, QImage.Format.Format_ARGB32)
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        drawing.render(painter)
        painter.end()
        image.save(str(FOLDER / f"japanner-{side}.png"))
    del app
    return 0


if __name__ == "__main__":
    sys.exit(main())
