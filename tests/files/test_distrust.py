"""Files that others wrote, hold, change or break; and what killed processes leave."""

from __future__ import annotations

import errno
import gzip
import json
import os
import stat
import time
import zipfile

import numpy as np
import pytest
from PIL import Image
from pyora import Project

from japanner.errors import FileFormatError, SaveError
from japanner.files import container, growth, ora_read, reading, writing
from japanner.files.open_file import InUseError, OpenFile
from japanner.files.opening import open_painting
from japanner.files.pictures import read_picture
from japanner.files.writing import replacing, sweep, write_json, write_text
from japanner.painting.document.document import SAVED, Document, begun
from japanner.painting.operations import SetMaquette
from japanner.painting.picture.compositor import flattened
from japanner.scripting import Script
from tests.files.reader import composed_by_a_stranger
from tests.paintings import HARD, same_painting

# --- OpenRaster of another library (PyPI pyora 0.3, MIT) -------------------------------------------------


def blot(colour, alpha, box):
    picture = Image.new("RGBA", (64, 48), (0, 0, 0, 0))
    picture.paste(Image.new("RGBA", (box[2] - box[0], box[3] - box[1]), (*colour, alpha)), box[:2])
    return picture


@pytest.fixture
def theirs(tmp_path):
    """Four layers with modes, of which two lie where nothing is beneath; members and src begin with a slash."""
    project = Project.new(64, 48)
    layers = (
        ("a", (200, 60, 40), 255, (4, 4, 40, 40), "svg:src-over", 1.0),
        ("b", (60, 160, 90), 180, (20, 10, 60, 44), "svg:multiply", 0.9),
        ("c", (90, 110, 220), 120, (0, 24, 64, 48), "svg:screen", 0.7),
        ("d", (230, 210, 80), 200, (30, 0, 64, 20), "svg:soft-light", 1.0),
    )
    for name, colour, alpha, box, mode, opacity in layers:
        layer = project.add_layer(blot(colour, alpha, box), f"/{name}")
        layer.composite_op, layer.opacity = mode, opacity
    path = tmp_path / "theirs.ora"
    project.save(str(path))
    assert "/data/layer0.png" in zipfile.ZipFile(path).namelist()
    return path


def on_white(rgba):
    """Straight RGBA (4, h, w) over white."""
    return rgba[:3] * rgba[3] + 1 - rgba[3]


def test_what_that_library_writes_looks_here_as_the_standard_has_it(theirs):
    painting = open_painting(theirs).painting
    ours = flattened(painting).read(painting.rect)[:3] / 65535
    # W3C Compositing and Blending: modes act on nothing where nothing is beneath.
    assert np.abs(ours - on_white(composed_by_a_stranger(theirs))).max() < 1.5 / 255
    assert [layer.name for _, layer in painting.layers()] == ["a", "b", "c", "d"]
    assert [layer.mode for _, layer in painting.layers()] == ["Normal", "Multiply", "Screen", "Soft Light"]


def test_that_library_renders_ours_as_we_do(script, tmp_path):
    """Plain layers; where modes pass through a stack, it blends the stack by itself (what the standard's formulas give
    is tested with a reader of our own).
    """
    part = script.painting.parts[0].uid
    glow = script.layer(part, "glow", place="over", mode="Normal", strength=0.6)
    script.stroke(glow, HARD.with_changes(edge=1.0), (0.4, 0.5, 0.7), [(120, 100, 1.0), (260, 180, 0.6)])
    script.save(tmp_path / "ours.ora")
    project = Project.load(str(tmp_path / "ours.ora"))
    rendered = np.asarray(project.get_image_data().convert("RGB"), int)
    with zipfile.ZipFile(tmp_path / "ours.ora") as archive, archive.open("mergedimage.png") as member:
        merged = np.asarray(Image.open(member).convert("RGB"), int)
    difference = np.abs(rendered - merged)
    assert difference.mean() < 0.7
    assert (difference.max(axis=2) > 3).mean() < 0.0008


@pytest.mark.parametrize("name", ["../a.png", "data/../../a.png", "/../a.png"])
def test_only_what_leaves_the_file_is_refused(theirs, tmp_path, name):
    with zipfile.ZipFile(theirs, "a") as archive:
        archive.writestr(name, b"")
    with pytest.raises(FileFormatError, match="points outside the file"):
        open_painting(theirs)


# --- what is no file --------------------------------------------------------------------------------------


@pytest.mark.parametrize("read", [open_painting, read_picture])
@pytest.mark.parametrize("kind", ["pipe", "folder", "device", "name"])
def test_pipes_devices_and_folders_are_refused_at_once(tmp_path, read, kind):
    path = tmp_path / "a.ora"
    if kind == "pipe":
        os.mkfifo(path)
    elif kind == "folder":
        path.mkdir()
    elif kind == "device":
        path.symlink_to("/dev/zero")
    else:
        path = tmp_path / ("x" * 4000)
    start = time.monotonic()
    with pytest.raises(FileFormatError):
        read(path)
    assert time.monotonic() - start < 5


