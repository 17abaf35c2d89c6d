"""Parts: cards from back to front; below, the part's strength and its mixing grid."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QEvent, QPoint, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QContextMenuEvent, QPainter, QPen, QResizeEvent
from PySide6.QtWidgets import QMenu, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from japanner.desk.panels.mixing_grid import MixingGrid
from japanner.desk.panels.smear_pad import SmearPad
from japanner.desk.session.building import Building
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.card import Card
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.in_view import InView
from japanner.desk.widgets.menus import open_menu
from japanner.desk.widgets.section import Section, clear
from japanner.desk.widgets.thumbnails import draw_part
from japanner.painting.model import MATERIALS, Part
from japanner.painting.operations import DeletePart, DuplicatePart, FlattenPart, SetPart
from japanner.painting.working_order import working_order

__all__ = ["PartsPanel"]

CARD_HEIGHT = {"slim": 24, "full": 44}
GAP = {"slim": 3, "full": 4}
NARROW_PX = 176
HEADING_PX = 36


class _Card(Card):
    def __init__(self, panel: PartsPanel, uid: int) -> None:
        super().__init__(QPointF(0, CARD_HEIGHT[panel.form] + GAP[panel.form]))
        self._panel, self._session, self.uid = panel, panel.session, uid
        self._slim = panel.form == "slim"
        self.setFixedHeight(CARD_HEIGHT[panel.form])
        self.chosen.connect(lambda: self._session.work.work_on_part(uid))
        self.lamp_pressed.connect(self._toggle)
        self.dropped.connect(partial(panel.building.move_part, uid))
        self.rename_wanted.connect(partial(panel.building.rename_part, uid))
        self.refresh()

    def refresh(self) -> None:
        part = self._session.painting.part(self.uid)
        self.name("Part", part.name, f"{part.material}. Click to work on it, drag to reorder, double-click to rename; "
                  "the lamp shows it")  # fmt: skip
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(100, self.height())

    def lamp(self) -> QPointF:
        return QPointF(self.width() - 10, self.height() / 2) if self._slim else QPointF(self.width() - 14, 14)

    def _toggle(self) -> None:
        self._session.apply(SetPart(self.uid, {"shown": not self._session.painting.part(self.uid).shown}))

    def draw(self, painter: QPainter) -> None:
        part = next((one for one in self._session.painting.parts if one.uid == self.uid), None)
        if part is None:
            return
        self.draw_frame(painter, active=self._session.work.active_part == self.uid)
        picture = QRectF(4, 3, 24, 18) if self._slim else QRectF(6, 6, 44, self.height() - 12)
        draw_part(painter, picture, part)
        left = picture.right() + (5 if self._slim else 8)
        painter.setFont(font(12))
        painter.setPen(theme["text"] if part.shown else theme["quiet"])
        room = round(self.width() - left - (20 if self._slim else 26))
        name = painter.fontMetrics().elidedText(part.name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QPointF(left, 16 if self._slim else 18), name)
        if not self._slim:
            painter.setFont(font(11))
            painter.setPen(theme["quiet"])
            painter.drawText(QPointF(left, 35), part.material)
            self._dots(painter, part)
        self.draw_lamp(painter, part.shown)

    def _dots(self, painter: QPainter, part: Part) -> None:
        """One dot per stage of the working order, filled when the part has that layer."""
        done = {layer.role for layer in part.layers}
        stages = working_order(part.material)
        pitch = min(10.0, (self.width() - 116) / max(len(stages), 1))
        for index, stage in enumerate(stages):
            painter.setPen(QPen(theme["hairline"], 1))
            painter.setBrush(theme["gold"] if stage.role in done else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(112 + index * pitch, 31.5), 2.5, 2.5)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        menu = QMenu(self)
        menu.addAction("Rename…", lambda: self._panel.building.rename_part(self.uid))
        materials = menu.addMenu("Material")
        for name in MATERIALS:
            materials.addAction(name, partial(self._session.apply, SetPart(self.uid, {"material": name})))
        menu.addAction("Duplicate part", lambda: self._session.apply(DuplicatePart(self.uid)))
        menu.addAction("Flatten part", lambda: self._session.carry_out(FlattenPart(self.uid)))
        menu.addAction("Move to the back", lambda: self._panel.building.move_part(self.uid, -1))
        menu.addAction("Move to the front", lambda: self._panel.building.move_part(self.uid, 1))
        menu.addSeparator()
        menu.addAction("Delete part", lambda: self._session.apply(DeletePart(self.uid)))
        open_menu(menu, event.globalPos())


def _aside(text: str, tip: str) -> QPushButton:
    """A button beside the heading of a section."""
    button = QPushButton(text)
    button.setObjectName("plain")
    button.setToolTip(tip)
    return button


class PartsPanel(QWidget):
    """The left column."""

    grid_menu_wanted = Signal(QPoint)  # where on the screen

    def __init__(self, session: Session, building: Building) -> None:
        super().__init__()
        self.session, self.building = session, building
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.form = "full"
        self._wanted = 30
        self._cards = QWidget()
        self._list = QVBoxLayout(self._cards)
        self._list.setContentsMargins(0, 0, 0, 0)
        self._list.setSpacing(4)
        scroll = self._scroll = QScrollArea()
        scroll.setWidget(self._cards)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._in_view = InView(scroll, self._active_card)
        scroll.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Ignored)
        add = _aside("+ part", "Add a part in front; choose its material")
        add.clicked.connect(lambda: self.ask_for_part(add))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 4)
        column.setSpacing(0)
        column.addWidget(Section("PARTS", scroll, add))
        self._strength = Fader("strength", 0, 100, unit=" %", name_width=54)
        self._strength.setToolTip("Strength of the part worked on")
        self._strength.setAccessibleName("Part strength")
        self._strength.moved.connect(self._try_strength)
        self._strength.settled.connect(self._set_strength)
        self._part_section = Section("PART", self._strength)
        column.addWidget(self._part_section)
        more = self._more = _aside("keep, take…", "Keep the grid, take another, say what surrounds the part")
        more.clicked.connect(lambda: self.grid_menu_wanted.emit(more.mapToGlobal(QPoint(0, more.height()))))
        self._grid_section = Section("MIXING GRID", MixingGrid(session), more)
        column.addWidget(self._grid_section)
        self.pad = SmearPad(session)
        clean = _aside("clean", "Begin with an empty pad")
        clean.clicked.connect(self.pad.clean)
        self._pad_section = Section("SMEAR PAD", self.pad, clean)
        column.addWidget(self._pad_section, 1)
        session.opened.connect(self._rebuild)
        session.changed.connect(self._on_changed)
        session.work.active_changed.connect(self._on_changed)
        self.set_form("full")

    def set_form(self, form: str) -> None:
        """Slim: a line for each part; full: with what it is made of and how far it has come."""
        self.form = form
        self._list.setSpacing(GAP[form])
        self._part_section.setVisible(form == "full")
        self._pad_section.set_title("SMEAR PAD" if form == "full" else "PAD")
        self._rebuild()
        self._name_by_width()

    def event(self, event: QEvent) -> bool:
        done = super().event(event)
        if event.type() == QEvent.Type.LayoutRequest:  # the grid has other rows
            self._share_height()
        return done

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._share_height()
        self._name_by_width()

    def _name_by_width(self) -> None:
        """Short words where there is no room for long ones."""
        self._more.setText("keep, take…" if self.width() >= NARROW_PX else "more…")
        self._show_strength()

    def ask_for_part(self, at: QWidget) -> None:
        menu = QMenu(self)
        for material in MATERIALS:
            menu.addAction(material, partial(self.building.add_part, material))
        open_menu(menu, at.mapToGlobal(QPoint(0, at.height())))

    def _try_strength(self, value: float) -> None:
        if self.session.part is not None:
            self.session.trials.preview(SetPart(self.session.part.uid, {"strength": value / 100}))

    def _set_strength(self, value: float) -> None:
        if self.session.part is not None and self.session.part.strength != value / 100:
            self.session.apply(SetPart(self.session.part.uid, {"strength": value / 100}))

    def _on_changed(self, _: object = None) -> None:
        self._show_strength()
        cards = [card.uid for card in self._cards.findChildren(_Card)]
        if cards != [part.uid for part in self.session.painting.parts]:
            self._rebuild()
        else:
            self._refresh()

    def _rebuild(self) -> None:
        self._show_strength()
        clear(self._list)
        for part in self.session.painting.parts:
            self._list.addWidget(_Card(self, part.uid))
        self._list.addStretch(1)
        count = len(self.session.painting.parts)
        pitch = CARD_HEIGHT[self.form] + GAP[self.form]
        self._wanted = max(count * pitch, 30)
        self._share_height()
        self._in_view.later()

    def _share_height(self) -> None:
        """The list is as high as its cards, as long as that leaves the pad its least height."""
        others = (self._part_section, self._grid_section, self._pad_section)
        taken = sum(one.minimumSizeHint().height() for one in others if not one.isHidden())
        room = self.height() - taken - HEADING_PX
        high = max(min(self._wanted, room), 2 * CARD_HEIGHT[self.form])
        if high != self._scroll.maximumHeight():
            self._scroll.setFixedHeight(high)
            self._in_view.later()

    def _active_card(self) -> QWidget | None:
        cards = self._cards.findChildren(_Card)
        return next((card for card in cards if card.uid == self.session.work.active_part), None)

    def _show_strength(self) -> None:
        part = self.session.part
        title = "MIXING GRID" if self.width() >= NARROW_PX else "GRID"
        self._grid_section.set_title(title if part is None or part.grid is None else part.grid.name.upper())
        self._strength.setEnabled(part is not None)
        self._strength.set_value(part.strength * 100 if part else 100)

    def _refresh(self) -> None:
        for card in self._cards.findChildren(_Card):
            card.refresh()
        self._in_view.later()
