"""Brushes as data, pressure curves, pen samples and the practice pen."""

from __future__ import annotations

import json
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.stroke.brush import BRUSH_KINDS, CHOICES, FLAGS, NUMBERS, Brush
from japanner.stroke.brush.drive import DRIVEN, SOURCES, Drive
from japanner.stroke.brush.shipped import shipped_brush, shipped_brushes
from japanner.stroke.kinds.chance import Chance
from japanner.stroke.kinds.dabs import rows_for, step_px
from japanner.stroke.pen import path
from japanner.stroke.pen.path import PRESSURE, RUN
from japanner.stroke.pen.practice_pen import PracticePen, PracticePenSettings
from japanner.stroke.pen.samples import PenSample, admitted, samples_from_rows

unit = st.floats(0, 1)
drives = st.builds(
    Drive, setting=st.sampled_from(DRIVEN), source=st.sampled_from(SOURCES), amount=st.floats(-1, 1),
    low=st.floats(0, 0.4), high=st.floats(0.5, 1), gamma=st.floats(0.1, 10),
)  # fmt: skip


@st.composite
def brushes(draw):
    """Any brush that has no picture for a tip."""
    numbers = {name: draw(st.floats(*ends)) for name, ends in NUMBERS.items()}
    whole = {
        "per_step": draw(st.integers(1, 32)),
        "bristles": draw(st.integers(0, 400)),
        "hairs": draw(st.integers(1, 1000)),
    }
    choices = {name: draw(st.sampled_from([w for w in words if w != "image"])) for name, words in CHOICES.items()}
    flags = {name: draw(st.booleans()) for name in FLAGS}
    return Brush("Any", drives=tuple(draw(st.lists(drives, max_size=4))), **{**numbers, **whole, **choices, **flags})


@given(brushes())
def test_a_brush_survives_json(brush):
    assert Brush.from_record(json.loads(json.dumps(brush.to_record()))) == brush


def test_shipped_brushes_are_sound():
    shipped = shipped_brushes()
    assert len({brush.name for brush in shipped}) == len(shipped)
    assert {brush.kind for brush in shipped} <= set(BRUSH_KINDS)
    assert shipped_brush("Mop").tip == "mop"


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"size_px": 0.5}, r"size_px: expected 1 to 2000, got 0\.5"),
        ({"strength": 1.2}, r"strength: expected 0 to 1, got 1\.2"),
        ({"strength": math.nan}, "strength: expected (0 to 1|a finite number), got nan"),
        ({"spacing": 0}, r"spacing: expected 0\.01 to 2, got 0"),
        ({"kind": "spray"}, "kind: expected one of lay, wipe"),
        ({"tip": "star"}, "tip: expected one of mop, round"),
        ({"stops": 9}, "stops: expected 0 to 4, got 9"),
        ({"flow": "much"}, "flow: expected a number( from 0 to 1)?, got 'much'"),
        ({"even": 1}, "even: expected true or false, got 1"),
        ({"name": ""}, "name: expected 1 to 60 printable characters"),
    ],
)
def test_settings_out_of_range_are_named(changes, words):
    with pytest.raises(InputError, match=words):
        Brush("Any").with_changes(**changes)
    with pytest.raises(ValueError, match=words):
        Brush.from_record({**Brush("Any").to_record(), **changes})


@pytest.mark.parametrize(
    "record",
    [None, [], {"name": "A", "wings": 2}, {"name": "A", "drives": [{"setting": "size", "wings": 2}]}, {"size_px": 3}],
)
def test_records_that_are_no_brush_are_refused(record):
    with pytest.raises(InputError, match="brush"):
        Brush.from_record(record)


def curve(amount, low=0.0, high=1.0, gamma=1.0):
    return Drive("size", "pressure", amount, low, high, gamma)


# Pressure curve clamp((p - lo) / (hi - lo))^gamma, common practice.
def test_pressure_curve():
    assert curve(1, 0.05, 0.9, 1.5).factor(0.475) == pytest.approx(0.353553, abs=1e-6)
    assert [curve(1, gamma=2).factor(p) for p in (0.25, 0.5, 0.75)] == pytest.approx([0.0625, 0.25, 0.5625])
    assert [curve(1, gamma=0.5).factor(p) for p in (0.25, 0.5)] == pytest.approx([0.5, 0.707107], abs=1e-6)
    assert curve(0).factor(0.1) == 1
    assert curve(0.4).factor(0) == pytest.approx(0.6)
    assert [curve(-1).factor(p) for p in (0, 0.25, 1)] == [1, 0.75, 0]  # turned round


def path_row(**says):
    """One row of a path; what the pen does not say is 0, but its pressure, which is full."""
    row = np.zeros((1, RUN + 1))
    row[0, PRESSURE] = 1.0
    for column, value in says.items():
        row[0, getattr(path, column)] = value
    return row


def dab(brush, row, chance=None, length=0.0):
    return rows_for(brush, row, (0.5, 0.5, 0.5), chance or Chance(0, 0, len(row)), length)[0]


