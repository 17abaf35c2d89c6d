"""Moving pixels by matrices: turned and turned back, whole moves, shrinking, and what is refused."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.raster.geometry import Rect
from japanner.raster.resample import checked_matrix, corner_matrix, moved_by, outline_of, placed, resized
from japanner.raster.tiles import Raster
from tests.paintings import analytic, psnr, same_pixels, solid


def turned(degrees, x, y):
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return np.array([[c, -s, x - c * x + s * y], [s, c, y - s * x - c * y], [0, 0, 1]])


def test_turned_by_17_degrees_and_back():
    raster = analytic(600, 400)
    there = turned(17, 300, 200)
    back = moved_by(moved_by(raster, there), np.linalg.inv(there))
    assert psnr(back.read(back.rect), raster.read(raster.rect)) >= 40


def test_grown_and_shrunk_back():
    raster = analytic(400, 300)
    there = np.array([[1.7, 0, -140], [0, 1.7, -105], [0, 0, 1]])
    back = moved_by(moved_by(raster, there), np.linalg.inv(there))
    inside = Rect(150, 110, 250, 190)
    assert psnr(back.read(inside), raster.read(inside)) >= 40


@settings(max_examples=25, deadline=None)
@given(st.integers(-700, 700), st.integers(-700, 700))
def test_whole_moves_lose_nothing(dx, dy):
    raster = analytic(320, 280)
    moved = moved_by(raster, np.array([[1, 0, dx], [0, 1, dy], [0, 0, 1.0]]))
    stays = raster.rect.intersected(raster.rect.moved(-dx, -dy))
    if stays.empty:
        assert not moved.tiles
    else:
        assert np.array_equal(moved.read(stays.moved(dx, dy)), raster.read(stays))


def test_quarter_turns_and_mirrors_lose_nothing():
    raster = analytic(300, 300)
    pixels = raster.read(raster.rect)
    assert np.array_equal(moved_by(raster, turned(90, 150, 150)).read(raster.rect), np.rot90(pixels, -1, (1, 2)))
    mirrored = moved_by(raster, np.array([[-1, 0, 300], [0, 1, 0], [0, 0, 1.0]]))
    assert np.array_equal(mirrored.read(raster.rect), pixels[:, :, ::-1])


def test_shrinking_takes_means_of_areas():
    random = np.random.default_rng(1)
    pixels = np.full((4, 256, 256), 65535, np.uint16)
    pixels[:3] = random.integers(0, 65536, (3, 256, 256))
    small = resized(Raster(256, 256).written(0, 0, pixels), 64, 64)
    means = pixels.reshape(4, 64, 4, 64, 4).mean(axis=(2, 4))
    inner = (slice(None), slice(2, -2), slice(2, -2))
    assert np.abs(small.read(small.rect)[inner] - means[inner]).max() / 65535 < 0.02
    assert (small.width, small.height) == (64, 64)


def test_colour_never_exceeds_coverage():
    hard = solid(60, 60, (1, 1, 1))
    made = moved_by(Raster(200, 200).written(70, 70, hard.read(hard.rect)), turned(31, 100, 100))
    pixels = made.read(made.rect)
    assert (pixels[:3] <= pixels[3]).all()
    assert pixels[3, 100, 100] == 65535


def test_four_corners_go_where_they_are_put():
    area, corners = Rect(20, 30, 220, 130), [(40, 60), (260, 20), (240, 180), (60, 150)]
    matrix = corner_matrix(area, corners)
    assert outline_of(matrix, area) == pytest.approx(np.array(corners, float), abs=1e-3)
    assert checked_matrix(matrix.reshape(-1), area) == pytest.approx(matrix)


def test_a_picture_is_placed_on_a_canvas():
    picture = solid(20, 10, (1, 0, 0)).read(Rect(0, 0, 20, 10))
    raster = placed(picture, np.array([[2, 0, 30], [0, 2, 40], [0, 0, 1.0]]), 200, 100)
    covered = raster.read(raster.rect)[3] > 32768
    rows, columns = covered.any(axis=1).nonzero()[0], covered.any(axis=0).nonzero()[0]
    assert (rows[0], rows[-1], columns[0], columns[-1]) == (40, 59, 30, 69)
    assert raster.read(Rect(50, 50, 51, 51))[:, 0, 0].tolist() == [65535, 0, 0, 65535]


@pytest.mark.parametrize(
    ("matrix", "words"),
    [
        ([1, 0, 0, 0, 1, 0, 0, 0], "9 numbers"),
        ([1, 0, 0, 0, 0, 0, 0, 0, 1], "flat"),
        ([0, 0, 5, 0, 0, 5, 0, 0, 1], "flat"),
        ([1, 2, 0, 2, 4, 0, 0, 0, 1], "flat"),
        ([1, 0, 0, 0, 1, 0, 0.05, 0, -1], "steep"),
        ([1, 0, 0, 0, 1, 0, -0.02, 0, 1], "steep"),
        ([1, 0, 0, 0, 1, 0, 0, 0, 0], "steep"),
        ([float("nan")] * 9, "expected"),
        ([1e7, 0, 0, 0, 1e7, 0, 0, 0, 1], "endless"),
    ],
)
def test_matrices_that_squash_or_turn_inside_out_are_refused(matrix, words):
    with pytest.raises(InputError, match=words):
        checked_matrix(matrix, Rect(0, 0, 100, 80))


def test_nothing_moved_is_nothing():
    assert same_pixels(moved_by(Raster(50, 50), turned(20, 25, 25)), Raster(50, 50))
