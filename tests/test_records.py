"""Records: whatever comes in, it is either read or refused in one sentence that says where."""

from __future__ import annotations

import contextlib
import json
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner import records
from japanner.errors import InputError
from japanner.painting.document.document import new_document
from japanner.painting.model.head_guide import HeadGuide
from japanner.painting.operations import OPERATIONS, operation_from_record
from japanner.stroke.brush import Brush
from tests.paintings import HARD, same_painting
from tests.strategies import every_operation, operations, prepared

ANYTHING = st.recursive(
    st.one_of(
        st.none(), st.booleans(), st.integers(), st.floats(), st.text(max_size=8),
        st.sampled_from([10**400, -1, 0, math.nan, math.inf, "paint", "flat", "silhouette"]),
    ),
    lambda inner: st.one_of(st.lists(inner, max_size=4), st.dictionaries(st.text(max_size=6), inner, max_size=3)),
    max_leaves=12,
)  # fmt: skip


STROKE = {"op": "stroke", "layer": 2, "brush": {}, "colour": [0, 0, 0], "samples": []}
GRADIENT = {"op": "gradient", "layer": 2, "kind": "linear", "points": [1], "start": 1, "end": 1}


@pytest.mark.parametrize(
    ("record", "words"),
    [
        ({**STROKE, "brush": []}, r"stroke\.brush: expected a record"),
        ({**STROKE, "colour": [0, [0], 0]}, r"stroke\.colour\[1\]: expected a number"),
        ({**STROKE, "layer": [2]}, r"stroke\.layer: expected a whole number"),
        ({**GRADIENT, "kind": {}}, r"gradient\.kind: expected text"),
        ({**GRADIENT}, r"gradient\.points: expected a list of 4"),
        ({"op": "set comb", "part": 1, "guides": [[1, 2]]}, r"set comb\.guides\[0\]: expected a record"),
        ({"op": "fill", "layer": 2, "colour": [0, 0, math.nan]}, r"fill\.colour\[2\]: expected a finite number"),
        ({"op": "fill", "layer": 10**400, "colour": [0, 0, 0]}, r"fill\.layer: expected a whole number"),
        ({"op": ["fill"]}, "op: expected one of"),
        ([], "operation: expected a record"),
    ],
)
def test_an_error_says_where_it_is_and_what_was_expected(record, words):
    with pytest.raises(InputError, match=words):
        operation_from_record(record)


def test_what_is_nested_too_deeply_is_refused():
    deep: object = 1
    for _ in range(5000):
        deep = [deep]
    with pytest.raises(InputError, match="nested too deeply"):
        operation_from_record({"op": "filter", "layers": [2], "name": "blur", "settings": {"a": deep}})
    with pytest.raises(InputError):
        operation_from_record({"op": "fill", "layer": deep, "colour": deep})


@given(st.sampled_from(sorted(OPERATIONS)), st.dictionaries(st.text(max_size=6), ANYTHING, max_size=3), st.data())
@settings(max_examples=70)
def test_nothing_in_a_record_raises_anything_foreign(op, rest, data):
    """Fields of the right names with values of any kind, on a painting that has something of everything."""
    kind = OPERATIONS[op]
    names = list(records._hints(kind)) if kind.__dataclass_fields__ else []
    record = {"op": op, **{name: data.draw(ANYTHING) for name in names}, **rest}
    painting = prepared().painting
    with contextlib.suppress(InputError):
        operation_from_record(record).apply(painting)


@given(operations())
@settings(max_examples=50)
def test_any_operation_is_applied_undone_and_replayed(operation):
    """All operations, generated: the record gives the same again, undo the painting before."""
    document = prepared()
    before = document.painting
    try:
        document.apply(operation)
    except InputError:
        assert document.painting is before
        return
    after = document.painting
    record = json.loads(json.dumps(document.records[-1]))
    again, _ = operation_from_record(record).apply(before)
    assert same_painting(again, after)
    document.undo()
    assert document.painting is before
    document.redo()
    assert same_painting(document.painting, after)


@given(st.tuples(*every_operation()))
@settings(max_examples=1)
def test_all_operations_are_generated(each):
    assert {one.op for one in each} == set(OPERATIONS)


# --- both ways --------------------------------------------------------------------------------------------


def test_a_dataclass_and_its_record():
    guide = HeadGuide(x=3.5, kind="animal")
    assert records.to_record(guide) == {"kind": "animal", "x": 3.5}
    assert records.to_record(guide, whole=True)["ears"] == guide.ears
    assert records.from_record(HeadGuide, records.to_record(guide)) == guide
    brush = HARD.driven("size", amount=0.5)
    assert records.from_record(Brush, json.loads(json.dumps(records.to_record(brush)))) == brush


def test_changes_are_read_by_the_types_of_their_fields():
    with pytest.raises(InputError, match=r"changes\.x: expected a number, got 'a'"):
        records.changes_from(HeadGuide, {"x": "a"}, ("x",))
    with pytest.raises(InputError, match="changes: expected one of x, got 'y'"):
        records.changes_from(HeadGuide, {"y": 1}, ("x",))


def test_types_that_records_cannot_hold_are_our_own_mistake():
    with pytest.raises(TypeError):
        records.read_as(set[int], [], "here")


def test_the_settings_of_a_new_document_are_read_as_strictly():
    with pytest.raises(InputError, match=r"begin\.ppi: expected a number"):
        new_document(10, 10, ppi="many")
