"""Former paintings are packed and come back to the last bit, from memory and from disk."""

from __future__ import annotations

import os

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.painting.document import document as module
from japanner.painting.document.document import Document, new_document
from japanner.painting.document.packed import Packed, Packer, pack
from japanner.painting.model import Painting
from japanner.painting.operations import AddLayer, AddPart, DeleteLayer, FrameCanvas, Stroke
from japanner.stroke.brush import Brush
from tests.paintings import HARD, same_painting
from tests.strategies import operations, prepared


@pytest.fixture
def packs_all(monkeypatch):
    """All but the last step is to be packed."""
    monkeypatch.setattr(module, "RECENT", 1 << 60)


def exact(one: Painting, other: Painting) -> bool:
    """Equal, memory of nudges and hair included."""
    for (_, mine), (_, theirs) in zip(one.layers(), other.layers(), strict=True):
        if (mine.warp is None) != (theirs.warp is None) or (mine.laid is None) != (theirs.laid is None):
            return False
        if mine.laid is not None and (mine.laid.of is mine.pixels) != (theirs.laid.of is theirs.pixels):
            return False
        if mine.warp is not None and (mine.warp.pixels is mine.pixels) != (theirs.warp.pixels is theirs.pixels):
            return False
    return same_painting(one, other)


@pytest.mark.usefixtures("packs_all")
@pytest.mark.parametrize("spilled", [False, True])
@settings(max_examples=5)
@given(st.lists(operations(), min_size=2, max_size=4))
def test_whatever_was_done_is_undone_and_redone_to_the_bit(tmp_path_factory, spilled, todo):
    document = Document(prepared().painting)
    stages, folder = [document.painting], tmp_path_factory.mktemp("spill")
    for one in todo:
        try:
            document.apply(one)
        except InputError:
            continue
        stages.append(document.painting)
    seen = list(stages)
    while found := document.to_pack():
        step, former, after = found[0]
        packed = pack(former, after)
        packed._itself = lambda: None  # as if nobody held it any more
        if spilled:
            packed.spill(folder)
        document.packed(step, packed)
    assert all(isinstance(one.kept, Packed) or one.cost == 0 for one in list(document._past)[:-1])
    assert not os.listdir(folder)  # what is spilled has no name
    for expected in reversed(seen[:-1]):
        document.undo()
        assert exact(document.painting, expected)
    for expected in seen[1:]:
        document.redo()
        assert exact(document.painting, expected)
    assert document.spilled_bytes == 0


def long_document() -> tuple[Document, list[Painting]]:
    document = new_document(600, 520)
    document.apply(AddPart("A"))
    document.apply(AddLayer(1, "flat"))
    document.apply(AddLayer(1, "strands", name="Fur"))
    brushes = [HARD, Brush("Fur", kind="fur", size_px=90), HARD.with_changes(kind="nudge", size_px=80), HARD]
    stages = []
    for number in range(12):
        layer, brush = 2 + number % 2, brushes[number % 4]
        line = ((100 + 25 * number, 100, 1.0), (420, 460 - 9 * number, 0.7))
        document.apply(Stroke(layer, brush.to_record(), (0.8, number / 40, 0.2), line, seed=number))
        stages.append(document.painting)
    document.apply(DeleteLayer(2))
    stages.append(document.painting)
    document.apply(FrameCanvas(50, 40, 500, 400))
    stages.append(document.painting)
    return document, stages


def test_long_ago_takes_a_part_of_the_room_and_then_the_disk(tmp_path):
    document, stages = long_document()
    whole = document.undo_bytes
    document.limit_bytes = whole  # a quarter lies as it is
    Packer(tmp_path).settle(document)
    assert document.undo_bytes < 0.6 * whole
    assert document.spilled_bytes > 0
    assert document.undo_bytes == sum(one.cost for one in document._past)
    for expected in reversed(stages[:-1]):
        document.undo()
        assert exact(document.painting, expected)
    while document.redo():
        pass
    assert exact(document.painting, stages[-1])


def test_the_number_of_steps_is_bounded():
    document, _ = long_document()
    document.limit_steps = 5
    document.apply(AddPart("B"))
    assert len(document._past) == 5


def test_kept_moments_count():
    document, stages = long_document()
    document.count_held([stages[5], stages[9]])
    present = {id(tile) for _, raster in document.painting.rasters() for tile in raster.tiles.values()}
    held = {id(t): t.nbytes for one in (stages[5], stages[9]) for _, r in one.rasters() for t in r.tiles.values()}
    assert document.held_bytes == sum(size for one, size in held.items() if one not in present) > 0
    steps = len(document._past)
    document.limit_bytes = document.undo_bytes
    document.count_held([stages[5], stages[9]])
    assert len(document._past) < steps
    document.count_held([])
    assert document.held_bytes == 0


def test_a_disk_that_refuses_keeps_it_in_memory(tmp_path):
    document, stages = long_document()
    document.limit_bytes = document.undo_bytes
    (tmp_path / "no folder").write_text("")
    Packer(tmp_path / "no folder").settle(document)
    assert document.spilled_bytes == 0
    document.undo()
    assert exact(document.painting, stages[-2])


def test_what_somebody_holds_comes_back_as_itself():
    """So that the painting that was saved is known to be that."""
    document, stages = long_document()
    packed = pack(stages[3], stages[4])
    assert packed.painting(stages[4]) is stages[3]
    assert document.painting is stages[-1]


@pytest.mark.usefixtures("packs_all")
def test_steps_that_went_meanwhile_are_not_missed(tmp_path):
    document, _ = long_document()
    step, former, after = document.to_pack()[0]
    document.begin_here()
    document.packed(step, pack(former, after))
    assert document.undo_bytes == document.spilled_bytes == 0
    other, _ = long_document()
    packer = Packer(tmp_path)
    packer.tick(document)
    packer.tick(other)
    packer.settle(other)
    assert all(isinstance(one.kept, Packed) or one.cost == 0 for one in list(other._past)[:-1])


@pytest.mark.usefixtures("packs_all")
def test_the_next_step_is_unpacked_ahead(tmp_path):
    document, stages = long_document()
    packer = Packer(tmp_path)
    packer.settle(document)
    document.undo()
    assert isinstance(document._past[-1].kept, Packed)
    packer.tick(document)
    packer._work.result()
    packer.tick(document)
    assert not isinstance(document._past[-1].kept, Packed)
    assert document.undo_bytes == sum(one.cost for one in document._past) + sum(one.cost for one in document._future)
    document.undo()
    assert exact(document.painting, stages[-3])
