"""Starting the application."""

from __future__ import annotations

import atexit
import os
import sys
import traceback
from pathlib import Path
from types import TracebackType
from typing import Final

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication

from japanner.desk.session.settings import recall
from japanner.desk.theme import THEMES, apply_theme
from japanner.desk.window.main_window import MainWindow

__all__ = ["make_application", "run"]

NO_SCREEN: Final = (
    "There is no screen: neither DISPLAY nor WAYLAND_DISPLAY is set.\n"
    "Start Japanner from a desktop, or on a virtual screen: xvfb-run --auto-servernum japanner"
)


def make_application(arguments: list[str]) -> QApplication:
    """The Qt application with our theme; there is one per process."""
    existing = QApplication.instance()
    if isinstance(existing, QApplication):
        return existing
    QApplication.setAttribute(Qt.ApplicationAttribute.AA_CompressHighFrequencyEvents, False)
    app = QApplication(arguments)
    app.setApplicationName("japanner")
    app.setApplicationDisplayName("Japanner")
    app.setStyle("Fusion")
    if app.platformName() == "offscreen":
        # There, what lies on the clipboard when the process ends is freed twice, by Python and by Qt. On a desktop it
        # is not, and may outlive us.
        atexit.register(lambda: QGuiApplication.clipboard().clear())
    name = recall("theme", "Lacquer")
    apply_theme(app, name if name in THEMES else "Lacquer")
    return app


def run(file: Path | None = None, demo: str | None = None) -> int:
    """Open the window and stay until it is closed; the exit status."""
    if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        print(NO_SCREEN, file=sys.stderr)
        return 1
    app = make_application(sys.argv[:1])
    window = MainWindow()
    _surface_bugs(window)
    window.show()
    if file is not None:
        window.show_bench()
        window.files.open(file)
    elif demo is not None:
        window.show_bench()
        window.files.demo(demo)
    return app.exec()


def _surface_bugs(window: MainWindow) -> None:
    """An exception nobody expected is our bug: it is printed, said, and the painting goes on."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        traceback.print_exception(kind, error, trace)
        window.tell(f"Something went wrong inside Japanner ({kind.__name__}). Your painting is still there; save it.")

    sys.excepthook = hook
