"""Maps of coats, and breaking the edge of a part that has one."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.painting.form.breaking import coat_layers
from japanner.painting.makers import MAKERS, Scene
from japanner.painting.operations import AddLayer, BreakEdge, Fill, Make, SetFrisket, SetLayer
from japanner.painting.picture.compositor import flattened
from japanner.scripting import Script


@pytest.fixture(scope="module")
def furred():
    """A brown part on a blue ground with a coat, and a map that covers its left half."""
    script = Script.new(300, 240, title="Coat", ground=(0.1, 0.2, 0.9))
    part = script.part("Brindle", "fur")
    flat = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "oval", "x0": 60, "y0": 50, "x1": 240, "y1": 190}))
    script.do(Fill(flat, (0.45, 0.33, 0.24)))
    script.do(SetFrisket({"shape": "box", "x0": 0, "y0": 0, "x1": 150, "y1": 240}))
    script.do(AddLayer(part, "detail", "Map"))
    layer = script.painting.parts[0].layers[-1].uid
    script.do(Fill(layer, (1.0, 1.0, 1.0)))
    script.do(SetFrisket({"shape": "all"}))
    return script.painting, layer


def scene_map(furred, **settings):
    painting, layer = furred
    values = MAKERS["coat"].checked({"length_map": layer, **settings})
    return Scene(painting, painting.parts[0], values, 1).map("length_map")


def test_a_map_is_feathered_and_its_range_counts(furred):
    plain = scene_map(furred)
    assert plain.min() < 0.02
    assert plain.max() > 0.98
    row = plain[plain.shape[0] // 2]
    assert ((row > 0.1) & (row < 0.9)).sum() >= 2  # an edge that was hard is none now
    ranged = scene_map(furred, length_map_bare=30.0, length_map_full=80.0)
    assert ranged.min() == pytest.approx(0.3, abs=0.02)
    assert ranged.max() == pytest.approx(0.8, abs=0.02)


def test_bare_for_full_is_the_map_inverted(furred):
    plain, other = scene_map(furred), scene_map(furred, length_map_bare=100.0, length_map_full=0.0)
    assert np.allclose(plain + other, 1, atol=1e-5)


def test_breaking_the_edge_of_a_coat_shows_no_ground(furred):
    painting, _ = furred
    painting, _ = Make(painting.parts[0].uid, "coat", {"length": 14.0}, 3).apply(painting)
    part = painting.parts[0]
    assert coat_layers(part)
    before = flattened(painting).read(painting.rect)
    broken, _ = BreakEdge(part.uid, 14.0, 5).apply(painting)
    for flat in part.flats:
        assert broken.layer(flat.uid).pixels is flat.pixels  # it is the coat that is broken
    assert any(broken.layer(one.uid).pixels is not one.pixels for one in coat_layers(part))
    after = flattened(broken).read(painting.rect)
    flat = part.flats[0].pixels.read(painting.rect)[3] > 60000
    blue = after[2].astype(int) - after[0] > 12000
    assert not (blue & flat).any()
    assert (before != after).any()


def test_without_a_coat_the_silhouette_is_broken_as_before(furred):
    painting, _ = furred
    part = painting.parts[0]
    assert coat_layers(part) == []
    broken, _ = BreakEdge(part.uid, 14.0, 5).apply(painting)
    assert broken.layer(part.flats[0].uid).pixels is not part.flats[0].pixels


def coat_value(furred, **settings):
    """Mean value of a coat in the left and the right half."""
    painting, layer = furred
    painting, _ = SetLayer(layer, {"shown": False}).apply(painting)
    painting, _ = Make(painting.parts[0].uid, "coat", {"length": 14.0, "edge": 0.0, **settings}, 3).apply(painting)
    pixels = flattened(painting).read(painting.rect)[:3, 80:160].astype(float).mean(axis=0)
    return pixels[:, 80:140].mean(), pixels[:, 160:220].mean()


def test_the_light_of_a_coat_is_lifted_and_deepened_by_paint(furred):
    layer = furred[1]
    plain, lifted, deepened = (coat_value(furred, **one) for one in ({}, {"lift_map": layer}, {"deepen_map": layer}))
    assert lifted[0] > 1.15 * plain[0]
    assert deepened[0] < 0.75 * plain[0]
    for other in (lifted, deepened):
        assert other[1] == pytest.approx(plain[1], rel=0.02)  # the map covers the left half


def test_between_the_key_light_and_what_is_painted_beneath_there_is_a_way(furred):
    by_key, half, painted = (coat_value(furred, by_key=share)[1] for share in (100.0, 50.0, 0.0))
    assert painted == pytest.approx(coat_value(furred, lit="as painted")[1], rel=0.1)
    assert min(by_key, painted) < half < max(by_key, painted)
