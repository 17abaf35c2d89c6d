"""What the painter has a say in where makers decide: chance, amount, and when layers are made anew."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from japanner.desk.easel.task import Press
from japanner.painting.operations import DropFrisket, Fill, Make, SetFrisket, SetLayer, SetLight, SetPart


def laid_disc(session, material="cloth"):
    """The part worked on, of a material, with an oval flat."""
    session.apply(SetPart(session.part.uid, {"material": material}))
    session.apply(SetFrisket({"shape": "oval", "x0": 140, "y0": 80, "x1": 340, "y1": 280}))
    session.apply(Fill(session.work.active_layer, (0.55, 0.45, 0.4)))
    session.apply(DropFrisket())


def test_six_pieces_of_chance_are_shown_and_one_is_taken(hand, qtbot):
    window, session = hand.window, hand.window.session
    laid_disc(session)
    window.tasks.make("cloth")
    task = window.easel.task
    task.seed.setValue(4)
    button = next(one for one in task.options.findChildren(QPushButton) if one.text().startswith("six"))
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    varied = task.varied
    assert varied.isVisible()
    varied.settle()
    pictures = [one.icon().pixmap(one.iconSize()).toImage() for one in varied.buttons]
    assert len(pictures) == 6
    assert all(pictures[0] != one for one in pictures[1:])
    QTest.mouseClick(varied.buttons[3], Qt.MouseButton.LeftButton)
    assert task.seed.value() == 7
    # Less of everything at once, and again when it is made anew.
    task.amount.setValue(50)
    task.wait()
    hand.key(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.easel.task is not task, timeout=20000)
    made = [one for one in session.part.layers if one.made]
    strengths = {one.name: one.strength for one in made}
    assert strengths["Cloth"] == pytest.approx(0.5)
    session.apply(SetLayer(made[0].uid, {"strength": 0.4}))
    window.tasks.make("cloth")
    again = window.easel.task
    assert again.amount.value() == 50
    again.amount.setValue(25)
    again.done()
    qtbot.waitUntil(lambda: window.easel.task is not again, timeout=20000)
    assert session.painting.layer(made[0].uid).strength == pytest.approx(0.2)


def test_what_is_out_of_date_is_marked_and_made_anew_by_a_key(hand, qtbot, heard):
    window, session = hand.window, hand.window.session
    told = heard(session.told)
    ground = session.painting.parts[0].layers[0] if session.painting.parts[0].layers else None
    laid_disc(session, "glass")
    session.apply(Make(session.part.uid, "glass", {"caustic": 0.0}, seed=1))
    session.out_of_date.settle()
    assert not session.out_of_date.runs
    hand.key(Qt.Key.Key_F5)
    assert any("out of date" in text for text in told)
    light = session.painting.light
    session.apply(SetLight(light.up_deg - 25, light.right_deg))
    session.out_of_date.settle()
    assert len(session.out_of_date.runs) == 1
    tile = next(one for one in window.build._shown if "Seen through" in one.accessibleName())
    assert "F5" in tile.toolTip()
    before = {one.name: one.pixels for one in session.part.layers}
    hand.key(Qt.Key.Key_F5)
    session.jobs.wait()
    after = {one.name: one.pixels for one in session.part.layers}
    assert after["Highlights"] is not before["Highlights"]
    session.out_of_date.settle()
    assert not session.out_of_date.runs
    assert "F5" not in tile.toolTip()
    session.apply(SetLight(light.up_deg, light.right_deg))
    hand.key(Qt.Key.Key_F5, Qt.KeyboardModifier.ShiftModifier)
    session.jobs.wait()
    session.out_of_date.settle()
    assert not session.out_of_date.runs
    assert ground is None or session.painting.parts[0].layers[0].uid == ground.uid


def test_single_locks_are_taken_bent_cut_and_taken_away(hand, qtbot, heard):
    window, session = hand.window, hand.window.session
    told = heard(session.told)
    laid_disc(session, "hair")
    task = window.tasks.take_up("locks")
    assert any("Fill the part with locks" in text for text in told)
    settings = {"length": 90.0, "wide": 18.0, "levels": 2.0, "thick": 1.4, "mm_px": 1.0, "hairline": 0.0, "strays": 0.0}
    session.apply(Make(session.part.uid, "fill with locks", settings, seed=2))
    run = session.part.layers[-1].made.run
    window.easel.leave_task()
    hand.command("Part › Locks")
    task = window.easel.task
    task.wait()
    assert len(task.lines) > 20
    name, (line, _) = max(task.lines.items(), key=lambda one: one[0][0])
    tip, root = line[-6], line[0]
    hand.hover(*tip)
    hand.mouse([tuple(tip), (tip[0] + 25, tip[1] - 10)])
    assert task.edits[-1].what == "bent"
    bent = task.edits[-1].level, task.edits[-1].lock
    before, after = line if bent == name else None, task.lines[bent][0]
    assert before is None or np.linalg.norm(after - before, axis=1).max() > 8
    count = len(task.lines)
    task.chosen = name
    hand.key(Qt.Key.Key_Delete)
    assert len(task.lines) == count - 1
    hand.key(Qt.Key.Key_Backspace)
    task.wait()
    assert len(task.lines) == count
    hand.mouse([tuple(root), (root[0] + 30, root[1])])
    task.double(Press(QPointF(*map(float, task.lines[name][0][12])), 1.0))
    assert task.edits[-1].what == "cut"
    pixels = {one.name: one.pixels for one in session.part.layers}
    hand.key(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.easel.task is not task, timeout=20000)
    made = [one for one in session.part.layers if one.made]
    assert {one.made.run for one in made} == {run}
    assert len(made[0].made.settings["edits"]) == len(task.edits)
    assert any(one.pixels is not pixels[one.name] for one in made)
    # They are still there when it is taken up again.
    window.tasks.take_up("locks")
    assert len(window.easel.task.edits) == len(task.edits)


def test_finish_comes_over_all_with_a_wipe_line(hand):
    """Pressed twice: the second time it goes on from what it made."""
    session = hand.window.session
    session.apply(Fill(session.work.active_layer, (0.6, 0.5, 0.45), "canvas"))
    hand.command("Review › Finish")
    task = hand.easel.task
    task.widgets["contrast"].setValue(60)
    task.wait()
    task.before.click()
    task.wait()
    assert task.wipe.image is not None
    image = hand.easel.grab().toImage()
    at = [hand.easel.view.to_view().map(QPointF(x, 180)).toPoint() for x in (100, 400)]
    left, right = (image.pixelColor(one) for one in at)
    assert left.green() == pytest.approx(127, abs=2), "left of the line it is as it was"
    assert right.green() != left.green()
    hand.mouse([(240, 180), (440, 180)])
    assert task.wipe.at == pytest.approx(440 / 480, abs=0.01)
    assert hand.easel.grab().toImage().pixelColor(at[1]) == left
    task.done()
    session.jobs.wait()
    assert session.painting.parts[-1].name == "Finish"
    assert hand.easel.task is None
    hand.command("Review › Finish")
    assert hand.easel.task.values["contrast"] == 60
    assert hand.easel.task.renew.isChecked()
    hand.easel.task.before.click()
    hand.easel.task.wait()
    assert hand.easel.grab().toImage().pixelColor(at[0]) == left, "how it was without it"
