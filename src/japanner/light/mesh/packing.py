"""Meshes as text, for records: places in 65536 steps across, compressed."""

from __future__ import annotations

import base64
import binascii
import json
import zlib
from functools import lru_cache
from typing import Final

import numpy as np

from japanner.errors import InputError
from japanner.light.mesh.mesh import MOST_FACES, Mesh

__all__ = ["mesh_of", "text_of"]

STEPS: Final = 65535
LARGEST: Final = 64 << 20
"""Bytes of a mesh, unpacked."""


def text_of(mesh: Mesh) -> str:
    """The mesh as letters and digits; places are kept to a 65535th of its extent."""
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    span = np.maximum(high - low, 1e-9)
    places = np.rint((mesh.points - low) / span * STEPS).astype("<u2")
    # One axis after the other, and each corner as its way from the one before, compress better.
    corners = np.diff(mesh.faces.astype("<i4").ravel(), prepend=0).astype("<i4")
    head = json.dumps({"points": len(places), "faces": len(mesh.faces), "low": low.tolist(), "span": span.tolist(),
                       "names": list(mesh.names)}).encode()  # fmt: skip
    body = places.T.tobytes() + corners.tobytes() + mesh.group.astype("<i2").tobytes()
    return base64.b64encode(zlib.compress(len(head).to_bytes(4, "little") + head + body, 6)).decode()


@lru_cache(maxsize=8)
def mesh_of(text: str) -> Mesh:
    """The mesh of such a text; InputError if it is none."""
    try:
        inflate = zlib.decompressobj()
        data = inflate.decompress(base64.b64decode(text, validate=True), LARGEST)
        size = int.from_bytes(data[:4], "little")
        head = json.loads(data[4 : 4 + size])
        count, faces = int(head["points"]), int(head["faces"])
        if not 0 < count <= 4 * MOST_FACES or not 0 < faces <= MOST_FACES:
            raise InputError("mesh: it has no faces, or too many")
        at = 4 + size
        places = np.frombuffer(data, "<u2", 3 * count, at).reshape(3, count).T
        at += 6 * count
        corners = np.cumsum(np.frombuffer(data, "<i4", 4 * faces, at), dtype=np.int64).reshape(faces, 4)
        group = np.frombuffer(data, "<i2", faces, at + 16 * faces).astype(np.int16)
        span, low = np.array(head["span"], float), np.array(head["low"], float)
        points = (places / STEPS * span + low).astype(np.float32)
        if corners.min() < 0 or corners.max() >= count:
            raise InputError("mesh: a face of it has a corner that is no point")
        return Mesh(points, corners.astype(np.int32), group, tuple(str(one) for one in head["names"]))
    except (ValueError, KeyError, TypeError, IndexError, binascii.Error, zlib.error, RecursionError) as error:
        if isinstance(error, InputError):
            raise
        raise InputError("mesh: its text is damaged") from error
