"""Opening shows the picture at once, and the painting when its layers are there."""

import threading
import zipfile

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from japanner.desk.session import files_desk
from japanner.desk.window.main_window import BENCH, START
from japanner.errors import FileFormatError
from japanner.files.stored_picture import stored_picture


@pytest.fixture
def held(monkeypatch):
    """Reading a painting's layers waits until it is let go."""
    gate, read = threading.Event(), files_desk.open_painting

    def slow(path):
        assert gate.wait(20)
        return read(path)

    monkeypatch.setattr(files_desk, "open_painting", slow)
    yield gate
    gate.set()


def until(qtbot, holds):
    qtbot.waitUntil(holds, timeout=20_000)


def test_the_merged_picture_shows_where_the_easel_will_show_it(window, script, tmp_path, held, qtbot):
    script.save(tmp_path / "a.ora")
    window.show_start()
    window.files.open(tmp_path / "a.ora")
    until(qtbot, lambda: not window.opening.isHidden())
    assert (window.opening.picture.width(), window.opening.picture.height()) == (320, 240)
    early = window.grab().toImage()
    at = window.easel.mapTo(window, QPoint(0, 0))
    held.set()
    until(qtbot, lambda: window.opening.isHidden() and not window.session.jobs.busy)
    assert window._pages.currentIndex() == BENCH
    assert window.session.painting.width == 320
    window.messages.bar.hide()
    QApplication.processEvents()
    late, middle = window.grab().toImage(), at + QPoint(window.easel.width() // 2, window.easel.height() // 2)
    for dx, dy in ((0, 0), (-60, 20), (70, -40), (-250, 0), (240, 180)):
        one, other = (image.pixelColor(middle + QPoint(dx, dy)) for image in (early, late))
        gaps = [abs(a - b) for a, b in zip(one.getRgb()[:3], other.getRgb()[:3], strict=True)]
        assert max(gaps) < 24, (dx, dy)


def test_keys_meanwhile_do_nothing_to_the_painting_that_is_not_seen(hand, script, tmp_path, held, qtbot):
    script.save(tmp_path / "a.ora")
    before, window = hand.window.session.painting, hand.window
    window.session._saved_painting = before
    window.files.open(tmp_path / "a.ora")
    until(qtbot, lambda: not window.opening.isHidden())
    assert QApplication.focusWidget() is window.opening
    QTest.keyClick(window.opening, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(window.opening, Qt.Key.Key_F)
    assert window.session.painting is before
    assert not window.bench.alone
    held.set()
    until(qtbot, lambda: window.session.painting.width == 320)


def test_what_cannot_be_opened_goes_back_to_where_one_was(window, script, tmp_path, held, qtbot, monkeypatch):
    script.save(tmp_path / "a.ora")

    def broken(path):
        assert held.wait(20)
        raise FileFormatError("a.ora is torn.")

    monkeypatch.setattr(files_desk, "open_painting", broken)
    window.show_start()
    window.files.open(tmp_path / "a.ora")
    until(qtbot, lambda: not window.opening.isHidden())
    assert window._pages.currentIndex() == BENCH
    held.set()
    until(qtbot, lambda: not window.session.jobs.busy)
    assert window.opening.isHidden()
    assert window._pages.currentIndex() == START
    assert "torn" in window.messages.message.text()


def test_no_picture_is_no_harm(tmp_path):
    with zipfile.ZipFile(tmp_path / "a.ora", "w") as archive:
        archive.writestr("stack.xml", "<image/>")
    (tmp_path / "b.ora").write_bytes(b"PK\x03\x04 torn")
    for name in ("a.ora", "b.ora", "none.ora", "c.png"):
        assert stored_picture(tmp_path / name) is None
