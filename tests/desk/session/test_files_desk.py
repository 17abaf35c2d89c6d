"""Opening, saving, exporting, recovering and leaving, in the real window."""

from __future__ import annotations

import errno
import os
import threading
import time
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QFileDialog, QLabel, QMessageBox, QPushButton, QScrollArea

from japanner.desk.settings import recall, recent_files, remember
from japanner.desk.widgets.picture_dialog import PictureDialog
from japanner.desk.window.start_view import USES, _Use
from japanner.files import png
from japanner.files.opening import open_painting
from japanner.files.recovery import recovered
from japanner.files.writing import PART
from japanner.painting.document.document import begun, new_document
from japanner.painting.document.journal import Journal, journals_folder
from japanner.painting.document.leftovers import leftovers
from japanner.painting.operations import AddPart
from tests.desk import ball
from tests.desk.hand import Hand
from tests.paintings import same_painting


def answers(monkeypatch, path):
    name = str(path) if path else ""
    monkeypatch.setattr(PictureDialog, "asked", lambda *_: name)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (name, ""))


def presses(monkeypatch, text, asked=None):
    """The painter presses the button with this text; `asked` collects what the boxes say."""

    def run(box):
        if asked is not None:
            asked.append(box.text())
        button = next(one for one in box.buttons() if one.text() == text)
        box.setProperty("pressed", text)
        monkeypatch.setattr(QMessageBox, "clickedButton", lambda _: button)
        return 0

    monkeypatch.setattr(QMessageBox, "exec", run)


def settle(window, qtbot):
    qtbot.waitUntil(lambda: not window.files.busy, timeout=20_000)
    QApplication.processEvents()


@pytest.fixture
def painted(hand):
    ball.take(hand.window, "Round")
    hand.pen([(100, 100), (300, 200)])
    return hand.window


def test_saving_opening_and_going_on(painted, hand, qtbot, tmp_path, monkeypatch):
    session, path = painted.session, tmp_path / "Otter.ora"
    assert session.unsaved
    answers(monkeypatch, tmp_path / "Otter")
    hand.key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    settle(painted, qtbot)
    assert path.is_file()  # the ending was added
    assert not session.unsaved
    assert session.painting.title == "Otter"
    assert "Otter — saved 0 s ago" in painted.name_corner.text()
    saved = session.painting
    hand.pen([(50, 50), (60, 60)])
    assert session.unsaved
    assert "changed since" in painted.name_corner.text()
    hand.key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)  # no question: the place is known
    settle(painted, qtbot)
    assert not same_painting(open_painting(path).painting, saved)
    painted.files.new(100, 100, 72.0)
    painted.files.open(path)
    settle(painted, qtbot)
    assert len(session.painting.parts) == 1
    assert path in recent_files()
    count = len(session.document.records)
    session.work.work_on_layer(2)
    hand.pen([(60, 60), (80, 90)])
    assert len(session.document.records) == count + 1


@pytest.mark.parametrize(("label", "bits"), [("8-bit PNG…", 8), ("16-bit PNG…", 16)])
def test_exporting(painted, qtbot, tmp_path, monkeypatch, label, bits):
    answers(monkeypatch, tmp_path / "a.png")
    painted.menus.actions[f"Painting › Export › {label}"].trigger()
    settle(painted, qtbot)
    data = (tmp_path / "a.png").read_bytes()
    assert data[24] == bits
    assert png.read(data, "a.png").ppi == pytest.approx(144, abs=0.02)
    assert "Exported a.png." in painted.messages.message.text()
    assert painted.session.unsaved


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.ora", b"", "a.ora is empty."),
        ("a.ora", b"PK\3\4 and so on", "a.ora is damaged or cut off"),
        ("a.png", b"hello", "a.png is of none of the kinds that can be opened: OpenRaster painting, PNG picture, "),
        ("gone.ora", None, "gone.ora cannot be read: no such file or directory."),
    ],
)
def test_a_file_that_cannot_be_opened_leaves_the_painting(painted, qtbot, tmp_path, monkeypatch, name, data, words):
    presses(monkeypatch, "Discard")
    if data is not None:
        (tmp_path / name).write_bytes(data)
    before = painted.session.painting
    painted.files.open(tmp_path / name)
    settle(painted, qtbot)
    assert words in painted.messages.message.text()
    assert painted.session.painting is before
    assert painted.session.document.undo_words == "lay stroke"


def test_saving_where_it_cannot_be_keeps_the_painting(painted, hand, qtbot, tmp_path, monkeypatch):
    answers(monkeypatch, tmp_path / "nowhere" / "a.ora")
    painted.files.save_as()
    settle(painted, qtbot)
    assert "a.ora was not saved: no such file or directory" in painted.messages.message.text()
    assert painted.session.unsaved
    assert painted.session.path is None
    hand.pen([(50, 50), (60, 60)])


