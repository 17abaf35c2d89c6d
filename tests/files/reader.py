"""A reader of OpenRaster that knows nothing of ours: NumPy and the formulas of the W3C, pixel by pixel."""

from __future__ import annotations

import zipfile
from pathlib import Path
from xml.etree.ElementTree import Element

import cv2
import numpy as np
from defusedxml.ElementTree import fromstring

# The modes that the tests use: B(Cb, Cs) of W3C Compositing and Blending.
BLEND = {
    "svg:src-over": lambda cb, cs: cs,
    "svg:multiply": lambda cb, cs: cb * cs,
    "svg:screen": lambda cb, cs: cb + cs - cb * cs,
    "svg:soft-light": lambda cb, cs: np.where(
        cs <= 0.5,
        cb - (1 - 2 * cs) * cb * (1 - cb),
        cb + (2 * cs - 1) * (np.where(cb <= 0.25, ((16 * cb - 12) * cb + 4) * cb, np.sqrt(cb)) - cb),
    ),
}


def composed_by_a_stranger(path: Path) -> np.ndarray:
    """Straight RGBA 0..1 (4, h, w) of the whole stack."""
    with zipfile.ZipFile(path) as archive:
        image = fromstring(archive.read("stack.xml"))
        canvas = np.zeros((4, int(image.get("h")), int(image.get("w"))))
        _stack(archive, image.find("stack"), canvas)
    return canvas


def _stack(archive: zipfile.ZipFile, stack: Element, canvas: np.ndarray) -> None:
    for node in reversed(list(stack)):  # the first child is the topmost
        if node.get("visibility") == "hidden":
            continue
        if node.tag == "layer":
            sheet = np.zeros_like(canvas)
            _paste(sheet, _png(archive.read(node.get("src"))), int(node.get("x", "0")), int(node.get("y", "0")))
            _blend(canvas, sheet, node)
        elif node.get("isolation") == "auto":
            _stack(archive, node, canvas)
        else:
            group = np.zeros_like(canvas)
            _stack(archive, node, group)
            _blend(canvas, group, node)


def _png(data: bytes) -> np.ndarray:
    picture = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    return picture[..., [2, 1, 0, 3]].transpose(2, 0, 1) / np.iinfo(picture.dtype).max


def _paste(sheet: np.ndarray, picture: np.ndarray, x: int, y: int) -> None:
    sheet[:, y : y + picture.shape[1], x : x + picture.shape[2]] = picture


def _blend(canvas: np.ndarray, source: np.ndarray, node: Element) -> None:
    alpha, below = source[3] * float(node.get("opacity", "1")), canvas[3].copy()
    mixed = BLEND[node.get("composite-op", "svg:src-over")](canvas[:3], source[:3])
    colour = alpha * (1 - below) * source[:3] + alpha * below * mixed + (1 - alpha) * below * canvas[:3]
    canvas[3] = alpha + below * (1 - alpha)
    canvas[:3] = np.divide(colour, canvas[3], out=np.zeros_like(colour), where=canvas[3] > 0)
