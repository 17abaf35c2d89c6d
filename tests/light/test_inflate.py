"""Silhouettes as forms: blown up, and with bevels, against closed forms."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.light.cloth import hung
from japanner.light.inflate import bevel, inflated, normals_of, poisson, tilted_cosine
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.surface import surface
from japanner.light.shading import lambert
from japanner.raster.geometry import Rect


def disc(side=160, radius=70):
    ys, xs = np.mgrid[:side, :side] + 0.5 - side / 2
    return np.clip(radius - np.hypot(xs, ys) + 0.5, 0, 1), xs / radius, -ys / radius


def test_a_disc_blown_up_is_a_ball():
    cover, x, y = disc()
    normal, height = inflated(cover)
    z = np.sqrt(np.maximum(1 - x * x - y * y, 0))
    inner = np.hypot(x, y) < 0.9
    for plane, wanted in zip(normal, (x, y, z), strict=True):
        assert np.abs(plane - wanted)[inner].max() < 0.03
    assert np.abs(height / 70 - z)[inner].max() < 0.03
    flat, _ = inflated(cover, 0.3)
    assert (flat[2][inner] >= normal[2][inner] - 1e-6).all()


def test_poissons_equation_holds():
    inside = np.zeros((40, 50), bool)
    inside[6:30, 5:44] = True
    u = poisson(inside)
    laplace = 4 * u - sum(np.roll(u, shift, axis) for shift in (1, -1) for axis in (0, 1))
    assert laplace[inside] == pytest.approx(4, abs=1e-8)
    assert (u[~inside] == 0).all()


# A chamfer of 45 degrees is shaded as Lambert's law has it for its plane: light from (-1, -1, 1) on the canvas (x to
# the right, y down), left and top .816497, right and bottom 0, flat .577350.
@pytest.mark.parametrize(
    ("light", "left", "top", "right", "bottom", "flat"),
    [((-1, -1, 1), 0.816497, 0.816497, 0, 0, 0.577350), ((-1, 0, 1), 1, 0.5, 0, 0.5, 0.707107),
     ((-1, -1, 2), 0.866025, 0.866025, 0.288675, 0.288675, 0.816497)],
)  # fmt: skip
def test_a_bevel_is_shaded_as_its_planes(light, left, top, right, bottom, flat):
    cover = np.zeros((120, 160))
    cover[10:110, 10:150] = 1
    towards = np.array((light[0], -light[1], light[2])) / np.linalg.norm(light)
    shade = lambert(np.moveaxis(normals_of(bevel(cover, 20, "flat")), 0, -1), towards)
    found = shade[60, 20], shade[20, 80], shade[60, 139], shade[99, 80], shade[60, 80]
    assert found == pytest.approx((left, top, right, bottom, flat), abs=2e-3)


def test_a_round_bevel_is_a_quarter_circle():
    cover = np.zeros((90, 140))
    cover[5:85, 5:135] = 1
    rise = bevel(cover, 24, "round")[45]
    for share, wanted in ((0.25, 0.661438), (0.5, 0.866025), (0.75, 0.968246)):
        assert rise[4 + round(24 * share)] / 24 == pytest.approx(wanted, abs=1e-3)


def test_nothing_is_no_form():
    for make in (inflated, lambda cover: bevel(cover, 5)):
        with pytest.raises(InputError, match="empty"):
            make(np.zeros((20, 20)))


# --- pieces without a formula ---------------------------------------------------------------------------------


def circle(radius, count=90, number=0.0):
    turn = np.linspace(0, 2 * np.pi, count, endpoint=False)
    return tuple((float(radius * np.cos(t)), float(radius * np.sin(t)), number) for t in turn)


def looked_at(piece, **settings):
    return surface(
        Maquette((piece,), (150.0, 150.0), 100.0, eye=300.0, **settings), Rect(0, 0, 300, 300), (0.0, 0.0, 1.0)
    )


def test_a_puff_of_a_circle_is_a_ball_from_all_sides():
    puff = Piece("Puff", "puff", points=circle(1.0))
    for turn in ((0.0, 0.0, 0.0), (55.0, 20.0, 0.0), (90.0, 0.0, 0.0)):
        found = looked_at(puff, turn=turn)
        ys, xs = np.mgrid[:300, :300]
        x, y = (xs + 0.5 - 150) / 100, (150 - ys - 0.5) / 100
        inner = np.hypot(x, y) < 0.85
        z = np.sqrt(np.maximum(1 - x * x - y * y, 0))
        assert found.seen[inner].all()
        assert np.abs((300 - found.depth) - z)[inner].max() < 0.06
        assert found.seen.sum() == pytest.approx(np.pi * 100**2, rel=0.03)


def test_a_hole_in_the_outline_is_a_hole():
    ring = Piece("Ring", "puff", points=circle(1.0) + circle(0.4, number=1.0), edge=0.2)
    found = looked_at(ring)
    assert not found.seen[150, 150]
    assert found.seen[150, 150 + 70]
    # A plate with a round edge is flat beyond it, as thick as the edge's radius.
    assert 300 - found.depth[150, 150 + 70] == pytest.approx(0.2, abs=0.02)


def test_a_head_goes_through_its_landmarks():
    rng = np.random.default_rng(4)
    towards = rng.standard_normal((60, 3))
    towards /= np.linalg.norm(towards, axis=1)[:, None]
    points = tuple(tuple(float(v) for v in one * (0.9 + 0.1 * one[1])) for one in towards)
    head = Piece("Head", "head", points=points, names=tuple(f"mark {i}" for i in range(60)))
    found = looked_at(head)
    front = [point for point in points if point[2] > 0.55]
    assert len(front) > 8
    for x, y, z in front:
        row, column = round(150 - 100 * y - 0.5), round(150 + 100 * x - 0.5)
        assert 300 - found.depth[row, column] == pytest.approx(z, abs=0.03)


def test_cloth_hangs_from_its_hooks_in_folds():
    hooks = tuple((x, 1.0, 0.0) for x in (-1.0, -0.35, 0.3, 1.0))
    tight, loose = (hung((1.0, 1.0), edge, hooks).heights() for edge in (0.0, 0.4))
    assert np.ptp(loose[20:]) > 4 * np.ptp(tight[20:])
    # Folds run down: it varies across far more than along.
    low = loose[30:55, 6:-6]
    assert np.abs(np.diff(low, axis=1)).mean() > 2 * np.abs(np.diff(low, axis=0)).mean()


def test_a_cord_is_as_thick_as_it_should_be_all_along():
    cord = Piece("Cord", "cord", size=(0.2, 0.1, 1.0), points=((-1.0, 0.0, 0.0), (0.0, 0.0, 0.0), (1.0, 0.0, 0.0)))
    wide = looked_at(cord).seen.sum(axis=0)
    assert (wide[60], wide[150], wide[240]) == pytest.approx((39, 30, 21), abs=3)


def test_a_fine_relief_tilts_normals_as_its_own_do():
    """The fast way against NumPy's gradient and a sum of normals."""
    random = np.random.default_rng(4)
    normal = random.normal(size=(3, 33, 70)).astype(np.float32)
    normal /= np.linalg.norm(normal, axis=0)
    height = random.normal(size=(33, 70)).astype(np.float32)
    towards = np.array((0.48, 0.6, 0.64))
    tilt = normals_of(height * np.float32(0.7))
    both = np.stack((normal[0] + tilt[0], normal[1] + tilt[1], normal[2]))
    expected = np.einsum("i,ihw->hw", towards, both / np.linalg.norm(both, axis=0))
    assert np.allclose(tilted_cosine(normal, height, 0.7, towards), expected, atol=2e-5)


@pytest.mark.parametrize("shape", [(1, 1), (1, 30), (30, 1), (2, 2)])
def test_a_silhouette_of_a_px_or_a_row_of_them_is_blown_up_too(shape):
    normal, height = inflated(np.ones(shape, np.float32))
    assert normal.shape == (3, *shape)
    assert np.linalg.norm(normal, axis=0) == pytest.approx(np.ones(shape), abs=1e-3)
    assert (height > 0).all()