def test_leaving_unsaved_work_asks(painted, qtbot, monkeypatch):
    before = painted.session.painting
    presses(monkeypatch, "Stay")
    painted.files.new(50, 50, 72.0)
    assert painted.session.painting is before
    assert not painted.close()
    presses(monkeypatch, "Keep for Recover")
    painted.files.new(50, 50, 72.0)
    assert painted.session.painting.width == 50
    (one,) = leftovers(journals_folder())
    painted.files.recover(one)
    settle(painted, qtbot)
    assert same_painting(painted.session.painting, before)
    assert painted.session.unsaved
    assert leftovers(journals_folder()) == []
    presses(monkeypatch, "Discard")
    painted.files.new(60, 60, 72.0)
    assert leftovers(journals_folder()) == []


def test_saving_on_leaving(painted, qtbot, tmp_path, monkeypatch):
    answers(monkeypatch, tmp_path / "a.ora")
    presses(monkeypatch, "Save")
    before = painted.session.painting
    painted.files.new(50, 50, 72.0)
    settle(painted, qtbot)
    layers = [layer.pixels.read(before.rect).sum() for _, layer in open_painting(tmp_path / "a.ora").painting.layers()]
    assert layers == [layer.pixels.read(before.rect).sum() for _, layer in before.layers()]
    assert painted.session.painting.width == 50


class FullDisk:
    """A disk that takes nothing of the journal, until it has room again; a bit of each line still gets through."""

    def __init__(self, monkeypatch):
        self._patch = monkeypatch
        self._write = os.pwrite
        monkeypatch.setattr(os, "pwrite", self._torn)

    def _torn(self, handle, data, at):
        if len(data) > 9:
            return self._write(handle, data[:9], at)
        raise OSError(errno.ENOSPC, "No space left on device")

    def has_room(self):
        self._patch.setattr(os, "pwrite", self._write)


def test_a_journal_that_fails_is_said_once_and_painting_goes_on(painted, hand, monkeypatch, heard):
    said = heard(painted.session.told)
    disk = FullDisk(monkeypatch)
    count = len(painted.session.document.records)
    hand.pen([(50, 50), (60, 60)])
    assert "recovery is off until there is room again" in painted.messages.message.text()
    hand.pen([(70, 50), (80, 60)])
    assert sum("recovery is off" in words for words in said) == 1
    assert len(painted.session.document.records) == count + 2
    disk.has_room()
    hand.pen([(90, 50), (99, 60)])
    assert "Every change is written down again" in painted.messages.message.text()
    before = painted.session.painting
    painted.session.leave_document(keep=True)  # as after a crash, from here on
    (one,) = leftovers(journals_folder())
    assert same_painting(recovered(one).painting, before)


# --- start view -----------------------------------------------------------------------------------------


def test_new_paintings_by_use_and_by_size(window, qtbot):
    cards = window.start.findChildren(_Use)
    assert len(cards) == len(USES)
    Hand.click(cards[5])
    assert window._pages.currentIndex() == 1
    assert (window.session.painting.width, window.session.painting.height) == USES[5][2:4]
    window.show_start()
    window.start._width.setValue(20_000)
    window.start._height.setValue(20_000)
    begin = next(button for button in window.start.findChildren(QPushButton) if button.text() == "Begin")
    begin.click()
    assert window.start._size_words.text() == "At most 200 Mpx"
    assert window._pages.currentIndex() == 0
    window.start._width.setValue(345)
    window.start._height.setValue(234)
    window.start._ppi.setValue(96)
    begin.click()
    painting = window.session.painting
    assert (painting.width, painting.height, painting.ppi) == (345, 234, 96)


def test_the_start_view_offers_recent_work_and_what_a_crash_left(window, script, tmp_path, qtbot):
    script.save(tmp_path / "Known.ora")
    remember("recent", [str(tmp_path / "Known.ora"), str(tmp_path / "gone.ora")])
    journal, document = Journal(journals_folder(), "Lost work"), new_document(90, 80)
    journal.append(document.records[0])
    document.write = journal.append
    document.apply(AddPart("A"))
    journal.close(keep=True)
    window.show_start()
    texts = [button.text() for button in window.start.findChildren(QPushButton)]
    assert "Known" in texts
    assert "gone" not in texts
    assert "Studies sheet" in texts
    link = next(button for button in window.start.findChildren(QPushButton) if button.text() == "Lost work")
    assert any("1 change," in label.text() for label in window.start.findChildren(QLabel))
    link.click()
    settle(window, qtbot)
    assert same_painting(window.session.painting, document.painting)
    assert window._pages.currentIndex() == 1


def test_leftovers_can_be_discarded(window):
    journal = Journal(journals_folder(), "Lost work")
    for record in ({"op": "begin", "width": 9, "height": 9}, {"op": "add part", "name": "A"}):
        journal.append(record)
    journal.close(keep=True)
    window.show_start()
    next(button for button in window.start.findChildren(QPushButton) if button.text() == "discard").click()
    assert leftovers(journals_folder()) == []
    assert "Lost work" not in [button.text() for button in window.start.findChildren(QPushButton)]


