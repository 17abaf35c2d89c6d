"""The critique in the window: its checks are pressed, their maps seen, their tools taken up, reports written."""

from __future__ import annotations

import json

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from japanner.painting.operations import AddLayer, Fill, SetPart
from japanner.review.checks import CHECKS
from japanner.stroke.brush.shipped import shipped_brushes
from tests.desk.hand import Hand


@pytest.fixture
def critique(hand: Hand):
    """On a fur part that is only its flat, in pure white."""
    session = hand.window.session
    hand.window.building.add_part("fur")
    session.apply(Fill(session.work.active_layer, (1.0, 1.0, 1.0), "canvas"))
    hand.command("Review › Critique")
    task = hand.easel.task
    task.wait()
    yield task
    task.when.setCurrentText("never")  # it listens as long as the session lives


def chip(task, name):
    return next(one for one in task.chips if name in one.text())


def test_checks_are_pressed_and_say_what_they_are_about(hand, critique):
    assert chip(critique, "clipping").text().startswith("!")
    assert "to look at" in critique.state.text()
    before = hand.easel.grab().toImage()
    QTest.mouseClick(chip(critique, "clipping"), Qt.MouseButton.LeftButton)
    assert critique.chosen.check == "clipping"
    shown = " ".join(label.text() for label in critique.row.findChildren(type(critique.state)) if label.isVisible())
    assert "problem: 100 %" in shown
    at = hand.easel.view.to_view().map(QPointF(240, 300)).toPoint()
    after = hand.easel.grab().toImage()
    assert before.pixelColor(at).green() > 240
    assert after.pixelColor(at).red() > after.pixelColor(at).green() + 60, "the map lies over it"
    # Pressed again, the picture is seen as it is.
    QTest.mouseClick(chip(critique, "clipping"), Qt.MouseButton.LeftButton)
    assert critique.chosen is None
    assert hand.easel.grab().toImage().pixelColor(at).green() > 240


def test_what_it_advises_is_taken_up(hand, critique):
    QTest.mouseClick(chip(critique, "clipping"), Qt.MouseButton.LeftButton)
    assert critique.try_button.text() == "try: Soft round"
    QTest.mouseClick(critique.try_button, Qt.MouseButton.LeftButton)
    assert hand.window.session.hand.brush.name == "Soft round"
    assert hand.easel.task is None
    hand.command("Review › Critique")
    critique.wait()
    critique.choose(next(one for one in critique.found if one.check == "flats"))
    QTest.mouseClick(critique.try_button, Qt.MouseButton.LeftButton)
    assert hand.window.session.document.undo_words == "fill silhouette"


def test_no_list_opens_by_itself(critique):
    assert QApplication.activePopupWidget() is None


def test_every_tool_that_is_advised_is_there(hand):
    brushes = {one.name for one in shipped_brushes()}
    missing = [one.tool for one in CHECKS.values() if one.tool not in brushes | hand.window.menus.commands.keys()]
    assert not missing


def test_it_looks_again_when_asked_and_by_itself(hand, critique, qtbot):
    session = hand.window.session
    session.apply(Fill(session.work.active_layer, (0.4, 0.35, 0.3), "canvas"))
    assert "changed since" in critique.state.text()
    again = next(one for one in critique.row.findChildren(QPushButton) if one.text() == "again")
    hand.click(again)
    critique.wait()
    assert not any("clipping" in one.text() and "!" in one.text() for one in critique.chips)
    critique.when.setCurrentText("whenever the hand rests")
    session.apply(Fill(session.work.active_layer, (1.0, 1.0, 1.0), "canvas"))
    qtbot.waitUntil(lambda: any("clipping" in one.text() and "!" in one.text() for one in critique.chips), timeout=9000)


@pytest.mark.parametrize("ending", [".html", ".json"])
def test_reports_are_written(critique, tmp_path, ending, monkeypatch, heard):
    told = heard(critique.session.told)
    path = tmp_path / f"report{ending}"
    monkeypatch.setattr("japanner.desk.tasks.review.critique.ask_where_to", lambda *_: path)
    QTest.mouseClick(critique.report_button, Qt.MouseButton.LeftButton)
    assert "is written" in told[-1]
    text = path.read_text()
    assert "clipping" in text
    if ending == ".json":
        assert json.loads(text)["findings"]
    path = tmp_path / "nowhere.html"
    monkeypatch.setattr("japanner.desk.tasks.review.critique.write_text", lambda *_: (_ for _ in ()).throw(_full()))
    critique.write(path)
    assert "was not saved" in told[-1]


def _full():
    from japanner.errors import SaveError

    return SaveError("nowhere.html was not saved: no space left on device.")


def test_names_are_words_and_no_markup(hand, critique):
    session = critique.session
    session.apply(SetPart(session.work.active_part, {"name": "<h1>Otter</h1>"}))
    session.apply(Fill(session.work.active_layer, (0.5, 0.4, 0.3), "canvas"))
    critique.look()
    critique.wait()
    critique.choose(next(one for one in critique.found if one.check == "unfinished flats"))
    assert any("&lt;h1&gt;Otter" in label.text() for label in critique.row.findChildren(type(critique.state)))


def test_it_looks_again_after_a_stage_while_something_else_is_done(hand, critique, heard):
    session = hand.window.session
    told = heard(session.told)
    critique.when.setCurrentText("after a stage")
    hand.easel.leave_task()
    part = session.part.uid
    session.apply(AddLayer(part, "shadow"))
    shadow = session.painting.part(part).layers[-1].uid
    session.apply(Fill(session.work.active_layer, (0.4, 0.3, 0.2), "canvas"))
    session.work.work_on_layer(shadow)
    critique.wait()
    assert told[-1].startswith("Critique after flat: ")
    count = len(told)
    session.work.work_on_layer(shadow)
    critique.wait()
    assert len(told) == count, "nothing has changed since"
