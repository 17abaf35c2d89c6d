"""The way of a painting: what is marked on it, how changes lie along it, and pictures painted anew."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.painting.document.document import SAVED, new_document
from japanner.painting.document.larger import first_records, larger
from japanner.painting.document.way import Way, pictures_along, way_of
from japanner.painting.operations import AddLayer, AddPart, Fill
from japanner.painting.picture.moments import Moment
from tests.paintings import same_painting


@pytest.fixture
def document():
    document = new_document(64, 48)
    document.apply(AddPart("Head"))
    document.apply(AddLayer(1, "flat"))
    document.apply(Fill(2, (1.0, 0.0, 0.0), "canvas"))
    document.records.append(SAVED)
    document.apply(Fill(2, (0.0, 1.0, 0.0), "canvas"))
    document.undo()
    document.apply(AddPart("Hat"))
    document.apply(Fill(2, (0.0, 0.0, 1.0), "canvas"))
    return document


def test_parts_and_saves_are_marked_where_they_came(document):
    way = way_of(document.records)
    assert way.count == 5, "what was undone is not on it"
    assert [(one.at, one.kind, one.name) for one in way.marks] == [
        (1, "part", "Head"), (3, "save", "saved"), (4, "part", "Hat"),
    ]  # fmt: skip
    assert way.strokes == (0,) * 6


def test_pictures_show_how_it_was_after_each_change(document):
    found = {one.at: cv2.imdecode(np.frombuffer(one.picture, np.uint8), cv2.IMREAD_COLOR)[..., ::-1] for one in
             pictures_along(document.records)}  # fmt: skip
    assert sorted(found) == [0, 1, 2, 3, 4, 5]
    assert found[3].reshape(-1, 3).mean(axis=0) == pytest.approx([255, 0, 0], abs=4)
    assert found[4].reshape(-1, 3).mean(axis=0) == pytest.approx([255, 0, 0], abs=4)
    assert found[5].reshape(-1, 3).mean(axis=0) == pytest.approx([0, 0, 255], abs=4)


def test_they_can_be_stopped(document):
    def told(share, _):
        if share > 0.3:
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        list(pictures_along(document.records, told))


def test_a_moment_is_gone_on_from(document):
    then = new_document(64, 48)
    then.apply(AddPart("Head"))
    then.apply(AddLayer(1, "flat"))
    then.apply(Fill(2, (1.0, 0.0, 0.0), "canvas"))
    records = first_records(document.records, 3)
    assert records[-1] == SAVED
    assert same_painting(larger(records, 1.0), then.painting)
    assert same_painting(larger(first_records(document.records, 99), 1.0), document.painting)


def test_a_painting_without_a_beginning_has_its_moments_or_nothing():
    with pytest.raises(InputError, match="does not reach back"):
        way_of([])
    way = way_of([], [Moment("sketch", 5, b"1"), Moment("values", 9, b"2")])
    assert (way.count, way.whole) == (2, False)
    assert [way.stage_at(n) for n in (0, 1, 2)] == ["sketch", "sketch", "values"]
    assert way.strokes == (0, 5, 9)


def test_moments_of_the_file_lie_where_their_strokes_are(script):
    count = sum(one["op"] == "stroke" for one in script.document.records)
    moments = [Moment("sketch", 0, b"a"), Moment("values", max(count // 2, 1), b"b"), Moment("done", count, b"c")]
    way = way_of(script.document.records, moments)
    assert [way.strokes[one.at] for one in way.known] == [0, max(count // 2, 1), count]
    assert way.known[-1].at == way.count
    assert way.stages[0][0] == 1


@given(st.lists(st.integers(1, 500), min_size=1, max_size=8))
def test_no_stage_is_too_short_to_be_seen_and_places_come_back(lengths):
    firsts = np.cumsum([1, *lengths])
    stages = tuple((int(first), f"stage {n}") for n, first in enumerate(firsts[:-1]))
    way = Way(int(sum(lengths)), stages, (), ())
    shares = [way.share_of(first - 1) for first in firsts]
    assert shares[0] == 0
    assert shares[-1] == pytest.approx(1)
    assert min(np.diff(shares)) > 0.03
    assert all(way.at(way.share_of(n)) == n for n in range(way.count + 1))
