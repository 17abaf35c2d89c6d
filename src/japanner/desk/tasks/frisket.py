"""Drawing friskets on the easel."""

from __future__ import annotations

from functools import partial
from typing import Any, Final, NamedTuple

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.task import Press, Task, draw_handle, draw_line
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options
from japanner.painting.operations import ChangeFrisket, DropFrisket, SetFrisket
from japanner.painting.picture.reference import REFERENCES
from japanner.raster.shapes import curve_outline, oval_outline

__all__ = ["DRAWN_SHAPES", "FrisketTask"]


class Drawn(NamedTuple):
    """How a shape is asked for, what its command says, and what the line above the easel says while it is drawn."""

    key: str
    tip: str
    hint: str


DRAWN_SHAPES: Final = {
    "oval": Drawn("O", "Drag an oval; Shift: circle, Ctrl: from the centre",
                  "drag; Shift: circle, Ctrl: from the centre"),
    "box": Drawn("Shift+O", "Drag a box; Shift: square, Ctrl: from the centre",
                 "drag; Shift: square, Ctrl: from the centre"),
    "outline": Drawn("Z", "Freehand, and straight while Shift is held",
                     "drag freehand; hold Shift for straight lines, click their corners, let go to close"),
    "curve": Drawn("Shift+Z", "A curve through nodes with handles",
                   "click nodes, drag their handles; click the first node or press Enter to close"),
    "colour": Drawn("K", "By colour, with a tolerance", "click a colour"),
    "form": Drawn("Alt+K", "What hangs together on the maquette with a place, up to where depth jumps",
                  "click a place on the form; paint then keeps to its side of every contour"),
}  # fmt: skip
HOWS: Final = {"in place": "new", "add": "add", "take away": "take", "overlap": "meet"}
CLOSE_ENOUGH_PX: Final = 0.6

Node = list[float]  # x, y, and the handles before and after it: six numbers


