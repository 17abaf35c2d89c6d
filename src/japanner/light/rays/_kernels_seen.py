"""What the rays through pixels meet first: triangles drawn into the grid of rays, the nearest kept, which is what
sending every ray through the tree comes to, at a tenth of the time.
"""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import (
    FLAGS_IN,
    FLOATS,
    I64,
    LABELS,
    LABELS_IN,
    ONE_F,
    PLANE,
    PLANES,
    TABLE,
    inlined,
    kernel,
    void,
    woven,
)  # fmt: skip
from japanner.light._kernels_forms import distance
from japanner.light._kernels_near import nearby
from japanner.light.rays._kernels_nets import slope
from japanner.light.rays._kernels_tree import HUGE, crossed

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)
BLOCK = 8
ROUNDED = F(4e-4)
STEPS = 4


@kernel(void(FLOATS, LABELS_IN, PLANE, LABELS, I64, I64))
def draw(screen, triangles, near, hit, top, bottom):
    """Rows top..bottom of which triangle is nearest: hit (h, w), -1 before, and near (h, w), 0 before.

    screen (n, 3): column and row of each point, in pixels whose middles are whole numbers, and one over its depth, 0
    for points that cannot be seen.
    """
    width = near.shape[1]
    for t in range(triangles.shape[0]):
        a, b, c = uintp(triangles[t, 0]), uintp(triangles[t, 1]), uintp(triangles[t, 2])
        ay, by, cy = screen[a, 1], screen[b, 1], screen[c, 1]
        low, high = min(ay, min(by, cy)), max(ay, max(by, cy))
        if high < F(top) or low > F(bottom - 1):
            continue
        aw, bw, cw = screen[a, 2], screen[b, 2], screen[c, 2]
        if aw <= ZERO or bw <= ZERO or cw <= ZERO:
            continue
        ax, bx, cx = screen[a, 0], screen[b, 0], screen[c, 0]
        left, right = min(ax, min(bx, cx)), max(ax, max(bx, cx))
        if right < ZERO or left > F(width - 1):
            continue
        area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if area == ZERO:
            continue
        inverse = ONE / area
        y0, y1 = max(int(np.ceil(low - F(1e-3))), top), min(int(np.floor(high + F(1e-3))) + 1, bottom)
        x0, x1 = max(int(np.ceil(left - F(1e-3))), 0), min(int(np.floor(right + F(1e-3))) + 1, width)
        # As much is let pass as places on a canvas are rounded by, so that no ray slips through between two triangles.
        around = abs(bx - ax) + abs(by - ay) + abs(cx - ax) + abs(cy - ay)
        spare = -min(ROUNDED * around * abs(inverse) + F(1e-5), F(0.1))
        for j in range(y0, y1):
            for i in range(x0, x1):
                px, py = F(i) - ax, F(j) - ay
                share_b = (px * (cy - ay) - py * (cx - ax)) * inverse
                share_c = (py * (bx - ax) - px * (by - ay)) * inverse
                share_a = ONE - share_b - share_c
                if share_a >= spare and share_b >= spare and share_c >= spare:
                    w = share_a * aw + share_b * bw + share_c * cw
                    if w > near[j, i]:
                        near[j, i], hit[j, i] = w, t


@woven
def ray_of(eye, rays, i, j):
    """Direction of the ray through a pixel, of unit length."""
    dx = rays[0, 0] + F(i) * rays[1, 0] + F(j) * rays[2, 0] - eye[0]
    dy = rays[0, 1] + F(i) * rays[1, 1] + F(j) * rays[2, 1] - eye[1]
    dz = rays[0, 2] + F(i) * rays[1, 2] + F(j) * rays[2, 2] - eye[2]
    length = np.sqrt(dx * dx + dy * dy + dz * dz)
    return dx / length, dy / length, dz / length


