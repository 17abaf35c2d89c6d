"""The brush roll: slots with each brush's own stroke, its name, and what it does."""

from __future__ import annotations

from collections import OrderedDict
from functools import partial

from PySide6.QtCore import QObject, QPoint, QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QContextMenuEvent, QImage, QPainter
from PySide6.QtWidgets import QHBoxLayout, QInputDialog, QMenu, QPushButton, QVBoxLayout, QWidget

from japanner.color.srgb import srgb_from_hex
from japanner.desk.brushes.preview import preview_image
from japanner.desk.easel.easel import Easel
from japanner.desk.panels.hand_block import HandBlock
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.card import Card
from japanner.desk.widgets.menus import open_menu
from japanner.desk.widgets.section import clear, hairline
from japanner.desk.widgets.sideways import Sideways
from japanner.errors import InputError
from japanner.stroke.brush import Brush

__all__ = ["BrushRoll"]

SLOT, GAP = QSize(79, 52), 3
BLEND = "blend"
MOST_KEPT = 200
COMPLETE = ("basic", BLEND)
ROLL_OF = {"fur": "coat", "hair": "locks", "plain": "basic", "drawing": "sketch"}


class _Previews(QObject):
    """Strokes of brushes, drawn one at a time while the hand does nothing: a roll lies there at once."""

    drawn = Signal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._made: OrderedDict[tuple[Brush, str], QImage] = OrderedDict()
        self._wanted: dict[tuple[Brush, str], None] = {}
        self._next = QTimer(self)
        self._next.timeout.connect(self._draw)

    def of(self, brush: Brush) -> QImage | None:
        """The stroke of a brush; None until it has been drawn."""
        key = (brush, theme["text"].name())
        if key in self._made:
            self._made.move_to_end(key)
            return self._made[key]
        self._wanted[key] = None
        self._next.start()
        return None

    @property
    def waiting(self) -> bool:
        """Whether any are still to be drawn."""
        return bool(self._wanted)

    def _draw(self) -> None:
        key = next(iter(self._wanted), None)
        if key is None:
            self._next.stop()
            return
        del self._wanted[key]
        self._made[key] = preview_image(key[0], SLOT.width() - 10, 26, srgb_from_hex(key[1]))
        while len(self._made) > MOST_KEPT:
            self._made.popitem(last=False)
        self.drawn.emit()


class _Slot(Card):
    def __init__(self, roll: BrushRoll, index: int) -> None:
        super().__init__(QPointF(SLOT.width() + GAP, 0))
        self._roll, self._session, self._index = roll, roll.session, index
        self.setFixedSize(SLOT)
        brush = self._session.hand.brushes[index]
        kind = "" if brush.kind in brush.name.lower() else f", {brush.kind}"
        self.name("Brush", f"{brush.name}{kind}", "click to take in hand, drag to reorder, double-click to rename")
        self.chosen.connect(lambda: self._session.hand.take_brush(index))
        self.dropped.connect(lambda places: roll.reorder(index, index + places))
        self.rename_wanted.connect(partial(roll.rename, index))

    def draw(self, painter: QPainter) -> None:
        session = self._session
        brush = session.hand.brushes[self._index]
        held, resting = session.hand.in_hand == self._index, session.hand.resting == self._index
        self.draw_frame(painter, active=held, marked=resting)
        picture = self._roll.previews.of(brush)
        if picture is not None:
            painter.drawImage(5, 4, picture)
        painter.setPen(theme["text"] if held or resting else theme["quiet"])
        self._draw_name(painter, brush)
        if resting:
            corner = QRectF(self.width() - 15, 3, 12, 12)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme["tile"])
            painter.drawRoundedRect(corner, 3, 3)
            painter.setPen(theme["gold"])
            painter.setFont(font(10))
            painter.drawText(corner, Qt.AlignmentFlag.AlignCenter, "Q")

    def _draw_name(self, painter: QPainter, brush: Brush) -> None:
        """Its name and what it does, as far as there is room: first the words go, then the letters get smaller."""
        rect = QRectF(3, 31, self.width() - 6, 18)
        told = brush.does.plain or brush.kind in brush.name.lower()
        whole = brush.name if told else f"{brush.name}  {brush.kind}"
        for text, size in ((whole, 11), (brush.name, 11), (brush.name, 10), (brush.name, 9)):
            painter.setFont(font(size))
            if painter.fontMetrics().horizontalAdvance(text) <= rect.width():
                break
        shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(rect.width()))
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, shown)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        menu = QMenu(self)
        menu.addAction("Rename…", lambda: self._roll.rename(self._index))
        menu.addAction("Duplicate", lambda: self._roll.duplicate(self._index))
        menu.addAction("Move left", lambda: self._roll.reorder(self._index, self._index - 1))
        menu.addAction("Move right", lambda: self._roll.reorder(self._index, self._index + 1))
        if len(self._session.hand.brushes) > 2:
            menu.addAction("Take out of the roll", lambda: self._roll.take_out(self._index))
        open_menu(menu, event.globalPos())


