"""The build: the layers of the active part, first at the left, last at the right."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QContextMenuEvent, QPainter, QPen
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from japanner.desk.session.building import Building
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.card import Card
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.menus import open_menu
from japanner.desk.widgets.section import clear
from japanner.desk.widgets.thumbnails import draw_layer, frame_of
from japanner.painting.model import PLACES, ROLES, Layer, Part
from japanner.painting.operations import (
    AddMask,
    ApplyMask,
    ChangeMask,
    DeleteLayer,
    DropMask,
    DuplicateLayer,
    MergeDown,
    SetLayer,
)
from japanner.painting.working_order import next_stage, working_order
from japanner.raster.modes import MODES

__all__ = ["BuildStrip"]

TILE = QSize(130, 70)
PLACE_WORDS = {"behind": "behind", "body": "inside", "over": "over"}


class _Tile(Card):
    def __init__(self, strip: BuildStrip, uid: int) -> None:
        super().__init__(QPointF(TILE.width() + 14, 0))
        self._session, self.uid = strip.session, uid
        self.setFixedSize(TILE)
        self.chosen.connect(lambda: self._session.work.work_on_layer(uid))
        self.marked.connect(lambda: self._session.work.mark_layer(uid))
        self.lamp_pressed.connect(self._toggle)
        self.dropped.connect(partial(strip.building.move_layer, uid))
        self.rename_wanted.connect(partial(strip.building.rename_layer, uid))
        self._strip = strip
        self.refresh()

    def refresh(self) -> None:
        layer = self._session.painting.layer(self.uid)
        self.name(
            "Layer", layer.name, "click to work on it, drag to reorder, double-click to rename; the lamp shows it"
        )
        self.update()

    def lamp(self) -> QPointF:
        return QPointF(self.width() - 12, self.height() - 13)

    def _toggle(self) -> None:
        self._session.apply(SetLayer(self.uid, {"shown": not self._session.painting.layer(self.uid).shown}))

    def draw(self, painter: QPainter) -> None:
        found = next((both for both in self._session.painting.layers() if both[1].uid == self.uid), None)
        if found is None:
            return
        part, layer = found
        active = self._session.work.active_layer == self.uid
        self.draw_frame(painter, active=active, marked=self.uid in self._session.work.marked)
        draw_layer(painter, QRectF(6, 6, 48, TILE.height() - 12), layer.pixels, frame_of(part))
        self._words(painter, layer)
        self._draw_mask(painter, layer, worked_on=active and self._session.work.on == "mask")
        self.draw_lamp(painter, layer.shown)

    def _words(self, painter: QPainter, layer: Layer) -> None:
        painter.setFont(font(12))
        painter.setPen(theme["text"] if layer.shown else theme["quiet"])
        room = TILE.width() - 64
        metrics = painter.fontMetrics()
        painter.drawText(QPointF(60, 17), metrics.elidedText(layer.name, Qt.TextElideMode.ElideRight, room))
        painter.setFont(font(11))
        painter.setPen(theme["quiet"])
        painter.drawText(QPointF(60, 34), f"{layer.mode}")
        painter.drawText(
            QPointF(60, 48), f"{layer.strength * 100:.0f} %{' relief' if layer.relief is not None else ''}"
        )
        held = " · holds edges" if layer.hold_edges else ""
        words = f"{PLACE_WORDS[layer.place]}{held}"
        painter.drawText(QPointF(60, 62), metrics.elidedText(words, Qt.TextElideMode.ElideRight, room))

    def _draw_mask(self, painter: QPainter, layer: Layer, *, worked_on: bool) -> None:
        """A small grey sheet over the thumbnail's corner; framed while strokes go into it."""
        if layer.mask is None:
            return
        rect = QRectF(34, TILE.height() - 26, 22, 22)
        grey = 255 if layer.mask.ground else 0
        painter.fillRect(rect, QColor(grey, grey, grey))
        draw_layer(painter, rect, layer.mask.pixels, layer.mask.pixels.rect, ground=None)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme["gold"] if worked_on else theme["lacquer"], 1.6))
        painter.drawRect(rect)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        session, uid = self._session, self.uid
        menu = QMenu(self)
        menu.addAction("Rename…", lambda: self._strip.building.rename_layer(uid))
        menu.addAction("Duplicate", lambda: session.apply(DuplicateLayer(uid)))
        menu.addAction("Merge down", lambda: session.apply(MergeDown(uid)))
        self._mask_menu(menu.addMenu("Mask"))
        holds = self._session.painting.layer(uid).hold_edges
        menu.addAction(
            "Let go of its edges" if holds else "Hold its edges",
            lambda: session.apply(SetLayer(uid, {"hold_edges": not holds})),
        )
        modes = menu.addMenu("Mode")
        for mode in MODES:
            modes.addAction(mode, partial(session.apply, SetLayer(uid, {"mode": mode})))
        places = menu.addMenu("Place")
        for place in PLACES:
            places.addAction(PLACE_WORDS[place], partial(session.apply, SetLayer(uid, {"place": place})))
        roles = menu.addMenu("Role")
        for role in ROLES:
            roles.addAction(role, partial(session.apply, SetLayer(uid, {"role": role})))
        menu.addSeparator()
        menu.addAction("Delete layer", lambda: session.apply(DeleteLayer(uid)))
        open_menu(menu, event.globalPos())

    def _paint_in_mask(self) -> None:
        self._session.work.work_on_layer(self.uid)
        self._session.work.work_on("mask")

    def _mask_menu(self, menu: QMenu) -> None:
        session, uid = self._session, self.uid
        if session.painting.layer(uid).mask is None:
            menu.addAction("Add, hiding nothing", lambda: session.apply(AddMask(uid)))
            menu.addAction("Add, from the frisket", lambda: session.apply(AddMask(uid, True)))
            return
        menu.addAction("Paint in it", self._paint_in_mask)
        menu.addAction("Invert", lambda: session.apply(ChangeMask(uid, "invert")))
        menu.addAction("Apply", lambda: session.apply(ApplyMask(uid)))
        menu.addAction("Drop", lambda: session.apply(DropMask(uid)))


