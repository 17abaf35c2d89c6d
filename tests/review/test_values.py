"""Histograms of a part and of the ground beside it."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.painting.model import Part
from japanner.painting.picture.looks import grey_code
from japanner.painting.picture.picture import Picture
from japanner.review.region import region_of, silhouette_mask
from japanner.review.values import BINS, value_histograms
from japanner.scripting import Script
from tests.paintings import HARD


def disc_on_ground(value, ground):
    colour, below = (grey_code(v) / 255 for v in (value, ground))
    made = Script.new(400, 300, ground=(below,) * 3)
    part = made.part("Disc")
    made.stroke(made.layer(part, "flat"), HARD.with_changes(size_px=160), (colour,) * 3, [(200, 150, 1.0)])
    return made.painting


def histograms(painting, part, level=0):
    pixels = Picture(painting).levels[level]
    return value_histograms(pixels, region_of(part, pixels.shape, level))


# A disc of L* 70 on a ground of L* 40: each histogram stands at its value (CIE 15).
@pytest.mark.parametrize("level", [0, 1, 2])
def test_each_histogram_stands_at_its_value(level):
    painting = disc_on_ground(70, 40)
    found = histograms(painting, painting.parts[0], level)
    assert found.part.argmax() == 70
    assert found.part[68:73].sum() > 0.9
    assert found.ground[38:43].sum() > 0.8
    assert found.part.sum() == pytest.approx(1)
    assert found.ground.sum() == pytest.approx(1)


def test_a_part_without_paint_has_no_histogram():
    painting = disc_on_ground(70, 40)
    found = histograms(painting, Part(77, "Empty"))
    assert found.part.sum() == 0
    assert found.ground.shape == (BINS,)


def test_the_mask_has_the_area_of_the_silhouette():
    painting = disc_on_ground(70, 40)
    mask = silhouette_mask(painting.parts[0], Picture(painting).levels[0].shape, 0)
    assert np.count_nonzero(mask > 127) == pytest.approx(np.pi * 80**2, rel=0.01)
