"""Replaying at another size: the same at 1, finer at 2, whole in a small film."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from japanner.errors import InputError
from japanner.painting.document.document import begun
from japanner.painting.document.larger import beginning, larger, replay_at, resampled_only, scaled, scaled_records
from japanner.painting.operations import (
    AddPicture,
    ChangeFrisket,
    DropFrisket,
    Fill,
    FloodFill,
    FrameCanvas,
    Make,
    ScaleCanvas,
    SetComb,
    SetFrisket,
    SetGuide,
    SetLight,
    SetPart,
    operation_from_record,
    to_record,
)
from japanner.painting.picture.compositor import flattened
from japanner.raster.codec import to_text
from japanner.scripting import Script, shipped_brush
from tests.paintings import HARD, same_painting


@pytest.fixture(scope="module")
def painted():
    """A disc with brush strokes, a frisket, fur and a soft smudge."""
    script = Script.new(300, 240, title="Small", ground=(0.2, 0.22, 0.25))
    part = script.part("Disc", "fur")
    flat = script.layer(part, "flat")
    script.do(SetLight(40.0, -30.0, bounce_colour=(0.5, 0.4, 0.3)))
    script.do(SetFrisket({"shape": "oval", "x0": 60, "y0": 40, "x1": 240, "y1": 200}))
    script.do(ChangeFrisket("soften", 4.0))
    script.do(Fill(flat, (0.5, 0.4, 0.3)))
    script.do(DropFrisket())
    script.do(SetPart(part, {"scale": [10.0, 24.0, 42.0, 60.0, 80.0]}))
    script.do(SetComb(part, ({"points": ((150.0, 50.0), (150.0, 190.0)), "lift": 0.2},)))
    light = script.layer(part, "light", mode="Normal", strength=1.0)
    for k in range(8):
        rows = [(90 + 12 * k, 80, 0.6), (110 + 12 * k, 150, 1.0)]
        script.stroke(light, shipped_brush("Round").with_changes(size_px=22), (0.8, 0.7, 0.5 + 0.04 * k), rows, seed=k)
    script.stroke(light, shipped_brush("Smudge").with_changes(size_px=40), (0, 0, 0), [(90, 120, 0.8), (210, 120, 0.6)])
    return script


def codes(painting):
    return flattened(painting).read(painting.rect)[:3].astype(np.float64) / 65535


def test_at_its_own_size_it_is_the_same_to_the_last_bit(painted):
    assert same_painting(larger(painted.document.records, 1.0), painted.painting)


def test_at_twice_the_size_it_looks_the_same_and_is_finer(painted):
    """At least 30 dB against the resampled original."""
    found = larger(painted.document.records, 2.0)
    assert (found.width, found.height, found.ppi) == (600, 480, 600.0)
    wanted = np.stack([cv2.resize(one, (600, 480), interpolation=cv2.INTER_CUBIC) for one in codes(painted.painting)])
    error = np.mean((codes(found) - wanted) ** 2)
    assert 10 * np.log10(1 / error) > 30
    # Edges are as sharp as on a canvas of that size: steeper than any resampling has them.
    steepest = [np.abs(np.diff(one, axis=2)).max() for one in (codes(found), wanted)]
    assert steepest[0] >= steepest[1]


def test_made_layers_are_made_for_the_size(painted):
    script = Script.new(200, 160)
    part = script.part("Pelt", "fur")
    flat = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "oval", "x0": 40, "y0": 30, "x1": 160, "y1": 130}))
    script.do(Fill(flat, (0.5, 0.4, 0.3)))
    script.do(DropFrisket())
    script.do(Make(part, "coat", {"length": 14.0}, seed=2))
    found = larger(script.document.records, 1.5)
    lengths = [one.made.settings["length"] for _, one in found.layers() if one.made]
    assert lengths
    assert set(lengths) == {21.0}


def test_pictures_that_came_in_are_listed_and_resampled():
    script = Script.new(100, 80)
    part = script.part("Part")
    pixels = np.full((4, 20, 30), 65535, np.uint16)
    script.do(AddPicture(part, to_text(pixels), "Bark"))
    assert resampled_only(script.document.records) == ["Bark"]
    found = larger(script.document.records, 2.0)
    area = found.parts[0].layers[0].pixels.bounds()
    assert (area.width, area.height) == (pytest.approx(60, abs=6), pytest.approx(40, abs=6)), "resampled"


@pytest.mark.parametrize(
    ("operation", "wanted"),
    [
        (FloodFill(1, (0, 0, 0), 10.0, 20.0, gap_px=3), {"x": 20.0, "y": 40.0, "gap_px": 6}),
        (FrameCanvas(5, 6, 50, 40), {"x": 10, "y": 12, "width": 100, "height": 80}),
        (ScaleCanvas(50, 40), {"width": 100, "height": 80}),
        (SetGuide(1, {"x": 10.0, "y": 20.0, "height_px": 30.0, "yaw": 7.0}),
         {"guide": {"x": 20.0, "y": 40.0, "height_px": 60.0, "yaw": 7.0}}),
        (SetFrisket({"shape": "outline", "points": [[1, 2], [3, 4], [5, 1]]}),
         {"shape": {"shape": "outline", "points": [[2, 4], [6, 8], [10, 2]]}}),
        (Fill(1, (0, 0, 0)), {"layer": 1}),
    ],
)  # fmt: skip
def test_lengths_in_operations_are_scaled(operation, wanted):
    record = to_record(scaled(operation, 2.0))
    assert {name: record[name] for name in wanted} == wanted
    assert operation_from_record(record)


def test_ways_that_were_undone_are_gone_and_back():
    script = Script.new(60, 40)
    flat = script.layer(script.part("Part"), "flat")
    script.stroke(flat, HARD.with_changes(size_px=20), (1, 0, 0), [(30, 20, 1)])
    script.document.undo()
    script.stroke(flat, HARD.with_changes(size_px=20), (0, 1, 0), [(30, 20, 1)])
    without = list(replay_at(script.document.records))
    undone = list(replay_at(script.document.records, undone=True))
    assert len(undone) == len(without) + 2
    assert same_painting(undone[-1].painting, script.painting)
    assert same_painting(without[-1].painting, script.painting)
    reds = [step.painting.parts[0].layers[0].pixels.tiles for step in undone if step.painting.parts
            and step.painting.parts[0].layers]  # fmt: skip
    assert [bool(tiles) for tiles in reds] == [False, True, False, True]


def test_a_journal_that_does_not_reach_back_says_so():
    script = Script.new(60, 40)
    script.part("Part")
    for records in ([], script.document.records[1:]):
        with pytest.raises(InputError, match="does not reach back"):
            beginning(records)


def test_its_records_at_another_size_are_those_of_the_larger_painting(painted):
    fresh = scaled_records(painted.document.records, 1.5)
    assert fresh[0]["width"] == 450
    assert same_painting(begun(fresh), larger(painted.document.records, 1.5))
