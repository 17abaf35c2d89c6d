"""Nothing is lost at the window, and nothing stops it: each hole that was once found, and tried again."""

from __future__ import annotations

import json
import os
import time

import pytest
from PySide6.QtCore import QLocale, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton, QToolTip

from japanner.demo import DEMOS, Demo
from japanner.desk.session.own_brushes import keep_own_brushes, own_brushes
from japanner.desk.settings import recall, recent_files, remember, remember_recent
from japanner.desk.trouble import trouble
from japanner.desk.widgets.numbers import NumberBox, number_in
from japanner.desk.window.report_view import ReportView
from japanner.errors import InputError
from japanner.files.kept import taken_troubles
from japanner.files.open_file import OpenFile
from japanner.files.opening import open_painting
from japanner.files.recovery import recovered
from japanner.files.versions import keep_version, versions_of
from japanner.painting.document.document import begun
from japanner.painting.document.journal import Journal, journals_folder
from japanner.painting.document.leftovers import leftovers
from japanner.painting.operations import AddMask, AddPart, SetLayer
from japanner.scripting import Script
from japanner.stroke.brush import Brush
from tests.desk import ball
from tests.desk.hand import LEFT, NONE, Hand
from tests.desk.session.test_files_desk import answers, presses, settle
from tests.paintings import same_painting

Key = Qt.Key
CTRL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def painted(hand):
    ball.take(hand.window, "Round")
    hand.pen([(100, 100), (300, 200)])
    return hand.window


def link(window, text):
    return next(one for one in window.start.findChildren(QPushButton) if one.text() == text)


# --- the first day ----------------------------------------------------------------------------------------


def test_a_recent_painting_opens_by_its_link(window, script, tmp_path, qtbot):
    script.save(tmp_path / "Known.ora")
    remember_recent(tmp_path / "Known.ora")
    window.show_start()
    Hand.click(link(window, "Known"))
    settle(window, qtbot)
    assert window.session.path == tmp_path / "Known.ora"
    assert same_painting(window.session.painting, script.painting)


def test_a_demo_opens_by_its_link(window, qtbot, monkeypatch):
    small = Script.new(60, 40, title="Small demo")
    monkeypatch.setitem(DEMOS, "studies", Demo("Studies sheet", "Small.", "none", _painted=lambda progress: small))
    window.show_start()
    Hand.click(link(window, "Studies sheet"))
    settle(window, qtbot)
    assert window.session.painting.title == "Small demo"


def test_opening_by_the_link_asks_for_a_file(window, qtbot, script, tmp_path, monkeypatch):
    script.save(tmp_path / "Asked.ora")
    answers(monkeypatch, tmp_path / "Asked.ora")
    Hand.click(link(window, "Open a painting or a picture…"))
    settle(window, qtbot)
    assert window.session.path == tmp_path / "Asked.ora"


def test_the_mask_alone_is_shown(painted, hand):
    session = painted.session
    session.apply(AddMask(session.work.active_layer))
    session.looking.set_look("mask")
    white = painted.easel.grab().toImage().pixelColor(hand.view(240, 180).toPoint())
    assert white.lightness() == 255
    session.work.work_on("mask")
    session.hand.set_colour((0, 0, 0))
    hand.pen([(200, 180), (280, 180)])
    black = painted.easel.grab().toImage().pixelColor(hand.view(240, 180).toPoint())
    assert black.lightness() < 60


def test_an_error_while_painting_the_view_leaves_no_painter_open(painted, hand, monkeypatch, heard):
    told = heard(trouble.told)
    with monkeypatch.context() as patch:
        patch.setattr("japanner.desk.easel.easel.draw_foot", lambda *_: 1 / 0)
        for _ in range(3):
            painted.easel.repaint()
            assert not painted.easel.paintingActive()
    assert len(told) == 1  # not at every paint event
    assert "ZeroDivisionError" in told[0][1]
    assert painted.messages.bar.report.isVisible()
    painted.easel.repaint()
    hand.pen([(50, 50), (80, 90)])


# --- while the pen is down --------------------------------------------------------------------------------


def press(hand, x, y):
    hand.mouse_event(hand_kinds()[0], hand.view(x, y), LEFT)


