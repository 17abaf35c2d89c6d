"""The options of the maquette view: the form in hand, its numbers, strokes over the clay, and the whole."""

from __future__ import annotations

import json
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

from PySide6.QtCore import QPoint, QSignalBlocker
from PySide6.QtWidgets import QFileDialog, QInputDialog, QMenu

from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import JOINS, KINDS, STROKES, joins_of
from japanner.light.planes import MOST_FACETS
from japanner.light.shipped import shipped_maquette, shipped_maquettes

if TYPE_CHECKING:
    from japanner.desk.tasks.maquette.task import MaquetteTask

__all__ = ["MaquetteOptions"]

NONE: Final = "no form in hand"
HANDLES: Final = "take and move"
FILES: Final = "Maquettes (*.json)"
TURNS: Final = ("yaw: to the right", "pitch: up", "roll: anti-clockwise")
TIPS: Final = {
    "place": ("right, in maquette units", "up, in maquette units", "towards you, in maquette units"),
    "turn": TURNS,
    "whole turn": TURNS,
}
TRIPLES: Final = ("place", "size", "turn", "whole turn")


class MaquetteOptions(Options):
    """Three rows: the form, its numbers, the whole."""

    def __init__(self, task: MaquetteTask) -> None:
        super().__init__()
        self._task = task
        self.add_button = self.button("add", "A form, or a whole maquette to begin from", self._add_menu)
        self.pieces = self.choice("", (NONE,), "The form in hand", self._taken)
        self.join = self.choice("", JOINS, "How it joins the forms before it", lambda word: task.change(join=word))
        self.part = self.choice("of", ("no part",), "The part whose form it is", self._of_part)
        self.mirror = self.switch("pair", False, "One on either side", lambda on: task.change(mirror=on))
        self.button(
            "lay flat", "Fill the layer where the part's forms are seen, with the colour in hand", task.lay_flat
        )
        self.button("copy", "One more like it", task.copy)
        self.button("take away", "Take the form away (Backspace)", task.take_away)
        self.row()
        self.triple = self.choice("", TRIPLES, "What the three numbers are", lambda _: self.refresh())
        self._boxes = [
            self.number("", -999, 999, 0, "", digits=2, changed=partial(self._number, axis)) for axis in range(3)
        ]
        self.blend = self.number("blend", 0, 100, 0, "Over what distance it flows into the others", digits=2,
                                 changed=lambda v: task.change(blend=v))  # fmt: skip
        self.edge = self.number("edge", 0, 100, 0, "Roundness of a box, fullness of an egg, slack of a sheet", digits=2,
                                changed=lambda v: task.change(edge=v))  # fmt: skip
        self.eye = self.number("eye", 1, 1000, 12, "How far the viewer is: the nearer, the stronger the perspective",
                               changed=lambda v: task.change_whole(eye=v))  # fmt: skip
        self.button("name", "Call the form something else", self._rename)
        self.row()
        self.doing = self.choice("a drag", (HANDLES, *STROKES), "Take forms, or draw strokes over the clay",
                                 lambda _: task.redraw.emit())  # fmt: skip
        self.width_box = self.number("wide", 0.005, 10, 0.12, "Width of a stroke", digits=3)
        self.height_box = self.number("high", 0.001, 5, 0.05, "How far it raises or lowers; how strongly it smooths",
                                      digits=3)  # fmt: skip
        self.both = self.switch("both sides", False, "The same stroke on the other side")
        self.planes = self.number("planes", 0, MOST_FACETS, 0, "Cut into so many flat facets; 0: smooth",
                                  changed=lambda _: task.renew())  # fmt: skip
        self.button("group", "Forms with one group, after each other, become one before they join", self._group)
        self.button("lay in…", "Lay the part in as its forms and the light have it", task.lay_in_wanted.emit)

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

    def refresh(self) -> None:
        """Show the form in hand and the whole."""
        task, piece = self._task, self._task.piece
        maquette, parts = task.maquette, task.session.painting.parts
        with QSignalBlocker(self.pieces), QSignalBlocker(self.join), QSignalBlocker(self.part):
            self.pieces.clear()
            self.pieces.addItems([NONE, *(one.name for one in maquette.pieces)])
            self.pieces.setCurrentIndex(0 if task.index is None else task.index + 1)
            self.join.clear()
            self.join.addItems(JOINS if piece is None else joins_of(piece.kind))
            self.part.clear()
            self.part.addItems(["no part", *(part.name for part in parts)])
            if piece is not None:
                self.join.setCurrentText(piece.join)
                uids = [0, *(part.uid for part in parts)]
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
        piece, what = self._task.piece, self.triple.currentText()
        whole = what == "whole turn"
        values = self._task.maquette.turn if whole else (0.0, 0.0, 0.0) if piece is None else getattr(piece, what)
        tips = KINDS[piece.kind] if piece is not None and what == "size" else TIPS.get(what, ())
        for axis, (box, value) in enumerate(zip(self._boxes, values, strict=True)):
            box.setEnabled((whole or piece is not None) and axis < len(tips))
            box.setToolTip(tips[axis].capitalize() if axis < len(tips) else "")
            set_quietly(box, value)

    # --- what is changed --------------------------------------------------------------------------------

    def _taken(self, _: str) -> None:
        index = self.pieces.currentIndex() - 1
        self._task.take(None if index < 0 else index)

    def _number(self, axis: int, value: float) -> None:
        piece, what = self._task.piece, self.triple.currentText()
        owner: Any = self._task.maquette if what == "whole turn" else piece
        if owner is None:
            return
        name = "turn" if owner is self._task.maquette else what
        values = list(getattr(owner, name))
        values[axis] = value
        change = self._task.change_whole if owner is self._task.maquette else self._task.change
        change(**{name: tuple(values)})

    def _of_part(self, _: str) -> None:
        index, parts = self.part.currentIndex(), self._task.session.painting.parts
        self._task.change(part=0 if index <= 0 else parts[index - 1].uid)

    def _add_menu(self) -> None:
        menu = self.menu()
        menu.exec(self.add_button.mapToGlobal(QPoint(0, self.add_button.height())))

    def menu(self) -> QMenu:
        """What can be added."""
        menu = QMenu(self)
        for kind, add in self._task.adders().items():
            menu.addAction(kind.capitalize() if kind != "puff" else "Puff of the part's silhouette", add)
        menu.addAction("Cloth laid over the forms", self._task.drape)
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
        piece = self._task.piece
        if piece is not None:
            text, answered = QInputDialog.getText(self, title, f"{title} of {piece.name}", text=getattr(piece, field))
            if answered:
                self._task.change(**{field: text.strip()})

    def _begin_from(self, name: str) -> None:
        self._task.add_shipped(shipped_maquette(name))

    def _open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a maquette", "", FILES)
        if name:
            self.open_file(Path(name))

    def open_file(self, path: Path) -> None:
        """Work on the maquette in a file; what is not known of it is told."""
        told = self._task.session.told
        try:
            record: Any = json.loads(path.read_text(encoding="utf-8"))
            maquette, left = Maquette.from_file(record)
        except (OSError, ValueError, RecursionError, InputError) as error:
            told.emit(f"{path.name} cannot be opened as a maquette: {error}")
            return
        self._task.commit(maquette)
        if left:
            told.emit(f"Opened; not known here and left: {', '.join(left[:6])}")

    def _save(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Save the maquette", "maquette.json", FILES)
        if name:
            path = Path(name).with_suffix(".json")
            try:
                path.write_text(json.dumps(self._task.maquette.to_record(), indent=1), encoding="utf-8")
            except OSError as error:
                self._task.session.told.emit(f"The maquette is not saved: {error}")
