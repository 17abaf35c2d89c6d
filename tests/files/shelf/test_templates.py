"""Templates: what is kept of parts, and what comes of them in another painting."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest

from japanner.errors import FileFormatError, InputError, SaveError
from japanner.files.shelf.templates import forget_template, keep_template, kept_templates, template_in, templates_folder
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.document.document import Document, new_document, replayed
from japanner.painting.operations import (
    AddMask,
    Fill,
    SetFrisket,
    SetMaquette,
    SetPart,
    operation_from_record,
    template_of,
    to_record,
)
from japanner.painting.picture.compositor import flattened
from japanner.scripting import Script
from tests.paintings import same_painting


@pytest.fixture
def heads(monkeypatch, tmp_path):
    """A head of two parts on a ground, with mask, comb and a form each."""
    monkeypatch.setenv("JAPANNER_STATE", str(tmp_path))
    script = Script.new(200, 160, title="Heads")
    ground, head, eyes = script.part("Ground"), script.part("Head", "fur"), script.part("Eyes", "eye")
    script.do(Fill(script.layer(ground, "flat"), (0.1, 0.1, 0.2), "canvas"))
    script.do(SetFrisket({"shape": "oval", "x0": 50, "y0": 30, "x1": 150, "y1": 130}))
    flat = script.layer(head, "flat")
    script.do(Fill(flat, (0.6, 0.4, 0.3)))
    script.do(AddMask(script.layer(head, "shadow", mode="Multiply", strength=0.7)))
    script.do(SetFrisket({"shape": "oval", "x0": 80, "y0": 60, "x1": 95, "y1": 75}))
    script.do(Fill(script.layer(eyes, "flat"), (0.9, 0.9, 0.9)))

    script.do(SetPart(head, {"scale": [8, 25, 45, 66, 88]}))
    pieces = (
        Piece("Skull", "ball", part=head),
        Piece("Eye", "ball", part=eyes, place=(0.2, 0.1, 0.5), size=(0.2,) * 3),
    )
    script.do(SetMaquette(Maquette(pieces, middle=(100.0, 80.0), unit_px=50.0).to_record()))
    return script.painting


def test_parts_are_kept_with_a_picture_and_dropped_into_another_painting(heads):
    head, eyes = heads.parts[1:]
    path = keep_template(heads, [head.uid, eyes.uid], "Otter head")
    (kept,) = kept_templates()
    assert (kept.name, kept.path) == ("Otter head", path)
    assert kept.picture.startswith(b"\x89PNG")
    other = new_document(400, 300)
    other.apply(template_in(path))
    found = other.painting.parts
    assert [(part.name, part.material) for part in found] == [("Head", "fur"), ("Eyes", "eye")]
    assert found[0].scale == (8, 25, 45, 66, 88)
    assert [layer.mode for layer in found[0].layers] == ["Normal", "Multiply"]
    assert found[0].layers[1].mask is not None
    here, there = (flattened(replace(one, ground=(0, 0, 0), parts=parts)).read(one.rect)
                   for one, parts in ((heads, heads.parts[1:]), (other.painting, found)))  # fmt: skip
    assert np.array_equal(here, there[:, 70:230, 100:300]), "in the middle, to the last bit"
    pieces = other.painting.maquette.pieces
    assert [one.part for one in pieces] == [found[0].uid, found[1].uid]
    assert other.painting.maquette.middle == (200.0, 150.0)
    forget_template(path)
    assert kept_templates() == []


def test_a_second_drop_has_numbers_and_forms_of_its_own(heads):
    template = template_of(heads, [part.uid for part in heads.parts[1:]])
    document = Document(heads, records=[])
    document.apply(replace(template, x=30.0, y=-20.0))
    painting = document.painting
    assert len(painting.parts) == 5
    uids = [part.uid for part in painting.parts] + [layer.uid for _, layer in painting.layers()]
    assert len(set(uids)) == len(uids)
    assert len(painting.maquette.pieces) == 4
    moved, old = painting.maquette.pieces[2], painting.maquette.pieces[0]
    assert moved.part == painting.parts[3].uid
    assert (moved.place[0] - old.place[0], moved.place[1] - old.place[1]) == pytest.approx((30 / 50, 20 / 50))
    document.undo()
    assert same_painting(document.painting, heads)


def test_sized_it_is_as_large_as_asked_for(heads):
    template = replace(template_of(heads, [heads.parts[1].uid]), times=0.5)
    other = new_document(200, 160)
    other.apply(template)
    bounds = other.painting.parts[0].flats[0].pixels.bounds()
    assert (bounds.width, bounds.height) == pytest.approx((50, 50), abs=2)
    assert other.painting.maquette.unit_px == 25


def test_it_is_replayed_from_its_record(heads):
    document = new_document(300, 200)
    document.apply(replace(template_of(heads, [part.uid for part in heads.parts]), x=3.0, times=1.3))
    again = replayed(new_document(300, 200).painting, document.records[1:])
    assert same_painting(again, document.painting)
    record = json.loads(json.dumps(to_record(template_of(heads, [heads.parts[1].uid]))))
    assert json.loads(json.dumps(to_record(operation_from_record(record)))) == record


def test_what_cannot_be_kept_or_dropped_is_said(heads, tmp_path, monkeypatch):
    with pytest.raises(InputError, match="Choose a part"):
        keep_template(heads, [], "None")
    for name in ("", "  ", "a/b", ".hidden"):
        with pytest.raises(InputError):
            keep_template(heads, [heads.parts[0].uid], name)
    path = keep_template(heads, [heads.parts[1].uid], "Head")
    path.write_bytes(path.read_bytes()[:300])
    with pytest.raises(FileFormatError):
        template_in(path)
    templates_folder().rename(tmp_path / "away")
    (tmp_path / "templates").write_text("a file where the folder should be")
    with pytest.raises(SaveError):
        keep_template(heads, [heads.parts[1].uid], "Head")
    assert kept_templates() == []
