"""The dialog that files are chosen with: it shows the picture that a file holds."""

from __future__ import annotations

from pathlib import Path
from typing import Final

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QImageReader, QPixmap
from PySide6.QtWidgets import QFileDialog, QGridLayout, QLabel, QWidget

from japanner.files.stored_picture import stored_thumbnail

__all__ = ["PictureDialog", "picture_of"]

SIDE: Final = 190


def picture_of(path: Path) -> QPixmap:
    """A small picture of what a file holds: what a painting carries, or the picture itself; a null one for others."""
    png, pixmap = stored_thumbnail(path), QPixmap()
    if png is not None:
        pixmap.loadFromData(png)
    else:
        reader = QImageReader(str(path))
        reader.setAutoTransform(True)
        size = reader.size()
        if size.isValid():  # never more of a large picture than is shown
            reader.setScaledSize(size.scaled(QSize(SIDE, SIDE), Qt.AspectRatioMode.KeepAspectRatio))
            pixmap = QPixmap.fromImage(reader.read())
    if pixmap.isNull():
        return pixmap
    return pixmap.scaled(SIDE, SIDE, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)


class PictureDialog(QFileDialog):
    """One file to read."""

    def __init__(self, parent: QWidget | None, title: str, folder: str, kinds: str) -> None:
        super().__init__(parent, title, folder, kinds)
        self.setOption(QFileDialog.Option.DontUseNativeDialog)
        self.setFileMode(QFileDialog.FileMode.ExistingFile)
        self.preview = QLabel("no picture")
        self.preview.setObjectName("quiet")
        self.preview.setFixedWidth(SIDE + 12)
        self.preview.setAlignment(Qt.AlignmentFlag.AlignCenter)
        layout = self.layout()
        if isinstance(layout, QGridLayout):
            layout.addWidget(self.preview, 0, layout.columnCount(), layout.rowCount(), 1)
        self.currentChanged.connect(self._show)
        self.resize(940, 520)

    def _show(self, name: str) -> None:
        pixmap = picture_of(Path(name)) if name and Path(name).is_file() else QPixmap()
        if pixmap.isNull():
            self.preview.setText("no picture")
        else:
            self.preview.setPixmap(pixmap)

    @classmethod
    def asked(cls, parent: QWidget | None, title: str, folder: str, kinds: str) -> str:
        """The file that is chosen; "" for none."""
        dialog = cls(parent, title, folder, kinds)
        chosen = dialog.selectedFiles() if dialog.exec() else []
        dialog.deleteLater()
        return chosen[0] if chosen else ""
