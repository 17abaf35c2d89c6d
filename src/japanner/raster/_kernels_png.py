"""Rows of a PNG: straight channels to filtered bytes and back, 8 and 16 bits (W3C PNG Specification, section 9)."""

from __future__ import annotations

import numpy as np

from japanner._numba import CODES, CODES_IN, FLAG, FLAGS, FLAGS_IN, I64, STORED, STORED_IN, kernel, void, woven

UP = 2


@kernel(void(CODES_IN, I64, I64, I64, FLAGS))
def rows_of(codes, wide, top, bottom, out):
    """Rows top..bottom as differences to the row above, behind their filter's number.

    codes: the bytes of channels (c, h, w * wide), lowest first as the machine has them; PNG has the highest first.
    """
    channels, width = codes.shape[0], codes.shape[2] // wide
    for y in range(top, bottom):
        row = out[y - top]
        row[0] = UP
        for c in range(channels):
            for b in range(wide):
                first, step = 1 + c * wide + wide - 1 - b, channels * wide
                # Two loops, for a condition in one would keep it from being quick.
                if y > 0:
                    for x in range(width):
                        row[first + x * step] = codes[c, y, x * wide + b] - codes[c, y - 1, x * wide + b]
                else:
                    for x in range(width):
                        row[first + x * step] = codes[c, y, x * wide + b]


@woven
def _unfilter(row, above, step, line):
    """The bytes of a row from their differences, into `line`; `step`: bytes of a pixel. False for an unknown filter."""
    length, how = row.shape[0], row[0]
    if how == UP:
        for x in range(1, length):
            line[x] = row[x] + above[x]
    elif how == 0:
        for x in range(1, length):
            line[x] = row[x]
    elif how == 1:
        for x in range(1, length):
            line[x] = row[x] + (line[x - step] if x > step else np.uint8(0))
    elif how == 3:
        for x in range(1, length):
            left = np.int64(line[x - step]) if x > step else 0
            line[x] = row[x] + np.uint8((left + above[x]) >> 1)
    elif how == 4:
        for x in range(1, length):
            a, b, c = np.int64(0), np.int64(above[x]), np.int64(0)
            if x > step:
                a, c = np.int64(line[x - step]), np.int64(above[x - step])
            p = a + b - c
            pa, pb, pc = abs(p - a), abs(p - b), abs(p - c)
            line[x] = row[x] + np.uint8(a if pa <= pb and pa <= pc else (b if pb <= pc else c))
    return how <= 4


@kernel(FLAG(FLAGS_IN, FLAG, STORED))
def codes_of(rows, wide, out):
    """Channels (c, h, w) of 16 bits from filtered rows of 16 (`wide`) or 8 bits; False if a row's filter is unknown."""
    channels, height, width = out.shape
    step = channels * (2 if wide else 1)
    lines = np.zeros((2, rows.shape[1]), np.uint8)
    for y in range(height):
        line = lines[y & 1]
        if not _unfilter(rows[y], lines[1 - (y & 1)], step, line):
            return False
        for c in range(channels):
            if wide:
                for x in range(width):
                    at = 1 + 2 * (x * channels + c)
                    out[c, y, x] = (np.uint16(line[at]) << 8) | line[at + 1]
            else:
                for x in range(width):
                    out[c, y, x] = np.uint16(line[1 + x * channels + c]) * np.uint16(257)
    return True


@kernel(void(STORED_IN, CODES))
def narrow(pixels, out):
    """Codes 0..255 from 0..65535, rounded."""
    channels, height, width = pixels.shape
    for c in range(channels):
        for y in range(height):
            for x in range(width):
                # k / 257 rounded: exact for all 65536 codes, and quick, for nothing is divided.
                out[c, y, x] = np.uint8(
                    (np.uint32(pixels[c, y, x]) * np.uint32(255) + np.uint32(32895)) >> np.uint32(16)
                )
