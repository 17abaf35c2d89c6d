"""Operations: records, replay, undo; all change comes about through them."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.painting.document.document import begun, new_document, replayed, standing_records
from japanner.painting.model import MATERIALS, PLACES, ROLES
from japanner.painting.operations import (
    OPERATIONS,
    AddLayer,
    AddPart,
    DeleteLayer,
    DeletePart,
    DuplicateLayer,
    MoveLayer,
    MovePart,
    SetLayer,
    SetLight,
    SetPainting,
    SetPart,
    Stroke,
    operation_from_record,
    to_record,
)
from japanner.raster.modes import MODES
from japanner.stroke.brush import Brush
from japanner.stroke.brush.shipped import shipped_brushes
from tests.paintings import HARD, same_painting

BRUSHES = [brush.with_changes(size_px=min(brush.size_px, 40)) for brush in shipped_brushes()]


def pick(draw, items):
    return draw(st.sampled_from(items)) if items else None


@st.composite
def an_operation(draw, painting):
    """Any operation that makes sense on the painting."""
    layers = [layer.uid for _, layer in painting.layers()]
    parts = [part.uid for part in painting.parts]
    kinds = ["part", "light", "painting"]
    kinds += ["layer", "set part", "move part", "delete part"] if parts else []
    kinds += ["stroke"] * 6 + ["set layer", "move layer", "duplicate", "delete layer"] if layers else []
    kind = draw(st.sampled_from(kinds))
    unit = st.floats(0, 1)
    if kind == "stroke":
        point = st.tuples(st.floats(-20, 180), st.floats(-20, 140), unit)
        rows = tuple(draw(st.lists(point, min_size=1, max_size=5)))
        colour = (draw(unit), draw(unit), draw(unit))
        return Stroke(pick(draw, layers), pick(draw, BRUSHES).to_record(), colour, rows, wipe=draw(st.booleans()))
    if kind == "set layer":
        changes = draw(
            st.sampled_from([("mode", list(MODES)), ("place", PLACES), ("role", ROLES), ("shown", [True, False])])
        )
        return SetLayer(pick(draw, layers), {changes[0]: draw(st.sampled_from(changes[1]))})
    if kind == "set part":
        return SetPart(pick(draw, parts), {"strength": draw(unit), "shown": draw(st.booleans())})
    makers = {
        "part": lambda: AddPart("Part", draw(st.sampled_from(MATERIALS))),
        "light": lambda: SetLight(draw(st.floats(-90, 90)), draw(st.floats(-180, 180))),
        "painting": lambda: SetPainting({"ground": [draw(unit)] * 3, "title": "Another"}),
        "layer": lambda: AddLayer(pick(draw, parts), draw(st.sampled_from(ROLES)), place=draw(st.sampled_from(PLACES))),
        "move part": lambda: MovePart(pick(draw, parts), draw(st.integers(0, len(parts) - 1))),
        "delete part": lambda: DeletePart(pick(draw, parts)),
        "move layer": lambda: MoveLayer(pick(draw, layers), 0),
        "duplicate": lambda: DuplicateLayer(pick(draw, layers)),
        "delete layer": lambda: DeleteLayer(pick(draw, layers)),
    }  # fmt: skip
    return makers[kind]()


@st.composite
def a_history(draw):
    """A document after some operations, with undo and redo among them, and all the values it went through."""
    document = new_document(160, 120)
    document.apply(AddPart("First"))
    document.apply(AddLayer(1, "flat"))
    document.apply(Stroke(2, HARD.to_record(), (0.5, 0.4, 0.3), ((70, 60, 1.0),)))
    values = [document.painting]
    for _ in range(draw(st.integers(1, 10))):
        what = draw(st.sampled_from(["do", "do", "do", "undo", "redo"]))
        if what == "do":
            document.apply(draw(an_operation(document.painting)))
        elif what == "undo":
            document.undo()
        else:
            document.redo()
        values.append(document.painting)
    return document, values


@settings(max_examples=40)
@given(a_history())
def test_replay_from_json_is_bit_exact(history):
    document, _ = history
    records = json.loads(json.dumps(document.records))
    assert same_painting(begun(records), document.painting)


@settings(max_examples=40)
@given(a_history())
def test_undo_restores_every_byte_and_redo_brings_it_back(history):
    document, _ = history
    steps = []
    while True:
        before = document.painting
        if document.undo() is None:
            break
        steps.append((before, document.painting))
    assert not document.painting.parts
    for before, undone in reversed(steps):
        assert document.painting is undone
        document.redo()
        assert same_painting(document.painting, before)
    assert same_painting(begun(json.loads(json.dumps(document.records))), document.painting)


@settings(max_examples=20)
@given(st.data())
def test_operations_survive_json(data):
    document = new_document(160, 120)
    document.apply(AddPart("First"))
    document.apply(AddLayer(1, "flat"))
    operation = data.draw(an_operation(document.painting))
    record = json.loads(json.dumps(to_record(operation)))
    again = to_record(operation_from_record(record))
    assert json.loads(json.dumps(again)) == record
    assert again["op"] == operation.op


def test_an_operation_leaves_the_former_painting_alone(script):
    before = script.painting
    pixels = before.parts[0].layers[0].pixels.read(before.rect)
    script.stroke(before.parts[0].layers[0].uid, HARD, (1, 1, 1), [(160, 120, 1.0)])
    assert script.painting is not before
    assert np.array_equal(before.parts[0].layers[0].pixels.read(before.rect), pixels)


def test_a_live_stroke_is_the_same_as_its_operation(script):
    uid = script.painting.parts[0].layers[0].uid
    before = script.painting
    script.stroke(uid, Brush("Mop", size_px=70), (1, 0.5, 0.2), [(100, 100, 0.5), (180, 130, 1.0), (200, 90, 0.2)])
    again, _ = operation_from_record(json.loads(json.dumps(script.document.records[-1]))).apply(before)
    assert same_painting(again, script.painting)


# Undo and redo among the records cancel; what was undone and then painted over is gone.
def test_records_that_still_count():
    a, b, c, undo, redo = {"op": "a"}, {"op": "b"}, {"op": "c"}, {"op": "undo"}, {"op": "redo"}
    assert standing_records([a, b, undo, c]) == [a, c]
    assert standing_records([a, b, undo, redo]) == [a, b]
    assert standing_records([a, undo, undo, b, redo]) == [b]
    assert standing_records([redo, undo]) == []


@pytest.mark.parametrize(
    ("record", "words"),
    [
        ({"op": "explode"}, "op: expected one of stroke"),
        ({}, "op: expected one of"),
        ([], "operation: expected a record"),
        ({"op": "add part"}, "add part: name is missing"),
        ({"op": "add part", "name": "A", "size": 3}, "add part: 'size' is not one of its fields"),
        ({"op": "set light", "up_deg": 200, "right_deg": 0}, "up_deg: expected -90 to 90, got 200"),
        ({"op": "set layer", "layer": 2, "changes": {"uid": 9}}, "changes: expected one of name, role"),
        ({"op": "set layer", "layer": 2, "changes": {"strength": 7}}, "strength: expected 0 to 1, got 7"),
        ({"op": "move layer", "layer": 2, "index": 5}, "index: expected 0 to 0, got 5"),
        ({"op": "delete part", "part": 99}, "part: expected one of the painting's parts, got 99"),
        ({"op": "set part", "part": 1, "changes": {"scale": [1, 2]}}, "changes.scale: expected a list of 5"),
        ({"op": "stroke", "layer": 2, "brush": {}, "colour": [0, 0, 0], "samples": [[1, 2]]}, "brush: "),
        ({"op": "stroke", "layer": 2, "brush": {"name": "A"}, "colour": [0, 0], "samples": [[1, 2]]}, "colour: "),
        ({"op": "stroke", "layer": 2, "brush": {"name": "A"}, "colour": [0, 0, 0], "samples": [[1]]}, "samples: "),
        ({"op": "set painting", "changes": {"ground": [0, 0, 9]}}, "colour: expected 0 to 1, got 9"),
        ({"op": "set painting", "changes": {"width": 9}}, "changes: expected one of title, ppi, ground"),
    ],
)  # fmt: skip
def test_bad_records_are_refused_and_change_nothing(record, words):
    document = new_document(50, 50)
    document.apply(AddPart("A"))
    document.apply(AddLayer(1, "flat"))
    before, count = document.painting, len(document.records)
    with pytest.raises(ValueError, match=words):
        document.apply(operation_from_record(record))
    assert document.painting is before
    assert len(document.records) == count


def test_every_operation_says_in_words_what_it_did(script):
    assert all(op == kind.op for op, kind in OPERATIONS.items())
    assert script.document.undo_words == "add layer Light"
    script.do(SetLayer(3, {"mode": "Screen"}))
    assert script.document.undo_words == "mode of layer Light"


def test_replaying_on_a_file_begins_where_the_file_ends(script):
    base, count = script.painting, len(script.document.records)
    script.stroke(3, HARD, (1, 1, 1), [(160, 120, 1.0)])
    assert same_painting(replayed(base, script.document.records[count:]), script.painting)
