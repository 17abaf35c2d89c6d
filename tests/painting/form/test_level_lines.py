"""Flat tips that lie across the form, and facets that they turn into each other."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter, gaussian_filter1d

from japanner.color import lab
from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.form.combing import level_lines
from japanner.painting.operations import DropFrisket, Fill, SetFrisket, SetMaquette
from japanner.scripting import Script, shipped_brush


def stood(piece):
    script = Script.new(300, 300)
    part = script.part("Form", "skin")
    if piece is None:
        return script, part, script.layer(part, "flat")
    script.do(SetMaquette(Maquette((piece(part),), (150.0, 150.0), 60.0, eye=40.0).to_record()))
    script.fill(part, "flat", (0.6, 0.5, 0.4))
    return script, part, script.painting.part(part).layers[-1].uid


def angles(script, part, places):
    field = level_lines(script.painting, script.painting.part(part))
    x, y = np.array(places, float).T
    dx, dy = field.directions(x, y)
    return np.degrees(np.arctan2(dy, dx)) % 180


def test_on_a_ball_level_lines_run_round_its_middle():
    script, part, _ = stood(lambda part: Piece("Ball", part=part, size=(1.8, 1.8, 1.8)))
    turns = np.radians([10, 55, 100, 170, 235, 300])
    places = np.stack((150 + 75 * np.cos(turns), 150 + 75 * np.sin(turns)), axis=1)
    off = (angles(script, part, places) - np.degrees(turns) - 90 + 90) % 180 - 90
    assert np.abs(off).max() < 4
    assert level_lines(script.painting, script.painting.part(part)) is level_lines(
        script.painting, script.painting.part(part)
    )


def test_on_an_upright_tube_they_run_up():
    script, part, _ = stood(lambda part: Piece("Tube", "tube", part=part, size=(1, 1, 3.4), place=(0, -1.7, 0)))
    found = angles(script, part, [(115, 150), (130, 140), (170, 160), (190, 150)])
    assert np.abs(found - 90).max() < 4


def test_without_a_silhouette_there_is_no_form():
    script, part, layer = stood(None)
    with pytest.raises(InputError):
        level_lines(script.painting, script.painting.part(part))
    # A stroke then lies across its own way.
    brush = shipped_brush("Plane turner").with_changes(pick_up=False)
    script.stroke(layer, brush, (0.9, 0.2, 0.2), [(60, 150, 1.0), (220, 150, 1.0)])
    assert script.painting.layer(layer).pixels.tiles


def test_two_facets_are_turned_into_each_other_in_ten_strokes():
    """Steepest slope down by more than four, values outside as they were, texture kept (common practice)."""
    script, _, layer = stood(lambda part: Piece("Ball", part=part, size=(2.3, 2.3, 2.3)))
    script.do(SetFrisket({"shape": "box", "x0": 0, "y0": 0, "x1": 85, "y1": 300}))
    script.do(Fill(layer, (0.36, 0.25, 0.21)))
    script.do(DropFrisket())
    stipple = shipped_brush("Skin stipple").with_changes(size_px=50.0, strength=0.06, pick_up=True)
    for k in range(120):
        x, y = np.random.default_rng(k).uniform((30, 90), (150, 210))
        script.stroke(layer, stipple, (0, 0, 0), [(x, y, 1.0), (x + 8, y + 5, 1.0)], seed=k)

    def values():
        pixels = script.painting.layer(layer).pixels.read(script.painting.rect).astype(float) / 65535
        return lab.lightness_from_srgb(np.moveaxis(pixels[:3], 0, -1))

    before = values()
    brush = shipped_brush("Plane turner").with_changes(size_px=60.0)
    for k in range(10):
        y = 150 + (k % 5 - 2) * 10
        x0, x1 = (56, 122) if k % 2 == 0 else (114, 48)
        script.stroke(layer, brush, (0, 0, 0), [(x0, y, 0.8), ((x0 + x1) / 2, y + 2, 0.8), (x1, y, 0.8)], seed=k)
    after = values()

    def steepest(one):
        return np.abs(np.gradient(gaussian_filter1d(one[142:158, 40:140].mean(axis=0), 1.0))).max()

    assert steepest(after) < steepest(before) / 4
    for columns in (slice(22, 32), slice(140, 170)):
        assert np.abs(after[142:158, columns] - before[142:158, columns]).max() < 1
    fine = [(one - gaussian_filter(one, 3))[130:170, 95:120].std() for one in (before, after)]
    assert fine[1] > 0.35 * fine[0]
