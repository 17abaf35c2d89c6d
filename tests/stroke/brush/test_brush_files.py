"""Files of brushes: what is right in them is used, what is wrong is named."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.stroke.brush import BRUSH_KINDS, TIPS, Brush
from japanner.stroke.brush.files import brushes_from_text, text_of_brushes
from japanner.stroke.brush.shipped import shipped_brushes
from tests.stroke.brush.test_brush_and_pen import brushes

JSON = st.recursive(
    st.none() | st.booleans() | st.floats() | st.integers() | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3),
    max_leaves=8,
)


def file(*records, fmt=2):
    return json.dumps({"format": fmt, "brushes": list(records)})


@given(st.lists(brushes(), min_size=1, max_size=3))
def test_brushes_survive_their_file(many):
    assert brushes_from_text(text_of_brushes(many)) == (many, [])


@pytest.mark.parametrize(
    ("record", "words"),
    [
        ({"wings": 2}, "wings is not a setting"),
        ({"size_px": "large"}, "size_px: expected a number"),
        ({"size_px": 9000}, "size_px: expected 1 to 2000, got 9000"),
        ({"kind": "spray"}, "kind: expected one of"),
        ({"grain": "moon"}, "grain: expected one of"),
        ({"even": 1}, "even: expected true or false"),
        ({"drives": 4}, "drives: expected a list"),
        ({"drives": [{"setting": "size", "source": "moon"}]}, "source: expected one of"),
        ({"drives": [{"wings": 1}]}, "wings"),
        ({"image": "no picture"}, "image"),
        ({"tip": "image"}, "an image tip needs a picture"),
        ({"per_step": 2.5}, "per_step: expected a whole number"),
    ],
)
def test_a_wrong_setting_is_named_and_has_its_default(record, words):
    found, wrong = brushes_from_text(file({"name": "Odd", "strength": 0.4, **record}))
    assert found == [Brush("Odd", strength=0.4)]
    assert len(wrong) == 1
    assert words in wrong[0]
    assert "Odd" in wrong[0]


def test_a_brush_without_a_name_is_left_out_and_the_others_are_used():
    found, wrong = brushes_from_text(file({"size_px": 3}, "soup", {"name": "Good"}))
    assert [brush.name for brush in found] == ["Good"]
    assert len(wrong) == 2


@pytest.mark.parametrize("text", ["", "[]", "{}", file(), file({"name": ""}), file({"name": "A"}, fmt=1), "[" * 90000])
def test_files_without_brushes_are_refused(text):
    with pytest.raises(InputError, match="brushes"):
        brushes_from_text(text)


@given(JSON, st.sampled_from(["kind", "size_px", "drives", "image", "grain", "even", "name", "roll"]))
def test_nothing_in_a_file_breaks_anything(value, key):
    try:
        found, _ = brushes_from_text(file({"name": "A", key: value}))
    except InputError:
        return
    assert all(isinstance(brush, Brush) for brush in found)


def test_the_shipped_rolls_cover_the_materials():
    shipped = shipped_brushes()
    assert len(shipped) >= 48
    assert {"skin", "hair", "fur", "eye", "metal", "glass", "cloth", "sketch", "blend", "detail"} <= {
        brush.roll for brush in shipped
    }
    assert {brush.kind for brush in shipped} >= set(BRUSH_KINDS) - {"nudge"}
    assert len({brush.tip for brush in shipped}) >= len(TIPS) - 2
