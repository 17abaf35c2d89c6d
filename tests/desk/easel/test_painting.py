"""Painting in the real window, offscreen: pen, mouse, layers, values."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt

from japanner.color import lab
from tests.desk import ball
from tests.desk.hand import RIGHT
from tests.paintings import rgba


def test_a_stroke_of_the_pen_is_one_operation_with_its_pressure(hand):
    session = hand.window.session
    ball.take(hand.window, "Round")
    before, count = session.painting, len(session.document.records)
    hand.pen([(100, 100, 0.2), (200, 120, 0.9), (300, 100, 0.4)])
    assert len(session.document.records) == count + 1
    record = session.document.records[-1]
    assert [sample[2] for sample in record["samples"]] == [0.2, 0.9, 0.4, 0.4][: len(record["samples"])]
    assert record["samples"][0][3:5] == [10.0, -5.0]
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.painting is before
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert session.painting is not before


def test_the_mouse_paints_through_the_practice_pen(hand):
    session = hand.window.session
    ball.take(hand.window, "Round")
    session.hand.set_brush(drives=())
    session.hand.set_colour((0.9, 0.2, 0.1))
    hand.mouse([(100, 100), (200, 100)])
    assert rgba(session.layer.pixels, 150, 100) == pytest.approx([0.9, 0.2, 0.1, 1], abs=1e-3)
    record = session.document.records[-1]
    assert {sample[2] for sample in record["samples"]} == {session.hand.practice_pen.pressure}


def test_a_turned_and_mirrored_easel_paints_where_the_pen_is(hand):
    window = hand.window
    ball.take(window, "Round")
    window.session.hand.set_brush(size_px=12)
    window.easel.mirror()
    window.easel.view.turn_about_middle(33)
    window.easel.view.zoom_at(QPointF(100, 100), 1.7)
    hand.pen([(111, 222)])
    bounds = window.session.layer.pixels.bounds()
    assert ((bounds.x0 + bounds.x1) / 2, (bounds.y0 + bounds.y1) / 2) == pytest.approx((111, 222), abs=0.6)


def test_the_picture_shows_the_stroke_while_it_is_drawn(hand):
    window = hand.window
    ball.take(window, "Round")
    window.session.hand.set_colour((1, 1, 1))
    assert window.session.begin_stroke([(100, 100, 1.0)])
    window.session.strokes.go_on([(150, 100, 1.0), (200, 100, 1.0)])
    assert window.session.picture.value_at(120, 100) == pytest.approx((1, 1, 1), abs=0.01)
    assert not window.session.layer.pixels.tiles  # not yet part of the painting
    window.session.strokes.cancel()
    assert window.session.picture.value_at(120, 100) == pytest.approx(window.session.painting.ground, abs=0.01)
    assert not window.session.strokes.under_way


def test_what_is_on_the_easel_is_the_picture(hand):
    """A grab of the window at one to one has the pixels of the picture."""
    window = hand.window
    ball.take(window, "Round")
    window.session.hand.set_colour((0.2, 0.7, 0.4))
    hand.pen([(240, 180), (260, 180)])
    window.easel.zoom_to(1.0)
    hand.hover(5, 5)
    image = window.easel.grab().toImage()
    at = hand.view(250, 180).toPoint()
    assert image.pixelColor(at).getRgbF()[:3] == pytest.approx((0.2, 0.7, 0.4), abs=0.01)


@pytest.mark.parametrize(
    ("prepare", "words"),
    [
        (lambda session: session.undo() or session.undo(), "There is no layer to paint on yet"),
        (lambda session: session.apply(_hide(session)), "is hidden; show it to paint on it"),
        (lambda session: session.hand.take_brush(5), "is empty: dodge changes paint that is there"),
    ],
)
def test_what_cannot_be_painted_on_is_said(hand, prepare, words):
    window = hand.window
    prepare(window.session)
    records = len(window.session.document.records)
    hand.pen([(100, 100), (150, 150)])
    assert words in window.messages.message.text()
    assert window.messages.message.isVisible()
    assert len(window.session.document.records) == records


def _hide(session):
    from japanner.painting.operations import SetLayer

    return SetLayer(session.work.active_layer, {"shown": False})


def test_wild_pen_samples_do_no_harm(hand):
    session = hand.window.session
    ball.take(hand.window, "Round")
    assert session.begin_stroke([(100, 100, 1.0)])
    session.strokes.go_on([(float("nan"), 0, 1), (1e300, 1e300, 1), (-1e9, 50, 7), (120, 100, 0.5)])
    session.strokes.end()
    assert all(np.isfinite(sample).all() for sample in session.document.records[-1]["samples"])


def test_dodge_burn_smudge_and_wipe_change_what_is_there(hand):
    window, session = hand.window, hand.window.session
    ball.take(window, "Round")
    session.hand.set_brush(size_px=200, drives=())
    set_to = 50
    ball.set_value(window, set_to)
    hand.pen([(240, 180)])

    def value():
        r, g, b, a = rgba(session.layer.pixels, 240, 180)
        return float(lab.lightness_from_srgb((r / a, g / a, b / a)))

    start = value()
    assert start == pytest.approx(set_to, abs=0.6)
    ball.take(window, "Dodge")
    hand.pen([(230, 180), (250, 180)])
    lighter = value()
    assert lighter > start + 3
    ball.take(window, "Burn")
    hand.pen([(230, 180), (250, 180)])
    hand.pen([(230, 180), (250, 180)])
    assert value() < lighter - 6
    ball.take(window, "Wipe")
    hand.pen([(240, 180, 1.0)])
    assert rgba(session.layer.pixels, 240, 180)[3] < 0.05


def test_picking_up_with_the_right_button_and_the_barrel_button(hand):
    session = hand.window.session
    ball.take(hand.window, "Round")
    session.hand.set_colour((0.8, 0.3, 0.1))
    hand.pen([(240, 180), (250, 180)])
    for pick in (lambda: hand.mouse([(245, 180)], RIGHT), lambda: hand.pen([(245, 180)], RIGHT)):
        session.hand.set_colour((0, 0, 0))
        count = len(session.document.records)
        pick()
        assert session.hand.colour == pytest.approx((0.8, 0.3, 0.1), abs=0.01)
        assert len(session.document.records) == count
