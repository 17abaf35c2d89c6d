"""Outlines and their coverage, against areas from geometry and from Shapely."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.raster.shapes import box_outline, curve_outline, enclosed, oval_outline


def area(sheet):
    return float(sheet.coverage(sheet.rect).sum(dtype=np.float64))


@pytest.mark.parametrize("radius", [3.3, 10, 57.5, 400])
@pytest.mark.parametrize("middle", [(500.0, 500.0), (500.37, 499.81)])
def test_a_circle_has_the_area_of_a_circle(radius, middle):
    x, y = middle
    sheet = enclosed(oval_outline(x - radius, y - radius, x + radius, y + radius), 1000, 1000)
    assert area(sheet) == pytest.approx(np.pi * radius**2, rel=1e-3)


def test_an_oval_has_the_area_of_an_ellipse_and_its_edge_is_soft():
    sheet = enclosed(oval_outline(20.5, 30.25, 180.75, 90), 200, 120)
    assert area(sheet) == pytest.approx(np.pi * 160.25 * 59.75 / 4, rel=1e-3)
    found = sheet.coverage(sheet.rect)
    edge = (found > 0) & (found < 1)
    assert edge.sum() > 200
    assert found[60, 100] == 1
    assert found[0, 0] == 0


def test_a_box_covers_parts_of_pixels_by_their_share():
    sheet = enclosed(box_outline(10.25, 20.5, 13.5, 22.75), 40, 40)
    found = sheet.coverage(sheet.rect)
    assert found[21, 11] == 1
    assert found[21, 10] == pytest.approx(0.75, abs=1e-4)
    assert found[20, 11] == pytest.approx(0.5, abs=1e-4)
    assert found[22, 13] == pytest.approx(0.5 * 0.75, abs=1e-4)
    assert area(sheet) == pytest.approx(3.25 * 2.25, rel=1e-4)


place = st.floats(-60, 160).map(lambda value: round(value, 3))  # as pens give them
points = st.lists(st.tuples(place, place), min_size=3, max_size=12, unique_by=lambda p: (p[0], p[1]))


@settings(max_examples=26, deadline=None)
@given(points)
def test_any_outline_covers_what_shapely_says_it_goes_around(outline):
    ring = shapely.LineString([*outline, outline[0]])
    pieces = shapely.polygonize([shapely.node(ring)])
    whole = shapely.unary_union(shapely.get_parts(pieces))
    assume(whole.area > 1)
    inside = whole.intersection(shapely.box(0, 0, 100, 100))
    sheet = enclosed(outline, 100, 100)
    # A raster of 16 bits rounds each edge pixel.
    assert area(sheet) == pytest.approx(inside.area, rel=1e-3, abs=0.05)
    assert sheet.coverage(sheet.rect).max(initial=0) <= 1


def test_an_outline_that_crosses_itself_encloses_all_its_loops():
    t = np.arange(5) * 4 * np.pi / 5
    star = np.stack((50 + 40 * np.cos(t), 50 + 40 * np.sin(t)), axis=1)
    sheet = enclosed(star, 100, 100)
    assert sheet.coverage(sheet.rect)[50, 50] == 1  # the middle is gone around twice
    bow = [(10, 10), (90, 90), (90, 10), (10, 90)]
    assert area(enclosed(bow, 100, 100)) == pytest.approx(3200, rel=1e-3)


def test_a_curve_passes_through_its_nodes():
    k = 0.5522847498  # handles that make a circle of four segments, within 0.03 % of its radius; common practice
    nodes = []
    for turn in range(4):
        angle = turn * np.pi / 2
        x, y, dx, dy = np.cos(angle), np.sin(angle), -np.sin(angle), np.cos(angle)
        nodes.append([50 + 30 * v for v in (x, y, x - k * dx, y - k * dy, x + k * dx, y + k * dy)])
    outline = curve_outline(nodes)
    assert np.hypot(*(outline - 50).T) == pytest.approx(30, rel=5e-4)
    assert area(enclosed(outline, 100, 100)) == pytest.approx(np.pi * 900, rel=2e-3)


@pytest.mark.parametrize(
    ("outline", "words"),
    [
        ([], "rows of 2"),
        ([(1, 1), (5, 5)], "encloses"),
        ([(1, 1), (5, 5), (9, 9)], "encloses"),
        ([(1, 1), (1, 1), (1, 1)], "encloses"),
        ([(1, 1), (np.nan, 5), (9, 2)], "expected"),
        ([(1, 1), (np.inf, 5), (9, 2)], "expected"),
        ([(1, 1, 1), (2, 2, 2), (9, 2, 1)], "rows of 2"),
        ("abc", "rows of 2"),
    ],
)
def test_what_encloses_nothing_is_refused(outline, words):
    with pytest.raises(InputError, match=words):
        enclosed(outline, 100, 100)


def test_corners_with_nothing_between_are_refused():
    with pytest.raises(InputError, match="corners"):
        box_outline(5, 5, 5, 20)
    with pytest.raises(InputError, match="expected"):
        oval_outline(0, 0, float("nan"), 4)
    with pytest.raises(InputError, match="nodes"):
        curve_outline([[1, 1, 1, 1, 1, 1]])


def test_an_outline_beside_the_canvas_covers_none_of_it():
    assert not enclosed([(-50, -50), (-10, -50), (-10, -10)], 100, 100).tiles