# --- our own files ----------------------------------------------------------------------------------------


def rewritten(path, to, change):
    """A copy of a file with members changed."""
    with zipfile.ZipFile(path) as good, zipfile.ZipFile(to, "w") as bad:
        for name in good.namelist():
            bad.writestr(name, change(name, good.read(name)))
    return to


def test_own_files_have_the_limits_of_foreign_ones(script, tmp_path, monkeypatch):
    script.save(tmp_path / "a.ora")
    with monkeypatch.context() as patch:
        patch.setattr(ora_read, "MOST_LAYERS", 1)
        with pytest.raises(FileFormatError, match="more than 1 layers"):
            open_painting(tmp_path / "a.ora")
    monkeypatch.setattr(ora_read, "memory_for_pixels_px", lambda: 1000)
    with pytest.raises(FileFormatError, match="too large together for this machine"):
        open_painting(tmp_path / "a.ora")


def test_the_memory_of_the_machine_is_a_limit():
    assert 1e6 < reading.memory_for_pixels_px() < 1e13


def test_a_journal_is_written_up_to_what_is_read(script, tmp_path, monkeypatch):
    script.save(tmp_path / "a.ora")
    assert open_painting(tmp_path / "a.ora").records
    monkeypatch.setattr(growth, "LARGEST_JOURNAL", 100)
    script.save(tmp_path / "b.ora")
    opened = open_painting(tmp_path / "b.ora")
    assert opened.records == ()
    assert same_painting(opened.painting, script.painting)
    assert container.LARGEST_JOURNAL > 200 * 250 * 1000 * 100  # 250 days of a thousand strokes of 100 samples


@pytest.mark.parametrize(
    "damage",
    [lambda data: gzip.compress(b"5\n") + data, lambda data: data[:-9], lambda _: b"none", lambda data: data + b"x"],
)
def test_a_damaged_journal_costs_the_film_and_not_the_painting(script, tmp_path, damage):
    script.save(tmp_path / "a.ora")

    def change(name, data):
        return damage(data) if name == growth.JOURNAL else data

    opened = open_painting(rewritten(tmp_path / "a.ora", tmp_path / "b.ora", change))
    assert same_painting(opened.painting, script.painting)
    assert opened.records == ()
    assert "its film begins anew" in opened.remarks[0]


def test_a_journal_that_unpacks_to_one_endless_line_is_refused(script, tmp_path, monkeypatch):
    script.save(tmp_path / "a.ora")
    monkeypatch.setattr(growth, "LONGEST_LINE", 4 << 20)

    def change(name, data):
        return gzip.compress(bytes(64 << 20)) if name == growth.JOURNAL else data

    opened = open_painting(rewritten(tmp_path / "a.ora", tmp_path / "b.ora", change))
    assert same_painting(opened.painting, script.painting)
    assert opened.records == ()


def test_journals_of_old_are_read_as_they_were_written(script, tmp_path):
    script.save(tmp_path / "a.ora")
    with zipfile.ZipFile(tmp_path / "a.ora") as good, zipfile.ZipFile(tmp_path / "b.ora", "w") as old:
        for name in good.namelist():
            if name == growth.JOURNAL:
                old.writestr(growth.PLAIN, gzip.decompress(good.read(name)))
            else:
                old.writestr(name, good.read(name))
    assert open_painting(tmp_path / "b.ora").records == open_painting(tmp_path / "a.ora").records


def test_files_of_the_first_format_open(script, tmp_path):
    """Format 1 had no engine and "written by" with a blank."""
    script.save(tmp_path / "a.ora")

    def older(name, data):
        if name != "japanner/painting.json":
            return data
        record = json.loads(data)
        record["written by"] = record.pop("written_by")
        del record["engine"]
        return json.dumps({**record, "format": 1}).encode()

    opened = open_painting(rewritten(tmp_path / "a.ora", tmp_path / "b.ora", older))
    assert same_painting(opened.painting, script.painting)
    assert opened.engine == 1


def test_an_empty_maquette_keeps_its_middle(script, tmp_path):
    record = {**script.painting.maquette.to_record(), "middle": [40.0, 50.0], "unit_px": 30.0}
    script.do(SetMaquette(record))
    script.save(tmp_path / "a.ora")
    assert open_painting(tmp_path / "a.ora").painting.maquette == script.painting.maquette


