"""From a pen event to the renewed picture, in the real window at 4000 x 2000 with twenty layers."""

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
from japanner.stroke.brush import Brush
from japanner.stroke.brush.shipped import shipped_brushes

__all__ = ["a_brush", "measure", "strokes"]

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
GOALS = {100: 16.0, 500: 33.0}
EVENTS, STROKES = 60, 4


def measure() -> list[Result]:
    window = opened_window()
    window.session.work.work_on_layer(large_painting().parts[2].layers[2].uid)
    results = []
    for kind in ("lay", "smudge"):
        for size in (20, 100, 500):
            for zoom, words in ((None, "whole canvas"), (1.0, "one to one")):
                took = strokes(window, a_brush(kind, size), zoom)
                for share in (50, 95, 99):
                    goal = GOALS.get(size) if share == 95 else None
                    name = f"pen to picture, {kind} {size} px, {words}, p{share}"
                    results.append(Result(name, float(np.percentile(took, share)), "ms", goal, at_most=True))
    window.session.rest_hand()
    window.session._saved_painting = window.session.painting
    window.close()
    return results


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
