"""What strokes and neighbours do to meshes, as they are seen."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.mesh.mesh import Mesh
from japanner.light.mesh.packing import text_of
from japanner.light.pieces import Piece
from japanner.light.rays.owners import belongs, coverage, zone
from japanner.light.rays.surface import seen
from japanner.raster.geometry import Rect

AREA = Rect(0, 0, 240, 240)


def of(*pieces, **more):
    return Maquette(pieces, (120.0, 120.0), 80.0, eye=60.0, **more)


def ball_text(halves=False):
    ball = trimesh.creation.icosphere(4)
    faces = np.column_stack((ball.faces, ball.faces[:, 2])).astype(np.int32)
    upper = ball.triangles_center[:, 1] > 0
    group = upper.astype(np.int16) if halves else np.zeros(len(faces), np.int16)
    return text_of(Mesh(ball.vertices.astype(np.float32), faces, group, ("lower", "upper") if halves else ("",)))


BALL = Piece("Ball", "mesh", mesh=ball_text())


def heights(maquette):
    found = seen(maquette, AREA)
    return np.where(found.seen, maquette.eye - found.depth, np.nan), found


def test_a_mesh_of_a_ball_looks_like_the_ball():
    mesh, found = heights(of(BALL))
    ball, other = heights(of(Piece("Ball")))
    inner = other.normal[2] > 0.3
    # Smooth faces lie a little within the ball whose points they have.
    assert np.abs(mesh - ball)[inner].max() < 8e-3
    assert np.einsum("khw,khw->hw", found.normal, other.normal)[inner].min() > 0.9995


def test_a_mesh_is_placed_sized_turned_and_mirrored():
    piece = Piece("Ball", "mesh", (0.5, 0.2, 0.0), (0.0, 0.0, 90.0), (0.5, 0.25, 0.25), mirror=True, mesh=ball_text())
    rows, columns = np.nonzero(seen(of(piece), AREA).seen)
    right = columns > 120
    assert (columns[right].mean(), 240 - columns[~right].mean()) == pytest.approx((160.5, 160.5), abs=1)
    assert rows.mean() == pytest.approx(120 - 0.2 * 80, abs=1)
    # A quarter of a turn puts the long side upright.
    assert np.ptp(rows) == pytest.approx(80, abs=3)
    assert np.ptp(columns[right]) == pytest.approx(40, abs=3)


@pytest.mark.parametrize(("join", "sign"), [("raise", 1), ("lower", -1), ("crease", -1)])
def test_strokes_work_on_meshes_as_on_forms(join, sign):
    stroke = Piece(
        "Line",
        "stroke",
        size=(0.2, 0.08, 1.0),
        join=join,
        points=((-0.5, 0.0, 0.87), (0.0, 0.0, 1.0), (0.5, 0.0, 0.87)),
    )
    plain, _ = heights(of(BALL))
    worked, _ = heights(of(BALL, stroke))
    form, _ = heights(of(Piece("Ball"), stroke))
    assert sign * (worked - plain)[120, 120] > 0.04
    assert worked[120, 120] == pytest.approx(form[120, 120], abs=0.015)
    assert worked[60, 120] == pytest.approx(plain[60, 120], abs=1e-4)


def test_smoothing_takes_a_bump_down():
    bump = Piece("Bump", "stroke", size=(0.1, 0.1, 1.0), join="raise", points=((0.0, 0.0, 1.0), (0.01, 0.0, 1.0)))
    smooth = Piece("Even", "stroke", size=(0.3, 1.0, 1.0), join="smooth", points=((-0.1, 0.0, 1.0), (0.1, 0.0, 1.0)))
    before, after = (heights(of(*pieces))[0][120, 120] for pieces in ((BALL, bump), (BALL, bump, smooth)))
    assert before - after > 0.02


def test_a_blend_softens_the_seam_with_a_form():
    beside = Piece("Form", place=(1.2, 0.0, 0.0))
    hard, _ = heights(of(beside, BALL))
    mesh = Piece("Ball", "mesh", mesh=ball_text(), blend=0.4)
    soft, found = heights(of(beside, mesh))
    valley = slice(150, 186)
    bend = [np.abs(np.diff(one[120, valley], 2)).max() for one in (hard, soft)]
    assert bend[1] < 0.6 * bend[0]
    assert soft[120, 168] > hard[120, 168] + 0.02
    assert soft[120, 60] == pytest.approx(hard[120, 60], abs=1e-3)
    assert set(np.unique(found.piece)) == {-1, 0, 1}


def test_groups_of_a_mesh_belong_to_parts():
    piece = Piece("Ball", "mesh", mesh=ball_text(halves=True), part=1, parts=(("upper", 2),))
    maquette = of(piece)
    found = seen(maquette, AREA)
    upper, lower = belongs(found, maquette, 2), belongs(found, maquette, 1)
    assert (upper ^ lower)[found.seen].all()
    assert upper[60, 120]
    assert lower[180, 120]
    assert zone(found, "upper")[60, 120] == pytest.approx(1)
    both = coverage(found, maquette, 1, above=(2,))
    laid = coverage(found, maquette, 2) + (1 - coverage(found, maquette, 2)) * both
    assert laid[100:140, 100:140].min() == pytest.approx(1)


def test_a_viewer_inside_a_mesh_is_told_so():
    with pytest.raises(InputError, match="inside"):
        seen(Maquette((BALL,), (120.0, 120.0), 80.0, eye=0.5), AREA)
    assert seen(Maquette((BALL,), (120.0, 120.0), 80.0, eye=1.3), AREA).seen.any()
