"""The mixing grid: values of its columns, hues of its undertones, and what the painter sets."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.color import lab, oklab
from japanner.color.value import srgb_from_value
from japanner.errors import InputError
from japanner.files.opening import open_painting
from japanner.painting.model import DEFAULT_SCALE, MATERIALS, Layer, Painting, Part
from japanner.painting.operations import Fill, SetPart
from japanner.painting.value.mixing_grid import CHROMA, Undertone, cells, local_colour, undertones
from japanner.raster.tiles import Raster
from japanner.scripting import Script
from tests.paintings import same_painting

unit = st.floats(0, 1)
GROUND = (0.30, 0.29, 0.28)


@settings(max_examples=25, deadline=None)
@given(st.tuples(unit, unit, unit), st.tuples(unit, unit, unit), st.sampled_from(MATERIALS))
def test_cells_have_the_value_of_their_column(local, ground, material):
    for row in cells(local, ground, material, DEFAULT_SCALE):
        values = lab.lightness_from_srgb(np.array(row))
        assert np.abs(values - DEFAULT_SCALE).max() < 0.5


@pytest.mark.parametrize("material", MATERIALS)
@pytest.mark.parametrize("local", [srgb_from_value(v, 0.06, 55) for v in (25, 50, 75)])
def test_undertones_differ_by_the_hue_they_state(material, local):
    rows = [one for one in undertones(material) if not one.from_ground]
    grid = cells(local, GROUND, material, DEFAULT_SCALE)
    for row, undertone in zip(grid, rows, strict=False):
        for step in range(5):
            (_, c0, h0), (_, c1, h1) = (oklab.oklch_from_srgb(one[step]) for one in (grid[0], row))
            if min(c0, c1) > 0.012:
                apart = (h1 - h0 - (undertone.hue_deg - rows[0].hue_deg) + 180) % 360 - 180
                assert abs(apart) < 1, (undertone.name, step)


def test_chroma_is_highest_in_the_halftone_and_hair_is_never_black():
    grid = cells(srgb_from_value(48, 0.07, 60), GROUND, "plain", DEFAULT_SCALE)
    chroma = [float(oklab.oklch_from_srgb(colour)[1]) for colour in grid[0]]
    assert max(chroma) == chroma[2]
    assert CHROMA[2] == max(CHROMA)
    for material in ("hair", "fur"):
        for local in (srgb_from_value(8, 0.01, 60), srgb_from_value(70, 0.05, 80)):
            darkest = cells(local, GROUND, material, DEFAULT_SCALE)[0][0]
            assert float(lab.lightness_from_srgb(darkest)) > 5


def test_skin_has_four_undertones_from_light_to_very_dark():
    assert {"golden", "rose", "blood", "surroundings"} <= {one.name for one in undertones("skin")}
    for value in (22, 45, 72, 85):
        local = srgb_from_value(value, 0.055, 52)
        scale = tuple(np.clip(np.array((-28, -14, 0, 10, 18)) + value, 3, 98))
        grid = cells(local, GROUND, "skin", scale)
        assert len(grid) >= 4
        assert all(len(row) >= 4 for row in grid)
        blood = next(i for i, one in enumerate(undertones("skin")) if one.name == "blood")
        shadows = oklab.oklch_from_srgb(grid[blood][1]), oklab.oklch_from_srgb(grid[0][1])
        assert shadows[0][1] > shadows[1][1]  # the blood shows in the shadows


def test_surroundings_are_drawn_to_the_ground():
    local, ground = srgb_from_value(50, 0.08, 50), srgb_from_value(30, 0.06, 250)
    row = cells(local, ground, "metal", DEFAULT_SCALE)[-1]
    hue = oklab.oklch_from_srgb(row[2])[2]
    assert abs((hue - 250 + 180) % 360 - 180) < 50


def test_the_local_colour_is_that_of_the_flat():
    script = Script.new(300, 200)
    part = script.part("Part", "skin")
    layer = script.layer(part, "flat")
    assert local_colour(script.painting, script.painting.part(part)) is None
    script.do(Fill(layer, (0.7, 0.5, 0.4)))
    assert local_colour(script.painting, script.painting.part(part)) == pytest.approx((0.7, 0.5, 0.4), abs=1e-3)


def test_what_the_painter_sets_is_kept_in_the_file(tmp_path):
    script = Script.new(100, 100)
    part = script.part("Part", "skin")
    script.do(SetPart(part, {"mixed": [[1, 2, 0.5, 0.4, 0.3], [0, 0, 0.1, 0.0, 0.0]]}))
    script.save(tmp_path / "a.ora")
    assert same_painting(open_painting(tmp_path / "a.ora").painting, script.painting)
    assert script.painting.part(part).mixed[0] == (1, 2, 0.5, 0.4, 0.3)


@pytest.mark.parametrize("mixed", [5, [[1, 2]], [[0, 9, 0, 0, 0]], [[0, 1, 0, 0, 2.0]], [["a", 1, 0, 0, 0]]])
def test_cells_that_make_no_sense_are_refused(mixed):
    script = Script.new(100, 100)
    part = script.part("Part", "skin")
    with pytest.raises(InputError):
        script.do(SetPart(part, {"mixed": mixed}))


@pytest.mark.parametrize("fields", [{"hue_deg": 400.0}, {"chroma": (1.0,)}, {"from_ground": 2.0}, {"name": ""}])
def test_undertones_that_make_no_sense_are_refused(fields):
    with pytest.raises(InputError):
        Undertone(**{"name": "a", **fields})


def test_a_parts_own_colour_is_the_same_however_its_tiles_came():
    """What makers were made from is told by it to the last bit: else a file that is opened again seems out of date."""
    random = np.random.default_rng(4)
    codes = random.integers(0, 65536, (4, 700, 800)).astype(np.uint16)
    codes[3] = 65535
    raster = Raster(800, 700).written(0, 0, codes)
    turned = Raster(800, 700).with_tiles(dict(reversed(raster.tiles.items())))
    found = []
    for one in (raster, turned):
        part = Part(1, "Head", layers=(Layer(2, "Flat", "flat", one),))
        found.append(local_colour(Painting(800, 700, parts=(part,), next_uid=3), part))
    assert found[0] == found[1]
