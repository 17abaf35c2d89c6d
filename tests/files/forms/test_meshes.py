"""Meshes from files, written by trimesh and by hand."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from japanner.errors import FileFormatError
from japanner.files.forms.meshes import LONG_SIDE, MESH_FORMATS, MOST_KEPT, read_mesh

CUBE = """o crate
v -1 -1 -1
v 1 -1 -1
v 1 1 -1
v -1 1 -1
v -1 -1 1
v 1 -1 1
v 1 1 1
v -1 1 1
g sides
f 1 2 6 5
f 2 3 7 6
f 3 4 8 7
f 4 1 5 8
g lid
f 5 6 7 8
g foot
f 4 3 2 1
"""


@pytest.fixture
def write(tmp_path):
    def written(name, data):
        path = tmp_path / name
        path.write_bytes(data.encode() if isinstance(data, str) else data)
        return path

    return written


@pytest.mark.parametrize("ending", MESH_FORMATS)
def test_every_format_is_read(ending, tmp_path):
    box = trimesh.creation.box((30.0, 10.0, 20.0))
    path = tmp_path / f"box{ending}"
    box.export(path)
    found = read_mesh(path)
    assert np.ptp(found.mesh.points, axis=0) == pytest.approx((2.0, 2 / 3, 4 / 3), abs=1e-5)
    assert found.mesh.points.mean(axis=0) == pytest.approx((0, 0, 0), abs=1e-5)
    assert "brought to" in " ".join(found.notes)
    assert "open" not in " ".join(found.notes)


def test_faces_of_four_and_groups_come_from_an_obj(write):
    found = read_mesh(write("crate.obj", CUBE)).mesh
    assert (found.faces[:, 3] != found.faces[:, 2]).all()
    assert len(found.faces) == 6
    assert sorted(name.split("_")[-1] for name in found.names) == ["foot", "lid", "sides"]
    # Outwards: the normal of every face looks away from the middle.
    a, b, d = (found.points[found.faces[:, k]] for k in (0, 1, 3))
    middle = found.points[found.faces].mean(axis=1)
    assert ((np.cross(b - a, d - a) * middle).sum(axis=1) > 0).all()


def test_an_open_mesh_is_told(write):
    found = read_mesh(write("open.obj", CUBE.replace("f 5 6 7 8\n", "")))
    assert "It is open along 4 edges." in found.notes


def test_too_many_faces_are_reduced_and_the_form_stays(tmp_path):
    ball = trimesh.creation.icosphere(6)
    path = tmp_path / "ball.ply"
    ball.export(path)
    found = read_mesh(path)
    assert len(found.mesh.faces) <= MOST_KEPT
    assert "reduced" in found.notes[0]
    radius = np.linalg.norm(found.mesh.points, axis=1)
    assert radius == pytest.approx(np.full(len(radius), LONG_SIDE / 2), abs=2e-3)


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("empty.stl", b"", "no faces"),
        ("points.obj", "v 0 0 0\nv 1 0 0\n", "no faces"),
        ("flat.obj", "v 0 0 0\nv 0 0 0\nv 0 0 0\nf 1 2 3\n", "no faces"),
        ("nan.obj", "v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "no numbers"),
        ("inf.obj", "v 1e999 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "no numbers"),
        ("bad.obj", "v 1 2\nf 1 2 9\n", "cannot be read as OBJ"),
        ("cut.glb", b"glTF\x02\x00\x00\x00junk", "cannot be read as GLB"),
        ("no.ply", b"ply\nformat ascii 1.0\nelement vertex x\n", "cannot be read as PLY"),
        (
            "far.gltf",
            '{"asset": {"version": "2.0"}, "buffers": [{"uri": "../secret.bin", "byteLength": 4}]}',
            "beside it",
        ),
        ("crate.blob", b"123", "expected one of .obj"),
    ],
)
def test_what_is_no_mesh_is_refused_in_a_sentence(write, name, data, words):
    with pytest.raises(FileFormatError, match=words) as told:
        read_mesh(write(name, data))
    assert "\n" not in str(told.value)
    assert len(str(told.value)) < 260


def test_a_million_faces_and_more_are_refused(monkeypatch, write):
    monkeypatch.setattr("japanner.files.forms.meshes.MOST_READ", 5)
    with pytest.raises(FileFormatError, match="12 faces"):
        read_mesh(write("crate.obj", CUBE))


def test_a_file_that_is_not_there_is_told(tmp_path):
    with pytest.raises(FileFormatError, match=r"gone\.obj"):
        read_mesh(tmp_path / "gone.obj")