def hand_kinds():
    from PySide6.QtCore import QEvent

    return QEvent.Type.MouseButtonPress, QEvent.Type.MouseMove, QEvent.Type.MouseButtonRelease


@pytest.mark.parametrize("what", ["apply", "key", "task", "undo", "look", "blink", "start view", "save"])
def test_what_begins_while_the_pen_is_down_ends_the_stroke_first(painted, hand, what, tmp_path, qtbot, monkeypatch):
    session, down, move, up = painted.session, *hand_kinds()
    hand.mouse_event(down, hand.view(60, 60), LEFT)
    hand.mouse_event(move, hand.view(120, 90), NONE)
    assert session.strokes.under_way
    answers(monkeypatch, tmp_path / "a.ora")
    {
        "apply": lambda: session.apply(SetLayer(session.work.active_layer, {"strength": 0.4})),
        "key": lambda: hand.command("Layer › Weaker"),
        "task": lambda: hand.key(Key.Key_M),
        "undo": lambda: hand.key(Key.Key_Z, CTRL),
        "look": lambda: hand.key(Key.Key_I),
        "blink": lambda: hand.key(Key.Key_B),
        "start view": painted.show_start,
        "save": painted.files.save,
    }[what]()
    assert session.strokes.under_way is (what == "look")  # which only shows it among fewer parts
    hand.mouse_event(move, hand.view(200, 90), NONE)
    hand.mouse_event(up, hand.view(200, 90), LEFT)
    settle(painted, qtbot)
    painted.easel.leave_task()
    painted.show_bench()
    # Undo lives, the pen paints again, and what is shown is what the records say.
    strokes = sum(record["op"] == "stroke" for record in session.document.records)
    hand.pen([(50, 200), (90, 220)])
    assert sum(record["op"] == "stroke" for record in session.document.records) == strokes + 1
    assert session.document.undo_words == "lay stroke"
    assert same_painting(begun(json.loads(json.dumps(session.document.records))), session.painting)


def test_another_window_in_front_ends_the_stroke(painted, hand):
    session, (down, move, _) = painted.session, hand_kinds()
    hand.mouse_event(down, hand.view(60, 60), LEFT)
    hand.mouse_event(move, hand.view(120, 90), NONE)
    other = ReportView(painted, "text")
    other.show()
    other.activateWindow()
    QTest.qWaitForWindowActive(other, 2000)
    QApplication.processEvents()
    assert not session.strokes.under_way
    assert session.document.undo_words == "lay stroke"
    other.close()


# --- jobs that break --------------------------------------------------------------------------------------


@pytest.mark.parametrize("error", [MemoryError, RecursionError, ValueError, KeyboardInterrupt])
def test_a_job_that_breaks_ends_and_is_told_with_a_report(painted, qtbot, error):
    def work(progress):
        raise error("within")

    session = painted.session
    gave_up = []
    session.jobs.run("Breaking", work, lambda result: None, lambda: gave_up.append(True))
    settle(painted, qtbot)
    assert gave_up == [True]
    assert not session.jobs.busy
    assert f"({error.__name__})" in painted.messages.message.text()
    Hand.click(painted.messages.bar.report)
    (view,) = painted.findChildren(ReportView)
    view.copy()
    assert error.__name__ in QApplication.clipboard().text()
    assert "within" in view.text.toPlainText()
    view.close()


def test_an_operation_that_breaks_beside_the_window_sets_the_painting_free(painted, hand, qtbot):
    class Broken:
        op = "broken"

        def apply(self, painting):
            raise RuntimeError("broken")

    painted.session.carry_out(Broken())
    settle(painted, qtbot)
    count = len(painted.session.document.records)
    hand.pen([(50, 50), (60, 60)])
    assert len(painted.session.document.records) == count + 1


# --- leaving, opening, recovering ---------------------------------------------------------------------------


def test_kept_for_recover_and_then_not_opened_goes_on_with_its_journal(painted, hand, qtbot, tmp_path, monkeypatch):
    presses(monkeypatch, "Keep for Recover")
    painted.files.open(tmp_path / "gone.ora")
    settle(painted, qtbot)
    assert "gone.ora cannot be read" in painted.messages.message.text()
    hand.pen([(50, 50), (60, 60)])
    before = painted.session.painting
    painted.session.leave_document(keep=True)
    assert same_painting(recovered(leftovers(journals_folder())[0]).painting, before)


