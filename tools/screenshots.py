"""Pictures of the main views for docs/screenshots, made from the demo painting; run by `make screenshots`."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["JAPANNER_STATE"] = tempfile.mkdtemp(prefix="japanner-screenshots-")

import cv2
import numpy as np
from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QApplication

from japanner.demo import DEMOS
from japanner.desk.app import make_application
from japanner.desk.main_window import MainWindow
from japanner.painting.compositor import flattened
from japanner.painting.model import Painting

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def main() -> int:
    FOLDER.mkdir(parents=True, exist_ok=True)
    make_application(["screenshots"])
    window = MainWindow()
    window.resize(1280, 800)
    window.show()
    _shot(window, "start")

    def line(done: float, words: str) -> None:
        print(f"\r{done * 100:3.0f} %  {words:<50}", end="", file=sys.stderr, flush=True)

    document = DEMOS["studies"].paint(line).document
    print(file=sys.stderr)
    _sheet(document.painting)
    bench = window.bench
    bench.open_document(document)
    window.show_bench()
    ball = next(part for part in bench.painting.parts if part.name == "Ball")
    bench.work_on_layer(next(layer.uid for layer in ball.layers if layer.role == "light"))
    bench.set_colour((0.62, 0.50, 0.41))
    _point(window, 1090, 720)
    window.rail.measure()
    _shot(window, "bench")
    bench.set_look("steps")
    _shot(window, "steps")
    bench.set_look("colour")
    window.use_theme("Plaster")
    _shot(window, "plaster")
    return 0


def _shot(window: MainWindow, name: str) -> None:
    for _ in range(5):
        QApplication.processEvents()
    window.grab().save(str(FOLDER / f"{name}.png"))


def _point(window: MainWindow, x: float, y: float) -> None:
    """Let the pointer rest on a canvas position."""
    QApplication.processEvents()
    at = window.easel.view.to_view().map(QPointF(x, y))
    none = Qt.MouseButton.NoButton
    event = QMouseEvent(QEvent.Type.MouseMove, at, at, none, none, Qt.KeyboardModifier.NoModifier)
    QApplication.sendEvent(window.easel, event)


def _sheet(painting: Painting) -> None:
    """The painting itself, reduced, and a piece of it at one to one."""
    pixels = flattened(painting).read(painting.rect)[[2, 1, 0]].transpose(1, 2, 0)
    codes = np.ascontiguousarray((pixels / 257).round().astype(np.uint8))
    small = cv2.resize(codes, (1280, 640), interpolation=cv2.INTER_AREA)
    cv2.imwrite(str(FOLDER / "studies.png"), small, [cv2.IMWRITE_PNG_COMPRESSION, 9])
    cv2.imwrite(str(FOLDER / "studies-100.png"), codes[760:1400, 620:1580], [cv2.IMWRITE_PNG_COMPRESSION, 9])


if __name__ == "__main__":
    sys.exit(main())
