"""From the command to the first stroke, in a process of its own, with compiled kernels in the cache."""

from __future__ import annotations

import subprocess
import sys
import time

from bench.result import Result

FIRST_STROKE = """
import sys
from japanner import cli
from japanner._kernel_cache import all_compiled
from japanner.desk.coming import Coming, application
from PySide6.QtWidgets import QApplication
application(["bench"])
all_compiled()
from japanner.desk.settings import recall
from japanner.desk.theme_colours import THEMES
coming = Coming("The bench is being laid out.", THEMES.get(recall("theme", ""), THEMES["Lacquer"]))
coming.show_now()
print("coming", flush=True)
from japanner.desk.app import make_application
from japanner.desk.window.main_window import MainWindow
app = make_application(["bench"])
window = MainWindow()
window.show()
coming.close()
QApplication.processEvents()
print("shown", flush=True)
from japanner.warming import warm_up
if "warm" in sys.argv:
    warm_up().join()
    print("warm", flush=True)
window.files.new(4000, 2000, 300.0)
window.building.add_part("plain")
window.session.begin_stroke([(100, 100, 1.0)])
window.session.strokes.go_on([(300, 300, 1.0), (500, 300, 1.0)])
window.session.strokes.end()
QApplication.processEvents()
print("painted", flush=True)
import os
os._exit(0)
"""


def measure() -> list[Result]:
    at_once = [min(times) for times in zip(*(_run() for _ in range(3)), strict=True)]
    warm = [min(times) for times in zip(*(_run("warm") for _ in range(3)), strict=True)]
    return [
        Result("start to something seen", at_once[0], "s", 0.4, at_most=True),
        Result("start to the window", at_once[1], "s"),
        Result("start to first stroke on 4000 x 2000, painted at once", at_once[2], "s", 1.0, at_most=True),
        Result("kernels loaded behind the window, from its first paint", warm[2] - warm[1], "s"),
        Result("new canvas and first stroke after that", warm[3] - warm[2], "s"),
    ]


def _run(*more: str) -> list[float]:
    began, times = time.perf_counter(), []
    process = subprocess.Popen([sys.executable, "-c", FIRST_STROKE, *more], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    for _ in process.stdout:
        times.append(time.perf_counter() - began)
    process.wait()
    return times