def test_strokes_painted_while_another_file_opens_are_asked_about(painted, hand, qtbot, script, tmp_path, monkeypatch):
    script.save(tmp_path / "Other.ora")
    presses(monkeypatch, "Discard")
    painted.files.open(tmp_path / "Other.ora")
    hand.pen([(50, 50), (60, 60)])
    presses(monkeypatch, "Stay")
    mine = painted.session.painting
    settle(painted, qtbot)
    assert painted.session.painting is mine
    # Its file is free again.
    OpenFile(tmp_path / "Other.ora").release()


def lost_work(**changes):
    """A journal that nobody holds any more."""
    script = Script.new(90, 80, title="Lost work")
    journal = Journal(journals_folder(), "Lost work")
    journal.append(script.document.records[0])
    script.document.write = journal.append
    script.part("A")
    journal.close(keep=True)
    return script


def test_recovering_on_a_full_disk_loses_nothing(window, qtbot, monkeypatch):
    script = lost_work()
    (one,) = leftovers(journals_folder())

    def full(*_):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr(os, "pwrite", full)
        window.files.recover(one)
        settle(window, qtbot)
        assert same_painting(window.session.painting, script.painting)
        window.session.apply(AddPart("B"))
    assert "recovery is off" in window.messages.message.text()
    # As after a kill: what was there is there, and as soon as there is room, the rest.
    window.session.keeper.tick(idle=False)
    window.session.leave_document(keep=True)
    (again,) = leftovers(journals_folder())
    assert [part.name for part in recovered(again).painting.parts] == ["A", "B"]


def test_two_that_recover_the_same(window, qtbot):
    lost_work()
    (one,) = leftovers(journals_folder())
    journal = one.go_on()
    window.files.recover(one)
    assert "Another Japanner is bringing it back already" in window.messages.message.text()
    journal.close(keep=True)
    assert len(leftovers(journals_folder())) == 1


def test_a_journal_is_gone_on_with_and_discarded_only_when_it_is_saved(window, qtbot, tmp_path, monkeypatch):
    script = lost_work()
    window.files.recover(leftovers(journals_folder())[0])
    settle(window, qtbot)
    window.session.apply(AddPart("B"))
    assert leftovers(journals_folder()) == []  # held
    answers(monkeypatch, tmp_path / "Back.ora")
    window.files.save()
    settle(window, qtbot)
    assert [part.name for part in open_painting(tmp_path / "Back.ora").painting.parts] == ["A", "B"]
    assert script.painting.title == "Lost work"


# --- files ------------------------------------------------------------------------------------------------


def test_a_name_without_ending_never_overwrites_unasked(painted, qtbot, tmp_path, monkeypatch):
    (tmp_path / "Otter.ora").write_bytes(b"something dear")
    answers(monkeypatch, tmp_path / "Otter")
    presses(monkeypatch, "Stay")
    painted.files.save_as()
    settle(painted, qtbot)
    assert (tmp_path / "Otter.ora").read_bytes() == b"something dear"
    presses(monkeypatch, "Replace it")
    painted.files.save_as()
    settle(painted, qtbot)
    assert open_painting(tmp_path / "Otter.ora").native


@pytest.mark.parametrize(("answer", "native"), [("Open a copy", False), ("Open anyway", True), ("Stay", None)])
def test_a_painting_that_another_window_holds(window, script, qtbot, tmp_path, monkeypatch, answer, native):
    script.save(tmp_path / "Held.ora")
    holder = OpenFile(tmp_path / "Held.ora")
    asked = []
    presses(monkeypatch, answer, asked)
    window.files.open(tmp_path / "Held.ora")
    settle(window, qtbot)
    assert "is open in another Japanner" in asked[-1]
    if native is None:
        assert window.session.painting.title != "Test sheet"
    else:
        assert window.session.painting.title == "Test sheet"
        assert (window.session.path is not None) is native
    holder.release()


