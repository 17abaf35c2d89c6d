"""Losing and finding edges: brushes that keep to the edge map."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.form.edge_band import edge_band
from japanner.painting.operations import DropFrisket, Fill, FlattenPart, Make, SetFrisket, SetMaquette
from japanner.scripting import Script, shipped_brush


@pytest.fixture
def two_balls():
    """A small ball before a large one, laid in and flattened; the uid of its paint."""
    script = Script.new(320, 260)
    part = script.part("Balls", "plain")
    pieces = (Piece("Back", part=part, size=(1, 1, 1)), Piece("Front", part=part, size=(0.4,) * 3, place=(0.1, 0, 1.2)))
    script.do(SetMaquette(Maquette(pieces, (160.0, 130.0), 100.0, eye=12.0).to_record()))
    script.fill(part, "flat", (0.6, 0.5, 0.4))
    script.do(Make(part, "lay-in", {"way": "smooth"}, seed=1))
    script.do(FlattenPart(part))
    return script, script.painting.part(part)


def picture(script, layer):
    pixels = script.painting.layer(layer).pixels
    return pixels.read(pixels.rect).astype(np.float64) / 65535


def test_the_band_runs_along_contours_and_the_silhouette(two_balls):
    script, part = two_balls
    band = edge_band(script.painting, part, part.layers[0], 8.0).coverage(script.painting.rect)
    front = 100 * 0.4 * 12 / np.sqrt(10.8**2 - 0.16)
    x = 160 + 0.1 * 100 * 12 / 10.8
    assert band[130, round(x + front)] == 1
    assert band[130, round(x)] == 0
    assert band[130, 160 - 100] == 1
    assert band[20, 20] == 0
    assert edge_band(script.painting, part, part.layers[0], 8.0) is edge_band(
        script.painting, part, part.layers[0], 8.0
    )


@pytest.mark.parametrize(("name", "softer"), [("Lose an edge", True), ("Find an edge", False)])
def test_an_edge_is_lost_or_found_and_nothing_else_touched(two_balls, name, softer):
    script, part = two_balls
    layer = part.layers[0].uid
    before = picture(script, layer)
    brush = shipped_brush(name).with_changes(size_px=120.0, strength=1.0, soften_px=5.0)
    script.stroke(layer, brush, (0, 0, 0), [(100, 130, 1.0), (160, 130, 1.0), (230, 130, 1.0)])
    after = picture(script, layer)
    front = 100 * 0.4 * 12 / np.sqrt(10.8**2 - 0.16)
    edge = round(160 + 0.1 * 100 * 12 / 10.8 + front)
    steep = [np.abs(np.diff(one[1, 130, edge - 4 : edge + 5])).max() for one in (before, after)]
    assert (steep[1] < 0.7 * steep[0]) if softer else (steep[1] > steep[0])
    # Off the edges nothing has changed.
    middle = (slice(None), slice(120, 140), slice(165, 177))
    assert np.array_equal(after[middle], before[middle])


def test_without_a_form_it_keeps_to_where_paint_ends():
    script = Script.new(200, 160)
    layer = script.layer(script.part("Part"), "light")
    script.do(SetFrisket({"shape": "box", "x0": 60, "y0": 40, "x1": 140, "y1": 120}))
    script.do(Fill(layer, (0.8, 0.2, 0.1)))
    painting = script.painting
    band = edge_band(painting, painting.parts[0], painting.layer(layer), 6.0).coverage(painting.rect)
    assert band[80, 60] == 1
    assert band[80, 100] == 0
    empty = Script.new(50, 50)
    bare = empty.layer(empty.part("Part"), "light")
    assert edge_band(empty.painting, empty.painting.parts[0], empty.painting.layer(bare), 6.0) is None


def test_where_paint_itself_ends_it_softens_and_comes_out_again():
    script = Script.new(300, 300)
    layer = script.layer(script.part("Part"), "light")
    script.do(SetFrisket({"shape": "oval", "x0": 60, "y0": 60, "x1": 240, "y1": 240}))
    script.do(Fill(layer, (0.8, 0.3, 0.2)))
    script.do(DropFrisket())
    steepest = []
    for name in ("Lose an edge", "Find an edge", "Find an edge"):
        brush = shipped_brush(name).with_changes(size_px=60.0)
        script.stroke(layer, brush, (0, 0, 0), [(60, 120, 1.0), (60, 150, 1.0), (60, 190, 1.0)])
        steepest.append(np.abs(np.diff(picture(script, layer)[3, 150, :150])).max())
    assert steepest[0] < 0.3
    assert steepest[0] * 1.2 < steepest[1] < steepest[2]
