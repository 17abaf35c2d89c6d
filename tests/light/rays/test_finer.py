"""Finer nets where forms are thin."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.light import _kernels_points as points_kernels
from japanner.light.pieces import Piece
from japanner.light.rays.joined import Pitch
from japanner.light.rays.shell import shell_of

PITCH = Pitch(0.02)
BALL = Piece("Ball")
PIT = Piece("Pit", place=(0.2, 0.1, 0.97), size=(0.03, 0.02, 0.08), join="carve", blend=0.01)
GROOVE = Piece("Groove", "stroke", size=(0.015, 0.03, 1.0), join="crease",
               points=((-0.5, -0.2, 0.84), (0.0, -0.3, 0.95), (0.5, -0.2, 0.84)))  # fmt: skip


def off_the_surface(shell, points):
    """How far the mesh's own faces are from the forms near points (n, 3)."""
    middles = np.ascontiguousarray(shell.points[shell.triangles].mean(axis=1))
    near = (np.linalg.norm(middles[:, None] - np.asarray(points), axis=2) < 0.07).any(axis=1)
    found = np.zeros((int(near.sum()), 4), np.float32)
    rows = shell.rows
    points_kernels.distances(rows.rows, rows.data, np.float32(rows.strokes), middles[near], found)
    return np.abs(found[:, 0])


@pytest.mark.parametrize(("piece", "at"), [(PIT, [PIT.place]), (GROOVE, GROOVE.points)])
def test_the_mesh_follows_what_is_thinner_than_two_cells(piece, at):
    off = off_the_surface(shell_of((BALL, piece), PITCH), at)
    assert len(off) > 200
    assert np.quantile(off, 0.99) < 0.1 * PITCH.wide


def test_no_ray_slips_through_between_the_nets():
    shell = shell_of((BALL, PIT, GROOVE), PITCH)
    random = np.random.default_rng(4)
    inner = random.normal(size=(60_000, 3))
    inner[:, 2] = np.abs(inner[:, 2]) + 0.5
    inner /= np.linalg.norm(inner, axis=1, keepdims=True)
    met = shell.tree.first_met(np.ascontiguousarray(3 * inner, np.float32), np.ascontiguousarray(-inner, np.float32))
    assert (met.triangle >= 0).all()
    assert met.far.max() < 2.2  # and none went in to the far side


def test_plain_forms_stay_as_they_are():
    shell = shell_of((BALL,), PITCH)
    assert np.ptp(shell.cells) == 0
