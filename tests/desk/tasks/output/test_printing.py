"""Print in the window: the sheet is seen, told of, and written as a page of its size."""

from __future__ import annotations

import pytest
from pypdf import PdfReader
from PySide6.QtCore import QPointF

from japanner.errors import FileFormatError
from japanner.painting.operations import Fill
from tests.desk.hand import Hand

MM = 72 / 25.4


@pytest.fixture
def task(hand: Hand):
    session = hand.window.session
    session.apply(Fill(session.work.active_layer, (0.9, 0.1, 0.1), "canvas"))
    hand.command("Painting › Print…")
    hand.easel.task.wait()
    return hand.easel.task


def choose(task, box, words):
    box.setCurrentText(words)
    box.textActivated.emit(words)
    task.wait()


def printed(task, path):
    task.send(path)
    task.session.jobs.wait()
    return PdfReader(path)


def test_the_paper_is_seen_instead_of_the_canvas_and_tells_what_is_to_be_known(hand, task):
    assert "ppi on the paper" in task.words.text()
    assert "out of reach of matte paper" in task.words.text()
    middle = hand.easel.rect().center()
    task.proof.setChecked(False)
    task.wait()
    plain = hand.easel.grab().toImage().pixelColor(middle)
    assert plain.red() == pytest.approx(230, abs=2)
    task.marked.setChecked(True)
    task.wait()
    marked = hand.easel.grab().toImage().pixelColor(middle)
    assert marked.blue() > 150, "what is lost is violet"
    task.marked.setChecked(False)
    task.proof.setChecked(True)
    task.wait()
    assert hand.easel.grab().toImage().pixelColor(middle) != plain
    choose(task, task.profile, "sRGB")
    assert hand.easel.grab().toImage().pixelColor(middle) == plain
    hand.easel.leave_task()
    at = hand.easel.view.to_view().map(QPointF(240, 180)).toPoint()
    assert hand.easel.grab().toImage().pixelColor(at).red() == pytest.approx(230, abs=2)


def test_a_page_has_the_papers_size_and_the_picture_its_ppi(task, tmp_path):
    choose(task, task.paper, "A5")
    choose(task, task.way, "across")
    task.width.setValue(100)
    task.wait()
    page = printed(task, tmp_path / "a.pdf").pages[0]
    assert float(page.mediabox.width) == pytest.approx(210 * MM, abs=0.5)
    assert float(page.mediabox.height) == pytest.approx(148 * MM, abs=0.5)
    image = page.images[0].image
    assert image.size == (480, 360), "every px of the canvas is on it"
    assert "122 ppi" in task.words.text(), "480 px on 100 mm"


def test_a_sheet_as_large_as_the_picture_and_its_own_size(hand, task, tmp_path):
    choose(task, task.paper, "as the picture")
    task.margin.setValue(0)
    task.own_size()
    task.wait()
    wide = 480 / hand.window.session.painting.ppi * 25.4
    assert float(printed(task, tmp_path / "a.pdf").pages[0].mediabox.width) == pytest.approx(wide * MM, abs=1.01), (
        "whole points"
    )


def test_what_is_too_large_is_said_and_cannot_be_printed(task):
    choose(task, task.paper, "A6")
    task.width.setValue(300)
    task.wait()
    assert "larger than A6" in task.words.text()
    assert not task.print_button.isEnabled()
    task.fit()
    task.wait()
    assert task.print_button.isEnabled()


def test_a_profile_that_cannot_be_used_is_said(task, heard, monkeypatch):
    told = heard(task.session.told)

    def broken(name):
        raise FileFormatError(f"{name} is damaged, or has no way into sRGB.")

    monkeypatch.setattr("japanner.desk.tasks.output.printing.proof_of", broken)
    choose(task, task.profile, "sRGB")
    assert told[-1] == "sRGB is damaged, or has no way into sRGB."


def test_a_folder_that_is_gone_leaves_nothing(task, tmp_path, heard):
    told = heard(task.session.told)
    task.send(tmp_path / "nowhere" / "a.pdf")
    task.session.jobs.wait()
    assert "not saved" in told[-1] or "nowhere" in told[-1]
    assert not (tmp_path / "nowhere").exists()


def test_choices_are_remembered_and_the_proof_can_be_painted_under(hand, task):
    choose(task, task.paper, "A3")
    choose(task, task.profile, "matte paper")
    hand.easel.leave_task()
    hand.command("Painting › Print…")
    assert hand.easel.task.paper.currentText() == "A3"
    hand.easel.leave_task()
    at = hand.easel.view.to_view().map(QPointF(240, 180)).toPoint()
    plain = hand.easel.grab().toImage().pixelColor(at)
    hand.command("Look › Proof of a print")
    assert hand.easel.grab().toImage().pixelColor(at) != plain
    hand.command("Look › What a print loses")
    assert hand.easel.grab().toImage().pixelColor(at).blue() > 150
    hand.command("Look › What a print loses")
    assert hand.easel.grab().toImage().pixelColor(at) == plain
