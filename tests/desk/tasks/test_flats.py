"""Sketch and flats in the real window: friskets, fills, and the Tidebell scene."""

from __future__ import annotations

import json

import numpy as np
import pytest
from PySide6.QtCore import Qt

from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.document.document import begun, new_document
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.operations import SetMaquette
from japanner.raster.geometry import Rect
from tests.desk import tidebell
from tests.desk.hand import Hand
from tests.desk.steps import covered, lay_flat, pump
from tests.paintings import rgba, same_painting

# --- friskets -----------------------------------------------------------------------------------------


def draw_oval(hand):
    hand.command("Frisket › Oval")
    hand.mouse([(140, 80), (200, 150), (340, 280)])
    return np.pi * 100 * 100


def draw_box(hand):
    hand.command("Frisket › Box")
    hand.mouse([(100, 90), (150, 150), (300, 210)])
    return 200 * 120


def draw_freehand(hand):
    hand.command("Frisket › Outline")
    t = np.linspace(0, 2 * np.pi, 90)
    hand.mouse(np.stack((240 + 90 * np.cos(t), 180 + 90 * np.sin(t)), axis=1).tolist())
    return np.pi * 90 * 90


def draw_straight_sided(hand):
    hand.command("Frisket › Outline")
    for corner in ((100, 100), (300, 100), (300, 250), (100, 250)):
        hand.hover(*corner, shift=True)
        hand.mouse([corner], shift=True)
    hand.key_up(Qt.Key.Key_Shift)
    return 200 * 150


def draw_curve(hand):
    hand.command("Frisket › Curve")
    k = 0.5522847498 * 90
    for x, y, dx, dy in ((330, 180, 0, k), (240, 270, -k, 0), (150, 180, 0, -k), (240, 90, k, 0)):
        hand.mouse([(x, y), (x + dx / 2, y + dy / 2), (x + dx, y + dy)])
    hand.key(Qt.Key.Key_Return)
    return np.pi * 90 * 90


@pytest.mark.parametrize("draw", [draw_oval, draw_box, draw_freehand, draw_straight_sided, draw_curve])
def test_a_flat_by_each_kind_of_frisket(hand, draw):
    window = hand.window
    window.session.hand.set_colour((0.6, 0.4, 0.3))
    area = draw(hand)
    assert covered(window).sum() == pytest.approx(area, rel=0.02)
    assert "frisket on" in window.easel.foot_text()
    hand.command("Stroke › Fill all")
    silhouette = silhouette_sheet(window.session.painting, window.session.part)
    assert np.abs(silhouette.coverage(silhouette.rect) - covered(window)).max() < 1e-4
    hand.key(Qt.Key.Key_J)
    assert window.session.painting.frisket is None
    # Whatever was done by hand is in the records.
    assert same_painting(begun(json.loads(json.dumps(window.session.document.records))), window.session.painting)


def test_a_flat_by_colour_layer_and_silhouette(hand):
    window, session = hand.window, hand.window.session
    session.hand.set_colour((0.6, 0.4, 0.3))
    lay_flat(hand)
    hand.command("Frisket › Colour")
    hand.mouse([(240, 180)])
    by_colour = covered(window)
    hand.command("Frisket › From the layer's paint")
    assert np.abs(covered(window) - by_colour)[120:240, 180:300].max() == 0
    hand.command("Frisket › From the silhouette")
    assert covered(window).sum() == pytest.approx(np.pi * 100 * 100, rel=0.01)
    window.building.add_part("skin")
    session.hand.set_colour((0.2, 0.5, 0.3))
    hand.command("Stroke › Fill all")
    assert rgba(session.layer.pixels, 240, 180) == pytest.approx([0.2, 0.5, 0.3, 1], abs=1e-3)
    assert rgba(session.layer.pixels, 20, 20)[3] == 0


