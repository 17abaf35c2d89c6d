"""Saving and opening the large painting, and the memory it takes with its undo."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench.large import large_painting
from bench.result import Result
from japanner.files import ora_write
from japanner.files.opening import open_painting

MEMORY = """
import resource
from PySide6.QtWidgets import QApplication
from bench.large import large_painting
from japanner.desk.app import make_application
from japanner.desk.window.main_window import MainWindow
from japanner.painting.document.document import Document
from japanner.stroke.brush import Brush
make_application(["bench"])
window = MainWindow()
window.session.open_document(Document(large_painting()))
window.show_bench()
window.show()
QApplication.processEvents()
bench = window.session
session.hand.brushes[session.hand.in_hand] = Brush("Mop", size_px=500, strength=0.3)
for i in range(60):
    session.begin_stroke([(200 + i * 50, 300, 1.0)])
    session.strokes.go_on([(1500, 1000 + i * 9, 1.0), (3600 - i * 30, 1500, 1.0)])
    session.strokes.end()
    QApplication.processEvents()
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024**2, session.document.undo_bytes / 2**30)
"""


def measure() -> list[Result]:
    painting = large_painting()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.ora"
        saving = _seconds(lambda: ora_write.write(painting, path))
        opening = _seconds(lambda: open_painting(path))
        size = path.stat().st_size / 1e6
    done = subprocess.run([sys.executable, "-c", MEMORY], capture_output=True, text=True, check=True)
    peak, undo = (float(word) for word in done.stdout.split())
    return [
        Result("save 4000 x 2000, 20 full layers of 16 bits", saving, "s"),
        Result("open it again", opening, "s"),
        Result("size of the file", size, "MB"),
        Result("peak memory with it, after 60 strokes of 500 px", peak, "GiB", 3.0, at_most=True),
        Result("of which undo", undo, "GiB"),
    ]


def _seconds(work) -> float:  # type: ignore[no-untyped-def]
    began = time.perf_counter()
    work()
    return time.perf_counter() - began
