"""A hard silhouette broken into strands."""

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.painting.operations import (
    BreakEdge,
    DropFrisket,
    Fill,
    SetComb,
    SetFrisket,
    operation_from_record,
    to_record,
)
from japanner.scripting import Script
from tests.paintings import same_painting

DOWN = ({"points": ((150.0, 60.0), (150.0, 240.0))},)
BROWN = (0.5, 0.4, 0.3)


def box():
    """A box of one brown, combed down."""
    script = Script.new(300, 300)
    part = script.part("Pelt", "fur")
    layer = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "box", "x0": 50, "y0": 50, "x1": 250, "y1": 200}))
    script.do(Fill(layer, BROWN))
    script.do(DropFrisket())
    script.do(SetComb(part, DOWN))
    return script, part


def sheets(script, part):
    rect = script.painting.rect
    return {one.name: one.pixels.read(rect).astype(float) / 65535 for one in script.painting.part(part).layers}


def test_the_edge_breaks_where_hair_leads_out():
    script, part = box()
    script.do(BreakEdge(part, 20.0, 3))
    found = sheets(script, part)
    flat, edge = found["Flat"][3], found["Edge"][3]
    assert (script.painting.part(part).layers[-1].place, script.painting.part(part).layers[-1].role) == ("body", "edge")
    # Notches at the lower edge, against the hair, and none where it leads in.
    assert (flat[185:200, 60:240] < 0.5).mean() > 0.05
    assert flat[50:60, 60:240].min() == 1
    assert flat[100:150, 60:240].min() == 1
    # Hairs over the lower edge, few at the sides, none at the top.
    assert (edge[200:212, 60:240] > 0.2).mean() > 0.25
    assert edge[:48].max() == 0
    assert edge[60:180, 252:].sum() < 0.2 * edge[200:, 60:240].sum()
    assert np.flatnonzero(edge.any(axis=1)).max() < 200 + 2.5 * 20 + 3
    # Within the silhouette the paint is as it was; outside hairs have its colour.
    assert edge[60:180, 60:240].max() == 0
    solid = edge > 0.5
    assert np.abs(np.median(found["Edge"][:3, solid] / edge[solid], axis=1) - BROWN).max() < 0.05


def test_a_seed_gives_the_same_edge_and_another_one_another():
    edges = []
    for seed in (3, 3, 4):
        script, part = box()
        script.do(BreakEdge(part, 20.0, seed))
        edges.append(script.painting)
    assert same_painting(edges[0], edges[1])
    assert not same_painting(edges[0], edges[2])


def test_a_frisket_limits_where_the_edge_breaks():
    script, part = box()
    script.do(SetFrisket({"shape": "box", "x0": 0, "y0": 0, "x1": 150, "y1": 300}))
    script.do(BreakEdge(part, 20.0, 3))
    found = sheets(script, part)
    assert (found["Flat"][3, 185:200, 60:140] < 0.5).any()
    assert found["Flat"][3, 185:200, 160:250].min() == 1
    assert found["Edge"][3, :, 152:].max() == 0


def test_what_cannot_be_broken_is_refused():
    script, part = box()
    bare = script.part("Bare", "fur")
    with pytest.raises(InputError, match="silhouette"):
        script.do(BreakEdge(bare))
    for wrong in ({"length_px": 0.0}, {"length_px": float("nan")}, {"seed": -1}):
        with pytest.raises(InputError):
            script.do(BreakEdge(part, **wrong))
    operation = BreakEdge(part, 20.0, 3)
    assert operation_from_record(to_record(operation)) == operation
    assert operation.scaled(2.0).length_px == 40.0
    assert operation.scaled(100.0).length_px == 600.0
