"""What is seen first: a small window that says that Japanner is coming, while the rest is read in.

Nothing here needs more than Qt, or there would be nothing to see for a second.
"""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QLabel, QVBoxLayout, QWidget

__all__ = ["Coming", "application"]

STYLE = (
    "QWidget {{ background: {panel}; color: {text}; font-size: 13px; }}"
    "QLabel#title {{ color: {gold}; font-size: 20px; }}"
)


def application(arguments: list[str]) -> QApplication:
    """The Qt application, one per process, as bare as it comes."""
    existing = QApplication.instance()
    if isinstance(existing, QApplication):
        return existing
    QApplication.setAttribute(Qt.ApplicationAttribute.AA_CompressHighFrequencyEvents, False)
    app = QApplication(arguments)
    app.setApplicationName("japanner")
    app.setApplicationDisplayName("Japanner")
    app.setDesktopFileName("japanner")
    return app


class Coming(QWidget):
    """Stands in the middle of the screen until the window is there."""

    def __init__(self, words: str, colours: dict[str, str]) -> None:
        """`colours`: of a theme."""
        super().__init__(None, Qt.WindowType.SplashScreen)
        self.setStyleSheet(STYLE.format(**colours))
        self.setFixedSize(420, 96)
        title, what = QLabel("Japanner"), QLabel(words)
        title.setObjectName("title")
        column = QVBoxLayout(self)
        column.setContentsMargins(22, 18, 22, 18)
        column.addWidget(title)
        column.addWidget(what)
        screen = QApplication.primaryScreen()
        if screen is not None:
            self.move(screen.availableGeometry().center() - self.rect().center())

    def show_now(self) -> None:
        """Be seen before the next line of the program runs."""
        self.show()
        self.repaint()
        QApplication.processEvents()
