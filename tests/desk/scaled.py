"""Shows a canvas of fine lines on a desktop that is scaled, and says how well they are told apart."""

from __future__ import annotations

import sys

import numpy as np
from PySide6.QtWidgets import QApplication

from japanner.desk.app import make_application
from japanner.desk.window.main_window import MainWindow
from japanner.painting.operations import AddLayer, AddPart, AddPicture
from japanner.raster.codec import to_text


def main() -> int:
    make_application(["scaled"])
    window = MainWindow()
    window.resize(640, 480)
    window.show()
    window.show_bench()
    session = window.session
    session.apply(AddPart("Lines", "plain"))
    session.apply(AddLayer(session.painting.parts[0].uid, "flat"))
    pixels = np.full((4, 400, 400), 65535, np.uint16)
    pixels[:3, :, ::2] = 0
    session.apply(AddPicture(session.painting.parts[0].uid, to_text(pixels), "Lines", "detail", "over"))
    ratio = window.devicePixelRatioF()
    window.easel.look_at(session.painting.width / 2, session.painting.height / 2, zoom=1 / ratio)
    for _ in range(5):
        QApplication.processEvents()
    shot = window.easel.grab().toImage()
    x, y = shot.width() // 2, shot.height() // 2
    row = np.array([shot.pixelColor(x + i, y).lightness() for i in range(-30, 30)], float)
    print(ratio, float(np.abs(np.diff(row)).mean()))
    return 0


if __name__ == "__main__":
    sys.exit(main())
