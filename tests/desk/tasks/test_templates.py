"""Templates in the window: a part is kept, seen on the easel of another painting, dragged, and dropped."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPointF
from PySide6.QtWidgets import QInputDialog

from japanner.painting.document.document import new_document
from japanner.painting.operations import DropFrisket, Fill, SetFrisket
from tests.desk.hand import Hand


@pytest.fixture
def kept(hand: Hand, monkeypatch):
    """A red box kept as a template, and an empty painting on the bench."""
    session = hand.window.session
    session.apply(SetFrisket({"shape": "box", "x0": 200, "y0": 140, "x1": 280, "y1": 220}))
    session.apply(Fill(session.work.active_layer, (0.8, 0.1, 0.1)))
    session.apply(DropFrisket())
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("Red box", True))
    hand.command("Part › Templates")
    hand.easel.task.keep()
    hand.easel.leave_task()
    session.open_document(new_document(480, 360))
    hand.command("Part › Templates")
    return hand.easel.task


def seen(hand, x, y):
    at = hand.easel.view.to_view().map(QPointF(x, y)).toPoint()
    return hand.easel.grab().toImage().pixelColor(at)


def test_it_is_seen_dragged_sized_and_dropped(hand, kept):
    session = hand.window.session
    assert kept.which.currentText() == "Red box"
    kept._take()
    assert seen(hand, 240, 180).red() > 180
    assert not session.painting.parts, "it is only tried"
    hand.mouse([(240, 180), (300, 200), (340, 230)])
    assert seen(hand, 340, 230).red() > 180
    assert seen(hand, 205, 145).red() < 120
    kept.size.setValue(50)
    assert seen(hand, 375, 230).red() < 120
    kept.done()
    session.jobs.wait()
    (part,) = session.painting.parts
    bounds = part.flats[0].pixels.bounds()
    assert (bounds.width, bounds.height) == pytest.approx((40, 40), abs=2)
    assert session.part is part
    assert hand.easel.task is None
    session.undo()
    assert not session.painting.parts


def test_drop_shows_it_first_and_forgetting_takes_it_away(hand, kept, heard):
    told = heard(hand.window.session.told)
    kept.done()
    assert "Drag it" in told[-1]
    assert hand.easel.task is kept
    kept.forget()
    assert kept.which.currentText() == "none kept yet"
    kept.done()
    assert "No template" in told[-1]
    kept.forget()
    assert "No template" in told[-1]


def test_parts_are_switched_on_and_none_is_told(hand, kept, heard):
    told = heard(hand.window.session.told)
    hand.window.building.add_part("fur")
    hand.window.building.add_part("eye")
    assert len(kept._parts) == 2
    for box in kept._parts.values():
        box.setChecked(False)
    kept.keep()
    assert "Choose a part" in told[-1]
