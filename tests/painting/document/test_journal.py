"""The journal against what disks, other programs, kills and newer engines do to it."""

from __future__ import annotations

import errno
import json
import os
import time

import pytest

from japanner.errors import SaveError
from japanner.files import ora_write
from japanner.files.opening import open_painting
from japanner.files.recovery import recovered
from japanner.painting.document import engine, journal, leftovers
from japanner.painting.document.document import ENGINE_MARK, Document, new_document
from japanner.painting.document.file_print import copied, print_of
from japanner.painting.document.journal import Journal
from japanner.painting.document.keeper import JournalKeeper
from japanner.painting.operations import AddPart
from japanner.scripting import Script
from tests.paintings import HARD, same_painting


@pytest.fixture
def folder(tmp_path):
    return tmp_path / "state" / "journals"


def opened_journal(folder, path):
    """A painting opened from a file, with its journal."""
    opened = open_painting(path)
    script = Script(Document(opened.painting, records=opened.records))
    made = Journal(folder, "Opened", path)
    script.document.write = made.append
    return script, made


def stroke(script, x=60):
    script.stroke(script.painting.parts[0].layers[-1].uid, HARD, (1, 1, 1), [(x, 60, 1.0)])


# --- what it begins from ----------------------------------------------------------------------------------


def test_another_program_writing_into_the_file_does_not_reach_the_base(script, tmp_path, folder):
    path = tmp_path / "a.ora"
    script.save(path)
    mine, made = opened_journal(folder, path)
    stroke(mine)
    made.settle()
    with path.open("r+b") as file:  # in place, as some programs do: the same inode
        file.write(b"rubbish over the head of the file")
    made.close(keep=True)
    (one,) = leftovers.leftovers(folder)
    assert same_painting(recovered(one).painting, mine.painting)
    about = json.loads((one.path / "about.json").read_text())
    assert len(about["digest"]) == 64


def test_a_base_that_was_not_copied_in_time_is_taken_from_its_place_while_it_is_the_same(script, tmp_path, folder):
    path = tmp_path / "a.ora"
    script.save(path)
    mine, made = opened_journal(folder, path)
    stroke(mine)
    made.settle()
    made.close(keep=True)
    (made.path / "base.ora").unlink()  # as if killed before the copy was whole
    (one,) = leftovers.leftovers(folder)
    assert one.base == path
    assert same_painting(recovered(one).painting, mine.painting)
    path.write_bytes(path.read_bytes() + b"changed")
    assert leftovers.leftovers(folder) == []
    assert made.path.is_dir()  # nobody throws it away


def test_with_a_changed_base_the_last_checkpoint_serves_and_that_is_said(script, tmp_path, folder):
    path = tmp_path / "a.ora"
    script.save(path)
    mine, made = opened_journal(folder, path)
    stroke(mine)
    painting = mine.painting
    made.checkpoint(lambda to: ora_write.write(painting, to))
    stroke(mine, 200)
    made.settle()
    made.close(keep=True)
    (made.path / "base.ora").unlink()
    path.write_bytes(b"something else")
    (one,) = leftovers.leftovers(folder)
    assert one.remarks == ("The file that it began from is another one by now.",)
    assert one.changes == 1
    assert same_painting(recovered(one).painting, mine.painting)


def test_copies_are_whole_or_not_there(tmp_path):
    (tmp_path / "a").write_bytes(os.urandom(9_000_000))
    with (tmp_path / "a").open("rb") as source:
        digest = copied(source, tmp_path / "b")
    assert (tmp_path / "b").read_bytes() == (tmp_path / "a").read_bytes()
    assert len(digest) == 64
    wanted = iter([True, False])
    with (tmp_path / "a").open("rb") as source:
        assert copied(source, tmp_path / "c", lambda: next(wanted)) == ""
    assert sorted(one.name for one in tmp_path.iterdir()) == ["a", "b"]
    assert print_of(tmp_path / "none") is None


# --- disks ------------------------------------------------------------------------------------------------


class Disk:
    """Takes so many bytes of a journal, then no more until it has room."""

    def __init__(self, monkeypatch):
        self.room = 10**9
        self._write = os.pwrite
        monkeypatch.setattr(journal.os, "pwrite", self.write)

    def write(self, handle, data, at):
        if not self.room:
            raise OSError(errno.ENOSPC, "No space left on device")
        took = self._write(handle, data[: self.room], at)
        self.room -= took
        return took


def test_a_line_that_does_not_fit_leaves_no_trace(folder, monkeypatch):
    disk, made = Disk(monkeypatch), Journal(folder, "Full")
    made.append({"op": "begin", "width": 9, "height": 9})
    disk.room = 5
    with pytest.raises(SaveError, match="no space left"):
        made.append({"op": "add part", "name": "A"})
    disk.room = 10**9
    made.append({"op": "add part", "name": "B"})
    made.close(keep=True)
    (one,) = leftovers.leftovers(folder)
    assert [record.get("name") for record in one.records] == [None, "B"]


def test_a_long_text_that_did_not_get_through_is_written_again(folder, monkeypatch):
    disk, made = Disk(monkeypatch), Journal(folder, "Stamps")
    made.append({"op": "begin", "width": 9, "height": 9})
    disk.room = 3
    with pytest.raises(SaveError):
        made.append({"op": "add part", "name": "x" * 5000})
    disk.room = 10**9
    made.append({"op": "add part", "name": "x" * 5000})
    made.close(keep=True)
    assert leftovers.leftovers(folder)[0].records[-1]["name"] == "x" * 5000


@pytest.fixture
def kept(folder):
    """A document with its keeper, and what was told."""
    told = []
    keeper = JournalKeeper(told.append, ora_write.write)
    document = new_document(60, 40, title="Kept")
    yield keeper, document, told
    keeper.close(keep=False)