def test_marks_of_saving_are_kept_so_that_the_journal_of_a_file_replays_to_the_bit(script, tmp_path):
    flat = script.painting.parts[0].layers[0].uid
    nudge = HARD.with_changes(kind="nudge", size_px=80)
    script.stroke(flat, nudge, (0, 0, 0), [(120, 100), (160, 120)])
    script.save(tmp_path / "a.ora")
    opened = open_painting(tmp_path / "a.ora")
    assert opened.records[-1] == SAVED
    again = Script(Document(opened.painting, records=opened.records))
    again.stroke(flat, nudge, (0, 0, 0), [(160, 120), (200, 120)])
    again.save(tmp_path / "b.ora")
    later = open_painting(tmp_path / "b.ora")
    assert same_painting(begun(later.records), later.painting)


# --- writing ----------------------------------------------------------------------------------------------


def test_a_symlink_goes_on_pointing_and_rights_are_kept(tmp_path):
    (tmp_path / "real").mkdir()
    target = tmp_path / "real" / "a.json"
    write_text(target, "old")
    target.chmod(0o640)
    (tmp_path / "link.json").symlink_to(target)
    write_json(tmp_path / "link.json", {"a": 1})
    assert (tmp_path / "link.json").is_symlink()
    assert json.loads(target.read_text()) == {"a": 1}
    assert stat.S_IMODE(target.stat().st_mode) == 0o640


def test_a_link_in_a_circle_is_said(tmp_path):
    (tmp_path / "a").symlink_to(tmp_path / "b")
    (tmp_path / "b").symlink_to(tmp_path / "a")
    with pytest.raises(SaveError, match="a was not saved"):
        write_text(tmp_path / "a", "text")


def test_file_and_folder_are_synced_around_the_move(tmp_path, monkeypatch):
    order = []
    fsync, replace = os.fsync, os.replace

    def synced(handle):
        order.append("folder" if stat.S_ISDIR(os.fstat(handle).st_mode) else "file")
        fsync(handle)

    def moved(one, other, **rest):
        order.append("move")
        replace(one, other, **rest)

    monkeypatch.setattr(writing.os, "fsync", synced)
    monkeypatch.setattr("os.replace", moved)
    write_text(tmp_path / "a", "text")
    assert order == ["file", "move", "folder"]


def test_a_full_disk_leaves_the_old_file_and_no_trace(tmp_path):
    write_text(tmp_path / "a", "old")

    def write():
        with replacing(tmp_path / "a") as file:
            file.write(b"ne")
            raise OSError(errno.ENOSPC, "No space left on device")

    with pytest.raises(SaveError, match="no space left"):
        write()
    assert [one.name for one in tmp_path.iterdir()] == ["a"]
    assert (tmp_path / "a").read_text() == "old"


def test_what_killed_saves_left_is_swept_and_nothing_else(tmp_path):
    (tmp_path / ".a.ora.k2j4h5g6.part").write_bytes(b"half")
    (tmp_path / ".other.k2j4h5g6.part").write_bytes(b"somebody else's")
    (tmp_path / ".a.ora.long download.part").write_bytes(b"somebody else's")
    with replacing(tmp_path / "b.ora") as file:
        file.write(b"text")
        sweep(tmp_path, "b.ora")  # who still writes holds it
    assert (tmp_path / "b.ora").read_bytes() == b"text"
    write_text(tmp_path / "a.ora", "text")
    assert sorted(one.name for one in tmp_path.iterdir()) == [
        ".a.ora.long download.part", ".other.k2j4h5g6.part", "a.ora", "b.ora",
    ]  # fmt: skip
    sweep(tmp_path)
    assert not list(tmp_path.glob(".*.part"))


# --- who holds a file -------------------------------------------------------------------------------------


def test_a_file_is_held_by_one_and_free_afterwards(script, tmp_path):
    script.save(tmp_path / "a.ora")
    holder = OpenFile(tmp_path / "a.ora")
    with pytest.raises(InUseError, match=r"a\.ora is open in another Japanner since"):
        OpenFile(tmp_path / "a.ora")
    anyway = OpenFile(tmp_path / "a.ora", anyway=True)
    anyway.release()
    holder.release()
    assert [one.name for one in tmp_path.iterdir()] == ["a.ora"]
    OpenFile(tmp_path / "a.ora").release()


def test_the_lock_of_a_process_that_is_gone_holds_nobody_up(tmp_path):
    (tmp_path / ".a.ora.inuse").write_text('{"host": "elsewhere", "pid": 1, "since": 0}')
    OpenFile(tmp_path / "a.ora").release()


def test_a_change_is_told_by_content_and_not_by_time_alone(tmp_path):
    path = tmp_path / "a.ora"
    path.write_bytes(b"content")
    file = OpenFile(path)
    file.renew()
    file._reading.result()
    os.utime(path, (1, 1))
    assert not file.changed
    path.write_bytes(b"another")
    assert file.changed
    path.unlink()
    assert not file.changed
    file.release()