def test_settings_survive_rubbish(state_folder):
    assert recall("theme", "Lacquer") == "Lacquer"
    remember("theme", "Plaster")
    assert recall("theme", "Lacquer") == "Plaster"
    assert recall("theme", 5) == 5
    (Path(state_folder) / "settings.json").write_text("[]")
    assert recall("theme", "Lacquer") == "Lacquer"
    (Path(state_folder) / "settings.json").write_text("{")
    assert recall("theme", "Lacquer") == "Lacquer"


def test_long_work_can_be_stopped_and_the_rest_stays_usable(bench_window, qtbot):
    window = bench_window
    before = window.session.painting

    def slow(progress):
        for step in range(1000):
            progress(step / 1000, "Counting")
            time.sleep(0.01)

    window.session.jobs.run("Counting", slow, lambda result: None)
    qtbot.waitUntil(lambda: window.messages.job.progress.value() > 0, timeout=5000)
    qtbot.waitUntil(window.messages.job.isVisible, timeout=2000)
    Hand(window).pen([(100, 100), (150, 150)])
    assert window.session.painting is not before
    window.session.jobs.run("Another", slow, lambda result: None)
    assert "Still busy" in window.messages.message.text()
    stop = next(button for button in window.findChildren(QPushButton) if button.text() == "Stop")
    stop.click()
    settle(window, qtbot)
    assert not window.messages.job.isVisible()
    assert window.messages.message.text() == "Stopped."


def test_stop_answers_at_once_and_what_comes_later_is_let_go(bench_window, qtbot):
    """However long a piece of work looks at nothing: the painter is free, and may begin the next thing."""
    jobs, gate, came = bench_window.session.jobs, threading.Event(), []

    def deaf(progress):
        assert gate.wait(20)
        return "late"

    gave_up, unwanted = [], []
    assert jobs.run("Deaf", deaf, came.append, lambda: gave_up.append(True), unwanted.append)
    qtbot.waitUntil(bench_window.messages.job.isVisible, timeout=2000)
    Hand.click(bench_window.messages.job.stop)
    assert not jobs.busy
    assert gave_up == [True]
    assert bench_window.messages.job.isHidden()
    assert bench_window.messages.message.text() == "Stopped."
    assert jobs.run("Next", lambda progress: "next", came.append)
    qtbot.waitUntil(lambda: came == ["next"], timeout=5000)
    gate.set()
    qtbot.waitUntil(lambda: unwanted == ["late"], timeout=5000)
    assert came == ["next"]
    jobs.wait()


def test_a_saving_that_is_stopped_leaves_the_former_file(bench_window, tmp_path, qtbot, monkeypatch):
    window, session, path = bench_window, bench_window.session, tmp_path / "a.ora"
    window.files._save_to(path)
    settle(window, qtbot)
    before = path.read_bytes()
    window.building.add_part("skin")
    gate, encode = threading.Event(), png.encode

    def slow(*args, **settings):
        assert gate.wait(20)
        return encode(*args, **settings)

    monkeypatch.setattr(png, "encode", slow)
    window.files._save_to(path)
    qtbot.waitUntil(window.messages.job.isVisible, timeout=2000)
    Hand.click(window.messages.job.stop)
    assert window.messages.job.words.text() == "Stopping …"
    assert not window.messages.job.stop.isEnabled()
    gate.set()
    settle(window, qtbot)
    assert window.messages.message.text() == "Stopped."
    assert path.read_bytes() == before
    assert session.unsaved
    assert not [one.name for one in tmp_path.iterdir() if one.name.endswith(PART)]
    window.files._save_to(path)
    settle(window, qtbot)
    assert not session.unsaved
    assert path.read_bytes() != before


def test_a_large_window_shows_large_pictures_and_a_small_one_small_ones(window):
    cards = window.start.findChildren(_Use)
    for size, card in (((1280, 800), (172, 112)), ((1920, 1080), (216, 150)), ((1280, 800), (172, 112))):
        window.resize(*size)
        QApplication.processEvents()
        assert {(one.width(), one.height()) for one in cards} == {card}
        pictures = [one for one in window.start.findChildren(QPushButton) if one.objectName() == "picture"]
        assert len({one.width() for one in pictures if one.isVisible()}) == 1
        shown = window.start.findChild(QScrollArea)
        assert shown.horizontalScrollBar().maximum() == 0


def test_painted_larger_it_is_another_painting_whose_journal_goes_on(painted, hand, qtbot, monkeypatch, heard):
    presses(monkeypatch, "Discard")
    told = heard(painted.session.told)
    before = painted.session.painting
    hand.command("Painting › Paint it larger › 2 times")
    settle(painted, qtbot)
    after = painted.session.painting
    assert (after.width, after.height) == (2 * before.width, 2 * before.height)
    assert "2 times as large" in told[-1]
    assert same_painting(begun(painted.session.document.records), after)
    hand.pen([(60, 60, 1), (80, 80, 1)])
    assert painted.session.document.undo_words == "lay stroke"
    del painted.session.document.records[0]
    hand.command("Painting › Paint it larger › 3 times")
    assert "does not reach back" in told[-1]
