"""Proportion in the window: arrows and words, move to fit shown first and then made, landmarks moving along."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPointF, Qt

from japanner.painting.operations import Fill, SetLandmarks
from japanner.review.proportion import proportion
from tests.desk.hand import Hand

FACE = {"crown": (240.0, 40.0), "chin": (240.0, 320.0), "left outer eye corner": (300.0, 170.0),
        "right outer eye corner": (180.0, 170.0),
        "nose tip": (240.0, 235.0), "left jaw angle": (320.0, 270.0)}  # fmt: skip


@pytest.fixture
def task(hand: Hand):
    session = hand.window.session
    session.apply(Fill(session.work.active_layer, (0.5, 0.4, 0.3), "canvas"))
    hand.pen([(322, 296, 1), (324, 298, 1)])
    session.apply(SetLandmarks("photo", tuple((name, x, y) for name, (x, y) in FACE.items())))
    painted = {**FACE, "left jaw angle": (322.0, 296.0)}
    session.apply(SetLandmarks("", tuple((name, x, y) for name, (x, y) in painted.items())))
    hand.command("Review › Proportion")
    return hand.easel.task


def own(task):
    return task.session.painting.landmarks_on().as_places()


def test_arrows_and_words_say_what_is_off(hand, task):
    assert task.against.currentText() == "photo"
    assert "left jaw angle" in task.words.text()
    assert "too low" in task.words.text()
    seen = hand.easel.grab().toImage()
    path = [hand.easel.view.to_view().map(QPointF(322, 296 - 2 * k)).toPoint() for k in range(12)]
    colours = [seen.pixelColor(at.x() + off, at.y()) for at in path for off in range(-4, 5)]
    assert any(one.red() > one.blue() + 90 for one in colours), "an arrow leads up from there"


def test_move_to_fit_is_seen_first_and_then_made(hand, task):
    session, before = task.session, task.session.painting
    was = task.compared.rms
    hand.click(task.shown)
    assert task.shown.isChecked()
    assert session.painting is before, "it is only seen"
    hand.key(Qt.Key.Key_Return)
    session.jobs.wait()
    assert session.painting is not before
    assert session.document.undo_words == "landmarks"
    assert own(task)["left jaw angle"][1] < 290
    assert proportion(FACE, own(task)).rms < 0.5 * was
    assert f"{task.compared.rms:.1f} %" in task.words.text()


def test_strength_nothing_moves_nothing(task, heard):
    told = heard(task.session.told)
    task.strength.setValue(0)
    task.done()
    assert "nothing to move" in told[-1]


def test_too_few_landmarks_and_none_say_so(hand, task):
    task.session.apply(SetLandmarks("", (("crown", 240.0, 40.0), ("chin", 240.0, 320.0))))
    assert "3 landmarks" in task.words.text()
    line = tuple((name, 240.0, 40.0 + 40 * k) for k, name in enumerate(FACE))
    task.session.apply(SetLandmarks("", line))
    assert "in a line" in task.words.text()
    task.session.apply(SetLandmarks("photo"))
    hand.easel.leave_task()
    hand.command("Review › Proportion")
    assert "No pinned picture" in hand.easel.task.words.text()
    hand.command("Review › Proportion")


def test_it_leads_to_the_landmarks(hand, task):
    task.landmarks_wanted.emit()
    assert hand.easel.task.title == "LANDMARKS"
