"""Pictures that come from elsewhere: JPEG, WebP, TIFF and PNG, whole, damaged and hostile."""

from __future__ import annotations

import io

import numpy as np
import pytest
import tifffile
from PIL import Image, ImageCms

from japanner.errors import FileFormatError
from japanner.files.colour.profiles import known_profiles
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


def test_a_tiff_of_16_bits_comes_in_at_16_bits(tmp_path):
    codes = np.arange(40 * 30 * 3, dtype=np.uint16).reshape(30, 40, 3) * 17
    tifffile.imwrite(tmp_path / "deep.tif", codes, photometric="rgb")
    found = read_picture(tmp_path / "deep.tif")
    assert np.array_equal(found.pixels[:3], codes.transpose(2, 0, 1))
    assert (found.pixels[3] == 65535).all()


def test_inks_and_greys_come_in_by_their_own_profiles(tmp_path):
    """Against Pillow's door to LittleCMS, at 8 bits."""
    paths = {name: path for name, path in known_profiles() if path is not None}
    inks = next((path for name, path in paths.items() if "cmyk" in name), None)
    if inks is None:
        pytest.skip("the system has no profile of inks")
    data = inks.read_bytes()
    codes = np.random.default_rng(2).integers(0, 200, (20, 30, 4), np.uint8)
    image = Image.fromarray(codes, "CMYK")
    image.save(tmp_path / "inks.jpg", quality=100, icc_profile=data)
    found = read_picture(tmp_path / "inks.jpg")
    assert "Converted from" in found.remarks[0]
    with Image.open(tmp_path / "inks.jpg") as again:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(data))
        wanted = ImageCms.profileToProfile(
            again, profile, ImageCms.createProfile("sRGB"), outputMode="RGB",
            renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC,
        )  # fmt: skip
    apart = np.abs(found.pixels[:3].transpose(1, 2, 0) / 257 - np.asarray(wanted).astype(float))
    assert apart.mean() < 1.5
