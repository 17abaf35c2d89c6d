"""Displacement fields: many small shifts cost one resampling."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.raster.field import Field, resampled
from japanner.raster.geometry import Rect
from tests.paintings import analytic, psnr

AREA = Rect(10, 20, 210, 180)


def even(dx, dy):
    shifts = np.empty((2, AREA.height, AREA.width), np.float32)
    shifts[0], shifts[1] = dx, dy
    return shifts


def test_no_field_is_no_change():
    raster = analytic(220, 200)
    assert np.array_equal(resampled(raster, Field().read(AREA), AREA), raster.read(AREA))


def test_shifts_after_each_other_add_up():
    field = Field()
    for _ in range(4):
        field = field.after(AREA, even(1.25, -0.5))
    inner = AREA.grown(-20)
    assert field.read(inner)[0] == pytest.approx(5, abs=1e-4)
    assert field.read(inner)[1] == pytest.approx(-2, abs=1e-4)


def test_there_and_back_is_the_same_picture():
    raster, field = analytic(220, 200), Field()
    for step in (3.3, -3.3) * 5:
        field = field.after(AREA, even(step, step / 2))
    inner = AREA.grown(-30)
    assert psnr(resampled(raster, field.read(inner), inner), raster.read(inner)) > 55


def test_the_field_tells_where_a_pixel_comes_from():
    raster = analytic(220, 200)
    field = Field().after(AREA, even(7.0, 0.0))
    inner = AREA.grown(-20)
    assert np.array_equal(resampled(raster, field.read(inner), inner), raster.read(inner.moved(7, 0)))