@pytest.mark.parametrize("answer", ["Replace it", "Stay", "Save under another name"])
def test_a_file_that_another_program_has_changed(window, script, qtbot, tmp_path, monkeypatch, answer):
    path = tmp_path / "Shared.ora"
    script.save(path)
    window.files.open(path)
    settle(window, qtbot)
    window.session.apply(AddPart("Mine"))
    theirs = Script.new(50, 50, title="Theirs")
    theirs.save(path)
    asked = []
    presses(monkeypatch, answer, asked)
    answers(monkeypatch, tmp_path / "Elsewhere.ora")
    window.files.save()
    settle(window, qtbot)
    assert "has been changed by another program" in asked[0]
    found = open_painting(path).painting
    assert (found.title == "Theirs") is (answer != "Replace it")
    if answer == "Save under another name":
        assert open_painting(tmp_path / "Elsewhere.ora").painting.parts[-1].name == "Mine"
    assert window.session.unsaved is (answer == "Stay")


def test_earlier_versions_are_kept_and_opened(window, script, qtbot, tmp_path):
    path = tmp_path / "Grows.ora"
    script.save(path)
    window.files.open(path)
    settle(window, qtbot)
    for count in range(5):
        window.session.apply(AddPart(f"New {count}"))
        past = time.time() - 100 + count
        os.utime(path, (past, past))
        window.session.file.renew()
        window.files.save()
        settle(window, qtbot)
    found = versions_of(path)
    assert [len(open_painting(one).painting.parts) for one in found] == [5, 4, 3]
    window.menus.actions["Painting › Earlier versions › Version 1"].trigger()
    settle(window, qtbot)
    assert len(window.session.painting.parts) == 5
    assert window.session.path is None
    assert window.menus.commands["Painting › Earlier versions › Version 1"].words() == "Version 1"


def test_versions_beside_the_painting_or_none(tmp_path):
    path = tmp_path / "A[1].ora"
    path.write_bytes(b"one")
    assert keep_version(path, "none") is None
    kept = keep_version(path, "beside")
    assert kept.parent.parent == tmp_path
    assert kept.read_bytes() == b"one"
    assert versions_of(path) == [kept]


def test_a_painting_is_saved_by_itself_when_that_is_wanted(window, script, qtbot, tmp_path):
    script.save(tmp_path / "Auto.ora")
    window.files.open(tmp_path / "Auto.ora")
    settle(window, qtbot)
    window.session.apply(AddPart("More"))
    window.session.stored_at -= 3600
    window.files.save_by_itself()
    assert not window.files.busy
    window.menus.actions["Painting › Keeping › Save by itself every 15 min"].trigger()
    window.files.save_by_itself()
    settle(window, qtbot)
    assert not window.session.unsaved
    assert open_painting(tmp_path / "Auto.ora").painting.parts[-1].name == "More"


def test_a_painting_comes_back_as_it_was_left(window, script, qtbot, tmp_path):
    path = tmp_path / "Left.ora"
    script.save(path)
    window.files.open(path)
    settle(window, qtbot)
    first = window.session.painting.parts[0].layers[0].uid
    window.session.work.work_on_layer(first)
    window.easel.look_at(40.0, 50.0, zoom=2.0)
    window.easel.mirror()
    window.session.looking.set_look("values")
    window.left_off.remember()
    window.files.new(60, 50, 72.0)
    window.session.looking.set_look("colour")
    window.files.open(path)
    settle(window, qtbot)
    assert window.session.work.active_layer == first
    assert window.session.looking.look == "values"
    view = window.easel.view
    assert (view.zoom, view.centre.x(), view.mirrored) == (2.0, 40.0, True)
    assert view.centre.y() == pytest.approx(50, abs=15)  # a line over the easel may come and go meanwhile


# --- numbers ----------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "number"),
    [("1.5", 1.5), ("1,5", 1.5), ("-3", -3.0), ("\u22123", -3.0), ("7 px", 7.0), (".5", 0.5), ("+2", 2)],
)
def test_numbers_with_point_or_comma(text, number):
    assert number_in(text, " px") == number


@pytest.mark.parametrize("text", ["1.234,5", "1,234.5", "1 234", "1'234", "1.2.3"])
def test_signs_between_groups_are_refused_with_a_word(text):
    with pytest.raises(InputError, match="without signs between the groups"):
        number_in(text)


