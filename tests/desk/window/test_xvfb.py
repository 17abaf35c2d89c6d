"""Once in real windows: an X server without a screen, the window system's own plugin, real events."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

ROOT = Path(__file__).resolve().parents[3]


@pytest.fixture
def display(tmp_path):
    """The number of an X server's display that lives as long as the test."""
    read, write = os.pipe()
    command = ["Xvfb", "-displayfd", str(write), "-screen", "0", "1280x800x24", "-nolisten", "tcp"]
    server = subprocess.Popen(command, pass_fds=(write,), stderr=subprocess.DEVNULL)
    os.close(write)
    with os.fdopen(read) as answer:
        number = answer.readline().strip()
    assert number, "Xvfb did not start"
    yield f":{number}"
    server.terminate()
    server.wait()


def run(display, *arguments):
    environment = {**os.environ, "DISPLAY": display, "QT_QPA_PLATFORM": "xcb", "PYTHONPATH": str(ROOT)}
    command = [sys.executable, *arguments]
    return subprocess.run(command, env=environment, cwd=ROOT, capture_output=True, text=True, timeout=180, check=False)


def test_a_ball_painted_in_a_real_window(display, tmp_path):
    done = run(display, "-m", "tests.desk.ball", str(tmp_path / "window.png"))
    assert done.returncode == 0, done.stderr
    platform, rise, correlation, records = done.stdout.split()[-4:]
    assert platform == "xcb"
    assert float(rise) <= 0.25
    assert float(correlation) >= 0.95
    assert int(records) > 100
    with Image.open(tmp_path / "window.png") as shot:
        assert shot.size == (1280, 800)
        # The ball is on the easel: light up left of the middle, dark down right.
        grey = np.asarray(shot.convert("L").crop((213, 94, 1029, 600)).reduce(8))
        assert grey.max() > 200
        assert grey.min() < 60


def test_the_profile_that_a_desktop_keeps_for_its_screen_is_found(display):
    """Left with the X server as desktops do: bytes under a name on the root window."""
    code = (
        "import ctypes, ctypes.util, os\n"
        "from PySide6.QtGui import QGuiApplication\n"
        "from japanner.desk.x_profile import desktop_profile\n"
        "from japanner.files.colour.profiles import matte_paper\n"
        "app = QGuiApplication([])\n"
        "before, data = desktop_profile(0), matte_paper().data\n"
        "x = ctypes.CDLL(ctypes.util.find_library('X11'))\n"
        "x.XOpenDisplay.restype = ctypes.c_void_p\n"
        "shown = ctypes.c_void_p(x.XOpenDisplay(None))\n"
        "x.XInternAtom.restype = x.XDefaultRootWindow.restype = ctypes.c_ulong\n"
        "x.XChangeProperty.argtypes = [ctypes.c_void_p, ctypes.c_ulong, ctypes.c_ulong, ctypes.c_ulong, ctypes.c_int,\n"
        "                              ctypes.c_int, ctypes.c_char_p, ctypes.c_int]\n"
        "atom = x.XInternAtom(shown, b'_ICC_PROFILE', 0)\n"
        "x.XChangeProperty(shown, x.XDefaultRootWindow(shown), atom, 6, 8, 0, data, len(data))\n"
        "x.XSync(shown, 0)\n"
        "print(before == b'', desktop_profile(0) == data, desktop_profile(1) == b'', flush=True)\n"
        "os._exit(0)\n"
    )
    done = run(display, "-c", code)
    assert done.stdout.split() == ["True", "True", "True"], done.stderr


def test_without_a_screen_the_program_says_so():
    environment = {name: value for name, value in os.environ.items() if name not in ("DISPLAY", "WAYLAND_DISPLAY")}
    environment.pop("QT_QPA_PLATFORM", None)
    done = subprocess.run(
        [sys.executable, "-m", "japanner"], env=environment, capture_output=True, text=True, timeout=60, check=False
    )
    assert done.returncode == 1
    assert "There is no screen" in done.stderr
    assert "Traceback" not in done.stderr


@pytest.mark.skipif(shutil.which("openbox") is None, reason="no small window manager is installed")
def test_windows_beside_the_main_one_are_drawn_under_a_window_manager(display):
    """Once the brush sheet and file dialogs stayed black there; they do not with what is shipped and asked for."""
    manager = subprocess.Popen(
        ["openbox"], env={**os.environ, "DISPLAY": display}, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
    try:
        done = run(display, "-m", "tests.desk.beside")
    finally:
        manager.terminate()
        manager.wait()
    assert done.returncode == 0, done.stderr
    platform, sheet, dialog = done.stdout.split()
    assert platform == "xcb"
    assert float(sheet) > 0.9
    assert float(dialog) > 0.9


@pytest.mark.parametrize("factor", ["1.25", "2"])
def test_the_picture_is_drawn_at_the_screens_own_pixels(factor):
    """Lines one canvas px wide, shown one to one on a desktop that is scaled, are all there."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": factor, "PYTHONPATH": str(ROOT)}
    done = subprocess.run(
        [sys.executable, "-m", "tests.desk.scaled"], env=environment, cwd=ROOT, capture_output=True, text=True,
        timeout=60, check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    ratio, contrast = (float(one) for one in done.stdout.split())
    assert ratio == float(factor)
    assert contrast > 230
