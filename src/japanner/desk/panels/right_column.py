"""The column at the right of the easel: reference board, second look, light, colour, stroke, pen."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, Qt, Signal
from PySide6.QtWidgets import QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from japanner.desk.brushes.pen_panel import PenPanel
from japanner.desk.panels.light_ball import LightPanel
from japanner.desk.panels.reference_board import ReferenceBoard
from japanner.desk.panels.second_look import SecondLook
from japanner.desk.panels.stroke import ColourPanel, StrokePanel
from japanner.desk.session.session import Session
from japanner.desk.widgets.menus import open_menu
from japanner.desk.widgets.section import Section

__all__ = ["RightColumn"]


class RightColumn(QWidget):
    """Sections that fold, under each other."""

    picture_wanted = Signal()  # to pin to the board
    own_window_wanted = Signal()  # for the second look
    reference_wanted = Signal(str, int)  # where: "beside", "window" or "over"; which picture

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.second_look = SecondLook(session)
        self._stroke = Section("STROKE", StrokePanel(session))
        self._pen = Section("PEN", PenPanel(session))
        pin = _aside("+ picture…", "Pin a picture, or see the board beside the easel, in a window, over the canvas")
        pin.clicked.connect(lambda _=False: self._open_board(pin))
        free = _aside("window", "The second look in a window of its own, for a second screen")
        free.clicked.connect(self.own_window_wanted)
        light = LightPanel(session)
        content = QWidget()
        column = QVBoxLayout(content)
        column.setContentsMargins(0, 2, 0, 4)
        column.setSpacing(0)
        board = ReferenceBoard(session)
        board.large_wanted.connect(lambda index: self.reference_wanted.emit("beside", index))
        self._board = Section("REFERENCE", board, pin)
        column.addWidget(self._board)
        column.addWidget(Section("SECOND LOOK", self.second_look, free))
        column.addWidget(Section("LIGHT", light, light.more))
        column.addWidget(Section("COLOUR IN HAND", ColourPanel(session)))
        column.addWidget(self._stroke)
        column.addWidget(self._pen)
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setObjectName("panel")
        scroll.setWidget(content)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scroll)
        session.hand.brush_changed.connect(self._name_stroke)
        self._name_stroke()

    def set_form(self, form: str) -> None:
        """Slim: what is looked at and picked from; full: the brush's other settings and the pen's as well."""
        for section in (self._stroke, self._pen):
            section.setVisible(form == "full")

    def _open_board(self, at: QPushButton) -> None:
        menu = QMenu(self)
        menu.addAction("Pin a picture…", self.picture_wanted.emit)
        for where, words in (
            ("beside", "Beside the easel"),
            ("window", "In its own window"),
            ("over", "Over the canvas"),
        ):
            action = menu.addAction(words, partial(self.reference_wanted.emit, where, 0))
            action.setEnabled(bool(self._session.painting.board))
        open_menu(menu, at.mapToGlobal(QPoint(0, at.height())))

    def _name_stroke(self) -> None:
        hand = self._session.hand
        kind = "wipe" if hand.wiping else hand.brush.kind
        name = hand.brush.name
        self._stroke.set_title(f"STROKE — {name}" + ("" if kind == name.lower() else f", {kind}"))


def _aside(text: str, tip: str) -> QPushButton:
    button = QPushButton(text)
    button.setObjectName("plain")
    button.setToolTip(tip)
    return button
