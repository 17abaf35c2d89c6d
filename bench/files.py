"""Saving and opening the large painting, and the memory it takes with its undo."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from bench.large import large_painting
from bench.result import Result
from japanner.files import ora_write
from japanner.files.opening import open_painting
from japanner.painting.model import Painting
from japanner.painting.operations import Change, Stroke
from japanner.stroke.brush import Brush

MEMORY = """
from PySide6.QtWidgets import QApplication
from bench.large import large_painting
from japanner.desk.app import make_application
from japanner.desk.window.main_window import MainWindow
from japanner.painting.document.document import Document
from japanner.stroke.brush import Brush
from pathlib import Path
make_application(["bench"])
large_painting()
Path("/proc/self/clear_refs").write_text("5")  # what making it took does not count
window = MainWindow()
window.session.open_document(Document(large_painting()))
window.show_bench()
window.show()
QApplication.processEvents()
session = window.session
session.work.work_on_layer(large_painting().parts[2].layers[2].uid)
session.hand.brushes[session.hand.in_hand] = Brush("Mop", size_px=500, strength=0.3)
for i in range(200):
    session.begin_stroke([(200 + i * 15, 300, 1.0)])
    session.strokes.go_on([(1500, 1000 + i * 3, 1.0), (3600 - i * 9, 1500, 1.0)])
    session.strokes.end()
    QApplication.processEvents()
session.rest_hand()
peak = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmHWM"))
document = session.document
print(int(peak.split()[1]) * 1024 / 1e9, document.undo_bytes / 1e9, document.spilled_bytes / 1e9, len(document._past))
"""


def measure() -> list[Result]:
    painting = large_painting()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.ora"
        saving, save_cpu, stored = _timed(lambda: ora_write.write(painting, path))
        touched, _ = _stroked(painting)
        again, again_cpu, _ = _timed(lambda: ora_write.write(touched, path, stored=stored))
        opening, open_cpu, _ = _timed(lambda: open_painting(path))
        size = path.stat().st_size / 1e6
        copying, copy_cpu, _ = _timed(lambda: _copied(path, path.with_suffix(".copy")))
    done = subprocess.run([sys.executable, "-c", MEMORY], capture_output=True, text=True, check=True)
    peak, undo, spilled, steps = (float(word) for word in done.stdout.split())
    return [
        Result("save 4000 x 2000, 20 full layers of 16 bits", saving, "s", 6.0, at_most=True, beside={"cpu": save_cpu}),
        Result("save it after one stroke", again, "s", 1.5, at_most=True, beside={"cpu": again_cpu}),
        Result("open it again", opening, "s", 4.0, at_most=True, beside={"cpu": open_cpu}),
        Result("a copy of that file by the system, synced", copying, "s", beside={"cpu": copy_cpu}),
        Result("size of the file", size, "MB"),
        Result("peak memory with it, after 200 strokes of 500 px", peak, "GB", 2.5, at_most=True),
        Result("of which undo", undo, "GB", beside={"on disk GB": spilled, "steps": steps}),
    ]


def _timed(work: Callable[[], Any]) -> tuple[float, float, Any]:
    """Seconds on the wall, of all threads' computing, and what came of it."""
    began, computed = time.perf_counter(), time.process_time()
    result = work()
    return time.perf_counter() - began, time.process_time() - computed, result


def _copied(path: Path, to: Path) -> None:
    with path.open("rb") as source, to.open("wb") as target:
        while os.copy_file_range(source.fileno(), target.fileno(), 1 << 28):
            pass
        os.fsync(target.fileno())


def _stroked(painting: Painting) -> tuple[Painting, Change]:
    layer = painting.parts[1].layers[2].uid
    brush = Brush("Mop", size_px=500, strength=0.3)
    return Stroke(layer, brush.to_record(), (0.4, 0.3, 0.2), ((900, 900, 1.0), (1500, 1100, 1.0))).apply(painting)