def test_a_frisket_on_the_form(hand):
    session = hand.window.session
    ball = Piece("Ball", size=(0.5, 0.5, 0.5), place=(0, 0, 1.2))
    wall = Piece("Wall", "box", size=(3, 3, 0.2), place=(0, 0, -1))
    session.apply(SetMaquette(Maquette((ball, wall), (240.0, 180.0), 120.0, eye=12.0).to_record()))
    hand.key(Qt.Key.Key_K, Qt.KeyboardModifier.AltModifier)
    task = hand.window.tasks["frisket"]
    assert task.shape == "form"
    assert "click a place on the form" in task.hint
    task._reach.setValue(500)
    hand.mouse([(240, 180)])
    mask = covered(hand.window)
    assert mask[180, 240] == 1
    assert mask[180, 320] == 0
    assert mask.sum() == pytest.approx(np.pi * (0.5 * 120 * 12 / np.sqrt(10.8**2 - 0.25)) ** 2, rel=0.02)


def test_circles_squares_and_from_the_centre(hand):
    hand.command("Frisket › Oval")
    hand.mouse([(240, 180), (260, 190), (300, 200)], shift=True, ctrl=True)
    assert covered(hand.window).sum() == pytest.approx(np.pi * 60 * 60, rel=0.02)
    assert hand.window.session.painting.frisket.sheet.bounds() == Rect(180, 120, 300, 240)
    hand.command("Frisket › Box")
    hand.mouse([(100, 100), (150, 130), (180, 140)], shift=True)
    assert covered(hand.window).sum() == pytest.approx(80 * 80, rel=0.02)


def test_a_freehand_outline_with_straight_pieces(hand):
    hand.command("Frisket › Outline")
    hand.mouse([(100, 100), (101, 150), (100, 200)])  # closes by itself: too thin to count for much
    hand.window.session.document.painting.frisket and hand.command("Frisket › Drop")
    hand.hover(100, 100, shift=True)
    hand.mouse([(100, 100)], shift=True)
    hand.mouse([(300, 100)], shift=True)
    task = hand.window.tasks["frisket"]
    assert len(task._points) == 2
    t = np.linspace(0, np.pi, 40)
    hand.mouse(np.stack((200 + 100 * np.cos(t), 100 + 100 * np.sin(t)), axis=1).tolist())
    assert covered(hand.window).sum() == pytest.approx(np.pi * 100 * 100 / 2, rel=0.03)


def test_a_curve_can_be_changed_after_it_is_closed(hand):
    draw_curve(hand)
    before = covered(hand.window).sum()
    hand.mouse([(330, 180), (360, 180), (400, 180)])
    assert covered(hand.window).sum() > before * 1.1
    hand.window.easel.leave_task()
    hand.command("Frisket › Curve")  # taken up again, its nodes are still there
    hand.mouse([(400, 180), (370, 180), (330, 180)])
    assert covered(hand.window).sum() == pytest.approx(before, rel=0.02)


def test_joining_changing_hiding_and_undoing(hand):
    window, session = hand.window, hand.window.session
    draw_oval(hand)
    task = window.tasks["frisket"]
    task._how.setCurrentText("take away")
    task.take_shape("box")
    hand.mouse([(240, 0), (300, 200), (470, 350)])
    assert covered(window).sum() == pytest.approx(np.pi * 100 * 100 / 2, rel=0.02)
    task._px.setValue(5)
    task._change("grow")
    assert covered(window)[180, 243] == 1
    hand.command("Frisket › Invert")
    assert covered(window)[0, 0] == 1
    hand.command("Frisket › Edge line")
    assert "line hidden" in window.easel.foot_text()
    window.easel.leave_task()
    session.hand.set_colour((1, 1, 1))
    hand.mouse([(180, 180), (190, 180)])
    assert rgba(session.layer.pixels, 185, 180)[3] == 0  # it still limits
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.painting.frisket is not None
    task._how.setCurrentText("in place")


def test_escape_drops_what_was_begun_and_then_leaves(hand):
    hand.command("Frisket › Curve")
    hand.mouse([(100, 100), (120, 100)])
    hand.key(Qt.Key.Key_Escape)
    assert hand.window.easel.task is not None
    hand.key(Qt.Key.Key_Escape)
    assert hand.window.easel.task is None
    assert not hand.window.task_line.isVisible()
    assert hand.window.session.painting.frisket is None