@inlined
def exact(rows, data, order, count, strokes, fine, cell, eye, dx, dy, dz, start):
    """Where a ray meets the forms themselves near `start` on it, by Newton's steps; -1 if it passes them by."""
    t = start
    gx, gy, gz, piece = ZERO, ZERO, ZERO, -1
    for _ in range(STEPS):
        x, y, z = eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz
        gx, gy, gz, here = slope(rows, data, order, count, strokes, x, y, z, fine)
        if abs(here) < F(5e-4) * cell:
            break
        along = gx * dx + gy * dy + gz * dz
        step = -here / along if along < F(-0.1) else here
        t += min(max(step, -cell), cell)
        if abs(t - start) > F(2) * cell:
            return -ONE, gx, gy, gz, -1
    if abs(here) > F(0.05) * cell:
        return -ONE, gx, gy, gz, -1
    _, piece = distance(rows, data, order, count, strokes, eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz)
    return t, gx, gy, gz, piece


@woven
def _under(corners, x, y, z):
    """Shares of the second and third corner of the place on a triangle that is nearest to a point."""
    x, y, z = x - corners[0, 0], y - corners[0, 1], z - corners[0, 2]
    ux, uy, uz = corners[0, 3], corners[0, 4], corners[0, 5]
    vx, vy, vz = corners[0, 6], corners[0, 7], corners[0, 8]
    uu, uv, vv = ux * ux + uy * uy + uz * uz, ux * vx + uy * vy + uz * vz, vx * vx + vy * vy + vz * vz
    pu, pv = ux * x + uy * y + uz * z, vx * x + vy * y + vz * z
    whole = max(uu * vv - uv * uv, F(1e-20))
    u, v = (vv * pu - uv * pv) / whole, (uu * pv - uv * pu) / whole
    return min(max(u, -HALF), F(1.5)), min(max(v, -HALF), F(1.5))


@inlined
def _plain(points, normals, triangles, piece, eye, dx, dy, dz, t, corners, out):
    """Where a ray meets triangle t, the normal there (out 0..2), shares of two corners (3, 4), and the piece."""
    a, b, c = uintp(triangles[t, 0]), uintp(triangles[t, 1]), uintp(triangles[t, 2])
    for k in range(3):
        corners[0, k] = points[a, k]
        corners[0, 3 + k] = points[b, k] - points[a, k]
        corners[0, 6 + k] = points[c, k] - points[a, k]
    far, u, v = crossed(corners, 0, eye[0], eye[1], eye[2], dx, dy, dz, F(0.05))
    if far >= HUGE:
        # The triangle is seen edge on; any place on it will do.
        u = v = F(1 / 3)
        far = ZERO
        for k in range(3):
            d = corners[0, k] + u * corners[0, 3 + k] + v * corners[0, 6 + k] - eye[k]
            far += d * d
        far = np.sqrt(far)
    u, v = min(max(u, ZERO), ONE), min(max(v, ZERO), ONE)
    for step in range(3):
        w = ONE - u - v
        bulge, along, square, short = ZERO, ZERO, ZERO, ZERO
        for k in range(3):
            out[k] = w * normals[a, k] + u * normals[b, k] + v * normals[c, k]
            way = dx if k == 0 else (dy if k == 1 else dz)
            flat = corners[0, k] + u * corners[0, 3 + k] + v * corners[0, 6 + k]
            # Where the three tangent planes have the point, of which a bent surface goes half.
            bulge += w * (points[a, k] - flat) * normals[a, k]
            bulge += u * (points[b, k] - flat) * normals[b, k]
            bulge += v * (points[c, k] - flat) * normals[c, k]
            short += (flat - eye[k] - far * way) * out[k]
            along += out[k] * way
            square += out[k] * out[k]
        if step == 2 or along * along < F(0.01) * square:
            break
        far += (short + HALF * bulge * np.sqrt(square)) / along
        u, v = _under(corners, eye[0] + far * dx, eye[1] + far * dy, eye[2] + far * dz)
    w = ONE - u - v
    out[3], out[4] = min(max(u, ZERO), ONE), min(max(v, ZERO), ONE)
    nearest = piece[a, 0] if w >= u and w >= v else (piece[b, 0] if u >= v else piece[c, 0])
    return far, nearest


