"""History is bounded in memory; the journal on disk survives a kill."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time

import pytest

from japanner.errors import InputError, SaveError
from japanner.files.recovery import recovered
from japanner.painting.document.document import begun, new_document, standing_records
from japanner.painting.document.journal import Journal, journals_folder
from japanner.painting.document.leftovers import leftovers
from japanner.painting.operations import AddLayer, AddPart, Stroke
from japanner.raster.tiles import TILE_BYTES
from japanner.stroke.brush import Brush
from tests.paintings import HARD, same_painting


def document_with_layer(**settings):
    document = new_document(600, 400)
    document.apply(AddPart("A"))
    document.apply(AddLayer(1, "flat"))
    document.limit_bytes = settings.get("limit_bytes", 1 << 30)
    return document


def dot(x, y):
    return Stroke(2, HARD.to_record(), (1, 1, 1), ((x, y, 1.0),))


def test_undo_costs_only_the_tiles_that_a_stroke_replaced():
    document = document_with_layer()
    document.apply(dot(64, 64))
    before = document.undo_bytes
    document.apply(dot(64, 64))
    assert document.undo_bytes - before == TILE_BYTES
    document.apply(dot(128, 128))  # where four tiles meet, of which one has paint
    assert document.undo_bytes - before == 2 * TILE_BYTES


def test_history_is_bounded_but_never_empty():
    document = document_with_layer(limit_bytes=5 * TILE_BYTES)
    document.apply(dot(64, 64))
    for _ in range(30):
        document.apply(dot(64, 64))
        assert document.undo_bytes <= 5 * TILE_BYTES
    steps = 0
    while document.undo() is not None:
        steps += 1
    assert steps == 5
    tight = document_with_layer(limit_bytes=1)
    for _ in range(4):
        tight.apply(dot(64, 64))
    assert tight.undo() is not None


def test_costs_add_up_through_undo_and_redo():
    document = document_with_layer()
    for x in (64, 64, 200, 64, 330):
        document.apply(dot(x, 64))
    for step in (document.undo, document.undo, document.redo, document.undo, document.redo, document.redo):
        step()
    expected = sum(one.cost for one in (*document._past, *document._future))
    assert document.undo_bytes == expected


def test_a_change_that_cannot_be_journaled_has_not_happened():
    document = document_with_layer()
    before, count = document.painting, len(document.records)

    def full(record):
        raise SaveError("The disk is full.")

    document.write = full
    with pytest.raises(SaveError):
        document.apply(dot(64, 64))
    assert document.painting is before
    assert len(document.records) == count
    with pytest.raises(SaveError):
        document.undo()
    assert document.painting is before


def test_a_held_journal_is_no_leftover_and_a_dropped_one_is(tmp_path):
    journal = Journal(tmp_path, "Held")
    document = new_document(60, 40)
    document.write = journal.append
    for record in document.records:
        journal.append(record)
    document.apply(AddPart("A"))
    assert leftovers(tmp_path) == []
    journal.close(keep=True)
    (one,) = leftovers(tmp_path)
    assert one.title == "Held"
    assert same_painting(begun(one.records), document.painting)
    one.discard()
    assert leftovers(tmp_path) == []


def test_a_journal_without_changes_is_not_offered(tmp_path):
    journal = Journal(tmp_path, "Empty")
    journal.append({"op": "begin", "width": 10, "height": 10})
    journal.close(keep=True)
    assert leftovers(tmp_path) == []


def test_a_torn_last_line_is_left_out(tmp_path):
    journal = Journal(tmp_path, "Torn")
    document = new_document(60, 40)
    document.write = journal.append
    journal.append(document.records[0])
    document.apply(AddPart("A"))
    painting = document.painting
    document.apply(AddPart("B"))
    journal.close(keep=True)
    lines = journal.path / "records.jsonl"
    lines.write_bytes(lines.read_bytes()[:-9])
    (one,) = leftovers(tmp_path)
    assert same_painting(begun(one.records), painting)


def test_rubbish_in_the_journals_folder_is_passed_over(tmp_path):
    (tmp_path / "a").mkdir()
    (tmp_path / "b").mkdir()
    (tmp_path / "b" / "about.json").write_text("{")
    (tmp_path / "c").mkdir()
    (tmp_path / "c" / "about.json").write_text('{"title": "C", "base": null}')
    (tmp_path / "c" / "lock").write_text("")
    (tmp_path / "c" / "records.jsonl").write_bytes(b"\xff\xfe not json")
    (tmp_path / "d").write_text("a file")
    assert leftovers(tmp_path) == []
    assert leftovers(tmp_path / "none") == []


def test_a_journal_that_cannot_be_started_says_why(tmp_path):
    (tmp_path / "file").write_text("")
    with pytest.raises(SaveError, match="The journal cannot be started: "):
        Journal(tmp_path / "file", "A")


@pytest.mark.parametrize(
    "records", [[], [{"op": "add part", "name": "A"}], [{"op": "begin", "width": 0, "height": 5}], [{"op": "begin"}]]
)
def test_a_journal_must_say_how_the_painting_began(records):
    with pytest.raises(InputError):
        begun(records)


WORKER = """
import sys
from japanner.painting.document.document import new_document
from japanner.painting.document.journal import Journal, journals_folder
from japanner.painting.operations import AddLayer, AddPart, Stroke
from japanner.stroke.brush import Brush

