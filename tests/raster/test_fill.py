"""Filling from a point: what a line keeps in, also with gaps."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from skimage.segmentation import flood

from japanner.errors import InputError
from japanner.raster.fill import colour_coverage, difference_into, flooded, seed_of
from japanner.raster.geometry import Rect


def whole(coverage, area, shape):
    out = np.zeros(shape, np.float32)
    out[area.y0 : area.y1, area.x0 : area.x1] = coverage / 255
    return out


def fill(line, at, **settings):
    """Fill on a picture whose line pixels differ by 100 from the rest."""
    coverage, area = flooded(line.astype(np.float32) * 100, *at, tolerance=10, **settings)
    return whole(coverage, area, line.shape)


def boxed(gap, *, width=3, side=400):
    line = np.zeros((side, side), np.uint8)
    cv2.rectangle(line, (100, 100), (300, 300), 1, width)
    if gap:
        line[90:112, 200 : 200 + gap] = 0
    return line


@pytest.mark.parametrize("limit", [1, 5, 12, 20, 37])
@pytest.mark.parametrize("over", [-4, -1, 0, 1, 2, 8])
def test_gaps_up_to_the_limit_do_not_leak(limit, over):
    gap = limit + over
    if gap < 0:
        pytest.skip("no such gap")
    line = boxed(gap)
    found = fill(line, (200, 200), gap_px=limit)
    leaked = found[50, 50] > 0
    # On a grid of pixels an even gap is no wider in the middle than the odd one before it.
    assert leaked == (over > limit % 2)
    if not leaked:
        assert found[200, 200] == 1
        inside = fill(boxed(0), (200, 200))
        assert abs(found.sum() - inside.sum()) < gap * 8 + 1  # the corners are filled, too


def test_a_gap_in_a_slanting_line():
    for gap, leaks in ((8, False), (24, True)):
        line = np.zeros((400, 400), np.uint8)
        corners = np.array([(200, 60), (340, 200), (200, 340), (60, 200)])
        cv2.polylines(line, [corners], True, 1, 4)
        x, y = (corners[0] + corners[1]) // 2
        cv2.circle(line, (int(x), int(y)), gap // 2 + 1, 0, -1)
        assert (fill(line, (200, 200), gap_px=16)[10, 10] > 0) == leaks


def test_it_reaches_under_the_line_but_not_across():
    line = boxed(0, width=3)
    assert line[200, 98:103].all()  # drawn five px wide
    plain, under = fill(line, (200, 200)), fill(line, (200, 200), under_px=3)
    assert plain[200, 103] > 0.6
    assert plain[200, 100] == 0
    assert under[200, 100] > 0.6
    assert fill(line, (200, 200), under_px=40)[200, 96] < 0.02
    assert fill(line, (200, 200), under_px=40)[200, 98] > 0.5


def test_without_gaps_it_is_the_plain_flood_of_a_reference_library():
    random = np.random.default_rng(4)
    picture = cv2.GaussianBlur(random.random((160, 200)).astype(np.float32), (0, 0), 3)
    picture = (picture - picture.min()) / np.ptp(picture)
    at = (100, 80)
    mine = fill_by_value(picture, at, 12)
    theirs = flood(picture, (at[1], at[0]), tolerance=0.12, connectivity=1)
    solid = cv2.erode(theirs.astype(np.uint8), np.ones((5, 5))) > 0
    bare = cv2.dilate(theirs.astype(np.uint8), np.ones((5, 5))) == 0
    assert solid.any()
    assert mine[solid].min() > 0.9
    assert mine[bare].max() < 0.05


def fill_by_value(picture, at, tolerance):
    difference = np.abs(picture - picture[at[1], at[0]]) * 100
    coverage, area = flooded(difference.astype(np.float32), *at, tolerance=tolerance)
    return whole(coverage, area, picture.shape)


def test_the_edge_is_soft():
    line = np.zeros((200, 200), np.uint8)
    cv2.circle(line, (100, 100), 70, 1, 3)
    found = fill(line, (100, 100))
    assert ((found > 0.1) & (found < 0.9)).sum() > 150


def test_a_shape_narrower_than_the_gap_is_filled_whole():
    line = np.ones((100, 300), np.uint8)
    line[48:52, 20:280] = 0
    assert fill(line, (150, 50), gap_px=20)[50, 25:275].min() > 0.9


def test_two_chambers_share_a_gap_in_the_middle():
    line = np.zeros((200, 400), np.uint8)
    cv2.rectangle(line, (20, 20), (380, 180), 1, 3)
    line[:, 199:202] = 1
    line[90:110, 190:210] = 0
    left, right = fill(line, (100, 100), gap_px=24), fill(line, (300, 100), gap_px=24)
    assert left[100, 120] == 1
    assert left[100, 280] == 0
    both = left + right
    assert both[100, 150:250].min() > 0.8
    assert both.max() < 1.2


@pytest.mark.parametrize(("settings", "words"), [({"gap_px": 201}, "gap_px"), ({"under_px": -1}, "under_px")])
def test_wrong_numbers_are_refused(settings, words):
    with pytest.raises(InputError, match=words):
        fill(boxed(0), (200, 200), **settings)


def test_coverage_by_colour_fades_beyond_the_tolerance():
    found = colour_coverage(np.array([0, 10, 12.5, 15, 40], np.float32), 10)
    assert found == pytest.approx([1, 1, 0.5, 0, 0])


# OKLab distances of published colours (Ottosson 2020): white to black is 1, red to green by the values of the table.
def test_differences_are_oklab_distances():
    acc = np.zeros((4, 256, 256), np.float32)
    for x, colour in enumerate([(1, 1, 1), (0, 0, 0), (1, 0, 0), (0, 1, 0)]):
        acc[:3, 0, x] = colour
    acc[3, 0, :4] = 1
    out = np.zeros((256, 256), np.float32)
    difference_into(out, acc, (0, 0), seed_of(acc, 0, 0), Rect(0, 0, 5, 1))
    red, green = np.array([(0.62796, 0.22486, 0.12585), (0.86644, -0.23389, 0.17950)]) - (1, 0, 0)
    assert out[0, :5] == pytest.approx([0, 100, 100 * np.linalg.norm(red), 100 * np.linalg.norm(green), 100], abs=0.2)
    difference_into(out, acc, (0, 0), seed_of(acc, 4, 0), Rect(0, 0, 5, 1))
    assert out[0, :5] == pytest.approx([100, 100, 100, 100, 0])
