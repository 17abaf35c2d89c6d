"""The figure's data, as `tools/build_figure.py` makes it."""

from __future__ import annotations

import io
import itertools
import json
import lzma
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any, Final

import numpy as np
import scipy
from numpy.typing import NDArray

__all__ = ["FigureData", "figure_data"]

Floats = NDArray[np.float32]
FINE: Final = 1000
"""Steps of the targets to a decimetre."""


@dataclass(frozen=True, eq=False)
class FigureData:
    """points (n, 3) in decimetres, x to the figure's left, y up, z forward; faces (m, 4) and their group (m,).

    targets: how each (by its row) moves the points, as a sparse matrix (t, 3 n); row: of a target's name. turned
    (n,) 0..1: how far a point follows the head. zones: share of every point (n,) 0..1 in each. joints:
    points whose middle a joint is. landmarks: point of each. lips: the points of the upper and lower lip that meet, at
    stations (s,) across the mouth; closing (n, s) -1..1: how far each point goes along, up above 0.
    """

    points: Floats
    faces: NDArray[np.int32]
    group: NDArray[np.int8]
    groups: tuple[str, ...]
    targets: Any
    row: dict[str, int]
    turned: Floats
    zones: dict[str, Floats]
    joints: dict[str, NDArray[np.int64]]
    landmarks: dict[str, int]
    lips: tuple[NDArray[np.int64], NDArray[np.int64]]
    closing: Floats


@cache
def figure_data() -> FigureData:
    """The data, unpacked."""
    packed = resources.files(__package__).joinpath("figure.npz.xz").read_bytes()
    with np.load(io.BytesIO(lzma.decompress(packed))) as file:
        words = json.loads(file["words"].tobytes())
        points, starts = file["points"], file["starts"]
        moved = file["moved_points"].astype(np.int64)
        for begin, end in itertools.pairwise(starts):
            moved[begin:end] = np.cumsum(moved[begin:end])
        columns = (3 * moved[:, None] + np.arange(3)).ravel()
        targets = scipy.sparse.csr_matrix(
            (file["moves"].T.astype(np.float32).ravel() / FINE, columns, 3 * starts), (len(starts) - 1, points.size)
        )
        zones = dict(zip(words["zones"], file["zones"].astype(np.float32) / 255, strict=True))
        return FigureData(
            points, file["faces"].astype(np.int32), file["group"], tuple(words["groups"]), targets,
            {name: row for row, name in enumerate(words["targets"])}, file["turned"].astype(np.float32) / 255, zones,
            {name: np.array(points) for name, points in words["joints"].items()}, words["landmarks"],
            (np.array(words["lips"][0]), np.array(words["lips"][1])), file["closing"].astype(np.float32) / 127,
        )  # fmt: skip
