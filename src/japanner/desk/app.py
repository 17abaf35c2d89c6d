"""Starting the application, and ending it when the system says so."""

from __future__ import annotations

import atexit
import os
import signal
import sys
from pathlib import Path
from typing import Final

from PySide6.QtCore import QObject, QSocketNotifier, QTimer
from PySide6.QtGui import QGuiApplication, QIcon, QSessionManager
from PySide6.QtWidgets import QApplication, QWidget

from japanner.desk.coming import application
from japanner.desk.resume import last_painting
from japanner.desk.settings import recall, recent_files
from japanner.desk.theme import ASSETS, THEMES, apply_theme
from japanner.desk.trouble import trouble
from japanner.desk.window.main_window import MainWindow
from japanner.files.writing import sweep
from japanner.painting.document.journal import journals_folder, state_folder
from japanner.painting.document.leftovers import leftovers
from japanner.warming import warm_up

__all__ = ["make_application", "run"]

ENDINGS: Final = (signal.SIGTERM, signal.SIGINT, signal.SIGHUP)


def make_application(arguments: list[str]) -> QApplication:
    """The Qt application with our theme; there is one per process."""
    app = application(arguments)
    if app.property("japanner"):
        return app
    app.setProperty("japanner", True)
    app.setStyle("Fusion")
    app.setWindowIcon(QIcon(str(ASSETS / "icon" / "japanner.svg")))
    if app.platformName() == "offscreen":
        # There, what lies on the clipboard when the process ends is freed twice, by Python and by Qt. On a desktop it
        # is not, and may outlive us.
        atexit.register(lambda: QGuiApplication.clipboard().clear())
    name = recall("theme", "Lacquer")
    apply_theme(app, name if name in THEMES else "Lacquer")
    return app


def run(
    file: Path | None = None, coming: QWidget | None = None, demo: str | None = None, *, stage: str = "", size: str = ""
) -> int:
    """Open the window with a file or a demo, in the place of the one that is `coming`, and stay until it is closed; the
    exit status.

    stage, size: of the demo, which is then painted; without them it is opened as it is shipped.
    """
    trouble.watch()
    app = make_application(sys.argv[:1])
    _sweep()
    window = MainWindow()
    ending = Ending(app, window)
    window.left_off.restore_window(window)
    window.show()
    if coming is not None:
        coming.close()
    QTimer.singleShot(0, warm_up)  # once it has been painted
    last = last_painting()
    if file is not None:
        window.show_bench()
        window.files.open(file)
    elif demo is not None:
        window.show_bench()
        window.files.demo(demo, stage, size)
    elif last is not None and not leftovers(journals_folder()):
        window.show_bench()
        window.files.open(last)
    status = app.exec()
    ending.stop()
    return status


def _sweep() -> None:
    """Clear away what killed processes have left half written."""
    sweep(state_folder())
    for path in recent_files():
        sweep(path.parent, path.name)


class Ending(QObject):
    """Closes the window without a question when the system ends us: by a signal, or with the desktop's session."""

    def __init__(self, app: QApplication, window: MainWindow) -> None:
        super().__init__(app)
        self._window = window
        app.commitDataRequest.connect(self._commit)
        # Python handles signals between two of its own instructions, of which there are none while Qt waits.
        self._reader, self._writer = os.pipe()
        os.set_blocking(self._writer, False)
        self._former = signal.set_wakeup_fd(self._writer)
        for one in ENDINGS:
            signal.signal(one, lambda *_: None)
        self._notifier = QSocketNotifier(self._reader, QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._signalled)

    def _signalled(self) -> None:
        os.read(self._reader, 64)
        self._window.end_at_once()

    def _commit(self, manager: QSessionManager) -> None:
        """The desktop's session ends; whatever is not saved stays to be recovered."""
        manager.setRestartHint(QSessionManager.RestartHint.RestartNever)
        self._window.end_at_once()

    def stop(self) -> None:
        """Signals act as they did before."""
        self._notifier.setEnabled(False)
        signal.set_wakeup_fd(self._former)
        for one in ENDINGS:
            signal.signal(one, signal.SIG_DFL)
        os.close(self._reader)
        os.close(self._writer)