@pytest.mark.parametrize("points", [[(100, 100)], [(100, 100), (100, 101)], [(50, 50), (90, 90), (130, 130)]])
def test_outlines_of_nothing_say_one_sentence(hand, points):
    before = hand.window.session.painting
    hand.command("Frisket › Outline")
    hand.mouse(points)
    assert hand.window.session.painting is before


# --- fills --------------------------------------------------------------------------------------------


def test_a_fill_from_a_point_and_the_silhouette(hand):
    window, session = hand.window, hand.window.session
    session.hand.set_colour((0.6, 0.4, 0.3))
    lay_flat(hand)
    window.building.add_layer("shadow")
    session.hand.set_colour((0.2, 0.2, 0.5))
    hand.command("Stroke › Fill from a point")
    assert window.task_line.isVisible()
    hand.mouse([(240, 180)])
    assert rgba(session.layer.pixels, 240, 180) == pytest.approx([0.2, 0.2, 0.5, 1], abs=1e-3)
    assert rgba(session.layer.pixels, 20, 20) == pytest.approx([1, 1, 1, 1])  # the neutral sheet of Multiply
    hand.key(Qt.Key.Key_P)
    assert window.easel.task is None
    window.building.add_layer("light")
    hand.command("Stroke › Fill the silhouette")
    assert session.layer.pixels.bounds() == Rect(140, 80, 340, 280)


def test_a_gradient_by_a_drag(hand):
    session = hand.window.session
    session.hand.set_colour((0.9, 0.2, 0.1))
    hand.command("Stroke › Gradient")
    task = hand.window.tasks["gradient"]
    task.within.setCurrentText("canvas")
    hand.mouse([(100, 180), (200, 180), (380, 180)])
    cover = session.layer.pixels.read(Rect(0, 180, 480, 181))[3, 0] / 65535
    assert cover[[50, 240, 420]] == pytest.approx([1, 0.5, 0], abs=0.01)


def test_a_fill_without_a_layer_is_said(window):
    window.files.begin(new_document(200, 150, ppi=72.0))
    pump()
    hand = Hand(window)
    for command in ("Stroke › Fill all", "Frisket › From the layer's paint", "Frisket › From the silhouette"):
        hand.command(command)
        assert "add" in window.messages.message.text()
    hand.command("Stroke › Fill from a point")
    hand.mouse([(50, 50)])
    assert "no layer" in window.messages.message.text()


# --- the scene ----------------------------------------------------------------------------------------


def test_seven_clean_flats_of_the_tidebell_scene(window):
    window.files.begin(new_document(tidebell.WIDTH, tidebell.HEIGHT, ppi=300.0))
    pump()
    hand = Hand(window)
    tidebell.paint(hand)
    painting = window.session.painting
    parts = {part.name: part for part in painting.parts}
    assert list(parts)[1:] == list(tidebell.FLATS)
    sheets = {name: silhouette_sheet(painting, parts[name]) for name in tidebell.FLATS}
    area = {name: sheet.coverage(sheet.rect).sum() for name, sheet in sheets.items()}
    assert area["Float"] == pytest.approx(np.pi * 150**2, rel=0.05)
    assert 330_000 < area["Head"] < 420_000  # it did not leak through the open line
    assert area["Nose"] < area["Eyes"] * 2
    for name, sheet in sheets.items():
        found = sheet.coverage(sheet.rect)
        solid, soft = (found > 0.99).sum(), ((found > 0.01) & (found < 0.99)).sum()
        assert soft < 0.08 * solid, name  # closed, with an edge of a pixel or two
        assert parts[name].material == tidebell.FLATS[name][0]
        colour = rgba(parts[name].flats[0].pixels, *inside(found))
        assert colour[:3] / colour[3] == pytest.approx(tidebell.FLATS[name][1], abs=0.01), name
    assert painting.frisket is None


def inside(coverage):
    """A pixel well inside."""
    import cv2

    distance = cv2.distanceTransform((coverage > 0.99).astype(np.uint8), cv2.DIST_L2, 5)
    y, x = np.unravel_index(int(distance.argmax()), distance.shape)
    return int(x), int(y)
