"""Hanging cloth: how much of it is seen where, against arc lengths and Beer and Lambert's law."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.light.drape import draped, folded_rows

LIGHT = (-0.48, 0.6, 0.64)


def test_flat_cloth_lies_once_everywhere():
    x = np.tile(np.linspace(-5, 85, 400, dtype=np.float32), (20, 1))
    found = draped(x, np.zeros_like(x), 80, LIGHT)
    assert found.density == pytest.approx(1, abs=1e-4)
    assert found.normal[2] == pytest.approx(1, abs=1e-5)
    assert found.front == pytest.approx(LIGHT[2], abs=1e-4)
    assert found.back == pytest.approx(0, abs=1e-6)


@pytest.mark.parametrize("lean_deg", [20.0, 45.0, 60.0, 75.0])
def test_cloth_at_an_angle_is_denser_by_its_cosine(lean_deg):
    """The way through a sheet goes with 1 / cos: its transmission is the straight one to that power (Beer-Lambert)."""
    x = np.tile(np.linspace(-5, 85, 900, dtype=np.float32), (8, 1))
    found = draped(x, (x * np.tan(np.radians(lean_deg))).astype(np.float32), 80, LIGHT)
    expected = 1 / np.cos(np.radians(lean_deg))
    assert found.density[:, 2:-2] == pytest.approx(expected, rel=2e-3)
    clear = 0.7
    assert clear ** found.density[4, 40] == pytest.approx(clear**expected, rel=2e-3)
    normal = np.array((-np.sin(np.radians(lean_deg)), 0, np.cos(np.radians(lean_deg))))
    assert found.normal[:, 4, 40] == pytest.approx(normal, abs=1e-3)
    assert found.front[4, 40] == pytest.approx(max(float(normal @ LIGHT), 0), abs=2e-3)


def test_a_fold_lies_threefold_and_the_nearest_is_seen():
    line = np.array((-10, 60, 30, 90), np.float32)  # on, back under itself, and on again
    t = np.linspace(0, 3, 1200)
    x = np.tile(np.interp(t, range(4), line).astype(np.float32), (6, 1))
    z = np.tile(np.interp(t, range(4), (0, 0, -10, -10)).astype(np.float32), (6, 1))
    found = draped(x, z, 80, LIGHT)
    assert found.density[3, 10] == pytest.approx(1, abs=0.02)
    assert found.density[3, 45] == pytest.approx(2 + np.hypot(30, 10) / 30, abs=0.03)
    assert found.along[3, 45] < 1 / 3  # of the first run, which lies in front
    assert found.along[3, 75] > 2 / 3


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 500), st.floats(1, 14), st.floats(0, 120))
def test_folds_cover_all_and_no_cloth_is_lost(seed, folds, deep):
    x, z = folded_rows(np.random.default_rng(seed), (90, 120), folds, deep)
    found = draped(x, z, 120, LIGHT)
    assert (found.density > 0.2).mean() > 0.98
    # All cloth between the sides is somewhere: lengths of the lines, counted as what is inside.
    row = 40
    long = np.hypot(np.diff(x[row]), np.diff(z[row]))
    middle = (x[row, 1:] + x[row, :-1]) / 2
    inside = long[(middle >= 0) & (middle < 120)].sum()
    assert found.density[row].sum() == pytest.approx(inside, rel=0.03)
    lengths = np.linalg.norm(found.normal, axis=0)
    assert lengths == pytest.approx(1, abs=1e-3)


def test_cloth_that_turns_too_far_is_refused():
    with pytest.raises(InputError, match="deep_deg"):
        folded_rows(np.random.default_rng(1), (40, 40), 3, 150)
