"""Reference pictures: reduced copies, links, and what is shown when a file is gone, broken, or another one."""

from __future__ import annotations

import os

import numpy as np
import pytest

from japanner.errors import FileFormatError, InputError
from japanner.files import png
from japanner.files.opening import open_painting
from japanner.files.pictures import read_picture
from japanner.files.shelf.references import KEPT_PX, pin_of, reference_of, size_of
from japanner.painting.document.document import new_document
from japanner.painting.model import Pinned
from japanner.scripting import Script


def pixels_of(width, height, colour=(200, 120, 60)):
    found = np.full((4, height, width), 65535, np.uint16)
    for k, code in enumerate(colour):
        found[k] = code * 257
    return found


@pytest.fixture
def file(tmp_path):
    path = tmp_path / "photo.png"
    path.write_bytes(png.encode(pixels_of(1600, 900)))
    return path


def pinned_by(operation):
    document = new_document(40, 30)
    document.apply(operation)
    return document.painting.board[0]


def test_a_copy_is_reduced_and_counts_as_it_is():
    small = pinned_by(pin_of(pixels_of(300, 200), "Small"))
    assert size_of(small) == (300, 200)
    large = pinned_by(pin_of(pixels_of(4000, 1000), "Large"))
    assert size_of(large) == (KEPT_PX, 600)
    found = reference_of(large)
    assert found.lost == ""
    assert found.pixels[:, 5, 5].tolist() == [200, 120, 60, 255]


def test_a_link_shows_the_file_and_follows_it(file):
    linked = pinned_by(pin_of(read_picture(file).pixels, "Photo", file))
    assert size_of(linked) == (1600, 900), "places on it count in px of the file"
    assert reference_of(linked).pixels.shape == (4, 900, 1600)
    assert len(linked.data) < 20_000, "the painting keeps a small copy"
    file.write_bytes(png.encode(pixels_of(1600, 900, (10, 20, 30))))
    os.utime(file, ns=(1, 1))
    assert reference_of(linked).pixels[:3, 0, 0].tolist() == [10, 20, 30]


def test_what_becomes_of_a_link_is_said_and_its_copy_shown(file):
    linked = pinned_by(pin_of(read_picture(file).pixels, "Photo", file))
    away = file.with_name("away.png")
    file.rename(away)
    found = reference_of(linked)
    assert "photo.png is not where it was" in found.lost
    assert found.pixels.shape == (4, 900, 1600)
    assert found.pixels[:3, 5, 5].tolist() == pytest.approx([200, 120, 60], abs=2)
    file.write_bytes(away.read_bytes()[:200])
    assert "cannot be read" in reference_of(linked).lost
    file.write_bytes(png.encode(pixels_of(100, 900)))
    os.utime(file, ns=(5, 5))
    assert "another size" in reference_of(linked).lost


def test_links_are_kept_in_files(file, tmp_path):
    script = Script.new(60, 40)
    script.do(pin_of(read_picture(file).pixels, "Photo", file))
    script.save(tmp_path / "kept.ora")
    (again,) = open_painting(tmp_path / "kept.ora").painting.board
    assert (again.link, again.width, again.height) == (str(file), 1600, 900)
    assert reference_of(again).lost == ""


def test_a_link_that_makes_no_sense_is_refused():
    for wrong in ({"width": 0}, {"height": 10**9}):
        with pytest.raises(InputError):
            Pinned("Photo", b"", "/a/b.png", **{"width": 10, "height": 10, **wrong})


def test_a_huge_picture_is_told_apart_before_it_is_decoded(tmp_path):
    data = bytearray(png.encode(pixels_of(8, 8)))
    data[16:24] = (200_000).to_bytes(4, "big") * 2
    path = tmp_path / "huge.png"
    path.write_bytes(bytes(data))
    with pytest.raises(FileFormatError, match="Mpx"):
        read_picture(path)
