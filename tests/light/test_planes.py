"""Cutting forms into planes."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.light.planes import cut


def ball(side=120):
    ys, xs = np.mgrid[:side, :side]
    x, y = (xs + 0.5) / side * 2.1 - 1.05, 1.05 - (ys + 0.5) / side * 2.1
    inside = x * x + y * y < 0.98
    z = np.sqrt(np.maximum(1 - x * x - y * y, 0))
    return np.stack((x, y, z)) * inside, inside


@settings(max_examples=20, deadline=None)
@given(st.integers(3, 60))
def test_planes_part_the_form_and_keep_its_normals(count):
    normal, seen = ball(70)
    planes = cut(normal, seen, count)
    assert ((planes.facet >= 0) == seen).all()
    assert set(np.unique(planes.facet[seen])) == set(range(len(planes.normals)))
    assert len(planes.normals) <= count
    area = 1 / np.maximum(normal[2][seen], 0.08)
    assert planes.areas.sum() == pytest.approx(area.sum())
    for number, facet in enumerate(planes.normals):
        own = planes.facet == number
        mean = (normal[:, own] * (1 / np.maximum(normal[2][own], 0.08))).sum(axis=1)
        assert facet == pytest.approx(mean / np.linalg.norm(mean), abs=1e-6)


def test_more_planes_come_nearer_to_the_form():
    normal, seen = ball()
    off = []
    for count in (3, 8, 24, 100):
        flat = cut(normal, seen, count).flat()
        off.append(np.degrees(np.arccos(np.clip((flat * normal).sum(axis=0)[seen], -1, 1))).mean())
    assert off == sorted(off, reverse=True)
    # Twelve and twenty even directions are off by 22 and 18 degrees on the mean over a whole ball; here it is half a
    # ball, and places count too.
    assert off[1] < 25
    assert off[3] < 8


def test_the_edges_are_listed_with_their_turns():
    normal = np.zeros((3, 40, 60))
    normal[2, :, :20] = 1
    normal[0, :, 20:40] = normal[2, :, 20:40] = np.sqrt(0.5)
    normal[0, :, 40:], normal[2, :, 40:] = 0.9, np.sqrt(1 - 0.81)
    planes = cut(normal, np.ones((40, 60), bool), 3)
    assert [round(turn.angle_deg, 1) for turn in planes.turns] == [45.0, 19.2]
    assert all(turn.length_px == 40 for turn in planes.turns)


def test_what_cannot_be_cut_is_refused():
    normal, seen = ball()
    with pytest.raises(InputError, match="count"):
        cut(normal, seen, 2)
    with pytest.raises(InputError, match="too little"):
        cut(normal, np.zeros_like(seen), 5)
