"""PNG data: what others write is read, what is written others read (Pillow, OpenCV; W3C PNG Specification)."""

from __future__ import annotations

import io
import struct
import zlib

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from japanner.errors import InputError
from japanner.raster import png_data


def picture(channels, height, width, bits, seed=3):
    """Half noise, half a ramp, so that filters differ."""
    rng = np.random.default_rng(seed)
    top = 2**bits - 1
    codes = rng.integers(0, top + 1, (channels, height, width))
    codes[:, : height // 2] = np.linspace(0, top, width).astype(int)
    return codes.astype(np.uint8 if bits == 8 else np.uint16)


def as_opencv(data):
    image = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    if image.ndim == 2:
        return image[None]
    return image[..., (2, 1, 0, 3)[: image.shape[2]]].transpose(2, 0, 1)


@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("channels", [1, 3, 4])
@settings(max_examples=8)
@given(st.integers(1, 40), st.integers(1, 40), st.integers(0, 9))
def test_others_read_what_is_written(channels, bits, height, width, seed):
    pixels = picture(channels, height, width, bits, seed)
    data = png_data.encode(pixels)
    assert np.array_equal(as_opencv(data), pixels)
    wide = pixels.astype(np.uint16) * np.uint16(257) if bits == 8 else pixels
    assert np.array_equal(png_data.decode(data), wide)


def test_a_picture_is_packed_in_bands(monkeypatch):
    pixels = picture(4, 90, 33, 16)
    monkeypatch.setattr(png_data, "BAND_BYTES", 2000)
    assert np.array_equal(as_opencv(png_data.encode(pixels)), pixels)


def with_filters(pixels, how):
    """PNG data whose rows are filtered by `how(row number)`, by the formulas of the specification (section 9)."""
    channels, height, width = pixels.shape
    step = channels * pixels.itemsize
    lines = pixels.transpose(1, 2, 0).astype(pixels.dtype.newbyteorder(">")).tobytes()
    rows = np.frombuffer(lines, np.uint8).reshape(height, -1).astype(int)
    left = np.pad(rows, ((0, 0), (step, 0)))[:, :-step]
    above = np.pad(rows, ((1, 0), (0, 0)))[:-1]
    corner = np.pad(left, ((1, 0), (0, 0)))[:-1]
    p = left + above - corner
    near = np.stack([abs(p - left), abs(p - above), abs(p - corner)]).argmin(axis=0)
    paeth = np.choose(near, [left, above, corner])
    guesses = [0 * rows, left, above, (left + above) // 2, paeth]
    body = b"".join(bytes([how(y)]) + (rows[y] - guesses[how(y)][y]).astype(np.uint8).tobytes() for y in range(height))
    header = struct.pack(">IIBBBBB", width, height, 8 * pixels.itemsize, png_data.COLOUR_TYPES[channels], 0, 0, 0)
    chunks = ((b"IHDR", header), (b"tEXt", b"by\0hand"), (b"IDAT", zlib.compress(body)), (b"IEND", b""))
    return png_data.SIGNATURE + b"".join(png_data.chunk(*one) for one in chunks)


@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("channels", [1, 2, 3, 4])
def test_all_five_filters_are_undone(channels, bits):
    pixels = picture(channels, 20, 13, bits)
    data = with_filters(pixels, lambda y: y % 5)
    if channels != 2:  # OpenCV makes four of them
        assert np.array_equal(as_opencv(data), pixels)
    wide = pixels.astype(np.uint16) * np.uint16(257) if bits == 8 else pixels
    assert np.array_equal(png_data.decode(data), wide)


def test_other_kinds_are_left_to_others():
    for image in (Image.new("P", (4, 4)), Image.new("1", (4, 4))):
        file = io.BytesIO()
        image.save(file, "PNG")
        assert png_data.decode(file.getvalue()) is None
    file = io.BytesIO()
    Image.new("RGB", (4, 4)).save(file, "PNG", transparency=(0, 0, 0))
    assert png_data.decode(file.getvalue()) is None


@settings(max_examples=40)
@given(st.data())
def test_every_damage_is_found(data):
    good = png_data.encode(picture(4, 9, 11, 16), png_data.chunk(b"sRGB", b"\0"))
    at = data.draw(st.integers(0, len(good) - 1))
    if data.draw(st.booleans()):
        bad = good[:at]
    else:
        bad = good[:at] + bytes([good[at] ^ data.draw(st.integers(1, 255))]) + good[at + 1 :]
    try:
        found = png_data.decode(bad)
    except InputError:
        return
    assert found is None or at >= len(good) - 12  # the last chunk says nothing but that it is the last


@pytest.mark.parametrize("rows", [5, 7])
def test_too_few_and_too_many_pixels_are_refused_before_they_are_unpacked(rows):
    header = struct.pack(">IIBBBBB", 4, 6, 8, 6, 0, 0, 0)
    body = zlib.compress(bytes(rows * 17))
    chunks = ((b"IHDR", header), (b"IDAT", body), (b"IEND", b""))
    with pytest.raises(InputError, match="not complete"):
        png_data.decode(png_data.SIGNATURE + b"".join(png_data.chunk(*one) for one in chunks))


def test_an_unknown_filter_is_refused():
    pixels = picture(3, 6, 5, 8)
    header = struct.pack(">IIBBBBB", 5, 6, 8, 2, 0, 0, 0)
    body = zlib.compress(b"".join(bytes([7]) + bytes(15) for _ in range(pixels.shape[1])))
    chunks = ((b"IHDR", header), (b"IDAT", body), (b"IEND", b""))
    with pytest.raises(InputError, match="makes no sense"):
        png_data.decode(png_data.SIGNATURE + b"".join(png_data.chunk(*one) for one in chunks))


def test_eight_bits_are_rounded():
    codes = np.arange(65536, dtype=np.uint16).reshape(1, 256, 256)
    assert np.array_equal(png_data.as_8_bit(codes), np.floor(codes / 257 + 0.5).astype(np.uint8))