class BrushRoll(QWidget):
    """The slots of one roll, and at the right end the brush in hand."""

    sheet_wanted = Signal()

    def __init__(self, session: Session, easel: Easel) -> None:
        super().__init__()
        self.session = session
        self.previews = _Previews(self)
        self.previews.drawn.connect(self._draw_slots)
        self.setObjectName("roll")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._slots = QWidget()
        self._row = QHBoxLayout(self._slots)
        self._row.setContentsMargins(6, 0, 0, 0)
        self._row.setSpacing(GAP)
        scroll = self._scroll = Sideways(SLOT.width() + GAP)
        scroll.setWidget(self._slots)
        scroll.setWidgetResizable(True)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(8, 0, 8, 0)
        layout.setSpacing(0)
        layout.addWidget(self._chooser())
        layout.addWidget(scroll, 1)
        self.hand = HandBlock(session, easel)
        layout.addWidget(self.hand)
        session.hand.brush_changed.connect(self._on_brush)
        session.hand.roll_changed.connect(self._rebuild)
        self._material = ""
        session.work.active_changed.connect(self._follow_material)
        session.changed.connect(self._follow_material)
        self._rebuild()

    def set_form(self, form: str) -> None:
        """There is one."""

    def _chooser(self) -> QWidget:
        """Which roll lies here, and the way to others."""
        box = QWidget()
        box.setFixedWidth(64)
        self._name = QPushButton()
        self._name.setObjectName("plain")
        self._name.setToolTip("Another roll of brushes: each material has its own")
        self._name.clicked.connect(self._choose)
        self._sheet = QPushButton("sheet…")
        self._sheet.setObjectName("plain")
        self._sheet.setToolTip("The brush sheet: every setting of the brush in hand, and all brushes")
        self._sheet.clicked.connect(self.sheet_wanted)
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 8, 0, 8)
        column.setSpacing(2)
        for button in (self._name, self._sheet):
            column.addWidget(button)
        return box

    def _choose(self) -> None:
        menu = QMenu(self)
        for name in self.session.hand.rolls:
            count = sum(brush.roll == name for brush in self.session.hand.brushes)
            menu.addAction(f"{name}  ({count})", partial(self.session.hand.show_roll, name))
        menu.popup(self._name.mapToGlobal(QPoint(0, self._name.height())))

    def _follow_material(self) -> None:
        """Lay out the roll of the material that is worked on, when that has changed."""
        part = self.session.part
        material = part.material if part is not None else ""
        if material != self._material:
            self._material = material
            self.session.hand.show_roll(ROLL_OF.get(material, material))

    def _rebuild(self) -> None:
        clear(self._row)
        self._name.setText(f"{self.session.hand.roll} ▾")
        shown = self.session.hand.roll
        # Whoever paints blends in between: beside a roll to paint with lies the one to blend with.
        for name in (shown,) if shown in COMPLETE else (shown, BLEND):
            if name != shown:
                self._row.addSpacing(5)
                self._row.addWidget(hairline(vertical=True))
                self._row.addSpacing(5)
            for index, brush in enumerate(self.session.hand.brushes):
                if brush.roll == name:
                    self._row.addWidget(_Slot(self, index))
        self._row.addStretch(1)
        # Another roll opens at its first brush.
        self._scroll.horizontalScrollBar().setValue(0)
        self._on_brush()

    def _on_brush(self) -> None:
        self._draw_slots()

    def _draw_slots(self) -> None:
        for slot in self._slots.findChildren(_Slot):
            slot.update()

    # --- changing the roll ----------------------------------------------------------------------------

    def reorder(self, index: int, target: int) -> None:
        brushes, session = self.session.hand.brushes, self.session
        together = [i for i, brush in enumerate(brushes) if brush.roll == brushes[index].roll]
        target = min(max(target, together[0]), together[-1])
        held, resting = brushes[session.hand.in_hand], brushes[session.hand.resting]
        brushes.insert(target, brushes.pop(index))
        session.hand.in_hand, session.hand.resting = _index_of(brushes, held), _index_of(brushes, resting)
        session.hand.roll_changed.emit()

    def duplicate(self, index: int) -> None:
        self.session.hand.brushes.insert(index + 1, self.session.hand.brushes[index].with_changes())
        self.session.hand.in_hand += self.session.hand.in_hand > index
        self.session.hand.resting += self.session.hand.resting > index
        self.session.hand.roll_changed.emit()

    def rename(self, index: int) -> None:
        brush = self.session.hand.brushes[index]
        name, agreed = QInputDialog.getText(self, "Rename brush", "Name", text=brush.name)
        if agreed:
            try:
                self.session.hand.brushes[index] = brush.with_changes(name=name.strip())
            except InputError as error:
                self.session.told.emit(str(error))
            self.session.hand.roll_changed.emit()

    def take_out(self, index: int) -> None:
        session = self.session
        session.hand.brushes.pop(index)
        last = len(session.hand.brushes) - 1
        session.hand.in_hand = min(session.hand.in_hand - (session.hand.in_hand > index), last)
        session.hand.resting = min(session.hand.resting - (session.hand.resting > index), last)
        session.hand.roll_changed.emit()
        session.hand.brush_changed.emit()


def _index_of(brushes: list[Brush], wanted: Brush) -> int:
    return next(i for i, brush in enumerate(brushes) if brush is wanted)
