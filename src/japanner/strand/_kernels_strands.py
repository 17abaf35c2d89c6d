"""Strands as anti-aliased curves that taper, one over the other."""

from __future__ import annotations

import numpy as np

from japanner._numba import I64, PLANE_IN, PLANES, PLANES_IN, kernel, void, woven

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)
# Columns of a strand's look.
WIDTH, ALPHA, TIP, SOFT, POWER = 0, 1, 2, 3, 4
ROOT_COLOUR, MIDDLE_COLOUR, TIP_COLOUR = 5, 8, 11
COLUMNS = 14


@woven
def _taper(share, soft, power):
    """Width at a share of the length, of the greatest."""
    if power == ZERO:
        return ONE
    return min(share / soft + F(0.25), ONE) * np.sqrt(max(ONE - share**power, ZERO))


@kernel(void(PLANES_IN, PLANE_IN, PLANE_IN, PLANE_IN, PLANE_IN, I64, I64, PLANES, PLANES, I64, I64))
def draw(points, look, shade, wide, ranks, left, up, out, depth, top, bottom):
    """Rows top..bottom of `out` (4, h, w), premultiplied 0..1, with strands laid over it in their order.

    points (n, m, 2): x and y in canvas px from root to tip. look (n, COLUMNS): width in px, coverage at the root side
    and as a share of it at the tip, share of its length over which a strand comes in at its root, exponent of the
    taper (0: none, and blunt ends, for pieces of a strand); colours at root, middle and tip. shade, wide (n, m):
    factors on the colour and on the width at every joint. ranks (n, 2): a strand goes under what is there where
    `depth` (2, h, w) says that a higher first one has been laid; the highest of both are kept there. left, up: where
    `out` is on the canvas. Within one strand what is nearest counts, so that its joints do not show.
    """
    width, joints = out.shape[2], points.shape[1]
    cover = np.zeros((bottom - top, width), np.float32)
    share, thin = np.zeros_like(cover), np.zeros_like(cover)
    touched = np.empty(((bottom - top) * width, 2), np.uintp)
    for n in range(points.shape[0]):
        low, high, near, far = points[n, 0, 1], points[n, 0, 1], points[n, 0, 0], points[n, 0, 0]
        for k in range(1, joints):
            low, high = min(low, points[n, k, 1]), max(high, points[n, k, 1])
            near, far = min(near, points[n, k, 0]), max(far, points[n, k, 0])
        reach = max(look[n, WIDTH] * HALF, HALF) + ONE
        if not (low - reach < F(bottom + up) and high + reach > F(top + up)):
            continue
        if not (near - reach < F(left + width) and far + reach > F(left)):
            continue
        soft, power, count = max(look[n, SOFT], F(1e-4)), look[n, POWER], 0
        for k in range(joints - 1):
            ax, ay = points[n, k, 0] - F(left), points[n, k, 1] - F(up)
            bx, by = points[n, k + 1, 0] - F(left) - ax, points[n, k + 1, 1] - F(up) - ay
            square = max(bx * bx + by * by, F(1e-8))
            if not square < F(1e10):
                continue
            low, high, near, far = min(ay, ay + by), max(ay, ay + by), min(ax, ax + bx), max(ax, ax + bx)
            if low - reach >= F(bottom) or high + reach <= F(top) or near - reach >= F(width) or far + reach <= ZERO:
                continue
            s0, s1 = F(k) / F(joints - 1), F(k + 1) / F(joints - 1)
            w0 = wide[n, k] * look[n, WIDTH] * _taper(s0, soft, power)
            w1 = wide[n, k + 1] * look[n, WIDTH] * _taper(s1, soft, power)
            # Where a piece ends the next one goes on: no pixel is covered by both.
            least = ZERO if power == ZERO and k == 0 else F(-1e9)
            most = ONE if power == ZERO and k == joints - 2 else F(1e9)
            # Pixels whose middle is nearer than this; in a row those between two lines beside the strand.
            farthest = max(max(w0, w1), ONE) * HALF + HALF
            beside = farthest * np.sqrt(square)
            y0, y1 = max(int(np.ceil(low - farthest - HALF)), top), min(int(high + farthest + HALF), bottom)
            x0, x1 = max(int(np.ceil(near - farthest - HALF)), 0), min(int(far + farthest + HALF), width)
            inverse, slanted = ONE / square, abs(by) > F(0.05) * abs(bx)
            for y in range(y0, y1):
                py = F(y) + HALF - ay
                first, last = x0, x1
                if slanted:
                    middle, reached = ax - HALF + py * bx / by, beside / abs(by)
                    first, last = max(first, int(middle - reached)), min(last, int(middle + reached) + 2)
                for x in range(first, last):
                    px = F(x) + HALF - ax
                    u = (px * bx + py * by) * inverse
                    if u < least or u >= most:
                        continue
                    u = min(max(u, ZERO), ONE)
                    dx, dy = px - u * bx, py - u * by
                    if dx * dx + dy * dy >= farthest * farthest:
                        continue
                    # What is thinner than a pixel covers less of it.
                    across = w0 + u * (w1 - w0)
                    found = max(across, ONE) * HALF + HALF - np.sqrt(dx * dx + dy * dy)
                    if found > max(cover[y - top, x], ZERO):
                        if cover[y - top, x] == ZERO:
                            touched[count, 0], touched[count, 1] = y - top, x
                            count += 1
                        cover[y - top, x], share[y - top, x] = found, s0 + u * (s1 - s0)
                        thin[y - top, x] = min(across, ONE)
        for k in range(count):
            y, x = touched[k, 0], touched[k, 1]
            row = y + np.uintp(top)
            t = share[y, x]
            a = min(cover[y, x], ONE) * thin[y, x] * look[n, ALPHA] * (ONE + t * (look[n, TIP] - ONE))
            cover[y, x] = ZERO
            factor = shade[n, joints - 1]
            if t < ONE:
                at = int(t * F(joints - 1))
                factor = shade[n, at] + (t * F(joints - 1) - F(at)) * (shade[n, at + 1] - shade[n, at])
            over = ranks[n, 0] >= depth[0, row, x]
            keep, lay = (ONE - a, a) if over else (ONE, a * (ONE - out[3, row, x]))
            depth[0, row, x] = max(depth[0, row, x], ranks[n, 0])
            depth[1, row, x] = max(depth[1, row, x], ranks[n, 1])
            first, second = (ROOT_COLOUR, MIDDLE_COLOUR) if t < HALF else (MIDDLE_COLOUR, TIP_COLOUR)
            along = t * F(2) if t < HALF else t * F(2) - ONE
            for c in range(3):
                colour = look[n, first + c] + along * (look[n, second + c] - look[n, first + c])
                out[c, row, x] = out[c, row, x] * keep + lay * min(max(colour * factor, ZERO), ONE)
            out[3, row, x] = out[3, row, x] * keep + lay
