"""Kernels come when they are used, and all of them behind the window."""

from __future__ import annotations

import subprocess
import sys
from importlib import import_module

from japanner._kernel_cache import kernel_modules
from japanner._numba import Kernel
from japanner.warming import load_kernels, warm_up


def test_every_kernel_is_loaded():
    there = [one for name in kernel_modules() for one in vars(import_module(name)).values() if isinstance(one, Kernel)]
    assert load_kernels() == len(there) > 50
    assert all(one._compiled is not None for one in there)
    assert load_kernels(lambda: False) == 0
    warm_up().join()


def test_a_window_comes_without_a_kernel_and_its_first_stroke_brings_a_few():
    code = (
        "import os, sys; os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
        "from japanner.desk.app import make_application\n"
        "from japanner.desk.window.main_window import MainWindow\n"
        "app = make_application(['test']); window = MainWindow(); window.show(); app.processEvents()\n"
        "print('numba' in sys.modules, 'scipy.optimize' in sys.modules)\n"
        "window.files.new(600, 400, 72.0); window.building.add_part('plain')\n"
        "window.session.begin_stroke([(100, 100, 1.0)]); window.session.strokes.go_on([(300, 300, 1.0)])\n"
        "window.session.rest_hand()\n"
        "print('numba' in sys.modules, any(name.endswith('_kernels_nets') for name in sys.modules), flush=True)\n"
        "os._exit(0)\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.split() == ["False", "False", "True", "False"]