class FrisketTask(Task):
    """One shape after the other, until the painter goes back to painting."""

    title = "FRISKET"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.shape, self.hint = "oval", DRAWN_SHAPES["oval"].hint
        self._from: QPointF | None = None
        self._to: QPointF | None = None
        self._press: Press | None = None
        self._points: list[QPointF] = []
        self._straight = False
        self._down = False
        self._nodes: list[Node] = []
        self._closed = False
        self._held: tuple[int, int] | None = None  # node, and 0 itself, 1 or 2 a handle
        self._make_options()

    def _make_options(self) -> None:
        row = self.options = Options()
        self._shape_box = row.choice("", list(DRAWN_SHAPES), "Shape of the frisket", self.take_shape)
        self._how = row.choice("", list(HOWS), "How it joins the frisket that is on")
        self._tolerance = row.number("tolerance", 0, 100, 10, "How far a colour may be off, in hundredths of OKLab")
        self._reference = row.choice("in", REFERENCES, "Which colours count: all that shows, the sketch, this layer")
        self._connected = row.switch("joined", True, "Only what hangs together with the point")
        self._reach = row.number("reach", 1, 5000, 200, "How far over the form it goes, and fades out", unit=" px")
        row.row()
        self._px = row.number("by", 0, 500, 4, "How far to grow, shrink or soften", unit=" px", digits=1)
        for change in ("grow", "shrink", "soften"):
            row.button(change, f"{change.capitalize()} the frisket by so many px", partial(self._change, change))
        row.button("invert", "Let through what it keeps out", lambda: self._change("invert"))
        row.button("drop", "Take the frisket off", lambda: self.session.apply(DropFrisket()))
        self._show_options()

    def _show_options(self) -> None:
        for widget in (self._tolerance, self._reference, self._connected):
            widget.setEnabled(self.shape == "colour")
        self._reach.setEnabled(self.shape == "form")

    def take_shape(self, shape: str) -> None:
        self._drop_started()
        self.shape, self.hint = shape, DRAWN_SHAPES[shape].hint
        self._shape_box.setCurrentText(shape)
        self._show_options()
        frisket = self.session.painting.frisket
        if shape == "curve" and frisket is not None and frisket.curve:
            self._nodes, self._closed = [list(node) for node in frisket.curve], True
        self.redraw.emit()

    def end(self) -> None:
        self._drop_started()

    def _drop_started(self) -> None:
        self._from = self._to = self._held = None
        self._points, self._nodes = [], []
        self._down = self._straight = self._closed = False

    def _change(self, change: str) -> None:
        self.session.apply(ChangeFrisket(change, self._px.value()))
        self._nodes, self._closed = [], False
        self.redraw.emit()

    def _lay(self, shape: dict[str, Any], how: str | None = None) -> None:
        self.session.apply(SetFrisket(shape, how or HOWS[self._how.currentText()]))
        self.redraw.emit()

    # --- the pointer ----------------------------------------------------------------------------------

    def press(self, press: Press) -> None:
        self._down, self._press = True, press
        if self.shape in ("oval", "box"):
            self._from = self._to = press.at
        elif self.shape == "outline":
            self._straight = press.shift
            self._points.append(press.at)
        elif self.shape == "curve":
            self._press_curve(press)
        elif self.shape == "form":
            self._lay({"shape": "form", "x": press.at.x(), "y": press.at.y(), "reach": self._reach.value()})
        else:
            self._pick(press)
        self.redraw.emit()

    def move(self, press: Press, *, down: bool) -> None:
        self._press = press
        if self.shape in ("oval", "box") and self._from is not None:
            self._to = press.at
        elif self.shape == "outline" and self._points:
            if down and not press.shift:
                self._straight = False
                if (press.at - self._points[-1]).manhattanLength() > CLOSE_ENOUGH_PX * press.px:
                    self._points.append(press.at)
            elif press.shift:
                self._straight = True
        elif self.shape == "curve" and down and self._held is not None:
            self._drag_node(press.at)
        else:
            return
        self.redraw.emit()

    def release(self, press: Press) -> None:
        self._down = False
        if self.shape in ("oval", "box") and self._from is not None:
            x0, y0, x1, y1 = self._corners(press)
            self._from = self._to = None
            if abs(x1 - x0) > press.px and abs(y1 - y0) > press.px:
                self._lay({"shape": self.shape, "x0": x0, "y0": y0, "x1": x1, "y1": y1})
        elif self.shape == "outline" and self._points:
            if press.shift:
                # A straight piece ends where the button is let go; the outline goes on from there.
                if (press.at - self._points[-1]).manhattanLength() > CLOSE_ENOUGH_PX * press.px:
                    self._points.append(press.at)
            else:
                self._close_outline()
        elif self.shape == "curve":
            self._held = None
            if self._closed:
                self._lay_curve()
        self.redraw.emit()

    def double(self, press: Press) -> None:
        if self.shape == "outline" and self._points:
            self._close_outline()
        elif self.shape == "curve":
            self._close_curve()

    def claims(self, key: Qt.Key) -> bool:
        return key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete) and bool(self._nodes)

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self.shape == "outline" and self._points:
                self._close_outline()
            elif self.shape == "curve":
                self._close_curve()
            return True
        if key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete) and self._nodes:
            self._nodes.pop()
            self._closed = False
            self.redraw.emit()
            return True
        if key == Qt.Key.Key_Escape and (self._points or self._nodes or self._from is not None):
            self._drop_started()
            self.redraw.emit()
            return True
        return False

    def key_up(self, key: Qt.Key) -> None:
        if key == Qt.Key.Key_Shift and self.shape == "outline" and len(self._points) > 1 and not self._down:
            self._close_outline()

    def _corners(self, press: Press) -> tuple[float, float, float, float]:
        """The corners that a drag has opened; with Shift equal sides, with Ctrl about where it began."""
        assert self._from is not None
        dx, dy = press.at.x() - self._from.x(), press.at.y() - self._from.y()
        if press.shift:
            side = max(abs(dx), abs(dy))
            dx, dy = side if dx >= 0 else -side, side if dy >= 0 else -side
        x0, y0 = self._from.x(), self._from.y()
        if press.ctrl:
            x0, y0, dx, dy = x0 - dx, y0 - dy, 2 * dx, 2 * dy
        return min(x0, x0 + dx), min(y0, y0 + dy), max(x0, x0 + dx), max(y0, y0 + dy)

    def _pick(self, press: Press) -> None:
        layer = self.session.work.active_layer or 0
        reference = self._reference.currentText()
        self._lay(
            {
                "shape": "colour", "x": press.at.x(), "y": press.at.y(), "tolerance": self._tolerance.value(),
                "reference": reference, "layer": layer, "connected": self._connected.isChecked(),
            }
        )  # fmt: skip

    def _close_outline(self) -> None:
        points, self._points, self._straight = self._points, [], False
        if len(points) > 2:
            self._lay({"shape": "outline", "points": tuple((p.x(), p.y()) for p in points)})
        self.redraw.emit()

    # --- the curve ------------------------------------------------------------------------------------

    def _press_curve(self, press: Press) -> None:
        for index, node in enumerate(self._nodes):
            for which in (0, 2, 1):
                if press.near(node[2 * which], node[2 * which + 1]):
                    if which == 0 and index == 0 and not self._closed and len(self._nodes) > 2:
                        self._close_curve()
                    self._held = (index, which)
                    return
        if self._closed:
            self._nodes, self._closed = [], False
        x, y = press.at.x(), press.at.y()
        self._nodes.append([x, y, x, y, x, y])
        self._held = (len(self._nodes) - 1, 2)

    def _drag_node(self, at: QPointF) -> None:
        assert self._held is not None
        index, which = self._held
        node = self._nodes[index]
        x, y = at.x(), at.y()
        if which == 0:
            dx, dy = x - node[0], y - node[1]
            for k in range(0, 6, 2):
                node[k] += dx
                node[k + 1] += dy
        else:
            # Both handles of a node point opposite ways: the curve runs through it without a corner.
            mirrored = (2 * node[0] - x, 2 * node[1] - y)
            node[2:] = [*mirrored, x, y] if which == 2 else [x, y, *mirrored]

    def _close_curve(self) -> None:
        if len(self._nodes) > 1 and not self._closed:
            self._closed = True
            self._lay_curve()

    def _lay_curve(self) -> None:
        self._lay({"shape": "curve", "nodes": tuple(tuple(node) for node in self._nodes)})

    # --- looks ----------------------------------------------------------------------------------------

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        if self._from is not None and self._press is not None:
            x0, y0, x1, y1 = self._corners(self._press)
            if x1 > x0 and y1 > y0:
                rows = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
                outline = oval_outline(x0, y0, x1, y1).tolist() if self.shape == "oval" else rows
                draw_line(painter, [to_view.map(QPointF(x, y)) for x, y in outline], closed=True)
        elif self._points and self._press is not None:
            draw_line(painter, [to_view.map(p) for p in (*self._points, self._press.at)])
        elif self._nodes:
            self._draw_curve(painter, to_view)

    def _draw_curve(self, painter: QPainter, to_view: QTransform) -> None:
        if len(self._nodes) > 1:
            outline = curve_outline(self._nodes)
            if not self._closed:
                last = len(curve_outline([self._nodes[-1], self._nodes[0]])) // 2
                outline = outline[: max(len(outline) - last, 2)]
            draw_line(painter, [to_view.map(QPointF(x, y)) for x, y in outline.tolist()], closed=self._closed)
        for index, node in enumerate(self._nodes):
            at, before, after = (to_view.map(QPointF(node[k], node[k + 1])) for k in (0, 2, 4))
            if before != at or after != at:
                draw_line(painter, [before, at, after], thin=True)
                draw_handle(painter, before)
                draw_handle(painter, after)
            draw_handle(painter, at, hot=index == 0 and not self._closed)
