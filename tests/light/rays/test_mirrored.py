"""Rays thrown back by what is seen: against geometry on a ball and a tube, and what they meet."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.mirrored import mirrored_by
from japanner.light.rays.surface import seen, seen_at
from japanner.painting.makers.around import mirrored_way
from japanner.raster.geometry import Rect

AREA = Rect(0, 0, 240, 200)
COLOURS = {1: (0.5, 0.5, 0.5), 2: (0.9, 0.1, 0.1)}


def stood(*pieces):
    return Maquette(pieces, (120.0, 100.0), 50.0, eye=20.0)


def view_over(maquette, area=AREA):
    """Unit vectors from the plane of the origin to the viewer, by perspective."""
    ys, xs = np.mgrid[area.y0 : area.y1, area.x0 : area.x1] + 0.5
    way = np.stack(((maquette.middle[0] - xs) / 50, (ys - maquette.middle[1]) / 50, np.full(xs.shape, maquette.eye)))
    return (way / np.linalg.norm(way, axis=0)).astype(np.float32)


@pytest.mark.parametrize("kind", ["ball", "tube"])
def test_mirrored_directions_follow_geometry(kind):
    """On a ball the normal is the way from its middle; on a tube that runs up, without its height. The mirrored ray
    has the same angle to it as the one to the viewer, in one plane (law of reflection).
    """
    foot, long = ((0.0, -1.8, 0.0), 3.6) if kind == "tube" else ((0.0, 0.0, 0.0), 1.0)
    piece = Piece("One", kind, part=1, size=(1.0, 1.0, long), place=foot)
    maquette = stood(piece)
    found = seen(maquette, AREA)
    view = view_over(maquette)
    way = mirrored_way(found.normal, view)
    inside = found.seen.copy()
    inside[:70], inside[130:] = False, False  # off the tube's ends
    ys, xs = np.nonzero(inside & (found.normal[2] > 0.2))
    eye = np.array((0, 0, maquette.eye))
    for y, x in list(zip(ys, xs, strict=True))[:: max(len(ys) // 40, 1)]:
        ray = -view[:, y, x]
        place = eye + ray * found.depth[y, x]
        normal = place * ((1, 0, 1) if kind == "tube" else (1, 1, 1))
        normal = normal / np.linalg.norm(normal)
        expected = ray - 2 * (ray @ normal) * normal
        assert np.degrees(np.arccos(np.clip(way[:, y, x] @ expected, -1, 1))) < 1.0


def test_a_ball_mirrors_its_neighbour_where_geometry_says():
    neighbour = np.array((2.2, 0.0, 0.6))
    maquette = stood(Piece("Mirror", part=1), Piece("Red", part=2, place=tuple(neighbour), size=(0.6, 0.6, 0.6)))
    found = seen(maquette, AREA)
    view = view_over(maquette)
    way = mirrored_way(found.normal, view)
    own = found.piece == 0
    met = mirrored_by(found, found, maquette, way, own, (0.0, 0.6, 0.8), (1.0, 1.0, 1.0), (0.3, 0.3, 0.3), COLOURS)
    assert not met.found[~own].any()
    eye = np.array((0, 0, maquette.eye))
    wrong = 0
    ys, xs = np.nonzero(own & (found.normal[2] > 0.15))
    for y, x in zip(ys, xs, strict=True):
        place = eye - view[:, y, x] * found.depth[y, x]
        to = neighbour - place
        along = float(to @ way[:, y, x])
        gap = np.linalg.norm(to - along * way[:, y, x])
        if abs(gap - 0.6) > 0.03:  # not on its very edge
            wrong += bool(met.found[y, x]) != (along > 0 and gap < 0.6)
    assert met.found.sum() > 150
    assert wrong <= 0.01 * len(ys)
    red = met.light[:, met.found]
    assert (red[0] > 3 * red[1]).mean() > 0.95
    # What is met is seen on the canvas, beside the mirror, but for what lies on the neighbour's far side.
    x, _ = seen_at(maquette, tuple(neighbour))
    shown = met.found & ~met.hidden
    assert shown.any()
    assert abs(float(met.at[0][shown].mean()) - x) < 0.6 * 50
    assert (met.found & met.hidden).any()


def test_a_ball_alone_mirrors_nothing():
    maquette = stood(Piece("Mirror", part=1))
    found = seen(maquette, AREA)
    way = mirrored_way(found.normal, view_over(maquette))
    met = mirrored_by(found, found, maquette, way, found.seen, (0.0, 0.6, 0.8), (1, 1, 1), (0, 0, 0), COLOURS)
    assert not met.found.any()
