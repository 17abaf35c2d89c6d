"""The painting at a fraction of its size, kept up with it; a picture shown reduced first and in full later."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.painting.model import Painting
from japanner.painting.operations import AddMask, DropFrisket, Fill, SetFrisket, SetLayer, SetPart
from japanner.painting.picture.picture import Picture
from japanner.painting.picture.reduced import reduced
from japanner.painting.picture.small import Small, SmallKeeper
from japanner.raster.geometry import Rect
from japanner.scripting import Script
from japanner.stroke.brush import Brush
from tests.paintings import same_pixels

BRUSH = Brush("Any", size_px=90, strength=0.7, edge=0.4)
OVAL = {"shape": "oval", "x0": 200, "y0": 100, "x1": 900, "y1": 600}


def two_parts() -> Script:
    script = Script.new(1100, 700, ground=(0.2, 0.25, 0.3))
    for name in ("One", "Two"):
        part = script.part(name)
        script.do(SetFrisket(OVAL))
        script.do(Fill(script.layer(part, "flat"), (0.5, 0.4, 0.3)))
        script.do(DropFrisket())
        layer = script.layer(part, "light", mode="Soft Light")
        script.stroke(layer, BRUSH, (0.9, 0.8, 0.7), [(100, 100, 1), (900, 500, 1)])
    return script


@pytest.fixture
def begun() -> Script:
    return two_parts()


SCRIPT = two_parts()
BEGUN = len(SCRIPT.document.records)


def same_small(one: Painting, other: Painting) -> bool:
    pairs = [
        (a, b)
        for (_, first), (_, second) in zip(one.layers(), other.layers(), strict=True)
        for (_, a), (_, b) in zip(first.rasters(), second.rasters(), strict=True)
    ]
    frisket = one.frisket, other.frisket
    if None not in frisket:
        pairs.append(tuple(found.sheet for found in frisket))
    return (frisket[0] is None) == (frisket[1] is None) and all(same_pixels(a, b) for a, b in pairs)


place = st.tuples(st.floats(0, 1100), st.floats(0, 700), st.floats(0.2, 1))
steps = st.one_of(
    st.tuples(st.just("stroke"), st.integers(0, 3), st.lists(place, min_size=1, max_size=3)),
    st.tuples(st.sampled_from(["undo", "redo", "mask", "frisket", "free", "hide", "show"]), st.integers(0, 3)),
)


@pytest.mark.parametrize("step", [2, 8])
@settings(max_examples=6)
@given(todo=st.lists(steps, min_size=1, max_size=6))
def test_what_is_kept_up_is_what_would_be_made_anew(step, todo):
    begun, small = SCRIPT, Small(step)
    small.of(begun.painting)
    for what, index, *rest in todo:
        part = begun.painting.parts[index // 2]
        layer = part.layers[index % 2]
        if what == "stroke":
            begun.stroke(layer.uid, BRUSH, (0.3, 0.6, 0.9), rest[0])
        elif what == "redo" or (what == "undo" and len(begun.document.records) > BEGUN):
            getattr(begun.document, what)()
        elif what == "mask":
            begun.do(AddMask(layer.uid) if layer.mask is None else SetLayer(layer.uid, {"strength": 0.5}))
        elif what == "frisket" or (what == "free" and begun.painting.frisket is not None):
            begun.do(SetFrisket(OVAL) if what == "frisket" else DropFrisket())
        elif what in ("hide", "show"):
            begun.do(SetPart(part.uid, {"shown": what == "show"}))
        assert same_small(small.of(begun.painting), reduced(begun.painting, step)), what


def test_only_what_has_changed_is_made_anew(begun):
    small = Small(4)
    before = small.of(begun.painting)
    begun.stroke(begun.painting.parts[0].layers[1].uid, BRUSH.with_changes(size_px=20.0), (1, 1, 1), [(50, 50, 1)])
    after = small.of(begun.painting)
    for (_, one), (_, other) in zip(before.layers(), after.layers(), strict=True):
        assert (one.pixels is other.pixels) == (one.uid != begun.painting.parts[0].layers[1].uid)
    assert small.of(begun.painting) is after


def test_the_keeper_has_it_soon_and_only_if_it_is_small(begun, monkeypatch):
    keeper = SmallKeeper()
    assert keeper.ready(4) is None
    keeper.prepare(begun.painting, 4)
    keeper.wait()
    assert keeper.ready(4).step == 4
    assert keeper.ready(2) is None
    keeper.prepare(begun.painting, 1)
    assert keeper.ready(1) is None
    monkeypatch.setattr("japanner.painting.picture.small.MOST_BYTES", 1000)
    keeper.prepare(begun.painting, 2)
    keeper.wait()
    assert keeper.ready(2) is None


def test_shown_reduced_at_once_and_in_full_when_there_is_time(begun):
    picture, small = Picture(begun.painting), Small(4)
    small.of(begun.painting)
    former = [level.copy() for level in picture.levels]
    begun.stroke(begun.painting.parts[0].layers[0].uid, BRUSH, (0.9, 0.2, 0.1), [(200, 200, 1), (700, 400, 1)])
    area = Rect(150, 150, 750, 450)
    picture.show_small(small.of(begun.painting), [area.reduced(4)], 2)
    whole = Picture(begun.painting)
    assert np.array_equal(picture.levels[0], former[0])
    assert (picture.levels[2] != former[2]).any()
    gap = np.abs(channels(picture.levels[2]) - channels(whole.levels[2]))
    assert gap.mean() < 0.3
    assert gap.max() <= 24
    assert picture.value_at(450, 300) == pytest.approx(whole.value_at(450, 300), abs=0.05)
    picture.put_off(begun.painting, [area])
    assert picture.behind
    picture.settle(2)
    assert picture.behind  # at that level it is shown already
    picture.settle(0, Rect(300, 300, 310, 310))
    assert np.array_equal(picture.levels[0][256:450, 256:512], whole.levels[0][256:450, 256:512])
    areas = []
    while picture.behind:
        areas += picture.catch_up(2)
    assert len(areas) > 3
    for one, other in zip(picture.levels, whole.levels, strict=True):
        assert np.array_equal(one, other)


def channels(pixels):
    return np.stack([pixels >> shift & 255 for shift in (16, 8, 0)]).astype(int)
