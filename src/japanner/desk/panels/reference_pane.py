"""Reference beside the work: as large as one likes, next to the easel or in a window of its own."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QPushButton, QSplitter, QVBoxLayout, QWidget

from japanner.desk.easel.easel import Easel
from japanner.desk.panels.reference_picture import REFERENCE_LOOKS, ReferencePicture, looked_at
from japanner.desk.session.session import Session
from japanner.files.shelf.references import reference_of
from japanner.painting.model import DEFAULT_SCALE, Pinned

__all__ = ["ReferencePane", "ReferenceWindow"]

ALL = "all pictures"


class ReferencePane(QWidget):
    """One pinned picture or all of them, in colour, values or steps, mirrored, and linked with the easel on wish."""

    picture_wanted = Signal()  # to pin
    over_wanted = Signal(int)  # lay this one over the canvas
    closed = Signal()

    def __init__(self, session: Session, easel: Easel) -> None:
        super().__init__()
        self._session, self._easel = session, easel
        self._shown: tuple[Pinned, ...] = ()
        self.pictures: list[ReferencePicture] = []
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.which, self.how = QComboBox(), QComboBox()
        self.which.setToolTip("One picture, or all of them")
        self.which.setAccessibleName("Which picture")
        self.which.setMinimumContentsLength(6)
        self.which.activated.connect(lambda _: self._lay_out())
        self.how.addItems(list(REFERENCE_LOOKS))
        self.how.setToolTip("In colour, in values, or in the steps of the part worked on")
        self.how.setAccessibleName("Look of the reference")
        self.how.activated.connect(lambda _: self._look())
        self.mirrored, self.linked = QCheckBox("mirror"), QCheckBox("linked")
        self.mirrored.setToolTip("Show it mirrored")
        self.linked.setToolTip("Zoom and move it with the easel")
        self.mirrored.toggled.connect(lambda _: self._look())
        self.linked.toggled.connect(lambda _: self._follow())
        head = QHBoxLayout()
        head.setContentsMargins(8, 4, 4, 4)
        head.setSpacing(6)
        for widget in (self.which, self.how, self.mirrored, self.linked):
            head.addWidget(widget)
        head.addStretch(1)
        for text, tip, signal in (("over", "Lay it over the canvas", None), ("✕", "Close it", self.closed)):
            button = QPushButton(text)
            button.setObjectName("plain")
            button.setToolTip(tip)
            button.clicked.connect(partial(self._over) if signal is None else signal)
            head.addWidget(button)
        self._split = QSplitter(Qt.Orientation.Vertical)
        self._none = QPushButton("+ picture")
        self._none.setToolTip("Pin a picture to look at and to pick up colours from")
        self._none.clicked.connect(self.picture_wanted)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(self._none, 0, Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self._split, 1)
        for changed in (session.changed, session.opened):
            changed.connect(self._refresh)
        session.work.active_changed.connect(self._look)
        easel.turned.connect(self._follow)
        self._refresh()

    def set_form(self, form: str) -> None:
        """There is one."""

    def show_picture(self, index: int) -> None:
        """This one alone."""
        self._refresh()
        self.which.setCurrentIndex(min(index + 1, len(self._shown)))
        self._lay_out()

    @property
    def index(self) -> int:
        """Which picture is shown; the first if all are."""
        return max(self.which.currentIndex() - 1, 0)

    def image_of(self, index: int) -> tuple[QImage, str] | None:
        """A pinned picture as it is looked at here, and its name; None if nothing is pinned."""
        if not self._shown:
            return None
        pinned, part = self._shown[index], self._session.part
        scale = part.scale if part is not None else DEFAULT_SCALE
        return looked_at(reference_of(pinned).pixels, self.how.currentText(), scale), pinned.name

    def _refresh(self, _: object = None) -> None:
        board = self._session.painting.board
        if board == self._shown and self.which.count():
            return
        self._shown, at = board, self.which.currentIndex()
        self.which.clear()
        self.which.addItems([ALL, *(one.name for one in board)])
        self.which.setCurrentIndex(at if 0 <= at <= len(board) else 0)
        self._lay_out()

    def _lay_out(self) -> None:
        for one in self.pictures:
            one.hide()
            one.setParent(None)
            one.deleteLater()
        self.pictures = []
        chosen = self.which.currentIndex() - 1
        for index, pinned in enumerate(self._shown):
            if chosen < 0 or index == chosen:
                made = ReferencePicture(self._session, index, pinned, small=False)
                made.large_wanted.connect(partial(self.show_picture, index))
                self.pictures.append(made)
                self._split.addWidget(made)
        self._none.setVisible(not self._shown)
        self._split.setVisible(bool(self._shown))
        self._look()
        self._follow()

    def _look(self) -> None:
        for one in self.pictures:
            one.show_as(self.how.currentText(), mirrored=self.mirrored.isChecked())

    def _follow(self) -> None:
        """Where the easel looks, in shares of the canvas, the pictures look as well."""
        if not self.linked.isChecked():
            return
        view, painting = self._easel.view, self._session.painting
        whole = min(view.size.width() / painting.width, view.size.height() / painting.height)
        for one in self.pictures:
            one.see(view.centre.x() / painting.width, view.centre.y() / painting.height, view.zoom / max(whole, 1e-9))

    def _over(self, _: bool = False) -> None:
        if self._shown:
            self.over_wanted.emit(self.index)


class ReferenceWindow(QWidget):
    """The pane in a window of its own, for a second screen."""

    def __init__(self, session: Session, easel: Easel, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setWindowTitle("Reference — Japanner")
        self.pane = ReferencePane(session, easel)
        self.pane.closed.connect(self.close)
        self.resize(720, 560)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.pane)
