"""A mixing grid out of a picture: known undertones are found again, at their values."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import lab, oklab, srgb
from japanner.errors import InputError
from japanner.painting.value.grid_from_picture import MOST_UNDERTONES, grid_from_colours


def painted(*surfaces, count=2000, seed=1):
    """Colours of surfaces under light from dark to bright: reflectances times light, as on a lit form."""
    random, found = np.random.default_rng(seed), []
    for share, albedo in surfaces:
        light = random.uniform(0.05, 1.0, (round(count * share), 1))
        found.append(srgb.encode(np.clip(np.array(albedo) * light, 0, 1)))
    return np.concatenate(found)


def hue_of(colour):
    return float(oklab.oklch_from_srgb(np.array([colour]))[0, 2])


def test_two_surfaces_are_two_undertones_at_five_values():
    skin, cloth = (0.55, 0.30, 0.20), (0.10, 0.16, 0.35)
    grid = grid_from_colours(painted((0.7, skin), (0.3, cloth)), "Study")
    assert [name for name, _ in grid.rows] == ["orange", "blue"] or len(grid.rows) == 2
    assert np.all(np.diff(grid.scale) > 0)
    for (_, colours), albedo in zip(grid.rows, (skin, cloth), strict=True):
        assert lab.lightness_from_srgb(np.array(colours)) == pytest.approx(np.array(grid.scale), abs=0.6)
        wanted = hue_of(srgb.encode(np.array(albedo)))
        assert all(abs((hue_of(one) - wanted + 180) % 360 - 180) < 6 for one in colours[1:4])


def test_one_surface_is_one_undertone():
    grid = grid_from_colours(painted((1.0, (0.5, 0.28, 0.2))), "One")
    assert len(grid.rows) == 1


def test_greys_are_called_so():
    grid = grid_from_colours(painted((1.0, (0.4, 0.4, 0.4))), "Grey")
    assert [name for name, _ in grid.rows] == ["grey"]


@given(st.lists(st.tuples(*[st.floats(0, 1)] * 3), min_size=30, max_size=60))
def test_any_region_gives_a_grid(colours):
    grid = grid_from_colours(np.array(colours), "Any")
    assert 1 <= len(grid.rows) <= MOST_UNDERTONES
    assert np.all(np.diff(grid.scale) > 0)
    assert grid.scale[0] >= 0
    assert grid.scale[-1] <= 100
    assert all(0 <= c <= 1 for _, row in grid.rows for colour in row for c in colour)


def test_the_same_region_gives_the_same_grid():
    colours = painted((0.5, (0.5, 0.3, 0.2)), (0.5, (0.2, 0.3, 0.2)))
    assert grid_from_colours(colours, "A") == grid_from_colours(colours, "A")


def test_a_region_of_a_few_px_is_refused():
    with pytest.raises(InputError, match="too small"):
        grid_from_colours(np.full((5, 3), 0.5), "Few")
