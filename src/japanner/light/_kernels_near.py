"""Which forms matter near a ray or a place."""

from __future__ import annotations

import numpy as np

from japanner._numba import inlined
from japanner.light._kernels_forms import BLEND, CENTRE, GROUP, JOIN, KIND, MEET, MIRROR, REACH, SIZE, SMOOTH, STROKE

F = np.float32
ZERO, HALF = F(0), F(0.5)


@inlined
def _within(rows, i, ox, oy, oz, dx, dy, dz, radius, widening):
    """Whether the ball around a piece, or that of its mirror image, comes within `radius` of a ray."""
    for side in range(2 if rows[i, MIRROR] > HALF else 1):
        cx = (rows[i, CENTRE] if side == 0 else -rows[i, CENTRE]) - ox
        cy, cz = rows[i, CENTRE + 1] - oy, rows[i, CENTRE + 2] - oz
        along = max(cx * dx + cy * dy + cz * dz, ZERO)
        px, py, pz = cx - along * dx, cy - along * dy, cz - along * dz
        most = rows[i, REACH] + radius + widening * along
        if px * px + py * py + pz * pz <= most * most:
            return True
    return False


@inlined
def nearby(rows, ox, oy, oz, dx, dy, dz, radius, widening, order):
    """Fill `order` with the groups of pieces that matter within `radius` of a ray, which widens as it goes; how many.

    A group goes in whole. Pieces that have no end, and what others are cut to, always matter.
    """
    needed = np.zeros(rows.shape[0], np.uint8)
    # A stroke that smooths asks for the forms round about.
    later, end = ZERO, rows.shape[0]
    for i in range(rows.shape[0]):
        if (
            rows[i, KIND] == STROKE
            and int(rows[i, JOIN]) == SMOOTH
            and _within(rows, i, ox, oy, oz, dx, dy, dz, radius, widening)
        ):
            later = max(later, rows[i, SIZE])
    # From the last on: a form is drawn into what flows into it later, from as far as that blend reaches.
    while end > 0:
        begin = end - 1
        while begin > 0 and rows[begin - 1, GROUP] == rows[end - 1, GROUP]:
            begin -= 1
        blend, matters = ZERO, False
        for i in range(begin, end):
            blend = max(blend, rows[i, BLEND])
        for i in range(begin, end):
            stroke = rows[i, KIND] >= STROKE
            if (
                rows[i, REACH] <= ZERO
                or (int(rows[i, JOIN]) == MEET and not stroke)
                or _within(rows, i, ox, oy, oz, dx, dy, dz, radius + (ZERO if stroke else max(blend, later)), widening)
            ):
                matters = True
        if matters:
            later = max(later, blend)
            needed[begin:end] = 1
        end = begin
    count = 0
    for i in range(rows.shape[0]):
        if needed[i]:
            order[count] = i
            count += 1
    return count
