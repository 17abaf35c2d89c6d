"""What a file holds already is copied when it is saved again, and nothing that has changed is."""

from __future__ import annotations

import json
import os
import zipfile

import numpy as np
import pytest

from japanner.files import ora_layers, ora_write, png
from japanner.files.opening import open_painting
from japanner.painting.document.document import SAVED
from japanner.painting.operations import AddMask, AddPicture, SetLayer
from japanner.raster.codec import to_text
from tests.paintings import HARD, same_painting


@pytest.fixture
def encoded(monkeypatch):
    """The pictures that are encoded, by their shapes."""
    made = []

    def encode(pixels, ppi=None):
        made.append(pixels.shape)
        return png_encode(pixels, ppi)

    png_encode = png.encode
    monkeypatch.setattr(ora_layers.png, "encode", encode)
    return made


MERGED_AND_THUMBNAIL = 2


def as_written(records):
    """JSON knows lists alone."""
    return json.loads(json.dumps(list(records)))


def test_only_what_changed_is_made_anew(script, tmp_path, encoded):
    path = tmp_path / "a.ora"
    part = script.painting.parts[0].uid
    shade = script.layer(part, "shadow", mode="Multiply")
    script.stroke(shade, HARD, (0.5, 0.6, 0.7), [(60, 230, 1.0), (300, 60, 1.0)])  # beyond the silhouette
    script.do(AddMask(shade))
    stored = ora_write.write(script.painting, path, script.document.records)
    encoded.clear()
    stored = ora_write.write(script.painting, path, script.document.records, stored=stored)
    assert len(encoded) == MERGED_AND_THUMBNAIL
    light = script.painting.parts[0].layers[1].uid
    script.stroke(light, HARD, (0.9, 0.8, 0.7), [(140, 140, 1.0), (180, 150, 1.0)])
    encoded.clear()
    ora_write.write(script.painting, path, script.document.records, stored=stored)
    assert 1 <= len(encoded) - MERGED_AND_THUMBNAIL <= 2  # the layer, and what clipping takes from it
    opened = open_painting(path)
    assert same_painting(opened.painting, script.painting)
    assert as_written(opened.records) == as_written([*script.document.records, SAVED])


def test_what_was_read_is_copied_and_the_same_as_if_it_were_not(script, tmp_path, encoded):
    ora_write.write(script.painting, tmp_path / "a.ora", script.document.records)
    opened = open_painting(tmp_path / "a.ora")
    encoded.clear()
    ora_write.write(opened.painting, tmp_path / "b.ora", opened.records, stored=opened.stored)
    assert len(encoded) == MERGED_AND_THUMBNAIL
    with zipfile.ZipFile(tmp_path / "a.ora") as one, zipfile.ZipFile(tmp_path / "b.ora") as other:
        assert one.namelist() == other.namelist()
        for name in one.namelist():
            assert one.read(name) == other.read(name), name


def test_a_silhouette_that_changed_clips_its_layers_anew(script, tmp_path):
    path = tmp_path / "a.ora"
    stored = ora_write.write(script.painting, path)
    flat = script.painting.parts[0].layers[0].uid
    script.stroke(flat, HARD.with_changes(kind="wipe", size_px=60), (0, 0, 0), [(120, 120, 1.0), (180, 120, 1.0)])
    ora_write.write(script.painting, path, stored=stored)
    ora_write.write(script.painting, tmp_path / "anew.ora")
    with zipfile.ZipFile(path) as one, zipfile.ZipFile(tmp_path / "anew.ora") as other:
        for name in other.namelist():
            assert one.read(name) == other.read(name), name


def test_settings_alone_change_no_pictures(script, tmp_path, encoded):
    stored = ora_write.write(script.painting, tmp_path / "a.ora")
    light = script.painting.parts[0].layers[1].uid
    script.do(SetLayer(light, {"mode": "Screen", "strength": 0.3}))
    encoded.clear()
    ora_write.write(script.painting, tmp_path / "a.ora", stored=stored)
    assert len(encoded) == MERGED_AND_THUMBNAIL
    assert open_painting(tmp_path / "a.ora").painting.parts[0].layers[1].mode == "Screen"


@pytest.mark.parametrize("how", ["torn", "another", "gone"])
def test_a_file_that_is_another_one_by_now_is_not_copied_from(script, tmp_path, how):
    path = tmp_path / "a.ora"
    stored = ora_write.write(script.painting, path)
    found = path.stat()
    if how == "gone":
        path.unlink()
    elif how == "another":
        path.write_bytes(b"something else")
    else:  # as long and as old as before
        data = bytearray(path.read_bytes())
        data[len(data) // 4 : 3 * len(data) // 4] = bytes(len(data) // 2)
        path.write_bytes(data)
        os.utime(path, ns=(found.st_atime_ns, found.st_mtime_ns))
    ora_write.write(script.painting, tmp_path / "b.ora", stored=stored)
    assert same_painting(open_painting(tmp_path / "b.ora").painting, script.painting)


def test_records_are_packed_once_and_their_pictures_are_entries(script, tmp_path):
    path = tmp_path / "a.ora"
    rng = np.random.default_rng(1)
    pixels = rng.integers(0, 65536, (4, 40, 40)).astype(np.uint16)
    script.do(AddPicture(script.painting.parts[0].uid, to_text(pixels)))
    stored = ora_write.write(script.painting, path, script.document.records)
    packed = list(stored.journal._packed)
    with zipfile.ZipFile(path) as file:
        pictures = [name for name in file.namelist() if name.startswith("japanner/pictures/")]
        assert len(pictures) == 1
        assert b"iVBOR" not in b"".join(packed)
        assert np.array_equal(png.read(file.read(pictures[0]), "it").pixels, pixels)
    opened = open_painting(path)
    script.stroke(script.painting.parts[0].layers[0].uid, HARD, (0.2, 0.3, 0.4), [(99, 99, 1.0)])
    for start, to in ((stored, "b.ora"), (opened.stored, "c.ora")):
        records = script.document.records if start is stored else [*opened.records, script.document.records[-1]]
        after = ora_write.write(script.painting, tmp_path / to, records, stored=start)
        assert len(after.journal._packed) == 2  # what was there is as it was, and one more
        again = open_painting(tmp_path / to)
        assert [one["op"] for one in again.records if one["op"] != "saved"] == [
            one["op"] for one in script.document.records if one["op"] != "saved"
        ]
        assert as_written(again.records[-2:]) == as_written([script.document.records[-1], SAVED])


def test_undone_work_that_others_took_the_place_of_is_packed_anew(script, tmp_path):
    stored = ora_write.write(script.painting, tmp_path / "a.ora", script.document.records)
    other = [*script.document.records[:-1], {"op": "undo"}]
    ora_write.write(script.painting, tmp_path / "b.ora", other, stored=stored)
    assert as_written(open_painting(tmp_path / "b.ora").records) == as_written([*other, SAVED])
