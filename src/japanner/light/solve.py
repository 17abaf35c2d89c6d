"""Finding the key light of a picture from a ball in it: where it shines, and where its shadow begins."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from japanner import checks
from japanner.errors import InputError

__all__ = ["angles_of", "light_from_ball"]

Point = tuple[float, float]
HIGHLIGHT_WEIGHT = 2.0


def light_from_ball(
    middle: Point, radius: float, highlight: Point | None, edge: Sequence[Point] = ()
) -> tuple[float, float, float]:
    """Unit vector to the light, x right, y up, z to the viewer.

    middle, radius: of the ball, px, y down. highlight: where the light is mirrored (mirror law, seen from afar). edge:
    places where the form turns out of the light, whose normals are square to it. Either may be left out; of the two
    directions that the edge allows, the one with the light in front is taken.
    """
    checks.number("radius", radius, 1e-3, 1e6)
    rows, wanted = [], []
    if highlight is not None:
        n = _normal(middle, radius, highlight)
        towards = 2 * n[2] * n - np.array((0.0, 0.0, 1.0))
        rows += list(np.eye(3) * HIGHLIGHT_WEIGHT)
        wanted += list(towards * HIGHLIGHT_WEIGHT)
    normals = [_normal(middle, radius, one) for one in edge]
    if highlight is None:
        if len(normals) < 2:
            raise InputError("Mark the highlight, or at least two places where the shadow begins")
        # The direction that is most nearly square to all of them.
        found = np.linalg.svd(np.array(normals))[2][-1]
        found = found if found[2] >= 0 else -found
    else:
        rows += normals
        wanted += [0.0] * len(normals)
        found = np.linalg.lstsq(np.array(rows), np.array(wanted), rcond=None)[0]
    length = float(np.linalg.norm(found))
    if length < 1e-6:
        raise InputError("These marks contradict each other: no light falls so")
    x, y, z = (float(v) for v in found / length)
    return x, y, z


def angles_of(direction: tuple[float, float, float]) -> tuple[float, float]:
    """Degrees above the horizon, and to the right of the viewer."""
    x, y, z = direction
    return float(np.degrees(np.arcsin(np.clip(y, -1, 1)))), float(np.degrees(np.arctan2(x, z)))


def _normal(middle: Point, radius: float, at: Point) -> np.ndarray:
    x, y = (at[0] - middle[0]) / radius, (middle[1] - at[1]) / radius
    far = float(np.hypot(x, y))
    if far > 1.25:
        raise InputError("A mark lies outside the ball")
    if far > 1:
        x, y = x / far, y / far
    return np.array((x, y, np.sqrt(max(1 - x * x - y * y, 0.0))))
