"""Part against ground, against synthetic pictures whose figures are known."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.color import lab, srgb
from japanner.painting.operations import Fill, SetFrisket
from japanner.painting.picture.picture import Picture
from japanner.review.region import region_of
from japanner.review.separation import separation, separation_of
from japanner.scripting import Script


def disc(inside, outside, *, half=None):
    """Lab colours of a disc on a ground, whose right half may differ."""
    y, x = np.mgrid[:400, :400]
    mask = np.hypot(x - 200, y - 200) <= 100
    colours = np.empty((400, 400, 3))
    colours[:] = outside
    if half is not None:
        colours[:, 200:] = half
    colours[mask] = inside
    return colours, mask


# Worked with colour-science: CIEDE2000 of Sharma, Wu and Dalal (2005) for the same pairs.
@pytest.mark.parametrize(
    ("inside", "outside", "values", "delta_e", "word"),
    [
        ((70, 0, 0), (40, 0, 0), 30, 28.4117, "clear"),
        ((50, 0, 0), (45, 0, 0), 5, 4.9102, "close"),
        ((50, 0, 0), (40, 0, 0), 10, 9.4706, "clear"),
        ((50, 50, 30), (50, -50, 30), 0, 64.9576, "lost"),
        ((40, 0, 0), (70, 0, 0), -30, 28.4117, "clear"),
    ],
)
def test_known_pairs(inside, outside, values, delta_e, word):
    found = separation_of(*disc(inside, outside), 8)
    assert found.values == pytest.approx(values, abs=1e-6)
    assert found.delta_e == pytest.approx(delta_e, abs=2e-4)
    assert found.word == word


def test_the_share_of_the_edge_that_is_lost():
    found = separation_of(*disc((70, 0, 0), (40, 0, 0), half=(70, 0, 0)), 10)
    assert found.lost == pytest.approx(0.5, abs=0.03)
    assert found.values == pytest.approx(15, abs=0.5)
    assert separation_of(*disc((70, 0, 0), (40, 0, 0)), 10).lost == 0


def test_a_part_without_an_edge_has_none():
    colours, mask = disc((70, 0, 0), (40, 0, 0))
    assert separation_of(colours, np.zeros_like(mask), 8) is None
    assert separation_of(colours, np.ones_like(mask), 8) is None


@pytest.mark.parametrize("level", [0, 1])
def test_of_a_painting(level):
    grey = [tuple(srgb.encode(lab.luminance_from_lightness(np.full(3, v)))) for v in (40.0, 62.0)]
    script = Script.new(600, 400, ground=grey[0])
    layer = script.layer(script.part("Part"), "flat")
    script.do(SetFrisket({"shape": "oval", "x0": 100, "y0": 80, "x1": 500, "y1": 320}))
    script.do(Fill(layer, grey[1]))
    picture = Picture(script.painting)
    pixels = picture.levels[level]
    found = separation(pixels, region_of(script.painting.parts[0], pixels.shape, level))
    # The pixels of the edge itself are half one and half the other.
    assert found.values == pytest.approx(22, abs=2.5)
    assert found.word == "clear"
