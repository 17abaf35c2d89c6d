"""PNG in and out, and files that are replaced whole or not at all."""

from __future__ import annotations

import io
import os
import stat

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from PIL import Image, ImageCms

from japanner.errors import FileFormatError, SaveError
from japanner.files import ora_write, png
from japanner.files.opening import open_painting
from japanner.files.writing import replacing
from japanner.painting.model import Painting
from japanner.painting.picture.compositor import flattened
from japanner.raster.tiles import premultiplied
from tests.paintings import same_painting


@given(arrays(np.uint16, (4, 6, 5)))
def test_sixteen_bits_come_back(pixels):
    assert np.array_equal(png.read(png.encode(pixels, 300), "a.png").pixels, pixels)


@given(st.integers(1, 9999))
def test_resolution_comes_back(ppi):
    data = png.encode(np.zeros((3, 2, 2), np.uint8), ppi)
    with Image.open(io.BytesIO(data)) as image:
        assert image.info["dpi"][0] == pytest.approx(ppi, abs=0.02)
        assert image.info["srgb"] == 0
    assert png.read(data, "a.png").ppi == pytest.approx(ppi, abs=0.02)


@pytest.mark.parametrize(("bits", "tolerance"), [(8, 0.5 / 255), (16, 0)])
def test_export_is_the_picture(bits, tolerance, script, tmp_path):
    png.export(script.painting, tmp_path / "a.png", bits=bits)
    read = png.read((tmp_path / "a.png").read_bytes(), "a.png")
    assert read.ppi == pytest.approx(300, abs=0.02)
    expected = flattened(script.painting).read(script.painting.rect)
    assert np.abs(read.pixels[:3].astype(int) - expected[:3]).max() / 65535 <= tolerance + 1e-9
    assert (read.pixels[3] == 65535).all()


@pytest.mark.parametrize("mode", ["1", "L", "LA", "P", "RGB", "RGBA", "I;16"])
def test_all_kinds_of_png_are_read(mode, tmp_path):
    rng = np.random.default_rng(3)
    rgba = rng.integers(0, 256, (12, 17, 4), dtype=np.uint8)
    if mode == "I;16":
        image = Image.fromarray(rng.integers(0, 65536, (12, 17), dtype=np.uint16))
    else:
        image = Image.fromarray(rgba).convert("RGB" if mode == "P" else mode).convert(mode)
    image.save(tmp_path / "a.png")
    pixels = png.read((tmp_path / "a.png").read_bytes(), "a.png").pixels
    if mode == "I;16":
        assert np.array_equal(pixels[0], np.asarray(image))
    else:
        expected = np.asarray(image.convert("RGBA")).transpose(2, 0, 1)
        assert np.array_equal(pixels >> 8, expected)


def test_a_transparent_colour_counts(tmp_path):
    image = Image.new("RGB", (4, 4), (10, 20, 30))
    image.putpixel((1, 1), (200, 0, 0))
    image.save(tmp_path / "a.png", transparency=(10, 20, 30))
    pixels = png.read((tmp_path / "a.png").read_bytes(), "a.png").pixels
    assert pixels[3, 0, 0] == 0
    assert pixels[3, 1, 1] == 65535


def test_another_colour_space_is_converted_and_said(tmp_path):
    """A profile with another name but the curves of sRGB moves nothing by more than a code."""
    names = (text.encode("utf-16-be") for text in ("sRGB", "Look"))
    rgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes().replace(*names)
    image = Image.fromarray(np.random.default_rng(1).integers(0, 256, (8, 8, 3), dtype=np.uint8))
    image.save(tmp_path / "a.png", icc_profile=rgb)
    picture = png.read((tmp_path / "a.png").read_bytes(), "a.png")
    assert len(picture.remarks) == 1
    assert np.abs((picture.pixels[:3] >> 8).astype(int) - np.asarray(image).transpose(2, 0, 1)).max() <= 1


def test_a_useless_profile_is_remarked(tmp_path):
    Image.new("RGB", (4, 4)).save(tmp_path / "a.png", icc_profile=b"nonsense")
    picture = png.read((tmp_path / "a.png").read_bytes(), "a.png")
    assert picture.remarks == ("The colour profile is none for pictures. The picture is taken as sRGB.",)


def test_a_picture_becomes_the_flat_of_a_part(script, tmp_path):
    script.export(tmp_path / "Reference.png", bits=16)
    painting = open_painting(tmp_path / "Reference.png").painting
    assert (painting.title, painting.ppi) == ("Reference", pytest.approx(300, abs=0.02))
    (part,) = painting.parts
    assert part.layers[0].role == "flat"
    read = png.read((tmp_path / "Reference.png").read_bytes(), "").pixels
    assert np.array_equal(part.layers[0].pixels.read(painting.rect), premultiplied(read))


def test_a_cut_off_png_is_not_filled_up(script, tmp_path):
    script.export(tmp_path / "a.png")
    raw = (tmp_path / "a.png").read_bytes()
    for share in (0.3, 0.6, 0.95):
        with pytest.raises(FileFormatError):
            png.read(raw[: int(len(raw) * share)], "a.png")


# --- writing --------------------------------------------------------------------------------------------


def test_a_file_is_replaced_whole(tmp_path):
    path = tmp_path / "a.bin"
    path.write_bytes(b"old")
    path.chmod(0o640)
    with replacing(path) as file:
        file.write(b"new")
        assert path.read_bytes() == b"old"
    assert path.read_bytes() == b"new"
    assert stat.S_IMODE(path.stat().st_mode) == 0o640
    assert [entry.name for entry in tmp_path.iterdir()] == ["a.bin"]


def test_a_failure_half_way_leaves_the_old_file_and_no_trace(tmp_path):
    path = tmp_path / "a.bin"
    path.write_bytes(b"old")

    def half_way():
        with replacing(path) as file:
            file.write(b"half")
            raise RuntimeError

    with pytest.raises(RuntimeError):
        half_way()
    assert path.read_bytes() == b"old"
    assert [entry.name for entry in tmp_path.iterdir()] == ["a.bin"]


def test_saving_where_it_cannot_be_says_why(script, tmp_path):
    with pytest.raises(SaveError, match=r"a\.ora was not saved: no such file or directory"):
        script.save(tmp_path / "nowhere" / "a.ora")
    (tmp_path / "folder.ora").mkdir()
    with pytest.raises(SaveError, match=r"folder\.ora was not saved: "):
        script.save(tmp_path / "folder.ora")
    assert [entry.name for entry in tmp_path.iterdir()] == ["folder.ora"]


def test_saving_to_a_full_disk_keeps_the_old_file(script, tmp_path, monkeypatch):
    path = tmp_path / "a.ora"
    script.save(path)
    before = script.painting
    real = os.fsync

    def full(handle):
        real(handle)
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(SaveError, match=r"a\.ora was not saved: no space left on device. The old file is as it was"):
        ora_write.write(Painting(30, 30), path)
    monkeypatch.undo()
    assert same_painting(open_painting(path).painting, before)
    assert len(list(tmp_path.iterdir())) == 1
