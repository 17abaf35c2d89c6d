"""The real program, started and ended from outside: by signals, by the desktop, by a crash of ours."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from japanner.files.recovery import recovered
from japanner.painting.document.leftovers import leftovers
from japanner.scripting import Script

ROOT = Path(__file__).resolve().parents[3]
# The program as it is, with a hand that paints as soon as the window stands.
PAINTING = """
import sys
from PySide6.QtCore import QTimer
from japanner.desk import app
from japanner.desk.window.main_window import MainWindow

class Painting(MainWindow):
    def __init__(self):
        super().__init__()
        QTimer.singleShot(100, self.paint)

    def paint(self):
        self.files.new(300, 200, 72.0)
        self.building.add_part("plain")
        self.session.begin_stroke([(50, 50, 1.0)])
        self.session.strokes.go_on([(90, 90, 1.0), (150, 100, 1.0)])
        if "crash" in sys.argv:
            QTimer.singleShot(0, lambda: 1 / 0)
        QTimer.singleShot(100, lambda: print("painting", flush=True))

app.MainWindow = Painting
sys.exit(app.run())
"""


@pytest.fixture
def program(state_folder):
    """Starts the program, and waits until it paints."""
    started = []

    def start(*arguments):
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "JAPANNER_STATE": str(state_folder)}
        process = subprocess.Popen(
            [sys.executable, "-c", PAINTING, *arguments], env=environment, cwd=ROOT, stdout=subprocess.PIPE,
            stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        started.append(process)
        assert process.stdout.readline().strip() == "painting"
        return process

    yield start
    for process in started:
        process.kill()
        process.communicate()


def test_a_signal_ends_it_as_the_window_does_and_keeps_the_journal(program, state_folder, tmp_path):
    """And at its start, what killed saves had left was swept."""
    Script.new(40, 30).save(tmp_path / "Known.ora")
    (tmp_path / ".Known.ora.a1b2c3d4.part").write_bytes(b"half")
    state_folder.mkdir(parents=True)
    (state_folder / "settings.json").write_text(f'{{"recent": ["{tmp_path}/Known.ora"]}}')
    process = program()
    assert not list(tmp_path.glob(".*.part"))
    process.send_signal(signal.SIGTERM)
    _, errors = process.communicate(timeout=30)
    assert process.returncode == 0, errors
    (one,) = leftovers(state_folder / "journals")
    assert [record["op"] for record in one.records].count("stroke") == 1  # the one in progress counts, too
    assert recovered(one).painting.parts[-1].layers[0].pixels.tiles


def test_an_error_of_ours_is_logged_and_the_program_goes_on(program, state_folder):
    process = program("crash")
    process.send_signal(signal.SIGINT)
    _, errors = process.communicate(timeout=30)
    assert process.returncode == 0, errors
    assert "ZeroDivisionError" in (state_folder / "japanner.log").read_text()
    assert (state_folder / "crashes.log").exists()
    assert len(leftovers(state_folder / "journals")) == 1


def test_it_begins_where_it_was_left(state_folder, tmp_path):
    Script.new(40, 30, title="Last one").save(tmp_path / "Last.ora")
    state_folder.mkdir(parents=True)
    (state_folder / "settings.json").write_text(f'{{"last painting": "{tmp_path}/Last.ora"}}')
    code = (
        "import sys\nfrom PySide6.QtCore import QTimer\nfrom japanner.desk import app\n"
        "class Window(app.MainWindow):\n"
        "    def __init__(self):\n        super().__init__()\n        self.session.opened.connect(self.say)\n"
        "    def say(self):\n        print(self.session.painting.title, self.session.path, flush=True)\n"
        "        QTimer.singleShot(0, self.close)\n"
        "app.MainWindow = Window\nsys.exit(app.run())\n"
    )
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "JAPANNER_STATE": str(state_folder)}
    start = time.monotonic()
    done = subprocess.run(
        [sys.executable, "-c", code], env=environment, cwd=ROOT, capture_output=True, text=True, timeout=60, check=False
    )
    assert done.returncode == 0, done.stderr
    assert done.stdout.split("\n")[0] == f"Last one {tmp_path}/Last.ora"
    assert time.monotonic() - start < 60
