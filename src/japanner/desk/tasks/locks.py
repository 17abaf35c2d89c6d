"""Single locks of a head of hair: taken with the pointer, bent, moved, cut, taken away, and all laid anew."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.task import CommitTask, Press, draw_handle, draw_line
from japanner.desk.session.latest import Latest
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options
from japanner.painting.makers import MAKERS, Scene
from japanner.painting.makers.head_hair import HEAD_HAIR, lock_lines
from japanner.painting.makers.lock_edits import LockEdit, edited
from japanner.painting.model import Made, Painting, Part
from japanner.painting.operations import Make

__all__ = ["LocksTask"]

REACH_PX: Final = 14.0
"""A lock is taken from so near, in easel px, beside its own width."""
ROOT: Final = 0.14
"""Taken by this first share of its length it is moved; further on it is bent."""
Lines = dict[tuple[int, int], tuple[Any, float]]
Wish = tuple[Painting, Part, Made, tuple[LockEdit, ...]]


class LocksTask(CommitTask):
    """Works on what *fill with locks* made of the part, until that has been painted on."""

    title = "LOCKS"
    hint = "Drag a lock by its root to move it, elsewhere to bend it; double-click to cut it there"
    cursor = Qt.CursorShape.PointingHandCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.edits: list[LockEdit] = []
        self.lines: Lines = {}
        self.chosen: tuple[int, int] | None = None
        self._made: Made | None = None
        self._held: tuple[QPointF, float] | None = None
        self._shown: Any = None  # the line of the lock in hand while it is dragged
        self._latest = Latest(self, _find)
        self._latest.delivered.connect(self._found)
        self._latest.failed.connect(session.told)
        self.options = row = Options()
        row.button("take away", "Take the lock in hand away (Delete)", self.take_away)
        row.button("take back", "Take back what was done last (Backspace)", self.take_back)
        row.button("done", "Lay the hair anew with all that (Enter)", self.done)

    def begin(self) -> None:
        part = self.session.part
        made = [one.made for one in part.layers if one.made and one.made.maker == HEAD_HAIR.name] if part else []
        fresh = [one for one in made if not one.on]
        self._made, self.chosen, self.lines = (fresh[-1] if fresh else None), None, {}
        if self._made is None:
            self.session.told.emit("Fill the part with locks first: Part, Make, Fill with locks.")
            return
        self.edits = list(HEAD_HAIR.checked(self._made.settings)["edits"])
        self._ask()

    def end(self) -> None:
        self._latest.stop()
        self.lines, self.chosen, self._held = {}, None, None

    def wait(self) -> None:
        """Until the locks are known."""
        self._latest.settle()

    def _ask(self) -> None:
        part = self.session.part
        if part is not None and self._made is not None:
            self._latest.want((self.session.painting, part, self._made, tuple(self.edits)))

    def _found(self, _: Wish, lines: Lines) -> None:
        self.lines = lines
        if self.chosen not in lines:
            self.chosen = None
        self.redraw.emit()

    # --- the pointer ------------------------------------------------------------------------------------

    def _nearest(self, press: Press) -> tuple[tuple[int, int], float] | None:
        """The lock under the pointer, the topmost and thinnest first, and where along it."""
        at = np.array((press.at.x(), press.at.y()))
        best: tuple[float, tuple[int, int], float] | None = None
        for name, (line, wide) in self.lines.items():
            away = np.linalg.norm(line - at, axis=1)
            k = int(away.argmin())
            room = wide / 2 + REACH_PX * press.px
            if away[k] < room:
                score = away[k] / room - 0.15 * name[0]
                if best is None or score <= best[0]:
                    best = score, name, k / (len(line) - 1)
        return None if best is None else (best[1], best[2])

    def press(self, press: Press) -> None:
        found = self._nearest(press)
        self.chosen, self._held = (None, None) if found is None else (found[0], (press.at, found[1]))
        self._shown = None
        self.redraw.emit()

    def move(self, press: Press, *, down: bool) -> None:
        if not down:
            found = self._nearest(press)
            name = found[0] if found else None
            if name != self.chosen and self._held is None:
                self.chosen = name
                self.redraw.emit()
            return
        edit = self._dragged(press)
        if edit is not None and self.chosen is not None:
            line = self.lines[self.chosen][0]
            self._shown = edited(line[None], 0, [edit._replace(level=0, lock=0)])[0][0]
            self.redraw.emit()

    def _dragged(self, press: Press) -> LockEdit | None:
        if self._held is None or self.chosen is None:
            return None
        start, at = self._held
        off = press.at - start
        what = "moved" if at < ROOT else "bent"
        return LockEdit(*self.chosen, what, round(off.x(), 2), round(off.y(), 2), round(at, 3))

    def release(self, press: Press) -> None:
        edit = self._dragged(press)
        self._held, self._shown = None, None
        if edit is not None and abs(edit.x) + abs(edit.y) > press.px:
            self._do(edit)

    def double(self, press: Press) -> None:
        found = self._nearest(press)
        if found is not None:
            self._do(LockEdit(*found[0], "cut", at=round(max(found[1], 0.05), 3)))

    def _do(self, edit: LockEdit) -> None:
        self.edits.append(edit)
        name = edit.level, edit.lock
        if name in self.lines:
            line, wide = self.lines[name]
            changed, kept = edited(line[None], 0, [edit._replace(level=0, lock=0)])
            if kept[0]:
                self.lines[name] = changed[0], wide
            else:
                del self.lines[name]
                self.chosen = None
        self.redraw.emit()

    def take_away(self) -> None:
        """Take the lock in hand away."""
        if self.chosen is not None:
            self._do(LockEdit(*self.chosen, "away"))

    def take_back(self) -> None:
        """Take back what was done last."""
        if self.edits:
            self.edits.pop()
            self._ask()

    def claims(self, key: Qt.Key) -> bool:
        return bool((key == Qt.Key.Key_Delete and self.chosen) or (key == Qt.Key.Key_Backspace and self.edits))

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        if key == Qt.Key.Key_Delete and self.chosen is not None:
            self.take_away()
            return True
        if key == Qt.Key.Key_Backspace and self.edits:
            self.take_back()
            return True
        return super().key(key, modifiers)

    def done(self) -> None:
        """Lay the hair anew with all that was done."""
        part, made = self.session.part, self._made
        if part is None or made is None:
            self.finished.emit()
            return
        settings = {**HEAD_HAIR.checked(made.settings), "edits": tuple(self.edits)}
        operation = Make(part.uid, HEAD_HAIR.name, settings, made.seed, made.run, made.amount)
        self.session.carry_out(operation, self.finished.emit)

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        if self.chosen is None or self.chosen not in self.lines:
            return
        line = self.lines[self.chosen][0] if self._shown is None else self._shown
        points = [to_view.map(QPointF(float(x), float(y))) for x, y in line]
        draw_line(painter, points)
        draw_handle(painter, points[0], hot=True)
        draw_handle(painter, points[-1])


def _find(wish: Wish, deliver: Callable[[Lines], None], told: Callable[[float], None]) -> None:
    painting, part, made, edits = wish
    without = tuple(one for one in part.layers if one.made is None or one.made.run != made.run)
    below = painting.with_part(part.uid, layers=without)
    values = {**MAKERS[made.maker].checked(made.settings), "edits": edits}
    scene = Scene(below, below.part(part.uid), values, made.seed, told)
    deliver({(level, number): (line, wide) for level, number, line, wide in lock_lines(scene)})
