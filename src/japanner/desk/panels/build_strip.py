"""The build: the layers of the active part, first at the left, last at the right."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QContextMenuEvent, QPainter, QPen, QPolygonF, QResizeEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QMenu, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from japanner.desk.easel.landing import PLACE_WORDS
from japanner.desk.session.building import Building
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.card import Card
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.in_view import InView
from japanner.desk.widgets.menus import open_menu
from japanner.desk.widgets.section import clear
from japanner.desk.widgets.sideways import Sideways
from japanner.desk.widgets.thumbnails import draw_layer, frame_of
from japanner.painting.model import PLACES, ROLES, Layer, Part
from japanner.painting.operations import (
    AddMask,
    ApplyMask,
    ChangeMask,
    DeleteLayer,
    DropMask,
    MergeDown,
    SetLayer,
)
from japanner.painting.working_order import next_stage, working_order
from japanner.raster.modes import MODES

__all__ = ["BuildStrip"]

GAP = 3
HIGH = {"slim": 34, "full": 50}
# Tiles share the room there is; slim ones below NAME_ONLY lose their second line.
WIDEST, NARROWEST = {"slim": 104, "full": 130}, {"slim": 50, "full": 92}
NAME_ONLY_PX = 66
GHOST_PX, OTHER_PX = {"slim": 66, "full": 92}, 24


class _Tile(Card):
    def __init__(self, strip: BuildStrip, uid: int) -> None:
        super().__init__(QPointF(strip.tile.width() + GAP, 0))
        self._session, self.uid = strip.session, uid
        self.setFixedSize(strip.tile)
        self._slim = strip.form == "slim"
        self.chosen.connect(lambda: self._session.work.work_on_layer(uid))
        self.marked.connect(lambda: self._session.work.mark_layer(uid))
        self.lamp_pressed.connect(self._toggle)
        self.dropped.connect(partial(strip.building.move_layer, uid))
        self.rename_wanted.connect(partial(strip.building.rename_layer, uid))
        self._strip = strip
        self.refresh()

    def refresh(self) -> None:
        layer = self._session.painting.layer(self.uid)
        what = f"{layer.mode}, {layer.strength * 100:.0f} %, {PLACE_WORDS[layer.place]}"
        stale = " Out of date: F5 makes it anew." if self._stale(layer) else ""
        self.name("Layer", layer.name, f"{what}. Click to work on it, drag to reorder, double-click to rename; "
                  f"the lamp shows it.{stale}")  # fmt: skip
        self.update()

    def _stale(self, layer: Layer) -> bool:
        made = layer.made
        return made is not None and not made.on and made.run in self._session.out_of_date.runs

    def lamp(self) -> QPointF:
        return QPointF(self.width() - 8, 9)

    def _toggle(self) -> None:
        self._session.apply(SetLayer(self.uid, {"shown": not self._session.painting.layer(self.uid).shown}))

    def draw(self, painter: QPainter) -> None:
        found = next((both for both in self._session.painting.layers() if both[1].uid == self.uid), None)
        if found is None:
            return
        part, layer = found
        active = self._session.work.active_layer == self.uid
        self.draw_frame(painter, active=active, marked=self.uid in self._session.work.marked)
        if self._slim:
            self._slim_words(painter, layer)
        else:
            draw_layer(painter, self._picture(), layer.pixels, frame_of(part))
            self._words(painter, layer)
            self._draw_mask(painter, layer, worked_on=active and self._session.work.on == "mask")
        self.draw_lamp(painter, layer.shown)
        if self._stale(layer):
            # A cinnabar corner: what it was made from has changed.
            right, low = self.width() - 1, self.height() - 1
            corner = QPolygonF([QPointF(right, low), QPointF(right, low - 11), QPointF(right - 11, low)])
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme["cinnabar"])
            painter.drawPolygon(corner)

    def _picture(self) -> QRectF:
        return QRectF(5, 5, 44 if self.width() >= 120 else 28, self.height() - 10)

    def _slim_words(self, painter: QPainter, layer: Layer) -> None:
        """Its name; where there is room, what it is for and how strong."""
        named = self.width() < NAME_ONLY_PX
        painter.setFont(font(10 if named else 11))
        painter.setPen(theme["text"] if layer.shown else theme["quiet"])
        metrics, left = painter.fontMetrics(), 5
        if named:
            words = metrics.elidedText(layer.name, Qt.TextElideMode.ElideRight, self.width() - 2 * left + 2)
            painter.drawText(QRectF(left, 14, self.width() - left, 18), Qt.AlignmentFlag.AlignVCenter, words)
            return
        words = metrics.elidedText(layer.name, Qt.TextElideMode.ElideRight, self.width() - left - 14)
        painter.drawText(QPointF(left, 14), words)
        painter.setPen(theme["quiet"])
        mode = layer.mode if layer.name.lower() == layer.role or layer.mode != "Normal" else layer.role
        mask = " ◐" if layer.mask is not None else ""
        strength = f" {layer.strength * 100:.0f} %" if layer.strength < 1 else ""
        room = self.width() - left - 3
        for size in (10, 9):
            painter.setFont(font(size))
            if painter.fontMetrics().horizontalAdvance(mode + strength + mask) <= room:
                break
        metrics = painter.fontMetrics()
        mode = metrics.elidedText(mode, Qt.TextElideMode.ElideRight, room - metrics.horizontalAdvance(strength + mask))
        painter.drawText(QPointF(left, 28), mode + strength + mask)

    def _words(self, painter: QPainter, layer: Layer) -> None:
        left = self._picture().right() + 5
        room = round(self.width() - left - 4)
        painter.setFont(font(12 if room > 68 else 11))
        painter.setPen(theme["text"] if layer.shown else theme["quiet"])
        name = painter.fontMetrics().elidedText(layer.name, Qt.TextElideMode.ElideRight, room - 12)
        painter.drawText(QPointF(left, 16), name)
        painter.setFont(font(11 if room > 68 else 10))
        painter.setPen(theme["quiet"])
        relief = " relief" if layer.relief is not None else ""
        held = " · holds edges" if layer.hold_edges else ""
        strength = "" if layer.strength == 1 else f"{layer.strength * 100:.0f} % "
        for y, words in ((31, f"{layer.mode}{relief}"), (44, f"{strength}{PLACE_WORDS[layer.place]}{held}")):
            painter.drawText(
                QPointF(left, y), painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, room)
            )

    def _draw_mask(self, painter: QPainter, layer: Layer, *, worked_on: bool) -> None:
        """A small grey sheet over the thumbnail's corner; framed while strokes go into it."""
        if layer.mask is None:
            return
        rect = QRectF(self._picture().right() - 16, self.height() - 24, 20, 20)
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
        menu.addAction("Duplicate", lambda: self._strip.building.duplicate_layer(uid))
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
    """Full: a head with breadcrumb, working order, settings of the layer worked on, and below it the tiles. Slim: all
    of that in one line.
    """

    def __init__(self, session: Session, building: Building) -> None:
        super().__init__()
        self.session, self.building = session, building
        self.form = "full"
        self.tile = QSize(WIDEST["full"], HIGH["full"])
        self.setObjectName("strip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._shown: list[_Tile] = []
        self._made_from: tuple[object, ...] = ()
        self._tiles = QWidget()
        self._row = QHBoxLayout(self._tiles)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(GAP)
        self._scroll = Sideways()
        self._scroll.setWidget(self._tiles)
        self._scroll.setWidgetResizable(True)
        self._in_view = InView(self._scroll, self._active_tile)
        self._make_settings()
        self._head, self._body = QHBoxLayout(), QHBoxLayout()
        for row in (self._head, self._body):
            row.setContentsMargins(10, 0, 10, 0)
            row.setSpacing(8)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 3, 0, 3)
        column.setSpacing(2)
        column.addLayout(self._head)
        column.addLayout(self._body, 1)
        session.opened.connect(self._rebuild)
        session.work.active_changed.connect(self._on_changed)
        session.changed.connect(self._on_changed)
        session.work.target_changed.connect(self._on_changed)
        session.out_of_date.changed.connect(self._on_changed)
        self.set_form("full")

    def _make_settings(self) -> None:
        self._title, self._order = QLabel(), QLabel()
        self._title.setObjectName("heading")
        self._title.setMinimumWidth(0)
        self._order.setObjectName("quiet")
        self._order.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._mode = QComboBox()
        self._mode.addItems(list(MODES))
        self._mode.setToolTip("Blend mode of the layer worked on")
        self._mode.setAccessibleName("Blend mode")
        self._mode.setMaxVisibleItems(len(MODES))
        self._mode.activated.connect(lambda _: self._set(mode=self._mode.currentText()))
        self._strength = Fader("strength", 0, 100, unit=" %", name_width=54, figure_width=46)
        self._strength.setToolTip("Strength of the layer worked on")
        self._strength.moved.connect(self._preview_strength)
        self._strength.settled.connect(lambda value: self._set(strength=value / 100))
        self._place = QComboBox()
        for place in PLACES:
            self._place.addItem(PLACE_WORDS[place], place)
        self._place.setToolTip("Place: behind the flats, inside the silhouette, or over all of it")
        self._place.setAccessibleName("Place")
        self._place.activated.connect(lambda _: self._set(place=self._place.currentData()))

    def set_form(self, form: str) -> None:
        """Slim, one line; or full, two."""
        self.form = form
        for row in (self._head, self._body):
            while row.takeAt(0) is not None:
                pass
        settings = (self._mode, self._strength, self._place)
        self._strength.name_width = 54 if form == "full" else 0
        self._strength.setFixedWidth(190 if form == "full" else 96)
        self._mode.setFixedWidth(104)
        self._title.setMaximumWidth(1000 if form == "full" else 70)
        self._order.setVisible(form == "full")
        if form == "full":
            self._head.addWidget(self._title)
            self._head.addWidget(self._order, 1)
            for widget in settings:
                self._head.addWidget(widget)
            self._body.addWidget(self._scroll, 1)
        else:
            self._body.addWidget(self._title)
            self._body.addWidget(self._scroll, 1)
            for widget in settings[:2]:
                self._body.addWidget(widget)
        self._rebuild()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._tile_size() != self.tile:
            self._rebuild()

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
        self._in_view.later()

    def _tile_size(self) -> QSize:
        """Tiles share the room there is, between the widest and the narrowest that can be read."""
        part, form = self.session.part, self.form
        count = len(part.layers) if part is not None else 0
        taken = 20 + GHOST_PX[form] + OTHER_PX + 3 * GAP + 12
        if form == "slim":
            taken += self._title.maximumWidth() + self._mode.width() + self._strength.width() + 3 * 8
        room = (self.width() - taken) // max(count, 1) - GAP
        return QSize(min(max(room, NARROWEST[form]), WIDEST[form]), HIGH[form])

    def _rebuild(self) -> None:
        clear(self._row)
        part = self.session.part
        self._made_from, self.tile = _outline(part), self._tile_size()
        self._show_head()
        self._shown = []
        if part is not None:
            self._fill(part.layers)
        self._row.addStretch(1)
        self._in_view.later()

    def _show_head(self) -> None:
        part, layer = self.session.part, self.session.layer
        if self.form == "full":
            self._title.setText(f"BUILD — {part.name}, first to last" if part else "BUILD")
        else:
            metrics = self._title.fontMetrics()
            name = metrics.elidedText(part.name, Qt.TextElideMode.ElideRight, 64) if part else ""
            self._title.setText(f"BUILD\n{name}")
        self._title.setToolTip(part.name if part else "")
        order = " ▸ ".join(stage.role for stage in working_order(part.material)) if part else ""
        self._order.setText(f"working order: {order}" if part else "add a part to begin")
        for widget in (self._mode, self._strength, self._place):
            widget.setEnabled(layer is not None)
            widget.setVisible(layer is not None and (widget is not self._place or self.form == "full"))
        if layer is not None:
            self._mode.setCurrentText(layer.mode)
            self._strength.set_value(layer.strength * 100)
            self._place.setCurrentText(PLACE_WORDS[layer.place])

    def _active_tile(self) -> QWidget | None:
        return next((tile for tile in self._shown if tile.uid == self.session.work.active_layer), None)

    def _fill(self, layers: tuple[Layer, ...]) -> None:
        before = ""
        for layer in layers:
            if before and layer.place != before:
                mark = QLabel()
                mark.setObjectName("hairline")
                mark.setFixedSize(1, self.tile.height() - 6)
                self._row.addWidget(mark)
            before = layer.place
            tile = _Tile(self, layer.uid)
            self._shown.append(tile)
            self._row.addWidget(tile)
        self._row.addSpacing(4)
        self._row.addWidget(self._ghost())

    def _ghost(self) -> QWidget:
        """The next role of the working order, ready to be added; the plus offers any role."""
        part = self.session.part
        stage = next_stage(part) if part else None
        box = QWidget()
        row = QHBoxLayout(box)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(GAP)
        if stage is not None:
            below = "\nnext in order" if self.form == "full" else ""
            ghost = QPushButton(f"+ {stage.role.capitalize()}{below}")
            ghost.setObjectName("ghost")
            ghost.setAccessibleName("Next in order")
            ghost.setFixedSize(GHOST_PX[self.form], self.tile.height())
            ghost.setToolTip(f"Add the {stage.role} layer: {stage.mode}, {stage.strength * 100:.0f} %")
            ghost.clicked.connect(lambda: self.building.add_layer(stage.role))
            row.addWidget(ghost)
        other = QPushButton("+")
        other.setObjectName("ghost")
        other.setFixedSize(OTHER_PX, self.tile.height())
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
