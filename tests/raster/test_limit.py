"""Limits: friskets and held edges."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.raster.limit import Limit, lifted
from japanner.raster.shapes import enclosed, oval_outline
from japanner.raster.tiles import Raster
from tests.paintings import analytic, same_pixels, solid

SHEET = enclosed(oval_outline(60, 40, 240, 200), 300, 260)


@settings(max_examples=20)
@given(st.tuples(*[st.floats(0, 1)] * 3), st.floats(0, 1))
def test_a_frisket_lets_through_its_share(colour, alpha):
    base, fresh = analytic(300, 260), solid(300, 260, colour, alpha)
    got = Limit(SHEET).applied(base, fresh).read(base.rect).astype(float)
    share = SHEET.coverage(SHEET.rect)
    a, b = base.read(base.rect).astype(float), fresh.read(base.rect).astype(float)
    assert np.abs(got - (a + share * (b - a))).max() <= 1
    assert np.array_equal(got[:, share == 0], a[:, share == 0])


def test_held_edges_keep_coverage_and_take_colour():
    base, fresh = analytic(300, 260), solid(300, 260, (1, 0, 0))
    got = Limit(hold_edges=True).applied(base, fresh)
    pixels = got.read(got.rect)
    assert np.array_equal(pixels[3], base.read(base.rect)[3])
    assert np.array_equal(pixels[0], pixels[3])
    assert not pixels[1].any()
    assert same_pixels(Limit(hold_edges=True).applied(base, Raster(300, 260)), base)  # wiped off, it stays


def test_what_is_lifted_and_what_stays_make_the_whole():
    base = analytic(300, 260)
    taken, rest = lifted(base, SHEET)
    total = taken.read(base.rect).astype(int) + rest.read(base.rect)
    assert np.array_equal(total, base.read(base.rect))
    assert taken.bounds().intersected(SHEET.bounds()) == taken.bounds()


def test_no_limit_is_no_work():
    fresh = analytic(300, 260)
    assert Limit().applied(Raster(300, 260), fresh) is fresh