@pytest.mark.parametrize("locale", [QLocale.Language.German, QLocale.Language.English, QLocale.Language.French])
def test_a_field_reads_both_signs_in_every_language(window, qtbot, locale):
    QLocale.setDefault(QLocale(locale))
    try:
        box = NumberBox(window)
        box.setRange(-100, 100)
        box.setDecimals(2)
        box.setSuffix(" px")
        box.show()
        for typed, number in (("1.5", 1.5), ("1,5", 1.5), ("-3", -3.0), ("2,25 px", 2.25)):
            box.selectAll()
            QTest.keyClicks(box, typed)
            QTest.keyClick(box, Key.Key_Return)
            assert box.value() == number
            assert box.text() == f"{number:.2f} px"
        box.selectAll()
        QTest.keyClicks(box, "1.234,5")
        QTest.keyClick(box, Key.Key_Return)
        assert box.value() == 2.25
        assert "without signs between the groups" in QToolTip.text()
        box.deleteLater()
    finally:
        QLocale.setDefault(QLocale.c())


# --- what the program keeps -------------------------------------------------------------------------------


@pytest.mark.parametrize("rubbish", ["{", "[" * 100_000, "[]", '"text"', "\x00", '{"recent": 5, "views": []}'])
def test_rubbish_for_settings_is_set_aside_and_never_written_over(state_folder, rubbish):
    state_folder.mkdir(parents=True)
    (state_folder / "settings.json").write_text(rubbish)
    assert recall("theme", "Lacquer") == "Lacquer"
    assert recent_files() == []
    remember("theme", "Plaster")
    assert recall("theme", "Lacquer") == "Plaster"
    if not rubbish.startswith('{"'):
        (aside,) = state_folder.glob("settings unreadable*")
        assert aside.read_text() == rubbish
        assert "settings.json cannot be used" in taken_troubles()[0]


def test_a_path_that_no_file_can_have_is_no_recent_one(state_folder):
    remember("recent", ["/" + "x" * 5000, "a\0b", 7, {"a": 1}])
    assert recent_files() == []


def test_a_syntax_error_in_the_own_brushes_costs_none_of_them(tmp_path):
    keep_own_brushes([Brush("Dear", size_px=12.0)])
    (file,) = (tmp_path / "config").glob("brushes.json")
    text = file.read_text()
    file.write_text(text[:-3])
    assert own_brushes() == []
    keep_own_brushes([Brush("New")])
    (aside,) = file.parent.glob("brushes unreadable*")
    assert aside.read_text() == text[:-3]
    assert [brush.name for brush in own_brushes()] == ["New"]


def test_a_wrong_setting_of_an_own_brush_is_kept_in_a_copy(tmp_path):
    keep_own_brushes([Brush("Dear", size_px=12.0)])
    file = tmp_path / "config" / "brushes.json"
    file.write_text(file.read_text().replace("12.0", '"twelve"'))
    assert [brush.name for brush in own_brushes()] == ["Dear"]
    assert len(list(file.parent.glob("brushes unreadable*"))) == 1


@pytest.mark.parametrize("line", ["5", "null", "[" * 100_000, '"x"', '{"op": 3}', "{}"])
def test_a_journal_with_rubbish_in_it_is_read_up_to_there(window, line):
    lost_work()
    (path,) = journals_folder().iterdir()
    with (path / "records.jsonl").open("a") as file:
        file.write(f"{line}\n")
        file.write('{"op": "add part", "name": "After"}\n')
    window.show_start()
    (one,) = leftovers(journals_folder())
    assert one.changes == 1
    assert one.remarks == ("It was damaged; what came after is missing.",)
    # Going on with it keeps what could not be read beside.
    journal = one.go_on()
    journal.close(keep=True)
    assert "After" in (path / "damaged.jsonl").read_text()


@pytest.mark.parametrize(
    "about", ['{"title": "A", "base": 7}', "null", "[" * 100_000, '{"title": 3}', '{"base": "../x"}']
)
def test_a_journal_about_nothing_does_not_keep_the_window_from_starting(window, about):
    lost_work()
    (path,) = journals_folder().iterdir()
    (path / "about.json").write_text(about)
    window.show_start()
    leftovers(journals_folder())