def test_what_waits_is_written_when_there_is_room(kept, folder, monkeypatch):
    keeper, document, told = kept
    disk = Disk(monkeypatch)
    keeper.start(document, None, document.records)
    disk.room = 0
    for name in "ABC":
        document.apply(AddPart(name))
    assert not keeper.safe
    assert len(told) == 1
    disk.room = 10**9
    keeper.tick(idle=False)
    assert keeper.safe
    assert "written down again" in told[-1]
    keeper.close(keep=True)
    assert same_painting(recovered(leftovers.leftovers(folder)[0]).painting, document.painting)


def test_a_journal_that_could_not_begin_begins_later(kept, folder, monkeypatch):
    keeper, document, told = kept
    folder.parent.mkdir(parents=True)
    folder.write_text("in the way")
    keeper.start(document, None, document.records)
    document.apply(AddPart("A"))
    assert "cannot be started" in told[0]
    folder.unlink()
    document.apply(AddPart("B"))
    assert keeper.safe
    keeper.close(keep=True)
    assert same_painting(recovered(leftovers.leftovers(folder)[0]).painting, document.painting)


def test_a_save_begins_a_journal_anew_where_one_failed(kept, folder, tmp_path, monkeypatch):
    keeper, document, _ = kept
    disk = Disk(monkeypatch)
    keeper.start(document, None, document.records)
    disk.room = 0
    document.apply(AddPart("A"))
    ora_write.write(document.painting, tmp_path / "a.ora", document.records)
    disk.room = 10**9
    document.settle()
    keeper.saved(tmp_path / "a.ora", settled=True)
    document.apply(AddPart("B"))
    keeper.close(keep=True)
    (one,) = leftovers.leftovers(folder)
    assert one.changes == 1
    assert same_painting(recovered(one).painting, document.painting)


def test_records_are_synced_every_second_and_at_saves(kept, folder, tmp_path, monkeypatch):
    keeper, document, _ = kept
    synced = []
    fsync = os.fsync
    monkeypatch.setattr(journal.os, "fsync", lambda handle: (synced.append(handle), fsync(handle)))
    keeper.start(document, None, document.records)
    document.apply(AddPart("A"))
    keeper.tick(idle=False)
    keeper._syncer.submit(lambda: None).result()
    assert len(synced) == 1
    keeper.tick(idle=False)  # nothing new
    keeper._syncer.submit(lambda: None).result()
    assert len(synced) == 1
    ora_write.write(document.painting, tmp_path / "a.ora")
    synced.clear()
    keeper.saved(tmp_path / "a.ora", settled=True)
    assert synced


NEWER = engine.ENGINE + 1

# --- engines ----------------------------------------------------------------------------------------------


def test_pixels_are_kept_now_and_then_and_serve_a_newer_engine(kept, folder, monkeypatch):
    keeper, document, _ = kept
    keeper.start(document, None, document.records)
    document.apply(AddPart("A"))
    keeper.tick(idle=True)
    assert not list(folder.glob("*/checkpoint*"))
    monkeypatch.setattr(keeper, "_checkpoint_at", time.monotonic() - 10_000)
    keeper.tick(idle=True)
    document.apply(AddPart("B"))
    keeper.close(keep=True)
    (same,) = leftovers.leftovers(folder)
    assert same.base is None  # this engine paints it all again, to the bit
    assert same.remarks == ()
    for where in (engine, leftovers):
        monkeypatch.setattr(where, "ENGINE", NEWER)
    (newer,) = leftovers.leftovers(folder)
    assert newer.base is not None
    assert newer.base.name == "checkpoint1.ora"
    assert newer.changes == 1
    assert "earlier Japanner" in newer.remarks[0]
    assert [part.name for part in recovered(newer).painting.parts] == ["A", "B"]


def test_only_so_many_checkpoints_are_held(folder):
    made = Journal(folder, "Many")
    for _ in range(5):
        made.checkpoint(lambda to: to.write_bytes(b"pixels"))
    made.settle()
    assert sorted(one.name for one in made.path.glob("checkpoint*")) == ["checkpoint4.ora", "checkpoint5.ora"]
    made.close(keep=False)


def test_a_file_of_another_engine_says_so_in_its_records(script, tmp_path, monkeypatch):
    script.save(tmp_path / "a.ora")
    opened = open_painting(tmp_path / "a.ora")
    assert opened.engine == engine.ENGINE
    monkeypatch.setattr("japanner.painting.document.document.ENGINE", NEWER)
    document = Document(opened.painting, records=opened.records)
    document.mark_engine(opened.engine)
    assert document.records[-1] == {"op": ENGINE_MARK, "version": NEWER}
    # Marks are no changes: the painting is what the file's pixels say, and what follows is told apart.
    document.apply(AddPart("B"))
    ora_write.write(document.painting, tmp_path / "b.ora", document.records)
    assert {"op": ENGINE_MARK, "version": NEWER} in open_painting(tmp_path / "b.ora").records


# --- going on ---------------------------------------------------------------------------------------------


def test_a_journal_that_is_gone_on_with_is_one_story(folder):
    script = Script.new(60, 40, title="Story")
    made = Journal(folder, "Story")
    made.append(script.document.records[0])
    script.document.write = made.append
    script.part("A")
    script.document.undo()
    script.part("B")
    made.close(keep=True)
    for name in ("C", "D"):
        (one,) = leftovers.leftovers(folder)
        again = one.go_on()
        document = recovered(one)
        document.write = again.append
        document.apply(AddPart(name))
        again.close(keep=True)
    (last,) = leftovers.leftovers(folder)
    assert [part.name for part in recovered(last).painting.parts] == ["B", "C", "D"]
    assert last.changes == 3
