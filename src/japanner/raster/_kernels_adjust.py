"""Colours through a table of colours, into linear light, and back."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import LINE, PICTURE, PICTURE_IN, PLANES, PLANES_IN, STORED, STORED_IN, TABLE, kernel, void
from japanner.raster._kernels_table import encoded

F = np.float32
ZERO, HALF, ONE, FULL = F(0), F(0.5), F(1), F(65535)


@kernel(void(STORED_IN, PLANES_IN, STORED))
def look_up(src, table, out):
    """Straight colours of a tile through `table` (n * n, n, 3), interpolated linearly along each channel."""
    nodes = table.shape[1]
    last = F(nodes - 1)
    for y in range(uintp(src.shape[1])):
        for x in range(uintp(src.shape[2])):
            coverage = src[3, y, x]
            out[3, y, x] = coverage
            if coverage == 0:
                out[0, y, x] = out[1, y, x] = out[2, y, x] = 0
                continue
            k = last / F(coverage)
            r, g, b = F(src[0, y, x]) * k, F(src[1, y, x]) * k, F(src[2, y, x]) * k
            i, j, m = min(int(r), nodes - 2), min(int(g), nodes - 2), min(int(b), nodes - 2)
            u, v, w = r - F(i), g - F(j), b - F(m)
            for c in range(3):
                low = ((ONE - w) * table[i * nodes + j, m, c] + w * table[i * nodes + j, m + 1, c]) * (ONE - v)
                low += ((ONE - w) * table[i * nodes + j + 1, m, c] + w * table[i * nodes + j + 1, m + 1, c]) * v
                i1 = i + 1
                high = ((ONE - w) * table[i1 * nodes + j, m, c] + w * table[i1 * nodes + j, m + 1, c]) * (ONE - v)
                high += ((ONE - w) * table[i1 * nodes + j + 1, m, c] + w * table[i1 * nodes + j + 1, m + 1, c]) * v
                level = ((ONE - u) * low + u * high) * F(coverage)
                out[c, y, x] = min(np.uint16(min(level, FULL) + HALF), coverage)


@kernel(void(PICTURE_IN, PLANES_IN, PICTURE))
def look_up_picture(src, table, out):
    """0xffRRGGBB pixels through `table` (n * n, n, 3), interpolated linearly along each channel."""
    nodes = table.shape[1]
    k = F(nodes - 1) / F(255)
    for y in range(uintp(src.shape[0])):
        for x in range(uintp(src.shape[1])):
            p = src[y, x]
            r, g, b = F((p >> 16) & 255) * k, F((p >> 8) & 255) * k, F(p & 255) * k
            i, j, m = min(int(r), nodes - 2), min(int(g), nodes - 2), min(int(b), nodes - 2)
            u, v, w = r - F(i), g - F(j), b - F(m)
            rows = i * nodes + j
            code = np.uint32(255)
            for c in range(3):
                a0 = table[rows, m, c] + w * (table[rows, m + 1, c] - table[rows, m, c])
                a1 = table[rows + 1, m, c] + w * (table[rows + 1, m + 1, c] - table[rows + 1, m, c])
                b0 = table[rows + nodes, m, c] + w * (table[rows + nodes, m + 1, c] - table[rows + nodes, m, c])
                b1 = table[rows + nodes + 1, m, c]
                b1 += w * (table[rows + nodes + 1, m + 1, c] - b1)
                low, high = a0 + v * (a1 - a0), b0 + v * (b1 - b0)
                level = (low + u * (high - low)) * F(255) + HALF
                code = (code << np.uint32(8)) | np.uint32(min(max(level, ZERO), F(255.5)))
            out[y, x] = code


@kernel(void(STORED_IN, TABLE, PLANES))
def to_light(codes, decode, out):
    """Premultiplied linear light from premultiplied codes; `decode`: light of all 65536."""
    width = uintp(codes.shape[2])
    unit = np.empty(width, np.float32)
    for y in range(uintp(codes.shape[1])):
        for x in range(width):
            unit[x] = FULL / max(F(codes[3, y, x]), ONE)
            out[3, y, x] = F(codes[3, y, x]) / FULL
        for c in range(uintp(3)):
            for x in range(width):
                code = np.int32(min(F(codes[c, y, x]) * unit[x] + HALF, FULL))
                out[c, y, x] = decode[uintp(code)] * out[3, y, x]


@kernel(void(PLANES_IN, STORED))
def to_codes(light, out):
    """Premultiplied codes from premultiplied linear light."""
    width = uintp(light.shape[2])
    for y in range(uintp(light.shape[1])):
        for x in range(width):
            out[3, y, x] = np.uint16(np.int32(min(max(light[3, y, x], ZERO), ONE) * FULL + HALF))
        for c in range(uintp(3)):
            for x in range(width):
                cover = min(max(light[3, y, x], ZERO), ONE)
                straight = min(max(light[c, y, x] / max(cover, F(1e-6)), ZERO), ONE)
                out[c, y, x] = min(np.uint16(np.int32(encoded(straight) * cover * FULL + HALF)), out[3, y, x])


@kernel(void(TABLE, LINE))
def encode(light, out):
    """sRGB of linear light, held to 0..1."""
    for i in range(uintp(light.size)):
        out[i] = encoded(min(max(light[i], ZERO), ONE))
