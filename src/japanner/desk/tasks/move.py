"""Moving, scaling, turning, skewing, mirroring and perspective, by handles and by numbers."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.task import CommitTask, Press, draw_handle, draw_line
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.errors import InputError
from japanner.painting.operations import Transform
from japanner.painting.operations.moving import content_area
from japanner.raster.geometry import Rect
from japanner.raster.resample import corner_matrix

__all__ = ["MoveTask", "Pose"]

WHAT: Final = ("layer", "part", "everything")
TURN_HANDLE_PX: Final = 26.0
ARROWS: Final = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
LEAST_SCALE: Final = 0.005

Points = NDArray[np.float64]


@dataclass(frozen=True)
class Pose:
    """How content lies: moved by (dx, dy) px, scaled by (sx, sy), turned and skewed in degrees about its middle, and
    each corner then pulled aside by some px.
    """

    dx: float = 0.0
    dy: float = 0.0
    sx: float = 1.0
    sy: float = 1.0
    turn_deg: float = 0.0
    skew_deg: float = 0.0
    pulls: tuple[tuple[float, float], ...] = field(default=((0.0, 0.0),) * 4)

    def corners(self, area: Rect) -> Points:
        """Where the corners of the content go, clockwise from the upper left, shape (4, 2)."""
        middle, half = _middle(area), np.array((area.width, area.height)) / 2
        unit = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)], float) * half
        moved: Points = unit @ self.linear().T + middle + (self.dx, self.dy) + np.array(self.pulls)
        return moved

    def linear(self) -> Points:
        turn, skew = math.radians(self.turn_deg), math.tan(math.radians(self.skew_deg))
        rotation = np.array([(math.cos(turn), -math.sin(turn)), (math.sin(turn), math.cos(turn))])
        result: Points = rotation @ np.array([(1, skew), (0, 1)]) @ np.diag((self.sx, self.sy))
        return result

    @property
    def at_rest(self) -> bool:
        return self == Pose()


def _middle(area: Rect) -> Points:
    return np.array((area.x0 + area.x1, area.y0 + area.y1)) / 2


class MoveTask(CommitTask):
    """Handles around what is moved; it is resampled once, when it is done."""

    title = "MOVE"
    hint = "drag; corners scale, sides stretch, the stalk turns; Ctrl: pull a corner or skew a side; Enter: done"
    cursor = Qt.CursorShape.SizeAllCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.pose = Pose()
        self.area = Rect(0, 0, 0, 0)
        self._held: tuple[str, int] | None = None
        self._grip: tuple[QPointF, Pose] | None = None
        self._make_options()

    def _make_options(self) -> None:
        row = self.options = Options()
        self.what = row.choice("", WHAT, "This layer with those marked (Ctrl-click tiles), the part, or everything",
                               lambda _: self.begin())  # fmt: skip
        self.locked = row.switch("keep shape", True, "Corners scale both sides alike")
        row.button("mirror ↔", "Left and right", lambda: self._set(sx=-self.pose.sx))
        row.button("mirror ↕", "Top and bottom", lambda: self._set(sy=-self.pose.sy))
        row.button("at rest", "Back to where it was", lambda: self._take(Pose()))
        row.button("done", "Make it count (Enter)", self.done)
        row.row()
        self._boxes = {
            "dx": row.number("x", -99999, 99999, 0, "Moved to the right", unit=" px", digits=1,
                             changed=lambda v: self._set(dx=v)),
            "dy": row.number("y", -99999, 99999, 0, "Moved down", unit=" px", digits=1,
                             changed=lambda v: self._set(dy=v)),
            "sx": row.number("wide", -2000, 2000, 100, "Width", unit=" %", digits=1,
                             changed=lambda v: self._scale(sx=v / 100)),
            "sy": row.number("high", -2000, 2000, 100, "Height", unit=" %", digits=1,
                             changed=lambda v: self._scale(sy=v / 100)),
            "turn_deg": row.number("turn", -360, 360, 0, "Turned clockwise", unit="°", digits=1,
                                   changed=lambda v: self._set(turn_deg=v)),
            "skew_deg": row.number("skew", -80, 80, 0, "Slanted", unit="°", digits=1,
                                   changed=lambda v: self._set(skew_deg=v)),
        }  # fmt: skip

    @property
    def layers(self) -> tuple[int, ...]:
        """The layers that move."""
        session, what = self.session, self.what.currentText()
        if what == "everything":
            return tuple(layer.uid for _, layer in session.painting.layers())
        if what == "part" and session.part is not None:
            return tuple(layer.uid for layer in session.part.layers)
        marked = {*session.work.marked, *([session.work.active_layer] if session.work.active_layer is not None else [])}
        return tuple(layer.uid for _, layer in session.painting.layers() if layer.uid in marked)

    def begin(self) -> None:
        self.pose, self._held = Pose(), None
        self.area = content_area(self.session.painting, self.layers)
        if self.area.empty:
            self.session.told.emit("There is nothing to move: no paint on these layers, or none inside the frisket.")
        else:
            self.session.trials.begin()
        self._show_numbers()
        self.redraw.emit()

    def end(self) -> None:
        self.session.trials.end()

    def operation(self) -> Transform:
        matrix = corner_matrix(self.area, self.pose.corners(self.area))
        return Transform(self.layers, tuple(float(v) for v in matrix.reshape(-1)))

    def done(self) -> None:
        """Make the move count, and go back to painting."""
        if self.area.empty or self.pose.at_rest:
            self.finished.emit()
            return
        try:
            operation = self.operation()
        except InputError as error:
            self.session.told.emit(str(error))
            return
        self.session.carry_out(operation, self.finished.emit)

    def _set(self, **changes: float) -> None:
        self._take(replace(self.pose, **changes))  # type: ignore[arg-type]

    def _scale(self, **changes: float) -> None:
        if self.locked.isChecked():
            name, value = next(iter(changes.items()))
            before = getattr(self.pose, name)
            other = "sy" if name == "sx" else "sx"
            changes[other] = getattr(self.pose, other) * (value / before if before else 1.0)
        self._set(**changes)

    def _take(self, pose: Pose) -> None:
        """Try a pose; one that cannot be is told of, and the last stays."""
        if self.area.empty:
            return
        before, self.pose = self.pose, pose
        if min(abs(pose.sx), abs(pose.sy)) < LEAST_SCALE:
            self.session.told.emit("The shape would be flat; give it some width and height.")
            self.pose = before
        elif not self.session.trials.show(None if pose.at_rest else self._tried()):
            self.pose = before
        self._show_numbers()
        self.redraw.emit()

    def _tried(self) -> Transform | None:
        try:
            return self.operation()
        except InputError:
            return None

    def _show_numbers(self) -> None:
        for name, box in self._boxes.items():
            value = getattr(self.pose, name)
            set_quietly(box, value * 100 if name in ("sx", "sy") else value)

    # --- the hand -------------------------------------------------------------------------------------

    def _handles(self, px: float) -> dict[tuple[str, int], Points]:
        corners = self.pose.corners(self.area)
        sides = (corners + np.roll(corners, -1, axis=0)) / 2
        top, middle = sides[0], corners.mean(axis=0)
        out = (top - middle) / max(float(np.hypot(*(top - middle))), 1e-6)
        stalk = top + out * TURN_HANDLE_PX * px
        return {
            **{("corner", i): corners[i] for i in range(4)},
            **{("side", i): sides[i] for i in range(4)},
            ("turn", 0): stalk,
        }

    def press(self, press: Press) -> None:
        if self.area.empty:
            return
        self._held = ("inside", 0)
        for handle, (x, y) in self._handles(press.px).items():
            if press.near(float(x), float(y)):
                self._held = handle
                break
        if press.ctrl and self._held[0] in ("corner", "side"):
            self._held = ("pull" if self._held[0] == "corner" else "skew", self._held[1])
        self._grip = (press.at, self.pose)

    def move(self, press: Press, *, down: bool) -> None:
        if down and self._held is not None and self._grip is not None:
            self._take(self._dragged(press, *self._grip))

    def release(self, press: Press) -> None:
        self._held = self._grip = None

    def _dragged(self, press: Press, start: QPointF, pose: Pose) -> Pose:
        assert self._held is not None
        kind, index = self._held
        by = np.array((press.at.x() - start.x(), press.at.y() - start.y()))
        if kind == "inside":
            if press.shift:
                by[int(abs(by[0]) > abs(by[1]))] = 0
            return replace(pose, dx=pose.dx + by[0], dy=pose.dy + by[1])
        if kind == "turn":
            return self._turned(press, start, pose)
        if kind == "pull":
            pulls = list(pose.pulls)
            pulls[index] = (pulls[index][0] + by[0], pulls[index][1] + by[1])
            return replace(pose, pulls=tuple(pulls))
        return self._stretched(kind, index, by, pose, locked=self.locked.isChecked() != press.shift)

    def _turned(self, press: Press, start: QPointF, pose: Pose) -> Pose:
        middle = pose.corners(self.area).mean(axis=0)
        before = math.atan2(start.y() - middle[1], start.x() - middle[0])
        after = math.atan2(press.at.y() - middle[1], press.at.x() - middle[0])
        turn = pose.turn_deg + math.degrees(after - before)
        if press.shift:
            turn = round(turn / 15) * 15
        return replace(pose, turn_deg=(turn + 180) % 360 - 180)

    def _stretched(self, kind: str, index: int, by: Points, pose: Pose, *, locked: bool) -> Pose:
        """Scale or skew so that a corner or side follows the pointer and the opposite one stays."""
        unit = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)], float)
        side = np.array([(0, -1), (1, 0), (0, 1), (-1, 0)], float)
        sign = unit[index] if kind == "corner" else side[index]
        half = np.array((self.area.width, self.area.height)) / 2
        turn = math.radians(pose.turn_deg)
        rotation = np.array([(math.cos(turn), -math.sin(turn)), (math.sin(turn), math.cos(turn))])
        local = rotation.T @ by
        if kind == "skew":
            along = local[0] if index in (0, 2) else 0.0
            rise = math.tan(math.radians(pose.skew_deg)) + along * sign[1] / (half[1] * 2 * pose.sy)
            return replace(pose, skew_deg=min(max(math.degrees(math.atan(rise)), -80), 80))
        growth = sign * local / (2 * half)
        scale = np.array((pose.sx, pose.sy)) + growth
        if kind == "corner" and locked:
            reach = sign * half * (pose.sx, pose.sy)
            factor = 1 + float(reach @ local) / (2 * float(reach @ reach))
            scale = np.array((pose.sx, pose.sy)) * factor
        fresh = replace(pose, sx=float(scale[0]), sy=float(scale[1]))
        # The opposite corner or side holds still.
        anchor = -sign * half
        shift = pose.linear() @ anchor - fresh.linear() @ anchor
        return replace(fresh, dx=pose.dx + float(shift[0]), dy=pose.dy + float(shift[1]))

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        if key in ARROWS and not modifiers & Qt.KeyboardModifier.AltModifier:
            step = 10 if modifiers & Qt.KeyboardModifier.ShiftModifier else 1
            dx, dy = ARROWS[key]
            self._take(replace(self.pose, dx=self.pose.dx + dx * step, dy=self.pose.dy + dy * step))
            return True
        return super().key(key, modifiers)

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        if self.area.empty:
            return
        corners = [to_view.map(QPointF(x, y)) for x, y in self.pose.corners(self.area).tolist()]
        draw_line(painter, corners, closed=True)
        px = 1 / max(math.hypot(to_view.m11(), to_view.m12()), 1e-6)
        handles = {name: to_view.map(QPointF(*at.tolist())) for name, at in self._handles(px).items()}
        draw_line(painter, [handles["side", 0], handles["turn", 0]], thin=True)
        for name, at in handles.items():
            draw_handle(painter, at, hot=name == self._held)
