"""Surfaces by rays against closed forms."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.contours import edges
from japanner.light.rays.joined import components
from japanner.light.rays.owners import belongs, coverage
from japanner.light.rays.surface import from_neighbours, relit, rim_light, seen, surface
from japanner.light.rows import rows_of
from japanner.light.shading import shadow_fraction
from japanner.light.turning import turned
from japanner.raster.geometry import Rect

AREA = Rect(0, 0, 400, 400)
EYE, UNIT, MIDDLE = 12.0, 150.0, (200.3, 200.6)
FRONT = (0.0, 0.0, 1.0)


def of(*pieces, **settings):
    return Maquette(pieces, MIDDLE, UNIT, eye=EYE, **settings)


def rays():
    """Ways of unit length (h, w, 3) from the viewer through the middle of every pixel."""
    rows, columns = np.mgrid[:400, :400]
    ways = np.stack(
        ((columns + 0.5 - MIDDLE[0]) / UNIT, (MIDDLE[1] - rows - 0.5) / UNIT, np.full(rows.shape, -EYE)), -1
    )
    return ways / np.linalg.norm(ways, axis=-1, keepdims=True)


def degrees_apart(normal, wanted):
    unit = wanted / np.maximum(np.linalg.norm(wanted, axis=-1, keepdims=True), 1e-9)
    return np.degrees(np.linalg.norm(np.cross(normal.transpose(1, 2, 0).astype(float), unit), axis=-1))


def test_a_ball_to_a_ten_thousandth():
    found = seen(of(Piece("Ball")), AREA)
    along = rays()[..., 2] * EYE
    far = -along - np.sqrt(np.maximum(along**2 - EYE**2 + 1, 0))
    place = np.array((0, 0, EYE)) + rays() * far[..., None]
    inside = np.hypot(place[..., 0], place[..., 1]) < 0.97
    assert np.abs(found.depth - far)[inside].max() < 1.2e-4
    assert degrees_apart(found.normal, place)[inside].max() < 0.1


def test_a_box_has_flat_sides_and_sharp_edges():
    turn, size = (25.0, 15.0, 10.0), np.array((0.7, 0.5, 0.6))
    found = seen(of(Piece("Box", "box", size=tuple(size), turn=turn)), AREA)
    axes = turned(turn)
    start, ways = axes.T @ (0, 0, EYE), rays() @ axes
    near, far = (-size - start) / ways, (size - start) / ways
    enter, leave = np.minimum(near, far), np.maximum(near, far)
    t = enter.max(axis=-1)
    hit = t < leave.min(axis=-1)
    # The mesh of its edges may be off by a part of a pixel.
    assert (found.seen != hit).sum() < 0.02 * hit.sum()
    both = found.seen & hit
    assert np.percentile(np.abs(found.depth - t)[both], 99) < 1.2e-4
    side = enter.argmax(axis=-1)
    wanted = -np.sign(np.take_along_axis(ways, side[..., None], -1)) * axes.T[side]
    assert np.percentile(degrees_apart(found.normal, wanted)[both], 98.5) < 0.1


def test_a_ring_lies_on_its_quartic():
    found = seen(of(Piece("Ring", "ring", size=(0.7, 0.2, 1.0), turn=(0.0, 50.0, 0.0))), AREA)
    place = (np.array((0, 0, EYE)) + rays() * found.depth[..., None]) @ turned((0.0, 50.0, 0.0))
    out = np.hypot(place[..., 0], place[..., 2]) - 0.7
    off = np.hypot(out, place[..., 1]) - 0.2
    facing = found.seen & (found.normal[2] > 0.25)
    assert np.abs(off[facing]).max() < 1e-4
    around = place / np.maximum(np.hypot(place[..., 0], place[..., 2]), 1e-9)[..., None]
    wanted = np.stack((out * around[..., 0], place[..., 1], out * around[..., 2]), -1) / 0.2
    assert degrees_apart(found.normal, wanted @ turned((0.0, 50.0, 0.0)).T)[facing].max() < 0.1


def test_a_balls_silhouette_covers_its_disc():
    maquette = of(Piece("Ball", part=1))
    cover = coverage(seen(maquette, AREA), maquette, 1)
    radius = UNIT * EYE / np.sqrt(EYE**2 - 1)
    assert cover.sum() == pytest.approx(np.pi * radius**2, rel=1e-3)
    assert 0 < (cover[(cover > 0) & (cover < 1)]).mean() < 1
    # Each row's middle is where it should be: no steps to one side.
    rows, columns = np.nonzero(cover)
    assert np.average(columns + 0.5, weights=cover[rows, columns]) == pytest.approx(MIDDLE[0], abs=0.01)


def test_forms_that_touch_share_their_edge():
    maquette = of(Piece("Left", "ball", (-0.3, 0.0, 0.0), part=1), Piece("Right", "ball", (0.4, 0.1, 0.2), part=2))
    found = seen(maquette, AREA)
    below, above = coverage(found, maquette, 1, above=(2,)), coverage(found, maquette, 2)
    # One laid over the other, nothing shows between them.
    laid = above + (1 - above) * below
    between = belongs(found, maquette, 1) | belongs(found, maquette, 2)
    inner = (
        between & np.roll(between, 2, 1) & np.roll(between, -2, 1) & np.roll(between, 2, 0) & np.roll(between, -2, 0)
    )
    assert laid[inner].min() == pytest.approx(1, abs=1e-6)
    assert (below[(above == 1)] <= 0.99).all() or below[(above == 1)].max() <= 1


# Through a penumbra light grows as the segment of a disc does that a straight edge uncovers: its width at a distance d
# behind the edge is d times the light's angle (computation reference F11).
def test_a_penumbra_is_as_wide_as_the_light_says():
    plate = Piece("Plate", "box", (-2.0, 1.0, 0.0), size=(2.0, 0.02, 4.0))
    maquette = replace(of(Piece("Floor", "slab"), plate), turn=(0.0, -90.0, 0.0), unit_px=150.0)
    up = tuple(float(v) for v in turned(maquette.turn) @ (0.0, 1.0, 0.0))
    found = surface(maquette, AREA, up, light_deg=20.0)
    row = found.lit[200].astype(float)
    x = (np.arange(400) + 0.5 - MIDDLE[0]) / UNIT
    # The viewer sees the plate from above; the floor only beside it.
    floor = found.piece[200] == 0
    wanted = shadow_fraction(x, 1.0, 20.0)
    assert np.abs(row - wanted)[floor & (x > 0.03)].max() < 0.06
    assert np.abs(row - wanted)[floor & (x > 0.03)].mean() < 0.02


# Rings and grain show in how the slope changes from pixel to pixel.
def test_shading_of_a_smooth_form_has_no_rings():
    neck = Piece("Neck", "cord", size=(0.35, 0.45, 1.0), points=((0.0, 0.6, 0.1), (0.0, 0.0, -0.05), (0.1, -0.8, -0.1)))
    head = Piece("Head", "ball", (0.0, 0.75, 0.1), size=(0.5, 0.4, 0.5), blend=0.2)
    light = np.array((-0.62, 0.68, 0.39))
    found = surface(of(neck, head), AREA, tuple(light / np.linalg.norm(light)), light_deg=12.0)
    shade = found.lit * np.maximum(np.einsum("k,khw->hw", light, found.normal), 0) + 0.3 * found.openness
    inner = found.seen.copy()
    for axis in (0, 1):
        for by in (-4, 4):
            inner &= np.roll(found.seen, by, axis)
    bend = np.abs(np.diff(shade, 2, axis=0))[:, 1:-1][inner[1:-1, 1:-1]]
    assert np.percentile(bend, 99) < 0.012
    assert bend.mean() < 0.002


def test_fat_bent_cords_have_no_ribs():
    # Radius .16 to .30 through three points with a bend of 40 degrees.
    bent = Piece("Arm", "cord", size=(0.16, 0.3, 1.0), points=((-0.8, 0.0, 0.0), (0.0, 0.15, 0.0), (0.75, -0.3, 0.0)))
    found = seen(of(bent), AREA)
    inner = found.seen & (found.normal[2] > 0.6)
    inner &= np.roll(inner, 2, 1) & np.roll(inner, -2, 1)
    # Where the arm goes over into the balls at its ends, its bend changes.
    inner[:, :95] = inner[:, 275:] = False
    turning = np.abs(np.diff(found.normal[0], 2, axis=1))[inner[:, 1:-1]]
    assert np.percentile(turning, 99.5) < 2e-3


def test_what_does_not_touch_is_meshed_by_itself():
    apart = (Piece("One", place=(-2.0, 0.0, 0.0)), Piece("Two", place=(2.0, 0.0, 0.0), blend=0.1))
    near = (Piece("One", place=(-0.9, 0.0, 0.0)), Piece("Two", place=(0.9, 0.0, 0.0), blend=0.4))
    touching = (Piece("One", place=(-0.9, 0.0, 0.0)), Piece("Two", place=(0.9, 0.0, 0.0)))
    cut = (*touching, Piece("Hole", size=(0.3, 0.3, 0.3), join="carve"))
    assert [len(components(rows_of(pieces))) for pieces in (apart, near, touching, cut)] == [2, 1, 2, 1]


def test_one_more_form_changes_nothing_elsewhere():
    left, right = (
        Piece("Left", place=(-0.6, 0.0, 0.0), size=(0.5, 0.5, 0.5)),
        Piece("Right", place=(0.7, 0.0, 0.0), size=(0.4, 0.4, 0.4)),
    )
    alone, both = seen(of(left), AREA), seen(of(left, right), AREA)
    part = alone.seen & (both.piece == 0)
    assert (alone.depth[part] == both.depth[part]).all()


def test_another_light_alone_is_the_same_as_all_anew():
    maquette = of(Piece("Ball"), Piece("Small", place=(0.5, 0.6, 0.7), size=(0.2, 0.2, 0.2)))
    other = (0.6, 0.64, 0.48)
    first = surface(maquette, AREA, FRONT)
    assert (relit(first, maquette, other).lit == surface(maquette, AREA, other).lit).all()


def rimmed(maquette, way=(0.5, 0.2, -0.84), width=40.0):
    way = np.array(way) / np.linalg.norm(way)
    found = seen(maquette, AREA)
    return found, rim_light(found, maquette, tuple(float(v) for v in way), width)


def test_a_rim_light_is_held_off_by_what_lies_behind():
    wall = Piece("Wall", "box", (0.0, 0.0, -1.5), size=(3.0, 3.0, 0.2))
    small = Piece("Pad", place=(0.2, 0.0, 0.0), size=(0.5, 0.5, 0.5))
    found, rim = rimmed(of(small))
    assert rim[found.seen].max() > 0.1
    assert rim[found.normal[2] > 0.8].max() < 2e-3
    found, rim = rimmed(of(wall, small))
    assert rim[found.piece == 1].max() < 0.02


def test_neighbours_colour_each_other():
    red, white = (
        Piece("Cape", place=(-0.62, 0.0, 0.0), size=(0.6, 0.6, 0.6), part=1),
        Piece("Jaw", place=(0.62, 0.0, 0.0), size=(0.6, 0.6, 0.6), part=2),
    )
    maquette = of(red, white)
    found = seen(maquette, AREA)
    light = from_neighbours(found, maquette, FRONT, (1.0, 1.0, 1.0), (0.2, 0.2, 0.2), {1: (0.8, 0.1, 0.1)})
    jaw = found.piece == 1
    facing = jaw & (found.normal[0] < -0.8)
    away = jaw & (found.normal[0] > 0.2)
    assert light[0][facing].mean() > 0.02
    assert light[0][facing].mean() == pytest.approx(8 * light[1][facing].mean(), rel=0.01)
    assert light[:, away].max() < 1e-3
    # What is not said to have a colour sends nothing: the cape gets none.
    assert light[:, found.piece == 0].max() < 1e-6 + light[0][found.piece == 0].max()


def test_what_is_cut_into_belongs_to_what_cuts_if_that_is_of_a_part():
    ball, hole = Piece("Nose", part=1), Piece("Nostril", "ball", (0.0, 0.0, 0.9), size=(0.4, 0.4, 0.4), join="carve")
    for of_hole, wanted in ((0, 0), (2, 1)):
        found = seen(of(ball, replace(hole, part=of_hole)), AREA)
        assert found.piece[200, 200] == wanted
        assert found.piece[200, 90] == 0
    grouped = (replace(ball, group="one"), replace(hole, part=2, group="one"))
    assert seen(of(*grouped), AREA).piece[200, 200] == 1


def test_edges_are_where_depth_jumps_and_nowhere_else():
    near, far = (
        Piece("Near", place=(0.2, 0.0, 1.5), size=(0.4, 0.4, 0.4)),
        Piece("Wall", "box", size=(0.9, 0.9, 0.2), turn=(20.0, 0.0, 0.0)),
    )
    found = seen(of(far, near), AREA)
    edge = edges(found, of(far, near))
    assert not edge[~found.seen].any()
    # Around the ball in front, its last pixels; on the wall beside it, none.
    ring = (found.piece == 1) & (np.roll(found.piece, 1, 1) == 0)
    assert edge[ring].mean() > 0.95
    assert not edge[(found.piece == 0) & (np.roll(found.piece, -1, 1) == 1)].any()
    inner = found.seen & (np.abs(found.normal[2]) > 0.5)
    for axis in (0, 1):
        for by in (-3, 3):
            inner &= np.roll(found.piece, by, axis) == found.piece
    assert edge[inner].mean() < 0.002
