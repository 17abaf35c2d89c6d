"""Meshes as text."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.light.mesh.mesh import Mesh
from japanner.light.mesh.packing import mesh_of, text_of
from japanner.light.pieces import Piece


def any_mesh(count, faces, seed):
    random = np.random.default_rng(seed)
    return Mesh(
        random.normal(size=(count, 3)).astype(np.float32), random.integers(0, count, (faces, 4)).astype(np.int32),
        random.integers(0, 2, faces).astype(np.int16), ("hull", "deck"),
    )  # fmt: skip


@settings(max_examples=40, deadline=None)
@given(st.integers(3, 200), st.integers(1, 300), st.integers(0, 10**6))
def test_a_mesh_comes_back(count, faces, seed):
    mesh = any_mesh(count, faces, seed)
    back = mesh_of(text_of(mesh))
    assert np.abs(back.points - mesh.points).max() <= np.ptp(mesh.points, axis=0).max() / 65535
    assert (back.faces == mesh.faces).all()
    assert (back.group == mesh.group).all()
    assert back.names == mesh.names
    assert text_of(back) == text_of(mesh_of(text_of(back)))


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6), st.data())
def test_a_damaged_text_is_told_so(seed, data):
    text = text_of(any_mesh(20, 12, seed))
    at = data.draw(st.integers(0, len(text) - 1))
    damaged = data.draw(
        st.sampled_from([text[:at], text[:at] + "!" + text[at + 1 :], text[:at] + "A" + text[at + 1 :]])
    )
    try:
        found = mesh_of(damaged)
    except InputError as error:
        assert str(error).startswith("mesh:")  # noqa: PT017 - either is right
    else:
        assert found.faces.max() < len(found.points)


@pytest.mark.parametrize("wrong", ["", "x", "AAAA", "eJw="])
def test_what_is_no_mesh_is_no_piece(wrong):
    with pytest.raises(InputError, match="mesh"):
        Piece("Hull", "mesh", mesh=wrong)


@pytest.mark.parametrize(
    ("points", "faces", "words"),
    [
        ([(0, 0, 0), (1, 0, np.nan), (0, 1, 0)], [(0, 1, 2, 2)], "no number"),
        ([(0, 0, 0), (1, 0, 0), (0, 1, 0)], [(0, 1, 3, 3)], "no point"),
        ([(0, 0, 0), (1, 0, 0), (0, 1, 0)], np.zeros((0, 4)), "no face"),
    ],
)
def test_what_is_no_surface_is_refused(points, faces, words):
    faces = np.array(faces, np.int32).reshape(-1, 4)
    with pytest.raises(InputError, match=words):
        Mesh(np.array(points, np.float32), faces, np.zeros(len(faces), np.int16))
