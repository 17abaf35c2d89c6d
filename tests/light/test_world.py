"""Surroundings: where directions lead, how far they blur, and what is painted over them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.light import world
from japanner.light.world import HEIGHT, WIDTH, WORLDS, World, of_directions, of_picture, of_strip, shipped_world


def one_way(*way):
    return (np.asarray(way, np.float32) / np.linalg.norm(way))[:, None, None]


@given(st.floats(-180, 179), st.floats(-88, 88))
def test_a_direction_leads_to_its_elevation_and_azimuth(turn, height):
    a, e = np.radians(turn), np.radians(height)
    way = one_way(np.sin(a) * np.cos(e), np.sin(e), np.cos(a) * np.cos(e))
    across, down = of_directions(way)
    assert float(down[0, 0]) == pytest.approx((0.5 - height / 180) * HEIGHT - 0.5, abs=0.5)
    off = (float(across[0, 0]) + 0.5 - (turn / 360 + 0.5) * WIDTH + WIDTH / 2) % WIDTH - WIDTH / 2
    assert abs(off) < 0.5


@pytest.mark.parametrize("name", WORLDS)
def test_a_shipped_world_is_brightest_where_the_key_light_is(name):
    found = shipped_world(name, 40, -60)
    assert np.isfinite(found.light).all()
    assert float(found.light.min()) >= 0
    e, a = np.radians(40), np.radians(-60)
    towards = one_way(np.sin(a) * np.cos(e), np.sin(e), np.cos(a) * np.cos(e))
    away = one_way(*(-towards[:, 0, 0]))
    assert found.seen(towards, 0.1).mean() > 3 * found.seen(away, 0.1).mean()


def test_blur_keeps_the_mean_and_goes_round_the_seam():
    light = np.zeros((HEIGHT, WIDTH, 3), np.float32)
    light[HEIGHT // 2 - 4 : HEIGHT // 2 + 4, :4] = 1  # at the seam, straight behind the canvas
    found = World(light)
    left, right = one_way(-0.12, 0, -1), one_way(0.12, 0, -1)
    assert float(found.seen(left, 0.22).mean()) == pytest.approx(float(found.seen(right, 0.22).mean()), rel=0.35)
    grey = World(np.full((HEIGHT, WIDTH, 3), 0.3, np.float32))
    for rough in (0.0, 0.07, 0.3, np.full((1, 1), 0.15, np.float32)):
        assert grey.seen(one_way(0.3, 0.8, 0.4), rough) == pytest.approx(0.3, abs=1e-4)


def test_a_strip_goes_by_height_alone_but_for_its_unevenness():
    found = of_strip(((0, 20), (49, 20), (51, 80), (100, 80)))
    dark, bright = (float(found.seen(one_way(0.3, y, 0.6)).mean()) for y in (-0.7, 0.7))
    assert dark == pytest.approx(((20 + 16) / 116) ** 3, rel=0.02)
    assert bright == pytest.approx(((80 + 16) / 116) ** 3, rel=0.02)


def test_a_picture_lies_before_and_behind_and_to_its_sides():
    light = np.zeros((3, 60, 90), np.float32)
    light[0, :, 70:], light[1, :15] = 1.0, 1.0
    found = of_picture(light)
    right, left, above = (found.seen(one_way(*way))[:, 0, 0] for way in ((1, 0, 0.1), (-1, 0, 0.1), (0, 1, 0.1)))
    assert right[0] > 0.9
    assert left[0] < 0.1
    assert above[1] > 0.9


def test_paint_covers_the_world_where_it_is():
    grey = World(np.full((HEIGHT, WIDTH, 3), 0.2, np.float32))
    paint = np.zeros((4, 32, 64), np.uint16)
    paint[0, :, 32:], paint[3, :, 32:] = 65535, 65535  # the right half, red
    found = world.painted_over(grey, paint)
    right, left = (found.seen(one_way(*way))[:, 0, 0] for way in ((1, 0, 0), (-1, 0, 0)))
    assert right == pytest.approx((1, 0, 0), abs=1e-3)
    assert left == pytest.approx((0.2, 0.2, 0.2), abs=1e-3)