@kernel(
    void(FLOATS, TABLE, ONE_F, ONE_F, FLOATS, FLOATS, LABELS_IN, LABELS_IN, FLAGS_IN, TABLE, FLOATS, TABLE, FLOATS,
         LABELS_IN, PLANE, PLANES, LABELS, PLANES, I64, I64)
)  # fmt: skip
def resolve(
    rows, data, strokes, fine, points, normals, triangles, piece, rough, cells, turn, eye, rays, hit, depth, normal,
    seen, shares, top, bottom,
):  # fmt: skip
    """Rows top..bottom (whole blocks) of what is seen where triangles are hit (h, w).

    points, normals (n, 3), triangles (m, 3), piece (n, 1); rough (m, 1): where the forms themselves have to be asked;
    cells (m,): how wide theirs are. depth (h, w) along the ray, -1 for nothing; normal (3, h, w) as the viewer has it;
    seen (h, w): piece, -1 for nothing; shares (2, h, w): of the triangle's second and third corner.
    """
    order = np.empty(rows.shape[0], np.int32)
    corners, out = np.empty((1, 9), np.float32), np.empty(5, np.float32)
    lo, hi = np.empty(3, np.float32), np.empty(3, np.float32)
    width = hit.shape[1]
    for y0 in range(top, bottom, BLOCK):
        for x0 in range(0, width, BLOCK):
            lo[:], hi[:], asked, cell = F(1e9), F(-1e9), False, ZERO
            for j in range(y0, min(y0 + BLOCK, bottom)):
                for i in range(x0, min(x0 + BLOCK, width)):
                    t = hit[j, i]
                    if t < 0:
                        continue
                    dx, dy, dz = ray_of(eye, rays, i, j)
                    far, nearest = _plain(points, normals, triangles, piece, eye, dx, dy, dz, t, corners, out)
                    depth[j, i], seen[j, i], shares[0, j, i], shares[1, j, i] = far, nearest, out[3], out[4]
                    length = max(np.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2]), F(1e-12))
                    for k in range(3):
                        normal[k, j, i] = (turn[k, 0] * out[0] + turn[k, 1] * out[1] + turn[k, 2] * out[2]) / length
                    if rough[t, 0]:
                        asked, cell = True, max(cell, cells[t])
                        for k in range(3):
                            p = eye[k] + far * (dx if k == 0 else (dy if k == 1 else dz))
                            lo[k], hi[k] = min(lo[k], p), max(hi[k], p)
            if not asked:
                continue
            a, b, c = (hi[0] - lo[0]) * HALF, (hi[1] - lo[1]) * HALF, (hi[2] - lo[2]) * HALF
            radius = np.sqrt(a * a + b * b + c * c) + F(2) * cell
            count = nearby(rows, lo[0] + a, lo[1] + b, lo[2] + c, ZERO, ZERO, ZERO, radius, ZERO, order)
            for j in range(y0, min(y0 + BLOCK, bottom)):
                for i in range(x0, min(x0 + BLOCK, width)):
                    t = hit[j, i]
                    if t < 0 or not rough[t, 0]:
                        continue
                    dx, dy, dz = ray_of(eye, rays, i, j)
                    far, gx, gy, gz, nearest = exact(
                        rows, data, order, count, strokes, fine, cells[t], eye, dx, dy, dz, depth[j, i]
                    )
                    if far > ZERO and nearest >= 0:
                        depth[j, i], seen[j, i] = far, nearest
                        length = max(np.sqrt(gx * gx + gy * gy + gz * gz), F(1e-12))
                        for k in range(3):
                            normal[k, j, i] = (turn[k, 0] * gx + turn[k, 1] * gy + turn[k, 2] * gz) / length
