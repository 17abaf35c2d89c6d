"""States of the maquette as pictures, to come back to."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QIcon, QImage, QPixmap
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QMenu, QWidget, QWidgetAction

from japanner.light.maquette import Maquette

__all__ = ["States"]

MOST: Final = 24
SIDE_PX: Final = 92
ACROSS: Final = 4
ROWS_SEEN: Final = 3
GAP_PX: Final = 8


class States:
    """The latest states that a picture was made of, newest first, none twice."""

    def __init__(self) -> None:
        self.kept: list[tuple[Maquette, QPixmap]] = []

    def keep(self, maquette: Maquette, image: QImage) -> None:
        """Keep a state with what is seen of it; one that is known gets the newer picture."""
        small = image.scaled(SIDE_PX, SIDE_PX, Qt.AspectRatioMode.KeepAspectRatio,
                             Qt.TransformationMode.SmoothTransformation)  # fmt: skip
        rest = [one for one in self.kept if one[0] != maquette]
        self.kept = [(maquette, QPixmap.fromImage(small)), *rest][:MOST]

    def clear(self) -> None:
        """Another painting: nothing of this one is left."""
        self.kept = []

    def menu(self, parent: QWidget, chosen: Callable[[Maquette], object]) -> QMenu:
        """A menu of the pictures; a click, or Enter, chooses one."""
        menu, pictures = QMenu(parent), QListWidget()
        pictures.setViewMode(QListWidget.ViewMode.IconMode)
        pictures.setIconSize(QSize(SIDE_PX, SIDE_PX))
        pictures.setMovement(QListWidget.Movement.Static)
        pictures.setAccessibleName("States of the maquette")
        rows = min(-(-len(self.kept) // ACROSS), ROWS_SEEN)
        pictures.setFixedSize(ACROSS * (SIDE_PX + 2 * GAP_PX) + 24, rows * (SIDE_PX + 2 * GAP_PX) + 12)
        pictures.setSpacing(GAP_PX // 2)
        for number, (_, picture) in enumerate(self.kept):
            item = QListWidgetItem(QIcon(picture), "")
            item.setToolTip("The newest state" if not number else f"{number} before the newest")
            pictures.addItem(item)

        def take(item: QListWidgetItem) -> None:
            maquette = self.kept[pictures.row(item)][0]
            menu.close()
            chosen(maquette)

        pictures.itemClicked.connect(take)
        pictures.itemActivated.connect(take)
        holder = QWidgetAction(menu)
        holder.setDefaultWidget(pictures)
        menu.addAction(holder)
        return menu