@given(st.builds(curve, st.floats(0, 1), st.floats(0, 0.4), st.floats(0.5, 1), st.floats(0.1, 10)), unit)
def test_dab_rows_follow_the_curve(drive, pressure):
    brush = Brush("Any", size_px=80, strength=0.5, drives=(drive, replace(drive, setting="strength")))
    row = dab(brush, path_row(PRESSURE=pressure))
    assert row[2] == pytest.approx(40 * drive.factor(pressure), abs=1e-4)
    assert row[3] == pytest.approx(0.5 * drive.factor(pressure), abs=1e-5)
    step = step_px(brush, path_row(PRESSURE=pressure)[0, PRESSURE:])
    assert step == pytest.approx(max(0.05 * 80 * drive.factor(pressure), 0.5))


@pytest.mark.parametrize(
    ("source", "says", "reached"),
    [
        ("pressure", {"PRESSURE": 0.4}, 0.4),
        ("tilt", {"TILT_X": 18.0, "TILT_Y": 24.0}, 0.5),
        ("speed", {"SPEED": 2.5}, 0.25),
        ("direction", {"DIRECTION": math.radians(-30)}, 0.5),
        ("length", {"RUN": 400.0}, 0.25),
    ],
)
def test_what_can_drive_a_setting(source, says, reached):
    brush = Brush("Any", size_px=80).driven("flow", source, amount=1.0)
    assert dab(brush, path_row(**says))[4] == pytest.approx(reached)


@pytest.mark.parametrize(
    ("turn", "says", "degrees"),
    [
        ("fixed", {"DIRECTION": 1.0}, 0),
        ("along", {"DIRECTION": math.radians(40)}, 40),
        ("across", {"DIRECTION": math.radians(40)}, 130),
        ("tilt", {"TILT_X": 10.0, "TILT_Y": 10.0}, 45),
        ("twist", {"TWIST": math.cos(2.0)}, None),
    ],
)
def test_what_the_tip_turns_with(turn, says, degrees):
    row = path_row(**says)
    if turn == "twist":
        row[0, path.TWIST + 1] = math.sin(2.0)
        degrees = math.degrees(2.0)
    for added in (0.0, 25.0):
        found = dab(Brush("Any", turn=turn, turn_deg=added), row)
        # Degrees count against the clock, image rows run downwards.
        assert found[5:7] == pytest.approx(
            (math.cos(math.radians(degrees - added)), math.sin(math.radians(degrees - added))), abs=1e-6
        )


any_float = st.floats(allow_nan=True, allow_infinity=True)


@given(st.lists(any_float, min_size=2, max_size=7))
def test_any_sample_is_dropped_or_brought_into_range(row):
    sample = admitted(row, 400, 300)
    if not all(math.isfinite(value) for value in row):
        assert sample is None
    else:
        assert -800 <= sample.x <= 1200
        assert -600 <= sample.y <= 900
        assert 0 <= sample.pressure <= 1
        assert abs(sample.tilt_x) <= 90
        assert 0 <= sample.twist < 360
        assert admitted(sample, 400, 300) == sample


def test_rows_of_a_script_become_samples():
    assert samples_from_rows([(1, 2), (3, 4, 0.5)]) == (PenSample(1, 2), PenSample(3, 4, 0.5))


@pytest.mark.parametrize("rows", [[(1,)], ["ab"], [(1, "2")], [(1, True)], [tuple(range(8))], [None]])
def test_bad_rows_are_named(rows):
    with pytest.raises(InputError, match="samples: expected"):
        samples_from_rows(rows)


def test_practice_pen_with_fixed_pressure():
    pen = PracticePen(PracticePenSettings("fixed", pressure=0.6))
    assert pen.sample(10, 20, 5.0) == PenSample(10, 20, 0.6, time_ms=5.0)


def test_practice_pen_presses_less_when_fast():
    def settled(px_per_ms):
        pen = PracticePen(PracticePenSettings("speed", pressure=0.8, fast_px_ms=6))
        return [pen.sample(px_per_ms * t, 0, t).pressure for t in range(0, 400, 8)][-1]

    assert settled(0.0) == pytest.approx(0.8, abs=0.01)
    assert settled(3.0) == pytest.approx(0.8 * 0.6, abs=0.01)
    assert settled(20.0) == pytest.approx(0.8 * 0.2, abs=0.01)


# Exponential smoothing takes 1 - 1/e of a step within its time constant.
def test_practice_pen_is_smoothed():
    pen = PracticePen(PracticePenSettings("speed", pressure=1.0, fast_px_ms=6))
    for t in range(0, 2000, 8):
        before = pen.sample(0, 0, t).pressure
    # Full pressure; then at once as fast as can be, for one time constant.
    after = pen.sample(4000, 0, 1992 + PracticePen.SMOOTHING_MS).pressure
    assert (before - after) / (before - 0.2) == pytest.approx(0.632121, abs=0.01)


def test_practice_pen_tapers_in():
    pen = PracticePen(PracticePenSettings("taper", pressure=1.0, taper_px=100))
    pressures = [pen.sample(x, 0, x).pressure for x in range(0, 160, 10)]
    assert pressures[0] == pytest.approx(0.2)
    assert pressures[10:] == pytest.approx([1.0] * 6)
    assert pressures == sorted(pressures)


def test_practice_pen_settings_out_of_range():
    with pytest.raises(InputError, match="source: expected one of fixed, speed, taper"):
        PracticePenSettings("wind")
    with pytest.raises(InputError, match=r"pressure: expected 0\.01 to 1, got 2"):
        PracticePenSettings(pressure=2)
