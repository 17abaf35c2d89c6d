"""What a hand does to single locks."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.painting.makers.lock_edits import LockEdit, edited, edits_from

LINES = np.random.default_rng(3).normal(0, 4, (5, 26, 2)).cumsum(axis=1) + 200
px, share = st.floats(-80, 80), st.floats(0, 1)


def long(line):
    return np.linalg.norm(np.diff(line, axis=0), axis=1).sum()


@given(px, px, st.floats(0.15, 1))
def test_a_bent_lock_keeps_its_root_and_its_length(x, y, at):
    lines, kept = edited(LINES, 1, [LockEdit(1, 2, "bent", x, y, at)])
    assert kept.all()
    assert long(lines[2]) == pytest.approx(long(LINES[2]), rel=1e-6)
    assert np.array_equal(lines[2][0], LINES[2][0])
    assert np.array_equal(np.delete(lines, 2, 0), np.delete(LINES, 2, 0))


@given(px, px)
def test_a_moved_lock_is_the_same_elsewhere(x, y):
    lines, _ = edited(LINES, 0, [LockEdit(0, 4, "moved", x, y)])
    assert np.allclose(lines[4] - LINES[4], (x, y))


@given(st.floats(0.1, 1))
def test_a_cut_lock_is_as_it_was_up_to_there(at):
    lines, _ = edited(LINES, 0, [LockEdit(0, 1, "cut", at=at)])
    assert np.allclose(lines[1][0], LINES[1][0])
    end = np.array([np.interp(at, np.linspace(0, 1, 26), LINES[1][:, k]) for k in (0, 1)])
    assert np.allclose(lines[1][-1], end)
    assert long(lines[1]) <= long(LINES[1]) + 1e-9


def test_others_and_other_sizes_stay_and_what_is_away_is_away():
    edits = [LockEdit(0, 1, "away"), LockEdit(2, 3, "moved", 5, 5), LockEdit(0, 99, "away")]
    lines, kept = edited(LINES, 0, edits)
    assert kept.tolist() == [True, False, True, True, True]
    assert np.array_equal(lines, LINES)
    assert edited(LINES, 1, edits)[0] is LINES


def test_edits_scale_with_the_canvas():
    assert LockEdit(1, 2, "bent", 10, -4, 0.5).scaled(2) == LockEdit(1, 2, "bent", 20, -8, 0.5)


@pytest.mark.parametrize("wrong", ["text", [3], [[0, 1]], [[0, 1, "curled"]], [[0, -1, "away"]],
                                   [[0, 1, "bent", 0, 0, 2]], [[0, 1, "moved", float("nan"), 0]]])  # fmt: skip
def test_what_is_no_edit_is_refused(wrong):
    with pytest.raises(InputError):
        edits_from("edits", wrong)


def test_rows_come_back_as_edits():
    assert edits_from("edits", [[1, 2, "cut", 0, 0, 0.5]]) == (LockEdit(1, 2, "cut", 0.0, 0.0, 0.5),)
