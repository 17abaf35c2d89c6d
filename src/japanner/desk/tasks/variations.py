"""Six small pictures of what a maker would make by chance, to choose one from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any, Final

import numpy as np
from PySide6.QtCore import QPoint, QSize, Qt, Signal
from PySide6.QtGui import QIcon, QImage, QPixmap
from PySide6.QtWidgets import QFrame, QGridLayout, QToolButton, QWidget

from japanner.desk.session.latest import Latest
from japanner.desk.widgets.images import image_of
from japanner.painting.live.trial import Trial
from japanner.painting.model import Painting
from japanner.painting.operations import Make
from japanner.painting.picture.compositor import flattened
from japanner.raster.geometry import Rect
from japanner.raster.parallel import watched

__all__ = ["Variations"]

COUNT: Final = 6
COLUMNS: Final = 3
PICTURE: Final = QSize(176, 132)
LONGEST_PX: Final = 380
"""About so large is the painting that is tried on."""
Wish = tuple[Painting, Make]


class Variations(QFrame):
    """Pops up beside a button; each picture comes as it is worked out."""

    chosen = Signal(int)  # a seed

    def __init__(self, parent: QWidget, painting: Painting, operation: Make) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("card")
        grid = QGridLayout(self)
        grid.setContentsMargins(8, 8, 8, 8)
        grid.setSpacing(6)
        self.buttons: list[QToolButton] = []
        for number in range(COUNT):
            seed = (operation.seed + number) % 10000
            button = QToolButton()
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            button.setIconSize(PICTURE)
            button.setText(f"seed {seed}" if number else f"seed {seed}, as it is")
            button.setToolTip("Take this one")
            button.clicked.connect(lambda _=False, seed=seed: self._choose(seed))
            blank = QPixmap(PICTURE)
            blank.fill(Qt.GlobalColor.transparent)
            button.setIcon(QIcon(blank))
            grid.addWidget(button, number // COLUMNS, number % COLUMNS)
            self.buttons.append(button)
        self._latest = Latest(self, _work_out)
        self._latest.delivered.connect(self._take)
        self._latest.want((painting, operation))

    def open_at(self, at: QPoint) -> None:
        """Show it with its upper left corner at a place on the screen, as far as the screen has room."""
        self.adjustSize()
        screen = self.screen().availableGeometry()
        at = QPoint(min(at.x(), screen.right() - self.width()), min(at.y(), screen.bottom() - self.height()))
        self.move(at)
        self.show()

    def _take(self, _: Wish, made: tuple[int, QImage]) -> None:
        number, image = made
        self.buttons[number].setIcon(QIcon(QPixmap.fromImage(image)))

    def _choose(self, seed: int) -> None:
        self._latest.stop()
        self.chosen.emit(seed)
        self.close()

    def settle(self) -> None:
        """Until all pictures are there."""
        self._latest.settle()


def _work_out(wish: Wish, deliver: Callable[[Any], None], told: Callable[[float], None]) -> None:
    painting, operation = wish
    step = 1
    while max(painting.width, painting.height) / step > LONGEST_PX:
        step *= 2
    trial = Trial(painting, step=step)
    with watched(told):
        for number in range(COUNT):
            told(number / COUNT)
            outcome, _ = trial.sketched(replace(operation, seed=(operation.seed + number) % 10000))
            deliver((number, _picture(outcome, operation.part)))


def _picture(painting: Painting, part: int) -> QImage:
    """The part, and a little of what is around it."""
    whole = Rect(0, 0, painting.width, painting.height)
    area = whole
    for one in painting.part(part).layers:
        bounds = one.pixels.bounds()
        if one.role == "flat" and not bounds.empty:
            area = bounds.grown(max(bounds.width, bounds.height) // 8 + 2).intersected(whole)
    codes = flattened(painting).read(area).astype(np.float32) / 65535
    ground = np.asarray(painting.ground, np.float32)[:, None, None]
    colours = np.rint(np.clip(codes[:3] + (1 - codes[3]) * ground, 0, 1) * 255).astype(np.uint8)
    image = image_of(np.moveaxis(colours, 0, -1))
    return image.scaled(PICTURE, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
