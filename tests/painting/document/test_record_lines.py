"""Records as lines: a long text stands once, and what is read is what was written."""

from __future__ import annotations

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.painting.document.journal import Journal
from japanner.painting.document.leftovers import leftovers
from japanner.painting.document.record_lines import LONG, RecordReader, RecordWriter

TEXTS = st.one_of(st.text(max_size=20), st.sampled_from(["a" * LONG, "b" * LONG, "c" * 5 * LONG]))
VALUES = st.recursive(
    st.one_of(TEXTS, st.integers(), st.booleans(), st.none()),
    lambda inner: st.one_of(st.lists(inner, max_size=3), st.dictionaries(st.text(max_size=5), inner, max_size=3)),
    max_leaves=8,
)
RECORDS = st.dictionaries(st.text(max_size=8), VALUES, max_size=4).map(lambda record: {**record, "op": "any"})


def lines_of(records):
    writer = RecordWriter()
    return "".join(map(writer.line, records))


@settings(max_examples=20, deadline=None)
@given(st.lists(RECORDS, max_size=6))
def test_records_are_read_as_they_were_written(records):
    reader = RecordReader()
    assert [reader.record(line) for line in lines_of(records).splitlines()] == json.loads(json.dumps(records))


def test_a_long_text_stands_once():
    writer = RecordWriter()
    record = {"op": "stroke", "brush": {"name": "Stamp", "image": "x" * 50_000}}
    first, second = writer.line(record), writer.line(record)
    assert len(first) > 50_000
    assert len(second) < 200


def test_a_reference_to_nothing_is_told():
    lines = lines_of([{"op": "a", "image": "x" * LONG}] * 2).splitlines()
    with pytest.raises(InputError, match="missing"):
        RecordReader().record(lines[1])


def test_the_journal_gives_back_the_whole_records(tmp_path):
    records = [{"op": "stroke", "brush": {"image": "x" * 9000}}] * 3
    journal = Journal(tmp_path, "Stamps")
    for record in records:
        journal.append(record)
    size = (journal.path / "records.jsonl").stat().st_size
    journal.close(keep=True)
    assert 9000 < size < 10_000
    assert list(leftovers(tmp_path)[0].records) == records
