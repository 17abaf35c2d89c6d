"""Opens the windows that stand beside the main one, under a window manager, and says how much of each is drawn."""

from __future__ import annotations

import sys
import time

from PySide6.QtWidgets import QApplication, QFileDialog, QWidget

from japanner.desk.app import make_application
from japanner.desk.window.main_window import MainWindow


def wait(seconds: float) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.01)


def drawn(widget: QWidget) -> float:
    """The share of a window's piece of the screen that is not black."""
    at, screen = widget.mapToGlobal(widget.rect().topLeft()), widget.screen()
    image = screen.grabWindow(0, at.x(), at.y(), widget.width(), widget.height()).toImage()
    seen = [image.pixelColor(x, y) for x in range(0, image.width(), 9) for y in range(0, image.height(), 9)]
    return sum(colour.lightness() > 8 for colour in seen) / len(seen)


def main() -> int:
    make_application(["beside"])
    window = MainWindow()
    window.resize(900, 600)
    window.show()
    wait(0.5)
    window.show_bench()
    window.show_brush_sheet()
    wait(1.0)
    assert window.sheet is not None
    window.sheet.raise_()
    wait(0.5)
    print(QApplication.platformName(), drawn(window.sheet))
    dialog = QFileDialog(window)
    dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
    dialog.show()
    wait(1.0)
    print(drawn(dialog))
    return 0


if __name__ == "__main__":
    sys.exit(main())
