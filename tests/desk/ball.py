"""A ball, painted from flat to highlight in the real window, and how well its values follow the light.

Run as a program it does so in a real window and prints the outcome: see test_xvfb.py.
"""

from __future__ import annotations

import math
import sys

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtWidgets import QPushButton

from japanner.color import lab
from japanner.desk.window.main_window import MainWindow
from japanner.painting.picture.compositor import flattened
from japanner.raster.geometry import Rect
from tests.desk.hand import Hand

CENTRE, RADIUS = (240, 180), 130
AMBIENT = 22  # L* of what the key light does not reach
SPAN = 62  # and how far above it the fullest light lies


def take(window: MainWindow, name: str) -> None:
    """Click a brush in the roll."""
    index = next(i for i, brush in enumerate(window.session.hand.brushes) if brush.name == name)
    window.session.hand.take_brush(index)


def set_value(window: MainWindow, value: float) -> None:
    """Click the value rail."""
    ramp = window.rail._ramp()
    Hand.click(window.rail, QPointF(window.rail.x_of(value), ramp.top() + 3))


def next_layer(window: MainWindow) -> None:
    """Click the ghost tile of the build."""
    ghost = next(
        button for button in window.build.findChildren(QPushButton) if button.accessibleName() == "Next in order"
    )
    ghost.click()


def lambert(window: MainWindow, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """n . l of a ball at canvas positions, Lambert (1760)."""
    lx, ly, lz = window.session.painting.light.direction
    nx, ny = (x - CENTRE[0]) / RADIUS, (CENTRE[1] - y) / RADIUS
    nz = np.sqrt(np.maximum(1 - nx**2 - ny**2, 0))
    return np.maximum(nx * lx + ny * ly + nz * lz, 0)


def paint_ball(hand: Hand) -> None:
    """Flat, shadow, then lighter and lighter, smudged at the turn, dodged at last; layer by layer in working order."""
    window = hand.window
    session = window.session
    take(window, "Round")
    hand.key(Qt.Key.Key_3)
    session.hand.set_brush(size_px=40, drives=())
    for radius in np.arange(RADIUS - 20, 0, -18):
        angles = np.linspace(0, 2 * math.pi, 40)
        hand.pen([(CENTRE[0] + radius * math.cos(a), CENTRE[1] + radius * math.sin(a)) for a in angles])
    next_layer(window)  # shadow: a glaze, Multiply
    set_value(window, 58)
    session.hand.set_brush(size_px=60)
    _zone(hand, 0.0, 0.25, below=True)
    for role in ("accent", "bounce", "light"):
        next_layer(window)
        assert session.layer.role == role
    take(window, "Mop")
    session.hand.set_brush(size_px=46, strength=0.9)
    for level in np.linspace(0.0, 0.97, 14):
        set_value(window, AMBIENT + SPAN * level)
        _zone(hand, level, 0.035)
    take(window, "Smudge")
    session.hand.set_brush(size_px=34, strength=0.12)
    for level in (0.15, 0.3, 0.5):
        _zone(hand, level, 0.3, every=30)
    next_layer(window)
    take(window, "Soft round")
    set_value(window, 93)
    session.hand.set_brush(size_px=22)
    lx, ly, _ = session.painting.light.direction
    x, y = CENTRE[0] + lx * RADIUS, CENTRE[1] - ly * RADIUS
    hand.mouse([(x - 6, y), (x + 6, y + 2)])


def _zone(hand: Hand, level: float, width: float, *, below: bool = False, every: int = 18) -> None:
    """Pen strokes over the part of the ball whose Lambert value is about `level` or above (or below it)."""
    for y in range(CENTRE[1] - RADIUS, CENTRE[1] + RADIUS, every):
        xs = np.arange(CENTRE[0] - RADIUS - 10, CENTRE[0] + RADIUS + 10, 6.0)
        light = lambert(hand.window, xs, np.full_like(xs, y))
        wanted = light <= level + width if below else light >= level
        inside = np.hypot(xs - CENTRE[0], y - CENTRE[1]) < RADIUS + 20
        run = xs[wanted & inside]
        if len(run) > 1:
            hand.pen([(float(x), float(y), 1.0) for x in run])


def profile(window: MainWindow) -> tuple[np.ndarray, np.ndarray]:
    """L* and Lambert value along the light axis, from the fullest light to the core shadow, each a mean of 5 px."""
    session = window.session
    lx, ly, _ = session.painting.light.direction
    length = math.hypot(lx, ly)
    along = np.linspace(length, -0.72, 24)
    xs, ys = CENTRE[0] + along * RADIUS * lx / length, CENTRE[1] - along * RADIUS * ly / length
    raster = flattened(session.painting)
    values = []
    for x, y in zip(xs, ys, strict=True):
        area = raster.read(Rect(int(x) - 2, int(y) - 2, int(x) + 3, int(y) + 3))[:3] / 65535
        values.append(float(lab.lightness_from_srgb(area.mean(axis=(1, 2)))))
    return np.array(values), lambert(window, xs, ys)


def judge(values: np.ndarray, light: np.ndarray) -> tuple[float, float]:
    """Largest rise of L* on the way into the shadow, and the correlation of L* with the Lambert value."""
    lit = light > 0
    return float(np.diff(values[lit]).max()), float(np.corrcoef(values[lit], light[lit])[0, 1])


def main() -> int:
    from PySide6.QtGui import QGuiApplication
    from PySide6.QtTest import QTest

    from japanner.desk.app import make_application

    app = make_application(["ball"])
    window = MainWindow()
    window.show()
    window.activateWindow()
    QTest.qWaitForWindowExposed(window, 5000)
    QTest.qWaitForWindowActive(window, 2000)
    window.files.new(480, 360, 144.0)
    window.building.add_part("plain")
    window.easel.setFocus()
    app.processEvents()
    paint_ball(Hand(window))
    app.processEvents()
    rise, correlation = judge(*profile(window))
    print(f"{QGuiApplication.platformName()} {rise:.3f} {correlation:.4f} {len(window.session.document.records)}")
    if len(sys.argv) > 1:
        window.screen().grabWindow(window.winId()).save(sys.argv[1])
    return 0


if __name__ == "__main__":
    sys.exit(main())
