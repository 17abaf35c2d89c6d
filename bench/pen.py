"""From a pen event to the renewed picture: every kind of brush, the real window, 4000 x 2000, twenty layers.

The pen reports every 8 ms. Beside the time on the wall stands what all threads of the program have computed for an
event, which says more on a machine that others use, too.
"""

from __future__ import annotations

import math
import time
from functools import cache

import numpy as np
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QInputDevice, QPointingDevice, QTabletEvent
from PySide6.QtWidgets import QApplication

from bench.large import large_painting
from bench.result import Result
from bench.window import opened_window
from japanner.desk.window.main_window import MainWindow
from japanner.stroke.brush import BRUSH_KINDS, Brush
from japanner.stroke.brush.shipped import shipped_brushes

__all__ = ["PACE_MS", "a_brush", "measure", "strokes"]

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
PACE_MS = 8.0
REST_S = 0.0005
EVENTS, STROKES = 60, 4
WHOLE, CLOSE = "whole canvas", "one to one"
HAIRS = ("fur", "comb", "lock", "strand", "fringe")


def goal_of(kind: str, size: int, view: str) -> float:
    """ms that 95 of 100 events may take."""
    nudge = kind == "nudge"
    if size == 2000:
        return 45 if nudge else 25
    if view == CLOSE:
        return 40 if nudge else 25
    if size == 500:
        return 16 if nudge else 25 if kind in HAIRS else 12
    return 14 if nudge else 16 if kind in ("lock", "strand") else 10


def measure() -> list[Result]:
    window = opened_window()
    window.session.work.work_on_layer(large_painting().parts[2].layers[2].uid)
    kinds = [kind for kind in BRUSH_KINDS if kind != "wipe"]
    rows = [(kind, size, WHOLE) for size in (100, 500) for kind in kinds]
    rows += [(kind, 500, CLOSE) for kind in kinds]
    rows += [("lay", 2000, WHOLE), ("nudge", 2000, WHOLE), ("lay", 20, WHOLE), ("smudge", 20, WHOLE)]
    results = [_row(window, *row) for row in rows]
    window.session.rest_hand()
    window.session._saved_painting = window.session.painting
    window.close()
    return results


def _row(window: MainWindow, kind: str, size: int, view: str) -> Result:
    began = time.process_time()
    took = strokes(window, a_brush(kind, size), None if view == WHOLE else 1.0, pace_ms=PACE_MS)
    window.session.rest_hand()
    cpu = (time.process_time() - began) * 1e3 / len(took)
    p50, p95, p99 = (float(np.percentile(took, share)) for share in (50, 95, 99))
    return Result(f"pen to picture, {kind} {size} px, {view}, p95", p95, "ms", goal_of(kind, size, view), at_most=True,
                  beside={"p50": p50, "p99": p99, "cpu": cpu})  # fmt: skip


def a_brush(kind: str, size: float) -> Brush:
    """Of a kind, with the spacing that shipped brushes of this kind have."""
    spacing = next((one.spacing for one in shipped_brushes() if one.kind == kind), Brush.spacing)
    return Brush(
        "Bench", kind=kind, tip="mop" if kind == "lay" else "round", edge=0.7, size_px=size, strength=0.4,
        spacing=spacing,
    )  # fmt: skip


def strokes(window: MainWindow, brush: Brush, zoom: float | None, *, pace_ms: float = 0.0) -> list[float]:
    """Milliseconds of each pen event of some strokes; each moves by about 12 px on the easel.

    pace_ms: the time from event to event, if there is any left.
    """
    session, easel = window.session, window.easel
    session.hand.brushes[session.hand.in_hand] = brush
    session.hand.brush_changed.emit()
    easel.fit()
    if zoom is not None:
        easel.zoom_to(zoom)
    QApplication.processEvents()
    session.smalls.prepare(session.painting, session.looking.step)
    session.smalls.wait()
    took: list[float] = []
    middle, reach = QPointF(easel.width() / 2, easel.height() / 2), min(easel.width(), easel.height()) / 3
    for number in range(STROKES):
        for index in range(EVENTS):
            angle = number + index * 12 / reach
            at = middle + QPointF(math.cos(angle), math.sin(angle)) * reach
            kind = QEvent.Type.TabletPress if index == 0 else QEvent.Type.TabletMove
            began = time.perf_counter()
            _send(window, kind, at)
            QApplication.processEvents()
            took.append((time.perf_counter() - began) * 1e3)
            while (time.perf_counter() - began) * 1e3 < pace_ms:
                QApplication.processEvents()
                time.sleep(REST_S)  # what would be spent on looking does not count as computing
        _send(window, QEvent.Type.TabletRelease, at)
        QApplication.processEvents()
    return took


@cache
def _pen() -> QPointingDevice:
    kind, end = QInputDevice.DeviceType.Stylus, QPointingDevice.PointerType.Pen
    return QPointingDevice("bench", 79, kind, end, QInputDevice.Capability.Pressure, 1, 2)


def _send(window: MainWindow, kind: QEvent.Type, at: QPointF) -> None:
    screen = QPointF(window.easel.mapToGlobal(QPoint(0, 0))) + at
    down = NONE if kind == QEvent.Type.TabletRelease else LEFT
    cause = NONE if kind == QEvent.Type.TabletMove else LEFT
    event = QTabletEvent(
        kind, _pen(), at, screen, 0.8, 0.0, 0.0, 0.0, 0.0, 0.0, Qt.KeyboardModifier.NoModifier, cause, down
    )
    QApplication.sendEvent(window.easel, event)
