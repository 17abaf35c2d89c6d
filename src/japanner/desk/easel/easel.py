"""The easel: the canvas to look at and to paint on."""

from __future__ import annotations

import math

from PySide6.QtCore import QEvent, QPointF, QRect, QRectF, QSizeF, Qt, Signal
from PySide6.QtGui import (
    QEnterEvent,
    QInputDevice,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPointingDevice,
    QResizeEvent,
    QTabletEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from japanner.desk.easel.comb_lines import CombLines
from japanner.desk.easel.edge_line import EdgeLine
from japanner.desk.easel.foot import FOOT, draw_foot, foot_words
from japanner.desk.easel.guide_lines import draw_guide
from japanner.desk.easel.light_guides import AGAINST_LIGHT, LightGuides
from japanner.desk.easel.measure_lines import draw_measures
from japanner.desk.easel.over_canvas import OverCanvas
from japanner.desk.easel.pen import mouse_sample, pressed_for_pick_up, tablet_sample
from japanner.desk.easel.pick_ring import PickRing
from japanner.desk.easel.shown_picture import ShownPicture, level_at
from japanner.desk.easel.silhouettes import Silhouettes
from japanner.desk.easel.stroke_ring import StrokeRing
from japanner.desk.easel.task import Press, Task
from japanner.desk.easel.tip_outline import draw_tip_outline
from japanner.desk.easel.view_transform import ViewTransform
from japanner.desk.screen import screens
from japanner.desk.session.session import Session
from japanner.desk.theme import surround_colour
from japanner.desk.widgets.painter import painter_on
from japanner.desk.widgets.working import working
from japanner.painting.picture.picking import part_at
from japanner.raster.geometry import Rect, union
from japanner.stroke.pen.practice_pen import PracticePen
from japanner.stroke.pen.samples import PenSample

__all__ = ["Easel"]

WHEEL_ZOOM = 1.15


class Easel(QWidget):
    """Shows the picture through the look in force, and turns pen, mouse and wheel into work."""

    pointer_at = Signal(QPointF)  # in easel px
    pointed = Signal(object)  # encoded colour under the pointer, or None
    named = Signal(str)  # the part under the pointer
    turned = Signal()  # zoom, turn, mirror or place of the view changed
    task_changed = Signal(object)  # the Task taken up, or None

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.view = ViewTransform()
        self.holding: str | None = None  # "move", "pick" or "ring", while its key is down
        self.task: Task | None = None
        self._task_down = False
        self._frisket_line, self._outlines = EdgeLine(), EdgeLine(dashed=False)
        self._pen: PracticePen | None = None
        self._pointer: QPointF | None = None
        self._drag_from: QPointF | None = None
        self._turning = False
        self._pick = PickRing(session.hand, self, self._found)
        self._tablet_down = False
        self._tablet_pen: PracticePen | None = None
        self._ring, self._silhouettes = StrokeRing(session), Silhouettes()
        self._fitted = False
        self.whole = False
        self.light_guides = LightGuides(session)
        self.comb_lines = CombLines(session)
        self.over = OverCanvas(self)
        self.over.changed.connect(self.update)
        screens.easel = self
        self._shown = ShownPicture(session, self.light_guides, self)
        self.setMouseTracking(True)
        self.setTabletTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(100, 80)
        self.setAccessibleName("Easel")
        session.opened.connect(self._on_opened)
        session.shown.connect(self._on_shown)
        for signal in (
            session.looking.look_changed,
            session.work.active_changed,
            session.changed,
            session.hand.colour_changed,
        ):
            signal.connect(self.update)
        for signal in (session.hand.brush_changed, session.trials.tried, session.work.target_changed):
            signal.connect(self.update)
        session.resized.connect(self._on_opened)
        session.hand_rested.connect(self._rest)
        self._on_opened()

    # --- the view -------------------------------------------------------------------------------------

    def fit(self) -> None:
        self.view.fit(self._session.painting.width, self._session.painting.height)
        self._view_changed()
        self.whole = True

    def zoom_to(self, zoom: float) -> None:
        self.view.zoom_to(zoom)
        self._view_changed()

    def look_at(self, x: float, y: float, *, zoom: float) -> None:
        """Bring a canvas position to the middle of the easel."""
        self.view.zoom_to(zoom)
        self.view.centre = QPointF(x, y)
        self._view_changed()

    def see(self, middle: QPointF, zoom: float, turn_deg: float, *, mirrored: bool) -> None:
        """Look at the canvas as it was looked at before."""
        if self.view.mirrored != mirrored:
            self.view.mirror()
        self.view.zoom_to(zoom)
        self.view.turn_deg, self.view.centre = turn_deg, middle
        self._fitted = True
        self._view_changed()

    def zoom_by(self, factor: float) -> None:
        self.view.zoom_at(self._pointer or QPointF(self.width() / 2, self.height() / 2), factor)
        self._view_changed()

    def mirror(self) -> None:
        self.view.mirror()
        self._view_changed()

    def upright(self) -> None:
        self.view.turn_deg = 0.0
        self._view_changed()

    def canvas_point(self, view_point: QPointF) -> QPointF:
        return self.view.to_canvas().map(view_point)

    def _say_step(self) -> None:
        """How finely the picture is shown."""
        levels = len(self._session.picture.levels)
        shown = self.view.to_canvas().mapRect(QRectF(self.rect())).toAlignedRect()
        area = Rect(shown.left(), shown.top(), shown.right() + 1, shown.bottom() + 1)
        self._session.see_at(1 << level_at(self.view.zoom * self.devicePixelRatioF(), levels), area)

    def _view_changed(self) -> None:
        self.whole = False
        self._say_step()
        self.turned.emit()
        if self._pointer is not None:  # what is under the pointer now
            self._point_at(self._pointer)
        self.update()

    def _on_opened(self) -> None:
        self.leave_task()
        self.over.take_off()
        self._shown.renew()
        self._fitted = False
        self._fit_once()
        self.update()

    def _fit_once(self) -> None:
        if not self._fitted and self.isVisible():
            self._fitted = True
            self.fit()

    def showEvent(self, event: QEvent) -> None:
        self._fit_once()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """A canvas shown whole stays whole; else it stays where it was, under a line that opens above it, too."""
        shift = event.size() - event.oldSize()
        self.view.size = QSizeF(self.width(), self.height() - FOOT)
        if self.isVisible() and (event.oldSize().width() < 50 or self.whole):
            self.fit()
        elif self.isVisible():
            self.view.move(QPointF(shift.width() / 2, shift.height() / 2))

    def _on_shown(self, areas: list[Rect]) -> None:
        area = union(areas)
        rect = self.view.view_rect(QRectF(area.x0, area.y0, area.width, area.height))
        self.update(rect.toAlignedRect().adjusted(-2, -2, 2, 2))

    # --- painting the view ----------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            self._paint(painter, event)

    def _paint(self, painter: QPainter, event: QPaintEvent) -> None:
        exposed = QRectF(event.rect())
        painter.fillRect(exposed, surround_colour(self._session.looking.surround))
        painter.save()
        painter.setTransform(self.view.to_view())
        self._shown.draw(
            painter, self.view, exposed, squinting=self.holding == "squint", ratio=self.devicePixelRatioF()
        )
        painter.restore()
        self.over.draw(painter, self.view.to_view())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frisket = self._session.painting.frisket
        if frisket is not None and self._session.looking.line_shown and self._session.trials.trial is None:
            self._frisket_line.draw(painter, [frisket.sheet], self.view.to_view(), self.size(), event.rect())
        if self._session.looking.outlines_shown:
            sheets = self._silhouettes.of(self._session.painting)
            self._outlines.draw(painter, sheets, self.view.to_view(), self.size(), event.rect())
        hidden = self.task is not None and self.task.hides_guides
        for part in self._session.painting.parts:
            if part.guide is not None and part.shown and not hidden and self._session.looking.guides_shown:
                draw_guide(painter, part.guide, self.view.to_view())
        if self._session.looking.guides_shown and not self._session.measuring.on:
            draw_measures(painter, self._session.measuring, "", self.view.to_view())
        self.light_guides.draw(painter, self.view.to_view())
        self.comb_lines.draw(painter, self.view.to_view())
        if self.task is not None:
            self.task.draw(painter, self.view.to_view())
        self._draw_tip(painter)
        self._ring.draw(painter)
        hint = self.task.hint if self.task is not None else ""
        draw_foot(painter, self.size(), self._session.looking.surround, self.foot_text(), hint)

    def _draw_tip(self, painter: QPainter) -> None:
        """The outline of the tip in its true size; while picking up, a ring of new and old colour."""
        if self._pick.shown:
            self._pick.draw(painter)
        elif self._pointer is not None and self.holding != "ring" and self.task is None:
            draw_tip_outline(painter, self._pointer, self._session.hand.brush.size_px * self.view.zoom / 2)

    def foot_text(self) -> str:
        """What the line at the foot says."""
        at = None if self._pointer is None else self.canvas_point(self._pointer)
        on = self._session.looking.look == AGAINST_LIGHT and at is not None
        against = self.light_guides.words_at(at.x(), at.y()) if on and at is not None else ""
        return foot_words(self._session, self.view, squinting=self.holding == "squint", against=against)

    # --- tasks ----------------------------------------------------------------------------------------

    def _rest(self) -> None:
        """What the pen still says until it is lifted belongs to nothing."""
        self._pen, self._tablet_down = None, False

    def take_up(self, task: Task | None) -> None:
        """Do something other than painting; None goes back to painting."""
        self._session.rest_hand()
        if self.task is not None:
            self.task.redraw.disconnect(self.update)
            self.task.finished.disconnect(self.leave_task)
            self.task.end()
        self.task, self._task_down = task, False
        self.comb_lines.asked = task is not None and task.shows_comb
        if task is not None:
            task.redraw.connect(self.update)
            task.finished.connect(self.leave_task)
            with working():  # a first comb takes a second
                task.begin()
        self.setCursor(Qt.CursorShape.CrossCursor if task is None else task.cursor)
        self.task_changed.emit(task)
        self.setFocus()
        self.update()

    def leave_task(self) -> None:
        if self.task is not None:
            self.take_up(None)

    def _press_of(self, event: QMouseEvent) -> Press:
        return Press.of(event, self.canvas_point(event.position()), self.view.zoom)

    def event(self, event: QEvent) -> bool:
        """Keys that the task claims are no shortcuts of the window's meanwhile."""
        task = self.task
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and task is not None:
            key = Qt.Key(event.key())
            if task.claims(key):
                event.accept()
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.task is None:
            super().keyPressEvent(event)
        elif not self.task.key(Qt.Key(event.key()), event.modifiers()):
            if event.key() == Qt.Key.Key_Escape:
                self.leave_task()
            else:
                super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if self.task is not None and not event.isAutoRepeat():
            self.task.key_up(Qt.Key(event.key()))
        super().keyReleaseEvent(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.task is not None and event.button() == Qt.MouseButton.LeftButton and self.holding is None:
            self.task.double(self._press_of(event))
        else:
            self.mousePressEvent(event)

    # --- the hand -------------------------------------------------------------------------------------

    def hold(self, what: str | None) -> None:
        """A key that is held changes what the pointer does until it is let go."""
        if self._session.strokes.under_way or what == self.holding:
            return
        if self.holding == "ring":
            self._ring.end()
        if "before" in (self.holding, what) and self._session.comparing.before_shown != (what == "before"):
            self._session.comparing.blink()
        self.holding = what
        self._drag_from = None
        self._pick.leave()
        if what == "ring":
            self._ring.begin(self._pointer, self.view.zoom)
        elif what == "pick" and self._pointer is not None:
            self._pick.move(self._pointer)
        cursors = {"move": Qt.CursorShape.OpenHandCursor, "ring": Qt.CursorShape.SizeAllCursor}
        resting = Qt.CursorShape.CrossCursor if self.task is None else self.task.cursor
        self.setCursor(cursors.get(what or "", resting))
        self.update()

    @property
    def has_pointer(self) -> bool:
        return self._pointer is not None

    @property
    def ring_used(self) -> bool:
        """Whether the stroke ring that is up has set anything."""
        return self._ring.used

    def type_digit(self, digit: int) -> bool:
        """A digit typed while the stroke ring is up; False if it is not."""
        if self.holding != "ring":
            return False
        self._ring.digit(digit)
        self.update()
        return True

    def tabletEvent(self, event: QTabletEvent) -> None:
        if self.task is not None:
            event.ignore()  # Qt sends it again as what a mouse would do
            return
        self._point_at(event.position())
        kind = event.type()
        if kind == QEvent.Type.TabletPress and event.button() == Qt.MouseButton.LeftButton and self.holding is None:
            eraser = event.pointerType() == QPointingDevice.PointerType.Eraser
            self._tablet_pen = self._pen_for(event.pointingDevice())
            self._tablet_down = self._session.begin_stroke([self._tablet_sample(event)], wipe=eraser)
        elif kind == QEvent.Type.TabletMove and self._tablet_down:
            self._session.strokes.go_on([self._tablet_sample(event)])
        elif kind == QEvent.Type.TabletRelease and self._tablet_down:
            self._tablet_down = False
            self._session.strokes.lift()
        elif not self._tablet_other(event):
            event.ignore()
            return
        event.accept()

    def _tablet_other(self, event: QTabletEvent) -> bool:
        """Barrel button and held keys with the pen; Qt repeats as mouse events what is not accepted."""
        if event.type() == QEvent.Type.TabletPress and pressed_for_pick_up(event):
            self._pick.move(event.position())
            return True
        if event.type() == QEvent.Type.TabletRelease and self._pick.shown:
            self._pick.take()
            return True
        return event.type() == QEvent.Type.TabletMove and self.holding is None

    def _pen_for(self, device: QPointingDevice) -> PracticePen | None:
        """The practice pen, if it stands in for this one."""
        presses = bool(device.capabilities() & QInputDevice.Capability.Pressure)
        self._session.hand.meet_pen(device.name(), presses=presses)
        return PracticePen(self._session.hand.practice_pen) if self._session.hand.practises(device.name()) else None

    def _tablet_sample(self, event: QTabletEvent) -> PenSample:
        if self._tablet_pen is not None:
            point = self.canvas_point(event.position())
            return self._tablet_pen.sample(point.x(), point.y(), float(event.timestamp()))
        sample = tablet_sample(event, self.canvas_point(event.position()))
        return sample._replace(pressure=float(self._session.hand.pen_curve.factor(sample.pressure)))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._point_at(event.position())
        if self.holding in ("move", "ring"):
            self._drag_from = event.position()
            self._turning = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        elif pressed_for_pick_up(event) or self.holding == "pick":
            self._pick.move(event.position())
        elif self.task is not None:
            if event.button() == Qt.MouseButton.LeftButton:
                self._task_down = True
                self.task.press(self._press_of(event))
        elif event.button() == Qt.MouseButton.LeftButton and not self._tablet_down:
            pen = PracticePen(self._session.hand.practice_pen)
            if self._session.begin_stroke([mouse_sample(event, self.canvas_point(event.position()), pen)]):
                self._pen = pen

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        before = self._pointer
        self._point_at(event.position())
        if self.holding == "ring":
            self._ring.drag(event.position())
            self.update()
        elif self._drag_from is not None:
            self._move_view(event.position())
        elif self._pick.shown or self.holding == "pick":
            self._pick.move(event.position())
        elif self.task is not None:
            self.task.move(self._press_of(event), down=self._task_down)
        elif self._pen is not None:
            self._session.strokes.go_on([mouse_sample(event, self.canvas_point(event.position()), self._pen)])
        if before is None:
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag_from = None
        if self._pick.shown:
            self._pick.take()
        elif self.task is not None:
            if self._task_down and event.button() == Qt.MouseButton.LeftButton:
                self._task_down = False
                self.task.release(self._press_of(event))
        elif self._pen is not None and event.button() == Qt.MouseButton.LeftButton:
            self._pen = None
            self._session.strokes.lift()

    def wheelEvent(self, event: QWheelEvent) -> None:
        notches = event.angleDelta().y() / 120
        if notches and self.holding == "ring":
            self._ring.turn(notches)
            self.update()
        elif notches and not self._session.strokes.under_way:
            self.view.zoom_at(event.position(), WHEEL_ZOOM**notches)
            self._view_changed()

    def enterEvent(self, event: QEnterEvent) -> None:
        self.setFocus()

    def leaveEvent(self, event: QEvent) -> None:
        self._pointer = self._session.aiming.pointer = None
        self.pointed.emit(None)
        self.update()

    def _point_at(self, position: QPointF) -> None:
        before, self._pointer = self._pointer, position
        self.pointer_at.emit(position)
        for point in (before, position):
            if point is not None:
                self.update(self._tip_area(point))
        canvas = self.canvas_point(position)
        self._session.aiming.pointer = (canvas.x(), canvas.y())
        self.pointed.emit(self._session.picture.value_at(math.floor(canvas.x()), math.floor(canvas.y())))
        part = part_at(self._session.painting, canvas.x(), canvas.y())
        self.named.emit(part.name if part is not None else "ground")

    def _tip_area(self, point: QPointF) -> QRect:
        reach = self._session.hand.brush.size_px * self.view.zoom / 2 + 4
        return QRectF(point.x() - reach, point.y() - reach, 2 * reach, 2 * reach).toAlignedRect()

    def _move_view(self, position: QPointF) -> None:
        assert self._drag_from is not None
        if self._turning:
            middle = QPointF(self.width() / 2, (self.height() - FOOT) / 2)
            before, after = self._drag_from - middle, position - middle
            turn = math.degrees(math.atan2(after.y(), after.x()) - math.atan2(before.y(), before.x()))
            self.view.turn_about_middle(-turn if self.view.mirrored else turn)
        else:
            self.view.move(position - self._drag_from)
        self._drag_from = position
        self._view_changed()

    def _found(self, position: QPointF) -> tuple[float, float, float] | None:
        canvas = self.canvas_point(position)
        return self._session.pick_up(canvas.x(), canvas.y())

    def letting_go(self) -> None:
        """A held key was let go: picking up takes the colour that the ring shows."""
        if self.holding == "pick":
            self._pick.take()
        self.hold(None)
