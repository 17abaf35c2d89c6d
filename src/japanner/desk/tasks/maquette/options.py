"""The options of the maquette view: the form in hand, its numbers, strokes over the clay, and the whole."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import Any, Final

from PySide6.QtCore import QPoint, QSignalBlocker, Signal
from PySide6.QtWidgets import QInputDialog, QMenu

from japanner.desk.widgets.menus import open_menu
from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.desk.widgets.questions import ask_where_from, ask_where_to
from japanner.errors import FileFormatError, SaveError
from japanner.files.reading import read_bytes
from japanner.files.writing import write_json
from japanner.light.maquette import Maquette
from japanner.light.pieces import FACED, JOINS, KINDS, STROKES, Piece, joins_of
from japanner.light.planes import MOST_FACETS
from japanner.light.shipped import shipped_maquette, shipped_maquettes
from japanner.painting.model import Part

__all__ = ["MaquetteOptions"]

NONE: Final = "no form in hand"
HANDLES: Final = "take and move"
FILES: Final = "Maquettes (*.json)"
LARGEST_FILE: Final = 64 << 20
ADDED: Final = tuple(kind for kind in KINDS if kind not in ("stroke", "head", *FACED))
TURNS: Final = ("yaw: to the right", "pitch: up", "roll: anti-clockwise")
TIPS: Final = {
    "place": ("right, in maquette units", "up, in maquette units", "towards you, in maquette units"),
    "turn": TURNS,
    "whole turn": TURNS,
}
TRIPLES: Final = ("place", "size", "turn", "whole turn")


class MaquetteOptions(Options):
    """Three rows: the form, its numbers, the whole. It shows what it is given, and says what the painter asks for."""

    changed = Signal(dict)  # settings of the form in hand
    whole_changed = Signal(dict)  # settings of the maquette
    taken = Signal(object)  # the index of a form, or None
    added = Signal(str)  # a kind of form
    draped = Signal()
    begun_from = Signal(object)  # a whole Maquette to add
    opened = Signal(object)  # a whole Maquette to take the place of this one
    laid_flat = Signal()
    copied = Signal()
    taken_away = Signal()
    lay_in_wanted = Signal()
    drag_changed = Signal()  # what a drag does
    planes_changed = Signal()
    told = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._maquette = Maquette()
        self._piece: Piece | None = None
        self._part_uids: list[int] = []
        self.add_button = self.button("add", "A form, or a whole maquette to begin from", self._add_menu)
        self.pieces = self.choice("", (NONE,), "The form in hand", self._taken)
        self.join = self.choice(
            "", JOINS, "How it joins the forms before it", lambda word: self.changed.emit({"join": word})
        )
        self.part = self.choice("of", ("no part",), "The part whose form it is", self._of_part)
        self.mirror = self.switch("pair", False, "One on either side", lambda on: self.changed.emit({"mirror": on}))
        self.button(
            "lay flat", "Fill the layer where the part's forms are seen, with the colour in hand", self.laid_flat.emit
        )
        self.button("copy", "One more like it", self.copied.emit)
        self.button("take away", "Take the form away (Backspace)", self.taken_away.emit)
        self.row()
        self.triple = self.choice("", TRIPLES, "What the three numbers are", lambda _: self._show_numbers())
        self._boxes = [
            self.number("", -999, 999, 0, "", digits=2, changed=partial(self._number, axis)) for axis in range(3)
        ]
        self.blend = self.number("blend", 0, 100, 0, "Over what distance it flows into the others", digits=2,
                                 changed=lambda v: self.changed.emit({"blend": v}))  # fmt: skip
        self.edge = self.number("edge", 0, 100, 0, "Roundness of a box, fullness of an egg, slack of a sheet", digits=2,
                                changed=lambda v: self.changed.emit({"edge": v}))  # fmt: skip
        self.eye = self.number("eye", 1, 1000, 12, "How far the viewer is: the nearer, the stronger the perspective",
                               changed=lambda v: self.whole_changed.emit({"eye": v}))  # fmt: skip
        self.button("name", "Call the form something else", self._rename)
        self.row()
        self.doing = self.choice("a drag", (HANDLES, *STROKES), "Take forms, or draw strokes over the clay",
                                 lambda _: self.drag_changed.emit())  # fmt: skip
        self.width_box = self.number("wide", 0.005, 10, 0.12, "Width of a stroke", digits=3)
        self.height_box = self.number("high", 0.001, 5, 0.05, "How far it raises or lowers; how strongly it smooths",
                                      digits=3)  # fmt: skip
        self.both = self.switch("both sides", False, "The same stroke on the other side")
        self.planes = self.number("planes", 0, MOST_FACETS, 0, "Cut into so many flat facets; 0: smooth",
                                  changed=lambda _: self.planes_changed.emit())  # fmt: skip
        self.button("group", "Forms with one group, after each other, become one before they join", self._group)
        self.button("lay in…", "Lay the part in as its forms and the light have it", self.lay_in_wanted.emit)

    @property
    def planes_count(self) -> int:
        count = round(self.planes.value())
        return count if count >= 3 else 0

    @property
    def stroke_kind(self) -> str:
        """What a drag over the clay does; "" takes and moves."""
        word = self.doing.currentText()
        return "" if word == HANDLES else word

    @property
    def stroke_mirrored(self) -> bool:
        return self.both.isChecked()

    def stroke(self) -> tuple[str, float, float]:
        """Kind, width and height of a stroke."""
        return self.stroke_kind, self.width_box.value(), self.height_box.value()

    # --- what is shown ----------------------------------------------------------------------------------

    def show_maquette(self, maquette: Maquette, index: int | None, parts: Sequence[Part]) -> None:
        """Show the whole and the form in hand; `parts` are those that a form can be of."""
        piece = None if index is None or index >= len(maquette.pieces) else maquette.pieces[index]
        self._maquette, self._piece = maquette, piece
        self._part_uids = [0, *(part.uid for part in parts)]
        with QSignalBlocker(self.pieces), QSignalBlocker(self.join), QSignalBlocker(self.part):
            self.pieces.clear()
            self.pieces.addItems([NONE, *(one.name for one in maquette.pieces)])
            self.pieces.setCurrentIndex(0 if index is None else index + 1)
            self.join.clear()
            self.join.addItems(JOINS if piece is None else joins_of(piece.kind))
            self.part.clear()
            self.part.addItems(["no part", *(part.name for part in parts)])
            if piece is not None:
                self.join.setCurrentText(piece.join)
                uids = self._part_uids
                self.part.setCurrentIndex(uids.index(piece.part) if piece.part in uids else 0)
        with QSignalBlocker(self.mirror):
            self.mirror.setChecked(piece is not None and piece.mirror)
        for widget in (self.join, self.blend, self.edge, self.mirror, self.part):
            widget.setEnabled(piece is not None)
        self._show_numbers()
        if piece is not None:
            set_quietly(self.blend, piece.blend)
            set_quietly(self.edge, piece.edge)
        set_quietly(self.eye, maquette.eye)

    def _show_numbers(self) -> None:
        """The three numbers that are chosen to be seen, of the form in hand or of the whole."""
        piece, what = self._piece, self.triple.currentText()
        whole = what == "whole turn"
        values = self._maquette.turn if whole else (0.0, 0.0, 0.0) if piece is None else getattr(piece, what)
        tips = KINDS[piece.kind] if piece is not None and what == "size" else TIPS.get(what, ())
        for axis, (box, value) in enumerate(zip(self._boxes, values, strict=True)):
            box.setEnabled((whole or piece is not None) and axis < len(tips))
            box.setToolTip(tips[axis].capitalize() if axis < len(tips) else "")
            set_quietly(box, value)

    # --- what is changed --------------------------------------------------------------------------------

    def _taken(self, _: str) -> None:
        index = self.pieces.currentIndex() - 1
        self.taken.emit(None if index < 0 else index)

    def _number(self, axis: int, value: float) -> None:
        whole = self.triple.currentText() == "whole turn"
        owner: Any = self._maquette if whole else self._piece
        if owner is None:
            return
        name = "turn" if whole else self.triple.currentText()
        values = list(getattr(owner, name))
        values[axis] = value
        (self.whole_changed if whole else self.changed).emit({name: tuple(values)})

    def _of_part(self, _: str) -> None:
        self.changed.emit({"part": self._part_uids[max(self.part.currentIndex(), 0)]})

    def _add_menu(self) -> None:
        menu = self.menu()
        open_menu(menu, self.add_button.mapToGlobal(QPoint(0, self.add_button.height())))

    def menu(self) -> QMenu:
        """What can be added."""
        menu = QMenu(self)
        for kind in ADDED:
            words = kind.capitalize() if kind != "puff" else "Puff of the part's silhouette"
            menu.addAction(words, partial(self.added.emit, kind))
        menu.addAction("Cloth laid over the forms", self.draped.emit)
        menu.addSeparator()
        begin = menu.addMenu("Begin from")
        for name in shipped_maquettes():
            begin.addAction(name, partial(self._begin_from, name))
        menu.addAction("From a file…", self._open)
        menu.addAction("Save to a file…", self._save)
        return menu

    def _rename(self) -> None:
        self._ask("Name", "name")

    def _group(self) -> None:
        self._ask("Group", "group")

    def _ask(self, title: str, field: str) -> None:
        piece = self._piece
        if piece is not None:
            text, answered = QInputDialog.getText(self, title, f"{title} of {piece.name}", text=getattr(piece, field))
            if answered:
                self.changed.emit({field: text.strip()})

    def _begin_from(self, name: str) -> None:
        self.begun_from.emit(shipped_maquette(name))

    def _open(self) -> None:
        path = ask_where_from(self, "Open a maquette", FILES)
        if path is not None:
            self.open_file(path)

    def open_file(self, path: Path) -> None:
        """Work on the maquette in a file; what is not known of it is told."""
        try:
            maquette, left = Maquette.from_file(json.loads(read_bytes(path, LARGEST_FILE)))
        except (FileFormatError, ValueError, RecursionError) as error:
            self.told.emit(f"{path.name} cannot be opened as a maquette: {error}")
            return
        self.opened.emit(maquette)
        if left:
            self.told.emit(f"Opened; not known here and left: {', '.join(left[:6])}")

    def _save(self) -> None:
        path = ask_where_to(self, "Save the maquette", "maquette.json", FILES, ".json")
        if path is not None:
            try:
                write_json(path, self._maquette.to_record())
            except SaveError as error:
                self.told.emit(str(error))
