"""Compare in the window: the wipe line is dragged, strength and difference are seen, pictures lie by landmarks."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPointF

from japanner.files import png
from japanner.painting.operations import Fill, PinPicture
from japanner.raster.codec import to_text_of
from tests.desk.hand import Hand


def choose(task, box, words):
    box.setCurrentText(words)
    box.textActivated.emit(words)
    task.wait()


@pytest.fixture
def task(hand: Hand):
    """Dark before, light now."""
    session = hand.window.session
    session.apply(Fill(session.work.active_layer, (0.2, 0.2, 0.2), "canvas"))
    hand.command("Look › Keep this moment")
    session.apply(Fill(session.work.active_layer, (0.8, 0.8, 0.8), "canvas"))
    hand.command("Review › Compare")
    task = hand.easel.task
    choose(task, task.what, session.comparing.moments.name_of(0))
    return task


def seen(hand, x, y):
    at = hand.easel.view.to_view().map(QPointF(x, y)).toPoint()
    return hand.easel.grab().toImage().pixelColor(at).green()


def test_the_wipe_line_is_dragged(hand, task):
    assert seen(hand, 100, 180) == pytest.approx(51, abs=3)
    assert seen(hand, 380, 180) == pytest.approx(204, abs=3)
    hand.mouse([(240, 180), (440, 180)])
    assert task.wipe.at == pytest.approx(440 / 480, abs=0.01)
    assert seen(hand, 380, 180) == pytest.approx(51, abs=3)
    hand.mouse([(440, 180), (60, 180)])
    assert seen(hand, 100, 180) == pytest.approx(204, abs=3)


def test_through_each_other_and_as_a_difference(hand, task):
    choose(task, task.how, "through each other")
    assert seen(hand, 380, 180) == pytest.approx((51 + 204) / 2, abs=4)
    task.strength.setValue(100)
    assert seen(hand, 380, 180) == pytest.approx(51, abs=3)
    choose(task, task.how, "difference of values")
    assert seen(hand, 100, 180) > 240, "now is much lighter"


def test_side_by_side_and_by_a_blink(hand, task):
    choose(task, task.how, "side by side")
    middle = hand.easel.height() // 2
    image = hand.easel.grab().toImage()
    lefts = [image.pixelColor(hand.easel.width() * k // 4, middle).green() for k in (1, 3)]
    assert lefts == pytest.approx([51, 204], abs=3), "the other at the left, the painting at the right"
    before = image
    hand.window.easel.view.zoom *= 2
    hand.easel.update()
    assert hand.easel.grab().toImage() != before, "both follow the view"
    choose(task, task.how, "blink")
    assert seen(hand, 380, 180) == pytest.approx(51, abs=3)
    task._turn()
    assert seen(hand, 380, 180) == pytest.approx(204, abs=3)
    assert task._blink.isActive()
    hand.easel.leave_task()
    assert not task._blink.isActive()


def test_a_pinned_picture_and_a_look_on_both(hand, task):
    session = hand.window.session
    codes = np.zeros((4, 40, 60), np.uint8)
    codes[[0, 3]] = 255
    session.apply(PinPicture("Rust", to_text_of(png.encode(codes))))
    hand.command("Review › Compare")
    hand.command("Review › Compare")
    choose(task, task.what, "picture: Rust")
    assert seen(hand, 100, 180) < 20
    session.looking.set_look("values")
    task.wait()
    assert seen(hand, 100, 180) == pytest.approx(127, abs=4), "red is of a middle value"
    session.looking.set_look("colour")


def test_what_is_not_kept_any_more_says_so(hand, task, heard):
    told = heard(task.session.told)
    task.session.comparing.moments.forget()
    task._ask()
    assert "not kept" in told[-1]
    choose(task, task.what, "the last save")
    assert task.image is not None