document = new_document(400, 300, title="Killed")
journal = Journal(journals_folder(), "Killed")
journal.append(document.records[0])
document.write = journal.append
document.apply(AddPart("A"))
document.apply(AddLayer(1, "flat"))
brush = Brush("Mop", size_px=40).to_record()
for i in range(10_000):
    document.apply(Stroke(2, brush, (i % 7 / 7, 0.4, 0.3), ((i * 37 % 400, i * 53 % 300, 1.0), (200, 150, 0.5))))
    print(i, flush=True)
"""


def test_kill_9_of_a_real_process_loses_nothing_that_was_finished(state_folder):
    """Every stroke that the process reported is there afterwards, byte for byte."""
    worker = subprocess.Popen([sys.executable, "-c", WORKER], stdout=subprocess.PIPE, text=True, env=dict(os.environ))
    reported = -1
    deadline = time.monotonic() + 60
    while reported < 25 and time.monotonic() < deadline:
        reported = int(worker.stdout.readline())
    assert leftovers(journals_folder()) == []  # still held
    worker.send_signal(signal.SIGKILL)
    reported = max([reported, *(int(line) for line in worker.stdout.read().split())])
    assert worker.wait() == -signal.SIGKILL
    (one,) = leftovers(journals_folder())
    strokes = [record for record in one.records if record["op"] == "stroke"]
    assert len(strokes) >= reported + 1
    again = begun(json.loads(json.dumps(one.records)))
    document = new_document(400, 300, title="Killed")
    document.apply(AddPart("A"))
    document.apply(AddLayer(1, "flat"))
    for record in strokes:
        document.apply(Stroke(2, record["brush"], tuple(record["colour"]), tuple(map(tuple, record["samples"]))))
    assert same_painting(again, document.painting)


# --- what was saved, and what was undone past it ------------------------------------------------------


def saved_journal(tmp_path, script):
    """The journal of a painting from its beginning, saved just now."""
    journal = Journal(tmp_path / "journals", "Test")
    for record in script.document.records:
        journal.append(record)
    script.document.write = journal.append
    script.save(tmp_path / "a.ora")
    script.document.settle()
    journal.saved(tmp_path / "a.ora")
    journal.settle()
    return journal


def undone_and_gone(tmp_path, script, undo):
    """What is left of a painting that was saved, taken back by some steps and painted on, when the process is gone."""
    journal = saved_journal(tmp_path, script)
    for _ in range(undo):
        script.document.undo()
    script.layer(script.painting.parts[0].uid, "light", name="After")
    script.stroke(script.painting.parts[0].layers[-1].uid, HARD, (1, 1, 1), [(60, 60, 1.0)])
    journal.close(keep=True)
    (one,) = leftovers(tmp_path / "journals")
    return one


@pytest.mark.parametrize("undo", [0, 1, 3])
def test_undoing_past_a_save_is_recovered(tmp_path, script, undo):
    script.layer(script.painting.parts[0].uid, "glow", place="over")
    one = undone_and_gone(tmp_path, script, undo)
    assert (one.base is not None) == (undo == 0)
    assert same_painting(recovered(one).painting, script.painting)


def test_nudges_before_and_after_a_save_are_recovered_to_the_bit(tmp_path, script):
    flat = script.painting.parts[0].layers[0].uid
    nudge = Brush("Nudge", kind="nudge", size_px=80)
    script.stroke(flat, nudge, (0, 0, 0), [(120, 100), (160, 120)])
    journal = saved_journal(tmp_path, script)
    script.stroke(flat, nudge, (0, 0, 0), [(160, 120), (200, 120)])
    journal.close(keep=True)
    (one,) = leftovers(tmp_path / "journals")
    assert one.base is not None
    assert same_painting(recovered(one).painting, script.painting)
    # Without the saved file the journal still tells everything, from the beginning.
    one.base.unlink()
    (tmp_path / "a.ora").unlink()
    (again,) = leftovers(tmp_path / "journals")
    assert again.base is None
    assert same_painting(recovered(again).painting, script.painting)


def test_marks_move_with_the_change_they_follow():
    a, b, c, saved = {"op": "a"}, {"op": "b"}, {"op": "c"}, {"op": "saved", "file": "x"}
    undo, redo = {"op": "undo"}, {"op": "redo"}
    assert standing_records([a, saved, b]) == [a, saved, b]
    assert standing_records([a, saved, undo, b]) == [b]
    assert standing_records([a, saved, undo, redo, b]) == [a, saved, b]
    assert standing_records([saved, a, undo, c]) == [saved, c]


def test_a_saved_painting_with_nothing_after_it_is_no_leftover(tmp_path, script):
    saved_journal(tmp_path, script).close(keep=True)
    assert leftovers(tmp_path / "journals") == []
