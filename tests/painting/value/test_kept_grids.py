"""Mixing grids that are kept: in the painting, in files, and moved with the value scale."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import lab, oklab
from japanner.color.value import srgb_from_value
from japanner.errors import InputError
from japanner.files.opening import open_painting
from japanner.painting.model import DEFAULT_SCALE, Light
from japanner.painting.model.kept_grid import KeptGrid, grid_from_record, grid_from_text, text_of_grid
from japanner.painting.operations import Fill, SetPart
from japanner.painting.value.mixing_grid import cells, kept, mixing_grid
from japanner.scripting import Script
from tests.paintings import same_painting

unit = st.floats(0, 1)
names = st.text(st.characters(codec="utf-8", categories=("L", "N")), min_size=1, max_size=30)
rows = st.tuples(names, st.tuples(*[st.tuples(unit, unit, unit)] * 5))
GROUND = (0.30, 0.29, 0.28)


@pytest.fixture
def skin():
    script = Script.new(120, 80)
    part = script.part("Cheek", "skin")
    script.do(Fill(script.layer(part, "flat"), (0.75, 0.55, 0.45)))
    return script, part


@given(names, st.lists(rows, min_size=1, max_size=8), st.tuples(*[st.floats(0, 100)] * 5))
def test_a_grid_survives_its_file(name, undertones, scale):
    grid = KeptGrid(name, scale, tuple(undertones))
    assert grid_from_text(text_of_grid(grid)) == grid


def test_a_kept_grid_no_longer_follows_the_flat(skin, tmp_path):
    script, part = skin
    now = script.painting.part(part)
    grid = kept(script.painting, now, "Cheek in May", (0, 0, 0))
    script.do(SetPart(part, {"grid": grid.to_record()}))
    script.do(Fill(now.layers[0].uid, (0.2, 0.4, 0.3)))
    now = script.painting.part(part)
    assert mixing_grid(script.painting, now, (0, 0, 0)) == grid.rows
    script.save(tmp_path / "a.ora")
    again = open_painting(tmp_path / "a.ora").painting
    assert same_painting(again, script.painting)
    assert again.part(part).grid == grid
    script.do(SetPart(part, {"grid": None}))
    assert mixing_grid(script.painting, script.painting.part(part), (0, 0, 0)) != grid.rows


def test_a_kept_grid_moves_with_the_value_scale(skin):
    script, part = skin
    grid = kept(script.painting, script.painting.part(part), "Cheek", (0, 0, 0))
    scale = [v + 4 for v in DEFAULT_SCALE]
    script.do(SetPart(part, {"grid": grid.to_record(), "scale": scale}))
    for _, colours in mixing_grid(script.painting, script.painting.part(part), (0, 0, 0)):
        assert np.abs(lab.lightness_from_srgb(np.array(colours)) - scale).max() < 0.5


def test_surroundings_are_what_the_painter_says(skin, tmp_path):
    script, part = skin
    before = mixing_grid(script.painting, script.painting.part(part), (0, 0, 0))
    script.do(SetPart(part, {"around": list(srgb_from_value(50, 0.1, 250))}))
    after = mixing_grid(script.painting, script.painting.part(part), (0, 0, 0))
    assert before[-1][0] == "surroundings"
    hues = [float(oklab.oklch_from_srgb(grid[-1][1][2])[2]) for grid in (before, after)]
    apart = [abs((hue - 250 + 180) % 360 - 180) for hue in hues]
    assert apart[1] < apart[0] / 2
    script.save(tmp_path / "a.ora")
    assert same_painting(open_painting(tmp_path / "a.ora").painting, script.painting)


def test_lights_are_drawn_to_the_key_and_a_white_one_draws_nothing():
    local = srgb_from_value(48, 0.06, 20)

    def hue(kelvin, step):
        row = cells(local, GROUND, "plain", DEFAULT_SCALE, Light(kelvin=kelvin))[0]
        return float(oklab.oklch_from_srgb(row[step])[2])

    assert hue(2900, 3) > 24  # towards 64 degrees
    assert hue(6500, 3) == pytest.approx(20, abs=2)
    assert (hue(12000, 3) - 20 + 180) % 360 - 180 < -4  # towards blue, the shorter way round
    assert hue(2900, 2) == pytest.approx(20, abs=0.5)  # the halftone is the local colour


ROW = {"name": "a", "colours": [[0, 0, 0]] * 5}


@pytest.mark.parametrize(
    "record",
    [
        5,
        {},
        {"format": 9, "name": "a", "scale": [1, 2, 3, 4, 5], "undertones": [ROW]},
        {"format": 1, "name": "", "scale": [1, 2, 3, 4, 5], "undertones": [ROW]},
        {"format": 1, "name": "a", "scale": [1, 2], "undertones": [ROW]},
        {"format": 1, "name": "a", "scale": [1, 2, 3, 4, 500], "undertones": [ROW]},
        {"format": 1, "name": "a", "scale": [1, 2, 3, 4, 5], "undertones": []},
        {"format": 1, "name": "a", "scale": [1, 2, 3, 4, 5], "undertones": [{"name": "a"}]},
        {"format": 1, "name": "a", "scale": [1, 2, 3, 4, 5], "undertones": [{**ROW, "colours": [[0, 0]] * 5}]},
        {"format": 1, "name": "a", "scale": [1, 2, 3, 4, 5], "undertones": [{**ROW, "colours": [[0, 0, 2.0]] * 5}]},
        {"format": 1, "name": "a", "scale": [1, 2, 3, 4, 5], "undertones": [{**ROW, "colours": "red"}]},
    ],
)
def test_files_that_are_no_grids_are_refused(record):
    with pytest.raises(InputError):
        grid_from_record(record)
    with pytest.raises(InputError):
        grid_from_text(json.dumps(record))


@pytest.mark.parametrize("text", ["", "{", "[" * 100000, "\x00"])
def test_text_that_is_no_json_is_refused(text):
    with pytest.raises(InputError):
        grid_from_text(text)
