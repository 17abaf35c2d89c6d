"""The first start: kernels are compiled for this machine, once, behind a small window that says so.

Nothing here imports a kernel, or there would be nothing to see for two minutes.
"""

from __future__ import annotations

import os
import re
import sys
from typing import Final

from PySide6.QtCore import QProcess, Qt
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QApplication, QLabel, QProgressBar, QVBoxLayout, QWidget

__all__ = ["FirstStart", "compiled_first"]

DONE: Final = re.compile(rb"Kernels (\d+)/(\d+)")
STYLE: Final = (
    "QWidget { background: #221f1d; color: #ece6da; font-size: 13px; }"
    "QLabel#title { color: #c9a453; font-size: 20px; }"
    "QProgressBar { background: #37322e; border: none; height: 6px; } QProgressBar::chunk { background: #c9a453; }"
)


class FirstStart(QWidget):
    """Runs the compiler in a process of its own, and closes when that has ended."""

    def __init__(self, command: list[str]) -> None:
        super().__init__()
        self.setWindowTitle("Japanner")
        self.setStyleSheet(STYLE)
        self.setFixedWidth(420)
        title = QLabel("Japanner")
        title.setObjectName("title")
        self.words = QLabel("Making itself ready for this machine. It takes two minutes, this once.")
        self.words.setWordWrap(True)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        column = QVBoxLayout(self)
        column.setContentsMargins(22, 18, 22, 20)
        column.setSpacing(12)
        for one in (title, self.words, self.bar):
            column.addWidget(one)
        self.ended = False
        self.whole = False
        """Whether everything was compiled."""
        self._process = QProcess(self)
        self._process.setProcessChannelMode(QProcess.ProcessChannelMode.MergedChannels)
        self._process.readyRead.connect(self._read)
        self._process.finished.connect(self._finished)
        self._process.errorOccurred.connect(lambda _: self._finished(1))
        self._process.start(command[0], command[1:])

    def _read(self) -> None:
        found = DONE.findall(bytes(self._process.readAll().data()))
        if found:
            done, whole = (int(one) for one in found[-1])
            self.bar.setRange(0, whole)
            self.bar.setValue(done)

    def _finished(self, status: int) -> None:
        self.ended, self.whole = True, status == 0
        self.close()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Who closes it does not want to wait: what is compiled by then is kept for the next time."""
        if not self.ended:
            self.ended = True
            self._process.kill()
            self._process.waitForFinished(2000)
        super().closeEvent(event)


def compiled_first() -> bool:
    """Compile what is missing; False if the user did not want to wait for it. Without a screen there is no window."""
    if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        return True
    app = QApplication(sys.argv[:1])
    app.setStyle("Fusion")
    window = FirstStart([sys.executable, "-m", "japanner.compile_kernels"])
    window.setAttribute(Qt.WidgetAttribute.WA_QuitOnClose)
    window.show()
    app.exec()
    whole = window.whole
    window.deleteLater()
    app.shutdown()
    return whole
