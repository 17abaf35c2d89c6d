"""The bench: panels around the easel, in the forms the painter wants, or the easel alone."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final, Protocol

from PySide6.QtCore import QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QMouseEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from japanner.desk.easel.easel import Easel
from japanner.desk.settings import recall, remember
from japanner.desk.widgets.section import hairline
from japanner.desk.window.arrangement import EDGES, LINE, PANELS, Arrangement, edge_of

__all__ = ["BenchPage", "Panel"]

TOUCH_PX: Final = 3
# So far off a panel that was slid in, the hand has left it.
LEFT_PX: Final = 28
GRIP_PX: Final = 7


class Panel(Protocol):
    """A widget with two forms."""

    def set_form(self, form: str) -> None: ...


class _Grip(QWidget):
    """Over the line between a column and the easel, to drag."""

    dragged = Signal(int)  # to an x of the page, px
    reset = Signal()

    def __init__(self, page: QWidget) -> None:
        super().__init__(page)
        self._page = page
        self.setCursor(Qt.CursorShape.SplitHCursor)
        self.setToolTip("Drag to make the column wider or narrower; double-click for the width it began with")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        event.accept()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self.dragged.emit(round(self.mapTo(self._page, event.position()).x()))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.reset.emit()


class BenchPage(QWidget):
    """Knows the arrangement; `arranged` is sent whenever something lies elsewhere."""

    arranged = Signal()
    formed = Signal(str)  # a panel has another form

    def __init__(self, easel: Easel, panels: Mapping[str, QWidget]) -> None:
        super().__init__()
        self.easel, self.panels = easel, dict(panels)
        self.alone = False
        self.slid: str | None = None  # the edge whose panels lie over the picture
        self._held: str | None = None  # ... because its key is down
        self._was: str | None = None  # ... when that was pressed
        self._former: tuple[QPointF, float] | None = None
        self._lines = [hairline() for _ in range(3)] + [hairline(vertical=True) for _ in range(3)]
        for widget in (easel, *self._lines, *self.panels.values()):
            widget.setParent(self)
        self._grips = {"parts": _Grip(self), "right": _Grip(self), "board": _Grip(self)}
        for name, grip in self._grips.items():
            grip.dragged.connect(lambda px, n=name: self._drag(n, px))
            grip.reset.connect(lambda n=name: self._reset(n))
        self.arrangement = Arrangement.read(recall("panels", {}), 0)
        self._leaving = QTimer(self)
        self._leaving.setSingleShot(True)
        self._leaving.setInterval(250)
        self._leaving.timeout.connect(lambda: self.slide(None))
        easel.pointer_at.connect(self._follow_pointer)
        self._form_all()

    # --- forms ------------------------------------------------------------------------------------------

    def begin_with(self, window_width: int) -> None:
        """Take the forms that were remembered, or else those that suit a window so wide."""
        self.arrangement = Arrangement.read(recall("panels", {}), window_width)
        self._form_all()

    def form_of(self, name: str) -> str:
        return self.arrangement.forms[name]

    def set_form(self, name: str, form: str) -> None:
        """Hide a panel, or show it slim or full, as far as it has that form."""
        form = form if form in PANELS[name] else PANELS[name][-1]
        self.arrangement = self.arrangement.formed(name, form)
        self._form_all()
        self._remember()
        self.formed.emit(name)

    def next_form(self, name: str) -> None:
        """Hidden, slim, full in turn; with the easel alone, the panel comes in over the picture and goes again."""
        if self.alone:
            edge = edge_of(name)
            self.slide(None if self.slid == edge else edge)
        else:
            self.set_form(name, self.arrangement.next_form(name))

    def _form_all(self) -> None:
        for name, panel in self.panels.items():
            form = self.form_of(name)
            if form != "hidden" or self.alone:
                panel.set_form("slim" if form == "hidden" else form)  # type: ignore[attr-defined]
        self._arrange()

    def _remember(self) -> None:
        remember("panels", self.arrangement.kept())

    def _drag(self, name: str, x: int) -> None:
        px = x if name == "parts" else self.panels[name].geometry().right() + 1 - x
        self.arrangement = self.arrangement.widened(name, self.form_of(name), px)
        self._arrange()
        self._remember()

    def _reset(self, name: str) -> None:
        widths = {one: px for one, px in self.arrangement.widths.items() if one != name}
        self.arrangement = Arrangement(self.arrangement.forms, widths)
        self._arrange()
        self._remember()

    # --- easel alone --------------------------------------------------------------------------------------

    def keep_view(self) -> None:
        """Remember how the picture is looked at, for the way back from the easel alone."""
        view = self.easel.view
        self._former = None if self.easel.whole else (QPointF(view.centre), view.zoom)

    def set_alone(self, alone: bool) -> None:
        """All panels away and the whole picture in the window; and back, as it was looked at before."""
        if alone == self.alone:
            return
        self.alone, self.slid = alone, None
        self._form_all()
        if alone or self._former is None:
            self.easel.fit()
        else:
            centre, zoom = self._former
            self.easel.look_at(centre.x(), centre.y(), zoom=zoom)

    def slide(self, edge: str | None) -> None:
        """Bring in the panels of an edge over the picture, or put them away."""
        self._leaving.stop()
        if self.alone and edge != self.slid:
            self.slid = edge
            self._arrange()
            if edge is None:
                self.easel.setFocus()

    def hold(self, name: str, *, down: bool, stays: bool = False) -> None:
        """The key of a panel is down, with the easel alone: it lies over the picture as long.

        stays: it was only tapped; a panel that was not there stays until the hand leaves it.
        """
        edge = edge_of(name)
        if down:
            self._was = self.slid
            self._held = edge
            self.slide(edge)
        else:
            self._held = None
            if not stays or self._was == edge:
                self.slide(None)

    def _follow_pointer(self, at: QPointF) -> None:
        if not self.alone or self._held is not None:
            return
        width, height = self.easel.width(), self.easel.height()
        distances = {"top": at.y(), "left": at.x(), "right": width - 1 - at.x(), "bottom": height - 1 - at.y()}
        touched = next((edge for edge, far in distances.items() if far <= TOUCH_PX), None)
        if touched is not None:
            self.slide(touched)
        elif self.slid is not None:
            away = not any(
                self.panels[name].geometry().adjusted(-LEFT_PX, -LEFT_PX, LEFT_PX, LEFT_PX).contains(at.toPoint())
                for name in EDGES[self.slid]
            )
            if not away:
                self._leaving.stop()
            elif not self._leaving.isActive():
                self._leaving.start()

    # --- places -------------------------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._arrange()

    def _arrange(self) -> None:
        if self.alone:
            places = {} if self.slid is None else self.arrangement.slid_in(self.size(), self.slid)
            places["easel"] = self.rect()
        else:
            places = self.arrangement.lay_out(self.size())
        self.easel.setGeometry(places["easel"])
        for name, panel in self.panels.items():
            if name in places:
                panel.setGeometry(places[name])
                panel.raise_()
            panel.setVisible(name in places)
        self._rule()
        self.arranged.emit()

    def _rule(self) -> None:
        """Put the hairlines between what lies beside each other, and the grips over them."""
        shown = {name: panel.geometry() for name, panel in self.panels.items() if panel.isVisibleTo(self)}
        over, under, below, left, right, middle = self._lines
        for line, name, at_top in ((over, "roll", False), (under, "build", True), (below, "rail", True)):
            line.setVisible(name in shown)
            if name in shown:
                y = shown[name].top() - LINE if at_top else shown[name].bottom() + 1
                line.setGeometry(0, y, self.width(), LINE)
                line.raise_()
        for line, name in ((left, "parts"), (right, "right"), (middle, "board")):
            line.setVisible(name in shown)
            self._grips[name].setVisible(name in shown and not self.alone)
            if name in shown:
                place = shown[name]
                x = place.right() + 1 if name == "parts" else place.left() - LINE
                line.setGeometry(x, place.top(), LINE, place.height())
                line.raise_()
                self._grips[name].setGeometry(x - GRIP_PX // 2, place.top(), GRIP_PX, place.height())
                self._grips[name].raise_()
