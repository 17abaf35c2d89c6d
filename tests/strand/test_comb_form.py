"""Combing over a form: on a sphere along its meridians, on a tube along its helices, on a plane as without one."""

import numpy as np
import pytest

from japanner.strand.comb import Guide, combed
from tests.strand.test_comb import AREA, SIDE, X, Y, degrees_off

RADIUS = 190
BALL = np.hypot(X, Y) < RADIUS
INNER = np.hypot(X, Y) < 0.97 * RADIUS
UP = np.sqrt(np.clip(1 - (X**2 + Y**2) / RADIUS**2, 0, 1))
NORMAL = np.stack((X / RADIUS, -Y / RADIUS, UP)).astype(np.float32)


def meridians(pole, count, first, last):
    """Guides along a ball's meridians, from a pole (y up), and the meridians' direction everywhere as seen (y down)."""
    pole = np.asarray(pole) / np.linalg.norm(pole)
    side = np.cross(pole, (0.0, 0.0, 1.0) if abs(pole[2]) < 0.99 else (1.0, 0.0, 0.0))
    side /= np.linalg.norm(side)
    guides = []
    for turn in 2 * np.pi * (np.arange(count) + 0.3) / count:
        away = np.cos(turn) * side + np.sin(turn) * np.cross(pole, side)
        way = np.linspace(first, last, 40)[:, None]
        line = [point for point in np.cos(way) * pole + np.sin(way) * away if point[2] > 0.05]
        guides.append(Guide(tuple((200 + RADIUS * x, 200 - RADIUS * y) for x, y, _ in line)))
    down = NORMAL * np.einsum("i,ihw->hw", pole, NORMAL) - pole[:, None, None]
    return tuple(guides), down[0], -down[1]


def mean_error(field, u, v, where=INNER):
    ys, xs = np.nonzero(where)
    return degrees_off(field, xs + 0.5, ys + 0.5, u[where], v[where]).mean()


@pytest.mark.parametrize(
    ("pole", "count", "most"), [((0, 0, 1), 4, 9), ((0, 0.5, 0.85), 4, 8), ((0, 0.9, 0.4), 5, 3), ((0, 0, 1), 8, 3)]
)
def test_on_a_ball_hair_runs_along_its_meridians(pole, count, most):
    guides, u, v = meridians(pole, count, 0.1, 1.4)
    flat, form = (combed(BALL.astype(np.float32), AREA, guides, normal) for normal in (None, NORMAL))
    assert mean_error(form, u, v) < most
    assert mean_error(form, u, v) < 0.75 * mean_error(flat, u, v)


@pytest.mark.parametrize("slant", [20.0, 50.0, 75.0])
def test_on_a_tube_one_stroke_goes_on_as_a_helix(slant):
    """A tube can be rolled out flat: a direction that is carried over it keeps its angle to the axis."""
    cover = np.broadcast_to(np.abs(X) < RADIUS, X.shape).astype(np.float32)
    across = np.clip(X / RADIUS, -1, 1)
    normal = np.stack((across, np.zeros_like(X), np.sqrt(1 - across**2))).astype(np.float32)
    angle = np.radians(slant)
    reach = 40 * np.array((np.sin(angle), np.cos(angle)))
    guide = Guide((tuple(200 - reach), tuple(200 + reach)))
    u, v = np.sin(angle) * np.sqrt(1 - across**2), np.full_like(X, np.cos(angle))
    where = np.abs(X) < 0.9 * RADIUS
    assert mean_error(combed(cover, AREA, (guide,), normal), u, v, where) < 3
    # Seen as a plane it keeps the angle that it has in front, which is wrong at the sides.
    assert mean_error(combed(cover, AREA, (guide,)), u, v, where) > 3


def test_on_a_plane_it_is_as_without_a_form():
    guides = (Guide(((60.0, 100.0), (200.0, 120.0))), Guide(((250.0, 300.0), (330.0, 200.0))))
    level = np.zeros((3, 20, 20), np.float32)
    level[2] = 1
    cover = np.ones((SIDE, SIDE), np.float32)
    one, other = (combed(cover, AREA, guides, normal) for normal in (None, level))
    xs, ys = (plane.ravel() for plane in np.meshgrid(np.arange(10.0, 390, 10), np.arange(10.0, 390, 10)))
    dx, dy = one.directions(xs.astype(np.float32), ys.astype(np.float32))
    assert degrees_off(other, xs, ys, dx, dy).mean() < 1
