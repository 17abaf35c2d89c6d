"""PNG data to and from straight channels, quickly: rows by kernels of ours, deflate by ISA-L.

References
----------
W3C Portable Network Graphics (PNG) Specification: chunks, colour types, filters.
"""

from __future__ import annotations

import struct
import zlib
from collections.abc import Iterator
from typing import Any, Final

import numpy as np
from isal import isal_zlib
from isal.isal_zlib import IsalError
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.raster import _kernels_png as kernels

__all__ = ["SIGNATURE", "as_8_bit", "chunk", "decode", "encode", "size_in"]

SIGNATURE: Final = b"\x89PNG\r\n\x1a\n"
AFTER_HEADER: Final = len(SIGNATURE) + 25  # IHDR: length, name, 13 bytes, checksum
COLOUR_TYPES: Final = {1: 0, 2: 4, 3: 2, 4: 6}
"""By the number of channels: grey, grey with coverage, colour, colour with coverage."""
CHANNELS: Final = {kind: count for count, kind in COLOUR_TYPES.items()}
BAND_BYTES: Final = 2 << 20
"""So much is filtered and packed at a time, that a large picture takes no memory beside its outcome."""
# The quickest level of ISA-L; on painted layers, its higher ones save nothing.
LEVEL: Final = 1
RAW: Final = -15
STREAM: Final = b"\x78\x01"
STORED_BLOCK: Final = 65535
LAST_BLOCK: Final = b"\x03\x00"  # an empty one
PROBE_BYTES: Final = 32 << 10
WORTH_IT: Final = 0.8


def as_8_bit(pixels: NDArray[np.uint16]) -> NDArray[np.uint8]:
    """Codes 0..255 from 0..65535, (c, h, w), rounded."""
    out = np.empty(pixels.shape, np.uint8)
    kernels.narrow(np.ascontiguousarray(pixels), out)
    return out


def encode(pixels: NDArray[Any], extra: bytes = b"") -> bytes:
    """PNG data of straight channels, uint8 or uint16, shape (1 to 4, h, w); `extra`: chunks before the pixels."""
    channels, height, width = pixels.shape
    bits = 8 * pixels.itemsize
    header = chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, bits, COLOUR_TYPES[channels], 0, 0, 0))
    packed = (chunk(b"IDAT", piece) for piece in _packed(np.ascontiguousarray(pixels)))
    return b"".join((SIGNATURE, header, extra, *packed, chunk(b"IEND", b"")))


def _packed(pixels: NDArray[Any]) -> Iterator[bytes]:
    """A zlib stream (RFC 1950, 1951) in pieces: what packs is packed, and noise is put in as it is."""
    channels, height, width = pixels.shape
    length = 1 + width * channels * pixels.itemsize
    codes = pixels.view(np.uint8)
    at_once = max(BAND_BYTES // length, 1)
    rows = np.empty((min(at_once, height), length), np.uint8)
    check, start = 1, STREAM
    for top in range(0, height, at_once):
        bottom = min(top + at_once, height)
        kernels.rows_of(codes, pixels.itemsize, top, bottom, rows)
        band = rows[: bottom - top].reshape(-1).data
        check = isal_zlib.adler32(band, check)
        yield start + (_deflated(band) if _packs(band) else _as_it_is(band))
        start = b""
    yield LAST_BLOCK + struct.pack(">I", check)


def _packs(band: memoryview) -> bool:
    """Whether packing is worth its while, by a piece in the middle; unpacking noise takes ten times as long."""
    middle = len(band) // 2
    piece = band[max(middle - PROBE_BYTES, 0) : middle + PROBE_BYTES]
    return len(isal_zlib.compress(piece, LEVEL)) < WORTH_IT * len(piece)


def _deflated(band: memoryview) -> bytes:
    deflate = isal_zlib.compressobj(LEVEL, isal_zlib.DEFLATED, RAW)
    return deflate.compress(band) + deflate.flush(isal_zlib.Z_FULL_FLUSH)


def _as_it_is(band: memoryview) -> bytes:
    blocks = (band[at : at + STORED_BLOCK] for at in range(0, len(band), STORED_BLOCK))
    return b"".join(part for one in blocks for part in (struct.pack("<BHH", 0, len(one), 0xFFFF ^ len(one)), one))


def size_in(data: bytes) -> tuple[int, int] | None:
    """Width and height that PNG data says it has; None if it is none."""
    if data[:8] != SIGNATURE or len(data) < AFTER_HEADER:
        return None
    width, height = struct.unpack(">II", data[16:24])
    return width, height


def decode(data: bytes) -> NDArray[np.uint16] | None:
    """Straight channels (1 to 4, h, w) of 16 bits, every checksum seen to; 8 bits are widened exactly.

    None for kinds of PNG that this leaves to others: interlaced, with a palette, with a transparent colour, of fewer
    bits. InputError for damage. The caller has looked at its size.
    """
    size = size_in(data)
    if size is None:
        raise InputError("it is no PNG data")
    width, height = size
    bits, colour, *methods = data[24:29]
    if bits not in (8, 16) or colour not in CHANNELS or methods != [0, 0, 0] or width * height == 0:
        return None
    packed = list[bytes]()
    for name, body in _chunks(data):
        if name == b"tRNS":
            return None
        if name == b"IDAT":
            packed.append(body)
    channels, wide = CHANNELS[colour], bits // 8
    length = 1 + width * channels * wide
    rows = np.frombuffer(_unpacked(b"".join(packed), height * length), np.uint8).reshape(height, length)
    out = np.empty((channels, height, width), np.uint16)
    if not kernels.codes_of(rows, wide == 2, out):
        raise InputError("a row of its pixels makes no sense")
    return out


def _unpacked(packed: bytes, size: int) -> bytes:
    inflate = isal_zlib.decompressobj()
    try:
        # One byte more than there may be tells of too many without unpacking them.
        found: bytes = inflate.decompress(packed, size + 1)
    except IsalError as error:  # type: ignore[misc]  # its stub has it as a value
        raise InputError("its pixels cannot be unpacked") from error
    if len(found) != size or not inflate.eof:
        raise InputError("its pixels are not complete")
    return found


def _chunks(data: bytes) -> Iterator[tuple[bytes, bytes]]:
    """Name and body of each chunk up to the end; InputError where one is cut off or damaged."""
    at = len(SIGNATURE)
    name = b""
    while name != b"IEND":
        if at + 12 > len(data):
            raise InputError("it is cut off")
        (length,) = struct.unpack(">I", data[at : at + 4])
        name, body = data[at + 4 : at + 8], data[at + 8 : at + 8 + length]
        checksum = data[at + 8 + length : at + 12 + length]
        if len(checksum) < 4 or struct.unpack(">I", checksum)[0] != zlib.crc32(body, zlib.crc32(name)):
            raise InputError("it is damaged or cut off")
        yield name, body
        at += 12 + length


def chunk(name: bytes, body: bytes) -> bytes:
    """A chunk with its length and checksum."""
    return b"".join((struct.pack(">I", len(body)), name, body, struct.pack(">I", zlib.crc32(body, zlib.crc32(name)))))
