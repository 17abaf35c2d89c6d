"""Rays through a tree of triangles, against every triangle asked for itself, and against solid angles."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.light.rays.samples import KINDS, about_light, kinds_of, over_half_space
from japanner.light.rays.tree import Tree


def floats(values):
    return np.ascontiguousarray(values, np.float32)


def soup(count, seed):
    random = np.random.default_rng(seed)
    middles = random.uniform(-1, 1, (count, 1, 3))
    points = floats((middles + random.uniform(-0.4, 0.4, (count, 3, 3))).reshape(-1, 3))
    return points, np.arange(3 * count, dtype=np.int32).reshape(-1, 3)


def met_by_all(points, triangles, start, way):
    """The nearest crossing of a ray with any triangle (Moeller & Trumbore 1997), in double precision."""
    a, b, c = (points[triangles[:, k]].astype(float) for k in range(3))
    u, v, s = b - a, c - a, start - a
    p = np.cross(way, v)
    det = (u * p).sum(1)
    x, q = (s * p).sum(1) / det, np.cross(s, u)
    y, t = (q @ way) / det, (v * q).sum(1) / det
    hit = (x >= 0) & (y >= 0) & (x + y <= 1) & (t > 0)
    return np.where(hit, t, np.inf).min()


@settings(max_examples=25, deadline=None)
@given(st.integers(1, 300), st.integers(0, 10**6))
def test_a_ray_meets_what_is_nearest(count, seed):
    points, triangles = soup(count, seed)
    tree, random = Tree.of(points, triangles), np.random.default_rng(seed + 1)
    starts, ways = floats(random.uniform(-2, 2, (60, 3))), floats(random.normal(size=(60, 3)))
    met = tree.first_met(starts, ways)
    wanted = np.array([met_by_all(points, triangles, s, w) for s, w in zip(starts.astype(float), ways, strict=True)])
    far = np.where(met.triangle >= 0, met.far, np.inf)
    # Rays that graze an edge may go either way.
    assert (np.isclose(far, wanted, rtol=1e-3) | (np.isinf(far) & np.isinf(wanted))).mean() > 0.96


def test_triangles_in_one_place_make_a_tree_too():
    points, triangles = floats([(0, 0, 0), (1, 0, 0), (0, 1, 0)] * 200), np.arange(600, dtype=np.int32).reshape(-1, 3)
    met = Tree.of(points, triangles).first_met(floats([(0.2, 0.2, 1)]), floats([(0, 0, -1)]))
    assert met.far[0] == pytest.approx(1)
    assert met.shares[0] == pytest.approx((0.2, 0.2), abs=1e-5)


def wall(x0, wide=1e4):
    """A square across x at x0."""
    y, z = np.array(((-1, -1), (1, -1), (1, 1), (-1, 1))).T * wide
    return floats(np.stack((np.full(4, x0), y, z), 1)), np.array(((0, 1, 2), (0, 2, 3)), np.int32)


# What an endless wall leaves open of the half space over a floor, by cosine, is (1 + sin a) / 2, a being the angle at
# which its top is out of sight; at the foot of one without end, one half (form factors; Howell's catalogue).
@pytest.mark.parametrize(("height", "away"), [(1e4, 1.0), (1.0, 1.0), (1.0, 3.0)])
def test_openness_beside_a_wall(height, away):
    points, triangles = wall(away)
    points[:, 1] = np.where(points[:, 1] > 0, height, 0)
    tree = Tree.of(points, triangles)
    start, up = (floats(np.tile((0.0, high, 0.0), (KINDS**2, 1))) for high in (1e-4, 1.0))
    share = tree.round_about(start, up, over_half_space(16), np.arange(KINDS**2), 1e6)
    assert share.mean() == pytest.approx((1 + away / np.hypot(away, height)) / 2, abs=0.02)


def test_nothing_hides_an_open_half_space():
    points, triangles = wall(1.0)
    points[:, 1] -= 2e4
    free = Tree.of(points, triangles).round_about(
        floats([(0, 0, 0)]), floats([(0, 1, 0)]), over_half_space(8), np.zeros(1, int), 1e6
    )
    assert free[0] == 1


def test_ways_are_spread_as_they_should_be():
    ways = over_half_space(8).reshape(-1, 3)
    assert np.linalg.norm(ways, axis=1) == pytest.approx(np.ones(len(ways)), abs=1e-5)
    # The mean of z over the cosine is 2/3, that of x and y 0.
    assert ways.mean(axis=0) == pytest.approx((0, 0, 2 / 3), abs=0.02)
    light = floats((0.6, 0.0, 0.8))
    around = about_light(light, 20.0, 8).reshape(-1, 3) @ light
    assert np.degrees(np.arccos(around.min())) <= 10.01
    rows, columns = np.mgrid[:8, :8]
    kinds = kinds_of(rows, columns)
    assert sorted(kinds[:4, :4].ravel()) == list(range(16))
    assert (kinds[:4, :4] == kinds[4:, 4:]).all()
