"""The options of the maquette view: the form in hand, its numbers, strokes over the clay, and the whole."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import Any, Final

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtWidgets import QInputDialog, QLabel, QMenu, QWidget

from japanner.desk.tasks.maquette.begin import add_menu, animal_menu, figure_menu, open_under
from japanner.desk.tasks.maquette.figure_page import FigurePage
from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.desk.widgets.questions import ask_where_from, ask_where_to
from japanner.errors import FileFormatError, SaveError
from japanner.files.forms.meshes import MESH_FORMATS, read_mesh
from japanner.files.reading import read_bytes
from japanner.files.writing import write_json
from japanner.light.figure.sliders import CHAPTERS
from japanner.light.maquette import Maquette
from japanner.light.pieces import JOINS, KINDS, STROKES, Piece, joins_of
from japanner.light.planes import MOST_FACETS
from japanner.painting.model import Part

__all__ = ["MaquetteOptions"]

NONE: Final = "no form in hand"
HANDLES: Final = "take"
PULL: Final = "pull"
"""What a drag does: takes forms, or pulls a figure by its landmarks."""
FILES: Final = "Maquettes and meshes (*.json *.obj *.ply *.stl *.glb *.gltf)"
SAVED: Final = "Maquettes (*.json)"
LARGEST_FILE: Final = 64 << 20
TURNS: Final = ("yaw: to the right", "pitch: up", "roll: anti-clockwise")
TIPS: Final = {
    "place": ("right, in maquette units", "up, in maquette units", "towards you, in maquette units"),
    "turn": TURNS,
    "whole turn": TURNS,
}
CHAPTER_PX: Final = 118
TRIPLES: Final = ("place", "size", "turn", "whole turn")
ZONES: Final = ("lips", "scalp", "brows", "ears", "left eye", "right eye", "upper teeth", "lower teeth", "tongue",
                "inside of the mouth", "neck", "shoulders")  # fmt: skip
"""Zones of a figure that are often parts of their own."""


class MaquetteOptions(Options):
    """What to begin from, the forms and whose they are; numbers and strokes fold away; sliders of a figure in hand.

    It shows what it is given, and says what the painter asks for.
    """

    changed = Signal(dict)  # settings of the form in hand
    whole_changed = Signal(dict)  # settings of the maquette
    taken = Signal(object)  # the index of a form, or None
    wanted = Signal(str, str)  # something to begin from or to add, see `begin.Wanted`
    opened = Signal(object)  # a whole Maquette to take the place of this one
    read = Signal(object, str)  # a Mesh to add, and its name
    laid_flat = Signal()
    face_laid = Signal()
    copied = Signal()
    taken_away = Signal()
    lay_in_wanted = Signal()
    landmarks_wanted = Signal()
    states_wanted = Signal()
    drag_changed = Signal()  # what a drag does
    planes_changed = Signal()
    slid = Signal(str, float, bool)  # a figure's slider, its value, and whether it stays
    told = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._maquette = Maquette()
        self._piece: Piece | None = None
        self._part_uids: list[int] = []
        self._first_row()
        self._numbers = self._number_row()
        self._strokes = self._stroke_row()
        self.row()
        self.page = FigurePage(self, self.slid.emit)
        self._fold()

    def _first_row(self) -> None:
        want = self.wanted.emit
        self._first = [
            self.button("a figure…", "Begin from a human head and shoulders",
                        lambda: open_under(self._first[0], figure_menu(self, want))),
            self.button("an animal…", "Begin from an animal",
                        lambda: open_under(self._first[1], animal_menu(self, want))),
            self.button("the silhouette", "Begin from the part's silhouette, blown up", lambda: want("silhouette", "")),
        ]  # fmt: skip
        self.add_button = self.button(
            "add…", "A figure, an animal, a form, a mesh, or a whole maquette", self._add_menu
        )
        self.pieces = self.choice("", (NONE,), "The form in hand, and whose it is", self._taken)
        self.part = self.choice("of", ("no part",), "The part whose form it is", self._of_part)
        self.zones_button = self.button("zones…", "Whose lips, eyes, scalp are: parts of their own", self._zones)
        self.chapter = self.choice("sliders", CHAPTERS, "What the sliders are of", self._turn_to)
        self.chapter.setMaximumWidth(CHAPTER_PX)
        self.pieces.setMaximumWidth(CHAPTER_PX)
        self.seldom = self.switch("all", False, "Sliders that are wanted seldom, too", lambda _: self._turn_to(""))
        self.landmarks_button = self.button("fit…", "Set landmarks, and find how the head stands and whose it is",
                                            self.landmarks_wanted.emit)  # fmt: skip
        self.button(
            "lay flat", "Fill the layer where the part's forms are seen, with the colour in hand", self.laid_flat.emit
        )
        self.face_button = self.button("lay face", "Lay skin flat in the colour in hand, and lips, eyes and hair as "
                                       "parts of their own", self.face_laid.emit)  # fmt: skip
        self.button("lay in…", "Lay the part in as its forms and the light have it", self.lay_in_wanted.emit)
        self.states_button = self.button("states…", "Earlier states of the maquette, to come back to",
                                         self.states_wanted.emit)  # fmt: skip
        self.doing = self.choice("a drag", (HANDLES, PULL, *STROKES),
                                 "Take forms, pull a figure by its landmarks, or draw strokes over the clay",
                                 lambda _: self._doing())  # fmt: skip
        self.numbers = self.switch(
            "numbers", False, "Joins, places, sizes and turns in numbers", lambda _: self._fold()
        )

    def _number_row(self) -> list[QWidget]:
        begin = self.flow.count()
        self.row()
        self.join = self.choice(
            "joins", JOINS, "How it joins the forms before it", lambda word: self.changed.emit({"join": word})
        )
        self.mirror = self.switch("pair", False, "One on either side", lambda on: self.changed.emit({"mirror": on}))
        self.button("copy", "One more like it", self.copied.emit)
        self.button("take away", "Take the form away (Backspace)", self.taken_away.emit)
        self.button("name", "Call the form something else", self._rename)
        self.button("group", "Forms with one group, after each other, become one before they join", self._group)
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
        self.planes = self.number("planes", 0, MOST_FACETS, 0, "Cut into so many flat facets; 0: smooth",
                                  changed=lambda _: self.planes_changed.emit())  # fmt: skip
        return self._since(begin)

    def _stroke_row(self) -> list[QWidget]:
        begin = self.flow.count()
        self.row()
        self.width_box = self.number("wide", 0.005, 10, 0.12, "Width of a stroke", digits=3)
        self.height_box = self.number("high", 0.001, 5, 0.05, "How far it raises or lowers; how strongly it smooths",
                                      digits=3)  # fmt: skip
        self.both = self.switch("both sides", False, "The same stroke on the other side")
        return self._since(begin)

    def _since(self, begin: int) -> list[QWidget]:
        items = (self.flow.itemAt(number) for number in range(begin, self.flow.count()))
        widgets = [item.widget() for item in items if item is not None]
        return [one for one in widgets if one is not None]

    def _fold(self) -> None:
        """Show what there is something to say about."""
        empty, figure = not self._maquette.pieces, self._piece is not None and self._piece.kind == "figure"
        for widgets, shown in (
            (self._first, empty),
            (self._numbers, self.numbers.isChecked()),
            (self._strokes, bool(self.stroke_kind)),
            ([self.zones_button, self.face_button, *self._named_pair(self.chapter), self.seldom], figure),
            ([*self._named_pair(self.pieces), *self._named_pair(self.part), self.states_button], not empty),
        ):
            for one in widgets:
                one.setVisible(shown)
        self.refilled.emit()

    def _named_pair(self, box: QWidget) -> list[QWidget]:
        labels = [one for one in self.findChildren(QLabel) if one.buddy() is box]
        return [*labels, box]

    def _doing(self) -> None:
        self._fold()
        self.drag_changed.emit()

    def _turn_to(self, _: str) -> None:
        self.page.turn_to(self.chapter.currentText(), seldom=self.seldom.isChecked())

    @property
    def planes_count(self) -> int:
        count = round(self.planes.value())
        return count if count >= 3 else 0

    @property
    def stroke_kind(self) -> str:
        """What a drag over the clay does; "" takes and moves."""
        word = self.doing.currentText()
        return "" if word in (HANDLES, PULL) else word

    @property
    def pulls(self) -> bool:
        """Whether a drag pulls landmarks."""
        return self.doing.currentText() == PULL

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
        folds = (not maquette.pieces) != (not self._maquette.pieces) or _kind(piece) != _kind(self._piece)
        self._maquette, self._piece = maquette, piece
        self._part_uids = [0, *(part.uid for part in parts)]
        whose = {part.uid: part.name for part in parts}
        with QSignalBlocker(self.pieces), QSignalBlocker(self.join), QSignalBlocker(self.part):
            self.pieces.clear()
            self.pieces.addItems([NONE, *(_line(one, whose) for one in maquette.pieces)])
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
        self.page.show(dict(piece.sliders) if piece is not None and piece.kind == "figure" else None)
        if folds:
            self._fold()

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

    def _zones(self) -> None:
        menu = QMenu(self)
        own = dict(self._piece.parts) if self._piece is not None else {}
        for zone in ZONES:
            of_zone = menu.addMenu(zone)
            for uid, name in zip(self._part_uids, ["as the rest", *self._part_names()], strict=True):
                action = of_zone.addAction(name, partial(self._give_zone, zone, uid))
                action.setCheckable(True)
                action.setChecked(own.get(zone, 0) == uid)
        open_under(self.zones_button, menu)

    def _part_names(self) -> list[str]:
        return [self.part.itemText(number) for number in range(1, self.part.count())]

    def _give_zone(self, zone: str, uid: int) -> None:
        if self._piece is not None:
            kept = tuple(one for one in self._piece.parts if one[0] != zone)
            self.changed.emit({"parts": (*kept, (zone, uid)) if uid else kept})

    def _add_menu(self) -> None:
        open_under(self.add_button, self.menu())

    def menu(self) -> QMenu:
        """What can be added."""
        return add_menu(self, self.want)

    def want(self, what: str, name: str) -> None:
        """Ask for something of a menu."""
        if what == "open":
            self._open()
        elif what == "save":
            self._save()
        else:
            self.wanted.emit(what, name)

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

    def _open(self) -> None:
        path = ask_where_from(self, "Open a maquette", FILES)
        if path is not None:
            self.open_file(path)

    def open_file(self, path: Path) -> None:
        """Work on the maquette in a file, or add its mesh; what is not known of it, or not as it should be, is told."""
        if path.suffix.lower() in MESH_FORMATS:
            self._open_mesh(path)
            return
        try:
            maquette, left = Maquette.from_file(json.loads(read_bytes(path, LARGEST_FILE)))
        except (FileFormatError, ValueError, RecursionError) as error:
            self.told.emit(f"{path.name} cannot be opened as a maquette: {error}")
            return
        self.opened.emit(maquette)
        if left:
            self.told.emit(f"Opened; not known here and left: {', '.join(left[:6])}")

    def _open_mesh(self, path: Path) -> None:
        try:
            found = read_mesh(path)
        except FileFormatError as error:
            self.told.emit(str(error))
            return
        self.read.emit(found.mesh, path.stem)
        if found.notes:
            self.told.emit(f"{path.name}: {' '.join(found.notes)}")

    def _save(self) -> None:
        path = ask_where_to(self, "Save the maquette", "maquette.json", SAVED, ".json")
        if path is not None:
            try:
                write_json(path, self._maquette.to_record())
            except SaveError as error:
                self.told.emit(str(error))


def _kind(piece: Piece | None) -> str:
    return "" if piece is None else piece.kind


def _line(piece: Piece, whose: dict[int, str]) -> str:
    """A form in the list: its name, and the part that it is of."""
    return f"{piece.name} · {whose[piece.part]}" if piece.part in whose else piece.name
