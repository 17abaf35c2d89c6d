"""Moving whole tiles between their stored, blended and shown forms. Areas are rows, then columns."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import (
    AREA,
    BYTES,
    FLAG,
    I64,
    ONE_F,
    PICTURE,
    PICTURE_IN,
    PLANE_IN,
    PLANES,
    PLANES_IN,
    STORED,
    STORED_IN,
    TABLE,
    kernel,
    void,
)

F = np.float32
ZERO, HALF, ONE, FULL = F(0), F(0.5), F(1), F(65535)


@kernel(void(PLANES, ONE_F, ONE_F, ONE_F, ONE_F, *AREA))
def fill_tile(acc, r, g, b, a, top, bottom, left, right):
    """Set `acc` to one premultiplied colour."""
    for c in range(uintp(4)):
        value = r if c == 0 else (g if c == 1 else (b if c == 2 else a))
        for y in range(uintp(top), uintp(bottom)):
            for x in range(uintp(left), uintp(right)):
                acc[c, y, x] = value


@kernel(void(PLANES_IN, PLANES, *AREA))
def copy_tile(src, out, top, bottom, left, right):
    """Copy an accumulator."""
    for c in range(uintp(4)):
        for y in range(uintp(top), uintp(bottom)):
            for x in range(uintp(left), uintp(right)):
                out[c, y, x] = src[c, y, x]


@kernel(void(PLANES, PLANES_IN, ONE_F, *AREA))
def merge_tile(acc, group, strength, top, bottom, left, right):
    """Lay an isolated group, itself an accumulator, over `acc` (Porter & Duff's source-over)."""
    for c in range(uintp(4)):
        for y in range(uintp(top), uintp(bottom)):
            for x in range(uintp(left), uintp(right)):
                rest = ONE - group[3, y, x] * strength
                acc[c, y, x] = group[c, y, x] * strength + rest * acc[c, y, x]


@kernel(FLAG(STORED_IN, PLANE_IN, STORED))
def held_in(tile, cover, out):
    """A tile times coverage 0..1, rounded; whether that changes anything."""
    changed = False
    for c in range(uintp(4)):
        for y in range(uintp(tile.shape[1])):
            for x in range(uintp(tile.shape[2])):
                out[c, y, x] = np.uint16(np.int32(F(tile[c, y, x]) * cover[y, x] + HALF))
                changed |= out[c, y, x] != tile[c, y, x]
    return changed


@kernel(void(STORED_IN, STORED_IN, STORED))
def where_other(tile, other, out):
    """The pixels of a tile that differ from those of another in any channel; the rest is empty."""
    for y in range(uintp(tile.shape[1])):
        for x in range(uintp(tile.shape[2])):
            differs = tile[0, y, x] != other[0, y, x]
            for c in range(uintp(1), uintp(4)):
                differs |= tile[c, y, x] != other[c, y, x]
            for c in range(uintp(4)):
                out[c, y, x] = tile[c, y, x] if differs else np.uint16(0)


@kernel(void(PLANES_IN, STORED, *AREA))
def store_tile(acc, out, top, bottom, left, right):
    """Round an accumulator to uint16; colour never exceeds coverage."""
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            out[3, y, x] = np.uint16(min(max(acc[3, y, x], ZERO), ONE) * FULL + HALF)
        for c in range(uintp(3)):
            for x in range(uintp(left), uintp(right)):
                level = np.uint16(min(max(acc[c, y, x], ZERO), ONE) * FULL + HALF)
                out[c, y, x] = min(level, out[3, y, x])


@kernel(void(STORED_IN, PLANES, *AREA))
def load_tile(src, out, top, bottom, left, right):
    """Turn stored uint16 into an accumulator."""
    unit = F(1 / 65535)
    for c in range(uintp(4)):
        for y in range(uintp(top), uintp(bottom)):
            for x in range(uintp(left), uintp(right)):
                out[c, y, x] = F(src[c, y, x]) * unit


@kernel(void(PLANES_IN, PICTURE, I64, I64, *AREA))
def show_tile(acc, out, row, column, top, bottom, left, right):
    """Write an opaque accumulator into a picture of 0xffRRGGBB; (row, column) is the tile's corner there."""
    scale = F(255)
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            r = np.uint32(min(max(acc[0, y, x], ZERO), ONE) * scale + HALF)
            g = np.uint32(min(max(acc[1, y, x], ZERO), ONE) * scale + HALF)
            b = np.uint32(min(max(acc[2, y, x], ZERO), ONE) * scale + HALF)
            packed = np.uint32(0xFF000000) | (r << np.uint32(16)) | (g << np.uint32(8)) | b
            out[uintp(row) + y, uintp(column) + x] = packed


@kernel(void(PLANES, STORED_IN, *AREA))
def stand_out_tile(acc, tile, top, bottom, left, right):
    """Inverted lines: Difference with white, but never nearer to what is beneath than 0.45, where it would vanish."""
    unit, least = F(1 / 65535), F(0.45)
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            cover = F(tile[3, y, x]) * unit
            if cover == ZERO:
                continue
            luma = F(0.3) * acc[0, y, x] + F(0.59) * acc[1, y, x] + F(0.11) * acc[2, y, x]
            for c in range(uintp(3)):
                below = acc[c, y, x]
                other = max(ONE - below, below + least) if luma < HALF else min(ONE - below, below - least)
                acc[c, y, x] = below + cover * (min(max(other, ZERO), ONE) - below)


@kernel(void(PICTURE_IN, PICTURE, *AREA))
def halve(src, out, top, bottom, left, right):
    """Rows top..bottom, columns left..right of `out` as the means of 2 x 2 pixels of `src`."""
    last_y, last_x = uintp(src.shape[0] - 1), uintp(src.shape[1] - 1)
    two, mask = np.uint32(0x02020202), np.uint32(0x00FF00FF)
    low_two = two & mask
    for y in range(uintp(top), uintp(bottom)):
        y0, y1 = min(y * uintp(2), last_y), min(y * uintp(2) + uintp(1), last_y)
        for x in range(uintp(left), uintp(right)):
            x0, x1 = min(x * uintp(2), last_x), min(x * uintp(2) + uintp(1), last_x)
            p, q, r, s = src[y0, x0], src[y0, x1], src[y1, x0], src[y1, x1]
            # Two channels at a time, eight bits apart, so that their sums cannot meet.
            even = (p & mask) + (q & mask) + (r & mask) + (s & mask) + low_two
            eight = np.uint32(8)
            odd = ((p >> eight) & mask) + ((q >> eight) & mask) + ((r >> eight) & mask) + ((s >> eight) & mask)
            odd += low_two
            out[y, x] = ((even >> np.uint32(2)) & mask) | (((odd >> np.uint32(2)) & mask) << eight)


@kernel(void(PICTURE_IN, PICTURE, BYTES, TABLE))
def grey_picture(src, out, codes, linear):
    """The picture's L* as a neutral grey: `linear` decodes 8-bit codes, `codes` maps sqrt(Y) * 4095 to a grey."""
    wr, wg, wb = F(0.2126), F(0.7152), F(0.0722)
    for y in range(uintp(src.shape[0])):
        for x in range(uintp(src.shape[1])):
            p = src[y, x]
            r = linear[(p >> np.uint32(16)) & np.uint32(255)]
            g = linear[(p >> np.uint32(8)) & np.uint32(255)]
            b = linear[p & np.uint32(255)]
            level = np.uint32(codes[uintp(np.sqrt(min(wr * r + wg * g + wb * b, ONE)) * F(4095) + HALF)])
            out[y, x] = np.uint32(0xFF000000) | (level << np.uint32(16)) | (level << np.uint32(8)) | level


@kernel(void(STORED_IN, STORED))
def straighten(src, out):
    """Straight from premultiplied, rounded half up; 0 where there is no coverage."""
    for y in range(uintp(src.shape[1])):
        for x in range(uintp(src.shape[2])):
            coverage = np.uint32(src[3, y, x])
            out[3, y, x] = src[3, y, x]
            if coverage == 0 or coverage == 65535:
                for c in range(uintp(3)):
                    out[c, y, x] = src[c, y, x]
                continue
            for c in range(uintp(3)):
                level = np.uint32(src[c, y, x]) * np.uint32(65535) + (coverage >> np.uint32(1))
                out[c, y, x] = np.uint16(level // coverage)


@kernel(void(STORED_IN, STORED))
def premultiply(src, out):
    """Premultiplied from straight, rounded."""
    for y in range(uintp(src.shape[1])):
        for x in range(uintp(src.shape[2])):
            coverage = np.uint32(src[3, y, x])
            out[3, y, x] = src[3, y, x]
            for c in range(uintp(3)):
                out[c, y, x] = np.uint16((np.uint32(src[c, y, x]) * coverage + np.uint32(32767)) // np.uint32(65535))


@kernel(void(PLANES_IN, PLANE_IN, STORED, I64, I64))
def paint_codes(colour, cover, out, top, bottom):
    """Premultiplied codes of straight encoded colour (3, h, w), or (3, 1, 1) for one all over, and its coverage, both
    held to 0..1, for some rows; what is no number comes to nothing.
    """
    many = colour.shape[1] > 1 or colour.shape[2] > 1
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(cover.shape[1])):
            share = cover[y, x]
            alpha = np.rint(min(max(share, ZERO), ONE) * FULL) if not np.isnan(share) else ZERO
            out[3, y, x] = np.uint16(alpha)
            for c in range(uintp(3)):
                level = colour[c, y, x] if many else colour[c, 0, 0]
                level = min(max(level, ZERO), ONE) if not np.isnan(level) else ZERO
                out[c, y, x] = np.uint16(np.rint(level * alpha))


@kernel(void(STORED_IN, STORED_IN, STORED, *AREA))
def mix_tile(base, limit, out, top, bottom, left, right):
    """From `base` to `out` by the share that `limit` (1, T, T) lets through, in place of `out`."""
    unit = F(1 / 65535)
    for c in range(uintp(4)):
        for y in range(uintp(top), uintp(bottom)):
            for x in range(uintp(left), uintp(right)):
                old, share = F(base[c, y, x]), F(limit[0, y, x]) * unit
                out[c, y, x] = np.uint16(old + share * (F(out[c, y, x]) - old) + HALF)


@kernel(void(STORED_IN, STORED, I64, I64, I64))
def shrink_tile(src, out, step, row, column):
    """The means of `step` x `step` pixels of a tile, written into `out` from (row, column) on as far as it reaches."""
    side = uintp(src.shape[1] // step)
    share = F(1) / F(step * step)
    for c in range(uintp(src.shape[0])):
        for y in range(uintp(min(int(side), out.shape[1] - row))):
            for x in range(uintp(min(int(side), out.shape[2] - column))):
                total = ZERO
                for v in range(uintp(step)):
                    for u in range(uintp(step)):
                        total += F(src[c, y * uintp(step) + v, x * uintp(step) + u])
                out[c, uintp(row) + y, uintp(column) + x] = np.uint16(total * share + HALF)


@kernel(void(STORED_IN, STORED, *AREA))
def hold_edges(base, out, top, bottom, left, right):
    """Give `out` the coverage of `base`; its straight colours stay."""
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            held, coverage = base[3, y, x], out[3, y, x]
            if held == coverage:
                continue
            for c in range(uintp(3)):
                # Paint that was taken off altogether leaves no colour to go by: the old one stays.
                level = F(out[c, y, x]) * (F(held) / F(coverage)) if coverage > 0 else F(base[c, y, x])
                out[c, y, x] = min(np.uint16(level + HALF), held)
            out[3, y, x] = held


@kernel(void(STORED_IN, STORED_IN, ONE_F, STORED, *AREA))
def mask_tile(src, mask, ground, out, top, bottom, left, right):
    """`src` seen through a grey sheet: neutral paint `mask` on a sheet of grey `ground` 0..1."""
    unit, bare = F(1 / 65535), ground * FULL
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            share = (F(mask[1, y, x]) + (FULL - F(mask[3, y, x])) * unit * bare) * unit
            for c in range(uintp(4)):
                out[c, y, x] = np.uint16(F(src[c, y, x]) * share + HALF)
