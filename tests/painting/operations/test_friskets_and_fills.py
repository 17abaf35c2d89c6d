"""Friskets, fills and gradients as operations: what they limit, and what is refused."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.document.document import begun
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.operations import (
    ChangeFrisket,
    ClearPaint,
    DropFrisket,
    Fill,
    FloodFill,
    Gradient,
    SetFrisket,
    SetLayer,
    SetMaquette,
)
from japanner.raster.geometry import Rect
from japanner.scripting import Script
from tests.paintings import HARD, rgba, same_painting

OVAL = {"shape": "oval", "x0": 60.0, "y0": 40.0, "x1": 260.0, "y1": 200.0}
BOX = {"shape": "box", "x0": 100.0, "y0": 0.0, "x1": 320.0, "y1": 240.0}


@pytest.fixture
def flat():
    """An empty flat of one part, and the script that made it."""
    script = Script.new(320, 240)
    return script, script.layer(script.part("Part"), "flat")


def covered(script):
    frisket = script.painting.frisket
    return frisket.sheet.coverage(script.painting.rect)


def paint(script, layer):
    pixels = script.painting.layer(layer).pixels
    return pixels.read(pixels.rect)[3] / 65535


def test_a_fill_takes_exactly_the_coverage_of_the_frisket(flat):
    script, layer = flat
    script.do(SetFrisket(OVAL))
    script.do(Fill(layer, (0.6, 0.4, 0.3)))
    assert np.abs(paint(script, layer) - covered(script)).max() < 1e-4
    assert paint(script, layer).sum() == pytest.approx(np.pi * 100 * 80, rel=1e-3)
    assert rgba(script.painting.layer(layer).pixels, 160, 120) == pytest.approx([0.6, 0.4, 0.3, 1], abs=1e-4)


def test_strokes_stay_inside(flat):
    script, layer = flat
    script.do(SetFrisket(OVAL))
    for kind in ("lay", "smudge", "wipe", "burn"):
        before = paint(script, layer)
        script.stroke(layer, HARD.with_changes(kind=kind, size_px=90), (0.2, 0.5, 0.7), [(0, 120, 1), (319, 110, 1)])
        outside = covered(script) == 0
        assert np.array_equal(paint(script, layer)[outside], before[outside]), kind
    script.do(DropFrisket())
    script.stroke(layer, HARD, (1, 1, 1), [(10, 10, 1), (40, 10, 1)])
    assert paint(script, layer)[10, 20] == 1


def test_joining_shapes(flat):
    script, _ = flat
    script.do(SetFrisket(OVAL))
    one = covered(script)
    script.do(SetFrisket(BOX))
    two = covered(script)
    for how, expected in (
        ("add", np.maximum(one, two)),
        ("take", np.minimum(one, 1 - two)),
        ("meet", np.minimum(one, two)),
    ):
        script.do(SetFrisket(OVAL))
        script.do(SetFrisket(BOX, how))
        assert np.abs(covered(script) - expected).max() < 1e-4, how
    script.do(DropFrisket())
    script.do(SetFrisket(BOX, "take"))
    assert np.abs(covered(script) - (1 - two)).max() < 1e-4  # away from nothing is all the rest


def test_changes_and_undo(flat):
    script, _ = flat
    script.do(SetFrisket(OVAL))
    area = covered(script).sum()
    script.do(ChangeFrisket("grow", 6.0))
    assert covered(script).sum() == pytest.approx(np.pi * 106 * 86, rel=0.01)
    script.do(ChangeFrisket("soften", 3.0))
    script.do(ChangeFrisket("invert"))
    assert covered(script)[0, 0] == 1
    for _ in range(3):
        script.document.undo()
    assert covered(script).sum() == pytest.approx(area)
    script.document.undo()
    assert script.painting.frisket is None


def test_by_colour_connected_or_not(flat):
    script, layer = flat
    for x in (60, 250):
        script.stroke(layer, HARD.with_changes(size_px=80), (0.8, 0.2, 0.1), [(x, 120, 1)])
    shape = {"shape": "colour", "x": 60.5, "y": 120.5, "tolerance": 8.0, "reference": "visible", "layer": 0}
    script.do(SetFrisket({**shape, "connected": True}))
    assert covered(script)[120, 60] == 1
    assert covered(script)[120, 250] == 0
    script.do(SetFrisket({**shape, "connected": False}))
    assert covered(script)[120, 250] == 1
    assert covered(script).sum() == pytest.approx(2 * np.pi * 1600, rel=0.02)
    script.do(SetFrisket({**shape, "reference": "layer", "layer": layer, "connected": True}))
    assert covered(script)[120, 60] == 1


def test_by_form_it_keeps_to_its_side_of_a_contour(flat):
    script, layer = flat
    with pytest.raises(InputError, match="Nothing of the maquette"):
        script.do(SetFrisket({"shape": "form", "x": 160.0, "y": 120.0, "reach": 400.0}))
    # A ball in front of a wall.
    pieces = (Piece("Ball", size=(0.5, 0.5, 0.5), place=(0, 0, 1.2)), Piece("Wall", "box", size=(3, 3, 0.2)))
    script.do(SetMaquette(Maquette(pieces, (160.0, 120.0), 100.0, eye=12.0).to_record()))
    script.do(SetFrisket({"shape": "form", "x": 160.0, "y": 120.0, "reach": 400.0}))
    radius = 100 * 0.5 * 12 / np.sqrt(10.8**2 - 0.25)
    assert covered(script).sum() == pytest.approx(np.pi * radius**2, rel=0.02)
    script.stroke(layer, HARD.with_changes(size_px=60), (0.8, 0.2, 0.1), [(120, 120, 1), (300, 120, 1)])
    assert paint(script, layer)[120, 200] > 0.9
    assert paint(script, layer)[:, 225:].max() == 0
    script.do(SetFrisket({"shape": "form", "x": 20.0, "y": 20.0, "reach": 60.0}))
    assert covered(script)[20, 20] == 1
    assert 0 < covered(script)[20, 72] < 0.5
    assert covered(script)[20, 85] == 0
    with pytest.raises(InputError, match="reach"):
        script.do(SetFrisket({"shape": "form", "x": 20.0, "y": 20.0, "reach": 0.0}))
    with pytest.raises(InputError, match="x:"):
        script.do(SetFrisket({"shape": "form", "x": -20.0, "y": 20.0, "reach": 60.0}))


def test_from_layer_and_silhouette(flat):
    script, layer = flat
    script.do(SetFrisket(OVAL))
    script.do(Fill(layer, (0.5, 0.5, 0.5)))
    silhouette = covered(script)
    light = script.layer(script.painting.parts[0].uid, "light")
    script.do(DropFrisket())
    script.stroke(light, HARD.with_changes(strength=0.5), (1, 1, 1), [(160, 120, 1)])
    script.do(SetFrisket({"shape": "layer", "layer": light}))
    assert covered(script)[120, 160] == pytest.approx(0.5, abs=1e-3)
    script.do(SetFrisket({"shape": "silhouette", "part": script.painting.parts[0].uid}))
    assert np.abs(covered(script) - silhouette).max() < 1e-4


def test_a_flood_fill_stays_inside_the_sketch(flat):
    script, layer = flat
    sketch = script.layer(script.part("Drawing", "drawing"), "sketch")
    t = np.linspace(0.1, 2 * np.pi - 0.1, 90)  # open on the right, by 20 px
    script.stroke(
        sketch, HARD.with_changes(size_px=5), (0, 0, 0), np.stack((160 + 90 * np.cos(t), 120 + 90 * np.sin(t)), 1)
    )
    script.do(FloodFill(layer, (0.6, 0.4, 0.3), 160.0, 120.0, "sketch", 12.0, 0, 2))
    assert paint(script, layer)[10, 10] == 1
    script.document.undo()
    script.do(FloodFill(layer, (0.6, 0.4, 0.3), 160.0, 120.0, "sketch", 12.0, 24, 2))
    assert paint(script, layer)[10, 10] == 0
    assert paint(script, layer).sum() == pytest.approx(np.pi * 90**2, rel=0.03)
    edge = paint(script, layer)
    assert ((edge > 0.1) & (edge < 0.9)).sum() > 200


def test_gradients(flat):
    script, layer = flat
    ends = ((1.0, 0.0, 0.0, 1.0), (0.0, 0.0, 1.0, 1.0))
    script.do(Gradient(layer, "linear", (20.0, 0.0, 300.0, 0.0), *ends))
    row = script.painting.layer(layer).pixels.read(Rect(0, 100, 320, 101))[:, 0] / 65535
    x = np.arange(320) + 0.5
    assert row[2] == pytest.approx(np.clip((x - 20) / 280, 0, 1), abs=0.003)
    assert row[3].min() == 1
    script.do(Gradient(layer, "round", (160.0, 120.0, 160.0, 20.0), (0.0, 1.0, 0.0, 1.0), (0.0, 1.0, 0.0, 0.0)))
    column = script.painting.layer(layer).pixels.read(Rect(160, 20, 161, 121))[1, :, 0] / 65535
    assert column == pytest.approx(np.linspace(0, 1, 101), abs=0.02)


def test_held_edges(flat):
    script, layer = flat
    script.do(SetFrisket(OVAL))
    script.do(Fill(layer, (0.5, 0.4, 0.3)))
    script.do(DropFrisket())
    before = paint(script, layer)
    script.do(SetLayer(layer, {"hold_edges": True}))
    script.stroke(layer, HARD.with_changes(size_px=120), (0.9, 0.1, 0.1), [(20, 30, 1), (300, 200, 1)])
    script.do(Fill(layer, (0.2, 0.8, 0.2)))
    assert np.array_equal(paint(script, layer), before)
    assert rgba(script.painting.layer(layer).pixels, 160, 120) == pytest.approx([0.2, 0.8, 0.2, 1], abs=1e-4)
    with pytest.raises(InputError, match="holds its edges"):
        script.do(ClearPaint(layer))


def test_clearing_inside_the_frisket(flat):
    script, layer = flat
    script.do(Fill(layer, (0.5, 0.4, 0.3)))
    script.do(SetFrisket(OVAL))
    script.do(ClearPaint(layer))
    assert np.abs(paint(script, layer) - (1 - covered(script))).max() < 1e-4
    inner = {"shape": "box", "x0": 140.0, "y0": 100.0, "x1": 180.0, "y1": 140.0}
    script.do(SetFrisket(inner))
    with pytest.raises(InputError, match="nothing to clear"):
        script.do(ClearPaint(layer))


@settings(max_examples=15, deadline=None)
@given(st.data())
def test_replay_is_bit_exact(data):
    script = Script.new(200, 150)
    layer = script.layer(script.part("Part"), "flat")
    point = st.tuples(st.floats(-20, 220), st.floats(-20, 170))
    for _ in range(data.draw(st.integers(1, 5))):
        corners = data.draw(st.lists(point, min_size=3, max_size=6, unique=True))
        how = data.draw(st.sampled_from(["new", "add", "take", "meet"]))
        try:
            script.do(SetFrisket({"shape": "outline", "points": tuple(corners)}, how))
            script.do(Fill(layer, tuple(data.draw(st.tuples(*[st.floats(0, 1)] * 3)))))
        except InputError:
            continue  # it enclosed nothing, or nothing was left
    again = begun(json.loads(json.dumps(script.document.records)))
    assert same_painting(again, script.painting)


@pytest.mark.parametrize(
    ("operation", "words"),
    [
        (lambda uid: SetFrisket({"shape": "oval", "x0": 5, "y0": 5, "x1": 5, "y1": 9}), "corners"),
        (lambda uid: SetFrisket({"shape": "oval", "x0": float("nan"), "y0": 5, "x1": 7, "y1": 9}), "corner"),
        (lambda uid: SetFrisket({"shape": "outline", "points": ((1, 1), (2, 2))}), "encloses"),
        (lambda uid: SetFrisket({"shape": "box", "x0": -90, "y0": -90, "x1": -20, "y1": -20}), "nothing"),
        (lambda uid: SetFrisket({"shape": "hexagon"}), "shape"),
        (lambda uid: SetFrisket({"shape": "oval", "x0": 1}), "expected x0"),
        (lambda uid: SetFrisket({"shape": "layer", "layer": 99}), "layer"),
        (lambda uid: SetFrisket({"shape": "layer", "layer": uid}), "no paint"),
        (lambda uid: SetFrisket({"shape": "silhouette", "part": 1}), "silhouette"),
        (lambda uid: SetFrisket({"shape": "colour", "x": 999.0, "y": 1.0, "tolerance": 5.0, "reference": "visible",
                                 "layer": 0, "connected": True}), "outside"),
        (lambda uid: DropFrisket(), "no frisket"),
        (lambda uid: ChangeFrisket("grow", 3.0), "no frisket"),
        (lambda uid: ChangeFrisket("melt", 3.0), "change"),
        (lambda uid: Fill(uid, (0.1, 0.2, 2.0)), "colour"),
        (lambda uid: Fill(uid, (0.1, 0.2, 0.3), "silhouette"), "silhouette"),
        (lambda uid: Fill(uid, (0.1, 0.2, 0.3), "moon"), "what"),
        (lambda uid: Fill(uid, (0.1, 0.2, 0.3), on="mask"), "no mask"),
        (lambda uid: FloodFill(uid, (0, 0, 0), 10.0, 10.0, "sketch"), "no sketch"),
        (lambda uid: FloodFill(uid, (0, 0, 0), -5.0, 10.0), "outside"),
        (lambda uid: FloodFill(uid, (0, 0, 0), float("nan"), 10.0), "x"),
        (lambda uid: FloodFill(uid, (0, 0, 0), 10.0, 10.0, gap_px=999), "gap_px"),
        (lambda uid: FloodFill(uid, (0, 0, 0), 10.0, 10.0, tolerance=float("inf")), "tolerance"),
        (lambda uid: Gradient(uid, "linear", (5.0, 5.0, 5.0, 5.0), (1, 0, 0, 1), (0, 0, 0, 0)), "drag"),
        (lambda uid: Gradient(uid, "square", (5.0, 5.0, 9.0, 5.0), (1, 0, 0, 1), (0, 0, 0, 0)), "kind"),
    ],
)  # fmt: skip
def test_what_makes_no_sense_is_said_and_changes_nothing(flat, operation, words):
    script, layer = flat
    before, count = script.painting, len(script.document.records)
    with pytest.raises(InputError, match=words):
        script.do(operation(layer))
    assert script.painting is before
    assert len(script.document.records) == count


def test_a_frisket_that_would_let_nothing_through_is_not_laid(flat):
    script, _ = flat
    script.do(SetFrisket(OVAL))
    before = script.painting
    for operation in (SetFrisket({"shape": "all"}, "take"), ChangeFrisket("shrink", 400.0)):
        with pytest.raises(InputError, match="nothing through"):
            script.do(operation)
    assert script.painting is before


def test_a_silhouette_is_that_of_the_flats_through_their_masks(flat):
    script, layer = flat
    script.do(SetFrisket(OVAL))
    script.do(Fill(layer, (0.5, 0.5, 0.5)))
    sheet = silhouette_sheet(script.painting, script.painting.parts[0])
    assert np.abs(sheet.coverage(sheet.rect) - covered(script)).max() < 1e-4
