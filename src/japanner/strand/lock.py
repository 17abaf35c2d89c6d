"""A lock: many strands along one line, with a width, clumps, a pattern, and a value that runs from root to tip."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from japanner.strand import shine
from japanner.strand.courses import Course, LockKind, braided, laid, loose, wound
from japanner.strand.strands import Strands

__all__ = ["LockKind", "lock"]

Floats = NDArray[np.floating]


def lock(
    line: Floats, width: Floats, kind: LockKind, colour: tuple[float, float, float], alpha: float,
    light: tuple[float, float, float], seed: int, thick: Floats | None = None, every: int = 1,
) -> Strands:  # fmt: skip
    """Strands of a lock along a line (k, 2) in canvas px from root to tip; width (k,): half of it, px, at its points.

    colour: encoded, of its middle. light: unit vector towards the key light, y up. thick (k,): factor on the
    strands' own thickness along the line. every: only every so many of the strands, somewhat wider and with fewer
    joints, for a quick look.
    """
    random = np.random.Generator(np.random.PCG64(seed))
    thickness, values, jitter = random.standard_normal((3, kind.count))[:, ::every]
    made = {"braid": braided, "bun": wound, "cord": laid}.get(kind.pattern, loose)
    course = made(line, width, kind, every, random)
    chosen = np.broadcast_to(np.asarray(colour, float), (len(course.points), 3, 3))
    fuller = min(every, 3) ** 0.5 if kind.count > 1 else 1.0
    own = kind.wide_px * fuller * np.exp(0.5 * kind.variety * thickness)
    wide = None if thick is None else np.interp(course.share, np.linspace(0, 1, len(thick)), thick)
    shade = _shade(kind, course, light, values, 0.08 * jitter)
    ends = {"tip": 1.0, "soft": 0.0, "power": 0.0} if course.blunt else {"tip": 0.7, "soft": 0.06, "power": 2.2}
    whole = Strands.of(course.points, own, chosen, alpha, shade=shade, wide=wide, **ends)
    return Strands.together([whole.cut(course.order.shape[1])], course.order.reshape(-1))


def _shade(kind: LockKind, course: Course, light: tuple[float, float, float], values: Floats, jitter: Floats) -> Floats:
    """Factor on the colour (n, m): dark at root and end, round across, a band where the line faces the light; with each
    strand's own deviate of value (n,) and lean (n,).
    """
    s, toward = (one.astype(np.float32) for one in (course.share, course.toward))
    dx, dy = (np.gradient(course.points[..., k].astype(np.float32), axis=1) for k in (0, 1))
    size = np.maximum(np.hypot(dx, dy), np.float32(1e-6))
    dx, dy = dx / size, -dy / size
    # Tangent and normal are unit vectors at a right angle, x right, y up, z towards the viewer.
    flat = 1 / np.sqrt(1 + course.slope.astype(np.float32) ** 2)
    rise = course.slope.astype(np.float32) * flat
    side = np.clip(course.off, -1, 1).astype(np.float32)
    level = np.sqrt(1 - 0.81 * side**2)
    tangent = dx * flat, dy * flat, rise
    normal = 0.9 * side * -dy - level * rise * dx, 0.9 * side * dx - level * rise * dy, level * flat
    if course.lean is not None:
        x, y = normal[0] + course.lean[..., 0], normal[1] + course.lean[..., 1]
        long = np.sqrt(x**2 + y**2 + normal[2] ** 2)
        normal = x / long, y / long, normal[2] / long
    key = [np.float32(one) for one in light]
    along, facing = (sum(a * b for a, b in zip(one, key, strict=True)) for one in (tangent, normal))
    off = sum(a * b for a, b in zip(tangent, normal, strict=True))

    def band(shift: float, power: float) -> Floats:
        leaned = (shift + jitter[:, None]).astype(np.float32)
        long = np.sqrt(1 + leaned**2 + 2 * leaned * off)
        return shine.lobe((along + leaned * facing) / long, (tangent[2] + leaned * normal[2]) / long, power)

    lit = 0.55 + 0.45 * np.clip(facing, -0.3, 1) + 0.12 * np.sqrt(np.maximum(1 - along**2, 0))
    depth = 0 if course.blunt else kind.depth
    root = 1 - depth * (0.55 * np.exp(-((s / 0.16) ** 2)) + 0.3 * np.clip((s - 0.7) / 0.3, 0, 1) ** 2)
    # Single hairs are seen at the edges and in the halftones; deep shadow and highlight draw them together.
    detail = 0.45 + 0.55 * np.clip(1 - ((lit - 0.78) / 0.42) ** 2, 0, 1) + 0.5 * side**4
    value = np.exp(0.28 * kind.variety * values[:, None].astype(np.float32) * detail)
    near = 1 + 0.32 * np.tanh(toward / max(float(np.abs(toward).max()), 1e-6)) if toward.any() else 1.0
    result: Floats = root * value * near * lit * (1 + kind.gloss * (0.9 * band(-0.10, 24.0) + 0.5 * band(0.16, 9.0)))
    return result
