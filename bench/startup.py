"""From the command to the first stroke, in a process of its own, with compiled kernels in the cache."""

from __future__ import annotations

import subprocess
import sys
import time

from bench.result import Result

FIRST_STROKE = """
from PySide6.QtWidgets import QApplication
from japanner.desk.app import make_application
from japanner.desk.window.main_window import MainWindow
app = make_application(["bench"])
window = MainWindow()
window.show()
QApplication.processEvents()
print("shown", flush=True)
window.files.new(4000, 2000, 300.0)
window.building.add_part("plain")
window.session.begin_stroke([(100, 100, 1.0)])
window.session.strokes.go_on([(300, 300, 1.0), (500, 300, 1.0)])
window.session.strokes.end()
QApplication.processEvents()
print("painted", flush=True)
"""


def measure() -> list[Result]:
    shown, painted = min(_run() for _ in range(3))
    return [
        Result("start to window", shown, "s"),
        Result("start to first stroke on 4000 x 2000", painted, "s", 2.0, at_most=True),
    ]


def _run() -> tuple[float, float]:
    began, times = time.perf_counter(), []
    process = subprocess.Popen([sys.executable, "-c", FIRST_STROKE], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    for _ in process.stdout:
        times.append(time.perf_counter() - began)
    process.wait()
    return times[0], times[1]
