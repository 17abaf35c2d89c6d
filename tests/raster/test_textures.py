"""Textures: they join themselves, come back with their seed, and are what they say."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.raster.textures import TEXTURES, swatch, texture


@pytest.mark.parametrize("kind", TEXTURES)
def test_opposite_sides_fit(kind):
    tile = swatch(kind, 1)
    for axis in (0, 1):
        inside = np.abs(np.diff(tile, axis=axis)).mean()
        seam = np.abs(np.take(tile, 0, axis) - np.take(tile, -1, axis)).mean()
        assert seam < 1.6 * inside + 0.01, axis


@pytest.mark.parametrize("kind", TEXTURES)
def test_values_lie_around_the_middle_and_the_seed_rules(kind):
    tile = swatch(kind, 1)
    assert tile.shape == (512, 512)
    assert 0 <= tile.min() <= tile.max() <= 1
    assert tile.mean() == pytest.approx(0.5, abs=0.06)
    assert tile.std() > 0.08
    assert np.array_equal(TEXTURES[kind](np.random.Generator(np.random.PCG64(1))),
                          TEXTURES[kind](np.random.Generator(np.random.PCG64(1))))  # fmt: skip
    assert not np.array_equal(tile, swatch(kind, 2))


def test_brushed_metal_runs_one_way_and_plaster_does_not_repeat_within_a_side():
    tile = swatch("brushed metal", 1)
    along, across = (np.abs(np.diff(tile, axis=axis)).mean() for axis in (1, 0))
    assert across > 5 * along
    plaster = swatch("plaster", 1) - 0.5
    spectrum = np.abs(np.fft.fft2(plaster)) ** 2
    same = np.fft.ifft2(spectrum).real / spectrum.mean()
    assert same[128:384, 128:384].max() < 0.5


def test_it_fills_a_canvas_at_any_scale():
    for scale in (0.4, 1.0, 2.5):
        assert texture("felt", 700, 300, scale).shape == (300, 700)
    flat = texture("felt", 50, 50, contrast=0)
    assert flat == pytest.approx(0.5)


@pytest.mark.parametrize("bad", [{"scale": 0}, {"scale": 21}, {"contrast": -1}, {"seed": -1}, {"seed": 1.5}])
def test_wrong_numbers_are_refused(bad):
    with pytest.raises(InputError):
        texture("felt", 50, 50, **bad)
    with pytest.raises(InputError, match="texture"):
        texture("marble", 50, 50)
