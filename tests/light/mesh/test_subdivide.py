"""Catmull and Clark's surfaces against their limits."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.light.mesh.subdivide import refinement

CUBE = np.array([[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)], float)
SIDES = np.array([[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]], np.int32)


def grid(count):
    number = np.arange(count * count).reshape(count, count)
    faces = np.stack((number[:-1, :-1], number[1:, :-1], number[1:, 1:], number[:-1, 1:]), -1).reshape(-1, 4)
    places = np.stack(np.meshgrid(np.arange(count), np.arange(count), indexing="ij"), -1).reshape(-1, 2).astype(float)
    return places, faces.astype(np.int32)


# (n^2 v + 4 sum of edges' far ends + sum of faces' far corners) / (n (n + 5)) with n = 3 puts a corner at half of where
# it was (Halstead, Kass & DeRose 1993); the middle of a side goes to where the same says of the first division.
@pytest.mark.parametrize("levels", [1, 2, 3])
def test_a_cubes_corners_go_half_way_in(levels):
    fine = refinement(SIDES, 8, levels)
    assert (fine.matrix @ CUBE)[:8] == pytest.approx(CUBE / 2, abs=1e-12)


def test_the_middle_of_a_cubes_side():
    # One division by hand: a face's point (1, 0, 0), edges' points (.75, .75, 0), corners' points 5/9.
    edge, corner = 0.75, 5 / 9
    wanted = (16 * 1 + 4 * 4 * edge + 4 * corner) / 36
    fine = refinement(SIDES, 8, 1)
    sides = (fine.matrix @ CUBE)[20:]
    assert sorted(np.abs(sides).max(axis=1)) == pytest.approx([wanted] * 6)


def test_limits_of_different_depth_are_the_same_surface():
    shallow, deep = refinement(SIDES, 8, 1), refinement(SIDES, 8, 3)
    assert (deep.matrix @ CUBE)[: shallow.matrix.shape[0]] == pytest.approx(shallow.matrix @ CUBE, abs=1e-12)


def test_a_flat_sheet_stays_flat_and_keeps_its_corners():
    places, faces = grid(6)
    fine = refinement(faces, len(places), 2)
    found = fine.matrix @ places
    assert found.min(axis=0) == pytest.approx((0, 0))
    assert found.max(axis=0) == pytest.approx((5, 5))
    # Within, where the grid is even, the surface is where it was.
    assert fine.matrix[14] @ places == pytest.approx(places[14:15])


@settings(max_examples=20, deadline=None)
@given(st.integers(2, 5), st.integers(1, 2), st.integers(0, 10**6))
def test_no_point_is_drawn_from_outside(count, levels, seed):
    places, faces = grid(count)
    # Some faces as two triangles, one taken out: open edges, faces of three.
    random = np.random.default_rng(seed)
    cut = random.random(len(faces)) < 0.3
    halves = np.concatenate((faces[cut][:, [0, 1, 2, 2]], faces[cut][:, [0, 2, 3, 3]]))
    mixed = np.concatenate((faces[~cut], halves))
    fine = refinement(mixed, len(places), levels)
    assert np.asarray(fine.matrix.sum(axis=1)).ravel() == pytest.approx(np.ones(fine.matrix.shape[0]))
    corners = np.where(mixed[:, 3] == mixed[:, 2], 3, 4).sum()
    assert len(fine.faces) == corners * 4 ** (levels - 1)
    assert fine.parent.max() == len(mixed) - 1
    assert fine.faces.max() < fine.matrix.shape[0]
