"""Somebody who has never seen the program: only what the screen says, only the events of a hand."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from japanner.color.lab import lightness_from_srgb
from japanner.demo.ball import BALL
from japanner.desk.window.tour import DONE
from japanner.painting.picture.compositor import flattened
from tests.desk.hand import Hand

MOST_ACTIONS = 25
STEP_TOLERANCE = 4.0


class Newcomer:
    """Counts what the hand does."""

    def __init__(self, window):
        self.window, self.actions = window, 0
        self.hand = Hand(window)

    def click(self, button):
        assert button.isVisible()
        self.actions += 1
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)

    def key(self, key):
        self.actions += 1
        self.hand.key(key)

    def stroke(self, points):
        self.actions += 1
        self.hand.mouse(points)

    @property
    def told(self):
        assert self.window.tour.bar.isVisible()
        return self.window.tour.bar.words.text()


def across(x0, y0, x1, y1, rows):
    """Strokes to and fro between two corners, without lifting the pen."""
    points = []
    for index, y in enumerate(np.linspace(y0, y1, rows)):
        pair = [(x0, y), (x1, y)]
        points += pair if index % 2 == 0 else pair[::-1]
    return points


def arc(radius, start_deg, end_deg):
    x0, y0, x1, y1 = BALL
    angles = np.radians(np.linspace(start_deg, end_deg, 9))
    return [((x0 + x1) / 2 + radius * np.cos(a), (y0 + y1) / 2 + radius * np.sin(a)) for a in angles]


def test_from_the_first_start_to_a_ball_in_five_values(window, qtbot):
    window.session.aiming.set_over("pointer")  # whatever was chosen before
    new = Newcomer(window)
    tour = window.tour
    link = next(b for b in window.start.findChildren(QPushButton) if b.text() == "Shade a ball in three minutes")
    new.click(link)
    assert "Fill the circle" in new.told
    x0, y0, x1, y1 = BALL
    new.stroke(across(x0, y0, x1, y1, 6))
    qtbot.waitUntil(lambda: tour.at == 1)
    assert window.session.painting.frisket is None
    steps = (
        ("press 2", Qt.Key.Key_2, arc(210, -20, 110)),
        ("press 1", Qt.Key.Key_1, arc(270, 10, 80)),
        ("press 4", Qt.Key.Key_4, [*arc(150, 180, 270), *arc(60, 270, 180)]),
        ("press 5", Qt.Key.Key_5, [(690, 470), (700, 462)]),
    )
    for number, (words, key, points) in enumerate(steps, 1):
        assert words in new.told
        new.click(tour.bar.add)
        assert not tour.bar.add.isVisible()
        new.key(key)
        new.stroke(points)
        qtbot.waitUntil(lambda number=number: tour.at == number + 1)
    assert new.told == DONE
    assert new.actions <= MOST_ACTIONS
    painting = window.session.painting
    pixels = flattened(painting).read(painting.rect)[:3].transpose(1, 2, 0) / 65535
    values = lightness_from_srgb(pixels[int(y0) : int(y1), int(x0) : int(x1)])
    rows, columns = np.mgrid[: values.shape[0], : values.shape[1]]
    inside = np.hypot(rows - values.shape[0] / 2, columns - values.shape[1] / 2) < values.shape[0] / 2 - 4
    ball = next(part for part in painting.parts if part.name == "Ball")
    for step in ball.scale:
        share = (np.abs(values[inside] - step) < STEP_TOLERANCE).mean()
        assert share > 0.002, (step, share)
    new.click(tour.bar.leave)
    assert not tour.bar.isVisible()


def test_a_tour_can_be_left_and_gives_the_brush_back(window):
    before = next(one for one in window.session.hand.brushes if one.name == "Soft round")
    window.tour.begin()
    window.tour._hold()
    assert next(one for one in window.session.hand.brushes if one.name == "Soft round") != before
    QTest.mouseClick(window.tour.bar.leave, Qt.MouseButton.LeftButton)
    assert window.tour.at is None
    after = next(one for one in window.session.hand.brushes if one.name == "Soft round")
    assert (after.strength, after.edge, after.drives) == (before.strength, before.edge, before.drives)


def test_the_first_stroke_on_a_new_painting_draws(window):
    from japanner.desk.window.start_view import _Use

    card = window.start.findChildren(_Use)[4]
    QTest.mouseClick(card, Qt.MouseButton.LeftButton)
    session = window.session
    assert (session.painting.width, session.painting.height) == (1600, 2000)
    assert (session.part.material, session.layer.role) == ("drawing", "sketch")
    assert session.hand.brush.roll == window.session.hand.roll == "sketch"
    assert not session.unsaved
    Hand(window).mouse([(400, 400), (800, 900)])
    assert session.layer.pixels.tiles
    session.undo()
    assert not session.layer.pixels.tiles
    session.undo()
    assert session.layer is not None  # how it began is nothing to undo


def test_recent_paintings_and_demos_show_themselves(window, tmp_path):
    from japanner.desk.settings import remember_recent
    from japanner.scripting import Script

    made = Script.new(320, 240, title="Otter", ground=(0.7, 0.2, 0.2))
    made.save(tmp_path / "otter.ora")
    remember_recent(tmp_path / "otter.ora")
    window.show_start()
    pictures = {b.accessibleName(): b for b in window.start.findChildren(QPushButton) if b.objectName() == "picture"}
    assert not pictures["otter"].icon().isNull()
    colour = pictures["otter"].icon().pixmap(40, 30).toImage().pixelColor(10, 10)
    assert colour.red() > 150 > colour.green()
    assert not pictures["Studies sheet"].icon().isNull()
    QTest.mouseClick(pictures["otter"], Qt.MouseButton.LeftButton, pos=QPoint(5, 5))
    Hand(window).hover(QPointF(10, 10).x(), 10)
    window.files.wait()
    assert window.session.painting.title == "Otter"