class BuildStrip(QWidget):
    """Head: breadcrumb, working order, settings of the layer worked on. Below: the tiles."""

    def __init__(self, session: Session, building: Building) -> None:
        super().__init__()
        self.session, self.building = session, building
        self.setObjectName("strip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(110)
        self._shown: list[_Tile] = []
        self._made_from = _outline(None)
        self._tiles = QWidget()
        self._row = QHBoxLayout(self._tiles)
        self._row.setContentsMargins(12, 0, 12, 0)
        self._row.setSpacing(2)
        self._scroll = QScrollArea()
        self._scroll.setWidget(self._tiles)
        self._scroll.setWidgetResizable(True)
        self._scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 2)
        column.setSpacing(3)
        column.addLayout(self._head())
        column.addWidget(self._scroll, 1)
        session.opened.connect(self._rebuild)
        session.work.active_changed.connect(self._on_changed)
        session.changed.connect(self._on_changed)
        session.work.target_changed.connect(self._on_changed)
        self._rebuild()

    def _head(self) -> QHBoxLayout:
        self._title, self._order = QLabel(), QLabel()
        self._title.setObjectName("heading")
        self._order.setObjectName("quiet")
        self._mode = QComboBox()
        self._mode.addItems(list(MODES))
        self._mode.setToolTip("Blend mode of the layer worked on")
        self._mode.setAccessibleName("Blend mode")
        self._mode.setMaxVisibleItems(len(MODES))
        self._mode.activated.connect(lambda _: self._set(mode=self._mode.currentText()))
        self._strength = Fader("strength", 0, 100, unit=" %", name_width=54)
        self._strength.setFixedWidth(220)
        self._strength.setToolTip("Strength of the layer worked on")
        self._strength.moved.connect(self._preview_strength)
        self._strength.settled.connect(lambda value: self._set(strength=value / 100))
        self._place = QComboBox()
        for place in PLACES:
            self._place.addItem(PLACE_WORDS[place], place)
        self._place.setToolTip("Place: behind the flats, inside the silhouette, or over all of it")
        self._place.setAccessibleName("Place")
        self._place.activated.connect(lambda _: self._set(place=self._place.currentData()))
        head = QHBoxLayout()
        head.setContentsMargins(12, 0, 12, 0)
        head.setSpacing(10)
        head.addWidget(self._title)
        head.addWidget(self._order, 1)
        for widget in (self._mode, self._strength, self._place):
            head.addWidget(widget)
        return head

    # --- what the strip does --------------------------------------------------------------------------

    def _set(self, **changes: object) -> None:
        layer = self.session.layer
        if layer is not None and any(getattr(layer, name) != value for name, value in changes.items()):
            self.session.apply(SetLayer(layer.uid, changes))

    def _preview_strength(self, value: float) -> None:
        if self.session.work.active_layer is not None:
            self.session.trials.preview(SetLayer(self.session.work.active_layer, {"strength": value / 100}))

    # --- keeping up -----------------------------------------------------------------------------------

    def _on_changed(self, _: object = None) -> None:
        """Make the tiles anew only if they are other ones: a tile that is being dragged has to stay."""
        part = self.session.part
        if self._made_from != _outline(part):
            self._rebuild()
            return
        self._show_head()
        for tile in self._shown:
            tile.refresh()

    def _rebuild(self) -> None:
        clear(self._row)
        self._show_head()
        part = self.session.part
        self._made_from = _outline(part)
        self._shown = []
        if part is not None:
            self._fill(part.layers)
        self._row.addStretch(1)

    def _show_head(self) -> None:
        part, layer = self.session.part, self.session.layer
        self._title.setText(f"BUILD — {part.name}, first to last" if part else "BUILD")
        order = " ▸ ".join(stage.role for stage in working_order(part.material)) if part else ""
        self._order.setText(f"working order: {order}" if part else "add a part to begin")
        for widget in (self._mode, self._strength, self._place):
            widget.setEnabled(layer is not None)
            widget.setVisible(layer is not None)
        if layer is not None:
            self._mode.setCurrentText(layer.mode)
            self._strength.set_value(layer.strength * 100)
            self._place.setCurrentText(PLACE_WORDS[layer.place])

    def _fill(self, layers: tuple[Layer, ...]) -> None:
        before = ""
        for layer in layers:
            if before:
                mark = QLabel("›" if layer.place == before else "│")
                mark.setObjectName("gold")
                mark.setFixedWidth(10)
                mark.setAlignment(Qt.AlignmentFlag.AlignCenter)
                self._row.addWidget(mark)
            before = layer.place
            tile = _Tile(self, layer.uid)
            self._shown.append(tile)
            self._row.addWidget(tile)
            if layer.uid == self.session.work.active_layer:
                self._scroll.ensureWidgetVisible(tile)
        self._row.addSpacing(8)
        self._row.addWidget(self._ghost())

    def _ghost(self) -> QWidget:
        """The next role of the working order, ready to be added; the plus offers any role."""
        part = self.session.part
        stage = next_stage(part) if part else None
        box = QWidget()
        row = QHBoxLayout(box)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        if stage is not None:
            ghost = QPushButton(f"+ {stage.role.capitalize()}\nnext in order")
            ghost.setFixedSize(TILE.width() - 14, TILE.height())
            ghost.setToolTip(f"Add the {stage.role} layer: {stage.mode}, {stage.strength * 100:.0f} %")
            ghost.clicked.connect(lambda: self.building.add_layer(stage.role))
            row.addWidget(ghost)
        other = QPushButton("+")
        other.setFixedSize(30, TILE.height())
        other.setToolTip("Add a layer of any role")
        other.setAccessibleName("Add a layer")
        other.clicked.connect(lambda: self._ask_for_role(other))
        row.addWidget(other)
        return box

    def _ask_for_role(self, at: QWidget) -> None:
        menu = QMenu(self)
        for role in ROLES:
            menu.addAction(role, partial(self.building.add_layer, role))
        open_menu(menu, at.mapToGlobal(QPoint(0, 0)))


def _outline(part: Part | None) -> tuple[object, ...]:
    """What the tiles and the marks between them, and the ghost tile, are made from."""
    return (part.uid, part.material, *((la.uid, la.place, la.role) for la in part.layers)) if part else ()
