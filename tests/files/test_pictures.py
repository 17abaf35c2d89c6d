"""Pictures that come from elsewhere: JPEG, WebP, TIFF and PNG, whole, damaged and hostile."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image

from japanner.errors import FileFormatError
from japanner.files.pictures import read_picture


def gradient():
    ramp = np.linspace(0, 255, 90).astype(np.uint8)
    return Image.fromarray(np.stack([np.tile(ramp, (60, 1))] * 3, axis=-1), "RGB")


@pytest.mark.parametrize(("name", "loss"), [("a.png", 0), ("a.tif", 0), ("a.jpg", 6), ("a.webp", 8)])
def test_common_pictures_are_read(tmp_path, name, loss):
    gradient().save(tmp_path / name, dpi=(150, 150))
    picture = read_picture(tmp_path / name)
    assert picture.pixels.shape == (4, 60, 90)
    found = picture.pixels[0, 30].astype(int) // 257
    assert np.abs(found - np.linspace(0, 255, 90)).max() <= loss + 1
    assert (picture.pixels[3] == 65535).all()


def test_a_picture_is_turned_as_the_camera_says(tmp_path):
    exif = Image.Exif()
    exif[0x0112] = 6  # EXIF orientation: turn clockwise by 90 degrees
    gradient().save(tmp_path / "a.jpg", exif=exif)
    assert read_picture(tmp_path / "a.jpg").pixels.shape == (4, 90, 60)


def test_a_cut_off_or_foreign_file_is_refused_in_one_sentence(tmp_path):
    gradient().save(tmp_path / "a.jpg")
    data = (tmp_path / "a.jpg").read_bytes()
    for name, content in (("b.jpg", data[: len(data) // 2]), ("c.jpg", b"hello"), ("d.webp", b""), ("e.tif", b"II*\0")):
        (tmp_path / name).write_bytes(content)
        with pytest.raises(FileFormatError, match=name):
            read_picture(tmp_path / name)
    with pytest.raises(FileFormatError, match="cannot be read"):
        read_picture(tmp_path / "none.png")


def test_a_picture_too_large_is_refused_before_it_is_decoded(tmp_path):
    Image.new("1", (32769, 2)).save(tmp_path / "wide.tif")
    with pytest.raises(FileFormatError, match="32769"):
        read_picture(tmp_path / "wide.tif")
