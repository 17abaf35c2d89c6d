"""Output in the window: a frame is dragged, presets are taken and kept, several are written at once."""

from __future__ import annotations

import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QInputDialog

from japanner.painting.operations import Fill
from tests.desk.hand import Hand


@pytest.fixture
def task(hand: Hand):
    session = hand.window.session
    session.apply(Fill(session.work.active_layer, (0.6, 0.5, 0.4), "canvas"))
    hand.command("Painting › Output…")
    return hand.easel.task


def choose(box, words):
    box.setCurrentText(words)
    box.textActivated.emit(words)


def size_of(path):
    with Image.open(path) as image:
        return image.size


def test_the_frame_is_dragged_and_what_it_holds_is_written(hand, task, tmp_path):
    hand.mouse([(0, 180), (60, 180), (120, 180)])
    assert task.handles.frame.x0 == pytest.approx(120, abs=2)
    assert "360 × 360 px" in task.words.text()
    task.long.setValue(100)
    assert "100 × 100 px" in task.words.text()
    task.write([(task.output, tmp_path / "a.png")])
    task.session.jobs.wait()
    assert size_of(tmp_path / "a.png") == (100, 100)
    task.whole()
    assert task.output.crop == ()


def test_a_shape_is_kept_while_a_corner_is_dragged(hand, task):
    choose(task.shape, "4 : 5")
    frame = task.handles.frame
    assert frame.width / frame.height == pytest.approx(0.8, abs=0.01)
    hand.mouse([(frame.x1, frame.y1), (frame.x1 - 40, frame.y1 - 60), (frame.x1 - 90, frame.y1 - 100)])
    frame = task.handles.frame
    assert frame.width / frame.height == pytest.approx(0.8, abs=0.02)
    assert frame.height < 300


def test_enter_asks_where_to_write_it(hand, task, tmp_path, monkeypatch):
    path = tmp_path / "b.png"
    monkeypatch.setattr("japanner.desk.tasks.output.export.ask_where_to", lambda *_: path)
    hand.easel.setFocus()
    QTest.keyClick(hand.easel, Qt.Key.Key_Return)
    task.session.jobs.wait()
    assert size_of(path) == (480, 360)


def test_presets_are_taken_kept_and_forgotten(hand, task, monkeypatch, heard):
    told = heard(task.session.told)
    choose(task.preset, "share")
    assert (task.kind.currentText(), task.long.value()) == ("JPEG", 2000)
    task.long.setValue(333)
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("my feed", True))
    task.keep()
    assert task.preset.currentText() == "my feed"
    hand.easel.leave_task()
    hand.window.tasks._made.clear()
    hand.command("Painting › Output…")
    again = hand.easel.task
    choose(again.preset, "my feed")
    assert again.long.value() == 333
    again.forget()
    assert again.preset.findText("my feed") < 0
    again.forget()
    assert "your own" in told[-1]
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("share", True))
    again.keep()
    assert "comes with the program" in told[-1]


def test_several_are_written_at_once(task, tmp_path, monkeypatch, heard):
    told = heard(task.session.told)
    task.ask_folder()
    assert "Choose presets" in told[-1]
    for name in ("share", "values", "parts"):
        task._checks[name].setChecked(True)
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_, **__: str(tmp_path))
    task.ask_folder()
    task.session.jobs.wait()
    title = task.session.painting.title
    part = task.session.part.name
    wanted = [f"{title} parts 01 {part}.png", f"{title} share.jpg", f"{title} values.png"]
    assert sorted(one.name for one in tmp_path.glob(f"{title} *")) == wanted
    assert "Wrote 3 files" in told[-1]


def test_a_full_disk_is_said_and_leaves_nothing(task, tmp_path, heard, monkeypatch):
    told = heard(task.session.told)
    target = tmp_path / "gone" / "a.png"
    task.write([(task.output, target)])
    task.session.jobs.wait()
    assert told[-1]
    assert not target.parent.exists()
